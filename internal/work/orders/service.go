package orders

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/order"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// Service keeps the orders.
type Service struct {
	store  *store.Store
	atlas  *atlas.Atlas
	now    func() time.Time
	audit  *audit.Log
	shops  *shop.Service
	prices *pricing.Service
	goods  *goods.Service
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service, lying *goods.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, prices: prices, goods: lying}
}

// Line is a line of an order with what is packed of it.
type Line struct {
	order.Line
	Name, Species string
	PricePerKg    *measure.Price // as agreed, else the list's of today; nil where there is none
	Agreed        bool
	Packed        measure.Mass
	PacksMade     int
	Amount        *measure.Money // of what is packed; of what is ordered while nothing is
	Complete      bool
}

// Packing is something that was packed, and stands.
type Packing struct {
	Together string
	Line     int
	Mass     measure.Mass
	Count    int
	FromTub  bool
	At       time.Time
}

// Order is an order as it stands.
type Order struct {
	store.Order
	Lines   []Line
	Whole   *WholeView
	Packed  []Packing
	Pieces  []store.PieceRow // that are cut for it
	Total   measure.Money    // of the lines, or of the whole animal
	Ordered measure.Mass
	InPacks measure.Mass
	Late    bool // open, and its time has passed
}

// Ready says whether all that was ordered is packed.
func (o Order) Ready() bool {
	return len(o.Lines) > 0 && !slices.ContainsFunc(o.Lines, func(l Line) bool { return !l.Complete })
}

// Open lists the open orders, the first due first.
func (s *Service) Open(ctx context.Context) ([]Order, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.OpenOrders(ctx, sh.ID, time.Time{})
	if err != nil {
		return nil, err
	}
	return s.read(ctx, sh, rows)
}

// endedAtOnce is how many orders a page of those that have ended holds.
const endedAtOnce = 50

// Ended lists orders that were handed over or cancelled, the latest first; next goes on after it, 0 ends it.
func (s *Service) Ended(ctx context.Context, before int64) (list []Order, next int64, err error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, 0, err
	}
	rows, err := s.store.EndedOrders(ctx, sh.ID, before, endedAtOnce)
	if err != nil {
		return nil, 0, err
	}
	if len(rows) == endedAtOnce {
		next = rows[endedAtOnce-1].ID
	}
	list, err = s.read(ctx, sh, rows)
	return list, next, err
}

// Order gives an order.
func (s *Service) Order(ctx context.Context, id string) (Order, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Order{}, err
	}
	row, err := s.store.Order(ctx, sh.ID, id, false)
	if err != nil {
		return Order{}, err
	}
	list, err := s.read(ctx, sh, []store.Order{row})
	if err != nil {
		return Order{}, err
	}
	return list[0], nil
}

// read puts rows together with what was packed for them and what is cut for them.
func (s *Service) read(ctx context.Context, sh shop.WithPlans, rows []store.Order) ([]Order, error) {
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return nil, err
	}
	log, err := s.store.OrderLog(ctx, sh.ID, ids)
	if err != nil {
		return nil, err
	}
	taken, err := s.store.OrderPieces(ctx, sh.ID, ids)
	if err != nil {
		return nil, err
	}
	var pieceIDs []int64
	for _, p := range taken {
		pieceIDs = append(pieceIDs, p.PieceID)
	}
	pieces, _, err := s.store.PieceRowsByID(ctx, sh.ID, pieceIDs)
	if err != nil {
		return nil, err
	}
	book, err := s.prices.BookOn(ctx, sh.Shop, "", sh.Day(s.now()))
	if err != nil {
		return nil, err
	}
	log = goods.Standing(log)
	out := make([]Order, 0, len(rows))
	for _, row := range rows {
		o := Order{Order: row, Late: row.State == order.Open && row.DueAt.Before(s.now())}
		o.pack(log)
		for _, p := range taken {
			if p.OrderID == row.ID {
				o.Pieces = append(o.Pieces, pieces[p.PieceID])
			}
		}
		if err := o.price(sh, products); err != nil {
			return nil, err
		}
		if len(row.Whole) > 0 && string(row.Whole) != "null" {
			var w Whole
			if err := json.Unmarshal(row.Whole, &w); err != nil {
				return nil, fmt.Errorf("order %s: %w", row.Number, err)
			}
			v, err := s.whole(sh, book.Prices, w)
			if err != nil && fault.Of(err) == nil { // a way of cutting that there is no more is left out
				return nil, err
			}
			o.Whole, o.Total = &v, v.Price
		}
		out = append(out, o)
	}
	return out, nil
}

// pack folds what was packed for the order: a booking touches each goods of its tub.
func (o *Order) pack(log []store.GoodsEvent) {
	at := map[string]int{}
	for _, e := range log {
		if e.OrderID == nil || *e.OrderID != o.ID {
			continue
		}
		i, ok := at[e.Together]
		if !ok {
			i = len(o.Packed)
			at[e.Together] = i
			o.Packed = append(o.Packed, Packing{Together: e.Together, Line: e.OrderLine, FromTub: e.GoodsID != nil, At: e.At})
		}
		o.Packed[i].Mass -= measure.Mass(e.ChangeMg)
		o.Packed[i].Count += e.Count
	}
}

// price reads the lines, and says what they come to: what is packed by its weight, what is not yet as it was ordered.
func (o *Order) price(sh shop.WithPlans, products map[string]goods.Product) error {
	var lines []order.Line
	if err := json.Unmarshal(o.Order.Lines, &lines); err != nil {
		return fmt.Errorf("order %s: %w", o.Number, err)
	}
	for i, l := range lines {
		p := products[l.Key]
		x := Line{Line: l, Name: p.Name, Species: p.Species, PricePerKg: p.Price}
		if x.Name == "" {
			x.Name = l.Key
		}
		if l.Price != "" {
			agreed, err := sh.Price(l.Price, "kg")
			if err != nil {
				return fmt.Errorf("order %s: %w", o.Number, err)
			}
			x.PricePerKg, x.Agreed = &agreed, true
		}
		for _, k := range o.Packed {
			if k.Line == i {
				x.Packed += k.Mass
				x.PacksMade += k.Count
			}
		}
		x.Complete = l.Complete(x.Packed)
		if x.PricePerKg != nil {
			m := x.Packed
			if m == 0 {
				m = l.Mass
			}
			amount := order.Amount(m, *x.PricePerKg, sh.Money)
			x.Amount, o.Total = &amount, o.Total.Add(amount)
		}
		o.Ordered, o.InPacks = o.Ordered+l.Mass, o.InPacks+x.Packed
		o.Lines = append(o.Lines, x)
	}
	o.Total = sh.Money.Of(o.Total)
	return nil
}

// Needs says what open orders that are due before a time ask for beyond what is packed, and what of that lies in stock;
// of all open orders where it is zero. A whole animal asks for the animal, and for no product of the stock.
func (s *Service) Needs(ctx context.Context, before time.Time) ([]order.Need, error) {
	open, err := s.Open(ctx)
	if err != nil {
		return nil, err
	}
	return s.NeedsOf(ctx, open, before)
}

// NeedsOf is Needs of open orders that were read already.
func (s *Service) NeedsOf(ctx context.Context, open []Order, before time.Time) ([]order.Need, error) {
	var wanted []order.Wanted
	for _, o := range open {
		if o.Whole != nil || !before.IsZero() && !o.DueAt.Before(before) {
			continue
		}
		for _, l := range o.Lines {
			wanted = append(wanted, order.Wanted{Order: o.Number, Due: o.DueAt, Key: l.Key, Left: l.Left(l.Packed)})
		}
	}
	lies, err := s.Lies(ctx)
	if err != nil {
		return nil, err
	}
	return order.Needs(wanted, lies), nil
}

// Lies is what lies in stock of each product and may still be sold.
func (s *Service) Lies(ctx context.Context) (map[string]measure.Mass, error) {
	stock, err := s.goods.Stock(ctx)
	if err != nil {
		return nil, err
	}
	lies := map[string]measure.Mass{}
	for _, t := range stock.Tubs {
		if t.Left > 0 && !t.UseBy.Before(stock.Today) {
			lies[t.Key] += t.Left
		}
	}
	return lies, nil
}

// Products lists what can be ordered.
func (s *Service) Products(ctx context.Context) ([]goods.Product, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return nil, err
	}
	return slices.Collect(maps.Values(products)), nil
}
