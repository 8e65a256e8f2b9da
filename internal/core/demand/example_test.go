package demand_test

import (
	"fmt"

	"falda/internal/core/demand"
)

// The same cut under two names in alternating weeks: 34 packs under one, 20 under the other.
func ExampleRateRatio() {
	r, err := demand.RateRatio(demand.Sold{Count: 34, Days: 14}, demand.Sold{Count: 20, Days: 14}, 0.95)
	fmt.Printf("%.2f times as fast, %.2f to %.2f, p %.3f, %v\n", *r.Ratio, *r.Low, *r.High, r.P, err)
	// Output: 1.70 times as fast, 0.95 to 3.12, p 0.076, <nil>
}
