package compare

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/words"
)

// tell puts the best use in the trade's words.
func (w *week) tell(best bestuse.HeadsSolution) {
	for _, h := range w.heads.Heads {
		w.Divisions[h.ID] = w.carcass[h.ID].Division(best.Divisions[h.ID])
	}
	for _, u := range best.Use {
		if u.Piece == breaking {
			continue
		}
		x := w.planOf(best, u)
		use := WeekUse{Carcass: u.Head, Division: best.Divisions[u.Head], Piece: x.piece.ID, PieceName: x.piece.Name,
			Plan: x.plan.ID, PlanName: x.plan.Name, Options: x.chosen, Pieces: u.Pieces, Each: x.each,
			Seams: x.plan.Cut == atlas.CutSeams, ReadyOn: x.readyOn,
			Minutes: x.piece.MinutesAt(x.plan, x.each) * float64(u.Pieces)}
		w.Pieces += u.Pieces
		if use.Seams {
			w.Seamed += u.Pieces
		}
		w.Uses = append(w.Uses, use)
	}
	for _, sale := range best.Sales {
		if sale.Made == 0 {
			continue
		}
		sale.Value = w.Shop.Money.Round(sale.Value)
		x := WeekSale{Sale: sale, Name: w.maker.names[sale.Product].Name, Price: w.Book.Prices[sale.Product],
			Stock: w.stock[sale.Product]}
		if d, ok := w.demand[sale.Product]; ok {
			x.Cap = &d
		}
		w.Sales = append(w.Sales, x)
	}
	slices.SortStableFunc(w.Sales, func(a, b WeekSale) int { return b.Value.Cmp(a.Value) })
}

// others lays the best beside everything traditional and everything seamed, and tries them in weeks as they may come.
func (w *week) others(ctx context.Context, best bestuse.HeadsSolution, solver bestuse.Solver, stop bestuse.Stop) error {
	ids, uses := []string{"best"}, []bestuse.Solution{best.Solution}
	for _, x := range []struct {
		id   string
		pick func(atlas.Piece) string
	}{{"traditional", traditional}, {"seamed", seamed}} {
		s, err := bestuse.BestHeads(w.only(x.pick), solver, stop)
		if err != nil {
			return err
		}
		ids, uses = append(ids, x.id), append(uses, s.Solution)
	}
	if p, cut, ok := w.lastWeek(); ok {
		s, err := solver.Solve(p, nil, stop)
		if err != nil {
			return err
		}
		w.LastCut = cut
		ids, uses = append(ids, "last"), append(uses, s)
	}
	came, cautious, err := w.weeks(ctx)
	if err != nil {
		return err
	}
	if s, err := bestuse.BestHeads(cautious, solver, stop); err == nil {
		ids, uses = append(ids, "cautious"), append(uses, s.Solution)
	}
	tried := best.Problem.Try(uses, came)
	for i, s := range uses {
		way := WeekWay{ID: ids[i], Brings: w.Shop.Money.Round(s.Value), Minutes: float64(s.Minutes) / 100,
			Saw: float64(s.Saw) / 100, Tried: tried[i]}
		if ids[i] == "cautious" { // it was found with less demand than is reckoned with
			again := best.Problem.Try([]bestuse.Solution{s}, []bestuse.Came{w.asReckoned(best.Problem)})
			v, _ := measure.MoneyFromFloat(again[0].Mean)
			way.Brings = w.Shop.Money.Round(v)
		}
		way.Over = w.heads.Minutes != nil && s.Minutes > *w.heads.Minutes || w.heads.Saw != nil && s.Saw > *w.heads.Saw
		w.Ways = append(w.Ways, way)
	}
	w.Safest = ids[bestuse.Safest(tried)]
	return nil
}

// asReckoned is a week that comes as it was reckoned.
func (w *week) asReckoned(p bestuse.Problem) bestuse.Came {
	c := bestuse.Came{}
	for _, pr := range p.Products {
		limit := math.Inf(1)
		if pr.Cap != nil {
			limit = pr.Cap.Grams() / 1000
		}
		c.Caps, c.Factors = append(c.Caps, limit), append(c.Factors, 1)
	}
	return c
}

// weeks draws weeks as they may come: demand that is known from sales is negative binomial about what a week sells,
// other caps stand; what is made of a product varies a little. Cautious is the problem with each demand at its lower
// end. The draws are the same every time, so that the same question has the same answer.
func (w *week) weeks(ctx context.Context) ([]bestuse.Came, bestuse.Heads, error) {
	sold, err := w.s.sales.Selling(ctx)
	if err != nil {
		return nil, bestuse.Heads{}, err
	}
	cautious := w.heads
	cautious.Products = slices.Clone(w.heads.Products)
	spread := make([]float64, len(w.heads.Products)) // of demand, as a share of it
	for _, p := range sold.Products {
		j, ok := w.maker.at[p.Key]
		if !ok || w.heads.Products[j].Cap == nil || p.Mean <= 0 {
			continue
		}
		// the 80 % interval of a normal is 2.563 standard deviations wide
		spread[j] = float64(p.High-p.Low) / 2.563 / p.Mean
		low := w.demanded(p.Key, math.Min(1, float64(p.Low)/p.Mean))
		cautious.Products[j].Cap = &low
	}
	rng := rand.New(rand.NewPCG(uint64(len(w.heads.Ways)), uint64(w.Asked.Days)))
	out := make([]bestuse.Came, weekDraws)
	for i := range out {
		out[i] = w.asReckoned(bestuse.Problem{Products: w.heads.Products})
		for j := range out[i].Caps {
			if spread[j] > 0 {
				out[i].Caps[j] = w.demanded(w.heads.Products[j].ID, 1+spread[j]*rng.NormFloat64()).Grams() / 1000
			}
			out[i].Factors[j] = math.Max(0, 1+w.house.spread*rng.NormFloat64())
		}
	}
	return out, cautious, nil
}

// margins says what one more head, hour and kilogram of demand would be worth.
func (w *week) margins(best bestuse.HeadsSolution, solver bestuse.Solver, stop bestuse.Stop) error {
	hour, proven, err := bestuse.AnHour(w.heads, best, solver, stop)
	if errors.Is(err, bestuse.ErrStopped) {
		w.Notes = append(w.Notes, "What one more head, hour or kilogram would bring was not found in time.")
		return nil
	}
	if err != nil {
		return err
	}
	if proven {
		w.Hour = hour
	}
	for i, h := range w.heads.Heads {
		more := w.heads
		more.Heads = slices.Clone(w.heads.Heads)
		more.Heads[i].Count++
		s, err := bestuse.BestHeads(more, solver, stop)
		if errors.Is(err, bestuse.ErrStopped) || errors.Is(err, bestuse.ErrInfeasible) {
			continue
		}
		if err != nil {
			return err
		}
		c, kg := w.carcass[h.ID], w.mass[h.ID].In(measure.UnitKilogram)
		gain := w.Shop.Money.Round(s.Value.Sub(best.Value))
		worth := WeekWorth{Carcass: h.ID, Name: c.NameIn(w.Shop.Market), More: gain,
			PerKg: w.Shop.Money.Round(gain.Over(kg)), Mean: w.mean(best, h)}
		worth.Low, worth.High = w.bid(best, h, gain)
		w.Worth = append(w.Worth, worth)
	}
	shadow, err := bestuse.Margins(best.Problem, best.Solution, solver, stop)
	if err != nil && !errors.Is(err, bestuse.ErrStopped) {
		return err
	}
	for _, m := range shadow.Demand {
		for i := range w.Sales {
			if w.Sales[i].Product == m.Product {
				worth := w.Shop.Money.Round(m.PerKg)
				w.Sales[i].Kilo = &worth
			}
		}
	}
	return nil
}

// mean is what one head of a kind brings in the mean, by what its pieces make at the prices that the products fetch.
func (w *week) mean(best bestuse.HeadsSolution, h bestuse.Head) measure.Money {
	fetched := fetchedBy(best)
	sum := 0.0
	for _, u := range best.Use {
		if u.Head != h.ID {
			continue
		}
		plan := w.wayOf(best, u).Plan
		v := -plan.Cost.Float()
		for _, y := range plan.Yields {
			v += fetched[y.Product] * y.Mass.Grams() / 1000
		}
		sum += v * float64(u.Pieces)
	}
	m, _ := measure.MoneyFromFloat(sum / float64(h.Count))
	return w.Shop.Money.Round(m)
}

// clash says which orders and limits cannot be kept together.
func (w *week) clash(solver bestuse.Solver, stop bestuse.Stop) error {
	c, err := bestuse.HeadsConflict(w.heads, solver, stop)
	if err != nil {
		return err
	}
	var faults fault.List
	if len(c.Orders) > 0 {
		var names []string
		for _, o := range c.Orders {
			names = append(names, w.maker.names[o.Product].Name)
		}
		faults.Add("open_orders", fault.New("", "infeasible", "cannot all be met: "+strings.Join(names, ", "),
			"Leave orders out, or kill more."))
	}
	if c.Minutes || len(c.Orders) == 0 && !c.Saw {
		faults.Add("minutes", fault.New("", "infeasible", "are too few to cut all of it", "Give more."))
	}
	if c.Saw {
		faults.Add("saw_minutes", fault.New("", "infeasible", "are too few to cut all of it", "Give more."))
	}
	return faults.Err()
}

// say puts the answer into a sentence.
func (w *week) say() {
	var heads []string
	for _, h := range w.heads.Heads {
		heads = append(heads, fmt.Sprintf("%d × %s", h.Count, words.Uncapitalised(w.carcass[h.ID].NameIn(w.Shop.Market))))
	}
	best, old := w.Ways[0], w.Ways[1]
	than := w.Shop.Money.Text(best.Brings.Sub(old.Brings)) + " more than cut traditionally"
	if old.Brings.Cmp(best.Brings) > 0 { // only what takes more minutes than there are can bring more than the best
		than = w.Shop.Money.Text(old.Brings.Sub(best.Brings)) +
			" less than cut traditionally, for which there are not the minutes"
	}
	w.Sentence = fmt.Sprintf("%s bring %s: %s; %d of %d pieces seamed.", strings.Join(heads, " and "),
		w.Shop.Money.Text(best.Brings), than, w.Seamed, w.Pieces)
	if seam := w.Ways[2]; seam.Brings.Cmp(best.Brings) < 0 {
		w.Notes = append(w.Notes, fmt.Sprintf("Everything seamed would bring %s less, with what is known of what sells.",
			w.Shop.Money.Text(best.Brings.Sub(seam.Brings))))
	}
	for _, x := range w.Ways {
		if x.ID == "last" {
			by, how := best.Brings.Sub(x.Brings), "less"
			if x.Brings.Cmp(best.Brings) > 0 {
				by, how = x.Brings.Sub(best.Brings), "more, in more minutes than there are"
			}
			w.Notes = append(w.Notes, fmt.Sprintf("Cut as in the last seven days (%s of such pieces), it would bring %s %s.",
				words.Count(w.LastCut, "finished one", "finished ones"), w.Shop.Money.Text(by), how))
		}
	}
	w.sayYoung()
	if !w.Proven {
		w.Notes = append(w.Notes, "Not proven to be the best: nothing can bring more than "+w.Shop.Money.Text(w.AtMost)+".")
	}
	var free []string
	for _, x := range w.Sales {
		if x.Cap == nil {
			free = append(free, x.Name)
		}
	}
	if len(free) > 0 {
		w.Notes = append(w.Notes, fmt.Sprintf("All of it is taken to sell, for nobody has said what sells in a week: %s%s.",
			strings.Join(free[:min(6, len(free))], ", "),
			map[bool]string{true: fmt.Sprintf(" and %d more", len(free)-6)}[len(free) > 6]))
	}
	w.Notes = append(w.Notes, "Before the animals are paid; after labour, packaging and what is added. Weights by the "+
		"atlas’ shares; by the plans of the atlas and the house’s own, each at its usual choices or one other.")
}
