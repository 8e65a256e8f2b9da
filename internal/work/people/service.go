package people

import (
	"time"

	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Service lets people in.
type Service struct {
	store   *store.Store
	now     func() time.Time
	audit   *audit.Log
	shops   *shop.Service
	callers callerCache
}

// New makes the service. Now is the clock.
func New(s *store.Store, now func() time.Time, log *audit.Log, shops *shop.Service) *Service {
	return &Service{store: s, now: now, audit: log, shops: shops}
}
