package orders

import (
	"context"
	"encoding/json"
	"time"

	"falda/internal/core/fault"
	core "falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/core/order"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
)

// Packed is something that is packed for an order, as it is entered.
type Packed struct {
	ID     string // a UUID of whoever packs: sent twice it counts once
	Line   int
	Tub    string // that it is taken from; empty where it was not in stock
	Weight string
	Unit   string
	Count  int // of packs
	Source string
	At     time.Time
}

// Pack books what is packed for a line of an order: it leaves the tub that it is taken from.
func (s *Service) Pack(ctx context.Context, id string, in Packed) (Order, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Order{}, err
	}
	row, err := s.store.Order(ctx, sh.ID, id, false)
	if err != nil {
		return Order{}, err
	}
	var lines []order.Line
	if err := json.Unmarshal(row.Lines, &lines); err != nil {
		return Order{}, err
	}
	var faults fault.List
	if in.Line < 0 || in.Line >= len(lines) {
		faults.Add("line", fault.New("", "unknown", "is no line of this order", "Look at the order again."))
	} else if t, ok := goods.ReadTubID(in.Tub); ok && t.Key != lines[in.Line].Key {
		faults.Add("tub", fault.New("", "other_product", "holds another product", "Take one that holds what is wanted."))
	}
	if err := faults.Err(); err != nil {
		return Order{}, err
	}
	if in.Tub != "" {
		err = s.goods.Book(ctx, goods.Booking{ID: in.ID, Tub: in.Tub, Kind: core.Sold, Weight: in.Weight, Unit: in.Unit,
			Count: in.Count, Source: in.Source, At: in.At, Order: &row.ID, Line: in.Line, Note: row.Number})
	} else {
		err = s.packLoose(ctx, row, in)
	}
	if err != nil {
		return Order{}, err
	}
	return s.Order(ctx, id)
}

// packLoose books what was packed and did not lie in stock.
func (s *Service) packLoose(ctx context.Context, row store.Order, in Packed) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	faults.Add("id", goods.CheckID(in.ID, "packing"))
	m, err := measure.ParseMass(in.Weight, measure.Unit(in.Unit))
	if err == nil && m <= 0 {
		err = fault.New("", "too_small", "must be above zero", "Weigh it again.")
	}
	faults.Add("weight", err)
	if in.Count < 0 || in.Count > 1000 {
		faults.Add("count", fault.New("", "out_of_range", "must be from 0 to 1,000", "Count again."))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	e := store.GoodsEvent{PublicID: in.ID, ShopID: row.ShopID, Together: in.ID, Kind: core.Sold, ChangeMg: -int64(m),
		Count: in.Count, Source: in.Source, Note: row.Number, OrderID: &row.ID, OrderLine: in.Line, At: s.goods.At(in.At),
		ReceivedAt: s.now(), MemberID: who.MemberKey()}
	return s.store.Tx(ctx, func(tx *store.Store) error {
		if err := goods.HoldOrder(ctx, tx, row.ShopID, row.ID); err != nil {
			return err
		}
		if known, err := tx.GoodsBooked(ctx, row.ShopID, in.ID); err != nil || len(known) > 0 {
			return err
		}
		return tx.AddGoodsEvents(ctx, []store.GoodsEvent{e})
	})
}

// Unpack takes back what was packed under an id.
func (s *Service) Unpack(ctx context.Context, orderID, id, booking string) (Order, error) {
	o, err := s.Order(ctx, orderID)
	if err != nil {
		return o, err
	}
	log, err := s.store.GoodsBooked(ctx, o.ShopID, booking)
	if err != nil {
		return o, err
	}
	if len(log) == 0 || log[0].OrderID == nil || *log[0].OrderID != o.ID {
		return o, store.ErrNotFound
	}
	if err := s.goods.Undo(ctx, id, booking); err != nil {
		return o, err
	}
	return s.Order(ctx, orderID)
}
