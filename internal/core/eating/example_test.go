package eating_test

import (
	"fmt"

	"falda/internal/core/eating"
)

func ExampleBest() {
	best, _ := eating.Best([]eating.Score{{Method: "grill", Mean: 70, SD: 8},
		{Method: "roast", Mean: 66, SD: 3, Assessors: 10}})
	fmt.Printf("%s, grade %s, at least %.0f 19 times in 20\n", best.Method, best.Grade(), best.Low())
	// Output: roast, grade 4, at least 61 19 times in 20
}
