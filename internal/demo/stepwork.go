package demo

import (
	"math"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
	"falda/internal/work/stock"
)

// job is a piece that was cut by a plan in steps.
type job struct {
	ago         int
	piece, form string
	aged        int
	price       string
	plan        string
	options     map[string]string
	bench, role string
	pace        float64
}

// jobs are what the hall cuts in blocks and not muscle by muscle: a cushion to stuff, a saddle boned in one, a sawn
// forequarter, a straight chuck roll, a clod bought as its heart alone, a rump heart in one; and a pair of legs for a
// customer who wants each his own way.
var jobs = []job{
	{9, "lamb.shoulder_whole", "", 5, "8.80", "cushion", nil, "South", "head_cutter", 0.7},
	{9, "lamb.saddle", "", 5, "13.90", "boned_in_one", map[string]string{"finish": "roast"}, "South", "head_cutter", 0.8},
	{8, "lamb.forequarter", "", 4, "7.20", "counter_saw", nil, "North", "cutter", 0.6},
	{8, "beef.chuck_roll", "", 18, "8.20", "whole_roll_five_products", nil, "North", "cutter", 1.0},
	{7, "beef.clod", "heart_alone", 14, "8.40", "top_blade_first", nil, "South", "head_cutter", 0.9},
	{7, "beef.top_sirloin", "tri_tip_off", 22, "11.60", "heart_in_one", nil, "South", "head_cutter", 0.8},
	{6, "lamb.leg_chump", "", 6, "10.40", "whole_roast", nil, "Middle", "apprentice", 0.8},
	{6, "lamb.leg_chump", "", 6, "10.40", "spiced_netted", nil, "North", "cutter", 0.7},
}

// stepwork receives and cuts them, each step as its plan says.
func (s *scene) stepwork() error {
	for i, j := range jobs {
		at := s.day(j.ago+2, 7)
		p, _ := s.w.Atlas().Find(j.piece)
		weight := p.As(j.form).Typical().Grams() / 1000 * (1 + s.rng.NormFloat64()*0.05)
		lot, err := s.w.At(func() time.Time { return at }).Stock.Receive(s.ctx, stock.Arrival{AtlasID: j.piece, Pieces: 1,
			Weight:     measure.Mass(math.Round(weight * float64(measure.Kilogram))).In(measure.UnitKilogram).FloatString(2),
			WeightUnit: "kg", Price: j.price, PricePer: "kg", Form: j.form,
			SlaughteredOn: at.AddDate(0, 0, -j.aged).Format(time.DateOnly), Supplier: suppliers[i%len(suppliers)],
			LotNumber: s.number(at)})
		if err != nil {
			return err
		}
		start := s.day(j.ago, 8+i%5)
		w := s.w.At(func() time.Time { return start.Add(-10 * time.Minute) })
		v, err := w.Compare.Piece(s.ctx, lot.Pieces[0].PublicID)
		if err != nil {
			return err
		}
		if err := w.Stock.ChoosePlan(s.ctx, lot.Pieces[0].PublicID, stock.PlanPick{PlanID: j.plan, Options: j.options},
			v.Card.Row.Piece.Version); err != nil {
			return err
		}
		c, err := s.begin(lot.Pieces[0].PublicID, j.bench, j.role, start, j.pace, 0.8)
		if err != nil {
			return err
		}
		if err := c.work(0.8); err != nil {
			return err
		}
		if _, err := c.w.Judge.ConfirmJudgement(s.ctx, c.board.Breakdown.PublicID); err != nil {
			return err
		}
	}
	return nil
}

// work does the steps of the plan in their order on a piece whose parts are drawn around the atlas' shares: blocks,
// products and what is added are weighed, tubs at the end, steps without a weight are ticked.
func (c *cut) work(lossPct float64) error {
	piece, flow := c.board.Card.Piece, c.board.Flow
	parts := piece.Parts()
	truth, sum := map[string]float64{}, 0.0
	for i, m := range piece.Split(c.board.Board.Input()) {
		if parts[i].Kind != atlas.KindLoss {
			truth[parts[i].ID] = float64(m) * max(0.7, 1+0.05*c.rng.NormFloat64())
			sum += truth[parts[i].ID]
		}
	}
	scale := float64(c.board.Board.Input()) * (1 - lossPct/100) / sum
	for thing, m := range seam.Masses(piece, flow, c.board.Board.Input()) {
		if steps.AddedIngredient(thing) != "" {
			truth[thing] = float64(m) / scale
		}
	}
	mass := func(h steps.Content) measure.Mass {
		grams := 0.0
		for thing, share := range h {
			grams += truth[thing] * scale * float64(share) / float64(steps.Whole-piece.Missing[thing])
		}
		return whole(measure.Mass(grams))
	}
	tubs := map[string]measure.Mass{}
	for _, d := range flow.Steps {
		if d.Idle {
			continue
		}
		if err := c.step(flow, d, mass, tubs); err != nil {
			return err
		}
	}
	for _, tub := range steps.Tubs {
		if m := tubs[string(tub)]; m > 0 {
			if err := c.book(seam.Event{Kind: seam.Tubbed, Part: string(tub), Net: whole(m)}); err != nil {
				return err
			}
		}
	}
	return c.book(seam.Event{Kind: seam.Closed, Reason: "drip and bone dust"})
}

// step books one step.
func (c *cut) step(flow steps.Flow, d steps.Done, mass func(steps.Content) measure.Mass,
	tubs map[string]measure.Mass) error {
	blocks := c.board.Board.Blocks
	if d.Joins != "" && len(blocks(d.Joins)) > 0 && len(blocks(d.Block)) > 0 {
		if err := c.book(seam.Event{Kind: seam.Joined, Step: d.ID, Target: blocks(d.Joins)[0].ID}); err != nil {
			return err
		}
	}
	booked := false
	for _, a := range flow.Added {
		if m := mass(steps.Content{a.Thing(): steps.Whole}); a.Step == d.ID && a.PerKg > 0 && m > 0 {
			booked = true
			if err := c.book(seam.Event{Kind: seam.Added, Step: d.ID, Part: a.Ingredient, Net: m}); err != nil {
				return err
			}
		}
	}
	for _, o := range d.Outputs {
		e := seam.Event{Step: d.ID, Net: mass(o.Holds)}
		switch {
		case e.Net <= 0 || o.Weigh == steps.WeighNone:
			continue
		case o.Kind == steps.ToTub && o.Weigh == steps.WeighTub:
			tubs[o.ID] += e.Net
			continue
		case o.Kind == steps.ToTub:
			e.Kind, e.Part = seam.Tubbed, o.ID
		case o.Kind == steps.ToBlock:
			e.Kind, e.Block = seam.Parted, o.ID
		default:
			e.Kind, e.Product, e.Count = seam.Portioned, o.ID, int(math.Round(o.Count.Mid()))
		}
		booked = true
		if err := c.book(e); err != nil {
			return err
		}
	}
	if booked {
		return nil
	}
	return c.book(seam.Event{Kind: seam.Ticked, Step: d.ID})
}
