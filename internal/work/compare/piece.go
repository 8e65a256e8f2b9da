package compare

import (
	"context"

	"falda/internal/core/seammap"
	"falda/internal/work/stock"
)

// PieceView is one piece with its lot and its forecast.
type PieceView struct {
	Card     stock.Card
	Lot      stock.LotView
	Forecast Forecast
	Map      seammap.Map
	Parts    []PartWeight
}

// Piece gives one piece with its forecast under each plan.
func (s *Service) Piece(ctx context.Context, id string) (PieceView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return PieceView{}, err
	}
	h, err := s.store.PieceRow(ctx, shop.ID, id)
	if err != nil {
		return PieceView{}, err
	}
	var v PieceView
	if v.Card, err = s.stock.Card(h, shop); err != nil {
		return v, err
	}
	pieces, err := s.store.LotPieces(ctx, shop.ID, h.Lot.ID)
	if err != nil {
		return v, err
	}
	if v.Lot, err = s.stock.LotView(shop, h.Lot, pieces); err != nil {
		return v, err
	}
	price, err := shop.Price(h.Lot.Price, h.Lot.PricePer)
	if err != nil {
		return v, err
	}
	killed := h.Lot.SlaughteredOn
	cost, err := stock.PieceCost(shop.Shop, h)
	if err != nil {
		return v, err
	}
	a := stock.CheckedArrival{Piece: v.Card.Piece, Pieces: 1, Total: v.Card.Weight, Price: price, Cost: &cost,
		Slaughtered: &killed}
	if v.Forecast, err = s.forecast(ctx, shop, a, v.Card.Weight); err != nil {
		return v, err
	}
	masses := v.Card.Piece.Split(v.Card.Weight)
	for i, part := range v.Card.Piece.Parts() {
		v.Parts = append(v.Parts, PartWeight{Part: part, Mass: masses[i]})
	}
	v.Map, err = s.stock.ShareMap(v.Card.Piece)
	return v, err
}
