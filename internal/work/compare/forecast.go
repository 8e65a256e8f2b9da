package compare

import (
	"context"
	"fmt"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/work/judge"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// Forecast is what pieces would cost and bring.
type Forecast struct {
	Piece          atlas.Piece
	Pieces         int
	Total          measure.Mass
	Each           measure.Mass
	Cost           measure.Money
	PieceCost      measure.Money
	AgeDays        *int
	Readiness      *age.Readiness
	Warnings       []string
	Sheets         []value.Sheet // one for each plan, in the atlas' order
	Versions       map[string]int
	Better         string // id of the plan worth most
	Sentence       string
	Carcass        []CarcassPlanView                  // of a carcass: what it would bring
	GradeConflicts map[string][]judge.GradeConflict   // by plan: what contradicts the grades
	Plates         map[string]map[string]eating.Mixed // by plan and product: how it eats
}

// Forecast says what an arrival would cost and bring, without receiving it.
func (s *Service) Forecast(ctx context.Context, in stock.Arrival) (Forecast, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Forecast{}, err
	}
	a, err := s.stock.ReadArrival(shop, in, false)
	if err != nil {
		return Forecast{}, err
	}
	each := a.Total / measure.Mass(a.Pieces)
	return s.forecast(ctx, shop, a, each)
}

func (s *Service) forecast(ctx context.Context, shop shop.WithPlans, a stock.CheckedArrival,
	each measure.Mass) (Forecast, error) {
	f := Forecast{Piece: a.Piece, Pieces: a.Pieces, Total: a.Total, Each: each,
		Cost: stock.LotCost(shop.Shop, a.Price, a.Total)}
	if f.PieceCost = stock.LotCost(shop.Shop, a.Price, each); a.Cost != nil {
		f.Cost, f.PieceCost = *a.Cost, *a.Cost
	}
	book, versions, err := s.prices.TodaysBook(ctx, shop.Shop)
	if err != nil {
		return f, err
	}
	f.Versions = versions
	c, isCarcass := s.atlas.FindCarcass(a.Piece.ID)
	for _, pl := range a.Piece.Plans {
		p := a.Piece
		if isCarcass { // each division has parts of its own
			p = s.atlas.Whole(c, pl.ID).In(shop.Market)
		}
		sheet := pricing.ForecastSheet(shop.Shop, p, pl, each, book)
		sheet.Purchase = f.PieceCost
		f.Sheets = append(f.Sheets, sheet)
	}
	if isCarcass {
		f.explainCarcass(s, shop, c, each, book)
	} else {
		f.explain(shop)
		g, err := s.judge.HouseGrades(ctx, shop)
		if err != nil {
			return f, err
		}
		f.GradeConflicts, f.Plates = map[string][]judge.GradeConflict{}, map[string]map[string]eating.Mixed{}
		facts := judge.FactsOf(a.Piece, a.About, a.Slaughtered, shop.Day(s.now()))
		for _, sheet := range f.Sheets {
			f.GradeConflicts[sheet.Plan.ID] = judge.GradeConflicts(shop, g, sheet, facts)
			f.Plates[sheet.Plan.ID] = judge.Plates(g, sheet, facts)
		}
	}
	if a.Slaughtered != nil {
		today := shop.Day(s.now())
		days := age.Days(*a.Slaughtered, today)
		var r age.Readiness
		if isCarcass {
			r = age.OfCarcass(s.atlas, c, shop.Market, *a.Slaughtered, today)
		} else {
			r = age.Of(a.Piece, a.Piece.Plans, *a.Slaughtered, today)
		}
		f.AgeDays, f.Readiness = &days, &r
	}
	f.Warnings = append(f.Warnings, age.AtArrival(a.Piece, a.About.TemperatureC, a.About.Ph, a.About.AgeClass)...)
	if each < a.Piece.Low() || each > a.Piece.High() {
		f.Warnings = append(f.Warnings,
			fmt.Sprintf("%s a piece is outside the usual %s to %s. Is the unit right?", each.Text(shop.Unit, 2),
				a.Piece.Low().Text(shop.Unit, 1), a.Piece.High().Text(shop.Unit, 1)))
	}
	return f, nil
}

// explain compares the traditional plan with the best of the others.
func (f *Forecast) explain(shop shop.WithPlans) {
	traditional, ok := f.Piece.Traditional()
	if !ok {
		return
	}
	var base, best *value.Sheet
	for i := range f.Sheets {
		sheet := &f.Sheets[i]
		if sheet.Plan.ID == traditional.ID {
			base = sheet
		} else if best == nil || sheet.Totals().Value.Cmp(best.Totals().Value) > 0 {
			best = sheet
		}
	}
	if base == nil || best == nil {
		return
	}
	if len(base.Unpriced())+len(best.Unpriced()) == 0 {
		f.Better = traditional.ID
	}
	if f.Better != "" && best.Totals().Value.Cmp(base.Totals().Value) > 0 {
		f.Better = best.Plan.ID
	}
	f.Sentence = words.Sheets(*base, *best, words.Telling{Unit: shop.Unit, Currency: shop.Money})
}
