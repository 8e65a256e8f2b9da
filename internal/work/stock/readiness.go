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

// Readiness lists the pieces that are not cut yet, those first that are ready first.
func (s *Service) Readiness(ctx context.Context) ([]ReadyPiece, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	cards, err := s.Queue(ctx)
	if err != nil {
		return nil, err
	}
	var out []ReadyPiece
	for _, c := range cards {
		if c.Row.Breakdown != nil || c.Carcass {
			continue
		}
		killed := c.Row.Lot.SlaughteredOn
		r := ReadyPiece{Card: c}
		for _, pl := range c.Piece.Plans {
			r.Plans = append(r.Plans,
				ReadyPlan{pl, pl.ID == c.Plan.ID, age.Of(c.Piece, []atlas.Plan{pl}, killed, shop.Day(s.now()))})
		}
		r.MinceUntil, r.MinceRule = age.MinceUntil(c.Piece, killed)
		r.MincePast = shop.Day(s.now()).After(r.MinceUntil)
		out = append(out, r)
	}
	return out, nil
}
