package store

import (
	"context"
	"encoding/json"
	"time"
)

// Share is a report as it was when somebody shared it.
type Share struct {
	ID        int64
	PublicID  string
	ShopID    int64
	Secret    string // hash of what the link holds
	Title     string
	Report    json.RawMessage `gorm:"type:json"`
	MemberID  *int64
	MadeBy    string
	CreatedAt time.Time
	ExpiresAt time.Time
	EndedAt   *time.Time
}

// CreateShare adds a share.
func (s *Store) CreateShare(ctx context.Context, x *Share) error {
	return Translate(s.on(ctx).Create(x).Error)
}

// Shares lists a shop's shares, the latest first, without their reports.
func (s *Store) Shares(ctx context.Context, shopID int64) ([]Share, error) {
	var out []Share
	return out,
		Translate(s.on(ctx).Table("shares x").Joins("LEFT JOIN members m ON m.id = x.member_id").
			Select("x.id, x.public_id, x.shop_id, x.title, IF(x.made_by LIKE 'Token %', x.made_by, COALESCE(m.name, "+
				"x.made_by)) AS made_by, x.created_at, "+
				"x.expires_at, x.ended_at").
			Where("x.shop_id = ?", shopID).Order("x.id DESC").Limit(200).Find(&out).Error)
}

// SharedBy gives the share that a link's secret opens while it lasts.
func (s *Store) SharedBy(ctx context.Context, secret string, now time.Time) (Share, error) {
	var x Share
	return x, Translate(s.on(ctx).Where("secret = ? AND expires_at > ? AND ended_at IS NULL", secret, now).Take(&x).Error)
}

// EndShare ends a share before its time.
func (s *Store) EndShare(ctx context.Context, shopID int64, publicID string, now time.Time) error {
	return changed(s.on(ctx).Model(&Share{}).Where("shop_id = ? AND public_id = ? AND ended_at IS NULL", shopID, publicID).
		Update("ended_at", now))
}
