package atlas

import (
	"errors"
	"fmt"
	"io/fs"
	"math"
	"slices"
	"sync"

	"falda/internal/core/body"
	"falda/internal/core/measure"
)

// density is what a cubic centimetre of a kind of part weighs, in grams: usual handbook values, from memory.
func density(kind string) float64 {
	switch kind {
	case KindFat:
		return 0.94
	case KindBone:
		return 1.4
	default:
		return 1.06
	}
}

// Inside is what lies where in a piece of its usual weight, worked out once; body.ErrNone where nothing is known of it.
func (p Piece) Inside() (*body.Body, error) {
	if p.inside == nil {
		return nil, body.ErrNone
	}
	return p.inside()
}

// usual works out the inside of a piece of its usual weight.
func (p Piece) usual() (*body.Body, error) {
	whole := p.WeightKg.Typical * float64(measure.Kilogram)
	b, err := body.New(p.Body, p.bodyParts(func(part AnyPart) measure.Mass {
		return measure.Mass(math.Round(whole * float64(part.Share) / 100_000))
	}), true)
	if err != nil {
		return nil, fmt.Errorf("%s: body: %w", p.ID, err)
	}
	return b, nil
}

// InsideWeighed is what lies where in a piece whose parts weigh so much. What is left out has no mass.
func (p Piece) InsideWeighed(weights map[string]measure.Mass) (*body.Body, error) {
	return body.New(p.Body, p.bodyParts(func(part AnyPart) measure.Mass { return weights[part.ID] }), false)
}

func (p Piece) bodyParts(weight func(AnyPart) measure.Mass) []body.Part {
	var out []body.Part
	for _, part := range p.Parts() {
		if part.Kind != KindLoss {
			out = append(out, body.Part{ID: part.ID, Mass: weight(part), Density: density(part.Kind),
				Lean: part.Kind == KindMuscle})
		}
	}
	return out
}

// ProfileOf is how thick a muscle of the piece is along its own length, which is the atlas' where it is 0.
func (p Piece) ProfileOf(m Muscle, lengthMm float64) (body.Profile, error) {
	b, err := p.Inside()
	if err != nil && !errors.Is(err, body.ErrNone) {
		return body.Profile{}, err
	}
	own := m.Shape.LengthMm
	if own <= 0 {
		own = p.LengthMm
	}
	if lengthMm <= 0 {
		lengthMm = own
	}
	return b.ProfileOf(m.ID, m.Shape.Profile, own, lengthMm), nil
}

// bodyFile is what a file of the folder body holds.
type bodyFile struct {
	Piece string      `yaml:"piece"`
	Body  body.Sketch `yaml:"body"`
	Facts []body.Fact `yaml:"facts"`
}

// readBodies adds the insides of pieces, a file each, decoded side by side.
func (a *Atlas) readBodies(fsys fs.FS, passed func(piece string) bool, faults *[]error) error {
	files, err := decodeAll(fsys, "body/*.yaml", func(_ string, raw []byte) (f bodyFile, err error) {
		err = unmarshal(raw, &f)
		return f, err
	})
	if err != nil {
		return err
	}
	for _, f := range files {
		piece := f.held.Piece
		at, known := a.byID[piece]
		switch {
		case f.err != nil:
			*faults = append(*faults, fmt.Errorf("%s: %w", f.name, f.err))
		case !known:
			*faults = append(*faults, fmt.Errorf("%s: piece: there is no %q", f.name, piece))
		case !passed(piece):
			b := f.held.Body
			b.Facts = f.held.Facts
			for _, fault := range checkSketch(b, a.Pieces[at]) {
				*faults = append(*faults, fmt.Errorf("%s: %s: %s", f.name, piece, fault))
			}
			a.Pieces[at].Body = &b
			a.Pieces[at].inside = sync.OnceValues(a.Pieces[at].usual)
		}
	}
	return nil
}

// checkSketch says what is wrong with the inside of a piece, a line each.
func checkSketch(b body.Sketch, p Piece) (faults []string) {
	add := func(format string, args ...any) { faults = append(faults, fmt.Sprintf(format, args...)) }
	if b.Axis.From == "" || b.Axis.To == "" || b.Axis.Lies == "" || !(b.Axis.LengthMm > 0) {
		add("body.axis: must have both ends, a length and how the piece lies")
	}
	if n := len(b.Stations); n < 2 || n > 16 || b.Stations[0].At < 0 || b.Stations[n-1].At > 1 {
		add("body.stations: must be from 2 to 16, at fractions of the length")
	}
	seen := map[string]bool{}
	for i, s := range b.Stations {
		at := fmt.Sprintf("body.stations[%d]", i)
		if i > 0 && s.At <= b.Stations[i-1].At {
			add("%s.at: does not lie behind the one before", at)
		}
		if !(s.WidthMm > 0 && s.HeightMm > 0 && s.Round >= 1 && s.Round <= 8 && s.Flat >= 0 && s.Flat < 0.9) {
			add("%s: width, height and round must be above 0, flat from 0 to below 0.9", at)
		}
		for id, c := range s.Cells {
			seen[id] = true
			if part, ok := p.Part(id); !ok || part.Kind == KindLoss {
				add("%s.cells.%s: is no part of the piece", at, id)
			}
			if _, twice := s.Bands[id]; twice || !(c[2] >= 0) || max(c[0], -c[0], c[1], -c[1]) > 3 {
				add("%s.cells.%s: needs a place within 3, a percentage from 0 on, and no band beside it", at, id)
			}
		}
		for id, band := range s.Bands {
			seen[id] = true
			if part, ok := p.Part(id); !ok || part.Kind == KindLoss || part.Kind == KindMuscle {
				add("%s.bands.%s: is no fat or skin of the piece", at, id)
			}
			if !(band.Pct > 0) || band.Over[1] <= band.Over[0] || band.Over[1]-band.Over[0] > 360 {
				add("%s.bands.%s: needs a percentage above 0 and angles that rise by no more than 360", at, id)
			}
		}
	}
	for _, m := range p.Muscles {
		if !seen[m.ID] {
			add("body: %s lies nowhere", m.ID)
		}
	}
	slices.Sort(faults)
	return faults
}
