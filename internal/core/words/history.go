package words

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"falda/internal/core/measure"
)

// History is what is said of finished pieces, taken together by something.
type History struct {
	Measure  string // "yield", "value", "before_purchase", "minutes" or "loss"
	By       string // "week", "month", "piece", "plan", "supplier" or "cutter"
	Pieces   int
	Mean     float64
	Groups   int
	Out      []string // groups beyond the control limits
	Real     []Unlike // groups that are unlike the rest
	Alone    []string // groups that nothing can be compared with
	Unit     measure.Unit
	Currency measure.Currency
}

// Unlike is a group with its difference from the rest.
type Unlike struct {
	Name       string
	Difference float64
}

// Sentence says the mean, and what stands out.
func (h History) Sentence() string {
	if h.Pieces == 0 {
		return "No finished piece fits; choose another piece, plan or other days."
	}
	unit := "kilogram"
	if h.Unit == measure.UnitPound {
		unit = "pound"
	}
	what := map[string]string{
		"yield": "saleable meat of the piece", "value": "value a " + unit + " after all costs",
		"before_purchase": "what a " + unit + " of block is worth before it is paid",
		"minutes":         "bench minutes a " + unit, "loss": "loss of the piece",
	}[h.Measure]
	pieces := Count(h.Pieces, "finished piece", "finished pieces")
	text := fmt.Sprintf("%s, %s: mean %s.", pieces, what, h.Amount(h.Mean, false))
	switch {
	case len(h.Out) > 0:
		text += " Beyond what chance makes of it: " + strings.Join(h.Out, ", ") + "."
	case len(h.Real) > 0:
		var unlike []string
		for _, u := range h.Real {
			unlike = append(unlike, u.Name+" "+h.Amount(u.Difference, true))
		}
		text += " Unlike the rest" + h.Within() + ": " + strings.Join(unlike, ", ") + "."
	case h.By == "week" || h.By == "month":
		text += " No unusual " + h.By + "s."
	case h.By != "piece":
		text += " No difference that can be told from chance by so many pieces" + h.Within() + "."
	}
	switch {
	case h.By == "plan" || len(h.Alone) == 0 || h.Groups < 2:
	case h.By == "week" || h.By == "month":
		text += " Different plans were cut in them: choose a plan to compare one " + h.By + " with another."
	default:
		text += " They cut by different plans, and so cannot be held against each other: " + strings.Join(h.Alone, ", ") + "."
	}
	return text
}

// Within says within what groups were compared.
func (h History) Within() string {
	if h.By == "plan" {
		return ", within a kind of piece"
	}
	return ", the same kind cut by the same plan"
}

// Amount is a figure of the measure in words: money in the shop's currency and unit, percentages, minutes.
func (h History) Amount(f float64, sign bool) string {
	text := ""
	unit := 1.0
	if h.Unit == measure.UnitPound {
		unit, _ = h.Unit.Kilograms().Float64()
	}
	switch h.Measure {
	case "value", "before_purchase":
		m, ok := measure.MoneyFromFloat(math.Abs(f * unit))
		if !ok {
			return ""
		}
		text = h.Currency.Text(m)
	case "minutes":
		text = strconv.FormatFloat(math.Abs(f*unit), 'f', 2, 64)
	default:
		text = strconv.FormatFloat(math.Abs(f), 'f', 2, 64) + " %"
	}
	switch {
	case f < 0 && strings.ContainsAny(text, "123456789"):
		return "−" + text
	case sign:
		return "+" + text
	}
	return text
}
