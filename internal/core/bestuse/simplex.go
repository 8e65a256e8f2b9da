package bestuse

import (
	"math"
	"slices"
)

const (
	feasible = 1e-8 // how far a variable may lie outside its bounds
	smallest = 1e-9 // the smallest number to divide by
	rebuild  = 400  // pivots after which the tableau is made anew, before rounding errors add up
)

// relaxation is max c·x under rows·x ≤ limit (or = limit) and bounds on x, solved again and again under changing bounds. All bounds of x are
// finite, so some basis is always dual feasible and the dual simplex method needs no first phase.
//
// Variables 0 … n−1 are x; n+i is the slack of row i. The tableau is condensed: basic = rhs − tableau·nonbasic, z = z0 + gain·nonbasic.
type relaxation struct {
	n, m      int
	c         []float64
	rows      [][]float64
	limit     []float64
	low, high []float64 // of all n+m variables

	t       [][]float64
	rhs     []float64
	gain    []float64
	z0      float64
	basis   []int
	outside []int // the nonbasic variables, by column
	atHigh  []bool
	x       []float64 // values of the basic variables, by row
	since   int

	stop    Stop // asked before each pivot, the dearest thing there is; nil never stops
	stopped bool // the last solve was stopped: its answer says nothing

	full  []int
	order []candidate
	moved []candidate // columns that are not at zero, and where they are
}

type candidate struct {
	col   int
	ratio float64
}

func newRelaxation(c []float64, rows [][]float64, limit []float64, equal []bool, high []float64) *relaxation {
	n, m := len(c), len(rows)
	r := &relaxation{n: n, m: m, c: c, rows: rows, limit: limit, low: make([]float64, n+m), high: make([]float64, n+m), atHigh: make([]bool, n), x: make([]float64, m),
		basis: make([]int, m), outside: make([]int, n), rhs: make([]float64, m), gain: make([]float64, n), t: make([][]float64, m)}
	copy(r.high, high)
	for i := range m {
		if !equal[i] {
			r.high[n+i] = math.Inf(1)
		}
		r.t[i] = make([]float64, n)
	}
	r.start()
	return r
}

// start makes the tableau of the slack basis.
func (r *relaxation) start() {
	for i := range r.m {
		copy(r.t[i], r.rows[i])
		r.basis[i] = r.n + i
	}
	copy(r.rhs, r.limit)
	copy(r.gain, r.c)
	r.z0, r.since = 0, 0
	for j := range r.n {
		r.outside[j] = j
	}
}

// anew makes the tableau of the present basis from the rows as they were given.
func (r *relaxation) anew() {
	want := make([]bool, r.n+r.m)
	for _, v := range r.basis {
		want[v] = true
	}
	r.start()
	for !r.ended() {
		row, col, best := -1, -1, smallest
		for j, v := range r.outside {
			if !want[v] {
				continue
			}
			for i, b := range r.basis {
				if a := math.Abs(r.t[i][j]); !want[b] && a > best {
					row, col, best = i, j, a
				}
			}
			if col >= 0 {
				break
			}
		}
		if col < 0 {
			break
		}
		r.pivot(row, col)
	}
	r.since = 0
}

func (r *relaxation) pivot(row, col int) {
	pr := r.t[row]
	p := 1 / pr[col]
	pr[col] = 1
	r.full = r.full[:0] // most rows have few columns that are not zero
	for j := range pr {
		if math.Abs(pr[j]) < 1e-13 {
			pr[j] = 0
			continue
		}
		pr[j] *= p
		r.full = append(r.full, j)
	}
	r.rhs[row] *= p
	for i, ti := range r.t {
		f := ti[col]
		if i == row || f == 0 {
			continue
		}
		for _, j := range r.full {
			ti[j] -= f * pr[j]
		}
		ti[col] = -f * p
		r.rhs[i] -= f * r.rhs[row]
	}
	if f := r.gain[col]; f != 0 {
		for _, j := range r.full {
			r.gain[j] -= f * pr[j]
		}
		r.gain[col] = -f * p
		r.z0 += f * r.rhs[row]
	}
	r.basis[row], r.outside[col] = r.outside[col], r.basis[row]
	r.since++
}

func (r *relaxation) at(col int) float64 {
	if v := r.outside[col]; r.atHigh[col] {
		return r.high[v]
	} else {
		return r.low[v]
	}
}

// settle puts every nonbasic variable on the bound that its gain asks for and works the basic ones out.
func (r *relaxation) settle() {
	for j, v := range r.outside {
		r.atHigh[j] = r.gain[j] > 0 && !math.IsInf(r.high[v], 1)
	}
	r.moved = r.moved[:0]
	for j := range r.outside {
		if at := r.at(j); at != 0 {
			r.moved = append(r.moved, candidate{j, at})
		}
	}
	for i, ti := range r.t {
		x := r.rhs[i]
		for _, o := range r.moved {
			x -= ti[o.col] * o.ratio
		}
		r.x[i] = x
	}
}

func (r *relaxation) value() float64 {
	z := r.z0
	for j, g := range r.gain {
		if g != 0 {
			z += g * r.at(j)
		}
	}
	return z
}

// ended says whether the search was stopped, and notes it.
func (r *relaxation) ended() bool {
	r.stopped = r.stopped || (r.stop != nil && r.stop())
	return r.stopped
}

// solve finds the best x under the present bounds. It stops early, with ok false, where there is none or none better than enough, and
// where it was stopped.
func (r *relaxation) solve(enough float64) (z float64, ok bool) {
	if r.since > rebuild {
		r.anew()
	}
	r.settle()
	for pivots := 0; ; pivots++ {
		if r.ended() {
			return 0, false
		}
		row, up, worst := r.leaving(pivots > 20*(r.n+r.m))
		if row < 0 {
			return r.value(), true
		}
		col := r.entering(row, up, worst)
		if col < 0 {
			return 0, false
		}
		v := r.basis[row]
		bound := r.high[v]
		if up {
			bound = r.low[v]
		}
		move := (r.x[row] - bound) / r.t[row][col]
		to := r.at(col) + move
		for i := range r.x {
			if i != row {
				r.x[i] -= r.t[i][col] * move
			}
		}
		r.x[row] = to
		r.pivot(row, col)
		r.atHigh[col] = !up
		if pivots%8 == 7 && r.value() <= enough {
			return 0, false
		}
		if r.since > 2*rebuild {
			r.anew()
			r.settle()
		}
	}
}

// leaving gives the row of the basic variable that is furthest outside its bounds, and whether it must go up; the first such where careful is
// asked for, so that the method cannot go in circles.
func (r *relaxation) leaving(careful bool) (row int, up bool, worst float64) {
	row, worst = -1, feasible
	for i, v := range r.basis {
		if d := r.low[v] - r.x[i]; d > worst {
			row, up, worst = i, true, d
		} else if d := r.x[i] - r.high[v]; d > worst {
			row, up, worst = i, false, d
		}
		if careful && row >= 0 {
			return row, up, worst
		}
	}
	return row, up, worst
}

// entering gives the column to pivot on: that whose gain is used up first. Those that can only go over to their other bound before the row is
// within its own do so on the way.
func (r *relaxation) entering(row int, up bool, need float64) int {
	r.order = r.order[:0]
	for j, a := range r.t[row] {
		v := r.outside[j]
		if math.Abs(a) < smallest || r.low[v] == r.high[v] {
			continue
		}
		if (a < 0) == (up != r.atHigh[j]) { // moving it off its bound moves the row the right way
			r.order = append(r.order, candidate{j, math.Abs(r.gain[j] / a)})
		}
	}
	slices.SortFunc(r.order, func(a, b candidate) int {
		switch {
		case a.ratio < b.ratio-1e-12:
			return -1
		case a.ratio > b.ratio+1e-12:
			return 1
		case math.Abs(r.t[row][a.col]) > math.Abs(r.t[row][b.col]):
			return -1
		case math.Abs(r.t[row][a.col]) < math.Abs(r.t[row][b.col]):
			return 1
		}
		return a.col - b.col
	})
	for k, o := range r.order {
		v := r.outside[o.col]
		width := r.high[v] - r.low[v]
		need -= width * math.Abs(r.t[row][o.col])
		if need <= feasible || k == len(r.order)-1 {
			if need > feasible && k == len(r.order)-1 {
				return -1 // all of them together cannot bring it within its bounds
			}
			return o.col
		}
		move := width
		if r.atHigh[o.col] {
			move = -width
		}
		r.atHigh[o.col] = !r.atHigh[o.col]
		for i := range r.x {
			r.x[i] -= r.t[i][o.col] * move
		}
	}
	return -1
}

// values gives x.
func (r *relaxation) values(into []float64) {
	for j, v := range r.outside {
		if v < r.n {
			into[v] = r.at(j)
		}
	}
	for i, v := range r.basis {
		if v < r.n {
			into[v] = r.x[i]
		}
	}
}
