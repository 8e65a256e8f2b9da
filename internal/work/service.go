package work

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime"
	"slices"
	"sync"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/seammap"
	"falda/internal/core/value"
	"falda/internal/store"
)

// Service is the work of one installation.
type Service struct {
	store *store.Store
	atlas *atlas.Atlas
	now   func() time.Time
	maps  sync.Map // piece id and findings → seammap.Map by share
	kept  keptBoards

	callers keptCallers
	stale   chan struct{} // holds one wish for the upkeep
	solver  bestuse.Solver
	solving chan struct{} // holds the searches that run
}

// New puts the work on a database and an atlas. Now is the clock; time.Now outside of tests and the demo's history.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time) *Service {
	return &Service{store: s, atlas: a, stale: make(chan struct{}, 1),
		solver: bestuse.BranchAndBound{}, solving: make(chan struct{}, max(1, runtime.GOMAXPROCS(0)/2)), now: func() time.Time { return now().UTC() }}
}

// At gives the same service with another clock.
func (s *Service) At(now func() time.Time) *Service { return New(s.store, s.atlas, now) }

// Atlas is the atlas the work goes by.
func (s *Service) Atlas() *atlas.Atlas { return s.atlas }

// Ready says whether the database answers.
func (s *Service) Ready(ctx context.Context) error { return s.store.Ping(ctx) }

// Now is the time the work goes by, in UTC.
func (s *Service) Now() time.Time { return s.now() }

// Role is what a person is in the shop.
type Role struct{ ID, Name string }

// Roles lists the roles.
var Roles = []Role{{"owner", "Owner"}, {"head_cutter", "Head cutter"}, {"cutter", "Cutter"}, {"apprentice", "Apprentice"}, {"yield_desk", "Yield desk"}}

// Shop is a shop with its rates read.
type Shop struct {
	store.Shop
	Rates value.Rates
	Unit  measure.Unit
	Money measure.Currency
	zone  *time.Location
}

// ShopWithPlans is a shop with its own ways of cutting.
type ShopWithPlans struct {
	Shop
	own []ownPlan
}

// shop gives the caller's shop. Every use case goes through it, and every query by its id.
func (s *Service) shop(ctx context.Context) (Shop, error) {
	who, err := caller(ctx)
	if err != nil {
		return Shop{}, err
	}
	row, err := s.store.Shop(ctx, who.ShopID)
	if err != nil {
		return Shop{}, err
	}
	return shopOf(row)
}

// withPlans gives the caller's shop with its own ways of cutting.
func (s *Service) withPlans(ctx context.Context) (ShopWithPlans, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return ShopWithPlans{}, err
	}
	return s.addPlans(ctx, shop)
}

// shopFor reads a shop's row, and its own ways of cutting.
func (s *Service) shopFor(ctx context.Context, row store.Shop) (ShopWithPlans, error) {
	shop, err := shopOf(row)
	if err != nil {
		return ShopWithPlans{}, err
	}
	return s.addPlans(ctx, shop)
}

func (s *Service) addPlans(ctx context.Context, shop Shop) (ShopWithPlans, error) {
	own, err := s.ownPlans(ctx, s.store, shop.ID)
	return ShopWithPlans{shop, own}, err
}

func shopOf(row store.Shop) (Shop, error) {
	labour, err := measure.MoneyFromDecimal(row.LabourRate)
	if err != nil {
		return Shop{}, fmt.Errorf("labour rate of the shop: %w", err)
	}
	packaging, err := measure.MoneyFromDecimal(row.PackagingPerKg)
	if err != nil {
		return Shop{}, fmt.Errorf("packaging of the shop: %w", err)
	}
	discard, err := measure.MoneyFromDecimal(row.DiscardPerKg)
	if err != nil {
		return Shop{}, fmt.Errorf("discard cost of the shop: %w", err)
	}
	zone, err := zoneOf(row.TimeZone)
	if err != nil {
		return Shop{}, fmt.Errorf("time zone of the shop: %w", err)
	}
	of := measure.Currency(row.Currency).Of
	return Shop{Shop: row, Rates: value.Rates{LabourPerHour: of(labour), PackagingPerKg: of(packaging), DiscardPerKg: of(discard)}, Unit: measure.Unit(row.WeightUnit), Money: measure.Currency(row.Currency), zone: zone}, nil
}

// Market is whose names the caller's shop uses.
func (s *Service) Market(ctx context.Context) (string, error) {
	shop, err := s.shop(ctx)
	return shop.Market, err
}

// lossLimit is the loss limit for a plan's tool, in percent.
func (sh Shop) lossLimit(pl atlas.Plan) float64 {
	if pl.Tool == "saw" {
		return sh.LossLimitSawPct
	}
	return sh.LossLimitKnifePct
}

// ratesOf are the rates when somebody of a role cuts.
func (sh Shop) ratesOf(role string) value.Rates {
	rates := sh.Rates
	if text, ok := sh.LabourByRole[role]; ok {
		m, err := measure.MoneyFromDecimal(text)
		if err != nil { // it was checked when it was set; the shop's usual rate is better than no answer
			slog.Error("a wage of the shop cannot be read", "shop", sh.PublicID, "role", role, "error", err)
			return rates
		}
		rates.LabourPerHour = sh.Money.Of(m)
	}
	return rates
}

func (sh Shop) rules(pl atlas.Plan) seam.Rules {
	return seam.Rules{LossLimitPct: sh.lossLimit(pl), Division: measure.Mass(sh.DivisionMg)}
}

// ShopView is the shop as screens need it.
type ShopView struct {
	Shop          Shop
	Benches       []store.Bench
	Suppliers     []string
	CurrencyFixed bool // there are prices or lots in it
	NextLotNumber string
	Today         time.Time // the day by its clock
}

// Shop gives the shop with its benches, its suppliers and the lot number that comes next.
func (s *Service) Shop(ctx context.Context) (ShopView, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return ShopView{}, err
	}
	v := ShopView{Shop: shop, Today: shop.Day(s.now())}
	if v.Benches, err = s.store.Benches(ctx, shop.ID); err != nil {
		return v, err
	}
	v.Benches = slices.DeleteFunc(v.Benches, func(b store.Bench) bool { return !b.Active })
	if v.Suppliers, err = s.store.Suppliers(ctx, shop.ID); err != nil {
		return v, err
	}
	if v.CurrencyFixed, err = s.store.HasAmounts(ctx, shop.ID); err != nil {
		return v, err
	}
	v.NextLotNumber, err = s.nextLotNumber(ctx, shop)
	return v, err
}

// nextLotNumber is prefix, year and ISO week, and the running number after the highest of that week.
func (s *Service) nextLotNumber(ctx context.Context, shop Shop) (string, error) {
	year, week := shop.Day(s.now()).ISOWeek()
	prefix := fmt.Sprintf("%s%02d%02d-", shop.LotPrefix, year%100, week)
	last, err := s.store.LastRunning(ctx, shop.ID, prefix)
	return fmt.Sprintf("%s%02d", prefix, last+1), err
}

// NewShop is what a shop is set up with.
type NewShop struct {
	Name, Currency, Unit                          string
	TimeZone                                      string // IANA name; UTC where empty
	LabourRate, PackagingPerKg, LotPrefix, Market string // usual ones where empty
	DiscardPerKg                                  string
	LabourByRole                                  map[string]string
	Seasons                                       []value.Season
	Demo                                          bool
	Benches                                       []string
}

// SetUp makes the first shop where there is none yet, and enters the accounts that it lacks. It is for the program itself:
// the demo and tests. It answers whether it made the shop.
func (s *Service) SetUp(ctx context.Context, in NewShop, accounts ...Account) (isNew bool, err error) {
	return isNew, s.store.Tx(ctx, func(tx *store.Store) error {
		shop, err := tx.FirstShop(ctx)
		isNew = errors.Is(err, store.ErrNotFound)
		if isNew {
			shop, err = s.newShop(ctx, tx, in)
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
func (s *Service) First(ctx context.Context, role string) (Caller, error) {
	shop, err := s.store.FirstShop(ctx)
	if err != nil {
		return Caller{}, err
	}
	return s.MemberCaller(ctx, shop.ID, role)
}

// Seeded says whether the demo scenario was entered whole; MarkSeeded notes that it was.
func (s *Service) Seeded(ctx context.Context) (bool, error) {
	shop, err := s.store.FirstShop(ctx)
	return shop.Seeded, err
}

// MarkSeeded notes that the demo scenario was entered whole.
func (s *Service) MarkSeeded(ctx context.Context) error {
	shop, err := s.store.FirstShop(ctx)
	if err != nil {
		return err
	}
	return s.store.MarkSeeded(ctx, shop.ID)
}

// Bench gives a bench by its public id.
func (s *Service) Bench(ctx context.Context, id string) (store.Bench, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return store.Bench{}, err
	}
	return s.store.Bench(ctx, shop.ID, id)
}

// pieceOf gives the atlas' piece of a lot as it was found, with the shop's own plans beside the atlas'; chosen is a plan that is
// kept among them though it was retired, and of a carcass its division.
func (s *Service) pieceOf(shop ShopWithPlans, lot store.Lot, chosen string) (atlas.Piece, error) {
	if c, ok := s.atlas.FindCarcass(lot.AtlasID); ok {
		return s.atlas.Whole(c, chosen).In(shop.Market).Found(lot.Findings, lot.Decided), nil
	}
	p, ok := s.atlas.Find(lot.AtlasID)
	if !ok {
		return p, fmt.Errorf("lot %s is of the piece %s, which the atlas does not know", lot.LotNumber, lot.AtlasID)
	}
	return shop.withOwn(p, chosen).In(shop.Market).Found(lot.Findings, lot.Decided), nil
}

// ShareMap draws a piece by its shares, once for each way it is found.
func (s *Service) ShareMap(p atlas.Piece) (seammap.Map, error) {
	key := p.ID
	for _, m := range p.Muscles {
		key += "/" + m.ID
	}
	if m, ok := s.maps.Load(key); ok {
		return m.(seammap.Map), nil
	}
	m, err := seammap.ByShare(p)
	if err == nil {
		s.maps.Store(key, m)
	}
	return m, err
}
