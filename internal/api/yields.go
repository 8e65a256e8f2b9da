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

// GetPace gives how long the seams of a piece take.
func (h *handlers) GetPace(ctx context.Context, r contract.GetPaceRequestObject) (contract.GetPaceResponseObject,
	error) {
	v, err := h.work.Bench.Pace(ctx, r.AtlasId, from(r.Params.Cutter))
	if err != nil {
		return nil, err
	}
	out := contract.GetPace200JSONResponse{WeightG: v.Weight.Grams(), Pieces: v.Pieces, Cutter: some(v.Cutter)}
	out.Cutters = each(v.Cutters, func(c bench.PaceCutter) contract.PaceCutter {
		return contract.PaceCutter{Id: c.ID, Name: c.Name, N: c.N}
	})
	out.Seams = each(v.Seams, func(s bench.SeamPace) contract.SeamPace {
		x := contract.SeamPace{Part: s.Muscle.ID, Name: s.Muscle.Name, Cm2: tenths(s.Cm2), Known: s.Known,
			Minutes: round(s.Minutes, 2), HouseMinutes: round(s.Minutes*s.House.Ratio, 2), N: s.House.N}
		if v.Cutter != "" {
			minutes := round(s.Minutes*s.Who.Ratio, 2)
			x.CutterMinutes, x.CutterN = &minutes, &s.Who.N
		}
		return x
	})
	return out, nil
}
