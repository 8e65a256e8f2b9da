package people

import (
	"context"
	"errors"
	"slices"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

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
		return audit.Change{Action: "password.link", Subject: m.PublicID}, err
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
			if err := s.audit.Write(ctx, tx, who, audit.Change{Action: "password.link", Subject: sh.Member}); err != nil {
				return err
			}
		}
		link, err = s.passwordLink(ctx, tx, person.ID, nil)
		return err
	})
	return link, err
}
