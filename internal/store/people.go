package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// Person is someone who can sign in.
type Person struct {
	ID           int64
	PublicID     string
	Email        string
	PasswordHash string // empty until a password was chosen
	CreatedAt    time.Time
}

// TableName is that of the schema; the plural is not one that can be guessed.
func (Person) TableName() string { return "people" }

// Member is a person in a shop.
type Member struct {
	ID        int64
	PublicID  string
	ShopID    int64
	PersonID  int64
	Name      string
	Role      string
	PinHash   string // empty where there is no PIN
	Active    bool
	Version   int
	CreatedAt time.Time
	JoinedAt  *time.Time // nil until the person joined by this shop's own invitation; a PIN counts on its benches before
	// PseudonymAt is when the name became a pseudonym; nil where it is the person's own.
	PseudonymAt *time.Time
}

// MemberRow is a member with the account behind it.
type MemberRow struct {
	Member
	Email       string
	HasPassword bool // chosen, of somebody who has joined
	Elsewhere   int  // how many other shops the person has joined
}

// CreatePerson adds a person; ErrDuplicate where the address is taken.
func (s *Store) CreatePerson(ctx context.Context, p *Person) error {
	return Translate(s.on(ctx).Create(p).Error)
}

// PersonByEmail gives a person by the address they sign in with.
func (s *Store) PersonByEmail(ctx context.Context, email string) (Person, error) {
	var p Person
	err := s.on(ctx).Where("email = ?", email).Take(&p).Error
	return p, Translate(err)
}

// Person gives a person by key.
func (s *Store) Person(ctx context.Context, id int64) (Person, error) {
	var p Person
	err := s.on(ctx).Where("id = ?", id).Take(&p).Error
	return p, Translate(err)
}

// SetPassword writes the hash of a person's password.
func (s *Store) SetPassword(ctx context.Context, personID int64, hash string) error {
	return changed(s.on(ctx).Model(&Person{}).Where("id = ?", personID).Update("password_hash", hash))
}

// CreateMember adds a person to a shop; ErrDuplicate where they are in it.
func (s *Store) CreateMember(ctx context.Context, m *Member) error {
	return Translate(s.on(ctx).Create(m).Error)
}

// Member gives a member by its public id.
func (s *Store) Member(ctx context.Context, shopID int64, publicID string) (MemberRow, error) {
	var m MemberRow
	err := s.members(ctx).Where("m.shop_id = ? AND m.public_id = ?", shopID, publicID).Take(&m).Error
	return m, Translate(err)
}

// Members lists the people of a shop, those who left last.
func (s *Store) Members(ctx context.Context, shopID int64) ([]MemberRow, error) {
	var out []MemberRow
	err := s.members(ctx).Where("m.shop_id = ?", shopID).Order("m.active DESC, m.id").Find(&out).Error
	return out, Translate(err)
}

func (s *Store) members(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("members m").Joins("JOIN people p ON p.id = m.person_id").
		Select("m.*, IF(m.pseudonym_at IS NULL, p.email, '') AS email, p.password_hash <> '' AND m.joined_at IS NOT NULL " +
			"AS has_password, " +
			"(SELECT COUNT(*) FROM members o WHERE o.person_id = m.person_id AND o.id <> m.id AND o.joined_at IS NOT NULL) AS " +
			"elsewhere")
}

// MemberShop is one shop that a person is in.
type MemberShop struct {
	MemberID   int64
	Member     string // public id
	ShopID     int64
	ShopPublic string
	ShopName   string
	Example    bool
	Role       string
}

// ShopsOf lists the shops that a person has joined and in which they are active.
func (s *Store) ShopsOf(ctx context.Context, personID int64) ([]MemberShop, error) {
	var out []MemberShop
	err := s.on(ctx).Table("members m").Joins("JOIN shops s ON s.id = m.shop_id").
		Where("m.person_id = ? AND m.active AND m.joined_at IS NOT NULL", personID).
		Select("m.id AS member_id, m.public_id AS member, s.id AS shop_id, s.public_id AS shop_public, s.name AS " +
			"shop_name, s.example, m.role").Order("s.id").
		Find(&out).Error
	return out, Translate(err)
}

// Join notes that a person joined a shop; it changes nothing where they had.
func (s *Store) Join(ctx context.Context, shopID, personID int64, at time.Time) error {
	return Translate(s.on(ctx).Model(&Member{}).Where("shop_id = ? AND person_id = ? AND joined_at IS NULL", shopID,
		personID).Update("joined_at", at).Error)
}

// JoinedElsewhere says whether a person has joined another shop than the given one; active there or not.
func (s *Store) JoinedElsewhere(ctx context.Context, personID, shopID int64) (bool, error) {
	var n int64
	err := s.on(ctx).Model(&Member{}).Where("person_id = ? AND shop_id <> ? AND joined_at IS NOT NULL", personID, shopID).
		Count(&n).Error
	return n > 0, Translate(err)
}

// MemberOf gives the member that a person is in a shop.
func (s *Store) MemberOf(ctx context.Context, shopID, personID int64) (Member, error) {
	var m Member
	err := s.on(ctx).Where("shop_id = ? AND person_id = ?", shopID, personID).Take(&m).Error
	return m, Translate(err)
}

// SaveMember writes a member's name, role and whether they are active, where the version is still that of the row.
func (s *Store) SaveMember(ctx context.Context, m Member) error {
	return changed(s.on(ctx).Model(&Member{}).Where("shop_id = ? AND id = ? AND version = ?", m.ShopID, m.ID, m.Version).
		Updates(map[string]any{"name": m.Name, "role": m.Role, "active": m.Active, "version": m.Version + 1}))
}

// SetPin writes the hash of a member's PIN; empty takes it away.
func (s *Store) SetPin(ctx context.Context, shopID, memberID int64, hash string) error {
	return changed(s.on(ctx).Model(&Member{}).Where("shop_id = ? AND id = ?", shopID, memberID).Update("pin_hash", hash))
}

// OtherOwners counts the active owners of a shop beside one, and holds their rows until the transaction ends.
func (s *Store) OtherOwners(ctx context.Context, shopID, memberID int64) (int, error) {
	var ids []int64
	err := s.on(ctx).Raw("SELECT id FROM members WHERE shop_id = ? AND role = 'owner' AND active AND id <> ? FOR UPDATE",
		shopID, memberID).Scan(&ids).Error
	return len(ids), Translate(err)
}

// Unname takes a person out of a member's row: the name becomes the pseudonym, the account behind it an empty one that
// nobody signs in with. The account itself goes with all its sign-ins where it is in no other shop.
func (s *Store) Unname(ctx context.Context, m Member, empty Person, pseudonym string, at time.Time) error {
	return s.Tx(ctx, func(tx *Store) error {
		if err := tx.CreatePerson(ctx, &empty); err != nil {
			return err
		}
		if err := changed(tx.on(ctx).Model(&Member{}).Where("shop_id = ? AND id = ? AND pseudonym_at IS NULL", m.ShopID,
			m.ID).Updates(map[string]any{"name": pseudonym, "person_id": empty.ID, "pin_hash": "", "active": false,
			"pseudonym_at": at, "version": gorm.Expr("version + 1")})); err != nil {
			return err
		}
		db := tx.on(ctx)
		for _, q := range []string{"DELETE FROM sessions WHERE member_id = ?",
			"UPDATE shares SET made_by = '' WHERE member_id = ?"} {
			if err := db.Exec(q, m.ID).Error; err != nil {
				return Translate(err)
			}
		}
		var others int64
		if err := db.Model(&Member{}).Where("person_id = ?", m.PersonID).Count(&others).Error; err != nil || others > 0 {
			return Translate(err)
		}
		for _, q := range []string{"DELETE FROM sessions WHERE person_id = ?",
			"DELETE FROM one_time_tokens WHERE person_id = ?", "DELETE FROM known_devices WHERE person_id = ?",
			"DELETE FROM people WHERE id = ?"} {
			if err := db.Exec(q, m.PersonID).Error; err != nil {
				return Translate(err)
			}
		}
		return nil
	})
}

// Pseudonyms counts the members of a shop whose names were replaced.
func (s *Store) Pseudonyms(ctx context.Context, shopID int64) (int, error) {
	var n int64
	err := s.on(ctx).Model(&Member{}).Where("shop_id = ? AND pseudonym_at IS NOT NULL", shopID).Count(&n).Error
	return int(n), Translate(err)
}

// SessionsOf lists all sessions of a member that are kept, the latest first.
func (s *Store) SessionsOf(ctx context.Context, memberID int64) ([]Session, error) {
	var out []Session
	err := s.on(ctx).Where("member_id = ?", memberID).Order("id DESC").Find(&out).Error
	return out, Translate(err)
}
