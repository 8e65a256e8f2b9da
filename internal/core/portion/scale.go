package portion

import (
	"math/big"
	"sort"
)

// scale is a profile with its weights and prices as whole numbers: sum[a] is the integral of the profile from the
// beginning to millimetre a, in one common part.
type scale struct {
	sum   []*big.Int
	whole *big.Int
}

func newScale(p Problem) scale {
	sums := make([]*big.Rat, p.LengthMm+1)
	sums[0] = new(big.Rat)
	den := big.NewInt(1)
	for a := 1; a <= p.LengthMm; a++ {
		sums[a] = new(big.Rat).Add(sums[a-1], p.between(int64(a-1), int64(a)))
		den = lcm(den, sums[a].Denom())
	}
	s := scale{sum: make([]*big.Int, len(sums))}
	divisor := new(big.Int)
	for a, r := range sums {
		v := new(big.Int).Quo(den, r.Denom())
		s.sum[a] = v.Mul(v, r.Num())
		divisor.GCD(nil, nil, divisor, s.sum[a])
	}
	for _, v := range s.sum {
		v.Quo(v, divisor)
	}
	s.whole = s.sum[p.LengthMm]
	return s
}

// between is the integral of the profile over a stretch of a millimetre; a point may lie within it.
func (p Problem) between(from, to int64) *big.Rat {
	a, b := big.NewRat(from, 1), big.NewRat(to, 1)
	out := new(big.Rat)
	i := sort.Search(len(p.Profile)-1, func(i int) bool { return p.Profile[i+1].Mm.Cmp(a) > 0 })
	for ; i < len(p.Profile)-1 && p.Profile[i].Mm.Cmp(b) < 0; i++ {
		lo, hi := larger(a, p.Profile[i].Mm), smaller(b, p.Profile[i+1].Mm)
		mean := new(big.Rat).Add(p.at(i, lo), p.at(i, hi))
		mean.Mul(mean, big.NewRat(1, 2))
		out.Add(out, mean.Mul(mean, new(big.Rat).Sub(hi, lo)))
	}
	return out
}

// at is the area at a place between a point of the profile and the next.
func (p Problem) at(i int, x *big.Rat) *big.Rat {
	a, b := p.Profile[i], p.Profile[i+1]
	t := new(big.Rat).Sub(x, a.Mm)
	t.Quo(t, new(big.Rat).Sub(b.Mm, a.Mm))
	t.Mul(t, new(big.Rat).Sub(b.Area, a.Area))
	return t.Add(t, a.Area)
}

func larger(a, b *big.Rat) *big.Rat {
	if a.Cmp(b) > 0 {
		return a
	}
	return b
}

func smaller(a, b *big.Rat) *big.Rat {
	if a.Cmp(b) < 0 {
		return a
	}
	return b
}

func lcm(a, b *big.Int) *big.Int {
	g := new(big.Int).GCD(nil, nil, a, b)
	g.Quo(a, g)
	return g.Mul(g, b)
}

// grams is what lies between two places weighs.
func (s scale) grams(p Problem, a, b int) *big.Rat {
	r := new(big.Rat).SetFrac(s.over(a, b), s.whole)
	return r.Mul(r, p.WeightG)
}

// equal gives the places of the cuts into n portions of equal weight, each to the nearest millimetre; between two
// portions a saw takes kerf.
func (s scale) equal(n, kerf int) []int {
	f := make([]float64, len(s.sum))
	whole, _ := new(big.Float).SetInt(s.whole).Float64()
	for i, v := range s.sum {
		f[i], _ = new(big.Float).SetInt(v).Float64()
		f[i] /= whole
	}
	lay := func(w float64) (cuts []float64, end float64) {
		from := 0.0
		for range n {
			end = place(f, height(f, from)+w)
			cuts = append(cuts, end)
			from = end + float64(kerf)
		}
		return cuts, end
	}
	lo, hi := 0.0, 1/float64(n)
	if kerf > 0 {
		for range 100 {
			mid := (lo + hi) / 2
			cuts, _ := lay(mid)
			last := 0.0
			if n > 1 {
				last = cuts[n-2] + float64(kerf)
			}
			if 1-height(f, last) > mid {
				lo = mid
			} else {
				hi = mid
			}
		}
	}
	cuts, _ := lay(hi)
	out := make([]int, n-1)
	for i := range out {
		out[i] = int(cuts[i] + 0.5)
	}
	return out
}

// height is the share of the whole up to a place.
func height(f []float64, x float64) float64 {
	if x >= float64(len(f)-1) {
		return 1
	}
	i := int(x)
	return f[i] + (x-float64(i))*(f[i+1]-f[i])
}

// place is where so much of the whole lies before.
func place(f []float64, h float64) float64 {
	i := sort.Search(len(f), func(i int) bool { return f[i] >= h })
	if i == 0 {
		return 0
	}
	if i == len(f) {
		return float64(len(f) - 1)
	}
	return float64(i-1) + (h-f[i-1])/(f[i]-f[i-1])
}
