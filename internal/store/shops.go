package store

import (
	"context"
	"encoding/json"
	"time"

	"gorm.io/gorm/clause"

	"falda/internal/core/value"
)

// SetUp says whether the installation has its first owner.
func (s *Store) SetUp(ctx context.Context) (bool, error) {
	var n int64
	err := s.on(ctx).Table("installation").Where("id = 1 AND set_up_at IS NOT NULL").Count(&n).Error
	return n > 0, Translate(err)
}

// MarkSetUp notes that there is a first owner; ErrConflict where there was one already.
func (s *Store) MarkSetUp(ctx context.Context, at time.Time) error {
	return changed(s.on(ctx).Table("installation").Where("id = 1 AND set_up_at IS NULL").Update("set_up_at", at))
}

// Shops lists all shops of the installation.
func (s *Store) Shops(ctx context.Context) ([]Shop, error) {
	var out []Shop
	err := s.on(ctx).Order("id").Find(&out).Error
	return out, Translate(err)
}

// Shop gives a shop by its key.
func (s *Store) Shop(ctx context.Context, id int64) (Shop, error) {
	var shop Shop
	err := s.on(ctx).Where("id = ?", id).Take(&shop).Error
	return shop, Translate(err)
}

// ShopByPublicID gives a shop by the id that others know it by.
func (s *Store) ShopByPublicID(ctx context.Context, id string) (Shop, error) {
	var shop Shop
	err := s.on(ctx).Where("public_id = ?", id).Take(&shop).Error
	return shop, Translate(err)
}

// LockShop holds a shop until the transaction ends, and gives it as it is then. It has to be the first statement of the
// transaction.
func (s *Store) LockShop(ctx context.Context, id int64) (Shop, error) {
	var shop Shop
	err := s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", id).Take(&shop).Error
	return shop, Translate(err)
}

// SaveShop writes a shop's settings where its version is still that of the row, and counts it up.
func (s *Store) SaveShop(ctx context.Context, shop Shop) error {
	roles, err := json.Marshal(shop.LabourByRole)
	if err != nil {
		return err
	}
	seasons, err := json.Marshal(shop.Seasons)
	if err != nil {
		return err
	}
	return changed(s.on(ctx).Model(&Shop{}).Where("id = ? AND version = ?", shop.ID, shop.Version).Updates(map[string]any{
		"discard_per_kg": shop.DiscardPerKg, "labour_by_role": string(roles), "seasons": string(seasons),
		"name": shop.Name, "market": shop.Market, "currency": shop.Currency, "time_zone": shop.TimeZone,
		"weight_unit": shop.WeightUnit, "labour_rate": shop.LabourRate, "packaging_per_kg": shop.PackagingPerKg,
		"loss_limit_knife_pct": shop.LossLimitKnifePct, "loss_limit_saw_pct": shop.LossLimitSawPct,
		"division_mg": shop.DivisionMg, "lot_prefix": shop.LotPrefix, "idle_minutes": shop.IdleMinutes,
		"scale_check_days": shop.ScaleCheckDays, "address": shop.Address, "version": shop.Version + 1}))
}

// HasAmounts says whether a shop has prices or lots, so that its currency means something.
func (s *Store) HasAmounts(ctx context.Context, shopID int64) (bool, error) {
	var n int64
	err := s.on(ctx).
		Raw("SELECT EXISTS (SELECT 1 FROM prices WHERE shop_id = ?) + EXISTS (SELECT 1 FROM lots WHERE shop_id = ?)", shopID,
			shopID).Scan(&n).Error
	return n > 0, Translate(err)
}

// SaveBench writes a bench's name, whether it is in use and how its scale is read, where the version is still that of
// the row.
func (s *Store) SaveBench(ctx context.Context, b Bench) error {
	return changed(s.on(ctx).Model(&Bench{}).Where("shop_id = ? AND id = ? AND version = ?", b.ShopID, b.ID, b.Version).
		Updates(map[string]any{"name": b.Name, "active": b.Active, "scale_pattern": b.ScalePattern,
			"scale_unit": b.ScaleUnit, "version": b.Version + 1}))
}

// CreateShop adds a shop.
func (s *Store) CreateShop(ctx context.Context, shop *Shop) error {
	return Translate(s.on(ctx).Create(shop).Error)
}

// FirstShop gives the shop that was set up first.
func (s *Store) FirstShop(ctx context.Context) (Shop, error) {
	var shop Shop
	err := s.on(ctx).Order("id").Take(&shop).Error
	return shop, Translate(err)
}

// MarkSeeded notes that the demo scenario was entered whole.
func (s *Store) MarkSeeded(ctx context.Context, shopID int64) error {
	return Translate(s.on(ctx).Model(&Shop{}).Where("id = ?", shopID).Update("seeded", true).Error)
}

// CreateBench adds a bench.
func (s *Store) CreateBench(ctx context.Context, b *Bench) error {
	return Translate(s.on(ctx).Create(b).Error)
}

// Benches lists a shop's benches, those no longer in use too.
func (s *Store) Benches(ctx context.Context, shopID int64) ([]Bench, error) {
	var out []Bench
	err := s.on(ctx).Where("shop_id = ?", shopID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// Bench gives a bench by its public id.
func (s *Store) Bench(ctx context.Context, shopID int64, publicID string) (Bench, error) {
	var b Bench
	err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&b).Error
	return b, Translate(err)
}

// Shop is a shop and its settings.
type Shop struct {
	ID                int64
	PublicID          string
	Name              string
	Demo              bool
	Market            string
	Currency          string
	TimeZone          string // IANA name
	WeightUnit        string
	LabourRate        string
	PackagingPerKg    string
	DiscardPerKg      string
	LossLimitKnifePct float64
	LossLimitSawPct   float64
	DivisionMg        int64
	LotPrefix         string
	Address           string // by which other devices reach the program; empty: as the browser shows it
	Example           bool   // it can be taken away with all that is in it
	ScaleCheckDays    int    // after which a scale is to be checked with a test weight; 0: nobody is reminded
	Seeded            bool
	IdleMinutes       int // after which a bench's clock stops by itself; 0 never
	// per hour; a role that is not in it costs the labour rate
	LabourByRole       map[string]string `gorm:"serializer:json"`
	Seasons            []value.Season    `gorm:"serializer:json"`
	Eating             *json.RawMessage  `gorm:"type:json"` // settings for grades; nil where they are the usual ones
	IngredientsVersion int               // raised with each change of an ingredient
	GradesVersion      int               // raised with each change of what the grades rest on
	StockFrom          *time.Time        `gorm:"type:date"` // goods are kept from this day on; nil: not yet
	TrimByUse          bool              // trim is valued by what it becomes
	ResultsStale       int               // above 0 while some result may be missing or lack a price
	AtlasPrint         string            // of the atlas that the answers of finished pieces were last worked out by
	Version            int
	CreatedAt          time.Time
}

// Bench is a cutting bench.
type Bench struct {
	ID       int64
	PublicID string
	ShopID   int64
	Name     string
	Active   bool
	Version  int
	// ScalePattern reads the lines of its scale, in ScaleUnit where they name none; empty for the protocol.
	ScalePattern string
	ScaleUnit    string
}
