package body

import (
	"errors"
	"fmt"
	"math"

	"falda/internal/core/seammap"
)

// Point is a point of a section, in its units.
type Point = seammap.Point

// Errors of a section that cannot be divided.
var (
	ErrOutline = errors.New("the outline is not a convex polygon with an area")
	ErrNothing = errors.New("no area is above 0")
)

// TwoPlaces says that two places are one.
type TwoPlaces struct{ First, Second int }

func (e TwoPlaces) Error() string {
	return fmt.Sprintf("places %d and %d are the same", e.First, e.Second)
}

// Cell is a part of a divided section; a part without an area has no ring.
type Cell struct {
	Ring []Point
	Area float64
}

// Divide divides a convex outline among places in the proportion of areas: the cells are those of a power diagram of
// the places. A place may lie outside, for the diagram depends on where places lie to each other: drawn together about
// a point, by whatever factor, they have the same diagrams.
//
// Aurenhammer, Hoffmann & Aronov 1998, Algorithmica 20, 61–76.
func Divide(outline, places []Point, areas []float64) ([]Cell, error) {
	if !convex(outline) {
		return nil, ErrOutline
	}
	m, at, err := draw(outline, places, areas)
	if err != nil {
		return nil, err
	}
	out := make([]Cell, len(places))
	for k, i := range at {
		out[i] = Cell{m.Areas[k].Polygon, areaOf(m.Areas[k].Polygon)}
	}
	return out, nil
}

// draw draws the places that have an area; at says which place each area of the map is of.
func draw(outline, places []Point, areas []float64) (m seammap.Map, at []int, err error) {
	for i, a := range places {
		for j, b := range places[:i] {
			if a == b {
				return m, nil, TwoPlaces{j, i}
			}
		}
	}
	centre := seammap.Centroid(outline)
	shrink := 1.0
	var sites []seammap.Site
	for i, a := range areas {
		if a <= 0 {
			continue
		}
		at = append(at, i)
		for shrink > 1e-6 && !within(outline, centre, places[i], shrink) {
			shrink *= 0.9
		}
	}
	if len(at) == 0 {
		return m, nil, ErrNothing
	}
	if shrink < 1 {
		shrink *= 0.9
	}
	for _, i := range at {
		p := places[i]
		sites = append(sites, seammap.Site{ID: fmt.Sprint(i), Weight: areas[i],
			At: Point{X: centre.X + shrink*(p.X-centre.X), Y: centre.Y + shrink*(p.Y-centre.Y)}})
	}
	m, err = seammap.Draw(outline, sites)
	return m, at, err
}

// within says whether a place lies in the outline once it is drawn towards the middle.
func within(outline []Point, centre, p Point, shrink float64) bool {
	q := Point{X: centre.X + shrink*(p.X-centre.X), Y: centre.Y + shrink*(p.Y-centre.Y)}
	for i, a := range outline {
		b := outline[(i+1)%len(outline)]
		if seammap.Turn(a, b, q) < 0 {
			return false
		}
	}
	return true
}

// convex says whether a polygon turns left at every corner, or straight on, and has an area.
func convex(p []Point) bool {
	if len(p) < 3 || seammap.SignedArea(p) <= 0 {
		return false
	}
	whole := seammap.SignedArea(p)
	for i, a := range p {
		b, c := p[(i+1)%len(p)], p[(i+2)%len(p)]
		if math.IsNaN(a.X+a.Y) || seammap.Turn(a, b, c) < -1e-9*whole {
			return false
		}
	}
	return true
}

func areaOf(p []Point) float64 { return math.Abs(seammap.SignedArea(p)) }

// CounterClockwise gives a polygon in the order against the clock, y upward.
func CounterClockwise(p []Point) []Point {
	if seammap.SignedArea(p) >= 0 {
		return p
	}
	out := make([]Point, len(p))
	for i, q := range p {
		out[len(p)-1-i] = q
	}
	return out
}
