package sales

import (
	"context"
	"slices"
	"strings"
	"time"

	"falda/internal/core/demand"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/till"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/labels"
	"falda/internal/work/shop"
)

// Trial is a trial of names or prices with what it has shown.
type Trial struct {
	store.NamingTrial
	Product  string
	A, B     demand.Sold // packs, and days on which the shop sold anything
	Ratio    *demand.Ratio
	State    string // ahead, running, over or stopped
	Verdict  string // more, less, alike, early
	This     string // the name of this week, while it runs
	TakingsA measure.Money
	TakingsB measure.Money
}

// NewTrial is a trial as it is entered.
type NewTrial struct {
	Key, NameA, NameB string
	PriceA, PriceB    string // per kg; empty where names alone are compared
	Begins            string // a Monday
	Weeks             int
}

// The weeks that a trial takes.
const minTrial, maxTrial = 2, 52

// Begin begins a trial.
func (s *Service) Begin(ctx context.Context, in NewTrial) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return err
	}
	t, faults := readTrial(sh.Shop, in)
	if _, ok := products[in.Key]; !ok {
		faults.Add("product_key", fault.New("", "unknown", "is no product of this shop", "Choose one of the list."))
	}
	today := sh.Day(s.now())
	if d := t.Begins; !d.IsZero() && (d.Before(today.AddDate(-1, 0, 0)) || d.After(today.AddDate(1, 0, 0))) {
		faults.Add("begins", fault.New("", "out_of_range", "must be within a year of today", "Choose another Monday."))
	}
	running, err := s.store.NamingTrials(ctx, sh.ID)
	if err != nil {
		return err
	}
	ends := labels.TurnsOf(t).End()
	for _, r := range running {
		if r.ProductKey == in.Key && r.EndedAt == nil && r.Begins.Before(ends) && t.Begins.Before(labels.TurnsOf(r).End()) {
			faults.Add("product_key", fault.New("", "twice", "is in another trial in these weeks", "Stop that one first."))
			break
		}
	}
	if err := faults.Err(); err != nil {
		return err
	}
	t.ShopID, t.PublicID, t.ProductKey = sh.ID, store.NewID(), in.Key
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "naming.begun", Subject: t.PublicID, SubjectName: products[in.Key].Name,
				Became: map[string]any{"a": t.NameA, "b": t.NameB, "begins": in.Begins, "weeks": t.Weeks}},
			tx.AddNamingTrial(ctx, &t)
	})
}

func readTrial(sh shop.Shop, in NewTrial) (store.NamingTrial, fault.List) {
	var faults fault.List
	t := store.NamingTrial{NameA: strings.Join(strings.Fields(in.NameA), " "),
		NameB: strings.Join(strings.Fields(in.NameB), " "), Weeks: in.Weeks}
	faults.Add("name_a", fault.Text(t.NameA, 60, true))
	faults.Add("name_b", fault.Text(t.NameB, 60, true))
	price := func(field, text string) *string {
		if strings.TrimSpace(text) == "" {
			return nil
		}
		p, err := sh.ParsePrice(text, "kg")
		faults.Add(field, err)
		v := p.Amount.Text(measure.PriceDecimals)
		return &v
	}
	t.PriceA, t.PriceB = price("price_a", in.PriceA), price("price_b", in.PriceB)
	if (t.PriceA == nil) != (t.PriceB == nil) {
		faults.Add("price_b", fault.New("", "one_of_two", "must be said for both, or for neither", "Enter the other too."))
	}
	same := t.PriceA == nil || t.PriceB == nil || *t.PriceA == *t.PriceB
	if strings.EqualFold(t.NameA, t.NameB) && same && t.NameA != "" {
		faults.Add("name_b", fault.New("", "same", "must differ, or the prices must", "Enter what is tried."))
	}
	day, err := time.Parse(time.DateOnly, in.Begins)
	switch {
	case err != nil:
		faults.Add("begins", fault.New("", "not_a_day", fault.Quote(in.Begins)+" is not a day", "Write it as 2026-11-30."))
	case day.Weekday() != time.Monday:
		faults.Add("begins", fault.New("", "not_a_monday", "must be a Monday", "The weeks take turns from Monday on."))
	}
	t.Begins = day
	if in.Weeks < minTrial || in.Weeks > maxTrial || in.Weeks%2 != 0 {
		faults.Add("weeks",
			fault.New("", "out_of_range", "must be an even number from 2 to 52", "Each name gets half of them."))
	}
	return t, faults
}

// StopTrial ends a trial before its time.
func (s *Service) StopTrial(ctx context.Context, trial string) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	list, err := s.store.NamingTrials(ctx, sh.ID)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(list, func(t store.NamingTrial) bool { return t.PublicID == trial })
	if at < 0 {
		return store.ErrNotFound
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "naming.stopped", Subject: trial, SubjectName: list[at].NameA},
			tx.EndNamingTrial(ctx, sh.ID, trial, s.now())
	})
}

// trials gives the shop's, with what they have shown.
func (s *Service) trials(ctx context.Context, sh shop.WithPlans, products map[string]goods.Product,
	sums []store.SaleSum) ([]Trial, error) {
	rows, err := s.store.NamingTrials(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	today := sh.Day(s.now())
	open := map[time.Time]bool{} // days on which the shop sold anything
	for _, x := range sums {
		open[x.Day] = open[x.Day] || x.Kind != till.Wasted
	}
	out := make([]Trial, 0, len(rows))
	for _, r := range rows {
		t := Trial{NamingTrial: r, Product: products[r.ProductKey].Name, State: stateOf(sh.Shop, r, today)}
		end := labels.TurnsOf(r).End()
		if r.EndedAt != nil {
			end = earlier(end, sh.Day(*r.EndedAt))
		}
		for d := r.Begins; d.Before(earlier(end, today.AddDate(0, 0, 1))); d = d.AddDate(0, 0, 1) {
			if !open[d] {
				continue
			}
			arm, takings := &t.A, &t.TakingsA
			if labels.TurnsOf(r).Second(d) {
				arm, takings = &t.B, &t.TakingsB
			}
			sum := sumOf(sums, r.ProductKey, d, d)
			arm.Days++
			arm.Count += max(0, sum.Packs)
			*takings = takings.Add(sum.Takings)
		}
		if t.State == "running" {
			t.This = r.NameA
			if labels.TurnsOf(r).Second(today) {
				t.This = r.NameB
			}
		}
		if err := t.judge(); err != nil {
			return nil, err
		}
		out = append(out, t)
	}
	return out, nil
}

func earlier(a, b time.Time) time.Time {
	if b.Before(a) {
		return b
	}
	return a
}

func stateOf(sh shop.Shop, t store.NamingTrial, today time.Time) string {
	switch {
	case t.EndedAt != nil && sh.Day(*t.EndedAt).Before(labels.TurnsOf(t).End()):
		return "stopped"
	case today.Before(t.Begins):
		return "ahead"
	case today.Before(labels.TurnsOf(t).End()):
		return "running"
	}
	return "over"
}

// judge says which sells faster, in the words of the trials: early while both names have not had a day, or nothing can
// be told yet.
func (t *Trial) judge() error {
	t.Verdict = "early"
	if t.A.Days == 0 || t.B.Days == 0 {
		return nil
	}
	r, err := demand.RateRatio(t.A, t.B, 0.95)
	if err != nil {
		return err
	}
	t.Ratio = &r
	switch {
	case r.Low != nil && *r.Low > 1:
		t.Verdict = "more"
	case r.High != nil && *r.High < 1:
		t.Verdict = "less"
	case r.Low != nil && r.High != nil && *r.Low > 0.8 && *r.High < 1.25:
		t.Verdict = "alike"
	}
	return nil
}
