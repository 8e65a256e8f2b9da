package compare

import (
	"context"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/work/pricing"
	"falda/internal/work/stock"
)

// PlanPair asks for two ways of cutting the same piece.
type PlanPair struct {
	Weight, WeightUnit string // the usual weight where empty
	Price, PricePer    string // nothing where empty
	A, B               stock.PlanPick
}

// PlanComparison is two ways of cutting the same piece, side by side. Everything is estimated.
type PlanComparison struct {
	A, B      value.Sheet
	Versions  map[string]int
	Sentence  string
	Diff      measure.Money
	PerKg     measure.Money
	PerHour   *measure.Money // what an extra bench hour of B brings; nil when it takes none
	Bridge    []value.Step
	BreakEven []BreakEven
}

// ComparePlans lays two ways of cutting a piece side by side.
func (s *Service) ComparePlans(ctx context.Context, atlasID string, in PlanPair) (PlanComparison, error) {
	shop, p, err := s.stock.PieceToPlan(ctx, atlasID)
	if err != nil {
		return PlanComparison{}, err
	}
	var faults fault.List
	weight := p.Typical()
	if in.Weight != "" {
		weight, err = measure.ParseMass(in.Weight, measure.Unit(in.WeightUnit))
		faults.Add("weight", err)
		if err == nil {
			faults.Add("weight", stock.CheckPlausible(p, weight, 1))
		}
	}
	var price measure.Price
	if in.Price != "" {
		price, err = shop.ParsePrice(in.Price, in.PricePer)
		faults.Add("price", err)
	}
	pick := func(field string, k stock.PlanPick) atlas.Plan {
		with, err := stock.PickPlan(shop.AddOwn(p, k.PlanID), k)
		for _, f := range fault.Of(err) {
			f.Field = field + "." + f.Field
			faults = append(faults, f)
		}
		return with
	}
	a, b := pick("a", in.A), pick("b", in.B)
	if err := faults.Err(); err != nil {
		return PlanComparison{}, err
	}
	c := PlanComparison{}
	book, versions, err := s.prices.TodaysBook(ctx, shop.Shop)
	if err != nil {
		return c, err
	}
	sheet := func(pl atlas.Plan) value.Sheet {
		x := pricing.ForecastSheet(shop.Shop, p, pl, weight, book)
		x.Purchase = stock.LotCost(shop.Shop, price, weight)
		return x
	}
	c.A, c.B, c.Versions = sheet(a), sheet(b), versions
	sa, sb := c.A.Alternative("", true), c.B.Alternative("", true)
	c.Diff, c.PerKg, c.PerHour = value.LeadPerPiece(sa, sb), value.Lead(sa, sb), value.PerExtraHour(sa, sb)
	c.Sentence = words.Sheets(c.A, c.B,
		words.Telling{Unit: shop.Unit, Currency: shop.Money, Ways: [2]string{"way A", "way B"}})
	c.Bridge = value.Bridge(sa, sb)
	for _, pr := range b.Products {
		_, at, ok := value.BreakEvenPrice(sa, sb, p.Key(pr))
		c.BreakEven = append(c.BreakEven, BreakEven{pr, book[p.Key(pr)], at, ok})
	}
	return c, nil
}
