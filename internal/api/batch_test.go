package api

import (
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// together receives a box of rumps, plans them all alike and puts them on the first bench together.
func (r *rig) together(lot, plan string, pieces int) contract.BatchBoard {
	r.t.Helper()
	a := arrival(lot)
	a["pieces"], a["weight"] = pieces, fmt.Sprint(6.6*float64(pieces))
	var l contract.Lot
	r.ok("POST", base+"/lots", a, &l)
	for _, id := range l.PieceIds {
		r.ok("PUT", base+"/pieces/"+id+"/plan", map[string]any{"plan_id": plan, "version": 1}, nil)
	}
	var b contract.BatchBoard
	r.ok("POST", base+"/batches", map[string]any{"piece_ids": l.PieceIds, "bench_id": r.shop.Benches[0].Id}, &b)
	return b
}

// shared is an event on pieces of a batch, with fresh ids.
func (r *rig) shared(e map[string]any, boards ...contract.Board) map[string]any {
	entries := make([]map[string]any, len(boards))
	for i, b := range boards {
		entries[i] = map[string]any{"breakdown_id": b.Id, "id": store.NewID()}
	}
	return map[string]any{"event": e, "entries": entries}
}

// weighedAs is what each piece has of a part.
func weighedAs(b contract.BatchBoard, part string) []float64 {
	out := make([]float64, len(b.Boards))
	for i, board := range b.Boards {
		for _, row := range board.Rows {
			if row.Id == part {
				out[i] += row.WeightG
			}
		}
	}
	return out
}

// Three rumps are cut together: opened one by one, weighed together or one by one, undone together, closed together.
// What was weighed of all is shared by their weights: 2,970 g of caps of 6.4, 6.6 and 6.8 kg are 2,970 · 6,400 / 19,800
// = 960 g, 990 g and 1,020 g.
func TestABoxIsCutTogether(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.together("BOX-1", "seamed", 3)
	if len(b.Boards) != 3 || b.Boards[0].Fixed == nil || len(b.Expected) == 0 || b.Events != 0 ||
		from(b.Boards[2].BatchId) != b.Id || from(b.Boards[0].Piece.BatchId) != b.Id {
		t.Fatalf("a new batch: %+v", b)
	}
	at := base + "/batches/" + b.Id + "/events"
	book := func(e map[string]any, boards ...contract.Board) {
		t.Helper()
		r.ok("POST", at, r.shared(e, boards...), &b)
	}
	for i, g := range []float64{6400, 6600, 6800} {
		book(r.event("opened", i,
			map[string]any{"net_g": g, "gross_g": g + 100, "tare_g": 100, "division_g": 5, "source": "scale"}), b.Boards[i])
	}
	if b.Boards[1].Rows[0].WeightG != 6600 || from(b.Boards[1].Rows[0].Shared) != 0 {
		t.Errorf("one piece's own weight: %+v", b.Boards[1].Rows)
	}
	for i, w := range handWeights {
		g := w.g * 3
		if w.part == "cap" {
			g = 2970
		}
		if from(b.Next) == "" || !strings.HasSuffix(*b.Next, ":"+w.part) {
			t.Errorf("weighing %d: next is %q, want %s", i, from(b.Next), w.part)
		}
		e := r.shared(r.event(w.kind, 3+i,
			map[string]any{"part": w.part, "net_g": g, "division_g": 5, "source": "scale", "reason": "as usual"}), b.Boards...)
		r.ok("POST", at, e, &b)
		if events := b.Events; i == 4 { // sent once more: nothing changes
			if r.ok("POST", at, e, &b); b.Events != events {
				t.Errorf("a repeated booking made %d events of %d", b.Events, events)
			}
		}
	}
	if got := weighedAs(b, "cap"); !slices.Equal(got, []float64{960, 990, 1020}) {
		t.Errorf("the caps are shared as %v", got)
	}
	if got := weighedAs(b, "tri_tip"); math.Abs(got[0]+got[1]+got[2]-3000) > 1e-9 ||
		from(b.Boards[0].Rows[1].Shared) != 3 {
		t.Errorf("3,000 g of sirloin fillets are shared as %v", got)
	}
	i := slices.IndexFunc(b.Expected, func(e contract.Expected) bool { return e.Id == "cap" })
	if b.Expected[i].TakenG != 2970 || b.Expected[i].Times != b.Expected[i].Want || b.Expected[i].Want != 3 {
		t.Errorf("all caps together: %+v", b.Expected[i])
	}
	if len(b.Undo) != 3 || from(b.UndoWhat) != "Lean trim of 3 pieces, 0.600 kg" {
		t.Errorf("undo would take back %+v, %q", b.Undo, from(b.UndoWhat))
	}
	before := b.Events
	undo := map[string]any{"event": r.event("undone", 13, nil), "entries": func() (list []map[string]any) {
		for _, u := range b.Undo {
			list = append(list, map[string]any{"breakdown_id": u.BreakdownId, "id": store.NewID(), "target": u.Target})
		}
		return list
	}()}
	r.ok("POST", at, undo, &b)
	if got := weighedAs(b, "trim"); !slices.Equal(got, []float64{0, 0, 0}) || b.Events != before+3 {
		t.Errorf("undone: %v, %d events", got, b.Events)
	}
	// one by one
	for i, g := range []float64{190, 200, 210} {
		book(r.event("trimmed", 14+i, map[string]any{"part": "trim", "net_g": g, "source": "typed"}), b.Boards[i])
	}
	if len(b.Undo) != 1 || from(b.UndoWhat) != "Lean trim of piece 3, 0.210 kg" {
		t.Errorf("what was weighed of one piece is undone of one: %+v", b.Undo)
	}
	book(r.event("closed", 51, map[string]any{"minutes": 49.5}), b.Boards...) // 49.5 · 6.4 / 19.8 = 16
	for i, want := range []float64{16, 16.5, 17} {
		if x := b.Boards[i]; x.State != "closed" || math.Abs(x.Minutes-want) > 0.001 || x.Balance.Verdict != "balanced" {
			t.Errorf("piece %d: %s after %g minutes, %s", i+1, x.State, x.Minutes, x.Balance.Verdict)
		}
	}
	if math.Abs(b.Minutes-49.5) > 0.01 {
		t.Errorf("%g minutes for all", b.Minutes)
	}
	if v, err := r.work.Bench.Verify(t.Context(), false); err != nil || len(v.Flaws) > 0 {
		t.Errorf("verify: %v %v", v.Flaws, err)
	}
	var again contract.BatchBoard
	if r.ok("GET", base+"/batches/"+b.Id, nil, &again); again.Events != b.Events {
		t.Errorf("read anew it has %d events of %d", again.Events, b.Events)
	}
}

// Rule: a booking on several pieces is on all of them or on none, and says which piece is in the way.
func TestTogetherIsAllOrNone(t *testing.T) {
	r := newRig(t)
	b := r.together("BOX-2", "seamed", 2)
	at := base + "/batches/" + b.Id + "/events"
	r.ok("POST", at, r.shared(r.event("opened", 0, map[string]any{"net_g": 6600}), b.Boards[0]), &b)
	// the second is not opened yet, so nothing can come off it
	both := r.shared(r.event("seamed_off", 1, map[string]any{"part": "tri_tip", "net_g": 2000}), b.Boards...)
	p := r.fails("POST", at, both)
	if p.Status != 409 && p.Status != 422 || !strings.Contains((*p.Errors)[0].Message, "Piece 2") {
		t.Errorf("%+v", p)
	}
	var after contract.BatchBoard
	r.ok("GET", base+"/batches/"+b.Id, nil, &after)
	if after.Events != 1 || len(after.Boards[0].Rows) != 1 {
		t.Errorf("something was booked: %d events, %+v", after.Events, after.Boards[0].Rows)
	}
	r.ok("POST", at, r.shared(r.event("opened", 2, map[string]any{"net_g": 6600}), b.Boards[1]), nil)
	// an id that another breakdown has is refused for both
	stray := r.onBench("S-1", "seamed")
	used := r.event("opened", 3, map[string]any{"net_g": 6600})
	r.book(stray.Id, used)
	twice := r.shared(r.event("seamed_off", 4, map[string]any{"part": "tri_tip", "net_g": 2000}), b.Boards...)
	twice["entries"].([]map[string]any)[1]["id"] = used["id"]
	if p := r.fails("POST", at, twice); p.Status != 409 || !has(p, "id", "used") {
		t.Errorf("a used id: %+v", p)
	}
	if r.ok("GET", base+"/batches/"+b.Id, nil, &after); after.Events != 2 {
		t.Errorf("a refused booking left %d events", after.Events)
	}
	for name, c := range map[string]struct {
		body  map[string]any
		field string
	}{
		"no piece": {map[string]any{"event": r.event("noted", 5, map[string]any{"note": "x"}), "entries": []any{}},
			"entries"},
		"a piece twice": {r.shared(r.event("noted", 5, map[string]any{"note": "x"}), b.Boards[0], b.Boards[0]),
			"entries"},
		"not of this batch": {r.shared(r.event("noted", 5, map[string]any{"note": "x"}), stray), "entries"},
		"two milligrams": {r.shared(r.event("trimmed", 5, map[string]any{"part": "trim", "net_g": 0.001}), b.Boards...),
			"net_g"},
	} {
		if p := r.fails("POST", at, c.body); p.Status != 422 || !has(p, c.field, "") {
			t.Errorf("%s: %+v", name, p)
		}
	}
}

// What may be cut together: pieces of one kind by one plan, none of them on a bench.
func TestWhatMayBeCutTogether(t *testing.T) {
	r := newRig(t)
	start := func(ids ...string) contract.Problem {
		t.Helper()
		return r.fails("POST", base+"/batches", map[string]any{"piece_ids": ids, "bench_id": r.shop.Benches[0].Id})
	}
	planned := func(lot, plan string) string {
		l := r.received(lot)
		r.ok("PUT", base+"/pieces/"+l.PieceIds[0]+"/plan", map[string]any{"plan_id": plan, "version": 1}, nil)
		return l.PieceIds[0]
	}
	a, other, alone := planned("A", "seamed"), planned("B", "traditional"), r.onBench("C", "seamed").Piece.Id
	for name, c := range map[string]struct {
		ids    []string
		status int
		code   string
	}{"one": {[]string{a}, 422, "out_of_range"}, "the same twice": {[]string{a, a}, 422, "out_of_range"},
		"two plans": {[]string{a, other}, 422, "different_plans"}, "one on a bench": {[]string{a, alone}, 422, "on_bench"}} {
		if p := start(c.ids...); p.Status != c.status && p.Status != 409 || !has(p, "piece_ids", c.code) {
			t.Errorf("%s: %+v", name, p)
		}
	}
	b := r.together("BOX-3", "seamed", 2)
	var again contract.BatchBoard
	r.ok("POST", base+"/batches",
		map[string]any{"piece_ids": []string{b.Boards[0].Piece.Id, b.Boards[1].Piece.Id}, "bench_id": r.shop.Benches[0].Id},
		&again)
	if again.Id != b.Id {
		t.Error("pieces that are together already were put together again")
	}
}

// Two devices work on one board with clocks four hours apart: the log keeps the order in which events arrived, each
// bench's own in its order, and the minutes never run backwards.
func TestClocksThatDisagree(t *testing.T) {
	r := newRig(t)
	b := r.onBench("CLK-1", "seamed")
	fast, slow := 120, -120
	events := []map[string]any{r.event("opened", fast, map[string]any{"net_g": 6600})}
	for i, w := range handWeights {
		events = append(events,
			r.event(w.kind, []int{slow, fast}[i%2]+i,
				map[string]any{"part": w.part, "net_g": w.g, "reason": "as usual", "bench_id": r.shop.Benches[(i+1)%2].Id}))
	}
	events = append(events, r.event("paused", slow+12, nil), r.event("resumed", slow+13, nil),
		r.event("closed", fast+20, nil))
	for _, e := range events {
		if b = r.book(b.Id, e); b.Minutes < 0 {
			t.Errorf("%g minutes after %s", b.Minutes, e["kind"])
		}
	}
	var log []contract.LoggedEvent
	r.ok("GET", base+"/breakdowns/"+b.Id+"/events", nil, &log)
	if len(log) != len(events) {
		t.Fatalf("%d events of %d", len(log), len(events))
	}
	for i, l := range log {
		if l.Event.Id != events[i]["id"] {
			t.Errorf("event %d is %s", i, l.Event.Kind)
		}
	}
	if b.State != "closed" || b.Balance.ResidualG != 50 {
		t.Errorf("%s, %g g", b.State, b.Balance.ResidualG)
	}
}

// Temperatures stand on the piece, with the caution where they are above the limit: 7 °C for meat, Regulation (EC)
// 853/2004 (from memory).
func TestTemperatureOnAPiece(t *testing.T) {
	r := newRig(t)
	b := r.onBench("TEMP-1", "seamed")
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	b = r.book(b.Id, r.event("measured", 1, map[string]any{"temp_c": 4.2, "source": "probe"}))
	b = r.book(b.Id, r.event("measured", 2, map[string]any{"temp_c": 9.4, "source": "typed"}))
	if len(b.Temps) != 2 || b.Temps[0].Caution != nil || b.Temps[0].C != 4.2 ||
		!strings.Contains(from(b.Temps[1].Caution), "7 °C") {
		t.Errorf("%+v", b.Temps)
	}
	if b.Balance.OutputG != 0 {
		t.Error("a temperature weighs something")
	}
	events := base + "/breakdowns/" + b.Id + "/events"
	for name, c := range map[string]struct {
		more  map[string]any
		field string
	}{"none": {nil, "temp_c"}, "boiling": {map[string]any{"temp_c": 100}, "temp_c"},
		"a strange source": {map[string]any{"temp_c": 4, "source": "scale"}, "source"}} {
		if p := r.fails("POST", events, r.event("measured", 3, c.more)); p.Status != 422 || !has(p, c.field, "") {
			t.Errorf("%s: %+v", name, p)
		}
	}
}

// The yields of a piece at its close: beside the atlas at first, beside the house's own history from its fifth earlier
// piece on, and never beside another shop's. What left the bench has a number from lot, piece and place in the log.
func TestYieldsBesideHistory(t *testing.T) {
	r := newRig(t)
	cut := func(lot string, capG float64) (contract.Yields, contract.Board) {
		t.Helper()
		b := r.onBench(lot, "seamed")
		b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600, "source": "scale"}))
		if p := r.fails("GET", base+"/breakdowns/"+b.Id+"/yields", nil); p.Status != http.StatusConflict {
			t.Errorf("yields of a piece that is open: %+v", p)
		}
		for i, w := range handWeights {
			g := w.g
			if w.part == "cap" {
				g = capG
			}
			b = r.book(b.Id, r.event(w.kind, i+1, map[string]any{"part": w.part, "net_g": g, "reason": "as usual"}))
		}
		b = r.book(b.Id, r.event("closed", 20, map[string]any{"reason": "as it was"}))
		var y contract.Yields
		r.ok("GET", base+"/breakdowns/"+b.Id+"/yields", nil, &y)
		return y, b
	}
	row := func(y contract.Yields, id string) contract.YieldRow {
		i := slices.IndexFunc(y.Rows, func(x contract.YieldRow) bool { return x.Id == id })
		if i < 0 {
			t.Fatalf("no row of %s in %+v", id, y.Rows)
		}
		return y.Rows[i]
	}
	caps := []float64{940, 950, 960, 970, 980}
	for i, g := range caps {
		y, _ := cut(fmt.Sprint("H-", i), g)
		if y.Past != i || row(y, "cap").N != 0 || !strings.Contains(y.Sentence, "atlas") {
			t.Errorf("piece %d: %d before it, %+v, %s", i, y.Past, row(y, "cap"), y.Sentence)
		}
	}
	y, b := cut("H-5", 900)
	// mean 960 g of 6,600 = 14.545 %; s.d. of 940 … 980 with n − 1 is 15.811 g, so the band is 960 ± 31.623 g:
	// 14.066–15.025 %
	cap := row(y, "cap")
	if cap.N != 5 || math.Abs(cap.MeanPct-14.545) > 0.001 || math.Abs(cap.LowPct-14.066) > 0.001 ||
		math.Abs(cap.HighPct-15.025) > 0.001 || from(cap.Odd) != "below" || math.Abs(cap.Pct-13.636) > 0.001 {
		t.Errorf("the cap: %+v", cap)
	}
	if !strings.HasPrefix(y.Sentence, "Not as usual: rump cap below (13.6 %, usually 14.1–15.0)") ||
		!strings.Contains(y.Sentence, "5 pieces of the house") {
		t.Error(y.Sentence)
	}
	if len(y.Outputs) != len(handWeights)-1 || y.Outputs[1].Number != "H-5-1-03" || y.Outputs[1].WeightG != 1000 {
		t.Errorf("what left the bench: %+v", y.Outputs)
	}
	// 110 g where 30 to 70 were usual
	if loss := row(y, "loss"); loss.WeightG != b.Balance.ResidualG || from(loss.Odd) != "above" {
		t.Errorf("the loss: %+v", loss)
	}
	// another shop starts with no history
	if _, err := r.work.Shop.AddShop(asRole(t, r.work, "owner"),
		shop.NewShop{Name: "Another", Currency: "EUR", Unit: "kg"}); err != nil {
		t.Fatal(err)
	}
	shops, err := r.store.Shops(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	past, err := r.store.PastShares(t.Context(), shops[1].ID, "beef.top_sirloin", "seamed", 0, 10)
	if err != nil || len(past) != 0 {
		t.Errorf("another shop sees %d shares, %v", len(past), err)
	}
}

// The ends of a muscle are weighed apart inside it, with their own names, and no other muscle's.
func TestEndsOfAMuscle(t *testing.T) {
	r := newRig(t)
	b := r.onBench("END-1", "seamed")
	ends := b.Fixed.Words["cap"].Ends
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	if len(ends) < 2 {
		t.Fatalf("the cap has %d ends", len(ends))
	}
	for i, w := range handWeights[:4] {
		b = r.book(b.Id, r.event(w.kind, i+1, map[string]any{"part": w.part, "net_g": w.g}))
	}
	cap := b.Rows[len(b.Rows)-1].EventId
	b = r.book(b.Id, r.event("seamed_off", 5, map[string]any{"part": ends[0].Id, "node": cap, "net_g": 400}))
	row := b.Rows[len(b.Rows)-1]
	if row.Id != ends[0].Id || row.Name != ends[0].Name || row.Parent != cap {
		t.Errorf("%+v", row)
	}
	events := base + "/breakdowns/" + b.Id + "/events"
	for name, node := range map[string]string{"off the piece": "", "inside another muscle": b.Rows[1].EventId} {
		e := r.event("seamed_off", 6, map[string]any{"part": ends[1].Id, "net_g": 100, "node": node})
		if p := r.fails("POST", events, e); p.Status != 422 || !has(p, "part", "") {
			t.Errorf("%s: %+v", name, p)
		}
	}
	// 40 g more than the cap has
	b = r.book(b.Id, r.event("seamed_off", 7, map[string]any{"part": ends[1].Id, "node": cap, "net_g": 600}))
	if p := r.fails("POST", events, r.event("closed", 8, map[string]any{"node": cap})); p.Status != 422 &&
		p.Status != 409 {
		t.Errorf("ends that weigh more than their muscle: %+v", p)
	}
	b = r.book(b.Id, r.event("weighed_again", 9, map[string]any{"target": b.Rows[len(b.Rows)-1].EventId, "net_g": 550}))
	b = r.book(b.Id, r.event("closed", 10, map[string]any{"node": cap}))
	if i := slices.IndexFunc(b.Rows,
		func(x contract.BoardRow) bool { return x.EventId == cap }); !from(b.Rows[i].Closed) || from(b.Rows[i].LossG) != 10 {
		t.Errorf("the cap, closed: %+v", b.Rows[i])
	}
}
