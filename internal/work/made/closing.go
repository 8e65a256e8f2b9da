package made

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
)

// Close ends the making: what came of it lies in stock. Where more was lost than is usual a reason is asked.
func (s *Service) Close(ctx context.Context, id, reason string) (Making, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Making{}, err
	}
	m, err := s.Making(ctx, id)
	if err != nil || m.State == "closed" {
		return m, err
	}
	reason = strings.TrimSpace(reason)
	if err := m.mayClose(reason, measure.Mass(sh.DivisionMg)); err != nil {
		return m, err
	}
	earliest, err := s.earliest(ctx, sh.ID, m)
	if err != nil {
		return m, err
	}
	now := s.now()
	row := m.Making
	row.State, row.ClosedAt, row.Reason = "closed", &now, reason
	g := store.Goods{PublicID: store.NewID(), ShopID: sh.ID, MakingID: &row.ID,
		MadeOn: row.MadeOn, SlaughteredOn: earliest, UseBy: row.UseBy, MadeMg: int64(m.Came)}
	if m.Figures != nil {
		g.LeanPct, g.ConnectivePct = &m.Figures.Lean, &m.Figures.Connective
	}
	if g.ProductKey, err = s.keyOf(ctx, sh.ID, row); err != nil {
		return m, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		now, err := tx.HoldMaking(ctx, sh.ID, row.ID)
		if err != nil || now.State == "closed" { // by somebody else, a moment ago
			return audit.Change{}, err
		}
		log, err := tx.MakingLog(ctx, sh.ID, []int64{row.ID})
		if err != nil {
			return audit.Change{}, err
		}
		if len(log) != m.events { // something was weighed since this was looked at
			return audit.Change{}, store.ErrConflict
		}
		if err := tx.SetMaking(ctx, row); err != nil {
			return audit.Change{}, err
		}
		return audit.Change{Action: "batch.made", Subject: id, SubjectName: row.Name + " " + row.LotNumber,
			Became: map[string]any{"came_g": m.Came.Grams(), "lost_g": m.Lost.Grams(), "reason": reason}}, tx.PutMade(ctx, g)
	})
	if err != nil {
		return m, err
	}
	return s.Making(ctx, id)
}

// keyOf is the product key of what a making gives.
func (s *Service) keyOf(ctx context.Context, shopID int64, m store.Making) (string, error) {
	rows, err := s.store.Recipes(ctx, shopID)
	for _, r := range rows {
		if r.ID == m.RecipeID {
			return goods.MadeKey(r.PublicID), err
		}
	}
	return "", store.ErrNotFound
}

// mayClose says why a making cannot end as it is. More may come out than went in by a division of the scale for each
// weighing.
func (m Making) mayClose(reason string, division measure.Mass) error {
	var faults fault.List
	switch {
	case m.Came == 0:
		faults.Add("came", fault.Required("Weigh what came out first."))
	case -m.Lost > division*measure.Mass(len(m.Log)):
		faults.Add("came", fault.New("", "too_much", "is "+(-m.Lost).Text(measure.UnitKilogram, 3)+
			" more than went in", "Book what else went in, or weigh it again."))
	case m.LossPct > m.LimitPct && reason == "":
		faults.Add("reason", fault.Required(fmt.Sprintf("%.1f %% was lost, and %.1f %% is usual: say why.", m.LossPct,
			m.LimitPct)))
	}
	faults.Add("reason", fault.Text(reason, 200, false))
	return faults.Err()
}

// earliest gives the first day of slaughter of what went in; nil where none is known.
func (s *Service) earliest(ctx context.Context, shopID int64, m Making) (first *time.Time, err error) {
	log, err := s.store.MakingLog(ctx, shopID, []int64{m.ID})
	if err != nil {
		return nil, err
	}
	var ids []int64
	for _, e := range goods.Standing(log) {
		if e.GoodsID != nil {
			ids = append(ids, *e.GoodsID)
		}
	}
	list, err := s.store.GoodsOf(ctx, shopID, ids)
	for _, g := range list {
		if d := g.SlaughteredOn; d != nil && (first == nil || d.Before(*first)) {
			first = d
		}
	}
	return first, err
}

// Reopen opens a closed batch again, so that it can be corrected; not once some of it has gone.
func (s *Service) Reopen(ctx context.Context, id string) (Making, error) {
	return s.turn(ctx, id, "open", func(tx *store.Store, row store.Making) error {
		list, err := tx.GoodsMadeIn(ctx, row.ShopID, []int64{row.ID})
		if err != nil {
			return err
		}
		for _, g := range list {
			if g.ChangeMg != 0 || g.Part > 0 {
				return fault.NewConflict("", "gone", "Some of it has been used, moved or sold.", "Take that back first.")
			}
			g.MadeMg = 0
			if err := tx.PutMade(ctx, g); err != nil {
				return err
			}
		}
		return nil
	})
}

// Drop takes away a batch of which nothing stands.
func (s *Service) Drop(ctx context.Context, id string) error {
	m, err := s.Making(ctx, id)
	if err != nil {
		return err
	}
	if len(m.Log) > 0 {
		return fault.NewConflict("", "begun", "Something was weighed for it.", "Take that back first.")
	}
	_, err = s.turn(ctx, id, "dropped", func(*store.Store, store.Making) error { return nil })
	return err
}

// turn changes the state of a making.
func (s *Service) turn(ctx context.Context, id, state string, f func(*store.Store, store.Making) error) (Making,
	error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Making{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row, err := tx.Making(ctx, sh.ID, id, true)
		if err != nil || row.State == state {
			return audit.Change{}, err
		}
		if err := f(tx, row); err != nil {
			return audit.Change{}, err
		}
		was := row.State
		row.State, row.ClosedAt = state, nil
		return audit.Change{Action: "batch." + map[bool]string{true: "reopened", false: "dropped"}[state == "open"],
				Subject: id, SubjectName: row.Name + " " + row.LotNumber, Was: map[string]any{"state": was}},
			tx.SetMaking(ctx, row)
	})
	if err != nil || state == "dropped" {
		return Making{}, err
	}
	return s.Making(ctx, id)
}

// Undo takes back a weighing of a batch that is open.
func (s *Service) Undo(ctx context.Context, makingID, id, booking string) (Making, error) {
	m, err := s.Making(ctx, makingID)
	if err != nil {
		return m, err
	}
	if m.State != "open" {
		return m, fault.NewConflict("", "closed", "This batch is closed.", "Open it again to correct it.")
	}
	if !slices.ContainsFunc(m.Log, func(l Line) bool { return l.Together == booking }) {
		// taken back already, or never weighed for this batch
		log, err := s.store.MakingLog(ctx, m.ShopID, []int64{m.ID})
		if err != nil {
			return m, err
		}
		if !slices.ContainsFunc(log, func(e store.GoodsEvent) bool { return e.Together == booking }) {
			return m, store.ErrNotFound
		}
		return m, nil
	}
	if err := s.goods.Undo(ctx, id, booking); err != nil {
		return m, err
	}
	return s.Making(ctx, makingID)
}
