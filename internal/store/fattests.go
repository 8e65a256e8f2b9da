package store

import (
	"context"
	"time"
)

// FatTest is how lean a tub was found to be.
type FatTest struct {
	ID         int64
	PublicID   string
	ShopID     int64
	ProductKey string
	MadeOn     time.Time `gorm:"type:date"`
	LeanPct    float64
	AtlasPct   float64 // what the atlas said of that tub
	Note       string
	MemberID   *int64
	At         time.Time
}

// maxFatTests is how many of the latest tests count.
const maxFatTests = 400

// FatTests lists a shop's tests, the latest first.
func (s *Store) FatTests(ctx context.Context, shopID int64) ([]FatTest, error) {
	var out []FatTest
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("at DESC, id DESC").Limit(maxFatTests).
		Find(&out).Error)
}

// CreateFatTest adds a test; one that is there by its id stays.
func (s *Store) CreateFatTest(ctx context.Context, t *FatTest) error {
	return Translate(s.on(ctx).Create(t).Error)
}

// DropFatTest takes a test away.
func (s *Store) DropFatTest(ctx context.Context, shopID int64, publicID string) error {
	res := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Delete(&FatTest{})
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return Translate(res.Error)
}

// TrimWorth is what a kilogram of a stream was worth in a blend.
type TrimWorth struct {
	ID         int64
	ShopID     int64
	ProductKey string
	PerKg      string
	At         time.Time
}

// TrimWorths lists what a shop values its trim by.
func (s *Store) TrimWorths(ctx context.Context, shopID int64) ([]TrimWorth, error) {
	var out []TrimWorth
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("product_key").Find(&out).Error)
}

// SetTrimWorths sets anew what a shop values its trim by, and whether it does; none leaves what there is.
func (s *Store) SetTrimWorths(ctx context.Context, shopID int64, list []TrimWorth, byUse bool) error {
	if len(list) > 0 {
		if err := s.on(ctx).Where("shop_id = ?", shopID).Delete(&TrimWorth{}).Error; err != nil {
			return Translate(err)
		}
		if err := s.on(ctx).Create(&list).Error; err != nil {
			return Translate(err)
		}
	}
	return Translate(s.on(ctx).Exec("UPDATE shops SET trim_by_use = ?, version = version + 1 WHERE id = ?", byUse, shopID).
		Error)
}
