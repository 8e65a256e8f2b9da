package api

import (
	"context"
	"fmt"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/compare"
)

func historyPick(by, measure, atlasID, planID, supplier, cutter, first, last *string) compare.HistoryPick {
	return compare.HistoryPick{AtlasID: from(atlasID), By: from(by), Measure: from(measure),
		Group: compare.GroupPick{PlanID: from(planID), Supplier: from(supplier), Cutter: from(cutter), From: from(first),
			To: from(last)}}
}

func (h *handlers) GetHistory(ctx context.Context,
	r contract.GetHistoryRequestObject) (contract.GetHistoryResponseObject, error) {
	p := r.Params
	v, err := h.work.Compare.History(ctx,
		historyPick(p.By, p.Measure, p.AtlasId, p.PlanId, p.Supplier, p.Cutter, p.From, p.To))
	if err != nil {
		return nil, err
	}
	out := contract.GetHistory200JSONResponse{By: v.Pick.By, Measure: v.Pick.Measure, N: v.N, Mean: round(v.Mean, 4),
		Sd: round(v.SD, 4), Sentence: v.Sentence, Buckets: []contract.HistoryBucket{}}
	for _, b := range v.Buckets {
		x := contract.HistoryBucket{Key: b.Key, Name: b.Name, N: b.N, Mean: round(b.Mean, 4), Sd: round(b.SD, 4), Out: b.Out,
			Alone: some(b.Alone && b.VersusRest == nil)}
		if b.Limited {
			low, high := round(b.Low, 4), round(b.High, 4)
			x.Low, x.High = &low, &high
		}
		if a := b.VersusRest; a != nil {
			d, pv := round(a.Mean, 4), round(a.P, 6)
			x.Difference, x.P, x.Verdict = &d, &pv, some(a.Verdict)
		}
		out.Buckets = append(out.Buckets, x)
	}
	return out, nil
}

func (h *handlers) ListHistoryPieces(ctx context.Context,
	r contract.ListHistoryPiecesRequestObject) (contract.ListHistoryPiecesResponseObject, error) {
	p := r.Params
	rows, next, err := h.work.Compare.HistoryPieces(ctx,
		historyPick(p.By, nil, p.AtlasId, p.PlanId, p.Supplier, p.Cutter, p.From, p.To), from(p.Bucket), from(p.After))
	if err != nil {
		return nil, err
	}
	return contract.ListHistoryPieces200JSONResponse{Next: some(next),
		Pieces: each(rows, func(x store.ResultRow) contract.HistoryPiece {
			name := x.AtlasID
			if piece, ok := h.work.Atlas().Find(x.AtlasID); ok {
				name = piece.Name
			}
			return contract.HistoryPiece{BreakdownId: x.PublicID, LotNumber: fmt.Sprintf("%s / %d", x.LotNumber, x.PieceNumber),
				Piece: name, Plan: x.PlanName, Supplier: x.Supplier, Cutter: x.Cutter, ClosedAt: x.ClosedAt,
				InputG: measure.Mass(x.InputMg).Grams(), SaleablePct: percentOf(measure.Mass(x.MeatMg), measure.Mass(x.InputMg)),
				LossPct: percentOf(measure.Mass(x.LossMg), measure.Mass(x.InputMg)), Minutes: round(x.Minutes, 1),
				PerKg: round(x.ValuePerKg, 4), BeforePurchasePerKg: round(x.BeforePurchasePerKg, 4), Priced: x.Priced}
		})}, nil
}
