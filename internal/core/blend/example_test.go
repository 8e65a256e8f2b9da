package blend_test

import (
	"fmt"
	"math/big"

	"falda/internal/core/blend"
)

// Two tubs, mince of 80 % lean: three parts of the leaner to one of the fatter.
func ExampleBest() {
	kg := func(n int64) *big.Rat { return big.NewRat(n, 1) }
	mix, err := blend.Best([]blend.Stream{
		{ID: "lean", Kg: kg(12), LeanPct: kg(90), ConnectivePct: kg(2), WorthPerKg: kg(7)},
		{ID: "fat", Kg: kg(10), LeanPct: kg(50), ConnectivePct: kg(2), WorthPerKg: kg(2)},
	}, []blend.Product{{ID: "mince", LeanMinPct: kg(80), LeanMaxPct: kg(80), PricePerKg: big.NewRat(99, 10)}}, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, u := range mix.Use {
		fmt.Printf("%s kg of %s\n", u.Kg.FloatString(0), u.Stream)
	}
	fmt.Printf("brings %s; one more kilogram of lean adds %s\n", mix.Value.FloatString(2),
		mix.Margins[0].PerKg.FloatString(2))
	// Output:
	// 12 kg of lean
	// 4 kg of fat
	// brings 170.40; one more kilogram of lean adds 12.53
}
