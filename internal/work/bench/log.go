package bench

import (
	"context"
	"encoding/json"
	"math"
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// Logged is an event with what the log adds to it.
type Logged struct {
	Event    seam.Event
	Received time.Time
	Void     bool
	Name     string // of who did it
}

// Log gives a breakdown's events, oldest first, those that were undone marked.
func (s *Service) Log(ctx context.Context, id string) ([]Logged, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.Events(ctx, shop.ID, b.ID)
	if err != nil {
		return nil, err
	}
	v, err := s.BoardOf(ctx, shop, b, eventsOf(rows))
	if err != nil {
		return nil, err
	}
	people, err := s.peopleOf(ctx, shop.ID)
	return v.logged(rows, people), err
}

// peopleOf gives the people of a shop by their keys.
func (s *Service) peopleOf(ctx context.Context, shopID int64) (map[int64]store.MemberRow, error) {
	members, err := s.store.Members(ctx, shopID)
	people := make(map[int64]store.MemberRow, len(members))
	for _, m := range members {
		people[m.ID] = m
	}
	return people, err
}

// logged puts to a breakdown's events who did them and where, and which were undone.
func (v BoardView) logged(rows []store.Event, people map[int64]store.MemberRow) []Logged {
	names := map[int64]string{}
	for _, bench := range v.benches {
		names[bench.ID] = bench.PublicID
	}
	out := make([]Logged, len(rows))
	for i, r := range rows {
		e := eventOf(r)
		e.Bench = names[r.BenchID]
		out[i] = Logged{Event: e, Received: r.ReceivedAt, Void: v.Board.Void[r.PublicID]}
		if r.MemberID != nil {
			out[i].Event.By, out[i].Name = people[*r.MemberID].PublicID, people[*r.MemberID].Name
		}
	}
	return out
}

// LogOf reads a breakdown's events. A board does not ask which bench they came from.
func (s *Service) LogOf(ctx context.Context, shop shop.WithPlans, breakdownID int64) ([]seam.Event, error) {
	rows, err := s.store.Events(ctx, shop.ID, breakdownID)
	return eventsOf(rows), err
}

// logsOf reads the events of some breakdowns.
func (s *Service) logsOf(ctx context.Context, shopID int64, ids []int64) (map[int64][]seam.Event, error) {
	rows, err := s.store.EventsOf(ctx, shopID, ids)
	if err != nil {
		return nil, err
	}
	out := make(map[int64][]seam.Event, len(rows))
	for id, list := range rows {
		out[id] = eventsOf(list)
	}
	return out, nil
}

func eventsOf(rows []store.Event) []seam.Event {
	out := make([]seam.Event, len(rows))
	for i, r := range rows {
		out[i] = eventOf(r)
	}
	return out
}

// normalised gives an event with the precision in which the log keeps it, so that the board is the same before and
// after it is read back.
func normalised(e seam.Event) seam.Event {
	e.At = e.At.UTC().Truncate(time.Microsecond)
	if e.Minutes != nil {
		thousandths := math.Round(*e.Minutes*1000) / 1000
		e.Minutes = &thousandths
	}
	if e.TempC != nil {
		tenths := math.Round(*e.TempC*10) / 10
		e.TempC = &tenths
	}
	return e
}

func eventRow(e seam.Event) store.Event {
	return store.Event{PublicID: e.ID, Kind: string(e.Kind), At: e.At, Role: e.Role, Node: e.Node, Part: e.Part,
		Product: e.Product, NetMg: int64(e.Net), GrossMg: int64(e.Gross), TareMg: int64(e.Tare),
		DivisionMg: int64(e.Division), Source: e.Source, Count: e.Count, Target: e.Target, Reason: e.Reason, Note: e.Note,
		Minutes: e.Minutes, TempC: e.TempC, Shared: e.Shared, Step: e.Step, Block: e.Block, Holds: holdsRow(e.Holds)}
}

// holdsRow is what an event took, as a row keeps it; nil where it took nothing by name.
func holdsRow(c steps.Content) *json.RawMessage {
	if len(c) == 0 {
		return nil
	}
	raw, err := json.Marshal(c)
	if err != nil { // cannot be: ids and whole numbers
		panic(err)
	}
	return (*json.RawMessage)(&raw)
}

// holdsOf reads it again; a row that cannot be read took nothing, and the board says so.
func holdsOf(raw *json.RawMessage) steps.Content {
	if raw == nil {
		return nil
	}
	var c steps.Content
	if json.Unmarshal(*raw, &c) != nil {
		return nil
	}
	return c
}

func eventOf(r store.Event) seam.Event {
	return seam.Event{Step: r.Step, Block: r.Block, Holds: holdsOf(r.Holds), ID: r.PublicID, Kind: seam.Kind(r.Kind),
		At: r.At, Role: r.Role, Node: r.Node, Part: r.Part, Product: r.Product, Net: measure.Mass(r.NetMg),
		Gross: measure.Mass(r.GrossMg), Tare: measure.Mass(r.TareMg), Division: measure.Mass(r.DivisionMg), Source: r.Source,
		Count: r.Count, Target: r.Target, Reason: r.Reason, Note: r.Note, Minutes: r.Minutes, TempC: r.TempC,
		Shared: r.Shared}
}
