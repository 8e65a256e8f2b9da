package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// ListedBreakdown is a breakdown with what a list of them shows.
type ListedBreakdown struct {
	Breakdown
	LotNumber   string
	LotPublicID string
	Supplier    string
	AtlasID     string
	PieceNumber int
	BenchName   string
	PlanName    string
	Cutters     string // names of who booked on it
	StartedAt   *time.Time
}

// BreakdownQuery says which breakdowns are wanted: all fields that are set must fit.
type BreakdownQuery struct {
	ShopID   int64
	Text     string   // in lot, supplier, plan or cutter
	AtlasIDs []string // pieces whose names hold the text
	State    string
	From, To time.Time // by the first weighing
	After    int64     // rows older than this one
	Most     int
}

const cutters = "(SELECT GROUP_CONCAT(DISTINCT m.name ORDER BY m.name SEPARATOR ', ') FROM events e JOIN members m ON m.id = e.member_id WHERE e.breakdown_id = d.id)"

// ListBreakdowns lists breakdowns, the latest first.
func (s *Store) ListBreakdowns(ctx context.Context, q BreakdownQuery) ([]ListedBreakdown, error) {
	var out []ListedBreakdown
	err := s.listed(ctx, q).Order("d.id DESC").Limit(q.Most).Find(&out).Error
	return out, Translate(err)
}

func (s *Store) listed(ctx context.Context, q BreakdownQuery) *gorm.DB {
	db := s.on(ctx).Table("breakdowns d").Joins("JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id JOIN benches b ON b.id = d.bench_id").
		Where("d.shop_id = ?", q.ShopID).
		Select("d.*, l.lot_number, l.public_id AS lot_public_id, l.supplier, l.atlas_id, p.number AS piece_number, b.name AS bench_name, " +
			"COALESCE(JSON_UNQUOTE(JSON_EXTRACT(d.plan, '$.name')), d.plan_id) AS plan_name, COALESCE(" + cutters + ", '') AS cutters, " +
			"(SELECT MIN(e.at) FROM events e WHERE e.breakdown_id = d.id AND e.kind = 'opened') AS started_at")
	if q.Text != "" {
		ids := append([]string{"-"}, q.AtlasIDs...)
		db = db.Where("(LOCATE(?, l.lot_number) > 0 OR LOCATE(?, l.supplier) > 0 OR LOCATE(LOWER(?), LOWER(COALESCE(JSON_UNQUOTE(JSON_EXTRACT(d.plan, '$.name')), ''))) > 0 OR LOCATE(?, COALESCE("+cutters+", '')) > 0 OR l.atlas_id IN ?)",
			q.Text, q.Text, q.Text, q.Text, ids)
	}
	if q.State != "" {
		db = db.Where("d.state = ?", q.State)
	}
	if !q.From.IsZero() {
		db = db.Where("d.created_at >= ?", q.From)
	}
	if !q.To.IsZero() {
		db = db.Where("d.created_at < ?", q.To)
	}
	if q.After > 0 {
		db = db.Where("d.id < ?", q.After)
	}
	return db
}

// EventCount gives how many events a breakdown's log has.
func (s *Store) EventCount(ctx context.Context, shopID, breakdownID int64) (int, error) {
	var n int
	err := s.on(ctx).Raw("SELECT events FROM breakdowns WHERE shop_id = ? AND id = ?", shopID, breakdownID).Scan(&n).Error
	return n, Translate(err)
}
