package store

import (
	"context"
	"time"
)

// ScaleCheck is a test weight that was put on a bench's scale, and what it showed.
type ScaleCheck struct {
	ID        int64
	PublicID  string
	ShopID    int64
	BenchID   int64
	MemberID  *int64
	At        time.Time
	WeightMg  int64
	ShownMg   int64
	AllowedMg int64
	Source    string // scale or typed
	Note      string
}

// ScaleCheckRow is a check with who made it.
type ScaleCheckRow struct {
	ScaleCheck
	Name string
}

// CreateScaleCheck adds a check to those of a bench.
func (s *Store) CreateScaleCheck(ctx context.Context, c *ScaleCheck) error {
	return Translate(s.on(ctx).Create(c).Error)
}

// ScaleChecks lists the checks of a bench's scale, the latest first, so many at most.
func (s *Store) ScaleChecks(ctx context.Context, shopID, benchID int64, most int) ([]ScaleCheckRow, error) {
	var out []ScaleCheckRow
	err := s.on(ctx).Raw(`SELECT c.*, COALESCE(m.name, '') AS name FROM scale_checks c
		LEFT JOIN members m ON m.id = c.member_id WHERE c.shop_id = ? AND c.bench_id = ? ORDER BY c.id DESC LIMIT ?`,
		shopID, benchID, most).Scan(&out).Error
	return out, Translate(err)
}

// LastScaleChecks gives the latest check of each bench of a shop, by the bench's key.
func (s *Store) LastScaleChecks(ctx context.Context, shopID int64) (map[int64]ScaleCheckRow, error) {
	var rows []ScaleCheckRow
	err := s.on(ctx).Raw(`SELECT c.*, COALESCE(m.name, '') AS name FROM benches b
		JOIN scale_checks c ON c.id = (SELECT x.id FROM scale_checks x WHERE x.shop_id = b.shop_id AND x.bench_id = b.id
			ORDER BY x.id DESC LIMIT 1)
		LEFT JOIN members m ON m.id = c.member_id WHERE b.shop_id = ?`, shopID).Scan(&rows).Error
	out := map[int64]ScaleCheckRow{}
	for _, r := range rows {
		out[r.BenchID] = r
	}
	return out, Translate(err)
}
