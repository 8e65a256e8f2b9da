package seam

import (
	"maps"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// What was weighed of several together is shared without a milligram lost, each share within one milligram of its exact
// part.
func TestSharesAddUp(t *testing.T) {
	hand, err := Share(2970*measure.Gram, []measure.Mass{6400 * measure.Gram, 6600 * measure.Gram, 6800 * measure.Gram})
	if want := []measure.Mass{960 * measure.Gram, 990 * measure.Gram, 1020 * measure.Gram}; err != nil ||
		!slices.Equal(hand, want) {
		t.Errorf("by hand: %v, %v", hand, err)
	}
	rng := rand.New(rand.NewPCG(5, 2026))
	for range 2000 {
		pieces := make([]measure.Mass, 2+rng.IntN(49))
		var sum measure.Mass
		for i := range pieces {
			pieces[i] = 1 + measure.Mass(rng.Int64N(20_000_000))
			sum += pieces[i]
		}
		net := measure.Mass(len(pieces)) + measure.Mass(rng.Int64N(50_000_000))
		shares, err := Share(net, pieces)
		if err != nil {
			t.Fatal(err)
		}
		var back measure.Mass
		for i, s := range shares {
			back += s
			if exact := float64(net) * float64(pieces[i]) / float64(sum); float64(s) < exact-1 || float64(s) > exact+1 {
				t.Fatalf("a share of %d where %.3f is due", s, exact)
			}
		}
		if back != net {
			t.Fatalf("%d shared as %d", net, back)
		}
	}
	for name, pieces := range map[string][]measure.Mass{"a piece without a weight": {5, 0},
		"less than a milligram each": {5, 5, 5}} {
		if got, err := Share(2, pieces); fault.Of(err) == nil {
			t.Errorf("%s: %v", name, got)
		}
	}
}

// Temperatures are taken on the piece or on what is off it; an undone one is gone. Ends of a muscle come off it and
// nothing else.
func TestTemperaturesAndEnds(t *testing.T) {
	p, pl := rump(t)
	var l log
	rules := Rules{LossLimitPct: 1.5}
	c := func(v float64) *float64 { return &v }
	try := func(e Event) error {
		t.Helper()
		e.ID, e.At, e.Bench = "x", start, "b"
		return Check(p, pl, Fold(p, l), e, rules)
	}
	l.add(Event{Kind: Opened, Net: 6600 * measure.Gram})
	cap := l.add(Event{Kind: SeamedOff, Part: "cap", Net: 960 * measure.Gram})
	l.add(Event{Kind: Measured, TempC: c(3.4), Source: "probe"})
	warm := l.add(Event{Kind: Measured, Node: cap, TempC: c(8.1), Source: "typed"})
	b := Fold(p, l)
	if len(b.Temps) != 2 || b.Temps[1].C != 8.1 || b.Temps[1].Node != cap {
		t.Errorf("%+v", b.Temps)
	}
	if err := try(Event{Kind: Undone, Target: warm}); err != nil {
		t.Error(err)
	}
	l.add(Event{Kind: Undone, Target: warm})
	if b = Fold(p, l); len(b.Temps) != 1 || !b.Void[warm] {
		t.Errorf("after the undoing: %+v", b.Temps)
	}
	for name, bad := range map[string]Event{"no temperature": {Kind: Measured}, "boiling": {Kind: Measured, TempC: c(100)},
		"a node that is not there": {Kind: Measured, TempC: c(3), Node: "none"},
		"by a scale":               {Kind: Measured, TempC: c(3), Source: "scale"},
		"an end off the piece":     {Kind: SeamedOff, Part: "cap/front", Net: 5 * measure.Gram},
		"an end of another muscle": {Kind: SeamedOff, Part: "tri_tip/thick", Node: cap, Net: 5 * measure.Gram},
		"an end that is none":      {Kind: SeamedOff, Part: "cap/middle", Node: cap, Net: 5 * measure.Gram}} {
		if err := try(bad); fault.Of(err) == nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	if err := try(Event{Kind: SeamedOff, Part: "cap/front", Node: cap, Net: 600 * measure.Gram}); err != nil {
		t.Error(err)
	}
	l.add(Event{Kind: SeamedOff, Part: "cap/front", Node: cap, Net: 600 * measure.Gram})
	l.add(Event{Kind: SeamedOff, Part: "cap/back", Node: cap, Net: 355 * measure.Gram})
	if bal := Fold(p, l).Balance(cap, 5*measure.Gram, 1.5); bal.Residual != 5*measure.Gram {
		t.Errorf("the cap's own balance: %+v", bal)
	}
}

// The minutes of a seam are those since the weighing before it, pauses left out; of a share its part; a clock that is
// set back adds none.
func TestMinutesOfASeam(t *testing.T) {
	p, _ := rump(t)
	at := func(m int) time.Time { return start.Add(time.Duration(m) * time.Minute) }
	b := Fold(p, []Event{
		{ID: "1", Kind: Opened, Net: 6600 * measure.Gram, At: at(0)},
		{ID: "2", Kind: SeamedOff, Part: "tri_tip", Net: 1000 * measure.Gram, At: at(4)},
		{ID: "3", Kind: Paused, At: at(5)},
		{ID: "4", Kind: Resumed, At: at(25)},
		{ID: "5", Kind: SeamedOff, Part: "mouse", Net: 160 * measure.Gram, At: at(27)}, // 1 before the pause and 2 after
		{ID: "6", Kind: SeamedOff, Part: "cap", Net: 960 * measure.Gram, At: at(26)},   // a clock that was set back
		{ID: "7", Kind: Portioned, Node: "6", Product: "cap_steak", Net: 900 * measure.Gram, At: at(32)},
		{ID: "8", Kind: SeamedOff, Part: "heart_side", Net: 900 * measure.Gram, Shared: 3, At: at(38)},
		{ID: "9", Kind: Closed, Reason: "x", At: at(40)},
	})
	want := map[string]time.Duration{"tri_tip": 4 * time.Minute, "mouse": 3 * time.Minute, "cap": 5 * time.Minute,
		"heart_side": 2 * time.Minute}
	if got := b.Took(); !maps.Equal(got, want) {
		t.Errorf("%v, by hand %v", got, want)
	}
	if b.Worked != 20*time.Minute {
		t.Errorf("%s at the bench", b.Worked)
	}
}

// What several pieces are expected to give is the sum of what each is.
func TestExpectedOfSeveral(t *testing.T) {
	p, pl := rump(t)
	var a, b log
	a.add(Event{Kind: Opened, Net: 6000 * measure.Gram})
	b.add(Event{Kind: Opened, Net: 7000 * measure.Gram})
	a.add(Event{Kind: Trimmed, Part: "wedge_fat", Net: 170 * measure.Gram})
	b.add(Event{Kind: Trimmed, Part: "wedge_fat", Net: 190 * measure.Gram})
	a.add(Event{Kind: SeamedOff, Part: "tri_tip", Net: 900 * measure.Gram})
	one, two := Expect(p, pl, Fold(p, a), 6000*measure.Gram), Expect(p, pl, Fold(p, b), 7000*measure.Gram)
	sum := SumExpected([][]Expected{one, two})
	if len(sum) != len(one) {
		t.Fatalf("%d of %d", len(sum), len(one))
	}
	for i, e := range sum {
		if e.Mass != one[i].Mass+two[i].Mass || e.Low != one[i].Low+two[i].Low || e.Times != one[i].Times+two[i].Times ||
			e.Want != one[i].Want+two[i].Want {
			t.Errorf("%s: %+v of %+v and %+v", e.ID, e, one[i], two[i])
		}
	}
	if first := sum[Next(sum)]; first.ID != "tri_tip" || first.Times != 1 || first.Want != 2 {
		t.Errorf("the second tri-tip is still to come, and the next is %+v", first)
	}
}
