package people

import (
	"context"
	"errors"

	"falda/internal/core/fault"
	"falda/internal/secret"
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
	for _, x := range []struct {
		text string
		into *string
	}{{made.LabourRate, &settings.LabourRate}, {made.TimeZone, &settings.TimeZone},
		{made.PackagingPerKg, &settings.PackagingPerKg}, {made.DiscardPerKg, &settings.DiscardPerKg},
		{s.shops.NamesOf(made.Market), &settings.Market}} {
		if x.text != "" {
			*x.into = x.text
		}
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
