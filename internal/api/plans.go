package api

import (
	"context"
	"fmt"
	"net/http"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/compare"
	"falda/internal/work/stock"
)

func (h *handlers) ListPlans(ctx context.Context, r contract.ListPlansRequestObject) (contract.ListPlansResponseObject,
	error) {
	v, err := h.work.Stock.Plans(ctx, r.AtlasId)
	if err != nil {
		return nil, err
	}
	p := v.Piece
	out := contract.PlanList{AtlasId: p.ID, Name: p.NameIn(v.Shop.Market), LowG: p.Low().Grams(),
		TypicalG: p.Typical().Grams(), HighG: p.High().Grams(),
		Parts: each(p.Parts(), func(a atlas.AnyPart) contract.PlanPart {
			return contract.PlanPart{Id: a.ID, Name: a.Name, Kind: a.Kind, SharePct: float64(a.Share) / 1000}
		}),
		Plans:    each(v.Plans, func(pv stock.PlanView) contract.PlanDetail { return planDetail(p, pv) }),
		Products: each(v.Products, price), Forms: h.work.Stock.Forms(),
		Methods: each(atlas.Methods, func(m atlas.Method) contract.Method {
			return contract.Method{Id: m.ID, Name: m.Name, Quick: m.Quick}
		}),
		Verbs: each(steps.Verbs, func(v steps.Verb) contract.StepVerb {
			return contract.StepVerb{Id: string(v), Name: words.Verb(v), Fields: texts(v.Fields())}
		}),
		Tools: each(steps.Tools, func(t string) contract.Named { return contract.Named{Id: t, Name: words.FromID(t)} }),
		Tubs: each(steps.Tubs, func(t steps.Tub) contract.Named {
			return contract.Named{Id: string(t), Name: seam.TubNames[t]}
		})}
	return contract.ListPlans200JSONResponse(out), nil
}

func planDetail(p atlas.Piece, v stock.PlanView) contract.PlanDetail {
	out := contract.PlanDetail{Plan: plan(p, v.Plan), Retired: v.Retired, Faults: texts(v.Faults), MadeBy: some(v.MadeBy),
		MadeAt: v.MadeAt, Options: each(v.Options, func(o atlas.Option) contract.PlanOption {
			return contract.PlanOption{Id: o.ID, Name: o.Name, AsIs: o.AsIs,
				Choices: each(o.Choices, func(c atlas.Choice) contract.PlanChoiceOf {
					return contract.PlanChoiceOf{Id: c.ID, Name: c.Name, Why: c.Why, Minutes: c.Minutes}
				})}
		})}
	if v.Natural > 0 {
		out.Cover = &contract.FatCover{NaturalMm: v.Natural, LeftMm: round(v.Left, 1)}
	}
	return out
}

// drafted reads a plan from its draft.
func drafted(b *contract.PlanDraft) (atlas.Plan, error) {
	pl := atlas.Plan{Name: b.Name, Why: b.Why, Cut: b.Cut, Tool: b.Tool, Minutes: b.Minutes, Waste: b.Waste,
		BasedOn: from(b.BasedOn)}
	for _, d := range b.Products {
		pr := atlas.Product{ID: from(d.Id), Name: d.Name, Form: d.Form, Cook: from(d.Cook),
			ThicknessMm: from(d.ThicknessMm), PortionG: from(d.PortionG), LeanPct: from(d.LeanPct),
			Count: atlas.Count{Low: from(d.CountLow), High: from(d.CountHigh)}, From: d.From, Keeps: from(d.Keeps)}
		if z := d.Along; z != nil {
			pr.Into, pr.Along = from(d.Into), &steps.Zone{FromMm: from(z.FromMm), ToMm: from(z.ToMm), While: from(z.While),
				Until: from(z.Until)}
		}
		if a := d.Again; a != nil {
			pr.Again = &atlas.Again{Piece: a.Piece, Form: a.Form}
		}
		pl.Products = append(pl.Products, pr)
	}
	var err error
	if pl.Steps, err = stepsOf(b.Steps); err != nil {
		return pl, err
	}
	pl.Options, err = stepOptions(b.Options)
	return pl, err
}

func (h *handlers) MakePlan(ctx context.Context, r contract.MakePlanRequestObject) (contract.MakePlanResponseObject,
	error) {
	v, p, err := h.savePlan(ctx, r.AtlasId, "", r.Body)
	if err != nil {
		return nil, err
	}
	return contract.MakePlan201JSONResponse(planDetail(p, v)), nil
}

func (h *handlers) ChangePlan(ctx context.Context,
	r contract.ChangePlanRequestObject) (contract.ChangePlanResponseObject, error) {
	v, p, err := h.savePlan(ctx, r.AtlasId, r.PlanId, r.Body)
	if err != nil {
		return nil, err
	}
	return contract.ChangePlan200JSONResponse(planDetail(p, v)), nil
}

func (h *handlers) savePlan(ctx context.Context, atlasID, id string, b *contract.PlanDraft) (stock.PlanView,
	atlas.Piece, error) {
	p, ok := h.work.Atlas().Find(atlasID)
	if !ok {
		return stock.PlanView{}, p, store.ErrNotFound
	}
	if based := from(b.BasedOn); len(based) > 60 || strings.ContainsFunc(based, func(r rune) bool { return r < ' ' }) {
		return stock.PlanView{}, p, fault.New("based_on", "too_long", "is no id of a plan", "Leave it out.")
	}
	pl, err := drafted(b)
	if err != nil {
		return stock.PlanView{}, p, err
	}
	v, err := h.work.Stock.SavePlan(ctx, atlasID, id, pl, from(b.Version))
	return v, p, err
}

func (h *handlers) CheckPlan(ctx context.Context, r contract.CheckPlanRequestObject) (contract.CheckPlanResponseObject,
	error) {
	pl, err := drafted(r.Body)
	if err != nil {
		return nil, err
	}
	sheet, err := h.work.Stock.CheckPlan(ctx, r.AtlasId, from(r.Body.Id), pl)
	if err != nil {
		return nil, err
	}
	conflicts, err := h.work.Judge.PlanConflicts(ctx, sheet)
	if err != nil {
		return nil, err
	}
	return contract.CheckPlan200JSONResponse(withDoubts(planForecast(sheet, nil, false, nil), conflicts[0])), nil
}

func (h *handlers) RetirePlan(ctx context.Context,
	r contract.RetirePlanRequestObject) (contract.RetirePlanResponseObject, error) {
	if err := h.work.Stock.RetirePlan(ctx, r.AtlasId, r.PlanId, r.Body.Retired, r.Body.Version); err != nil {
		return nil, err
	}
	return contract.RetirePlan204Response{}, nil
}

func (h *handlers) ListPlanVersions(ctx context.Context,
	r contract.ListPlanVersionsRequestObject) (contract.ListPlanVersionsResponseObject, error) {
	p, ok := h.work.Atlas().Find(r.AtlasId)
	if !ok {
		return nil, store.ErrNotFound
	}
	list, err := h.work.Stock.PlanVersions(ctx, r.AtlasId, r.PlanId)
	if err != nil {
		return nil, err
	}
	return contract.ListPlanVersions200JSONResponse(each(list, func(v stock.PlanVersion) contract.PlanVersion {
		return contract.PlanVersion{Plan: plan(p, v.Plan), MadeBy: v.MadeBy, MadeAt: v.MadeAt}
	})), nil
}

func (h *handlers) ComparePlans(ctx context.Context,
	r contract.ComparePlansRequestObject) (contract.ComparePlansResponseObject, error) {
	b := r.Body
	pick := func(k contract.PlanPick) stock.PlanPick {
		return stock.PlanPick{PlanID: k.PlanId, Options: from(k.Options)}
	}
	c, err := h.work.Compare.ComparePlans(ctx, r.AtlasId,
		compare.PlanPair{A: pick(b.A), B: pick(b.B), Weight: from(b.Weight), WeightUnit: string(from(b.WeightUnit)),
			Price: from(b.Price), PricePer: string(from(b.PricePer))})
	if err != nil {
		return nil, err
	}
	conflicts, err := h.work.Judge.PlanConflicts(ctx, c.A, c.B)
	if err != nil {
		return nil, err
	}
	out := contract.PlanComparison{Sentence: c.Sentence,
		A: withDoubts(planForecast(c.A, c.Versions, false, nil), conflicts[0]),
		B: withDoubts(planForecast(c.B, c.Versions, false, nil), conflicts[1]), Difference: c.Diff.String(),
		DifferencePerKg: c.PerKg.String(), Bridge: bridge(c.Bridge), BreakEven: each(c.BreakEven, breakEven)}
	if c.PerHour != nil {
		out.DifferencePerHour = some(c.PerHour.String())
	}
	return contract.ComparePlans200JSONResponse(out), nil
}

func (h *handlers) ExportPlan(ctx context.Context,
	r contract.ExportPlanRequestObject) (contract.ExportPlanResponseObject, error) {
	raw, name, err := h.work.Stock.PlanFile(ctx, r.AtlasId, r.PlanId)
	if err != nil {
		return nil, err
	}
	return planFile{raw, name}, nil
}

// planFile is sent as a download with its name.
type planFile struct {
	raw  []byte
	name string
}

func (f planFile) VisitExportPlanResponse(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "application/yaml; charset=utf-8")
	w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", f.name))
	_, err := w.Write(f.raw)
	return err
}

func (h *handlers) ImportPlan(ctx context.Context,
	r contract.ImportPlanRequestObject) (contract.ImportPlanResponseObject, error) {
	pl, err := h.work.Stock.ReadPlan(r.AtlasId, r.Body)
	if err != nil {
		return nil, err
	}
	sheet, err := h.work.Stock.CheckPlan(ctx, r.AtlasId, "", pl)
	if err != nil {
		return nil, err
	}
	if from(r.Params.Save) {
		if _, err := h.work.Stock.SavePlan(ctx, r.AtlasId, "", pl, 0); err != nil {
			return nil, err
		}
	}
	return contract.ImportPlan200JSONResponse(planForecast(sheet, nil, false, nil)), nil
}
