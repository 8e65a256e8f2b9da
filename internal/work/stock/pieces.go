package stock

import (
	"fmt"

	"falda/internal/core/atlas"
	"falda/internal/core/seammap"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// pieceOf gives the atlas' piece of a lot as it was found, with the shop's own plans beside the atlas'; chosen is a
// plan that is kept among them though it was retired, and of a carcass its division.
func (s *Service) pieceOf(shop shop.WithPlans, lot store.Lot, chosen string) (atlas.Piece, error) {
	if c, ok := s.atlas.FindCarcass(lot.AtlasID); ok {
		return s.atlas.Whole(c, chosen).In(shop.Market).Found(lot.Findings, lot.Decided), nil
	}
	p, ok := s.atlas.Find(lot.AtlasID)
	if !ok {
		return p, fmt.Errorf("lot %s is of the piece %s, which the atlas does not know", lot.LotNumber, lot.AtlasID)
	}
	return shop.AddOwn(p, chosen).In(shop.Market).As(lot.Form).Found(lot.Findings, lot.Decided), nil
}

// ShareMap draws a piece by its shares, once for each way it is found.
func (s *Service) ShareMap(p atlas.Piece) (seammap.Map, error) {
	key := p.ID
	for _, m := range p.Muscles {
		key += fmt.Sprintf("/%s %d", m.ID, p.Missing[m.ID])
	}
	if m, ok := s.maps.Load(key); ok {
		return m.(seammap.Map), nil
	}
	m, err := p.MapByShare()
	if err == nil {
		s.maps.Store(key, m)
	}
	return m, err
}
