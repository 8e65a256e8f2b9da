package api

import (
	"bytes"
	"context"
	"fmt"
	"math/big"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/core/portion"
	"falda/internal/core/words"
	"falda/internal/paper"
	"falda/internal/work/stock"
)

func portionAsk(b contract.PortionAsk) stock.PortionAsk {
	in := stock.PortionAsk{AtlasID: b.AtlasId, Part: b.Part, WeightG: b.WeightG, LengthMm: from(b.LengthMm), Way: b.Way,
		Count: from(b.Count), LabelG: from(b.LabelG), OverG: from(b.OverG), ThickMm: from(b.ThicknessMm),
		KerfMm: from(b.KerfMm)}
	for _, c := range from(b.Cut) {
		in.Cut = append(in.Cut, stock.CutPortion{ToMm: c.ToMm, G: c.G})
	}
	return in
}

func (h *handlers) LayPortions(ctx context.Context,
	r contract.LayPortionsRequestObject) (contract.LayPortionsResponseObject, error) {
	v, unit, err := h.portions(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	return contract.LayPortions200JSONResponse(portionPlan(v, unit)), nil
}

// portions lays a muscle, and gives the unit in which the shop weighs.
func (h *handlers) portions(ctx context.Context, ask contract.PortionAsk) (v stock.PortionView, unit measure.Unit,
	err error) {
	own, err := h.work.Shop.Current(ctx)
	if err != nil {
		return v, "", err
	}
	_, _, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return v, "", err
	}
	defer done()
	v, err = h.work.Stock.Portion(ctx, portionAsk(ask))
	return v, own.Unit, err
}

// spread is how many portions a layout has, and what the lightest and the heaviest weigh.
func spread(l portion.Layout) (n int, lightest, heaviest *big.Rat) {
	for _, x := range l.Pieces {
		if x.Product < 0 {
			continue
		}
		if n++; n == 1 || x.G.Cmp(lightest) < 0 {
			lightest = x.G
		}
		if n == 1 || x.G.Cmp(heaviest) > 0 {
			heaviest = x.G
		}
	}
	if n == 0 {
		return 0, new(big.Rat), new(big.Rat)
	}
	return n, lightest, heaviest
}

func grams(r *big.Rat) float64 {
	v, _ := r.Float64()
	return tenths(v)
}

func portionPlan(v stock.PortionView, unit measure.Unit) contract.PortionPlan {
	l := v.Layout
	n, lightest, heaviest := spread(l)
	out := contract.PortionPlan{Name: v.Muscle.Name, LengthMm: v.LengthMm, Basis: v.Basis, Portions: n,
		LightestG: grams(lightest), HeaviestG: grams(heaviest), GiveAwayG: grams(l.GiveAwayG), RestG: grams(l.RestG),
		Sentence: portionWords(l, unit), Pieces: []contract.PortionMark{}}
	for _, x := range l.Pieces {
		out.Pieces = append(out.Pieces, contract.PortionMark{Portion: x.Product >= 0, FromMm: v.OffMm + x.FromMm,
			ToMm: v.OffMm + x.ToMm, G: grams(x.G)})
	}
	if v.Other != nil {
		said := "Of equal weight: " + portionWords(*v.Other, unit)
		if v.OtherMm > 0 {
			said = fmt.Sprintf("Cut evenly at %d mm instead: %s", v.OtherMm, portionWords(*v.Other, unit))
		}
		out.OtherSentence = &said
	}
	return out
}

// portionWords says what a layout gives.
func portionWords(l portion.Layout, unit measure.Unit) string {
	n, lightest, heaviest := spread(l)
	mass := func(r *big.Rat) string {
		g, _ := r.Float64()
		m, err := measure.FromGrams(g)
		if err != nil {
			return ""
		}
		return m.Text(unit, 3)
	}
	if n == 0 {
		return "no portion comes out."
	}
	text := words.Count(n, "portion", "portions") + " of " + mass(lightest)
	if mass(lightest) != mass(heaviest) {
		text += " to " + mass(heaviest)
	}
	if l.RestG.Sign() > 0 {
		text += ", " + mass(l.RestG) + " left over"
	}
	if l.GiveAwayG.Sign() > 0 {
		text += ", " + mass(l.GiveAwayG) + " given away"
	}
	return text + "."
}

// PrintRuler writes the marks as a strip at true scale.
func (h *handlers) PrintRuler(ctx context.Context,
	r contract.PrintRulerRequestObject) (contract.PrintRulerResponseObject, error) {
	v, unit, err := h.portions(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	ruler := paper.Ruler{Title: v.Muscle.Name, Piece: v.Piece.Name, Says: portionWords(v.Layout, unit),
		LengthMm: v.LengthMm, Basis: v.Basis}
	n := 0
	for _, x := range v.Layout.Pieces {
		if x.Product >= 0 {
			n++
		}
		g, _ := x.G.Float64()
		m, err := measure.FromGrams(g)
		if err != nil {
			return nil, err
		}
		ruler.Marks = append(ruler.Marks, paper.Mark{FromMm: v.OffMm + x.FromMm, ToMm: v.OffMm + x.ToMm,
			Number: n, Portion: x.Product >= 0, Weight: m.Text(unit, 3)})
	}
	var out bytes.Buffer
	if err := paper.PortionRuler(&out, ruler); err != nil {
		return nil, err
	}
	return contract.PrintRuler200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}
