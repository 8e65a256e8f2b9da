package work_test

import (
	"fmt"
	"sync"
	"testing"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/work"
	"falda/internal/work/pricing"
	"falda/internal/work/stock"
)

// Rule: every closed piece has its result in the end, however many lack one and whatever stands in the way of some: the
// upkeep goes on behind those that cannot be priced, and prices them once there is a price.
func TestUpkeepReachesEveryResult(t *testing.T) {
	if testing.Short() {
		t.Skip("much data: it runs beside the race detector")
	}
	r := newArena(t)
	const many = 215 // more than are read at once
	r.lots++
	in := r.arrival()
	in.Pieces, in.Weight = many, fmt.Sprintf("%.1f", 6.6*many)
	lot, err := r.two.Stock.Receive(r.ctx, in)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := r.db.Exec("DELETE FROM prices WHERE product_key = 'beef.dice'"); err != nil {
		t.Fatal(err)
	}
	for i, p := range lot.Pieces {
		if err := r.two.Stock.ChoosePlan(r.ctx, p.PublicID, stock.PlanPick{PlanID: "traditional"}, p.Version); err != nil {
			t.Fatal(err)
		}
		b, err := r.two.Bench.StartBreakdown(r.ctx, p.PublicID, r.bench)
		if err != nil {
			t.Fatal(err)
		}
		product := "dice"
		if i >= many-5 { // the last ones have a price
			product = "rump_steak"
		}
		for _, e := range []seam.Event{{Kind: seam.Opened, Net: 6600 * measure.Gram},
			{Kind: seam.Portioned, Product: product, Net: 6550 * measure.Gram}, {Kind: seam.Closed}} {
			if b, err = r.two.Bench.Book(r.ctx, b.Breakdown.PublicID, r.event(e)); err != nil {
				t.Fatal(err)
			}
		}
	}
	counted := func(where string) (n int) {
		if err := r.db.QueryRow("SELECT COUNT(*) FROM results WHERE " + where).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	for _, q := range []string{"DELETE FROM result_cells", "DELETE FROM results", "UPDATE shops SET results_stale = 1"} {
		if _, err := r.db.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	if err := r.two.Bench.Upkeep(r.ctx); err != nil {
		t.Fatal(err)
	}
	if n, priced := counted("TRUE"), counted("priced"); n != many || priced != 5 {
		t.Errorf("%d results, %d priced, of %d", n, priced, many)
	}
	if _, err := r.two.Pricing.ImportPrices(r.ctx,
		[][]string{pricing.PriceColumns[:4], {"beef.dice", "Diced rump", "13.90", "kg"}}, true); err != nil {
		t.Fatal(err)
	}
	if err := r.two.Bench.Upkeep(r.ctx); err != nil {
		t.Fatal(err)
	}
	if priced := counted("priced"); priced != many {
		t.Errorf("%d of %d are priced once there is a price", priced, many)
	}
}

// Rule: an event that is sent again, by whichever of several programs it comes in, at once or later, is booked once.
func TestAnEventSentToSeveralProgramsIsBookedOnce(t *testing.T) {
	r := newArena(t)
	lot := r.received()
	b, err := r.two.Bench.StartBreakdown(r.ctx, lot.Pieces[0].PublicID, r.bench)
	if err != nil {
		t.Fatal(err)
	}
	events := []seam.Event{r.event(seam.Event{Kind: seam.Opened, Net: 6600 * measure.Gram})}
	for i := range 12 {
		events = append(events,
			r.event(seam.Event{Kind: seam.Trimmed, Part: "trim", Net: measure.Mass(20+5*i) * measure.Gram}))
	}
	beside := 0
	for n, e := range events {
		var wg sync.WaitGroup
		faults := make([]error, 6)
		if n > 0 { // meanwhile somebody books something else
			beside++
			other := r.event(seam.Event{Kind: seam.Trimmed, Part: "cover_fat", Net: 10 * measure.Gram})
			wg.Go(func() {
				if _, err := r.two.Bench.Book(r.ctx, b.Breakdown.PublicID, other); err != nil {
					t.Errorf("what is booked beside: %v", err)
				}
			})
		}
		for i, w := range []*work.Rooms{r.one, r.two, r.one, r.two, r.two, r.one} {
			wg.Go(func() { _, faults[i] = w.Bench.Book(r.ctx, b.Breakdown.PublicID, e) })
		}
		wg.Wait()
		for i, err := range faults {
			if err != nil {
				t.Errorf("%s, sent for the %d. time: %v", e.Kind, i+1, err)
			}
		}
	}
	for _, w := range []*work.Rooms{r.one, r.two} {
		v, err := w.Bench.Board(r.ctx, b.Breakdown.PublicID)
		if err != nil || len(v.Board.Nodes) != len(events)+beside {
			t.Errorf("%d weighings of %d: %v", len(v.Board.Nodes), len(events)+beside, err)
		}
	}
	var ids int
	if err := r.db.QueryRow("SELECT COUNT(*) FROM events").Scan(&ids); err != nil || ids != len(events)+beside {
		t.Errorf("%d events are kept of %d: %v", ids, len(events)+beside, err)
	}
	// and an id that is used for another breakdown is refused there
	other, err := r.two.Bench.StartBreakdown(r.ctx, lot.Pieces[1].PublicID, r.bench)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := r.one.Bench.Book(r.ctx, other.Breakdown.PublicID, events[0]); err == nil {
		t.Error("one id was booked on two breakdowns")
	}
}
