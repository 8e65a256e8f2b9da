package compare

import (
	"maps"
	"math/big"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// CarcassPlanView is what a carcass would bring if every piece of its usual division were cut by one plan of the atlas.
type CarcassPlanView struct {
	Plan   atlas.CarcassPlan
	Totals value.Totals
	Priced bool
	prices map[string]bool // of what it is sold as: whether they are guesses
}

// explainCarcass puts what a carcass would bring under each of its plans into a forecast, and the sentence that
// compares the first of the traditional school with the best of the others.
func (f *Forecast) explainCarcass(s *Service, shop shop.WithPlans, c atlas.Carcass, weight measure.Mass,
	book map[string]measure.Price) {
	f.Carcass = s.carcassPlans(shop, c, weight, f.PieceCost, book)
	var base, best *CarcassPlanView
	for i := range f.Carcass {
		v := &f.Carcass[i]
		switch {
		case !v.Priced:
			f.Sentence = "What it would bring cannot be said yet: some of what it becomes has no price."
			return
		case v.Plan.School == "traditional" && base == nil:
			base = v
		case best == nil || v.Totals.Value.Cmp(best.Totals.Value) > 0:
			best = v
		}
	}
	if base == nil || best == nil {
		return
	}
	prices := maps.Clone(base.prices)
	maps.Copy(prices, best.prices)
	guessed := 0
	for _, guess := range prices {
		if guess {
			guessed++
		}
	}
	f.Sentence = words.CarcassForecast(best.Plan.Name, base.Plan.Name, best.Totals.Value.Sub(base.Totals.Value),
		best.Plan.Minutes-base.Plan.Minutes, shop.Money) + words.GuessedPrices(guessed, len(prices))
}

// massesOf is what each part of a piece weighs by its share.
func massesOf(p atlas.Piece, weight measure.Mass) map[string]measure.Mass {
	out, parts := map[string]measure.Mass{}, p.Parts()
	for i, m := range p.Split(weight) {
		out[parts[i].ID] = m
	}
	return out
}

// carcassPlans works out what a carcass would bring under each of its plans.
func (s *Service) carcassPlans(shop shop.WithPlans, c atlas.Carcass, weight measure.Mass, cost measure.Money,
	book map[string]measure.Price) []CarcassPlanView {
	d := c.Division(atlas.UsualDivision)
	whole := s.atlas.Whole(c, atlas.UsualDivision)
	masses := massesOf(whole, weight)
	var out []CarcassPlanView
	for _, cp := range c.Plans {
		v := CarcassPlanView{Plan: cp, Priced: true, prices: map[string]bool{}}
		for _, part := range d.Parts {
			p, _ := s.atlas.Find(part.Piece)
			pl, _ := p.Plan(cp.Pieces[part.Piece])
			sheet := pricing.ForecastSheet(shop.Shop, p, pl, masses[part.Piece], book)
			sheet.Minutes = 0 // those of the whole count
			t := sheet.Totals()
			v.Totals.Sales, v.Totals.Packaging, v.Totals.Discard = v.Totals.Sales.Add(t.Sales),
				v.Totals.Packaging.Add(t.Packaging), v.Totals.Discard.Add(t.Discard)
			v.Totals.Ingredients = v.Totals.Ingredients.Add(t.Ingredients)
			v.Priced = v.Priced && len(sheet.Unpriced()) == 0
			for _, key := range sheet.Alternative("", true).Keys() {
				v.prices[key] = book[key].Guessed()
			}
		}
		for _, o := range d.Other {
			if o.As != "" {
				key := c.Species + "." + o.As
				v.Totals.Sales = v.Totals.Sales.Add(shop.Money.Round(book[key].Of(masses[o.ID])))
				v.prices[key] = book[key].Guessed()
			}
		}
		v.Totals.Labour = shop.Money.Round(shop.Rates.LabourPerHour.Times(big.NewRat(int64(cp.Minutes*100), 6000)))
		v.Totals.Purchase = shop.Money.Round(cost)
		v.Totals.Value = v.Totals.Sales.Sub(v.Totals.Packaging).Sub(v.Totals.Discard).Sub(v.Totals.Ingredients).
			Sub(v.Totals.Labour).
			Sub(v.Totals.Purchase)
		v.Totals.PerKg = shop.Money.Round(v.Totals.Value.Over(weight.In(measure.UnitKilogram)))
		out = append(out, v)
	}
	return out
}
