package words

import (
	"fmt"
	"strconv"

	"falda/internal/core/measure"
)

// Carcass is what is said of a carcass that is rolled up from its pieces.
type Carcass struct {
	Plan     string
	Unpriced int // products without a price
	Guessed  int // products whose price is a guess, of so many
	Of       int
	Head     measure.Money
	Paid     bool           // what the carcass cost is counted
	Swap     *measure.Money // by how much a carcass leaves more than by the plan throughout; nil where nothing was swapped
	Whole    *measure.Money // by how much it leaves more sold as it is; nil where that is not asked
	Lost     measure.Money  // a week, by what it cannot sell at the full price
	Currency measure.Currency
}

// Sentence says what a carcass leaves.
func (c Carcass) Sentence() string {
	text := ""
	switch {
	case c.Unpriced > 0:
		text = "What it brings cannot be said yet: " +
			Count(c.Unpriced, "of what it becomes has no price.", "of what it becomes have no price.")
	case c.Swap != nil:
		word := "more"
		if c.Swap.Sign() < 0 {
			word = "less"
		}
		text = fmt.Sprintf("Cut so, a carcass leaves %s, %s %s than by “%s” throughout.",
			c.Currency.Text(c.Head), c.Currency.Text(c.Swap.Abs()), word, c.Plan)
	default:
		after := "after all costs"
		if !c.Paid {
			after = "before the carcass is paid"
		}
		text = fmt.Sprintf("By “%s” a carcass leaves %s %s.", c.Plan, c.Currency.Text(c.Head), after)
	}
	if c.Whole != nil && c.Unpriced == 0 {
		text += c.whole()
	}
	if c.Unpriced == 0 {
		text += GuessedPrices(c.Guessed, c.Of)
	}
	if c.Lost.Sign() > 0 {
		text += fmt.Sprintf(" More is made than a week can sell: that costs %s a week.", c.Currency.Text(c.Lost))
	}
	return text
}

// GuessedPrices says how many of the prices that an answer rests on are guesses; nothing where none is.
func GuessedPrices(guessed, of int) string {
	switch {
	case guessed == 0:
		return ""
	case guessed == of:
		return fmt.Sprintf(" All %d prices are guesses.", of)
	}
	return " " + Count(guessed, "price of ", "prices of ") + strconv.Itoa(of) +
		map[bool]string{true: " is a guess.", false: " are guesses."}[guessed == 1]
}

// whole says what is left when the carcass is sold as it is.
func (c Carcass) whole() string {
	switch c.Whole.Sign() {
	case 0:
		return " Sold whole it would leave the same."
	case 1:
		return fmt.Sprintf(" Sold whole it would leave %s more, and no work.", c.Currency.Text(*c.Whole))
	}
	return fmt.Sprintf(" Sold whole it would leave %s less.", c.Currency.Text(c.Whole.Abs()))
}

// CarcassForecast compares what a carcass would bring by a plan with the traditional one, before it is received.
func CarcassForecast(plan, traditional string, more measure.Money, minutes float64, currency measure.Currency) string {
	word := " more than "
	if more.Sign() < 0 {
		word = " less than "
	}
	return fmt.Sprintf("%s would bring %s%s%s, after %g more minutes of work.",
		plan, currency.Text(more.Abs()), word, Uncapitalised(traditional), minutes)
}
