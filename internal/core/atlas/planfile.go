package atlas

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"github.com/goccy/go-yaml"
)

// PlanFile writes a plan as a file that another shop can take in, in the form of the atlas' own plan files: what is
// written by hand, and nothing that follows from it.
func PlanFile(p Piece, pl Plan) ([]byte, error) {
	pl.ID, pl.School, pl.Version, pl.BasedOn, pl.Chosen, pl.Gone = fileID, OwnSchool, 0, "", nil, nil
	if pl.OwnSteps() {
		pl.Products, pl.Waste, pl.Minutes, pl.Tool = slices.Clone(pl.Declared), nil, 0, ""
		for i := range pl.Products {
			pl.Products[i].From = nil
		}
	} else {
		pl.Steps, pl.Options, pl.Products = nil, nil, slices.Clone(pl.Products)
	}
	for i := range pl.Products {
		pl.Products[i].Sliced = 0
	}
	pl.Declared, pl.ByShares = nil, false
	raw, err := json.Marshal([]map[string]any{{"piece": p.ID, "plans": []Plan{pl}}})
	if err != nil {
		return nil, err
	}
	var whole any
	if err := yaml.UnmarshalWithOptions(raw, &whole, yaml.UseOrderedMap()); err != nil {
		return nil, err
	}
	out, err := yaml.MarshalWithOptions(bare(whole), yaml.IndentSequence(true), yaml.UseLiteralStyleIfMultiline(true))
	head := fmt.Sprintf("# A plan for %s (%s); the fields are in docs/steps.md and docs/atlas.md.\n", p.Name, p.ID)
	return append([]byte(head), out...), err
}

// fileID stands for the id of a plan in a file; whoever takes it in gives it one of its own.
const fileID = "own"

// bare leaves out what is nothing: null, an empty text, zero, an empty list or map.
func bare(v any) any {
	switch x := v.(type) {
	case yaml.MapSlice:
		var out yaml.MapSlice
		for _, item := range x {
			if value := bare(item.Value); value != nil {
				out = append(out, yaml.MapItem{Key: item.Key, Value: value})
			}
		}
		if len(out) == 0 {
			return nil
		}
		return out
	case []any:
		var out []any
		for _, item := range x {
			if value := bare(item); value != nil {
				out = append(out, value)
			}
		}
		if len(out) == 0 {
			return nil
		}
		return out
	case string:
		if x == "" {
			return nil
		}
	case uint64:
		if x == 0 {
			return nil
		}
	case float64:
		if x == 0 {
			return nil
		}
	case bool:
		if !x {
			return nil
		}
	}
	return v
}

// ReadPlanFile reads such a file: the piece that the plan is for, and the plan. Unknown keys are errors; whether the
// plan can be cut is for [ValidatePlan] to say.
func ReadPlanFile(raw []byte) (piece string, pl Plan, err error) {
	var list []morePlans
	if err := unmarshal(raw, &list); err != nil {
		return "", pl, err
	}
	if len(list) != 1 || len(list[0].Plans) != 1 {
		return "", pl, errors.New("holds more or fewer than one plan of one piece")
	}
	return list[0].Piece, list[0].Plans[0], nil
}
