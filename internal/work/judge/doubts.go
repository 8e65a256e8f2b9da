package judge

import (
	"context"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/bench"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// GradeConflict is a product of a plan that contradicts the house's grades, in a sentence, with what the muscle would
// bring as the better product.
type GradeConflict struct {
	eating.Contradiction
	Sentence string
}

// GradeConflicts says what in a sheet's plan contradicts the grades.
func GradeConflicts(shop shop.WithPlans, g HouseGrades, sheet value.Sheet, f eating.Facts) []GradeConflict {
	p := sheet.Atlas
	var out []GradeConflict
	for _, c := range eating.Contradictions(p, sheet.Plan,
		func(part string) []eating.Score { return g.Scores(p, part, f) }) {
		method, _ := atlas.FindMethod(c.Score.Method)
		best, _ := atlas.FindMethod(c.Best.Method)
		text := words.GradeConflict(c, method.Name, best.Name)
		if other, change, ok := better(sheet, c, g.Scores(p, c.Muscle.ID, f)); ok {
			text += " " + words.BetterAs(other.Name, change, shop.Money)
		}
		out = append(out, GradeConflict{c, text})
	}
	return out
}

// Plates says of each product of a sheet how it eats as it is sold, all that is in it together; a product that nothing
// is known of has none.
func Plates(g HouseGrades, sheet value.Sheet, f eating.Facts) map[string]eating.Mixed {
	out := map[string]eating.Mixed{}
	for _, pr := range sheet.Plan.Products {
		var portions []eating.Portion
		for _, cell := range sheet.Cells {
			if cell.Product != pr.ID || cell.Fate != value.Sold || cell.Mass <= 0 {
				continue
			}
			if x := g.WithEnd(sheet.Atlas, cell.Part, sheet.Plan.ID, pr, f); x.Known {
				portions = append(portions, eating.Portion{Muscle: cell.Part, Mass: cell.Mass.Grams(), Score: x.Score})
			}
		}
		if m, ok := eating.Mix(portions); ok {
			out[pr.ID] = m
		}
	}
	return out
}

// BoardPlates is [Plates] of sheets of a piece that is on a board.
func (s *Service) BoardPlates(ctx context.Context, v bench.BoardView, sheets ...value.Sheet) ([]map[string]eating.Mixed,
	error) {
	out := make([]map[string]eating.Mixed, len(sheets))
	if v.Card.Carcass {
		return out, nil
	}
	g, err := s.HouseGrades(ctx, v.Shop)
	for i, sheet := range sheets {
		out[i] = Plates(g, sheet, s.known(v))
	}
	return out, err
}

// better finds the product that brings most for the muscle, of any plan of the piece and by a method by which the
// muscle does not eat below 3, and what it would change.
func better(sheet value.Sheet, c eating.Contradiction, scores []eating.Score) (best atlas.Product, change measure.Money,
	ok bool) {
	p := sheet.Atlas
	now, priced := sheet.Prices[p.Key(c.Product)]
	var mass measure.Mass
	for _, cell := range sheet.Cells {
		if cell.Part == c.Muscle.ID && cell.Product == c.Product.ID {
			mass += cell.Mass
		}
	}
	if !priced || mass <= 0 {
		return best, change, false
	}
	for _, pl := range p.Plans {
		for _, pr := range pl.Products {
			fits := slices.ContainsFunc(scores,
				func(s eating.Score) bool { return s.Method == pr.Cook && s.Grade() != eating.BelowThree })
			price, has := sheet.Prices[p.Key(pr)]
			if !fits || !has || pr.From[c.Muscle.ID] <= 0 {
				continue
			}
			if d := sheet.Currency.Round(price.Of(mass)).Sub(sheet.Currency.Round(now.Of(mass))); !ok || d.Cmp(change) > 0 {
				best, change, ok = pr, d, true
			}
		}
	}
	return best, change, ok
}

// FactsOf are what is known of an animal, on a day.
func FactsOf(p atlas.Piece, about store.About, slaughtered *time.Time, on time.Time) eating.Facts {
	lot := store.Lot{About: about, SlaughteredOn: on}
	if slaughtered != nil {
		lot.SlaughteredOn = *slaughtered
	}
	return facts(p, lot, on)
}

// PlanConflicts says, of each sheet, what in its plan contradicts the house's grades, of an animal of which nothing
// more is known.
func (s *Service) PlanConflicts(ctx context.Context, sheets ...value.Sheet) ([][]GradeConflict, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	g, err := s.HouseGrades(ctx, shop)
	if err != nil {
		return nil, err
	}
	out := make([][]GradeConflict, len(sheets))
	for i, sheet := range sheets {
		out[i] = GradeConflicts(shop, g, sheet, eating.Facts{Species: sheet.Atlas.Species})
	}
	return out, nil
}

// BoardConflicts says what in the plan of a board contradicts the grades, at today's prices.
func (s *Service) BoardConflicts(ctx context.Context, v bench.BoardView) ([]GradeConflict, error) {
	if v.Card.Carcass {
		return nil, nil
	}
	g, err := s.HouseGrades(ctx, v.Shop)
	if err != nil {
		return nil, err
	}
	book, _, err := s.prices.TodaysBook(ctx, v.Shop.Shop)
	if err != nil {
		return nil, err
	}
	sheet := pricing.ForecastSheet(v.Shop.Shop, v.Card.Piece, v.Plan, v.Card.Weight, book)
	return GradeConflicts(v.Shop, g, sheet, s.known(v)), nil
}
