package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/work/judge"
)

func judgement(j judge.Judgement) contract.Judgement {
	v := j.View
	return contract.Judgement{BreakdownId: v.Breakdown.PublicID, Piece: card(v.Card),
		Confirmed: v.Breakdown.JudgedAt != nil, AgeDays: j.AgeDays, Methods: each(j.Methods,
			func(m atlas.Method) contract.Method { return contract.Method{Id: m.ID, Name: m.Name, Quick: m.Quick} }),
		Muscles: each(j.Muscles, func(m judge.MuscleJudgement) contract.MuscleJudgement {
			return contract.MuscleJudgement{Part: m.Muscle.ID, Name: m.Muscle.Name, WeightG: m.Mass.Grams(),
				WeightBasis: basis(m.Measured),
				Cells:       each(m.Scores, func(sc eating.Score) contract.GradeCell { return gradedCell(m.How[sc.Method]) }),
				Best:        m.Best, Chosen: m.Chosen, Note: m.Note, Version: m.Version, Grain: m.Muscle.Grain.Note,
				Judge: m.Muscle.Judge, QuickReady: m.Ready, Warnings: texts(m.Warnings)}
		})}
}

// gradedCell is a score with how it came to be.
func gradedCell(g judge.Graded) contract.GradeCell {
	c := gradeCell(g.Score)
	steps := each(g.Parts, func(p eating.Part) contract.GradeStep {
		return contract.GradeStep{Why: p.Why, Points: round(p.Points, 1)}
	})
	panels := each(g.Panels, func(p judge.PanelScore) contract.GradePanel {
		return contract.GradePanel{TastingId: p.TastingID, Name: p.Tasting, HeldOn: day(p.HeldOn), Score: round(p.Score, 1),
			Assessors: p.Assessors}
	})
	c.Steps, c.Panels = &steps, &panels
	if g.Given != nil {
		c.Given, c.GivenBy = some(g.Given.Score), some(g.Given.Source)
	}
	return c
}

func gradeCell(s eating.Score) contract.GradeCell {
	chances := map[string]float64{}
	for g, p := range s.Chances() {
		chances[string(g)] = round(p, 2)
	}
	return contract.GradeCell{Method: s.Method, Score: round(s.Mean, 1), Sd: round(s.SD, 1), Low: round(s.Low(), 1),
		Grade: contract.Grade(s.Grade()), Basis: contract.Basis(s.Basis), Assessors: s.Assessors, Chances: chances}
}

func (h *handlers) GetJudgement(ctx context.Context,
	r contract.GetJudgementRequestObject) (contract.GetJudgementResponseObject, error) {
	j, err := h.work.Judge.Judge(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	return contract.GetJudgement200JSONResponse(judgement(j)), nil
}

func (h *handlers) ConfirmJudgement(ctx context.Context,
	r contract.ConfirmJudgementRequestObject) (contract.ConfirmJudgementResponseObject, error) {
	j, err := h.work.Judge.ConfirmJudgement(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	return contract.ConfirmJudgement200JSONResponse(judgement(j)), nil
}

func (h *handlers) ChooseMethod(ctx context.Context,
	r contract.ChooseMethodRequestObject) (contract.ChooseMethodResponseObject, error) {
	j, err := h.work.Judge.ChooseMethod(ctx, r.BreakdownId, r.PartId, r.Body.Method, r.Body.Note, r.Body.Version)
	if err != nil {
		return nil, err
	}
	return contract.ChooseMethod200JSONResponse(judgement(j)), nil
}
