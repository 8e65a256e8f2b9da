package body

import (
	"math"

	"falda/internal/core/seammap"
)

// Tube is a part of a body as rings along the axis, to be drawn in space: each ring has as many points as the next, and
// a point lies beside its fellow in the next ring. Rings are at the body's own size, in millimetres around its middle,
// y upward; of a body of two halves it is one.
type Tube struct {
	Part  string
	Mm    []float64 // along the axis: the first and last are where the part begins and ends
	Rings [][]Point
}

// Tubes gives the parts that have a place as rings of so many points at so many sections, evenly along the axis. Rings
// are smoothed along it a little, for the eye: they are no measure. Sections is from 2 to [Slices], points from 8 on.
func (b *Body) Tubes(sections, points int) ([]Tube, error) {
	sections, points = min(Slices, max(2, sections)), max(8, points)
	rings := make([]map[string][]Point, sections)
	at := make([]float64, sections)
	for i := range sections {
		k := int(math.Round(float64(i) / float64(sections-1) * (Slices - 1)))
		s, err := b.section(k)
		if err != nil {
			return nil, err
		}
		at[i] = middleOf(k) * b.LengthMm
		rings[i] = map[string][]Point{}
		for _, c := range s.Cells {
			if len(c.Ring) < 3 {
				continue
			}
			if j := b.index(c.Part); b.Parts[j].Band {
				rings[i][c.Part] = alongBand(c.Ring, points)
			} else {
				rings[i][c.Part] = byAngle(c.Ring, points)
			}
		}
	}
	var out []Tube
	for _, part := range b.Parts {
		if t, ok := tube(part.ID, at, rings, b.LengthMm); ok {
			out = append(out, t)
		}
	}
	return out, nil
}

// tube gathers the rings of a part over the longest stretch in which it is.
func tube(id string, at []float64, rings []map[string][]Point, length float64) (Tube, bool) {
	first, n := 0, 0
	for i := 0; i < len(rings); {
		run := 0
		for i+run < len(rings) && rings[i+run][id] != nil {
			run++
		}
		if run > n {
			first, n = i, run
		}
		i += run + 1
	}
	if n == 0 {
		return Tube{}, false
	}
	t := Tube{Part: id}
	for i := first; i < first+n; i++ {
		t.Mm, t.Rings = append(t.Mm, at[i]), append(t.Rings, rings[i][id])
	}
	t.Rings = smooth(t.Rings)
	ends := func(mm, outer float64, whole bool) float64 { // to the face of the piece, or half way to the next section
		if whole {
			return outer
		}
		return (mm + outer) / 2
	}
	before, after := 0.0, length
	if first > 0 {
		before = at[first-1]
	}
	if first+n < len(at) {
		after = at[first+n]
	}
	t.Mm = append(append([]float64{ends(t.Mm[0], before, first == 0)}, t.Mm...),
		ends(t.Mm[n-1], after, first+n == len(at)))
	t.Rings = append(append([][]Point{shrunk(t.Rings[0], first == 0)}, t.Rings...),
		shrunk(t.Rings[n-1], first+n == len(at)))
	return t, true
}

// shrunk is a ring as it ends: whole at the face of the piece, else run out to a third.
func shrunk(ring []Point, whole bool) []Point {
	if whole {
		return ring
	}
	c := seammap.Centroid(ring)
	out := make([]Point, len(ring))
	for i, p := range ring {
		out[i] = Point{X: c.X + (p.X-c.X)/3, Y: c.Y + (p.Y-c.Y)/3}
	}
	return out
}

// smooth takes the mean of each ring with its neighbours along the axis, the ring itself counting twice.
func smooth(rings [][]Point) [][]Point {
	out := make([][]Point, len(rings))
	for i, ring := range rings {
		before, after := rings[max(0, i-1)], rings[min(len(rings)-1, i+1)]
		out[i] = make([]Point, len(ring))
		for k, p := range ring {
			out[i][k] = Point{X: (before[k].X + 2*p.X + after[k].X) / 4, Y: (before[k].Y + 2*p.Y + after[k].Y) / 4}
		}
	}
	return out
}

// byAngle gives as many points of a convex ring, at equal angles around its centre.
func byAngle(ring []Point, points int) []Point {
	c := seammap.Centroid(ring)
	out := make([]Point, points)
	for k := range out {
		sin, cos := math.Sincos(2 * math.Pi * float64(k) / float64(points))
		far := 0.0
		for i, a := range ring {
			b := ring[(i+1)%len(ring)]
			// c + t·(cos, sin) on a + u·(b − a)
			dx, dy := b.X-a.X, b.Y-a.Y
			det := cos*dy - sin*dx
			if math.Abs(det) < 1e-12 {
				continue
			}
			t := ((a.X-c.X)*dy - (a.Y-c.Y)*dx) / det
			u := ((a.X-c.X)*sin - (a.Y-c.Y)*cos) / det
			if u >= -1e-9 && u <= 1+1e-9 && t > far {
				far = t
			}
		}
		out[k] = Point{X: c.X + far*cos, Y: c.Y + far*sin}
	}
	return out
}

// alongBand gives as many points of the ring of a band: half of them along its outer side, half back along its inner.
func alongBand(ring []Point, points int) []Point {
	outer := len(ring)/2 + 1
	out := make([]Point, 0, points)
	for _, side := range [][]Point{ring[:min(outer, len(ring))], ring[min(outer, len(ring))-1:]} {
		n := points / 2
		if len(out) > 0 {
			n = points - len(out)
		}
		out = append(out, spaced(side, n)...)
	}
	return out
}

// spaced gives as many points at equal lengths along an open line, its ends among them.
func spaced(line []Point, n int) []Point {
	upTo := make([]float64, len(line))
	for i := 1; i < len(line); i++ {
		upTo[i] = upTo[i-1] + math.Hypot(line[i].X-line[i-1].X, line[i].Y-line[i-1].Y)
	}
	out := make([]Point, n)
	i := 1
	for k := range out {
		want := upTo[len(upTo)-1] * float64(k) / float64(max(1, n-1))
		for i < len(line)-1 && upTo[i] < want {
			i++
		}
		if len(line) < 2 || upTo[i] == upTo[i-1] {
			out[k] = line[min(i, len(line)-1)]
			continue
		}
		t := (want - upTo[i-1]) / (upTo[i] - upTo[i-1])
		out[k] = Point{X: line[i-1].X + t*(line[i].X-line[i-1].X), Y: line[i-1].Y + t*(line[i].Y-line[i-1].Y)}
	}
	return out
}
