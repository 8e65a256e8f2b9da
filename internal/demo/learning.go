package demo

import (
	"context"
	"time"

	"falda/internal/core/drill"
	"falda/internal/work"
	"falda/internal/work/learn"
)

const lambLeg = "lamb.leg_chump"

// lessons are the pieces that the apprentice cuts to learn, half way through the rump and the leg of lamb.
var lessons = []struct {
	past
	level  learn.Level // 0: no practice piece
	signed []string
	again  map[string]string // what to practise, by step
}{
	{past: past{ago: 47, plan: "seamed", bench: "Middle", role: "apprentice", pace: 3.6, lossPct: 1.6,
		reason: "much of it stuck to the board"}},
	{past: past{ago: 33, plan: "seamed", bench: "Middle", role: "apprentice", pace: 2.9, lossPct: 1.2}},
	{past: past{ago: 25, plan: "seamed", bench: "Middle", role: "apprentice", pace: 2.6, lossPct: 1.1}},
	{past: past{ago: 18, plan: "seamed", bench: "Middle", role: "apprentice", pace: 2.4, lossPct: 1.0},
		level: learn.AllWords, signed: []string{"tri_tip"},
		again: map[string]string{"cap": "Shorter strokes; the cap came off with heart on it."}},
	{past: past{ago: 8, plan: "seamed", bench: "Middle", role: "apprentice", pace: 2.1, lossPct: 0.9},
		level: learn.OnAsking, signed: []string{"tri_tip", "mouse", "cap"},
		again: map[string]string{"heart_side": "The seam bends: feel for it before the knife goes in."}},
	{past: past{ago: 28, piece: lambLeg, plan: "seamed", bench: "Middle", role: "apprentice", pace: 1.9, lossPct: 1.3}},
	{past: past{ago: 21, piece: lambLeg, plan: "seamed", bench: "Middle", role: "apprentice", pace: 1.6, lossPct: 1.1}},
	{past: past{ago: 14, piece: lambLeg, plan: "seamed", bench: "Middle", role: "apprentice", pace: 1.5, lossPct: 1.0}},
	{past: past{ago: 7, piece: lambLeg, plan: "seamed", bench: "Middle", role: "apprentice", pace: 1.3, lossPct: 0.9},
		level: learn.OnAsking, signed: []string{"topside"},
		again: map[string]string{"shank": "Joint first: find it with the thumb, then cut round it."}},
}

// said is what the hall says of its steps.
var said = []learn.NewNote{
	{AtlasID: rump, Step: "cap", Words: "Two fingers from the vein line we stop: what is past it goes to kebab here."},
	{AtlasID: lambLeg, Step: "topside", Words: "For the galley we leave the topside whole; tie it twice."},
}

// learning tells of the apprentice: pieces cut to learn, what the head cutter said of them, and drills since three
// weeks.
func (s *scene) learning() error {
	for _, l := range lessons {
		if err := s.lesson(l.past, l.level, l.signed, l.again); err != nil {
			return err
		}
	}
	for _, n := range said {
		if _, err := s.w.Learn.AddNote(s.as["head_cutter"], n); err != nil {
			return err
		}
	}
	for _, ago := range []int{20, 19, 17, 16, 14, 12, 9, 7, 4, 1} {
		if err := s.sit(s.as["apprentice"], s.w.At(s.clock(ago, 19)), ago); err != nil {
			return err
		}
	}
	return nil
}

// lesson cuts a piece; where it is practice, the head cutter looks at it the same day.
func (s *scene) lesson(p past, level learn.Level, signed []string, again map[string]string) error {
	piece, aged, price := rump, 20, "11.20"
	if c, ok := costs[p.piece]; ok {
		piece, aged, price = p.piece, c.aged, c.perKg
	}
	lot, err := s.receive(s.day(p.ago+3, 7), piece, aged, 1, price)
	if err != nil {
		return err
	}
	at := s.day(p.ago, 10)
	c, err := s.start(lot.Pieces[0].PublicID, p.plan, p.bench, p.role, at, p.pace, p.lossPct)
	if err != nil {
		return err
	}
	id := c.board.Breakdown.PublicID
	if level > 0 {
		if err := c.w.Learn.SetPractice(c.ctx, id, "", level); err != nil {
			return err
		}
	}
	if err := c.finish(p); err != nil {
		return err
	}
	if _, err := c.w.Judge.ConfirmJudgement(s.ctx, id); err != nil || level == 0 {
		return err
	}
	noon := s.w.At(func() time.Time { return at.Add(3 * time.Hour) }).Learn
	for _, step := range signed {
		if err := noon.Sign(s.as["head_cutter"], id, learn.SignOff{Step: step, Signed: true}); err != nil {
			return err
		}
	}
	for _, e := range c.board.Expected {
		if words := again[e.ID]; words != "" {
			if err := noon.Sign(s.as["head_cutter"], id, learn.SignOff{Step: e.ID, Words: words}); err != nil {
				return err
			}
		}
	}
	return nil
}

// sit answers what is asked of the rump and the leg of lamb: most of it right, more so as time goes on.
func (s *scene) sit(ctx context.Context, w *work.Rooms, ago int) error {
	for _, piece := range []string{rump, lambLeg} {
		sitting, err := w.Learn.Sitting(ctx, piece, "")
		if err != nil {
			return err
		}
		for _, q := range sitting.Questions {
			a, ok := s.answerTo(q, s.rng.Float64() < 0.72+0.012*float64(20-ago))
			if !ok {
				continue
			}
			if _, _, err := w.Learn.Answer(ctx, q.ID(), a, ""); err != nil {
				return err
			}
		}
	}
	return nil
}

// answerTo is a right or a wrong answer to a question; ok is false where there is none of that kind.
func (s *scene) answerTo(q learn.Asked, right bool) (a drill.Answer, ok bool) {
	if q.Number != nil {
		middle := (q.Number.Low + q.Number.High) / 2
		v, err := drill.Mark(q.Piece, "kg", q.Card, drill.Answer{Number: &middle})
		if err != nil {
			return a, false
		}
		n := *v.Number
		if !right {
			n = q.Number.Low
		}
		return drill.Answer{Number: &n}, true
	}
	if q.Things != nil {
		return s.takeApart(q)
	}
	list := q.Choices
	if q.Touch {
		for _, m := range q.Piece.Muscles {
			list = append(list, drill.Choice{ID: m.ID})
		}
	}
	for _, x := range list {
		v, err := drill.Mark(q.Piece, "kg", q.Card, drill.Answer{Choices: []string{x.ID}})
		if err != nil {
			return a, false
		}
		if right && q.Many {
			return drill.Answer{Choices: v.Truth}, true
		}
		if v.Right == right {
			return drill.Answer{Choices: []string{x.ID}}, true
		}
	}
	return a, false
}

// takeApart touches what may come off until everything is off.
func (s *scene) takeApart(q learn.Asked) (a drill.Answer, ok bool) {
	for range len(q.Things) {
		for _, t := range q.Things {
			try := drill.Answer{Choices: append(a.Choices[:len(a.Choices):len(a.Choices)], t.ID)}
			v, err := drill.Mark(q.Piece, "kg", q.Card, try)
			if err != nil {
				return a, false
			}
			if v.Right && len(v.Off) > len(a.Choices) {
				a = try
			}
			if v.Done {
				return try, true
			}
		}
	}
	return a, false
}
