// Package pace says how long the seams of a piece take: by the atlas, and at the pace that a house and its cutters have
// shown. It is pure.
package pace

import (
	"math"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// pull is how many measured times the figure weighs towards which a pace is drawn: the atlas' for a house, the house's
// for a cutter.
const pull = 5

// Seam is the seam by which a muscle comes off.
type Seam struct {
	Muscle  atlas.Muscle
	Cm2     float64 // its area, on a piece of the weight asked for
	Known   bool    // from the inside of the piece; else that of a round body
	Minutes float64 // of the atlas, with laying right and what is pared off at once
}

// Speed is how fast the seam is opened at so many minutes, in square centimetres a minute; 0 where one is not known.
func (s Seam) Speed(minutes float64) float64 {
	if minutes <= 0 {
		return 0
	}
	return s.Cm2 / minutes
}

// Way is the plan by which seams are timed: the first that takes the piece apart muscle by muscle.
func Way(p atlas.Piece) (atlas.Plan, bool) {
	i := slices.IndexFunc(p.Plans, func(pl atlas.Plan) bool { return pl.Cut == atlas.CutSeams && !pl.OwnSteps() })
	if i < 0 {
		return atlas.Plan{}, false
	}
	return p.Plans[i], true
}

// Seams gives the seams of a piece of a weight, in the order in which its muscles come off.
func Seams(p atlas.Piece, weight measure.Mass) []Seam {
	pl, ok := Way(p)
	if !ok {
		return nil
	}
	z := p.Sizes(weight)
	var out []Seam
	for _, d := range p.Flow(pl).Steps {
		if m, is := p.Muscle(d.ID); is && d.Do == steps.TakeOff {
			area, known := d.Seam(z)
			out = append(out, Seam{Muscle: m, Cm2: area, Known: known, Minutes: d.Time(z)})
		}
	}
	return out
}

// Pace is how long something took against what the atlas says: 1 is as long, 2 twice as long.
type Pace struct {
	Ratio float64
	N     int // measured times behind it
}

// most bounds how far one time may lie from what the atlas says: a knife that was put down is no pace.
const most = 4.0

// Of draws the mean of measured ratios towards another pace, as much as so many times weigh: the geometric mean, for
// half as long and twice as long cancel out.
func Of(ratios []float64, towards float64) Pace {
	sum := pull * math.Log(towards)
	n := 0
	for _, r := range ratios {
		if r > 0 {
			sum += math.Log(math.Max(1/most, math.Min(most, r)))
			n++
		}
	}
	return Pace{Ratio: math.Exp(sum / float64(pull+n)), N: n}
}
