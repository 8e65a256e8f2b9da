package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
)

// Attempt is what is known of failed attempts at one secret.
type Attempt struct {
	What     string
	Failures int
	LastAt   time.Time
}

// Attempt reads the failed attempts and holds the row until the transaction ends; a zero Attempt where there are none.
func (s *Store) Attempt(ctx context.Context, what string) (Attempt, error) {
	var list []Attempt
	err := s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).Where("what = ?", what).Limit(1).Find(&list).Error
	if len(list) == 0 {
		return Attempt{What: what}, Translate(err)
	}
	return list[0], Translate(err)
}

// Attempts counts the failed attempts at a secret, without holding the row.
func (s *Store) Attempts(ctx context.Context, what string) (int, error) {
	var n int
	err := s.on(ctx).Raw("SELECT COALESCE(MAX(failures), 0) FROM attempts WHERE what = ?", what).Scan(&n).Error
	return n, Translate(err)
}

// SaveAttempt writes the failed attempts.
func (s *Store) SaveAttempt(ctx context.Context, a Attempt) error {
	return Translate(s.on(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&a).Error)
}

// ForgetAttempts forgets failed attempts at a secret.
func (s *Store) ForgetAttempts(ctx context.Context, what string) error {
	return Translate(s.on(ctx).Where("what = ?", what).Delete(&Attempt{}).Error)
}

// PurgeExpired removes what has ended before a time: sessions, attempts and what was to be used once. It answers how
// many rows.
func (s *Store) PurgeExpired(ctx context.Context, before time.Time) (int64, error) {
	var n int64
	for _, q := range []string{
		"DELETE FROM sessions WHERE ends_at < ? OR ended_at < ?",
		"DELETE FROM one_time_tokens WHERE ends_at < ? OR used_at < ?",
		"DELETE FROM attempts WHERE last_at < ? AND last_at < ?",
		"DELETE FROM known_devices WHERE seen_at < ? - INTERVAL 400 DAY AND seen_at < ?",
	} {
		res := s.on(ctx).Exec(q, before, before)
		if res.Error != nil {
			return n, Translate(res.Error)
		}
		n += res.RowsAffected
	}
	return n, nil
}
