package api

import (
	"encoding/json"
	"math"
	"net/http"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/core/value"
)

// Rule: a plan taken as a draft in steps, and checked as it is, becomes what the plan becomes: the same products of the
// same weight and the same waste, whether it was written in steps or in percentages. Nothing in it is called wrong.
func TestEveryPlanIsADraft(t *testing.T) {
	r := newRig(t)
	r.priced()
	checked := 0
	for _, p := range r.work.Atlas().Pieces {
		at := base + "/plans/" + p.ID
		for _, pl := range p.Plans {
			var d contract.PlanDraft
			r.ok("GET", at+"/"+pl.ID+"/draft", nil, &d)
			d.Name = "As it is"
			var played contract.DraftSteps
			r.ok("POST", at+"/draft", d, &played)
			if len(played.Faults) > 0 || len(played.Steps) != len(*d.Steps) {
				t.Errorf("%s %s: %+v", p.ID, pl.ID, played.Faults)
				continue
			}
			var f contract.PlanForecast
			status, _, answer := r.do("POST", at+"/check", d)
			if status != http.StatusOK || json.Unmarshal(answer, &f) != nil {
				t.Errorf("%s %s: %d %s", p.ID, pl.ID, status, answer)
				continue
			}
			checked++
			was := map[string]float64{}
			for _, cell := range value.Forecast(p, pl, p.Typical()) {
				if cell.Fate == value.Sold {
					was[cell.Product] += cell.Mass.Grams()
				}
			}
			for _, row := range f.Products {
				if want, ok := was[row.Id]; ok && math.Abs(row.WeightG-want) > 0.02 {
					t.Errorf("%s %s: %s weighs %.2f g as a draft, %.2f g in the plan", p.ID, pl.ID, row.Id, row.WeightG, want)
				}
				delete(was, row.Id)
			}
			if len(was) > 0 {
				t.Errorf("%s %s: as a draft it makes no %v", p.ID, pl.ID, was)
			}
		}
	}
	if checked < 100 {
		t.Errorf("only %d plans were looked at", checked)
	}
}

// A draft that is half written is played as far as it goes: what is wrong stands at its step, nothing is refused.
func TestADraftIsPlayedAsFarAsItGoes(t *testing.T) {
	r := newRig(t)
	r.priced()
	const at = base + "/plans/beef.top_sirloin"
	var d contract.PlanDraft
	r.ok("GET", at+"/heart_in_one/draft", nil, &d)
	list := *d.Steps
	first := list[0].Id
	half := list[:1]
	d.Steps = &half
	var played contract.DraftSteps
	r.ok("POST", at+"/draft", d, &played)
	if len(played.Steps) != 1 || !played.Steps[0].Done || len(played.Left) == 0 || len(played.Faults) != 0 {
		t.Errorf("%+v", played)
	}
	half[0].Do = "rip_off"
	r.ok("POST", at+"/draft", d, &played)
	if len(played.Faults) != 1 || played.Faults[0].Field != "steps."+first+".do" || played.Steps[0].Done {
		t.Errorf("%+v", played)
	}
}
