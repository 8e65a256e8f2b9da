package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
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
	Action string // the action, or the part of it before a point; after a minus sign, everything but that
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

// trailWindow is how many rows of each table a filtered question looks through at once; the next page goes on behind
// them.
const trailWindow = 800

// Trail lists changes and bench events, newest first, and where the next page goes on; nil after the last. The two are
// kept apart, each in its own append-only table, and read together: what happens at the bench is not written twice. Ids
// come first, by the index of time, and only the rows of a page are joined. A filter looks through a bounded stretch of
// time and may find less than a page holds; the mark then says how far it came.
func (s *Store) Trail(ctx context.Context, q TrailQuery) ([]TrailRow, *TrailMark, error) {
	var streams [2]trailStream
	for i, table := range []trailTable{auditTable, eventTable} {
		var err error
		if streams[i], err = s.trailOf(ctx, q, table); err != nil {
			return nil, nil, err
		}
	}
	rows := merged(streams[0].rows, streams[1].rows)
	var end *TrailMark // what lies behind it was not looked through in both
	for _, x := range streams {
		if x.end != nil && (end == nil || end.older(*x.end)) {
			end = x.end
		}
	}
	if end != nil {
		rows = slices.DeleteFunc(rows, func(r TrailRow) bool { return r.mark().older(*end) })
	}
	if len(rows) > q.Limit {
		rows = rows[:q.Limit]
		last := rows[q.Limit-1].mark()
		return rows, &last, nil
	}
	return rows, end, nil
}

func (r TrailRow) mark() TrailMark { return TrailMark{At: r.At, Event: r.Event, ID: r.ID} }

// older says whether a mark stands behind another: newest first, at the same time the audit before the log.
func (m TrailMark) older(o TrailMark) bool {
	switch {
	case !m.At.Equal(o.At):
		return m.At.Before(o.At)
	case m.Event != o.Event:
		return m.Event
	default:
		return m.ID < o.ID
	}
}

// trailTable is one of the two tables with what its columns are called.
type trailTable struct {
	event                                   bool
	name, at, action, bench, subject, title string
	joined                                  string // what its rows are joined with, and what of them is shown
}

var (
	auditTable = trailTable{name: "audit", at: "at", action: "x.action", bench: "x.bench", subject: "x.subject",
		title: "COALESCE(o.name, x.subject_name)", joined: `SELECT x.id, x.shop_id, x.at, x.member_id,
			IF(x.via = 'token', x.name, COALESCE(m.name, x.name)) AS name, x.role, x.via, x.bench, x.action, x.subject,
			COALESCE(o.name, x.subject_name) AS subject_name,
			IF(o.pseudonym_at IS NULL, x.was, JSON_REMOVE(x.was, '$.name', '$.email')) AS was,
			IF(o.pseudonym_at IS NULL, x.became, JSON_REMOVE(x.became, '$.name', '$.email')) AS became,
			x.request, IF(m.pseudonym_at IS NULL, x.address, '') AS address, COALESCE(m.public_id, '') AS member,
			FALSE AS event
			FROM audit x LEFT JOIN members m ON m.id = x.member_id
			LEFT JOIN members o ON o.public_id = CONVERT(x.subject USING ascii) AND o.shop_id = x.shop_id`}
	eventTable = trailTable{event: true, name: "events", at: "received_at", action: "CONCAT('bench.', x.kind)",
		bench: "b.name", subject: "d.public_id", title: "l.lot_number", joined: `SELECT x.id, x.shop_id,
			x.received_at AS at, x.member_id, COALESCE(m.name, '') AS name, x.role, 'bench' AS via, b.name AS bench,
			CONCAT('bench.', x.kind) AS action, d.public_id AS subject,
			CONCAT(l.lot_number, ' / ', p.number) AS subject_name, NULL AS was,
			JSON_OBJECT('part', x.part, 'product', x.product, 'net_g', x.net_mg / 1000, 'target', x.target,
				'reason', x.reason, 'note', x.note) AS became,
			x.public_id AS request, '' AS address, COALESCE(m.public_id, '') AS member, TRUE AS event
			FROM events x LEFT JOIN members m ON m.id = x.member_id JOIN benches b ON b.id = x.bench_id
			JOIN breakdowns d ON d.id = x.breakdown_id JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id`}
)

// trailStream is what one table holds of a page; end is the last row that was looked at, where there are more.
type trailStream struct {
	rows []TrailRow
	end  *TrailMark
}

func (s *Store) trailOf(ctx context.Context, q TrailQuery, t trailTable) (trailStream, error) {
	var out trailStream
	window := q.Limit + 1
	if q.filters() {
		window = max(window, trailWindow)
	}
	var ids []struct {
		ID int64
		At time.Time
	}
	db := s.on(ctx).Table(t.name+" x").Select("x.id, x."+t.at+" AS at").Where("x.shop_id = ?", q.ShopID)
	db = trailSpan(db, q, "x."+t.at, t.event)
	err := db.Order("x." + t.at + " DESC, x.id DESC").Limit(window).Scan(&ids).Error
	if err != nil || len(ids) == 0 {
		return out, Translate(err)
	}
	list := make([]int64, len(ids))
	for i, x := range ids {
		list[i] = x.ID
	}
	if last := ids[len(ids)-1]; len(ids) == window {
		out.end = &TrailMark{At: last.At, Event: t.event, ID: last.ID}
	}
	where, args := t.where(q)
	err = s.on(ctx).Raw(t.joined+" WHERE x.id IN ?"+where+" ORDER BY x."+t.at+" DESC, x.id DESC LIMIT ?",
		append(append([]any{list}, args...), q.Limit+1)...).Scan(&out.rows).Error
	return out, Translate(err)
}

// filters says whether anything but a stretch of time is asked for.
func (q TrailQuery) filters() bool { return q.Member+q.Action+q.Bench+q.Text != "" }

// where is the condition of a question on the joined rows.
func (t trailTable) where(q TrailQuery) (string, []any) {
	var sql string
	var args []any
	add := func(wanted bool, condition string, values ...any) {
		if wanted {
			sql, args = sql+" AND "+condition, append(args, values...)
		}
	}
	add(q.Member != "", "m.public_id = ?", q.Member)
	kind, but := strings.CutPrefix(q.Action, "-")
	add(kind != "" && !but, fmt.Sprintf("(%s = ? OR %s LIKE ?)", t.action, t.action), kind, kind+".%")
	add(kind != "" && but, fmt.Sprintf("%s <> ? AND %s NOT LIKE ?", t.action, t.action), kind, kind+".%")
	add(q.Bench != "", t.bench+" = ?", q.Bench)
	add(q.Text != "", fmt.Sprintf("(LOCATE(?, %s) > 0 OR LOCATE(?, %s) > 0)", t.subject, t.title), q.Text, q.Text)
	return sql, args
}

// trailSpan narrows a question to its stretch of time, behind its mark.
func trailSpan(db *gorm.DB, q TrailQuery, at string, event bool) *gorm.DB {
	if !q.From.IsZero() {
		db = db.Where(at+" >= ?", q.From)
	}
	if !q.To.IsZero() {
		db = db.Where(at+" < ?", q.To)
	}
	switch {
	case q.After == nil:
		return db
	case q.After.Event == event:
		return db.Where(fmt.Sprintf("%s <= ? AND (%s < ? OR x.id < ?)", at, at), q.After.At, q.After.At, q.After.ID)
	case event: // events come after the changes of the same time
		return db.Where(at+" <= ?", q.After.At)
	default:
		return db.Where(at+" < ?", q.After.At)
	}
}

// merged puts two lists, each newest first, together.
func merged(changes, events []TrailRow) []TrailRow {
	out := make([]TrailRow, 0, len(changes)+len(events))
	for len(changes)+len(events) > 0 {
		if len(events) == 0 || (len(changes) > 0 && !changes[0].At.Before(events[0].At)) {
			out, changes = append(out, changes[0]), changes[1:]
		} else {
			out, events = append(out, events[0]), events[1:]
		}
	}
	return out
}
