package made

import (
	"context"
	"time"

	"falda/internal/core/fault"
	core "falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// Weighing is something that is weighed while something is made.
type Weighing struct {
	ID     string
	Kind   string // used, added, came or dropped
	Tub    string // of what is used
	Key    string // of an ingredient
	Weight string // or how much of the ingredient's unit
	Unit   string
	Count  int
	Source string
	Note   string
	At     time.Time
}

// Weigh books a weighing on something that is being made.
func (s *Service) Weigh(ctx context.Context, makingID string, in Weighing) (Making, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Making{}, err
	}
	row, err := s.store.Making(ctx, sh.ID, makingID, false)
	if err != nil {
		return Making{}, err
	}
	if row.State != "open" {
		if known, err := s.store.GoodsBooked(ctx, sh.ID, in.ID); err == nil && len(known) > 0 {
			return s.Making(ctx, makingID) // it was sent before it was closed
		}
		return Making{}, fault.NewConflict("", "closed", "This batch is closed.", "Open it again to weigh more.")
	}
	if in.Kind == core.Used {
		err = s.goods.Book(ctx, goods.Booking{ID: in.ID, Tub: in.Tub, Kind: core.Used, Weight: in.Weight, Unit: in.Unit,
			Note: in.Note, Source: in.Source, At: in.At, Making: &row.ID})
	} else {
		err = s.weigh(ctx, sh, row, in)
	}
	if err != nil {
		return Making{}, err
	}
	return s.Making(ctx, makingID)
}

// weigh books what is no goods of the stock.
func (s *Service) weigh(ctx context.Context, sh shop.Shop, row store.Making, in Weighing) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	faults.Add("id", goods.CheckID(in.ID, "weighing"))
	var m measure.Mass
	if in.Kind == added && (in.Unit == "m" || in.Unit == "piece") { // counted, and not weighed
		if in.Count <= 0 {
			faults.Add("count", fault.Required("Say how many."))
		}
	} else {
		if m, err = measure.ParseMass(in.Weight, measure.Unit(in.Unit)); err == nil && m <= 0 {
			err = fault.New("", "too_small", "must be above zero", "Weigh it again.")
		}
		faults.Add("weight", err)
	}
	switch in.Kind {
	case added:
		if in.Key == "" || len(in.Key) > 40 {
			faults.Add("ingredient", fault.Required("Say which ingredient."))
		}
	case came, dropped:
	default:
		faults.Add("kind", fault.New("", "unknown", fault.Quote(in.Kind)+" is nothing that is weighed here",
			"used, added, came or dropped."))
	}
	if in.Count < 0 || in.Count > 100_000 {
		faults.Add("count", fault.New("", "out_of_range", "must be from 0 to 100,000", "Count again."))
	}
	faults.Add("note", fault.Text(in.Note, 200, in.Kind == dropped))
	if err := faults.Err(); err != nil {
		return err
	}
	e := store.GoodsEvent{PublicID: in.ID, ShopID: sh.ID, Together: in.ID, MakingID: &row.ID, Kind: in.Kind,
		ChangeMg: int64(m), Ingredient: in.Key, Count: in.Count, Source: in.Source, Note: in.Note, At: s.goods.At(in.At),
		ReceivedAt: s.now()}
	e.MemberID = who.MemberKey()
	return s.store.Tx(ctx, func(tx *store.Store) error {
		now, err := tx.HoldMaking(ctx, sh.ID, row.ID)
		if err != nil {
			return err
		}
		if known, err := tx.GoodsBooked(ctx, sh.ID, in.ID); err != nil || len(known) > 0 {
			return err
		}
		if now.State != "open" {
			return fault.NewConflict("", "closed", "This batch is closed.", "Open it again to weigh more.")
		}
		return tx.AddGoodsEvents(ctx, []store.GoodsEvent{e})
	})
}
