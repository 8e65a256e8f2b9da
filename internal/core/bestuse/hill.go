package bestuse

import (
	"cmp"
	"math"
	"slices"
)

// hill climbs: it makes a whole use of a relaxed one and betters it by moving one piece, then two, from plan to plan.
// What it finds is only a start for the search, so it reckons in floating point.
type hill struct {
	p       Problem
	stop    Stop
	first   []int // the first variable of each piece
	kg      [][]float64
	touches [][]int // products of each variable
	minutes []float64
	sawn    []float64
	cost    []float64
	price   []float64
	fall    []float64
	caps    []float64
	orders  []float64
	limit   float64
	saw     float64

	n    [][]int // counts by piece and plan; the last is what waits
	made []float64
	used float64
	cut  float64 // minutes of the saw
}

// lacking is what a kilogram or a minute that is lacking counts for while climbing.
const lacking = 1e5

func newHill(p Problem, kg [][]float64) *hill {
	h := &hill{p: p, kg: kg, limit: math.Inf(1), saw: math.Inf(1)}
	for _, x := range p.Pieces {
		h.first = append(h.first, len(h.minutes))
		for _, pl := range x.Plans {
			v := len(h.minutes)
			h.minutes, h.cost = append(h.minutes, float64(pl.Minutes)/100), append(h.cost, pl.Cost.Float())
			h.sawn = append(h.sawn, float64(pl.Saw)/100)
			var touch []int
			for j := range kg {
				if kg[j][v] != 0 {
					touch = append(touch, j)
				}
			}
			h.touches = append(h.touches, touch)
		}
		h.n = append(h.n, make([]int, len(x.Plans)+1))
	}
	for _, pr := range p.Products {
		limit := math.Inf(1)
		if pr.Cap != nil {
			limit = pr.Cap.Grams() / 1000
		}
		h.price, h.fall, h.caps, h.orders = append(h.price, pr.Price.Float()), append(h.fall, p.fallback(pr).Float()),
			append(h.caps, limit), append(h.orders, pr.Order.Grams()/1000)
	}
	if p.Minutes != nil {
		h.limit = float64(*p.Minutes) / 100
	}
	if p.Saw != nil {
		h.saw = float64(*p.Saw) / 100
	}
	h.made = make([]float64, len(p.Products))
	return h
}

func (h *hill) marginOf(j int) float64 {
	q := h.made[j]
	v := h.price[j] * math.Min(q, h.caps[j])
	if q > h.caps[j] {
		v += h.fall[j] * (q - h.caps[j])
	}
	if q < h.orders[j]-1e-9 {
		v -= lacking * (h.orders[j] - q)
	}
	return v
}

func (h *hill) overtime() float64 {
	return lacking * (math.Max(0, h.used-h.limit-1e-9) + math.Max(0, h.cut-h.saw-1e-9))
}

// shift moves one of piece i by so many (±1) under plan k and gives what it brings; the plan after the last is waiting.
func (h *hill) shift(i, k, by int) float64 {
	h.n[i][k] += by
	if k == len(h.p.Pieces[i].Plans) {
		return 0
	}
	v := h.first[i] + k
	gain := -float64(by) * h.cost[v]
	gain += h.overtime()
	h.used += float64(by) * h.minutes[v]
	h.cut += float64(by) * h.sawn[v]
	gain -= h.overtime()
	for _, j := range h.touches[v] {
		gain -= h.marginOf(j)
		h.made[j] += float64(by) * h.kg[j][v]
		gain += h.marginOf(j)
	}
	return gain
}

// move takes one of piece i from plan a to plan b and gives what it brings.
func (h *hill) move(i, a, b int) float64 { return h.shift(i, a, -1) + h.shift(i, b, 1) }

// step is one piece taken from one plan to another.
type step struct{ i, a, b int }

func (h *hill) steps() []step {
	var out []step
	for i, x := range h.p.Pieces {
		plans := len(x.Plans)
		if x.Waits {
			plans++
		}
		for a := range plans {
			for b := range plans {
				if a != b && h.n[i][a] > 0 {
					out = append(out, step{i, a, b})
				}
			}
		}
	}
	return out
}

// climb starts from a relaxed use and gives the whole one it ends at.
func (h *hill) climb(x []float64) [][]int {
	for i := range h.n {
		clear(h.n[i])
	}
	clear(h.made)
	h.used, h.cut = 0, 0
	for i, piece := range h.p.Pieces {
		type part struct {
			k    int
			rest float64
		}
		var parts []part
		left := piece.Count
		sum := 0.0
		for k := range piece.Plans {
			v := x[h.first[i]+k]
			sum += v
			whole := int(math.Floor(v + 1e-6))
			left -= whole
			for range whole {
				h.shift(i, k, 1)
			}
			parts = append(parts, part{k, v - float64(whole)})
		}
		if piece.Waits {
			parts = append(parts, part{len(piece.Plans), float64(piece.Count) - sum})
		}
		slices.SortStableFunc(parts, func(a, b part) int { return cmp.Compare(b.rest, a.rest) })
		for n := 0; left > 0; left-- {
			h.shift(i, parts[n%len(parts)].k, 1)
			n++
		}
	}
	for pairs := 0; pairs < 8 && !h.ended(0); {
		if h.single() {
			continue
		}
		if pairs++; !h.double() {
			break
		}
	}
	return h.counts()
}

// ended says whether the climb is to stop, asked at every sixty-fourth step.
func (h *hill) ended(step int) bool { return step%64 == 0 && h.stop != nil && h.stop() }

// single takes every step that brings more.
func (h *hill) single() (taken bool) {
	for n, s := range h.steps() {
		if h.ended(n) {
			return false
		}
		if h.n[s.i][s.a] == 0 {
			continue
		}
		if h.move(s.i, s.a, s.b) > 1e-9 {
			taken = true
		} else {
			h.move(s.i, s.b, s.a)
		}
	}
	return taken
}

// double takes pairs of steps that together bring more, the first of each that does; of very many pieces it would take
// too long.
func (h *hill) double() (taken bool) {
	steps := h.steps()
	if len(steps) > 600 {
		return false
	}
	for n, s := range steps {
		if h.ended(0) {
			return false
		}
		if h.n[s.i][s.a] == 0 {
			continue
		}
		one, done := h.move(s.i, s.a, s.b), false
		for _, o := range steps[n+1:] {
			if h.n[o.i][o.a] == 0 {
				continue
			}
			if done = one+h.move(o.i, o.a, o.b) > 1e-9; done {
				break
			}
			h.move(o.i, o.b, o.a)
		}
		if !done {
			h.move(s.i, s.b, s.a)
		}
		taken = taken || done
	}
	return taken
}

func (h *hill) counts() [][]int {
	out := make([][]int, len(h.n))
	for i, n := range h.n {
		out[i] = slices.Clone(n[:len(n)-1])
	}
	return out
}
