package store

import (
	"context"
	"time"
)

// Session is one sign-in.
type Session struct {
	ID        int64
	PublicID  string
	TokenHash string
	ShopID    int64
	MemberID  int64
	PersonID  int64
	DeviceID  *int64 // of a bench's screen, for a sign-in by PIN
	Via       string
	About     string // the browser, in a few words
	CreatedAt time.Time
	SeenAt    time.Time
	EndsAt    time.Time
	EndedAt   *time.Time
}

// SignedIn is a session with whom it belongs to.
type SignedIn struct {
	Session
	MemberPublic string
	Name         string
	Role         string
	Active       bool
	ShopPublic   string
	DeviceGone   bool
	BenchID      *int64
	BenchPublic  string
	BenchName    string
	ScreenHash   string
}

// CreateSession adds a session.
func (s *Store) CreateSession(ctx context.Context, row *Session) error {
	return Translate(s.on(ctx).Create(row).Error)
}

// SignedIn gives a session that was not ended, by the hash of its token.
func (s *Store) SignedIn(ctx context.Context, tokenHash string) (SignedIn, error) {
	var out SignedIn
	err := s.on(ctx).Raw(`SELECT s.*, m.public_id AS member_public, m.name, m.role, m.active, o.public_id AS shop_public,
		d.revoked_at IS NOT NULL AS device_gone, b.id AS bench_id, COALESCE(b.public_id, '') AS bench_public,
		COALESCE(b.name, '') AS bench_name, COALESCE(d.token_hash, '') AS screen_hash
		FROM sessions s JOIN members m ON m.id = s.member_id JOIN shops o ON o.id = s.shop_id
		LEFT JOIN devices d ON d.id = s.device_id LEFT JOIN benches b ON b.id = d.bench_id
		WHERE s.token_hash = ? AND s.ended_at IS NULL`, tokenHash).Take(&out).Error
	return out, Translate(err)
}

// Seen notes that a session was used.
func (s *Store) Seen(ctx context.Context, sessionID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Session{}).Where("id = ?", sessionID).Update("seen_at", at).Error)
}

// SwitchShop moves a session to another shop of the same person.
func (s *Store) SwitchShop(ctx context.Context, sessionID, shopID, memberID int64) error {
	return changed(s.on(ctx).Model(&Session{}).Where("id = ?", sessionID).
		Updates(map[string]any{"shop_id": shopID, "member_id": memberID}))
}

// Sessions lists the sessions of a person that still hold, the latest first.
func (s *Store) Sessions(ctx context.Context, personID int64, now, idleSince time.Time) ([]Session, error) {
	var out []Session
	err := s.on(ctx).Where("person_id = ? AND ended_at IS NULL AND ends_at > ? AND seen_at > ?", personID, now, idleSince).
		Order("seen_at DESC").Limit(200).Find(&out).Error
	return out, Translate(err)
}

// EndSession ends one session.
func (s *Store) EndSession(ctx context.Context, sessionID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Session{}).Where("id = ? AND ended_at IS NULL", sessionID).Update("ended_at", at).
		Error)
}

// EndSessions ends the sessions of a person, except one; 0 spares none. It answers how many.
func (s *Store) EndSessions(ctx context.Context, personID, except int64, at time.Time) (int64, error) {
	res := s.on(ctx).Model(&Session{}).Where("person_id = ? AND id <> ? AND ended_at IS NULL", personID, except).
		Update("ended_at", at)
	return res.RowsAffected, Translate(res.Error)
}

// EndSessionsIn ends a member's sessions in one shop.
func (s *Store) EndSessionsIn(ctx context.Context, memberID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Session{}).Where("member_id = ? AND ended_at IS NULL", memberID).Update("ended_at",
		at).Error)
}
