package api

import (
	"context"
	"encoding/json"
	"maps"
	"slices"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
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

// DraftSteps says how the steps of a draft go.
func (h *handlers) DraftSteps(ctx context.Context,
	r contract.DraftStepsRequestObject) (contract.DraftStepsResponseObject, error) {
	pl, err := drafted(r.Body)
	if err != nil {
		return nil, err
	}
	pl.Chosen = from(r.Body.Chosen)
	v, err := h.work.Stock.DraftSteps(ctx, r.AtlasId, pl)
	if err != nil {
		return nil, err
	}
	out := contract.DraftSteps{Minutes: v.Flow.Time(v.Sizes), Started: partPercents(v.Piece.Start(v.Plan)),
		Steps: each(v.Plan.Steps, func(s steps.Step) contract.DraftStep { return draftStep(v.PlanSteps, s) })}
	out.Faults = each(v.Faults, fieldError)
	out.Left = []struct {
		Block string  `json:"block"`
		G     float64 `json:"g"`
		Name  string  `json:"name"`
	}{}
	for _, block := range slices.Sorted(maps.Keys(v.Flow.Left)) {
		out.Left = append(out.Left, struct {
			Block string  `json:"block"`
			G     float64 `json:"g"`
			Name  string  `json:"name"`
		}{block, v.Weight(v.Flow.Left[block]).Grams(), words.Block(v.Piece, v.Plan, block)})
	}
	return contract.DraftSteps200JSONResponse(out), nil
}

// draftStep is one step of a draft with what it was found to do; a step that is not done has its words alone.
func draftStep(v stock.PlanSteps, s steps.Step) contract.DraftStep {
	d, done := v.Flow.Step(s.ID)
	if !done {
		d = steps.Done{Step: s}
	}
	out := contract.DraftStep{Id: s.ID, Words: words.Step(v.Piece, v.Plan, d), Done: done && !d.Idle, Block: d.Block,
		BlockName: words.Block(v.Piece, v.Plan, d.Block), On: partPercents(d.On), Minutes: round(d.Time(v.Sizes), 3)}
	gone := steps.Content{}
	for _, o := range d.Outputs {
		for thing, share := range o.Holds {
			gone[thing] += share
		}
		out.Outputs = append(out.Outputs, struct {
			G    float64 `json:"g"`
			Kind string  `json:"kind"`
			Name string  `json:"name"`
		}{v.Weight(o.Holds).Grams(), o.Kind, words.Output(v.Piece, v.Plan, o)})
	}
	if out.Outputs == nil {
		out.Outputs = []struct {
			G    float64 `json:"g"`
			Kind string  `json:"kind"`
			Name string  `json:"name"`
		}{}
	}
	out.Gone = partPercents(gone)
	return out
}

// partPercents are the parts of the piece in a content, in percent of the whole of each.
func partPercents(c steps.Content) map[string]float64 {
	out := map[string]float64{}
	for _, thing := range c.Things() {
		if steps.AddedIngredient(thing) == "" {
			out[thing] = float64(c[thing]) / 1000
		}
	}
	return out
}

// PlanDraft gives a plan as a draft in steps.
func (h *handlers) PlanDraft(ctx context.Context, r contract.PlanDraftRequestObject) (contract.PlanDraftResponseObject,
	error) {
	pl, err := h.work.Stock.PlanDraft(ctx, r.AtlasId, r.PlanId)
	if err != nil {
		return nil, err
	}
	chosen := textMap(pl.Chosen)
	out := contract.PlanDraft{Name: pl.Name, Why: pl.Why, Cut: pl.Cut, Tool: pl.Tool, Minutes: pl.Minutes,
		Waste: map[string]float64{}, BasedOn: some(pl.ID), Chosen: &chosen,
		Products: each(pl.Products, func(pr atlas.Product) contract.DraftProduct {
			return contract.DraftProduct{Id: some(pr.ID), Name: pr.Name, Form: pr.Form, Cook: some(pr.Cook),
				ThicknessMm: some(pr.ThicknessMm), PortionG: some(pr.PortionG), CountLow: some(pr.Count.Low),
				CountHigh: some(pr.Count.High), LeanPct: some(pr.LeanPct), Keeps: some(pr.Keeps), Again: againOf(pr.Again),
				Along: alongOf(pr.Along), Into: some(pr.Into), From: map[string]float64{}}
		})}
	list, options := []contract.PlanStep{}, []contract.StepOption{}
	if err := recode(pl.Steps, &list); err != nil {
		return nil, err
	}
	if err := recode(pl.Options, &options); err != nil {
		return nil, err
	}
	out.Steps, out.Options = &list, &options
	return contract.PlanDraft200JSONResponse(out), nil
}

func alongOf(z *steps.Zone) *contract.SliceZone {
	if z == nil {
		return nil
	}
	return &contract.SliceZone{FromMm: some(z.FromMm), ToMm: some(z.ToMm), While: some(z.While), Until: some(z.Until)}
}

func againOf(a *atlas.Again) *contract.ProductAgain {
	if a == nil {
		return nil
	}
	return &contract.ProductAgain{Piece: a.Piece, Form: a.Form}
}
