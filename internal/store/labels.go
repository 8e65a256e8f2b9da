package store

import (
	"context"
	"encoding/json"

	"gorm.io/gorm"
)

// LabelSettings is what a shop's labels say beside what is on the pack.
type LabelSettings struct {
	ID      int64
	ShopID  int64
	Body    json.RawMessage `gorm:"type:json"`
	Version int
}

// TableName keeps the plural that the word has.
func (LabelSettings) TableName() string { return "label_settings" }

// LabelSettings gives a shop's; ErrNotFound where it has set none.
func (s *Store) LabelSettings(ctx context.Context, shopID int64) (LabelSettings, error) {
	var l LabelSettings
	return l, Translate(s.on(ctx).Where("shop_id = ?", shopID).Take(&l).Error)
}

// SaveLabelSettings keeps them: new ones where their version is 0, else in the place of those that have it.
func (s *Store) SaveLabelSettings(ctx context.Context, l LabelSettings) error {
	if l.Version == 0 {
		l.Version = 1
		err := Translate(s.on(ctx).Create(&l).Error)
		if err == ErrDuplicate { // somebody else set some meanwhile
			err = ErrConflict
		}
		return err
	}
	return changed(s.on(ctx).Model(&LabelSettings{}).Where("shop_id = ? AND version = ?", l.ShopID, l.Version).
		Updates(map[string]any{"body": l.Body, "version": l.Version + 1}))
}

// ProductCode is the number of a product in a shop, and of its article where it has one.
type ProductCode struct {
	ID         int64
	ShopID     int64
	ProductKey string
	Item       string
	GTIN       string `gorm:"column:gtin"`
}

// maxCodes bounds the products of a shop that have numbers.
const maxCodes = 5000

// ProductCodes gives the numbers of a shop's products, by product key.
func (s *Store) ProductCodes(ctx context.Context, shopID int64) (map[string]ProductCode, error) {
	var rows []ProductCode
	err := s.on(ctx).Where("shop_id = ?", shopID).Order("item").Limit(maxCodes).Find(&rows).Error
	out := make(map[string]ProductCode, len(rows))
	for _, r := range rows {
		out[r.ProductKey] = r
	}
	return out, Translate(err)
}

// SetProductCode gives a product its numbers in the place of those it had; ErrDuplicate where another has that number.
func (s *Store) SetProductCode(ctx context.Context, c ProductCode) error {
	return Translate(s.on(ctx).Transaction(func(tx *gorm.DB) error {
		err := tx.Where("shop_id = ? AND product_key = ?", c.ShopID, c.ProductKey).Delete(&ProductCode{}).Error
		if err != nil {
			return err
		}
		return tx.Create(&c).Error
	}))
}
