package compare

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/order"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// solveFor is how long a best use is searched for before what was found by then is given.
const solveFor = 20 * time.Second

// maxReady is how many waiting pieces are looked at, the first that came in: more than a search takes, so that it says
// so.
const maxReady = 4 * bestuse.MaxPieces

// waitToSolve is how long a search waits for the others before it gives up.
const waitToSolve = 8 * time.Second

// Solving lets a search for a best use begin: no more of them run at once than leaves the machine to the benches. It
// gives the solver, when to stop (after its time, or when nobody waits any more), and what is to be called at the end.
// The fault is "busy".
func (s *Service) Solving(ctx context.Context) (with bestuse.Solver, stop bestuse.Stop, done func(), err error) {
	wait := time.NewTimer(waitToSolve)
	defer wait.Stop()
	select {
	case s.solving <- struct{}{}:
	case <-ctx.Done():
		return nil, nil, nil, ctx.Err()
	case <-wait.C:
		return nil, nil, nil, fault.NewUnavailable("Others are searching for a best use just now.", "Try again in a moment.")
	}
	until := time.Now().Add(solveFor)
	stop = func() bool { return ctx.Err() != nil || time.Now().After(until) }
	return s.solver, stop, func() { <-s.solving }, nil
}

// BestOrder is an order that must be met.
type BestOrder struct{ Key, Weight, Unit string }

// BestPin is a plan that is settled for a piece.
type BestPin struct{ Piece, Plan string }

// BestAsk is what is asked of a best use.
type BestAsk struct {
	Pieces  []string // public ids; all that are ready where empty
	Minutes string   // of the bench; no limit where empty
	Days    int      // for how many days demand counts: a week's demand by days/7; 7 where 0
	Market  string
	Orders  []BestOrder
	Wait    bool      // pieces may also wait
	Leave   []string  // public ids of pieces that are left out
	Pins    []BestPin // pieces whose plan is settled
	Open    bool      // open orders that are due within the days must be met too, as far as stock does not
}

// BestPiece is a piece with what it could become and why it becomes what it does.
type BestPiece struct {
	Card     stock.Card
	PlanID   string // that it goes to; empty to wait
	PlanName string
	Sentence string
	Young    []string     // plans that it is too young for
	Basis    string       // "measured" where the shares are the house's own, with n
	Plans    []atlas.Plan // that it is ready for
	Pinned   bool
	leaves   map[string]measure.Money // by plan: what its sales leave after its costs, each line rounded as on its page
}

// alone gives what a choice brings more than the next best as the piece's own page says it, where nothing but the
// rounding of its lines parts the two: there every line is divided to the cent, here only their sum.
func (p BestPiece) alone(w bestuse.Why) measure.Money {
	a, ok := p.leaves[w.Chosen.Plan]
	b, known := p.leaves[w.Other]
	if !ok || !known || w.Reason != bestuse.BringsMost {
		return w.By
	}
	if page := a.Sub(b); page.Sub(w.By).Abs().Cmp(measure.MoneyOf(1, 10)) < 0 {
		return page
	}
	return w.By
}

// BestView is a best use, worked out.
type BestView struct {
	Shop     shop.WithPlans
	Asked    BestAsk
	Book     pricing.Book
	Pieces   []BestPiece
	Sales    []BestSale
	Solution bestuse.Solution
	Minutes  *bestuse.Minutes
	Hour     *measure.Money
	Proven   bool
	AtMost   measure.Money
	PinsCost *measure.Money // what the settled plans bring less than the best ones; nil where none is settled
	Sentence string
	Notes    []string
	Left     int          // pieces that are not ready for any plan, or void
	Needs    []order.Need // of open orders, where they were asked for
	// The statement, as shown: what is sold, less what cutting, packing and the bin cost, is what it brings.
	Brought, Costs, Brings measure.Money
}

// BestSale is what becomes of a product.
type BestSale struct {
	bestuse.Sale
	Name  string
	Price measure.Price
	Cap   *measure.Mass
	Order measure.Mass
	Kilo  *measure.Money // what one more kilogram of demand would be worth
	Falls measure.Money  // fallback per kg
}

// BestUse finds the best plan for each piece that is ready, within bench minutes, demand and orders.
func (s *Service) BestUse(ctx context.Context, in BestAsk) (BestView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BestView{}, err
	}
	v := BestView{Shop: shop, Asked: in}
	var faults fault.List
	if in.Days == 0 {
		v.Asked.Days = 7
	}
	if v.Asked.Days < 1 || v.Asked.Days > 31 {
		faults.Add("days", fault.New("", "out_of_range", "must be from 1 to 31", "For how many days is it cut?"))
	}
	if in.Minutes != "" {
		m, err := readMinutes(in.Minutes, "Enter the bench minutes there are.")
		faults.Add("minutes", err)
		v.Minutes = &m
	}
	if err := faults.Err(); err != nil {
		return v, err
	}
	if v.Book, err = s.prices.BookOn(ctx, shop.Shop, in.Market, shop.Day(s.now())); err != nil {
		return v, err
	}
	b, err := s.bestProblem(ctx, shop, &v)
	if err != nil {
		return v, err
	}
	err = s.solve(ctx, b, &v)
	return v, err
}

// readMinutes reads minutes as they are typed; hint is the way out where they are beyond reason.
func readMinutes(text, hint string) (bestuse.Minutes, error) {
	f, err := readUpTo(text, 100_000, "100,000", hint)
	return bestuse.Minutes(math.Round(f * 100)), err
}

// readUpTo reads a number from 0 to the most, which is said so; hint is the way out where it is beyond.
func readUpTo(text string, most float64, said, hint string) (float64, error) {
	n, err := measure.ParseNumber(text)
	if err != nil {
		return 0, err
	}
	f, _ := n.Float64()
	if f < 0 || f > most {
		err = fault.New("", "out_of_range", "must be from 0 to "+said, hint)
	}
	return f, err
}

// solve searches, and tells what was found.
func (s *Service) solve(ctx context.Context, b *best, v *BestView) error {
	solver, stop, done, err := s.Solving(ctx)
	if err != nil {
		return err
	}
	defer done()
	if err := b.meet(solver, stop); err != nil {
		return err
	}
	v.Solution, err = solver.Solve(b.problem, nil, stop)
	if errors.Is(err, bestuse.ErrInfeasible) {
		err = b.clash(*v, solver, stop)
	}
	if errors.Is(err, bestuse.ErrStopped) {
		err = TooHard()
	}
	if err != nil {
		return err
	}
	worths, err := bestuse.Margins(b.problem, v.Solution, solver, stop)
	if err != nil && !errors.Is(err, bestuse.ErrStopped) {
		return err
	}
	v.Hour, v.Proven = worths.Hour, v.Solution.Proven
	v.AtMost, _ = measure.MoneyFromFloat(v.Solution.AtMost)
	v.AtMost = v.Shop.Money.Of(v.AtMost)
	b.explain(v, worths)
	return b.pinsCost(v, solver, stop)
}

// meet adds what open orders ask for to the orders, as far as it can be met, and tells what cannot.
func (b *best) meet(solver bestuse.Solver, stop bestuse.Stop) error {
	if len(b.wishes) == 0 {
		return nil
	}
	p, short, err := bestuse.Meet(b.problem, b.wishes, solver, stop)
	if errors.Is(err, bestuse.ErrStopped) {
		return TooHard()
	}
	if err != nil {
		return err
	}
	b.problem = p
	for i, m := range short {
		if m > 0 {
			name := b.said.ProductName(p.Products[b.wishes[i].Product].ID)
			b.said.Short = append(b.said.Short, m.Text(b.said.Unit, 2)+" "+name)
		}
	}
	return nil
}

// pinsCost searches once more with nothing settled, and says what the settled plans bring less.
func (b *best) pinsCost(v *BestView, solver bestuse.Solver, stop bestuse.Stop) error {
	if len(v.Asked.Pins) == 0 {
		return nil
	}
	free := b.problem
	free.Pieces = b.free
	found, err := solver.Solve(free, nil, stop)
	if errors.Is(err, bestuse.ErrStopped) {
		err = TooHard()
	}
	if err != nil {
		return err
	}
	cost := b.said.Currency.Round(found.Value).Sub(v.Brings)
	v.PinsCost = &cost
	return nil
}

// TooHard is the fault of a problem that was not solved in time.
func TooHard() error {
	return fault.New("", "too_hard", "No use was found in time.", "Take fewer pieces or orders.")
}

// clash says which orders cannot be met together.
func (b *best) clash(v BestView, solver bestuse.Solver, stop bestuse.Stop) error {
	c, err := bestuse.Conflict(b.problem, solver, stop)
	if err != nil {
		return err
	}
	message, hint := b.said.Unmet(c)
	if len(c.Orders) == 0 {
		return fault.New("minutes", "infeasible", message, hint)
	}
	var faults fault.List
	for i, o := range v.Asked.Orders {
		if slices.ContainsFunc(c.Orders, func(s bestuse.UnmetOrder) bool { return s.Product == o.Key }) {
			faults.Add(fmt.Sprintf("orders[%d].weight", i), fault.New("", "infeasible", message, hint))
		}
	}
	return faults.Err()
}

// explain puts the solution in the words of the trade.
func (b *best) explain(v *BestView, worths bestuse.ShadowPrices) {
	why := map[string]bestuse.Why{}
	for _, w := range b.problem.Why(v.Solution) {
		why[w.Chosen.Piece] = w
	}
	waiting := 0
	for i := range v.Pieces {
		p := &v.Pieces[i]
		w := why[p.Card.Row.Piece.PublicID]
		name := func(id string) string {
			if pl, ok := p.Card.Piece.Plan(id); ok {
				return "“" + pl.Name + "”"
			}
			return "waiting"
		}
		p.PlanID, p.PlanName = w.Chosen.Plan, strings.Trim(name(w.Chosen.Plan), "“”")
		w.By = p.alone(w)
		p.Sentence = b.said.Because(w, name)
		if w.Chosen.Plan == "" {
			waiting++
		}
	}
	for j, sale := range v.Solution.Sales {
		pr := b.problem.Products[j]
		x := BestSale{Sale: sale, Name: b.names[sale.Product].Name, Price: v.Book.Prices[sale.Product], Cap: pr.Cap,
			Order: pr.Order, Falls: pr.Fallback}
		for _, m := range worths.Demand {
			if m.Product == sale.Product {
				worth := m.PerKg
				x.Kilo = &worth
			}
		}
		if x.Value = b.said.Currency.Round(x.Value); sale.Made > 0 || pr.Order > 0 {
			v.Sales, v.Brought = append(v.Sales, x), v.Brought.Add(x.Value)
		}
	}
	v.Brought, v.Brings = b.said.Currency.Of(v.Brought), b.said.Currency.Round(v.Solution.Value)
	v.Costs = v.Brought.Sub(v.Brings)
	b.said.Cut, b.said.Brings, b.said.Used, b.said.Hour = len(v.Pieces)-waiting, v.Solution.Value, v.Solution.Minutes,
		v.Hour
	b.said.Proven, b.said.AtMost, b.said.ShadowsProven, b.said.TooYoung = v.Proven, v.AtMost, worths.Proven, v.Left
	v.Sentence, v.Notes = b.said.Sentence(), b.said.Notes()
}
