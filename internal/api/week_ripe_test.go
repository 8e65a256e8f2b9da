package api

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// A lamb that is slaughtered today: what must ripen is not cut in the next three days, and is named; in ten days it is,
// and weighs what ageing leaves, by hand 0.99 to the power of its days.
func TestAWeekOfYoungLambs(t *testing.T) {
	r := newRig(t)
	ask, ripe := r.threeLambs()
	each := map[string]float64{}
	for _, u := range ripe.Uses {
		each[u.Piece] = u.EachG
		if u.ReadyOn != nil {
			t.Errorf("nobody says when it is slaughtered, and it is ripe on %s", *u.ReadyOn)
		}
	}
	head := ask["heads"].([]map[string]any)[0]
	head["slaughtered_on"], ask["days"], ask["ageing_loss_pct"] = day(today), 3, "1"
	var young contract.WeekView
	r.ok("POST", base+"/week", ask, &young)
	left := func(v contract.WeekView) bool {
		return slices.ContainsFunc(v.Notes, func(n string) bool { return strings.Contains(n, "too few to ripen") })
	}
	for _, u := range young.Uses {
		if u.ReadyOn == nil || *u.ReadyOn > day(today.AddDate(0, 0, 2)) {
			t.Errorf("%s is cut in three days: %+v", u.PieceName, u)
		}
	}
	if !left(young) {
		t.Errorf("%d of %d pieces in three days; %q", young.Pieces, ripe.Pieces, young.Notes)
	}
	ask["days"] = 10
	var later contract.WeekView
	r.ok("POST", base+"/week", ask, &later)
	if left(later) || later.Pieces < ripe.Pieces {
		t.Errorf("%d of %d pieces in ten days; %q", later.Pieces, ripe.Pieces, later.Notes)
	}
	aged := 0
	for _, u := range later.Uses {
		days := 0
		for u.ReadyOn != nil && day(today.AddDate(0, 0, days)) < *u.ReadyOn {
			days++
		}
		if days > 0 {
			aged++
		}
		if want, ok := each[u.Piece]; ok && math.Abs(u.EachG-want*math.Pow(0.99, float64(days))) > 0.01 {
			t.Errorf("%s weighs %.2f g after %d days, and %.2f today", u.PieceName, u.EachG, days, want)
		}
	}
	if aged == 0 {
		t.Error("nothing had to ripen")
	}
	// every way of the clod has steaks, of two weeks at least (common practice, no source)
	side := map[string]any{"heads": []map[string]any{{"carcass": "beef.side", "count": 1, "slaughtered_on": day(today)}},
		"days": 3}
	r.priced()
	r.ok("POST", base+"/week", side, &young)
	clod := func(u contract.WeekUse) bool { return u.Piece == "beef.clod" }
	if note := strings.Join(young.Notes, " "); slices.ContainsFunc(young.Uses, clod) ||
		!strings.Contains(note,
			"left to hang and not in the figures: 1 × shoulder clod, extended, boneless (ripe on 3 April)") {
		t.Errorf("%q; %+v", note, young.Uses)
	}
	head["slaughtered_on"], ask["ageing_loss_pct"] = "never", "6"
	p := r.fails("POST", base+"/week", ask)
	if !has(p, "heads[0].slaughtered_on", "not_a_day") || !has(p, "ageing_loss_pct", "out_of_range") {
		t.Errorf("%+v", p)
	}
	head["slaughtered_on"], ask["ageing_loss_pct"] = "2025-03-20", ""
	if p = r.fails("POST", base+"/week", ask); !has(p, "heads[0].slaughtered_on", "out_of_range") {
		t.Errorf("%+v", p)
	}
}

// What lies in stock sells first: a demand of so much more beside the stock is the same as that of less without.
func TestAWeekBesideTheStock(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	ask := map[string]any{"heads": []map[string]any{{"carcass": "beef.side", "count": 1}}}
	const key = "beef.mince_trim"
	week := func(demand string, version int) (contract.WeekView, contract.WeekSale) {
		r.ok("PUT", base+"/demands", map[string]any{"product_key": key, "week": demand, "unit": "kg", "fallback": "1",
			"version": version}, nil)
		var v contract.WeekView
		r.ok("POST", base+"/week", ask, &v)
		at := slices.IndexFunc(v.Sales, func(s contract.WeekSale) bool { return s.Key == key })
		if at < 0 {
			t.Fatalf("no %s of a side: %+v", key, v.Sales)
		}
		return v, v.Sales[at]
	}
	without, sale := week("5", 0)
	if from(sale.StockG) != 0 || from(sale.CapG) != 5000 || sale.FallbackG == 0 {
		t.Errorf("without stock: %+v", sale)
	}
	r.freshCut("STOCK-1")
	lies := r.tubs()[key+"@cold"].LeftG
	with, sale := week(fmt.Sprintf("%.3f", (5000+lies)/1000), 1)
	if math.Abs(from(sale.StockG)-lies) > 0.001 || math.Abs(from(sale.CapG)-5000-lies) > 0.001 || sale.FullG != 5000 {
		t.Errorf("beside %.0f g in stock: %+v", lies, sale)
	}
	if with.Ways[0].Brings != without.Ways[0].Brings || with.Ways[0].Worst != without.Ways[0].Worst {
		t.Errorf("beside stock %+v, without %+v", with.Ways[0], without.Ways[0])
	}
}
