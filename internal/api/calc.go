package api

import (
	"context"
	"fmt"
	"math"
	"math/big"
	"slices"
	"strconv"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
)

// maxCalcRows bounds the rows of a calculation.
const maxCalcRows = 1000

// outputKinds are what can come off a piece; what it is makes no difference to whether it balances.
var outputKinds = []string{"muscle", "product", "fat", "bone", "trim", "offal", "waste"}

func (h *handlers) CalcBalance(_ context.Context, r contract.CalcBalanceRequestObject) (contract.CalcBalanceResponseObject, error) {
	b := r.Body
	var faults fault.List
	mass := func(field string, g float64, least measure.Mass) measure.Mass {
		m, err := measure.FromGrams(g)
		if err == nil && m < least {
			err = fault.New("", "not_positive", "is too small", "Enter grams above zero.")
			if least == 0 {
				err = fault.New("", "negative", "is below zero", "Enter grams, zero or more.")
			}
		}
		faults.Add(field, err)
		return m
	}
	division, limit := 5.0, 1.5
	if b.DivisionG != nil {
		division = *b.DivisionG
	}
	if b.LossLimitPct != nil {
		limit = *b.LossLimitPct
	}
	if limit < 0 || limit > 100 || math.IsNaN(limit) {
		faults.Add("loss_limit_pct", fault.New("", "out_of_range", "must be from 0 to 100", ""))
	}
	if len(b.Outputs) > maxCalcRows {
		return nil, fault.New("outputs", "too_many", "has more than 1,000 rows", "Send them in several calls.")
	}
	input, e := mass("input_g", b.InputG, 1), mass("division_g", division, 0)
	outputs := make([]measure.Mass, len(b.Outputs))
	for i, o := range b.Outputs {
		if kind := from(o.Kind); kind != "" && !slices.Contains(outputKinds, kind) {
			faults.Add(fmt.Sprintf("outputs[%d].kind", i), fault.New("", "unknown", "is not a kind of output", "Use one of: "+strings.Join(outputKinds, ", ")+"; or leave it out."))
		}
		outputs[i] = mass(fmt.Sprintf("outputs[%d].g", i), o.G, 0)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	return contract.CalcBalance200JSONResponse(balance(seam.Weigh(input, outputs, e, limit))), nil
}

func (h *handlers) CalcJointCost(_ context.Context, r contract.CalcJointCostRequestObject) (contract.CalcJointCostResponseObject, error) {
	b := r.Body
	var faults fault.List
	money := moneyField(&faults)
	number := func(field string, f *float64) *big.Rat {
		if f == nil {
			return new(big.Rat)
		}
		r, ok := new(big.Rat).SetString(strconv.FormatFloat(*f, 'g', -1, 64)) // the decimal that was written
		if !ok || math.Abs(*f) > 1e12 {
			faults.Add(field, fault.New("", "too_large", "is more than 10¹²", "Check the quantity."))
			return new(big.Rat)
		}
		return r
	}
	if len(b.Products) > maxCalcRows {
		return nil, fault.New("products", "too_many", "has more than 1,000 rows", "Send them in several calls.")
	}
	joint := money("joint_cost", &b.JointCost)
	products := make([]value.JointProduct, len(b.Products))
	for i, p := range b.Products {
		at := fmt.Sprintf("products[%d].", i)
		products[i] = value.JointProduct{ID: p.Id, Quantity: number(at+"quantity", p.Quantity), SplitPrice: money(at+"split_price", p.SplitPrice),
			FinalQuantity: number(at+"final_quantity", p.FinalQuantity), FinalPrice: money(at+"final_price", p.FinalPrice), FurtherCost: money(at+"further_cost", p.FurtherCost)}
		if p.FinalQuantity == nil {
			products[i].FinalQuantity = products[i].Quantity
		}
		if p.FinalPrice == nil {
			products[i].FinalPrice = products[i].SplitPrice
		}
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	shared, err := value.AllocateJoint(joint, value.Method(b.Method), products)
	if err != nil {
		return nil, err
	}
	return contract.CalcJointCost200JSONResponse(jointCost(shared)), nil
}

// jointCost shows allocations rounded so that they add up to the joint cost as it is shown.
func jointCost(shared value.JointCost) contract.JointCost {
	exact := make([]measure.Money, len(shared.Allocations))
	for i, a := range shared.Allocations {
		exact[i] = a.Cost
	}
	out := contract.JointCost{Method: string(shared.Method)}
	for i, shown := range measure.RoundTogether(exact, 2) {
		pct := 0.0
		if shared.Joint.Sign() != 0 {
			pct = exact[i].Float() / shared.Joint.Float() * 100
		}
		out.Allocations = append(out.Allocations, struct {
			Cost     string  `json:"cost"`
			Id       string  `json:"id"`
			SharePct float64 `json:"share_pct"`
		}{shown.String(), shared.Allocations[i].ID, round(pct, 4)})
	}
	if shared.GrossMargin != nil {
		margin, _ := new(big.Rat).Mul(shared.GrossMargin, big.NewRat(100, 1)).Float64()
		out.GrossMarginPct = some(round(margin, 4))
	}
	return out
}
