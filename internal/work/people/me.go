package people

import (
	"context"
	"errors"
	"slices"

	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// Me is what a screen needs to know of who looks at it.
type Me struct {
	Caller  audit.Caller // zero where nobody is signed in
	Email   string
	HasPin  bool
	Shops   []store.MemberShop
	SetUp   bool          // the installation has its first owner
	Device  *store.Device // of a bench's screen
	Bench   store.Bench   // of a bench's screen
	Shop    string        // name of the shop of a bench's screen
	Cutters []store.MemberRow
	Offered []store.MemberRow // accounts that the demo offers
}

// Me says who the caller is. Device is the token of a bench's screen, empty elsewhere; with offer it lists the accounts
// that the demo lets in with a touch.
func (s *Service) Me(ctx context.Context, device string, offer bool) (Me, error) {
	var me Me
	var err error
	if me.SetUp, err = s.store.SetUp(ctx); err != nil {
		return me, err
	}
	if c, ok := audit.CallerOf(ctx); ok && c.ShopID != 0 {
		if err := s.meSignedIn(ctx, &me, c); err != nil {
			return me, err
		}
	}
	if device != "" {
		if err := s.meOnBench(ctx, &me, device); err != nil && !errors.Is(err, store.ErrNotFound) {
			return me, err
		}
	}
	if !offer {
		return me, nil
	}
	shops, err := s.store.Shops(ctx)
	if err != nil {
		return me, err
	}
	for _, shop := range shops {
		members, err := s.store.Members(ctx, shop.ID)
		if err != nil {
			return me, err
		}
		me.Offered = append(me.Offered, slices.DeleteFunc(members, func(m store.MemberRow) bool { return !m.Active })...)
	}
	return me, nil
}

func (s *Service) meSignedIn(ctx context.Context, me *Me, c audit.Caller) (err error) {
	me.Caller = c
	if c.PersonID == 0 {
		return nil
	}
	person, err := s.store.Person(ctx, c.PersonID)
	if err != nil {
		return err
	}
	me.Email = person.Email
	m, err := s.store.Member(ctx, c.ShopID, c.Member)
	if err != nil {
		return err
	}
	me.HasPin = m.PinHash != ""
	me.Shops, err = s.store.ShopsOf(ctx, c.PersonID)
	return err
}

func (s *Service) meOnBench(ctx context.Context, me *Me, token string) error {
	d, err := s.store.DeviceByToken(ctx, secret.Digest(token))
	if err != nil {
		return err
	}
	if s.now().Sub(d.SeenAt) > touchEvery {
		if err := s.store.SeenDevice(ctx, d.ID, s.now()); err != nil {
			return err
		}
	}
	shop, err := s.store.Shop(ctx, d.ShopID)
	if err != nil {
		return err
	}
	benches, err := s.store.Benches(ctx, d.ShopID)
	if err != nil {
		return err
	}
	for _, b := range benches {
		if b.ID == d.BenchID {
			me.Bench = b
		}
	}
	members, err := s.store.Members(ctx, d.ShopID)
	me.Device, me.Shop = &d, shop.Name
	me.Cutters = slices.DeleteFunc(members, func(m store.MemberRow) bool { return !m.Active || m.PinHash == "" })
	return err
}
