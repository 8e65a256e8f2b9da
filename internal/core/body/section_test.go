package body

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"falda/internal/core/seammap"
)

// Two places share a rectangle by a line at right angles to the line between them; by hand.
func TestDivideByHand(t *testing.T) {
	box := []Point{{X: 0, Y: 0}, {X: 10, Y: 0}, {X: 10, Y: 4}, {X: 0, Y: 4}}
	cells, err := Divide(box, []Point{{X: 2, Y: 2}, {X: 30, Y: 2}}, []float64{1, 3}) // the second lies outside
	if err != nil {
		t.Fatal(err)
	}
	for _, q := range cells[0].Ring {
		if q.X > 2.5+1e-4 {
			t.Errorf("the quarter on the left reaches to %g", q.X)
		}
	}
	if math.Abs(cells[0].Area-10) > 1e-3 || math.Abs(cells[1].Area-30) > 1e-3 {
		t.Errorf("areas %g and %g", cells[0].Area, cells[1].Area)
	}
}

// Rules: areas in their proportions, rings against the clock within the outline, no ring without an area, and the cells
// are those of a power diagram: each border is at right angles to the line between its places.
func TestDivideAnything(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 8))
	for n := range 300 {
		outline := superellipse(60+rng.Float64()*100, 30+rng.Float64()*80, 2+rng.Float64(), rng.Float64()*0.2)
		var places []Point
		var areas []float64
		whole := areaOf(outline)
		for range 2 + rng.IntN(11) {
			places = append(places, Point{X: (rng.Float64()*2.4 - 1.2) * 60, Y: (rng.Float64()*2.4 - 1.2) * 40})
			areas = append(areas, math.Pow(rng.Float64(), 3)*100)
		}
		areas[0], areas[1] = 0, 10
		cells, err := Divide(outline, places, areas)
		if err != nil {
			t.Fatalf("case %d: %v", n, err)
		}
		total := sum(areas)
		for i, c := range cells {
			if (areas[i] == 0) != (len(c.Ring) == 0) {
				t.Fatalf("case %d: area %g has %d corners", n, areas[i], len(c.Ring))
			}
			if math.Abs(c.Area/whole-areas[i]/total) > 1e-5 || (len(c.Ring) > 0 && seammap.SignedArea(c.Ring) <= 0) {
				t.Fatalf("case %d: cell %d has %g of %g", n, i, c.Area/whole, areas[i]/total)
			}
			for _, q := range c.Ring {
				if !within(outline, Point{}, Point{X: q.X * 0.9999, Y: q.Y * 0.9999}, 1) {
					t.Fatalf("case %d: %v lies outside", n, q)
				}
			}
		}
	}
}

func TestDivideRefuses(t *testing.T) {
	box := []Point{{X: 0, Y: 0}, {X: 10, Y: 0}, {X: 10, Y: 4}, {X: 0, Y: 4}}
	var two TwoPlaces
	if _, err := Divide(box, []Point{{X: 1, Y: 1}, {X: 2, Y: 2}, {X: 1, Y: 1}}, []float64{1, 1, 1}); !errors.As(err,
		&two) ||
		two != (TwoPlaces{0, 2}) {
		t.Errorf("two places on one: %v", err)
	}
	for _, bad := range [][]Point{box[:2], {box[0], box[2], box[1], box[3]},
		{{X: 0, Y: 0}, {X: 4, Y: 0}, {X: 1, Y: 1}, {X: 0, Y: 4}}, {{X: 0, Y: 0}, {X: 1, Y: 0}, {X: 2, Y: 0}}} {
		if _, err := Divide(bad, []Point{{X: 1, Y: 1}}, []float64{1}); !errors.Is(err, ErrOutline) {
			t.Errorf("%v: %v", bad, err)
		}
	}
	if _, err := Divide(box, []Point{{X: 1, Y: 1}}, []float64{0}); !errors.Is(err, ErrNothing) {
		t.Errorf("nothing: %v", err)
	}
}
