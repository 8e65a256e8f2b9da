package stock

import (
	"sync"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// Service holds lots, pieces and the ways of cutting them.
type Service struct {
	store  *store.Store
	atlas  *atlas.Atlas
	now    func() time.Time
	audit  *audit.Log
	shops  *shop.Service
	prices *pricing.Service
	maps   sync.Map // piece id and findings → seammap.Map by share
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, prices: prices}
}
