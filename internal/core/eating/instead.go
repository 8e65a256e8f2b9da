package eating

import (
	"cmp"
	"slices"

	"falda/internal/core/measure"
)

// Offer is something that is sold, how it eats by a method, and what it costs to eat.
type Offer struct {
	Key    string
	Score  Score
	Edible measure.Money // a kilogram of what is eaten of it
	EachG  float64       // that one eater gets
}

// Plate is what one eater's part costs, exactly.
func (o Offer) Plate() measure.Money {
	return o.Edible.Times(measure.Mass(o.EachG * float64(measure.Gram)).In(measure.UnitKilogram))
}

// Instead lists what can be offered in the place of something: what costs less on the plate, and of which one can be as
// sure that it eats as well, by the lower bound of the grade; the cheapest first. All must be by the same method.
func Instead(of Offer, all []Offer) []Offer {
	var out []Offer
	for _, o := range all {
		if o.Key != of.Key && o.Plate().Cmp(of.Plate()) < 0 && o.Score.Low() >= of.Score.Low() {
			out = append(out, o)
		}
	}
	slices.SortStableFunc(out, func(a, b Offer) int { return cmp.Or(a.Plate().Cmp(b.Plate()), cmp.Compare(a.Key, b.Key)) })
	return out
}
