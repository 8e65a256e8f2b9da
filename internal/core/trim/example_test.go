package trim_test

import (
	"fmt"

	"falda/internal/core/trim"
)

// Two fat tests, each six points leaner than the atlas says.
func ExampleCorrected() {
	c := trim.Corrected([]float64{6, 6})
	fmt.Printf("%.2f points leaner, of %d tests: %.1f %%\n", c.Points, c.N, c.With(trim.Figures{Lean: 80}).Lean)
	// Output: 4.68 points leaner, of 2 tests: 84.7 %
}
