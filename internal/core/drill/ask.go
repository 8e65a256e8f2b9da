package drill

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"maps"
	"slices"
	"strconv"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/words"
)

// minChoices is from how many on there is something to choose from, and maxChoices how many are shown at most.
const (
	minChoices = 3
	maxChoices = 4
)

// Choice is an answer that can be touched.
type Choice struct{ ID, Name string }

// Number is an answer that is a number.
type Number struct {
	Unit      string // "g", "mm" or "pieces"
	Low, High float64
	Step      float64
}

// Question is a card as it is asked.
type Question struct {
	Card
	Ask     string
	Lit     string   // part that lights up
	Choices []Choice // to touch one; several where Many
	Many    bool
	Touch   bool    // a part of the picture is touched
	Number  *Number // a number is entered
	AtMm    *float64
	Things  []Thing // to take off, in no order
	From    string  // end of the piece that places are counted from
}

// Ask asks a card of a piece. Turn is how often it was asked: names come from another market and answers in another
// order each time; weights are told in a unit. ok is false where the piece has no such card.
func Ask(p atlas.Piece, u measure.Unit, c Card, turn int) (q Question, ok bool) {
	if !slices.Contains(cards(p, c.Kind), c) {
		return Question{}, false
	}
	q = Question{Card: c}
	switch c.Kind {
	case Name, Touch, Weight, Method, Grain:
		m, _ := p.Muscle(c.Of)
		q.muscle(p, u, m, turn)
	case Order:
		pl, _ := p.Plan(c.Of)
		t := takeApart(p, pl)
		q.Ask = fmt.Sprintf("Take it apart, as in “%s”. What comes off next?", pl.ShortName())
		q.Things = t.things
		shuffle(q.Things, func(t Thing) string { return c.ID() + t.ID }, turn)
		q.Touch = true
	case End, Face, Stop, Count:
		q.along(p, u)
	case Found, Goes:
		q.found(p)
	}
	if c.Kind != Goes {
		shuffle(q.Choices, func(x Choice) string { return c.ID() + x.ID }, turn)
	}
	return q, true
}

// shuffle brings things into an order that has nothing to do with what is right, another each turn.
func shuffle[T any](list []T, key func(T) string, turn int) {
	at := func(x T) uint64 {
		h := fnv.New64a()
		fmt.Fprintf(h, "%d/%s/%d", turn, key(x), turn)
		return h.Sum64()
	}
	slices.SortStableFunc(list, func(a, b T) int { return cmp.Compare(at(a), at(b)) })
}

// muscle asks about a muscle.
func (q *Question) muscle(p atlas.Piece, u measure.Unit, m atlas.Muscle, turn int) {
	the := "the " + words.Uncapitalised(m.Name)
	switch q.Kind {
	case Name:
		q.Ask, q.Lit = "What is this called?", m.ID
		q.Choices = []Choice{{m.ID, m.Name}}
		for _, o := range near(p, m) {
			if len(q.Choices) < maxChoices && o.Name != m.Name {
				q.Choices = append(q.Choices, Choice{o.ID, o.Name})
			}
		}
	case Touch:
		q.Ask, q.Touch = "Touch "+the+".", true
		if names := otherNames(p, m); len(names) > 0 && turn%2 == 1 {
			q.Ask = fmt.Sprintf("Touch what is also called %s.", names[turn/2%len(names)])
		}
	case Weight:
		q.Ask = fmt.Sprintf("A %s of %s: what does %s in it weigh?", plain(p),
			weight(p.Typical(), u), the)
		q.Lit = m.ID
		q.Number = &Number{Unit: "g", High: p.WeightKg.Typical * 1000, Step: 10}
	case Method:
		best, others, _ := methods(m)
		q.Ask, q.Lit = fmt.Sprintf("How does %s eat best?", the), m.ID
		for _, id := range append([]string{best}, others...) {
			method, _ := atlas.FindMethod(id)
			q.Choices = append(q.Choices, Choice{id, method.Name})
		}
	case Grain:
		q.Ask, q.Lit = fmt.Sprintf("How does the grain of %s run?", the), m.ID
		q.Choices = grains(p, m)
	}
}

// near lists the other muscles of a piece, neighbours first.
func near(p atlas.Piece, m atlas.Muscle) []atlas.Muscle {
	var out, rest []atlas.Muscle
	for _, o := range p.Muscles {
		switch {
		case o.ID == m.ID:
		case slices.Contains(m.Touches, o.ID):
			out = append(out, o)
		default:
			rest = append(rest, o)
		}
	}
	return append(out, rest...)
}

// otherNames are what markets call a muscle, as far as no other muscle of the piece is called so too.
func otherNames(p atlas.Piece, m atlas.Muscle) []string {
	var out []string
	for _, market := range slices.Sorted(maps.Keys(m.Names)) {
		for _, name := range m.Names[market] {
			twice := slices.ContainsFunc(p.Muscles, func(o atlas.Muscle) bool {
				return o.ID != m.ID && (calls(o, name) || strings.EqualFold(o.Name, name))
			})
			if !twice && !strings.EqualFold(name, m.Name) && !slices.Contains(out, name) {
				out = append(out, name)
			}
		}
	}
	return out
}

func calls(m atlas.Muscle, name string) bool {
	for _, names := range m.Names {
		if slices.ContainsFunc(names, func(n string) bool { return strings.EqualFold(n, name) }) {
			return true
		}
	}
	return false
}

// clearly is by how many points a method must be worse to be wrong.
const clearly = 4

// methods gives how a muscle eats best, and ways that are clearly worse: the nearest first; ok is false where fewer
// than two are.
func methods(m atlas.Muscle) (best string, worse []string, ok bool) {
	ids := slices.Sorted(maps.Keys(m.Eating))
	slices.SortStableFunc(ids, func(a, b string) int {
		return cmp.Compare(m.Eating[b], m.Eating[a])
	})
	for i, id := range ids {
		if i == 0 {
			best = id
		} else if m.Eating[best]-m.Eating[id] >= clearly && len(worse) < maxChoices-1 {
			worse = append(worse, id)
		}
	}
	return best, worse, len(worse) >= minChoices-1
}

// grains gives what the atlas says of the grain of a muscle, and of others that is not the same; the muscle's first.
func grains(p atlas.Piece, m atlas.Muscle) []Choice {
	out := []Choice{{m.ID, m.Grain.Note}}
	for _, o := range near(p, m) {
		if len(out) < maxChoices && o.Grain.Note != "" &&
			!slices.ContainsFunc(out, func(c Choice) bool { return c.Name == o.Grain.Note }) {
			out = append(out, Choice{o.ID, o.Grain.Note})
		}
	}
	if m.Grain.Note == "" {
		return nil
	}
	return out
}

// along asks about a place along the piece.
func (q *Question) along(p atlas.Piece, u measure.Unit) {
	b, err := p.Inside()
	if err != nil {
		return
	}
	axis := p.Body.Axis
	q.From = axis.From
	piece := plain(p)
	switch q.Kind {
	case End:
		q.Ask = "Which end of the " + piece + " is this face at?"
		q.AtMm = place(0.05 * b.LengthMm)
		if q.Of == "to" {
			q.AtMm = place(0.95 * b.LengthMm)
		}
		q.Choices, q.From = []Choice{{"from", axis.From}, {"to", axis.To}}, ""
	case Face:
		at, _ := strconv.ParseFloat(q.Of, 64)
		q.Ask, q.Many = "Which muscles are in this face?", true
		q.AtMm = place(at * b.LengthMm)
		for _, m := range p.Muscles {
			q.Choices = append(q.Choices, Choice{m.ID, m.Name})
		}
	case Stop:
		q.Number = &Number{Unit: "mm", High: b.LengthMm, Step: 1}
		what, id, _ := strings.Cut(q.Of, "/")
		if m, ok := p.Muscle(id); ok && (what == "from" || what == "to") {
			q.Lit = m.ID
			does := map[string]string{"from": "begin", "to": "end"}[what]
			q.Ask = fmt.Sprintf("Where does the %s %s? Move the mark.", words.Uncapitalised(m.Name), does)
			return
		}
		pl, pr := productOf(p, q.Of)
		q.Ask = fmt.Sprintf("“%s”: where does the %s end? Move the mark.", pl.ShortName(), words.Uncapitalised(pr.Name))
	case Count:
		pl, pr := productOf(p, q.Of)
		q.Ask = fmt.Sprintf("“%s”, a %s of %s and %.0f mm: how many pieces of %s does it give?", pl.ShortName(), piece,
			weight(p.Typical(), u), b.LengthMm, words.Uncapitalised(pr.Name))
		if pr.Along.ToMm == 0 && pr.ThicknessMm > 0 {
			q.Ask += fmt.Sprintf(" They are %.0f mm thick.", pr.ThicknessMm)
		}
		q.Number = &Number{Unit: "pieces", Low: 0, High: 60, Step: 1}
	}
}

func place(mm float64) *float64 { return &mm }

// productOf gives plan and product of a card that names both.
func productOf(p atlas.Piece, of string) (atlas.Plan, atlas.Product) {
	plan, product, _ := strings.Cut(of, "/")
	pl, _ := p.Plan(plan)
	pr, _ := pl.Product(product)
	return pl, pr
}

// found asks about what can be found on a piece.
func (q *Question) found(p atlas.Piece) {
	i := inspectOf(p, q.Of)
	if q.Kind == Goes {
		q.Ask = "You find this: " + i.Look + ". Where does it go?"
		q.Choices = []Choice{{atlas.Discard, "Into the bin"}, {atlas.ToMince, "Into the mince"},
			{atlas.PareOff, "Off with the fat"}}
		return
	}
	q.Ask = "You look at this: " + i.Look + ". What do you do?"
	q.Choices = []Choice{{i.ID, i.Do}}
	for _, o := range p.Inspect {
		if o.ID != i.ID && o.Do != i.Do && len(q.Choices) < maxChoices {
			q.Choices = append(q.Choices, Choice{o.ID, o.Do})
		}
	}
}

func inspectOf(p atlas.Piece, id string) atlas.Inspect {
	at := slices.IndexFunc(p.Inspect, func(i atlas.Inspect) bool { return i.ID == id })
	if at < 0 {
		return atlas.Inspect{}
	}
	return p.Inspect[at]
}

func weight(m measure.Mass, u measure.Unit) string { return m.Text(u, 2) }

// plain is what a piece is called in a sentence.
func plain(p atlas.Piece) string { return words.Uncapitalised(words.Plain(p.Name)) }
