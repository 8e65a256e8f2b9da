package goods

import (
	"context"
	"time"

	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// Service keeps the stock log.
type Service struct {
	store  *store.Store
	now    func() time.Time
	audit  *audit.Log
	shops  *shop.Service
	prices *pricing.Service
	bench  *bench.Service
}

// New makes the service. Now is the clock.
func New(s *store.Store, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service, benches *bench.Service) *Service {
	return &Service{store: s, now: now, audit: log, shops: shops, prices: prices, bench: benches}
}

// longestBack is how many days back the stock may begin.
const longestBack = 31

// Begin keeps the stock from a day on: what was cut since lies there. Once begun it stays.
func (s *Service) Begin(ctx context.Context, day string) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	today := sh.Day(s.now())
	from, err := s.day("day", day, today.AddDate(0, 0, -longestBack), today)
	if err != nil {
		return err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "stock.begun", Became: map[string]any{"from": from.Format(time.DateOnly)}},
			tx.BeginStock(ctx, sh.ID, from)
	})
	if err != nil {
		return err
	}
	since, _ := sh.Span(from, from)
	list, err := s.store.ClosedSince(ctx, sh.ID, since)
	if err != nil {
		return err
	}
	if sh, err = s.shops.WithPlans(ctx); err != nil { // as it is now
		return err
	}
	for _, b := range list {
		if err := s.bench.WriteResult(ctx, sh, b); err != nil {
			return err
		}
	}
	return nil
}
