package orders

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/order"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// NewLine is a line as it is entered: so many kilograms, or so many packs of so much.
type NewLine struct {
	Key    string
	Weight string // of all; or of a pack where packs are said
	Unit   string
	Packs  int
	Pieces int
	Price  string // a kilogram
	Note   string
}

// NewOrder is an order as it is entered.
type NewOrder struct {
	ID       string // a UUID of whoever enters it: sent twice it is one order
	Customer string
	Note     string
	Day      string
	Time     string // such as 14:30, by the shop's clock
	Lines    []NewLine
	Whole    *Whole
	Version  int
}

// maxLines bounds an order.
const maxLines = 60

// Save enters an order, or changes one: where id is that of the order.
func (s *Service) Save(ctx context.Context, id string, in NewOrder) (Order, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Order{}, err
	}
	row, err := s.checked(ctx, sh, in)
	if err != nil {
		return Order{}, err
	}
	if id == "" {
		return s.enter(ctx, sh, in.ID, row)
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		was, err := tx.Order(ctx, sh.ID, id, true)
		if err != nil {
			return audit.Change{}, err
		}
		if was.State != order.Open {
			return audit.Change{}, ended(was)
		}
		if err := s.keepsPacked(ctx, tx, was, row); err != nil {
			return audit.Change{}, err
		}
		next := was
		next.Customer, next.Note, next.DueAt, next.Lines, next.Whole = row.Customer, row.Note, row.DueAt, row.Lines, row.Whole
		next.Version = in.Version
		return audit.Change{Action: "order.changed", Subject: was.PublicID, SubjectName: was.Number,
			Was: facts(was), Became: facts(next)}, tx.SaveOrder(ctx, next)
	})
	if err != nil {
		return Order{}, err
	}
	return s.Order(ctx, id)
}

// enter adds an order that is checked.
func (s *Service) enter(ctx context.Context, sh shop.WithPlans, id string, row store.Order) (Order, error) {
	err := s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if _, err := tx.LockShop(ctx, sh.ID); err != nil { // numbers follow each other
			return audit.Change{}, err
		}
		if _, err := tx.Order(ctx, sh.ID, id, false); !errors.Is(err, store.ErrNotFound) {
			return audit.Change{}, err
		}
		year, week := sh.Day(s.now()).ISOWeek()
		prefix := fmt.Sprintf("O-%02d%02d-", year%100, week)
		taken, err := tx.OrderNumbers(ctx, sh.ID, prefix)
		if err != nil {
			return audit.Change{}, err
		}
		n := len(taken) + 1
		for slices.Contains(taken, fmt.Sprintf("%s%02d", prefix, n)) {
			n++
		}
		row.PublicID, row.ShopID, row.Number, row.State = id, sh.ID, fmt.Sprintf("%s%02d", prefix, n), order.Open
		row.Version, row.CreatedAt = 1, s.now()
		return audit.Change{Action: "order.entered", Subject: id, SubjectName: row.Number, Became: facts(row)},
			tx.CreateOrder(ctx, &row)
	})
	if err != nil {
		return Order{}, err
	}
	return s.Order(ctx, id)
}

// facts are what the audit keeps of an order: not whose it is, for the audit forgets nothing.
func facts(o store.Order) map[string]any {
	return map[string]any{"due_at": o.DueAt.Format(time.RFC3339), "lines": o.Lines}
}

func ended(o store.Order) error {
	return fault.NewConflict("", "ended", "This order is "+o.State+".", "Open it again to change it.")
}

// keepsPacked refuses to take a line away of which something is packed, or to make another product of it.
func (s *Service) keepsPacked(ctx context.Context, tx *store.Store, was, next store.Order) error {
	log, err := tx.OrderLog(ctx, was.ShopID, []int64{was.ID})
	if err != nil {
		return err
	}
	var before, after []order.Line
	if err := errors.Join(json.Unmarshal(was.Lines, &before), json.Unmarshal(next.Lines, &after)); err != nil {
		return err
	}
	for _, e := range goods.Standing(log) {
		i := e.OrderLine
		if i >= len(after) || i < len(before) && before[i].Key != after[i].Key {
			return fault.NewConflict(fmt.Sprintf("lines[%d]", i), "packed", "Some of this line is packed.",
				"Take that back first, or add another line.")
		}
	}
	return nil
}

// checked reads an order as it was entered; faults name its fields.
func (s *Service) checked(ctx context.Context, sh shop.WithPlans, in NewOrder) (row store.Order, err error) {
	var faults fault.List
	faults.Add("id", goods.CheckID(in.ID, "order"))
	row.Customer, row.Note = strings.TrimSpace(in.Customer), strings.TrimSpace(in.Note)
	faults.Add("customer", fault.Text(row.Customer, 80, true))
	faults.Add("note", fault.Text(row.Note, 400, false))
	day, err := time.Parse(time.DateOnly, in.Day)
	if err != nil {
		faults.Add("day", fault.New("", "not_a_day", "is not a day", "Write it as 2026-12-03."))
	} else if today := sh.Day(s.now()); day.Before(today.AddDate(0, -1, 0)) || day.After(today.AddDate(1, 0, 0)) {
		faults.Add("day", fault.New("", "out_of_range", "is more than a month past or a year ahead", "Choose another day."))
	}
	at, err := time.Parse("15:04", in.Time)
	if err != nil {
		faults.Add("time", fault.New("", "not_a_time", "is not a time", "Write it as 14:30."))
	}
	row.DueAt = sh.At(day, at)
	var lines []order.Line
	switch {
	case in.Whole != nil:
		v, err := s.WholeAnimal(ctx, *in.Whole)
		if err != nil {
			if fault.Of(err) == nil {
				return row, err
			}
			faults.Add("", fault.Under("whole", err))
			break
		}
		lines = v.Lines()
		said := v.Whole
		if row.Whole, err = json.Marshal(said); err != nil {
			return row, err
		}
	case len(in.Lines) == 0 || len(in.Lines) > maxLines:
		faults.Add("lines", fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", maxLines),
			"Add what is wanted."))
	default:
		products, err := s.goods.Products(ctx, sh)
		if err != nil {
			return row, err
		}
		for i, l := range in.Lines {
			lines = append(lines, readLine(sh, fmt.Sprintf("lines[%d].", i), l, products, &faults))
		}
	}
	if row.Lines, err = json.Marshal(lines); err != nil {
		return row, err
	}
	return row, faults.Err()
}

// readLine reads a line.
func readLine(sh shop.WithPlans, at string, in NewLine, products map[string]goods.Product,
	faults *fault.List) order.Line {
	l := order.Line{Key: in.Key, Packs: in.Packs, Pieces: in.Pieces, Note: strings.TrimSpace(in.Note)}
	if _, ok := products[in.Key]; !ok {
		faults.Add(at+"product_key", fault.New("", "unknown", "is no product of this shop", "Choose one of the list."))
	}
	m, err := measure.ParseMass(in.Weight, measure.Unit(in.Unit))
	if err == nil && m <= 0 {
		err = fault.New("", "too_small", "must be above zero", "Say how much is wanted.")
	}
	faults.Add(at+"weight", err)
	for _, x := range []struct {
		field string
		n     int
	}{{"packs", in.Packs}, {"pieces", in.Pieces}} {
		if x.n < 0 || x.n > 1000 {
			faults.Add(at+x.field, fault.New("", "out_of_range", "must be from 0 to 1,000", "Count again."))
		}
	}
	if l.Mass = m; in.Packs > 0 && in.Packs <= 1000 {
		l.Mass = m * measure.Mass(in.Packs)
	}
	if in.Price != "" {
		price, err := sh.ParsePrice(in.Price, "kg")
		faults.Add(at+"price", err)
		l.Price = price.Amount.Text(measure.PriceDecimals)
	}
	faults.Add(at+"note", fault.Text(l.Note, 120, false))
	return l
}

// turned is what the audit calls the change into a state.
var turned = map[string]string{order.Open: "reopened", order.Gone: "handed_over", order.Cancelled: "cancelled"}

// SetState hands an order over, cancels it, or opens it again.
func (s *Service) SetState(ctx context.Context, id, state string, version int) (Order, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Order{}, err
	}
	if state != order.Open && state != order.Gone && state != order.Cancelled {
		return Order{}, fault.New("state", "unknown", "is no state of an order", "open, gone or cancelled.")
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row, err := tx.Order(ctx, sh.ID, id, true)
		if err != nil || row.State == state {
			return audit.Change{}, err
		}
		log, err := tx.OrderLog(ctx, sh.ID, []int64{row.ID})
		if err != nil {
			return audit.Change{}, err
		}
		packed := goods.Standing(log)
		if state == order.Cancelled && len(packed) > 0 {
			return audit.Change{}, fault.NewConflict("state", "packed", "Some of it is packed.",
				"Take that back first, so that it lies in stock again.")
		}
		if state == order.Gone && len(packed) == 0 {
			return audit.Change{}, fault.NewConflict("state", "empty", "Nothing is packed for it.", "Pack it first.")
		}
		was := row.State
		row.State, row.EndedAt, row.Version = state, nil, version
		if state != order.Open {
			now := s.now()
			row.EndedAt = &now
		}
		return audit.Change{Action: "order." + turned[state], Subject: id, SubjectName: row.Number,
			Was: map[string]any{"state": was}}, tx.SaveOrder(ctx, row)
	})
	if err != nil {
		return Order{}, err
	}
	return s.Order(ctx, id)
}

// maxPieces bounds how many pieces are cut for one order.
const maxPieces = 100

// SetPieces sets which pieces are cut for an order, by their public ids.
func (s *Service) SetPieces(ctx context.Context, id string, pieces []string) (Order, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Order{}, err
	}
	if len(pieces) > maxPieces {
		return Order{}, fault.New("pieces", "too_many", fmt.Sprintf("are more than %d", maxPieces), "Choose fewer.")
	}
	rows, err := s.store.PieceRowsOf(ctx, sh.ID, pieces)
	if err != nil {
		return Order{}, err
	}
	var keys []int64
	names := []string{}
	for _, p := range rows {
		keys = append(keys, p.Piece.ID)
		names = append(names, fmt.Sprintf("%s / %d", p.Lot.LotNumber, p.Piece.Number))
	}
	slices.Sort(keys)
	slices.Sort(names)
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row, err := tx.Order(ctx, sh.ID, id, true)
		if err != nil {
			return audit.Change{}, err
		}
		if row.State != order.Open {
			return audit.Change{}, ended(row)
		}
		err = tx.SetOrderPieces(ctx, row, keys)
		if errors.Is(err, store.ErrDuplicate) {
			err = fault.NewConflict("pieces", "taken", "One of these pieces is cut for another order.", "Leave it out.")
		}
		return audit.Change{Action: "order.pieces", Subject: id, SubjectName: row.Number,
			Became: map[string]any{"pieces": names}}, err
	})
	if err != nil {
		return Order{}, err
	}
	return s.Order(ctx, id)
}
