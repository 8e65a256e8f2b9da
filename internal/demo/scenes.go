package demo

import (
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

// mishap is something that goes wrong in the middle of a cut; it leaves the board as it should be.
type mishap func(c *cut) error

// undone books a weight on the wrong muscle and takes it back.
func undone(c *cut) error {
	if err := c.book(seam.Event{Kind: seam.SeamedOff, Part: "heart_main", Net: 940 * measure.Gram}); err != nil {
		return err
	}
	return c.book(seam.Event{Kind: seam.Undone, Target: c.last()})
}

// tareForgotten weighs a muscle in its tub, sees that it is too heavy, and weighs it again with the tub tared.
func tareForgotten(c *cut) error {
	if c.board.Next < 0 {
		return nil
	}
	e := c.board.Expected[c.board.Next]
	right := c.truth[e.ID]
	if err := c.book(e.Booked(right + 850*measure.Gram)); err != nil {
		return err
	}
	return c.book(seam.Event{Kind: seam.WeighedAgain, Target: c.last(), Net: right, Tare: 850 * measure.Gram,
		Reason: "tub not tared"})
}

// bloodShot discards a corner.
func bloodShot(c *cut) error {
	c.truth["heart_main"] -= 115 * measure.Gram
	return c.book(seam.Event{Kind: seam.Discarded, Net: 115 * measure.Gram, Reason: "blood-shot corner"})
}

// past is one finished breakdown of the history.
type past struct {
	ago      int
	plan     string
	bench    string
	role     string
	pace     float64 // minutes per weighing
	lossPct  float64 // that the close finds
	reason   string
	mishap   mishap
	findings []string
	unjudged bool
	piece    string // the rump where empty
}

var pasts = []past{
	{ago: 52, plan: "traditional", bench: "North", role: "cutter", pace: 1.2, lossPct: 0.6},
	{ago: 52, plan: "seamed", bench: "South", role: "head_cutter", pace: 1.5, lossPct: 0.7},
	{ago: 45, plan: "seamed", bench: "North", role: "cutter", pace: 1.8, lossPct: 0.9, mishap: undone},
	{ago: 38, plan: "traditional", bench: "South", role: "head_cutter", pace: 1.0, lossPct: 0.5},
	{ago: 38, plan: "seamed", bench: "Middle", role: "apprentice", pace: 3.1, lossPct: 1.9,
		reason: "drip: the bag had stood open overnight"},
	{ago: 31, plan: "seamed", bench: "North", role: "cutter", pace: 1.7, lossPct: 0.8, mishap: tareForgotten},
	{ago: 24, plan: "seamed", bench: "South", role: "head_cutter", pace: 1.4, lossPct: 0.6,
		findings: []string{"tri_tip_off"}},
	{ago: 17, plan: "traditional", bench: "North", role: "cutter", pace: 1.1, lossPct: 0.7},
	{ago: 10, plan: "seamed", bench: "Middle", role: "apprentice", pace: 2.6, lossPct: 1.1, mishap: bloodShot,
		findings: []string{"blood_shot"}},
	{ago: 3, plan: "seamed", bench: "South", role: "head_cutter", pace: 1.5, lossPct: 0.7},
	{ago: 1, plan: "seamed", bench: "North", role: "cutter", pace: 1.6, lossPct: 0.8, unjudged: true},
	{ago: 44, piece: "beef.knuckle", plan: "traditional", bench: "South", role: "head_cutter", pace: 1.3, lossPct: 0.6},
	{ago: 44, piece: "beef.knuckle", plan: "seamed", bench: "South", role: "head_cutter", pace: 2.3, lossPct: 0.8},
	{ago: 36, piece: "beef.chuck_roll", plan: "traditional", bench: "North", role: "cutter", pace: 2.0, lossPct: 0.7},
	{ago: 36, piece: "beef.chuck_roll", plan: "seamed", bench: "South", role: "head_cutter", pace: 2.6, lossPct: 0.9},
	{ago: 29, piece: "beef.clod", plan: "seamed", bench: "North", role: "cutter", pace: 2.2, lossPct: 0.9},
	{ago: 22, piece: "beef.clod", plan: "traditional", bench: "Middle", role: "apprentice", pace: 2.4, lossPct: 1.2},
	{ago: 15, piece: "lamb.leg_chump", plan: "seamed", bench: "North", role: "cutter", pace: 1.1, lossPct: 0.8},
	{ago: 15, piece: "lamb.leg_chump", plan: "traditional", bench: "South", role: "head_cutter", pace: 0.9, lossPct: 0.9},
	{ago: 8, piece: "lamb.shoulder_whole", plan: "seamed", bench: "North", role: "cutter", pace: 1.0, lossPct: 0.9},
	{ago: 2, piece: "lamb.shoulder_whole", plan: "traditional", bench: "Middle", role: "apprentice", pace: 1.2,
		lossPct: 1.0, unjudged: true},
}

// costs are what the hall pays for a kilogram, and how old a piece is when it comes in.
var costs = map[string]struct {
	perKg string
	aged  int
}{"beef.knuckle": {"8.90", 15}, "beef.chuck_roll": {"8.20", 17}, "beef.clod": {"7.90", 12},
	"lamb.leg_chump": {"10.40", 6}, "lamb.shoulder_whole": {"8.60", 6}, "beef.striploin": {"16.80", 18},
	"lamb.saddle": {"13.90", 5}}

// history cuts the past pieces.
func (s *scene) history() error {
	for i, p := range pasts {
		piece, aged, price := rump, 18+i%4, []string{"11.20", "11.40", "10.90"}[i%3]
		if c, ok := costs[p.piece]; ok {
			piece, aged, price = p.piece, c.aged, c.perKg
		}
		lot, err := s.receive(s.day(p.ago+4, 7), piece, aged, 1, price, p.findings...)
		if err != nil {
			return err
		}
		c, err := s.start(lot.Pieces[0].PublicID, p.plan, p.bench, p.role, s.day(p.ago, 8+i%4), p.pace, p.lossPct)
		if err != nil {
			return err
		}
		if err := c.finish(p); err != nil {
			return err
		}
		if !p.unjudged {
			if _, err := c.w.Judge.ConfirmJudgement(s.ctx, c.board.Breakdown.PublicID); err != nil {
				return err
			}
		}
	}
	return nil
}

// finish weighs everything and closes.
func (c *cut) finish(p past) error {
	if err := c.weigh(2); err != nil {
		return err
	}
	if p.mishap != nil {
		if err := p.mishap(c); err != nil {
			return err
		}
	}
	if err := c.weigh(len(c.board.Expected)); err != nil {
		return err
	}
	return c.book(seam.Event{Kind: seam.Closed, Reason: p.reason})
}

// stock hangs today's pieces on the rail: just arrived, ageing, ready, planned, and one half cut on bench Middle.
func (s *scene) stock() error {
	if _, err := s.receive(early(s.day(0, 6), s.w.Now()), rump, 5, 3, "11.30"); err != nil {
		return err
	}
	ageing, err := s.receive(s.day(6, 7), rump, 8, 2, "11.20")
	if err != nil {
		return err
	}
	if err := s.plan(ageing.Pieces[0].PublicID, "seamed", s.day(5, 9)); err != nil {
		return err
	}
	ready, err := s.receive(s.day(3, 7), rump, 20, 3, "11.40")
	if err != nil {
		return err
	}
	if err := s.plan(ready.Pieces[1].PublicID, "seamed", s.day(2, 16)); err != nil {
		return err
	}
	for i, piece := range []string{"beef.striploin", "lamb.saddle", "beef.chuck_roll"} {
		if _, err := s.receive(s.day(2, 8+i), piece, costs[piece].aged, 1, costs[piece].perKg); err != nil {
			return err
		}
	}
	c, err := s.start(ready.Pieces[2].PublicID, "seamed", "Middle", "cutter", s.w.Now().Add(-9*time.Minute), 1.6, 0.7)
	if err != nil {
		return err
	}
	muscles := 0
	for _, e := range c.board.Expected {
		if e.Kind == atlas.KindMuscle {
			muscles++
		}
	}
	return c.weigh(muscles - 2)
}

// early is a time of the scenario, or just before now where that is still to come.
func early(at, now time.Time) time.Time {
	if at.After(now) {
		return now.Add(-30 * time.Minute)
	}
	return at
}
