package words

import (
	"fmt"

	"falda/internal/core/measure"
)

// MeatLeft says that a bone or a fat came off heavier than is usual.
func MeatLeft(name, kind string, over measure.Mass, unit measure.Unit) string {
	return fmt.Sprintf("%s: about %s more than usual came off with it. Look for lean left on the %s.", Capitalised(name),
		over.Text(unit, 2), kind)
}

// TooEarly says that a muscle came off before one that lies over it.
func TooEarly(name string) string {
	return fmt.Sprintf("%s came off before what lies over it: look at both faces for a torn muscle.", Capitalised(name))
}

// GivenAway says by how much portions were heavier than wanted.
func GivenAway(m measure.Mass, unit measure.Unit) string {
	return fmt.Sprintf("Portions came out %s heavier than wanted in all.", m.Text(unit, 2))
}

// Learned is how somebody gets faster at a piece.
type Learned struct {
	Name                  string
	N                     int     // timed pieces
	First, Now, Then      float64 // minutes by the curve: of the first, the last and of Ahead further
	Ahead                 int
	House                 float64 // 0 where nobody else has cut one
	HouseN                int
	Reaches               int
	Lost, Until           *measure.Money
	LostN                 int
	Currency              measure.Currency
	ExponentLow, Exponent float64
}

// LearnedSentence says how somebody gets faster, and what that costs and brings.
func LearnedSentence(l Learned) string {
	if l.N < 3 {
		return fmt.Sprintf("%s timed so far. From three on there is a curve.", Count(l.N, "piece", "pieces"))
	}
	out := fmt.Sprintf("%.0f minutes at first, %.0f now, %.0f after %d more, by the curve through %d pieces.", l.First,
		l.Now, l.Then, l.Ahead, l.N)
	if l.ExponentLow <= 0 {
		out = fmt.Sprintf("About %.0f minutes: no piece-by-piece gain can be told from chance yet (%d pieces).", l.Now, l.N)
	}
	switch {
	case l.House <= 0:
		out += " Nobody else has cut one by this plan yet."
	case l.Now <= l.House:
		out += fmt.Sprintf(" That is as fast as the others (%.0f, %s).", l.House, Count(l.HouseN, "piece", "pieces"))
	case l.Reaches > 0:
		out += fmt.Sprintf(" The others take %.0f (%s); the curve gets there at piece %d.", l.House,
			Count(l.HouseN, "piece", "pieces"), l.Reaches)
	default:
		out += fmt.Sprintf(" The others take %.0f (%s); the curve does not get there in sight.", l.House,
			Count(l.HouseN, "piece", "pieces"))
	}
	if l.Lost == nil {
		return out
	}
	lost := l.Currency.Round(*l.Lost)
	switch lost.Sign() {
	case 1:
		out += fmt.Sprintf(" Learning has cost %s so far against the others, in work and meat (%s).", l.Currency.Text(lost),
			Count(l.LostN, "piece", "pieces"))
	default:
		out += fmt.Sprintf(" The pieces brought %s more than the others', in work and meat (%s).",
			l.Currency.Text(lost.Neg()), Count(l.LostN, "piece", "pieces"))
	}
	if l.Until != nil && l.Until.Sign() > 0 && l.Now > l.House {
		out += fmt.Sprintf(" The longer work until then will cost about %s.", l.Currency.Text(l.Currency.Round(*l.Until)))
	}
	return out
}
