package measure

import (
	"cmp"
	"errors"
	"math"
	"math/big"
	"math/bits"
	"slices"
)

// ErrApportion is returned when there is nothing to share by: no weights, a negative one, or all of them zero.
var ErrApportion = errors.New("nothing to share by")

// Apportion shares a whole total in proportion to whole weights by largest remainder: the shares are whole, add up to
// the total exactly, and none is further than one from its exact share. Ties go to the earlier weight. A negative total
// is shared like its opposite. The weights must add up to less than 2⁶³.
func Apportion(total int64, weights []int64) ([]int64, error) {
	sum := uint64(0)
	for _, w := range weights {
		if w < 0 {
			return nil, ErrApportion
		}
		sum += uint64(w)
	}
	if sum == 0 || sum > math.MaxInt64 {
		return nil, ErrApportion
	}
	sign := int64(1)
	if total < 0 {
		sign, total = -1, -total
	}
	shares := make([]int64, len(weights))
	rest := make([]uint64, len(weights))
	order := make([]int, len(weights))
	left := total
	for i, w := range weights {
		// exact in 128 bits; the quotient fits because no weight exceeds the sum
		high, low := bits.Mul64(uint64(total), uint64(w))
		whole, remainder := bits.Div64(high, low, sum)
		shares[i], rest[i], order[i] = int64(whole), remainder, i
		left -= shares[i]
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(rest[b], rest[a]) })
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
	shares, err := Apportion(int64(total), weights)
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
	var total Money
	for _, p := range parts {
		total = total.Add(p)
	}
	return RoundToTotal(parts, total, places)
}

// RoundToTotal rounds parts to so many decimals so that they add up to a total, which is rounded likewise. It is meant
// for totals that are shown elsewhere and lie within a unit of the last decimal a part of what the parts add up to.
func RoundToTotal(parts []Money, total Money, places int) []Money {
	if len(parts) == 0 {
		return nil
	}
	scale := pow10(places)
	floors := make([]*big.Int, len(parts))
	rest := make([]*big.Rat, len(parts))
	order := make([]int, len(parts))
	left := roundRat(new(big.Rat).Mul(total.Rat(), new(big.Rat).SetInt(scale)))
	for i, p := range parts {
		exact := new(big.Rat).Mul(p.Rat(), new(big.Rat).SetInt(scale))
		floors[i] = new(big.Int).Div(exact.Num(), exact.Denom()) // floor: denominators are positive
		rest[i] = exact.Sub(exact, new(big.Rat).SetInt(floors[i]))
		left.Sub(left, floors[i])
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return rest[b].Cmp(rest[a]) })
	one := big.NewInt(1)
	for n := 0; left.Sign() > 0; n++ { // the largest remainders first, and round again where the total is further off
		i := order[n%len(order)]
		floors[i].Add(floors[i], one)
		left.Sub(left, one)
	}
	for n := len(order) - 1; left.Sign() < 0; n-- {
		i := order[(n%len(order)+len(order))%len(order)]
		floors[i].Sub(floors[i], one)
		left.Add(left, one)
	}
	out := make([]Money, len(parts))
	for i, f := range floors {
		out[i] = Money{new(big.Rat).SetFrac(f, scale), parts[i].places.or(total.places)}
	}
	return out
}

func pow10(places int) *big.Int {
	return new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(places)), nil)
}
