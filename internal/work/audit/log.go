package audit

import (
	"time"

	"falda/internal/store"
)

// Log writes the audit.
type Log struct {
	store *store.Store
	now   func() time.Time
}

// New puts the audit on a database. Now is the clock.
func New(s *store.Store, now func() time.Time) *Log { return &Log{s, now} }
