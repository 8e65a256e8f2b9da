package measure

import (
	"strings"

	"golang.org/x/text/currency"
)

// Currency is an ISO 4217 code.
type Currency string

// symbols are shown before the amount; other currencies are shown by their code.
var symbols = map[Currency]string{
	"EUR": "€", "GBP": "£", "USD": "$", "AUD": "A$", "NZD": "NZ$", "CAD": "C$", "BRL": "R$",
}

// defaultPlaces is how many decimals an amount has whose currency is not known.
const defaultPlaces = 2

// Places is the number of decimals the currency is counted in, by the Unicode CLDR tables of golang.org/x/text:
// 2 for most, 0 for JPY, 3 for KWD. A code that the tables do not know has 2.
func (c Currency) Places() int {
	unit, err := currency.ParseISO(string(c))
	if err != nil {
		return defaultPlaces
	}
	places, _ := currency.Standard.Rounding(unit)
	return places
}

// Of gives the amount as one of this currency, unrounded: it is shown with the currency's decimals from then on.
func (c Currency) Of(m Money) Money { return Money{m.r, knownPlaces(c.Places())} }

// Round gives the amount in whole units of the currency's smallest coin, half away from zero.
func (c Currency) Round(m Money) Money { return c.Of(m.Round(c.Places())) }

// Text shows an amount with its symbol and its thousands apart: "€1.84", "−€0.40", "NOK 12,000.00". What rounds to
// nothing has no sign.
func (c Currency) Text(m Money) string {
	sign := ""
	text := m.Abs().Text(c.Places())
	if m.Sign() < 0 && !allZero(text) {
		sign = "−"
	}
	text = thousands(text)
	if s, ok := symbols[c]; ok {
		return sign + s + text
	}
	return sign + string(c) + " " + text
}

func allZero(s string) bool {
	for _, r := range s {
		if r >= '1' && r <= '9' {
			return false
		}
	}
	return true
}

// thousands sets commas between the thousands of plain digits.
func thousands(s string) string {
	whole, part, _ := strings.Cut(s, ".")
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + "," + whole[i:]
	}
	if part == "" {
		return whole
	}
	return whole + "." + part
}
