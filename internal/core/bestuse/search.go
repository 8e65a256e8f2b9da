package bestuse

import (
	"container/heap"
	"errors"
	"math"

	"falda/internal/core/measure"
)

// ErrInfeasible is returned where no use keeps all limits and orders; Conflict says which.
var ErrInfeasible = errors.New("the orders cannot all be met")

// ErrStopped is returned where the search was stopped before it found any use.
var ErrStopped = errors.New("stopped before an answer was found")

// exact is by how much a use must be better to count as better.
const exact = 1e-5

// tries is how often branching on a variable is tried before what it did is taken for what it will do.
const tries = 2

// Stop ends a search early where it answers true; nil never does.
type Stop func() bool

// Solver finds the best use of the pieces: from a use that is known, where there is one, until it is proven or stopped.
type Solver interface {
	Solve(p Problem, known *Solution, stop Stop) (Solution, error)
}

// BranchAndBound is the solver of this package: branch and bound on the dual simplex method.
type BranchAndBound struct {
	// Above is what a use must bring more than to be of interest; where none does, ErrInfeasible is given.
	Above *measure.Money
}

// Solve gives ErrInfeasible where there is no use, and the faults of Check. A search that was stopped gives the best it
// has found, not Proven.
func (b BranchAndBound) Solve(p Problem, known *Solution, stop Stop) (Solution, error) {
	if err := p.Check(); err != nil {
		return Solution{}, err
	}
	s := newSearch(p, stop)
	if b.Above != nil {
		s.value = b.Above.Float()
	}
	if known != nil && p.meets(*known) {
		s.keepBest(p.sell(known.counts))
	}
	return s.run()
}

// node is a set of bounds that is still to be looked at.
type node struct {
	low, high []int32
	bound     float64
	depth     int
}

type nodes []*node

func (h nodes) Len() int           { return len(h) }
func (h nodes) Less(i, j int) bool { return h[i].bound > h[j].bound }
func (h nodes) Swap(i, j int)      { h[i], h[j] = h[j], h[i] }
func (h *nodes) Push(x any)        { *h = append(*h, x.(*node)) }
func (h *nodes) Pop() any {
	old := *h
	x := old[len(old)-1]
	*h = old[:len(old)-1]
	return x
}

// search is a problem as numbers. Variable v of the first whole ones is how many of piece[v] are cut by plan[v]; the
// others are what of a product is cut beyond its cap.
type search struct {
	p           Problem
	stop        Stop
	piece, plan []int
	lp          *relaxation
	whole       int
	open        nodes
	best        *Solution
	value       float64 // of the best
	visited     int
	lookedAt    int
	nextClimb   int
	x           []float64
	// what the bound fell by for each unit when branching down was tried, and up; sums, and how often
	gainDown []float64
	gainUp   []float64
	nDown    []float64
	hill     *hill
}

func newSearch(p Problem, stop Stop) *search {
	s := &search{p: p, stop: stop, value: math.Inf(-1), nextClimb: 1}
	l := layOut(p)
	s.piece, s.plan, s.whole = l.piece, l.plan, l.whole
	s.lp = newRelaxation(l.gain, l.rows, l.limit, l.equal, l.high)
	s.lp.stop = stop
	s.x = make([]float64, l.n)
	s.gainDown, s.gainUp, s.nDown = make([]float64, s.whole), make([]float64, s.whole), make([]float64, s.whole)
	s.hill = newHill(p, l.kg)
	s.hill.stop = stop
	return s
}

// keepBest keeps a use where it is better than the best so far.
func (s *search) keepBest(found Solution) {
	if v := found.Value.Float(); s.p.meets(found) && v > s.value {
		s.best, s.value = &found, v
	}
}

func (s *search) bounds(n *node) {
	for v := range s.whole {
		s.lp.lower[v], s.lp.upper[v] = float64(n.low[v]), float64(n.high[v])
	}
}

func (s *search) run() (Solution, error) {
	root := &node{low: make([]int32, s.whole), high: make([]int32, s.whole), bound: s.p.atMost()}
	for v := range s.whole {
		root.high[v] = int32(s.lp.upper[v])
	}
	heap.Push(&s.open, root)
	if s.stop != nil { // something to show, should it be stopped soon
		s.round()
	}
	stopped, left := false, 0.0
	for len(s.open) > 0 && !stopped {
		n := heap.Pop(&s.open).(*node)
		if n.bound <= s.value+exact {
			break // and so are all the others
		}
		for n != nil { // dive
			if s.lp.ended() {
				stopped, left = true, n.bound
				break
			}
			at := n
			if n = s.explore(n); s.lp.stopped { // what was looked at is not known to be done
				stopped, left = true, at.bound
				break
			}
		}
	}
	switch {
	case s.best == nil && stopped:
		return Solution{}, ErrStopped
	case s.best == nil:
		return Solution{}, ErrInfeasible
	}
	out := *s.best
	out.Nodes, out.Proven, out.AtMost = s.visited, !stopped, s.value
	if stopped {
		for _, n := range s.open {
			left = math.Max(left, n.bound)
		}
		out.AtMost = math.Max(s.value, left)
		out.Proven = out.AtMost <= s.value+exact
	}
	return out, nil
}

// explore solves the relaxation of a node, branches where it must, and gives the child to go on with.
func (s *search) explore(n *node) *node {
	s.visited++
	s.bounds(n)
	z, ok := s.lp.solve(s.value + exact)
	if !ok || z <= s.value+exact {
		return nil
	}
	s.lp.values(s.x)
	if s.lookedAt++; s.lookedAt == s.nextClimb { // at the 1st, 5th, 25th …: what is found early saves most
		s.nextClimb *= 5
		s.round()
	}
	s.fix(n, z) // while the tableau is that of this node
	v := s.branch(z, n)
	if s.lp.stopped {
		return nil
	}
	if v < 0 {
		found := s.p.sell(s.counts(func(v int) int { return int(math.Round(s.x[v])) }))
		s.keepBest(found)
		if s.p.meets(found) {
			return nil
		}
		return s.neighbourhood(n, z)
	}
	floor := int32(math.Floor(s.x[v]))
	down := &node{low: n.low, high: append([]int32(nil), n.high...), bound: z, depth: n.depth + 1}
	up := &node{low: append([]int32(nil), n.low...), high: n.high, bound: z, depth: n.depth + 1}
	down.high[v], up.low[v] = floor, floor+1
	if s.x[v]-float64(floor) >= 0.35 {
		heap.Push(&s.open, down)
		return up
	}
	heap.Push(&s.open, up)
	return down
}

// neighbourhood takes a node apart whose relaxed use is whole but for rounding errors and, rounded, breaks a limit by
// as little: it fixes one variable at its rounded value, and leaves what lies on both sides for later.
func (s *search) neighbourhood(n *node, z float64) *node {
	for v := range s.whole {
		if n.low[v] == n.high[v] {
			continue
		}
		at := int32(math.Round(s.x[v]))
		child := func(low, high int32) *node {
			c := &node{low: append([]int32(nil), n.low...), high: append([]int32(nil), n.high...), bound: z, depth: n.depth + 1}
			c.low[v], c.high[v] = low, high
			return c
		}
		if at > n.low[v] {
			heap.Push(&s.open, child(n.low[v], at-1))
		}
		if at < n.high[v] {
			heap.Push(&s.open, child(at+1, n.high[v]))
		}
		return child(at, at)
	}
	return nil
}

// fix narrows the bounds of what cannot leave its bound without costing more than there is to win.
func (s *search) fix(n *node, z float64) {
	if s.best == nil {
		return
	}
	room := z - s.value - exact
	var low, high []int32
	for j, v := range s.lp.nonbasic {
		if v >= s.whole || n.low[v] == n.high[v] {
			continue
		}
		g := math.Abs(s.lp.reduced[j])
		if g < 1e-7 {
			continue
		}
		steps := int32(math.Min(math.Floor(room/g+1e-9), math.MaxInt16))
		if steps >= n.high[v]-n.low[v] {
			continue
		}
		if low == nil {
			low, high = append([]int32(nil), n.low...), append([]int32(nil), n.high...)
		}
		if s.lp.atUpper[j] {
			low[v] = high[v] - steps
		} else {
			high[v] = low[v] + steps
		}
	}
	if low != nil {
		n.low, n.high = low, high
	}
}

// branch gives the whole variable to branch on, −1 where all are whole.
func (s *search) branch(z float64, n *node) int {
	best, score := -1, -1.0
	for v := range s.whole {
		if s.lp.stopped {
			return best
		}
		f := s.x[v] - math.Floor(s.x[v])
		if f < 1e-6 || f > 1-1e-6 {
			continue
		}
		down, up := s.strongBranch(v, f, z, n)
		if sc := math.Max(down, 1e-6) * math.Max(up, 1e-6); sc > score {
			best, score = v, sc
		}
	}
	return best
}

// strongBranch says by how much the bound is likely to fall when v is branched on: as it fell before, or as a try
// shows.
func (s *search) strongBranch(v int, f, z float64, n *node) (down, up float64) {
	if s.nDown[v] < tries && n.low[v] < n.high[v] {
		fall := func(low, high int32) float64 {
			was := [2]float64{s.lp.lower[v], s.lp.upper[v]}
			s.lp.lower[v], s.lp.upper[v] = float64(low), float64(high)
			got, ok := s.lp.solve(s.value)
			s.lp.lower[v], s.lp.upper[v] = was[0], was[1]
			s.visited++
			if !ok {
				if math.IsInf(s.value, -1) {
					return math.Max(1, math.Abs(z)) // impossible
				}
				return z - s.value
			}
			return z - got
		}
		s.bounds(n)
		floor := int32(math.Floor(s.x[v]))
		s.gainDown[v], s.gainUp[v] = s.gainDown[v]+fall(n.low[v], floor)/f, s.gainUp[v]+fall(floor+1, n.high[v])/(1-f)
		s.nDown[v]++
	}
	return f * s.gainDown[v] / s.nDown[v], (1 - f) * s.gainUp[v] / s.nDown[v]
}

func (s *search) counts(of func(v int) int) [][]int {
	out := make([][]int, len(s.p.Pieces))
	for v, i := range s.piece {
		out[i] = append(out[i], of(v))
	}
	return out
}

// round makes a whole use of the relaxed one at hand.
func (s *search) round() { s.keepBest(s.p.sell(s.hill.climb(s.x))) }
