package words

import (
	"fmt"
	"strings"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
)

// Ready says whether a block is old enough to be steaked, and what it waits for.
func Ready(r age.Readiness) string {
	if len(r.Muscles) == 0 {
		return "Nothing of it is for quick cooking; age does not hold it back."
	}
	if r.Ready {
		return "Old enough to steak."
	}
	var young []string
	for _, m := range r.Muscles {
		if !m.Ready {
			young = append(young, Plain(m.Name))
		}
	}
	return "Not old enough to steak before " + r.ReadyOn.Format("2 January") + ": " + strings.Join(young, ", ") + "."
}

// GradeConflict says that a product's method is not what the muscle eats well by; method and best are the methods'
// names.
func GradeConflict(c eating.Contradiction, method, best string) string {
	return fmt.Sprintf("%s: %s is below 3 by %s (%.0f of 100); it eats best by %s.", c.Product.Name,
		strings.ToLower(Short(c.Muscle.Name)), strings.ToLower(method), c.Score.Mean, strings.ToLower(best))
}

// BetterAs says what the muscle would bring as another product; change is what it brings more.
func BetterAs(product string, change measure.Money, currency measure.Currency) string {
	word := "more"
	if change.Sign() < 0 {
		word = "less, and not disappoint"
	}
	return fmt.Sprintf("As %s it would bring %s %s.", strings.ToLower(product), currency.Text(change.Abs()), word)
}

// Ageing is what another week would bring and cost.
type Ageing struct {
	Points         float64 // at most
	Muscle, Method string  // for which
	Cost           measure.Money
	Loss           measure.Mass
	Young          []TooYoung
	Unit           measure.Unit
	Currency       measure.Currency
}

// TooYoung is a muscle that is not old enough for its method.
type TooYoung struct {
	Muscle, Method string
	Until          time.Time
}

// Sentence says what a week brings and costs, and what is too young, day by day.
func (a Ageing) Sentence() string {
	text := fmt.Sprintf("Another week would bring at most %.1f points (%s, %s), and cost %s: %s of weight lost, and the "+
		"store.",
		max(0, a.Points), strings.ToLower(Short(a.Muscle)), strings.ToLower(a.Method), a.Currency.Text(a.Cost),
		a.Loss.Text(a.Unit, 3))
	young := map[string][]string{} // by what for and until when
	var order []string
	for _, y := range a.Young {
		until := fmt.Sprintf("Too young to %s until %s: ", strings.ToLower(y.Method), y.Until.Format("Monday 2 January"))
		if young[until] == nil {
			order = append(order, until)
		}
		young[until] = append(young[until], strings.ToLower(Short(y.Muscle)))
	}
	for _, until := range order {
		text += " " + until + strings.Join(young[until], ", ") + "."
	}
	return text
}

// Yields says in a line how a piece lies to what is usual: odd holds what does not, past is how many earlier pieces of
// the house were cut the same way, and enough that they are enough to compare with.
func Yields(odd []OddYield, past int, enough bool) string {
	beside := "the atlas’ usual shares; the house has too few of its own yet"
	if enough {
		beside = Count(past, "piece", "pieces") + " of the house cut the same way"
	}
	if len(odd) == 0 {
		return "As usual, beside " + beside + "."
	}
	var parts []string
	for _, y := range odd {
		parts = append(parts,
			fmt.Sprintf("%s %s (%.1f %%, usually %.1f–%.1f)", strings.ToLower(Short(y.Name)), y.Odd, y.Pct, y.Low, y.High))
	}
	return "Not as usual: " + strings.Join(parts, "; ") + ". Beside " + beside + "."
}

// OddYield is a yield that is not as usual, in percent of the piece.
type OddYield struct {
	Name, Odd      string
	Pct, Low, High float64
}
