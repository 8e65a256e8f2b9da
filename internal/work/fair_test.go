package work_test

import (
	"context"
	"math"
	"strings"
	"testing"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/testdb"
	"falda/internal/work/compare"
	"falda/internal/work/pricing"
	"falda/internal/work/stock"
)

// cutAs has somebody cut a rump by a plan; good is what of it sells as the plan's best product, in grams, the rest is
// trim.
func (r *arena) cutAs(ctx context.Context, plan, product string, good measure.Mass) {
	r.Helper()
	r.lots++
	in := r.arrival()
	in.Pieces, in.Weight = 1, "6.6"
	lot, err := r.two.Stock.Receive(r.ctx, in)
	if err != nil {
		r.Fatal(err)
	}
	id := lot.Pieces[0].PublicID
	if err := r.two.Stock.ChoosePlan(r.ctx, id, stock.PlanPick{PlanID: plan}, lot.Pieces[0].Version); err != nil {
		r.Fatal(err)
	}
	b, err := r.two.Bench.StartBreakdown(ctx, id, r.bench)
	if err != nil {
		r.Fatal(err)
	}
	minutes := 12.0
	for _, e := range []seam.Event{{Kind: seam.Opened, Net: 6600 * measure.Gram},
		{Kind: seam.Portioned, Product: product, Net: good * measure.Gram},
		{Kind: seam.Portioned, Product: "mince_trim", Net: (6560 - good) * measure.Gram},
		{Kind: seam.Closed, Minutes: &minutes}} {
		if b, err = r.two.Bench.Book(ctx, b.Breakdown.PublicID, r.event(e)); err != nil {
			r.Fatal(err)
		}
	}
}

// Rules: cutters are held against each other within a plan; who was given the dearer way is not said to be the better
// cutter; and how many pairs a trial takes follows from the scatter within a way of cutting, not from the distance
// between two of them.
func TestWhoWasGivenTheDearerWayIsNotBetter(t *testing.T) {
	r := newArena(t)
	if _, err := r.two.Pricing.ImportPrices(r.ctx,
		[][]string{pricing.PriceColumns[:4], {"beef.heart_steak", "Heart steak", "30.00", "kg"},
			{"beef.rump_steak", "Rump steak", "12.00", "kg"}, {"beef.mince_trim", "Mince trim", "9.00", "kg"}},
		true); err != nil {
		t.Fatal(err)
	}
	head, cutter := testdb.As(t, r.two, "head_cutter"), testdb.As(t, r.two, "cutter")
	for i := range 5 {
		r.cutAs(head, "seamed", "heart_steak", measure.Mass(5000+20*i))
		r.cutAs(cutter, "traditional", "rump_steak", measure.Mass(5000+20*i))
	}
	ask := func() compare.HistoryView {
		t.Helper()
		h, err := r.two.Compare.History(r.ctx,
			compare.HistoryPick{AtlasID: "beef.top_sirloin", By: "cutter", Measure: "before_purchase"})
		if err != nil {
			t.Fatal(err)
		}
		return h
	}
	h := ask()
	if len(h.Buckets) != 2 || math.Abs(h.Buckets[0].Mean-h.Buckets[1].Mean) < 5 {
		t.Fatalf("the example shows nothing: %+v", h.Buckets)
	}
	for _, b := range h.Buckets {
		if !b.Alone || b.VersusRest != nil && b.VersusRest.Enough {
			t.Errorf("%s is held against pieces of another plan: %+v", b.Name, b.VersusRest)
		}
	}
	if strings.Contains(h.Sentence, "Unlike the rest") || !strings.Contains(h.Sentence, "cut by different plans") {
		t.Error(h.Sentence)
	}
	// once both have cut both ways alike, they are compared, and there is nothing between them
	for i := range 5 {
		r.cutAs(cutter, "seamed", "heart_steak", measure.Mass(5000+20*i))
	}
	h = ask()
	for _, b := range h.Buckets {
		if b.VersusRest == nil || b.Alone || math.Abs(b.VersusRest.Mean) > 0.02 || b.VersusRest.Verdict == "real" {
			t.Errorf("%s: %+v", b.Name, b.VersusRest)
		}
	}
	// pairs needed: the pieces of one way scatter by the value of some 20 g of 21 a kilogram in 6.6 kg, about 0.1; the two
	// ways lie 10 apart
	needed, from, err := r.two.Compare.PairsNeeded(r.ctx, "beef.top_sirloin", "traditional", "seamed", 0.5)
	if err != nil {
		t.Fatal(err)
	}
	if from.SD <= 0 || from.SD > 0.3 || needed < 3 || needed > 6 {
		t.Errorf("%d pairs are needed for 0.50, with a scatter of %.3f", needed, from.SD)
	}
}
