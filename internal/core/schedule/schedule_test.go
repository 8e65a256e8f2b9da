package schedule

import (
	"fmt"
	"math/rand/v2"
	"testing"
)

const minute = 60

// hours is a post that works from a minute to another, without a pause.
func hours(id string, from, to int) Post {
	return Post{ID: id, Spans: []Span{{from * minute, to * minute}}}
}

// knife is a job that takes so many minutes at every post, and no saw.
func knife(posts, minutes int, orders ...int) Job {
	j := Job{ID: fmt.Sprint(minutes), Species: "beef", Post: -1, Orders: orders}
	for range posts {
		j.Before, j.Saw, j.After = append(j.Before, minutes*minute), append(j.Saw, 0), append(j.After, 0)
	}
	return j
}

func solved(t *testing.T, p Problem) Plan {
	t.Helper()
	plan, err := Solve(p, nil)
	if err != nil {
		t.Fatal(err)
	}
	if err := Check(p, plan); err != nil {
		t.Fatalf("the plan breaks a rule: %v", err)
	}
	return plan
}

// Graham 1969, Bounds on multiprocessing timing anomalies, SIAM J. Appl. Math. 17 (from memory): on two machines the
// times 3, 3, 2, 2, 2 take 7 where the longest goes first, and 6 at best. On three, 5, 5, 4, 4, 3, 3, 3 take 11, and 9
// at best.
func TestGrahamsExamples(t *testing.T) {
	for _, c := range []struct {
		posts, best int
		times       []int
	}{{2, 6, []int{3, 3, 2, 2, 2}}, {3, 9, []int{5, 5, 4, 4, 3, 3, 3}}} {
		var p Problem
		for i := range c.posts {
			p.Posts = append(p.Posts, hours(fmt.Sprint(i), 0, 1000))
		}
		for _, m := range c.times {
			p.Jobs = append(p.Jobs, knife(c.posts, m))
		}
		if plan := solved(t, p); plan.Cost.Finish != c.best*minute || !plan.Proven {
			t.Errorf("%v on %d posts end after %d s, proven %v; want %d min", c.times, c.posts, plan.Cost.Finish, plan.Proven,
				c.best)
		}
	}
}

// Pinedo, Scheduling, the example of 1||ΣTj (from memory): times 121, 79, 147, 83, 130 with due dates 260, 266, 266,
// 336, 337 are late by 370 in sum at best.
func TestPinedosTotalTardiness(t *testing.T) {
	p := Problem{Posts: []Post{hours("one", 0, 100_000)}}
	due := []int{260, 266, 266, 336, 337}
	for i, m := range []int{121, 79, 147, 83, 130} {
		p.Jobs = append(p.Jobs, knife(1, m, i))
		p.Orders = append(p.Orders, Order{ID: fmt.Sprint(i), Due: due[i] * minute})
	}
	if plan := solved(t, p); plan.Cost.Late != 370*minute || !plan.Proven {
		t.Errorf("late by %d s, proven %v; want 370 min", plan.Cost.Late, plan.Proven)
	}
}

// What is cut before a pause goes on after it; nothing is on the saw across one.
func TestPauses(t *testing.T) {
	p := Problem{Posts: []Post{{ID: "one", Spans: []Span{{0, 60 * minute}, {90 * minute, 200 * minute}}}}}
	p.Jobs = []Job{knife(1, 40), knife(1, 40)}
	if plan := solved(t, p); plan.Cost.Finish != 110*minute {
		t.Errorf("ends after %d min, want 110", plan.Cost.Finish/minute)
	}
	sawn := Job{ID: "sawn", Species: "beef", Post: -1, Before: []int{50 * minute}, Saw: []int{20 * minute},
		After: []int{0}}
	p.Jobs = []Job{sawn}
	if plan := solved(t, p); plan.Slots[0].SawFrom != 90*minute || plan.Cost.Finish != 110*minute {
		t.Errorf("on the saw from %d min, done at %d; want 90 and 110", plan.Slots[0].SawFrom/minute,
			plan.Cost.Finish/minute)
	}
}

// A bench that handled an allergen before the plan is washed down once; nothing plain follows an allergen of the plan.
func TestAllergensLast(t *testing.T) {
	p := Problem{Posts: []Post{hours("one", 0, 500)}, Wash: 20 * minute}
	p.Jobs = []Job{knife(1, 10), knife(1, 10), knife(1, 10)}
	p.Jobs[1].Allergen = true
	plan := solved(t, p)
	if last := plan.Slots[2]; last.Job != 1 || plan.Cost.Finish != 30*minute {
		t.Errorf("last is %d, done at %d min; want the allergen, at 30", last.Job, plan.Cost.Finish/minute)
	}
	p.Posts[0].Dirty = true
	if plan = solved(t, p); plan.Cost.Finish != 50*minute || plan.Slots[2].Job != 1 {
		t.Errorf("on a dirty bench done at %d min, want 50", plan.Cost.Finish/minute)
	}
}

// random is a day small enough to be tried whole, in whole minutes.
func random(rng *rand.Rand) Problem {
	p := Problem{Clean: rng.IntN(4) * minute, CleanSaw: rng.IntN(4) * minute, Wash: rng.IntN(6) * minute}
	for i := range 1 + rng.IntN(2) {
		post := Post{ID: fmt.Sprint(i), Dirty: rng.IntN(5) == 0}
		from := rng.IntN(5)
		if rng.IntN(2) == 0 {
			post.Spans = append(post.Spans, Span{from * minute, (from + 6) * minute})
			from += 6 + 1 + rng.IntN(4)
		}
		post.Spans = append(post.Spans, Span{from * minute, (from + 4 + rng.IntN(20)) * minute})
		if rng.IntN(3) == 0 {
			post.Species = "lamb"
		}
		p.Posts = append(p.Posts, post)
	}
	for i := range rng.IntN(3) {
		p.Orders = append(p.Orders, Order{ID: fmt.Sprint(i), Due: rng.IntN(25) * minute})
	}
	if rng.IntN(3) == 0 {
		p.SawFrom, p.SawSpecies = rng.IntN(8)*minute, "beef"
	}
	for i := range 1 + rng.IntN(5) {
		j := Job{ID: fmt.Sprint("job ", i), Species: []string{"beef", "lamb"}[rng.IntN(2)], Post: rng.IntN(5) - 3,
			Allergen: rng.IntN(4) == 0}
		if j.Post < 0 || j.Post >= len(p.Posts) {
			j.Post = -1
		}
		before, saw, after := 1+rng.IntN(5), max(0, rng.IntN(6)-2), rng.IntN(4)
		for range p.Posts {
			pace := 1 + rng.IntN(2)
			j.Before = append(j.Before, before*pace*minute)
			j.Saw, j.After = append(j.Saw, saw*minute), append(j.After, after*pace*minute)
		}
		if n := len(p.Orders); n > 0 && rng.IntN(2) == 0 {
			j.Orders = []int{rng.IntN(n)}
		}
		p.Jobs = append(p.Jobs, j)
	}
	return p
}

// Every day that is small enough is as good as the best of all ways of laying it out, as a clock counts them minute by
// minute: an independent reckoning, in tested code's stead.
func TestAgainstEveryWay(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 4))
	for n := range 250 {
		p := random(rng)
		plan := solved(t, p)
		if best := bruteForce(p); !plan.Proven || plan.Cost != best {
			t.Fatalf("day %d: %+v, proven %v; every way tried gives %+v\n%+v", n, plan.Cost, plan.Proven, best, p)
		}
	}
}

// A day that is too large to be searched whole keeps every rule, and its bound is not above what was found.
func TestLargeDay(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	p := Problem{Posts: []Post{hours("a", 0, 480), hours("b", 0, 480), hours("c", 30, 400)}, Clean: 10 * minute,
		CleanSaw: 10 * minute, Orders: []Order{{"x", 120 * minute}, {"y", 200 * minute}}}
	for i := range 40 {
		j := knife(3, 5+rng.IntN(40))
		j.Species = []string{"beef", "lamb"}[i%2]
		if i%3 == 0 {
			for k := range j.Saw {
				j.Saw[k], j.After[k] = 4*minute, 6*minute
			}
		}
		if i%8 == 0 {
			j.Orders = []int{i % 2}
		}
		p.Jobs = append(p.Jobs, j)
	}
	plan := solved(t, p)
	if plan.Cost.Less(plan.Bound) {
		t.Errorf("the bound %+v is above %+v", plan.Bound, plan.Cost)
	}
	if again := solved(t, p); again.Cost != plan.Cost {
		t.Errorf("the same day laid out twice differs: %+v, %+v", plan.Cost, again.Cost)
	}
}

// What makes no sense is refused.
func TestRefused(t *testing.T) {
	good := Problem{Posts: []Post{hours("a", 0, 10)}, Jobs: []Job{knife(1, 3)}}
	for name, spoil := range map[string]func(*Problem){
		"no post":         func(p *Problem) { p.Posts = nil },
		"no hours":        func(p *Problem) { p.Posts = []Post{{ID: "a"}} },
		"hours backwards": func(p *Problem) { p.Posts = []Post{{ID: "a", Spans: []Span{{9, 3}}}} },
		"no time":         func(p *Problem) { p.Jobs = []Job{knife(1, 0)} },
		"no such post":    func(p *Problem) { p.Jobs[0].Post = 1 },
		"no such order":   func(p *Problem) { p.Jobs[0].Orders = []int{0} },
	} {
		p := good
		p.Jobs = []Job{knife(1, 3)}
		if spoil(&p); p.check() == nil {
			t.Errorf("%s: not refused", name)
		}
	}
}
