package api

import (
	"context"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	roll "falda/internal/core/carcass"
	"falda/internal/core/value"
	"falda/internal/work/compare"
)

func (h *handlers) ListCarcasses(ctx context.Context,
	_ contract.ListCarcassesRequestObject) (contract.ListCarcassesResponseObject, error) {
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	a := h.work.Atlas()
	out := contract.ListCarcasses200JSONResponse{}
	for _, c := range a.Carcasses {
		shown := carcass(a, c, market)
		for _, d := range c.Divisions() {
			p := a.Whole(c, d.ID).In(market)
			m, err := h.work.Stock.ShareMap(p)
			if err != nil {
				return nil, err
			}
			shown.Divisions = append(shown.Divisions, contract.CarcassDivision{Id: d.ID, Name: d.Name, Map: seamMap(p, m)})
		}
		out = append(out, shown)
	}
	return out, nil
}

func carcass(a *atlas.Atlas, c atlas.Carcass, market string) contract.Carcass {
	named := func(id string) contract.Named {
		p, _ := a.Find(id)
		return contract.Named{Id: id, Name: p.NameIn(market)}
	}
	grams := func(kg float64) float64 { return round(kg*1000, 0) }
	return contract.Carcass{Id: c.ID, Name: c.NameIn(market), HouseName: c.Name, Species: c.Species, Arrives: c.Arrives,
		Basis: c.Basis, LowG: grams(c.WeightKg.Low), TypicalG: grams(c.WeightKg.Typical), HighG: grams(c.WeightKg.High),
		Inspect: each(c.Inspect, inspect), Cautions: texts(c.Cautions), Divide: texts(c.Divide),
		Parts: each(c.Parts, func(p atlas.CarcassPart) contract.CarcassPart {
			return contract.CarcassPart{Piece: p.Piece, Name: named(p.Piece).Name, Count: p.Count, SharePct: p.SharePct}
		}),
		Instead: each(c.Instead, func(i atlas.Instead) contract.CarcassInstead {
			return contract.CarcassInstead{Pieces: each(i.Pieces,
				func(p atlas.CarcassPart) contract.Named { return named(p.Piece) }), Of: each(i.Of, named), Note: i.Note}
		}),
		Other: each(c.Other, func(o atlas.Part) contract.CarcassOther {
			return contract.CarcassOther{Id: o.ID, Name: o.Name, Kind: contract.CarcassOtherKind(o.Kind), SharePct: o.SharePct}
		}),
		Plans: each(c.Plans, func(p atlas.CarcassPlan) contract.CarcassPlan {
			return contract.CarcassPlan{Id: p.ID, Name: p.Name, Why: p.Why, Minutes: p.Minutes}
		}),
		Seasons: each(c.Season, func(s atlas.Season) contract.CarcassSeason {
			return contract.CarcassSeason{When: s.When, Sells: texts(s.Sells), Slow: texts(s.Slow), Advice: s.Do}
		})}
}

func carcassAsked(b contract.CarcassRequest) compare.CarcassAsk {
	return compare.CarcassAsk{Weight: from(b.Weight), Unit: string(from(b.WeightUnit)), Price: from(b.Price),
		PricePer: string(from(b.PricePer)), Plan: from(b.PlanId), Swaps: from(b.Plans), Heads: from(b.Heads),
		Market: from(b.Market), Division: from(b.Division), OtherSide: from(b.OtherSide), SoldWhole: from(b.SoldWhole),
		WholePrice: from(b.WholePrice), WholePer: string(from(b.WholePer))}
}

func (h *handlers) CarcassValue(ctx context.Context,
	r contract.CarcassValueRequestObject) (contract.CarcassValueResponseObject, error) {
	v, err := h.work.Compare.CarcassValue(ctx, r.CarcassId, carcassAsked(*r.Body))
	if err != nil {
		return nil, err
	}
	return contract.CarcassValue200JSONResponse(carcassValue(v)), nil
}

func sums(t value.Totals) contract.CarcassSums {
	return contract.CarcassSums{Sales: t.Sales.String(), Packaging: t.Packaging.String(), Labour: t.Labour.String(),
		Discard: t.Discard.String(), Ingredients: spent(t.Ingredients), Purchase: t.Purchase.String(),
		Value: t.Value.String()}
}

func carcassValue(v compare.CarcassView) contract.CarcassValue {
	r := v.Roll
	out := contract.CarcassValue{Id: v.Carcass.ID, Name: v.Carcass.Name, PlanId: v.Plan.ID, WeightG: v.Weight.Grams(),
		Minutes: round(v.Minutes, 1), Heads: r.Heads, Sentence: v.Sentence, Basis: v.Basis, Year: v.Year.String(),
		Lost: r.Lost.String(), Unpriced: texts(v.Unpriced),
		Totals: contract.CarcassTotals{Head: sums(r.Head()), Week: sums(r.Totals)}, Lines: []contract.CarcassLine{},
		Flows: []contract.CarcassFlow{}, Plans: each(v.Carcass.Plans, func(p atlas.CarcassPlan) contract.CarcassWay {
			return contract.CarcassWay{Id: p.ID, Name: p.Name, Why: p.Why}
		})}
	out.Division, out.EvenPrice, out.EvenPer = v.Division.ID, v.Even.Amount.String(), string(v.Even.Per)
	out.Divisions = each(v.Ways, func(d compare.CarcassDivision) contract.CarcassDivisionValue {
		return contract.CarcassDivisionValue{Id: d.ID, Name: d.Name, Note: d.Note, Head: d.Head.String(),
			More: d.Head.Sub(v.Ways[0].Head).String(), Minutes: round(d.Minutes, 1), Priced: d.Priced}
	})
	if w := v.Whole; w != nil {
		out.Whole = &contract.CarcassWhole{Price: priceText(w.Price), PricePer: string(w.Price.Per), Head: w.Head.String(),
			More: w.More.String()}
	}
	for i, p := range v.Pieces {
		x := contract.CarcassPieceValue{Id: p.Piece.ID, Name: p.Name(), Count: p.Count(), Side: some(p.Side),
			WeightG: p.Mass.Grams(), PlanId: p.PlanID, PlannedId: p.Planned, Sales: r.Pieces[i].Sales.String(),
			ExtraMinutes: p.Minutes,
			Plans: each(p.Piece.Plans,
				func(pl atlas.Plan) contract.Named { return contract.Named{Id: pl.ID, Name: pl.Name} })}
		if p.PlanID != p.Planned {
			x.Gain = some(p.Gain.String())
		}
		out.Pieces = append(out.Pieces, x)
	}
	for _, l := range r.Lines {
		x := contract.CarcassLine{Key: l.Key, Name: l.Name, Kind: "meat", WeightG: l.Mass.Grams(), BeyondG: l.Beyond.Grams(),
			Sales: l.Sales.String()}
		if (atlas.Product{Form: l.Form}).ByProduct() {
			x.Kind = "by_product"
		}
		if l.Priced {
			x.Price, x.PricePer = some(priceText(l.Price)), some(string(l.Price.Per))
		}
		out.Lines = append(out.Lines, x)
	}
	out.Names = carcassNames(v)
	out.Flows = each(r.Flows, func(f roll.Flow) contract.CarcassFlow {
		return contract.CarcassFlow{From: f.From, To: f.To, WeightG: f.Mass.Grams(), Value: round(f.Value.Float(), 4)}
	})
	out.Seasons = each(v.Seasons, func(s compare.CarcassSeason) contract.CarcassSeasonValue {
		return contract.CarcassSeasonValue{Name: s.Name, Weeks: round(s.Weeks, 1), Value: s.Roll.Totals.Value.String(),
			Lost: s.Roll.Lost.String()}
	})
	return out
}

// carcassNames says what the ends of the flows are called.
func carcassNames(v compare.CarcassView) map[string]string {
	r := v.Roll
	names := map[string]string{"carcass": v.Carcass.Name, "product/waste": "Waste", "product/loss": "Lost"}
	for i, p := range v.Pieces {
		id := r.Pieces[i].ID()
		names["piece/"+id], names["part/"+id+"/"+roll.WholePart] = p.Name(), p.Piece.Name
		for _, part := range p.Piece.Parts() {
			names["part/"+id+"/"+part.ID] = part.Name
		}
	}
	for _, f := range r.Flows {
		if names[f.To] == "" && strings.HasPrefix(f.To, "part/") {
			names[f.To] = "Ingredients"
		}
	}
	for _, b := range r.OtherYields {
		names["piece/"+b.ID], names["part/"+b.ID+"/"+b.ID] = b.Name, b.Name
	}
	for _, l := range r.Lines {
		names["product/"+l.Key] = l.Name
	}
	return names
}
