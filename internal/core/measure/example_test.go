package measure_test

import (
	"fmt"

	"falda/internal/core/measure"
)

func ExamplePrice_Of() {
	price, _ := measure.ParsePrice("11.50", measure.UnitKilogram)
	weight, _ := measure.ParseMass("6.6", measure.UnitKilogram)
	fmt.Println(price.Of(weight))
	// Output: 75.90
}

func ExampleApportionMass() {
	shares, _ := measure.ApportionMass(100*measure.Milligram, []int64{1, 1, 1})
	fmt.Println(shares)
	// Output: [34 33 33]
}
