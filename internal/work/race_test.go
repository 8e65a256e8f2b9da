package work_test

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"sync"
	"testing"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/bench"
	"falda/internal/work/pricing"
	"falda/internal/work/stock"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

var noon = time.Date(2026, 3, 20, 12, 0, 0, 0, time.UTC)

// arena is one database with two programs on it: the first goes through a gate that stops it where the test likes.
type arena struct {
	*testing.T
	store  *store.Store // past the gate
	gate   *testdb.Gate
	one    *work.Rooms
	two    *work.Rooms
	ctx    context.Context
	shop   store.Shop
	bench  string
	db     *sql.DB
	lots   int
	forced int
}

func newArena(t *testing.T) *arena {
	t.Helper()
	st, two := testdb.Service(t, func() time.Time { return noon })
	gate, through := testdb.NewGate(t, testdb.Server.DSN)
	_, one := testdb.Bare(t, through, func() time.Time { return noon })
	db, err := sql.Open("mysql", testdb.Server.DSN)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	r := &arena{T: t, store: st, gate: gate, one: one, two: two, ctx: testdb.As(t, two, "owner"), db: db}
	if r.shop, err = st.FirstShop(t.Context()); err != nil {
		t.Fatal(err)
	}
	view, err := two.Shop.Shop(r.ctx)
	if err != nil {
		t.Fatal(err)
	}
	r.bench = view.Benches[0].PublicID
	prices, err := two.Pricing.Prices(r.ctx)
	if err != nil {
		t.Fatal(err)
	}
	list := [][]string{pricing.PriceColumns[:4]}
	for i, p := range prices {
		list = append(list, []string{p.Key, p.Name, fmt.Sprintf("%d.90", 3+i%30), "kg"})
	}
	if _, err := two.Pricing.ImportPrices(r.ctx, list, true); err != nil {
		t.Fatal(err)
	}
	return r
}

// arrival is two rumps of 6.6 kg together.
func (r *arena) arrival() stock.Arrival {
	return stock.Arrival{AtlasID: "beef.top_sirloin", Pieces: 2, Weight: "13.2", WeightUnit: "kg", Price: "11.40",
		PricePer: "kg", SlaughteredOn: "2026-02-24", PackedOn: "2026-02-26", Supplier: "A croft",
		LotNumber: fmt.Sprintf("R-%d", r.lots)}
}

// received gives a lot whose pieces are planned to be seamed.
func (r *arena) received() stock.LotView {
	r.Helper()
	r.lots++
	lot, err := r.two.Stock.Receive(r.ctx, r.arrival())
	if err != nil {
		r.Fatal(err)
	}
	for _, p := range lot.Pieces {
		if err := r.two.Stock.ChoosePlan(r.ctx, p.PublicID, stock.PlanPick{PlanID: "seamed"}, p.Version); err != nil {
			r.Fatal(err)
		}
	}
	return lot
}

func (r *arena) hung(piece string) store.PieceRow {
	r.Helper()
	h, err := r.store.PieceRow(r.Context(), r.shop.ID, piece)
	if err != nil {
		r.Fatal(err)
	}
	return h
}

// waits says whether some transaction waits for a row that another holds.
func (r *arena) waits() bool {
	r.Helper()
	var n int
	if err := r.db.QueryRow("SELECT variable_value FROM information_schema.global_status WHERE variable_name = " +
		"'Innodb_row_lock_current_waits'").Scan(&n); err != nil {
		r.Fatal(err)
	}
	return n > 0
}

// A contest is two who do something to the same rows; check looks at what came of it.
type contest struct {
	name string
	a, b func(w *work.Rooms, lot stock.LotView) error
	// check gives what is wrong, from what both were told
	check func(lot stock.LotView, a, b error) string
	// before makes ready what both work on
	before func(lot stock.LotView)
}

// interleave stops a before each of its statements in turn, lets b do all of its work there, or as much as it can until
// it waits for what a holds, and lets a go on.
func (r *arena) interleave(c contest) {
	r.Helper()
	for stop := 1; ; stop++ {
		lot := r.received()
		if c.before != nil {
			c.before(lot)
		}
		var mu sync.Mutex
		count, reached, on := 0, make(chan struct{}), make(chan struct{})
		r.gate.Before(func(string) error {
			mu.Lock()
			count++
			here := count == stop
			mu.Unlock()
			if here {
				close(reached)
				<-on
			}
			return nil
		})
		first, second := make(chan error, 1), make(chan error, 1)
		go func() { first <- c.a(r.one, lot) }()
		var a error
		select {
		case <-reached:
		case a = <-first: // it has no more statements than were stopped at
			r.gate.Before(nil)
			if why := c.check(lot, a, errors.New("not tried")); why != "" && a != nil {
				r.Errorf("%s alone: %s, %v", c.name, why, a)
			}
			if stop < 4 {
				r.Errorf("%s: only %d statements", c.name, stop-1)
			}
			return
		}
		go func() { second <- c.b(r.two, lot) }()
		var b error
		done := false
		for !done && !r.waits() {
			select {
			case b = <-second:
				done = true
			case <-time.After(time.Millisecond):
			}
		}
		close(on)
		a = <-first
		if !done {
			b = <-second
		}
		r.gate.Before(nil)
		r.forced++
		for who, err := range []error{a, b} {
			if err != nil && fault.Of(err) == nil && !errors.Is(err, store.ErrConflict) && !errors.Is(err, store.ErrNotFound) {
				r.Errorf("%s, stopped at statement %d: %c fails with %v", c.name, stop, 'a'+who, err)
			}
		}
		if a != nil && b != nil {
			r.Errorf("%s, stopped at statement %d: both are refused: %v; %v", c.name, stop, a, b)
		}
		if why := c.check(lot, a, b); why != "" {
			r.Errorf("%s, stopped at statement %d: %s (a: %v, b: %v)", c.name, stop, why, a, b)
		}
	}
}

// both runs a contest in either order.
func (r *arena) both(c contest) {
	r.Helper()
	r.interleave(c)
	c.a, c.b = c.b, c.a
	check := c.check
	c.check = func(lot stock.LotView, a, b error) string { return check(lot, b, a) }
	c.name += ", the other way round"
	r.interleave(c)
}

// Rules: a piece that is voided is on no bench; a bench cuts by the plan that the piece has, of the piece that the lot
// is; a batch is of pieces that no other bench has; and what a piece brought stands at what its lot cost. Whatever two
// programs do at once.
func TestTwoAtOnceOnTheSameRows(t *testing.T) {
	r := newArena(t)
	piece := func(lot stock.LotView) string { return lot.Pieces[0].PublicID }
	start := func(w *work.Rooms, lot stock.LotView) error {
		_, err := w.Bench.StartBreakdown(r.ctx, piece(lot), r.bench)
		return err
	}
	void := func(w *work.Rooms, lot stock.LotView) error {
		return w.Stock.VoidPiece(r.ctx, piece(lot), true, r.hung(piece(lot)).Piece.Version, "entered twice")
	}
	voidLot := func(w *work.Rooms, lot stock.LotView) error {
		return w.Stock.VoidLot(r.ctx, lot.Lot.PublicID, true, lot.Lot.Version, "entered twice")
	}
	plan := func(w *work.Rooms, lot stock.LotView) error {
		err := w.Stock.ChoosePlan(r.ctx, piece(lot), stock.PlanPick{PlanID: "traditional"}, r.hung(piece(lot)).Piece.Version)
		return err
	}
	batch := func(w *work.Rooms, lot stock.LotView) error {
		_, err := w.Bench.StartBatch(r.ctx, []string{lot.Pieces[0].PublicID, lot.Pieces[1].PublicID}, r.bench)
		return err
	}
	change := func(as string) func(w *work.Rooms, lot stock.LotView) error {
		return func(w *work.Rooms, lot stock.LotView) error {
			in := r.arrival()
			in.AtlasID, in.LotNumber = as, lot.Lot.LotNumber
			_, err := w.Stock.ChangeLot(r.ctx, lot.Lot.PublicID, in, lot.Lot.Version, "misread")
			return err
		}
	}
	notBoth := func(lot stock.LotView, _, _ error) string {
		for _, p := range lot.Pieces {
			h := r.hung(p.PublicID)
			if (h.Piece.VoidedAt != nil || h.Lot.VoidedAt != nil) && h.Breakdown != nil {
				return "a piece that is voided is on a bench"
			}
		}
		return ""
	}
	r.both(contest{name: "void a piece, start it", a: void, b: start, check: notBoth})
	r.both(contest{name: "void a lot, start a piece of it", a: voidLot, b: start, check: notBoth})
	r.both(contest{name: "void a piece, start a batch with it", a: void, b: batch, check: notBoth})
	r.both(contest{name: "plan a piece anew, start it", a: plan, b: start,
		check: func(lot stock.LotView, _, _ error) string {
			if h := r.hung(piece(lot)); h.Breakdown != nil && h.Breakdown.PlanID != h.Piece.PlanID {
				return "it is cut by " + h.Breakdown.PlanID + " and planned to be cut by " + h.Piece.PlanID
			}
			return ""
		}})
	r.both(contest{name: "make the lot another piece, start it", a: change("beef.knuckle"), b: start,
		check: func(lot stock.LotView, _, _ error) string {
			h := r.hung(piece(lot))
			if h.Breakdown == nil {
				return ""
			}
			if h.Lot.AtlasID != "beef.top_sirloin" {
				return "a knuckle is cut by a plan of the rump"
			}
			_, err := r.two.Bench.Board(r.ctx, h.Breakdown.PublicID)
			if err != nil {
				return "its board does not open: " + err.Error()
			}
			return ""
		}})
	r.both(contest{name: "start a batch, start one of it", a: batch, b: start,
		check: func(lot stock.LotView, made, _ error) string {
			x, y := r.hung(lot.Pieces[0].PublicID).Breakdown, r.hung(lot.Pieces[1].PublicID).Breakdown
			switch {
			case x == nil:
				return "neither has it"
			case made == nil && (y == nil || x.BatchID == nil || y.BatchID == nil || *x.BatchID != *y.BatchID):
				return "the batch that was made is not whole"
			case made != nil && (y != nil || x.BatchID != nil):
				return "a batch that was refused has pieces"
			}
			return ""
		}})
	r.close()
	t.Logf("%d interleavings forced", r.forced)
	if r.forced < 80 {
		t.Errorf("only %d interleavings were forced", r.forced)
	}
}

// close holds the close of a piece against a change of what its lot cost.
func (r *arena) close() {
	r.Helper()
	boards := map[string]bench.BoardView{}
	ready := func(lot stock.LotView) {
		b, err := r.two.Bench.StartBreakdown(r.ctx, lot.Pieces[0].PublicID, r.bench)
		if err != nil {
			r.Fatal(err)
		}
		for _, e := range []seam.Event{{Kind: seam.Opened, Net: 6600 * measure.Gram},
			{Kind: seam.SeamedOff, Part: "tri_tip", Net: 1000 * measure.Gram},
			{Kind: seam.SeamedOff, Part: "cap", Net: 960 * measure.Gram},
			{Kind: seam.SeamedOff, Part: "heart_main", Net: 3200 * measure.Gram},
			{Kind: seam.Trimmed, Part: "trim", Net: 1400 * measure.Gram}} {
			if b, err = r.two.Bench.Book(r.ctx, b.Breakdown.PublicID, r.event(e)); err != nil {
				r.Fatal(err)
			}
		}
		boards[lot.Lot.PublicID] = b
	}
	shut := func(w *work.Rooms, lot stock.LotView) error {
		_, err := w.Bench.Book(r.ctx, boards[lot.Lot.PublicID].Breakdown.PublicID, r.event(seam.Event{Kind: seam.Closed}))
		return err
	}
	dearer := func(w *work.Rooms, lot stock.LotView) error {
		in := r.arrival()
		in.LotNumber, in.Price = lot.Lot.LotNumber, "19.90"
		_, err := w.Stock.ChangeLot(r.ctx, lot.Lot.PublicID, in, lot.Lot.Version, "misread")
		return err
	}
	r.both(contest{name: "change what a lot cost, close a piece of it", a: dearer, b: shut, before: ready,
		check: func(lot stock.LotView, a, b error) string {
			if a != nil || b != nil {
				return ""
			}
			if err := r.two.Bench.Upkeep(r.ctx); err != nil {
				return err.Error()
			}
			id := boards[lot.Lot.PublicID].Breakdown.PublicID
			c, err := r.two.Compare.Compare(r.ctx, id, "", false, "nrv")
			if err != nil {
				return err.Error()
			}
			if c.Recorded.Purchase.String() != "131.34" { // 6.6 · 19.90
				return "the block cost " + c.Recorded.Purchase.String()
			}
			var kept float64
			if err := r.db.QueryRow("SELECT r.value_per_kg FROM results r JOIN breakdowns b ON b.id = r.breakdown_id WHERE "+
				"b.public_id = ?", id).Scan(&kept); err != nil {
				return err.Error()
			}
			if per := c.Recorded.Alternative("", false).Totals().PerKg; fmt.Sprintf("%.2f", kept) != per.String() {
				return fmt.Sprintf("kept as %.2f a kilogram, it is %s", kept, per)
			}
			return ""
		}})
}

// event gives an event what it needs to be booked.
func (r *arena) event(e seam.Event) seam.Event {
	e.ID, e.At, e.Bench = store.NewID(), noon, r.bench
	if e.Net > 0 {
		e.Gross, e.Division, e.Source = e.Net, 5*measure.Gram, "scale"
	}
	return e
}
