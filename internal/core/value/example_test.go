package value_test

import (
	"fmt"
	"math/big"

	"falda/internal/core/measure"
	"falda/internal/core/value"
)

func ExampleAllocateJoint() {
	cream := value.JointProduct{ID: "cream", Quantity: big.NewRat(25000, 1), SplitPrice: measure.MustMoney("8")}
	skim := value.JointProduct{ID: "skim", Quantity: big.NewRat(75000, 1), SplitPrice: measure.MustMoney("4")}
	cream.FinalQuantity, skim.FinalQuantity = cream.Quantity, skim.Quantity
	shared, _ := value.AllocateJoint(measure.MustMoney("400000"), value.SalesValue, []value.JointProduct{cream, skim})
	for _, a := range shared.Allocations {
		fmt.Println(a.ID, a.Cost)
	}
	// Output:
	// cream 160000.00
	// skim 240000.00
}
