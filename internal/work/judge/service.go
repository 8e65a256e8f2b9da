package judge

import (
	"time"

	"falda/internal/core/atlas"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// Service holds what is known of how muscles eat.
type Service struct {
	store  *store.Store
	atlas  *atlas.Atlas
	now    func() time.Time
	audit  *audit.Log
	shops  *shop.Service
	prices *pricing.Service
	stock  *stock.Service
	bench  *bench.Service
	grades gradesCache
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service, stock *stock.Service, bench *bench.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, prices: prices, stock: stock, bench: bench}
}
