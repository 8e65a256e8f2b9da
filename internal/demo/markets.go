package demo

import (
	"fmt"
	"math"
	"slices"
	"time"

	"falda/internal/work/pricing"
)

// The scenario's markets: its own counter, the ferry's galley and the hospital's kitchen.
const (
	counter  = "Harbour counter"
	galley   = "Ferry galley"
	hospital = "Cottage hospital"
)

// priceRows are prices on one market that are not the standing ones: product, season, price, unit, grams of one, and
// from how many days before today.
var priceRows = []struct {
	market, key, season, price, per, each string
	ago                                   int
}{
	{counter, "lamb.loin_chop", "Summer", "28.90", "kg", "", 300},
	{counter, "lamb.rib_chop", "Summer", "32.90", "kg", "", 300},
	{counter, "lamb.double_loin_chop", "Summer", "27.90", "kg", "", 300},
	{counter, "lamb.whole_neck", "Winter", "11.90", "kg", "", 300},
	{counter, "lamb.neck_slice", "Winter", "11.90", "kg", "", 300},
	{counter, "beef.shin_slice", "Winter", "12.90", "kg", "", 300},
	{counter, "beef.marrow_bone", "Winter", "4.90", "kg", "", 300},
	{counter, "lamb.whole_neck", "Summer", "7.90", "kg", "", 300},
	{counter, "beef.fillet_medallion", "", "53.90", "kg", "", 20},
	{counter, "beef.ribeye_steak", "", "34.90", "kg", "", -14},
	{galley, "beef.rump_steak", "", "3.60", "piece", "225", 120},
	{galley, "beef.striploin_steak", "", "6.20", "piece", "225", 120}, {galley, "beef.dice", "", "12.40", "kg", "", 120},
	{galley, "beef.mince_trim", "", "9.20", "kg", "", 120}, {galley, "lamb.leg_roast", "", "15.90", "kg", "", 120},
	{galley, "lamb.shoulder_roast", "", "11.40", "kg", "", 120}, {hospital, "beef.dice", "", "12.90", "kg", "", 200},
	{hospital, "beef.mince_trim", "", "9.40", "kg", "", 200},
	{hospital, "lamb.shoulder_roast", "", "11.90", "kg", "", 200},
}

// demands are what sells in a week at its full price, kilograms, and what a kilogram beyond brings.
var demands = []struct{ key, season, week, fallback string }{
	{"beef.cap_steak", "", "6", "13.90"}, {"beef.side_medallion", "", "5", "16.50"},
	{"beef.heart_steak", "", "14", "13.90"}, {"beef.tri_tip_whole", "", "4", "11.50"},
	{"beef.flat_iron", "", "6", "13.90"}, {"beef.shoulder_tender", "", "3", "15.90"},
	{"lamb.frenched_rack", "", "12", "19.90"}, {"lamb.eye_whole", "", "8", "24.90"}, {"lamb.noisette", "", "9", "22.90"},
	{"lamb.topside_portion", "", "24", "17.90"}, {"lamb.rump_portion", "", "14", "17.90"},
	{"lamb.loin_chop", "Summer", "40", "15.90"}, {"lamb.loin_chop", "Winter", "18", "15.90"},
	{"lamb.rib_chop", "Summer", "36", "15.90"}, {"lamb.rib_chop", "Winter", "16", "15.90"},
	{"lamb.whole_neck", "Winter", "20", "8.50"}, {"lamb.whole_neck", "Summer", "4", "8.50"},
	{"lamb.riblets", "Winter", "6", "4.00"},
}

// markets enters where the hall sells, what holds there, and what it can sell.
func (s *scene) markets() error {
	products, err := s.w.Pricing.Prices(s.ctx)
	if err != nil {
		return err
	}
	known := func(key string) bool {
		return slices.ContainsFunc(products, func(p pricing.PriceRow) bool { return p.Key == key })
	}
	for _, m := range []pricing.NewMarket{{Name: counter, TaxPct: 13.5}, {Name: galley}, {Name: hospital}} {
		if err := s.w.At(s.clock(300, 9)).Pricing.SaveMarket(s.ctx, "", m); err != nil {
			return err
		}
	}
	list := [][]string{pricing.PriceColumns}
	for _, r := range priceRows {
		list = append(list,
			[]string{r.key, "", r.price, r.per, r.each, r.market, r.season, s.day(r.ago, 6).Format(time.DateOnly)})
	}
	lines, err := s.w.Pricing.ImportPrices(s.ctx, list, true)
	if err != nil {
		return err
	}
	for _, l := range lines {
		if l.Fault != nil {
			return fmt.Errorf("price of %s on a market: %w", l.Named, l.Fault)
		}
	}
	for _, d := range demands {
		if !known(d.key) {
			continue
		}
		if err := s.w.Pricing.SetDemand(s.ctx,
			pricing.NewDemand{Key: d.key, Season: d.season, Week: d.week, Unit: "kg", Fallback: d.fallback}); err != nil {
			return fmt.Errorf("demand for %s: %w", d.key, err)
		}
	}
	return nil
}

// feedKeys are what the ferry's buyer prices by the day, and around which price.
var feedKeys = []struct {
	key   string
	price float64
}{{"beef.dice", 12.40}, {"beef.mince_trim", 9.20}, {"beef.heart_steak", 18.20}, {"beef.cap_steak", 21.50},
	{"beef.chuck_eye_steak", 17.20}, {"lamb.leg_roast", 15.90}, {"lamb.shoulder_roast", 11.40},
	{"lamb.rolled_shoulder", 15.20}, {"lamb.mince_trim", 10.90}}

// FeedRows is the price list of the stand-in market feed on a day: it moves a little from day to day, and is the same
// for the same day.
func FeedRows(day time.Time) [][]string {
	rows := [][]string{pricing.PriceColumns}
	n := float64(day.YearDay())
	for i, f := range feedKeys {
		price := f.price * (1 + 0.05*math.Sin(n/3+float64(i)))
		rows = append(rows, []string{f.key, "", fmt.Sprintf("%.2f", price), "kg", "", galley, "", day.Format(time.DateOnly)})
	}
	return rows
}
