package stock

import (
	"context"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
)

// ReadyPiece is a piece that is not cut yet, and what it is ready for.
type ReadyPiece struct {
	Card       Card
	Plans      []ReadyPlan // in the atlas' order
	MinceUntil time.Time
	MincePast  bool
	MinceRule  string
}

// ReadyPlan is one plan on a piece.
type ReadyPlan struct {
	Plan   atlas.Plan
	Chosen bool
	age.Readiness
}

// Readiness lists the pieces that are not cut yet, page by page, those of a page first that are ready first.
func (s *Service) Readiness(ctx context.Context, after string) (Page[ReadyPiece], error) {
	return s.readiness(ctx, after, waitingAtOnce)
}

// ReadyAtOnce lists the pieces that are not cut yet, so many at most: those that came in first.
func (s *Service) ReadyAtOnce(ctx context.Context, max int) ([]ReadyPiece, error) {
	p, err := s.readiness(ctx, "", max)
	return p.Pieces, err
}

func (s *Service) readiness(ctx context.Context, after string, max int) (Page[ReadyPiece], error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Page[ReadyPiece]{}, err
	}
	queue, err := s.queue(ctx, after, max)
	if err != nil {
		return Page[ReadyPiece]{}, err
	}
	out := Page[ReadyPiece]{Next: queue.Next}
	today := shop.Day(s.now())
	for _, c := range queue.Pieces {
		if c.Row.Breakdown != nil || c.Carcass {
			continue
		}
		killed := c.Row.Lot.SlaughteredOn
		r := ReadyPiece{Card: c}
		for _, pl := range c.Piece.Plans {
			r.Plans = append(r.Plans, ReadyPlan{pl, pl.ID == c.Plan.ID, age.Of(c.Piece, []atlas.Plan{pl}, killed, today)})
		}
		r.MinceUntil, r.MinceRule = age.MinceUntil(c.Piece, killed)
		r.MincePast = today.After(r.MinceUntil)
		out.Pieces = append(out.Pieces, r)
	}
	return out, nil
}
