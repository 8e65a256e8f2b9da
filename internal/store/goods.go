package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
)

// Goods is something that was cut or made and lies somewhere: the trim of one piece, its steaks, a batch of mince. What
// is left of it is what was made and what its events changed.
type Goods struct {
	ID            int64
	PublicID      string
	ShopID        int64
	Kind          string // stream, product or made
	ProductKey    string // of what is made: "made." and the id of its recipe
	BreakdownID   *int64
	MakingID      *int64
	MadeOn        time.Time  `gorm:"type:date"`
	SlaughteredOn *time.Time `gorm:"type:date"` // the earliest day of what is in it
	MinceUntil    *time.Time `gorm:"type:date"`
	UseBy         time.Time  `gorm:"type:date"`
	FirstUseBy    time.Time  `gorm:"type:date"` // as it was when it was made
	Part          int        // above 0: moved away from the rest, with its mass as a change
	Place         string
	LeanPct       *float64 // by the atlas
	ConnectivePct *float64
	MadeMg        int64
	ChangeMg      int64
	LeftMg        int64   `gorm:"->"`
	OffPct        float64 // sold for so much less
}

// TableName keeps the plural that the word has.
func (Goods) TableName() string { return "goods" }

// The kinds of goods.
const (
	GoodsStream  = "stream"
	GoodsProduct = "product"
	GoodsMade    = "made"
)

// GoodsEvent is something that became of goods, or that was weighed while something was made.
type GoodsEvent struct {
	ID         int64
	PublicID   string
	ShopID     int64
	Together   string
	GoodsID    *int64
	MakingID   *int64
	Kind       string
	ChangeMg   int64
	Ingredient string
	Place      string
	UseBy      *time.Time `gorm:"type:date"`
	OffPct     *float64
	Count      int
	Undoes     string // together of what is taken back
	Source     string
	Note       string
	OrderID    *int64 // that it was packed for
	OrderLine  int
	MemberID   *int64
	At         time.Time
	ReceivedAt time.Time
}

// goods adds to a compound statement what brings the goods of a breakdown up to date: what they were made of is set
// anew, what became of them stays. Of goods that are no longer made nothing was made.
func (c *compound) goods(breakdownID int64, list []Goods) {
	c.add("UPDATE goods SET made_mg = 0 WHERE breakdown_id = ?", breakdownID)
	for _, g := range list {
		g.BreakdownID = &breakdownID
		c.add(putGoods, g.values()...)
	}
}

// PutGoods makes what a breakdown gave that lies somewhere, or sets anew how much it was; what became of it stays.
func (s *Store) PutGoods(ctx context.Context, breakdownID int64, list []Goods) error {
	for _, g := range list {
		g.BreakdownID = &breakdownID
		if err := s.on(ctx).Exec(putGoods, g.values()...).Error; err != nil {
			return Translate(err)
		}
	}
	return nil
}

// putGoods makes goods, or sets anew what they were made of; what became of them stays.
const putGoods = `INSERT INTO goods (public_id, shop_id, kind, product_key, breakdown_id, making_id, made_on,
	slaughtered_on, mince_until, use_by, first_use_by, lean_pct, connective_pct, made_mg)
	VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
	ON DUPLICATE KEY UPDATE made_mg = VALUES(made_mg), lean_pct = VALUES(lean_pct),
	connective_pct = VALUES(connective_pct), slaughtered_on = VALUES(slaughtered_on), mince_until = VALUES(mince_until)`

// values are what putGoods is given.
func (g Goods) values() []any {
	return []any{g.PublicID, g.ShopID, g.Kind, g.ProductKey, g.BreakdownID, g.MakingID, dateText(&g.MadeOn),
		dateText(g.SlaughteredOn), dateText(g.MinceUntil), dateText(&g.UseBy), dateText(&g.UseBy), g.LeanPct,
		g.ConnectivePct, g.MadeMg}
}

// dateText is a day as a statement takes it; nil for none.
func dateText(day *time.Time) any {
	if day == nil || day.IsZero() {
		return nil
	}
	return day.Format(time.DateOnly)
}

// maxGoods bounds how many goods a shop can have lying about.
const maxGoods = 5000

// GoodsThere lists what a shop has of goods, first the one whose use-by comes first; what is gone is left out, what is
// below nothing is not.
func (s *Store) GoodsThere(ctx context.Context, shopID int64) ([]Goods, error) {
	var out []Goods
	err := s.on(ctx).Where("shop_id = ? AND (left_mg > 0 OR left_mg < 0)", shopID).Order("use_by, id").Limit(maxGoods).
		Find(&out).Error
	return out, Translate(err)
}

// HoldTub holds the goods of a tub until the transaction ends, in an order that is always the same; old is what could
// not be minced any more when it was cut.
func (s *Store) HoldTub(ctx context.Context, shopID int64, key string, madeOn time.Time, place string,
	old bool) ([]Goods, error) {
	var out []Goods
	err := s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).
		Where("shop_id = ? AND product_key = ? AND made_on = ? AND place = ? AND COALESCE(mince_until < made_on, 0) = ?",
			shopID, key, madeOn.Format(time.DateOnly), place, old).Order("id").Find(&out).Error
	return out, Translate(err)
}

// HoldGoods holds goods by their keys likewise.
func (s *Store) HoldGoods(ctx context.Context, shopID int64, ids []int64) ([]Goods, error) {
	var out []Goods
	if len(ids) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).Where("shop_id = ? AND id IN ?", shopID, ids).
		Order("id").Find(&out).Error
	return out, Translate(err)
}

// HoldProduct holds what is left of a product likewise: at the counter first, what must go first first.
func (s *Store) HoldProduct(ctx context.Context, shopID int64, key string) ([]Goods, error) {
	var out []Goods
	err := s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).
		Where("shop_id = ? AND product_key = ? AND left_mg > 0", shopID, key).
		Order("place = 'counter' DESC, place = 'frozen', use_by, id").Limit(maxGoods).Find(&out).Error
	return out, Translate(err)
}

// GoodsOf gives goods by their keys.
func (s *Store) GoodsOf(ctx context.Context, shopID int64, ids []int64) ([]Goods, error) {
	var out []Goods
	if len(ids) == 0 {
		return nil, nil
	}
	return out, Translate(s.on(ctx).Where("shop_id = ? AND id IN ?", shopID, ids).Order("id").Find(&out).Error)
}

// SplitGoods makes room for a part of goods that goes to another place; it holds nothing yet. The goods are held.
func (s *Store) SplitGoods(ctx context.Context, g Goods, place string) (Goods, error) {
	var last int
	of, id := "breakdown_id", g.BreakdownID
	if g.MakingID != nil {
		of, id = "making_id", g.MakingID
	}
	err := s.on(ctx).Raw("SELECT COALESCE(MAX(part), 0) FROM goods WHERE "+of+" = ? AND product_key = ?", id,
		g.ProductKey).Scan(&last).Error
	if err != nil {
		return g, Translate(err)
	}
	part := g
	part.ID, part.PublicID, part.MadeMg, part.ChangeMg, part.Part, part.Place = 0, NewID(), 0, 0, last+1, place
	return part, Translate(s.on(ctx).Create(&part).Error)
}

// AddGoodsEvents appends to the stock log, and brings the goods up to date with it.
func (s *Store) AddGoodsEvents(ctx context.Context, list []GoodsEvent) error {
	for i := range list {
		e := &list[i]
		if err := s.on(ctx).Create(e).Error; err != nil {
			return Translate(err)
		}
		if e.GoodsID == nil {
			continue
		}
		set := map[string]any{}
		if e.ChangeMg != 0 {
			set["change_mg"] = clause.Expr{SQL: "change_mg + ?", Vars: []any{e.ChangeMg}}
		}
		if e.Place != "" {
			set["place"] = e.Place
		}
		if e.UseBy != nil {
			set["use_by"] = e.UseBy.Format(time.DateOnly)
		}
		if e.OffPct != nil {
			set["off_pct"] = *e.OffPct
		}
		if len(set) == 0 {
			continue
		}
		err := s.on(ctx).Model(&Goods{}).Where("shop_id = ? AND id = ?", e.ShopID, *e.GoodsID).Updates(set).Error
		if err != nil {
			return Translate(err)
		}
	}
	return nil
}

// GoodsBooked lists what was booked under one id: of every goods of a tub.
func (s *Store) GoodsBooked(ctx context.Context, shopID int64, together string) ([]GoodsEvent, error) {
	var out []GoodsEvent
	err := s.on(ctx).Where("shop_id = ? AND together = ?", shopID, together).Order("id").Find(&out).Error
	return out, Translate(err)
}

// GoodsUndone says whether what was booked under an id has been taken back.
func (s *Store) GoodsUndone(ctx context.Context, shopID int64, together string) (bool, error) {
	var n int64
	err := s.on(ctx).Model(&GoodsEvent{}).Where("shop_id = ? AND undoes = ?", shopID, together).Count(&n).Error
	return n > 0, Translate(err)
}

// GoodsUndoneOf says which of these bookings have been taken back.
func (s *Store) GoodsUndoneOf(ctx context.Context, shopID int64, list []GoodsEvent) (map[string]bool, error) {
	ids, out := []string{}, map[string]bool{}
	for _, e := range list {
		ids = append(ids, e.Together)
	}
	var undone []string
	err := s.on(ctx).Raw("SELECT undoes FROM goods_events WHERE shop_id = ? AND undoes IN ?", shopID, ids).
		Scan(&undone).Error
	for _, id := range undone {
		out[id] = true
	}
	return out, Translate(err)
}

// GoodsLog lists the latest of the stock log, those before a mark; 0 begins it.
func (s *Store) GoodsLog(ctx context.Context, shopID, before int64, limit int) ([]GoodsEvent, error) {
	var out []GoodsEvent
	q := s.on(ctx).Where("shop_id = ?", shopID)
	if before > 0 {
		q = q.Where("id < ?", before)
	}
	return out, Translate(q.Order("id DESC").Limit(limit).Find(&out).Error)
}

// GoodsSum is how much of a product became of something, in a stretch of time.
type GoodsSum struct {
	ProductKey string
	Kind       string
	Mg         int64 // below 0 where it left
}

// GoodsSums adds up what became of goods from a time until another; what was taken back does not count.
func (s *Store) GoodsSums(ctx context.Context, shopID int64, from, to time.Time) ([]GoodsSum, error) {
	var out []GoodsSum
	err := s.on(ctx).Raw(`SELECT g.product_key, e.kind, SUM(e.change_mg) AS mg
		FROM goods_events e JOIN goods g ON g.id = e.goods_id
		WHERE e.shop_id = ? AND e.at >= ? AND e.at < ? AND e.kind IN ('sold', 'wasted', 'used', 'counted')
		AND NOT EXISTS (SELECT 1 FROM goods_events u WHERE u.shop_id = e.shop_id AND u.undoes = e.together)
		GROUP BY g.product_key, e.kind ORDER BY g.product_key, e.kind`, shopID, from, to).Scan(&out).Error
	return out, Translate(err)
}

// EventsOfGoods lists what became of goods, in order.
func (s *Store) EventsOfGoods(ctx context.Context, shopID int64, ids []int64) ([]GoodsEvent, error) {
	var out []GoodsEvent
	if len(ids) == 0 {
		return nil, nil
	}
	return out, Translate(s.on(ctx).Where("shop_id = ? AND goods_id IN ?", shopID, ids).Order("id").Find(&out).Error)
}

// BeginStock keeps goods from a day on; ErrConflict where they are kept already. The shop's version tells the benches.
func (s *Store) BeginStock(ctx context.Context, shopID int64, day time.Time) error {
	return changed(s.on(ctx).Table("shops").Where("id = ? AND stock_from IS NULL", shopID).
		Updates(map[string]any{"stock_from": day.Format(time.DateOnly), "version": clause.Expr{SQL: "version + 1"}}))
}

// ClosedSince lists breakdowns that were closed at a time or later.
func (s *Store) ClosedSince(ctx context.Context, shopID int64, since time.Time) ([]Breakdown, error) {
	var out []Breakdown
	err := s.on(ctx).Where("shop_id = ? AND state = 'closed' AND closed_at >= ?", shopID, since).Order("id").
		Limit(maxGoods).Find(&out).Error
	return out, Translate(err)
}
