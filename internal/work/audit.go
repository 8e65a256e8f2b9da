package work

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"
	"strconv"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/words"
	"falda/internal/store"
)

// change is what a use case changed, as the audit keeps it. Was and Became must hold no secret.
type change struct {
	Action      string // such as "price.set": what kind of thing, a point, what was done
	Subject     string // public id or key of the thing
	SubjectName string
	Was, Became any
}

// recorded runs f in a transaction and writes what it changed to the audit in the same one: there is no change without its
// row, and no row without its change. An empty change records nothing.
func (s *Service) recorded(ctx context.Context, f func(tx *store.Store) (change, error)) error {
	return s.store.Tx(ctx, func(tx *store.Store) error {
		c, err := f(tx)
		if err != nil || c.Action == "" {
			return err
		}
		who, err := caller(ctx)
		if err != nil {
			return err
		}
		return s.record(ctx, tx, who, c)
	})
}

func (s *Service) record(ctx context.Context, tx *store.Store, who Caller, c change) error {
	row := store.Audit{ShopID: who.ShopID, At: s.now(), Name: words.Truncate(who.Name, 80), Role: who.Role, Via: who.Via, Bench: who.BenchName, Action: c.Action,
		Subject: words.Truncate(c.Subject, 90), SubjectName: words.Truncate(c.SubjectName, 120), Request: words.Truncate(who.Where.Request, 64), Address: words.Truncate(who.Where.Address, 64)}
	if who.MemberID != 0 {
		row.MemberID = &who.MemberID
	}
	var err error
	if row.Was, err = kept(c.Was); err != nil {
		return err
	}
	if row.Became, err = kept(c.Became); err != nil {
		return err
	}
	return tx.Record(ctx, &row)
}

func kept(v any) (*json.RawMessage, error) {
	if v == nil || (reflect.ValueOf(v).Kind() == reflect.Map && reflect.ValueOf(v).IsNil()) {
		return nil, nil
	}
	raw, err := json.Marshal(v)
	return (*json.RawMessage)(&raw), err
}

// TrailFilter says which changes are asked for; empty fields ask for all.
type TrailFilter struct {
	Member, Action, Bench, Text string
	From, To                    string // days, both included
	After                       string // where the page before ended
	Most                        int
}

// trailPage is how many rows a page of the audit holds unless asked otherwise, and how many at most.
const (
	trailPage = 50
	trailMost = 500
)

// Trail lists who changed what, newest first, with the mark at which the next page goes on; empty after the last.
func (s *Service) Trail(ctx context.Context, f TrailFilter) ([]store.TrailRow, string, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return nil, "", err
	}
	q := store.TrailQuery{ShopID: shop.ID, Member: f.Member, Action: f.Action, Bench: f.Bench, Text: f.Text, Most: f.Most}
	var faults fault.List
	day := func(field, text string) time.Time {
		if text == "" {
			return time.Time{}
		}
		t, err := time.Parse(time.DateOnly, text)
		if err != nil {
			faults.Add(field, fault.New("", "not_a_day", fault.Quote(text)+" is not a day", "Write it as YYYY-MM-DD."))
		} else if t.Year() < 1970 || t.Year() > 9000 {
			faults.Add(field, fault.New("", "out_of_range", "is no day of this age", "Check the year."))
		}
		return t
	}
	q.From, q.To = shop.days(day("from", f.From), day("to", f.To))
	if !q.From.IsZero() && !q.To.IsZero() && q.To.Before(q.From) {
		faults.Add("to", fault.New("", "before_from", "lies before the first day", "Exchange the two days."))
	}
	if q.Most == 0 {
		q.Most = trailPage
	}
	if q.Most < 1 || q.Most > trailMost {
		faults.Add("most", fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", trailMost), "Fetch the next pages by their mark."))
	}
	for _, x := range [][2]string{{"member", f.Member}, {"action", f.Action}, {"bench", f.Bench}, {"text", f.Text}} {
		if len(x[1]) > 120 {
			faults.Add(x[0], fault.New("", "too_long", "is longer than 120 bytes", "Shorten it."))
		}
	}
	if f.After != "" {
		mark, ok := readMark(f.After)
		if !ok {
			faults.Add("after", fault.New("", "not_a_mark", "is not a mark of this list", "Send what the page before gave as next, or leave it out."))
		}
		q.After = &mark
	}
	if err := faults.Err(); err != nil {
		return nil, "", err
	}
	q.Most++ // one more tells whether there is a next page
	rows, err := s.store.Trail(ctx, q)
	if err != nil || len(rows) < q.Most {
		return rows, "", err
	}
	rows = rows[:q.Most-1]
	last := rows[len(rows)-1]
	return rows, markOf(last), nil
}

func markOf(r store.TrailRow) string {
	kind := "c"
	if r.Event {
		kind = "e"
	}
	return fmt.Sprintf("%d.%s.%d", r.At.UnixMicro(), kind, r.ID)
}

func readMark(text string) (store.TrailMark, bool) {
	parts := strings.Split(text, ".")
	if len(parts) != 3 || (parts[1] != "c" && parts[1] != "e") {
		return store.TrailMark{}, false
	}
	at, err1 := strconv.ParseInt(parts[0], 10, 64)
	id, err2 := strconv.ParseInt(parts[2], 10, 64)
	m := store.TrailMark{At: time.UnixMicro(at).UTC(), Event: parts[1] == "e", ID: id}
	return m, err1 == nil && err2 == nil && m.At.Year() > 1970 && m.At.Year() < 9999
}

// WholeTrail calls back for every row that a filter asks for, newest first, page by page.
func (s *Service) WholeTrail(ctx context.Context, f TrailFilter, each func(store.TrailRow) error) error {
	f.Most, f.After = trailMost, ""
	for {
		rows, next, err := s.Trail(ctx, f)
		if err != nil {
			return err
		}
		for _, r := range rows {
			if err := each(r); err != nil {
				return err
			}
		}
		if next == "" {
			return nil
		}
		f.After = next
	}
}
