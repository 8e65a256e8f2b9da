package store

import (
	"context"
	"time"
)

// CreateBreakdown adds a breakdown. A piece has one at most: a second gives ErrDuplicate.
func (s *Store) CreateBreakdown(ctx context.Context, b *Breakdown) error {
	return Translate(s.on(ctx).Create(b).Error)
}

// Breakdown gives a breakdown by its public id.
func (s *Store) Breakdown(ctx context.Context, shopID int64, publicID string) (Breakdown, error) {
	var b Breakdown
	err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&b).Error
	return b, Translate(err)
}

// LockBreakdown gives a breakdown and keeps others from booking on it until the transaction ends.
func (s *Store) LockBreakdown(ctx context.Context, shopID int64, publicID string) (Breakdown, error) {
	var b Breakdown
	err := s.on(ctx).Clauses(forUpdate).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&b).Error
	return b, Translate(err)
}

// Events gives a breakdown's log, oldest first.
func (s *Store) Events(ctx context.Context, shopID, breakdownID int64) ([]Event, error) {
	var out []Event
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// AddEvent appends to the log. An id that any breakdown has used already gives ErrDuplicate.
func (s *Store) AddEvent(ctx context.Context, e *Event) error {
	return Translate(s.on(ctx).Create(e).Error)
}

// Fold writes what a breakdown's events fold to: its own columns and its rows of the read table. Rows that are gone are
// deleted, new ones added, changed ones updated; rows that are as before are not touched.
func (s *Store) Fold(ctx context.Context, b Breakdown, before, after []Output) error {
	was := make(map[string]Output, len(before))
	for _, o := range before {
		was[o.Node] = o
	}
	var added []Output
	for _, o := range after {
		old, known := was[o.Node]
		delete(was, o.Node)
		switch {
		case !known:
			added = append(added, o)
		case old.MassMg != o.MassMg:
			if err := s.on(ctx).Model(&Output{}).Where("breakdown_id = ? AND node = ?", b.ID, o.Node).Update("mass_mg", o.MassMg).Error; err != nil {
				return Translate(err)
			}
		}
	}
	for node := range was {
		if err := s.on(ctx).Where("breakdown_id = ? AND node = ?", b.ID, node).Delete(&Output{}).Error; err != nil {
			return Translate(err)
		}
	}
	if len(added) > 0 {
		if err := s.on(ctx).Create(&added).Error; err != nil {
			return Translate(err)
		}
	}
	return Translate(s.on(ctx).Model(&Breakdown{ID: b.ID}).
		Select("State", "Events", "InputMg", "OutputMg", "LossMg", "Minutes", "ClosedAt", "GainPerKg", "PricedAt", "Prices").Updates(&b).Error)
}

// Outputs gives the read table of a breakdown.
func (s *Store) Outputs(ctx context.Context, shopID, breakdownID int64) ([]Output, error) {
	var out []Output
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// Judge notes that the methods of a breakdown stand.
func (s *Store) Judge(ctx context.Context, shopID, breakdownID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Breakdown{}).Where("shop_id = ? AND id = ?", shopID, breakdownID).Update("judged_at", at).Error)
}
