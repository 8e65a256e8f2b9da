package learn

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/drill"
	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/shop"
)

// Service is the trainer.
type Service struct {
	store *store.Store
	atlas *atlas.Atlas
	now   func() time.Time
	audit *audit.Log
	shops *shop.Service
	bench *bench.Service

	decks sync.Map // of pieces without plans of the shop: id → []drill.Card
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	benches *bench.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, bench: benches}
}

// leads are the roles that see what others learn, and say of a step that it is learned.
var leads = []string{"owner", "head_cutter"}

// Leads says whether somebody may see what others learn.
func Leads(who audit.Caller) bool { return slices.Contains(leads, who.Role) }

// person gives the member that a question is about, by public id; empty for the caller. What somebody learns is theirs:
// to others without the role it does not exist.
func (s *Service) person(ctx context.Context, id string) (store.MemberRow, audit.Caller, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return store.MemberRow{}, who, err
	}
	if id == "" {
		id = who.Member
	}
	if id != who.Member && !Leads(who) {
		return store.MemberRow{}, who, store.ErrNotFound
	}
	m, err := s.store.Member(ctx, who.ShopID, id)
	return m, who, err
}

// deck lists what can be asked about a piece of the atlas with the shop's own plans.
func (s *Service) deck(sh shop.WithPlans, p atlas.Piece) []drill.Card {
	with := sh.AddOwn(p, "")
	if len(with.Plans) > len(p.Plans) {
		return drill.Deck(with)
	}
	if d, ok := s.decks.Load(p.ID); ok {
		return d.([]drill.Card)
	}
	d := drill.Deck(p)
	s.decks.Store(p.ID, d)
	return d
}

// Sitting is what is asked next.
type Sitting struct {
	Questions []Asked
	Due       int // that were due today, of all that fits the question
	New       int // that were never asked yet
	NextDue   *time.Time
}

// Asked is a question with the piece that it is about.
type Asked struct {
	drill.Question
	Piece atlas.Piece
	Turn  int
}

// The most that is asked in a sitting, and the most of it that is new.
const (
	sittingMax = 12
	sittingNew = 6
)

// Sitting gives what to ask the caller next: what is due, longest due first, and something new of the piece where one
// is named. Group is one drill, or empty.
func (s *Service) Sitting(ctx context.Context, atlasID, group string) (Sitting, error) {
	m, _, err := s.person(ctx, "")
	if err != nil {
		return Sitting{}, err
	}
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Sitting{}, err
	}
	if group != "" && !slices.ContainsFunc(drill.Groups, func(g drill.Group) bool { return g.ID == group }) {
		return Sitting{}, fault.New("group", "unknown", "is not a drill", "Choose one of the list.")
	}
	pieces, err := s.pieces(atlasID)
	if err != nil {
		return Sitting{}, err
	}
	known, err := s.store.DrillCards(ctx, sh.ID, m.ID)
	if err != nil {
		return Sitting{}, err
	}
	byID := map[string]store.DrillCard{}
	for _, c := range known {
		byID[c.Card] = c
	}
	var out Sitting
	today := sh.Day(s.now())
	var due, fresh []Asked
	for _, p := range pieces {
		for _, c := range mixed(s.deck(sh, p)) {
			if group != "" && drill.GroupOf(c.Kind).ID != group {
				continue
			}
			at, seen := byID[c.ID()]
			a := Asked{Question: drill.Question{Card: c}, Piece: p, Turn: at.Seen}
			switch {
			case !seen:
				fresh = append(fresh, a)
			case !at.Due.After(today):
				due = append(due, a)
			case out.NextDue == nil || at.Due.Before(*out.NextDue):
				out.NextDue = &at.Due
			}
		}
	}
	slices.SortStableFunc(due, func(a, b Asked) int { return byID[a.ID()].Due.Compare(byID[b.ID()].Due) })
	out.Due, out.New = len(due), len(fresh)
	list := due[:min(len(due), sittingMax)]
	if atlasID != "" {
		list = append(slices.Clip(list), fresh[:min(len(fresh), sittingNew, sittingMax-len(list))]...)
	}
	for _, a := range list {
		a.Piece = told(sh, a.Piece)
		q, ok := drill.Ask(a.Piece, sh.Unit, a.Card, a.Turn)
		if ok {
			a.Question = q
			out.Questions = append(out.Questions, a)
		}
	}
	return out, nil
}

// pieces are the pieces of the atlas; one where it is named.
func (s *Service) pieces(atlasID string) ([]atlas.Piece, error) {
	if atlasID == "" {
		return s.atlas.Pieces, nil
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok || s.atlas.IsCarcass(atlasID) {
		return nil, fault.New("piece", "unknown", "is not a piece of the atlas", "Choose one of the list.")
	}
	return []atlas.Piece{p}, nil
}

// told is a piece of the atlas with the shop's own plans, in the market's words.
func told(sh shop.WithPlans, p atlas.Piece) atlas.Piece { return sh.AddOwn(p.In(sh.Market), "") }

// mixed takes turns between the drills, so that the first questions about a piece are not all of one kind.
func mixed(deck []drill.Card) []drill.Card {
	by := map[string][]drill.Card{}
	for _, c := range deck {
		g := drill.GroupOf(c.Kind).ID
		by[g] = append(by[g], c)
	}
	var out []drill.Card
	for len(out) < len(deck) {
		for _, g := range drill.Groups {
			if list := by[g.ID]; len(list) > 0 {
				out, by[g.ID] = append(out, list[0]), list[1:]
			}
		}
	}
	return out
}

// card finds a card by its id.
func (s *Service) card(sh shop.WithPlans, id string) (atlas.Piece, drill.Card, error) {
	unknown := fault.New("card", "unknown", "is not asked any more", "Ask for the next question.")
	p, ok := s.atlas.Find(drill.PieceOf(id))
	if !ok {
		return atlas.Piece{}, drill.Card{}, unknown
	}
	deck := s.deck(sh, p)
	at := slices.IndexFunc(deck, func(c drill.Card) bool { return c.ID() == id })
	if at < 0 {
		return atlas.Piece{}, drill.Card{}, unknown
	}
	return told(sh, p), deck[at], nil
}

// Check marks an answer, and keeps nothing.
func (s *Service) Check(ctx context.Context, id string, a drill.Answer) (drill.Verdict, []string, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return drill.Verdict{}, nil, err
	}
	p, c, err := s.card(sh, id)
	if err != nil {
		return drill.Verdict{}, nil, err
	}
	v, err := drill.Mark(p, sh.Unit, c, a)
	if err != nil || !v.Done {
		return v, nil, err
	}
	notes, err := s.store.HouseNotes(ctx, sh.ID, p.ID)
	var said []string
	for _, n := range notes {
		if n.Step == c.Of {
			said = append(said, n.Words)
		}
	}
	return v, said, err
}

// stateOf is how well a question is known, as it is kept.
func stateOf(c store.DrillCard) drill.State {
	return drill.State{Reps: c.Reps, Ease: c.Ease, Days: c.Days, Due: c.Due, Seen: c.Seen, Right: c.Known}
}

// Felt is how an answer that was right felt; empty where nothing is said.
type Felt string

// How it may have felt.
const (
	Guessed Felt = "guessed"
	Easily  Felt = "easy"
)

func (f Felt) quality(v drill.Verdict) (int, error) {
	switch {
	case f != "" && f != Guessed && f != Easily:
		return 0, fault.New("felt", "unknown", "is not a way that an answer feels", "Use guessed or easy.")
	case !v.Right || f == "":
		return v.Quality, nil
	case f == Guessed:
		return drill.Passed, nil
	}
	return drill.Easy, nil
}

// Answer marks an answer of the caller and keeps when the question comes back. Again says that it comes back in this
// sitting too.
func (s *Service) Answer(ctx context.Context, id string, a drill.Answer, felt Felt) (next store.DrillCard, again bool,
	err error) {
	m, who, err := s.person(ctx, "")
	if err != nil {
		return next, false, err
	}
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return next, false, err
	}
	p, c, err := s.card(sh, id)
	if err != nil {
		return next, false, err
	}
	v, err := drill.Mark(p, sh.Unit, c, a)
	if err != nil {
		return next, false, err
	}
	if !v.Done {
		return next, false, fault.New("choices", "unfinished", "leave something on the piece", "Take it all apart.")
	}
	quality, err := felt.quality(v)
	if err != nil {
		return next, false, err
	}
	today := sh.Day(s.now())
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if err := tx.HoldMember(ctx, who.ShopID, m.ID); err != nil { // two screens of one person take turns
			return err
		}
		was, err := tx.DrillCard(ctx, sh.ID, m.ID, id)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		at := stateOf(was).After(quality, today)
		next = store.DrillCard{ShopID: sh.ID, MemberID: m.ID, Card: id, Reps: at.Reps, Ease: at.Ease, Days: at.Days,
			Due: at.Due, Seen: at.Seen, Known: at.Right, LastAt: s.now()}
		return tx.SetDrillCard(ctx, next)
	})
	return next, quality < drill.Settled, err
}
