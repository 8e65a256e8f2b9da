package bench

import (
	"context"

	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/stock"
)

// HandOver gives a piece that is being cut to another bench, with what is on the board: that bench goes on where this
// one stopped, today or another day. A piece of a batch stays with it, and a finished one where it is.
func (s *Service) HandOver(ctx context.Context, id, benchID string) (BoardView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BoardView{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		b, err := tx.Breakdown(ctx, shop.ID, id)
		if err != nil {
			return audit.Change{}, err
		}
		if err := tx.LockPiecesByID(ctx, shop.ID, b.PieceID); err != nil {
			return audit.Change{}, err
		}
		h, err := tx.PieceRowByID(ctx, shop.ID, b.PieceID)
		if err != nil {
			return audit.Change{}, err
		}
		if b.State == "closed" {
			return audit.Change{}, fault.NewConflict("", "closed", "It is finished; there is nothing to go on with.",
				"Open it again first, where something is wrong.")
		}
		if b.BatchID != nil {
			return audit.Change{}, fault.NewConflict("", "batch", "It is cut together with others and stays with them.",
				"Finish the batch at its bench.")
		}
		bench, err := usable(ctx, tx, shop, benchID)
		if err != nil {
			return audit.Change{}, err
		}
		if bench.ID == b.BenchID {
			return audit.Change{}, fault.NewConflict("bench_id", "same", "has it already", "Choose another bench.")
		}
		return audit.Change{Action: "breakdown.handed_over", Subject: id, SubjectName: stock.PieceName(h),
				Was: map[string]any{"bench": h.Bench}, Became: map[string]any{"bench": bench.Name}},
			tx.MoveBreakdown(ctx, shop.ID, b.ID, bench.ID)
	})
	if err != nil {
		return BoardView{}, err
	}
	s.cached.drop(shop.ID, []string{id})
	return s.Board(ctx, id)
}
