package store

import (
	"context"
	"time"
)

// Ingredient is what a shop adds to meat.
type Ingredient struct {
	ID        int64
	PublicID  string
	ShopID    int64
	Key       string
	Name      string
	Unit      string
	Price     *string
	Allergens []string `gorm:"serializer:json"`
	Supplier  string
	Note      string
	Retired   bool
	Version   int
	CreatedAt time.Time
}

// maxIngredients bounds the list of a shop's ingredients.
const maxIngredients = 500

// Ingredients lists a shop's ingredients by name, those that are out of use too.
func (s *Store) Ingredients(ctx context.Context, shopID int64) ([]Ingredient, error) {
	var out []Ingredient
	err := s.on(ctx).Where("shop_id = ?", shopID).Order("name").Limit(maxIngredients).Find(&out).Error
	return out, Translate(err)
}

// CreateIngredient adds an ingredient; ErrDuplicate where the shop has one of that name or key.
func (s *Store) CreateIngredient(ctx context.Context, in *Ingredient) error {
	if err := s.on(ctx).Create(in).Error; err != nil {
		return Translate(err)
	}
	return s.ingredientsChanged(ctx, in.ShopID)
}

// ingredientsChanged notes that what a shop's ingredients cost may have changed.
func (s *Store) ingredientsChanged(ctx context.Context, shopID int64) error {
	return Translate(s.on(ctx).
		Exec("UPDATE shops SET ingredients_version = ingredients_version + 1 WHERE id = ?", shopID).Error)
}

// SaveIngredient writes an ingredient where its version is still that of the row.
func (s *Store) SaveIngredient(ctx context.Context, in Ingredient) error {
	next := in
	next.Version++
	err := changed(s.on(ctx).Model(&Ingredient{}).
		Where("shop_id = ? AND public_id = ? AND version = ?", in.ShopID, in.PublicID, in.Version).
		Select("Name", "Unit", "Price", "Allergens", "Supplier", "Note", "Retired", "Version").Updates(next))
	if err != nil {
		return err
	}
	return s.ingredientsChanged(ctx, in.ShopID)
}
