package body

import (
	"math"
)

// Profile is how thick a muscle is along its own length: places in millimetres from its first end and areas in mm², and
// where that is known from.
type Profile struct {
	LengthMm float64
	Mm, Area []float64
	Basis    string
}

// along is which part of a muscle's own length it must run along the axis to take its profile from the body.
const along = 0.55

// points is how many points a profile has.
const points = 33

// ProfileOf gives the profile of a part of its own length that is to be cut at a length: from the inside of the piece
// where the part runs along it, stretched to the length; else from its usual shape, as b may also be nil.
func (b *Body) ProfileOf(part, shape string, ownMm, lengthMm float64) Profile {
	if b != nil {
		if run, ok := b.RunOf(part); ok && run.ToMm-run.FromMm >= along*ownMm {
			return run.profile(lengthMm)
		}
	}
	out := Profile{LengthMm: lengthMm, Basis: "its usual shape, " + shape + "; from memory"}
	for i := range points {
		t := float64(i) / (points - 1)
		out.Mm, out.Area = append(out.Mm, t*lengthMm), append(out.Area, shapeAt(shape, t))
	}
	return out
}

// WholeProfile gives the profile of the whole piece along the axis, stretched to a length; 0 leaves it as it is.
func (b *Body) WholeProfile(lengthMm float64) Profile {
	if lengthMm <= 0 {
		lengthMm = b.LengthMm
	}
	return b.Whole().profile(lengthMm)
}

// profile stretches a run to a length.
func (r Run) profile(lengthMm float64) Profile {
	out := Profile{LengthMm: lengthMm, Basis: "the inside of the piece, from memory"}
	c := NewCurve(r.Mm, r.GramsPerMm)
	for i := range points {
		t := float64(i) / (points - 1)
		out.Mm = append(out.Mm, t*lengthMm)
		out.Area = append(out.Area, math.Max(0.01, c.At(r.FromMm+t*(r.ToMm-r.FromMm)))*1000)
	}
	return out
}

// shapeAt is how thick a shape is at a fraction of its length, the thickest place 1: a cylinder or flat muscle is even,
// a taper falls to a third, a wedge to a fifth, a spindle is thick in the middle. From memory.
func shapeAt(shape string, t float64) float64 {
	switch shape {
	case "taper":
		return 1 - 2.0/3*t
	case "wedge":
		return 1 - 0.8*t
	case "spindle":
		return 0.25 + 0.75*math.Sin(math.Pi*t)
	default:
		return 1
	}
}
