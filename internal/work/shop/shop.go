package shop

import (
	"context"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// Role is what a person is in the shop.
type Role struct{ ID, Name string }

// Roles lists the roles.
var Roles = []Role{{"owner", "Owner"}, {"head_cutter", "Head cutter"}, {"cutter", "Cutter"},
	{"apprentice", "Apprentice"}, {"yield_desk", "Yield desk"}}

// Shop is a shop with its rates read.
type Shop struct {
	store.Shop
	Rates value.Rates
	Unit  measure.Unit
	Money measure.Currency
	zone  *time.Location
}

// WithPlans is a shop with its own ways of cutting.
type WithPlans struct {
	Shop
	Own []OwnPlan
}

// Current gives the caller's shop. Every use case goes through it, and every query by its id.
func (s *Service) Current(ctx context.Context) (Shop, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return Shop{}, err
	}
	row, err := s.store.Shop(ctx, who.ShopID)
	if err != nil {
		return Shop{}, err
	}
	return shopOf(row)
}

// WithPlans gives the caller's shop with its own ways of cutting.
func (s *Service) WithPlans(ctx context.Context) (WithPlans, error) {
	shop, err := s.Current(ctx)
	if err != nil {
		return WithPlans{}, err
	}
	return s.addPlans(ctx, shop)
}

// For reads a shop's row, and its own ways of cutting.
func (s *Service) For(ctx context.Context, row store.Shop) (WithPlans, error) {
	shop, err := shopOf(row)
	if err != nil {
		return WithPlans{}, err
	}
	return s.addPlans(ctx, shop)
}

func (s *Service) addPlans(ctx context.Context, shop Shop) (WithPlans, error) {
	own, err := s.OwnPlans(ctx, s.store, shop.ID)
	if err != nil {
		return WithPlans{}, err
	}
	if s.adds || slices.ContainsFunc(own, func(o OwnPlan) bool { return adds(o.Body) }) {
		if shop.Rates.Ingredients, err = s.ingredients(ctx, shop.Shop); err != nil {
			return WithPlans{}, err
		}
	}
	return WithPlans{shop, own}, nil
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
	return Shop{Shop: row,
		Rates: value.Rates{LabourPerHour: of(labour), PackagingPerKg: of(packaging), DiscardPerKg: of(discard)},
		Unit:  measure.Unit(row.WeightUnit), Money: measure.Currency(row.Currency), zone: zone}, nil
}

// Market is whose names the caller's shop uses.
func (s *Service) Market(ctx context.Context) (string, error) {
	shop, err := s.Current(ctx)
	return shop.Market, err
}

// LossLimit is the loss limit for a plan's tool, in percent.
func (sh Shop) LossLimit(pl atlas.Plan) float64 {
	if pl.Tool == "saw" {
		return sh.LossLimitSawPct
	}
	return sh.LossLimitKnifePct
}

// RatesOf are the rates when somebody of a role cuts.
func (sh Shop) RatesOf(role string) value.Rates {
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

func (sh Shop) Rules(pl atlas.Plan) seam.Rules {
	return seam.Rules{LossLimitPct: sh.LossLimit(pl), Division: measure.Mass(sh.DivisionMg)}
}

// ShopView is the shop as screens need it.
type ShopView struct {
	Shop          Shop
	Benches       []store.Bench
	Suppliers     []string
	CurrencyFixed bool // there are prices or lots in it
	NextLotNumber string
	Today         time.Time             // the day by its clock
	Scales        map[string]ScaleState // by the public id of the bench
}

// Shop gives the shop with its benches, its suppliers and the lot number that comes next.
func (s *Service) Shop(ctx context.Context) (ShopView, error) {
	shop, err := s.Current(ctx)
	if err != nil {
		return ShopView{}, err
	}
	v := ShopView{Shop: shop, Today: shop.Day(s.now())}
	if v.Benches, err = s.store.Benches(ctx, shop.ID); err != nil {
		return v, err
	}
	v.Benches = slices.DeleteFunc(v.Benches, func(b store.Bench) bool { return !b.Active })
	if v.Scales, err = s.scaleStates(ctx, shop, v.Benches); err != nil {
		return v, err
	}
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
	Demo, Example                                 bool
	TaxPct                                        float64 // on meat; with one there is a market that has it
	Benches                                       []string
}

// Seeded says whether the demo scenario was entered whole; MarkSeeded notes that it was.
func (s *Service) Seeded(ctx context.Context) (bool, error) {
	shop, err := s.store.FirstShop(ctx)
	return shop.Seeded, err
}

// MarkSeeded notes that the demo scenario was entered whole into the caller's shop.
func (s *Service) MarkSeeded(ctx context.Context) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	return s.store.MarkSeeded(ctx, who.ShopID)
}
