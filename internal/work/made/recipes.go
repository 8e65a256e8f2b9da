package made

import (
	"context"
	"encoding/json"
	"math/big"
	"regexp"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// Service makes things.
type Service struct {
	store  *store.Store
	now    func() time.Time
	audit  *audit.Log
	shops  *shop.Service
	prices *pricing.Service
	goods  *goods.Service
}

// New makes the service. Now is the clock.
func New(s *store.Store, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service, stock *goods.Service) *Service {
	return &Service{store: s, now: now, audit: log, shops: shops, prices: prices, goods: stock}
}

// Recipe is a recipe of a shop, read.
type Recipe struct {
	store.Recipe
	Body   recipe.Recipe
	Price  *measure.Price
	Scaled recipe.Scaled // for a kilogram
	Net    *big.Rat      // what a kilogram of meat brings in it; nil without a price
}

// recipeOf reads a row.
func recipeOf(sh shop.Shop, row store.Recipe, book ingredient.Book) (Recipe, error) {
	out := Recipe{Recipe: row}
	if err := json.Unmarshal(row.Body, &out.Body); err != nil {
		return out, err
	}
	out.Scaled = out.Body.For(big.NewRat(1, 1), book)
	if row.Price != nil {
		price, err := sh.Price(*row.Price, "kg")
		if err != nil {
			return out, err
		}
		out.Price, out.Net = &price, out.Body.NetPerKg(price.Amount.Rat(), book)
	}
	return out, nil
}

// Recipes lists what the shop makes.
func (s *Service) Recipes(ctx context.Context) ([]Recipe, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return nil, err
	}
	return s.recipes(ctx, sh)
}

func (s *Service) recipes(ctx context.Context, sh shop.Shop) ([]Recipe, error) {
	book, err := s.shops.Book(ctx, sh)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.Recipes(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	out := make([]Recipe, 0, len(rows))
	for _, row := range rows {
		r, err := recipeOf(sh, row, book)
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, nil
}

// NewRecipe is a recipe as it is entered.
type NewRecipe struct {
	Name          string
	Body          recipe.Recipe
	Price         string // of a kilogram that is sold; empty where it is not sold
	IngredientKey string // what is made is this ingredient; empty where it is none
	Retired       bool
	Version       int
}

var keyShape = regexp.MustCompile(`^[a-z][a-z0-9_]{0,39}$`)

// SaveRecipe adds a recipe, where id is empty, or changes one.
func (s *Service) SaveRecipe(ctx context.Context, id string, in NewRecipe) (Recipe, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Recipe{}, err
	}
	in.Name = strings.TrimSpace(in.Name)
	var faults fault.List
	faults.Add("name", fault.Text(in.Name, 80, true))
	faults = append(faults, fault.Of(in.Body.Check())...)
	row := store.Recipe{ShopID: sh.ID, PublicID: id, Name: in.Name, Retired: in.Retired, Version: in.Version,
		UpdatedAt: s.now()}
	if strings.TrimSpace(in.Price) != "" {
		price, err := sh.ParsePrice(in.Price, "kg")
		faults.Add("price", err)
		text := price.Amount.Text(measure.PriceDecimals)
		row.Price = &text
	}
	if in.IngredientKey != "" {
		if !keyShape.MatchString(in.IngredientKey) {
			faults.Add("ingredient_key", fault.New("", "not_a_key", "is no key of an ingredient",
				"Small letters, digits and _, such as herb_mix."))
		}
		row.IngredientKey = &in.IngredientKey
	}
	for _, l := range in.Body.Lines {
		if l.Ingredient == in.IngredientKey && in.IngredientKey != "" {
			faults.Add("ingredient_key", fault.New("", "circle", "goes into itself", "Leave it out of its own lines."))
		}
	}
	if err := faults.Err(); err != nil {
		return Recipe{}, err
	}
	if row.Body, err = json.Marshal(in.Body); err != nil {
		return Recipe{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		c := audit.Change{Action: "recipe.changed", Subject: id, SubjectName: row.Name,
			Became: map[string]any{"recipe": json.RawMessage(row.Body), "price": in.Price}}
		if id == "" {
			row.PublicID, row.Version, c.Action = store.NewID(), 1, "recipe.added"
			c.Subject = row.PublicID
			return c, named(tx.CreateRecipe(ctx, &row))
		}
		return c, named(tx.SaveRecipe(ctx, row))
	})
	if err != nil {
		return Recipe{}, err
	}
	return s.Recipe(ctx, row.PublicID)
}

// named says of two of one name that they are.
func named(err error) error {
	if err == store.ErrDuplicate {
		return fault.NewConflict("name", "duplicate_name", "is the name of another recipe", "Choose another.")
	}
	return err
}

// Recipe gives one recipe.
func (s *Service) Recipe(ctx context.Context, id string) (Recipe, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Recipe{}, err
	}
	row, err := s.store.Recipe(ctx, sh.ID, id)
	if err != nil {
		return Recipe{}, err
	}
	book, err := s.shops.Book(ctx, sh)
	if err != nil {
		return Recipe{}, err
	}
	return recipeOf(sh, row, book)
}

// Scale gives a recipe for an amount of meat; of one without meat, for so much of what is made.
func (s *Service) Scale(ctx context.Context, id, weight, unit string) (Recipe, error) {
	r, err := s.Recipe(ctx, id)
	if err != nil {
		return r, err
	}
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return r, err
	}
	m, err := measure.ParseMass(weight, measure.Unit(unit))
	if err == nil && (m <= 0 || m > 10_000*measure.Kilogram) {
		err = fault.New("", "out_of_range", "must be above 0 and at most 10 tonnes", "Say how much there is.")
	}
	if err != nil {
		var faults fault.List
		faults.Add("weight", err)
		return r, faults.Err()
	}
	book, err := s.shops.Book(ctx, sh)
	if err != nil {
		return r, err
	}
	r.Scaled = r.Body.For(m.In(measure.UnitKilogram), book)
	return r, nil
}
