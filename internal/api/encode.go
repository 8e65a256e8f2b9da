package api

import (
	"math"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/seammap"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/compare"
	"falda/internal/work/judge"
	"falda/internal/work/people"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// some is a pointer to a value, nil for the zero value.
func some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

// from is the value behind a pointer, the zero value for nil.
func from[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

// each encodes a list; an empty one as [], never as null.
func each[A, B any](in []A, f func(A) B) []B {
	out := make([]B, len(in))
	for i, a := range in {
		out[i] = f(a)
	}
	return out
}

// moneyField reads amounts that may be left out; what is wrong with one is a fault of its field.
func moneyField(faults *fault.List) func(field string, s *string) measure.Money {
	return func(field string, s *string) measure.Money {
		if s == nil {
			return measure.Money{}
		}
		m, err := measure.ParseMoney(*s)
		faults.Add(field, err)
		return m
	}
}

// massField reads grams that may be left out likewise.
func massField(faults *fault.List) func(field string, g *float64) measure.Mass {
	return func(field string, g *float64) measure.Mass {
		if g == nil {
			return 0
		}
		m, err := measure.FromGrams(*g)
		faults.Add(field, err)
		return m
	}
}

func texts(in []string) []string { return each(in, func(s string) string { return s }) }

func round(f float64, places int) float64 {
	scale := math.Pow10(places)
	return math.Round(f*scale) / scale
}

func basis(measured bool) contract.Basis {
	if measured {
		return "measured"
	}
	return "estimated"
}

func (h *handlers) shop(v shop.ShopView) contract.Shop {
	s := v.Shop
	return contract.Shop{Id: s.PublicID, Name: s.Name, Demo: s.Demo, Market: s.Market, Currency: s.Currency, Decimals: s.Money.Places(), TimeZone: s.TimeZone, Today: day(v.Today), WeightUnit: contract.ShopWeightUnit(s.WeightUnit),
		LabourRate: s.Rates.LabourPerHour.Full(), PackagingPerKg: s.Rates.PackagingPerKg.Full(), DiscardPerKg: s.Rates.DiscardPerKg.Full(), LabourByRole: roleRates(s), Seasons: each(s.Seasons, season), LossLimitKnifePct: s.LossLimitKnifePct,
		LossLimitSawPct: s.LossLimitSawPct, DivisionG: measure.Mass(s.DivisionMg).Grams(), IdleMinutes: s.IdleMinutes, NextLotNumber: v.NextLotNumber,
		Suppliers: texts(v.Suppliers), Benches: each(v.Benches, h.bench),
		LotPrefix: s.LotPrefix, Version: s.Version, CurrencyFixed: v.CurrencyFixed, Markets: h.work.Shop.Markets(),
		Roles:  each(shop.Roles, func(r shop.Role) contract.Named { return contract.Named{Id: r.ID, Name: r.Name} }),
		Words:  wordsOf(),
		Scopes: each(people.Scopes, func(s people.Scope) contract.Named { return contract.Named{Id: s.ID, Name: s.Name} })}
}

// roleRates shows rates by role.
func roleRates(shop shop.Shop) map[string]string {
	out := map[string]string{}
	for role, amount := range shop.LabourByRole {
		out[role] = shop.Shown(amount)
	}
	return out
}

func (h *handlers) bench(b store.Bench) contract.Bench {
	return contract.Bench{Id: b.PublicID, Name: b.Name, HasScale: h.scales(b) != nil, HasProbe: some(h.probeOf(b) != nil)}
}

func inspect(i atlas.Inspect) contract.Inspect {
	return contract.Inspect{Id: i.ID, Look: i.Look, Do: i.Do, TakesPct: some(i.Takes.Pct), To: some(contract.InspectTo(i.Takes.To)), May: texts(i.Takes.May)}
}

func plan(p atlas.Piece, pl atlas.Plan) contract.Plan {
	return contract.Plan{Id: pl.ID, Own: pl.Version > 0, Version: pl.Version, Waste: shares(pl.Waste), Chosen: words(pl.Chosen), Name: pl.Name, Why: pl.Why, Cut: contract.PlanCut(pl.Cut), Tool: contract.PlanTool(pl.Tool), Minutes: pl.Minutes,
		Products: each(pl.Products, func(pr atlas.Product) contract.PlanProduct {
			return contract.PlanProduct{Id: pr.ID, Key: p.Key(pr), Name: pr.Name, Form: pr.Form, Cook: some(pr.Cook), ThicknessMm: some(pr.ThicknessMm), PortionG: some(pr.PortionG),
				CountLow: some(pr.Count.Low), CountHigh: some(pr.Count.High), LeanPct: some(pr.LeanPct), From: shares(pr.From)}
		})}
}

// shares and words encode a map; an absent one as {}, never as null.
func shares(m map[string]float64) map[string]float64 {
	if m == nil {
		return map[string]float64{}
	}
	return m
}

func words(m map[string]string) map[string]string {
	if m == nil {
		return map[string]string{}
	}
	return m
}

func carcassForecast(v compare.CarcassPlanView) contract.CarcassForecast {
	return contract.CarcassForecast{Id: v.Plan.ID, Name: v.Plan.Name, Why: v.Plan.Why, Minutes: v.Plan.Minutes, Priced: v.Priced, Totals: totals(v.Totals, v.Plan.Minutes)}
}

func wordsOf() map[string][]contract.Named {
	out := map[string][]contract.Named{}
	for field, list := range stock.Words {
		out[field] = each(list, func(w stock.Word) contract.Named { return contract.Named{Id: w.ID, Name: w.Name} })
	}
	return out
}

func point(p seammap.Point) contract.Point { return contract.Point{X: round(p.X, 3), Y: round(p.Y, 3)} }

func seamMap(p atlas.Piece, m seammap.Map) contract.SeamMap {
	return contract.SeamMap{Width: p.Section.W, Height: p.Section.H, Outline: each(m.Outline, point),
		Areas: each(m.Areas, func(a seammap.Area) contract.MapArea {
			part, _ := p.Part(a.ID)
			return contract.MapArea{Part: a.ID, Name: part.Name, Kind: contract.MapAreaKind(part.Kind), Polygon: each(a.Polygon, point), Centre: point(a.Centre), SharePct: round(a.Share*100, 3), Room: round(a.Room, 3)}
		}),
		Seams: each(m.Seams, func(s seammap.Seam) contract.MapSeam {
			return contract.MapSeam{A: s.A, B: s.B, From: point(s.From), To: point(s.To)}
		})}
}

func day(t time.Time) string { return t.Format(time.DateOnly) }

func forecast(f compare.Forecast) contract.Forecast {
	out := contract.Forecast{AtlasId: f.Piece.ID, Pieces: f.Pieces, TotalG: f.Total.Grams(), PieceG: f.Each.Grams(), Cost: f.Cost.String(), PieceCost: f.PieceCost.String(),
		AgeDays: f.AgeDays, Warnings: texts(f.Warnings), Sentence: f.Sentence, BetterPlan: some(f.Better),
		Plans: each(f.Sheets, func(s value.Sheet) contract.PlanForecast {
			return withDoubts(planForecast(s, f.Versions, false, nil), f.Against[s.Plan.ID])
		})}
	if f.Carcass != nil {
		list := each(f.Carcass, carcassForecast)
		out.Carcass = &list
	}
	if f.Readiness != nil {
		r := contract.Readiness{Ready: f.Readiness.Ready, ReadyOn: some(day(f.Readiness.ReadyOn)), Sentence: compare.ReadySentence(*f.Readiness)}
		r.Muscles = []contract.MuscleReady{}
		for _, m := range f.Readiness.Muscles {
			r.Muscles = append(r.Muscles, contract.MuscleReady{Part: m.ID, Name: m.Name, MinAgeDays: m.MinAgeDays, ReadyOn: day(m.ReadyOn), Ready: m.Ready})
		}
		out.Readiness = &r
	}
	return out
}

// withDoubts adds what in a plan contradicts the grades.
func withDoubts(p contract.PlanForecast, against []judge.Against) contract.PlanForecast {
	list := each(against, func(a judge.Against) contract.Contradiction {
		return contract.Contradiction{Product: a.Product.ID, Part: a.Muscle.ID, Sentence: a.Sentence}
	})
	p.Against = &list
	return p
}

// planForecast encodes a sheet, a product that was weighed in part as two rows: what was weighed, with the portions that
// were counted, and what the plan reckons with. recorded says that minutes, waste and loss were measured.
func planForecast(s value.Sheet, versions map[string]int, recorded bool, counts map[string]int) contract.PlanForecast {
	side := s.Side("", !recorded)
	t, y := side.Totals(), side.YieldTest()
	out := contract.PlanForecast{Plan: plan(s.Atlas, s.Plan), Totals: totals(t, s.Minutes), UsableCostPerKg: y.UsablePerKg.String(), Unpriced: texts(side.Unpriced)}
	out.Totals.MinutesBasis = basis(recorded)
	if y.CostFactor != nil {
		factor, _ := y.CostFactor.Float64()
		out.CostFactor = round(factor, 4)
	}
	pct := func(m measure.Mass) float64 { return percentOf(m, side.Mass) }
	out.SaleablePct, out.ByProductPct = pct(y.Usable), pct(y.ByProduct)
	out.WastePct, out.LossPct = pct(s.FateMass(value.Waste)), pct(s.FateMass(value.Loss))
	for _, pr := range s.Plan.Products {
		weighed := s.Weighed(pr.ID)
		rest := s.ProductMass(pr.ID) - weighed
		if weighed != 0 {
			row := outputRow(s, side, pr, weighed, false, versions)
			row.Portions = portions(pr, weighed)
			if n := counts[pr.ID]; n > 0 {
				row.Portions = &contract.Portions{Low: n, High: n, EachG: (weighed / measure.Mass(n)).Grams(), Basis: "counted"}
			} else if recorded { // nobody counted them
				row.Portions = nil
			}
			out.Products = append(out.Products, row)
		}
		if rest != 0 || weighed == 0 {
			row := outputRow(s, side, pr, rest, true, versions)
			row.Portions = portions(pr, rest)
			if weighed != 0 {
				row.Id, row.Name = pr.ID+"~rest", pr.Name+", not weighed"
			}
			out.Products = append(out.Products, row)
		}
	}
	for _, rest := range []struct {
		fate value.Fate
		name string
	}{{value.Waste, "Waste"}, {value.Loss, "Cutting and drip loss"}} {
		m := s.FateMass(rest.fate)
		out.Products = append(out.Products, contract.OutputRow{Id: string(rest.fate), Name: rest.name, Kind: contract.OutputRowKind(rest.fate), WeightG: m.Grams(),
			YieldPct: pct(m), Basis: basis(recorded && !s.Guessed(rest.fate)), Value: s.Currency.Of(measure.Money{}).String()})
	}
	return out
}

// outputRow is one product of a sheet, as far as it was weighed or as far as it was not.
func outputRow(s value.Sheet, side value.Side, pr atlas.Product, m measure.Mass, estimated bool, versions map[string]int) contract.OutputRow {
	key, worth := s.Atlas.Key(pr), s.Currency.Of(measure.Money{})
	for _, c := range side.Cells {
		if c.Key == key && c.Fate == value.Sold && c.Estimated == estimated {
			worth = worth.Add(c.Sales)
		}
	}
	if pr.Form == atlas.FormPiece {
		key = "" // it is cut further before it is sold
	}
	row := contract.OutputRow{Id: pr.ID, Key: key, Name: pr.Name, Kind: "meat", WeightG: m.Grams(), YieldPct: percentOf(m, side.Mass), Basis: basis(!estimated), Value: worth.String()}
	if pr.ByProduct() {
		row.Kind = "by_product"
	}
	if price, ok := s.Prices[key]; ok {
		row.Price, row.PricePer = some(priceText(price)), some(contract.OutputRowPricePer(price.Per))
	}
	version := versions[key]
	row.PriceVersion = &version
	return row
}

// portions are what the plan makes of a mass of a product; nil where it does not portion it.
func portions(pr atlas.Product, m measure.Mass) *contract.Portions {
	n, ok := pr.Portions(m)
	if !ok {
		return nil
	}
	p := &contract.Portions{Low: n.Low, High: n.High, EachG: n.Each.Grams(), Basis: "weight"}
	if n.Given {
		p.Basis = "count"
	}
	return p
}

// priceText shows a price with the decimals of its currency, or with four where it was given with more.
func priceText(p measure.Price) string { return p.Amount.Full() }

func totals(t value.Totals, minutes float64) contract.Totals {
	out := contract.Totals{Sales: t.Sales.String(), Packaging: t.Packaging.String(), Labour: t.Labour.String(), Purchase: t.Purchase.String(), Discard: t.Discard.String(),
		Value: t.Value.String(), PerKg: t.PerKg.String(), Minutes: round(minutes, 2)}
	if t.PerHour != nil {
		out.PerHour = t.PerHour.String()
	}
	return out
}

func balance(b seam.Balance) contract.Balance {
	input, limit := b.Input.Grams(), b.LimitPct
	return contract.Balance{InputG: &input, LossLimitPct: &limit, OutputG: b.Output.Grams(), ResidualG: b.Residual.Grams(), ResidualPct: round(b.ResidualPct(), 4),
		InnerLossG: some(b.Inner.Grams()), LossG: some(b.Loss().Grams()), LossPct: some(round(b.LossPct(), 4)),
		ToleranceG: b.Tolerance.Grams(), Verdict: contract.BalanceVerdict(b.Verdict)}
}

func price(r pricing.PriceRow) contract.Price {
	out := contract.Price{Key: r.Key, Name: r.Name, Species: r.Species, Form: r.Form, Kind: "meat", Per: "kg", Version: r.Version}
	if r.ByProduct {
		out.Kind = "by_product"
	}
	if r.Version > 0 {
		out.Price, out.Per = priceText(r.Price), contract.PricePer(r.Price.Per)
	}
	return out
}
