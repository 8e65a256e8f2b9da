package api

import (
	"context"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/work/compare"
	"falda/internal/work/judge"
)

// withDoubts adds what in a plan contradicts the grades.
func withDoubts(p contract.PlanForecast, conflicts []judge.GradeConflict) contract.PlanForecast {
	list := each(conflicts, func(a judge.GradeConflict) contract.GradeConflict {
		return contract.GradeConflict{Product: a.Product.ID, Part: a.Muscle.ID, Sentence: a.Sentence}
	})
	p.GradeConflicts = &list
	return p
}

// planForecast encodes a sheet, a product that was weighed in part as two rows: what was weighed, with the portions
// that were counted, and what the plan reckons with. recorded says that minutes, waste and loss were measured.
func planForecast(s value.Sheet, versions map[string]int, recorded bool, counts map[string]int) contract.PlanForecast {
	alternative := s.Alternative("", !recorded)
	t, y := alternative.Totals(), alternative.YieldTest()
	out := contract.PlanForecast{Plan: plan(s.Atlas, s.Plan), Totals: totals(t, s.Minutes),
		UsableCostPerKg: y.UsablePerKg.String(), Unpriced: texts(alternative.Unpriced)}
	out.Totals.MinutesBasis = basis(recorded)
	if y.CostFactor != nil {
		factor, _ := y.CostFactor.Float64()
		out.CostFactor = round(factor, 4)
	}
	pct := func(m measure.Mass) float64 { return percentOf(m, alternative.Mass) }
	out.SaleablePct, out.ByProductPct = pct(y.Usable), pct(y.ByProduct)
	out.WastePct, out.LossPct = pct(s.FateMass(value.Waste)), pct(s.FateMass(value.Loss))
	for _, pr := range s.Plan.Products {
		weighed := s.Weighed(pr.ID)
		rest := s.ProductMass(pr.ID) - weighed
		if weighed != 0 {
			row := outputRow(s, alternative, pr, weighed, false, versions)
			row.Portions = portions(pr, weighed)
			if n := counts[pr.ID]; n > 0 {
				row.Portions = &contract.Portions{Low: n, High: n, EachG: (weighed / measure.Mass(n)).Grams(), Basis: "counted"}
			} else if recorded { // nobody counted them
				row.Portions = nil
			}
			out.Products = append(out.Products, row)
		}
		if rest != 0 || weighed == 0 {
			row := outputRow(s, alternative, pr, rest, true, versions)
			row.Portions = portions(pr, rest)
			if weighed != 0 {
				row.Id, row.Name = pr.ID+"~rest", pr.Name+", not weighed"
			}
			out.Products = append(out.Products, row)
		}
	}
	for _, rest := range []struct {
		fate value.Fate
		name string
	}{{value.Waste, "Waste"}, {value.Loss, "Cutting and drip loss"}} {
		m := s.FateMass(rest.fate)
		out.Products = append(out.Products,
			contract.OutputRow{Id: string(rest.fate), Name: rest.name, Kind: contract.OutputRowKind(rest.fate),
				WeightG: m.Grams(), YieldPct: pct(m), Basis: basis(recorded && !s.Guessed(rest.fate)),
				Value: s.Currency.Of(measure.Money{}).String()})
	}
	return out
}

// withPlates adds how the products eat.
func withPlates(p contract.PlanForecast, of atlas.Piece, plates map[string]eating.Mixed) contract.PlanForecast {
	for i, row := range p.Products {
		m, ok := plates[strings.TrimSuffix(row.Id, "~rest")]
		if !ok {
			continue
		}
		worst, _ := of.Part(m.Worst)
		p.Products[i].Plate = &contract.Plate{Score: tenths(m.Mean), Sd: tenths(m.SD), Grade: contract.Grade(m.Grade()),
			Worst: worst.Name, WorstScore: tenths(m.Least), SpoiltPct: tenths(m.Spoilt), Basis: contract.Basis(m.Basis)}
	}
	return p
}

// outputRow is one product of a sheet, as far as it was weighed or as far as it was not.
func outputRow(s value.Sheet, alternative value.Alternative, pr atlas.Product, m measure.Mass, estimated bool,
	versions map[string]int) contract.OutputRow {
	key, worth := s.Atlas.Key(pr), s.Currency.Of(measure.Money{})
	for _, c := range alternative.Cells {
		if c.Key == key && c.Fate == value.Sold && c.Estimated == estimated {
			worth = worth.Add(c.Sales)
		}
	}
	if s.Plan.School == atlas.DivisionSchool && pr.Form == atlas.FormPiece {
		key = "" // what it brings only its own plans say
	}
	row := contract.OutputRow{Id: pr.ID, Key: key, Name: pr.Name, Kind: "meat", WeightG: m.Grams(),
		YieldPct: percentOf(m, alternative.Mass), Basis: basis(!estimated), Value: worth.String()}
	if pr.ByProduct() {
		row.Kind = "by_product"
	}
	row.GoesOn = some(pr.Form == atlas.FormPiece)
	if price, ok := s.Prices[key]; ok {
		row.Price, row.PricePer = some(priceText(price)), some(contract.OutputRowPricePer(price.Per))
		row.Guess = guessRange(price)
	}
	version := versions[key]
	row.PriceVersion = &version
	return row
}

// portions are what the plan makes of a mass of a product; nil where it does not portion it.
func portions(pr atlas.Product, m measure.Mass) *contract.Portions {
	n, ok := pr.Portions(m)
	if !ok {
		return nil
	}
	p := &contract.Portions{Low: n.Low, High: n.High, EachG: n.Each.Grams(), Basis: "weight"}
	if n.Given {
		p.Basis = "count"
	}
	return p
}

// spent is an amount that is named only where it is not nothing.
func spent(m measure.Money) *string {
	if m.Sign() == 0 {
		return nil
	}
	return some(m.String())
}

func totals(t value.Totals, minutes float64) contract.Totals {
	out := contract.Totals{Sales: t.Sales.String(), Packaging: t.Packaging.String(), Labour: t.Labour.String(),
		Purchase: t.Purchase.String(), Discard: t.Discard.String(), Ingredients: spent(t.Ingredients),
		Value: t.Value.String(), PerKg: t.PerKg.String(), Minutes: round(minutes, 2)}
	if t.PerHour != nil {
		out.PerHour = t.PerHour.String()
	}
	return out
}

func comparison(c compare.Comparison) contract.Comparison {
	v := c.View
	p := v.Card.Piece
	out := contract.Comparison{BreakdownId: v.Breakdown.PublicID, Piece: card(v.Card), Sentence: c.Sentence,
		Difference: c.Diff.String(), DifferencePerKg: c.PerKg.String(),
		Recorded: withPlates(withDoubts(planForecast(c.Recorded, nil, true, c.Counts), c.GradeConflicts), p, c.Plates[0]),
		Baseline: withPlates(planForecast(c.Baseline, nil, false, nil), p, c.Plates[1]), SeamMap: seamMap(p, c.Map),
		MapBasis: basis(v.Plan.Cut == atlas.CutSeams), Basis: c.Basis, PricedOn: from(v.Breakdown.PricedAt),
		CostMethod: string(c.Costs.Method), Bridge: bridge(c.Bridge), Parts: each(c.Parts,
			func(w compare.PartWeight) contract.PartWeight { return partWeight(p, w, c.Recorded.Mass()) }),
		BreakEven: each(c.BreakEven, breakEven)}
	cut := c.Recorded.Alternative("", false)
	all := cut.Purchase.Add(cut.Costs())
	out.Costs = each(c.Costs.Products,
		func(row value.CostRow) contract.CostRow { return costRow(row, all, c.Costs.Credited) })
	if v.Board.Given != nil {
		out.Recorded.Totals.MinutesBasis = "given"
	}
	if c.PerHour != nil {
		out.DifferencePerHour = c.PerHour.String()
	}
	out.Today = some(c.Today)
	if o := c.Other; o != nil {
		out.OtherDifference, out.OtherDifferencePerKg, out.OtherSentence = some(o.Diff.String()), some(o.PerKg.String()),
			some(o.Sentence)
	}
	return out
}

func breakEven(b compare.BreakEven) contract.BreakEven {
	row := contract.BreakEven{Id: b.Product.ID, Name: b.Product.Name, PricePer: "kg",
		PriceNow: some(b.Now.PerKilogram().String())}
	if b.OK {
		row.Price = b.PerKg.String()
	}
	return row
}

func bridge(steps []value.Step) []contract.BridgeStep {
	return each(steps, func(s value.Step) contract.BridgeStep {
		return contract.BridgeStep{Id: s.ID, Name: s.Name, Kind: contract.BridgeStepKind(s.Kind), From: s.From.String(),
			To: s.To.String(), Change: s.Change.String()}
	})
}

func (h *handlers) GetComparison(ctx context.Context,
	r contract.GetComparisonRequestObject) (contract.GetComparisonResponseObject, error) {
	c, err := h.work.Compare.Compare(ctx, r.BreakdownId, from(r.Params.Baseline), from(r.Params.Today),
		value.Method(from(r.Params.Method)))
	if err != nil {
		return nil, err
	}
	return contract.GetComparison200JSONResponse(comparison(c)), nil
}
