package bench

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/seammap"
	"falda/internal/core/steps"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// How far a bench's clock may be off before an event is refused.
const (
	clockAhead  = 24 * time.Hour
	clockBehind = 400 * 24 * time.Hour
)

// BoardView is a breakdown as the bench shows it.
type BoardView struct {
	Breakdown store.Breakdown
	Bench     store.Bench
	Card      stock.Card
	Shop      shop.WithPlans
	Plan      atlas.Plan
	Flow      steps.Flow // of the plan
	Board     seam.Board
	Expected  []seam.Expected
	Next      int // position in Expected, −1 when all is weighed
	Balance   seam.Balance
	Minutes   float64
	Findings  []atlas.Inspect
	Map       seammap.Map
	Undo      *seam.Event // what U would undo
	Repeated  bool
	benches   []store.Bench // of the shop
}

// NameOf is what a weighing is of, in words.
func (v BoardView) NameOf(n seam.Node) string {
	if part, ok := v.Card.Piece.Part(n.Part); ok {
		return part.Name
	}
	if _, end, ok := v.Card.Piece.End(n.Part); ok {
		return end.Name
	}
	for _, d := range seam.Dressing {
		if d.ID == n.Part {
			return d.Name
		}
	}
	if pr, ok := seam.Sold(v.Card.Piece, v.Plan, n.Product); ok {
		return pr.Name
	}
	switch n.Event {
	case seam.Parted:
		if n.Step == "" && n.Note != "" { // what the bench called it
			return n.Note
		}
		return words.BlockName(v.Card.Piece, v.Plan, n.Block)
	case seam.Tubbed:
		return seam.TubNames[steps.Tub(n.Part)]
	case seam.Added:
		return v.ingredientName(n.Part)
	}
	if n.Event == seam.Discarded {
		return "Discarded"
	}
	return v.Card.Piece.Name
}

// ingredientName is what the shop calls an ingredient.
func (v BoardView) ingredientName(key string) string {
	return words.Capitalised(v.Shop.Rates.Ingredients[key].Called(key))
}

// ExpectedName is what something that is expected is called in the shop.
func (v BoardView) ExpectedName(e seam.Expected) string {
	if e.Kind == seam.KindIngredient {
		return v.ingredientName(e.ID)
	}
	return e.Name
}

// StartBreakdown puts a piece on a bench. Where it is on one already, that board comes back.
func (s *Service) StartBreakdown(ctx context.Context, pieceID, benchID string) (BoardView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BoardView{}, err
	}
	var public string
	start := func(tx *store.Store) (audit.Change, error) {
		if err := tx.LockPieces(ctx, shop.ID, pieceID); err != nil { // nobody voids it meanwhile, or plans it anew
			return audit.Change{}, err
		}
		h, err := tx.PieceRow(ctx, shop.ID, pieceID)
		if err != nil {
			return audit.Change{}, err
		}
		if h.Breakdown != nil {
			public = h.Breakdown.PublicID
			return audit.Change{}, nil
		}
		bench, err := usable(ctx, tx, shop, benchID)
		if err != nil {
			return audit.Change{}, err
		}
		var c audit.Change
		public, c, err = s.start(ctx, tx, shop, h, bench, nil)
		return c, err
	}
	err = s.audit.Record(ctx, start)
	if errors.Is(err, store.ErrDuplicate) { // another bench was faster; its breakdown is the piece's
		err = s.audit.Record(ctx, start)
	}
	if err != nil {
		return BoardView{}, err
	}
	return s.Board(ctx, public)
}

// usable gives a bench of the shop that is in use.
func usable(ctx context.Context, tx *store.Store, shop shop.WithPlans, benchID string) (store.Bench, error) {
	bench, err := tx.Bench(ctx, shop.ID, benchID)
	if errors.Is(err, store.ErrNotFound) {
		return bench, fault.New("bench_id", "unknown", "is not a bench of this shop", "Choose one of its benches.")
	}
	if err == nil && !bench.Active {
		return bench, fault.NewConflict("bench_id", "out_of_use", "is out of use", "Choose another bench.")
	}
	return bench, err
}

// start makes the breakdown of a piece that has none, in a batch or by itself, and gives its id.
func (s *Service) start(ctx context.Context, tx *store.Store, shop shop.WithPlans, h store.PieceRow, bench store.Bench,
	batch *int64) (string, audit.Change, error) {
	if err := stock.RefuseVoided(h); err != nil {
		return "", audit.Change{}, err
	}
	if h.Piece.PlanID == "" {
		return "", audit.Change{},
			fault.NewConflict("plan_id", "no_plan", "no plan has been chosen for this piece", "Choose a plan first.")
	}
	c, err := s.stock.Card(h, shop)
	if err != nil {
		return "", audit.Change{}, err
	}
	plan, err := json.Marshal(c.Plan)
	if err != nil {
		return "", audit.Change{}, err
	}
	public := store.NewID()
	started := audit.Change{Action: "breakdown.started", Subject: public, SubjectName: stock.PieceName(h),
		Became: map[string]any{"bench": bench.Name, "plan": h.Piece.PlanID, "version": c.Plan.Version,
			"chosen": c.Plan.Chosen}}
	return public, started,
		tx.CreateBreakdown(ctx,
			&store.Breakdown{PublicID: public, ShopID: shop.ID, PieceID: h.Piece.ID, BenchID: bench.ID, BatchID: batch,
				PlanID: h.Piece.PlanID, Plan: (*json.RawMessage)(&plan), CreatedAt: s.now(), State: "waiting"})
}

// Board gives a breakdown as it stands.
func (s *Service) Board(ctx context.Context, id string) (BoardView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BoardView{}, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return BoardView{}, err
	}
	return s.BoardOf(ctx, shop, b, nil)
}

// BoardThen gives a breakdown as it stood after its first so many events.
func (s *Service) BoardThen(ctx context.Context, id string, events int) (BoardView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return BoardView{}, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return BoardView{}, err
	}
	log, err := s.LogOf(ctx, shop, b.ID)
	if err != nil {
		return BoardView{}, err
	}
	if events < 0 || events > len(log) {
		return BoardView{},
			fault.New("upto", "out_of_range", fmt.Sprintf("must be from 0 to %d", len(log)), "The log has no more events.")
	}
	return s.BoardOf(ctx, shop, b, append([]seam.Event{}, log[:events]...))
}

// BoardOf reads what a breakdown's view is made of; log is read when it is nil.
func (s *Service) BoardOf(ctx context.Context, shop shop.WithPlans, b store.Breakdown, log []seam.Event) (BoardView,
	error) {
	var logs map[int64][]seam.Event
	if log != nil {
		logs = map[int64][]seam.Event{b.ID: log}
	}
	boards, err := s.boards(ctx, shop, []store.Breakdown{b}, logs)
	if err != nil {
		return BoardView{Breakdown: b, Shop: shop}, err
	}
	return boards[0], nil
}

// Boards reads the boards of breakdowns, in their order: with as many statements for fifty as for one.
func (s *Service) Boards(ctx context.Context, shop shop.WithPlans, list []store.Breakdown) ([]BoardView, error) {
	return s.boards(ctx, shop, list, nil)
}

func (s *Service) boards(ctx context.Context, shop shop.WithPlans, list []store.Breakdown,
	logs map[int64][]seam.Event) ([]BoardView, error) {
	pieceIDs, ids := make([]int64, len(list)), make([]int64, len(list))
	for i, b := range list {
		pieceIDs[i], ids[i] = b.PieceID, b.ID
	}
	rows, benches, err := s.store.PieceRowsByID(ctx, shop.ID, pieceIDs)
	if err != nil {
		return nil, err
	}
	if logs == nil {
		if logs, err = s.logsOf(ctx, shop.ID, ids); err != nil {
			return nil, err
		}
	}
	out := make([]BoardView, len(list))
	for i, b := range list {
		h, ok := rows[b.PieceID]
		if !ok {
			return nil, store.ErrNotFound
		}
		h.Breakdown = &b
		if out[i], err = s.boardOn(shop, h, benches, logs[b.ID]); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// boardOn puts a board together from what was read of it.
func (s *Service) boardOn(shop shop.WithPlans, h store.PieceRow, benches []store.Bench, log []seam.Event) (BoardView,
	error) {
	v := BoardView{Breakdown: *h.Breakdown, Shop: shop, benches: benches}
	var err error
	if v.Card, err = s.stock.Card(h, shop); err != nil {
		return v, err
	}
	for _, bench := range benches {
		if bench.ID == v.Breakdown.BenchID {
			v.Bench = bench
		}
	}
	if v.Plan, err = planOf(v.Card.Piece, v.Breakdown); err != nil {
		return v, err
	}
	v.Flow = v.Card.Piece.Flow(v.Plan)
	v.Findings = stock.Ticked(v.Card.Piece, h.Lot.Findings)
	if v.Map, err = s.stock.ShareMap(v.Card.Piece); err != nil {
		return v, err
	}
	s.show(&v, log)
	return v, nil
}

// show folds the log into the view.
func (s *Service) show(v *BoardView, log []seam.Event) {
	p := v.Card.Piece
	v.Board = seam.Fold(p, log)
	v.Expected = seam.ExpectBy(v.Flow, p, v.Plan, v.Board, v.Card.Weight)
	v.Next = seam.Next(v.Expected)
	v.Balance = v.Board.Balance("", measure.Mass(v.Shop.DivisionMg), v.Shop.LossLimit(v.Plan))
	v.Minutes = v.Board.Minutes(s.now())
	v.Undo = nil
	if !v.Board.Closed() {
		v.Undo = seam.Undoable(p, v.Plan, v.Board, log)
	}
}

// planOf is the plan that a breakdown goes by: as it was when the piece went on the bench.
func planOf(p atlas.Piece, b store.Breakdown) (atlas.Plan, error) {
	if b.Plan != nil {
		pl, err := stock.PlanAsCut(b)
		return p.Inherit(pl), err
	}
	pl, ok := p.Plan(b.PlanID)
	if !ok {
		return pl, fmt.Errorf("breakdown %s goes by plan %s, which %s does not have", b.PublicID, b.PlanID, p.ID)
	}
	return pl, nil
}

// summarise sets the columns of a breakdown that its board decides.
func summarise(b *store.Breakdown, board seam.Board, minutes float64) {
	b.Events, b.State = board.Events, "waiting"
	b.InputMg, b.OutputMg, b.AddedMg, b.LossMg, b.Minutes, b.ClosedAt = 0, 0, 0, 0, minutes, nil
	if !board.Closed() {
		b.GainPerKg = nil
	}
	root, ok := board.Node("")
	if !ok {
		return
	}
	b.State, b.InputMg = "open", int64(root.Mass)
	b.AddedMg, b.OutputMg = int64(board.AddedMass()), int64(board.Output())
	if root.Closed {
		ended := board.Ended
		b.State, b.LossMg, b.ClosedAt = "closed", int64(board.Lost()), &ended
		b.OutputMg = b.InputMg + b.AddedMg - b.LossMg // what was lost inside opened parts did not come out
	}
}

func outputRows(shopID, breakdownID int64, board seam.Board) []store.Output {
	var out []store.Output
	for _, n := range board.Nodes {
		out = append(out,
			store.Output{ShopID: shopID, BreakdownID: breakdownID, Node: n.ID, Parent: n.Parent, Kind: string(n.Event),
				Part: n.Part, Product: n.Product, MassMg: int64(n.Mass), At: n.At})
	}
	return out
}

// checkEnvelope checks what the board has no say in: the id, the clock, the role.
func (s *Service) checkEnvelope(e seam.Event) error {
	var faults fault.List
	for _, x := range [][2]string{{"id", e.ID}, {"node", e.Node}, {"target", e.Target}} {
		parsed, err := uuid.Parse(x[1])
		switch {
		case x[1] == "" && x[0] != "id":
		case err != nil || parsed.String() != x[1]:
			faults.Add(x[0],
				fault.New("", "not_a_uuid", fault.Quote(x[1])+" is not a UUID", "Make a UUID of version 7, in lower case."))
		case x[0] == "id" && parsed.Version() != 7:
			faults.Add(x[0], fault.New("", "not_version_7", "is not a UUID of version 7", "Make a UUID of version 7."))
		}
	}
	now := s.now()
	if e.At.After(now.Add(clockAhead)) || (!e.At.IsZero() && e.At.Before(now.Add(-clockBehind))) {
		faults.Add("at", fault.New("", "out_of_range", "is more than a day ahead or a year behind", "Set the bench's clock."))
	}
	return faults.Err()
}

// NotFinished is the refusal of what can be asked of a closed piece only.
func NotFinished() error {
	return fault.NewConflict("", "not_finished", "This piece is not finished on the bench yet.",
		"Finish it there; what was weighed is kept.")
}
