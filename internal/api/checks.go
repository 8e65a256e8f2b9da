package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/shop"
)

func scaleCheck(c store.ScaleCheckRow) contract.ScaleCheck {
	return contract.ScaleCheck{Id: c.PublicID, At: c.At, Name: c.Name, WeightG: measure.Mass(c.WeightMg).Grams(),
		ShownG: measure.Mass(c.ShownMg).Grams(), OffG: measure.Mass(c.ShownMg - c.WeightMg).Grams(),
		AllowedG: measure.Mass(c.AllowedMg).Grams(), Fits: shop.FitsOf(c), Source: c.Source, Note: c.Note}
}

func scaleState(s shop.ScaleState) contract.ScaleState {
	out := contract.ScaleState{Due: s.Due}
	if s.Last != nil {
		last := scaleCheck(*s.Last)
		out.Last = &last
	}
	return out
}

func (h *handlers) ListScaleChecks(ctx context.Context,
	r contract.ListScaleChecksRequestObject) (contract.ListScaleChecksResponseObject, error) {
	rows, state, err := h.work.Shop.ScaleChecks(ctx, r.BenchId)
	if err != nil {
		return nil, err
	}
	return contract.ListScaleChecks200JSONResponse{State: scaleState(state), Checks: each(rows, scaleCheck)}, nil
}

func (h *handlers) CheckScale(ctx context.Context,
	r contract.CheckScaleRequestObject) (contract.CheckScaleResponseObject, error) {
	row, err := h.work.Shop.CheckScale(ctx, r.BenchId, shop.NewScaleCheck{Weight: r.Body.WeightG, Shown: r.Body.ShownG,
		Source: r.Body.Source, Note: from(r.Body.Note)})
	if err != nil {
		return nil, err
	}
	return contract.CheckScale201JSONResponse(scaleCheck(row)), nil
}
