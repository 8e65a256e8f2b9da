package store

import (
	"context"
	"encoding/json"
	"time"

	"gorm.io/gorm/clause"
)

// Order is what a customer has ordered.
type Order struct {
	ID        int64
	PublicID  string
	ShopID    int64
	Number    string
	Customer  string
	Note      string
	DueAt     time.Time
	State     string          // open, gone or cancelled
	Lines     json.RawMessage `gorm:"column:wanted;type:json"`
	Whole     json.RawMessage `gorm:"type:json;default:null"` // of a whole animal: how it is cut
	Version   int
	CreatedAt time.Time
	EndedAt   *time.Time
}

// OrderPiece is a piece that is cut for an order.
type OrderPiece struct {
	ID      int64
	ShopID  int64
	OrderID int64
	PieceID int64
}

// maxOpenOrders bounds how many orders of a shop can be open.
const maxOpenOrders = 1000

// OpenOrders lists the orders that are open and due before a time, the first due first; all that are open where it is
// zero.
func (s *Store) OpenOrders(ctx context.Context, shopID int64, before time.Time) ([]Order, error) {
	var out []Order
	q := s.on(ctx).Where("shop_id = ? AND state = 'open'", shopID)
	if !before.IsZero() {
		q = q.Where("due_at < ?", before)
	}
	return out, Translate(q.Order("due_at, id").Limit(maxOpenOrders).Find(&out).Error)
}

// EndedOrders lists orders that were handed over or cancelled, the latest first, those before a mark; 0 begins it.
func (s *Store) EndedOrders(ctx context.Context, shopID, before int64, limit int) ([]Order, error) {
	var out []Order
	q := s.on(ctx).Where("shop_id = ? AND state <> 'open'", shopID)
	if before > 0 {
		q = q.Where("id < ?", before)
	}
	return out, Translate(q.Order("id DESC").Limit(limit).Find(&out).Error)
}

// Order gives an order by its public id; held until the transaction ends where it is asked for.
func (s *Store) Order(ctx context.Context, shopID int64, publicID string, hold bool) (Order, error) {
	var o Order
	q := s.on(ctx)
	if hold {
		q = q.Clauses(clause.Locking{Strength: "UPDATE"})
	}
	return o, Translate(q.Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&o).Error)
}

// HoldOrder holds an order by its key until the transaction ends, and gives it as it then is.
func (s *Store) HoldOrder(ctx context.Context, shopID, id int64) (Order, error) {
	var o Order
	return o, Translate(s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).Where("shop_id = ? AND id = ?", shopID, id).
		Take(&o).Error)
}

// OrderNumbers lists the numbers of a shop that begin so.
func (s *Store) OrderNumbers(ctx context.Context, shopID int64, prefix string) ([]string, error) {
	var out []string
	return out, Translate(s.on(ctx).Model(&Order{}).Where("shop_id = ? AND number LIKE ?", shopID, prefix+"%").
		Pluck("number", &out).Error)
}

// CreateOrder adds an order; ErrDuplicate where the shop has one of that number or id.
func (s *Store) CreateOrder(ctx context.Context, o *Order) error {
	return Translate(s.on(ctx).Create(o).Error)
}

// SaveOrder writes an order where its version is still that of the row.
func (s *Store) SaveOrder(ctx context.Context, o Order) error {
	next := o
	next.Version++
	return changed(s.on(ctx).Model(&Order{}).Where("shop_id = ? AND id = ? AND version = ?", o.ShopID, o.ID, o.Version).
		Select("Customer", "Note", "DueAt", "State", "Lines", "Whole", "Version", "EndedAt").Updates(next))
}

// OrderLog gives what was packed for orders, in the order in which it was booked, with what took it back.
func (s *Store) OrderLog(ctx context.Context, shopID int64, ids []int64) ([]GoodsEvent, error) {
	var out []GoodsEvent
	if len(ids) == 0 {
		return nil, nil
	}
	return out, Translate(s.on(ctx).Where("shop_id = ? AND order_id IN ?", shopID, ids).Order("id").Find(&out).Error)
}

// OrderPieces lists the pieces that are cut for orders.
func (s *Store) OrderPieces(ctx context.Context, shopID int64, ids []int64) ([]OrderPiece, error) {
	var out []OrderPiece
	if len(ids) == 0 {
		return nil, nil
	}
	return out, Translate(s.on(ctx).Where("shop_id = ? AND order_id IN ?", shopID, ids).Order("id").Find(&out).Error)
}

// SetOrderPieces sets which pieces are cut for an order; ErrDuplicate where one is cut for another that is open. What
// was to be cut for an order that has ended is free.
func (s *Store) SetOrderPieces(ctx context.Context, o Order, pieces []int64) error {
	err := s.on(ctx).Where("shop_id = ? AND order_id = ?", o.ShopID, o.ID).Delete(&OrderPiece{}).Error
	if err != nil || len(pieces) == 0 {
		return Translate(err)
	}
	err = s.on(ctx).Exec(`DELETE p FROM order_pieces p JOIN orders o ON o.id = p.order_id
		WHERE p.shop_id = ? AND p.piece_id IN ? AND o.state <> 'open'`, o.ShopID, pieces).Error
	if err != nil {
		return Translate(err)
	}
	rows := make([]OrderPiece, len(pieces))
	for i, id := range pieces {
		rows[i] = OrderPiece{ShopID: o.ShopID, OrderID: o.ID, PieceID: id}
	}
	return Translate(s.on(ctx).Create(&rows).Error)
}

// DayPlan is who cuts what when on a day.
type DayPlan struct {
	ID      int64
	ShopID  int64
	Day     time.Time       `gorm:"type:date"`
	Body    json.RawMessage `gorm:"type:json"`
	Version int
	MadeAt  time.Time
}

// DayPlan gives the plan of a day; ErrNotFound where there is none.
func (s *Store) DayPlan(ctx context.Context, shopID int64, day time.Time) (DayPlan, error) {
	var d DayPlan
	return d, Translate(s.on(ctx).Where("shop_id = ? AND day = ?", shopID, day.Format(time.DateOnly)).Take(&d).Error)
}

// SaveDayPlan keeps the plan of a day: a new one where its version is 0, else in the place of that which has it.
func (s *Store) SaveDayPlan(ctx context.Context, d DayPlan) error {
	if d.Version == 0 {
		d.Version = 1
		err := Translate(s.on(ctx).Create(&d).Error)
		if err == ErrDuplicate { // somebody else made one meanwhile
			err = ErrConflict
		}
		return err
	}
	return changed(s.on(ctx).Model(&DayPlan{}).
		Where("shop_id = ? AND day = ? AND version = ?", d.ShopID, d.Day.Format(time.DateOnly), d.Version).
		Updates(map[string]any{"body": d.Body, "made_at": d.MadeAt, "version": d.Version + 1}))
}

// DropDayPlan takes the plan of a day away.
func (s *Store) DropDayPlan(ctx context.Context, shopID int64, day time.Time, version int) error {
	return changed(s.on(ctx).Where("shop_id = ? AND day = ? AND version = ?", shopID, day.Format(time.DateOnly), version).
		Delete(&DayPlan{}))
}

// LastDayPlan gives the plan of the latest day that has one; ErrNotFound where there is none.
func (s *Store) LastDayPlan(ctx context.Context, shopID int64) (DayPlan, error) {
	var d DayPlan
	return d, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("day DESC").Take(&d).Error)
}
