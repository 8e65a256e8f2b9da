package api

import (
	"bytes"
	"context"
	"math"
	"net/http"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/paper"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/judge"
)

func (h *handlers) ListTastings(ctx context.Context,
	r contract.ListTastingsRequestObject) (contract.ListTastingsResponseObject, error) {
	list, next, err := h.work.Judge.Tastings(ctx, from(r.Params.After))
	if err != nil {
		return nil, err
	}
	return contract.ListTastings200JSONResponse{Next: some(next),
		Tastings: each(list, func(t store.Tasting) contract.TastingCard {
			return contract.TastingCard{Id: t.PublicID, Name: t.Name, HeldOn: day(t.HeldOn),
				State: contract.TastingCardState(t.State), Assessors: t.Assessors, Reason: some(t.Reason), Version: t.Version}
		})}, nil
}

func (h *handlers) PlanTasting(ctx context.Context,
	r contract.PlanTastingRequestObject) (contract.PlanTastingResponseObject, error) {
	v, err := h.work.Judge.PlanTasting(ctx,
		judge.NewTasting{Name: r.Body.Name, HeldOn: r.Body.HeldOn, Assessors: r.Body.Assessors, Seed: from(r.Body.Seed),
			Samples: each(r.Body.Samples, func(n contract.NewSample) judge.NewSample {
				return judge.NewSample{AtlasID: n.AtlasId, Part: n.Part, Method: n.Method, Breakdown: from(n.BreakdownId),
					Note: from(n.Note)}
			})})
	if err != nil {
		return nil, err
	}
	return contract.PlanTasting200JSONResponse(tasting(ctx, v)), nil
}

func (h *handlers) GetTasting(ctx context.Context,
	r contract.GetTastingRequestObject) (contract.GetTastingResponseObject, error) {
	v, err := h.work.Judge.Tasting(ctx, r.TastingId)
	if err != nil {
		return nil, err
	}
	return contract.GetTasting200JSONResponse(tasting(ctx, v)), nil
}

func (h *handlers) ChangeTasting(ctx context.Context,
	r contract.ChangeTastingRequestObject) (contract.ChangeTastingResponseObject, error) {
	v, err := h.work.Judge.ChangeTasting(ctx, r.TastingId,
		judge.TastingChange{Name: r.Body.Name, HeldOn: r.Body.HeldOn, State: r.Body.State, Reason: from(r.Body.Reason),
			Version: r.Body.Version})
	if err != nil {
		return nil, err
	}
	return contract.ChangeTasting200JSONResponse(tasting(ctx, v)), nil
}

func (h *handlers) EnterSheets(ctx context.Context,
	r contract.EnterSheetsRequestObject) (contract.EnterSheetsResponseObject, error) {
	v, err := h.work.Judge.Enter(ctx, r.TastingId, each(r.Body.Sheets, func(s contract.Sheet) judge.Sheet {
		return judge.Sheet{Assessor: s.Assessor, Code: s.Code, Ratings: marks(s.Ratings)}
	}), "paper")
	if err != nil {
		return nil, err
	}
	return contract.EnterSheets200JSONResponse(tasting(ctx, v)), nil
}

func (h *handlers) ImportSheets(ctx context.Context,
	r contract.ImportSheetsRequestObject) (contract.ImportSheetsResponseObject, error) {
	rows, err := readTable(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	v, _, err := h.work.Judge.ImportSheets(ctx, r.TastingId, rows)
	if err != nil {
		return nil, err
	}
	return contract.ImportSheets200JSONResponse(tasting(ctx, v)), nil
}

func (h *handlers) EnterCores(ctx context.Context,
	r contract.EnterCoresRequestObject) (contract.EnterCoresResponseObject, error) {
	v, err := h.work.Judge.EnterCores(ctx, r.TastingId, r.Code, r.Body.Cores)
	if err != nil {
		return nil, err
	}
	return contract.EnterCores200JSONResponse(tasting(ctx, v)), nil
}

func (h *handlers) ExportSheets(ctx context.Context,
	r contract.ExportSheetsRequestObject) (contract.ExportSheetsResponseObject, error) {
	if err := tableFormat(r.Params.Format); err != nil {
		return nil, err
	}
	v, err := h.work.Judge.Tasting(ctx, r.TastingId)
	if err != nil {
		return nil, err
	}
	return file{r.Params.Format, "tasting-" + day(v.HeldOn), "Sheets", judge.SheetColumns,
		func(put func([]string) error) error {
			for _, row := range v.SheetFile() {
				if err := put(row); err != nil {
					return err
				}
			}
			return nil
		}, h.log}, nil
}

// VisitExportSheetsResponse writes the file.
func (f file) VisitExportSheetsResponse(w http.ResponseWriter) error { return f.send(w) }

func (h *handlers) GetScoreSheets(ctx context.Context,
	r contract.GetScoreSheetsRequestObject) (contract.GetScoreSheetsResponseObject, error) {
	v, err := h.work.Judge.Tasting(ctx, r.TastingId)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := paper.ScoreSheets(&out, tastingPaper(v, h.outside(ctx))); err != nil {
		return nil, err
	}
	return contract.GetScoreSheets200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

func (h *handlers) GetServingSheet(ctx context.Context,
	r contract.GetServingSheetRequestObject) (contract.GetServingSheetResponseObject, error) {
	v, err := h.work.Judge.Tasting(ctx, r.TastingId)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := paper.ServingSheet(&out, tastingPaper(v, h.outside(ctx))); err != nil {
		return nil, err
	}
	return contract.GetServingSheet200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// tastingPaper is what the sheets of a tasting show; the score pages are under the origin.
func tastingPaper(v judge.TastingView, origin string) paper.Tasting {
	t := paper.Tasting{Name: v.Name, Blind: judge.BlindName(v.HeldOn), Day: day(v.HeldOn),
		Samples: each(v.Samples, func(p judge.SampleView) paper.TastingSample {
			return paper.TastingSample{Code: p.Code, Muscle: p.Muscle.Name, Method: p.MethodName, From: p.From, Note: p.Note}
		})}
	for _, e := range v.Assessors {
		x := paper.TastingAssessor{Number: e.Number, Page: origin + "/taste/" + e.Link}
		for _, n := range e.Orders {
			x.Order = append(x.Order, n-1)
		}
		t.Assessors = append(t.Assessors, x)
	}
	return t
}

func (h *handlers) GetPlace(ctx context.Context, r contract.GetPlaceRequestObject) (contract.GetPlaceResponseObject,
	error) {
	p, err := h.work.Judge.PlaceOf(ctx, r.Link)
	if err != nil {
		return nil, err
	}
	return contract.GetPlace200JSONResponse(place(p)), nil
}

func (h *handlers) MarkSample(ctx context.Context,
	r contract.MarkSampleRequestObject) (contract.MarkSampleResponseObject, error) {
	p, err := h.work.Judge.Mark(ctx, r.Link, r.Code, marks(*r.Body))
	if err != nil {
		return nil, err
	}
	return contract.MarkSample200JSONResponse(place(p)), nil
}

func place(p judge.Place) contract.Place {
	out := contract.Place{Samples: []contract.BlindSample{}, Tasting: p.Tasting, Assessor: p.Assessor, Open: p.Open}
	for i, code := range p.Codes {
		out.Samples = append(out.Samples, contract.BlindSample{Code: code, Ratings: marksOut(p.Ratings[i])})
	}
	return out
}

func marksOut(m eating.Ratings) contract.Ratings {
	return contract.Ratings{Tenderness: m.Tenderness, Juiciness: m.Juiciness, Flavour: m.Flavour, Overall: m.Overall}
}

// entersSheets says whether the caller may enter the sheets of a tasting, and so may have the links with which eaters
// do.
func entersSheets(ctx context.Context) bool {
	who, ok := audit.CallerOf(ctx)
	return ok && rights["PUT /tastings/{tasting_id}/sheets"].allows(who.Role, who.Via, who.Scopes)
}

func tasting(ctx context.Context, v judge.TastingView) contract.Tasting {
	withLinks := entersSheets(ctx)
	out := contract.Tasting{Id: v.PublicID, Name: v.Name, HeldOn: day(v.HeldOn), State: contract.TastingState(v.State),
		Reason: some(v.Reason), Assessors: v.Tasting.Assessors, Version: v.Version, Weights: v.Weights, Balanced: v.Balanced,
		BalancedAssessors: v.Next, Sheets: []contract.SheetGiven{}, Samples: []contract.Sample{},
		Places: []contract.AssessorPlace{}}
	codes := map[int64]string{}
	for _, p := range v.Samples {
		codes[p.ID] = p.Code
		x := contract.Sample{Number: p.Number, Code: p.Code, AtlasId: p.AtlasID, Piece: p.Piece.Name, Part: p.Part,
			Muscle: p.Muscle.Name, Method: p.Method, MethodName: p.MethodName, From: some(p.From), AgeDays: p.AgeDays,
			Note: some(p.Note)}
		if p.Result != nil {
			r, before, after := panelResult(*p.Result), gradeCell(p.Before), gradeCell(p.After)
			x.Result, x.Before, x.After = &r, &before, &after
		}
		if p.Shear != nil {
			x.Shear = &contract.Shear{Cores: p.Cores, Mean: round(p.Shear.Mean, 2), Sd: round(p.Shear.SD, 2),
				Class: contract.ShearClass(p.Shear.Class)}
		}
		out.Samples = append(out.Samples, x)
	}
	for i, e := range v.Assessors {
		x := contract.AssessorPlace{Number: e.Number, Order: e.Orders}
		if withLinks {
			x.Link = some(e.Link)
		}
		if i < len(v.Checked) {
			c := v.Checked[i]
			x.Samples, x.Mean, x.Spread, x.Flag = c.Samples, round(c.Mean, 1), round(c.SD, 1),
				some(contract.AssessorPlaceFlag(c.Flag))
			if !math.IsNaN(c.Agreement) {
				a := round(c.Agreement, 2)
				x.Agreement = &a
			}
		}
		out.Places = append(out.Places, x)
	}
	for _, s := range v.Sheets {
		out.Sheets = append(out.Sheets,
			contract.SheetGiven{Assessor: s.Assessor, Code: codes[s.SampleID], Source: s.Source,
				Ratings: marksOut(judge.RatingsOf(s))})
	}
	return out
}

func (h *handlers) GetGrades(ctx context.Context, r contract.GetGradesRequestObject) (contract.GetGradesResponseObject,
	error) {
	g, err := h.work.Judge.Grades(ctx, r.AtlasId)
	if err != nil {
		return nil, err
	}
	out := contract.PieceGrades{Muscles: []contract.GradedMuscle{}, AtlasId: g.Piece.ID, Name: g.Piece.Name,
		Methods: each(g.Methods,
			func(m atlas.Method) contract.Method { return contract.Method{Id: m.ID, Name: m.Name, Quick: m.Quick} })}
	for _, m := range g.Muscles {
		out.Muscles = append(out.Muscles,
			contract.GradedMuscle{Part: m.Muscle.ID, Name: m.Muscle.Name, Best: m.Best, NoSteak: m.NoSteak,
				Cells: each(m.Grades, gradedCell)})
	}
	out.Proposals = each(g.Proposals, func(p judge.Proposal) contract.TasteProposal {
		m, _ := g.Piece.Muscle(p.Part)
		method, _ := atlas.FindMethod(p.Method)
		return contract.TasteProposal{Part: p.Part, Name: m.Name, Method: p.Method, MethodName: method.Name,
			Worth: p.Worth.String()}
	})
	return contract.GetGrades200JSONResponse(out), nil
}

func (h *handlers) GetEating(ctx context.Context, _ contract.GetEatingRequestObject) (contract.GetEatingResponseObject,
	error) {
	house, version, err := h.work.Judge.Eating(ctx)
	if err != nil {
		return nil, err
	}
	return contract.GetEating200JSONResponse(eatingSettings(house, version)), nil
}

func (h *handlers) SetEating(ctx context.Context, r contract.SetEatingRequestObject) (contract.SetEatingResponseObject,
	error) {
	moved, err := h.work.Judge.SetEating(ctx, houseAsked(r.Body), r.Body.Version)
	if err != nil {
		return nil, err
	}
	house, version, err := h.work.Judge.Eating(ctx)
	if err != nil {
		return nil, err
	}
	return contract.SetEating200JSONResponse{Moved: each(moved, gradeMoved), Settings: eatingSettings(house, version)}, nil
}

// PreviewEating says which grades a change of the settings would move.
func (h *handlers) PreviewEating(ctx context.Context,
	r contract.PreviewEatingRequestObject) (contract.PreviewEatingResponseObject, error) {
	moved, err := h.work.Judge.PreviewEating(ctx, houseAsked(r.Body))
	if err != nil {
		return nil, err
	}
	return contract.PreviewEating200JSONResponse(each(moved, gradeMoved)), nil
}

func gradeMoved(m judge.Regraded) contract.GradeMoved {
	return contract.GradeMoved{Piece: m.Piece, Muscle: m.Muscle, Method: m.Method, Was: gradeCell(m.Was),
		Became: gradeCell(m.Became)}
}

// houseAsked reads settings for grades.
func houseAsked(b *contract.EatingSettings) eating.House {
	house := eating.Usual
	house.Weights, house.PriorSD, house.ExternalSD, house.AssessorSD, house.BeefAgeing, house.LambAgeing = b.Weights,
		b.PriorSd, b.GivenSd, b.AssessorSd, b.BeefAgeing, b.LambAgeing
	house.Hip, house.Grain, house.MarblingStep, house.LambLeanStep, house.LambFatStep = b.Hip, b.Grain, b.MarblingStep,
		b.LambLeanStep, b.LambFatStep
	house.WeekLossPct, house.StorePerKgDay = b.WeekLossPct, b.StorePerKgDay
	return house
}

func (h *handlers) GetAgeing(ctx context.Context, r contract.GetAgeingRequestObject) (contract.GetAgeingResponseObject,
	error) {
	v, err := h.work.Judge.Ageing(ctx, r.PieceId)
	if err != nil {
		return nil, err
	}
	out := contract.Ageing{Muscles: []contract.AgedMuscle{}, Today: v.Today, Sentence: v.Sentence, LossG: v.Loss.Grams(),
		LossCost: v.LossCost.String(), StoreCost: v.Store.String()}
	for _, m := range v.Muscles {
		out.Muscles = append(out.Muscles,
			contract.AgedMuscle{Part: m.Muscle.ID, Name: m.Muscle.Name, Method: m.Method.Name, Now: round(m.Now, 1),
				Gain: round(m.Gain, 2), Ready: m.Ready, ReadyOn: day(m.ReadyOn),
				Curve: each(m.Curve, func(a judge.AgedScore) float64 { return round(a.Score, 2) })})
	}
	return contract.GetAgeing200JSONResponse(out), nil
}

func eatingSettings(h eating.House, version int) contract.EatingSettings {
	return contract.EatingSettings{Weights: h.Weights, PriorSd: h.PriorSD, GivenSd: h.ExternalSD, AssessorSd: h.AssessorSD,
		BeefAgeing: h.BeefAgeing, LambAgeing: h.LambAgeing, Hip: h.Hip, Grain: h.Grain, MarblingStep: h.MarblingStep,
		LambLeanStep: h.LambLeanStep, LambFatStep: h.LambFatStep, WeekLossPct: h.WeekLossPct, StorePerKgDay: h.StorePerKgDay,
		Version: version}
}

func (h *handlers) ImportGiven(ctx context.Context,
	r contract.ImportGivenRequestObject) (contract.ImportGivenResponseObject, error) {
	rows, err := readTable(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	q := r.Params
	g, err := h.work.Judge.ImportGiven(ctx, rows,
		judge.GradeColumns{Piece: from(q.Piece), Muscle: from(q.Muscle), Method: from(q.Method), Score: from(q.Score)},
		from(q.Source), from(q.Save))
	if err != nil {
		return nil, err
	}
	out := contract.GivenSheet{Heading: g.Heading, Lines: []contract.GivenLine{}}
	out.Columns.Piece, out.Columns.Muscle, out.Columns.Method, out.Columns.Score = g.Columns.Piece, g.Columns.Muscle,
		g.Columns.Method, g.Columns.Score
	for _, l := range g.Lines {
		x := contract.GivenLine{Line: l.Line, Method: l.Method, Muscle: l.Muscle, Piece: l.Piece, Score: l.Score}
		if f := fault.Of(l.Fault); f != nil {
			x.Fault = some(f[0].Message + ". " + f[0].Hint)
			out.Bad++
		} else {
			out.Good++
		}
		out.Lines = append(out.Lines, x)
	}
	return contract.ImportGiven200JSONResponse(out), nil
}
