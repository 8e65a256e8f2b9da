package demo

import (
	"math"

	"falda/internal/core/eating"
	"falda/internal/work/judge"
)

// tastings enters three sittings of ten assessors: one that overturns the atlas, one that bears it out, and one that is
// still open.
func (s *scene) tastings() error {
	type sample struct {
		piece, part, method string
		truth               float64 // what the assessors find on average, of 100
	}
	for _, sitting := range []struct {
		name      string
		ago       int
		samples   []sample
		state     string
		assessors int // who have handed in
	}{
		{"Rump, two ways", 41,
			[]sample{{rump, "cap", "grill", 74}, {rump, "cap", "roast", 63}, {rump, "heart_main", "grill", 51},
				{rump, "heart_main", "roast", 66}, {rump, "tri_tip", "grill", 75}, {rump, "tri_tip", "roast", 68}},
			judge.TastingClosed, 10},
		{"Lamb leg, muscle by muscle", 20,
			[]sample{{"lamb.leg_chump", "topside", "roast", 71}, {"lamb.leg_chump", "topside", "grill", 58},
				{"lamb.leg_chump", "thick_flank", "roast", 69}, {"lamb.leg_chump", "thick_flank", "grill", 64}},
			judge.TastingClosed, 10},
		{"Chuck roll, grilled and braised", 1,
			[]sample{{"beef.chuck_roll", "chuck_eye", "grill", 70}, {"beef.chuck_roll", "chuck_eye", "braise", 72}},
			judge.TastingOpen, 4},
	} {
		in := judge.NewTasting{Name: sitting.name, HeldOn: s.day(sitting.ago, 15).Format("2006-01-02"), Assessors: 10,
			Seed: int64(sitting.ago)}
		for _, x := range sitting.samples {
			in.Samples = append(in.Samples, judge.NewSample{AtlasID: x.piece, Part: x.part, Method: x.method})
		}
		at := s.w.At(s.clock(sitting.ago, 15))
		t, err := at.Judge.PlanTasting(s.ctx, in)
		if err != nil {
			return err
		}
		sheets := s.sheets(t, sitting.assessors, func(i int) float64 { return sitting.samples[i].truth })
		if t, err = at.Judge.Enter(s.ctx, t.PublicID, sheets, "paper"); err != nil {
			return err
		}
		if sitting.state == judge.TastingClosed {
			if _, err := at.Judge.ChangeTasting(s.ctx, t.PublicID,
				judge.TastingChange{Name: t.Name, HeldOn: in.HeldOn, State: judge.TastingClosed, Version: t.Version}); err != nil {
				return err
			}
		}
	}
	return nil
}

// sheets gives what so many assessors find of the samples of a tasting, of which truth is the mean.
func (s *scene) sheets(t judge.TastingView, assessors int, truth func(sample int) float64) (out []judge.Sheet) {
	for e := 1; e <= assessors; e++ {
		mood := s.rng.NormFloat64() * 7
		for i, x := range t.Samples {
			mark := func(shift float64) *float64 {
				v := math.Round(math.Min(100, math.Max(0, truth(i)+shift+mood+s.rng.NormFloat64()*11)))
				return &v
			}
			out = append(out,
				judge.Sheet{Assessor: e, Code: x.Code,
					Ratings: eating.Ratings{Tenderness: mark(1), Juiciness: mark(-2), Flavour: mark(2), Overall: mark(0)}})
		}
	}
	out[len(out)-1].Ratings.Juiciness = nil // one forgot one
	return out
}
