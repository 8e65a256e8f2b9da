package schedule

// bruteForce tries every order of the jobs at every post and gives the least cost. It has a clock of its own, which
// goes minute by minute and asks of each minute whether the post works.
func bruteForce(p Problem) Cost {
	best := Cost{Late: 1 << 40}
	order := make([]int, 0, len(p.Jobs))
	at := make([]int, 0, len(p.Jobs))
	used := make([]bool, len(p.Jobs))
	var try func()
	try = func() {
		if len(order) == len(p.Jobs) {
			if c, ok := clocked(p, order, at); ok && c.Less(best) {
				best = c
			}
			return
		}
		for j := range p.Jobs {
			if used[j] {
				continue
			}
			used[j], order = true, append(order, j)
			for post := range p.Posts {
				if p.Jobs[j].Post >= 0 && p.Jobs[j].Post != post {
					continue
				}
				at = append(at, post)
				try()
				at = at[:len(at)-1]
			}
			used[j], order = false, order[:len(order)-1]
		}
	}
	try()
	return best
}

// clocked lays jobs out in an order; false where an allergen would not come last.
func clocked(p Problem, order, at []int) (Cost, bool) {
	works := func(post, m int) bool { // whether a post works in a minute
		spans := p.Posts[post].Spans
		for _, s := range spans {
			if m*minute >= s.From && m*minute < s.To {
				return true
			}
		}
		return m*minute >= spans[len(spans)-1].To
	}
	run := func(post, m, minutes int) int { // so many working minutes on
		for minutes > 0 {
			if works(post, m) {
				minutes--
			}
			m++
		}
		return m
	}
	next := func(post, m int) int { // the next working minute
		for !works(post, m) {
			m++
		}
		return m
	}
	free, species := make([]int, len(p.Posts)), make([]string, len(p.Posts))
	dirty, allergen, busy := make([]bool, len(p.Posts)), make([]bool, len(p.Posts)), make([]bool, len(p.Posts))
	for i, post := range p.Posts {
		free[i], species[i], dirty[i] = post.Spans[0].From/minute, post.Species, post.Dirty
	}
	saw, sawn := p.SawFrom/minute, p.SawSpecies
	ready := make([]int, len(p.Orders))
	cost := Cost{}
	for i, job := range order {
		j, post := p.Jobs[job], at[i]
		if allergen[post] && !j.Allergen {
			return cost, false
		}
		clean := 0
		if species[post] != "" && species[post] != j.Species {
			clean = p.Clean
		}
		if dirty[post] && !j.Allergen && p.Wash > clean {
			clean = p.Wash
		}
		m := next(post, run(post, next(post, free[post]), clean/minute))
		m = run(post, m, j.Before[post]/minute)
		if n := j.Saw[post] / minute; n > 0 {
			from := saw
			if sawn != "" && sawn != j.Species {
				from += p.CleanSaw / minute
			}
			if m < from {
				m = from
			}
			for whole := false; !whole; m++ { // the first minute from which it is not broken off
				whole = true
				for k := range n {
					whole = whole && works(post, m+k)
				}
			}
			m += n - 1
			saw, sawn = m, j.Species
		}
		m = run(post, m, j.After[post]/minute)
		free[post], species[post], dirty[post], busy[post] = m, j.Species, j.Allergen, true
		allergen[post] = allergen[post] || j.Allergen
		for _, o := range j.Orders {
			ready[o] = max(ready[o], m)
		}
		cost.Finish = max(cost.Finish, m*minute)
	}
	for o, m := range ready {
		cost.Late += max(0, m*minute-p.Orders[o].Due)
	}
	for i, post := range p.Posts {
		if busy[i] {
			cost.Overtime += max(0, free[i]*minute-post.Spans[len(post.Spans)-1].To)
		}
	}
	return cost, true
}
