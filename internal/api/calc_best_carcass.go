package api

import (
	"context"
	"errors"
	"fmt"
	"math"

	"falda/internal/api/contract"
	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/work/compare"
)

// CalcBestCarcass finds what a week's kill should become.
func (h *handlers) CalcBestCarcass(ctx context.Context,
	r contract.CalcBestCarcassRequestObject) (contract.CalcBestCarcassResponseObject, error) {
	week, err := readHeads(*r.Body)
	if err != nil {
		return nil, err
	}
	solver, stop, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	best, err := bestuse.BestHeads(week, solver, stop)
	switch {
	case errors.Is(err, bestuse.ErrInfeasible):
		err = unmetHeads(*r.Body, week, solver, stop)
	case errors.Is(err, bestuse.ErrStopped):
		err = compare.TooHard()
	}
	if err != nil {
		return nil, err
	}
	out := contract.BestCarcass{Value: best.Value.Text(2), Minutes: float64(best.Minutes) / 100,
		SawMinutes: float64(best.Saw) / 100, Bound: boundText(best), Proven: best.Proven}
	for _, u := range best.Use {
		out.Use = append(out.Use, struct {
			Head   string `json:"head"`
			Piece  string `json:"piece"`
			Pieces int    `json:"pieces"`
			Way    string `json:"way"`
		}{u.Head, u.Piece, u.Pieces, u.Way})
	}
	kg := func(m measure.Mass) string { return kilos(m.Grams()) }
	for _, s := range best.Sales {
		out.Products = append(out.Products, struct {
			AsFallbackKg string `json:"as_fallback_kg"`
			Id           string `json:"id"`
			MadeKg       string `json:"made_kg"`
			SoldKg       string `json:"sold_kg"`
		}{kg(s.Fallback), s.Product, kg(s.Made), kg(s.Full)})
	}
	type division = struct {
		Division string `json:"division"`
		Head     string `json:"head"`
	}
	out.Divisions = []division{}
	for _, x := range week.Heads {
		if d := best.Divisions[x.ID]; d != "" {
			out.Divisions = append(out.Divisions, division{d, x.ID})
		}
	}
	worth, proven, err := bestuse.AnHour(week, best, solver, stop)
	if errors.Is(err, bestuse.ErrStopped) {
		return contract.CalcBestCarcass200JSONResponse(out), nil
	}
	if err == nil && worth != nil && proven && best.Proven {
		text := worth.Text(2)
		out.HourWorth = &text
	}
	return contract.CalcBestCarcass200JSONResponse(out), err
}

// boundText is what no use can bring more than; the value itself where it is proven.
func boundText(s bestuse.HeadsSolution) string {
	if s.Proven {
		return s.Value.Text(2)
	}
	return fmt.Sprintf("%.2f", math.Ceil(s.AtMost*100)/100)
}

// readHeads reads a week; what is wrong with its numbers is named here, the rest by the core.
func readHeads(b contract.BestCarcassAsk) (bestuse.Heads, error) {
	var h bestuse.Heads
	var faults fault.List
	money := moneyField(&faults)
	minutes := minutesField(&faults)
	kg := func(field, text string) measure.Mass {
		m, err := measure.ParseMass(text, measure.UnitKilogram)
		faults.Add(field, err)
		return m
	}
	for _, x := range b.Heads {
		h.Heads = append(h.Heads, bestuse.Head{ID: x.Id, Count: x.Count})
	}
	for i, w := range b.Ways {
		at := fmt.Sprintf("ways[%d].", i)
		way := bestuse.Way{Head: w.Head, Division: from(w.Division), Piece: w.Piece, ID: w.Id, PerHead: w.PerHead,
			Plan: bestuse.Plan{Minutes: minutes(at+"minutes", from(w.Minutes)), Saw: minutes(at+"saw_minutes",
				from(w.SawMinutes))}}
		for n, y := range w.Products {
			way.Plan.Yields = append(way.Plan.Yields, bestuse.Yield{Product: y.Id,
				Mass: kg(fmt.Sprintf("%sproducts[%d].kg", at, n), y.Kg)})
		}
		h.Ways = append(h.Ways, way)
	}
	place := map[string]int{}
	for j, p := range b.Products {
		at := fmt.Sprintf("products[%d].", j)
		pr := bestuse.Product{ID: p.Id, Price: money(at+"price", &p.Price), FallsTo: from(p.Fallback)}
		if p.CapKg != nil {
			m := kg(at+"cap_kg", *p.CapKg)
			pr.Cap = &m
		}
		place[p.Id] = j
		h.Products = append(h.Products, pr)
	}
	readOrders(from(b.Orders), place, &h, &faults, kg)
	if b.Minutes != nil {
		m := minutes("minutes", *b.Minutes)
		h.Minutes = &m
	}
	if b.SawMinutes != nil {
		m := minutes("saw_minutes", *b.SawMinutes)
		h.Saw = &m
	}
	return h, faults.Err()
}

// readOrders adds orders to the products of a week; place is where each stands.
func readOrders(list []contract.BestCarcassOrder, place map[string]int, h *bestuse.Heads, faults *fault.List,
	kg func(field, text string) measure.Mass) {
	for i, o := range list {
		j, ok := place[o.Product]
		if !ok {
			faults.Add(fmt.Sprintf("orders[%d].product", i),
				fault.New("", "unknown", "is not one of the products", "List it among them."))
			continue
		}
		m := kg(fmt.Sprintf("orders[%d].kg", i), o.Kg)
		if m < 0 {
			faults.Add(fmt.Sprintf("orders[%d].kg", i), fault.New("", "negative", "is below zero", "Enter zero or more."))
		}
		h.Products[j].Order += m
	}
}

// unmetHeads names the orders and limits that cannot be kept together.
func unmetHeads(b contract.BestCarcassAsk, week bestuse.Heads, solver bestuse.Solver, stop bestuse.Stop) error {
	c, err := bestuse.HeadsConflict(week, solver, stop)
	if err != nil {
		return err
	}
	var faults fault.List
	for i, o := range from(b.Orders) {
		for _, x := range c.Orders {
			if o.Product == x.Product {
				faults.Add(fmt.Sprintf("orders[%d].kg", i), fault.New("", "infeasible",
					fmt.Sprintf("cannot be met with what else is named here; by itself at most %s kg could be",
						kilos(x.AtMost.Grams())), "Take one of them smaller."))
			}
		}
	}
	for _, x := range []struct {
		field string
		is    bool
	}{{"minutes", c.Minutes}, {"saw_minutes", c.Saw}} {
		if x.is {
			faults.Add(x.field, fault.New("", "infeasible", "are too few for the pieces and orders named here", "Give more."))
		}
	}
	return faults.Err()
}
