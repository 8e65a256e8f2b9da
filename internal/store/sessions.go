package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
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

// Once is something that may be used once.
type Once struct {
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
func (Once) TableName() string { return "once" }

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
		d.revoked_at IS NOT NULL AS device_gone, b.id AS bench_id, COALESCE(b.public_id, '') AS bench_public, COALESCE(b.name, '') AS bench_name, COALESCE(d.token_hash, '') AS screen_hash
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
	return changed(s.on(ctx).Model(&Session{}).Where("id = ?", sessionID).Updates(map[string]any{"shop_id": shopID, "member_id": memberID}))
}

// Sessions lists the sessions of a person that still hold, the latest first.
func (s *Store) Sessions(ctx context.Context, personID int64, now, idleSince time.Time) ([]Session, error) {
	var out []Session
	err := s.on(ctx).Where("person_id = ? AND ended_at IS NULL AND ends_at > ? AND seen_at > ?", personID, now, idleSince).Order("seen_at DESC").Limit(200).Find(&out).Error
	return out, Translate(err)
}

// EndSession ends one session.
func (s *Store) EndSession(ctx context.Context, sessionID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Session{}).Where("id = ? AND ended_at IS NULL", sessionID).Update("ended_at", at).Error)
}

// EndSessions ends the sessions of a person, except one; 0 spares none. It answers how many.
func (s *Store) EndSessions(ctx context.Context, personID, except int64, at time.Time) (int64, error) {
	res := s.on(ctx).Model(&Session{}).Where("person_id = ? AND id <> ? AND ended_at IS NULL", personID, except).Update("ended_at", at)
	return res.RowsAffected, Translate(res.Error)
}

// EndSessionsIn ends a member's sessions in one shop.
func (s *Store) EndSessionsIn(ctx context.Context, memberID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Session{}).Where("member_id = ? AND ended_at IS NULL", memberID).Update("ended_at", at).Error)
}

// UsedDevice says whether a member has signed in by PIN on a device since a time.
func (s *Store) UsedDevice(ctx context.Context, shopID, deviceID int64, memberPublic string, since time.Time) (Member, error) {
	var m Member
	err := s.on(ctx).Table("members").Where(`shop_id = ? AND public_id = ? AND EXISTS
		(SELECT 1 FROM sessions s WHERE s.device_id = ? AND s.member_id = members.id AND s.seen_at > ?)`, shopID, memberPublic, deviceID, since).Take(&m).Error
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
func (s *Store) RevokeDevice(ctx context.Context, shopID, benchID int64, publicID string, at time.Time) (Device, error) {
	var d Device
	if err := s.on(ctx).Where("shop_id = ? AND bench_id = ? AND public_id = ? AND revoked_at IS NULL", shopID, benchID, publicID).Take(&d).Error; err != nil {
		return d, Translate(err)
	}
	if err := s.on(ctx).Model(&Device{}).Where("id = ?", d.ID).Update("revoked_at", at).Error; err != nil {
		return d, Translate(err)
	}
	return d, Translate(s.on(ctx).Model(&Session{}).Where("device_id = ? AND ended_at IS NULL", d.ID).Update("ended_at", at).Error)
}

// CreateOnce adds something that may be used once.
func (s *Store) CreateOnce(ctx context.Context, o *Once) error {
	return Translate(s.on(ctx).Create(o).Error)
}

// Once gives what was not used and has not ended, by the hash of its token.
func (s *Store) Once(ctx context.Context, kind, tokenHash string, now time.Time) (Once, error) {
	var o Once
	err := s.on(ctx).Where("kind = ? AND token_hash = ? AND used_at IS NULL AND ends_at > ?", kind, tokenHash, now).Take(&o).Error
	return o, Translate(err)
}

// UseOnce notes that it was used; ErrConflict where somebody was faster.
func (s *Store) UseOnce(ctx context.Context, id int64, at time.Time) error {
	return changed(s.on(ctx).Model(&Once{}).Where("id = ? AND used_at IS NULL", id).Update("used_at", at))
}

// DropOnce takes back what of a kind was not used: what a shop gave to a person or a bench, or the installation where all are nil. What
// another shop gave stands.
func (s *Store) DropOnce(ctx context.Context, kind string, shopID, personID, benchID *int64) error {
	return Translate(s.on(ctx).Where("kind = ? AND shop_id <=> ? AND person_id <=> ? AND bench_id <=> ? AND used_at IS NULL", kind, shopID, personID, benchID).
		Delete(&Once{}).Error)
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
	return Translate(s.on(ctx).Exec("INSERT INTO known_devices (person_id, token_hash, seen_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at)",
		d.PersonID, d.TokenHash, d.SeenAt).Error)
}

// ForgetDevices forgets all browsers of a person.
func (s *Store) ForgetDevices(ctx context.Context, personID int64) error {
	return Translate(s.on(ctx).Where("person_id = ?", personID).Delete(&KnownDevice{}).Error)
}

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

// Sweep removes what has ended before a time: sessions, attempts and what was to be used once. It answers how many rows.
func (s *Store) Sweep(ctx context.Context, before time.Time) (int64, error) {
	var n int64
	for _, q := range []string{
		"DELETE FROM sessions WHERE ends_at < ? OR ended_at < ?",
		"DELETE FROM once WHERE ends_at < ? OR used_at < ?",
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
	err := s.on(ctx).Where("token_hash = ? AND revoked_at IS NULL AND (ends_at IS NULL OR ends_at > ?)", hash, now).Take(&t).Error
	return t, Translate(err)
}

// UsedToken notes that a token was used.
func (s *Store) UsedToken(ctx context.Context, id int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Token{}).Where("id = ?", id).Update("used_at", at).Error)
}

// RevokeToken ends a token.
func (s *Store) RevokeToken(ctx context.Context, shopID int64, publicID string, at time.Time) (Token, error) {
	var t Token
	if err := s.on(ctx).Where("shop_id = ? AND public_id = ? AND revoked_at IS NULL", shopID, publicID).Take(&t).Error; err != nil {
		return t, Translate(err)
	}
	return t, Translate(s.on(ctx).Model(&Token{}).Where("id = ?", t.ID).Update("revoked_at", at).Error)
}
