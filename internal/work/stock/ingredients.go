package stock

import (
	"context"
	"errors"
	"slices"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// IngredientView is an ingredient of a shop, or one that a plan asks for and the shop does not have yet.
type IngredientView struct {
	store.Ingredient
	Price   *measure.Money
	UsedIn  []string // names of the plans that add it
	Missing bool     // a plan asks for it, the shop has none
}

// NewIngredient is an ingredient as it is typed.
type NewIngredient struct {
	Key, Name, Unit string
	Price           string // for one of the unit; empty where it is not known
	Allergens       []string
	Supplier, Note  string
	Retired         bool
	Version         int
}

// Ingredients lists what the shop adds to meat, and what its plans ask for beside that.
func (s *Service) Ingredients(ctx context.Context) ([]IngredientView, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.Ingredients(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	uses := s.ingredientUses(sh)
	out := make([]IngredientView, 0, len(rows))
	for _, row := range rows {
		v := IngredientView{Ingredient: row, UsedIn: uses[row.Key]}
		if row.Price != nil {
			m, err := measure.MoneyFromDecimal(*row.Price)
			if err != nil {
				return nil, err
			}
			v.Price = &m
		}
		delete(uses, row.Key)
		out = append(out, v)
	}
	missing := make([]string, 0, len(uses))
	for key := range uses {
		missing = append(missing, key)
	}
	slices.Sort(missing)
	for _, key := range missing {
		out = append(out, IngredientView{Ingredient: store.Ingredient{Key: key, Name: words.FromID(key)},
			UsedIn: uses[key], Missing: true})
	}
	return out, nil
}

// ingredientUses gives, by key, the names of the plans that add an ingredient.
func (s *Service) ingredientUses(sh shop.WithPlans) map[string][]string {
	uses := map[string][]string{}
	for _, p := range s.atlas.Pieces {
		for _, pl := range sh.AddOwn(p, "").Plans {
			for _, step := range pl.Steps {
				for _, a := range step.Adds {
					if name := pl.ShortName(); !slices.Contains(uses[a.Ingredient], name) {
						uses[a.Ingredient] = append(uses[a.Ingredient], name)
					}
				}
			}
		}
	}
	return uses
}

// SaveIngredient adds an ingredient where id is empty, else changes it; version is that of the row as it was seen. The
// key of one that plans may name does not change.
func (s *Service) SaveIngredient(ctx context.Context, id string, in NewIngredient) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	row, err := readIngredient(in)
	if err != nil {
		return err
	}
	row.ShopID, row.PublicID, row.Version = sh.ID, id, in.Version
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		had, err := tx.Ingredients(ctx, sh.ID)
		if err != nil {
			return audit.Change{}, err
		}
		c := audit.Change{Action: "ingredient.changed", SubjectName: row.Name, Became: facts(row)}
		if id == "" {
			if row.Key == "" {
				row.Key = newProductID(row.Name, func(key string) bool {
					return slices.ContainsFunc(had, func(x store.Ingredient) bool { return x.Key == key })
				})
			}
			row.PublicID, row.Version, row.CreatedAt = store.NewID(), 1, s.now()
			c.Action, c.Subject = "ingredient.made", row.PublicID
			return c, tx.CreateIngredient(ctx, &row)
		}
		at := slices.IndexFunc(had, func(x store.Ingredient) bool { return x.PublicID == id })
		if at < 0 {
			return c, store.ErrNotFound
		}
		c.Subject, c.Was = id, facts(had[at])
		return c, tx.SaveIngredient(ctx, row)
	})
	if errors.Is(err, store.ErrDuplicate) {
		return fault.NewConflict("name", "name_used", "is the name of another ingredient",
			"Change that one, or call it something else.")
	}
	return err
}

// facts is what the audit says of an ingredient.
func facts(in store.Ingredient) map[string]any {
	price := ""
	if in.Price != nil {
		price = *in.Price
	}
	return map[string]any{"name": in.Name, "unit": in.Unit, "price": price, "allergens": strings.Join(in.Allergens, ", "),
		"supplier": in.Supplier, "retired": in.Retired}
}

// readIngredient checks an ingredient as it was typed.
func readIngredient(in NewIngredient) (store.Ingredient, error) {
	var faults fault.List
	row := store.Ingredient{Key: in.Key, Name: strings.TrimSpace(in.Name), Unit: in.Unit, Retired: in.Retired,
		Supplier: strings.TrimSpace(in.Supplier), Note: strings.TrimSpace(in.Note), Allergens: []string{}}
	faults.Add("name", fault.Text(row.Name, 80, true))
	faults.Add("supplier", fault.Text(row.Supplier, 120, false))
	faults.Add("note", fault.Text(row.Note, 500, false))
	if in.Key != "" && !productID.MatchString(in.Key) {
		faults.Add("key",
			fault.New("", "not_an_id", "must be small letters, digits and _, starting with a letter", "Leave it out."))
	}
	if !slices.Contains(ingredient.Units, in.Unit) {
		faults.Add("unit", fault.New("", "unknown", "must be one of "+strings.Join(ingredient.Units, ", "), "Choose one."))
	}
	if text := strings.TrimSpace(in.Price); text != "" {
		m, err := measure.ParseMoney(text)
		switch {
		case err != nil:
			faults.Add("price", err)
		case m.Sign() < 0:
			faults.Add("price", fault.New("", "negative", "must not be below zero", "Leave it empty where it is not known."))
		default:
			exact := m.Text(6)
			row.Price = &exact
		}
	}
	for _, al := range ingredient.Allergens { // in the order of the list, each once
		if slices.Contains(in.Allergens, al.ID) {
			row.Allergens = append(row.Allergens, al.ID)
		}
	}
	for _, id := range in.Allergens {
		if !ingredient.KnownAllergen(id) {
			faults.Add("allergens", fault.New("", "unknown", fault.Quote(id)+" is not one of the list", "Choose from the list."))
		}
	}
	return row, faults.Err()
}
