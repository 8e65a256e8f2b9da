package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/work/compare"
	"falda/internal/work/stock"
)

func card(c stock.Card) contract.PieceCard {
	h := c.Row
	out := contract.PieceCard{Id: h.Piece.PublicID, AtlasId: c.Piece.ID, Name: c.Piece.Name, LotNumber: h.Lot.LotNumber,
		Supplier: h.Lot.Supplier, Number: h.Piece.Number, Of: h.Lot.Pieces, WeightG: c.Weight.Grams(), WeightBasis: "given",
		AgeDays: c.AgeDays, Stage: contract.PieceCardStage(c.Stage), WaitsFor: c.WaitsFor, ReadyOn: day(c.ReadyOn),
		Version: h.Piece.Version, PlanId: some(c.Plan.ID), PlanName: some(c.Plan.Name), PlanShort: some(c.Plan.ShortName()),
		Bench: some(h.Bench), LotId: h.Lot.PublicID, BatchId: some(c.Batch), Carcass: c.Carcass, VoidedAt: h.Piece.VoidedAt,
		VoidReason: some(h.Piece.VoidReason)}
	if c.Measured {
		out.WeightBasis = "measured"
	}
	if b := h.Breakdown; b != nil {
		out.BreakdownId, out.ClosedAt = some(b.PublicID), b.ClosedAt
		if len(h.Off) > 0 {
			out.Off = &h.Off
		}
		if c.Gain != nil {
			out.DifferencePerKg = some(c.Gain.String())
		}
	}
	return out
}

func (h *handlers) pieceDetail(v compare.PieceView) contract.PieceDetail {
	return contract.PieceDetail{Card: card(v.Card), Lot: h.lot(v.Lot), Forecast: forecast(v.Forecast),
		SeamMap: seamMap(v.Card.Piece, v.Map), Parts: each(v.Parts,
			func(w compare.PartWeight) contract.PartWeight { return partWeight(v.Card.Piece, w, v.Card.Weight) })}
}

func partWeight(p atlas.Piece, w compare.PartWeight, whole measure.Mass) contract.PartWeight {
	m, _ := p.Muscle(w.Part.ID)
	return contract.PartWeight{Id: w.Part.ID, Code: m.Code, Name: w.Part.Name, Kind: w.Part.Kind, WeightG: w.Mass.Grams(),
		Pct: round(float64(w.Mass)/float64(max(1, whole))*100, 3), TypicalPct: float64(w.Part.Share) / 1000,
		Basis: basis(w.Measured)}
}

func (h *handlers) ListPieces(ctx context.Context,
	r contract.ListPiecesRequestObject) (contract.ListPiecesResponseObject, error) {
	queue, err := h.work.Stock.Queue(ctx, from(r.Params.After))
	if err != nil {
		return nil, err
	}
	starts, benches, err := h.work.Dayplan.Starts(ctx)
	if err != nil {
		return nil, err
	}
	cards := each(queue.Pieces, card)
	for i, c := range cards {
		if x, ok := starts[c.Id]; ok && c.BreakdownId == nil {
			cards[i].PlannedAt, cards[i].PlannedBench = &x.From, some(benches[x.Bench])
		}
	}
	return contract.ListPieces200JSONResponse{Pieces: cards, Next: some(queue.Next)}, nil
}

func (h *handlers) GetPiece(ctx context.Context, r contract.GetPieceRequestObject) (contract.GetPieceResponseObject,
	error) {
	v, err := h.work.Compare.Piece(ctx, r.PieceId)
	if err != nil {
		return nil, err
	}
	return contract.GetPiece200JSONResponse(h.pieceDetail(v)), nil
}

func (h *handlers) ChoosePlan(ctx context.Context,
	r contract.ChoosePlanRequestObject) (contract.ChoosePlanResponseObject, error) {
	pick := stock.PlanPick{PlanID: r.Body.PlanId, Options: from(r.Body.Options)}
	if err := h.work.Stock.ChoosePlan(ctx, r.PieceId, pick, r.Body.Version); err != nil {
		return nil, err
	}
	v, err := h.work.Compare.Piece(ctx, r.PieceId)
	if err != nil {
		return nil, err
	}
	return contract.ChoosePlan200JSONResponse(h.pieceDetail(v)), nil
}
