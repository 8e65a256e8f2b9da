package store

import (
	"context"
	"encoding/json"
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
	Text     string   // in lot, supplier or plan
	AtlasIDs []string // pieces whose names hold the text
	Members  []int64  // people whose names hold the text
	State    string
	From, To time.Time // by when it was put on the bench
	After    *BreakdownMark
	Limit    int
}

// BreakdownMark is a place in the list of breakdowns, the latest first.
type BreakdownMark struct {
	At time.Time
	ID int64
}

// PastShare is what a part or product weighed on an earlier piece, in percent of it.
type PastShare struct {
	BreakdownID int64
	ID          string // of the part or product; "loss" for the loss
	Pct         float64
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
	AddedMg   int64 // ingredients
	LossMg    int64
	Minutes   float64
	ClosedAt  *time.Time
	GainPerKg *string
	BatchID   *int64
}

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
		return tx.on(ctx).Model(&Breakdown{ID: b.ID}).Select("State", "Events", "InputMg", "OutputMg", "AddedMg", "LossMg",
			"Minutes", "ClosedAt").Updates(&b).Error
	})
}

// BreakdownsNamed gives breakdowns of a shop by their public ids.
func (s *Store) BreakdownsNamed(ctx context.Context, shopID int64, publicIDs []string) (map[string]Breakdown, error) {
	var rows []Breakdown
	err := s.on(ctx).Where("shop_id = ? AND public_id IN ?", shopID, publicIDs).Find(&rows).Error
	out := make(map[string]Breakdown, len(rows))
	for _, b := range rows {
		out[b.PublicID] = b
	}
	return out, Translate(err)
}

// breakdownWindow is how many breakdowns a search for a text looks through at once.
const breakdownWindow = 300

const cutters = "(SELECT GROUP_CONCAT(DISTINCT m.name ORDER BY m.name SEPARATOR ', ') FROM events e " +
	"JOIN members m ON m.id = e.member_id WHERE e.breakdown_id = d.id)"

// ListBreakdowns lists breakdowns, the latest first, and where the next page goes on; nil after the last. Ids come
// first and only a page of them is joined; a text is looked for in a bounded stretch of the list, which may hold less
// than a page.
func (s *Store) ListBreakdowns(ctx context.Context, q BreakdownQuery) ([]ListedBreakdown, *BreakdownMark, error) {
	window := q.Limit + 1
	if q.Text != "" {
		window = max(window, breakdownWindow)
	}
	var ids []struct {
		ID        int64
		CreatedAt time.Time
	}
	err := s.breakdownIDs(ctx, q).Limit(window).Scan(&ids).Error
	if err != nil || len(ids) == 0 {
		return nil, nil, Translate(err)
	}
	list := make([]int64, len(ids))
	for i, x := range ids {
		list[i] = x.ID
	}
	var end *BreakdownMark
	if last := ids[len(ids)-1]; len(ids) == window {
		end = &BreakdownMark{last.CreatedAt, last.ID}
	}
	if q.Text != "" {
		if list, err = s.breakdownsWith(ctx, q, list); err != nil || len(list) == 0 {
			return nil, end, err
		}
	}
	more := len(list) > q.Limit
	if more {
		list = list[:q.Limit]
	}
	var out []ListedBreakdown
	err = s.on(ctx).Raw(`SELECT d.*, l.lot_number, l.public_id AS lot_public_id, l.supplier, l.atlas_id,
		p.number AS piece_number, b.name AS bench_name,
		COALESCE(JSON_UNQUOTE(JSON_EXTRACT(d.plan, '$.name')), d.plan_id) AS plan_name, COALESCE(`+cutters+`, '') AS cutters,
		(SELECT MIN(e.at) FROM events e WHERE e.breakdown_id = d.id AND e.kind = 'opened') AS started_at
		FROM breakdowns d JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id JOIN benches b ON b.id =
		d.bench_id
		WHERE d.id IN ? ORDER BY d.created_at DESC, d.id DESC`, list).Scan(&out).Error
	if more && len(out) > 0 {
		end = &BreakdownMark{out[len(out)-1].CreatedAt, out[len(out)-1].ID}
	}
	return out, end, Translate(err)
}

// breakdownIDs asks for the ids of breakdowns in the order of the list, whatever text is wanted.
func (s *Store) breakdownIDs(ctx context.Context, q BreakdownQuery) *gorm.DB {
	db := s.on(ctx).Table("breakdowns").Select("id, created_at").Where("shop_id = ?", q.ShopID)
	if q.State != "" {
		db = db.Where("state = ?", q.State)
	}
	if !q.From.IsZero() {
		db = db.Where("created_at >= ?", q.From)
	}
	if !q.To.IsZero() {
		db = db.Where("created_at < ?", q.To)
	}
	if q.After != nil {
		db = db.Where("created_at <= ? AND (created_at < ? OR id < ?)", q.After.At, q.After.At, q.After.ID)
	}
	return db.Order("created_at DESC, id DESC")
}

// breakdownsWith gives those of some breakdowns whose lot, supplier, plan, piece or cutter holds the text.
func (s *Store) breakdownsWith(ctx context.Context, q BreakdownQuery, ids []int64) ([]int64, error) {
	db := s.on(ctx).Table("breakdowns d").Joins("JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id")
	fits := s.on(ctx).Where("LOCATE(?, l.lot_number) > 0", q.Text).Or("LOCATE(?, l.supplier) > 0", q.Text).
		Or("LOCATE(LOWER(?), LOWER(COALESCE(JSON_UNQUOTE(JSON_EXTRACT(d.plan, '$.name')), ''))) > 0", q.Text)
	if len(q.AtlasIDs) > 0 {
		fits = fits.Or("l.atlas_id IN ?", q.AtlasIDs)
	}
	if len(q.Members) > 0 {
		fits = fits.Or("EXISTS (SELECT 1 FROM events e WHERE e.breakdown_id = d.id AND e.member_id IN ?)", q.Members)
	}
	var out []int64
	err := db.Where("d.id IN ?", ids).Where(fits).Order("d.created_at DESC, d.id DESC").Limit(q.Limit+1).Pluck("d.id",
		&out).
		Error
	return out, Translate(err)
}

// PastShares gives what came straight off the latest closed pieces of a kind that were cut by a plan, leaving one out.
func (s *Store) PastShares(ctx context.Context, shopID int64, atlasID, planID string, except int64,
	limit int) ([]PastShare, error) {
	var out []PastShare
	err := s.on(ctx).Raw(`WITH past AS (SELECT breakdown_id AS id, input_mg, loss_mg FROM results
			WHERE shop_id = ? AND atlas_id = ? AND plan_id = ? AND breakdown_id <> ? AND input_mg > 0
			ORDER BY closed_at DESC LIMIT ?)
		SELECT d.id AS breakdown_id, CONCAT(o.part, o.product) AS id, SUM(o.mass_mg) / d.input_mg * 100 AS pct FROM past d
			JOIN outputs r ON r.breakdown_id = d.id AND r.parent = '' JOIN outputs o ON o.breakdown_id = d.id AND o.parent =
			r.node
			WHERE o.part <> '' OR o.product <> '' GROUP BY d.id, o.part, o.product
		UNION ALL SELECT d.id, 'loss', d.loss_mg / d.input_mg * 100 FROM past d`, shopID, atlasID, planID, except, limit).
		Scan(&out).Error
	return out, Translate(err)
}

// MoveBreakdown puts a breakdown on another bench.
func (s *Store) MoveBreakdown(ctx context.Context, shopID, id, benchID int64) error {
	return changed(s.on(ctx).Model(&Breakdown{}).Where("shop_id = ? AND id = ? AND state <> 'closed'", shopID, id).
		Update("bench_id", benchID))
}
