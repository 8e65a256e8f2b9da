package seam

import (
	"slices"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Share divides what was weighed of several pieces together among them, in proportion to their weights: the shares add
// up to it to the milligram, each is what its piece would have given were they all alike. An estimate of each, exact
// for all. Weights must be above zero.
func Share(net measure.Mass, pieces []measure.Mass) ([]measure.Mass, error) {
	weights := make([]int64, len(pieces))
	for i, m := range pieces {
		if m <= 0 {
			return nil, fault.New("net_g", "no_weight", "cannot be shared: a piece has no weight", "Weigh the pieces first.")
		}
		weights[i] = int64(m)
	}
	if net < measure.Mass(len(pieces)) {
		return nil, fault.New("net_g", "not_positive", "must be above zero", "Put it on the scale, or type its weight.")
	}
	return measure.ApportionMass(net, weights)
}

// SumExpected adds up what several pieces of one kind, cut by one plan, are expected to give.
func SumExpected(lists [][]Expected) []Expected {
	if len(lists) == 0 {
		return nil
	}
	out := slices.Clone(lists[0])
	for _, list := range lists[1:] {
		for i := range out {
			at := slices.IndexFunc(list, func(e Expected) bool { return e.Key() == out[i].Key() })
			if at < 0 { // a piece that does not have it
				continue
			}
			e := list[at]
			out[i].Mass, out[i].Low, out[i].High, out[i].Taken = out[i].Mass+e.Mass, out[i].Low+e.Low, out[i].High+e.High,
				out[i].Taken+e.Taken
			out[i].Times, out[i].Want = out[i].Times+e.Times, out[i].Want+e.Want
			out[i].Reachable = out[i].Reachable && e.Reachable
		}
	}
	return out
}
