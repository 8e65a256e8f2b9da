package drill

import (
	"fmt"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/body"
)

// Kind is what a question is about.
type Kind string

// The kinds.
const (
	Name   Kind = "name"   // a muscle lights up: what is it called?
	Touch  Kind = "touch"  // a muscle is named: where is it?
	Order  Kind = "order"  // take the piece apart
	End    Kind = "end"    // a face is shown: which end of the piece is it?
	Face   Kind = "face"   // a face is shown: which muscles are in it?
	Stop   Kind = "stop"   // where along the piece something begins or ends
	Weight Kind = "weight" // what a muscle weighs
	Count  Kind = "count"  // how many of a product
	Method Kind = "method" // how a muscle is best cooked
	Grain  Kind = "grain"  // how its fibres run
	Found  Kind = "found"  // what is done with what was found
	Goes   Kind = "goes"   // where that goes
)

// Group is a drill: kinds that are practised together.
type Group struct {
	ID    string
	Name  string
	Kinds []Kind
}

// Groups lists the drills.
var Groups = []Group{
	{"name", "Name it", []Kind{Name, Touch}},
	{"seam", "Which seam next", []Kind{Order}},
	{"stop", "Where to stop", []Kind{End, Face, Stop}},
	{"judge", "Judge it", []Kind{Weight, Count, Method, Grain}},
	{"wrong", "What is wrong", []Kind{Found, Goes}},
}

// GroupOf gives the drill that a kind belongs to.
func GroupOf(k Kind) Group {
	i := slices.IndexFunc(Groups, func(g Group) bool { return slices.Contains(g.Kinds, k) })
	return Groups[i]
}

// Card is one thing to know about a piece. Of names the part, plan, product, finding or place that it is about.
type Card struct {
	Piece string
	Kind  Kind
	Of    string
}

// ID names the card for good: what somebody knows is kept under it.
func (c Card) ID() string { return fmt.Sprintf("%s:%s:%s", c.Piece, c.Kind, c.Of) }

// PieceOf gives the piece that the id of a card is about.
func PieceOf(id string) string {
	piece, _, _ := strings.Cut(id, ":")
	return piece
}

// faces are where a piece is sawn for a face, as fractions of its length.
var faces = []float64{0.2, 0.35, 0.5, 0.65, 0.8}

// Deck lists all that can be asked about a piece: only what the atlas answers, and what it does not answer in a way
// that leaves nothing to choose from is left out.
func Deck(p atlas.Piece) []Card {
	var out []Card
	for _, g := range Groups {
		for _, k := range g.Kinds {
			out = append(out, cards(p, k)...)
		}
	}
	return out
}

// cards lists what can be asked of one kind.
func cards(p atlas.Piece, k Kind) []Card {
	switch k {
	case Order:
		return orderCards(p)
	case End, Face, Stop, Count:
		return alongCards(p, k)
	}
	var out []Card
	add := func(of string, can bool) {
		if can {
			out = append(out, Card{p.ID, k, of})
		}
	}
	for _, m := range p.Muscles {
		switch k {
		case Name, Touch:
			add(m.ID, len(p.Muscles) >= minChoices)
		case Weight:
			add(m.ID, true)
		case Method:
			_, _, ok := methods(m)
			add(m.ID, ok)
		case Grain:
			add(m.ID, len(grains(p, m)) >= minChoices)
		}
	}
	for _, i := range p.Inspect {
		add(i.ID, k == Found && len(p.Inspect) >= minChoices || k == Goes && i.Takes.To != "")
	}
	return out
}

// orderCards are the plans that take a piece apart, each order once.
func orderCards(p atlas.Piece) []Card {
	var out []Card
	var asked []apart
	for _, pl := range p.Plans {
		t := takeApart(p, pl)
		if t.worth() && !slices.ContainsFunc(asked, t.same) {
			asked = append(asked, t)
			out = append(out, Card{p.ID, Order, pl.ID})
		}
	}
	return out
}

// alongCards are the questions of a kind about places along a piece; none where its inside is not known.
func alongCards(p atlas.Piece, k Kind) []Card {
	b, err := p.Inside()
	if err != nil {
		return nil
	}
	var out []Card
	add := func(of string, can bool) {
		if can {
			out = append(out, Card{p.ID, k, of})
		}
	}
	add("from", k == End)
	add("to", k == End)
	for _, at := range faces {
		in := inFace(p, b, at*b.LengthMm, showsFrom)
		add(fmt.Sprintf("%g", at), k == Face && len(in) > 0 && len(in) < len(p.Muscles) && len(p.Muscles) >= minChoices)
	}
	if k == Stop {
		for _, m := range p.Muscles {
			for _, side := range []string{"from", "to"} {
				_, ok := reaches(b, side, m.ID)
				add(side+"/"+m.ID, ok)
			}
		}
	}
	if k == Stop || k == Count {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				n, last := laid(p, pl, pr)
				add(pl.ID+"/"+pr.ID, n > 0 && (k == Count && n >= minChoices || k == Stop && last < (1-margin)*b.LengthMm))
			}
		}
	}
	return out
}

// margin is how far from an end, as a fraction of the length, a place must lie to be asked for.
const margin = 0.08

// showsFrom is the share of a face from which on a muscle is counted in it.
const showsFrom = 0.02

// inFace lists the muscles that have at least a share of the face at a place.
func inFace(p atlas.Piece, b *body.Body, mm, share float64) []string {
	var out []string
	for _, m := range p.Muscles {
		if from, to := b.Shows(m.ID, share); to > from && mm >= from && mm <= to {
			out = append(out, m.ID)
		}
	}
	return out
}

// reaches gives where a muscle begins ("from") or ends ("to"); ok is false where that is at an end of the piece.
func reaches(b *body.Body, side, muscle string) (mm float64, ok bool) {
	from, to := b.Shows(muscle, showsFrom)
	if to <= from {
		return 0, false
	}
	mm = from
	if side == "to" {
		mm = to
	}
	return mm, mm > margin*b.LengthMm && mm < (1-margin)*b.LengthMm
}

// laid gives how many of a product a plan cuts straight from the piece, and where the last of them ends.
func laid(p atlas.Piece, pl atlas.Plan, pr atlas.Product) (n int, lastMm float64) {
	if pr.Along == nil {
		return 0, 0
	}
	for _, l := range p.Slices(pl) {
		if l.Product == pr.ID {
			n++
			lastMm = max(lastMm, l.ToMm)
		}
	}
	return n * max(1, pr.Into), lastMm
}
