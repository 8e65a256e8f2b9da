package value

import (
	"fmt"
	"math/big"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Method is a way to share a joint cost.
type Method string

// The methods; NRV is the default.
const (
	Physical       Method = "physical"        // by quantity at split-off
	SalesValue     Method = "sales_value"     // by sales value at split-off
	NRV            Method = "nrv"             // by final value less separable cost
	ConstantMargin Method = "constant_margin" // so that every product earns the same gross margin
)

// JointProduct is one product of a joint process. Quantities are in any one unit; prices are per that unit. A product
// that is not processed further has the final quantity and price of split-off and no further cost.
type JointProduct struct {
	ID            string
	Quantity      *big.Rat
	SplitPrice    measure.Money
	FinalQuantity *big.Rat
	FinalPrice    measure.Money
	FurtherCost   measure.Money
}

// Allocation is a product's part of the joint cost.
type Allocation struct {
	ID   string
	Cost measure.Money
}

// JointCost is a joint cost, shared.
type JointCost struct {
	Method      Method
	Allocations []Allocation  // exact; they add up to the joint cost
	GrossMargin *big.Rat      // of sales, with ConstantMargin only
	Joint       measure.Money // what was shared
}

// AllocateJoint shares a joint cost among products. Under NRV a product whose further cost exceeds its final value
// carries nothing. Under ConstantMargin an allocation may be negative: that product is carried by the others. Faults
// name the field: "method", "products", "products[i].…".
func AllocateJoint(joint measure.Money, method Method, products []JointProduct) (JointCost, error) {
	out := JointCost{Method: method, Joint: joint}
	if err := checkJoint(joint, products); err != nil {
		return out, err
	}
	bases := make([]*big.Rat, len(products))
	for i, p := range products {
		switch method {
		case Physical:
			bases[i] = p.Quantity
		case SalesValue:
			bases[i] = p.SplitPrice.Times(p.Quantity).Rat()
		case NRV:
			bases[i] = p.FinalPrice.Times(p.FinalQuantity).Sub(p.FurtherCost).Rat()
			if bases[i].Sign() < 0 {
				bases[i] = new(big.Rat)
			}
		case ConstantMargin:
			return constantMargin(out, products)
		default:
			return out,
				fault.New("method", "unknown", fmt.Sprintf("“%s” is not a method", method),
					"Use physical, sales_value, nrv or constant_margin.")
		}
	}
	sum := new(big.Rat)
	for _, b := range bases {
		sum.Add(sum, b)
	}
	if sum.Sign() == 0 {
		return out,
			fault.New("products", "nothing_to_share_by", "all products count as nothing by this method",
				"Give quantities and prices, or take another method.")
	}
	for i, p := range products {
		out.Allocations = append(out.Allocations, Allocation{p.ID, joint.Times(new(big.Rat).Quo(bases[i], sum))})
	}
	return out, nil
}

// constantMargin gives every product the gross margin of all together: cost = final value·(1 − margin) − further cost.
func constantMargin(out JointCost, products []JointProduct) (JointCost, error) {
	var sales, further measure.Money
	for _, p := range products {
		sales = sales.Add(p.FinalPrice.Times(p.FinalQuantity))
		further = further.Add(p.FurtherCost)
	}
	if sales.Sign() == 0 {
		return out,
			fault.New("products", "nothing_to_share_by", "the products have no final value",
				"Give final quantities and prices, or take another method.")
	}
	out.GrossMargin = new(big.Rat).Quo(sales.Sub(out.Joint).Sub(further).Rat(), sales.Rat())
	costShare := new(big.Rat).Sub(big.NewRat(1, 1), out.GrossMargin)
	for _, p := range products {
		final := p.FinalPrice.Times(p.FinalQuantity)
		out.Allocations = append(out.Allocations, Allocation{p.ID, final.Times(costShare).Sub(p.FurtherCost)})
	}
	return out, nil
}

func checkJoint(joint measure.Money, products []JointProduct) error {
	var faults fault.List
	if joint.Sign() < 0 {
		faults.Add("joint_cost", fault.New("", "negative", "is below zero", "Enter zero or more."))
	}
	if len(products) == 0 {
		faults.Add("products", fault.New("", "required", "is empty", "Give at least one product."))
	}
	seen := map[string]bool{}
	for i, p := range products {
		at := fmt.Sprintf("products[%d].", i)
		if p.ID == "" {
			faults.Add(at+"id", fault.New("", "required", "is empty", "Name the product."))
		} else if seen[p.ID] {
			faults.Add(at+"id", fault.New("", "twice", "stands twice", "Give each product its own id."))
		}
		seen[p.ID] = true
		for _, x := range []struct {
			name string
			sign int
		}{{"quantity", p.Quantity.Sign()}, {"split_price", p.SplitPrice.Sign()}, {"final_quantity", p.FinalQuantity.Sign()},
			{"final_price", p.FinalPrice.Sign()}, {"further_cost", p.FurtherCost.Sign()}} {
			if x.sign < 0 {
				faults.Add(at+x.name, fault.New("", "negative", "is below zero", "Enter zero or more."))
			}
		}
	}
	return faults.Err()
}
