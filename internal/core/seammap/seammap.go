// Package seammap draws the section of a piece: every muscle is a region at its anatomical place with its area in
// proportion to its weight, and the lines between neighbours are the seams.
//
// It is a capacity-constrained power diagram: the half-planes of a power diagram of the atlas' positions are clipped
// from the outline, and the weights are moved by a damped Newton iteration until every area agrees. The result depends
// on its arguments alone and is the same on every run. Method: Aurenhammer, Hoffmann & Aronov 1998, Algorithmica 20,
// for the existence of such weights; Kitagawa, Mérigot & Thibert 2019, Journal of the EMS 21, for the damping (from
// memory).
package seammap

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/mat"
)

// Point is a point of the section, in its units, y downward.
type Point struct{ X, Y float64 }

// Site is a muscle's place and weight.
type Site struct {
	ID     string
	At     Point
	Weight float64 // above 0; in any unit
}

// Area is a muscle's region.
type Area struct {
	ID      string
	Polygon []Point
	Centre  Point   // of gravity
	Share   float64 // of the whole section, 0–1
	Room    float64 // radius of the largest circle about Centre that stays inside
}

// Seam is the line between two neighbours.
type Seam struct {
	A, B     string
	From, To Point
}

// Map is a drawn section.
type Map struct {
	Outline []Point
	Areas   []Area
	Seams   []Seam
}

// maxRounds bounds the iteration; it converges in about ten.
const maxRounds = 100

// precision is how far an area may be off, as a part of the whole section.
const precision = 1e-6

// Draw draws sites in an outline. In one that is not convex, such as that of a carcass with its shanks, the corners of
// an area may follow a seam beyond the outline and back; what is drawn is clipped by the outline. It fails when there
// are no sites, a weight is not above zero, two sites fall together, or a site lies outside of the outline.
func Draw(outline []Point, sites []Site) (Map, error) {
	whole := area(outline)
	if len(sites) == 0 || whole <= 0 {
		return Map{}, errors.New("seammap: nothing to draw")
	}
	total := 0.0
	for i, s := range sites {
		if s.Weight <= 0 || math.IsNaN(s.Weight) || math.IsInf(s.Weight, 0) {
			return Map{}, errors.New("seammap: the weight of " + s.ID + " is not above zero")
		}
		if !inside(outline, s.At) {
			return Map{}, errors.New("seammap: " + s.ID + " lies outside of the outline")
		}
		for _, o := range sites[:i] {
			if o.At == s.At {
				return Map{}, errors.New("seammap: " + o.ID + " and " + s.ID + " lie on one point")
			}
		}
		total += s.Weight
	}
	target := make([]float64, len(sites))
	for i, s := range sites {
		target[i] = s.Weight / total * whole
	}
	d := &diagram{outline: outline, sites: sites, target: target, whole: whole}
	if err := d.solve(); err != nil {
		return Map{}, err
	}
	return d.result(), nil
}

type diagram struct {
	outline []Point
	sites   []Site
	target  []float64
	whole   float64
	power   []float64
	cells   []cell
}

// cell is a clipped polygon; from[i] is the site whose half-plane made the edge that starts at corner i, −1 the
// outline.
type cell struct {
	corners []Point
	from    []int
	area    float64
}

// solve moves the powers by damped Newton steps: never so far that a cell falls below half of the smallest target or
// first area, always so that the error shrinks.
func (d *diagram) solve() error {
	n := len(d.sites)
	d.power = make([]float64, n)
	d.cells = d.cut(d.power)
	floor := math.Inf(1)
	for i, c := range d.cells {
		floor = math.Min(floor, math.Min(c.area, d.target[i])/2)
	}
	for range maxRounds {
		off := d.error(d.cells)
		if off <= precision*d.whole {
			return nil
		}
		step, err := d.newton()
		if err != nil {
			return err
		}
		moved := false
		for damp := 1.0; damp > 1e-6; damp /= 2 {
			try := make([]float64, n)
			for i := range try {
				try[i] = d.power[i] + damp*step[i]
			}
			cells := d.cut(try)
			if smallest(cells) >= floor && d.error(cells) <= (1-damp/2)*off {
				d.power, d.cells, moved = try, cells, true
				break
			}
		}
		if !moved {
			return errors.New("seammap: the areas do not settle")
		}
	}
	return errors.New("seammap: the areas do not settle")
}

// newton solves for the step that would make the areas right if they changed linearly. The area of a cell grows with
// its own power by edge length over twice the distance of the two sites, for each neighbour. One power is held still.
func (d *diagram) newton() ([]float64, error) {
	n := len(d.sites)
	step := make([]float64, n)
	if n == 1 {
		return step, nil
	}
	h := mat.NewDense(n-1, n-1, nil)
	rhs := mat.NewVecDense(n-1, nil)
	for i := range n - 1 {
		rhs.SetVec(i, d.target[i]-d.cells[i].area)
		c := d.cells[i]
		for k, j := range c.from {
			if j < 0 {
				continue
			}
			a, b := c.corners[k], c.corners[(k+1)%len(c.corners)]
			slope := dist(a, b) / (2 * dist(d.sites[i].At, d.sites[j].At))
			h.Set(i, i, h.At(i, i)+slope)
			if j < n-1 {
				h.Set(i, j, h.At(i, j)-slope)
			}
		}
	}
	var x mat.VecDense
	if err := x.SolveVec(h, rhs); err != nil {
		var condition mat.Condition
		if !errors.As(err, &condition) {
			return nil, err
		}
	}
	for i := range n - 1 {
		step[i] = x.AtVec(i)
	}
	return step, nil
}

func (d *diagram) error(cells []cell) float64 {
	worst := 0.0
	for i, c := range cells {
		worst = math.Max(worst, math.Abs(c.area-d.target[i]))
	}
	return worst
}

// cut clips every cell from the outline: point x belongs to i where |x−pᵢ|²−wᵢ is least.
func (d *diagram) cut(power []float64) []cell {
	cells := make([]cell, len(d.sites))
	for i, s := range d.sites {
		c := cell{corners: d.outline, from: make([]int, len(d.outline))}
		for k := range c.from {
			c.from[k] = -1
		}
		for j, o := range d.sites {
			if j == i {
				continue
			}
			nx, ny := 2*(o.At.X-s.At.X), 2*(o.At.Y-s.At.Y)
			limit := o.At.X*o.At.X + o.At.Y*o.At.Y - s.At.X*s.At.X - s.At.Y*s.At.Y + power[i] - power[j]
			c = c.clip(nx, ny, limit, j)
		}
		c.area = area(c.corners)
		cells[i] = c
	}
	return cells
}

// clip keeps the side of the line where nx·x + ny·y ≤ limit; the new edge came from site j.
func (c cell) clip(nx, ny, limit float64, j int) cell {
	var out cell
	for k, a := range c.corners {
		b := c.corners[(k+1)%len(c.corners)]
		da, db := nx*a.X+ny*a.Y-limit, nx*b.X+ny*b.Y-limit
		if da <= 0 {
			out.corners, out.from = append(out.corners, a), append(out.from, c.from[k])
		}
		if (da < 0 && db > 0) || (da > 0 && db < 0) {
			t := da / (da - db)
			p := Point{a.X + t*(b.X-a.X), a.Y + t*(b.Y-a.Y)}
			edge := j
			if da > 0 {
				edge = c.from[k]
			}
			out.corners, out.from = append(out.corners, p), append(out.from, edge)
		} else if da == 0 && db > 0 && len(out.from) > 0 {
			out.from[len(out.from)-1] = j
		}
	}
	return out
}

func (d *diagram) result() Map {
	m := Map{Outline: d.outline}
	for i, c := range d.cells {
		centre := Centroid(c.corners)
		m.Areas = append(m.Areas,
			Area{ID: d.sites[i].ID, Polygon: c.corners, Centre: centre, Share: c.area / d.whole, Room: room(c.corners, centre)})
		for k, j := range c.from {
			if j > i {
				m.Seams = append(m.Seams, Seam{d.sites[i].ID, d.sites[j].ID, c.corners[k], c.corners[(k+1)%len(c.corners)]})
			}
		}
	}
	return m
}
