package judge

import (
	"cmp"
	"context"
	"math/big"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/work/shop"
)

// Proposal is a muscle by a method that is worth tasting: it is sold to be cooked so, and no eater stands behind its
// grade.
type Proposal struct {
	Part, Method string
	Worth        measure.Money // of what a usual piece sells of it so, by the plan that sells most; at today's prices
}

// maxProposals bounds how many are made for a piece.
const maxProposals = 6

// propose lists what to taste of a piece, what is worth most first.
func (s *Service) propose(ctx context.Context, shop shop.WithPlans, g PieceGrades) ([]Proposal, error) {
	book, _, err := s.prices.TodaysBook(ctx, shop.Shop)
	if err != nil {
		return nil, err
	}
	sold := soldSo(g.Piece, book)
	var out []Proposal
	for _, m := range g.Muscles {
		for _, c := range m.Grades {
			worth, is := sold[[2]string{m.Muscle.ID, c.Score.Method}]
			if is && c.Score.Assessors == 0 && worth.Sign() > 0 {
				out = append(out, Proposal{m.Muscle.ID, c.Score.Method, shop.Money.Of(worth)})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Proposal) int {
		return cmp.Or(b.Worth.Cmp(a.Worth), cmp.Compare(a.Part, b.Part))
	})
	return out[:min(len(out), maxProposals)], nil
}

// soldSo gives what a usual piece sells of each muscle to be cooked by each method, by the plan that sells most so.
func soldSo(p atlas.Piece, book map[string]measure.Price) map[[2]string]measure.Money {
	out := map[[2]string]measure.Money{}
	for _, pl := range p.Plans {
		of := map[[2]string]measure.Money{}
		for _, pr := range pl.Products {
			price, ok := book[p.Key(pr)]
			if !ok || pr.Cook == "" {
				continue
			}
			for part, pct := range pr.From {
				m, ok := p.Muscle(part)
				if !ok {
					continue
				}
				key := [2]string{part, pr.Cook}
				share := big.NewRat(atlas.Thousandths(m.SharePct)*atlas.Thousandths(pct), 100_000*100_000)
				of[key] = of[key].Add(price.Of(p.Typical()).Times(share))
			}
		}
		for key, worth := range of {
			if was, ok := out[key]; !ok || worth.Cmp(was) > 0 {
				out[key] = worth
			}
		}
	}
	return out
}
