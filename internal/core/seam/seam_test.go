package seam

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

var start = time.Date(2026, 3, 2, 7, 0, 0, 0, time.UTC)

func rump(t testing.TB) (atlas.Piece, atlas.Plan) {
	t.Helper()
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	p, _ := a.Find("beef.top_sirloin")
	pl, ok := p.Plan("seamed")
	if !ok {
		t.Fatal("no seamed plan")
	}
	return p, pl
}

// log builds events with ids e1, e2 … a minute apart.
type log []Event

func (l *log) add(e Event) string {
	e.ID = fmt.Sprintf("e%d", len(*l)+1)
	e.At = start.Add(time.Duration(len(*l)) * time.Minute)
	*l = append(*l, e)
	return e.ID
}

// randomLog makes a tree of weighings three levels deep, with undos, re-weighings, pauses and closes; each event is
// booked only when Check lets it.
func randomLog(t *testing.T, rng *rand.Rand, p atlas.Piece, pl atlas.Plan, n int) log {
	t.Helper()
	var l log
	var nodes []string
	rules := Rules{LossLimitPct: 1.5, Division: 5 * measure.Gram}
	for len(l) < n {
		e := Event{Net: measure.Mass(1 + rng.Int64N(900_000)), Reason: "as found",
			Division: measure.Mass(rng.IntN(3)) * 5 * measure.Gram}
		if len(nodes) > 0 && rng.IntN(2) == 0 {
			e.Node = nodes[rng.IntN(len(nodes))]
		}
		switch k := rng.IntN(12); {
		case len(l) == 0:
			e.Kind, e.Net, e.Node = Opened, 5*measure.Kilogram+measure.Mass(rng.Int64N(2_000_000)), ""
		case k < 3:
			e.Kind, e.Part = SeamedOff, p.Muscles[rng.IntN(len(p.Muscles))].ID
		case k < 4:
			e.Kind, e.Part = Trimmed, "trim"
		case k < 6:
			e.Kind, e.Product = Portioned, pl.Products[rng.IntN(len(pl.Products))].ID
		case k < 7:
			e.Kind = Discarded
		case k < 9:
			e.Kind, e.Target = Undone, l[rng.IntN(len(l))].ID
		case k < 10:
			e.Kind, e.Target = WeighedAgain, l[rng.IntN(len(l))].ID
		case k < 11:
			e.Kind = []Kind{Paused, Resumed, Moved, Reopened, Inspected}[rng.IntN(5)]
			e.Target, e.Part, e.Note = l[rng.IntN(len(l))].ID, p.Muscles[rng.IntN(len(p.Muscles))].ID, "blood_shot"
		default:
			e.Kind = Closed
		}
		e.ID, e.At = fmt.Sprintf("e%d", len(l)+1), start.Add(time.Duration(len(l))*time.Minute)
		b := Fold(p, l)
		if Check(p, pl, b, e, rules) != nil {
			if b.Closed() {
				return l
			}
			e = Event{ID: e.ID, At: e.At, Kind: Noted, Note: "passed over"}
		}
		l = append(l, e)
		if e.Kind.Weighs() {
			nodes = append(nodes, e.ID)
		}
	}
	return l
}

// Rules: every closed node's children and loss add up to its input exactly; the fold is deterministic; a repeated id
// changes nothing.
func TestRandomTreesCloseExactly(t *testing.T) {
	p, pl := rump(t)
	rng := rand.New(rand.NewPCG(11, 12))
	closedNodes := 0
	for range 700 {
		l := randomLog(t, rng, p, pl, 5+rng.IntN(60))
		b := Fold(p, l)
		for _, n := range b.Nodes {
			if !n.Closed {
				continue
			}
			closedNodes++
			sum := n.Loss
			for _, c := range n.Children {
				child, ok := b.Node(c)
				if !ok {
					t.Fatalf("child %s is not on the board", c)
				}
				sum += child.Mass
			}
			if sum != n.Mass {
				t.Fatalf("node %s: children and loss add to %d, input %d", n.ID, sum, n.Mass)
			}
		}
		if again := Fold(p, slices.Clone(l)); !reflect.DeepEqual(again, b) {
			t.Fatal("the same log folds into another board")
		}
		twice := append(slices.Clone(l), l[rng.IntN(len(l))])
		if !reflect.DeepEqual(Fold(p, twice), b) {
			t.Fatal("a repeated event changed the board")
		}
	}
	if closedNodes < 100 {
		t.Fatalf("only %d closed nodes were looked at", closedNodes)
	}
}

// Rule: undoing an event gives back the board as it was; undoing the undo brings it back.
func TestUndoRestores(t *testing.T) {
	p, pl := rump(t)
	rng := rand.New(rand.NewPCG(13, 14))
	tried := 0
	for range 400 {
		l := randomLog(t, rng, p, pl, 3+rng.IntN(30))
		last := l[len(l)-1]
		before, after := Fold(p, l[:len(l)-1]), Fold(p, l)
		if last.Kind == Undone || last.Kind == Noted {
			continue
		}
		tried++
		undone := append(slices.Clone(l), Event{ID: "u1", Kind: Undone, Target: last.ID, At: last.At})
		if got := Fold(p, undone); !reflect.DeepEqual(strip(got), strip(before)) {
			t.Fatalf("undoing %s does not restore the board:\n%+v\n%+v", last.Kind, strip(got), strip(before))
		}
		redone := append(undone, Event{ID: "u2", Kind: Undone, Target: "u1", At: last.At})
		if got := Fold(p, redone); !reflect.DeepEqual(strip(got), strip(after)) {
			t.Fatalf("undoing the undo of %s does not bring it back", last.Kind)
		}
	}
	if tried < 100 {
		t.Fatalf("only %d undos were tried", tried)
	}
}

// strip leaves out the log's own bookkeeping.
func strip(b Board) Board { b.Events, b.Void, b.known = 0, nil, nil; return b }

// By hand: 5,480 g in; 1,180 + 2,300 + 1,930 = 5,410 out; 70 g or 1.2774 % left; e = 5 g and three outputs give
// 3·5·√(4/12) = 8.66 g.
func TestBalanceByHand(t *testing.T) {
	g := func(m ...int64) (out []measure.Mass) {
		for _, x := range m {
			out = append(out, measure.Mass(x)*measure.Gram)
		}
		return out
	}
	for _, c := range []struct {
		outputs []measure.Mass
		limit   float64
		want    Verdict
	}{
		{g(1180, 2300, 1930), 1.5, Balanced},
		{g(1180, 2300, 1930), 1.2, LossHigh},
		{g(1180, 2300, 2008), 1.5, Balanced}, // 8 g over, within 8.66 g
		{g(1180, 2300, 2009), 1.5, Gain},     // 9 g over
		{nil, 1.5, LossHigh},
	} {
		b := Weigh(5480*measure.Gram, c.outputs, 5*measure.Gram, c.limit)
		if b.Verdict != c.want || b.Output+b.Residual != b.Input {
			t.Errorf("%v: %+v, want %s", c.outputs, b, c.want)
		}
	}
	if got := Tolerance(5*measure.Gram, 3); got != 8660 {
		t.Errorf("tolerance %d mg, want 8660", got)
	}
}

// The tolerance covers what rounding to a division can do: over many random breakdowns weighed on a 5 g scale, a true
// gain of nothing is called a gain in fewer than 1 of 200 (three standard deviations: 0.135 %, normal law).
func TestToleranceHoldsOnARoundingScale(t *testing.T) {
	rng := rand.New(rand.NewPCG(15, 16))
	const e = 5 * measure.Gram
	round := func(m measure.Mass) measure.Mass { return (m + e/2) / e * e }
	gains, rounds := 0, 20_000
	for range rounds {
		var out []measure.Mass
		sum := measure.Mass(0)
		for range 3 + rng.IntN(10) {
			m := measure.Mass(50_000 + rng.Int64N(2_000_000))
			sum += m
			out = append(out, round(m))
		}
		if Weigh(round(sum), out, e, 1.5).Verdict == Gain {
			gains++
		}
	}
	if gains*200 > rounds {
		t.Errorf("%d of %d called a gain", gains, rounds)
	}
}

func TestOrderFollowsTheSeams(t *testing.T) {
	p, pl := rump(t)
	order := p.Order()
	if len(order) != len(p.Muscles) {
		t.Fatalf("order %v", order)
	}
	for i, id := range order {
		m, _ := p.Muscle(id)
		for _, a := range m.Seam.After {
			if slices.Index(order, a) > i {
				t.Errorf("%s comes off before %s", id, a)
			}
		}
	}
	var l log
	l.add(Event{Kind: Opened, Net: 6600 * measure.Gram})
	want := map[string]bool{"tri_tip": true}
	for _, e := range Expect(p, pl, Fold(p, l), 0) {
		if e.Kind == atlas.KindMuscle && e.Reachable != want[e.ID] {
			t.Errorf("%s reachable %v", e.ID, e.Reachable)
		}
	}
	l.add(Event{Kind: SeamedOff, Part: "heart_main", Net: 2400 * measure.Gram})
	if n, _ := Fold(p, l).Node("e2"); !n.OutOfOrder {
		t.Error("the heart before the cap is not marked as out of order")
	}
	exp := Expect(p, pl, Fold(p, l), 0)
	if n := Next(exp); exp[n].ID != "wedge_fat" { // it points into the seam of the tri-tip
		t.Errorf("next is %s", exp[n].ID)
	}
	l.add(Event{Kind: Trimmed, Part: "wedge_fat", Net: 180 * measure.Gram})
	l.add(Event{Kind: SeamedOff, Part: "tri_tip", Net: 1023 * measure.Gram})
	exp = Expect(p, pl, Fold(p, l), 0)
	if n := Next(exp); exp[n].ID != "mouse" {
		t.Errorf("next is %s", exp[n].ID)
	}
}

func TestQuestionsAreQuiet(t *testing.T) {
	p, pl := rump(t)
	var l log
	l.add(Event{Kind: Opened, Net: 6600 * measure.Gram})
	l.add(Event{Kind: SeamedOff, Part: "cap", Net: 500 * measure.Gram})
	l.add(Event{Kind: SeamedOff, Part: "tri_tip", Net: 1020 * measure.Gram})
	l.add(Event{Kind: SeamedOff, Part: "tri_tip", Net: 1020 * measure.Gram})
	asked := map[string]string{}
	for _, e := range Expect(p, pl, Fold(p, l), 0) {
		asked[e.ID] = e.Question(measure.UnitKilogram)
	}
	// by hand: 14.5 % of 6.6 kg is 0.957 kg, less 0.5 kg; twice 1.02 kg less 15.5 % of 6.6 kg
	if asked["cap"] != "0.46 kg under the usual weight. A piece left on its neighbour?" {
		t.Error(asked["cap"])
	}
	if asked["tri_tip"] != "Weighed twice, 1.02 kg over the usual weight. Booked twice?" {
		t.Error(asked["tri_tip"])
	}
}

func TestClockPausesAndMinutes(t *testing.T) {
	p, _ := rump(t)
	at := func(k Kind, min int) Event {
		return Event{ID: fmt.Sprint(k, min), Kind: k, At: start.Add(time.Duration(min) * time.Minute),
			Net: 6600 * measure.Gram}
	}
	l := []Event{at(Opened, 0), at(Paused, 5), at(Resumed, 35)}
	if got := Fold(p, l).Minutes(start.Add(40 * time.Minute)); got != 10 {
		t.Errorf("%v minutes while running, want 10", got)
	}
	closed := append(l, at(Closed, 47))
	if got := Fold(p, closed).Minutes(start.Add(200 * time.Minute)); got != 17 {
		t.Errorf("%v minutes, want 17", got)
	}
	given := 12.5
	closed[3].Minutes = &given
	if got := Fold(p, closed).Minutes(start); got != 12.5 {
		t.Errorf("%v minutes, want those given", got)
	}
	back := []Event{at(Opened, 10), at(Paused, 3)} // a clock set back adds nothing
	if got := Fold(p, back).Minutes(start); got != 0 {
		t.Errorf("%v minutes from a clock set back", got)
	}
}

func TestCheckNamesTheFieldAndTheWayOut(t *testing.T) {
	p, pl := rump(t)
	var l log
	l.add(Event{Kind: Opened, Net: 6600 * measure.Gram, Division: 5 * measure.Gram})
	cap := l.add(Event{Kind: SeamedOff, Part: "cap", Net: 950 * measure.Gram, Division: 5 * measure.Gram})
	slip := l.add(Event{Kind: Trimmed, Part: "trim", Node: cap, Net: 30 * measure.Gram})
	open := Fold(p, l)
	full := append(slices.Clone(l), Event{ID: "f", Kind: Trimmed, Part: "trim", Net: 5700 * measure.Gram})
	shut := append(slices.Clone(l), Event{ID: "c", Kind: Closed, Reason: "lunch"})
	g := measure.Gram
	for name, c := range map[string]struct {
		b           Board
		e           Event
		field, code string
	}{
		"unknown kind": {open, Event{Kind: "eaten"}, "kind", "unknown"},
		"not opened":   {Fold(p, nil), Event{Kind: SeamedOff, Part: "cap", Net: g}, "kind", "not_opened"},
		"opened twice": {open, Event{Kind: Opened, Net: 6600 * g}, "kind", "opened"},
		"absurd piece": {Fold(p, nil), Event{Kind: Opened, Net: 66_000 * g}, "net_g", "absurd"},
		"negative":     {open, Event{Kind: SeamedOff, Part: "mouse", Net: -g}, "net_g", "not_positive"},
		"too heavy":    {open, Event{Kind: SeamedOff, Part: "mouse", Net: measure.MaxMass + 1}, "net_g", "too_large"},
		"gross, tare, net": {open, Event{Kind: SeamedOff, Part: "mouse", Net: 100 * g, Gross: 300 * g, Tare: 100 * g},
			"net_g", "not_net"},
		"not a muscle":     {open, Event{Kind: SeamedOff, Part: "trim", Net: g}, "part", "unknown"},
		"not a trim":       {open, Event{Kind: Trimmed, Part: "cap", Net: g}, "part", "unknown"},
		"bin, no reason":   {open, Event{Kind: Discarded, Net: g}, "reason", "required"},
		"of no plan":       {open, Event{Kind: Portioned, Product: "chuck_steak", Net: g}, "product", "unknown"},
		"unknown node":     {open, Event{Kind: Trimmed, Part: "trim", Node: "e99", Net: g}, "node", "unknown"},
		"undo of nothing":  {open, Event{Kind: Undone}, "target", "required"},
		"undo of a guess":  {open, Event{Kind: Undone, Target: "elsewhere"}, "target", "unknown"},
		"undo under load":  {open, Event{Kind: Undone, Target: cap}, "target", "has_children"},
		"again of unknown": {open, Event{Kind: WeighedAgain, Target: "e99", Net: g}, "target", "unknown"},
		"empty note":       {open, Event{Kind: Noted}, "note", "required"},
		"resume unpaused":  {open, Event{Kind: Resumed}, "kind", "running"},
		"close, loss high": {Fold(p, append(slices.Clone(l), Event{ID: "s", Kind: Closed, Node: cap})), Event{Kind: Closed},
			"reason", "required"},
		"open children": {open, Event{Kind: Closed, Reason: "done"}, "node", "open_children"},
		"close with gain": {Fold(p, append(full, Event{ID: "s", Kind: Closed, Node: cap})), Event{Kind: Closed}, "node",
			"gain"},
		"after the close":  {Fold(p, shut), Event{Kind: Noted, Note: "x"}, "", "closed"},
		"leaf has nothing": {open, Event{Kind: Closed, Node: slip}, "node", "nothing_booked"},
	} {
		c.e.ID, c.e.At = "new", start
		found := fault.Of(Check(p, pl, c.b, c.e, Rules{LossLimitPct: 1.5, Division: 5 * g}))
		if !slices.ContainsFunc(found, func(f fault.Fault) bool { return f.Field == c.field && f.Code == c.code }) {
			t.Errorf("%s: %v, want %s of %q", name, found, c.code, c.field)
		}
	}
}

// BenchmarkFold folds a breakdown of 200 events.
func BenchmarkFold(b *testing.B) {
	p, _ := rump(b)
	var l log
	l.add(Event{Kind: Opened, Net: 6600 * measure.Gram})
	for i := range 199 {
		l.add(Event{Kind: SeamedOff, Part: p.Muscles[i%5].ID, Net: measure.Mass(i+1) * measure.Gram})
	}
	for b.Loop() {
		Fold(p, l)
	}
}

// A piece that was closed by mistake is opened again with a reason; what was weighed stands, and it closes anew.
func TestReopen(t *testing.T) {
	p, pl := rump(t)
	var l log
	rules := Rules{LossLimitPct: 1.5, Division: 5 * measure.Gram}
	root := l.add(Event{Kind: Opened, Net: 6600 * measure.Gram})
	l.add(Event{Kind: SeamedOff, Part: "cap", Net: 960 * measure.Gram})
	l.add(Event{Kind: Closed, Reason: "the rest is on the other board"})
	b := Fold(p, l)
	if err := Check(p, pl, b, Event{ID: "x", Kind: Reopened, At: start, Reason: " "}, rules); fault.Of(err) == nil ||
		fault.Of(err)[0].Field != "reason" {
		t.Errorf("opened again without a reason: %v", err)
	}
	l.add(Event{Kind: Reopened, Reason: "it was not"})
	b = Fold(p, l)
	if n, _ := b.Node(root); n.Closed || n.Loss != 0 || b.Closed() || !b.Open() {
		t.Errorf("it is still closed: %+v", n)
	}
	l.add(Event{Kind: SeamedOff, Part: "heart_main", Net: 5600 * measure.Gram})
	l.add(Event{Kind: Closed})
	b = Fold(p, l)
	// 2 minutes to the first close, 2 from the reopening to the second
	if n, _ := b.Node(root); !n.Closed || n.Loss != 40*measure.Gram || b.Minutes(start) != 4 {
		t.Errorf("closed anew: %+v, %g minutes", n, b.Minutes(start))
	}
	if err := Check(p, pl, b, Event{ID: "x", Kind: SeamedOff, Part: "cap", Net: 1, At: start}, rules); err == nil {
		t.Error("booked on a closed piece")
	}
}

// A weight that was booked on the wrong muscle is moved, not weighed again; the order of the seams follows.
func TestMove(t *testing.T) {
	p, pl := rump(t)
	var l log
	l.add(Event{Kind: Opened, Net: 6600 * measure.Gram})
	wrong := l.add(Event{Kind: SeamedOff, Part: "cap", Net: 1000 * measure.Gram})
	for _, bad := range []Event{{Part: "no_such"}, {Part: "trim"}, {Part: "mouse", Target: l[0].ID},
		{Part: "mouse", Target: "e99"}} {
		bad.ID, bad.Kind, bad.At = "x", Moved, start
		if bad.Target == "" {
			bad.Target = wrong
		}
		if Check(p, pl, Fold(p, l), bad, Rules{}) == nil {
			t.Errorf("moved: %+v", bad)
		}
	}
	good := Event{Kind: Moved, Target: wrong, Part: "tri_tip"}
	if err := Check(p, pl, Fold(p, l), Event{ID: "x", At: start, Kind: Moved, Target: wrong, Part: "tri_tip"},
		Rules{}); err != nil {
		t.Fatal(err)
	}
	l.add(good)
	b := Fold(p, l)
	if m, times := b.Taken("tri_tip", ""); m != 1000*measure.Gram || times != 1 {
		t.Errorf("tri-tip: %v, %d times", m, times)
	}
	if _, times := b.Taken("cap", ""); times != 0 {
		t.Error("the cap still has it")
	}
	for _, e := range Expect(p, pl, b, p.Typical()) {
		if e.ID == "cap" && !e.Reachable == true && slices.Contains(e.WaitsFor, "tri_tip") {
			t.Errorf("the cap waits for %v", e.WaitsFor)
		}
	}
}

// A muscle is dressed and portioned in a balance of its own: its children add up to it, and it to the piece.
func TestAMuscleOpens(t *testing.T) {
	p, pl := rump(t)
	var l log
	rules := Rules{LossLimitPct: 1.5, Division: 5 * measure.Gram}
	l.add(Event{Kind: Opened, Net: 6600 * measure.Gram})
	muscle := l.add(Event{Kind: SeamedOff, Part: "cap", Net: 960 * measure.Gram})
	for _, e := range []Event{{Kind: Portioned, Product: "cap_steak", Net: 860 * measure.Gram, Count: 4},
		{Kind: Trimmed, Part: "lean", Net: 45 * measure.Gram}, {Kind: Trimmed, Part: "fatty", Net: 20 * measure.Gram},
		{Kind: Discarded, Part: "silver", Net: 30 * measure.Gram}} {
		e.Node = muscle
		probe := e
		probe.ID, probe.At = "x", start
		if err := Check(p, pl, Fold(p, l), probe, rules); err != nil {
			t.Fatal(e, err)
		}
		l.add(e)
	}
	if err := Check(p, pl, Fold(p, l), Event{ID: "x", At: start, Kind: Trimmed, Part: "lean", Net: 5}, rules); err == nil {
		t.Error("lean trim of no muscle was booked")
	}
	l.add(Event{Kind: Closed, Node: muscle})
	b := Fold(p, l)
	if n, _ := b.Node(muscle); !n.Closed || n.Loss != 5*measure.Gram || b.Balance("", 0, 1.5).Output != 960*measure.Gram {
		t.Errorf("the muscle: %+v", n)
	}
	b = Fold(p, append(l, Event{ID: "looked", Kind: Inspected, Note: "blood_shot gland", At: start}))
	if !b.Looked || !slices.Equal(b.Found, []string{"blood_shot", "gland"}) {
		t.Errorf("looked over: %v %v", b.Looked, b.Found)
	}
	if Check(p, pl, b, Event{ID: "x", At: start, Kind: Inspected, Note: "ghost"}, rules) == nil {
		t.Error("a ghost was found")
	}
}

// By hand: 1,580 g and 316 g of stuffing in, 1,890 g out: 6 g are missing, of 1,896 g that went in. Three weighings of
// 5 g: 3·5·√(3/12) = 7.5 g. The same out of the meat alone would be a gain.
func TestWeighAdded(t *testing.T) {
	const g = measure.Gram
	out := []measure.Mass{1890 * g}
	b := WeighAdded(1580*g, 316*g, 1, out, 5*g, 1.5)
	if b.Residual != 6*g || b.Input != 1896*g || b.Tolerance != 7500*measure.Milligram || b.Verdict != Balanced {
		t.Errorf("%+v", b)
	}
	if b := Weigh(1580*g, out, 5*g, 1.5); b.Verdict != Gain {
		t.Errorf("without the stuffing: %+v", b)
	}
}
