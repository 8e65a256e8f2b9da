package pricing

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"falda/internal/core/carcass"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// NewDemand is what of a product sells in a week, as it is entered.
type NewDemand struct {
	Key, Season, Week, Unit, Fallback string // Fallback per kg
	Version                           int
}

// Demands lists what the shop can sell, with the products' names.
func (s *Service) Demands(ctx context.Context) ([]DemandRow, error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return nil, err
	}
	list, err := s.store.Demands(ctx, shop.ID)
	out := make([]DemandRow, len(list))
	for i, d := range list {
		out[i] = DemandRow{d, shop.Shown(d.Fallback)}
	}
	return out, err
}

// DemandRow is the demand of a product with its fallback price as it is shown.
type DemandRow struct {
	store.Demand
	Shown string
}

// SetDemand sets how much of a product sells in a week at its full price; an empty weight takes it out.
func (s *Service) SetDemand(ctx context.Context, in NewDemand) error {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	products, err := s.Prices(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	i := slices.IndexFunc(products, func(p PriceRow) bool { return p.Key == in.Key })
	if i < 0 {
		return fault.New("product_key", "unknown", fault.Quote(in.Key)+" is not a product of the atlas",
			"Name it as in the list.")
	}
	d := store.Demand{ShopID: shop.ID, ProductKey: in.Key, Season: strings.TrimSpace(in.Season), Version: in.Version}
	if d.Season != "" && !slices.ContainsFunc(shop.Seasons, func(x value.Season) bool { return x.Name == d.Season }) {
		faults.Add("season",
			fault.New("", "unknown", fault.Quote(d.Season)+" is not a season of this shop",
				"Use one of the settings, or none for the whole year."))
	}
	if in.Week != "" {
		m, err := measure.ParseMass(in.Week, measure.Unit(in.Unit))
		if err == nil && m < 0 {
			err = fault.New("", "negative", "is below zero", "Enter zero or more.")
		}
		faults.Add("week", err)
		d.WeekMg = int64(m)
		price, err := shop.ParsePrice(in.Fallback, "kg")
		faults.Add("fallback", err)
		d.Fallback = price.Amount.Text(measure.PriceDecimals)
	}
	if err := faults.Err(); err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if err := holdSeasons(ctx, tx, shop.ID, d.Season); err != nil {
			return audit.Change{}, err
		}
		c := audit.Change{Action: "demand.set", Subject: d.ProductKey, SubjectName: products[i].Name,
			Became: map[string]any{"week_g": measure.Mass(d.WeekMg).Grams(), "fallback": d.Fallback, "season": d.Season}}
		if in.Week == "" {
			c.Action, c.Became = "demand.dropped", nil
			return c, tx.DropDemand(ctx, d)
		}
		return c, tx.SetDemand(ctx, d)
	})
}

// DemandOn gives what of each product sells in a week on a day: that of the season before that of the whole year.
func DemandOn(list []store.Demand, season string) (map[string]carcass.Cap, error) {
	chosen := map[string]store.Demand{}
	for _, d := range list {
		if was, ok := chosen[d.ProductKey]; d.Season != "" && d.Season != season || ok && was.Season != "" {
			continue
		}
		chosen[d.ProductKey] = d
	}
	out := make(map[string]carcass.Cap, len(chosen))
	for key, d := range chosen {
		falls, err := measure.MoneyFromDecimal(d.Fallback)
		if err != nil {
			return nil, fmt.Errorf("fallback price of %s: %w", key, err)
		}
		out[key] = carcass.Cap{Week: measure.Mass(d.WeekMg), Fallback: falls}
	}
	return out, nil
}
