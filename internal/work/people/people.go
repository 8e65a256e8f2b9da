package people

import (
	"context"
	"errors"
	"net/mail"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// How long what may be used once holds.
const (
	setUpHolds    = 24 * time.Hour
	passwordHolds = 72 * time.Hour
	codeHolds     = 15 * time.Minute
)

// Account is a person as they are entered into a shop.
type Account struct {
	Email, Name, Role string
	Password, Pin     string // may be empty: chosen by the person through a link
}

// checkAccount brings an account into the form in which it is kept, or says what is wrong with it.
func checkAccount(a *Account, needPassword bool) error {
	var faults fault.List
	a.Email, a.Name = strings.ToLower(strings.TrimSpace(a.Email)), strings.TrimSpace(a.Name)
	if addr, err := mail.ParseAddress(a.Email); a.Email == "" {
		faults.Add("email", fault.Required("Enter the address they sign in with."))
	} else if err != nil || addr.Address != a.Email || len(a.Email) > 190 {
		faults.Add("email",
			fault.New("", "not_an_address", fault.Quote(a.Email)+" is not an address", "Write it as name@place.example."))
	} else if !plainASCII(a.Email) { // letters that look alike, or cannot be seen, would make two addresses of one
		faults.Add("email",
			fault.New("", "not_plain", "holds letters beyond a to z", "Write it in plain letters; a domain in its xn-- form."))
	}
	faults.Add("name", fault.Text(a.Name, 80, true))
	if !knownRole(a.Role) {
		faults.Add("role",
			fault.New("", "unknown", fault.Quote(a.Role)+" is not a role",
				"Use owner, head_cutter, cutter, apprentice or yield_desk."))
	}
	if a.Password != "" || needPassword {
		faults.Add("password", secret.CheckPassword(a.Password, localPart(a.Email)))
	}
	if a.Pin != "" {
		faults.Add("pin", secret.CheckPin(a.Pin))
	}
	return faults.Err()
}

func plainASCII(s string) bool {
	return !strings.ContainsFunc(s, func(r rune) bool { return r <= ' ' || r > '~' })
}

func knownRole(id string) bool {
	return slices.ContainsFunc(shop.Roles, func(r shop.Role) bool { return r.ID == id })
}

// enter adds an account to a shop. A person who has an account keeps it as it is. Who has not joined comes in by an
// invitation of this shop alone, or by a PIN on its benches.
func (s *Service) enter(ctx context.Context, tx *store.Store, shopID int64, a Account, joined bool) (store.Member,
	store.Person, error) {
	person, err := tx.PersonByEmail(ctx, a.Email)
	if errors.Is(err, store.ErrNotFound) {
		person = store.Person{PublicID: store.NewID(), Email: a.Email, CreatedAt: s.now()}
		if a.Password != "" {
			person.PasswordHash = secret.Hash(a.Password)
		}
		err = tx.CreatePerson(ctx, &person)
	}
	if err != nil {
		return store.Member{}, person, err
	}
	m := store.Member{PublicID: store.NewID(), ShopID: shopID, PersonID: person.ID, Name: a.Name, Role: a.Role,
		Active: true, Version: 1, CreatedAt: s.now()}
	if joined {
		m.JoinedAt = &m.CreatedAt
	}
	if a.Pin != "" {
		m.PinHash = secret.Hash(a.Pin)
	}
	return m, person, tx.CreateMember(ctx, &m)
}

// People lists the people of the caller's shop.
func (s *Service) People(ctx context.Context) ([]store.MemberRow, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.Members(ctx, who.ShopID)
}

// AddPerson invites somebody into the caller's shop. It gives the token of a link with which they join: by choosing a
// password, or with the one they have where they joined another shop before. Nothing of the shop is theirs until then.
func (s *Service) AddPerson(ctx context.Context, a Account) (row store.MemberRow, link string, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return row, "", err
	}
	a.Password = ""
	if err := checkAccount(&a, false); err != nil {
		return row, "", err
	}
	var m store.Member
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		var person store.Person
		if m, person, err = s.enter(ctx, tx, who.ShopID, a, false); err != nil {
			return audit.Change{}, err
		}
		if link, err = s.passwordLink(ctx, tx, person.ID, &who.ShopID); err != nil {
			return audit.Change{}, err
		}
		return audit.Change{Action: "person.added", Subject: m.PublicID, SubjectName: m.Name,
			Became: map[string]any{"email": a.Email, "role": a.Role, "pin": a.Pin != ""}}, nil
	})
	if errors.Is(err, store.ErrDuplicate) {
		return row, "",
			fault.NewConflict("email", "duplicate", "is in this shop already",
				"Change that person instead; one who left can be let in again.")
	}
	if err != nil {
		return row, "", err
	}
	row, err = s.store.Member(ctx, who.ShopID, m.PublicID)
	return row, link, err
}

// passwordLink makes a link of a shop for a person, in the place of those that the shop gave before; nil is whoever
// runs the server.
func (s *Service) passwordLink(ctx context.Context, tx *store.Store, personID int64, shopID *int64) (string, error) {
	if err := tx.DropOneTimeTokens(ctx, "password", shopID, &personID, nil); err != nil {
		return "", err
	}
	token, now := secret.NewToken(""), s.now()
	return token,
		tx.CreateOneTimeToken(ctx,
			&store.OneTimeToken{TokenHash: secret.Digest(token), Kind: "password", ShopID: shopID, PersonID: &personID,
				CreatedAt: now, EndsAt: now.Add(passwordHolds)})
}

// PersonChange is what an owner may change of a person.
type PersonChange struct {
	Name, Role string
	Active     bool
	Version    int
}

// ChangePerson changes a person of the caller's shop. The last owner stays one. Who may do less than before, or
// nothing, is signed out.
func (s *Service) ChangePerson(ctx context.Context, id string, in PersonChange) (store.MemberRow, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return store.MemberRow{}, err
	}
	in.Name = strings.TrimSpace(in.Name)
	var faults fault.List
	faults.Add("name", fault.Text(in.Name, 80, true))
	if !knownRole(in.Role) {
		faults.Add("role",
			fault.New("", "unknown", fault.Quote(in.Role)+" is not a role",
				"Use owner, head_cutter, cutter, apprentice or yield_desk."))
	}
	if err := faults.Err(); err != nil {
		return store.MemberRow{}, err
	}
	defer s.callers.forget()
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		m, err := tx.Member(ctx, who.ShopID, id)
		if err != nil {
			return audit.Change{}, err
		}
		if m.Role == "owner" && m.Active && (in.Role != "owner" || !in.Active) {
			others, err := tx.OtherOwners(ctx, who.ShopID, m.ID)
			if err != nil {
				return audit.Change{}, err
			}
			if others == 0 {
				return audit.Change{},
					fault.NewConflict("role", "last_owner", "is the shop's last owner", "Make somebody else an owner first.")
			}
		}
		was := map[string]any{"name": m.Name, "role": m.Role, "active": m.Active}
		if m.Role != in.Role || !in.Active {
			if err := tx.EndSessionsIn(ctx, m.ID, s.now()); err != nil {
				return audit.Change{}, err
			}
		}
		row := m.Member
		row.Name, row.Role, row.Active, row.Version = in.Name, in.Role, in.Active, in.Version
		return audit.Change{Action: "person.changed", Subject: m.PublicID, SubjectName: m.Name, Was: was,
			Became: map[string]any{"name": in.Name, "role": in.Role, "active": in.Active}}, tx.SaveMember(ctx, row)
	})
	if err != nil {
		return store.MemberRow{}, err
	}
	return s.store.Member(ctx, who.ShopID, id)
}

// PasswordLink gives the token of a link with which a person chooses a new password; their old one counts until they
// do. An owner of one shop cannot take over somebody who belongs to others as well.
func (s *Service) PasswordLink(ctx context.Context, id string) (link string, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return "", err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		m, err := tx.Member(ctx, who.ShopID, id)
		if err != nil {
			return audit.Change{}, err
		}
		if m.Elsewhere > 0 && m.HasPassword && m.PersonID != who.PersonID {
			return audit.Change{},
				fault.NewConflict("", "other_shops", m.Name+" belongs to other shops too.",
					"They change their password themselves; whoever runs the server can give them a link (falda password-link).")
		}
		link, err = s.passwordLink(ctx, tx, m.PersonID, &who.ShopID)
		return audit.Change{Action: "password.link", Subject: m.PublicID, SubjectName: m.Name}, err
	})
	return link, err
}

// PasswordLinkByEmail is PasswordLink for whoever runs the server.
func (s *Service) PasswordLinkByEmail(ctx context.Context, email string) (link string, err error) {
	email = strings.ToLower(strings.TrimSpace(email))
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		person, err := tx.PersonByEmail(ctx, email)
		if err != nil {
			return err
		}
		shops, err := tx.ShopsOf(ctx, person.ID)
		if err != nil {
			return err
		}
		if len(shops) == 0 {
			return store.ErrNotFound
		}
		for _, sh := range shops {
			who := audit.Caller{ShopID: sh.ShopID, Name: "falda password-link", Role: "program", Via: audit.ViaProgram}
			if err := s.audit.Write(ctx, tx, who, audit.Change{Action: "password.link", SubjectName: email}); err != nil {
				return err
			}
		}
		link, err = s.passwordLink(ctx, tx, person.ID, nil)
		return err
	})
	return link, err
}

// SetPin sets the PIN of a person of the caller's shop, or takes it away; an empty id means the caller.
func (s *Service) SetPin(ctx context.Context, id, pin string) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	if id == "" {
		id = who.Member
	}
	hash := ""
	if pin != "" {
		if err := secret.CheckPin(pin); err != nil {
			var faults fault.List
			faults.Add("pin", err)
			return faults.Err()
		}
		hash = secret.Hash(pin)
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		m, err := tx.Member(ctx, who.ShopID, id)
		if err != nil {
			return audit.Change{}, err
		}
		action := "pin.set"
		if pin == "" {
			action = "pin.taken"
		}
		return audit.Change{Action: action, Subject: m.PublicID, SubjectName: m.Name}, tx.SetPin(ctx, who.ShopID, m.ID, hash)
	})
}

// Invitation is what a link is for.
type Invitation struct {
	Email  string
	Shop   string // that it lets into; empty of a link from whoever runs the server
	Choose bool   // a password is chosen; otherwise the one that the person has is asked for
	once   store.OneTimeToken
	person store.Person
}

// Invited says what a link is for.
func (s *Service) Invited(ctx context.Context, link string) (Invitation, error) {
	o, err := s.store.OneTimeToken(ctx, "password", secret.Digest(link), s.now())
	if err != nil || o.PersonID == nil {
		return Invitation{}, usedUp(err)
	}
	v := Invitation{once: o, Choose: true}
	if v.person, err = s.store.Person(ctx, *o.PersonID); err != nil {
		return v, err
	}
	v.Email = v.person.Email
	if o.ShopID == nil {
		return v, nil
	}
	shop, err := s.store.Shop(ctx, *o.ShopID)
	if err != nil {
		return v, err
	}
	v.Shop = shop.Name
	elsewhere, err := s.store.JoinedElsewhere(ctx, v.person.ID, *o.ShopID)
	v.Choose = v.person.PasswordHash == "" || !elsewhere
	return v, err
}

// usedUp explains a link that does not hold.
func usedUp(err error) error {
	if err == nil || errors.Is(err, store.ErrNotFound) || errors.Is(err, store.ErrConflict) {
		return fault.NewConflict("link", "used_up", "was used already or is too old", "Ask for a new one.")
	}
	return err
}

// ChoosePassword joins the shop that a link is of and signs in there. It sets the password and ends all sessions of the
// person; of somebody who has joined another shop, where a password would open that too, it asks for the one they have
// and changes nothing of it.
func (s *Service) ChoosePassword(ctx context.Context, link, password string, where audit.Where) (in SignedIn,
	err error) {
	v, err := s.Invited(ctx, link)
	if err != nil {
		return in, err
	}
	hash := ""
	if v.Choose {
		var faults fault.List
		faults.Add("password", secret.CheckPassword(password, localPart(v.person.Email)))
		if err := faults.Err(); err != nil {
			return in, err
		}
		hash = secret.Hash(password)
	} else if err := s.ownPassword(ctx, v.person, password, where); err != nil {
		return in, err
	}
	defer s.callers.forget()
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if err := tx.UseOneTimeToken(ctx, v.once.ID, s.now()); err != nil {
			return usedUp(err)
		}
		if v.Choose {
			if err := s.newPassword(ctx, tx, v.person, hash); err != nil {
				return err
			}
		}
		if v.once.ShopID != nil {
			if err := tx.Join(ctx, *v.once.ShopID, v.person.ID, s.now()); err != nil {
				return err
			}
		}
		shops, err := tx.ShopsOf(ctx, v.person.ID)
		if err != nil {
			return err
		}
		at := max(0,
			slices.IndexFunc(shops, func(m store.MemberShop) bool { return v.once.ShopID != nil && m.ShopID == *v.once.ShopID }))
		if len(shops) == 0 {
			return fault.NewConflict("link", "left", "is for somebody who belongs to no shop", "Ask an owner.")
		}
		in, err = s.comeIn(ctx, tx, shops[at], v.person.ID, where)
		return err
	})
	return in, err
}

// newPassword sets a password: what was signed in ends, and what was known of the person's browsers is forgotten.
func (s *Service) newPassword(ctx context.Context, tx *store.Store, person store.Person, hash string) error {
	if err := tx.SetPassword(ctx, person.ID, hash); err != nil {
		return err
	}
	if _, err := tx.EndSessions(ctx, person.ID, 0, s.now()); err != nil {
		return err
	}
	if err := tx.ForgetDevices(ctx, person.ID); err != nil {
		return err
	}
	return tx.ForgetAttempts(ctx, secret.Digest(accountKey(person, "")))
}

// SetUpLink gives the token of the one-time link with which the first owner sets the installation up; empty where there
// is one. An older link counts no more.
func (s *Service) SetUpLink(ctx context.Context) (string, error) {
	done, err := s.store.SetUp(ctx)
	if err != nil || done {
		return "", err
	}
	token, now := secret.NewToken(""), s.now()
	return token, s.store.Tx(ctx, func(tx *store.Store) error {
		if err := tx.DropOneTimeTokens(ctx, "set_up", nil, nil, nil); err != nil {
			return err
		}
		return tx.CreateOneTimeToken(ctx,
			&store.OneTimeToken{TokenHash: secret.Digest(token), Kind: "set_up", CreatedAt: now, EndsAt: now.Add(setUpHolds)})
	})
}

// SetUpByLink makes the first shop and its owner, and signs the owner in. Where the database has shops from before
// there was a sign-in, the owner gets those and no shop is made.
func (s *Service) SetUpByLink(ctx context.Context, link string, made shop.NewShop, owner Account,
	where audit.Where) (in SignedIn, err error) {
	o, err := s.store.OneTimeToken(ctx, "set_up", secret.Digest(link), s.now())
	if err != nil {
		return in, usedUp(err)
	}
	owner.Role, owner.Pin, made.Demo = "owner", "", false
	var faults fault.List
	for _, f := range fault.Of(checkAccount(&owner, true)) {
		f.Field = "owner_" + f.Field
		faults.Add("", f)
	}
	probe := store.Shop{}
	settings := shop.Usual
	settings.Name, settings.Currency, settings.Unit = made.Name, made.Currency, made.Unit
	if made.LabourRate != "" {
		settings.LabourRate = made.LabourRate
	}
	if made.TimeZone != "" {
		settings.TimeZone = made.TimeZone
	}
	faults.Add("", s.shops.CheckSettings(settings, &probe))
	if err := faults.Err(); err != nil {
		return in, err
	}
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if err := tx.UseOneTimeToken(ctx, o.ID, s.now()); err != nil {
			return usedUp(err)
		}
		if err := tx.MarkSetUp(ctx, s.now()); err != nil {
			return usedUp(err)
		}
		shops, err := tx.Shops(ctx)
		if err != nil {
			return err
		}
		if len(shops) == 0 {
			row, err := s.shops.NewShop(ctx, tx, made)
			if err != nil {
				return err
			}
			shops = []store.Shop{row}
		}
		var first store.MemberShop
		var person int64
		for i, sh := range shops {
			m, _, err := s.enter(ctx, tx, sh.ID, owner, true)
			if err != nil {
				return err
			}
			if i == 0 {
				first, person = store.MemberShop{ShopID: sh.ID, MemberID: m.ID}, m.PersonID
			}
		}
		in, err = s.comeIn(ctx, tx, first, person, where)
		return err
	})
	return in, err
}
