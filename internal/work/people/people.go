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
		return audit.Change{Action: "person.added", Subject: m.PublicID,
			Became: map[string]any{"role": a.Role, "pin": a.Pin != ""}}, nil
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
		if m.PseudonymAt != nil {
			return audit.Change{},
				fault.NewConflict("active", "pseudonym", "left, and the name is gone", "Add them anew, by an invitation.")
		}
		was := map[string]any{"role": m.Role, "active": m.Active}
		became := map[string]any{"role": in.Role, "active": in.Active}
		if in.Name != m.Name { // neither name stands in what never changes
			became["renamed"] = true
		}
		if m.Role != in.Role || !in.Active {
			if err := tx.EndSessionsIn(ctx, m.ID, s.now()); err != nil {
				return audit.Change{}, err
			}
		}
		row := m.Member
		row.Name, row.Role, row.Active, row.Version = in.Name, in.Role, in.Active, in.Version
		return audit.Change{Action: "person.changed", Subject: m.PublicID, Was: was, Became: became},
			tx.SaveMember(ctx, row)
	})
	if err != nil {
		return store.MemberRow{}, err
	}
	return s.store.Member(ctx, who.ShopID, id)
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
		return audit.Change{Action: action, Subject: m.PublicID}, tx.SetPin(ctx, who.ShopID, m.ID, hash)
	})
}
