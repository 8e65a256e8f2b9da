package words

import (
	"fmt"
	"math/big"

	"falda/internal/core/measure"
	"falda/internal/core/portion"
)

// Portions says what a layout gives whose slices are each cut into so many portions: “12 portions of 0.221 kg to 0.231
// kg, 0.087 kg left over.”
func Portions(l portion.Layout, into int, unit measure.Unit) string {
	n, lightest, heaviest := l.Portions()
	if n == 0 {
		return "no portion comes out."
	}
	text := ""
	if into > 1 {
		text = Count(n, "slice", "slices") + " cut in " + partsOf(into) + ": "
		each := big.NewRat(1, int64(into))
		n, lightest, heaviest = n*into, new(big.Rat).Mul(lightest, each), new(big.Rat).Mul(heaviest, each)
	}
	text += Count(n, "portion", "portions") + " of " + Grams(lightest, unit)
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

// partsOf says into what a slice is cut: “halves”.
func partsOf(n int) string {
	switch n {
	case 2:
		return "halves"
	case 3:
		return "thirds"
	case 4:
		return "quarters"
	}
	return fmt.Sprintf("%d pieces each", n)
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
