package judge

import (
	"context"

	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/straight"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/bench"
	"falda/internal/work/stock"
)

// StraightAsk names a way of cutting straight through: of a piece of the atlas, or of one that was cut.
type StraightAsk struct {
	AtlasID   string
	Plan      stock.PlanPick
	Breakdown string // of a finished piece: its weights and its animal; empty for the atlas' usual piece
}

// StraightView is what a way of cutting gives, slice by slice.
type StraightView struct {
	Piece    atlas.Piece
	Plan     atlas.Plan
	Body     *body.Body
	Reading  straight.Reading
	Measured bool // at the weights of a piece that was cut
}

// Straight reads a way of cutting straight through, slice by slice, with the grades of the house.
func (s *Service) Straight(ctx context.Context, in StraightAsk) (v StraightView, err error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return v, err
	}
	p, ok := s.atlas.Find(in.AtlasID)
	if !ok {
		return v, store.ErrNotFound
	}
	v.Piece = shop.AddOwn(p, in.Plan.PlanID).In(shop.Market)
	known := eating.Facts{Species: p.Species}
	var cells []value.Cell
	if in.Breakdown == "" {
		if v.Plan, err = stock.PickPlan(v.Piece, in.Plan); err != nil {
			return v, err
		}
		cells = value.Forecast(v.Piece, v.Plan, v.Piece.Typical())
	} else {
		board, err := s.bench.BoardForSale(ctx, in.Breakdown)
		if err != nil {
			return v, err
		}
		if !board.Board.Closed() {
			return v, bench.NotFinished()
		}
		recorded, sheet, err := s.bench.Sheets(ctx, board, in.Plan.PlanID)
		if err != nil {
			return v, err
		}
		if board.Plan.ID == in.Plan.PlanID {
			sheet = recorded
		}
		v.Piece, v.Plan, v.Measured, known, cells = board.Card.Piece, sheet.Plan, true, s.known(board), sheet.Cells
	}
	if v.Body, err = v.Piece.Inside(); err != nil || v.Piece.Slices(v.Plan) == nil {
		return v, fault.NewConflict("", "no_slices", "This way does not cut the piece straight into slices.",
			"Choose a way that does.")
	}
	grades, err := s.HouseGrades(ctx, shop)
	if err != nil {
		return v, err
	}
	v.Reading, err = straight.Read(v.Piece, v.Plan, v.Body, takes(cells), func(part, method string) (eating.Score, bool) {
		g := grades.With(v.Piece, part, method, known)
		return g.Score, g.Known
	})
	return v, err
}

// takes is what each product takes of each part, as cells have it.
func takes(cells []value.Cell) straight.Takes {
	out := straight.Takes{}
	for _, c := range cells {
		if c.Fate != value.Sold || !c.OfPiece() {
			continue
		}
		if out[c.Product] == nil {
			out[c.Product] = map[string]measure.Mass{}
		}
		out[c.Product][c.Part] += c.Mass
	}
	return out
}
