package shop

import (
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// Service gives shops and their settings.
type Service struct {
	store *store.Store
	atlas *atlas.Atlas
	now   func() time.Time
	audit *audit.Log
	stale chan struct{} // holds one wish for the upkeep
	adds  bool          // some plan of the atlas adds an ingredient
	books books
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, stale: make(chan struct{}, 1),
		adds: slices.ContainsFunc(a.Pieces, func(p atlas.Piece) bool { return slices.ContainsFunc(p.Plans, adds) })}
}

// Wake asks for the upkeep soon, where the program does it.
func (s *Service) Wake() {
	select {
	case s.stale <- struct{}{}:
	default: // it is asked for already
	}
}

// Woken tells that somebody asked for the upkeep.
func (s *Service) Woken() <-chan struct{} { return s.stale }
