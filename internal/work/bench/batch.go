package bench

import (
	"context"
	"fmt"
	"maps"
	"math"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// How many pieces are cut together.
const (
	minTogether = 2
	maxTogether = 50
)

// BatchView is pieces of one kind that are cut together by one plan: a board each, and what they come to together.
type BatchView struct {
	Batch    store.Batch
	Boards   []BoardView // by their number in the lot
	Expected []seam.Expected
	Next     int
	Minutes  float64 // at the bench, for all of them
}

// BatchEntry is the part of one piece in a booking of several: the id of its event, and what that undoes or weighs
// again.
type BatchEntry struct {
	Breakdown, ID, Target string
}

// StartBatch puts pieces of one kind, cut by one plan, on a bench together. Where they are together on one already,
// that comes back.
func (s *Service) StartBatch(ctx context.Context, pieceIDs []string, benchID string) (BatchView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BatchView{}, err
	}
	seen := map[string]bool{}
	for _, id := range pieceIDs {
		seen[id] = true
	}
	if len(pieceIDs) < minTogether || len(pieceIDs) > maxTogether || len(seen) != len(pieceIDs) {
		return BatchView{},
			fault.New("piece_ids", "out_of_range", fmt.Sprintf("must be %d to %d different pieces", minTogether, maxTogether),
				"Choose pieces of one lot, or of one kind.")
	}
	var public string
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if err := tx.LockPieces(ctx, shop.ID, pieceIDs...); err != nil {
			return audit.Change{}, err
		}
		bench, err := usable(ctx, tx, shop, benchID)
		if err != nil {
			return audit.Change{}, err
		}
		pieces := make([]store.PieceRow, len(pieceIDs))
		for i, id := range pieceIDs {
			if pieces[i], err = tx.PieceRow(ctx, shop.ID, id); err != nil {
				return audit.Change{}, err
			}
		}
		if b, err := s.together(ctx, tx, shop, pieces); err != nil || b != "" {
			public = b
			return audit.Change{}, err
		}
		batch := store.Batch{PublicID: store.NewID(), ShopID: shop.ID, BenchID: bench.ID, CreatedAt: s.now()}
		if err := tx.CreateBatch(ctx, &batch); err != nil {
			return audit.Change{}, err
		}
		public = batch.PublicID
		for _, h := range pieces {
			if _, _, err := s.start(ctx, tx, shop, h, bench, &batch.ID); err != nil {
				return audit.Change{}, err
			}
		}
		return audit.Change{Action: "batch.started", Subject: public,
			SubjectName: words.Count(len(pieces), "piece", "pieces") + " with " + stock.PieceName(pieces[0]),
			Became:      map[string]any{"bench": bench.Name, "pieces": len(pieces)}}, nil
	})
	if err != nil {
		return BatchView{}, err
	}
	return s.Batch(ctx, public)
}

// together checks that pieces can be cut together. Where they all are in one batch already it gives that.
func (s *Service) together(ctx context.Context, tx *store.Store, shop shop.WithPlans, pieces []store.PieceRow) (string,
	error) {
	first := pieces[0]
	started := 0
	for _, h := range pieces {
		if h.Lot.AtlasID != first.Lot.AtlasID || s.atlas.IsCarcass(h.Lot.AtlasID) {
			return "",
				fault.New("piece_ids", "different", "are not all of one kind of piece",
					"Cut carcasses, and other pieces, by themselves.")
		}
		if h.Piece.PlanID != first.Piece.PlanID || !maps.Equal(h.Piece.Options, first.Piece.Options) {
			return "",
				fault.New("piece_ids", "different_plans", "are not all to be cut the same way",
					"Choose one plan for all of them first.")
		}
		if h.Breakdown != nil {
			started++
		}
	}
	if started == 0 {
		return "", nil
	}
	batch := first.Breakdown
	for _, h := range pieces {
		if h.Breakdown == nil || batch == nil || h.Breakdown.BatchID == nil || batch.BatchID == nil ||
			*h.Breakdown.BatchID != *batch.BatchID {
			return "", fault.NewConflict("piece_ids", "on_bench", "hold pieces that are on a bench already", "Leave those out.")
		}
	}
	b, err := tx.BatchByID(ctx, shop.ID, *batch.BatchID)
	return b.PublicID, err
}

// Batch gives the boards of pieces that are cut together.
func (s *Service) Batch(ctx context.Context, id string) (BatchView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BatchView{}, err
	}
	batch, err := s.store.Batch(ctx, shop.ID, id)
	if err != nil {
		return BatchView{}, err
	}
	rows, err := s.store.BatchBreakdowns(ctx, shop.ID, batch.ID)
	if err != nil {
		return BatchView{}, err
	}
	boards, err := s.Boards(ctx, shop, rows)
	return batchOf(batch, boards), err
}

func batchOf(batch store.Batch, boards []BoardView) BatchView {
	v := BatchView{Batch: batch, Boards: boards}
	lists := make([][]seam.Expected, len(boards))
	for i, b := range boards {
		lists[i] = b.Expected
		if b.Board.Closed() {
			v.Minutes += b.Minutes // its share of the time
		} else {
			v.Minutes = math.Max(v.Minutes, b.Minutes)
		}
	}
	v.Expected = seam.SumExpected(lists)
	v.Next = seam.Next(v.Expected)
	return v
}

// BookTogether books an event on several pieces of a batch, on all of them or on none. What was weighed of several
// together is shared among them by their weights; of one it is that one's. When they are closed, the minutes are shared
// likewise.
func (s *Service) BookTogether(ctx context.Context, batchID string, e seam.Event, entries []BatchEntry) (BatchView,
	error) {
	v, err := s.Batch(ctx, batchID)
	if err != nil {
		return v, err
	}
	if len(entries) == 0 || len(entries) > maxTogether {
		return v, fault.New("entries", "out_of_range", "must name at least one piece", "Say whose weight it is.")
	}
	list := make([]booking, len(entries))
	weights := make([]measure.Mass, len(entries))
	seen := map[string]bool{}
	for i, entry := range entries {
		board, ok := v.of(entry.Breakdown)
		if !ok || seen[entry.Breakdown] {
			return v,
				fault.New("entries", "unknown", fault.Quote(entry.Breakdown)+" is not a piece of this batch, or stands twice",
					"Name each piece once.")
		}
		seen[entry.Breakdown] = true
		weights[i] = board.Card.Weight // as weighed here, once it is
		one := e
		one.ID, one.Target = entry.ID, entry.Target
		list[i] = booking{breakdown: entry.Breakdown, event: one}
	}
	if err := v.shareOut(e, list, weights); err != nil {
		return v, err
	}
	booked, err := s.book(ctx, list)
	if err != nil {
		return v, err
	}
	after := make(map[string]BoardView, len(booked))
	for _, b := range booked {
		after[b.Breakdown.PublicID] = b
	}
	for i, b := range v.Boards {
		if now, ok := after[b.Breakdown.PublicID]; ok {
			v.Boards[i] = now
		}
	}
	return batchOf(v.Batch, v.Boards), nil
}

// shareOut sets each piece's share of the weight, or of the minutes that all of the batch took.
func (v BatchView) shareOut(e seam.Event, list []booking, weights []measure.Mass) error {
	if e.Kind == seam.Closed {
		minutes, sum := v.Minutes, measure.Mass(0)
		if e.Minutes != nil {
			minutes = *e.Minutes
		}
		for _, b := range v.Boards {
			sum += b.Card.Weight
		}
		for i := range list {
			part := minutes * float64(weights[i]) / float64(max(1, sum))
			list[i].event.Minutes = &part
		}
		return nil
	}
	if len(list) == 1 || !e.Kind.Weighs() {
		return nil
	}
	shares, err := seam.Share(e.Net, weights)
	if err != nil {
		return err
	}
	for i := range list {
		one := &list[i].event
		one.Net, one.Gross, one.Tare, one.Shared = shares[i], 0, 0, len(list) // gross and tare were of all of them
	}
	return nil
}

func (v BatchView) of(breakdown string) (BoardView, bool) {
	for _, b := range v.Boards {
		if b.Breakdown.PublicID == breakdown {
			return b, true
		}
	}
	return BoardView{}, false
}

// Undo gives the boards whose latest event would be undone next: that with the latest weighing of all, and its fellows
// where they were weighed together.
func (v BatchView) Undo() []BoardView {
	var what *seam.Event
	for _, b := range v.Boards {
		if b.Undo != nil && (what == nil || b.Undo.At.After(what.At)) {
			what = b.Undo
		}
	}
	var out []BoardView
	for _, b := range v.Boards {
		sameWeighing := b.Undo != nil && what.Shared > 1 && b.Undo.Shared == what.Shared && b.Undo.At.Equal(what.At) &&
			b.Undo.Part == what.Part && b.Undo.Product == what.Product
		if b.Undo != nil && (sameWeighing || b.Undo.ID == what.ID) {
			out = append(out, b)
		}
	}
	return out
}
