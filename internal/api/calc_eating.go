package api

import (
	"context"
	"fmt"
	"math"
	"strconv"

	"falda/internal/api/contract"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/trial"
	"falda/internal/work/judge"
)

func (h *handlers) CalcPanel(_ context.Context, r contract.CalcPanelRequestObject) (contract.CalcPanelResponseObject,
	error) {
	w, ok := eating.FindWeights(from(r.Body.Weights))
	if !ok {
		return nil, fault.New("weights", "unknown", "must be current or older", "Leave it out for the current ones.")
	}
	if len(r.Body.Scores) > maxCalcRows {
		return nil, fault.New("scores", "too_many", "has more than 1,000 rows", "Send them in several calls.")
	}
	p, err := eating.Panel(each(r.Body.Scores, marks), w)
	if err != nil {
		return nil, err
	}
	return contract.CalcPanel200JSONResponse(panelResult(p)), nil
}

func marks(m contract.Ratings) eating.Ratings {
	return eating.Ratings{Tenderness: m.Tenderness, Juiciness: m.Juiciness, Flavour: m.Flavour, Overall: m.Overall}
}

func panelResult(p eating.PanelResult) contract.PanelResult {
	mean := func(v float64) float64 { // of no marks
		if math.IsNaN(v) {
			return 0
		}
		return round(v, 6)
	}
	return contract.PanelResult{N: p.Assessors, Complete: p.Complete, DroppedEachEnd: p.Dropped,
		Tenderness: mean(p.Tenderness), Juiciness: mean(p.Juiciness), Flavour: mean(p.Flavour), Overall: mean(p.Overall),
		Score: mean(p.Score), Sd: round(p.SD, 6), Grade: contract.PanelResultGrade(p.Grade)}
}

func (h *handlers) CalcServingPlan(_ context.Context,
	r contract.CalcServingPlanRequestObject) (contract.CalcServingPlanResponseObject, error) {
	p, err := eating.Serve(r.Body.Samples, r.Body.Eaters, judge.Seeded(uint64(from(r.Body.Seed))))
	if err != nil {
		faults := fault.Of(err)
		for i := range faults {
			if faults[i].Field == "assessors" { // the calculator keeps the name it was published with
				faults[i].Field = "eaters"
			}
		}
		return nil, faults
	}
	out := contract.ServingPlan{Orders: p.Orders, Codes: map[string]string{}, Balanced: p.Balanced, BalancedEaters: p.Next}
	for i, c := range p.Codes {
		out.Codes[strconv.Itoa(i+1)] = c
	}
	return contract.CalcServingPlan200JSONResponse(out), nil
}

func (h *handlers) CalcTrial(_ context.Context, r contract.CalcTrialRequestObject) (contract.CalcTrialResponseObject,
	error) {
	confidence := 95.0
	if r.Body.ConfidencePct != nil {
		confidence = *r.Body.ConfidencePct
	}
	t, err := trial.Compare(r.Body.Paired, r.Body.A, r.Body.B, confidence)
	if err != nil {
		return nil, err
	}
	return contract.CalcTrial200JSONResponse(trialResult(t, r.Body.Paired)), nil
}

func trialResult(t trial.Result, paired bool) contract.TrialResult {
	out := contract.TrialResult{N: t.N, MeanDifference: t.Mean, Verdict: t.Verdict, More: some(t.More)}
	if t.More > 0 {
		out.Verdict = fmt.Sprintf("not yet sure: %d more %s", t.More,
			map[bool]string{true: "pairs", false: "of each"}[paired])
	}
	if t.More == 1 && paired {
		out.Verdict = "not yet sure: 1 more pair"
	}
	if t.Enough {
		out.Sd, out.T, out.Df, out.P, out.Low, out.High = &t.SD, &t.T, &t.DF, &t.P, &t.Low, &t.High
	}
	return out
}
