package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/work/compare"
)

func bestAsked(b contract.BestUseAsk) compare.BestAsk {
	in := compare.BestAsk{Pieces: from(b.Pieces), Minutes: from(b.Minutes), Days: from(b.Days), Market: from(b.Market),
		Wait: from(b.Wait), Leave: from(b.Leave), Open: from(b.OpenOrders)}
	for _, p := range from(b.Pins) {
		in.Pins = append(in.Pins, compare.BestPin{Piece: p.PieceId, Plan: p.PlanId})
	}
	for _, o := range from(b.Orders) {
		in.Orders = append(in.Orders, compare.BestOrder{Key: o.ProductKey, Weight: o.Weight, Unit: string(o.Unit)})
	}
	return in
}

func (h *handlers) BestUse(ctx context.Context, r contract.BestUseRequestObject) (contract.BestUseResponseObject,
	error) {
	v, err := h.work.Compare.BestUse(ctx, bestAsked(*r.Body))
	if err != nil {
		return nil, err
	}
	return contract.BestUse200JSONResponse(bestView(v)), nil
}

func bestView(v compare.BestView) contract.BestUseView {
	out := contract.BestUseView{Sentence: v.Sentence, Notes: texts(v.Notes), Value: v.Brings.String(),
		Brought: v.Brought.String(), Costs: v.Costs.String(), Minutes: float64(v.Solution.Minutes) / 100, Proven: v.Proven,
		AtMost: v.Shop.Money.Round(v.AtMost).String(), Season: v.Book.Season, Market: v.Book.Market.Name,
		Sales: []contract.BestUseSale{}}
	if v.Hour != nil {
		out.Hour = some(v.Shop.Money.Round(*v.Hour).String())
	}
	if v.PinsCost != nil {
		out.PinsCost = some(v.Shop.Money.Round(*v.PinsCost).String())
	}
	out.Pieces = each(v.Pieces, func(p compare.BestPiece) contract.BestUsePiece {
		return contract.BestUsePiece{Piece: card(p.Card), PlanId: p.PlanID, Plan: p.PlanName, Sentence: p.Sentence,
			Young: texts(p.Young), Basis: p.Basis, Pinned: p.Pinned, Plans: each(p.Plans, func(x atlas.Plan) contract.Named {
				return contract.Named{Id: x.ID, Name: x.Name}
			})}
	})
	for _, s := range v.Sales {
		x := contract.BestUseSale{Key: s.Product, Name: s.Name, WeightG: s.Made.Grams(), FullG: s.Full.Grams(),
			FallbackG: s.Fallback.Grams(), Price: v.Shop.Money.Round(s.Price.PerKilogram()).String(), Value: s.Value.String()}
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
