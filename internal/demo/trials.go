package demo

import (
	"fmt"

	"falda/internal/work/compare"
)

// trials enters paired trials of left and right: one where seaming pays, one where it does not, one where it is too
// early to tell.
func (s *scene) trials() error {
	for _, t := range []struct {
		name, piece, perKg string
		aged, ago          int
		carcasses, cut     int
		pace               [2]float64 // minutes a weighing, straight and seamed
	}{
		{"Rump: seamed or straight through", rump, "11.40", 19, 30, 5, 5, [2]float64{1.3, 1.7}},
		{"Lamb leg: muscle by muscle or as a joint", "lamb.leg_chump", "9.80", 9, 27, 5, 5, [2]float64{1.2, 2.4}},
		{"Clod: is it worth the seams?", "beef.clod", "7.60", 15, 6, 3, 2, [2]float64{1.3, 1.9}},
	} {
		lot, err := s.receive(s.day(t.ago+2, 7), t.piece, t.aged, 2*t.carcasses, t.perKg)
		if err != nil {
			return err
		}
		var pairs [][2]string
		for i := 0; i < len(lot.Pieces); i += 2 {
			pairs = append(pairs, [2]string{lot.Pieces[i].PublicID, lot.Pieces[i+1].PublicID})
		}
		v, err := s.w.At(s.clock(t.ago+1, 9)).Compare.DesignTrial(s.ctx,
			compare.NewTrial{Name: t.name, AtlasID: t.piece, PlanA: "traditional", PlanB: "seamed", Pairs: pairs,
				Seed: uint64(t.ago)})
		if err != nil {
			return fmt.Errorf("the trial %s: %w", t.name, err)
		}
		for i, p := range v.Pairs[:t.cut] {
			for k, alternative := range []compare.TrialPiece{p.A, p.B} {
				c, err := s.begin(alternative.Card.Row.Piece.PublicID, []string{"North", "South"}[k],
					[]string{"cutter", "head_cutter"}[k], s.day(t.ago-i/2, 8+4*(i%2)+k*2), t.pace[k], 0.6+0.4*s.rng.Float64())
				if err != nil {
					return fmt.Errorf("the trial %s: %w", t.name, err)
				}
				if err := c.finish(past{}); err != nil {
					return fmt.Errorf("the trial %s: %w", t.name, err)
				}
				if _, err := c.w.Judge.ConfirmJudgement(s.ctx, c.board.Breakdown.PublicID); err != nil {
					return err
				}
			}
		}
	}
	return nil
}
