package seam_test

import (
	"fmt"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

func ExampleWeigh() {
	out := []measure.Mass{1180 * measure.Gram, 2300 * measure.Gram, 1930 * measure.Gram}
	b := seam.Weigh(5480*measure.Gram, out, 5*measure.Gram, 1.5)
	fmt.Printf("%s left, %.2f %%, %s\n", b.Residual.Text(measure.UnitGram, 0), b.ResidualPct(), b.Verdict)
	// Output: 70 g left, 1.28 %, balanced
}
