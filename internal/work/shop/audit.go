package shop

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/store"
)

// TrailFilter says which changes are asked for; empty fields ask for all.
type TrailFilter struct {
	Member, Action, Bench, Text string
	From, To                    string // days, both included
	After                       string // where the page before ended
	Limit                       int
}

// trailPage is how many rows a page of the audit holds unless asked otherwise, and how many at most.
const (
	trailPage = 50
	trailMost = 500
)

// Trail lists who changed what, newest first, with the mark at which the next page goes on; empty after the last.
func (s *Service) Trail(ctx context.Context, f TrailFilter) ([]store.TrailRow, string, error) {
	shop, err := s.Current(ctx)
	if err != nil {
		return nil, "", err
	}
	q := store.TrailQuery{ShopID: shop.ID, Member: f.Member, Action: f.Action, Bench: f.Bench, Text: f.Text,
		Limit: f.Limit}
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
	q.From, q.To = shop.Span(day("from", f.From), day("to", f.To))
	if !q.From.IsZero() && !q.To.IsZero() && q.To.Before(q.From) {
		faults.Add("to", fault.New("", "before_from", "lies before the first day", "Exchange the two days."))
	}
	if q.Limit == 0 {
		q.Limit = trailPage
	}
	if q.Limit < 1 || q.Limit > trailMost {
		faults.Add("limit",
			fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", trailMost), "Fetch the next pages by their mark."))
	}
	for _, x := range [][2]string{{"member", f.Member}, {"action", f.Action}, {"bench", f.Bench}, {"text", f.Text}} {
		if len(x[1]) > 120 {
			faults.Add(x[0], fault.New("", "too_long", "is longer than 120 bytes", "Shorten it."))
		}
	}
	if f.After != "" {
		mark, ok := readMark(f.After)
		if !ok {
			faults.Add("after",
				fault.New("", "not_a_mark", "is not a mark of this list",
					"Send what the page before gave as next, or leave it out."))
		}
		q.After = &mark
	}
	if err := faults.Err(); err != nil {
		return nil, "", err
	}
	q.Limit++ // one more tells whether there is a next page
	rows, err := s.store.Trail(ctx, q)
	if err != nil || len(rows) < q.Limit {
		return rows, "", err
	}
	rows = rows[:q.Limit-1]
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
	f.Limit, f.After = trailMost, ""
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
