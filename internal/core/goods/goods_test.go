package goods

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"falda/internal/core/measure"
)

// By hand: of 10 kg 3 are used, 2 sold, one of the two sales is undone, a count finds 4 kg where the log says 5; it
// lies in the freezer now. An event that comes twice counts once.
func TestFoldByHand(t *testing.T) {
	kg := measure.Kilogram
	events := []Event{{ID: "a", Kind: Used, Change: -3 * kg}, {ID: "b", Kind: Sold, Change: -2 * kg},
		{ID: "a", Kind: Used, Change: -3 * kg}, {ID: "c", Kind: Sold, Change: -4 * kg},
		{ID: "d", Kind: Undone, Undoes: "c"}, {ID: "e", Kind: Counted, Change: -1 * kg},
		{ID: "f", Kind: Moved, Place: "frozen"}, {ID: "g", Kind: Dated, UseBy: time.Unix(9, 0)}}
	s := Fold(10*kg, "cold", time.Unix(1, 0), events)
	want := State{Left: 4 * kg, Used: 3 * kg, Sold: 2 * kg, Difference: -1 * kg, Place: "frozen", UseBy: time.Unix(9, 0)}
	if s != want {
		t.Errorf("%+v, want %+v", s, want)
	}
}

// Rule: nothing is lost, in whatever order events of mass come and however often.
func TestNothingIsLost(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for range 200 {
		made := measure.Mass(r.IntN(20_000_000))
		var events []Event
		for i := range r.IntN(20) {
			e := Event{ID: string(rune('a' + i)), Kind: []string{Used, Sold, Wasted, Counted}[r.IntN(4)],
				Change: -measure.Mass(r.IntN(900_000))}
			events = append(events, e)
			if r.IntN(4) == 0 {
				events = append(events, e)
			}
			if r.IntN(6) == 0 {
				events = append(events, Event{ID: "u" + e.ID, Kind: Undone, Undoes: e.ID})
			}
		}
		s := Fold(made, "cold", time.Time{}, events)
		if s.Left+s.Used+s.Sold+s.Wasted-s.Difference != made {
			t.Fatalf("%d made: %+v", made, s)
		}
		r.Shuffle(len(events), func(i, j int) { events[i], events[j] = events[j], events[i] })
		if again := Fold(made, "cold", time.Time{}, events); again != s {
			t.Fatalf("in another order: %+v, was %+v", again, s)
		}
	}
}

// By hand: 3 kg of a tub that holds 4, 2 and nothing are 2 and 1; of what is not there nothing is taken.
func TestTake(t *testing.T) {
	kg := measure.Kilogram
	got, ok := Take([]measure.Mass{4 * kg, 2 * kg, 0, -kg}, 3*kg)
	if !ok || !slices.Equal(got, []measure.Mass{2 * kg, kg, 0, 0}) {
		t.Errorf("%v, %v", got, ok)
	}
	if _, ok = Take([]measure.Mass{kg}, 2*kg); ok {
		t.Error("more was taken than there is")
	}
	if got, ok = Take([]measure.Mass{0}, 0); !ok || got[0] != 0 {
		t.Errorf("nothing of nothing: %v, %v", got, ok)
	}
}

func TestPlacesAndShelf(t *testing.T) {
	if !KnownPlace("frozen") || KnownPlace("roof") {
		t.Error("places are not told apart")
	}
	for _, form := range []string{"trim", "steak", "roast"} {
		if s := ShelfOf(form); s.Chilled < 1 || s.Frozen <= s.Chilled {
			t.Errorf("%s keeps %+v", form, s)
		}
	}
}
