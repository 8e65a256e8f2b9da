package api

import (
	"context"
	"fmt"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/work/bench"
)

func (h *handlers) StartBatch(ctx context.Context,
	r contract.StartBatchRequestObject) (contract.StartBatchResponseObject, error) {
	v, err := h.work.Bench.StartBatch(ctx, r.Body.PieceIds, r.Body.BenchId)
	if err != nil {
		return nil, err
	}
	out, err := h.batch(ctx, v)
	return contract.StartBatch200JSONResponse(out), err
}

func (h *handlers) GetBatch(ctx context.Context, r contract.GetBatchRequestObject) (contract.GetBatchResponseObject,
	error) {
	v, err := h.work.Bench.Batch(ctx, r.BatchId)
	if err != nil {
		return nil, err
	}
	out, err := h.batch(ctx, v)
	return contract.GetBatch200JSONResponse(out), err
}

func (h *handlers) BookTogether(ctx context.Context,
	r contract.BookTogetherRequestObject) (contract.BookTogetherResponseObject, error) {
	e, err := event(r.Body.Event)
	if err != nil {
		return nil, err
	}
	v, err := h.work.Bench.BookTogether(ctx, r.BatchId, e,
		each(r.Body.Entries, func(b contract.BatchEntry) bench.BatchEntry {
			return bench.BatchEntry{Breakdown: b.BreakdownId, ID: b.Id, Target: from(b.Target)}
		}))
	if err != nil {
		return nil, err
	}
	out, err := h.batch(ctx, v)
	return contract.BookTogether200JSONResponse(out), err
}

func (h *handlers) StreamBatch(ctx context.Context,
	r contract.StreamBatchRequestObject) (contract.StreamBatchResponseObject, error) {
	return h.changes(ctx, func(ctx context.Context, known int) (int, error) {
		return h.work.Bench.BatchChanges(ctx, r.BatchId, known)
	})
}

// batch encodes the boards of pieces that are cut together. What stays the same while they are cut stands at the first
// of them.
func (h *handlers) batch(ctx context.Context, v bench.BatchView) (contract.BatchBoard, error) {
	out := contract.BatchBoard{Id: v.Batch.PublicID, Boards: each(v.Boards, h.board), Minutes: round(v.Minutes, 2),
		Undo: []contract.BatchUndo{}}
	if len(v.Boards) == 0 {
		return out, nil
	}
	first := v.Boards[0]
	var err error
	if out.Boards[0], err = h.boardWithDoubts(ctx, first); err != nil {
		return out, err
	}
	out.Expected = each(v.Expected, func(e seam.Expected) contract.Expected {
		return expected(first, e)
	})
	for i, b := range out.Boards {
		out.Events += b.Booked
		if i > 0 {
			out.Boards[i].Expected = []contract.Expected{}
		}
	}
	if v.Next >= 0 {
		out.Next = some(out.Expected[v.Next].Key)
	}
	undo := v.Undo()
	var name string
	var sum measure.Mass
	for _, u := range undo {
		var m measure.Mass
		name, m = undone(u, *u.Undo)
		sum += m
		out.Undo = append(out.Undo, contract.BatchUndo{BreakdownId: u.Breakdown.PublicID, Target: u.Undo.ID})
	}
	switch {
	case len(undo) > 1:
		name = fmt.Sprintf("%s of %d pieces", name, len(undo))
	case len(undo) == 1:
		name = fmt.Sprintf("%s of piece %d", name, undo[0].Card.Row.Piece.Number)
	}
	if len(undo) > 0 {
		out.UndoWhat = some(name + ", " + sum.Text(first.Shop.Unit, 3))
	}
	return out, nil
}
