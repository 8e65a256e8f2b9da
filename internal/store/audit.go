package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"gorm.io/gorm"
)

// Audit is one change and who made it.
type Audit struct {
	ID          int64
	ShopID      int64
	At          time.Time
	MemberID    *int64
	Name        string
	Role        string
	Via         string
	Bench       string
	Action      string
	Subject     string
	SubjectName string
	Was         *json.RawMessage `gorm:"type:json"`
	Became      *json.RawMessage `gorm:"type:json"`
	Request     string
	Address     string
}

// TableName is that of the schema.
func (Audit) TableName() string { return "audit" }

// Record adds a row to the audit.
func (s *Store) Record(ctx context.Context, a *Audit) error {
	return Translate(s.on(ctx).Create(a).Error)
}

// TrailQuery says which rows of the trail are wanted: all fields that are set must fit.
type TrailQuery struct {
	ShopID int64
	Member string // public id of a member
	Action string // the action, or the part of it before a point
	Bench  string // name
	Text   string // in the subject or its name
	From   time.Time
	To     time.Time
	After  *TrailMark // rows older than this one
	Most   int
}

// TrailMark is a place in the trail: newest first, at the same time the audit before the log.
type TrailMark struct {
	At    time.Time
	Event bool
	ID    int64
}

// TrailRow is a change, or an event of a bench's log.
type TrailRow struct {
	Audit
	Event  bool
	Member string // public id
}

// Trail lists changes and bench events, newest first. The two are kept apart, each in its own append-only table, and read
// together: what happens at the bench is not written twice.
func (s *Store) Trail(ctx context.Context, q TrailQuery) ([]TrailRow, error) {
	var changes, events []TrailRow
	db := s.on(ctx).Table("audit a").Joins("LEFT JOIN members m ON m.id = a.member_id").Where("a.shop_id = ?", q.ShopID).
		Select("a.*, COALESCE(m.public_id, '') AS member, FALSE AS event")
	db = trailWhere(db, q, "a.at", "a.id", "a.bench", "a.action", "a.subject", "a.subject_name", false)
	if err := db.Order("a.at DESC, a.id DESC").Limit(q.Most).Find(&changes).Error; err != nil {
		return nil, Translate(err)
	}
	db = s.on(ctx).Table("events e").Joins("LEFT JOIN members m ON m.id = e.member_id").Joins("JOIN benches b ON b.id = e.bench_id").
		Joins("JOIN breakdowns d ON d.id = e.breakdown_id JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id").Where("e.shop_id = ?", q.ShopID).
		Select(`e.id, e.shop_id, e.received_at AS at, e.member_id, COALESCE(m.name, '') AS name, e.role, 'bench' AS via, b.name AS bench,
			CONCAT('bench.', e.kind) AS action, d.public_id AS subject, CONCAT(l.lot_number, ' / ', p.number) AS subject_name, NULL AS was,
			JSON_OBJECT('part', e.part, 'product', e.product, 'net_g', e.net_mg / 1000, 'target', e.target, 'reason', e.reason, 'note', e.note) AS became,
			e.public_id AS request, '' AS address, COALESCE(m.public_id, '') AS member, TRUE AS event`)
	db = trailWhere(db, q, "e.received_at", "e.id", "b.name", "CONCAT('bench.', e.kind)", "d.public_id", "l.lot_number", true)
	if err := db.Order("e.received_at DESC, e.id DESC").Limit(q.Most).Find(&events).Error; err != nil {
		return nil, Translate(err)
	}
	return merged(changes, events, q.Most), nil
}

func trailWhere(db *gorm.DB, q TrailQuery, at, id, bench, action, subject, name string, event bool) *gorm.DB {
	if q.Member != "" {
		db = db.Where("m.public_id = ?", q.Member)
	}
	if q.Action != "" {
		db = db.Where(fmt.Sprintf("(%s = ? OR %s LIKE ?)", action, action), q.Action, q.Action+".%")
	}
	if q.Bench != "" {
		db = db.Where(bench+" = ?", q.Bench)
	}
	if q.Text != "" {
		db = db.Where(fmt.Sprintf("(LOCATE(?, %s) > 0 OR LOCATE(?, %s) > 0)", subject, name), q.Text, q.Text)
	}
	if !q.From.IsZero() {
		db = db.Where(at+" >= ?", q.From)
	}
	if !q.To.IsZero() {
		db = db.Where(at+" < ?", q.To)
	}
	if q.After == nil {
		return db
	}
	switch {
	case q.After.Event == event:
		return db.Where(fmt.Sprintf("(%s < ? OR (%s = ? AND %s < ?))", at, at, id), q.After.At, q.After.At, q.After.ID)
	case event: // events come after the changes of the same time
		return db.Where(at+" <= ?", q.After.At)
	default:
		return db.Where(at+" < ?", q.After.At)
	}
}

// merged puts two lists, each newest first, together.
func merged(changes, events []TrailRow, most int) []TrailRow {
	out := make([]TrailRow, 0, min(len(changes)+len(events), most))
	for len(out) < most && len(changes)+len(events) > 0 {
		if len(events) == 0 || (len(changes) > 0 && !changes[0].At.Before(events[0].At)) {
			out, changes = append(out, changes[0]), changes[1:]
		} else {
			out, events = append(out, events[0]), events[1:]
		}
	}
	return out
}
