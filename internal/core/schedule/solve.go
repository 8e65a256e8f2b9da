package schedule

import (
	"encoding/binary"
	"slices"
)

// How long is searched, in steps, so that the same day is laid out the same way on every machine.
const (
	maxTries = 8_000     // of the improvement
	maxWork  = 4_000_000 // of the search: placements times jobs
	maxKnown = 100_000   // states that are remembered
)

// Solve lays a day out. Where the search was ended before it was through, the plan is the best that was found and Bound
// says what no way can beat.
func Solve(p Problem, stop Stop) (Plan, error) {
	if err := p.check(); err != nil {
		return Plan{}, err
	}
	root := p.begin()
	if len(p.Jobs) == 0 {
		return Plan{Ready: root.ready, Proven: true}, nil
	}
	s := search{p: p, stop: stop, known: map[string][][]int{}}
	s.improve()
	bound := p.bound(root)
	if bound.Less(s.cost) {
		s.through = true
		s.branch(root)
	}
	out := Plan{Slots: s.best.slots, Ready: s.best.ready, Cost: s.cost, Bound: bound}
	if out.Proven = s.through || !bound.Less(s.cost); out.Proven {
		out.Bound = out.Cost
	}
	slices.SortFunc(out.Slots, func(a, b Slot) int {
		if a.From != b.From {
			return a.From - b.From
		}
		return a.Post - b.Post
	})
	return out, nil
}

// search is a day that is being laid out.
type search struct {
	p       Problem
	stop    Stop
	best    state
	cost    Cost
	found   bool
	nodes   int
	work    int
	through bool // nothing was left out for want of time
	known   map[string][][]int
	states  int
}

func (s *search) keep(found state) bool {
	c := s.p.cost(found)
	if s.found && !c.Less(s.cost) {
		return false
	}
	s.best, s.cost, s.found = found, c, true
	return true
}

// way is an order in which pieces are placed, each with its post.
type way struct{ jobs, posts []int }

// lay builds a way up; false where it breaks a rule.
func (p Problem) lay(w way) (state, bool) {
	s := p.begin()
	for i, job := range w.jobs {
		if !p.may(s, job, w.posts[i]) {
			return s, false
		}
		p.place(&s, job, w.posts[i])
	}
	return s, true
}

// first is a good way to begin with: what is due first, then what takes longest, each where it ends first; allergens
// last.
func (p Problem) first(byDue bool) (way, state) {
	due := func(j Job) int {
		at := 1 << 62
		for _, o := range j.Orders {
			at = min(at, p.Orders[o].Due)
		}
		return at
	}
	order := make([]int, len(p.Jobs))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := p.Jobs[a], p.Jobs[b]
		switch {
		case x.Allergen != y.Allergen:
			if y.Allergen {
				return -1
			}
			return 1
		case byDue && due(x) < due(y):
			return -1
		case byDue && due(x) > due(y):
			return 1
		case x.Species != y.Species && !byDue:
			if x.Species < y.Species {
				return -1
			}
			return 1
		}
		return y.takes(0) - x.takes(0)
	})
	var w way
	s := p.begin()
	for _, job := range order {
		var next state
		at := -1
		for post := range p.Posts {
			if !p.may(s, job, post) {
				continue
			}
			then := s.copied()
			if p.place(&then, job, post); at < 0 || then.free[post] < next.free[at] {
				next, at = then, post
			}
		}
		s = next
		w.jobs, w.posts = append(w.jobs, job), append(w.posts, at)
	}
	return w, s
}

// improve looks for a good way: from a few beginnings on, what was placed is moved about as long as that makes nothing
// worse.
func (s *search) improve() {
	rng := dice(0x9E3779B97F4A7C15)
	for _, byDue := range []bool{true, false} {
		w, laid := s.p.first(byDue)
		s.keep(laid)
		now := s.p.cost(laid)
		for try := 0; try < maxTries/2; try++ {
			if try%64 == 0 && s.stop != nil && s.stop() {
				return
			}
			next := way{slices.Clone(w.jobs), slices.Clone(w.posts)}
			next.shake(&rng, s.p)
			laid, ok := s.p.lay(next)
			if !ok {
				continue
			}
			if c := s.p.cost(laid); !now.Less(c) {
				w, now = next, c
				s.keep(laid)
			}
		}
	}
}

// dice gives numbers that look thrown and are the same each time: xorshift (Marsaglia 2003, J. Stat. Softw. 8, from
// memory).
type dice uint64

func (d *dice) below(n int) int {
	*d ^= *d << 13
	*d ^= *d >> 7
	*d ^= *d << 17
	return int(uint64(*d) % uint64(n))
}

// shake moves something: a piece to another place of the order, or to another post, or two change places.
func (w *way) shake(rng *dice, p Problem) {
	n := len(w.jobs)
	i, k := rng.below(n), rng.below(n)
	switch rng.below(3) {
	case 0:
		job, post := w.jobs[i], w.posts[i]
		w.jobs, w.posts = slices.Delete(w.jobs, i, i+1), slices.Delete(w.posts, i, i+1)
		w.jobs, w.posts = slices.Insert(w.jobs, k, job), slices.Insert(w.posts, k, post)
	case 1:
		w.posts[i] = rng.below(len(p.Posts))
	default:
		w.jobs[i], w.jobs[k] = w.jobs[k], w.jobs[i]
	}
}

// step is a job that may be placed next.
type step struct {
	then  state
	bound Cost
}

// branch tries every job at every post as the next, the most promising first.
func (s *search) branch(at state) {
	if s.p.left(at) == 0 {
		s.keep(at)
		return
	}
	if s.nodes++; s.work > maxWork || s.nodes%64 == 0 && s.stop != nil && s.stop() {
		s.through = false
		return
	}
	var next []step
	for job := range s.p.Jobs {
		if at.done&(1<<job) != 0 || s.twin(at, job) {
			continue
		}
		for post := range s.p.Posts {
			if !s.p.may(at, job, post) {
				continue
			}
			then := at.copied()
			s.work += len(s.p.Jobs)
			if s.p.place(&then, job, post); then.key < at.key {
				continue // the same comes about in another order
			}
			if b := s.p.bound(then); b.Less(s.cost) {
				next = append(next, step{then, b})
			}
		}
	}
	slices.SortStableFunc(next, func(a, b step) int {
		switch {
		case a.bound.Less(b.bound):
			return -1
		case b.bound.Less(a.bound):
			return 1
		}
		return a.then.key - b.then.key
	})
	for _, x := range next {
		if x.bound.Less(s.cost) && !s.dominated(x.then) {
			s.branch(x.then)
		}
		if !s.through {
			return
		}
	}
}

// twin says whether a job that is the same in all respects stands before it and is not placed yet.
func (s *search) twin(at state, job int) bool {
	a := s.p.Jobs[job]
	for i := range job {
		b := s.p.Jobs[i]
		if at.done&(1<<i) == 0 && a.Species == b.Species && a.Allergen == b.Allergen && a.Post == b.Post &&
			slices.Equal(a.Before, b.Before) && slices.Equal(a.Saw, b.Saw) && slices.Equal(a.After, b.After) &&
			slices.Equal(a.Orders, b.Orders) {
			return true
		}
	}
	return false
}

// dominated says whether a state that was seen has the same pieces placed and is no worse in any respect; else it is
// remembered.
func (s *search) dominated(x state) bool {
	id := binary.LittleEndian.AppendUint64(nil, x.done)
	vector := make([]int, 0, len(x.free)+len(x.ready)+2)
	for i := range x.free {
		id = append(id, x.species[i]...)
		id = append(id, '|')
		if x.dirty[i] {
			id = append(id, 'd')
			if s.p.washable(x, i) {
				id = append(id, 'w')
			}
		}
		vector = append(vector, x.free[i])
	}
	id = append(id, x.sawSpecies...)
	vector = append(append(vector, x.ready...), x.saw, x.key)
	list := s.known[string(id)]
	for _, v := range list {
		if noWorse(v, vector) {
			return true
		}
	}
	if s.states < maxKnown {
		kept := slices.DeleteFunc(list, func(v []int) bool { return noWorse(vector, v) })
		s.states += 1 + len(kept) - len(list)
		s.known[string(id)] = append(kept, vector)
	}
	return false
}

func noWorse(a, b []int) bool {
	for i := range a {
		if a[i] > b[i] {
			return false
		}
	}
	return true
}
