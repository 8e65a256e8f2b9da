package work

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/secret"
	"falda/internal/store"
)

// TooMany is an attempt at a secret that comes too soon after wrong ones.
type TooMany struct{ Wait time.Duration }

// Error says how long to wait.
func (t TooMany) Error() string {
	return fmt.Sprintf("too many wrong tries; wait %s", t.Wait.Round(time.Second))
}

// How many wrong tries are free before one has to wait: at one account, from one address, at one PIN, on one screen.
const (
	freeAccount = 5
	freeAddress = 40
	freePin     = 3
	freeScreen  = 10
)

// try is what is counted when a secret is tried.
type try struct {
	what string
	free int
}

// attempt counts a try before the secret is checked, so that many at once count as many, and refuses it while one has to
// wait. Refused tries do not count.
func (s *Service) attempt(ctx context.Context, tries ...try) error {
	return s.store.Tx(ctx, func(tx *store.Store) error {
		now := s.now()
		rows := make([]store.Attempt, len(tries))
		for i, t := range tries {
			var err error
			if rows[i], err = tx.Attempt(ctx, secret.Digest(t.what)); err != nil {
				return err
			}
			if secret.Forgiven(rows[i].LastAt, now) {
				rows[i].Failures = 0
			}
			if left := secret.Wait(rows[i].Failures, t.free) - now.Sub(rows[i].LastAt); left > 0 {
				return TooMany{left}
			}
		}
		for _, row := range rows {
			row.Failures, row.LastAt = row.Failures+1, now
			if err := tx.SaveAttempt(ctx, row); err != nil {
				return err
			}
		}
		return nil
	})
}

// succeeded takes back what a right try had counted, and forgets the wrong ones before it at the account itself.
func (s *Service) succeeded(ctx context.Context, account try, others ...try) error {
	return s.store.Tx(ctx, func(tx *store.Store) error {
		if err := tx.ForgetAttempts(ctx, secret.Digest(account.what)); err != nil {
			return err
		}
		for _, t := range others {
			row, err := tx.Attempt(ctx, secret.Digest(t.what))
			if err != nil {
				return err
			}
			if row.Failures > 0 {
				row.Failures--
				if err := tx.SaveAttempt(ctx, row); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// wrongSecret is the fault of a secret that does not fit; it does not say which half was wrong.
func wrongSecret(field, message, wayOut string) error {
	return fault.New(field, "wrong_secret", message, wayOut)
}

// begin starts a session and gives its token.
func (s *Service) begin(ctx context.Context, tx *store.Store, row store.Session, where Where) (string, error) {
	token, now := secret.NewToken("fs_"), s.now()
	row.PublicID, row.TokenHash, row.About = NewID(), secret.Digest(token), cut(where.About, 120)
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
	return token, s.record(ctx, tx, who, change{Action: "session.began", Subject: row.PublicID, SubjectName: row.About})
}

// SignIn signs a person in by address and password, in the shop they are in; where they are in several, in the first.
func (s *Service) SignIn(ctx context.Context, email, password string, where Where) (string, error) {
	email = strings.ToLower(strings.TrimSpace(email))
	var faults fault.List
	if email == "" {
		faults.Add("email", required("Enter the address you were invited by."))
	}
	if password == "" {
		faults.Add("password", required("Enter your password."))
	}
	if len(email) > 190 || len(password) > 4*secret.MaxPassword {
		faults.Add("password", wrongSecret("", "does not belong to this address", "Check both."))
	}
	if err := faults.Err(); err != nil {
		return "", err
	}
	account, address := try{"account:" + email, freeAccount}, try{"address:" + where.Address, freeAddress}
	if err := s.attempt(ctx, account, address); err != nil {
		return "", err
	}
	person, err := s.store.PersonByEmail(ctx, email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return "", err
	}
	fits, err := secret.Fits(person.PasswordHash, password) // an unknown address takes as long as a wrong password
	if err != nil {
		return "", err
	}
	shops, err := s.store.ShopsOf(ctx, person.ID)
	if err != nil {
		return "", err
	}
	if !fits || len(shops) == 0 {
		for _, sh := range shops {
			who := Caller{ShopID: sh.ShopID, MemberID: sh.MemberID, Name: email, Role: sh.Role, Via: ViaPassword, Where: where}
			if err := s.record(ctx, s.store, who, change{Action: "session.refused", SubjectName: "wrong password"}); err != nil {
				return "", err
			}
		}
		return "", wrongSecret("password", "does not belong to this address", "Check both. An owner of your shop can give you a link to choose a new one.")
	}
	if err := s.succeeded(ctx, account, address); err != nil {
		return "", err
	}
	return s.beginIn(ctx, shops[0], person.ID, ViaPassword, where)
}

func (s *Service) beginIn(ctx context.Context, in store.MemberShop, personID int64, via string, where Where) (token string, err error) {
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		token, err = s.begin(ctx, tx, store.Session{ShopID: in.ShopID, MemberID: in.MemberID, PersonID: personID, Via: via}, where)
		return err
	})
	return token, err
}

// SignInDemo signs in as one of the demo's accounts, without a password. Only the demo may call it.
func (s *Service) SignInDemo(ctx context.Context, memberID string, where Where) (string, error) {
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
		return s.beginIn(ctx, store.MemberShop{MemberID: m.ID, ShopID: shop.ID}, m.PersonID, ViaDemo, where)
	}
	return "", store.ErrNotFound
}

// SignOut ends the caller's session. Of a bench's screen the bench stays.
func (s *Service) SignOut(ctx context.Context) error {
	who, err := caller(ctx)
	if err != nil || who.SessionID == 0 {
		return err
	}
	defer s.callers.forget()
	return s.recorded(ctx, func(tx *store.Store) (change, error) {
		return change{Action: "session.ended"}, tx.EndSession(ctx, who.SessionID, s.now())
	})
}

// SignOutEverywhere ends every session of the caller, this one too.
func (s *Service) SignOutEverywhere(ctx context.Context) (ended int, err error) {
	who, err := caller(ctx)
	if err != nil {
		return 0, err
	}
	defer s.callers.forget()
	err = s.recorded(ctx, func(tx *store.Store) (change, error) {
		n, err := tx.EndSessions(ctx, who.PersonID, 0, s.now())
		ended = int(n)
		return change{Action: "session.ended_everywhere", Became: map[string]any{"sessions": n}}, err
	})
	return ended, err
}

// SwitchShop moves the caller's session to another of their shops.
func (s *Service) SwitchShop(ctx context.Context, shopID string) error {
	who, err := caller(ctx)
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
	who, err := caller(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.Sessions(ctx, who.PersonID, s.now(), s.now().Add(-sessionIdle))
}

// SetPassword changes the caller's password and ends their other sessions.
func (s *Service) SetPassword(ctx context.Context, old, next string) error {
	who, err := caller(ctx)
	if err != nil {
		return err
	}
	person, err := s.store.Person(ctx, who.PersonID)
	if err != nil {
		return err
	}
	account := try{"account:" + person.Email, freeAccount}
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
	return s.recorded(ctx, func(tx *store.Store) (change, error) {
		if _, err := tx.EndSessions(ctx, who.PersonID, who.SessionID, s.now()); err != nil {
			return change{}, err
		}
		return change{Action: "password.changed"}, tx.SetPassword(ctx, who.PersonID, hash)
	})
}

func localPart(email string) string {
	name, _, _ := strings.Cut(email, "@")
	return name
}

// SignInByPin signs a cutter in on a bench's screen. The PIN counts there only: without the screen's own token it opens
// nothing.
func (s *Service) SignInByPin(ctx context.Context, device, memberID, pin string, where Where) (token string, err error) {
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
	if err := s.attempt(ctx, one, screen); err != nil {
		return "", err
	}
	fits, err := secret.Fits(m.PinHash, pin)
	if err != nil {
		return "", err
	}
	if !fits || !m.Active {
		who := Caller{ShopID: d.ShopID, MemberID: m.ID, Name: m.Name, Role: m.Role, Via: ViaPin, Where: where}
		if err := s.record(ctx, s.store, who, change{Action: "session.refused", SubjectName: "wrong PIN"}); err != nil {
			return "", err
		}
		return "", wrongSecret("pin", "is not the PIN of "+m.Name, "Try again, or ask an owner for a new one.")
	}
	if err := s.succeeded(ctx, one, screen); err != nil {
		return "", err
	}
	defer s.callers.forget()
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if c, ok := CallerOf(ctx); ok && c.DeviceID == d.ID && c.SessionID != 0 { // who was there before leaves
			if err := tx.EndSession(ctx, c.SessionID, s.now()); err != nil {
				return err
			}
		}
		token, err = s.begin(ctx, tx, store.Session{ShopID: d.ShopID, MemberID: m.ID, PersonID: m.PersonID, DeviceID: &d.ID, Via: ViaPin}, where)
		return err
	})
	return token, err
}
