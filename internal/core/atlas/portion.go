package atlas

import (
	"math"

	"falda/internal/core/measure"
)

// Count is how many of a product one piece of the usual weight gives, where anatomy and habit fix it: two flat irons
// from a blade, six portions from a leg.
type Count struct {
	Low  int `yaml:"low" json:"low"`
	High int `yaml:"high" json:"high"`
}

// Portions are how many of a product a mass gives, and what one weighs. Given says that the number is one of the
// trade's and the weight follows from it; otherwise the target weight is given and the number follows.
type Portions struct {
	Low, High int
	Each      measure.Mass
	Given     bool
}

// Portions divides a mass of the product that came off one piece; ok is false for what is not counted (trim, fat,
// cubes, roasts without a number) and for a mass of nothing. A number that the trade gives for the usual piece holds
// for any: a bigger piece gives bigger ones.
func (pr Product) Portions(m measure.Mass) (p Portions, ok bool) {
	switch {
	case m <= 0:
		return p, false
	case pr.Sliced > 0:
		return Portions{pr.Sliced, pr.Sliced, measure.Mass(math.Round(float64(m) / float64(pr.Sliced))), true}, true
	case pr.Count.High > 0:
		mid := float64(pr.Count.Low+pr.Count.High) / 2
		return Portions{pr.Count.Low, pr.Count.High, measure.Mass(math.Round(float64(m) / mid)), true}, true
	case pr.PortionG > 0:
		n := int(math.Floor(m.Grams()/pr.PortionG + 0.5))
		if n < 1 {
			return p, false
		}
		return Portions{n, n, measure.Mass(math.Round(float64(m) / float64(n))), false}, true
	}
	return p, false
}
