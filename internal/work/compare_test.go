package work_test

import (
	"fmt"
	"testing"

	"falda/internal/work"
	"falda/internal/work/compare"
	"falda/internal/work/stock"
)

func (r *arena) trialOf(w *work.Rooms, lot stock.LotView, name string) (compare.TrialView, error) {
	return w.Compare.DesignTrial(r.ctx, compare.NewTrial{Name: name, AtlasID: "beef.top_sirloin", PlanA: "seamed",
		PlanB: "traditional", Pairs: [][2]string{{lot.Pieces[0].PublicID, lot.Pieces[1].PublicID}}, Seed: 3})
}

// inTrials is how many trials that count hold the first piece of a lot.
func (r *arena) inTrials(lot stock.LotView) (n int) {
	r.Helper()
	if err := r.db.QueryRow(`SELECT COUNT(*) FROM trial_pairs r JOIN trials t ON t.id = r.trial_id
		WHERE t.state = 'open' AND ? IN (r.piece_a, r.piece_b)`, lot.Pieces[0].ID).Scan(&n); err != nil {
		r.Fatal(err)
	}
	return n
}

// Rules: a piece is in one trial that counts, and is cut as was drawn for it, whatever two do at once.
func TestTwoAtOnceOnATrial(t *testing.T) {
	r := newArena(t)
	once := func(lot stock.LotView, _, _ error) string {
		if n := r.inTrials(lot); n != 1 {
			return fmt.Sprintf("the piece is in %d trials", n)
		}
		return ""
	}
	design := func(w *work.Rooms, lot stock.LotView) error { _, err := r.trialOf(w, lot, "A or B"); return err }
	interleave(r, contest[stock.LotView]{name: "two design a trial of the same pieces", make: r.received, a: design,
		b: design, check: once})
	both(r, contest[stock.LotView]{name: "design a trial, start a piece of it", make: r.received, a: design,
		b: func(w *work.Rooms, lot stock.LotView) error {
			_, err := w.Bench.StartBreakdown(r.ctx, lot.Pieces[0].PublicID, r.bench)
			return err
		},
		check: func(lot stock.LotView, _, _ error) string {
			h := r.hung(lot.Pieces[0].PublicID)
			if r.inTrials(lot) == 1 && h.Breakdown != nil && h.Breakdown.PlanID != h.Piece.PlanID {
				return "it is cut by " + h.Breakdown.PlanID + ", and " + h.Piece.PlanID + " was drawn"
			}
			return ""
		}})
	voided := map[string]compare.TrialView{}
	both(r, contest[stock.LotView]{name: "let a trial count again, design another of its pieces",
		make: func() stock.LotView {
			lot := r.received()
			v, err := r.trialOf(r.two, lot, "First")
			if err == nil {
				v, err = r.two.Compare.VoidTrial(r.ctx, v.PublicID, true, "a mistake", v.Version)
			}
			if err != nil {
				t.Fatal(err)
			}
			voided[lot.Lot.PublicID] = v
			return lot
		},
		a: func(w *work.Rooms, lot stock.LotView) error {
			v := voided[lot.Lot.PublicID]
			_, err := w.Compare.VoidTrial(r.ctx, v.PublicID, false, "", v.Version)
			return err
		},
		b: design, check: once})
	if r.forced < 30 {
		t.Errorf("only %d interleavings were forced", r.forced)
	}
}
