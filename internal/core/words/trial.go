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

// Sentence says whether the difference is real, how large it is, and how many pairs would tell.
func (t Trial) Sentence() string {
	r := t.Result
	if r == nil {
		return fmt.Sprintf("No pair is complete yet; %d to cut.", t.Pairs)
	}
	word := map[bool]string{true: "more", false: "less"}[r.Mean >= 0]
	text := fmt.Sprintf("“%s” brought %s %s than “%s”", t.B, PerUnit(t.Unit, t.Currency, math.Abs(r.Mean)), word, t.A)
	if r.Enough {
		p := fmt.Sprintf("p %.3f", r.P)
		if r.P < 0.001 {
			p = "p < 0.001"
		}
		low, high := PerUnit(t.Unit, t.Currency, r.Low), PerUnit(t.Unit, t.Currency, r.High)
		text += fmt.Sprintf(" (%.0f %%: %s to %s, %s, %s)", t.ConfidencePct, low, high, p, Count(r.N, "pair", "pairs"))
	}
	switch {
	case !r.Enough:
		text += fmt.Sprintf(": %s, of %d.", r.Verdict, r.N)
	case r.Verdict == "real":
		text += ": real."
	case r.More > 0:
		text += fmt.Sprintf(": not yet sure, %s would tell.", Count(r.More, "more pair", "more pairs"))
	case r.Verdict == "no":
		text += ": no difference at all."
	default:
		text += ": not yet known; a difference so small would take more than ten times as many pairs."
	}
	if t.Open > 0 {
		text += fmt.Sprintf(" %d of %s still to be cut.", t.Open, Count(t.Pairs, "pair", "pairs"))
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
