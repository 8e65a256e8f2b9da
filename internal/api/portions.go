package api

import (
	"bytes"
	"context"
	"fmt"
	"math/big"

	"falda/internal/api/contract"
	"falda/internal/core/words"
	"falda/internal/paper"
	"falda/internal/work/stock"
)

func portionAsk(b contract.PortionAsk) stock.PortionAsk {
	in := stock.PortionAsk{AtlasID: b.AtlasId, Part: b.Part, Called: from(b.Called), Holds: from(b.Holds),
		WeightG: b.WeightG, LengthMm: from(b.LengthMm), Way: b.Way, Count: from(b.Count), LabelG: from(b.LabelG),
		OverG: from(b.OverG), ThickMm: from(b.ThicknessMm), KerfMm: from(b.KerfMm), Into: from(b.Into),
		Price: from(b.Price), RestPrice: from(b.RestPrice), Per: string(from(b.PricePer))}
	for _, c := range from(b.Cut) {
		in.Cut = append(in.Cut, stock.CutPortion{ToMm: c.ToMm, G: c.G})
	}
	return in
}

func (h *handlers) LayPortions(ctx context.Context,
	r contract.LayPortionsRequestObject) (contract.LayPortionsResponseObject, error) {
	v, err := h.portions(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	return contract.LayPortions200JSONResponse(portionPlan(v)), nil
}

// portions lays a muscle; the solvers are few, and others may wait for them.
func (h *handlers) portions(ctx context.Context, ask contract.PortionAsk) (stock.PortionView, error) {
	_, _, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return stock.PortionView{}, err
	}
	defer done()
	return h.work.Stock.Portion(ctx, portionAsk(ask))
}

func portionPlan(v stock.PortionView) contract.PortionPlan {
	l := v.Layout
	n, lightest, heaviest := l.Portions()
	out := contract.PortionPlan{Name: v.Name, LengthMm: v.LengthMm, Basis: v.Basis, Portions: n * v.Into,
		LightestG: tenthOf(share(lightest, v.Into)), HeaviestG: tenthOf(share(heaviest, v.Into)), Into: v.Into,
		Money: portionMoney(v.Money), OtherMoney: portionMoney(v.OtherPay),
		GiveAwayG: tenthOf(l.GiveAwayG), RestG: tenthOf(l.RestG),
		Sentence: words.Portions(l, v.Into, v.Unit), Pieces: []contract.PortionMark{}}
	for _, x := range l.Pieces {
		out.Pieces = append(out.Pieces, contract.PortionMark{Portion: x.Product >= 0, FromMm: v.OffMm + x.FromMm,
			ToMm: v.OffMm + x.ToMm, G: tenthOf(x.G)})
	}
	if v.Other != nil {
		said := "Of equal weight: " + words.Portions(*v.Other, v.Into, v.Unit)
		if v.OtherMm > 0 {
			said = fmt.Sprintf("Cut evenly at %d mm instead: %s", v.OtherMm, words.Portions(*v.Other, v.Into, v.Unit))
		}
		out.OtherSentence = &said
	}
	return out
}

// share is one of so many equal parts.
func share(g *big.Rat, of int) *big.Rat { return new(big.Rat).Quo(g, big.NewRat(int64(of), 1)) }

func portionMoney(m *stock.PortionMoney) *contract.PortionMoney {
	if m == nil {
		return nil
	}
	return &contract.PortionMoney{Portions: m.Portions.String(), Rest: m.Rest.String(),
		GivenAway: m.GivenAway.String(), Whole: m.Whole.String()}
}

// PrintRuler writes the marks as a strip at true scale.
func (h *handlers) PrintRuler(ctx context.Context,
	r contract.PrintRulerRequestObject) (contract.PrintRulerResponseObject, error) {
	v, err := h.portions(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	ruler := paper.Ruler{Title: v.Name, Piece: v.Piece.Name, Says: words.Portions(v.Layout, v.Into, v.Unit),
		LengthMm: v.LengthMm, Basis: v.Basis}
	n := 0
	for _, x := range v.Layout.Pieces {
		if x.Product >= 0 {
			n++
		}
		ruler.Marks = append(ruler.Marks, paper.Mark{FromMm: v.OffMm + x.FromMm, ToMm: v.OffMm + x.ToMm,
			Number: n, Portion: x.Product >= 0, Weight: words.Grams(x.G, v.Unit)})
	}
	var out bytes.Buffer
	if err := paper.PortionRuler(&out, ruler); err != nil {
		return nil, err
	}
	return contract.PrintRuler200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}
