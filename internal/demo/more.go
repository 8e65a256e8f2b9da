package demo

import (
	"fmt"
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/work/stock"
)

// more enters what came later: lambs, of which one is broken; a box that was corrected, with a piece sent back; a way
// of cutting of the hall's own.
func (s *scene) more() error {
	if err := s.lambs(); err != nil {
		return err
	}
	if err := s.corrected(); err != nil {
		return err
	}
	return s.ownWay()
}

// lambs receives two whole lambs, with all that is known of them, and breaks the first.
func (s *scene) lambs() error {
	at := s.day(1, 7)
	lot, err := s.w.At(func() time.Time { return at }).Stock.Receive(s.ctx,
		stock.Arrival{AtlasID: "lamb.whole", Pieces: 2, Weights: []string{"20.4", "18.9"}, WeightUnit: "kg", Price: "7.40",
			PricePer: "kg", SlaughteredOn: at.AddDate(0, 0, -2).Format(time.DateOnly),
			PackedOn: at.AddDate(0, 0, -1).Format(time.DateOnly), Supplier: suppliers[1], LotNumber: s.number(at),
			Bone: "bone_in", Feed: "grass", Sex: "wether", AgeClass: "up_to_12_months", Hang: "achilles", FatClass: "3",
			TemperatureC: "3.4"})
	if err != nil {
		return err
	}
	c, err := s.start(lot.Pieces[0].PublicID, "usual", "South", "head_cutter", s.day(1, 9), 0.7, 0.9)
	if err != nil {
		return err
	}
	for _, e := range c.board.Expected {
		times := 1
		if pr, ok := c.board.Plan.Product(e.ID); ok && pr.Count.High > 1 {
			times = pr.Count.High
		}
		left := c.truth[e.ID]
		for n := times; n > 0; n-- { // the two sides of a lamb are never quite alike
			m := left
			if n > 1 {
				m = whole(left/measure.Mass(n) + measure.Mass(5000*(1+s.rng.IntN(4))))
			}
			left -= m
			if err := c.book(e.Booked(m)); err != nil {
				return err
			}
		}
	}
	return c.book(seam.Event{Kind: seam.Closed})
}

// number is the next lot number of a day's week.
func (s *scene) number(at time.Time) string {
	year, week := at.ISOWeek()
	prefix := fmt.Sprintf("SK-%02d%02d-", year%100, week)
	s.running[prefix]++
	return fmt.Sprintf("%s%02d", prefix, s.running[prefix])
}

// corrected receives a box of knuckles with a slip in it, mends the slip, and sends one piece back.
func (s *scene) corrected() error {
	at := s.day(2, 12)
	w := s.w.At(func() time.Time { return at })
	in := stock.Arrival{AtlasID: "beef.knuckle", Pieces: 2, Weights: []string{"5.36", "6.51"}, WeightUnit: "kg",
		Price: "8.90", PricePer: "kg", SlaughteredOn: at.AddDate(0, 0, -15).Format(time.DateOnly),
		PackedOn: at.AddDate(0, 0, -13).Format(time.DateOnly), Supplier: suppliers[0], LotNumber: s.number(at),
		Bone: "boneless", Feed: "grass", Sex: "heifer", AgeClass: "up_to_30_months", Ph: "5.55",
		Findings: []string{"exposed_face_gone"}}
	lot, err := w.Stock.Receive(s.as["yield_desk"], in)
	if err != nil {
		return err
	}
	in.Weights = []string{"5.36", "5.61"}
	if _, err := w.Stock.ChangeLot(s.as["yield_desk"], lot.Lot.PublicID, in, 1, "typed 6.51 for 5.61"); err != nil {
		return err
	}
	return w.Stock.VoidPiece(s.ctx, lot.Pieces[1].PublicID, true, 2, "sent back: the bag had leaked, sour")
}

// ownWay makes a way of cutting the rump of the hall's own, and its second version.
func (s *scene) ownWay() error {
	p, _ := s.w.Atlas().Find(rump)
	seamed, _ := p.Plan("seamed")
	pl, err := p.With(seamed, map[string]string{"cap": "roast", "mouse": "dressed", "fat_cover": "6"})
	if err != nil {
		return err
	}
	pl.Name, pl.Why, pl.BasedOn = "Harbour counter: cap roast, mouse diced",
		"Summer visitors ask for a small roast; the ferry's galley takes the dice.", "seamed"
	at := s.day(20, 15)
	v, err := s.w.At(func() time.Time { return at }).Stock.SavePlan(s.as["head_cutter"], rump, "", pl, 0)
	if err != nil {
		return err
	}
	next := v.Plan
	next.Minutes += 2
	at = s.day(6, 11)
	_, err = s.w.At(func() time.Time { return at }).Stock.SavePlan(s.as["head_cutter"], rump, next.ID, next, 1)
	return err
}
