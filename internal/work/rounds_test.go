package work_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/work/bench"
	"falda/internal/work/compare"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// opened puts a piece on the bench and weighs it.
func (r *arena) opened() bench.BoardView {
	r.Helper()
	v, err := r.one.Bench.StartBreakdown(r.ctx, r.received().Pieces[0].PublicID, r.bench)
	if err != nil {
		r.Fatal(err)
	}
	if v, err = r.one.Bench.Book(r.ctx, v.Breakdown.PublicID, r.weighing(seam.Opened, "", 6600)); err != nil {
		r.Fatal(err)
	}
	return v
}

func (r *arena) weighing(kind seam.Kind, part string, grams int64) seam.Event {
	return seam.Event{ID: store.NewID(), Kind: kind, Part: part, Net: measure.Mass(grams) * measure.Gram, At: noon,
		Bench: r.bench}
}

// Rule: a weighing is one round trip, however long ago the last one was: the database says whether the board is
// current. What another program has done since is seen all the same.
func TestAWeighingIsOneRoundTrip(t *testing.T) {
	r := newArena(t)
	v := r.opened()
	book := func(part string, grams int64) (bench.BoardView, int) {
		t.Helper()
		before := r.gate.Statements()
		after, err := r.one.Bench.Book(r.ctx, v.Breakdown.PublicID, r.weighing(seam.SeamedOff, part, grams))
		if err != nil {
			t.Fatal(err)
		}
		return after, r.gate.Statements() - before
	}
	if _, n := book("tri_tip", 990); n != 1 {
		t.Errorf("the second weighing takes %d statements", n)
	}
	// another program books on the same piece
	if _, err := r.two.Bench.Book(r.ctx, v.Breakdown.PublicID, r.weighing(seam.SeamedOff, "cap", 960)); err != nil {
		t.Fatal(err)
	}
	var err error
	after, n := book("heart_main", 2500)
	if taken, times := after.Board.Taken("cap", ""); n < 2 || times != 1 || taken != 960*measure.Gram {
		t.Errorf("after another program's weighing: %d statements, the cap %v taken %d times", n, taken, times)
	}
	if _, n := book("mouse", 440); n != 1 {
		t.Errorf("the weighing after that takes %d statements", n)
	}
	// the shop's limits are changed: what is booked goes by them
	settings := shop.Usual
	settings.Name, settings.Currency, settings.Unit, settings.LossLimitKnifePct, settings.Version = "Test shop", "EUR",
		"kg", 3.25, 1
	if err := r.two.Shop.SaveSettings(r.ctx, settings); err != nil {
		t.Fatal(err)
	}
	if after, n = book("heart_side", 200); n < 2 || after.Shop.LossLimitKnifePct != 3.25 {
		t.Errorf("after a change of the settings: %d statements, limit %g", n, after.Shop.LossLimitKnifePct)
	}
	// the lot is corrected meanwhile
	lot := after.Card.Row.Lot
	in := r.arrival()
	in.LotNumber, in.Price = lot.LotNumber, "12.00"
	if _, err := r.two.Stock.ChangeLot(r.ctx, lot.PublicID, in, lot.Version, "the invoice says 12"); err != nil {
		t.Fatal(err)
	}
	before := r.gate.Statements()
	note := r.weighing(seam.Noted, "", 0)
	note.Note = "cold"
	if after, err = r.one.Bench.Book(r.ctx, v.Breakdown.PublicID, note); err != nil {
		t.Fatal(err)
	}
	if n = r.gate.Statements() - before; n < 2 || after.Card.Row.Lot.Price[:2] != "12" {
		t.Errorf("after a correction of the lot: %d statements, price %s", n, after.Card.Row.Lot.Price)
	}
	again, err := r.two.Bench.Board(r.ctx, v.Breakdown.PublicID)
	if err != nil || again.Breakdown.Events != 7 {
		t.Errorf("%d events stand, %v", again.Breakdown.Events, err)
	}
}

// Rule: what is weighed of twenty pieces together takes no more statements than of two.
func TestABatchIsReadAsASet(t *testing.T) {
	r := newArena(t)
	counts := map[int]int{}
	for _, pieces := range []int{2, 20} {
		in := r.arrival()
		r.lots++
		in.Pieces, in.Weight, in.LotNumber = pieces, fmt.Sprint(6.6*float64(pieces)), fmt.Sprint("BATCH-", pieces)
		lot, err := r.two.Stock.Receive(r.ctx, in)
		if err != nil {
			t.Fatal(err)
		}
		var ids []string
		for _, p := range lot.Pieces {
			if err := r.two.Stock.ChoosePlan(r.ctx, p.PublicID, stock.PlanPick{PlanID: "seamed"}, p.Version); err != nil {
				t.Fatal(err)
			}
			ids = append(ids, p.PublicID)
		}
		batch, err := r.one.Bench.StartBatch(r.ctx, ids, r.bench)
		if err != nil {
			t.Fatal(err)
		}
		together := func(kind seam.Kind, part string, grams int64) bench.BatchView {
			t.Helper()
			var entries []bench.BatchEntry
			for _, b := range batch.Boards {
				entries = append(entries, bench.BatchEntry{Breakdown: b.Breakdown.PublicID, ID: store.NewID()})
			}
			v, err := r.one.Bench.BookTogether(r.ctx, batch.Batch.PublicID, r.weighing(kind, part, grams), entries)
			if err != nil {
				t.Fatal(err)
			}
			return v
		}
		together(seam.Opened, "", int64(pieces)*6600)
		before := r.gate.Statements()
		v := together(seam.SeamedOff, "cap", int64(pieces)*950)
		counts[pieces] = r.gate.Statements() - before
		sum := measure.Mass(0)
		for _, b := range v.Boards {
			taken, _ := b.Board.Taken("cap", "")
			sum += taken
		}
		if sum != measure.Mass(pieces)*950*measure.Gram {
			t.Errorf("%d pieces: the caps add up to %v", pieces, sum)
		}
		whole, err := r.two.Bench.Batch(r.ctx, batch.Batch.PublicID)
		if err != nil || len(whole.Boards) != pieces || whole.Boards[0].Breakdown.Events != 2 {
			t.Errorf("%d pieces: read again %d boards, %v", pieces, len(whole.Boards), err)
		}
	}
	if counts[20] > 12 || counts[20] != counts[2] {
		t.Errorf("a weighing of two pieces takes %d statements, of twenty %d", counts[2], counts[20])
	}
}

// Rule: what goes out of twenty breakdowns, and a trial of twenty pieces, take no more statements than of two.
func TestListsAreReadAsSets(t *testing.T) {
	r := newArena(t)
	counts := map[string]map[int]int{}
	for _, pieces := range []int{2, 20} {
		count := func(what string, f func() error) {
			t.Helper()
			before := r.gate.Statements()
			if err := f(); err != nil {
				t.Fatalf("%s of %d: %v", what, pieces, err)
			}
			if counts[what] == nil {
				counts[what] = map[int]int{}
			}
			counts[what][pieces] = r.gate.Statements() - before
		}
		r.lots++
		in := r.arrival()
		in.Pieces, in.Weight = pieces, fmt.Sprint(6.6*float64(pieces))
		lot, err := r.two.Stock.Receive(r.ctx, in)
		if err != nil {
			t.Fatal(err)
		}
		var pairs [][2]string
		var ids []string
		for i := 0; i < pieces; i += 2 {
			pairs = append(pairs, [2]string{lot.Pieces[i].PublicID, lot.Pieces[i+1].PublicID})
			ids = append(ids, pairs[i/2][:]...)
		}
		var trial compare.TrialView
		count("designing a trial", func() (err error) {
			trial, err = r.one.Compare.DesignTrial(r.ctx, compare.NewTrial{Name: fmt.Sprint("Of ", pieces),
				AtlasID: "beef.top_sirloin", PlanA: "seamed", PlanB: "traditional", Pairs: pairs, Seed: 7})
			return err
		})
		for _, id := range ids {
			h := r.hung(id)
			if (h.Piece.PlanID != "seamed" && h.Piece.PlanID != "traditional") || h.Piece.Version != 2 {
				t.Errorf("a piece of the trial has plan %q, version %d", h.Piece.PlanID, h.Piece.Version)
			}
			if _, err := r.two.Bench.StartBreakdown(r.ctx, id, r.bench); err != nil {
				t.Fatal(err)
			}
		}
		count("a trial", func() error { _, err := r.one.Compare.Trial(r.ctx, trial.PublicID); return err })
		list, err := r.two.Bench.Breakdowns(r.ctx, bench.BreakdownFilter{Text: in.LotNumber})
		if err != nil || len(list.Rows) != pieces {
			t.Fatalf("%d breakdowns of %d, %v", len(list.Rows), pieces, err)
		}
		count("outputs", func() error { _, err := r.one.Bench.Outputs(r.ctx, list.Rows); return err })
		count("whole breakdowns", func() error {
			whole, err := r.one.Bench.Wholes(r.ctx, list.Rows)
			if err == nil && (len(whole) != pieces || len(whole[0].Pieces) != pieces || whole[0].ID != list.Rows[0].PublicID) {
				err = fmt.Errorf("%d breakdowns of a lot of %d", len(whole), len(whole[0].Pieces))
			}
			return err
		})
	}
	for what, of := range counts {
		if of[2] == 0 || of[20] > of[2] {
			t.Errorf("%s: %d statements of two, %d of twenty", what, of[2], of[20])
		}
	}
	t.Log(counts)
}

// Rule: who watches a board is woken by what this program books, with one question each time; what another program
// books comes a little later.
func TestWatchersAreWoken(t *testing.T) {
	r := newArena(t)
	v := r.opened()
	watch := func(known int) <-chan int {
		out := make(chan int, 1)
		go func() {
			n, err := r.one.Bench.Changes(r.ctx, v.Breakdown.PublicID, known)
			if err != nil {
				t.Error(err)
			}
			out <- n
		}()
		return out
	}
	before := r.gate.Statements()
	woken := watch(1)
	for r.gate.Statements() < before+3 { // the shop, the breakdown, the count: now it waits
		time.Sleep(time.Millisecond)
	}
	if _, err := r.one.Bench.Book(r.ctx, v.Breakdown.PublicID, r.weighing(seam.SeamedOff, "tri_tip", 990)); err != nil {
		t.Fatal(err)
	}
	if n := <-woken; n != 2 {
		t.Errorf("woken with %d events", n)
	}
	// those three, the booking, the count again, unless the booking was in before the first count: it never polls
	if n := r.gate.Statements() - before; n > 5 {
		t.Errorf("%d statements", n)
	}
	woken = watch(2)
	if _, err := r.two.Bench.Book(r.ctx, v.Breakdown.PublicID, r.weighing(seam.SeamedOff, "cap", 960)); err != nil {
		t.Fatal(err)
	}
	if n := <-woken; n != 3 {
		t.Errorf("another program's weighing: woken with %d events", n)
	}
	ended, cancel := context.WithCancel(r.ctx)
	cancel()
	if _, err := r.one.Bench.Changes(ended, v.Breakdown.PublicID, 3); err == nil {
		t.Error("who went away still waits")
	}
}
