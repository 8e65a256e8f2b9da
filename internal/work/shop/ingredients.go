package shop

import (
	"context"
	"slices"
	"sync"

	"falda/internal/core/atlas"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
	"falda/internal/store"
)

// adds says whether a plan adds anything to the meat.
func adds(pl atlas.Plan) bool {
	return slices.ContainsFunc(pl.Steps, func(s steps.Step) bool { return len(s.Adds) > 0 })
}

// books keeps the ingredients of shops in memory, each as of a version.
type books struct {
	mu sync.Mutex
	of map[int64]keptBook
}

type keptBook struct {
	version int
	book    ingredient.Book
}

// ingredients gives what the shop adds to meat, by key: read once for each version of it.
func (s *Service) ingredients(ctx context.Context, row store.Shop) (ingredient.Book, error) {
	s.books.mu.Lock()
	kept, ok := s.books.of[row.ID]
	s.books.mu.Unlock()
	if ok && kept.version == row.IngredientsVersion {
		return kept.book, nil
	}
	book, err := s.readIngredients(ctx, row.ID)
	if err != nil {
		return nil, err
	}
	s.books.mu.Lock()
	defer s.books.mu.Unlock()
	if s.books.of == nil {
		s.books.of = map[int64]keptBook{}
	}
	s.books.of[row.ID] = keptBook{row.IngredientsVersion, book}
	return book, nil
}

// readIngredients reads what the shop adds to meat.
func (s *Service) readIngredients(ctx context.Context, shopID int64) (ingredient.Book, error) {
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
