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
	trailPage    = 50
	maxTrailPage = 500
)

// Trail lists who changed what, newest first. A filter looks through a stretch of time at once; what it finds may be
// less than a page, also nothing, and the mark goes on behind it.
func (s *Service) Trail(ctx context.Context, f TrailFilter) (Trail, error) {
	shop, err := s.Current(ctx)
	if err != nil {
		return Trail{}, err
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
	if q.Limit < 1 || q.Limit > maxTrailPage {
		faults.Add("limit",
			fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", maxTrailPage),
				"Fetch the next pages by their mark."))
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
		return Trail{}, err
	}
	rows, next, err := s.store.Trail(ctx, q)
	if err != nil || next == nil {
		return Trail{Rows: rows}, err
	}
	return Trail{rows, markOf(*next), &next.At}, nil
}

// Trail is a page of the audit.
type Trail struct {
	Rows       []store.TrailRow
	Next       string     // the mark at which the next page goes on; empty after the last
	SearchedTo *time.Time // how far back was looked; nil where all was
}

func markOf(m store.TrailMark) string {
	kind := "c"
	if m.Event {
		kind = "e"
	}
	return fmt.Sprintf("%d.%s.%d", m.At.UnixMicro(), kind, m.ID)
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
	f.Limit, f.After = maxTrailPage, ""
	for {
		page, err := s.Trail(ctx, f)
		if err != nil {
			return err
		}
		for _, r := range page.Rows {
			if err := each(r); err != nil {
				return err
			}
		}
		if page.Next == "" {
			return nil
		}
		f.After = page.Next
	}
}
