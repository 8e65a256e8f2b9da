package api

import (
	"context"
	"errors"
	"fmt"
	"strconv"

	"falda/internal/api/contract"
	"falda/internal/core/bestuse"
	"falda/internal/work/compare"

	"falda/internal/core/fault"
)

// How large a problem the calculator takes: more would hold the machine up for others.
const maxCalcWhole = 2000

func (h *handlers) CalcBestUse(ctx context.Context,
	r contract.CalcBestUseRequestObject) (contract.CalcBestUseResponseObject, error) {
	p, err := readProblem(*r.Body)
	if err != nil {
		return nil, err
	}
	solver, stop, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	best, err := solver.Solve(p, nil, stop)
	if errors.Is(err, bestuse.ErrInfeasible) {
		err = unmet(p, solver, stop)
	}
	if errors.Is(err, bestuse.ErrStopped) {
		err = compare.TooHard()
	}
	if err != nil {
		return nil, err
	}
	out := contract.BestUse{Value: best.Value.String(), Minutes: float64(best.Minutes) / 100, Proven: best.Proven,
		AtMost: strconv.FormatFloat(best.AtMost, 'f', 4, 64)}
	for _, c := range best.Choices {
		out.Choices = append(out.Choices, struct {
			Count int    `json:"count"`
			Piece string `json:"piece"`
			Plan  string `json:"plan"`
		}{c.Count, c.Piece, c.Plan})
	}
	for _, s := range best.Sales {
		out.Sales = append(out.Sales, struct {
			FallbackG float64 `json:"fallback_g"`
			FullG     float64 `json:"full_g"`
			G         float64 `json:"g"`
			Product   string  `json:"product"`
			Value     string  `json:"value"`
		}{s.Fallback.Grams(), s.Full.Grams(), s.Made.Grams(), s.Product, s.Value.String()})
	}
	if from(r.Body.Worths) {
		w, err := bestuse.Margins(p, best, solver, stop)
		if err != nil {
			return nil, err
		}
		encodeMargins(w, &out)
	}
	return contract.CalcBestUse200JSONResponse(out), nil
}

// encodeMargins says what an hour more, and what a kilogram more that could be sold, would bring.
func encodeMargins(w bestuse.ShadowPrices, out *contract.BestUse) {
	if w.Hour != nil {
		out.HourWorth = some(w.Hour.String())
	}
	type demand = struct {
		PerKg   string `json:"per_kg"`
		Product string `json:"product"`
	}
	list := []demand{}
	for _, m := range w.Demand {
		list = append(list, demand{m.PerKg.String(), m.Product})
	}
	out.DemandWorth = &list
}

// readProblem reads a problem; what is wrong with its numbers is named here, what is wrong with the problem by the
// core.
func readProblem(b contract.BestUseRequest) (bestuse.Problem, error) {
	var p bestuse.Problem
	var faults fault.List
	money := moneyField(&faults)
	mass := massField(&faults)
	minutes := minutesField(&faults)
	if b.Minutes != nil {
		m := minutes("minutes", *b.Minutes)
		p.Minutes = &m
	}
	for i, x := range b.Products {
		at := fmt.Sprintf("products[%d].", i)
		pr := bestuse.Product{ID: x.Id, Price: money(at+"price", &x.Price), Order: mass(at+"order_g", x.OrderG)}
		pr.Fallback = pr.Price
		if x.CapG != nil {
			m := mass(at+"cap_g", x.CapG)
			pr.Cap = &m
		}
		if x.Fallback != nil {
			pr.Fallback = money(at+"fallback", x.Fallback)
		}
		p.Products = append(p.Products, pr)
	}
	whole := 0
	for i, x := range b.Pieces {
		at := fmt.Sprintf("pieces[%d].", i)
		piece := bestuse.Piece{ID: x.Id, Count: 1, Waits: from(x.MayWait)}
		if x.Count != nil {
			piece.Count = *x.Count
		}
		for k, pl := range x.Plans {
			at := fmt.Sprintf("%splans[%d].", at, k)
			plan := bestuse.Plan{ID: pl.Id, Minutes: minutes(at+"minutes", from(pl.Minutes)), Cost: money(at+"cost", pl.Cost)}
			for n, y := range pl.Yields {
				plan.Yields = append(plan.Yields,
					bestuse.Yield{Product: y.Product, Mass: mass(fmt.Sprintf("%syields[%d].g", at, n), &y.G)})
			}
			piece.Plans = append(piece.Plans, plan)
			whole++
		}
		p.Pieces = append(p.Pieces, piece)
	}
	if whole > maxCalcWhole {
		faults.Add("pieces",
			fault.New("", "too_many", fmt.Sprintf("hold more than %d plans", maxCalcWhole),
				"Put pieces that are alike together by a count."))
	}
	return p, faults.Err()
}

// unmet names the orders that cannot be met together.
func unmet(p bestuse.Problem, solver bestuse.Solver, stop bestuse.Stop) error {
	c, err := bestuse.Conflict(p, solver, stop)
	if err != nil {
		return err
	}
	var faults fault.List
	for i, pr := range p.Products {
		for _, o := range c.Orders {
			if o.Product == pr.ID {
				faults.Add(fmt.Sprintf("products[%d].order_g", i),
					fault.New("", "infeasible",
						fmt.Sprintf("cannot be met with the other orders named here; by itself at most %g g could be", o.AtMost.Grams()),
						"Take one of them smaller."))
			}
		}
	}
	if c.Minutes {
		faults.Add("minutes",
			fault.New("", "infeasible", "are too few for the pieces and orders named here", "Give more, or let pieces wait."))
	}
	return faults.Err()
}
