package store

import (
	"context"
	"time"
)

// Prices lists a shop's prices by product key.
func (s *Store) Prices(ctx context.Context, shopID int64) (map[string]Price, error) {
	var list []Price
	if err := s.on(ctx).Where("shop_id = ?", shopID).Find(&list).Error; err != nil {
		return nil, Translate(err)
	}
	out := make(map[string]Price, len(list))
	for _, p := range list {
		out[p.ProductKey] = p
	}
	return out, nil
}

// Price gives the price of one product; ErrNotFound where there is none.
func (s *Store) Price(ctx context.Context, shopID int64, key string) (Price, error) {
	var p Price
	err := s.on(ctx).Where("shop_id = ? AND product_key = ?", shopID, key).Take(&p).Error
	return p, Translate(err)
}

// SetPrice sets a price where its version is still the given one; version 0 adds it.
func (s *Store) SetPrice(ctx context.Context, p Price) error {
	p.UpdatedAt = time.Now().UTC()
	if p.Version == 0 {
		p.Version = 1
		return added(s.on(ctx).Create(&p))
	}
	return changed(s.on(ctx).Model(&Price{}).Where("shop_id = ? AND product_key = ? AND version = ?", p.ShopID,
		p.ProductKey, p.Version).
		Updates(map[string]any{"amount": p.Amount, "per": p.Per, "spread": p.Spread, "version": p.Version + 1,
			"updated_at": p.UpdatedAt}))
}

// DropGuesses takes away every price of a shop that is a guess, and says how many.
func (s *Store) DropGuesses(ctx context.Context, shopID int64) (int64, error) {
	r := s.on(ctx).Where("shop_id = ? AND spread > 0", shopID).Delete(&Price{})
	return r.RowsAffected, Translate(r.Error)
}

// Pricing is the prices and rates of the day a breakdown was closed, so that it keeps its value.
type Pricing struct {
	Products       map[string]PriceOf        `json:"products"`
	LabourRate     string                    `json:"labour_rate"`
	PackagingPerKg string                    `json:"packaging_per_kg"`
	DiscardPerKg   string                    `json:"discard_per_kg,omitempty"`
	Ingredients    map[string]KeptIngredient `json:"ingredients,omitempty"`
	Market         string                    `json:"market,omitempty"` // name
	Season         string                    `json:"season,omitempty"`
}

// KeptIngredient is an ingredient inside a Pricing; without a price where it was not known.
type KeptIngredient struct {
	Name  string  `json:"name"`
	Unit  string  `json:"unit"`
	Price *string `json:"price,omitempty"`
}

// PriceOf is one price inside a Pricing.
type PriceOf struct {
	Amount string  `json:"amount"`
	Per    string  `json:"per"`
	Spread float64 `json:"spread,omitempty"` // of a guess
}

// Price is the price of a product.
type Price struct {
	ID         int64
	ShopID     int64
	ProductKey string
	Amount     string
	Per        string
	Spread     float64 // of its logarithm where it is a guess, 0 where it is known
	Version    int
	UpdatedAt  time.Time
}
