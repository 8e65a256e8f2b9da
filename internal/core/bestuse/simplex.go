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

// relaxation is max c·x under rows·x ≤ limit (or = limit) and bounds on x, solved again and again under changing
// bounds. All bounds of x are finite, so some basis is always dual feasible and the dual simplex method needs no first
// phase.
//
// Variables 0 … n−1 are x; n+i is the slack of row i. The tableau is condensed: basic = rhs − tableau·nonbasic, z = z0
// + gain·nonbasic.
type relaxation struct {
	n, m         int
	c            []float64
	rows         [][]float64
	rhsGiven     []float64
	lower, upper []float64 // of all n+m variables

	tableau  [][]float64
	rhs      []float64
	reduced  []float64
	z0       float64
	basis    []int
	nonbasic []int // the nonbasic variables, by column
	atUpper  []bool
	basic    []float64 // values of the basic variables, by row
	pivots   int

	stop    Stop // asked before each pivot, the dearest thing there is; nil never stops
	stopped bool // the last solve was stopped: its answer says nothing

	filled  []int
	order   []candidate
	nonzero []candidate // columns that are not at zero, and where they are
}

type candidate struct {
	col   int
	ratio float64
}

func newRelaxation(c []float64, rows [][]float64, limit []float64, equal []bool, high []float64) *relaxation {
	n, m := len(c), len(rows)
	r := &relaxation{n: n, m: m, c: c, rows: rows, rhsGiven: limit, lower: make([]float64, n+m),
		upper: make([]float64, n+m), atUpper: make([]bool, n), basic: make([]float64, m), basis: make([]int, m),
		nonbasic: make([]int, n), rhs: make([]float64, m), reduced: make([]float64, n), tableau: make([][]float64, m)}
	copy(r.upper, high)
	for i := range m {
		if !equal[i] {
			r.upper[n+i] = math.Inf(1)
		}
		r.tableau[i] = make([]float64, n)
	}
	r.start()
	return r
}

// start makes the tableau of the slack basis.
func (r *relaxation) start() {
	for i := range r.m {
		copy(r.tableau[i], r.rows[i])
		r.basis[i] = r.n + i
	}
	copy(r.rhs, r.rhsGiven)
	copy(r.reduced, r.c)
	r.z0, r.pivots = 0, 0
	for j := range r.n {
		r.nonbasic[j] = j
	}
}

// refactor makes the tableau of the present basis from the rows as they were given.
func (r *relaxation) refactor() {
	want := make([]bool, r.n+r.m)
	for _, v := range r.basis {
		want[v] = true
	}
	r.start()
	for !r.ended() {
		row, col, best := -1, -1, smallest
		for j, v := range r.nonbasic {
			if !want[v] {
				continue
			}
			for i, b := range r.basis {
				if a := math.Abs(r.tableau[i][j]); !want[b] && a > best {
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
	r.pivots = 0
}

func (r *relaxation) pivot(row, col int) {
	pr := r.tableau[row]
	p := 1 / pr[col]
	pr[col] = 1
	r.filled = r.filled[:0] // most rows have few columns that are not zero
	for j := range pr {
		if math.Abs(pr[j]) < 1e-13 {
			pr[j] = 0
			continue
		}
		pr[j] *= p
		r.filled = append(r.filled, j)
	}
	r.rhs[row] *= p
	for i, ti := range r.tableau {
		f := ti[col]
		if i == row || f == 0 {
			continue
		}
		for _, j := range r.filled {
			ti[j] -= f * pr[j]
		}
		ti[col] = -f * p
		r.rhs[i] -= f * r.rhs[row]
	}
	if f := r.reduced[col]; f != 0 {
		for _, j := range r.filled {
			r.reduced[j] -= f * pr[j]
		}
		r.reduced[col] = -f * p
		r.z0 += f * r.rhs[row]
	}
	r.basis[row], r.nonbasic[col] = r.nonbasic[col], r.basis[row]
	r.pivots++
}

func (r *relaxation) valueAt(col int) float64 {
	if v := r.nonbasic[col]; r.atUpper[col] {
		return r.upper[v]
	} else {
		return r.lower[v]
	}
}

// resetNonbasic puts every nonbasic variable on the bound that its gain asks for and works the basic ones out.
func (r *relaxation) resetNonbasic() {
	for j, v := range r.nonbasic {
		r.atUpper[j] = r.reduced[j] > 0 && !math.IsInf(r.upper[v], 1)
	}
	r.nonzero = r.nonzero[:0]
	for j := range r.nonbasic {
		if at := r.valueAt(j); at != 0 {
			r.nonzero = append(r.nonzero, candidate{j, at})
		}
	}
	for i, ti := range r.tableau {
		x := r.rhs[i]
		for _, o := range r.nonzero {
			x -= ti[o.col] * o.ratio
		}
		r.basic[i] = x
	}
}

func (r *relaxation) value() float64 {
	z := r.z0
	for j, g := range r.reduced {
		if g != 0 {
			z += g * r.valueAt(j)
		}
	}
	return z
}

// ended says whether the search was stopped, and notes it.
func (r *relaxation) ended() bool {
	r.stopped = r.stopped || (r.stop != nil && r.stop())
	return r.stopped
}

// solve finds the best x under the present bounds. It stops early, with ok false, where there is none or none better
// than enough, and where it was stopped.
func (r *relaxation) solve(enough float64) (z float64, ok bool) {
	if r.pivots > rebuild {
		r.refactor()
	}
	r.resetNonbasic()
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
		bound := r.upper[v]
		if up {
			bound = r.lower[v]
		}
		move := (r.basic[row] - bound) / r.tableau[row][col]
		to := r.valueAt(col) + move
		for i := range r.basic {
			if i != row {
				r.basic[i] -= r.tableau[i][col] * move
			}
		}
		r.basic[row] = to
		r.pivot(row, col)
		r.atUpper[col] = !up
		if pivots%8 == 7 && r.value() <= enough {
			return 0, false
		}
		if r.pivots > 2*rebuild {
			r.refactor()
			r.resetNonbasic()
		}
	}
}

// leaving gives the row of the basic variable that is furthest outside its bounds, and whether it must go up; the first
// such where careful is asked for, so that the method cannot go in circles.
func (r *relaxation) leaving(careful bool) (row int, up bool, worst float64) {
	row, worst = -1, feasible
	for i, v := range r.basis {
		if d := r.lower[v] - r.basic[i]; d > worst {
			row, up, worst = i, true, d
		} else if d := r.basic[i] - r.upper[v]; d > worst {
			row, up, worst = i, false, d
		}
		if careful && row >= 0 {
			return row, up, worst
		}
	}
	return row, up, worst
}

// entering gives the column to pivot on: that whose gain is used up first. Those that can only go over to their other
// bound before the row is within its own do so on the way.
func (r *relaxation) entering(row int, up bool, need float64) int {
	r.order = r.order[:0]
	for j, a := range r.tableau[row] {
		v := r.nonbasic[j]
		if math.Abs(a) < smallest || r.lower[v] == r.upper[v] {
			continue
		}
		if (a < 0) == (up != r.atUpper[j]) { // moving it off its bound moves the row the right way
			r.order = append(r.order, candidate{j, math.Abs(r.reduced[j] / a)})
		}
	}
	slices.SortFunc(r.order, func(a, b candidate) int {
		switch {
		case a.ratio < b.ratio-1e-12:
			return -1
		case a.ratio > b.ratio+1e-12:
			return 1
		case math.Abs(r.tableau[row][a.col]) > math.Abs(r.tableau[row][b.col]):
			return -1
		case math.Abs(r.tableau[row][a.col]) < math.Abs(r.tableau[row][b.col]):
			return 1
		}
		return a.col - b.col
	})
	for k, o := range r.order {
		v := r.nonbasic[o.col]
		width := r.upper[v] - r.lower[v]
		need -= width * math.Abs(r.tableau[row][o.col])
		if need <= feasible || k == len(r.order)-1 {
			if need > feasible && k == len(r.order)-1 {
				return -1 // all of them together cannot bring it within its bounds
			}
			return o.col
		}
		move := width
		if r.atUpper[o.col] {
			move = -width
		}
		r.atUpper[o.col] = !r.atUpper[o.col]
		for i := range r.basic {
			r.basic[i] -= r.tableau[i][o.col] * move
		}
	}
	return -1
}

// values gives x.
func (r *relaxation) values(into []float64) {
	for j, v := range r.nonbasic {
		if v < r.n {
			into[v] = r.valueAt(j)
		}
	}
	for i, v := range r.basis {
		if v < r.n {
			into[v] = r.basic[i]
		}
	}
}
