package goods

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"falda/internal/core/fault"
	core "falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Booking is something that becomes of a tub, as it is entered.
type Booking struct {
	ID     string // a UUID of whoever books it: sent twice it counts once
	Tub    string
	Kind   string // one of those of the core, but Undone
	Weight string // what goes; of a count what is there; empty where nothing of it changes
	Unit   string
	Count  int    // of packs or pieces
	Place  string // of what is moved
	UseBy  string // of what is dated, or moved; empty for what follows
	Off    string // of what is reduced: per cent off its price
	Note   string
	Source string // scale or typed
	At     time.Time
	Making *int64 // that it goes into
	Order  *int64 // that it is packed for
	Line   int    // of the order
}

// maxNote bounds what is said with a booking.
const maxNote = 200

// Book books something that becomes of a tub.
func (s *Service) Book(ctx context.Context, in Booking) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	tub, weight, useBy, off, err := s.read(sh, in)
	if err != nil {
		return err
	}
	return s.store.Tx(ctx, func(tx *store.Store) error {
		// first what is decided on is held, so that what is read after it is how things stand
		list, err := tx.HoldTub(ctx, sh.ID, tub.Key, tub.MadeOn, tub.Place, tub.Old)
		if err != nil {
			return err
		}
		if err := holdOpen(ctx, tx, sh.ID, in.Making, in.Order); err != nil {
			return err
		}
		if known, err := tx.GoodsBooked(ctx, sh.ID, in.ID); err != nil || len(known) > 0 {
			return err
		}
		if len(list) == 0 {
			return fault.New("tub", "unknown", "is no tub of this shop", "Look at the list again.")
		}
		events, err := changes(list, in.Kind, weight, measure.Mass(sh.DivisionMg))
		if err != nil {
			return err
		}
		if in.Kind == core.Moved && weight > 0 {
			if events, err = apart(ctx, tx, list, events, in.Place); err != nil {
				return err
			}
		}
		for i := range events {
			e := &events[i]
			e.PublicID, e.ShopID, e.Together, e.MakingID = idOf(in.ID, *e.GoodsID), sh.ID, in.ID, in.Making
			e.OrderID, e.OrderLine = in.Order, in.Line
			e.Note, e.Source, e.Count, e.At, e.ReceivedAt = in.Note, in.Source, 0, s.At(in.At), s.now()
			if i == 0 {
				e.Count = in.Count
			}
			e.MemberID = who.MemberKey()
			if in.Kind == core.Moved && e.ChangeMg >= 0 {
				e.Place = in.Place
			}
			if e.ChangeMg >= 0 {
				e.UseBy, e.OffPct = useBy, off
			}
		}
		return tx.AddGoodsEvents(ctx, events)
	})
}

// holdOpen holds the batch that something goes into, and the order that it is packed for, until the transaction ends; a
// conflict where it has ended.
func holdOpen(ctx context.Context, tx *store.Store, shopID int64, making, order *int64) error {
	if making != nil {
		m, err := tx.HoldMaking(ctx, shopID, *making)
		if err == nil && m.State != "open" {
			err = fault.NewConflict("", "closed", "This batch is closed.", "Open it again to change it.")
		}
		if err != nil {
			return err
		}
	}
	if order == nil {
		return nil
	}
	return HoldOrder(ctx, tx, shopID, *order)
}

// HoldOrder holds an order until the transaction ends; a conflict where it was handed over or cancelled.
func HoldOrder(ctx context.Context, tx *store.Store, shopID, order int64) error {
	o, err := tx.HoldOrder(ctx, shopID, order)
	if err == nil && o.State != "open" {
		err = fault.NewConflict("", "ended", "This order is "+o.State+".", "Open it again to change what is packed.")
	}
	return err
}

// CheckID refuses an id that is no UUID; of is what it is the id of.
func CheckID(id, of string) error {
	if _, err := uuid.Parse(id); err != nil {
		return fault.New("", "not_an_id", "is not a UUID", "Make one for each "+of+".")
	}
	return nil
}

// At is when something happened, as whoever books it says; never later than now.
func (s *Service) At(said time.Time) time.Time {
	if now := s.now(); said.IsZero() || said.After(now) {
		return now
	}
	return said.UTC()
}

// idOf is the id of what a booking did to one of the goods of a tub: the same whenever it is sent.
func idOf(booking string, goods int64) string {
	return uuid.NewSHA1(uuid.MustParse(booking), []byte(fmt.Sprint(goods))).String()
}

// read reads a booking; faults name its fields.
func (s *Service) read(sh shop.Shop, in Booking) (tub TubID, weight measure.Mass, useBy *time.Time, off *float64,
	err error) {
	var faults fault.List
	faults.Add("id", CheckID(in.ID, "booking"))
	tub, ok := ReadTubID(in.Tub)
	if !ok {
		faults.Add("tub", fault.New("", "unknown", "is no tub", "Take one of the list."))
	}
	switch in.Kind {
	case core.Used, core.Sold, core.Wasted, core.Counted:
		weight, err = measure.ParseMass(in.Weight, measure.Unit(in.Unit))
		if err == nil && (weight < 0 || weight == 0 && in.Kind != core.Counted) {
			err = fault.New("", "too_small", "must be above zero", "Weigh what goes.")
		}
		faults.Add("weight", err)
	case core.Moved:
		if in.Weight != "" { // a part of it
			weight, err = measure.ParseMass(in.Weight, measure.Unit(in.Unit))
			faults.Add("weight", err)
		}
		if !core.KnownPlace(in.Place) || in.Place == tub.Place {
			faults.Add("place", fault.New("", "unknown", "is no other place", "Choose where it goes."))
		}
	case core.Dated:
		if in.UseBy == "" {
			faults.Add("use_by", fault.Required("Say until when it keeps."))
		}
	case core.Reduced:
		off, err = readOff(in.Off)
		faults.Add("off_pct", err)
	default:
		faults.Add("kind", fault.New("", "unknown", fault.Quote(in.Kind)+" becomes of no goods", "Choose one of the list."))
	}
	if in.UseBy != "" && (in.Kind == core.Moved || in.Kind == core.Dated) {
		day, err := s.day("use_by", in.UseBy, tub.MadeOn, tub.MadeOn.AddDate(3, 0, 0))
		faults.Add("", err)
		useBy = &day
	}
	if in.Count < 0 || in.Count > 100_000 {
		faults.Add("count", fault.New("", "out_of_range", "must be from 0 to 100,000", "Count again."))
	}
	faults.Add("note", fault.Text(in.Note, maxNote, in.Kind == core.Wasted || in.Kind == core.Reduced))
	return tub, weight, useBy, off, faults.Err()
}

// mostOff is by how much a price may be reduced, in per cent.
const mostOff = 95

// readOff reads by how much a price is reduced; 0 sells it at its full price again.
func readOff(text string) (*float64, error) {
	n, err := measure.ParseNumber(text)
	if err != nil {
		return nil, err
	}
	v, _ := n.Float64()
	if v < 0 || v > mostOff {
		return nil, fault.New("", "out_of_range", fmt.Sprintf("must be from 0 to %d", mostOff), "Reduce it by less.")
	}
	return &v, nil
}

// changes shares what becomes of a tub among its goods. What is taken by less than a division of the scale more than
// there is, is all of it.
func changes(list []store.Goods, kind string, weight, division measure.Mass) ([]store.GoodsEvent, error) {
	left := make([]measure.Mass, len(list))
	total := measure.Mass(0)
	for i, g := range list {
		left[i] = measure.Mass(g.LeftMg)
		total += max(0, left[i])
	}
	each := make([]measure.Mass, len(list))
	if kind != core.Counted && weight > total && weight-total < division {
		weight = total
	}
	switch {
	case kind == core.Used, kind == core.Sold, kind == core.Wasted, kind == core.Moved && weight > 0 && weight < total:
		taken, ok := core.Take(left, weight)
		if !ok {
			return nil, fault.New("weight", "too_much", "is more than there is: "+total.Text(measure.UnitKilogram, 3),
				"Weigh it again; where there really is more, count the tub first.")
		}
		for i, m := range taken {
			each[i] = -m
		}
	case kind == core.Counted:
		each = counted(left, total, weight)
	}
	var out []store.GoodsEvent
	for i, g := range list {
		whole := kind == core.Dated || kind == core.Reduced || kind == core.Moved && (weight == 0 || weight >= total)
		if !whole && each[i] == 0 {
			continue
		}
		out = append(out, store.GoodsEvent{GoodsID: &g.ID, Kind: kind, ChangeMg: int64(each[i])})
	}
	if len(out) == 0 && kind == core.Counted { // it agrees; that is worth a line of the log
		out = append(out, store.GoodsEvent{GoodsID: &list[0].ID, Kind: kind})
	}
	return out, nil
}

// apart adds to what leaves the goods of a tub where it arrives: as goods of their own, in another place. What is moved
// whole stays as it is.
func apart(ctx context.Context, tx *store.Store, list []store.Goods, leaving []store.GoodsEvent,
	place string) ([]store.GoodsEvent, error) {
	of := map[int64]store.Goods{}
	for _, g := range list {
		of[g.ID] = g
	}
	out := leaving
	for _, e := range leaving {
		if e.ChangeMg == 0 {
			continue
		}
		part, err := tx.SplitGoods(ctx, of[*e.GoodsID], place)
		if err != nil {
			return nil, err
		}
		out = append(out, store.GoodsEvent{GoodsID: &part.ID, Kind: e.Kind, ChangeMg: -e.ChangeMg})
	}
	return out, nil
}

// counted gives by how much each of the goods of a tub changes where a count finds so much. Less is taken of all as
// they lie mixed; more is put to all likewise. What stood below nothing is nothing first.
func counted(left []measure.Mass, total, found measure.Mass) []measure.Mass {
	each := make([]measure.Mass, len(left))
	weights := make([]int64, len(left))
	for i, m := range left {
		each[i] = -min(0, m)
		weights[i] = int64(max(0, m))
	}
	if total == 0 {
		each[0] += found
		return each
	}
	shares, err := measure.ApportionMass(found-total, weights)
	if err != nil { // the weights add up to something
		panic(err)
	}
	for i := range each {
		each[i] += shares[i]
	}
	return each
}

// Undo takes back what was booked under an id; undone, and twice, it changes nothing. What is frozen or used up since
// stays so.
func (s *Service) Undo(ctx context.Context, id, booking string) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	faults.Add("id", CheckID(id, "booking"))
	if err := faults.Err(); err != nil {
		return err
	}
	was, err := s.store.GoodsBooked(ctx, sh.ID, booking) // it never changes
	if err != nil {
		return err
	}
	if len(was) == 0 || was[0].Kind == core.Undone {
		return store.ErrNotFound
	}
	var ids []int64
	for _, e := range was {
		if e.GoodsID != nil {
			ids = append(ids, *e.GoodsID)
		}
	}
	return s.store.Tx(ctx, func(tx *store.Store) error {
		list, err := tx.HoldGoods(ctx, sh.ID, ids)
		if err != nil {
			return err
		}
		if err := holdOpen(ctx, tx, sh.ID, was[0].MakingID, was[0].OrderID); err != nil {
			return err
		}
		if gone, err := tx.GoodsUndone(ctx, sh.ID, booking); err != nil || gone {
			return err
		}
		if err := mayUndo(list, was); err != nil {
			return err
		}
		before, err := s.before(ctx, tx, sh.ID, list, booking)
		if err != nil {
			return err
		}
		var events []store.GoodsEvent
		for i, e := range was {
			u := store.GoodsEvent{PublicID: uuid.NewSHA1(uuid.MustParse(id), []byte(fmt.Sprint(i))).String(), ShopID: sh.ID,
				Together: id, GoodsID: e.GoodsID, MakingID: e.MakingID, OrderID: e.OrderID, OrderLine: e.OrderLine,
				Kind: core.Undone, ChangeMg: -e.ChangeMg, Undoes: booking, At: s.now(), ReceivedAt: s.now()}
			u.MemberID = who.MemberKey()
			if e.GoodsID != nil && (e.Place != "" || e.UseBy != nil || e.OffPct != nil) {
				state := before[*e.GoodsID]
				u.Place, u.UseBy, u.OffPct = state.Place, &state.UseBy, &state.Off
			}
			events = append(events, u)
		}
		return tx.AddGoodsEvents(ctx, events)
	})
}

// mayUndo refuses to take back a count that found more than is now left.
func mayUndo(list []store.Goods, was []store.GoodsEvent) error {
	left := map[int64]int64{}
	for _, g := range list {
		left[g.ID] = g.LeftMg
	}
	for _, e := range was {
		if e.GoodsID != nil && e.ChangeMg > 0 && left[*e.GoodsID] < e.ChangeMg {
			return fault.NewConflict("id", "gone", "cannot be taken back: some of it has been used since",
				"Take that back first, or count the tub.")
		}
	}
	return nil
}

// before folds the logs of goods without one booking.
func (s *Service) before(ctx context.Context, tx *store.Store, shopID int64, list []store.Goods,
	without string) (map[int64]core.State, error) {
	var ids []int64
	for _, g := range list {
		ids = append(ids, g.ID)
	}
	log, err := tx.EventsOfGoods(ctx, shopID, ids)
	if err != nil {
		return nil, err
	}
	out := map[int64]core.State{}
	for _, g := range list {
		events := []core.Event{{ID: "-", Kind: core.Undone, Undoes: without}}
		place, useBy := "cold", g.FirstUseBy
		for _, e := range log {
			if *e.GoodsID == g.ID {
				events = append(events, folded(e))
			}
		}
		out[g.ID] = core.Fold(measure.Mass(g.MadeMg), place, useBy, events)
	}
	return out, nil
}

// folded is a row of the log as the core reads it.
func folded(e store.GoodsEvent) core.Event {
	out := core.Event{ID: e.Together, Kind: e.Kind, Change: measure.Mass(e.ChangeMg), Place: e.Place, Undoes: e.Undoes}
	if e.UseBy != nil {
		out.UseBy = *e.UseBy
	}
	if e.OffPct != nil {
		out.Off = *e.OffPct
	}
	return out
}

// UndoFree takes back what was booked on a tub by itself; what went into a batch is taken back at the batch.
func (s *Service) UndoFree(ctx context.Context, id, booking string) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	was, err := s.store.GoodsBooked(ctx, sh.ID, booking)
	if err != nil {
		return err
	}
	if len(was) > 0 && was[0].MakingID != nil {
		return fault.NewConflict("", "in_a_batch", "This went into a batch.", "Take it back at the batch.")
	}
	return s.Undo(ctx, id, booking)
}
