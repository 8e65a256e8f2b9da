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
type contest[T any] struct {
	name string
	make func() T // what both work on
	a, b func(w *work.Rooms, on T) error
	// check gives what is wrong, from what both were told
	check func(on T, a, b error) string
}

// interleave stops a before each of its statements in turn, lets b do all of its work there, or as much as it can until
// it waits for what a holds, and lets a go on.
func interleave[T any](r *arena, c contest[T]) {
	r.Helper()
	for stop := 1; ; stop++ {
		on := c.make()
		var mu sync.Mutex
		count, reached, goOn := 0, make(chan struct{}), make(chan struct{})
		r.gate.Before(func(string) error {
			mu.Lock()
			count++
			here := count == stop
			mu.Unlock()
			if here {
				close(reached)
				<-goOn
			}
			return nil
		})
		first, second := make(chan error, 1), make(chan error, 1)
		go func() { first <- c.a(r.one, on) }()
		var a error
		select {
		case <-reached:
		case a = <-first: // it has no more statements than were stopped at
			r.gate.Before(nil)
			if why := c.check(on, a, errors.New("not tried")); why != "" && a != nil {
				r.Errorf("%s alone: %s, %v", c.name, why, a)
			}
			if stop < 4 {
				r.Errorf("%s: only %d statements", c.name, stop-1)
			}
			return
		}
		go func() { second <- c.b(r.two, on) }()
		var b error
		done := false
		for !done && !r.waits() {
			select {
			case b = <-second:
				done = true
			case <-time.After(time.Millisecond):
			}
		}
		close(goOn)
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
		if why := c.check(on, a, b); why != "" {
			r.Errorf("%s, stopped at statement %d: %s (a: %v, b: %v)", c.name, stop, why, a, b)
		}
	}
}

// both runs a contest in either order.
func both[T any](r *arena, c contest[T]) {
	r.Helper()
	interleave(r, c)
	c.a, c.b = c.b, c.a
	check := c.check
	c.check = func(on T, a, b error) string { return check(on, b, a) }
	c.name += ", the other way round"
	interleave(r, c)
}

// event gives an event what it needs to be booked.
func (r *arena) event(e seam.Event) seam.Event {
	e.ID, e.At, e.Bench = store.NewID(), noon, r.bench
	if e.Net > 0 {
		e.Gross, e.Division, e.Source = e.Net, 5*measure.Gram, "scale"
	}
	return e
}
