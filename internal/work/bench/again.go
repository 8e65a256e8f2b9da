package bench

import (
	"context"
	"errors"
	"fmt"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/stock"
)

// CutAgain hangs something that was sold whole on the rail again, to be cut further: a standing roast that nobody
// bought becomes a piece with its own plan, its weight and what it cost. row is the event of its weighing; the answer
// is the id of the new piece. Once only.
func (s *Service) CutAgain(ctx context.Context, id, row string) (string, error) {
	v, err := s.BoardForSale(ctx, id)
	if err != nil {
		return "", err
	}
	n, ok := v.Board.Node(row)
	if !ok || row == "" || n.Event != seam.Portioned {
		return "", fault.New("row", "unknown", "is not something that was weighed off this piece as a product", "Choose one.")
	}
	pr, _ := seam.Sold(v.Card.Piece, v.Plan, n.Product)
	if pr.Again == nil {
		return "", fault.NewConflict("row", "not_cut_again", fault.Quote(pr.Name)+" is not cut again", "Sell it as it is.")
	}
	if !v.Board.Closed() {
		return "", fault.NewConflict("", "open", "The piece is still being cut.", "Finish it first.")
	}
	costs, err := s.costsAsCut(ctx, v)
	if err != nil {
		return "", err
	}
	h := v.Card.Row
	lot := s.lotFrom(v.Shop, h, fmt.Sprintf("%s/R%d", brokenNumber(h), n.Seq))
	lot.AtlasID, lot.Form, lot.Pieces, lot.TotalMg = pr.Again.Piece, pr.Again.Form, 1, int64(n.Mass)
	lot.Price = costs[v.Card.Piece.Key(pr)].Text(measure.PriceDecimals)
	piece := store.Piece{PublicID: store.NewID(), ShopID: v.Shop.ID, Number: 1, LabelMg: int64(n.Mass), Version: 1}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		c := audit.Change{Action: "product.cut_again", Subject: h.Lot.PublicID, SubjectName: stock.PieceName(h),
			Became: map[string]any{"product": pr.Name, "lot": lot.LotNumber, "g": n.Mass.Grams(), "price": lot.Price}}
		return c, tx.CreateLot(ctx, &lot, []store.Piece{piece})
	})
	if errors.Is(err, store.ErrDuplicate) {
		err = fault.NewConflict("row", "hangs", "hangs on the rail already", "Find it by its lot, "+lot.LotNumber+".")
	}
	return piece.PublicID, err
}

// CutAgainOf lists what of a finished piece may be cut again: the events of their weighings.
func (v BoardView) CutAgainOf() []string {
	var out []string
	for _, n := range v.Board.Nodes {
		pr, ok := seam.Sold(v.Card.Piece, v.Plan, n.Product)
		if n.Event == seam.Portioned && ok && pr.Again != nil && v.Board.Closed() {
			out = append(out, n.ID)
		}
	}
	return out
}
