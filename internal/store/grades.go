package store

import (
	"context"
	"time"
)

// MethodChoices lists the choices made for a breakdown.
func (s *Store) MethodChoices(ctx context.Context, shopID, breakdownID int64) ([]MethodChoice, error) {
	var out []MethodChoice
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Find(&out).Error
	return out, Translate(err)
}

// SetMethodChoice sets a choice where its version is still the given one; version 0 adds it.
func (s *Store) SetMethodChoice(ctx context.Context, c MethodChoice) error {
	c.UpdatedAt = time.Now().UTC()
	if c.Version == 0 {
		c.Version = 1
		return added(s.on(ctx).Create(&c))
	}
	return changed(s.on(ctx).Model(&MethodChoice{}).Where("shop_id = ? AND breakdown_id = ? AND part = ? AND version = ?",
		c.ShopID, c.BreakdownID, c.Part, c.Version).
		Updates(map[string]any{"method": c.Method, "note": c.Note, "version": c.Version + 1, "updated_at": c.UpdatedAt}))
}

// MethodChoice is a cooking method chosen for a muscle against the best one.
type MethodChoice struct {
	ID          int64
	ShopID      int64
	BreakdownID int64
	Part        string
	Method      string
	Note        string
	Version     int
	UpdatedAt   time.Time
}
