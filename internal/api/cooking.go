package api

import (
	"bytes"
	"context"
	"math"
	"net/url"
	"strings"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/cook"
	"falda/internal/core/fault"
	"falda/internal/paper"
	"falda/internal/work/judge"
)

func asked(q contract.GetCookingCardParams) cook.CardRequest {
	a := cook.CardRequest{Doneness: from(q.Doneness), Diners: from(q.Diners), WeightG: from(q.WeightG),
		ThicknessMm: from(q.ThicknessMm), Way: from(q.Way), Treated: from(q.Treated)}
	for _, x := range strings.Split(from(q.Allergens), ",") {
		if x = strings.TrimSpace(strings.ToLower(x)); x != "" {
			a.Allergens = append(a.Allergens, x)
		}
	}
	return a
}

// cardOf names the product of a card.
func cardOf(atlasID, product string, q contract.GetCookingCardParams) judge.CardOf {
	return judge.CardOf{AtlasID: atlasID, Product: product, Shop: from(q.Shop), Plan: from(q.Plan)}
}

// shopAsked is what the page of a card is asked for beside the product: whose it is; empty for the atlas'.
func shopAsked(q contract.GetCookingCardParams) string {
	ask := url.Values{}
	if shop := from(q.Shop); shop != "" {
		ask.Set("shop", shop)
	}
	if plan := from(q.Plan); plan != "" {
		ask.Set("plan", plan)
	}
	return ask.Encode()
}

func (h *handlers) GetCookingCard(ctx context.Context,
	r contract.GetCookingCardRequestObject) (contract.GetCookingCardResponseObject, error) {
	c, err := h.work.Judge.CookingCard(ctx, cardOf(r.AtlasId, r.ProductId, r.Params), asked(r.Params))
	if err != nil {
		return nil, err
	}
	return contract.GetCookingCard200JSONResponse(cookingCard(c)), nil
}

func (h *handlers) GetCookingCardPdf(ctx context.Context,
	r contract.GetCookingCardPdfRequestObject) (contract.GetCookingCardPdfResponseObject, error) {
	q := contract.GetCookingCardParams(r.Params)
	if u := from(q.Units); u != "" && u != "metric" && u != "us" {
		return nil, fault.New("units", "unknown", "must be metric or us", "Leave it out for metric.")
	}
	c, err := h.work.Judge.CookingCard(ctx, cardOf(r.AtlasId, r.ProductId, q), asked(q))
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	page := requestInfoOf(ctx).origin + "/cook/" + r.AtlasId + "/" + r.ProductId
	if ask := shopAsked(q); ask != "" {
		page += "?" + ask
	}
	if err := paper.CookingCard(&out, c.Card, c.MenuName, from(q.Units) == "us", page); err != nil {
		return nil, err
	}
	return contract.GetCookingCardPdf200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

func cookingCard(c judge.CookingCard) contract.CookingCard {
	out := contract.CookingCard{AtlasId: c.Piece.ID, ProductId: c.Product.ID, Name: c.Product.Name, Piece: c.Piece.Name,
		Method: c.Way.Name, Way: c.Way.ID, MenuName: some(c.MenuName), Lines: texts(c.Lines), CutMm: some(c.CutMm),
		Keeps:       some(c.Product.Keeps),
		Ways:        each(c.Ways, func(w cook.Way) contract.Named { return contract.Named{Id: w.ID, Name: w.Name} }),
		ThicknessMm: some(round(c.ThicknessMm, 0)), WeightG: c.WeightG, Feeds: c.Feeds, EachG: c.EachG, Minutes: c.Minutes(),
		CoreC: c.CoreC, TakeOutC: round(c.TakeOutC, 0), RestMin: round(c.RestMin, 0), MinSafeCoreC: c.MinSafeCoreC,
		MinSafeCoreWhy: c.MinSafeCoreWhy, BelowSafe: c.BelowSafe, Treated: c.Treated, TreatedAs: some(c.Product.Treated),
		Sentence: c.Summary(), Slice: c.Slice, Grain: c.Grain, Contains: texts(c.Contains), Muscles: []string{},
		DonenessChoices: []contract.DonenessChoice{}}
	for _, m := range c.Muscles {
		out.Muscles = append(out.Muscles, m.Name)
	}
	if c.Doneness != nil {
		out.Doneness = some(c.Doneness.ID)
		out.DonenessChoices = each(c.Choices(), func(d cook.Doneness) contract.DonenessChoice {
			return contract.DonenessChoice{Id: d.ID, Name: d.Name, CoreC: d.CoreC}
		})
	}
	out.Steps = each(c.Steps, func(s cook.Step) contract.CookStep {
		return contract.CookStep{Do: s.Do, Minutes: s.Minutes, OvenC: s.OvenC, Hands: s.Hands,
			Gas: some(cook.GasMark(s.OvenC))}
	})
	return out
}

func (h *handlers) MakeTimetable(ctx context.Context,
	r contract.MakeTimetableRequestObject) (contract.MakeTimetableResponseObject, error) {
	t, cards, err := h.work.Judge.Timetable(ctx, each(r.Body.Dishes, func(d contract.DishAsked) judge.DishAsked {
		return judge.DishAsked{CardOf: judge.CardOf{AtlasID: d.AtlasId, Product: d.ProductId, Shop: from(d.Shop),
			Plan: from(d.Plan)},
			CardRequest: cook.CardRequest{Doneness: from(d.Doneness), Diners: from(d.Diners), WeightG: from(d.WeightG),
				ThicknessMm: from(d.ThicknessMm), Way: from(d.Way), Treated: from(d.Treated)}}
	}), r.Body.ServeAt)
	if err != nil {
		return nil, err
	}
	out := contract.Timetable{Moments: []contract.Moment{}, Waits: texts(t.Waits), Clashes: texts(t.Clashes),
		Cards: each(cards, cookingCard)}
	for _, m := range t.Moments {
		out.Moments = append(out.Moments, contract.Moment{At: m.At, Dish: m.Dish, Do: m.Do})
	}
	return contract.MakeTimetable200JSONResponse(out), nil
}

func (h *handlers) ReadProbe(_ context.Context, r contract.ReadProbeRequestObject) (contract.ReadProbeResponseObject,
	error) {
	log := make([]cook.Sample, len(r.Body.Readings))
	for i, s := range r.Body.Readings {
		if math.IsNaN(s.S) || s.S < 0 || s.S > 1e7 {
			return nil, fault.New("readings", "out_of_range", "hold a time that is none", "Count seconds from the start.")
		}
		log[i] = cook.Sample{At: time.Duration(s.S * float64(time.Second)), C: s.C}
	}
	out, err := h.probeRun(log,
		judge.ProbeLog{WantedC: r.Body.TargetCoreC, WeightG: from(r.Body.WeightG), Treated: from(r.Body.Treated)})
	return contract.ReadProbe200JSONResponse(out), err
}

func (h *handlers) ImportProbe(ctx context.Context,
	r contract.ImportProbeRequestObject) (contract.ImportProbeResponseObject, error) {
	rows, err := readTable(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	log, err := h.work.Judge.ReadProbeFile(ctx, rows)
	if err != nil {
		return nil, err
	}
	out, err := h.probeRun(log,
		judge.ProbeLog{WantedC: r.Params.TargetCoreC, WeightG: from(r.Params.WeightG), Treated: from(r.Params.Treated)})
	return contract.ImportProbe200JSONResponse(out), err
}

// maxPoints is how many points of a curve are given back to be drawn.
const maxPoints = 300

func (h *handlers) probeRun(log []cook.Sample, l judge.ProbeLog) (contract.ProbeRun, error) {
	r, err := h.work.Judge.ReadProbe(log, l)
	if err != nil {
		return contract.ProbeRun{}, err
	}
	minutes := func(d *time.Duration) *float64 {
		if d == nil {
			return nil
		}
		m := round(d.Minutes(), 2)
		return &m
	}
	floor, _ := cook.MinSafeCore(l.Treated, l.Treated, false)
	takeOut := l.WantedC - cook.CarryOver(l.WeightG/1000)
	out := contract.ProbeRun{Readings: r.Readings, PasteurisationMinutes: round(r.PasteurisationMinutes, 3),
		Safe: r.SafeAt != nil, SafeAtMin: minutes(r.SafeAt), PeakC: round(r.Peak, 1), PeakAtMin: round(r.PeakAt.Minutes(), 2),
		MinSafeCoreC: floor, MinCoreAtMin: minutes(r.MinCoreAt), TakeOutC: some(round(takeOut, 1)),
		TakeOutAtMin: minutes(r.TakeOutAt)}
	step := max(1, len(log)/maxPoints)
	for i := 0; i < len(log); i += step {
		out.Curve = append(out.Curve, contract.CurvePoint{C: round(log[i].C, 1), Min: round(log[i].At.Minutes(), 2)})
	}
	return out, nil
}
