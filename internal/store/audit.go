package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strconv"
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
	Chain       string // hash of this row and of the chain before it; empty for rows older than the chain
}

// TableName is that of the schema.
func (Audit) TableName() string { return "audit" }

// Record adds a row to the audit, at the end of the shop's chain. The head of the chain is held until the transaction
// ends, so that rows are chained in the order in which they are committed; it is the last thing that a use case does.
func (s *Store) Record(ctx context.Context, a *Audit) error {
	return Translate(s.on(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Exec("INSERT IGNORE INTO audit_heads (shop_id, entries) VALUES (?, 0)", a.ShopID).Error; err != nil {
			return err
		}
		var chain string
		if err := tx.Raw("SELECT chain FROM audit_heads WHERE shop_id = ? FOR UPDATE", a.ShopID).Scan(&chain).
			Error; err != nil {
			return err
		}
		a.At = a.At.UTC().Truncate(time.Microsecond)
		a.Chain = a.link(chain)
		if err := tx.Create(a).Error; err != nil {
			return err
		}
		return tx.Exec("UPDATE audit_heads SET entries = entries + 1, chain = ? WHERE shop_id = ?", a.Chain, a.ShopID).Error
	}))
}

// link is the hash of a row and of the chain before it.
func (a *Audit) link(before string) string {
	h := sha256.New()
	text := func(raw *json.RawMessage) string {
		if raw == nil {
			return "-"
		}
		return string(*raw)
	}
	member := int64(0)
	if a.MemberID != nil {
		member = *a.MemberID
	}
	for _, part := range []string{before, strconv.FormatInt(a.ShopID, 10), a.At.UTC().Format(time.RFC3339Nano),
		strconv.FormatInt(member, 10), a.Name, a.Role, a.Via, a.Bench, a.Action, a.Subject, a.SubjectName, text(a.Was),
		text(a.Became), a.Request, a.Address} {
		fmt.Fprintf(h, "%d:%s;", len(part), part)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// AuditFlaws goes through the chain of a shop's audit and says where it does not hold: a row that was changed, taken
// out or put in, or rows that are missing at its end. head is where the chain ends, to be noted elsewhere.
func (s *Store) AuditFlaws(ctx context.Context, shopID int64) (flaws []string, entries int64, head string, err error) {
	var end struct {
		Entries int64
		Chain   string
	}
	if err := s.on(ctx).Raw("SELECT entries, chain FROM audit_heads WHERE shop_id = ?", shopID).Scan(&end).
		Error; err != nil {
		return nil, 0, "", Translate(err)
	}
	chain, n, after := "", int64(0), int64(0)
	for {
		var rows []Audit
		if err := s.on(ctx).Where("shop_id = ? AND id > ?", shopID, after).Order("id").Limit(auditAtOnce).Find(&rows).
			Error; err != nil {
			return flaws, n, head, Translate(err)
		}
		for i := range rows {
			r := &rows[i]
			n, after = n+1, r.ID
			switch want := r.link(chain); {
			case r.Chain == "" && chain == "": // from before the chain
			case r.Chain != want:
				flaws = append(flaws,
					fmt.Sprintf("audit row %d (%s): it, or the row before it, is not as it was written", r.ID, r.Action))
				chain = r.Chain
			default:
				chain = want
			}
		}
		if len(rows) < auditAtOnce {
			break
		}
	}
	if n != end.Entries || chain != end.Chain {
		flaws = append(flaws, fmt.Sprintf("the audit has %d rows, and %d were written", n, end.Entries))
	}
	return flaws, n, end.Chain, nil
}

// auditAtOnce is how many rows of the audit are read at once.
const auditAtOnce = 2000

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
	Limit  int
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

// Trail lists changes and bench events, newest first. The two are kept apart, each in its own append-only table, and
// read together: what happens at the bench is not written twice.
func (s *Store) Trail(ctx context.Context, q TrailQuery) ([]TrailRow, error) {
	var changes, events []TrailRow
	db := s.on(ctx).Table("audit a").Joins("LEFT JOIN members m ON m.id = a.member_id").Where("a.shop_id = ?", q.ShopID).
		Select("a.*, COALESCE(m.public_id, '') AS member, FALSE AS event")
	db = trailWhere(db, q, "a.at", "a.id", "a.bench", "a.action", "a.subject", "a.subject_name", false)
	if err := db.Order("a.at DESC, a.id DESC").Limit(q.Limit).Find(&changes).Error; err != nil {
		return nil, Translate(err)
	}
	db = s.on(ctx).Table("events e").Joins("LEFT JOIN members m ON m.id = e.member_id").
		Joins("JOIN benches b ON b.id = e.bench_id").
		Joins("JOIN breakdowns d ON d.id = e.breakdown_id JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id").
		Where("e.shop_id = ?", q.ShopID).
		Select(`e.id, e.shop_id, e.received_at AS at, e.member_id, COALESCE(m.name, '') AS name, e.role, 'bench' AS via,
			b.name AS bench,
			CONCAT('bench.', e.kind) AS action, d.public_id AS subject, CONCAT(l.lot_number, ' / ', p.number) AS
			subject_name, NULL AS was,
			JSON_OBJECT('part', e.part, 'product', e.product, 'net_g', e.net_mg / 1000, 'target', e.target, 'reason',
			e.reason, 'note', e.note) AS became,
			e.public_id AS request, '' AS address, COALESCE(m.public_id, '') AS member, TRUE AS event`)
	db = trailWhere(db, q, "e.received_at", "e.id", "b.name", "CONCAT('bench.', e.kind)", "d.public_id", "l.lot_number",
		true)
	if err := db.Order("e.received_at DESC, e.id DESC").Limit(q.Limit).Find(&events).Error; err != nil {
		return nil, Translate(err)
	}
	return merged(changes, events, q.Limit), nil
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
func merged(changes, events []TrailRow, limit int) []TrailRow {
	out := make([]TrailRow, 0, min(len(changes)+len(events), limit))
	for len(out) < limit && len(changes)+len(events) > 0 {
		if len(events) == 0 || (len(changes) > 0 && !changes[0].At.Before(events[0].At)) {
			out, changes = append(out, changes[0]), changes[1:]
		} else {
			out, events = append(out, events[0]), events[1:]
		}
	}
	return out
}
