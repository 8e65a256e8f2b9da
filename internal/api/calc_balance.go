package api

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

// maxCalcRows bounds the rows of a calculation.
const maxCalcRows = 1000

// outputKinds are what can come off a piece; what it is makes no difference to whether it balances.
var outputKinds = []string{"muscle", "product", "fat", "bone", "trim", "offal", "waste"}

func (h *handlers) CalcBalance(_ context.Context,
	r contract.CalcBalanceRequestObject) (contract.CalcBalanceResponseObject, error) {
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
	added, weighings := mass("added_g", from(b.AddedG), 0), 0
	if added > 0 {
		weighings = 1
	}
	outputs := make([]measure.Mass, len(b.Outputs))
	for i, o := range b.Outputs {
		if kind := from(o.Kind); kind != "" && !slices.Contains(outputKinds, kind) {
			faults.Add(fmt.Sprintf("outputs[%d].kind", i),
				fault.New("", "unknown", "is not a kind of output",
					"Use one of: "+strings.Join(outputKinds, ", ")+"; or leave it out."))
		}
		outputs[i] = mass(fmt.Sprintf("outputs[%d].g", i), o.G, 0)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	return contract.CalcBalance200JSONResponse(balance(seam.WeighAdded(input, added, weighings, outputs, e, limit))), nil
}
