package markdown

import (
	"fmt"
	"math"

	"falda/internal/core/fault"
)

// Ask is what there is, and how it sells.
type Ask struct {
	Packs      int
	Days       int       // on which it can be sold, today the first
	Price      float64   // of a pack, in full
	Steps      []float64 // per cent off that a price may be lowered by, each more than the one before; 0 is always there
	Off        float64   // per cent that it is lowered by already
	PerDay     []float64 // packs that a day sells at the full price, from today; the last holds for the days after it
	Elasticity float64   // by how many per cent more sells where the price is one per cent lower
	Elsewhere  float64   // what a pack brings where it is cut small, minced or frozen in time
	Waste      float64   // what a pack costs that is left after the last day
}

// The bounds of what is asked.
const (
	MaxPacks = 500
	MaxDays  = 30
	MaxSteps = 20
)

// Day is what to do on a day if things go as they most likely do.
type Day struct {
	Packs float64 // expected to be there in the morning
	Off   float64 // per cent, of the packs that are expected
	Sells float64 // packs, expected
}

// Plan is what to do with it.
type Plan struct {
	Now       float64 // per cent off today
	Away      bool    // better cut small, minced or frozen, today
	Keep      int     // how many packs to keep for sale where some should go away today
	Brings    float64 // expected, of the best
	Held      float64 // expected, where the price is held and what is left is thrown away
	Days      []Day
	LeftMean  float64 // packs expected to be left at the end
	HeldLeft  float64 // likewise where the price is held
	LowerFrom int     // the day on which it is first lowered, 0 today; −1 never
}

// Best finds the plan that brings the most. Faults name packs, days, price, steps[i], off, per_day[i], elasticity,
// elsewhere and waste.
func Best(a Ask) (Plan, error) {
	if err := check(a); err != nil {
		return Plan{}, err
	}
	t := table{Ask: a, offs: offs(a)}
	t.solve()
	p := Plan{Keep: t.keep(), Held: t.hold(), LowerFrom: -1}
	p.Brings = t.worth[0][0][p.Keep] + float64(a.Packs-p.Keep)*a.Elsewhere
	p.Away = p.Keep == 0
	t.follow(&p)
	return p, nil
}

func check(a Ask) error {
	var faults fault.List
	span := func(field string, v, low, high float64) {
		if !(v >= low && v <= high) {
			faults.Add(field, fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", low, high),
				"Enter a number in between."))
		}
	}
	span("packs", float64(a.Packs), 1, MaxPacks)
	span("days", float64(a.Days), 1, MaxDays)
	span("price", a.Price, 0, 1e6)
	span("off", a.Off, 0, 100)
	span("elasticity", a.Elasticity, 0, 10)
	span("elsewhere", a.Elsewhere, 0, 1e6)
	span("waste", a.Waste, 0, 1e6)
	if len(a.PerDay) == 0 {
		faults.Add("per_day", fault.Required("Say what sells in a day."))
	}
	for i, v := range a.PerDay {
		span(fmt.Sprintf("per_day[%d]", i), v, 0, 1e4)
	}
	if len(a.Steps) > MaxSteps {
		faults.Add("steps", fault.New("", "too_many", fmt.Sprintf("are more than %d", MaxSteps), "Leave some out."))
	}
	for i, v := range a.Steps {
		span(fmt.Sprintf("steps[%d]", i), v, 1, 90)
		if i > 0 && v <= a.Steps[i-1] {
			faults.Add(fmt.Sprintf("steps[%d]", i), fault.New("", "order", "must be more than the one before",
				"Write them from the least to the most."))
		}
	}
	return faults.Err()
}

// offs are the steps that can still be taken: what it is lowered by already, and those beyond.
func offs(a Ask) []float64 {
	out := []float64{a.Off}
	for _, s := range a.Steps {
		if s > a.Off {
			out = append(out, s)
		}
	}
	return out
}

// table holds what every state is worth in the morning: worth[day][step that holds][packs there]. At the end of the
// last day what is left is waste; on every later morning it can still go elsewhere, all of it or a part.
type table struct {
	Ask
	offs  []float64
	worth [][][]float64
	best  [][][]int // the step to take; −1 where all goes elsewhere
}

// rate is what a day sells at a step, in the mean.
func (t *table) rate(day, step int) float64 {
	base := t.PerDay[min(day, len(t.PerDay)-1)]
	return base * math.Pow(1-t.offs[step]/100, -t.Elasticity)
}

func (t *table) price(step int) float64 { return t.Price * (1 - t.offs[step]/100) }

func (t *table) solve() {
	steps := len(t.offs)
	t.worth, t.best = make([][][]float64, t.Days+1), make([][][]int, t.Days)
	t.worth[t.Days] = make([][]float64, steps)
	for s := range steps {
		t.worth[t.Days][s] = make([]float64, t.Packs+1)
		for n := range t.Packs + 1 {
			t.worth[t.Days][s][n] = -t.Waste * float64(n)
		}
	}
	sold := make([][]float64, steps) // what n packs bring from a day on, at a step
	for day := t.Days - 1; day >= 0; day-- {
		for s := range steps {
			asked := poisson(t.rate(day, s), t.Packs)
			sold[s] = make([]float64, t.Packs+1)
			for n := range sold[s] {
				sold[s][n] = t.sell(day, s, n, asked)
			}
		}
		t.worth[day], t.best[day] = make([][]float64, steps), make([][]int, steps)
		for from := range steps {
			worth, best := make([]float64, t.Packs+1), make([]int, t.Packs+1)
			for n := range worth {
				worth[n], best[n] = sold[from][n], from
				for s := from + 1; s < steps; s++ {
					if sold[s][n] > worth[n]+close {
						worth[n], best[n] = sold[s][n], s
					}
				}
				// of those of today keep says how many go elsewhere
				if v := t.Elsewhere + worth[max(0, n-1)]; day > 0 && n > 0 && v > worth[n]+close {
					worth[n], best[n] = v, -1
				}
			}
			t.worth[day][from], t.best[day][from] = worth, best
		}
	}
}

// close is how much less a number is before it counts as less.
const close = 1e-12

// sell is what n packs are expected to bring from a day on at a step, of which asked is how many are wanted.
func (t *table) sell(day, step, n int, asked []float64) float64 {
	v, rest := 0.0, 1.0
	for k := range n {
		v += asked[k] * (float64(k)*t.price(step) + t.worth[day+1][step][n-k])
		rest -= asked[k]
	}
	return v + max(0, rest)*(float64(n)*t.price(step)+t.worth[day+1][step][0])
}

// poisson gives how likely it is that 0 to n are wanted.
func poisson(mean float64, n int) []float64 {
	out := make([]float64, n+1)
	if mean == 0 {
		out[0] = 1
		return out
	}
	for k := range out {
		lg, _ := math.Lgamma(float64(k) + 1)
		out[k] = math.Exp(float64(k)*math.Log(mean) - mean - lg)
	}
	return out
}

// keep is how many packs to keep for sale today; the rest goes elsewhere while it is fresh, where that brings anything.
func (t *table) keep() int {
	best, keep := math.Inf(-1), 0
	for n := range t.Packs + 1 { // of equals the least: it is fresher today
		v := t.worth[0][0][n] + float64(t.Packs-n)*t.Elsewhere
		if v > best+close || t.Elsewhere == 0 && v >= best-close {
			best, keep = v, n
		}
	}
	return keep
}

// hold is what is expected where the price stays as it is, and what is left is thrown away.
func (t *table) hold() float64 {
	held := Ask{Packs: t.Packs, Days: t.Days, Price: t.price(0), Waste: t.Waste, Elsewhere: -t.Waste}
	for day := range t.Days {
		held.PerDay = append(held.PerDay, t.rate(day, 0))
	}
	h := table{Ask: held, offs: []float64{0}}
	h.solve()
	return h.worth[0][0][t.Packs]
}

// follow says what the plan does day by day: over all that can come, each with how likely it is.
func (t *table) follow(p *Plan) {
	states := [][]float64{} // by step and packs
	for range t.offs {
		states = append(states, make([]float64, t.Packs+1))
	}
	states[0][p.Keep] = 1
	for day := range t.Days {
		next := [][]float64{}
		for range t.offs {
			next = append(next, make([]float64, t.Packs+1))
		}
		d, weigh := Day{}, 0.0
		for from := range t.offs {
			for n, chance := range states[from] {
				if chance == 0 {
					continue
				}
				d.Packs += chance * float64(n)
				for n > 0 && t.best[day][from][n] < 0 { // elsewhere, pack by pack
					n--
				}
				if n == 0 {
					next[from][0] += chance
					continue
				}
				s := t.best[day][from][n]
				d.Off += chance * t.offs[s]
				weigh += chance
				d.Sells += t.spread(day, s, n, chance, next)
			}
		}
		if weigh > 0 {
			d.Off /= weigh
		}
		p.Days = append(p.Days, d)
		states = next
	}
	for _, s := range states {
		for n, chance := range s {
			p.LeftMean += chance * float64(n)
		}
	}
	if p.Keep > 0 {
		p.Now = t.offs[t.best[0][0][p.Keep]]
	}
	for i, d := range p.Days {
		if d.Off > t.offs[0]+0.5 {
			p.LowerFrom = i
			break
		}
	}
	p.HeldLeft = t.heldLeft()
}

// spread carries a state over a day, and gives what is expected to sell.
func (t *table) spread(day, step, n int, chance float64, next [][]float64) float64 {
	asked, rest, sells := poisson(t.rate(day, step), n), 1.0, 0.0
	for k := range n {
		next[step][n-k] += chance * asked[k]
		rest -= asked[k]
		sells += chance * asked[k] * float64(k)
	}
	next[step][0] += chance * max(0, rest)
	return sells + chance*max(0, rest)*float64(n)
}

// heldLeft is how many packs are expected to be left where the price stays as it is.
func (t *table) heldLeft() float64 {
	mean := 0.0
	for day := range t.Days {
		mean += t.rate(day, 0)
	}
	left := 0.0
	for k, chance := range poisson(mean, t.Packs) {
		left += chance * float64(t.Packs-k)
	}
	return left
}
