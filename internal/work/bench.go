package work

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/seammap"
	"falda/internal/store"
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
	Card      Card
	Shop      Shop
	Plan      atlas.Plan
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
	for _, d := range seam.Dressing {
		if d.ID == n.Part {
			return d.Name
		}
	}
	if pr, ok := v.Plan.Product(n.Product); ok {
		return pr.Name
	}
	if n.Event == seam.Discarded {
		return "Discarded"
	}
	return v.Card.Piece.Name
}

// StartBreakdown puts a piece on a bench. Where it is on one already, that board comes back.
func (s *Service) StartBreakdown(ctx context.Context, pieceID, benchID string) (BoardView, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return BoardView{}, err
	}
	var public string
	start := func(tx *store.Store) (change, error) {
		h, err := tx.Hung(ctx, shop.ID, pieceID)
		if err != nil {
			return change{}, err
		}
		if h.Breakdown != nil {
			public = h.Breakdown.PublicID
			return change{}, nil
		}
		if err := gone(h); err != nil {
			return change{}, err
		}
		if h.Piece.PlanID == "" {
			return change{}, fault.New("plan_id", "no_plan", "no plan has been chosen for this piece", "Choose a plan first.")
		}
		bench, err := tx.Bench(ctx, shop.ID, benchID)
		if errors.Is(err, store.ErrNotFound) {
			return change{}, fault.New("bench_id", "unknown", "is not a bench of this shop", "Choose one of its benches.")
		}
		if err != nil {
			return change{}, err
		}
		if !bench.Active {
			return change{}, fault.New("bench_id", "out_of_use", "is out of use", "Choose another bench.")
		}
		c, err := s.card(h, shop)
		if err != nil {
			return change{}, err
		}
		plan, err := json.Marshal(c.Plan)
		if err != nil {
			return change{}, err
		}
		public = NewID()
		started := change{Action: "breakdown.started", Subject: public, SubjectName: pieceName(h), Became: map[string]any{"bench": bench.Name, "plan": h.Piece.PlanID, "version": c.Plan.Version, "chosen": c.Plan.Chosen}}
		return started, tx.CreateBreakdown(ctx, &store.Breakdown{PublicID: public, ShopID: shop.ID, PieceID: h.Piece.ID, BenchID: bench.ID,
			PlanID: h.Piece.PlanID, Plan: (*json.RawMessage)(&plan), CreatedAt: s.now(), State: "waiting"})
	}
	err = s.recorded(ctx, start)
	if errors.Is(err, store.ErrDuplicate) { // another bench was faster; its breakdown is the piece's
		err = s.recorded(ctx, start)
	}
	if err != nil {
		return BoardView{}, err
	}
	return s.Board(ctx, public)
}

// Board gives a breakdown as it stands.
func (s *Service) Board(ctx context.Context, id string) (BoardView, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return BoardView{}, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return BoardView{}, err
	}
	return s.board(ctx, shop, b, nil)
}

// BoardThen gives a breakdown as it stood after its first so many events.
func (s *Service) BoardThen(ctx context.Context, id string, events int) (BoardView, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return BoardView{}, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return BoardView{}, err
	}
	log, err := s.log(ctx, shop, b.ID)
	if err != nil {
		return BoardView{}, err
	}
	if events < 0 || events > len(log) {
		return BoardView{}, fault.New("upto", "out_of_range", fmt.Sprintf("must be from 0 to %d", len(log)), "The log has no more events.")
	}
	return s.board(ctx, shop, b, append([]seam.Event{}, log[:events]...))
}

// board reads what a breakdown's view is made of; log is read when it is nil.
func (s *Service) board(ctx context.Context, shop Shop, b store.Breakdown, log []seam.Event) (BoardView, error) {
	v := BoardView{Breakdown: b, Shop: shop}
	h, err := s.store.HungByID(ctx, shop.ID, b.PieceID)
	if err != nil {
		return v, err
	}
	if log == nil {
		if log, err = s.log(ctx, shop, b.ID); err != nil {
			return v, err
		}
	}
	h.Breakdown = &b
	if v.Card, err = s.card(h, shop); err != nil {
		return v, err
	}
	if v.benches, err = s.store.Benches(ctx, shop.ID); err != nil {
		return v, err
	}
	for _, bench := range v.benches {
		if bench.ID == b.BenchID {
			v.Bench = bench
		}
	}
	if v.Plan, err = planOf(v.Card.Piece, b); err != nil {
		return v, err
	}
	v.Findings = found(v.Card.Piece, h.Lot.Findings)
	if v.Map, err = s.ShareMap(v.Card.Piece); err != nil {
		return v, err
	}
	s.show(&v, log)
	return v, nil
}

// show folds the log into the view.
func (s *Service) show(v *BoardView, log []seam.Event) {
	p := v.Card.Piece
	v.Board = seam.Fold(p, log)
	v.Expected = seam.Expect(p, v.Plan, v.Board, v.Card.Weight)
	v.Next = seam.Next(v.Expected)
	v.Balance = v.Board.Balance("", measure.Mass(v.Shop.DivisionMg), v.Shop.lossLimit(v.Plan))
	v.Minutes = v.Board.Minutes(s.now())
	v.Undo = nil
	if !v.Board.Closed() {
		v.Undo = seam.Undoable(p, v.Plan, v.Board, log)
	}
}

// planOf is the plan that a breakdown goes by: as it was when the piece went on the bench.
func planOf(p atlas.Piece, b store.Breakdown) (atlas.Plan, error) {
	if b.Plan != nil {
		return planAsCut(b)
	}
	pl, ok := p.Plan(b.PlanID)
	if !ok {
		return pl, fmt.Errorf("breakdown %s goes by plan %s, which %s does not have", b.PublicID, b.PlanID, p.ID)
	}
	return pl, nil
}

func found(p atlas.Piece, ids []string) []atlas.Inspect {
	var out []atlas.Inspect
	for _, in := range p.Inspect {
		if slices.Contains(ids, in.ID) {
			out = append(out, in)
		}
	}
	return out
}

// Book books one event and gives the board after it. An event whose id is in this breakdown's log already changes
// nothing. What is confirmed is committed to disk.
//
// The breakdown is kept in memory between bookings, so that a weighing costs one round trip. That is safe with any number
// of programs on one database: the database refuses to append to a log that has grown meanwhile, and then it is read anew.
func (s *Service) Book(ctx context.Context, breakdownID string, e seam.Event) (BoardView, error) {
	if err := s.checkEnvelope(e); err != nil {
		return BoardView{}, err
	}
	who, err := caller(ctx)
	if err != nil {
		return BoardView{}, err
	}
	memberID, err := s.author(ctx, who, &e)
	if err != nil {
		return BoardView{}, err
	}
	e = asKept(e)
	k := s.kept.of(who.ShopID, breakdownID)
	k.mu.Lock()
	defer k.mu.Unlock()
	for try := 0; ; try++ {
		fresh, err := s.fill(ctx, k, breakdownID)
		if errors.Is(err, store.ErrUnavailable) && try < maxLost && pause(ctx, try) {
			continue
		}
		if err != nil {
			return BoardView{}, err
		}
		v, err := s.append(ctx, k, e, memberID)
		if err == nil {
			return v, nil
		}
		k.view = nil // whatever it was, what is kept may no longer be so
		switch {
		case fault.Of(err) != nil && fresh:
			return v, err
		case fault.Of(err) != nil: // nothing is refused on what is only kept: another program may have booked since
		case errors.Is(err, store.ErrBehind) && try < maxBookings:
		case errors.Is(err, store.ErrUnavailable) && try < maxLost && pause(ctx, try): // its id makes a second try harmless
		case errors.Is(err, store.ErrDuplicate) && try == 0: // booked by another program meanwhile, or on another breakdown
		case errors.Is(err, store.ErrDuplicate):
			return v, fault.New("id", "used", "was used for an event of another breakdown", "Make a new UUID of version 7 for each event.")
		default:
			return v, err
		}
	}
}

// append checks the event against the board, adds it to the log and writes what the log now folds to.
func (s *Service) append(ctx context.Context, k *keptBoard, e seam.Event, memberID *int64) (BoardView, error) {
	v := *k.view
	for _, known := range k.log {
		if known.ID == e.ID {
			v.Repeated = true
			s.show(&v, k.log)
			return v, nil
		}
	}
	if err := seam.Check(v.Card.Piece, v.Plan, v.Board, e, v.Shop.rules(v.Plan)); err != nil {
		return v, err
	}
	if e.Kind == seam.Reopened && v.Card.Carcass {
		return v, fault.New("", "carcass", "A carcass that was broken stays so: its pieces hang on the rail.", "Correct the pieces on the page of its lot.")
	}
	row := eventRow(e)
	row.MemberID = memberID
	row.ShopID, row.BreakdownID, row.ReceivedAt, row.Seq = v.Shop.ID, v.Breakdown.ID, s.now(), len(k.log)+1
	for _, b := range v.benches {
		if b.PublicID == e.Bench {
			row.BenchID = b.ID
		}
	}
	if row.BenchID == 0 {
		return v, fault.New("bench_id", "unknown", "is not a bench of this shop", "Choose one of its benches.")
	}
	before := outputRows(v.Shop.ID, v.Breakdown.ID, v.Board)
	log := append(slices.Clip(k.log), e)
	s.show(&v, log)
	summarise(&v.Breakdown, v.Board, v.Minutes)
	if v.Board.Closed() && !v.Card.Carcass {
		if err := s.settle(ctx, &v); err != nil {
			return v, err
		}
	}
	if err := s.store.Append(ctx, row, v.Breakdown, before, outputRows(v.Shop.ID, v.Breakdown.ID, v.Board)); err != nil {
		return v, err
	}
	breakdown := v.Breakdown
	v.Card.Hung.Breakdown = &breakdown
	var err error
	if v.Card, err = s.card(v.Card.Hung, v.Shop); err != nil {
		return v, err
	}
	k.view, k.log = &v, log
	if v.Card.Carcass && v.Board.Closed() {
		if err := s.hangBroken(ctx, v.Shop); err != nil { // what was weighed is confirmed; the rail makes up for it
			return v, nil
		}
	}
	return v, nil
}

// summarise sets the columns of a breakdown that its board decides.
func summarise(b *store.Breakdown, board seam.Board, minutes float64) {
	b.Events, b.State = board.Events, "waiting"
	b.InputMg, b.OutputMg, b.LossMg, b.Minutes, b.ClosedAt = 0, 0, 0, minutes, nil
	if !board.Closed() {
		b.GainPerKg = nil
	}
	root, ok := board.Node("")
	if !ok {
		return
	}
	b.State, b.InputMg = "open", int64(root.Mass)
	for _, id := range root.Children {
		n, _ := board.Node(id)
		b.OutputMg += int64(n.Mass)
	}
	if root.Closed {
		ended := board.Ended
		b.State, b.LossMg, b.ClosedAt = "closed", int64(root.Loss), &ended
	}
}

func outputRows(shopID, breakdownID int64, board seam.Board) []store.Output {
	var out []store.Output
	for _, n := range board.Nodes {
		out = append(out, store.Output{ShopID: shopID, BreakdownID: breakdownID, Node: n.ID, Parent: n.Parent, Kind: string(n.Event),
			Part: n.Part, Product: n.Product, MassMg: int64(n.Mass), At: n.At})
	}
	return out
}

// checkEnvelope checks what the board has no say in: the id, the clock, the role.
func (s *Service) checkEnvelope(e seam.Event) error {
	var faults fault.List
	for field, id := range map[string]string{"id": e.ID, "node": e.Node, "target": e.Target} {
		parsed, err := uuid.Parse(id)
		switch {
		case id == "" && field != "id":
		case err != nil || parsed.String() != id:
			faults.Add(field, fault.New("", "not_a_uuid", "“"+clip(id)+"” is not a UUID", "Make a UUID of version 7, in lower case."))
		case field == "id" && parsed.Version() != 7:
			faults.Add(field, fault.New("", "not_version_7", "is not a UUID of version 7", "Make a UUID of version 7."))
		}
	}
	now := s.now()
	if e.At.After(now.Add(clockAhead)) || (!e.At.IsZero() && e.At.Before(now.Add(-clockBehind))) {
		faults.Add("at", fault.New("", "out_of_range", "is more than a day ahead or a year behind", "Set the bench's clock."))
	}
	return faults.Err()
}
