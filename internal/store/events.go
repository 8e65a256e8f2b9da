package store

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
)

// Events gives a breakdown's log, oldest first.
// EventsOf lists the events of some breakdowns, each log in its order.
func (s *Store) EventsOf(ctx context.Context, shopID int64, breakdownIDs []int64) (map[int64][]Event, error) {
	out := make(map[int64][]Event, len(breakdownIDs))
	if len(breakdownIDs) == 0 {
		return out, nil
	}
	var rows []Event
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id IN ?", shopID, breakdownIDs).Order("breakdown_id, seq").
		Find(&rows).Error
	for _, e := range rows {
		out[e.BreakdownID] = append(out[e.BreakdownID], e)
	}
	return out, Translate(err)
}

func (s *Store) Events(ctx context.Context, shopID, breakdownID int64) ([]Event, error) {
	var out []Event
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Order("seq").Find(&out).Error
	return out, Translate(err)
}

// ErrBehind says that somebody else appended to the log since it was read.
var ErrBehind = errors.New("the log has grown since it was read")

// seenChanged is the number with which the server refuses to append, as something is not as it was seen. It is one of
// those that are left to programs.
const seenChanged = 40100

// Appended is an event that is to be added to the log of a breakdown, with what the log now folds to: the breakdown's
// own columns and its rows of the read table, before and after.
type Appended struct {
	Event         Event
	Breakdown     Breakdown
	Before, After []Output
	Result        *Result // what it brought, where it is now closed
	Reopened      bool    // what it brought holds no longer
	Seen          Seen
}

// Seen is what an event was checked against, by its versions: it is added only where they still stand.
type Seen struct {
	Lot, Shop int
	LotID     int64
	Hold      bool // nobody changes the lot before the event is in: what was worked out rests on it
	Caller    *SeenCaller
}

// SeenCaller is who asks, as they were known: the event is added only where they are still signed in so.
type SeenCaller struct {
	SessionID, ShopID, MemberID int64
	Role                        string
	Now, IdleSince              time.Time
}

// ErrSignedOut says that who asks is not signed in any more as they were known to be.
var ErrSignedOut = errors.New("who asks is not signed in any more")

// signedOut is the number with which the server refuses to append for somebody who is not signed in any more.
const signedOut = 40101

// stillSignedIn asks for a row where who asks is still signed in.
const stillSignedIn = "SELECT 1 FROM sessions s JOIN members m ON m.id = s.member_id LEFT JOIN devices d " +
	"ON d.id = s.device_id WHERE s.id = ? AND s.shop_id = ? AND s.member_id = ? AND m.role = ? AND m.active " +
	"AND s.ended_at IS NULL AND s.ends_at > ? AND s.seen_at > ? AND d.revoked_at IS NULL"

func (c SeenCaller) args() []any {
	return []any{c.SessionID, c.ShopID, c.MemberID, c.Role, c.Now, c.IdleSince}
}

// StillSignedIn gives [ErrSignedOut] where who asks is not signed in any more.
func (s *Store) StillSignedIn(ctx context.Context, c SeenCaller) error {
	var found []int
	err := s.on(ctx).Raw(stillSignedIn, c.args()...).Scan(&found).Error
	if err == nil && len(found) == 0 {
		return ErrSignedOut
	}
	return Translate(err)
}

// Append adds events, one each to the logs of different breakdowns, and writes what the logs now fold to, in one
// transaction and one round trip: the server runs all of it or none. An event whose Seq is taken gives ErrBehind, an id
// that any breakdown has used ErrDuplicate, and a caller of the first event who is gone ErrSignedOut; then nothing was
// written.
func (s *Store) Append(ctx context.Context, list ...Appended) error {
	if len(list) == 0 {
		return nil
	}
	c := &compound{}
	c.add("BEGIN NOT ATOMIC\nDECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END")
	c.add("START TRANSACTION")
	if who := list[0].Seen.Caller; who != nil {
		c.add("IF NOT EXISTS ("+stillSignedIn+") THEN SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = ?, "+
			"MESSAGE_TEXT = 'signed out'; END IF", append(who.args(), signedOut)...)
	}
	for _, a := range list {
		if err := c.append(a); err != nil {
			return err
		}
	}
	c.add("COMMIT")
	c.sql.WriteString("END")
	err := s.on(ctx).Exec(c.sql.String(), c.args...).Error
	var my *mysqldriver.MySQLError
	switch {
	case !errors.As(err, &my):
	case my.Number == signedOut:
		return ErrSignedOut
	case my.Number == seenChanged, my.Number == 1062 && strings.Contains(my.Message, "events_log"):
		return ErrBehind
	}
	return Translate(err)
}

// compound is one compound statement, built up.
type compound struct {
	sql  strings.Builder
	args []any
}

func (c *compound) add(statement string, values ...any) {
	c.sql.WriteString(statement)
	c.sql.WriteString(";\n")
	c.args = append(c.args, values...)
}

func (c *compound) append(a Appended) error {
	e, b := a.Event, a.Breakdown
	hold := ""
	if a.Seen.Hold {
		hold = " LOCK IN SHARE MODE"
	}
	c.add("IF (SELECT version FROM lots WHERE id = ?"+hold+") <> ? OR (SELECT version FROM shops WHERE id = ?) <> ? THEN "+
		"SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = ?, MESSAGE_TEXT = 'the lot or the shop was changed'; END IF",
		a.Seen.LotID, a.Seen.Lot, e.ShopID, a.Seen.Shop, seenChanged)
	var holds any
	if e.Holds != nil {
		holds = string(*e.Holds)
	}
	c.add("INSERT INTO events (public_id, shop_id, breakdown_id, seq, bench_id, member_id, kind, at, received_at, role, "+
		"node, part, product, net_mg, gross_mg, tare_mg, division_mg, source, count, target, reason, note, minutes, "+
		"temp_c, shared, step, block, holds) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, "+
		"?, ?, ?, ?, ?)",
		e.PublicID, e.ShopID, e.BreakdownID, e.Seq, e.BenchID, e.MemberID, e.Kind, e.At, e.ReceivedAt, e.Role, e.Node, e.Part,
		e.Product, e.NetMg, e.GrossMg, e.TareMg, e.DivisionMg, e.Source, e.Count, e.Target, e.Reason, e.Note, e.Minutes,
		e.TempC, e.Shared, e.Step, e.Block, holds)
	was := make(map[string]Output, len(a.Before))
	for _, o := range a.Before {
		was[o.Node] = o
	}
	for _, o := range a.After {
		old, known := was[o.Node]
		delete(was, o.Node)
		switch {
		case !known:
			c.add("INSERT INTO outputs (shop_id, breakdown_id, node, parent, kind, part, product, mass_mg, at) VALUES (?, ?, "+
				"?, ?, ?, ?, ?, ?, ?)",
				o.ShopID, o.BreakdownID, o.Node, o.Parent, o.Kind, o.Part, o.Product, o.MassMg, o.At)
		case old.MassMg != o.MassMg || old.Part != o.Part || old.Product != o.Product:
			c.add("UPDATE outputs SET mass_mg = ?, part = ?, product = ? WHERE breakdown_id = ? AND node = ?", o.MassMg, o.Part,
				o.Product, b.ID, o.Node)
		}
	}
	for node := range was {
		c.add("DELETE FROM outputs WHERE breakdown_id = ? AND node = ?", b.ID, node)
	}
	prices, err := json.Marshal(b.Prices)
	if err != nil {
		return err
	}
	c.add("UPDATE breakdowns SET state = ?, events = ?, input_mg = ?, output_mg = ?, added_mg = ?, loss_mg = ?, minutes "+
		"= ?, "+
		"closed_at = ?, gain_per_kg = ?, priced_at = ?, prices = ? WHERE id = ?",
		b.State, b.Events, b.InputMg, b.OutputMg, b.AddedMg, b.LossMg, b.Minutes, b.ClosedAt, b.GainPerKg, b.PricedAt,
		string(prices), b.ID)
	if a.Result != nil || a.Reopened {
		c.result(b.ID, a.Result)
	}
	return nil
}

// Outputs gives the read table of a breakdown.
func (s *Store) Outputs(ctx context.Context, shopID, breakdownID int64) ([]Output, error) {
	var out []Output
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// EventCount gives how many events a breakdown's log has.
func (s *Store) EventCount(ctx context.Context, shopID, breakdownID int64) (int, error) {
	var n int
	err := s.on(ctx).Raw("SELECT events FROM breakdowns WHERE shop_id = ? AND id = ?", shopID, breakdownID).Scan(&n).Error
	return n, Translate(err)
}

// Event is a row of the log.
type Event struct {
	ID          int64
	PublicID    string
	ShopID      int64
	BreakdownID int64
	Seq         int // counts the events of the breakdown, from 1
	BenchID     int64
	MemberID    *int64 // who did it; nil for what was booked before there was a sign-in
	Kind        string
	At          time.Time
	ReceivedAt  time.Time
	Role        string
	Node        string
	Part        string
	Product     string
	NetMg       int64
	GrossMg     int64
	TareMg      int64
	DivisionMg  int64
	Source      string
	Count       int
	Target      string
	Reason      string
	Note        string
	Minutes     *float64
	TempC       *float64
	Shared      int
	Step        string
	Block       string
	Holds       *json.RawMessage `gorm:"type:json"` // part → thousandths of a percent of its whole
}

// Output is a row of the read table of what lies on the board.
type Output struct {
	ID          int64
	ShopID      int64
	BreakdownID int64
	Node        string
	Parent      string
	Kind        string
	Part        string
	Product     string
	MassMg      int64
	At          time.Time
}
