package body

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"sync"

	"falda/internal/core/measure"
)

// Slices is into how many slices of equal thickness a body is divided along its axis.
const Slices = 64

// maxFactor is how much the rough percentages of the atlas may be corrected until they are taken for a mistake.
const maxFactor = 3

// Part is what lies in a body.
type Part struct {
	ID      string
	Mass    measure.Mass
	Density float64 // in g/cm³
	Lean    bool    // a muscle
	Band    bool    // it lies under the rim
	Placed  bool    // it has a place; what has none is spread over the lean
}

// Body is a piece with its inside, true to the weights of its parts.
type Body struct {
	LengthMm float64
	Weight   measure.Mass // of all its parts
	Parts    []Part
	Scale    float64 // by which the widths and heights of the atlas are scaled so that it weighs what it does
	Factor   float64 // by which the atlas' percentages were corrected at most
	Rounds   int     // of the fit

	half   bool
	shape  [4]Curve    // width, height, round and flat along the axis
	places [][2]Curve  // of each part: across and up
	spans  [][2]Curve  // of each band: its angles
	areas  [][]float64 // of each slice and part, in mm² of the atlas' size
	masses [][]float64 // of each slice and part, in milligrams
	seams  func() ([]Seam, error)
}

// ErrNone says that the atlas does not know the inside of a piece.
var ErrNone = errors.New("nothing is known of the inside of this piece")

// New gives the inside of a piece whose parts weigh so much; where they lie is taken from the sketch. What has no mass
// is left out. Where it is strict, a correction of the rough percentages by more than three is an error of the sketch;
// else they are corrected as far as it takes.
func New(sketch *Sketch, parts []Part, strict bool) (*Body, error) {
	if sketch == nil {
		return nil, ErrNone
	}
	b := &Body{LengthMm: sketch.Axis.LengthMm, half: sketch.Half}
	for _, x := range parts {
		x.Placed, x.Band = false, false
		for _, s := range sketch.Stations {
			_, cell := s.Cells[x.ID]
			_, band := s.Bands[x.ID]
			x.Placed, x.Band = x.Placed || cell || band, x.Band || band
		}
		b.Weight += x.Mass
		b.Parts = append(b.Parts, x)
	}
	b.seams = sync.OnceValues(b.allSeams)
	b.trace(sketch.Stations)
	return b, b.fit(sketch.Stations, strict)
}

// trace lays curves through the stations.
func (b *Body) trace(stations []Station) {
	through := func(of func(s Station) (float64, bool)) Curve {
		var x, y []float64
		for _, s := range stations {
			if v, ok := of(s); ok {
				x, y = append(x, s.At), append(y, v)
			}
		}
		if len(x) == 0 {
			return NewCurve([]float64{0}, []float64{0})
		}
		return NewCurve(x, y)
	}
	b.shape = [4]Curve{
		through(func(s Station) (float64, bool) { return s.WidthMm, true }),
		through(func(s Station) (float64, bool) { return s.HeightMm, true }),
		through(func(s Station) (float64, bool) { return s.Round, true }),
		through(func(s Station) (float64, bool) { return s.Flat, true })}
	for _, part := range b.Parts {
		var at, over [2]Curve
		for k := range 2 {
			at[k] = through(func(s Station) (float64, bool) { c, ok := s.Cells[part.ID]; return c[k], ok })
			over[k] = through(func(s Station) (float64, bool) { c, ok := s.Bands[part.ID]; return c.Over[k], ok })
		}
		b.places = append(b.places, at)
		b.spans = append(b.spans, over)
	}
}

// percentages gives the rough percentage of each part along the axis: it grows in from nothing.
func percentages(stations []Station, id string) Curve {
	var x, y []float64
	for _, s := range stations {
		pct := s.Cells[id][2]
		if band, ok := s.Bands[id]; ok {
			pct = band.Pct
		}
		x, y = append(x, s.At), append(y, pct)
	}
	return NewCurve(x, y)
}

// middleOf is the middle of a slice as a fraction of the length.
func middleOf(slice int) float64 { return (float64(slice) + 0.5) / Slices }

// outline is the outline of a section at a fraction of the length, at the atlas' size.
func (b *Body) outline(at float64) []Point {
	return superellipse(b.shape[0].At(at), b.shape[1].At(at), b.shape[2].At(at), b.shape[3].At(at))
}

// fit brings the areas of all slices in line with the volumes of the parts.
func (b *Body) fit(stations []Station, strict bool) error {
	thick := b.LengthMm / Slices
	rows, seed := b.rough(stations, thick)
	volumes, placed, volume := b.volumes()
	if placed == 0 || sum(rows) == 0 {
		return ErrNone
	}
	sides := 1.0
	if b.half {
		sides = 2
	}
	b.Scale = math.Sqrt(volume / (sides * sum(rows)))
	for j := range volumes {
		volumes[j] *= sum(rows) / placed
	}
	f, err := Fit(rows, volumes, seed)
	var no Impossible
	switch {
	case errors.As(err, &no):
		return fmt.Errorf("the section at %.2f of the length cannot be filled", middleOf(no.Row))
	case err != nil:
		return err
	}
	b.Factor, b.Rounds = f.LargestFactor, f.Rounds
	if strict && f.LargestFactor > maxFactor {
		return fmt.Errorf("%s at %.2f of the length is corrected %.1f-fold; its percentage does not go with its share",
			b.Parts[f.LargestAt[1]].ID, middleOf(f.LargestAt[0]), f.LargestFactor)
	}
	b.areas = f.Cells
	b.weigh(thick)
	return nil
}

// rough gives the volume of each slice, and how the rough percentages divide it among the parts that there are.
func (b *Body) rough(stations []Station, thick float64) (rows []float64, seed [][]float64) {
	rows, seed = make([]float64, Slices), make([][]float64, Slices)
	curves := make([]Curve, len(b.Parts))
	for j, part := range b.Parts {
		curves[j] = percentages(stations, part.ID)
	}
	for k := range Slices {
		at := middleOf(k)
		rows[k] = areaOf(b.outline(at)) * thick
		seed[k] = make([]float64, len(b.Parts))
		for j, part := range b.Parts {
			if part.Placed && part.Mass > 0 {
				seed[k][j] = math.Max(0, curves[j].At(at))
			}
		}
		total := sum(seed[k])
		for j := range seed[k] {
			if total > 0 {
				seed[k][j] *= rows[k] / total
			}
		}
		if total == 0 {
			rows[k] = 0
		}
	}
	return rows, seed
}

// volumes gives the volume of each part that has a place, of all that have one, and of everything, in mm³.
func (b *Body) volumes() (each []float64, placed, all float64) {
	each = make([]float64, len(b.Parts))
	for j, part := range b.Parts {
		v := float64(part.Mass) / part.Density // milligrams over grams a cubic centimetre
		if part.Placed {
			each[j] = v
			placed += v
		}
		all += v
	}
	return each, placed, all
}

// weigh divides the mass of each part among the slices: by its areas, and by the lean where it has no place.
func (b *Body) weigh(thick float64) {
	b.masses = make([][]float64, Slices)
	for k := range Slices {
		b.masses[k] = make([]float64, len(b.Parts))
	}
	lean := make([]float64, Slices)
	for j, part := range b.Parts {
		for k := range Slices {
			b.areas[k][j] /= thick
			if part.Lean {
				lean[k] += b.areas[k][j]
			}
		}
	}
	for j, part := range b.Parts {
		column := make([]float64, Slices)
		for k := range Slices {
			column[k] = b.areas[k][j]
		}
		if !part.Placed {
			column = lean
		}
		whole := sum(column)
		if whole == 0 { // there is nothing that it could go with: evenly along the piece
			column, whole = slices.Repeat([]float64{1}, Slices), Slices
		}
		for k := range Slices {
			b.masses[k][j] = float64(part.Mass) * column[k] / whole
		}
	}
}

// index is the place of a part among the parts; below 0 where it is none.
func (b *Body) index(id string) int {
	return slices.IndexFunc(b.Parts, func(p Part) bool { return p.ID == id })
}
