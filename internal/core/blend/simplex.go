package blend

import "math/big"

// programme is a linear programme: the most of gain·x where each row·x is at most its limit and no x is below nothing.
// A nil coefficient is nothing.
type programme struct {
	gain   []*big.Rat
	rows   [][]*big.Rat
	limits []*big.Rat
}

func (p *programme) add(row []*big.Rat, limit *big.Rat) {
	p.rows, p.limits = append(p.rows, row), append(p.limits, limit)
}

// tableau is a programme on its way: whole numbers over one common divisor, which is above nothing. Columns are the
// unknowns, then a slack for each row, then the right-hand side. The last row is the gain: what a column would cost
// (negative where it would add), and at the end what has been gained.
type tableau struct {
	unknowns int
	a        [][]*big.Int
	by       *big.Int
	basis    []int
	scale    []*big.Int // by which each row was multiplied to be of whole numbers; the last is the gain's
	swap     *big.Int   // scratch
}

// whole multiplies fractions by their least common denominator.
func whole(row []*big.Rat) ([]*big.Int, *big.Int) {
	scale := big.NewInt(1)
	gcd := new(big.Int)
	for _, v := range row {
		if v != nil && v.Sign() != 0 {
			gcd.GCD(nil, nil, scale, v.Denom())
			scale.Mul(scale, new(big.Int).Quo(v.Denom(), gcd))
		}
	}
	out := make([]*big.Int, len(row))
	for j, v := range row {
		out[j] = new(big.Int)
		if v != nil && v.Sign() != 0 {
			out[j].Mul(v.Num(), new(big.Int).Quo(scale, v.Denom()))
		}
	}
	return out, scale
}

func (p *programme) tableau() *tableau {
	n, m := len(p.gain), len(p.rows)
	t := &tableau{unknowns: n, by: big.NewInt(1), swap: new(big.Int)}
	put := func(row []*big.Rat, limit *big.Rat, slack int) {
		figures, scale := whole(append(append([]*big.Rat{}, row...), limit))
		full := make([]*big.Int, n+m+1)
		copy(full, figures[:n])
		for j := n; j < n+m; j++ {
			full[j] = new(big.Int)
		}
		full[n+m] = figures[n]
		if slack >= 0 {
			full[n+slack].SetInt64(1)
		}
		t.a, t.scale = append(t.a, full), append(t.scale, scale)
	}
	for i, row := range p.rows {
		put(row, p.limits[i], i)
		t.basis = append(t.basis, n+i)
	}
	put(negated(p.gain), new(big.Rat), -1)
	return t
}

func (t *tableau) rows() int { return len(t.basis) }
func (t *tableau) rhs() int  { return t.unknowns + t.rows() }

// pivot brings a column into the basis in the place of a row's. Row by row: (a·p − b·c) / by, which is whole.
func (t *tableau) pivot(row, col int) {
	if t.a[row][col].Sign() < 0 {
		for _, v := range t.a[row] {
			v.Neg(v)
		}
	}
	p := new(big.Int).Set(t.a[row][col])
	for i := range t.a {
		if i == row {
			continue
		}
		c := new(big.Int).Set(t.a[i][col])
		for j, v := range t.a[i] {
			if v.Sign() != 0 {
				v.Mul(v, p)
			}
			if c.Sign() != 0 && t.a[row][j].Sign() != 0 {
				v.Sub(v, t.swap.Mul(c, t.a[row][j]))
			}
			if v.Sign() != 0 {
				v.Quo(v, t.by)
			}
		}
	}
	t.by = p
	t.basis[row] = col
}

// solve goes to the best corner; false where no corner keeps every limit. A programme here has always an end: no more
// can be used of a stream than there is. False too where it was stopped.
func (t *tableau) solve(stop Stop) bool {
	for !stop() { // to a corner that keeps the limits: the dual simplex method for no gain at all, by Bland's rule
		row := -1
		for i := range t.basis {
			if t.a[i][t.rhs()].Sign() < 0 && (row < 0 || t.basis[i] < t.basis[row]) {
				row = i
			}
		}
		if row < 0 {
			return t.climb(stop)
		}
		col := -1
		for j := range t.rhs() {
			if t.a[row][j].Sign() < 0 {
				col = j
				break
			}
		}
		if col < 0 {
			return false
		}
		t.pivot(row, col)
	}
	return false
}

// climb goes from a corner that keeps every limit to the best one; false where it was stopped.
func (t *tableau) climb(stop Stop) bool {
	still := 0 // pivots in a row that gained nothing: then by Bland's rule, which comes to an end
	for !stop() {
		col := t.entering(still > 20)
		if col < 0 {
			return true
		}
		row := t.leaving(col)
		if t.a[row][t.rhs()].Sign() == 0 {
			still++
		} else {
			still = 0
		}
		t.pivot(row, col)
	}
	return false
}

// entering picks a column that would add: the one that adds most a unit or, by Bland's rule, the first.
func (t *tableau) entering(first bool) int {
	gain, col := t.a[t.rows()], -1
	for j := range t.rhs() {
		if gain[j].Sign() < 0 && (col < 0 || gain[j].Cmp(gain[col]) < 0) {
			if col = j; first {
				break
			}
		}
	}
	return col
}

// leaving picks the row that runs out first as a column enters; of equals the one with the lowest column.
func (t *tableau) leaving(col int) int {
	row := -1
	var left, right big.Int
	for i := range t.basis {
		if t.a[i][col].Sign() <= 0 {
			continue
		}
		if row < 0 {
			row = i
			continue
		}
		left.Mul(t.a[i][t.rhs()], t.a[row][col])
		right.Mul(t.a[row][t.rhs()], t.a[i][col])
		if c := left.Cmp(&right); c < 0 || (c == 0 && t.basis[i] < t.basis[row]) {
			row = i
		}
	}
	return row
}

// value gives an unknown.
func (t *tableau) value(col int) *big.Rat {
	for i, b := range t.basis {
		if b == col {
			return new(big.Rat).SetFrac(t.a[i][t.rhs()], t.by)
		}
	}
	return new(big.Rat)
}

// clone copies the tableau.
func (t *tableau) clone() *tableau {
	out := &tableau{unknowns: t.unknowns, by: new(big.Int).Set(t.by), basis: append([]int{}, t.basis...), scale: t.scale,
		swap: new(big.Int)}
	for _, row := range t.a {
		line := make([]*big.Int, len(row))
		for j, v := range row {
			line[j] = new(big.Int).Set(v)
		}
		out.a = append(out.a, line)
	}
	return out
}

// margin is what one more of a row's limit would add: the right derivative. Where rows stand at nothing that would then
// be broken, the basis is changed first; the gain stays what it was.
func (t *tableau) margin(row int) *big.Rat {
	slack := t.unknowns + row
	for {
		out := -1
		for i := range t.basis {
			if t.a[i][t.rhs()].Sign() == 0 && t.a[i][slack].Sign() < 0 && (out < 0 || t.basis[i] < t.basis[out]) {
				out = i
			}
		}
		if out < 0 {
			break
		}
		t = t.clone()
		in := -1
		var left, right big.Int
		gain := t.a[t.rows()]
		for j := range t.rhs() {
			if t.a[out][j].Sign() >= 0 {
				continue
			}
			if in < 0 {
				in = j
				continue
			}
			// the least gain[j] / −a[out][j]
			left.Mul(gain[j], t.a[out][in])
			right.Mul(gain[in], t.a[out][j])
			if left.Cmp(&right) > 0 {
				in = j
			}
		}
		if in < 0 {
			break
		}
		t.pivot(out, in)
	}
	// the slack's cost counts the row's scale and the gain's
	cost := new(big.Rat).SetFrac(t.a[t.rows()][slack], t.by)
	cost.Mul(cost, new(big.Rat).SetInt(t.scale[row]))
	return cost.Quo(cost, new(big.Rat).SetInt(t.scale[t.rows()]))
}
