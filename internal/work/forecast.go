package work

import (
	"context"
	"fmt"
	"strings"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/value"
)

// Forecast is what pieces would cost and bring.
type Forecast struct {
	Piece     atlas.Piece
	Pieces    int
	Total     measure.Mass
	Each      measure.Mass
	Cost      measure.Money
	PieceCost measure.Money
	AgeDays   *int
	Readiness *age.Readiness
	Warnings  []string
	Sheets    []value.Sheet // one for each plan, in the atlas' order
	Versions  map[string]int
	Better    string // id of the plan worth most
	Sentence  string
	Carcass   []CarcassPlanView    // of a carcass: what it would bring
	Against   map[string][]Against // by plan: what contradicts the grades
}

// Forecast says what an arrival would cost and bring, without receiving it.
func (s *Service) Forecast(ctx context.Context, in Arrival) (Forecast, error) {
	shop, err := s.withPlans(ctx)
	if err != nil {
		return Forecast{}, err
	}
	a, err := s.read(shop, in, false)
	if err != nil {
		return Forecast{}, err
	}
	each := a.total / measure.Mass(a.pieces)
	return s.forecast(ctx, shop, a, each)
}

func (s *Service) forecast(ctx context.Context, shop ShopWithPlans, a arrival, each measure.Mass) (Forecast, error) {
	f := Forecast{Piece: a.piece, Pieces: a.pieces, Total: a.total, Each: each, Cost: lotCost(shop.Shop, a.price, a.total)}
	if f.PieceCost = lotCost(shop.Shop, a.price, each); a.cost != nil {
		f.Cost, f.PieceCost = *a.cost, *a.cost
	}
	book, versions, err := s.priceBook(ctx, shop.Shop)
	if err != nil {
		return f, err
	}
	f.Versions = versions
	c, isCarcass := s.atlas.FindCarcass(a.piece.ID)
	for _, pl := range a.piece.Plans {
		p := a.piece
		if isCarcass { // each division has parts of its own
			p = s.atlas.Whole(c, pl.ID).In(shop.Market)
		}
		sheet := forecastSheet(shop.Shop, p, pl, each, book)
		sheet.Purchase = f.PieceCost
		f.Sheets = append(f.Sheets, sheet)
	}
	if isCarcass {
		f.sayCarcass(s, shop, c, each, book)
	} else {
		f.say(shop)
		g, err := s.houseGrades(ctx, shop)
		if err != nil {
			return f, err
		}
		f.Against = map[string][]Against{}
		for _, sheet := range f.Sheets {
			f.Against[sheet.Plan.ID] = contradictions(shop, g, sheet, factsOf(a.piece, a.about, a.slaughtered, shop.Day(s.now())))
		}
	}
	if a.slaughtered != nil {
		days := age.Days(*a.slaughtered, shop.Day(s.now()))
		r := age.Of(a.piece, a.piece.Plans, *a.slaughtered, shop.Day(s.now()))
		f.AgeDays, f.Readiness = &days, &r
	}
	f.Warnings = append(f.Warnings, age.AtArrival(a.piece, a.about.TemperatureC, a.about.Ph, a.about.AgeClass)...)
	if each < a.piece.Low() || each > a.piece.High() {
		f.Warnings = append(f.Warnings, fmt.Sprintf("%s a piece is outside the usual %s to %s. Is the unit right?", each.Text(shop.Unit, 2),
			a.piece.Low().Text(shop.Unit, 1), a.piece.High().Text(shop.Unit, 1)))
	}
	return f, nil
}

// say compares the traditional plan with the best of the others.
func (f *Forecast) say(shop ShopWithPlans) {
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
	f.Sentence = value.Sentence(*base, *best, value.Telling{Unit: shop.Unit, Currency: shop.Money})
}

// ReadySentence says in a sentence whether a block is old enough to be steaked, and what it waits for.
func ReadySentence(r age.Readiness) string {
	if len(r.Muscles) == 0 {
		return "Nothing of it is for quick cooking; age does not hold it back."
	}
	if r.Ready {
		return "Old enough to steak."
	}
	var young []string
	for _, m := range r.Muscles {
		if !m.Ready {
			young = append(young, m.Name)
		}
	}
	return "Not old enough to steak before " + r.ReadyOn.Format("2 January") + ": " + strings.Join(young, ", ") + "."
}
