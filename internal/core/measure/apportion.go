package measure

import (
	"errors"
	"math/big"
	"sort"
)

// ErrApportion is returned when there is nothing to share by: no weights, a negative one, or all of them zero.
var ErrApportion = errors.New("nothing to share by")

// Apportion shares a whole total in proportion to the weights by largest remainder: the shares are whole, add up to the
// total exactly, and none is further than one from its exact share. Ties go to the earlier weight. A negative total is
// shared like its opposite.
func Apportion(total int64, weights []*big.Rat) ([]int64, error) {
	sum := new(big.Rat)
	for _, w := range weights {
		if w.Sign() < 0 {
			return nil, ErrApportion
		}
		sum.Add(sum, w)
	}
	if sum.Sign() == 0 {
		return nil, ErrApportion
	}
	sign := int64(1)
	if total < 0 {
		sign, total = -1, -total
	}
	shares := make([]int64, len(weights))
	rest := make([]*big.Rat, len(weights))
	order := make([]int, len(weights))
	left := total
	for i, w := range weights {
		exact := new(big.Rat).Mul(new(big.Rat).SetInt64(total), new(big.Rat).Quo(w, sum))
		whole := new(big.Int).Quo(exact.Num(), exact.Denom())
		shares[i], order[i] = whole.Int64(), i
		rest[i] = exact.Sub(exact, new(big.Rat).SetInt(whole))
		left -= shares[i]
	}
	sort.SliceStable(order, func(a, b int) bool { return rest[order[a]].Cmp(rest[order[b]]) > 0 })
	for _, i := range order[:left] {
		shares[i]++
	}
	for i := range shares {
		shares[i] *= sign
	}
	return shares, nil
}

// ApportionMass shares a mass by whole weights such as thousandths of a percent.
func ApportionMass(total Mass, weights []int64) ([]Mass, error) {
	rats := make([]*big.Rat, len(weights))
	for i, w := range weights {
		rats[i] = new(big.Rat).SetInt64(w)
	}
	shares, err := Apportion(int64(total), rats)
	if err != nil {
		return nil, err
	}
	out := make([]Mass, len(shares))
	for i, s := range shares {
		out[i] = Mass(s)
	}
	return out, nil
}

// RoundTogether rounds parts to so many decimals so that they add up to their rounded total. Each is off its exact
// value by less than one unit of the last decimal. Parts may be negative.
func RoundTogether(parts []Money, places int) []Money {
	if len(parts) == 0 {
		return nil
	}
	scale := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(places)), nil)
	total := new(big.Rat)
	floors := make([]*big.Int, len(parts))
	rest := make([]*big.Rat, len(parts))
	order := make([]int, len(parts))
	left := new(big.Int)
	for i, p := range parts {
		exact := p.Times(new(big.Rat).SetInt(scale)).Rat()
		total.Add(total, exact)
		floors[i] = new(big.Int).Div(exact.Num(), exact.Denom()) // floor: denominators are positive
		rest[i] = exact.Sub(exact, new(big.Rat).SetInt(floors[i]))
		left.Sub(left, floors[i])
		order[i] = i
	}
	left.Add(left, roundRat(total))
	sort.SliceStable(order, func(a, b int) bool { return rest[order[a]].Cmp(rest[order[b]]) > 0 })
	for n := int64(0); n < left.Int64() && n < int64(len(order)); n++ {
		floors[order[n]].Add(floors[order[n]], big.NewInt(1))
	}
	out := make([]Money, len(parts))
	for i, f := range floors {
		out[i] = Money{new(big.Rat).SetFrac(f, scale)}
	}
	return out
}
