package store

import (
	"context"
	"strings"
	"time"

	"gorm.io/gorm/clause"
)

// DrillCard is how well somebody knows one thing of the atlas.
type DrillCard struct {
	ID       int64
	ShopID   int64
	MemberID int64
	Card     string
	Reps     int
	Ease     float64
	Days     int
	Due      time.Time `gorm:"type:date"`
	Seen     int
	Known    int
	LastAt   time.Time
}

// DrillCards lists what somebody was asked, what is due longest first.
func (s *Store) DrillCards(ctx context.Context, shopID, memberID int64) ([]DrillCard, error) {
	var out []DrillCard
	return out, Translate(s.on(ctx).Where("shop_id = ? AND member_id = ?", shopID, memberID).Order("due, id").
		Find(&out).Error)
}

// DrillCard gives what somebody knows of one thing; ErrNotFound where they were never asked.
func (s *Store) DrillCard(ctx context.Context, shopID, memberID int64, card string) (DrillCard, error) {
	var c DrillCard
	return c,
		Translate(s.on(ctx).Where("shop_id = ? AND member_id = ? AND card = ?", shopID, memberID, card).Take(&c).Error)
}

// HoldMember holds a member's row until the transaction ends.
func (s *Store) HoldMember(ctx context.Context, shopID, memberID int64) error {
	var ids []int64
	return Translate(s.on(ctx).Raw("SELECT id FROM members WHERE shop_id = ? AND id = ? FOR UPDATE", shopID, memberID).
		Scan(&ids).Error)
}

// SetDrillCard keeps what somebody knows of one thing, in the place of what was kept.
func (s *Store) SetDrillCard(ctx context.Context, c DrillCard) error {
	return Translate(s.on(ctx).Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"reps", "ease",
		"days", "due", "seen", "known", "last_at"})}).Create(&c).Error)
}

// Practice is a piece that is cut to learn.
type Practice struct {
	ID          int64
	ShopID      int64
	BreakdownID int64
	MemberID    int64
	Level       int
	SetBy       *int64
	SetAt       time.Time
}

// PracticeRow is a practice piece with what is shown of it in a list.
type PracticeRow struct {
	Practice
	PublicID    string // of the breakdown
	Member      string // public id
	MemberName  string
	AtlasID     string
	PlanID      string
	State       string
	LotNumber   string
	PieceNumber int
}

const practiceRows = `SELECT x.*, d.public_id, d.plan_id, d.state, m.public_id AS member, m.name AS
	member_name, l.atlas_id, l.lot_number, p.number AS piece_number FROM practices x JOIN breakdowns d ON d.id =
	x.breakdown_id JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id JOIN members m ON m.id = x.member_id
	WHERE x.shop_id = ? `

// PracticeOf gives what a breakdown is as a practice piece; ErrNotFound where it is none.
func (s *Store) PracticeOf(ctx context.Context, shopID, breakdownID int64) (PracticeRow, error) {
	var p PracticeRow
	return p, Translate(s.on(ctx).Raw(practiceRows+"AND x.breakdown_id = ?", shopID, breakdownID).Take(&p).Error)
}

// Practices lists somebody's practice pieces, the latest first.
func (s *Store) Practices(ctx context.Context, shopID, memberID int64, limit int) ([]PracticeRow, error) {
	var out []PracticeRow
	return out, Translate(s.on(ctx).Raw(practiceRows+"AND x.member_id = ? ORDER BY x.set_at DESC, x.id DESC LIMIT ?",
		shopID, memberID, limit).Scan(&out).Error)
}

// SetPractice makes a breakdown a practice piece, or changes whose and how.
func (s *Store) SetPractice(ctx context.Context, p Practice) error {
	return Translate(s.on(ctx).Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"member_id",
		"level", "set_by", "set_at"})}).Create(&p).Error)
}

// EndPractice makes a breakdown an ordinary one again.
func (s *Store) EndPractice(ctx context.Context, shopID, breakdownID int64) error {
	return changed(s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Delete(&Practice{}))
}

// SignOff is what a head cutter said of a step that somebody practised.
type SignOff struct {
	ID          int64
	ShopID      int64
	MemberID    int64
	BreakdownID int64
	AtlasID     string
	PlanID      string
	Step        string
	StepName    string
	Signed      bool
	Words       string
	ByID        int64
	At          time.Time
}

// SignOffRow is it with who said it.
type SignOffRow struct {
	SignOff
	ByName    string
	Breakdown string // public id
}

// AddSignOff keeps one; the latest of a step counts.
func (s *Store) AddSignOff(ctx context.Context, x *SignOff) error {
	return Translate(s.on(ctx).Create(x).Error)
}

// SignOffs lists what was said of somebody's steps, the oldest first.
func (s *Store) SignOffs(ctx context.Context, shopID, memberID int64) ([]SignOffRow, error) {
	var out []SignOffRow
	return out, Translate(s.on(ctx).Raw(`SELECT x.*, m.name AS by_name, d.public_id AS breakdown FROM sign_offs x JOIN
		members m ON m.id = x.by_id JOIN breakdowns d ON d.id = x.breakdown_id WHERE x.shop_id = ? AND x.member_id = ?
		ORDER BY x.id`, shopID, memberID).Scan(&out).Error)
}

// Picture is a photograph of the house, as JPEG in base64.
type Picture struct {
	ID       int64
	PublicID string
	ShopID   int64
	Wide     int
	High     int
	Jpeg     string
}

// HouseNote is what a house says of a step, or of a practice piece.
type HouseNote struct {
	ID          int64
	PublicID    string
	ShopID      int64
	AtlasID     string
	Step        string
	PlanID      string
	BreakdownID *int64
	Words       string
	PictureID   *int64
	ByID        int64
	At          time.Time
}

// HouseNoteRow is it with who wrote it and which picture is with it.
type HouseNoteRow struct {
	HouseNote
	ByName  string
	Picture *string // public id
}

const noteRows = `SELECT x.*, m.name AS by_name, p.public_id AS picture FROM house_notes x JOIN members m ON m.id =
	x.by_id LEFT JOIN pictures p ON p.id = x.picture_id WHERE x.shop_id = ? `

// HouseNotes lists what the house says of the steps of a piece, the oldest first.
func (s *Store) HouseNotes(ctx context.Context, shopID int64, atlasID string) ([]HouseNoteRow, error) {
	var out []HouseNoteRow
	return out, Translate(s.on(ctx).Raw(noteRows+"AND x.atlas_id = ? AND x.breakdown_id IS NULL ORDER BY x.id", shopID,
		atlasID).Scan(&out).Error)
}

// PracticeNotes lists what was noted of a practice piece.
func (s *Store) PracticeNotes(ctx context.Context, shopID, breakdownID int64) ([]HouseNoteRow, error) {
	var out []HouseNoteRow
	return out, Translate(s.on(ctx).Raw(noteRows+"AND x.breakdown_id = ? ORDER BY x.id", shopID, breakdownID).
		Scan(&out).Error)
}

// HouseNote gives a note by its public id.
func (s *Store) HouseNote(ctx context.Context, shopID int64, publicID string) (HouseNoteRow, error) {
	var n HouseNoteRow
	return n, Translate(s.on(ctx).Raw(noteRows+"AND x.public_id = ?", shopID, publicID).Take(&n).Error)
}

// CountNotes counts the notes of a shop.
func (s *Store) CountNotes(ctx context.Context, shopID int64) (n int64, err error) {
	err = s.on(ctx).Model(&HouseNote{}).Where("shop_id = ?", shopID).Count(&n).Error
	return n, Translate(err)
}

// AddHouseNote keeps a note.
func (s *Store) AddHouseNote(ctx context.Context, n *HouseNote) error {
	return Translate(s.on(ctx).Create(n).Error)
}

// SetNotePicture puts a picture to a note, in the place of the one it had.
func (s *Store) SetNotePicture(ctx context.Context, n HouseNote, p *Picture) error {
	if err := s.on(ctx).Create(p).Error; err != nil {
		return Translate(err)
	}
	err := s.on(ctx).Model(&HouseNote{}).Where("id = ? AND shop_id = ?", n.ID, n.ShopID).Update("picture_id", p.ID).Error
	if err != nil {
		return Translate(err)
	}
	return s.removePicture(ctx, n)
}

func (s *Store) removePicture(ctx context.Context, n HouseNote) error {
	if n.PictureID == nil {
		return nil
	}
	return changed(s.on(ctx).Where("id = ? AND shop_id = ?", *n.PictureID, n.ShopID).Delete(&Picture{}))
}

// RemoveHouseNote takes a note away, and its picture.
func (s *Store) RemoveHouseNote(ctx context.Context, n HouseNote) error {
	if err := changed(s.on(ctx).Where("id = ? AND shop_id = ?", n.ID, n.ShopID).Delete(&HouseNote{})); err != nil {
		return err
	}
	return s.removePicture(ctx, n)
}

// Picture gives a picture by its public id.
func (s *Store) Picture(ctx context.Context, shopID int64, publicID string) (Picture, error) {
	var p Picture
	return p, Translate(s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&p).Error)
}

// PieceCount is how many pieces of a kind somebody has finished.
type PieceCount struct {
	AtlasID string
	N       int
}

// CutBy counts what somebody has finished of each of some pieces of the atlas, up to a number of each.
func (s *Store) CutBy(ctx context.Context, shopID, memberID int64, pieces []string, most int) ([]PieceCount, error) {
	var sql []string
	var args []any
	for _, id := range pieces {
		sql = append(sql, `SELECT ? AS atlas_id, (SELECT COUNT(*) FROM (SELECT 1 FROM results FORCE INDEX (results_cutter)
			WHERE shop_id = ? AND member_id = ? AND atlas_id = ? LIMIT ?) x) AS n`)
		args = append(args, id, shopID, memberID, id, most)
	}
	var out []PieceCount
	return out, Translate(s.on(ctx).Raw(strings.Join(sql, " UNION ALL "), args...).Scan(&out).Error)
}

// CutRow is what a finished piece tells of whoever cut it.
type CutRow struct {
	PublicID            string // of the breakdown
	PlanID              string
	MemberID            *int64
	ClosedOn            time.Time
	InputMg             int64
	MeatMg              int64
	Minutes             float64
	Priced              bool
	BeforePurchasePerKg float64
}

// Cuts lists the latest finished pieces of a kind, the latest first: by one plan where one is named, and of one member
// where one is; PublicID is known of theirs alone.
func (s *Store) Cuts(ctx context.Context, shopID int64, atlasID, planID string, memberID int64, limit int) ([]CutRow,
	error) {
	columns, from := "r.plan_id, r.member_id, r.closed_on, r.input_mg, r.meat_mg, r.minutes, r.priced, "+
		"r.before_purchase_per_kg", "results r"
	if memberID != 0 {
		columns, from = "d.public_id, "+columns, "results r JOIN breakdowns d ON d.id = r.breakdown_id"
	}
	q := s.on(ctx).Table(from).Select(columns).Where("r.shop_id = ? AND r.atlas_id = ?", shopID, atlasID)
	if planID != "" {
		q = q.Where("r.plan_id = ?", planID)
	}
	if memberID != 0 {
		q = q.Where("r.member_id = ?", memberID)
	}
	var out []CutRow
	return out, Translate(q.Order("r.closed_at DESC, r.breakdown_id DESC").Limit(limit).Scan(&out).Error)
}

// PracticesOfPicture gives who cut the practice piece that a picture was taken of; nobody where it is of a step.
func (s *Store) PracticesOfPicture(ctx context.Context, shopID, pictureID int64) ([]int64, error) {
	var out []int64
	return out, Translate(s.on(ctx).Raw(`SELECT COALESCE(x.member_id, 0) FROM house_notes n LEFT JOIN practices x ON
		x.breakdown_id = n.breakdown_id WHERE n.shop_id = ? AND n.picture_id = ? AND n.breakdown_id IS NOT NULL`, shopID,
		pictureID).Scan(&out).Error)
}
