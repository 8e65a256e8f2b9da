package people

import (
	"context"
	"fmt"

	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Unname replaces the name of somebody who left the caller's shop by a pseudonym, and takes the account from behind it.
// The log stays whole: what they weighed and changed is theirs under the pseudonym. It cannot be undone.
func (s *Service) Unname(ctx context.Context, id string) (store.MemberRow, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return store.MemberRow{}, err
	}
	defer s.callers.forget()
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		m, err := tx.Member(ctx, who.ShopID, id)
		if err != nil {
			return audit.Change{}, err
		}
		if m.Active {
			return audit.Change{},
				fault.NewConflict("", "still_here", "They are still here.", "Block their access first.")
		}
		if m.PseudonymAt != nil {
			return audit.Change{}, fault.NewConflict("", "pseudonym", "The name is gone already.", "Nothing is left to do.")
		}
		n, err := tx.Pseudonyms(ctx, who.ShopID)
		if err != nil {
			return audit.Change{}, err
		}
		key := store.NewID()
		empty := store.Person{PublicID: key, Email: "left-" + key + "@none.invalid", CreatedAt: s.now()}
		return audit.Change{Action: "person.unnamed", Subject: m.PublicID},
			tx.Unname(ctx, m.Member, empty, fmt.Sprintf("Former %s %d", roleName(m.Role), n+1), s.now())
	})
	if err != nil {
		return store.MemberRow{}, err
	}
	return s.store.Member(ctx, who.ShopID, id)
}

func roleName(id string) string {
	return map[string]string{"owner": "owner", "head_cutter": "head cutter", "cutter": "cutter",
		"apprentice": "apprentice", "yield_desk": "yield clerk"}[id]
}

// Dossier is what a shop keeps of a person: the account, the sign-ins, the tokens; what they did follows from the
// trail.
type Dossier struct {
	Member   store.MemberRow
	Shop     string
	Sessions []store.Session
	Tokens   []store.Token
}

// Dossier gives what the caller's shop keeps of one of its people; an empty id means the caller.
func (s *Service) Dossier(ctx context.Context, id string) (d Dossier, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return d, err
	}
	if id == "" {
		id = who.Member
	}
	if d.Member, err = s.store.Member(ctx, who.ShopID, id); err != nil {
		return d, err
	}
	in, err := s.shops.Current(ctx)
	if err != nil {
		return d, err
	}
	d.Shop = in.Name
	if d.Sessions, err = s.store.SessionsOf(ctx, d.Member.ID); err != nil {
		return d, err
	}
	tokens, err := s.store.Tokens(ctx, who.ShopID)
	for _, t := range tokens {
		if t.MemberID == d.Member.ID {
			d.Tokens = append(d.Tokens, t)
		}
	}
	return d, err
}

// WholeTrail calls back for all that a person of the caller's shop did, newest first; an empty id means the caller.
func (s *Service) WholeTrail(ctx context.Context, id string, each func(store.TrailRow) error) error {
	if id == "" {
		who, err := audit.Who(ctx)
		if err != nil {
			return err
		}
		id = who.Member
	}
	return s.shops.WholeTrail(ctx, shop.TrailFilter{Member: id}, each)
}
