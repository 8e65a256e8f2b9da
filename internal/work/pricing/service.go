package pricing

import (
	"sync"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/ladder"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Service holds prices and demand.
type Service struct {
	store *store.Store
	atlas *atlas.Atlas
	now   func() time.Time
	audit *audit.Log
	shops *shop.Service

	indices func() (ladder.Table, error) // read once
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, indices: sync.OnceValues(ladder.Load)}
}
