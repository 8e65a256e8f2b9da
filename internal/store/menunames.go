package store

import (
	"context"
	"time"
)

// MenuName is what a shop calls a product at its counter, beside the name that it must be sold by.
type MenuName struct {
	ID         int64
	ShopID     int64
	ProductKey string
	Name       string
	UpdatedAt  time.Time
}

// MenuNames gives what a shop calls its products, by product key.
func (s *Store) MenuNames(ctx context.Context, shopID int64) (map[string]string, error) {
	var rows []MenuName
	if err := s.on(ctx).Where("shop_id = ?", shopID).Find(&rows).Error; err != nil {
		return nil, Translate(err)
	}
	out := make(map[string]string, len(rows))
	for _, r := range rows {
		out[r.ProductKey] = r.Name
	}
	return out, nil
}

// SetMenuName gives a product the shop's own name in the place of another, empty where there was none; an empty name
// takes it away. One of the two is not empty. ErrConflict where it is called something else by now.
func (s *Store) SetMenuName(ctx context.Context, n MenuName, was string) error {
	n.UpdatedAt = time.Now().UTC()
	of := s.on(ctx).Model(&MenuName{}).Where("shop_id = ? AND product_key = ?", n.ShopID, n.ProductKey)
	switch {
	case was == "":
		return added(s.on(ctx).Create(&n))
	case n.Name == "":
		return changed(of.Where("name = ?", was).Delete(&MenuName{}))
	}
	return changed(of.Where("name = ?", was).Updates(map[string]any{"name": n.Name, "updated_at": n.UpdatedAt}))
}
