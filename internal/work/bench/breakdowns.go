package bench

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// BreakdownFilter says which breakdowns are asked for; empty fields ask for all.
type BreakdownFilter struct {
	Text, State string
	From, To    string // days, both included
	After       string // where the page before ended
	Limit       int
}

// pageOfBreakdowns is how many a page holds.
const pageOfBreakdowns = 50

// BreakdownRow is a breakdown in the list.
type BreakdownRow struct {
	store.ListedBreakdown
	Piece   string // as the shop's market says it
	Carcass bool
	Gain    *measure.Money // as on its card
}

// Breakdowns lists breakdowns, the latest first. A text is looked for in a stretch of the list at once; what is found
// may be less than a page, also nothing, and the mark goes on behind it.
func (s *Service) Breakdowns(ctx context.Context, f BreakdownFilter) (BreakdownPage, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BreakdownPage{}, err
	}
	q, err := f.read(shop)
	if err != nil {
		return BreakdownPage{}, err
	}
	if q.Text != "" {
		for _, p := range s.atlas.Pieces {
			if strings.Contains(strings.ToLower(p.Name+" "+p.NameIn(shop.Market)), strings.ToLower(q.Text)) {
				q.AtlasIDs = append(q.AtlasIDs, p.ID)
			}
		}
		if q.Members, err = s.membersNamed(ctx, shop.ID, q.Text); err != nil {
			return BreakdownPage{}, err
		}
	}
	rows, next, err := s.store.ListBreakdowns(ctx, q)
	if err != nil {
		return BreakdownPage{}, err
	}
	out := make([]BreakdownRow, len(rows))
	for i, r := range rows {
		out[i] = BreakdownRow{ListedBreakdown: r, Piece: r.AtlasID, Gain: stock.Gain(shop.Shop, &r.Breakdown),
			Carcass: s.atlas.IsCarcass(r.AtlasID)}
		if p, ok := s.atlas.Find(r.AtlasID); ok {
			out[i].Piece = p.NameIn(shop.Market)
		}
	}
	page := BreakdownPage{Rows: out}
	if next != nil {
		page.Next, page.SearchedTo = fmt.Sprintf("%d.%d", next.At.UnixMicro(), next.ID), &next.At
	}
	return page, nil
}

// read reads what is asked into a query.
func (f BreakdownFilter) read(shop shop.WithPlans) (store.BreakdownQuery, error) {
	q := store.BreakdownQuery{ShopID: shop.ID, Text: strings.TrimSpace(f.Text), State: f.State, Limit: pageOfBreakdowns}
	if f.Limit > 0 {
		q.Limit = f.Limit
	}
	var faults fault.List
	day := func(field, text string) time.Time {
		if text == "" {
			return time.Time{}
		}
		t, err := time.Parse(time.DateOnly, text)
		if err != nil || t.Year() < 1970 || t.Year() > 9000 {
			faults.Add(field, fault.New("", "not_a_day", fault.Quote(text)+" is not a day", "Write it as YYYY-MM-DD."))
		}
		return t
	}
	q.From, q.To = shop.Span(day("from", f.From), day("to", f.To))
	if !slices.Contains([]string{"", "waiting", "open", "closed"}, f.State) {
		faults.Add("state", fault.New("", "unknown", "must be waiting, open or closed", "Leave it out to see all."))
	}
	if len(f.Text) > 120 {
		faults.Add("text", fault.New("", "too_long", "is longer than 120 bytes", "Shorten it."))
	}
	if f.After != "" {
		if q.After = readMark(f.After); q.After == nil {
			faults.Add("after",
				fault.New("", "not_a_mark", "is not a mark of this list",
					"Send what the page before gave as next, or leave it out."))
		}
	}
	return q, faults.Err()
}

// BreakdownPage is a page of the list.
type BreakdownPage struct {
	Rows       []BreakdownRow
	Next       string     // the mark at which the next page goes on; empty after the last
	SearchedTo *time.Time // how far back was looked; nil where all was
}

// readMark reads a mark of the list; nil where it is none.
func readMark(text string) *store.BreakdownMark {
	at, id, _ := strings.Cut(text, ".")
	micro, err1 := strconv.ParseInt(at, 10, 64)
	n, err2 := strconv.ParseInt(id, 10, 64)
	m := store.BreakdownMark{At: time.UnixMicro(micro).UTC(), ID: n}
	if err1 != nil || err2 != nil || n < 1 || m.At.Year() < 1971 || m.At.Year() > 9998 {
		return nil
	}
	return &m
}

// membersNamed finds the people whose names hold a text.
func (s *Service) membersNamed(ctx context.Context, shopID int64, text string) ([]int64, error) {
	members, err := s.store.Members(ctx, shopID)
	var out []int64
	for _, m := range members {
		if strings.Contains(strings.ToLower(m.Name), strings.ToLower(text)) {
			out = append(out, m.ID)
		}
	}
	return out, err
}

// WholeList calls back for every page of the breakdowns that a filter asks for, the latest first.
func (s *Service) WholeList(ctx context.Context, f BreakdownFilter, each func([]BreakdownRow) error) error {
	for f.After = ""; ; {
		page, err := s.Breakdowns(ctx, f)
		if err != nil {
			return err
		}
		if len(page.Rows) > 0 {
			if err := each(page.Rows); err != nil {
				return err
			}
		}
		if f.After = page.Next; page.Next == "" {
			return nil
		}
	}
}

// OutputColumns head the list of outputs.
var OutputColumns = []string{"breakdown", "lot", "piece", "plan", "bench", "cutters", "closed_at", "output", "kind",
	"of", "count", "weight_kg", "pct_of_piece", "reason", "batch_number"}

// Outputs lists what came out of breakdowns: of each a row for each weighing that stands, the loss last.
func (s *Service) Outputs(ctx context.Context, rows []BreakdownRow) ([][]string, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	list := make([]store.Breakdown, len(rows))
	for i, r := range rows {
		list[i] = r.Breakdown
	}
	boards, err := s.Boards(ctx, shop, list)
	if err != nil {
		return nil, err
	}
	var out [][]string
	for i, v := range boards {
		out = append(out, v.outputs(rows[i])...)
	}
	return out, nil
}

func (v BoardView) outputs(r BreakdownRow) [][]string {
	closed := ""
	if r.ClosedAt != nil {
		closed = r.ClosedAt.UTC().Format(time.RFC3339)
	}
	head := []string{r.PublicID, r.LotNumber, r.Piece, r.PlanName, r.BenchName, r.Cutters, closed}
	row := func(output, kind, of string, count int, m measure.Mass, reason, number string) []string {
		pct := ""
		if input := v.Board.Input(); input > 0 {
			pct = strconv.FormatFloat(float64(m)/float64(input)*100, 'f', 3, 64)
		}
		n := ""
		if count > 0 {
			n = strconv.Itoa(count)
		}
		return append(slices.Clone(head), output, kind, of, n, strconv.FormatFloat(m.Grams()/1000, 'f', 3, 64), pct, reason,
			number)
	}
	var out [][]string
	for _, n := range v.Board.Nodes {
		of := ""
		if n.Parent != "" && n.Parent != v.Board.Root {
			parent, _ := v.Board.Node(n.Parent)
			of = v.NameOf(parent)
		}
		out = append(out, row(v.NameOf(n), string(n.Event), of, n.Count, n.Mass, n.Reason, v.Number(n)))
	}
	if root, ok := v.Board.Node(""); ok && root.Closed {
		out = append(out, row("Cutting and drip loss", "loss", "", 0, root.Loss, root.CloseReason, ""))
	}
	return out
}
