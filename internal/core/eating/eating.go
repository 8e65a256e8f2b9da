package eating

import (
	"math"

	"falda/internal/core/atlas"
)

// Grade is an eating-quality grade.
type Grade string

// The grades, best first.
const (
	Five       Grade = "5"
	Four       Grade = "4"
	Three      Grade = "3"
	BelowThree Grade = "below_3"
)

// The lowest score of each grade, 0–100. A score on the cut-off has the better grade.
const (
	cutThree = 46.5
	cutFour  = 64
	cutFive  = 76
)

// PriorSD is the standard deviation of an estimate from the atlas, in points.
const PriorSD = 8.0

// z05 is the 5 % quantile of the standard normal distribution, with its sign turned.
const z05 = 1.6448536269514722

// Of grades a score from 0 to 100: below 46.5 "below 3", then 3, from 64 on 4, from 76 on 5.
func Of(score float64) Grade {
	switch {
	case score >= cutFive:
		return Five
	case score >= cutFour:
		return Four
	case score >= cutThree:
		return Three
	default:
		return BelowThree
	}
}

// Score is what is known of one muscle by one method: a normal distribution and how many eaters stand behind it.
type Score struct {
	Method    string
	Mean      float64 // 0–100
	SD        float64 // points
	Basis     string  // "estimated", "given" or "measured"
	Assessors int
}

// Low is the 5 % quantile: the score that the muscle beats 19 times in 20.
func (s Score) Low() float64 { return s.Mean - z05*s.SD }

// Grade is the grade of the mean.
func (s Score) Grade() Grade { return Of(s.Mean) }

// Chances gives the probability of each grade, in percent; they add up to 100.
func (s Score) Chances() map[Grade]float64 {
	if s.SD <= 0 {
		return map[Grade]float64{s.Grade(): 100}
	}
	below := func(x float64) float64 { return 50 * math.Erfc((s.Mean-x)/(s.SD*math.Sqrt2)) }
	return map[Grade]float64{
		BelowThree: below(cutThree),
		Three:      below(cutFour) - below(cutThree),
		Four:       below(cutFive) - below(cutFour),
		Five:       100 - below(cutFive),
	}
}

// Estimates gives the atlas' estimates of a muscle, in the order of atlas.Methods.
func Estimates(m atlas.Muscle) []Score {
	var out []Score
	for _, method := range atlas.Methods {
		if mean, ok := m.Eating[method.ID]; ok {
			out = append(out, Score{Method: method.ID, Mean: mean, SD: PriorSD, Basis: "estimated"})
		}
	}
	return out
}

// Best is the method with the highest 5 % quantile, so that a well-tested good beats an unknown best; of equals the
// first. ok is false when nothing is known.
func Best(scores []Score) (best Score, ok bool) {
	for _, s := range scores {
		if !ok || s.Low() > best.Low() {
			best, ok = s, true
		}
	}
	return best, ok
}

// NoSteak says that every quick method known for the muscle grades below 3: braise it, slice it thin or mince it.
func NoSteak(scores []Score) bool {
	quick := 0
	for _, s := range scores {
		if m, ok := atlas.FindMethod(s.Method); ok && m.Quick && m.ID != "thin_slice" {
			quick++
			if s.Grade() != BelowThree {
				return false
			}
		}
	}
	return quick > 0
}
