package goods

import (
	"context"
	"slices"
	"time"

	core "falda/internal/core/goods"
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
