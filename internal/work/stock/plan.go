package stock

import (
	"context"
	"fmt"
	"slices"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/page"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Card is a piece on the rail.
type Card struct {
	Row      store.PieceRow
	Piece    atlas.Piece // as found
	Plan     atlas.Plan  // zero until one is chosen
	Weight   measure.Mass
	Measured bool // weighed on the bench; else its share of the lot's weight
	AgeDays  int
	Stage    string // "plan", "bench", "judge" or "compare"
	WaitsFor string
	ReadyOn  time.Time
	Carcass  bool           // to be broken into pieces
	Batch    string         // id of the batch that it is cut in; empty where it is cut by itself
	Gain     *measure.Money // a kilogram on the other way of cutting, as it was closed; nil where that cannot be said
}

func (s *Service) Card(h store.PieceRow, shop shop.WithPlans) (Card, error) {
	p, err := s.pieceOf(shop, h.Lot, h.Piece.PlanID)
	if err != nil {
		return Card{}, err
	}
	p = chosenIn(p, h.Piece)
	c := Card{Row: h, Piece: p, Carcass: s.atlas.IsCarcass(h.Lot.AtlasID), Weight: measure.Mass(h.Piece.LabelMg),
		AgeDays: age.Days(h.Lot.SlaughteredOn, shop.Day(s.CutOrNow(h)))}
	c.Plan, _ = p.Plan(h.Piece.PlanID)
	plans := p.Plans
	if c.Plan.ID != "" {
		plans = []atlas.Plan{c.Plan}
	}
	ready := age.Of(p, plans, h.Lot.SlaughteredOn, shop.Day(s.CutOrNow(h)))
	c.ReadyOn = ready.ReadyOn
	if b := h.Breakdown; b != nil && b.InputMg > 0 {
		c.Weight, c.Measured = measure.Mass(b.InputMg), true
	}
	c.Batch = h.Batch
	c.Gain = Gain(shop.Shop, h.Breakdown)
	c.Stage, c.WaitsFor = stage(h, ready, shop)
	return c, nil
}

// Gain is what a closed breakdown brought a kilogram more than the other way of cutting would have.
func Gain(sh shop.Shop, b *store.Breakdown) *measure.Money {
	if b == nil || b.GainPerKg == nil {
		return nil
	}
	m, err := measure.MoneyFromDecimal(*b.GainPerKg)
	if err != nil {
		return nil
	}
	m = sh.Money.Of(m)
	return &m
}

// chosenIn puts what was chosen within a piece's plan into that plan. A choice that the plan does not offer any more is
// left out.
func chosenIn(p atlas.Piece, row store.Piece) atlas.Piece {
	if len(row.Options) == 0 {
		return p
	}
	p.Plans = slices.Clone(p.Plans)
	for i, pl := range p.Plans {
		if pl.ID != row.PlanID {
			continue
		}
		if with, err := p.With(pl, row.Options); err == nil {
			p.Plans[i] = with
		}
	}
	return p
}

// CutOrNow is when a piece was cut, or now while it is not: from then on its age says nothing of how it eats.
func (s *Service) CutOrNow(h store.PieceRow) time.Time {
	if h.Breakdown != nil && h.Breakdown.ClosedAt != nil {
		return *h.Breakdown.ClosedAt
	}
	return s.now()
}

// stage says where a piece hangs and what it waits for.
func stage(h store.PieceRow, ready age.Readiness, shop shop.WithPlans) (at, waits string) {
	switch b := h.Breakdown; {
	case b == nil && h.Piece.PlanID == "" && !ready.Ready:
		return "plan", "its age, until " + ready.ReadyOn.Format("2 Jan")
	case h.Piece.VoidedAt != nil:
		return "plan", "nothing: it was voided"
	case b == nil && h.Piece.PlanID == "":
		return "plan", "a plan"
	case b == nil && !ready.Ready:
		return "bench", "its age, until " + ready.ReadyOn.Format("2 Jan")
	case b == nil:
		return "bench", "a bench"
	case b.State != "closed":
		left := measure.Mass(b.InputMg + b.AddedMg - b.OutputMg)
		if b.State == "waiting" {
			return "bench", "the scale, on " + h.Bench
		}
		return "bench", "the rest, " + left.Text(shop.Unit, 2) + " on " + h.Bench
	case b.JudgedAt == nil:
		return "judge", "its cooking methods"
	default:
		return "compare", "nothing: read the answer"
	}
}

// PieceName is what a piece is called in the audit: its lot and its number.
func PieceName(h store.PieceRow) string {
	return fmt.Sprintf("%s / %d", h.Lot.LotNumber, h.Piece.Number)
}

// Page is a page of pieces, with the mark at which the next one goes on; empty after the last.
type Page[T any] struct {
	Pieces []T
	Next   string
}

// Queue lists the pieces that hang on the rail: all that are under way, the latest that are done, and page by page
// those that wait.
func (s *Service) Queue(ctx context.Context, after string) (Page[Card], error) {
	return s.queue(ctx, after, waitingAtOnce)
}

func (s *Service) queue(ctx context.Context, after string, waiting int) (Page[Card], error) {
	var out Page[Card]
	mark, err := page.Read(after, 1)
	if err != nil {
		return out, err
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return out, err
	}
	rows, next, err := s.store.Queue(ctx, shop.ID, append(mark, 0)[0], waiting, closedOnRail)
	if err != nil {
		return out, err
	}
	for _, h := range rows {
		if s.atlas.IsCarcass(h.Lot.AtlasID) && h.Breakdown != nil && h.Breakdown.State == "closed" {
			continue // its pieces hang there now
		}
		c, err := s.Card(h, shop)
		if err != nil {
			return out, err
		}
		out.Pieces = append(out.Pieces, c)
	}
	slices.SortStableFunc(out.Pieces, func(a, b Card) int { return a.order().Compare(b.order()) })
	if next > 0 {
		out.Next = page.Mark(next)
	}
	return out, nil
}

// waitingAtOnce is how many waiting pieces a page of the queue holds.
const waitingAtOnce = 200

// order is what pieces of one stage are sorted by: what is being cut first, then what was slaughtered first; what is
// done with the latest first.
func (c Card) order() time.Time {
	switch b := c.Row.Breakdown; {
	case b != nil && b.ClosedAt != nil:
		return time.Unix(-b.ClosedAt.Unix(), 0)
	case b != nil:
		return time.Unix(0, 0)
	default:
		return c.Row.Lot.SlaughteredOn
	}
}

// ChoosePlan sets how a piece will be cut, with what is chosen within the plan; version is that of the piece as it was
// seen. Once the piece is on a bench its plan stands.
func (s *Service) ChoosePlan(ctx context.Context, id string, k PlanPick, version int) error {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if err := tx.LockPieces(ctx, shop.ID, id); err != nil { // no bench can start it meanwhile
			return audit.Change{}, err
		}
		h, err := tx.PieceRow(ctx, shop.ID, id)
		if err != nil {
			return audit.Change{}, err
		}
		p, err := s.pieceOf(shop, h.Lot, "")
		if err != nil {
			return audit.Change{}, err
		}
		if err := RefuseVoided(h); err != nil {
			return audit.Change{}, err
		}
		with, err := PickPlan(p, k)
		if err != nil {
			return audit.Change{}, err
		}
		if h.Breakdown != nil {
			return audit.Change{},
				fault.NewConflict("plan_id", "on_bench", "the piece is on a bench; its plan stands", "Finish it there.")
		}
		c := audit.Change{Action: "plan.chosen", Subject: id, SubjectName: PieceName(h),
			Became: map[string]any{"plan": k.PlanID, "name": with.Name}}
		if h.Piece.PlanID != "" {
			c.Was = map[string]any{"plan": h.Piece.PlanID}
		}
		return c, tx.ChoosePlan(ctx, shop.ID, id, k.PlanID, with.Chosen, version)
	})
}
