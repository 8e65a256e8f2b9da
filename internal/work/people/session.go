package people

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/core/words"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// begin starts a session and gives its token.
func (s *Service) begin(ctx context.Context, tx *store.Store, row store.Session, where audit.Where) (string, error) {
	token, now := secret.NewToken("fs_"), s.now()
	row.PublicID, row.TokenHash, row.About = store.NewID(), secret.Digest(token), words.Truncate(where.About, 120)
	row.CreatedAt, row.SeenAt, row.EndsAt = now, now, now.Add(sessionLasts)
	if err := tx.CreateSession(ctx, &row); err != nil {
		return "", err
	}
	signed, err := tx.SignedIn(ctx, row.TokenHash)
	if err != nil {
		return "", err
	}
	who := callerOfRow(signed)
	who.Where = where
	return token,
		s.audit.Write(ctx, tx, who, audit.Change{Action: "session.began", Subject: row.PublicID, SubjectName: row.About})
}

// SignedIn is what a browser keeps of a sign-in by password: the session's token, and one by which it is known as one
// in which this person signed in before.
type SignedIn struct{ Token, Known string }

// SignIn signs a person in by address and password, in the shop they have joined; where they have joined several, in
// the first. Wrong tries make everybody wait who tries at this account or from this network, but not in a browser in
// which the person signed in before: that one waits for its own wrong tries alone.
func (s *Service) SignIn(ctx context.Context, email, password string, where audit.Where) (in SignedIn, err error) {
	email = strings.ToLower(strings.TrimSpace(email))
	var faults fault.List
	if email == "" {
		faults.Add("email", fault.Required("Enter the address you were invited by."))
	}
	if password == "" {
		faults.Add("password", fault.Required("Enter your password."))
	}
	if len(email) > 190 || len(password) > 4*secret.MaxPassword {
		faults.Add("password", wrongSecret("", "does not belong to this address", "Check both."))
	}
	if err := faults.Err(); err != nil {
		return in, err
	}
	person, err := s.store.PersonByEmail(ctx, email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return in, err
	}
	unknown := err != nil
	if err := s.passwordFits(ctx, person, email, password, where); err != nil {
		return in, err
	}
	shops, err := s.store.ShopsOf(ctx, person.ID)
	if err != nil {
		return in, err
	}
	if unknown || len(shops) == 0 {
		return in, notTheirs()
	}
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		in, err = s.comeIn(ctx, tx, shops[0], person.ID, where)
		return err
	})
	return in, err
}

func notTheirs() error {
	return wrongSecret("password", "does not belong to this address",
		"Check both. An owner of your shop can give you a link to choose a new one.")
}

// passwordFits counts a try at a password and says whether it is right; person is the zero one where the address is
// nobody's.
func (s *Service) passwordFits(ctx context.Context, person store.Person, email, password string,
	where audit.Where) error {
	known := false
	if where.Known != "" && person.ID != 0 {
		var err error
		if known, err = s.store.KnownDevice(ctx, person.ID, secret.Digest(where.Known)); err != nil {
			return err
		}
	}
	tries := []try{{accountKey(person, ""), freeAccount}, {"network:" + Network(where.Address), freeAddress}}
	switch {
	case known:
		tries = []try{{accountKey(person, secret.Digest(where.Known)), freeAccount}}
	case person.ID == 0:
		tries[0].what = "nobody:" + email
	}
	if err := s.attempt(ctx, tries...); err != nil {
		return err
	}
	fits, err := secret.Fits(person.PasswordHash, password) // an unknown address takes as long as a wrong password
	if err != nil {
		return err
	}
	if fits && person.ID != 0 {
		return s.succeeded(ctx, tries[0], tries[1:]...)
	}
	shops, err := s.store.ShopsOf(ctx, person.ID)
	if err != nil {
		return err
	}
	for _, sh := range shops {
		who := audit.Caller{ShopID: sh.ShopID, MemberID: sh.MemberID, Name: email, Role: sh.Role, Via: audit.ViaPassword,
			Where: where}
		if err := s.audit.Write(ctx, s.store, who,
			audit.Change{Action: "session.refused", SubjectName: "wrong password"}); err != nil {
			return err
		}
	}
	return notTheirs()
}

// ownPassword asks somebody who joins another shop for the password they have.
func (s *Service) ownPassword(ctx context.Context, person store.Person, password string, where audit.Where) error {
	err := s.passwordFits(ctx, person, person.Email, password, where)
	if fault.Of(err) != nil {
		return wrongSecret("password", "is not the one you have",
			"Enter the password with which you sign in to your other shop. If you never chose one, somebody else did: whoever "+
				"runs the server can give you a link.")
	}
	return err
}

// comeIn begins a session by password in a shop, and remembers the browser.
func (s *Service) comeIn(ctx context.Context, tx *store.Store, shop store.MemberShop, personID int64,
	where audit.Where) (in SignedIn, err error) {
	if in.Known = where.Known; in.Known == "" {
		in.Known = secret.NewToken("fk_")
	}
	if err := tx.RememberDevice(ctx,
		store.KnownDevice{PersonID: personID, TokenHash: secret.Digest(in.Known), SeenAt: s.now()}); err != nil {
		return in, err
	}
	in.Token, err = s.begin(ctx, tx,
		store.Session{ShopID: shop.ShopID, MemberID: shop.MemberID, PersonID: personID, Via: audit.ViaPassword}, where)
	return in, err
}

func (s *Service) beginIn(ctx context.Context, in store.MemberShop, personID int64, via string,
	where audit.Where) (token string, err error) {
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		token, err = s.begin(ctx, tx, store.Session{ShopID: in.ShopID, MemberID: in.MemberID, PersonID: personID, Via: via},
			where)
		return err
	})
	return token, err
}

// SignInDemo signs in as one of the demo's accounts, without a password. Only the demo may call it.
func (s *Service) SignInDemo(ctx context.Context, memberID string, where audit.Where) (string, error) {
	shops, err := s.store.Shops(ctx)
	if err != nil {
		return "", err
	}
	for _, shop := range shops {
		m, err := s.store.Member(ctx, shop.ID, memberID)
		if errors.Is(err, store.ErrNotFound) || (err == nil && !m.Active) {
			continue
		}
		if err != nil {
			return "", err
		}
		return s.beginIn(ctx, store.MemberShop{MemberID: m.ID, ShopID: shop.ID}, m.PersonID, audit.ViaDemo, where)
	}
	return "", store.ErrNotFound
}

// SignOut ends the caller's session. Of a bench's screen the bench stays.
func (s *Service) SignOut(ctx context.Context) error {
	who, err := audit.Who(ctx)
	if err != nil || who.SessionID == 0 {
		return err
	}
	defer s.callers.forget()
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "session.ended"}, tx.EndSession(ctx, who.SessionID, s.now())
	})
}

// SignOutEverywhere ends every session of the caller, this one too.
func (s *Service) SignOutEverywhere(ctx context.Context) (ended int, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return 0, err
	}
	defer s.callers.forget()
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		n, err := tx.EndSessions(ctx, who.PersonID, 0, s.now())
		ended = int(n)
		if err == nil {
			err = tx.ForgetDevices(ctx, who.PersonID)
		}
		return audit.Change{Action: "session.ended_everywhere", Became: map[string]any{"sessions": n}}, err
	})
	return ended, err
}

// SwitchShop moves the caller's session to another of their shops.
func (s *Service) SwitchShop(ctx context.Context, shopID string) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	shops, err := s.store.ShopsOf(ctx, who.PersonID)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(shops, func(m store.MemberShop) bool { return m.ShopPublic == shopID })
	if i < 0 {
		return store.ErrNotFound
	}
	defer s.callers.forget()
	return s.store.SwitchShop(ctx, who.SessionID, shops[i].ShopID, shops[i].MemberID)
}

// Sessions lists where the caller is signed in.
func (s *Service) Sessions(ctx context.Context) ([]store.Session, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.Sessions(ctx, who.PersonID, s.now(), s.now().Add(-sessionIdle))
}

// SetPassword changes the caller's password and ends their other sessions.
func (s *Service) SetPassword(ctx context.Context, old, next string) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	person, err := s.store.Person(ctx, who.PersonID)
	if err != nil {
		return err
	}
	// who is signed in waits for their own tries alone
	account := try{accountKey(person, fmt.Sprintf("session %d", who.SessionID)), freeAccount}
	if err := s.attempt(ctx, account); err != nil {
		return err
	}
	fits, err := secret.Fits(person.PasswordHash, old)
	if err != nil {
		return err
	}
	var faults fault.List
	if !fits {
		faults.Add("old", wrongSecret("", "is not your password", "Sign out and ask an owner for a link if you forgot it."))
	} else if err := s.succeeded(ctx, account); err != nil {
		return err
	}
	faults.Add("new", secret.CheckPassword(next, localPart(person.Email)))
	if err := faults.Err(); err != nil {
		return err
	}
	defer s.callers.forget()
	hash := secret.Hash(next)
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if _, err := tx.EndSessions(ctx, who.PersonID, who.SessionID, s.now()); err != nil {
			return audit.Change{}, err
		}
		if err := tx.ForgetDevices(ctx, who.PersonID); err != nil {
			return audit.Change{}, err
		}
		return audit.Change{Action: "password.changed"}, tx.SetPassword(ctx, who.PersonID, hash)
	})
}

func localPart(email string) string {
	name, _, _ := strings.Cut(email, "@")
	return name
}

// SignInByPin signs a cutter in on a bench's screen. The PIN counts there only: without the screen's own token it opens
// nothing.
func (s *Service) SignInByPin(ctx context.Context, device, memberID, pin string, where audit.Where) (token string,
	err error) {
	d, err := s.store.DeviceByToken(ctx, secret.Digest(device))
	if errors.Is(err, store.ErrNotFound) {
		return "", wrongSecret("", "This screen is not enrolled at a bench.", "Enrol it with a code from the benches' page.")
	}
	if err != nil {
		return "", err
	}
	m, err := s.store.Member(ctx, d.ShopID, memberID)
	if err != nil {
		return "", err
	}
	one, screen := try{fmt.Sprintf("pin:%d:%d", d.ID, m.ID), freePin}, try{fmt.Sprintf("screen:%d", d.ID), freeScreen}
	tries := []try{one, screen}
	clean, err := s.store.Attempts(ctx, secret.Digest(one.what))
	if err != nil {
		return "", err
	}
	if clean == 0 { // somebody else's guessing on this screen does not keep out who has made no mistake
		tries = tries[:1]
	}
	if err := s.attempt(ctx, tries...); err != nil {
		return "", err
	}
	fits, err := secret.Fits(m.PinHash, pin)
	if err != nil {
		return "", err
	}
	if !fits || !m.Active {
		if len(tries) == 1 { // it counts on the screen all the same
			if err := s.countTry(ctx, screen); err != nil {
				return "", err
			}
		}
		who := audit.Caller{ShopID: d.ShopID, MemberID: m.ID, Name: m.Name, Role: m.Role, Via: audit.ViaPin, Where: where}
		if err := s.audit.Write(ctx, s.store, who,
			audit.Change{Action: "session.refused", SubjectName: "wrong PIN"}); err != nil {
			return "", err
		}
		return "", wrongSecret("pin", "is not the PIN of "+m.Name, "Try again, or ask an owner for a new one.")
	}
	if err := s.succeeded(ctx, one, tries[1:]...); err != nil {
		return "", err
	}
	defer s.callers.forget()
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if c, ok := audit.CallerOf(ctx); ok && c.DeviceID == d.ID && c.SessionID != 0 { // who was there before leaves
			if err := tx.EndSession(ctx, c.SessionID, s.now()); err != nil {
				return err
			}
		}
		token, err = s.begin(ctx, tx,
			store.Session{ShopID: d.ShopID, MemberID: m.ID, PersonID: m.PersonID, DeviceID: &d.ID, Via: audit.ViaPin}, where)
		return err
	})
	return token, err
}
