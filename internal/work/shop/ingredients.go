package shop

import (
	"context"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// adds says whether a plan adds anything to the meat.
func adds(pl atlas.Plan) bool {
	return slices.ContainsFunc(pl.Steps, func(s steps.Step) bool { return len(s.Adds) > 0 })
}

// ingredients reads what the shop adds to meat, by key.
func (s *Service) ingredients(ctx context.Context, shopID int64) (ingredient.Book, error) {
	rows, err := s.store.Ingredients(ctx, shopID)
	if err != nil {
		return nil, err
	}
	book := ingredient.Book{}
	for _, row := range rows {
		in := ingredient.Ingredient{Key: row.Key, Name: row.Name, Unit: row.Unit, Allergens: row.Allergens}
		if row.Price != nil {
			m, err := measure.MoneyFromDecimal(*row.Price)
			if err != nil {
				return nil, err
			}
			in.Price = &m
		}
		book[row.Key] = in
	}
	return book, nil
}
