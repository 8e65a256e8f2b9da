package stock

import (
	"context"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
	"falda/internal/store"
)

// PlanSteps is how a plan is done under what was chosen.
type PlanSteps struct {
	Piece   atlas.Piece
	Plan    atlas.Plan
	Flow    steps.Flow
	Brings  []ingredient.Allergen   // by what is added
	Sizes   steps.Sizes             // at the usual weight
	Weights map[string]measure.Mass // of the whole of every part, and of what is added, at the usual weight
}

// PlanSteps plays a plan of a piece, the atlas' or the shop's own, under what is chosen within it.
func (s *Service) PlanSteps(ctx context.Context, atlasID string, pick PlanPick) (PlanSteps, error) {
	sh, p, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return PlanSteps{}, err
	}
	p = sh.AddOwn(p, pick.PlanID)
	if _, ok := p.Plan(pick.PlanID); !ok {
		return PlanSteps{}, store.ErrNotFound
	}
	pl, err := PickPlan(p, pick)
	if err != nil {
		return PlanSteps{}, err
	}
	flow := p.Flow(pl)
	return PlanSteps{Piece: p, Plan: pl, Flow: flow, Brings: sh.Rates.Ingredients.Brings(flow.Added),
		Sizes: p.Sizes(p.Typical()), Weights: seam.Masses(p, flow, p.Typical())}, nil
}

// DraftSteps is how the steps of a draft go, with what is wrong in them; it is refused nothing for its content.
type DraftSteps struct {
	PlanSteps
	Faults fault.List
}

// DraftSteps plays a plan that is being written. A step that is against the grammar is passed over, and what later
// steps lack for it is not held against them.
func (s *Service) DraftSteps(ctx context.Context, atlasID string, pl atlas.Plan) (DraftSteps, error) {
	_, p, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return DraftSteps{}, err
	}
	var faults fault.List
	wrong := map[string]bool{}
	note := func(list []error) {
		for _, err := range list {
			field, message := headed(err.Error())
			faults.Add(field, fault.New("", "invalid", message, "Change the step."))
			if of, ok := strings.CutPrefix(field, "steps."); ok {
				of, _, _ = strings.Cut(of, ".")
				wrong[of] = true
			}
		}
	}
	note(steps.Check(pl.Steps, pl.Options))
	whole := len(wrong) == 0
	all := pl.Steps
	pl.Steps = slices.DeleteFunc(slices.Clone(all), func(s steps.Step) bool { return wrong[s.ID] })
	flow := steps.WalkSliced(p.Start(pl), pl.Steps, pl.Options, pl.Chosen, p.Lies(pl))
	if whole {
		note(flow.Faults)
	}
	pl.Steps = all
	return DraftSteps{PlanSteps: PlanSteps{Piece: p, Plan: pl, Flow: flow, Sizes: p.Sizes(p.Typical()),
		Weights: seam.Masses(p, flow, p.Typical())}, Faults: faults}, nil
}

// PlanDraft is a plan of a piece as a draft in steps: as it was written, or as its percentages become steps.
func (s *Service) PlanDraft(ctx context.Context, atlasID, id string) (atlas.Plan, error) {
	sh, p, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return atlas.Plan{}, err
	}
	pl, ok := sh.AddOwn(p, id).Plan(id)
	if !ok {
		return pl, store.ErrNotFound
	}
	if pl.OwnSteps() {
		pl.Products = slices.Clone(pl.Declared)
	} else {
		pl.Steps = p.StepsOf(pl)
	}
	return pl, nil
}

// Weight is what a content weighs at the piece's usual weight.
func (v PlanSteps) Weight(c steps.Content) measure.Mass {
	sum := measure.Mass(0)
	for thing, share := range c {
		sum += measure.Mass(float64(v.Weights[thing]) * float64(share) / float64(steps.Whole))
	}
	return sum
}

// readSteps checks the steps of a plan as it was typed, and fills in what follows from them. Faults are headed
// “steps.ID.FIELD”.
func readSteps(p atlas.Piece, pl atlas.Plan, faults *fault.List) atlas.Plan {
	for _, err := range steps.Check(pl.Steps, pl.Options) {
		field, message := headed(err.Error())
		faults.Add(field, fault.New("", "invalid", message, "Change the step."))
	}
	if faults.Err() != nil {
		return pl
	}
	pl.Declared, pl.Chosen, pl.Gone = nil, nil, nil
	return p.Compile(pl)
}

// headed divides a fault of the core into its field and what is wrong there.
func headed(text string) (field, message string) {
	field, message, found := strings.Cut(text, ": ")
	if !found {
		return "steps", text
	}
	return field, message
}
