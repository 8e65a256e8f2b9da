package work_test

import (
	"errors"
	"fmt"
	"testing"

	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

const steak = "beef.cap_steak"

// settings are the shop's as they stand.
func (r *arena) settings() shop.Settings {
	r.Helper()
	row, err := r.store.FirstShop(r.Context())
	if err != nil {
		r.Fatal(err)
	}
	in := shop.Usual
	in.Name, in.Currency, in.Unit, in.LabourRate, in.PackagingPerKg, in.LotPrefix = row.Name, row.Currency,
		row.WeightUnit, row.LabourRate, row.PackagingPerKg, row.LotPrefix
	in.Market, in.TimeZone, in.Version = row.Market, row.TimeZone, row.Version
	return in
}

// Rules: no price and no demand hangs on a season that the shop does not have, and of two who change the same price one
// is told, whatever two do at once.
func TestTwoAtOnceOnPrices(t *testing.T) {
	r := newArena(t)
	market := r.market()
	season := value.Season{Name: "Summer", From: "06-01", To: "08-31"}
	with := func() string {
		in := r.settings()
		in.Seasons = []value.Season{season}
		if err := r.two.Shop.SaveSettings(r.ctx, in); err != nil {
			t.Fatal(err)
		}
		for _, table := range []string{"quotes", "demands"} {
			if _, err := r.db.Exec("DELETE FROM " + table); err != nil {
				t.Fatal(err)
			}
		}
		return ""
	}
	without := func(w *work.Rooms, _ string) error {
		in := r.settings()
		in.Seasons = []value.Season{}
		return w.Shop.SaveSettings(r.ctx, in)
	}
	check := func(string, error, error) string {
		var seasons, hang int
		if err := r.db.QueryRow("SELECT JSON_LENGTH(seasons), (SELECT COUNT(*) FROM quotes WHERE season <> '') + "+
			"(SELECT COUNT(*) FROM demands WHERE season <> '') FROM shops").Scan(&seasons, &hang); err != nil {
			return err.Error()
		}
		if seasons == 0 && hang > 0 {
			return "a price or a demand hangs on a season that is gone"
		}
		return ""
	}
	both(r, contest[string]{name: "take a season away, price in it", make: with, a: without,
		b: func(w *work.Rooms, _ string) error {
			return w.Pricing.SetQuote(r.ctx, pricing.NewQuote{Market: market, Season: season.Name, Key: steak,
				From: "2026-03-01", Amount: "31.50", Per: "kg"})
		}, check: check})
	both(r, contest[string]{name: "take a season away, demand in it", make: with, a: without,
		b: func(w *work.Rooms, _ string) error {
			return w.Pricing.SetDemand(r.ctx, pricing.NewDemand{Key: steak, Season: season.Name, Week: "5", Unit: "kg",
				Fallback: "9"})
		}, check: check})
	price := func(amount string) func(w *work.Rooms, version int) error {
		return func(w *work.Rooms, version int) error {
			_, err := w.Pricing.SetPrice(r.ctx, steak, amount, "kg", version)
			return err
		}
	}
	both(r, contest[int]{name: "two set a price",
		make: func() int {
			p, err := r.store.Price(t.Context(), r.shop.ID, steak)
			if err != nil {
				t.Fatal(err)
			}
			return p.Version
		},
		a: price("31.50"), b: price("29.90"),
		check: func(version int, a, b error) string {
			p, err := r.store.Price(t.Context(), r.shop.ID, steak)
			if err != nil {
				return err.Error()
			}
			if (a == nil) == (b == nil) || p.Version != version+1 {
				return fmt.Sprintf("it has version %d after %d", p.Version, version)
			}
			return ""
		}})
	if r.forced < 20 {
		t.Errorf("only %d interleavings were forced", r.forced)
	}
}

// market gives a market beside the house's own.
func (r *arena) market() string {
	r.Helper()
	if err := r.two.Pricing.SaveMarket(r.ctx, "", pricing.NewMarket{Name: "Stall", Active: true}); err != nil {
		r.Fatal(err)
	}
	list, err := r.two.Pricing.Sells(r.ctx)
	if err != nil {
		r.Fatal(err)
	}
	return list[len(list)-1].PublicID
}

// Rules: of a list of prices the good lines count and the bad ones are named; looking at it changes nothing. And the
// price that counts is the market's of the season, then its other one of the latest day, then the house's.
func TestWhichPriceCounts(t *testing.T) {
	r := newArena(t)
	before, err := r.two.Pricing.Prices(r.ctx)
	if err != nil {
		t.Fatal(err)
	}
	list := [][]string{pricing.PriceColumns[:4], {steak, "", "33.00", "kg"}, {"beef.no_such", "", "1.00", "kg"},
		{steak, "", "34.00", "kg"}}
	for _, save := range []bool{false, true} {
		lines, err := r.two.Pricing.ImportPrices(r.ctx, list, save)
		if err != nil || len(lines) != 3 || lines[0].Fault != nil || lines[1].Fault == nil || lines[2].Fault == nil {
			t.Fatalf("%+v, %v", lines, err)
		}
		after, err := r.two.Pricing.Prices(r.ctx)
		if err != nil || (fmt.Sprint(before) == fmt.Sprint(after)) == save {
			t.Errorf("saved %v, and prices are as before: %v; %v", save, !save, err)
		}
	}
	in := r.settings()
	in.Seasons = []value.Season{{Name: "Spring", From: "03-01", To: "05-31"}}
	if err := r.two.Shop.SaveSettings(r.ctx, in); err != nil {
		t.Fatal(err)
	}
	market := r.market()
	now := func() string {
		t.Helper()
		sh, err := r.two.Shop.Current(r.ctx)
		if err != nil {
			t.Fatal(err)
		}
		b, err := r.two.Pricing.BookOn(r.ctx, sh, market, noon)
		if err != nil {
			t.Fatal(err)
		}
		return b.Prices[steak].Amount.String()
	}
	house, err := r.store.Price(t.Context(), r.shop.ID, steak)
	if err != nil {
		t.Fatal(err)
	}
	if got := now(); got != house.Amount[:len(got)] {
		t.Errorf("without a price of the market: %s, the house's is %s", got, house.Amount)
	}
	for _, x := range []struct{ season, from, amount, counts string }{
		{"", "2026-01-01", "20", "20.00"},
		{"", "2026-03-01", "21", "21.00"},       // the later day
		{"", "2026-04-01", "22", "21.00"},       // not yet
		{"Spring", "2026-02-01", "23", "23.00"}, // the season before the year, though its day is earlier
	} {
		if err := r.two.Pricing.SetQuote(r.ctx, pricing.NewQuote{Market: market, Season: x.season, Key: steak, From: x.from,
			Amount: x.amount, Per: "kg"}); err != nil {
			t.Fatal(err)
		}
		if got := now(); got != x.counts {
			t.Errorf("after %s from %s in “%s”: %s, expected %s", x.amount, x.from, x.season, got, x.counts)
		}
	}
	err = r.two.Pricing.SetDemand(r.ctx,
		pricing.NewDemand{Key: steak, Season: "Winter", Week: "5", Unit: "kg", Fallback: "9"})
	if err == nil || errors.Is(err, store.ErrNotFound) {
		t.Errorf("demand in a season that there is not: %v", err)
	}
}
