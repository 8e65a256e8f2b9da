package schedule

import (
	"fmt"
	"slices"
)

// Check holds a plan against the rules of its problem; the error names what it breaks.
func Check(p Problem, plan Plan) error {
	seen := map[int]bool{}
	ready := make([]int, len(p.Orders))
	for i, x := range plan.Slots {
		j := p.Jobs[x.Job]
		switch {
		case seen[x.Job]:
			return fmt.Errorf("%s is cut twice", j.ID)
		case j.Post >= 0 && j.Post != x.Post:
			return fmt.Errorf("%s is not where it is pinned", j.ID)
		case x.CleanFrom > x.From || x.From > x.SawFrom || x.SawFrom > x.SawTo || x.SawTo > x.To:
			return fmt.Errorf("%s is out of order in itself", j.ID)
		}
		seen[x.Job] = true
		post := p.Posts[x.Post]
		worked := func(from, to int) int { return post.before(to) - post.before(from) }
		if post.open(x.From) != x.From || worked(x.From, x.SawFrom) < j.Before[x.Post] ||
			worked(x.SawFrom, x.SawTo) != j.Saw[x.Post] || worked(x.SawTo, x.To) != j.After[x.Post] {
			return fmt.Errorf("%s has not the time it takes", j.ID)
		}
		for _, o := range j.Orders {
			ready[o] = max(ready[o], x.To)
		}
		for _, y := range plan.Slots[:i] {
			if err := p.apart(y, x); err != nil {
				return err
			}
		}
		if err := p.alone(x, plan.Slots); err != nil {
			return err
		}
	}
	if len(seen) != len(p.Jobs) {
		return fmt.Errorf("%d of %d pieces are cut", len(seen), len(p.Jobs))
	}
	for o := range ready {
		if ready[o] != plan.Ready[o] {
			return fmt.Errorf("order %s is not ready when it is said to be", p.Orders[o].ID)
		}
	}
	return nil
}

// apart holds two slots against each other, the earlier first.
func (p Problem) apart(a, b Slot) error {
	x, y := p.Jobs[a.Job], p.Jobs[b.Job]
	if a.Post == b.Post {
		if b.CleanFrom < a.To {
			return fmt.Errorf("%s and %s are cut at once at one post", x.ID, y.ID)
		}
		if x.Allergen && !y.Allergen {
			return fmt.Errorf("%s follows %s, which has an allergen", y.ID, x.ID)
		}
	}
	if a.SawTo > a.SawFrom && b.SawTo > b.SawFrom {
		first, last := a, b
		if b.SawFrom < a.SawFrom {
			first, last = b, a
		}
		gap := 0
		if x.Species != y.Species {
			gap = p.CleanSaw
		}
		if last.SawFrom < first.SawTo+gap {
			return fmt.Errorf("%s and %s are on the saw at once", x.ID, y.ID)
		}
	}
	return nil
}

// alone holds a slot against the post and the saw as they are before it: the cleaning.
func (p Problem) alone(x Slot, all []Slot) error {
	post, j := p.Posts[x.Post], p.Jobs[x.Job]
	species, dirty, free := post.Species, post.Dirty, post.Spans[0].From
	for _, y := range all {
		if y.Post == x.Post && y.From < x.From && y.To >= free {
			free, species, dirty = y.To, p.Jobs[y.Job].Species, p.Jobs[y.Job].Allergen
		}
	}
	need := 0
	if species != "" && species != j.Species {
		need = p.Clean
	}
	if dirty && !j.Allergen {
		need = max(need, p.Wash)
	}
	if post.before(x.From)-post.before(max(free, x.CleanFrom)) < need {
		return fmt.Errorf("the post is not cleaned before %s", j.ID)
	}
	saw := p.SawFrom
	if p.SawSpecies != "" && p.SawSpecies != j.Species {
		saw += p.CleanSaw
	}
	first := !slices.ContainsFunc(all, func(y Slot) bool { return y.SawTo > y.SawFrom && y.SawFrom < x.SawFrom })
	if x.SawTo > x.SawFrom && (x.SawFrom < p.SawFrom || first && x.SawFrom < saw) {
		return fmt.Errorf("%s is on the saw before it is free", j.ID)
	}
	return nil
}
