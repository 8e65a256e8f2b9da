package shop

import (
	"context"
	"encoding/json"
	"maps"
	"math/big"
	"slices"
	"sync"

	"falda/internal/core/atlas"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
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
	recipes, err := s.store.Recipes(ctx, shopID)
	if err != nil {
		return nil, err
	}
	return book, addMade(book, recipes)
}

// addMade puts into a book what a shop makes itself: an ingredient that a recipe gives costs what goes into it, and
// brings the allergens of that. A recipe may go into another, so that it is done until nothing changes.
func addMade(book ingredient.Book, rows []store.Recipe) error {
	for range len(rows) {
		before := maps.Clone(book)
		for _, row := range rows {
			if row.IngredientKey == nil || row.Retired {
				continue
			}
			var r recipe.Recipe
			if err := json.Unmarshal(row.Body, &r); err != nil {
				return err
			}
			one := r.For(big.NewRat(1, 1), book)
			in := ingredient.Ingredient{Key: *row.IngredientKey, Name: row.Name, Unit: "kg"}
			for _, a := range one.Allergens() {
				in.Allergens = append(in.Allergens, a.ID)
			}
			if len(one.Without) == 0 && one.Out.Sign() > 0 {
				cost := one.Cost.Over(one.Out)
				in.Price = &cost
			}
			book[in.Key] = in
		}
		if maps.EqualFunc(before, book, func(a, b ingredient.Ingredient) bool {
			return slices.Equal(a.Allergens, b.Allergens) && a.Name == b.Name && (a.Price == nil) == (b.Price == nil) &&
				(a.Price == nil || a.Price.Cmp(*b.Price) == 0)
		}) {
			break
		}
	}
	return nil
}

// Book gives what a shop adds to meat, by key.
func (s *Service) Book(ctx context.Context, sh Shop) (ingredient.Book, error) {
	return s.ingredients(ctx, sh.Shop)
}
