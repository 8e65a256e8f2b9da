package api

import (
	"context"
	"errors"
	"fmt"
	"math"
	"strconv"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/work/compare"

	roll "falda/internal/core/carcass"
	"falda/internal/core/fault"
	"falda/internal/core/value"
)

func carcassAsked(b contract.CarcassRequest) compare.CarcassAsk {
	return compare.CarcassAsk{Weight: from(b.Weight), Unit: string(from(b.WeightUnit)), Price: from(b.Price), PricePer: string(from(b.PricePer)), Plan: from(b.PlanId), Swaps: from(b.Plans), Heads: from(b.Heads), Market: from(b.Market)}
}

func (h *handlers) CarcassValue(ctx context.Context, r contract.CarcassValueRequestObject) (contract.CarcassValueResponseObject, error) {
	v, err := h.work.Compare.CarcassValue(ctx, r.CarcassId, carcassAsked(*r.Body))
	if err != nil {
		return nil, err
	}
	return contract.CarcassValue200JSONResponse(carcassValue(v)), nil
}

func sums(t value.Totals) contract.CarcassSums {
	return contract.CarcassSums{Sales: t.Sales.String(), Packaging: t.Packaging.String(), Labour: t.Labour.String(), Discard: t.Discard.String(),
		Purchase: t.Purchase.String(), Value: t.Value.String()}
}

func carcassValue(v compare.CarcassView) contract.CarcassValue {
	r := v.Roll
	out := contract.CarcassValue{Id: v.Carcass.ID, Name: v.Carcass.Name, PlanId: v.Plan.ID, WeightG: v.Weight.Grams(), Minutes: round(v.Minutes, 1), Heads: r.Heads, Sentence: v.Sentence, Basis: v.Basis, Year: v.Year.String(), Lost: r.Lost.String(), Unpriced: texts(v.Unpriced),
		Totals: contract.CarcassTotals{Head: sums(r.Head()), Week: sums(r.Totals)}, Lines: []contract.CarcassLine{}, Flows: []contract.CarcassFlow{},
		Plans: each(v.Carcass.Plans, func(p atlas.CarcassPlan) contract.CarcassWay {
			return contract.CarcassWay{Id: p.ID, Name: p.Name, Why: p.Why}
		})}
	for i, p := range v.Pieces {
		x := contract.CarcassPieceValue{Id: p.Piece.ID, Name: p.Piece.Name, Count: p.Count, WeightG: p.Mass.Grams(), PlanId: p.PlanID, PlannedId: p.Planned, Sales: r.Pieces[i].Sales.String(), ExtraMinutes: p.Minutes,
			Plans: each(p.Piece.Plans, func(pl atlas.Plan) contract.Named { return contract.Named{Id: pl.ID, Name: pl.Name} })}
		if p.PlanID != p.Planned {
			x.Gain = some(p.Gain.String())
		}
		out.Pieces = append(out.Pieces, x)
	}
	for _, l := range r.Lines {
		x := contract.CarcassLine{Key: l.Key, Name: l.Name, Kind: "meat", WeightG: l.Mass.Grams(), BeyondG: l.Beyond.Grams(), Sales: l.Sales.String()}
		if (atlas.Product{Form: l.Form}).ByProduct() {
			x.Kind = "by_product"
		}
		if l.Priced {
			x.Price, x.PricePer = some(priceText(l.Price)), some(string(l.Price.Per))
		}
		out.Lines = append(out.Lines, x)
	}
	out.Names = map[string]string{"carcass": v.Carcass.Name, "product/waste": "Thrown away", "product/loss": "Lost"}
	for _, p := range v.Pieces {
		out.Names["piece/"+p.Piece.ID] = p.Piece.Name
		for _, part := range p.Piece.Parts() {
			out.Names["part/"+p.Piece.ID+"/"+part.ID] = part.Name
		}
	}
	for _, b := range r.Beside {
		out.Names["piece/"+b.ID], out.Names["part/"+b.ID+"/"+b.ID] = b.Name, b.Name
	}
	for _, l := range r.Lines {
		out.Names["product/"+l.Key] = l.Name
	}
	out.Flows = each(r.Flows, func(f roll.Flow) contract.CarcassFlow {
		return contract.CarcassFlow{From: f.From, To: f.To, WeightG: f.Mass.Grams(), Value: round(f.Value.Float(), 4)}
	})
	out.Seasons = each(v.Seasons, func(s compare.CarcassSeason) contract.CarcassSeasonValue {
		return contract.CarcassSeasonValue{Name: s.Name, Weeks: round(s.Weeks, 1), Value: s.Roll.Totals.Value.String(), Lost: s.Roll.Lost.String()}
	})
	return out
}

func bestAsked(b contract.BestUseAsk) compare.BestAsk {
	in := compare.BestAsk{Pieces: from(b.Pieces), Minutes: from(b.Minutes), Days: from(b.Days), Market: from(b.Market), Wait: from(b.Wait)}
	for _, o := range from(b.Orders) {
		in.Orders = append(in.Orders, compare.BestOrder{Key: o.ProductKey, Weight: o.Weight, Unit: string(o.Unit)})
	}
	return in
}

func (h *handlers) BestUse(ctx context.Context, r contract.BestUseRequestObject) (contract.BestUseResponseObject, error) {
	v, err := h.work.Compare.BestUse(ctx, bestAsked(*r.Body))
	if err != nil {
		return nil, err
	}
	return contract.BestUse200JSONResponse(bestView(v)), nil
}

func bestView(v compare.BestView) contract.BestUseView {
	out := contract.BestUseView{Sentence: v.Sentence, Notes: texts(v.Notes), Value: v.Brings.String(), Brought: v.Brought.String(), Costs: v.Costs.String(), Minutes: float64(v.Solution.Minutes) / 100, Proven: v.Proven, AtMost: v.Shop.Money.Round(v.AtMost).String(), Season: v.Book.Season, Market: v.Book.Market.Name, Sales: []contract.BestUseSale{}}
	if v.Hour != nil {
		out.Hour = some(v.Shop.Money.Round(*v.Hour).String())
	}
	out.Pieces = each(v.Pieces, func(p compare.BestPiece) contract.BestUsePiece {
		return contract.BestUsePiece{Piece: card(p.Card), PlanId: p.PlanID, Plan: p.PlanName, Sentence: p.Sentence, Young: texts(p.Young), Basis: p.Basis}
	})
	for _, s := range v.Sales {
		x := contract.BestUseSale{Key: s.Product, Name: s.Name, WeightG: s.Made.Grams(), FullG: s.Full.Grams(), FallbackG: s.Fallback.Grams(), Price: v.Shop.Money.Round(s.Price.PerKilogram()).String(), Value: s.Value.String()}
		if s.Cap != nil {
			g := s.Cap.Grams()
			x.CapG, x.Fallback = &g, some(v.Shop.Money.Round(s.Falls).String())
		}
		if s.Order > 0 {
			x.OrderG = some(s.Order.Grams())
		}
		if s.Kilo != nil {
			x.MoreDemand = some(v.Shop.Money.Round(*s.Kilo).String())
		}
		out.Sales = append(out.Sales, x)
	}
	return out
}

// How large a problem the calculator takes: more would hold the machine up for others.
const mostCalcWhole = 2000

func (h *handlers) CalcBestUse(ctx context.Context, r contract.CalcBestUseRequestObject) (contract.CalcBestUseResponseObject, error) {
	p, err := bestProblem(*r.Body)
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
		err = clash(p, solver, stop)
	}
	if errors.Is(err, bestuse.ErrStopped) {
		err = compare.TooHard()
	}
	if err != nil {
		return nil, err
	}
	out := contract.BestUse{Value: best.Value.String(), Minutes: float64(best.Minutes) / 100, Proven: best.Proven, AtMost: strconv.FormatFloat(best.AtMost, 'f', 4, 64)}
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
		if w.Hour != nil {
			out.HourWorth = some(w.Hour.String())
		}
		list := []struct {
			PerKg   string `json:"per_kg"`
			Product string `json:"product"`
		}{}
		for _, m := range w.Demand {
			list = append(list, struct {
				PerKg   string `json:"per_kg"`
				Product string `json:"product"`
			}{m.Worth.String(), m.Product})
		}
		out.DemandWorth = &list
	}
	return contract.CalcBestUse200JSONResponse(out), nil
}

// bestProblem reads a problem; what is wrong with its numbers is named here, what is wrong with the problem by the core.
func bestProblem(b contract.BestUseRequest) (bestuse.Problem, error) {
	var p bestuse.Problem
	var faults fault.List
	money := moneyField(&faults)
	mass := massField(&faults)
	minutes := func(field string, v float64) bestuse.Minutes {
		if math.IsNaN(v) || math.Abs(v) > 1e6 {
			faults.Add(field, fault.New("", "too_large", "is more than a million", "Give minutes."))
			return 0
		}
		return bestuse.Minutes(math.Round(v * 100))
	}
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
				plan.Yields = append(plan.Yields, bestuse.Yield{Product: y.Product, Mass: mass(fmt.Sprintf("%syields[%d].g", at, n), &y.G)})
			}
			piece.Plans = append(piece.Plans, plan)
			whole++
		}
		p.Pieces = append(p.Pieces, piece)
	}
	if whole > mostCalcWhole {
		faults.Add("pieces", fault.New("", "too_many", fmt.Sprintf("hold more than %d plans", mostCalcWhole), "Put pieces that are alike together by a count."))
	}
	return p, faults.Err()
}

// clash names the orders that cannot be met together.
func clash(p bestuse.Problem, solver bestuse.Solver, stop bestuse.Stop) error {
	c, err := bestuse.Conflict(p, solver, stop)
	if err != nil {
		return err
	}
	var faults fault.List
	for i, pr := range p.Products {
		for _, o := range c.Orders {
			if o.Product == pr.ID {
				faults.Add(fmt.Sprintf("products[%d].order_g", i), fault.New("", "infeasible", fmt.Sprintf("cannot be met with the other orders named here; by itself at most %g g could be", o.AtMost.Grams()), "Take one of them smaller."))
			}
		}
	}
	if c.Minutes {
		faults.Add("minutes", fault.New("", "infeasible", "are too few for the pieces and orders named here", "Give more, or let pieces wait."))
	}
	return faults.Err()
}

func (h *handlers) CalcYieldGrade(_ context.Context, r contract.CalcYieldGradeRequestObject) (contract.CalcYieldGradeResponseObject, error) {
	b := r.Body
	var exact float64
	var grade int
	var err error
	switch b.Species {
	case "beef":
		exact, grade, err = roll.Beef{FatIn: b.FatIn, KphPct: from(b.KphPct), HotLb: from(b.HotCarcassLb), RibeyeSqIn: from(b.RibeyeSqIn)}.YieldGrade()
		for i, f := range fault.Of(err) {
			if f.Field == "hot_lb" {
				f.Field = "hot_carcass_lb"
				list := fault.Of(err)
				list[i] = f
				err = list
			}
		}
	case "lamb":
		exact, grade, err = roll.LambYieldGrade(b.FatIn)
	default:
		err = fault.New("species", "unknown", "is not a species of the atlas", "Use beef or lamb.")
	}
	if err != nil {
		return nil, err
	}
	return contract.CalcYieldGrade200JSONResponse{Exact: round(exact, 4), Grade: grade}, nil
}
