package goods

import (
	"context"
	"slices"

	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// Step is something on the way from an animal to a counter.
type Step struct {
	Tub    Tub
	Goods  store.Goods
	Origin *store.Origin // of what was cut
	Making *store.Making // of what was made
	Used   measure.Mass  // of it in what follows, or of this in what it came from
}

// Recall is all that anything of a lot may be in.
type Recall struct {
	LotNumber string
	Cut       []Step // straight from its pieces
	Made      []Step // of that, and of what was made of it in turn
}

// Recall finds all that was cut from a lot and everything that was made of that. What lies in one tub is mixed: a batch
// that took from it is found whichever piece it took.
func (s *Service) Recall(ctx context.Context, lotID string) (Recall, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Recall{}, err
	}
	lot, err := s.store.Lot(ctx, sh.ID, lotID)
	if err != nil {
		return Recall{}, err
	}
	out := Recall{LotNumber: lot.LotNumber}
	list, err := s.store.GoodsFrom(ctx, sh.ID, lot.ID)
	if err != nil {
		return out, err
	}
	if out.Cut, err = s.steps(ctx, sh, list); err != nil {
		return out, err
	}
	seen := map[int64]bool{}
	for len(list) > 0 {
		used, err := s.makingsOf(ctx, sh.ID, list)
		if err != nil {
			return out, err
		}
		used = slices.DeleteFunc(used, func(id int64) bool { return seen[id] })
		for _, id := range used {
			seen[id] = true
		}
		if list, err = s.store.GoodsMadeIn(ctx, sh.ID, used); err != nil {
			return out, err
		}
		made, err := s.steps(ctx, sh, list)
		if err != nil {
			return out, err
		}
		out.Made = append(out.Made, made...)
	}
	return out, nil
}

// makingsOf gives what goods were used in, each once; what was taken back does not count.
func (s *Service) makingsOf(ctx context.Context, shopID int64, list []store.Goods) ([]int64, error) {
	log, err := s.store.EventsOfGoods(ctx, shopID, keys(list))
	if err != nil {
		return nil, err
	}
	var out []int64
	for _, e := range Standing(log) {
		if e.MakingID != nil && !slices.Contains(out, *e.MakingID) {
			out = append(out, *e.MakingID)
		}
	}
	return out, nil
}

func keys(list []store.Goods) []int64 {
	out := make([]int64, len(list))
	for i, g := range list {
		out[i] = g.ID
	}
	return out
}

// Standing leaves of a log what was not taken back.
func Standing(log []store.GoodsEvent) []store.GoodsEvent {
	undone := map[string]bool{}
	for _, e := range log {
		if e.Undoes != "" {
			undone[e.Undoes] = true
		}
	}
	return slices.DeleteFunc(slices.Clone(log),
		func(e store.GoodsEvent) bool { return e.Undoes != "" || undone[e.Together] })
}

func (s *Service) steps(ctx context.Context, sh shop.WithPlans, list []store.Goods) ([]Step, error) {
	names, err := s.names(ctx, sh, list)
	if err != nil {
		return nil, err
	}
	origins, err := s.store.Origins(ctx, sh.ID, keys(list))
	if err != nil {
		return nil, err
	}
	var out []Step
	for _, g := range list {
		x := Step{Goods: g,
			Tub: names.of(Tub{TubID: tubOf(g), Kind: g.Kind, UseBy: g.UseBy}, g)}
		x.Tub.put(g)
		for _, o := range origins {
			if o.GoodsID == g.ID {
				x.Origin = &o
			}
		}
		if g.MakingID != nil {
			m := names.made[*g.MakingID]
			x.Making = &m
		}
		out = append(out, x)
	}
	return out, nil
}

// Trace finds what something that was made is made of, back to the pieces and their lots.
func (s *Service) Trace(ctx context.Context, makingID string) ([]Step, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	m, err := s.store.Making(ctx, sh.ID, makingID, false)
	if err != nil {
		return nil, err
	}
	var out []Step
	open, seen := []int64{m.ID}, map[int64]bool{m.ID: true}
	for len(open) > 0 {
		log, err := s.store.MakingLog(ctx, sh.ID, open)
		if err != nil {
			return nil, err
		}
		mass := map[int64]measure.Mass{}
		var ids []int64
		for _, e := range Standing(log) {
			if e.GoodsID == nil {
				continue
			}
			if _, known := mass[*e.GoodsID]; !known {
				ids = append(ids, *e.GoodsID)
			}
			mass[*e.GoodsID] -= measure.Mass(e.ChangeMg)
		}
		list, err := s.store.GoodsOf(ctx, sh.ID, ids)
		if err != nil {
			return nil, err
		}
		found, err := s.steps(ctx, sh, list)
		if err != nil {
			return nil, err
		}
		open = nil
		for _, x := range found {
			x.Used = mass[x.Goods.ID]
			out = append(out, x)
			if x.Making != nil && !seen[x.Making.ID] {
				seen[x.Making.ID] = true
				open = append(open, x.Making.ID)
			}
		}
	}
	return out, nil
}
