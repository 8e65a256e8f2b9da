package api

import (
	"context"
	"fmt"
	"math"
	"math/big"
	"strconv"

	"falda/internal/api/contract"
	roll "falda/internal/core/carcass"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
)

func (h *handlers) CalcJointCost(_ context.Context,
	r contract.CalcJointCostRequestObject) (contract.CalcJointCostResponseObject, error) {
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
		products[i] = value.JointProduct{ID: p.Id, Quantity: number(at+"quantity", p.Quantity),
			SplitPrice: money(at+"split_price", p.SplitPrice), FinalQuantity: number(at+"final_quantity", p.FinalQuantity),
			FinalPrice: money(at+"final_price", p.FinalPrice), FurtherCost: money(at+"further_cost", p.FurtherCost)}
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

func (h *handlers) CalcYieldGrade(_ context.Context,
	r contract.CalcYieldGradeRequestObject) (contract.CalcYieldGradeResponseObject, error) {
	b := r.Body
	var exact float64
	var grade int
	var err error
	switch b.Species {
	case "beef":
		exact, grade, err = roll.Beef{FatIn: b.FatIn, KphPct: from(b.KphPct), HotLb: from(b.HotCarcassLb),
			RibeyeSqIn: from(b.RibeyeSqIn)}.YieldGrade()
		for i, f := range fault.Of(err) {
			if f.Field == "hot_lb" {
				f.Field = "hot_carcass_lb"
				list := fault.Of(err)
				list[i] = f
				err = list
			}
		}
	case "lamb":
		exact, grade, err = roll.LambYieldGrade(b.FatIn)
	default:
		err = fault.New("species", "unknown", "is not a species of the atlas", "Use beef or lamb.")
	}
	if err != nil {
		return nil, err
	}
	return contract.CalcYieldGrade200JSONResponse{Exact: round(exact, 4), Grade: grade}, nil
}
