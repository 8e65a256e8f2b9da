package goods

import (
	"context"
	"slices"
	"time"

	"falda/internal/store"
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
		return nil, 0, err
	}
	steps, err := s.steps(ctx, sh, list)
	if err != nil {
		return nil, 0, err
	}
	of := map[int64]Step{}
	for _, x := range steps {
		of[x.Goods.ID] = x
	}
	made, err := s.store.MakingsOf(ctx, sh.ID, makings)
	if err != nil {
		return nil, 0, err
	}
	members, err := s.store.Members(ctx, sh.ID)
	if err != nil {
		return nil, 0, err
	}
	undone, err := s.store.GoodsUndoneOf(ctx, sh.ID, rows)
	if err != nil {
		return nil, 0, err
	}
	for _, e := range rows {
		if i := slices.IndexFunc(out, func(x Entry) bool { return x.Together == e.Together }); i >= 0 {
			if out[i].Kind != "moved" {
				out[i].ChangeMg += e.ChangeMg
			}
			continue
		}
		x := Entry{GoodsEvent: e}
		x.Undone = undone[e.Together]
		if e.GoodsID != nil {
			x.Name, x.MadeOn = of[*e.GoodsID].Tub.Name, of[*e.GoodsID].Goods.MadeOn
		}
		for _, m := range made {
			if e.MakingID != nil && m.ID == *e.MakingID {
				x.Batch = m.LotNumber
			}
		}
		for _, m := range members {
			if e.MemberID != nil && m.ID == *e.MemberID {
				x.By = m.Name
			}
		}
		out = append(out, x)
	}
	return out, next, nil
}
