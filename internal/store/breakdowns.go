package store

import (
	"context"
	"encoding/json"
	"time"

	"gorm.io/gorm"
)

// CreateBreakdown adds a breakdown. A piece has one at most: a second gives ErrDuplicate.
func (s *Store) CreateBreakdown(ctx context.Context, b *Breakdown) error {
	if err := s.on(ctx).Create(b).Error; err != nil {
		return Translate(err)
	}
	started := s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND id = ?", b.ShopID, b.PieceID).Update("started", true)
	return Translate(started.Error)
}

// Breakdown gives a breakdown by its public id.
func (s *Store) Breakdown(ctx context.Context, shopID int64, publicID string) (Breakdown, error) {
	var b Breakdown
	err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&b).Error
	return b, Translate(err)
}

// Judge notes that the methods of a breakdown stand.
func (s *Store) Judge(ctx context.Context, shopID, breakdownID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Breakdown{}).Where("shop_id = ? AND id = ?", shopID, breakdownID).Update("judged_at",
		at).Error)
}

// Breakdowns gives all breakdowns of a shop, oldest first.
func (s *Store) Breakdowns(ctx context.Context, shopID int64) ([]Breakdown, error) {
	var out []Breakdown
	err := s.on(ctx).Where("shop_id = ?", shopID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// Rewrite writes a breakdown's read tables anew: the columns that its events decide, and all of its rows.
func (s *Store) Rewrite(ctx context.Context, b Breakdown, rows []Output) error {
	return s.Tx(ctx, func(tx *Store) error {
		if err := tx.on(ctx).Where("breakdown_id = ?", b.ID).Delete(&Output{}).Error; err != nil {
			return err
		}
		if len(rows) > 0 {
			if err := tx.on(ctx).Create(&rows).Error; err != nil {
				return err
			}
		}
		return tx.on(ctx).Model(&Breakdown{ID: b.ID}).Select("State", "Events", "InputMg", "OutputMg", "LossMg", "Minutes",
			"ClosedAt").Updates(&b).Error
	})
}

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
	Limit    int
}

const cutters = "(SELECT GROUP_CONCAT(DISTINCT m.name ORDER BY m.name SEPARATOR ', ') FROM events e JOIN members m " +
	"ON m.id = e.member_id WHERE e.breakdown_id = d.id)"

// ListBreakdowns lists breakdowns, the latest first.
func (s *Store) ListBreakdowns(ctx context.Context, q BreakdownQuery) ([]ListedBreakdown, error) {
	var out []ListedBreakdown
	err := s.listed(ctx, q).Order("d.id DESC").Limit(q.Limit).Find(&out).Error
	return out, Translate(err)
}

func (s *Store) listed(ctx context.Context, q BreakdownQuery) *gorm.DB {
	db := s.on(ctx).Table("breakdowns d").
		Joins("JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id JOIN benches b ON b.id = d.bench_id").
		Where("d.shop_id = ?", q.ShopID).
		Select("d.*, l.lot_number, l.public_id AS lot_public_id, l.supplier, l.atlas_id, p.number AS piece_number, b.name " +
			"AS bench_name, " +
			"COALESCE(JSON_UNQUOTE(JSON_EXTRACT(d.plan, '$.name')), d.plan_id) AS plan_name, COALESCE(" + cutters +
			", '') AS cutters, " +
			"(SELECT MIN(e.at) FROM events e WHERE e.breakdown_id = d.id AND e.kind = 'opened') AS started_at")
	if q.Text != "" {
		ids := append([]string{"-"}, q.AtlasIDs...)
		db = db.Where("(LOCATE(?, l.lot_number) > 0 OR LOCATE(?, l.supplier) > 0 OR LOCATE(LOWER(?), "+
			"LOWER(COALESCE(JSON_UNQUOTE(JSON_EXTRACT(d.plan, '$.name')), ''))) > 0 OR LOCATE(?, COALESCE("+cutters+
			", '')) > 0 OR l.atlas_id IN ?)", q.Text, q.Text, q.Text, q.Text, ids)
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

// PastShare is what a part or product weighed on an earlier piece, in percent of it.
type PastShare struct {
	BreakdownID int64
	ID          string // of the part or product; "loss" for the loss
	Pct         float64
}

// PastShares gives what came straight off the latest closed pieces of a kind that were cut by a plan, leaving one out.
func (s *Store) PastShares(ctx context.Context, shopID int64, atlasID, planID string, except int64,
	limit int) ([]PastShare, error) {
	var out []PastShare
	err := s.on(ctx).
		Raw(`WITH past AS (SELECT d.id, d.input_mg, d.loss_mg FROM breakdowns d JOIN pieces p ON p.id = d.piece_id JOIN
			lots l ON l.id = p.lot_id
			WHERE d.shop_id = ? AND l.atlas_id = ? AND d.plan_id = ? AND d.state = 'closed' AND d.id <> ? AND d.input_mg > 0
			ORDER BY d.closed_at DESC LIMIT ?)
		SELECT d.id AS breakdown_id, CONCAT(o.part, o.product) AS id, SUM(o.mass_mg) / d.input_mg * 100 AS pct FROM past d
			JOIN outputs r ON r.breakdown_id = d.id AND r.parent = '' JOIN outputs o ON o.breakdown_id = d.id AND o.parent =
			r.node
			WHERE o.part <> '' OR o.product <> '' GROUP BY d.id, o.part, o.product
		UNION ALL SELECT d.id, 'loss', d.loss_mg / d.input_mg * 100 FROM past d`, shopID, atlasID, planID, except, limit).
		Scan(&out).Error
	return out, Translate(err)
}

// Breakdown is the taking apart of one piece. From State on its columns are what its events fold to.
type Breakdown struct {
	ID        int64
	PublicID  string
	ShopID    int64
	PieceID   int64
	BenchID   int64
	PlanID    string
	Plan      *json.RawMessage `gorm:"type:json"` // the whole plan as it was when the piece went on the bench
	CreatedAt time.Time
	JudgedAt  *time.Time
	PricedAt  *time.Time
	Prices    *Pricing `gorm:"serializer:json"`
	State     string
	Events    int
	InputMg   int64
	OutputMg  int64
	LossMg    int64
	Minutes   float64
	ClosedAt  *time.Time
	GainPerKg *string
	BatchID   *int64
}
