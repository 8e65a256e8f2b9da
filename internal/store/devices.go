package store

import (
	"context"
	"time"
)

// Device is a screen that was enrolled at a bench.
type Device struct {
	ID         int64
	PublicID   string
	ShopID     int64
	BenchID    int64
	TokenHash  string
	About      string
	EnrolledAt time.Time
	SeenAt     time.Time
	RevokedAt  *time.Time
}

// UsedDevice says whether a member has signed in by PIN on a device since a time.
func (s *Store) UsedDevice(ctx context.Context, shopID, deviceID int64, memberPublic string, since time.Time) (Member,
	error) {
	var m Member
	err := s.on(ctx).Table("members").Where(`shop_id = ? AND public_id = ? AND EXISTS
		(SELECT 1 FROM sessions s WHERE s.device_id = ? AND s.member_id = members.id AND s.seen_at > ?)`, shopID,
		memberPublic, deviceID, since).Take(&m).Error
	return m, Translate(err)
}

// CreateDevice adds an enrolled screen.
func (s *Store) CreateDevice(ctx context.Context, d *Device) error {
	return Translate(s.on(ctx).Create(d).Error)
}

// DeviceByToken gives an enrolled screen by the hash of its token.
func (s *Store) DeviceByToken(ctx context.Context, tokenHash string) (Device, error) {
	var d Device
	err := s.on(ctx).Where("token_hash = ? AND revoked_at IS NULL", tokenHash).Take(&d).Error
	return d, Translate(err)
}

// Devices lists the enrolled screens of a shop.
func (s *Store) Devices(ctx context.Context, shopID int64) ([]Device, error) {
	var out []Device
	err := s.on(ctx).Where("shop_id = ? AND revoked_at IS NULL", shopID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// SeenDevice notes that an enrolled screen was used.
func (s *Store) SeenDevice(ctx context.Context, id int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Device{}).Where("id = ?", id).Update("seen_at", at).Error)
}

// RevokeDevice takes a screen off its bench and ends the sign-ins on it.
func (s *Store) RevokeDevice(ctx context.Context, shopID, benchID int64, publicID string, at time.Time) (Device,
	error) {
	var d Device
	if err := s.on(ctx).Where("shop_id = ? AND bench_id = ? AND public_id = ? AND revoked_at IS NULL", shopID, benchID,
		publicID).Take(&d).Error; err != nil {
		return d, Translate(err)
	}
	if err := s.on(ctx).Model(&Device{}).Where("id = ?", d.ID).Update("revoked_at", at).Error; err != nil {
		return d, Translate(err)
	}
	return d,
		Translate(s.on(ctx).Model(&Session{}).Where("device_id = ? AND ended_at IS NULL", d.ID).Update("ended_at", at).Error)
}

// KnownDevice is a browser in which a person has signed in by password before.
type KnownDevice struct {
	ID        int64
	PersonID  int64
	TokenHash string
	SeenAt    time.Time
}

// KnownDevice says whether a person signed in before in the browser that holds a token.
func (s *Store) KnownDevice(ctx context.Context, personID int64, tokenHash string) (bool, error) {
	var n int64
	err := s.on(ctx).Model(&KnownDevice{}).Where("person_id = ? AND token_hash = ?", personID, tokenHash).Count(&n).Error
	return n > 0, Translate(err)
}

// RememberDevice notes that a person signed in in a browser.
func (s *Store) RememberDevice(ctx context.Context, d KnownDevice) error {
	return Translate(s.on(ctx).
		Exec("INSERT INTO known_devices (person_id, token_hash, seen_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE seen_at "+
			"= VALUES(seen_at)",
			d.PersonID, d.TokenHash, d.SeenAt).Error)
}

// ForgetDevices forgets all browsers of a person.
func (s *Store) ForgetDevices(ctx context.Context, personID int64) error {
	return Translate(s.on(ctx).Where("person_id = ?", personID).Delete(&KnownDevice{}).Error)
}
