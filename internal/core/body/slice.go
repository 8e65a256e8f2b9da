package body

import (
	"math"

	"falda/internal/core/measure"
)

// Share is how much of a part lies in a slice.
type Share struct {
	Part string
	Mass measure.Mass
}

// upTo is the mass of a part before a fraction of the length, in milligrams.
func (b *Body) upTo(j int, at float64) float64 {
	x := math.Max(0, math.Min(1, at)) * Slices
	k := int(x)
	total := 0.0
	for i := range min(k, Slices) {
		total += b.masses[i][j]
	}
	if k < Slices {
		total += b.masses[k][j] * (x - float64(k))
	}
	return total
}

// Fraction is which part of all of a part lies between two millimetres of the axis.
func (b *Body) Fraction(part string, fromMm, toMm float64) float64 {
	j := b.index(part)
	if j < 0 || b.Parts[j].Mass == 0 {
		return 0
	}
	return (b.upTo(j, toMm/b.LengthMm) - b.upTo(j, fromMm/b.LengthMm)) / float64(b.Parts[j].Mass)
}

// Shows is from where to where along the axis a part is at least a share of the piece; both are the end of the axis
// where it never is.
func (b *Body) Shows(part string, share float64) (fromMm, toMm float64) {
	j := b.index(part)
	fromMm, toMm = b.LengthMm, b.LengthMm
	if j < 0 {
		return fromMm, toMm
	}
	thick, found := b.LengthMm/Slices, false
	for k := range Slices {
		if b.masses[k][j] < share*sum(b.masses[k]) || b.masses[k][j] == 0 {
			continue
		}
		if !found {
			fromMm, found = float64(k)*thick, true
		}
		toMm = float64(k+1) * thick
	}
	return fromMm, toMm
}

// Cut divides a body at millimetres along its axis, which rise: what of each part lies between each two, the ends of
// the piece included. All slices together hold each part to the milligram, by largest remainder.
func (b *Body) Cut(at []float64) [][]Share {
	edges := append(append([]float64{0}, at...), b.LengthMm)
	out := make([][]Share, len(edges)-1)
	for j, part := range b.Parts {
		weights := make([]int64, len(out)) // in thousandths of a milligram
		for i := range out {
			mg := b.upTo(j, edges[i+1]/b.LengthMm) - b.upTo(j, edges[i]/b.LengthMm)
			weights[i] = int64(math.Round(mg * 1000))
		}
		masses, err := measure.ApportionMass(part.Mass, weights)
		if err != nil { // it has no mass
			continue
		}
		for i, m := range masses {
			if m > 0 {
				out[i] = append(out[i], Share{part.ID, m})
			}
		}
	}
	return out
}

// Section is a cross-section: the outline, the cells of what lies within and the rings of what lies under the rim, in
// millimetres around its middle, y upward.
type Section struct {
	Outline []Point
	Cells   []PartCell
	Borders []Border
}

// PartCell is the region of a part in a section.
type PartCell struct {
	Part string
	Ring []Point // against the clock, not closed
}

// Border is where two parts touch in a section.
type Border struct {
	A, B   string
	Mm     float64
	Across float64 // which part of the face it crosses: its length by that of the face in its direction
}

// SectionAt gives the cross-section at a millimetre of the axis: that of the slice in which it lies.
func (b *Body) SectionAt(mm float64) (Section, error) {
	k := min(Slices-1, max(0, int(mm/b.LengthMm*Slices)))
	return b.section(k)
}

func (b *Body) section(k int) (Section, error) {
	at := middleOf(k)
	outline := b.outline(at)
	out := Section{Outline: b.scaled(outline)}
	var bands []Band
	for j, part := range b.Parts {
		if part.Band && b.areas[k][j] > 0 {
			bands = append(bands, Band{ID: part.ID, From: b.spans[j][0].At(at), To: b.spans[j][1].At(at),
				Area: b.areas[k][j]})
		}
	}
	inner, rings := peel(outline, bands)
	for i, ring := range rings {
		out.Cells = append(out.Cells, PartCell{bands[i].ID, CounterClockwise(b.scaled(ring))})
	}
	var of []int
	var places []Point
	var areas []float64
	w, h := b.shape[0].At(at)/2, b.shape[1].At(at)/2
	for j, part := range b.Parts {
		if part.Placed && !part.Band && b.areas[k][j] > 0 {
			of = append(of, j)
			places = append(places, Point{X: b.places[j][0].At(at) * w, Y: b.places[j][1].At(at) * h})
			areas = append(areas, b.areas[k][j])
		}
	}
	if len(of) == 0 {
		return out, nil
	}
	m, drawn, err := draw(inner, places, areas)
	if err != nil {
		return out, err
	}
	id := map[string]string{}
	for i, a := range m.Areas {
		part := b.Parts[of[drawn[i]]].ID
		id[a.ID] = part
		out.Cells = append(out.Cells, PartCell{part, CounterClockwise(b.scaled(a.Polygon))})
	}
	for _, s := range m.Seams {
		dx, dy := s.To.X-s.From.X, s.To.Y-s.From.Y
		if l := math.Hypot(dx, dy); l > 0 {
			out.Borders = append(out.Borders, Border{id[s.A], id[s.B], l * b.Scale, l / extent(outline, dx/l, dy/l)})
		}
	}
	return out, nil
}

// extent is how long a polygon is in a direction of length 1.
func extent(p []Point, dx, dy float64) float64 {
	low, high := math.Inf(1), math.Inf(-1)
	for _, q := range p {
		along := q.X*dx + q.Y*dy
		low, high = math.Min(low, along), math.Max(high, along)
	}
	return high - low
}

func (b *Body) scaled(p []Point) []Point {
	out := make([]Point, len(p))
	for i, q := range p {
		out[i] = Point{X: q.X * b.Scale, Y: q.Y * b.Scale}
	}
	return out
}

// Seam is where two parts touch along a piece.
type Seam struct {
	A, B         string
	AreaCm2      float64
	FromMm, ToMm float64
}

// Seams gives every seam of a body, worked out once: its area is its length in each section times the thickness of the
// slices. A body of two halves has each seam twice.
func (b *Body) Seams() ([]Seam, error) { return b.seams() }

func (b *Body) allSeams() ([]Seam, error) {
	thick := b.LengthMm / Slices
	sides := 1.0
	if b.half {
		sides = 2
	}
	at := map[[2]string]int{}
	var out []Seam
	for k := range Slices {
		s, err := b.section(k)
		if err != nil {
			return nil, err
		}
		for _, border := range s.Borders {
			key := [2]string{border.A, border.B}
			i, ok := at[key]
			if !ok {
				i = len(out)
				at[key] = i
				out = append(out, Seam{A: border.A, B: border.B, FromMm: float64(k) * thick})
			}
			out[i].AreaCm2 += sides * border.Mm * thick / 100
			out[i].ToMm = float64(k+1) * thick
		}
	}
	return out, nil
}

// Run is how much of a part there is along a piece: the grams of each millimetre, at the middles of the slices.
type Run struct {
	FromMm, ToMm float64 // where it begins and ends
	Mm           []float64
	GramsPerMm   []float64
}

// Whole gives the profile of the whole piece along the axis.
func (b *Body) Whole() Run {
	r := b.run(func(k int) float64 { return sum(b.masses[k]) })
	r.FromMm, r.ToMm = 0, b.LengthMm
	return r
}

// RunOf gives the profile of a part along the axis.
func (b *Body) RunOf(part string) (Run, bool) {
	j := b.index(part)
	if j < 0 || !b.Parts[j].Placed || b.Parts[j].Mass == 0 {
		return Run{}, false
	}
	return b.run(func(k int) float64 { return b.masses[k][j] }), true
}

// run is the profile of what has so many milligrams in each slice.
func (b *Body) run(mass func(k int) float64) Run {
	thick := b.LengthMm / Slices
	r := Run{FromMm: -1}
	for k := range Slices {
		r.Mm = append(r.Mm, (float64(k)+0.5)*thick)
		r.GramsPerMm = append(r.GramsPerMm, mass(k)/float64(measure.Gram)/thick)
		if mass(k) > 0 {
			if r.FromMm < 0 {
				r.FromMm = float64(k) * thick
			}
			r.ToMm = float64(k+1) * thick
		}
	}
	return r
}

// Muscles counts the muscles of a slice that are more than a share of it.
func (b *Body) Muscles(slice []Share, least float64) (n int) {
	total := measure.Mass(0)
	for _, s := range slice {
		total += s.Mass
	}
	for _, s := range slice {
		if j := b.index(s.Part); j >= 0 && b.Parts[j].Lean && float64(s.Mass) > least*float64(total) {
			n++
		}
	}
	return n
}
