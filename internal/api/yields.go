package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/value"
	"falda/internal/work/bench"
)

func (h *handlers) GetYields(ctx context.Context, r contract.GetYieldsRequestObject) (contract.GetYieldsResponseObject,
	error) {
	v, err := h.work.Bench.Yields(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	return contract.GetYields200JSONResponse{Past: v.Past, Sentence: v.Sentence,
		Rows: each(v.Rows, func(y value.Yield) contract.YieldRow {
			return contract.YieldRow{Id: y.ID, Kind: y.Kind, Name: y.Name, WeightG: y.Mass.Grams(), Pct: round(y.Pct, 3),
				MeanPct: round(y.Mean, 3), LowPct: round(y.Low, 3), HighPct: round(y.High, 3), N: y.N, Odd: some(y.Odd()),
				Minutes: some(round(v.Took[y.ID].Minutes(), 2))}
		}),
		Outputs: each(v.Outputs, func(o bench.TracedOutput) contract.TracedOutput {
			return contract.TracedOutput{Number: o.Number, Name: o.Name, Of: some(o.Of), Kind: string(o.Node.Event),
				WeightG: o.Node.Mass.Grams(), Count: some(o.Node.Count), Shared: some(o.Node.Shared)}
		})}, nil
}
