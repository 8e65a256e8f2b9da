package api

import (
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work"
)

// The whole way, with figures worked out by hand, each line rounded once. 6.6 kg at 11.40 = 75.24. Sold, seamed: heart
// steak 1.968 kg = 39.36, medallion 0.774 = 20.12, cap steak 0.8256 = 19.81, tri-tip 0.870 = 14.79, strips 0.213 =
// 3.41; mince weighed (mouse and trim) 0.360 = 3.60 and by the plan's shares 0.532 = 5.32; fat, all of it in the tub,
// 0.780 = 0.39: sales 106.80; packaging 5.543 kg at 0.12 = 0.67; 17 min at 24 = 6.80; value 24.09, 3.65 a kilo. The
// same parts cut straight, eight steaks that hold 72.572 % of the cap: rump steak 4.4527 kg = 80.15, dice 0.7283 =
// 10.20, mince 0.8230 = 8.23, fat 0.396 = 0.20: sales 98.78; packaging 0.72; 7 min = 2.80; value 20.02, 3.03 a kilo.
// Difference 4.07, 0.62 a kilo.
func TestFromBoxToAnswer(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.onBench("T-1", "seamed")
	if b.State != "waiting" || b.Next != nil {
		t.Errorf("a new board is %s, next %v", b.State, b.Next)
	}
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600, "division_g": 5, "source": "scale"}))
	for i, w := range handWeights {
		if b.Next == nil || !strings.HasSuffix(*b.Next, ":"+w.part) {
			t.Errorf("weighing %d: next is %v, want %s", i, from(b.Next), w.part)
		}
		b = r.book(b.Id,
			r.event(w.kind, i+1,
				map[string]any{"part": w.part, "net_g": w.g, "division_g": 5, "source": "scale", "reason": "as usual"}))
	}
	if b.Next != nil || b.Balance.ResidualG != 50 || b.Balance.Verdict != "balanced" {
		t.Fatalf("next %v, balance %+v", b.Next, b.Balance)
	}
	b = r.book(b.Id, r.event("closed", 20, map[string]any{"minutes": 17}))
	if b.State != "closed" {
		t.Fatal(b.State)
	}
	var j contract.Judgement
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/judgement", nil, &j)
	if len(j.Muscles) != 5 || j.Muscles[2].Part != "cap" || j.Muscles[2].Best != "grill" || j.Muscles[2].WeightG != 960 ||
		j.Muscles[2].WeightBasis != "measured" {
		t.Errorf("judged: %+v", j.Muscles)
	}
	r.ok("POST", "/api/v1/breakdowns/"+b.Id+"/judgement/confirm", nil, &j)
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison", nil, &c)
	want := "Seaming this block paid: €0.62 a kilo more than cutting straight through, €4.07 on the piece, chiefly from " +
		"the sirloin fillet and the rump cap."
	if c.Sentence != want {
		t.Errorf("%s\nwant %s", c.Sentence, want)
	}
	for name, got := range map[string][2]string{
		"sales": {c.Recorded.Totals.Sales, "106.80"}, "value": {c.Recorded.Totals.Value, "24.09"},
		"other sales": {c.Baseline.Totals.Sales, "98.78"}, "other value": {c.Baseline.Totals.Value, "20.02"},
		// (4.07 + 4.00) / (10/60)
		"difference": {c.Difference, "4.07"}, "per kg": {c.DifferencePerKg, "0.62"},
		"per extra hour": {c.DifferencePerHour, "48.42"}, "minutes basis": {string(c.Recorded.Totals.MinutesBasis), "given"},
	} {
		if got[0] != got[1] {
			t.Errorf("%s %s, by hand %s", name, got[0], got[1])
		}
	}
	hand := map[string]string{"tri_tip": "0.39", "mouse": "0.00", "cap": "5.01", "heart_side": "5.93",
		"heart_main": "3.41", "cover_fat": "-5.78", "wedge_fat": "-0.94",
		// the cap's 5.0157, the side's 5.9310 and the wedge's −0.945 are cents of their lines
		"trim": "0.00", "packaging": "0.05", "labour": "-4.00", "purchase": "0.00"}
	for _, s := range c.Bridge {
		if s.Change != hand[s.Id] {
			t.Errorf("bridge %s %s, by hand %s", s.Id, s.Change, hand[s.Id])
		}
	}
	rail := r.queue()
	if len(rail) != 1 || rail[0].Stage != "compare" || from(rail[0].DifferencePerKg) != "0.62" {
		t.Errorf("the rail: %+v", rail)
	}
	// prices of the day stay: a new price changes nothing of what was cut before
	r.ok("PUT", "/api/v1/prices/beef.cap_steak", map[string]any{"price": "99", "per": "kg", "version": 1}, nil)
	var again contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison?baseline=traditional", nil, &again)
	if again.Difference != c.Difference {
		t.Errorf("a later price moved the answer from %s to %s", c.Difference, again.Difference)
	}
}

// A piece cut straight through is weighed by product and compared with seaming it.
func TestCutStraightThrough(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.onBench("T-1", "traditional")
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	for _, e := range b.Expected {
		if e.Kind == "muscle" {
			t.Errorf("a straight cut weighs the muscle %s", e.Id)
		}
	}
	for i, w := range []struct {
		product string
		g       float64
	}{{"rump_steak", 4540}, {"dice", 680}, {"mince_trim", 780}, {"fat", 400}} {
		b = r.book(b.Id, r.event("portioned", i+1, map[string]any{"product": w.product, "net_g": w.g}))
	}
	b = r.book(b.Id, r.event("discarded", 6, map[string]any{"part": "gristle", "net_g": 150}))
	b = r.book(b.Id, r.event("closed", 7, nil))
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison", nil, &c)
	// by hand: 4.54·18 + 0.68·14 + 0.78·10 + 0.40·0.5 = 81.72 + 9.52 + 7.80 + 0.20
	if c.Recorded.Totals.Sales != "99.24" || c.Baseline.Plan.Id != "seamed" || c.Recorded.Totals.Minutes != 7 {
		t.Errorf("sales %s against %s in %v minutes", c.Recorded.Totals.Sales, c.Baseline.Plan.Id, c.Recorded.Totals.Minutes)
	}
	if !strings.HasPrefix(c.Sentence, "Cutting straight through this block did not pay") ||
		c.Recorded.Products[0].Basis != "measured" {
		t.Error(c.Sentence, c.Recorded.Products[0].Basis)
	}
}

// Rules: a repeated id changes nothing; undo is an event; a closed breakdown takes no more; the log keeps everything.
func TestTheLogKeepsEverything(t *testing.T) {
	r := newRig(t)
	b := r.onBench("T-1", "seamed")
	open := r.event("opened", 0, map[string]any{"net_g": 6600})
	r.book(b.Id, open)
	cap := r.event("seamed_off", 1, map[string]any{"part": "cap", "net_g": 960})
	r.book(b.Id, cap)
	again := r.book(b.Id, cap)
	if !again.Repeated || again.Booked != 2 || again.Balance.OutputG != 960 {
		t.Fatalf("a repeated id: repeated %v, %d events, %v g", again.Repeated, again.Booked, again.Balance.OutputG)
	}
	second := r.book(b.Id, r.event("seamed_off", 2, map[string]any{"part": "cap", "net_g": 960}))
	i := slices.IndexFunc(second.Expected, func(e contract.Expected) bool { return e.Id == "cap" })
	if second.Expected[i].Times != 2 || from(second.Expected[i].Question) == "" {
		t.Errorf("booked twice, and nobody asks: %+v", second.Expected[i])
	}
	undone := r.book(b.Id, r.event("undone", 3, map[string]any{"target": *second.UndoTarget}))
	if undone.Balance.OutputG != 960 || len(undone.Rows) != 2 {
		t.Errorf("after undo %v g in %d rows", undone.Balance.OutputG, len(undone.Rows))
	}
	var log []contract.LoggedEvent
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/events", nil, &log)
	if len(log) != 4 || !log[2].Void || log[1].Void || log[1].Event.Id != cap["id"] {
		t.Errorf("the log: %+v", log)
	}
	r.book(b.Id, r.event("closed", 9, map[string]any{"reason": "stopped for the test"}))
	if p := r.fails("POST", "/api/v1/breakdowns/"+b.Id+"/events",
		r.event("noted", 10, map[string]any{"note": "late"})); p.Status != 409 {
		t.Errorf("an event on a closed breakdown: %+v", p)
	}
	other := r.onBench("T-2", "seamed")
	cap["kind"] = "opened"
	cap["part"], cap["net_g"] = "", 6600
	if p := r.fails("POST", "/api/v1/breakdowns/"+other.Id+"/events", cap); p.Status != 409 ||
		(*p.Errors)[0].Field != "id" {
		t.Errorf("an id of another breakdown: %+v", p)
	}
}

// The read tables are what the log folds to, after every event.
func TestReadTablesFollowTheLog(t *testing.T) {
	r := newRig(t)
	b := r.onBench("T-1", "seamed")
	events := []map[string]any{r.event("opened", 0, map[string]any{"net_g": 6600}),
		r.event("seamed_off", 1, map[string]any{"part": "tri_tip", "net_g": 1000}),
		r.event("trimmed", 2, map[string]any{"part": "trim", "net_g": 31.5}), r.event("paused", 3, nil),
		r.event("resumed", 4, nil)}
	events = append(events, r.event("weighed_again", 5, map[string]any{"target": events[1]["id"], "net_g": 1015}),
		r.event("undone", 6, map[string]any{"target": events[2]["id"]}))
	for _, e := range events {
		b = r.book(b.Id, e)
		shop, err := r.store.FirstShop(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		row, err := r.store.Breakdown(t.Context(), shop.ID, b.Id)
		if err != nil {
			t.Fatal(err)
		}
		outputs, err := r.store.Outputs(t.Context(), shop.ID, row.ID)
		if err != nil {
			t.Fatal(err)
		}
		if len(outputs) != len(b.Rows) || row.Events != b.Booked || row.State != string(b.State) || float64(row.OutputMg)/
			1000 != b.Balance.OutputG {
			t.Fatalf("after %s: %d rows of %d, row %+v, board %+v", e["kind"], len(outputs), len(b.Rows), row, b.Balance)
		}
		for _, o := range outputs {
			i := slices.IndexFunc(b.Rows, func(x contract.BoardRow) bool { return x.EventId == o.Node })
			if i < 0 || b.Rows[i].WeightG != float64(o.MassMg)/1000 {
				t.Errorf("after %s: %s stands with %d mg", e["kind"], o.Part, o.MassMg)
			}
		}
	}
	if b.Balance.OutputG != 1015 {
		t.Errorf("%v g on the board", b.Balance.OutputG)
	}
}

// Rule: the second writer of a form gets a clear 409, not a lost update.
func TestSecondWriterIsTold(t *testing.T) {
	r := newRig(t)
	var l contract.Lot
	r.ok("POST", "/api/v1/lots", arrival("T-1"), &l)
	plan := "/api/v1/pieces/" + l.PieceIds[0] + "/plan"
	r.ok("PUT", plan, map[string]any{"plan_id": "seamed", "version": 1}, nil)
	if p := r.fails("PUT", plan, map[string]any{"plan_id": "traditional", "version": 1}); p.Status != 409 {
		t.Errorf("plan: %+v", p)
	}
	r.ok("PUT", "/api/v1/prices/beef.fat", map[string]any{"price": "0.5", "per": "kg", "version": 0}, nil)
	for _, version := range []int{0, 2} {
		if p := r.fails("PUT", "/api/v1/prices/beef.fat",
			map[string]any{"price": "0.7", "per": "kg", "version": version}); p.Status != 409 {
			t.Errorf("price at version %d: %+v", version, p)
		}
	}
	var b contract.Board
	r.ok("POST", "/api/v1/pieces/"+l.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	judge := "/api/v1/breakdowns/" + b.Id + "/judgement/cap"
	r.ok("PUT", judge, map[string]any{"method": "braise", "note": "an old cow", "version": 0}, nil)
	if p := r.fails("PUT", judge, map[string]any{"method": "stew", "note": "older still", "version": 0}); p.Status != 409 {
		t.Errorf("method: %+v", p)
	}
	var j contract.Judgement
	r.ok("PUT", judge, map[string]any{"method": "", "note": "", "version": 1}, &j)
	if j.Muscles[2].Chosen != "grill" {
		t.Errorf("back to the best: %s", j.Muscles[2].Chosen)
	}
	if p := r.fails("PUT", plan,
		map[string]any{"plan_id": "traditional", "version": 2}); (*p.Errors)[0].Code != "on_bench" {
		t.Errorf("a plan changed on the bench: %+v", p)
	}
}

// Benches that book at the same time lose nothing, and the board is the fold of all.
func TestBookingAtTheSameTime(t *testing.T) {
	r := newRig(t)
	b := r.onBench("T-1", "seamed")
	r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	const hands, each = 6, 5
	done := make(chan int, hands)
	for range hands {
		go func() {
			sum := 0
			for range each {
				status, _, _ := r.do("POST", "/api/v1/breakdowns/"+b.Id+"/events",
					map[string]any{"id": store.NewID(), "kind": "trimmed", "part": "trim", "net_g": 10,
						"at": today.Format("2006-01-02T15:04:05Z07:00"), "bench_id": r.shop.Benches[1].Id})
				if status == 200 {
					sum++
				}
			}
			done <- sum
		}()
	}
	booked := 0
	for range hands {
		booked += <-done
	}
	r.ok("GET", "/api/v1/breakdowns/"+b.Id, nil, &b)
	if booked != hands*each || b.Balance.OutputG != float64(booked*10) || b.Booked != booked+1 {
		t.Errorf("%d confirmed, %v g on the board, %d events", booked, b.Balance.OutputG, b.Booked)
	}
}

// Two programs on one database book on the same breakdown in turns: each sees the other's log, nothing is lost or
// doubled.
func TestTwoProgramsOnOneDatabase(t *testing.T) {
	r := newRig(t)
	other := serve(t, r.store, work.New(r.store, atlasOf(t), func() time.Time { return today }),
		Options{Web: fstest.MapFS{}, Scales: func(store.Bench) *device.Scale { return nil }})
	b := r.onBench("T-1", "seamed")
	open := r.event("opened", 0, map[string]any{"net_g": 6600})
	r.book(b.Id, open)
	if again := other.book(b.Id, open); !again.Repeated || again.Booked != 1 {
		t.Errorf("the second program does not know the event: %+v", again)
	}
	for i := range 10 {
		program := []*rig{r, other}[i%2]
		got := program.book(b.Id, program.event("trimmed", i, map[string]any{"part": "trim", "net_g": 10}))
		if got.Booked != i+2 || got.Balance.OutputG != float64(10*(i+1)) {
			t.Fatalf("booking %d: %d events, %v g", i, got.Booked, got.Balance.OutputG)
		}
	}
	// the same new event through both: booked once
	twice := r.event("trimmed", 20, map[string]any{"part": "trim", "net_g": 10})
	first, again := r.book(b.Id, twice), other.book(b.Id, twice)
	if first.Repeated || !again.Repeated || again.Balance.OutputG != 110 {
		t.Errorf("one event through two programs: %v, %v, %v g", first.Repeated, again.Repeated, again.Balance.OutputG)
	}
	// nothing is refused on what one program only remembers: the other has undone the gain meanwhile
	gain := r.book(b.Id, r.event("seamed_off", 21, map[string]any{"part": "heart_main", "net_g": 6700}))
	other.book(b.Id, other.event("undone", 22, map[string]any{"target": *gain.UndoTarget}))
	if closed := r.book(b.Id,
		r.event("closed", 23, map[string]any{"reason": "the rest was not weighed"})); closed.State != "closed" ||
		closed.Balance.OutputG != 110 {
		t.Errorf("closed through a program that remembered a gain: %s, %v g", closed.State, closed.Balance.OutputG)
	}
}

func atlasOf(t *testing.T) *atlas.Atlas {
	t.Helper()
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// A shop without prices is not told that something pays; a price that is set later answers also for what was cut
// before.
func TestNothingPaysWithoutPrices(t *testing.T) {
	r := newRig(t)
	var f contract.Forecast
	r.ok("POST", "/api/v1/forecast",
		`{"atlas_id":"beef.top_sirloin","pieces":1,"weight":"14.55","weight_unit":"lb","price":"5.17","price_per":"lb"}`, &f)
	if !strings.HasPrefix(f.Sentence, "Whether it pays cannot be said yet") || f.BetterPlan != nil ||
		len(f.Plans[0].Unpriced) != 4 {
		t.Errorf("%s better %v", f.Sentence, f.BetterPlan)
	}
	if f.Cost != "75.22" || f.TotalG != 6599.769 { // 14.55 · 5.17 = 75.2235; 14.55 · 453.59237 g
		t.Errorf("14.55 lb at 5.17 cost %s and weigh %v g", f.Cost, f.TotalG)
	}
	b := r.onBench("T-1", "seamed")
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	b = r.book(b.Id, r.event("seamed_off", 1, map[string]any{"part": "cap", "net_g": 960}))
	r.book(b.Id, r.event("closed", 2, map[string]any{"reason": "the rest went to the mincer unweighed"}))
	var c contract.Comparison
	path := "/api/v1/breakdowns/" + b.Id + "/comparison"
	r.ok("GET", path, nil, &c)
	if !strings.HasPrefix(c.Sentence,
		"Whether it paid cannot be said yet: there is no price for Rump steak, Diced rump, Mince trim, Rump cap steak") {
		t.Error(c.Sentence)
	}
	r.priced()
	r.ok("GET", path, nil, &c)
	// by hand: the cap alone, 19.81 and 0.96 of mince − 12.54 − 2.05 − 1.17; packaging 0.11 and 0.12; 2 min against 7 at
	// 24 an hour
	if c.Difference != "7.02" {
		t.Errorf("difference %s: %s", c.Difference, c.Sentence)
	}
}
