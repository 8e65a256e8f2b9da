package body

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// Slices is into how many slices of equal thickness a body is divided along its axis.
const Slices = 64

// density is what a cubic centimetre of a kind of part weighs, in grams: usual handbook values, from memory.
func density(kind string) float64 {
	switch kind {
	case atlas.KindFat:
		return 0.94
	case atlas.KindBone:
		return 1.4
	default:
		return 1.06
	}
}

// maxFactor is how much the rough percentages of the atlas may be corrected until they are taken for a mistake.
const maxFactor = 3

// Part is what lies in a body.
type Part struct {
	ID, Kind string
	Mass     measure.Mass
	Band     bool // it lies under the rim
	Placed   bool // it has a place; what has none is spread over the lean
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
}

// ErrNone says that the atlas does not know the inside of a piece.
var ErrNone = errors.New("nothing is known of the inside of this piece")

// Of gives the inside of a piece of its usual weight, with the atlas' shares. A correction of the rough percentages by
// more than three is an error of the atlas.
func Of(p atlas.Piece) (*Body, error) {
	whole := p.WeightKg.Typical * float64(measure.Kilogram)
	return fitted(p, func(part atlas.AnyPart) measure.Mass {
		return measure.Mass(math.Round(whole * float64(part.Share) / 100_000))
	}, true)
}

// Weighed gives the inside of a piece whose parts weigh so much. What is left out has no mass. Percentages are
// corrected as far as it takes.
func Weighed(p atlas.Piece, weights map[string]measure.Mass) (*Body, error) {
	return fitted(p, func(part atlas.AnyPart) measure.Mass { return weights[part.ID] }, false)
}

func fitted(p atlas.Piece, weight func(atlas.AnyPart) measure.Mass, strict bool) (*Body, error) {
	if p.Body == nil {
		return nil, ErrNone
	}
	b := &Body{LengthMm: p.Body.Axis.LengthMm, half: p.Body.Half}
	for _, part := range p.Parts() {
		if part.Kind == atlas.KindLoss {
			continue
		}
		x := Part{ID: part.ID, Kind: part.Kind, Mass: weight(part)}
		for _, s := range p.Body.Stations {
			_, cell := s.Cells[x.ID]
			_, band := s.Bands[x.ID]
			x.Placed, x.Band = x.Placed || cell || band, x.Band || band
		}
		b.Weight += x.Mass
		b.Parts = append(b.Parts, x)
	}
	b.trace(p.Body.Stations)
	return b, b.fit(p, strict)
}

// trace lays curves through the stations.
func (b *Body) trace(stations []atlas.Station) {
	through := func(of func(s atlas.Station) (float64, bool)) Curve {
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
		through(func(s atlas.Station) (float64, bool) { return s.WidthMm, true }),
		through(func(s atlas.Station) (float64, bool) { return s.HeightMm, true }),
		through(func(s atlas.Station) (float64, bool) { return s.Round, true }),
		through(func(s atlas.Station) (float64, bool) { return s.Flat, true })}
	for _, part := range b.Parts {
		var at, over [2]Curve
		for k := range 2 {
			at[k] = through(func(s atlas.Station) (float64, bool) { c, ok := s.Cells[part.ID]; return c[k], ok })
			over[k] = through(func(s atlas.Station) (float64, bool) { c, ok := s.Bands[part.ID]; return c.Over[k], ok })
		}
		b.places = append(b.places, at)
		b.spans = append(b.spans, over)
	}
}

// percentages gives the rough percentage of each part along the axis: it grows in from nothing.
func percentages(stations []atlas.Station, id string) Curve {
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
func (b *Body) fit(p atlas.Piece, strict bool) error {
	thick := b.LengthMm / Slices
	rows, seed := b.rough(p.Body.Stations, thick)
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
		return fmt.Errorf("%s: body: the section at %.2f of the length cannot be filled", p.ID, middleOf(no.Row))
	case err != nil:
		return fmt.Errorf("%s: body: %w", p.ID, err)
	}
	b.Factor, b.Rounds = f.LargestFactor, f.Rounds
	if strict && f.LargestFactor > maxFactor {
		return fmt.Errorf("%s: body: %s at %.2f of the length is corrected %.1f-fold; its percentage does not go with its "+
			"share", p.ID, b.Parts[f.LargestAt[1]].ID, middleOf(f.LargestAt[0]), f.LargestFactor)
	}
	b.areas = f.Cells
	b.weigh(thick)
	return nil
}

// rough gives the volume of each slice, and how the rough percentages divide it among the parts that there are.
func (b *Body) rough(stations []atlas.Station, thick float64) (rows []float64, seed [][]float64) {
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
		v := float64(part.Mass) / density(part.Kind) // milligrams over grams a cubic centimetre
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
			if part.Kind == atlas.KindMuscle {
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
