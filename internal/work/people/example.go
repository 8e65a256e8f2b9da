package people

import (
	"context"
	"errors"
	"time"

	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Example is the example shop beside a person's real one.
type Example struct {
	Shop  string // public id; empty where there is none
	Name  string
	Whole bool // all of the scenario is in it
	Stale bool // it was begun so long ago that it will not become whole
}

// ExampleShop says whether the caller has an example shop.
func (s *Service) ExampleShop(ctx context.Context) (Example, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return Example{}, err
	}
	row, err := s.store.ExampleOf(ctx, who.PersonID)
	if errors.Is(err, store.ErrNotFound) {
		return Example{}, nil
	}
	return Example{row.PublicID, row.Name, row.Seeded, !row.Seeded && s.now().Sub(row.CreatedAt) > exampleTakes}, err
}

// exampleTakes is how long the scenario may take until an example shop counts as broken.
const exampleTakes = 5 * time.Minute

// AddExample makes an example shop of which the caller is the owner, with people of the other roles whom nobody can
// sign in as. It gives a caller of each role, by whom the scenario is entered.
func (s *Service) AddExample(ctx context.Context, in shop.NewShop, people []Account) (as map[string]audit.Caller,
	err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	if _, err := s.store.ExampleOf(ctx, who.PersonID); err == nil {
		return nil, fault.NewConflict("", "example", "There is an example shop already.", "Go there, or remove it first.")
	} else if !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	in.Demo, in.Example = false, true
	as = map[string]audit.Caller{}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row, err := s.shops.NewShop(ctx, tx, in)
		if err != nil {
			return audit.Change{}, err
		}
		for _, a := range people {
			m := store.Member{PublicID: store.NewID(), ShopID: row.ID, Name: a.Name, Role: a.Role, Active: true, Version: 1,
				CreatedAt: s.now()}
			if a.Role == "owner" {
				m.PersonID, m.Name, m.JoinedAt = who.PersonID, who.Name, &m.CreatedAt
			} else {
				key := store.NewID()
				ghost := store.Person{PublicID: key, Email: "example-" + key + "@none.invalid", CreatedAt: s.now()}
				if err := tx.CreatePerson(ctx, &ghost); err != nil {
					return audit.Change{}, err
				}
				m.PersonID = ghost.ID
			}
			if err := tx.CreateMember(ctx, &m); err != nil {
				return audit.Change{}, err
			}
			as[a.Role] = audit.Caller{ShopID: row.ID, Shop: row.PublicID, MemberID: m.ID, Member: m.PublicID,
				PersonID: m.PersonID, Name: m.Name, Role: m.Role, Via: audit.ViaProgram}
		}
		return audit.Change{Action: "shop.example", Subject: row.PublicID, SubjectName: row.Name}, nil
	})
	return as, err
}

// RemoveExample takes the caller's example shop away with all that is in it; who is signed in there goes on in another
// of their shops.
func (s *Service) RemoveExample(ctx context.Context) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	row, err := s.store.ExampleOf(ctx, who.PersonID)
	if err != nil {
		return err
	}
	defer s.callers.forget()
	return s.store.Tx(ctx, func(tx *store.Store) error {
		if who.ShopID == row.ID { // the removal is written down at home
			shops, err := tx.ShopsOf(ctx, who.PersonID)
			if err != nil {
				return err
			}
			for _, sh := range shops {
				if sh.ShopID != row.ID {
					who.ShopID, who.Shop, who.MemberID, who.Member = sh.ShopID, sh.ShopPublic, sh.MemberID, sh.Member
					break
				}
			}
		}
		if err := tx.RemoveExample(ctx, row.ID); err != nil || who.ShopID == row.ID {
			return err
		}
		return s.audit.Write(ctx, tx, who,
			audit.Change{Action: "shop.example_removed", Subject: row.PublicID, SubjectName: row.Name})
	})
}
