package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/work/compare"
	"falda/internal/work/stock"
)

func carcassForecast(v compare.CarcassPlanView) contract.CarcassForecast {
	return contract.CarcassForecast{Id: v.Plan.ID, Name: v.Plan.Name, Why: v.Plan.Why, Minutes: v.Plan.Minutes,
		Priced: v.Priced, Totals: totals(v.Totals, v.Plan.Minutes)}
}

func forecast(f compare.Forecast) contract.Forecast {
	out := contract.Forecast{AtlasId: f.Piece.ID, Pieces: f.Pieces, TotalG: f.Total.Grams(), PieceG: f.Each.Grams(),
		Cost: f.Cost.String(), PieceCost: f.PieceCost.String(), AgeDays: f.AgeDays, Warnings: texts(f.Warnings),
		Sentence: f.Sentence, BetterPlan: some(f.Better), Plans: each(f.Sheets, func(s value.Sheet) contract.PlanForecast {
			return withPlates(withDoubts(planForecast(s, f.Versions, false, nil), f.GradeConflicts[s.Plan.ID]), s.Atlas,
				f.Plates[s.Plan.ID])
		})}
	if f.Carcass != nil {
		list := each(f.Carcass, carcassForecast)
		out.Carcass = &list
	}
	if f.Readiness != nil {
		r := contract.Readiness{Ready: f.Readiness.Ready, ReadyOn: some(day(f.Readiness.ReadyOn)),
			Sentence: words.Ready(*f.Readiness)}
		r.Muscles = []contract.MuscleReady{}
		for _, m := range f.Readiness.Muscles {
			r.Muscles = append(r.Muscles,
				contract.MuscleReady{Part: m.ID, Name: m.Name, MinAgeDays: m.MinAgeDays, ReadyOn: day(m.ReadyOn), Ready: m.Ready})
		}
		out.Readiness = &r
	}
	return out
}

func (h *handlers) Forecast(ctx context.Context, r contract.ForecastRequestObject) (contract.ForecastResponseObject,
	error) {
	b := r.Body
	f, err := h.work.Compare.Forecast(ctx,
		stock.Arrival{AtlasID: b.AtlasId, Pieces: b.Pieces, Weight: b.Weight, WeightUnit: string(b.WeightUnit),
			Price: b.Price, PricePer: string(b.PricePer), SlaughteredOn: from(b.SlaughteredOn), PackedOn: from(b.PackedOn),
			Form: from(b.Form), Findings: from(b.Findings), Weights: from(b.Weights), Decided: from(b.Decided),
			Bone: from(b.Bone), Feed: from(b.Feed), Sex: from(b.Sex), AgeClass: from(b.AgeClass), Hang: from(b.Hang),
			FatClass: from(b.FatClass), Marbling: from(b.Marbling), SupplierGrade: from(b.SupplierGrade), Ph: from(b.Ph),
			TemperatureC: from(b.TemperatureC), FatPct: from(b.FatPct), LeanYieldPct: from(b.LeanYieldPct),
			Breed: from(b.Breed)})
	if err != nil {
		return nil, err
	}
	return contract.Forecast200JSONResponse(forecast(f)), nil
}
