package stock

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// LotDetail is a lot with everything that is known of it.
type LotDetail struct {
	LotView
	Cards    []Card // its pieces, those that were taken out too
	Cautions []string
	From     *store.Lot // the carcass it was broken from
	Broken   []LotView  // what it was broken into
	History  []store.Audit
	Fixed    bool // a piece of it is on a bench, or was: what it is and weighs stands
}

// Lot gives a lot with its pieces and its history.
func (s *Service) Lot(ctx context.Context, id string) (LotDetail, error) {
	var d LotDetail
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return d, err
	}
	lot, err := s.store.Lot(ctx, shop.ID, id)
	if err != nil {
		return d, err
	}
	rows, err := s.store.LotPieceRows(ctx, shop.ID, lot.ID)
	if err != nil {
		return d, err
	}
	subjects := []string{lot.PublicID}
	var pieces []store.Piece
	for _, h := range rows {
		c, err := s.Card(h, shop)
		if err != nil {
			return d, err
		}
		d.Cards = append(d.Cards, c)
		pieces = append(pieces, h.Piece)
		subjects = append(subjects, h.Piece.PublicID)
		d.Fixed = d.Fixed || h.Breakdown != nil
	}
	if d.LotView, err = s.LotView(shop, lot, pieces); err != nil {
		return d, err
	}
	d.Cautions = age.AtArrival(d.Piece, lot.About.TemperatureC, lot.About.Ph, lot.About.AgeClass)
	if lot.FromPieceID != nil {
		h, err := s.store.PieceRowByID(ctx, shop.ID, *lot.FromPieceID)
		if err != nil {
			return d, err
		}
		d.From = &h.Lot
	}
	broken, err := s.store.LotsFrom(ctx, shop.ID, lot.ID)
	if err != nil {
		return d, err
	}
	for _, l := range broken {
		v, err := s.LotView(shop, l, nil)
		if err != nil {
			return d, err
		}
		d.Broken = append(d.Broken, v)
	}
	d.History, err = s.store.History(ctx, shop.ID, subjects)
	return d, err
}

// lotFacts is what the audit keeps of a lot.
func lotFacts(lot store.Lot, pieces []store.Piece) map[string]any {
	grams := make([]float64, len(pieces))
	for i, p := range pieces {
		grams[i] = measure.Mass(p.LabelMg).Grams()
	}
	facts := map[string]any{"piece": lot.AtlasID, "pieces": lot.Pieces, "each_g": grams,
		"total_g": measure.Mass(lot.TotalMg).Grams(), "price": lot.Price, "per": lot.PricePer, "supplier": lot.Supplier,
		"lot_number": lot.LotNumber, "slaughtered_on": lot.SlaughteredOn.Format(time.DateOnly),
		"packed_on": lot.PackedOn.Format(time.DateOnly)}
	if lot.Unpacked() {
		facts["packed_on"] = ""
	}
	optional := map[string]string{"bone": lot.About.Bone, "feed": lot.About.Feed, "sex": lot.About.Sex,
		"age_class": lot.About.AgeClass, "hang": lot.About.Hang, "fat_class": lot.About.FatClass,
		"marbling": lot.About.Marbling, "supplier_grade": lot.About.SupplierGrade, "note": lot.Note, "breed": lot.About.Breed,
		"born_in": lot.About.BornIn, "reared_in": lot.About.RearedIn, "slaughtered_in": lot.About.SlaughteredIn,
		"plant": lot.About.Plant}
	for k, v := range optional {
		if v != "" {
			facts[k] = v
		}
	}
	for _, x := range []struct {
		name  string
		value *float64
	}{{"ph", lot.About.Ph}, {"temperature_c", lot.About.TemperatureC}, {"fat_pct", lot.About.FatPct},
		{"lean_yield_pct", lot.About.LeanYieldPct}} {
		if x.value != nil {
			facts[x.name] = *x.value
		}
	}
	if lot.InvoicedMg != nil {
		facts["invoiced_g"] = measure.Mass(*lot.InvoicedMg).Grams()
	}
	if lot.Form != "" {
		facts["form"] = lot.Form
	}
	if len(lot.Findings) > 0 {
		facts["findings"], facts["decided"] = lot.Findings, lot.Decided
	}
	return facts
}

// differing keeps of two sets of facts what is not the same in both.
func differing(was, became map[string]any) (map[string]any, map[string]any) {
	a, b := map[string]any{}, map[string]any{}
	for k := range maps.Keys(was) {
		if fmt.Sprint(was[k]) != fmt.Sprint(became[k]) {
			a[k] = was[k]
		}
	}
	for k := range maps.Keys(became) {
		if fmt.Sprint(was[k]) != fmt.Sprint(became[k]) {
			b[k] = became[k]
		}
	}
	return a, b
}

// ChangeLot corrects what was entered of a lot, with a reason; version is that of the lot as it was seen. Once a piece
// of it was put on a bench, what it is, how many there are, what they weigh and what was found stand.
func (s *Service) ChangeLot(ctx context.Context, id string, in Arrival, version int, reason string) (LotView, error) {
	defer s.shops.Wake() // what had no result, or no price, may have one now
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return LotView{}, err
	}
	a, faults, err := s.readWhole(shop, &in)
	if err != nil {
		return LotView{}, err
	}
	reason = faults.Reason(reason)
	if err := faults.Err(); err != nil {
		return LotView{}, err
	}
	fresh, pieces, err := s.lotOf(shop, in, a)
	if err != nil {
		return LotView{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		// no bench starts a piece of it, and none is closed at its old price
		if err := tx.LockLot(ctx, shop.ID, id); err != nil {
			return audit.Change{}, err
		}
		was, rows, err := s.lotForChange(ctx, tx, shop, id, version)
		if err != nil {
			return audit.Change{}, err
		}
		fresh.ID, fresh.PublicID, fresh.ReceivedAt, fresh.Version, fresh.FromPieceID = was.ID, was.PublicID, was.ReceivedAt,
			version+1, was.FromPieceID
		var before []store.Piece
		cut := false
		for _, h := range rows {
			before = append(before, h.Piece)
			cut = cut || h.Breakdown != nil
		}
		if cut {
			if err := standing(was, fresh, before, pieces); err != nil {
				return audit.Change{}, err
			}
			pieces = before
		}
		takeOver(pieces, before, was.ID, was.AtlasID != fresh.AtlasID)
		c := audit.Change{Action: "lot.changed", Subject: id, SubjectName: fresh.LotNumber}
		wasFacts, facts := differing(lotFacts(was, before), lotFacts(fresh, pieces))
		facts["reason"] = reason
		c.Was, c.Became = wasFacts, facts
		if err := tx.DropResults(ctx, shop.ID, fresh.ID); err != nil { // they hold what it cost and who supplied it
			return c, err
		}
		return c, tx.ChangeLot(ctx, fresh, before, pieces)
	})
	if errors.Is(err, store.ErrDuplicate) {
		return LotView{}, duplicateLot(in.LotNumber)
	}
	if err != nil {
		return LotView{}, err
	}
	d, err := s.Lot(ctx, id)
	return d.LotView, err
}

// takeOver gives the pieces of a changed lot what those before it had: each keeps its id, and its plan unless it is
// another kind of piece now.
func takeOver(pieces, before []store.Piece, lot int64, another bool) {
	for i := range pieces {
		if i < len(before) {
			mass := pieces[i].LabelMg
			pieces[i] = before[i]
			pieces[i].LabelMg = mass
			if another {
				pieces[i].PlanID, pieces[i].Options = "", nil
			}
		}
		pieces[i].LotID = lot
	}
}

// lotForChange gives a lot that may be changed by who saw this version, and its pieces.
func (s *Service) lotForChange(ctx context.Context, tx *store.Store, shop shop.WithPlans, id string,
	version int) (store.Lot, []store.PieceRow, error) {
	lot, err := tx.Lot(ctx, shop.ID, id)
	if err != nil {
		return lot, nil, err
	}
	if lot.Version != version {
		return lot, nil, store.ErrConflict
	}
	if lot.VoidedAt != nil {
		return lot, nil, fault.NewConflict("", "voided", "This lot was voided: "+lot.VoidReason+".", "Take that back first.")
	}
	rows, err := tx.LotPieceRows(ctx, shop.ID, lot.ID)
	return lot, rows, err
}

// standing says what must not change any more because the lot is being cut, or was.
func standing(was, now store.Lot, before, after []store.Piece) error {
	var faults fault.List
	stands := func(field string) {
		faults.Add(field,
			fault.NewConflict("", "being_cut", "stands, for a piece of this lot is on a bench or was cut",
				"Set it back; what the bench weighed counts anyway."))
	}
	if was.AtlasID != now.AtlasID {
		stands("atlas_id")
	}
	if !slices.EqualFunc(before, after, func(a, b store.Piece) bool { return a.LabelMg == b.LabelMg }) {
		stands("weight")
	}
	sorted := func(in []string) []string { return slices.Sorted(slices.Values(in)) }
	if !slices.Equal(sorted(was.Findings), sorted(now.Findings)) || !maps.Equal(was.Decided, now.Decided) {
		stands("findings")
	}
	if was.Form != now.Form {
		stands("form")
	}
	return faults.Err()
}

// VoidLot takes a lot out of everything, or back into it, with a reason: it was entered wrongly, or sent back. Nothing
// is deleted. A lot of which a piece is on a bench, or was, stays.
func (s *Service) VoidLot(ctx context.Context, id string, voided bool, version int, reason string) error {
	return s.void(ctx, voided, reason,
		func(tx *store.Store, shop shop.WithPlans, at *time.Time, reason string) (audit.Change, error) {
			if err := tx.LockLot(ctx, shop.ID, id); err != nil {
				return audit.Change{}, err
			}
			lot, err := tx.Lot(ctx, shop.ID, id)
			if err != nil {
				return audit.Change{}, err
			}
			rows, err := tx.LotPieceRows(ctx, shop.ID, lot.ID)
			if err != nil {
				return audit.Change{}, err
			}
			if err := voidable(lot.VoidedAt, voided, rows...); err != nil {
				return audit.Change{}, err
			}
			c := audit.Change{Action: "lot.voided", Subject: id, SubjectName: lot.LotNumber}
			return c, tx.VoidLot(ctx, lot, version, at, reason)
		})
}

// VoidPiece does the same with one piece of a lot; version is that of the piece.
func (s *Service) VoidPiece(ctx context.Context, id string, voided bool, version int, reason string) error {
	return s.void(ctx, voided, reason,
		func(tx *store.Store, shop shop.WithPlans, at *time.Time, reason string) (audit.Change, error) {
			if err := tx.LockPieces(ctx, shop.ID, id); err != nil { // no bench can start it meanwhile
				return audit.Change{}, err
			}
			h, err := tx.PieceRow(ctx, shop.ID, id)
			if err != nil {
				return audit.Change{}, err
			}
			if h.Lot.VoidedAt != nil {
				return audit.Change{}, fault.NewConflict("", "voided", "Its whole lot was voided.", "Take that back first.")
			}
			if err := voidable(h.Piece.VoidedAt, voided, h); err != nil {
				return audit.Change{}, err
			}
			c := audit.Change{Action: "piece.voided", Subject: id, SubjectName: PieceName(h)}
			return c, tx.VoidPiece(ctx, h.Piece, version, at, reason)
		})
}

func (s *Service) void(ctx context.Context, voided bool, reason string,
	do func(tx *store.Store, shop shop.WithPlans, at *time.Time, reason string) (audit.Change, error)) error {
	var faults fault.List
	reason = faults.Reason(reason)
	if err := faults.Err(); err != nil {
		return err
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	var at *time.Time
	kept := ""
	if voided {
		now := s.now()
		at, kept = &now, reason
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		c, err := do(tx, shop, at, kept)
		if !voided && c.Action != "" {
			c.Action = strings.TrimSuffix(c.Action, "voided") + "restored"
		}
		c.Was, c.Became = map[string]any{"voided": !voided}, map[string]any{"voided": voided, "reason": reason}
		return c, err
	})
}

func voidable(at *time.Time, voided bool, rows ...store.PieceRow) error {
	for _, h := range rows {
		if h.Breakdown != nil {
			return fault.NewConflict("", "being_cut", "It is on a bench, or was cut; it stays.",
				"What was weighed wrongly is undone at the bench.")
		}
	}
	if voided == (at != nil) {
		if voided {
			return fault.NewConflict("", "voided", "It was voided already.", "")
		}
		return fault.NewConflict("", "not_voided", "It is not voided.", "")
	}
	return nil
}

// RefuseVoided is the fault of whoever wants to cut what was voided.
func RefuseVoided(h store.PieceRow) error {
	if h.Piece.VoidedAt == nil {
		return nil
	}
	return fault.NewConflict("", "voided", "This piece was voided: "+h.Piece.VoidReason+".",
		"Take that back on the page of its lot.")
}
