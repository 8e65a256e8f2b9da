package blend

import (
	"math/big"
	"slices"
)

// node is a part of the search: bounds of what is made of each product.
type node struct {
	low, high []*big.Rat
	at        *tableau
	gain      *big.Rat
}

// branch finds the best mix in whole batches, the most promising part first. Proven is false where it gave up before
// all had been looked at.
func (m model) branch(low, high []*big.Rat, root *tableau) (best *tableau, proven, ok bool) {
	open := []node{{low, high, root, m.gained(root)}}
	var most *big.Rat
	for n := 0; len(open) > 0; n++ {
		i := 0
		for k := range open {
			if open[k].gain.Cmp(open[i].gain) > 0 {
				i = k
			}
		}
		x := open[i]
		open = slices.Delete(open, i, i+1)
		if most != nil && x.gain.Cmp(most) <= 0 {
			return best, true, true // the rest promises no more
		}
		if n >= maxNodes || m.stop() {
			return best, false, best != nil
		}
		k, down, up := m.broken(x.at)
		if k < 0 {
			best, most = x.at, x.gain
			continue
		}
		for _, side := range []node{
			{low: x.low, high: with(x.high, k, down)}, {low: with(x.low, k, up), high: x.high}} {
			if b := side.high[k]; b != nil && b.Cmp(side.low[k]) < 0 {
				continue
			}
			t, ok := m.solve(side.low, side.high)
			if !ok {
				continue
			}
			side.at, side.gain = t, m.gained(t)
			open = append(open, side)
		}
	}
	return best, true, best != nil
}

func with(list []*big.Rat, k int, v *big.Rat) []*big.Rat {
	out := slices.Clone(list)
	out[k] = v
	return out
}

// broken finds the product that is furthest from whole batches, with the whole batches around what is made of it; −1
// where all are whole.
func (m model) broken(t *tableau) (product int, down, up *big.Rat) {
	product = -1
	furthest := new(big.Rat)
	for k, p := range m.products {
		if !p.inBatches() {
			continue
		}
		batches := new(big.Rat).Quo(m.made(t, k), p.BatchKg)
		if batches.IsInt() {
			continue
		}
		floor := new(big.Rat).SetInt(new(big.Int).Quo(batches.Num(), batches.Denom()))
		from := new(big.Rat).Sub(batches, floor)
		if other := new(big.Rat).Sub(big.NewRat(1, 1), from); other.Cmp(from) < 0 {
			from = other
		}
		if from.Cmp(furthest) > 0 {
			product, furthest = k, from
			down = new(big.Rat).Mul(floor, p.BatchKg)
			up = new(big.Rat).Add(down, p.BatchKg)
		}
	}
	return product, down, up
}

// made is how much of a product a corner makes.
func (m model) made(t *tableau, product int) *big.Rat {
	sum := new(big.Rat)
	for s := range m.streams {
		sum.Add(sum, t.value(m.use(s, product)))
	}
	return sum
}

// gained is what a corner adds to what the streams are worth elsewhere.
func (m model) gained(t *tableau) *big.Rat {
	sum := new(big.Rat).SetFrac(t.a[t.rows()][t.rhs()], t.by)
	return sum.Quo(sum, new(big.Rat).SetInt(t.scale[t.rows()]))
}

// mix reads a corner.
func (m model) mix(t *tableau, proven bool) Mix {
	out := Mix{Value: m.gained(t), Proven: proven}
	zero := new(big.Rat)
	sums := make([][4]*big.Rat, len(m.products)) // kg, and lean, connective and protein times kg
	for k := range sums {
		for i := range sums[k] {
			sums[k][i] = new(big.Rat)
		}
	}
	for s, x := range m.streams {
		left := new(big.Rat).Set(x.Kg)
		for k, p := range m.products {
			kg := t.value(m.use(s, k))
			if kg.Cmp(zero) == 0 {
				continue
			}
			out.Use = append(out.Use, Use{x.ID, p.ID, kg})
			left.Sub(left, kg)
			sums[k][0].Add(sums[k][0], kg)
			for i, pct := range []*big.Rat{x.LeanPct, x.ConnectivePct, x.Protein()} {
				sums[k][i+1].Add(sums[k][i+1], new(big.Rat).Mul(pct, kg))
			}
		}
		out.Left = append(out.Left, Left{x.ID, left})
		out.Value.Add(out.Value, new(big.Rat).Mul(x.Kg, x.WorthPerKg))
		more := new(big.Rat).Add(t.margin(s), x.WorthPerKg)
		out.Margins = append(out.Margins, Margin{x.ID, more})
	}
	for k, p := range m.products {
		made := Made{ID: p.ID, Kg: sums[k][0]}
		if made.Kg.Sign() > 0 {
			made.LeanPct = new(big.Rat).Quo(sums[k][1], made.Kg)
			made.ConnectivePct = new(big.Rat).Quo(sums[k][2], made.Kg)
			if sums[k][3].Sign() > 0 {
				made.CollagenPct = new(big.Rat).Quo(sums[k][2], sums[k][3])
				made.CollagenPct.Mul(made.CollagenPct, big.NewRat(100, 1))
			}
		}
		if p.inBatches() {
			made.Batches = int(new(big.Int).Quo(new(big.Rat).Quo(made.Kg, p.BatchKg).Num(), big.NewInt(1)).Int64())
		}
		out.Products = append(out.Products, made)
	}
	return out
}
