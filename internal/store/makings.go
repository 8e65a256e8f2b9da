package store

import (
	"context"
	"encoding/json"
	"time"

	"gorm.io/gorm/clause"
)

// Recipe is a row of what a shop makes.
type Recipe struct {
	ID            int64
	PublicID      string
	ShopID        int64
	Name          string
	Body          json.RawMessage `gorm:"type:json"`
	Price         *string         // of a kilogram that is sold
	IngredientKey *string         // what is made is this ingredient of the shop
	Retired       bool
	Version       int
	UpdatedAt     time.Time
}

// maxRecipes bounds the list of a shop's recipes.
const maxRecipes = 300

// Recipes lists a shop's recipes by name.
func (s *Store) Recipes(ctx context.Context, shopID int64) ([]Recipe, error) {
	var out []Recipe
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("retired, name").Limit(maxRecipes).Find(&out).Error)
}

// Recipe gives a recipe by its public id.
func (s *Store) Recipe(ctx context.Context, shopID int64, publicID string) (Recipe, error) {
	var r Recipe
	return r, Translate(s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&r).Error)
}

// CreateRecipe adds a recipe; ErrDuplicate where the shop has one of that name.
func (s *Store) CreateRecipe(ctx context.Context, r *Recipe) error {
	if err := s.on(ctx).Create(r).Error; err != nil {
		return Translate(err)
	}
	return s.ingredientsChanged(ctx, r.ShopID)
}

// SaveRecipe writes a recipe where its version is still that of the row.
func (s *Store) SaveRecipe(ctx context.Context, r Recipe) error {
	if _, err := s.Recipe(ctx, r.ShopID, r.PublicID); err != nil {
		return err
	}
	next := r
	next.Version++
	err := changed(s.on(ctx).Model(&Recipe{}).
		Where("shop_id = ? AND public_id = ? AND version = ?", r.ShopID, r.PublicID, r.Version).
		Select("Name", "Body", "Price", "IngredientKey", "Retired", "Version", "UpdatedAt").Updates(next))
	if err != nil {
		return err
	}
	return s.ingredientsChanged(ctx, r.ShopID)
}

// Making is something that is being made, or was.
type Making struct {
	ID        int64
	PublicID  string
	ShopID    int64
	RecipeID  int64
	Name      string
	Body      json.RawMessage  `gorm:"type:json"` // the recipe as it was
	Plan      map[string]int64 `gorm:"serializer:json"`
	LotNumber string
	MadeOn    time.Time `gorm:"type:date"`
	UseBy     time.Time `gorm:"type:date"`
	State     string    // open, closed or dropped
	OpenedAt  time.Time
	ClosedAt  *time.Time
	Reason    string
}

// Makings lists what a shop has made, the latest first; those before a mark, 0 begins it.
func (s *Store) Makings(ctx context.Context, shopID, before int64, limit int) ([]Making, error) {
	var out []Making
	q := s.on(ctx).Where("shop_id = ? AND state <> 'dropped'", shopID)
	if before > 0 {
		q = q.Where("id < ?", before)
	}
	return out, Translate(q.Order("id DESC").Limit(limit).Find(&out).Error)
}

// MakingsOf gives makings by their keys.
func (s *Store) MakingsOf(ctx context.Context, shopID int64, ids []int64) ([]Making, error) {
	var out []Making
	if len(ids) == 0 {
		return nil, nil
	}
	return out, Translate(s.on(ctx).Where("shop_id = ? AND id IN ?", shopID, ids).Order("id").Find(&out).Error)
}

// Making gives one by its public id; held until the transaction ends where it is asked for.
func (s *Store) Making(ctx context.Context, shopID int64, publicID string, hold bool) (Making, error) {
	var m Making
	q := s.on(ctx)
	if hold {
		q = q.Clauses(clause.Locking{Strength: "UPDATE"})
	}
	return m, Translate(q.Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&m).Error)
}

// HoldMaking holds one by its key until the transaction ends, and gives it as it then is.
func (s *Store) HoldMaking(ctx context.Context, shopID, id int64) (Making, error) {
	var m Making
	return m, Translate(s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).Where("shop_id = ? AND id = ?", shopID, id).
		Take(&m).Error)
}

// CreateMaking begins one; ErrDuplicate where the shop has that lot number.
func (s *Store) CreateMaking(ctx context.Context, m *Making) error {
	return Translate(s.on(ctx).Create(m).Error)
}

// SetMaking writes how far one has come.
func (s *Store) SetMaking(ctx context.Context, m Making) error {
	return Translate(s.on(ctx).Model(&Making{}).Where("shop_id = ? AND id = ?", m.ShopID, m.ID).
		Select("State", "ClosedAt", "Reason", "UseBy").Updates(&m).Error)
}

// LotsMadeOn counts what was begun on a day, for the next lot number.
func (s *Store) LotsMadeOn(ctx context.Context, shopID int64, prefix string) ([]string, error) {
	var out []string
	err := s.on(ctx).Raw("SELECT lot_number FROM makings WHERE shop_id = ? AND lot_number LIKE ?", shopID, prefix+"%").
		Scan(&out).Error
	return out, Translate(err)
}

// MakingLog lists what was weighed while something was made, in order.
func (s *Store) MakingLog(ctx context.Context, shopID int64, ids []int64) ([]GoodsEvent, error) {
	var out []GoodsEvent
	if len(ids) == 0 {
		return nil, nil
	}
	return out, Translate(s.on(ctx).Where("shop_id = ? AND making_id IN ?", shopID, ids).Order("id").Find(&out).Error)
}

// PutMade sets what a making gave: its goods are made, or set anew with the use-by that they have now.
func (s *Store) PutMade(ctx context.Context, g Goods) error {
	g.Kind = GoodsMade
	return Translate(s.on(ctx).Exec(putGoods+", use_by = VALUES(use_by)", g.values()...).Error)
}

// GoodsFrom lists the goods that were cut from pieces of a lot.
func (s *Store) GoodsFrom(ctx context.Context, shopID, lotID int64) ([]Goods, error) {
	var out []Goods
	err := s.on(ctx).Raw("SELECT g.* FROM goods g JOIN breakdowns b ON b.id = g.breakdown_id JOIN pieces p ON p.id = "+
		"b.piece_id WHERE g.shop_id = ? AND p.lot_id = ? AND (g.made_mg > 0 OR g.change_mg <> 0) ORDER BY g.id", shopID,
		lotID).Scan(&out).Error
	return out, Translate(err)
}

// GoodsMadeIn lists the goods that makings gave.
func (s *Store) GoodsMadeIn(ctx context.Context, shopID int64, makings []int64) ([]Goods, error) {
	var out []Goods
	if len(makings) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Where("shop_id = ? AND making_id IN ?", shopID, makings).Order("id").Find(&out).Error
	return out, Translate(err)
}

// Origin is the piece that goods were cut from, and its lot.
type Origin struct {
	GoodsID       int64
	PiecePublic   string
	LotPublic     string
	LotNumber     string
	Supplier      string
	SlaughteredOn time.Time
	BornIn        string
	RearedIn      string
	SlaughteredIn string
	Plant         string
}

// Origins says where goods were cut from.
func (s *Store) Origins(ctx context.Context, shopID int64, ids []int64) ([]Origin, error) {
	var out []Origin
	if len(ids) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Raw("SELECT g.id AS goods_id, p.public_id AS piece_public, l.public_id AS lot_public, "+
		"l.lot_number, l.supplier, l.slaughtered_on, l.born_in, l.reared_in, l.slaughtered_in, l.plant FROM goods g JOIN "+
		"breakdowns b ON b.id = g.breakdown_id "+
		"JOIN "+
		"pieces p ON p.id = b.piece_id JOIN lots l ON l.id = p.lot_id WHERE g.shop_id = ? AND g.id IN ? ORDER BY g.id",
		shopID, ids).Scan(&out).Error
	return out, Translate(err)
}
