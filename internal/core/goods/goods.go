package goods

import (
	"time"

	"falda/internal/core/measure"
)

// What becomes of goods.
const (
	Used    = "used"    // into a batch of something made
	Sold    = "sold"    // over the counter, or to an order
	Wasted  = "wasted"  // thrown away
	Counted = "counted" // more or less was there than the log says
	Moved   = "moved"   // all that is left, to another place
	Dated   = "dated"   // another use-by
	Reduced = "reduced" // sold for less from now on
	Undone  = "undone"  // takes another event back
)

// Place is where goods are.
type Place struct{ ID, Name string }

// Places lists them.
var Places = []Place{{"cold", "Cold room"}, {"counter", "Counter"}, {"frozen", "Freezer"}}

// KnownPlace says whether an id is one of them.
func KnownPlace(id string) bool {
	for _, p := range Places {
		if p.ID == id {
			return true
		}
	}
	return false
}

// Event is something that became of goods.
type Event struct {
	ID     string
	Kind   string
	Change measure.Mass // of what is left: below 0 where some of it went
	Place  string       // of what was moved
	UseBy  time.Time    // of what was dated
	Off    float64      // of what was reduced: per cent
	Undoes string       // id of the event that is taken back
}

// State is what there is of goods.
type State struct {
	Left, Used, Sold, Wasted measure.Mass
	Difference               measure.Mass // that counts have found, over all
	Place                    string
	UseBy                    time.Time
	Off                      float64 // per cent that it is sold for less
}

// Fold gives what there is of goods that were made in a place, with the use-by they had then. Events of an id that was
// there before, and those that were undone, do not count; of moves, dates and reductions the last holds.
func Fold(made measure.Mass, place string, useBy time.Time, events []Event) State {
	s := State{Left: made, Place: place, UseBy: useBy}
	undone, seen := map[string]bool{}, map[string]bool{}
	for _, e := range events {
		if e.Kind == Undone {
			undone[e.Undoes] = true
		}
	}
	for _, e := range events {
		if seen[e.ID] || undone[e.ID] || e.Kind == Undone {
			continue
		}
		seen[e.ID] = true
		s.Left += e.Change
		switch e.Kind {
		case Used:
			s.Used -= e.Change
		case Sold:
			s.Sold -= e.Change
		case Wasted:
			s.Wasted -= e.Change
		case Counted:
			s.Difference += e.Change
		case Moved:
			s.Place = e.Place
		case Dated:
			s.UseBy = e.UseBy
		case Reduced:
			s.Off = e.Off
		}
	}
	return s
}

// Take shares what goes from several goods that lie in one tub: of each as much of it as there is of the whole, for
// what lies together is mixed. Goods of which nothing is left give nothing; false where there is less than is taken.
func Take(left []measure.Mass, want measure.Mass) ([]measure.Mass, bool) {
	weights, total := make([]int64, len(left)), measure.Mass(0)
	for i, m := range left {
		weights[i] = max(0, int64(m))
		total += max(0, m)
	}
	if want > total || want < 0 {
		return nil, false
	}
	if total == 0 {
		return make([]measure.Mass, len(left)), true
	}
	out, err := measure.ApportionMass(want, weights)
	return out, err == nil
}

// Shelf is how many days a product keeps from the day it was cut, chilled and packed as usual, and frozen. Common
// practice, no source; what the house has found out for itself comes first.
type Shelf struct{ Chilled, Frozen int }

// shelf is by form; what is not named keeps as a steak does.
var shelf = map[string]Shelf{"trim": {2, 90}, "sausage_trim": {2, 90}, "fat": {5, 180}, "bone": {4, 180},
	"dice": {4, 270}, "strip": {4, 270}, "thin_slice": {3, 180}, "kebab": {3, 180}, "scallop": {3, 180},
	"roast": {7, 365}, "mini_roast": {7, 365}, "rack": {7, 365}, "whole": {7, 365}, "cushion": {4, 180},
	"offal": {2, 90}}

// ShelfOf is how long a form of product keeps.
func ShelfOf(form string) Shelf {
	if s, ok := shelf[form]; ok {
		return s
	}
	return Shelf{5, 270}
}
