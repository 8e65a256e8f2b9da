package store

import (
	"context"
	"time"
)

// OneTimeToken is something that may be used once.
type OneTimeToken struct {
	ID        int64
	TokenHash string
	Kind      string // "set_up", "password" or "bench"
	ShopID    *int64
	PersonID  *int64
	BenchID   *int64
	CreatedAt time.Time
	EndsAt    time.Time
	UsedAt    *time.Time
}

// TableName is that of the schema.
func (OneTimeToken) TableName() string { return "one_time_tokens" }

// Token lets a script in.
type Token struct {
	ID        int64
	PublicID  string
	ShopID    int64
	MemberID  int64 // who made it
	Name      string
	Hint      string // its first letters, to tell it from others
	TokenHash string
	Scopes    string // separated by blanks
	CreatedAt time.Time
	EndsAt    *time.Time
	UsedAt    *time.Time
	RevokedAt *time.Time
}

// CreateOneTimeToken adds something that may be used once.
func (s *Store) CreateOneTimeToken(ctx context.Context, o *OneTimeToken) error {
	return Translate(s.on(ctx).Create(o).Error)
}

// OneTimeToken gives what was not used and has not ended, by the hash of its token.
func (s *Store) OneTimeToken(ctx context.Context, kind, tokenHash string, now time.Time) (OneTimeToken, error) {
	var o OneTimeToken
	err := s.on(ctx).Where("kind = ? AND token_hash = ? AND used_at IS NULL AND ends_at > ?", kind, tokenHash, now).
		Take(&o).Error
	return o, Translate(err)
}

// UseOneTimeToken notes that it was used; ErrConflict where somebody was faster.
func (s *Store) UseOneTimeToken(ctx context.Context, id int64, at time.Time) error {
	return changed(s.on(ctx).Model(&OneTimeToken{}).Where("id = ? AND used_at IS NULL", id).Update("used_at", at))
}

// DropOneTimeTokens takes back what of a kind was not used: what a shop gave to a person or a bench, or the
// installation where all are nil. What another shop gave stands.
func (s *Store) DropOneTimeTokens(ctx context.Context, kind string, shopID, personID, benchID *int64) error {
	return Translate(s.on(ctx).
		Where("kind = ? AND shop_id <=> ? AND person_id <=> ? AND bench_id <=> ? AND used_at IS NULL", kind, shopID, personID,
			benchID).
		Delete(&OneTimeToken{}).Error)
}

// CreateToken adds a token.
func (s *Store) CreateToken(ctx context.Context, t *Token) error {
	return Translate(s.on(ctx).Create(t).Error)
}

// Tokens lists a shop's tokens, the latest first.
func (s *Store) Tokens(ctx context.Context, shopID int64) ([]Token, error) {
	var out []Token
	err := s.on(ctx).Where("shop_id = ?", shopID).Order("id DESC").Find(&out).Error
	return out, Translate(err)
}

// TokenByHash gives a token that holds, by the hash of its secret.
func (s *Store) TokenByHash(ctx context.Context, hash string, now time.Time) (Token, error) {
	var t Token
	err := s.on(ctx).Where("token_hash = ? AND revoked_at IS NULL AND (ends_at IS NULL OR ends_at > ?)", hash, now).
		Take(&t).Error
	return t, Translate(err)
}

// UsedToken notes that a token was used.
func (s *Store) UsedToken(ctx context.Context, id int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Token{}).Where("id = ?", id).Update("used_at", at).Error)
}

// RevokeToken ends a token.
func (s *Store) RevokeToken(ctx context.Context, shopID int64, publicID string, at time.Time) (Token, error) {
	var t Token
	if err := s.on(ctx).Where("shop_id = ? AND public_id = ? AND revoked_at IS NULL", shopID, publicID).Take(&t).
		Error; err != nil {
		return t, Translate(err)
	}
	return t, Translate(s.on(ctx).Model(&Token{}).Where("id = ?", t.ID).Update("revoked_at", at).Error)
}
