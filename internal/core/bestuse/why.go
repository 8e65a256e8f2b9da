package bestuse

import (
	"errors"
	"slices"

	"falda/internal/core/measure"
)

// DemandPrice is what one more kilogram of demand for a product would be worth.
type DemandPrice struct {
	Product string
	PerKg   measure.Money
}

// ShadowPrices are what a little more of each limit would bring. They are differences of two best uses, not slopes:
// pieces are whole.
type ShadowPrices struct {
	Hour   *measure.Money // one more bench hour; nil where minutes are no limit
	Demand []DemandPrice  // of each product of which some is sold at the fallback, or could be
	Proven bool
}

// Margins works out what one more bench hour and one more kilogram of demand for each capped product would be worth,
// beside a best use.
func Margins(p Problem, best Solution, with Solver, stop Stop) (ShadowPrices, error) {
	w := ShadowPrices{Proven: best.Proven}
	more := func(q Problem) (measure.Money, error) {
		s, err := with.Solve(q, &best, stop)
		if err != nil {
			return measure.Money{}, err
		}
		w.Proven = w.Proven && s.Proven
		return s.Value.Sub(best.Value), nil
	}
	if p.Minutes != nil {
		q, m := p, *p.Minutes+6000
		q.Minutes = &m
		worth, err := more(q)
		if err != nil {
			return w, err
		}
		w.Hour = &worth
	}
	for j, pr := range p.Products {
		if pr.Cap == nil || pr.Fallback.Cmp(pr.Price) == 0 || best.Sales[j].Made == 0 {
			continue
		}
		q, wider := p, *pr.Cap+measure.Kilogram
		q.Products = slices.Clone(p.Products)
		q.Products[j].Cap = &wider
		worth, err := more(q)
		if err != nil {
			return w, err
		}
		w.Demand = append(w.Demand, DemandPrice{pr.ID, worth})
	}
	return w, nil
}

// Reason is why a piece is not cut by another plan.
type Reason string

// The reasons.
const (
	BringsMost     Reason = "brings_most"      // at full prices too, no other plan of this piece brings more
	ShortOfMinutes Reason = "short_of_minutes" // the other would bring more, but its minutes are not there
	ForAnOrder     Reason = "for_an_order"     // the other would bring more, but an order would not be met
	// the other would bring more at full prices, but what it gives is no longer sold at them
	DemandIsFull Reason = "demand_is_full"
	OnlyPlan     Reason = "only_plan"
)

// Why says of a choice why it is so: what the next best plan for one piece of it would do, everything else staying as
// it is.
type Why struct {
	Chosen Choice
	Reason Reason
	Other  string // the plan it is held against; empty for waiting
	// what the chosen brings more, or with ShortOfMinutes and ForAnOrder what the other would bring more
	By      measure.Money
	Minutes Minutes // with ShortOfMinutes: how many are missing
	// with ForAnOrder: the product that would be short; with DemandIsFull: what would be sold at its fallback
	Product string
}

// Why explains each choice of a use.
func (p Problem) Why(s Solution) []Why {
	var out []Why
	at := 0
	for i, x := range p.Pieces {
		for k := range len(x.Plans) + 1 {
			if at >= len(s.Choices) || s.Choices[at].Piece != x.ID {
				break
			}
			plan := ""
			if k < len(x.Plans) {
				plan = x.Plans[k].ID
			}
			if s.Choices[at].Plan != plan {
				continue
			}
			out = append(out, p.why(s, s.Choices[at], i, k))
			at++
		}
	}
	return out
}

func (p Problem) why(s Solution, c Choice, i, k int) Why {
	x := p.Pieces[i]
	w := Why{Chosen: c, Reason: OnlyPlan}
	ways := len(x.Plans)
	if x.Waits {
		ways++
	}
	var next, barred *Why
	for o := range ways {
		if o == k {
			continue
		}
		other := ""
		if o < len(x.Plans) {
			other = x.Plans[o].ID
		}
		t := p.sell(moved(s.counts, i, k, o))
		gain := t.Value.Sub(s.Value)
		v := Why{Chosen: c, Other: other}
		if p.meets(t) { // so it brings less, or as much
			v.By, v.Reason = gain.Neg(), BringsMost
			if p.full(x, o).Cmp(p.full(x, k)) > 0 {
				v.Reason, v.Product = DemandIsFull, p.lost(s, t)
			}
			if next == nil || v.By.Cmp(next.By) < 0 {
				next = &v
			}
			continue
		}
		if gain.Sign() <= 0 {
			v.By, v.Reason = gain.Neg(), BringsMost
			if next == nil || v.By.Cmp(next.By) < 0 {
				next = &v
			}
			continue
		}
		v.By = gain
		p.bars(t, &v)
		if barred == nil || v.By.Cmp(barred.By) > 0 {
			barred = &v
		}
	}
	switch {
	case barred != nil:
		return *barred
	case next != nil:
		return *next
	}
	return w
}

// full is what one piece brings at full prices when it is cut by its k-th plan, or waits.
func (p Problem) full(x Piece, k int) measure.Money {
	if k == len(x.Plans) {
		return measure.Money{}
	}
	v := x.Plans[k].Cost.Neg()
	for _, y := range x.Plans[k].Yields {
		for _, pr := range p.Products {
			if pr.ID == y.Product {
				v = v.Add(pr.Price.Times(y.Mass.In(measure.UnitKilogram)))
			}
		}
	}
	return v
}

// bars says what bars a solution that would bring more: the minutes, or an order.
func (p Problem) bars(t Solution, v *Why) {
	if p.Minutes != nil && t.Minutes > *p.Minutes {
		v.Reason, v.Minutes = ShortOfMinutes, t.Minutes-*p.Minutes
		return
	}
	v.Reason = ForAnOrder
	for j, pr := range p.Products {
		if t.Sales[j].Made < pr.Order {
			v.Product = pr.ID
			return
		}
	}
}

// lost gives the product of which most more is sold at the fallback under t than under s.
func (p Problem) lost(s, t Solution) string {
	id, maximum := "", measure.Mass(0)
	for j := range p.Products {
		if more := t.Sales[j].Fallback - s.Sales[j].Fallback; more > maximum {
			id, maximum = p.Products[j].ID, more
		}
	}
	return id
}

// moved gives counts with one of piece i taken from plan k to plan o; a plan after the last is waiting.
func moved(counts [][]int, i, k, o int) [][]int {
	out := slices.Clone(counts)
	out[i] = slices.Clone(counts[i])
	if k < len(out[i]) {
		out[i][k]--
	}
	if o < len(out[i]) {
		out[i][o]++
	}
	return out
}

// UnmetOrder is an order that stands in a conflict, and the most that could be cut for it were it the only one.
type UnmetOrder struct {
	Product string
	Order   measure.Mass
	AtMost  measure.Mass
}

// Clash is a smallest set of orders and limits that cannot be kept together: without any one of them the others can.
type Clash struct {
	Orders  []UnmetOrder
	Minutes bool // the bench minutes are one of them
	Saw     bool // the saw's are
}

// Conflict says which orders of an infeasible problem cannot be met together.
func Conflict(p Problem, with Solver, stop Stop) (Clash, error) {
	q := p.bare()
	can := func() (bool, error) {
		_, err := with.Solve(q, nil, stop)
		if errors.Is(err, ErrInfeasible) {
			return false, nil
		}
		return true, err
	}
	for j := range q.Products {
		order := q.Products[j].Order
		if order == 0 {
			continue
		}
		q.Products[j].Order = 0
		if ok, err := can(); err != nil {
			return Clash{}, err
		} else if ok {
			q.Products[j].Order = order // it is part of it
		}
	}
	c := Clash{}
	for _, x := range []struct {
		limit **Minutes
		said  *bool
	}{{&q.Minutes, &c.Minutes}, {&q.Saw, &c.Saw}} {
		limit := *x.limit
		if limit == nil {
			continue
		}
		*x.limit = nil
		ok, err := can()
		if err != nil {
			return c, err
		}
		if *x.said = ok; ok {
			*x.limit = limit
		}
	}
	for j, pr := range q.Products {
		if pr.Order == 0 {
			continue
		}
		maximum, err := maxOf(q, j, with, stop)
		if err != nil {
			return c, err
		}
		c.Orders = append(c.Orders, UnmetOrder{pr.ID, pr.Order, maximum})
	}
	return c, nil
}

// bare is the problem without money: only whether it can be done is asked.
func (p Problem) bare() Problem {
	q := p
	q.Products = slices.Clone(p.Products)
	for j := range q.Products {
		q.Products[j].Price, q.Products[j].Fallback, q.Products[j].Cap = measure.Money{}, measure.Money{}, nil
		q.Products[j].FallsTo = ""
	}
	q.Pieces = slices.Clone(p.Pieces)
	for i := range q.Pieces {
		q.Pieces[i].Plans = slices.Clone(q.Pieces[i].Plans)
		for k := range q.Pieces[i].Plans {
			q.Pieces[i].Plans[k].Cost = measure.Money{}
		}
	}
	return q
}

// Wish is how much of a product is wanted, where it can be had.
type Wish struct {
	Product int // its place
	Mass    measure.Mass
}

// Meet adds wishes to the orders of a problem as far as they can be met, the first first: what an earlier one takes is
// not there for a later one. It gives the problem with them, and how much of each cannot be met.
func Meet(p Problem, wishes []Wish, with Solver, stop Stop) (Problem, []measure.Mass, error) {
	p.Products = slices.Clone(p.Products)
	q := p.bare()
	short := make([]measure.Mass, len(wishes))
	for i, w := range wishes {
		was := q.Products[w.Product].Order
		q.Products[w.Product].Order = was + w.Mass
		_, err := with.Solve(q, nil, stop)
		if errors.Is(err, ErrInfeasible) {
			q.Products[w.Product].Order = was
			most, err := beside(q, w.Product, with, stop)
			if err != nil {
				return p, nil, err
			}
			got := min(w.Mass, max(0, most-was))
			short[i] = w.Mass - got
			q.Products[w.Product].Order = was + got
		} else if err != nil {
			return p, nil, err
		}
		p.Products[w.Product].Order = q.Products[w.Product].Order
	}
	return p, short, nil
}

// beside is the most that can be cut of a product while all orders are met.
func beside(q Problem, j int, with Solver, stop Stop) (measure.Mass, error) {
	q.Products = slices.Clone(q.Products)
	q.Products[j].Price, q.Products[j].Fallback = measure.MoneyOf(1, 1), measure.MoneyOf(1, 1)
	s, err := with.Solve(q, nil, stop)
	if errors.Is(err, ErrInfeasible) {
		return 0, nil
	}
	if err != nil {
		return 0, err
	}
	return s.Sales[j].Made, nil
}

// maxOf is the most that can be cut of a product when nothing else is asked for.
func maxOf(q Problem, j int, with Solver, stop Stop) (measure.Mass, error) {
	q.Products = slices.Clone(q.Products)
	for n := range q.Products {
		q.Products[n].Order = 0
	}
	return beside(q, j, with, stop)
}
