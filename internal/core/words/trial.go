package words

import (
	"fmt"
	"math"

	"falda/internal/core/measure"
	"falda/internal/core/trial"
)

// Trial is what is said of a trial.
type Trial struct {
	A, B          string // the plans
	Pairs, Open   int    // all, and those still to be cut
	Result        *trial.Result
	ConfidencePct float64
	Unit          measure.Unit
	Currency      measure.Currency
}

// Sentence says in how many pairs which way brought more, whether that is more than luck, and how many pairs would
// tell. The figures of the test itself stand elsewhere.
func (t Trial) Sentence() string {
	r := t.Result
	if r == nil {
		return fmt.Sprintf("No pair is complete yet; %d to cut.", t.Pairs)
	}
	word := map[bool]string{true: "more", false: "less"}[r.Mean >= 0]
	text := fmt.Sprintf("In %d of %s “%s” brought %s than “%s”, %s on average", r.Same, Count(r.N, "pair", "pairs"), t.B,
		word, t.A, PerUnit(t.Unit, t.Currency, math.Abs(r.Mean)))
	switch {
	case !r.Enough:
		text += ": " + r.Verdict + "."
	case r.Verdict == "real":
		text += ": surely more than luck."
	case r.More > 0:
		text += fmt.Sprintf(": it may be luck, %s would tell.", Count(r.More, "more pair", "more pairs"))
	case r.Verdict == "no":
		text += ": no difference at all."
	default:
		text += ": it may be luck; a difference so small would take more than ten times as many pairs."
	}
	if r.Enough && r.Low != r.High {
		text += fmt.Sprintf(" The true difference lies between %s and %s, %.0f %% sure.", t.signed(r.Low), t.signed(r.High),
			t.ConfidencePct)
	}
	if t.Open > 0 {
		text += fmt.Sprintf(" %d of %s still to be cut.", t.Open, Count(t.Pairs, "pair", "pairs"))
	}
	return text
}

// signed is a difference with its sign: "+€1.42 a kilogram".
func (t Trial) signed(perKg float64) string {
	text := PerUnit(t.Unit, t.Currency, perKg)
	if perKg > 0 {
		return "+" + text
	}
	return text
}

// PerUnit is a figure a kilogram of statistics as money by the unit that the shop weighs in: "€1.69 a kilogram".
func PerUnit(unit measure.Unit, currency measure.Currency, perKg float64) string {
	factor, word := 1.0, "kilogram"
	if unit == measure.UnitPound {
		factor, _ = unit.Kilograms().Float64()
		word = "pound"
	}
	m, ok := measure.MoneyFromFloat(perKg * factor)
	if !ok {
		return "–"
	}
	return currency.Text(m) + " a " + word
}
