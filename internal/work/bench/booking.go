package bench

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sort"

	"falda/internal/core/fault"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// booking is one event of one breakdown.
type booking struct {
	breakdown string
	event     seam.Event
	member    *int64
	cached    *cachedBoard
}

// Book books one event and gives the board after it. An event whose id is in this breakdown's log already changes
// nothing. What is confirmed is committed to disk.
func (s *Service) Book(ctx context.Context, breakdownID string, e seam.Event) (BoardView, error) {
	views, err := s.book(ctx, []booking{{breakdown: breakdownID, event: e}})
	if err != nil {
		return BoardView{}, err
	}
	return views[0], nil
}

// book books one event each on different breakdowns, all of them or none.
//
// Breakdowns are kept in memory between bookings, so that a weighing costs one round trip. That is safe with any number
// of programs on one database: the database refuses to append to a log that has grown meanwhile, and then it is read
// anew.
func (s *Service) book(ctx context.Context, list []booking) ([]BoardView, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	for i := range list {
		b := &list[i]
		if err := s.checkEnvelope(b.event); err != nil {
			return nil, err
		}
		if b.member, err = s.author(ctx, who, &b.event); err != nil {
			return nil, err
		}
		b.event, b.cached = normalised(b.event), s.cached.of(who.ShopID, b.breakdown)
	}
	// in one order everywhere, so that two who book on the same ones do not wait for each other
	locks := slices.Clone(list)
	sort.Slice(locks, func(i, j int) bool { return locks[i].breakdown < locks[j].breakdown })
	for _, b := range locks {
		b.cached.mu.Lock()
		defer b.cached.mu.Unlock()
	}
	duplicates := 0
	for try := 0; ; try++ {
		fresh, err := s.fill(ctx, list)
		if errors.Is(err, store.ErrUnavailable) && try < maxLost && backoff(ctx, try) {
			continue
		}
		if err != nil {
			return nil, err
		}
		views, err := s.append(ctx, list)
		if err == nil {
			return views, nil
		}
		for _, b := range list {
			b.cached.view = nil // whatever it was, what is kept may no longer be so
		}
		switch {
		case fault.Of(err) != nil && fresh:
			return nil, err
		case fault.Of(err) != nil: // nothing is refused on what is only kept: another program may have booked since
		case errors.Is(err, store.ErrSignedOut):
			return nil, audit.ErrNobody
		case errors.Is(err, store.ErrBehind) && try < maxBookings:
		case errors.Is(err, store.ErrUnavailable) && try < maxLost && backoff(ctx, try): // its id makes a second try harmless
		// booked by another program meanwhile, or on another breakdown
		case errors.Is(err, store.ErrDuplicate) && duplicates == 0:
			duplicates++ // the log is read anew; where the event is in it, it is repeated
		case errors.Is(err, store.ErrDuplicate):
			return nil,
				fault.NewConflict("id", "used", "was used for an event of another breakdown",
					"Make a new UUID of version 7 for each event.")
		default:
			return nil, err
		}
	}
}

// append checks each event against its board, adds it to the log and writes what the log now folds to, in one
// transaction.
func (s *Service) append(ctx context.Context, list []booking) ([]BoardView, error) {
	views := make([]BoardView, len(list))
	logs := make([][]seam.Event, len(list))
	var rows []store.Appended
	var faults fault.List
	for i, b := range list {
		row, log, err := s.prepare(ctx, b, &views[i])
		switch {
		case err != nil && len(list) > 1 && fault.Of(err) != nil:
			for _, f := range fault.Of(err) {
				f.Message = fmt.Sprintf("Piece %d: %s", b.cached.view.Card.Row.Piece.Number, f.Message)
				faults = append(faults, f)
			}
		case err != nil:
			return nil, err
		case row != nil:
			rows = append(rows, *row)
		}
		logs[i] = log
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	if err := s.write(ctx, rows); err != nil {
		return nil, err
	}
	for i, b := range list {
		if views[i].Repeated {
			continue
		}
		v := &views[i]
		breakdown := v.Breakdown
		v.Card.Row.Breakdown = &breakdown
		var err error
		if v.Card, err = s.stock.Card(v.Card.Row, v.Shop); err != nil {
			return nil, err
		}
		kept := *v
		b.cached.view, b.cached.log = &kept, logs[i]
		s.watchers.tell(v.Breakdown)
		if !v.Card.Carcass && v.Board.Closed() && leavesPieces(v.Plan) {
			if s.createOnward(ctx, v.Shop) != nil {
				s.shops.Wake()
			}
		}
		if v.Card.Carcass && v.Board.Closed() {
			if s.createBrokenPieces(ctx, v.Shop) != nil { // what was weighed is confirmed; the upkeep makes up for it
				s.shops.Wake()
			}
		}
	}
	return views, nil
}

// write appends what was prepared. Who asks, where that is known from memory alone, has to be signed in still; that is
// asked in the same round trip.
func (s *Service) write(ctx context.Context, rows []store.Appended) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	if who.Unchecked {
		now := s.now()
		seen := store.SeenCaller{SessionID: who.SessionID, ShopID: who.ShopID, MemberID: who.MemberID, Role: who.Role,
			Now: now, IdleSince: now.Add(-audit.SessionIdle)}
		if len(rows) == 0 { // all of it was booked before
			return s.store.StillSignedIn(ctx, seen)
		}
		rows[0].Seen.Caller = &seen
	}
	return s.store.Append(ctx, rows...)
}

// prepare sets v to the board as it is after the event and gives what is to be written for it; nothing where the log
// has the event.
func (s *Service) prepare(ctx context.Context, b booking, v *BoardView) (_ *store.Appended, _ []seam.Event, err error) {
	k, e := b.cached, b.event
	*v = *k.view
	v.Repeated = false
	for _, known := range k.log {
		if known.ID == e.ID {
			v.Repeated = true
			s.show(v, k.log)
			return nil, nil, nil
		}
	}
	e = seam.Fill(v.Flow, v.Board, e)
	if err := seam.Check(v.Card.Piece, v.Plan, v.Board, e, v.Shop.Rules(v.Plan)); err != nil {
		return nil, nil, err
	}
	if e.Kind == seam.Reopened && v.Card.Carcass {
		return nil, nil,
			fault.NewConflict("", "carcass", "A carcass that was broken stays so: its pieces hang on the rail.",
				"Correct the pieces on the page of its lot.")
	}
	if e.Kind == seam.Reopened {
		hung, err := s.store.HungFrom(ctx, v.Shop.ID, v.Card.Row.Piece.ID)
		if err == nil && hung {
			err = fault.NewConflict("", "hung", "What was cut from it to be cut further hangs on the rail already.",
				"Correct those pieces on the pages of their lots.")
		}
		if err != nil {
			return nil, nil, err
		}
	}
	row := eventRow(e)
	row.MemberID = b.member
	row.ShopID, row.BreakdownID, row.ReceivedAt, row.Seq = v.Shop.ID, v.Breakdown.ID, s.now(), len(k.log)+1
	for _, bench := range v.benches {
		if bench.PublicID == e.Bench {
			row.BenchID = bench.ID
		}
	}
	if row.BenchID == 0 {
		return nil, nil, fault.New("bench_id", "unknown", "is not a bench of this shop", "Choose one of its benches.")
	}
	before := outputRows(v.Shop.ID, v.Breakdown.ID, v.Board)
	log := append(slices.Clip(k.log), e)
	s.show(v, log)
	summarise(&v.Breakdown, v.Board, v.Minutes)
	a := &store.Appended{Event: row, Before: before, Reopened: e.Kind == seam.Reopened}
	// it is booked on the lot and in the shop as they were seen, or not at all; what it brought rests on the lot
	lot := v.Card.Row.Lot
	a.Seen = store.Seen{LotID: lot.ID, Lot: lot.Version, Shop: v.Shop.Version, Hold: v.Board.Closed()}
	if v.Board.Closed() && !v.Card.Carcass {
		if a.Result, err = s.priceClose(ctx, v, log); err != nil {
			return nil, nil, err
		}
	}
	a.Breakdown, a.After = v.Breakdown, outputRows(v.Shop.ID, v.Breakdown.ID, v.Board)
	return a, log, nil
}
