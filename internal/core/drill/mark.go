package drill

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/words"
)

// Answer is what was answered: one choice or several, a touched part, touches in their order, or a number.
type Answer struct {
	Choices []string
	Number  *float64
}

// Verdict is what came of an answer.
type Verdict struct {
	Right   bool
	Done    bool     // the question is answered; false while a piece is being taken apart
	Quality int      // from 0 to 5
	Truth   []string // what would have been right: choices or parts
	Number  *float64 // likewise, in the unit asked for
	Off     []string // what came off so far
	Says    string   // why, in the atlas' words
}

// Mark marks an answer to a card of a piece. Faults name card, choices and number.
func Mark(p atlas.Piece, u measure.Unit, c Card, a Answer) (Verdict, error) {
	q, ok := Ask(p, u, c, 0)
	if !ok {
		return Verdict{}, fault.New("card", "unknown", "is not asked about this piece", "Ask for the next question.")
	}
	if err := q.check(a); err != nil {
		return Verdict{}, err
	}
	v := Verdict{Done: true}
	switch c.Kind {
	case Order:
		pl, _ := p.Plan(c.Of)
		return marked(takeApart(p, pl).take(a.Choices)), nil
	case Weight, Stop, Count:
		v.number(p, u, c, *a.Number)
		return v, nil
	case Name, Touch, Grain, Found, End:
		v.Truth = []string{c.Of}
	case Method:
		m, _ := p.Muscle(c.Of)
		best, _, _ := methods(m)
		v.Truth = []string{best}
	case Face:
		b, err := p.Inside()
		if err != nil {
			return v, err
		}
		v.Truth = inFace(p, b, *q.AtMm, showsFrom)
		v.Right = faceRight(p, b, *q.AtMm, a.Choices)
	case Goes:
		i := inspectOf(p, c.Of)
		v.Truth = append([]string{i.Takes.To}, i.Takes.May...)
	}
	v.choices(c.Kind, a.Choices)
	v.Says = says(p, u, c)
	return v, nil
}

// check looks whether an answer is one to the question.
func (q Question) check(a Answer) error {
	var faults fault.List
	if q.Number != nil {
		switch {
		case a.Number == nil:
			faults.Add("number", fault.Required("Enter a number."))
		case !(*a.Number >= q.Number.Low && *a.Number <= q.Number.High):
			faults.Add("number", fault.New("", "out_of_range",
				fmt.Sprintf("must be from %g to %g", q.Number.Low, q.Number.High), "Enter a number in between."))
		}
		return faults.Err()
	}
	if len(a.Choices) == 0 {
		faults.Add("choices", fault.Required("Touch an answer."))
	}
	if len(a.Choices) > maxTouches || (len(a.Choices) > 1 && !q.Many && q.Kind != Order) {
		faults.Add("choices", fault.New("", "too_many", "are too many", "Touch one answer."))
	}
	return faults.Err()
}

// maxTouches bounds how often a piece is touched while it is taken apart.
const maxTouches = 200

// choices marks touched answers: one that is right, or just those that are.
func (v *Verdict) choices(k Kind, chosen []string) {
	if k != Face {
		v.Right = slices.Contains(v.Truth, chosen[0])
	}
	v.Quality = Wrong
	if v.Right {
		v.Quality = Settled
	}
}

// What surely shows in a face and must be named, and what does not at all, as shares of
// it; between them either is right.
const (
	surely = 0.05
	hardly = 0
)

// faceRight says whether just the muscles of a face were touched.
func faceRight(p atlas.Piece, b *body.Body, mm float64, chosen []string) bool {
	there := func(id string) bool { return slices.Contains(chosen, id) }
	may := inFace(p, b, mm, hardly)
	return !slices.ContainsFunc(chosen, func(id string) bool { return !slices.Contains(may, id) }) &&
		!slices.ContainsFunc(inFace(p, b, mm, surely), func(id string) bool { return !there(id) })
}

// marked turns a piece that was taken apart into a verdict: without a mistake it was easy, with one it was known.
func marked(t Taking) Verdict {
	v := Verdict{Right: t.Right, Done: t.Done, Off: t.Off, Says: t.Says}
	if !t.Done {
		return v
	}
	v.Right = t.Mistakes <= 1
	v.Quality = []int{Easy, Passed, Wrong}[min(t.Mistakes, 2)]
	switch t.Mistakes {
	case 0:
		v.Says = "In a right order, from the first to the last."
	case 1:
		v.Says = "All off, with one touch too early. " + v.Says
	default:
		v.Says = fmt.Sprintf("All off, with %d touches too early. %s", t.Mistakes, v.Says)
	}
	return v
}

// number marks a number by how far off it is.
func (v *Verdict) number(p atlas.Piece, u measure.Unit, c Card, got float64) {
	truth, good := truth(p, c)
	off := math.Abs(got - truth)
	v.Number = &truth
	switch {
	case off <= good:
		v.Quality = Easy
	case off <= 2*good:
		v.Quality = Settled
	case off <= 3*good:
		v.Quality = Passed
	default:
		v.Quality = Wrong
	}
	v.Right = v.Quality >= Passed
	v.Says = says(p, u, c)
}

// truth gives what a number is by the atlas, and how far off is still a good eye: a tenth of a weight, one fortieth of
// the length of a piece, or half a slice where slices are counted; of a count nothing. Common practice, no source.
func truth(p atlas.Piece, c Card) (number, good float64) {
	if c.Kind == Weight {
		number = expected(p, c.Of).Grams()
		return number, number / 10
	}
	b, err := p.Inside()
	if err != nil {
		return 0, 0
	}
	what, id, _ := strings.Cut(c.Of, "/")
	if c.Kind == Stop && (what == "from" || what == "to") {
		mm, _ := reaches(b, what, id)
		return math.Round(mm), b.LengthMm / 40
	}
	pl, pr := productOf(p, c.Of)
	n, last := laid(p, pl, pr)
	if c.Kind == Count {
		return float64(n), 1.0 / 3
	}
	return math.Round(last), max(5, min(pr.ThicknessMm/2, b.LengthMm/20))
}

// expected is what a muscle of a usual piece weighs.
func expected(p atlas.Piece, muscle string) measure.Mass {
	split := p.Split(p.Typical())
	for i, part := range p.Parts() {
		if part.ID == muscle {
			return split[i]
		}
	}
	return 0
}

// says explains an answer in the atlas' words.
func says(p atlas.Piece, u measure.Unit, c Card) string {
	m, _ := p.Muscle(c.Of)
	switch c.Kind {
	case Name, Touch:
		out := m.Name + ", " + m.Anatomical + "."
		if names := otherNames(p, m); len(names) > 0 {
			out += " Also called " + strings.Join(names[:min(5, len(names))], ", ") + "."
		}
		return out
	case Weight:
		return fmt.Sprintf("About %s: %s %% of the piece (estimated, by the atlas). %s", weight(expected(p, m.ID), u),
			short(m.SharePct), m.Judge)
	case Method:
		best, others, _ := methods(m)
		var list []string
		for _, id := range append([]string{best}, others...) {
			method, _ := atlas.FindMethod(id)
			list = append(list, fmt.Sprintf("%s %s", words.Uncapitalised(method.Name), short(m.Eating[id])))
		}
		return fmt.Sprintf("Of 100: %s (estimated, by the atlas). %s", strings.Join(list, ", "), m.Judge)
	case Grain:
		return m.Grain.Note + " Slice across it."
	case Found, Goes:
		return inspectOf(p, c.Of).Do
	}
	return saysAlong(p, c)
}

// saysAlong explains what is true of a place along the piece.
func saysAlong(p atlas.Piece, c Card) string {
	axis := p.Body.Axis
	switch c.Kind {
	case End:
		end := axis.From
		if c.Of == "to" {
			end = axis.To
		}
		return "It is the " + end + "."
	case Face:
		at, _ := strconv.ParseFloat(c.Of, 64)
		return fmt.Sprintf("%.0f mm from the %s.", at*axis.LengthMm, axis.From)
	case Count:
		n, _ := truth(p, c)
		return fmt.Sprintf("It gives %.0f.", n)
	}
	mm, _ := truth(p, c)
	out := fmt.Sprintf("At %.0f mm from the %s.", mm, axis.From)
	if _, id, _ := strings.Cut(c.Of, "/"); id != "" {
		if m, ok := p.Muscle(id); ok {
			return out + " " + m.Judge
		}
	}
	if _, pr := productOf(p, c.Of); pr.Say.Wrong != "" {
		out += " " + pr.Say.Wrong
	}
	return out
}

func short(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
