package store

import (
	"context"
	"encoding/json"
	"time"

	"gorm.io/gorm/clause"
)

// SaleFile is a file of a till's sales that was read in.
type SaleFile struct {
	ID        int64
	PublicID  string
	ShopID    int64
	Till      string
	Name      string
	LinesRead int
	FirstDay  time.Time       `gorm:"type:date"`
	LastDay   time.Time       `gorm:"type:date"`
	Booked    json.RawMessage `gorm:"type:json;default:null"` // what was booked out of stock with it
	MemberID  *int64
	ReadAt    time.Time
	UndoneAt  *time.Time
}

// Sale is a line of such a file.
type Sale struct {
	ID         int64
	ShopID     int64
	FileID     int64
	Line       int
	Day        time.Time `gorm:"type:date"`
	ProductKey string
	Kind       string // sold, reduced, returned or wasted
	Packs      int
	MassMg     int64
	Amount     string
	Reason     string
	Undone     bool
}

// SaleSum is what was sold of a product on a day in one way.
type SaleSum struct {
	ProductKey string
	Day        time.Time
	Kind       string
	Packs      int
	MassMg     int64
	Amount     string
}

// AddSales keeps a file with its lines.
func (s *Store) AddSales(ctx context.Context, f *SaleFile, lines []Sale) error {
	if err := s.on(ctx).Create(f).Error; err != nil {
		return Translate(err)
	}
	for i := range lines {
		lines[i].ShopID, lines[i].FileID = f.ShopID, f.ID
	}
	return Translate(s.on(ctx).CreateInBatches(lines, 500).Error)
}

// SaleFiles lists the latest files of a shop, those taken back too.
func (s *Store) SaleFiles(ctx context.Context, shopID int64) ([]SaleFile, error) {
	var out []SaleFile
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("id DESC").Limit(60).Find(&out).Error)
}

// SaleFile gives a file by its public id.
func (s *Store) SaleFile(ctx context.Context, shopID int64, publicID string) (SaleFile, error) {
	var f SaleFile
	return f, Translate(s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&f).Error)
}

// UndoSales takes a file back.
func (s *Store) UndoSales(ctx context.Context, f SaleFile, now time.Time) error {
	err := s.on(ctx).Model(&Sale{}).Where("shop_id = ? AND file_id = ?", f.ShopID, f.ID).Update("undone", true).Error
	if err != nil {
		return Translate(err)
	}
	return changed(s.on(ctx).Model(&SaleFile{}).Where("id = ? AND shop_id = ? AND undone_at IS NULL", f.ID, f.ShopID).
		Update("undone_at", now))
}

// SaleDays gives the days between two of which a till's sales were read in.
func (s *Store) SaleDays(ctx context.Context, shopID int64, till string, first, last time.Time) ([]time.Time, error) {
	var out []time.Time
	err := s.on(ctx).Raw(`SELECT DISTINCT s.day FROM sales s JOIN sale_files f ON f.id = s.file_id
		WHERE s.shop_id = ? AND s.day BETWEEN ? AND ? AND NOT s.undone AND f.till = ? ORDER BY s.day`, shopID,
		dateText(&first), dateText(&last), till).Scan(&out).Error
	return out, Translate(err)
}

// SaleSums adds up what was sold from a day to another, by product, day and kind; of one product where a key is given.
func (s *Store) SaleSums(ctx context.Context, shopID int64, key string, first, last time.Time) ([]SaleSum, error) {
	var out []SaleSum
	q := s.on(ctx).Table("sales").Select("product_key, day, kind, SUM(packs) AS packs, SUM(mass_mg) AS mass_mg, "+
		"SUM(amount) AS amount").Where("shop_id = ? AND day BETWEEN ? AND ? AND NOT undone", shopID, dateText(&first),
		dateText(&last))
	if key != "" {
		q = q.Where("product_key = ?", key)
	}
	return out, Translate(q.Group("product_key, day, kind").Order("product_key, day, kind").Scan(&out).Error)
}

// SaleLines goes through what was sold from a day to another, line by line.
func (s *Store) SaleLines(ctx context.Context, shopID int64, first, last time.Time, each func(Sale) error) error {
	rows, err := s.on(ctx).Model(&Sale{}).Where("shop_id = ? AND day BETWEEN ? AND ? AND NOT undone", shopID,
		dateText(&first), dateText(&last)).Order("day, id").Rows()
	if err != nil {
		return Translate(err)
	}
	defer rows.Close()
	for rows.Next() {
		var x Sale
		if err := s.db.ScanRows(rows, &x); err != nil {
			return Translate(err)
		}
		if err := each(x); err != nil {
			return err
		}
	}
	return Translate(rows.Err())
}

// SaleName is what a till calls a product.
type SaleName struct {
	ID         int64
	ShopID     int64
	Said       string
	ProductKey string // empty: it is not of the counter
}

// maxSaleNames bounds how many names of tills a shop remembers.
const maxSaleNames = 5000

// SaleNames lists what a shop's tills call things.
func (s *Store) SaleNames(ctx context.Context, shopID int64) ([]SaleName, error) {
	var out []SaleName
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("said").Limit(maxSaleNames).Find(&out).Error)
}

// SetSaleName remembers what a till means by a name, in the place of what was remembered.
func (s *Store) SetSaleName(ctx context.Context, n SaleName) error {
	return Translate(s.on(ctx).Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"product_key"})}).
		Create(&n).Error)
}

// SaleSettings is how a shop reckons with its sales.
type SaleSettings struct {
	ID      int64
	ShopID  int64
	Body    json.RawMessage `gorm:"type:json"`
	Version int
}

// TableName keeps the plural that the word has.
func (SaleSettings) TableName() string { return "sale_settings" }

// SaleSettings gives a shop's; ErrNotFound where it has set none.
func (s *Store) SaleSettings(ctx context.Context, shopID int64) (SaleSettings, error) {
	var x SaleSettings
	return x, Translate(s.on(ctx).Where("shop_id = ?", shopID).Take(&x).Error)
}

// SaveSaleSettings keeps them: new ones where their version is 0, else in the place of those that have it.
func (s *Store) SaveSaleSettings(ctx context.Context, x SaleSettings) error {
	if x.Version == 0 {
		x.Version = 1
		return added(s.on(ctx).Create(&x))
	}
	return changed(s.on(ctx).Model(&SaleSettings{}).Where("shop_id = ? AND version = ?", x.ShopID, x.Version).
		Updates(map[string]any{"body": x.Body, "version": x.Version + 1}))
}

// NamingTrial is the same cut under two names, or at two prices, in weeks that take turns.
type NamingTrial struct {
	ID         int64
	PublicID   string
	ShopID     int64
	ProductKey string
	NameA      string
	NameB      string
	PriceA     *string // per kg
	PriceB     *string
	Begins     time.Time `gorm:"type:date"` // a Monday
	Weeks      int
	EndedAt    *time.Time
}

// NamingTrials lists those of a shop, the latest first.
func (s *Store) NamingTrials(ctx context.Context, shopID int64) ([]NamingTrial, error) {
	var out []NamingTrial
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("begins DESC, id DESC").Limit(100).Find(&out).Error)
}

// AddNamingTrial begins one.
func (s *Store) AddNamingTrial(ctx context.Context, t *NamingTrial) error {
	return Translate(s.on(ctx).Create(t).Error)
}

// EndNamingTrial ends one before its time.
func (s *Store) EndNamingTrial(ctx context.Context, shopID int64, publicID string, now time.Time) error {
	return changed(s.on(ctx).Model(&NamingTrial{}).Where("shop_id = ? AND public_id = ? AND ended_at IS NULL", shopID,
		publicID).Update("ended_at", now))
}

// Counter is where a shop sells: how large, and the screen above it.
type Counter struct {
	ID      int64
	ShopID  int64
	Body    json.RawMessage `gorm:"type:json"`
	Secret  *string
	Version int
}

// Counter gives a shop's; ErrNotFound where it has said nothing of it.
func (s *Store) Counter(ctx context.Context, shopID int64) (Counter, error) {
	var c Counter
	return c, Translate(s.on(ctx).Where("shop_id = ?", shopID).Take(&c).Error)
}

// CounterBy gives the counter, and the shop, that a screen's secret opens.
func (s *Store) CounterBy(ctx context.Context, secret string) (Counter, Shop, error) {
	var c Counter
	var shop Shop
	if err := s.on(ctx).Where("secret = ?", secret).Take(&c).Error; err != nil {
		return c, shop, Translate(err)
	}
	return c, shop, Translate(s.on(ctx).Where("id = ?", c.ShopID).Take(&shop).Error)
}

// SaveCounter keeps it: a new one where its version is 0, else in the place of the one that has it.
func (s *Store) SaveCounter(ctx context.Context, c Counter) error {
	if c.Version == 0 {
		c.Version = 1
		return added(s.on(ctx).Create(&c))
	}
	return changed(s.on(ctx).Model(&Counter{}).Where("shop_id = ? AND version = ?", c.ShopID, c.Version).
		Updates(map[string]any{"body": c.Body, "secret": c.Secret, "version": c.Version + 1}))
}
