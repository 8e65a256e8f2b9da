package api

import (
	"context"
	"math/big"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/work/compare"
	"falda/internal/work/stock"
)

func deskAsked(b contract.DeskRequest) compare.Desk {
	d := compare.Desk{Market: from(b.Market), Today: from(b.Today), Block: from(b.BlockPrice),
		BlockPer: string(from(b.BlockPricePer)), Margin: from(b.MarginPct), Method: string(from(b.Method)),
		Credit: from(b.Credit), SoldDays: from(b.SoldDays)}
	if d.BlockPer == "" {
		d.BlockPer = "kg"
	}
	for _, k := range b.Alternatives {
		d.Alternatives = append(d.Alternatives,
			compare.AlternativePick{Kind: string(k.Kind), AtlasID: from(k.AtlasId),
				Plan: stock.PlanPick{PlanID: from(k.PlanId), Options: from(k.Options)}, Weight: from(k.Weight),
				Unit: string(from(k.WeightUnit)), Breakdown: from(k.BreakdownId),
				Group: compare.GroupPick{PlanID: from(k.PlanId), Supplier: from(k.Supplier), Cutter: from(k.Cutter),
					From: from(k.From), To: from(k.To), Breakdowns: from(k.Breakdowns)}})
	}
	for _, m := range from(b.Chain) {
		d.Chain = append(d.Chain, compare.DeskMarkdown{Key: m.Key, Sells: m.SellsPct})
	}
	return d
}

func (h *handlers) CompareAlternatives(ctx context.Context,
	r contract.CompareAlternativesRequestObject) (contract.CompareAlternativesResponseObject, error) {
	v, err := h.work.Compare.CompareAlternatives(ctx, deskAsked(*r.Body))
	if err != nil {
		return nil, err
	}
	return contract.CompareAlternatives200JSONResponse(desk(v)), nil
}

func desk(v compare.DeskView) contract.Desk {
	out := contract.Desk{Basis: texts(v.Basis), Today: v.Asked.Today, Method: v.Asked.Method, Market: v.Book.Market.Name,
		Season: v.Book.Season, Day: v.Book.Day.Format(time.DateOnly), Alternatives: each(v.Alternatives, alternative)}
	for _, m := range value.Methods {
		out.Methods = append(out.Methods, contract.CostMethod{Id: string(m.ID), Name: m.Name, Why: m.Why})
	}
	if r := v.Sold; r != nil {
		out.Sold = &contract.DeskSold{First: day(r.First), Last: day(r.Last), Products: len(r.PerKg)}
		for _, a := range v.Alternatives {
			x := contract.DeskSellThrough{}
			if known, full, ok := v.SellThrough(a.Alternative); ok {
				known, full = round(known*100, 1), round(full*100, 1)
				x.KnownPct, x.FullPct = &known, &full
			}
			out.Sold.Alternatives = append(out.Sold.Alternatives, x)
		}
	}
	for i, p := range v.Pairs {
		out.Pairs = append(out.Pairs, deskPair(p, i+1))
	}
	return out
}

func percentOf(part, whole measure.Mass) float64 {
	if whole == 0 {
		return 0
	}
	return round(float64(part)/float64(whole)*100, 3)
}

func alternative(s compare.AlternativeView) contract.Alternative {
	minutes, _ := new(big.Rat).Mul(s.Hours, big.NewRat(60, 1)).Float64()
	out := contract.Alternative{Name: s.Name, Kind: contract.AlternativeKind(s.Pick.Kind), AtlasId: s.Pick.AtlasID,
		Piece: s.Piece.Name, Plan: s.PlanName, Planned: s.Planned, Pieces: s.Pieces, WeightG: s.Mass.Grams(),
		Minutes: round(minutes, 2), SaleablePct: percentOf(s.Saleable(), s.Mass), MaxBlockPrice: s.MaxBlock.String(),
		Unpriced: texts(s.Unpriced), Priced: s.Priced, Products: []contract.DeskProduct{}, Costs: []contract.CostRow{},
		Muscles: []contract.CostRow{}, UsableCostPerKg: s.Currency.Of(measure.Money{}).String()}
	t := s.Totals()
	out.Totals = contract.DeskTotals{Sales: t.Sales.String(), Packaging: t.Packaging.String(), Labour: t.Labour.String(),
		Discard: t.Discard.String(), Ingredients: spent(t.Ingredients), Purchase: t.Purchase.String(),
		Value: t.Value.String(), PerKg: t.PerKg.String(),
		PerPiece: t.Value.Over(big.NewRat(int64(max(1, s.Pieces)), 1)).String()}
	for _, unit := range []measure.Unit{measure.UnitKilogram, measure.UnitPound} {
		l := s.LinesPer(unit)
		out.Totals.Lines = append(out.Totals.Lines,
			contract.DeskLines{Per: string(unit), Sales: l.Sales.String(), Packaging: l.Packaging.String(),
				Labour: l.Labour.String(), Discard: l.Discard.String(), Ingredients: spent(l.Ingredients),
				Purchase: l.Purchase.String(), Value: l.Value.String()})
	}
	if h := s.PerHour(); h != nil {
		out.Totals.PerHour = some(h.String())
	}
	if s.PerCarcassSide != nil {
		out.Totals.PerCarcassSide, out.Totals.CarcassSide = some(s.PerCarcassSide.String()), some(s.CarcassSide)
	}
	if y := s.YieldTest(); y.Usable > 0 {
		out.UsableCostPerKg = y.UsablePerKg.String()
		if y.CostFactor != nil {
			f, _ := y.CostFactor.Float64()
			out.CostFactor = some(round(f, 4))
		}
	}
	all := s.Purchase.Add(s.Alternative.Costs())
	for _, c := range s.Costs.Products {
		row := costRow(c, all, s.Costs.Credited)
		out.Costs = append(out.Costs, row)
		p := contract.DeskProduct{Key: c.ID, Name: c.Name, Kind: contract.DeskProductKind(row.Kind), WeightG: row.WeightG,
			YieldPct: percentOf(c.Mass, s.Mass), Sales: row.Sales}
		if kg := c.Mass.In(measure.UnitKilogram); kg.Sign() > 0 {
			p.PerKg = some(c.Sales.Over(kg).String())
		}
		out.Products = append(out.Products, p)
	}
	for _, c := range s.Costs.Muscles {
		row := costRow(c, all, false)
		row.Kind = "muscle"
		out.Muscles = append(out.Muscles, row)
	}
	return out
}

func costRow(c value.CostRow, all measure.Money, credited bool) contract.CostRow {
	out := contract.CostRow{Id: c.ID, Name: c.Name, Kind: "meat", WeightG: c.Mass.Grams(), Sales: c.Sales.String(),
		SellsAt: c.SellsAt.String(), Cost: c.Cost().String(), CostPerKg: c.PerKg.String()}
	if c.ByProduct {
		out.Kind = "by_product"
	}
	if all.Sign() > 0 {
		out.SharePct = some(round(c.Cost().Float()/all.Float()*100, 3))
	}
	if c.MarginPct != nil {
		f, _ := c.MarginPct.Float64()
		f = round(f*100, 2)
		out.MarginPct = &f
	}
	if !(credited && c.ByProduct) {
		out.MinPerKg = some(c.MinPerKg.String())
	}
	return out
}

func deskPair(p compare.DeskPair, b int) contract.DeskPair {
	out := contract.DeskPair{A: 0, B: b, Sentence: p.Sentence, PerKg: p.Lead.String(), PerPiece: p.PerPiece.String(),
		ByMuscle: bridge(p.ByPart), ByCause: bridge(p.ByCause), Even: []contract.DeskEven{},
		SellThrough: []contract.DeskSell{}, Turns: []contract.DeskTurn{}}
	if p.PerHour != nil {
		out.PerHour = some(p.PerHour.String())
	}
	if p.PerCarcassSide != nil {
		out.PerCarcassSide = some(p.PerCarcassSide.String())
	}
	if p.Anew != nil {
		out.RepricedPerKg, out.RepricedSentence = some(p.Anew.String()), some(p.AnewSays)
	}
	for _, e := range p.Evens {
		x := contract.DeskEven{Key: e.Key, Name: e.Name, Now: e.Now.String(), Ok: e.OK}
		if e.OK {
			x.At = some(e.At.String())
		}
		out.Even = append(out.Even, x)
	}
	for _, s := range p.Sells {
		x := contract.DeskSell{Key: s.Key, Name: s.Name, Price: s.Price.String(), Rest: s.Rest.String(), Ok: s.OK,
			Always: s.Always, Chain: []contract.MarkdownStep{}}
		if s.OK {
			f := round(s.Fraction*100, 2)
			x.SellsPct = &f
		}
		for _, m := range s.Chain {
			x.Chain = append(x.Chain,
				contract.MarkdownStep{Key: m.Key, Name: some(m.Name), Price: some(m.PerKg.String()),
					SellsPct: round(m.Sells*100, 2)})
		}
		out.SellThrough = append(out.SellThrough, x)
	}
	for _, t := range p.Turns {
		x := contract.DeskTurn{Kind: contract.DeskTurnKind(t.Kind), Key: some(t.Key), Name: t.Name, Now: round(t.Now, 4),
			Possible: t.Possible}
		if t.Possible {
			at, change := round(t.At, 4), round(t.ChangePct, 2)
			x.At, x.ChangePct = &at, &change
		}
		out.Turns = append(out.Turns, x)
	}
	return out
}
