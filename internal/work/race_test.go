package work_test

import (
	"fmt"
	"testing"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/work"
	"falda/internal/work/bench"
	"falda/internal/work/stock"
)

// Rules: a piece that is voided is on no bench; a bench cuts by the plan that the piece has, of the piece that the lot
// is; a batch is of pieces that no other bench has; and what a piece brought stands at what its lot cost. Whatever two
// programs do at once.
func TestTwoAtOnceOnTheSameRows(t *testing.T) {
	r := newArena(t)
	piece := func(lot stock.LotView) string { return lot.Pieces[0].PublicID }
	start := func(w *work.Rooms, lot stock.LotView) error {
		_, err := w.Bench.StartBreakdown(r.ctx, piece(lot), r.bench)
		return err
	}
	void := func(w *work.Rooms, lot stock.LotView) error {
		return w.Stock.VoidPiece(r.ctx, piece(lot), true, r.hung(piece(lot)).Piece.Version, "entered twice")
	}
	voidLot := func(w *work.Rooms, lot stock.LotView) error {
		return w.Stock.VoidLot(r.ctx, lot.Lot.PublicID, true, lot.Lot.Version, "entered twice")
	}
	plan := func(w *work.Rooms, lot stock.LotView) error {
		err := w.Stock.ChoosePlan(r.ctx, piece(lot), stock.PlanPick{PlanID: "traditional"}, r.hung(piece(lot)).Piece.Version)
		return err
	}
	batch := func(w *work.Rooms, lot stock.LotView) error {
		_, err := w.Bench.StartBatch(r.ctx, []string{lot.Pieces[0].PublicID, lot.Pieces[1].PublicID}, r.bench)
		return err
	}
	change := func(as string) func(w *work.Rooms, lot stock.LotView) error {
		return func(w *work.Rooms, lot stock.LotView) error {
			in := r.arrival()
			in.AtlasID, in.LotNumber = as, lot.Lot.LotNumber
			_, err := w.Stock.ChangeLot(r.ctx, lot.Lot.PublicID, in, lot.Lot.Version, "misread")
			return err
		}
	}
	notBoth := func(lot stock.LotView, _, _ error) string {
		for _, p := range lot.Pieces {
			h := r.hung(p.PublicID)
			if (h.Piece.VoidedAt != nil || h.Lot.VoidedAt != nil) && h.Breakdown != nil {
				return "a piece that is voided is on a bench"
			}
		}
		return ""
	}
	both(r, contest[stock.LotView]{make: r.received, name: "void a piece, start it", a: void, b: start, check: notBoth})
	both(r,
		contest[stock.LotView]{make: r.received, name: "void a lot, start a piece of it", a: voidLot, b: start,
			check: notBoth})
	both(r,
		contest[stock.LotView]{make: r.received, name: "void a piece, start a batch with it", a: void, b: batch,
			check: notBoth})
	both(r, contest[stock.LotView]{make: r.received, name: "plan a piece anew, start it", a: plan, b: start,
		check: func(lot stock.LotView, _, _ error) string {
			if h := r.hung(piece(lot)); h.Breakdown != nil && h.Breakdown.PlanID != h.Piece.PlanID {
				return "it is cut by " + h.Breakdown.PlanID + " and planned to be cut by " + h.Piece.PlanID
			}
			return ""
		}})
	both(r,
		contest[stock.LotView]{make: r.received, name: "make the lot another piece, start it", a: change("beef.knuckle"),
			b: start, check: func(lot stock.LotView, _, _ error) string {
				h := r.hung(piece(lot))
				if h.Breakdown == nil {
					return ""
				}
				if h.Lot.AtlasID != "beef.top_sirloin" {
					return "a knuckle is cut by a plan of the rump"
				}
				_, err := r.two.Bench.Board(r.ctx, h.Breakdown.PublicID)
				if err != nil {
					return "its board does not open: " + err.Error()
				}
				return ""
			}})
	both(r, contest[stock.LotView]{make: r.received, name: "start a batch, start one of it", a: batch, b: start,
		check: func(lot stock.LotView, made, _ error) string {
			x, y := r.hung(lot.Pieces[0].PublicID).Breakdown, r.hung(lot.Pieces[1].PublicID).Breakdown
			switch {
			case x == nil:
				return "neither has it"
			case made == nil && (y == nil || x.BatchID == nil || y.BatchID == nil || *x.BatchID != *y.BatchID):
				return "the batch that was made is not whole"
			case made != nil && (y != nil || x.BatchID != nil):
				return "a batch that was refused has pieces"
			}
			return ""
		}})
	r.close()
	t.Logf("%d interleavings forced", r.forced)
	if r.forced < 80 {
		t.Errorf("only %d interleavings were forced", r.forced)
	}
}

// close holds the close of a piece against a change of what its lot cost.
func (r *arena) close() {
	r.Helper()
	boards := map[string]bench.BoardView{}
	ready := func() stock.LotView {
		lot := r.received()
		b, err := r.two.Bench.StartBreakdown(r.ctx, lot.Pieces[0].PublicID, r.bench)
		if err != nil {
			r.Fatal(err)
		}
		for _, e := range []seam.Event{{Kind: seam.Opened, Net: 6600 * measure.Gram},
			{Kind: seam.SeamedOff, Part: "tri_tip", Net: 1000 * measure.Gram},
			{Kind: seam.SeamedOff, Part: "cap", Net: 960 * measure.Gram},
			{Kind: seam.SeamedOff, Part: "heart_main", Net: 3200 * measure.Gram},
			{Kind: seam.Trimmed, Part: "trim", Net: 1400 * measure.Gram}} {
			if b, err = r.two.Bench.Book(r.ctx, b.Breakdown.PublicID, r.event(e)); err != nil {
				r.Fatal(err)
			}
		}
		boards[lot.Lot.PublicID] = b
		return lot
	}
	shut := func(w *work.Rooms, lot stock.LotView) error {
		_, err := w.Bench.Book(r.ctx, boards[lot.Lot.PublicID].Breakdown.PublicID, r.event(seam.Event{Kind: seam.Closed}))
		return err
	}
	dearer := func(w *work.Rooms, lot stock.LotView) error {
		in := r.arrival()
		in.LotNumber, in.Price = lot.Lot.LotNumber, "19.90"
		_, err := w.Stock.ChangeLot(r.ctx, lot.Lot.PublicID, in, lot.Lot.Version, "misread")
		return err
	}
	both(r, contest[stock.LotView]{make: ready, name: "change what a lot cost, close a piece of it", a: dearer, b: shut,
		check: func(lot stock.LotView, a, b error) string {
			if a != nil || b != nil {
				return ""
			}
			if err := r.two.Bench.Upkeep(r.ctx); err != nil {
				return err.Error()
			}
			id := boards[lot.Lot.PublicID].Breakdown.PublicID
			c, err := r.two.Compare.Compare(r.ctx, id, "", false, "nrv")
			if err != nil {
				return err.Error()
			}
			if c.Recorded.Purchase.String() != "131.34" { // 6.6 · 19.90
				return "the block cost " + c.Recorded.Purchase.String()
			}
			var kept float64
			if err := r.db.QueryRow("SELECT r.value_per_kg FROM results r JOIN breakdowns b ON b.id = r.breakdown_id WHERE "+
				"b.public_id = ?", id).Scan(&kept); err != nil {
				return err.Error()
			}
			if per := c.Recorded.Alternative("", false).Totals().PerKg; fmt.Sprintf("%.2f", kept) != per.String() {
				return fmt.Sprintf("kept as %.2f a kilogram, it is %s", kept, per)
			}
			return ""
		}})
}
