package store

import (
	"context"
	"fmt"

	"gorm.io/gorm"
)

// shopTables are the tables whose rows belong to a shop, by their column shop_id.
var shopTables = []string{"results", "result_kinds", "outputs", "method_choices", "events", "trial_pairs", "trials",
	"tasting_sheets", "tasting_assessors", "tasting_samples", "tastings", "external_scores", "panel_results", "shares",
	"quotes", "demands", "markets", "menu_names", "goods_events", "goods", "makings",
	"order_pieces", "orders", "day_plans", "label_settings", "product_codes", "sales", "sale_files", "sale_names",
	"sale_settings", "naming_trials", "counters", "house_notes", "pictures", "sign_offs", "practices", "drill_cards",
	"recipes", "fat_tests", "trim_worths",
	"prices", "ingredients", "breakdowns", "batches", "pieces", "lots", "plan_versions", "plans", "scale_checks",
	"one_time_tokens", "sessions", "devices", "tokens", "audit", "audit_heads", "benches", "members"}

// ExampleOf gives the example shop that a person is in; ErrNotFound where there is none.
func (s *Store) ExampleOf(ctx context.Context, personID int64) (Shop, error) {
	var shop Shop
	err := s.on(ctx).Raw(`SELECT o.* FROM shops o JOIN members m ON m.shop_id = o.id
		WHERE m.person_id = ? AND m.joined_at IS NOT NULL AND o.example ORDER BY o.id LIMIT 1`, personID).Take(&shop).Error
	return shop, Translate(err)
}

// RemoveExample takes an example shop away with all its rows. Who is signed in there goes on in another of their shops.
// The database itself refuses it for any other shop.
func (s *Store) RemoveExample(ctx context.Context, shopID int64) error {
	return Translate(s.on(ctx).Transaction(func(tx *gorm.DB) (err error) {
		err = tx.Exec(`UPDATE sessions s JOIN (SELECT person_id, MIN(id) AS id FROM members WHERE shop_id <> ? AND active
			AND joined_at IS NOT NULL GROUP BY person_id) h ON h.person_id = s.person_id JOIN members m ON m.id = h.id
			SET s.shop_id = m.shop_id, s.member_id = m.id WHERE s.shop_id = ? AND s.device_id IS NULL`, shopID, shopID).Error
		if err != nil {
			return err
		}
		// rows of one shop lean on each other in a circle; nothing of another shop leans on them
		if err := tx.Exec("SET SESSION foreign_key_checks = 0").Error; err != nil {
			return err
		}
		defer func() {
			if e := tx.Exec("SET SESSION foreign_key_checks = 1").Error; err == nil {
				err = e
			}
		}()
		if err := tx.Exec("DELETE c FROM result_cells c JOIN results r ON r.breakdown_id = c.breakdown_id WHERE r.shop_id "+
			"= ?",
			shopID).Error; err != nil {
			return err
		}
		for _, table := range shopTables {
			if err := tx.Exec(fmt.Sprintf("DELETE FROM `%s` WHERE shop_id = ?", table), shopID).Error; err != nil {
				return err
			}
		}
		if err := tx.Exec(`DELETE p FROM people p LEFT JOIN members m ON m.person_id = p.id WHERE m.id IS NULL
			AND p.email LIKE 'example-%@none.invalid'`).Error; err != nil {
			return err
		}
		return changed(tx.Exec("DELETE FROM shops WHERE id = ? AND example", shopID))
	}))
}
