package learning_test

import (
	"fmt"

	"falda/internal/core/learning"
)

// Six rumps, each a little faster.
func ExampleFit() {
	c, err := learning.Fit([]float64{31, 27, 24, 23, 22, 21})
	fmt.Printf("the first took %.0f minutes by the curve, the tenth will take %.0f; exponent %.2f, %v\n", c.First,
		c.At(10), c.Exponent, err)
	// Output: the first took 31 minutes by the curve, the tenth will take 19; exponent 0.22, <nil>
}
