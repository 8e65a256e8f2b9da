package words

import (
	"math/big"

	"falda/internal/core/measure"
	"falda/internal/core/portion"
)

// Portions says what a layout gives: “12 portions of 0.221 kg to 0.231 kg, 0.087 kg left over.”
func Portions(l portion.Layout, unit measure.Unit) string {
	n, lightest, heaviest := l.Portions()
	if n == 0 {
		return "no portion comes out."
	}
	text := Count(n, "portion", "portions") + " of " + Grams(lightest, unit)
	if Grams(lightest, unit) != Grams(heaviest, unit) {
		text += " to " + Grams(heaviest, unit)
	}
	if l.RestG.Sign() > 0 {
		text += ", " + Grams(l.RestG, unit) + " left over"
	}
	if l.GiveAwayG.Sign() > 0 {
		text += ", " + Grams(l.GiveAwayG, unit) + " given away"
	}
	return text + "."
}

// Grams says exact grams in a unit, to three decimals; nothing where they are more than there can be.
func Grams(exact *big.Rat, unit measure.Unit) string {
	g, _ := exact.Float64()
	m, err := measure.FromGrams(g)
	if err != nil {
		return ""
	}
	return m.Text(unit, 3)
}
