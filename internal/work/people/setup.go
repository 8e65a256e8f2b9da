package people

import (
	"context"
	"errors"

	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// SetUp makes the first shop where there is none yet, and enters the accounts that it lacks. It is for the program
// itself: the demo and tests. It answers whether it made the shop.
func (s *Service) SetUp(ctx context.Context, in shop.NewShop, accounts ...Account) (isNew bool, err error) {
	return isNew, s.store.Tx(ctx, func(tx *store.Store) error {
		shop, err := tx.FirstShop(ctx)
		isNew = errors.Is(err, store.ErrNotFound)
		if isNew {
			shop, err = s.shops.NewShop(ctx, tx, in)
		}
		if err != nil {
			return err
		}
		for _, a := range accounts {
			if err := checkAccount(&a, false); err != nil {
				return err
			}
			if _, err := tx.PersonByEmail(ctx, a.Email); err == nil {
				continue
			}
			if _, _, err := s.enter(ctx, tx, shop.ID, a, true); err != nil {
				return err
			}
		}
		if len(accounts) == 0 {
			return nil
		}
		if err := tx.MarkSetUp(ctx, s.now()); !errors.Is(err, store.ErrConflict) {
			return err
		}
		return nil
	})
}

// First gives a caller who is somebody of a role in the first shop, for the program itself.
func (s *Service) First(ctx context.Context, role string) (audit.Caller, error) {
	shop, err := s.store.FirstShop(ctx)
	if err != nil {
		return audit.Caller{}, err
	}
	return s.MemberCaller(ctx, shop.ID, role)
}

// Bench gives a bench by its public id.
func (s *Service) Bench(ctx context.Context, id string) (store.Bench, error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return store.Bench{}, err
	}
	return s.store.Bench(ctx, shop.ID, id)
}
