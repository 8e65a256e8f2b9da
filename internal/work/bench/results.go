package bench

import (
	"context"
	"errors"

	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
)

// resultDecimals is how many decimals amounts keep in the read tables: so many that sums of thousands do not show it.
const resultDecimals = 8

// resultOf is what a closed breakdown brought, as a row of the read table with its cells.
func resultOf(v BoardView, sheet value.Sheet) *store.Result {
	alternative := sheet.Alternative("", false)
	b := v.Breakdown
	r := &store.Result{BreakdownID: b.ID, ShopID: v.Shop.ID, AtlasID: v.Card.Row.Lot.AtlasID, PlanID: b.PlanID,
		PlanName: v.Plan.Name, Cut: v.Plan.Cut, Supplier: v.Card.Row.Lot.Supplier, InputMg: int64(alternative.Mass),
		MeatMg: int64(alternative.Saleable()), WasteMg: int64(sheet.FateMass(value.Waste)),
		LossMg: int64(sheet.FateMass(value.Loss)), Minutes: v.Minutes, Priced: len(alternative.Unpriced) == 0,
		Sales: alternative.Sales().Text(resultDecimals), Packaging: alternative.Packaging.Text(resultDecimals),
		Labour: alternative.Labour.Text(resultDecimals), Discard: alternative.Discard.Text(resultDecimals),
		Ingredients: alternative.Ingredients.Text(resultDecimals),
		Purchase:    alternative.Purchase.Text(resultDecimals), ValuePerKg: alternative.ValuePerKg().Float(),
		BeforePurchasePerKg: v.Shop.Money.Round(alternative.PerKg(alternative.Value().Add(alternative.Purchase))).Float()}
	if b.ClosedAt != nil {
		r.ClosedAt, r.ClosedOn = *b.ClosedAt, v.Shop.Day(*b.ClosedAt)
	}
	r.Goods = goodsOf(v, r.ClosedOn, soldIn(v.Card.Piece, alternative.Cells))
	r.ByProductsMg = r.InputMg - r.MeatMg - r.WasteMg - r.LossMg
	for _, c := range alternative.Cells {
		r.Cells = append(r.Cells,
			store.ResultCell{Part: c.Part, ProductKey: c.Key, Fate: string(c.Fate), MassMg: int64(c.Mass),
				Sales: c.Sales.Text(resultDecimals)})
	}
	return r
}

// MainRole is the role of who booked most of a log; the first of those who booked as much.
func MainRole(log []seam.Event) string {
	count := map[string]int{}
	best := ""
	for _, e := range log {
		if e.Role != "" && e.Kind != seam.Noted {
			if count[e.Role]++; count[e.Role] > count[best] {
				best = e.Role
			}
		}
	}
	return best
}

// resultFlaws compares the result of a closed breakdown with what it should be.
func (s *Service) resultFlaws(ctx context.Context, v BoardView) ([]string, *store.Result, error) {
	if !v.Board.Closed() || v.Card.Carcass || v.Breakdown.Prices == nil {
		return nil, nil, nil
	}
	recorded, err := s.SheetAsCut(ctx, v)
	if err != nil {
		return nil, nil, err
	}
	want := resultOf(v, recorded)
	got, err := s.store.Result(ctx, v.Shop.ID, v.Breakdown.ID)
	if errors.Is(err, store.ErrNotFound) { // it is made when it is next asked for
		return nil, nil, nil
	}
	if err != nil {
		return nil, nil, err
	}
	sum, wanted := int64(0), int64(0)
	for _, c := range got.Cells {
		sum += c.MassMg
	}
	for _, c := range want.Cells {
		wanted += c.MassMg
	}
	if got.InputMg != want.InputMg || got.MeatMg != want.MeatMg || sum != wanted || len(got.Cells) != len(want.Cells) ||
		got.Sales != want.Sales || got.Packaging != want.Packaging || got.Labour != want.Labour ||
		got.Discard != want.Discard || got.Ingredients != want.Ingredients ||
		got.Purchase != want.Purchase || !got.ClosedOn.Equal(want.ClosedOn) {
		return []string{"what it brought does not agree with its log"}, want, nil
	}
	return nil, nil, nil
}
