package stock

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"falda/internal/core/atlas"
)

// Hits is what a word or a number is found in.
type Hits struct {
	Pieces []Card
	Lots   []LotView
	Atlas  []atlas.Hit
}

// foundAtOnce is how many of each kind are given.
const foundAtOnce = 8

// Find looks for a word or a number: in the numbers and suppliers of lots, in their pieces, and in the atlas, whose
// names lead to the pieces of that kind too, where they are meant as they were typed. An empty question finds nothing.
func (s *Service) Find(ctx context.Context, question string) (Hits, error) {
	var out Hits
	question = strings.TrimSpace(question)
	if question == "" {
		return out, nil
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return out, err
	}
	var kinds []string
	for _, hit := range s.atlas.SearchIn(shop.Market, question) {
		if len(out.Atlas) < foundAtOnce {
			out.Atlas = append(out.Atlas, hit)
		}
		if !hit.Near && len(kinds) < foundAtOnce && !slices.Contains(kinds, hit.Piece.ID) {
			kinds = append(kinds, hit.Piece.ID)
		}
	}
	lots, err := s.store.FindLots(ctx, shop.ID, question, foundAtOnce)
	if err != nil {
		return out, err
	}
	ids := make([]int64, len(lots))
	for i, l := range lots {
		ids[i] = l.ID
		v, err := s.LotView(shop, l, nil)
		if err != nil {
			return out, err
		}
		out.Lots = append(out.Lots, v)
	}
	rows, err := s.store.FindPieces(ctx, shop.ID, ids, kinds, foundAtOnce)
	for _, r := range rows {
		c, err := s.Card(r, shop)
		if err != nil {
			return out, err
		}
		out.Pieces = append(out.Pieces, c)
	}
	slices.SortStableFunc(out.Pieces, func(a, b Card) int {
		return cmp.Or(cmp.Compare(a.cut(), b.cut()), a.order().Compare(b.order()))
	})
	return out, err
}

// cut is 1 where the piece is cut, else 0.
func (c Card) cut() int {
	if c.Stage == "plan" || c.Stage == "bench" {
		return 0
	}
	return 1
}
