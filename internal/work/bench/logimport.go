package bench

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// maxImported bounds how many breakdowns, and how many events of one, a file may hold.
const (
	maxImported       = 2000
	maxImportedEvents = 2000
)

// WholeBreakdown is a breakdown with all that it is made of, as it goes out in JSON and comes in again.
type WholeBreakdown struct {
	ID      string
	PieceID string
	Bench   string // name
	Plan    atlas.Plan
	Lot     store.Lot
	Pieces  []store.Piece // of the lot
	Events  []seam.Event  // By is not kept: who cut elsewhere is not known here; the role is
}

// ImportedLine says what became of one breakdown of a file.
type ImportedLine struct {
	ID      string
	Named   string // its lot
	Added   int    // events
	Present int    // events that were there already
	Fault   error
}

// Exported is a whole breakdown as it goes out, with what is said of it beside.
type Exported struct {
	WholeBreakdown
	Row  BreakdownRow
	Lot  stock.LotView
	Logs []Logged // the events, with who did them
}

// Wholes gives breakdowns of a list with all that they are made of.
func (s *Service) Wholes(ctx context.Context, rows []BreakdownRow) ([]Exported, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	list := make([]store.Breakdown, len(rows))
	ids := make([]int64, len(rows))
	for i, r := range rows {
		list[i], ids[i] = r.Breakdown, r.Breakdown.ID
	}
	logs, err := s.store.EventsOf(ctx, shop.ID, ids)
	if err != nil {
		return nil, err
	}
	events := make(map[int64][]seam.Event, len(logs))
	for id, log := range logs {
		events[id] = eventsOf(log)
	}
	boards, err := s.boards(ctx, shop, list, events)
	if err != nil {
		return nil, err
	}
	people, err := s.peopleOf(ctx, shop.ID)
	if err != nil {
		return nil, err
	}
	lots := make([]int64, len(boards))
	for i, v := range boards {
		lots[i] = v.Card.Row.Lot.ID
	}
	pieces, err := s.store.PiecesOf(ctx, shop.ID, lots)
	if err != nil {
		return nil, err
	}
	out := make([]Exported, len(boards))
	for i, v := range boards {
		lot := v.Card.Row.Lot
		out[i] = Exported{Row: rows[i], Logs: v.logged(logs[v.Breakdown.ID], people),
			WholeBreakdown: WholeBreakdown{ID: v.Breakdown.PublicID, PieceID: v.Card.Row.Piece.PublicID, Bench: v.Bench.Name,
				Plan: v.Plan, Lot: lot, Pieces: pieces[lot.ID], Events: events[v.Breakdown.ID]}}
		if out[i].Lot, err = s.stock.LotView(shop, lot, pieces[lot.ID]); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// ImportBreakdowns takes breakdowns in: lots, pieces and breakdowns that are not there yet are made, and events that
// are not there yet are booked in their order, by the same rules as at a bench. What is there already changes nothing,
// so that a file can be sent twice. Each breakdown stands for itself.
func (s *Service) ImportBreakdowns(ctx context.Context, list []WholeBreakdown) ([]ImportedLine, error) {
	if len(list) > maxImported {
		return nil,
			fault.New("file", "too_many", fmt.Sprintf("holds more than %d breakdowns", maxImported), "Send it in parts.")
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]ImportedLine, 0, len(list))
	for _, w := range list {
		l := ImportedLine{ID: w.ID, Named: w.Lot.LotNumber}
		l.Added, l.Present, l.Fault = s.importOne(ctx, shop, w)
		if l.Fault != nil && fault.Of(l.Fault) == nil {
			return out, l.Fault
		}
		out = append(out, l)
	}
	return out, nil
}

func (s *Service) importOne(ctx context.Context, shop shop.WithPlans, w WholeBreakdown) (added, present int,
	err error) {
	if len(w.Events) > maxImportedEvents {
		return 0, 0, fault.New("log", "too_many", fmt.Sprintf("has more than %d events", maxImportedEvents), "Leave it out.")
	}
	bench, err := s.importBench(ctx, shop, w.Bench)
	if err != nil {
		return 0, 0, err
	}
	_, err = s.store.Breakdown(ctx, shop.ID, w.ID)
	if errors.Is(err, store.ErrNotFound) {
		if err := s.checkWhole(shop, w); err != nil {
			return 0, 0, err
		}
		err = s.audit.Record(ctx,
			func(tx *store.Store) (audit.Change, error) { return s.makeImported(ctx, tx, shop, w, bench) })
	}
	switch {
	case errors.Is(err, store.ErrDuplicate):
		return 0, 0,
			fault.NewConflict("lot_number", "duplicate",
				"another lot has the number "+fault.Shorten(w.Lot.LotNumber)+", or an id of it is used", "Rename that lot first.")
	case err != nil:
		return 0, 0, err
	}
	k := s.cached.of(shop.ID, w.ID)
	k.mu.Lock()
	defer k.mu.Unlock()
	k.view = nil
	if _, err := s.fill(ctx, []booking{{breakdown: w.ID, cached: k}}); err != nil {
		return 0, 0, err
	}
	for _, e := range w.Events {
		e.Bench, e.By = bench.PublicID, ""
		if err := s.checkEnvelope(e); err != nil {
			return added, present, err
		}
		views, err := s.append(ctx, []booking{{breakdown: w.ID, event: normalised(e), cached: k}})
		if err != nil {
			k.view = nil
			return added, present, err
		}
		if views[0].Repeated {
			present++
		} else {
			added++
		}
	}
	k.view = nil // it was read for this only
	return added, present, nil
}

// importBench is the bench of that name, or the shop's first.
func (s *Service) importBench(ctx context.Context, shop shop.WithPlans, name string) (store.Bench, error) {
	benches, err := s.store.Benches(ctx, shop.ID)
	if err != nil {
		return store.Bench{}, err
	}
	if len(benches) == 0 {
		return store.Bench{}, fault.New("bench", "unknown", "the shop has no bench", "Add one first.")
	}
	if i := slices.IndexFunc(benches, func(b store.Bench) bool { return b.Name == name }); i >= 0 {
		return benches[i], nil
	}
	return benches[0], nil
}

// checkWhole checks what stands around the events.
func (s *Service) checkWhole(shop shop.WithPlans, w WholeBreakdown) error {
	var faults fault.List
	p, ok := s.atlas.Find(w.Lot.AtlasID)
	if !ok {
		faults.Add("lot",
			fault.New("", "unknown", fault.Quote(w.Lot.AtlasID)+" is not a piece of the atlas",
				"Start with the atlas that it was cut by."))
		return faults
	}
	if _, carcass := s.atlas.FindCarcass(w.Lot.AtlasID); carcass {
		faults.Add("lot", fault.NewConflict("", "carcass", "is a carcass: its pieces are what is taken in", "Leave it out."))
		return faults
	}
	total, found := int64(0), false
	for _, row := range w.Pieces {
		total += row.LabelMg
		found = found || row.PublicID == w.PieceID
		if row.LabelMg <= 0 || len(row.PublicID) != 36 {
			faults.Add("lot", fault.New("", "invalid", "has a piece without a weight or an id", ""))
		}
	}
	if !found || total != w.Lot.TotalMg || len(w.Pieces) != w.Lot.Pieces || len(w.Pieces) == 0 ||
		len(w.Pieces) > stock.MaxPieces {
		faults.Add("lot",
			fault.New("", "invalid", "its pieces do not add up to it, or the piece is not among them",
				"Send it as it was exported."))
	}
	if len(w.ID) != 36 || len(w.Lot.PublicID) != 36 {
		faults.Add("id", fault.New("", "not_a_uuid", "is not an id", "Send it as it was exported."))
	}
	faults.Add("lot_number", fault.Text(w.Lot.LotNumber, stock.MaxLotNumber, true))
	faults.Add("supplier", fault.Text(w.Lot.Supplier, stock.MaxSupplier, true))
	if w.Lot.SlaughteredOn.IsZero() || w.Lot.PackedOn.Before(w.Lot.SlaughteredOn) {
		faults.Add("slaughtered_on", fault.New("", "not_a_day", "the days of the lot cannot be right", ""))
	}
	if _, err := shop.ParsePrice(w.Lot.Price, w.Lot.PricePer); err != nil {
		faults.Add("price", err)
	}
	if _, known := p.Form(w.Lot.Form); w.Lot.Form != "" && !known {
		faults.Add("form",
			fault.New("", "unknown", fault.Quote(w.Lot.Form)+" is not a form of this piece", "Send it as it was exported."))
	}
	for _, f := range atlas.ValidatePlan(p.As(w.Lot.Form).Found(w.Lot.Findings, w.Lot.Decided), w.Plan) {
		faults.Add("plan", fault.New("", "invalid", f.Error(), "Start with the atlas that it was cut by."))
	}
	return faults.Err()
}

// makeImported makes the rows that the events of a breakdown lean on, as far as they are not there.
func (s *Service) makeImported(ctx context.Context, tx *store.Store, shop shop.WithPlans, w WholeBreakdown,
	bench store.Bench) (audit.Change, error) {
	lot, err := tx.Lot(ctx, shop.ID, w.Lot.PublicID)
	if errors.Is(err, store.ErrNotFound) {
		lot = store.Lot{PublicID: w.Lot.PublicID, ShopID: shop.ID, LotNumber: w.Lot.LotNumber, Supplier: w.Lot.Supplier,
			AtlasID: w.Lot.AtlasID, Pieces: w.Lot.Pieces, TotalMg: w.Lot.TotalMg, Price: w.Lot.Price, PricePer: w.Lot.PricePer,
			SlaughteredOn: w.Lot.SlaughteredOn, PackedOn: w.Lot.PackedOn, Form: w.Lot.Form, Findings: w.Lot.Findings,
			Decided: w.Lot.Decided, About: w.Lot.About, Note: w.Lot.Note, ReceivedAt: w.Lot.ReceivedAt, Version: 1}
		if lot.Findings == nil {
			lot.Findings = []string{}
		}
		if lot.ReceivedAt.IsZero() {
			lot.ReceivedAt = s.now()
		}
		pieces := make([]store.Piece, len(w.Pieces))
		for i, p := range w.Pieces {
			pieces[i] = store.Piece{PublicID: p.PublicID, ShopID: shop.ID, Number: i + 1, LabelMg: p.LabelMg, PlanID: p.PlanID,
				Version: 1}
		}
		err = tx.CreateLot(ctx, &lot, pieces)
	}
	if err != nil {
		return audit.Change{}, err
	}
	h, err := tx.PieceRow(ctx, shop.ID, w.PieceID)
	if err != nil {
		return audit.Change{}, err
	}
	if h.Breakdown != nil {
		return audit.Change{}, fault.New("id", "other", "its piece was cut here by another breakdown", "Leave it out.")
	}
	plan, err := json.Marshal(w.Plan)
	if err != nil {
		return audit.Change{}, err
	}
	b := store.Breakdown{PublicID: w.ID, ShopID: shop.ID, PieceID: h.Piece.ID, BenchID: bench.ID, PlanID: w.Plan.ID,
		Plan: (*json.RawMessage)(&plan), CreatedAt: s.now(), State: "waiting"}
	if len(w.Events) > 0 && w.Events[0].At.After(time.Unix(0, 0)) {
		b.CreatedAt = w.Events[0].At
	}
	c := audit.Change{Action: "breakdown.imported", Subject: w.ID, SubjectName: stock.PieceName(h),
		Became: map[string]any{"events": len(w.Events), "weight_g": measure.Mass(h.Piece.LabelMg).Grams()}}
	return c, tx.CreateBreakdown(ctx, &b)
}
