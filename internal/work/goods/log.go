package goods

import (
	"cmp"
	"context"
	"slices"
	"time"

	"falda/internal/core/fault"
	core "falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// Entry is a line of the stock log, with what it is of and who booked it.
type Entry struct {
	store.GoodsEvent
	Name   string
	MadeOn time.Time
	By     string
	Undone bool
	Batch  string // lot number of the batch that it went into
}

// logPage is how many rows of the log are read at once.
const logPage = 100

// Log lists the latest of the stock log, what was booked on one tub as one line; next goes on after it, 0 ends it.
func (s *Service) Log(ctx context.Context, before int64) (out []Entry, next int64, err error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, 0, err
	}
	rows, err := s.store.GoodsLog(ctx, sh.ID, before, logPage)
	if err != nil || len(rows) == 0 {
		return nil, 0, err
	}
	if len(rows) == logPage {
		next = rows[logPage-1].ID
	}
	known, err := s.around(ctx, sh, rows)
	if err != nil {
		return nil, 0, err
	}
	for _, e := range rows {
		i := slices.IndexFunc(out, func(x Entry) bool { return x.Together == e.Together })
		if i < 0 {
			out = append(out, known.entry(e))
		} else if out[i].Kind != core.Moved {
			out[i].ChangeMg += e.ChangeMg
		}
	}
	return out, next, nil
}

// Became is what became of a product in a stretch of time.
type Became struct {
	Key, Name, Species       string
	Sold, Wasted, Used, Diff measure.Mass   // Diff is what counts have found, below 0 where it was less
	WastedWorth, DiffWorth   *measure.Money // at today's price; nil where there is none
}

// maxSumDays bounds the stretch that is added up.
const maxSumDays = 366

// Became adds up what became of goods in the last days, the most that was sold first.
func (s *Service) Became(ctx context.Context, days int) ([]Became, error) {
	if days < 1 || days > maxSumDays {
		return nil, fault.New("days", "out_of_range", "must be from 1 to 366", "Ask for fewer days.")
	}
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	now := s.now()
	sums, err := s.store.GoodsSums(ctx, sh.ID, sh.Begins(sh.Day(now).AddDate(0, 0, 1-days)), now.Add(time.Second))
	if err != nil {
		return nil, err
	}
	products, err := s.Products(ctx, sh)
	if err != nil {
		return nil, err
	}
	at := map[string]int{}
	var out []Became
	for _, x := range sums {
		i, ok := at[x.ProductKey]
		if !ok {
			i = len(out)
			at[x.ProductKey] = i
			p := products[x.ProductKey]
			out = append(out, Became{Key: x.ProductKey, Name: cmp.Or(p.Name, x.ProductKey), Species: p.Species})
		}
		m := measure.Mass(x.Mg)
		switch x.Kind {
		case core.Sold:
			out[i].Sold = -m
		case core.Wasted:
			out[i].Wasted = -m
		case core.Used:
			out[i].Used = -m
		case core.Counted:
			out[i].Diff = m
		}
	}
	for i := range out {
		if price := products[out[i].Key].Price; price != nil {
			wasted, diff := sh.Money.Round(price.Of(out[i].Wasted)), sh.Money.Round(price.Of(out[i].Diff))
			out[i].WastedWorth, out[i].DiffWorth = &wasted, &diff
		}
	}
	slices.SortStableFunc(out, func(a, b Became) int { return cmp.Compare(b.Sold, a.Sold) })
	return out, nil
}

// around is what stands beside rows of the log: what they are of, which batch they belong to, who booked them.
type around struct {
	of      map[int64]Step
	batches map[int64]string
	members map[int64]string
	undone  map[string]bool
}

func (s *Service) around(ctx context.Context, sh shop.WithPlans, rows []store.GoodsEvent) (around, error) {
	a := around{of: map[int64]Step{}, batches: map[int64]string{}, members: map[int64]string{}}
	var goods, makings []int64
	for _, e := range rows {
		if e.GoodsID != nil {
			goods = append(goods, *e.GoodsID)
		}
		if e.MakingID != nil {
			makings = append(makings, *e.MakingID)
		}
	}
	list, err := s.store.GoodsOf(ctx, sh.ID, goods)
	if err != nil {
		return a, err
	}
	steps, err := s.steps(ctx, sh, list)
	if err != nil {
		return a, err
	}
	for _, x := range steps {
		a.of[x.Goods.ID] = x
	}
	made, err := s.store.MakingsOf(ctx, sh.ID, makings)
	if err != nil {
		return a, err
	}
	for _, m := range made {
		a.batches[m.ID] = m.LotNumber
	}
	members, err := s.store.Members(ctx, sh.ID)
	if err != nil {
		return a, err
	}
	for _, m := range members {
		a.members[m.ID] = m.Name
	}
	a.undone, err = s.store.GoodsUndoneOf(ctx, sh.ID, rows)
	return a, err
}

func (a around) entry(e store.GoodsEvent) Entry {
	x := Entry{GoodsEvent: e, Undone: a.undone[e.Together]}
	if e.GoodsID != nil {
		x.Name, x.MadeOn = a.of[*e.GoodsID].Tub.Name, a.of[*e.GoodsID].Goods.MadeOn
	}
	if e.MakingID != nil {
		x.Batch = a.batches[*e.MakingID]
	}
	if e.MemberID != nil {
		x.By = a.members[*e.MemberID]
	}
	return x
}
