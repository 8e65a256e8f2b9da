package bench

import (
	"time"

	"falda/internal/core/atlas"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// Service keeps the log of what is cut.
type Service struct {
	store    *store.Store
	atlas    *atlas.Atlas
	now      func() time.Time
	audit    *audit.Log
	shops    *shop.Service
	prices   *pricing.Service
	stock    *stock.Service
	cached   boardCache
	watchers watchers
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service, stock *stock.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, prices: prices, stock: stock}
}
