package schedule

import (
	"math/bits"
	"slices"
)

// state is a day half laid out: what is placed, and how that leaves posts, saw and orders.
type state struct {
	done       uint64
	free       []int // of each post: when it has cut what it was given
	species    []string
	dirty      []bool
	saw        int
	sawSpecies string
	ready      []int // of each order
	key        int   // of what was placed last: see place
	slots      []Slot
}

func (p Problem) begin() state {
	s := state{saw: p.SawFrom, sawSpecies: p.SawSpecies, ready: make([]int, len(p.Orders)), key: -1 << 62}
	for _, post := range p.Posts {
		s.free = append(s.free, post.Spans[0].From)
		s.species = append(s.species, post.Species)
		s.dirty = append(s.dirty, post.Dirty)
	}
	return s
}

// copied gives a state that can be changed without touching this one.
func (s state) copied() state {
	s.free, s.species, s.dirty = slices.Clone(s.free), slices.Clone(s.species), slices.Clone(s.dirty)
	s.ready, s.slots = slices.Clone(s.ready), slices.Clone(s.slots)
	return s
}

// may says whether a job may go to a post now: allergens come last.
func (p Problem) may(s state, job, post int) bool {
	j := p.Jobs[job]
	if j.Post >= 0 && j.Post != post {
		return false
	}
	return j.Allergen || !s.dirty[post] || p.washable(s, post)
}

// washable says whether a dirty post may be washed down: where what made it dirty was not of this plan.
func (p Problem) washable(s state, post int) bool {
	return p.Posts[post].Dirty && !slices.ContainsFunc(s.slots, func(x Slot) bool {
		return x.Post == post && p.Jobs[x.Job].Allergen
	})
}

// place puts a job at the end of a post, and on the saw after what was sawn. The key is that by which a schedule may be
// built up in order: when its saw begins, or where it needs none when it begins.
func (p Problem) place(s *state, job, post int) {
	j, at := p.Jobs[job], p.Posts[post]
	cleaning := 0
	if s.species[post] != "" && s.species[post] != j.Species {
		cleaning = p.Clean
	}
	if s.dirty[post] && !j.Allergen {
		cleaning = max(cleaning, p.Wash)
	}
	x := Slot{Job: job, Post: post, CleanFrom: at.open(s.free[post])}
	x.From = at.open(at.work(x.CleanFrom, cleaning))
	if cleaning == 0 {
		x.CleanFrom = x.From
	}
	x.SawFrom = at.work(x.From, j.Before[post])
	x.SawTo = x.SawFrom
	s.key = x.From
	if j.Saw[post] > 0 {
		free := s.saw
		if s.sawSpecies != "" && s.sawSpecies != j.Species {
			free += p.CleanSaw
			x.CleanedSaw = p.CleanSaw > 0
		}
		x.SawFrom = at.fits(max(x.SawFrom, free), j.Saw[post])
		x.SawTo = at.work(x.SawFrom, j.Saw[post])
		s.saw, s.sawSpecies, s.key = x.SawTo, j.Species, x.SawFrom
	}
	x.To = at.work(x.SawTo, j.After[post])
	if j.After[post] == 0 {
		x.To = x.SawTo
	}
	s.free[post], s.species[post], s.dirty[post] = x.To, j.Species, j.Allergen
	s.done |= 1 << job
	for _, o := range j.Orders {
		s.ready[o] = max(s.ready[o], x.To)
	}
	s.slots = append(s.slots, x)
}

// cost is what a state costs as it is.
func (p Problem) cost(s state) (c Cost) {
	for o, at := range s.ready {
		c.Late += max(0, at-p.Orders[o].Due)
	}
	used := uint64(0)
	for _, x := range s.slots {
		used |= 1 << x.Post
		c.Finish = max(c.Finish, x.To)
	}
	for i, post := range p.Posts {
		if used&(1<<i) != 0 {
			c.Overtime += max(0, s.free[i]-post.ends())
		}
	}
	return c
}

// bound is what a state will cost at the least, however it goes on.
func (p Problem) bound(s state) Cost {
	c := p.cost(s)
	ready := slices.Clone(s.ready)
	work, sawing, tail := 0, 0, 1<<62 // the tail is what follows whatever is sawn last
	for job := range p.Jobs {
		if s.done&(1<<job) != 0 {
			continue
		}
		ends, takes, saw, after := 1<<62, 1<<62, 1<<62, 1<<62
		for post := range p.Posts {
			if j := p.Jobs[job]; j.Post < 0 || j.Post == post {
				ends = min(ends, p.earliest(s, job, post))
				takes = min(takes, j.takes(post))
				saw, after = min(saw, j.Saw[post]), min(after, j.After[post])
			}
		}
		c.Finish = max(c.Finish, ends)
		work, sawing = work+takes, sawing+saw
		if saw > 0 {
			tail = min(tail, after)
		}
		for _, o := range p.Jobs[job].Orders {
			ready[o] = max(ready[o], ends)
		}
	}
	c.Late = 0
	for o, at := range ready {
		c.Late += max(0, at-p.Orders[o].Due)
	}
	if sawing > 0 {
		c.Finish = max(c.Finish, s.saw+sawing+tail)
	}
	c.Finish = max(c.Finish, p.capacity(s, work))
	hours := 0
	for i, post := range p.Posts {
		hours += max(0, post.before(post.ends())-post.before(s.free[i]))
	}
	c.Overtime = max(c.Overtime, c.Overtime+work-hours)
	return c
}

// earliest is when a job would end at a post if it came next there and found the saw free.
func (p Problem) earliest(s state, job, post int) int {
	j, at := p.Jobs[job], p.Posts[post]
	end := at.work(at.open(s.free[post]), j.Before[post])
	if j.Saw[post] > 0 {
		end = at.work(max(end, s.saw), j.Saw[post])
	}
	if j.After[post] > 0 {
		end = at.work(end, j.After[post])
	}
	return end
}

// capacity is the first time by which the posts together have worked so much more.
func (p Problem) capacity(s state, work int) int {
	has := func(at int) int {
		sum := 0
		for i, post := range p.Posts {
			sum += max(0, post.before(at)-post.before(s.free[i]))
		}
		return sum
	}
	low, high := 0, slices.Max(s.free)+work
	for _, post := range p.Posts {
		high = max(high, post.ends()+work)
	}
	if work == 0 {
		return low
	}
	for low < high {
		if mid := (low + high) / 2; has(mid) >= work {
			high = mid
		} else {
			low = mid + 1
		}
	}
	return low
}

// left is how many jobs are not placed.
func (p Problem) left(s state) int { return len(p.Jobs) - bits.OnesCount64(s.done) }
