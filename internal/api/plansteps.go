package api

import (
	"context"
	"encoding/json"

	"falda/internal/api/contract"
	"falda/internal/core/ingredient"
	"falda/internal/core/steps"
	"falda/internal/core/words"
	"falda/internal/work/stock"
)

// The contract writes steps as the core does: one is read from the other by their common form in JSON.

func stepsOf(list *[]contract.PlanStep) ([]steps.Step, error) {
	var out []steps.Step
	return out, recode(list, &out)
}

func stepOptions(list *[]contract.StepOption) ([]steps.Option, error) {
	var out []steps.Option
	return out, recode(list, &out)
}

func recode(from, into any) error {
	raw, err := json.Marshal(from)
	if err != nil {
		return err
	}
	return json.Unmarshal(raw, into)
}

func (h *handlers) PlanSteps(ctx context.Context, r contract.PlanStepsRequestObject) (contract.PlanStepsResponseObject,
	error) {
	v, err := h.work.Stock.PlanSteps(ctx, r.AtlasId,
		stock.PlanPick{PlanID: r.PlanId, Options: from(r.Body.Options)})
	if err != nil {
		return nil, err
	}
	out := contract.PlanSteps{Name: v.Plan.Name, Options: []contract.StepOption{}, Chosen: textMap(v.Plan.Chosen),
		Minutes: v.Flow.Time(v.Sizes), Steps: []contract.StepDone{},
		Allergens: each(v.Brings, func(a ingredient.Allergen) string { return a.Name })}
	if err := recode(v.Plan.Options, &out.Options); err != nil {
		return nil, err
	}
	if out.Options == nil {
		out.Options = []contract.StepOption{}
	}
	for _, d := range v.Flow.Steps {
		one := contract.StepDone{Words: words.Step(v.Piece, v.Plan, d), Block: d.Block, Waits: texts(d.Waits),
			Minutes: round(d.Time(v.Sizes), 3), Idle: d.Idle}
		if err := recode(d.Step, &one.Step); err != nil {
			return nil, err
		}
		one.Outputs = make([]struct {
			G     float64                      `json:"g"`
			Id    string                       `json:"id"`
			Kind  contract.StepDoneOutputsKind `json:"kind"`
			Name  string                       `json:"name"`
			Weigh string                       `json:"weigh"`
		}, len(d.Outputs))
		for i, o := range d.Outputs {
			x := &one.Outputs[i]
			x.Kind, x.Id, x.Name, x.Weigh = contract.StepDoneOutputsKind(o.Kind), o.ID, words.Output(v.Piece, v.Plan, o), o.Weigh
			x.G = v.Weight(o.Holds).Grams()
		}
		out.Steps = append(out.Steps, one)
	}
	return contract.PlanSteps200JSONResponse(out), nil
}
