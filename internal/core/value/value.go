package value

import (
	"math/big"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// Totals are the value of a sheet and what it is made of. All amounts are exact; Value = Sales − Packaging − Labour −
// Discard − Purchase.
type Totals struct {
	Sales     measure.Money
	Packaging measure.Money
	Labour    measure.Money
	Discard   measure.Money // what it costs to get rid of what is thrown away
	Purchase  measure.Money
	Value     measure.Money
	PerKg     measure.Money  // Value per kg of piece; zero for a piece of nothing
	PerHour   *measure.Money // Value before labour per bench hour; nil when no minutes were spent
}

// Totals adds the sheet up.
func (s Sheet) Totals() Totals {
	t := Totals{Purchase: s.Purchase}
	meat := measure.Mass(0)
	for _, pr := range s.Plan.Products {
		m := s.ProductMass(pr.ID)
		t.Sales = t.Sales.Add(s.price(pr.ID).Of(m))
		if !pr.ByProduct() {
			meat += m
		}
	}
	t.Packaging = s.Rates.PackagingPerKg.Times(meat.In(measure.UnitKilogram))
	hours := new(big.Rat).Quo(minutesOf(s.Minutes), big.NewRat(60, 1))
	t.Labour = s.Rates.LabourPerHour.Times(hours)
	t.Discard = s.Rates.DiscardPerKg.Times(s.FateMass(Waste).In(measure.UnitKilogram))
	beforeLabour := t.Sales.Sub(t.Packaging).Sub(t.Discard).Sub(t.Purchase)
	t.Value = beforeLabour.Sub(t.Labour)
	if kg := s.Mass().In(measure.UnitKilogram); kg.Sign() > 0 {
		t.PerKg = t.Value.Over(kg)
	}
	if hours.Sign() > 0 {
		perHour := beforeLabour.Over(hours)
		t.PerHour = &perHour
	}
	return t
}

// YieldTest is the butcher's yield test of a sheet.
type YieldTest struct {
	Usable       measure.Mass  // meat sold
	ByProduct    measure.Mass  // sold as something other than meat
	Credits      measure.Money // what the by-products bring
	UsablePerKg  measure.Money // (purchase − credits) / usable weight
	CostFactor   *big.Rat      // UsablePerKg / purchase price per kg; nil when nothing was paid
	PurchasePerK measure.Money
}

// YieldTest works the yield test out. Usable cost per kg = (purchase cost − credits for by-products) / usable weight;
// cost factor = usable cost per kg / purchase price per kg. Both are zero or nil where there is nothing to divide by.
func (s Sheet) YieldTest() YieldTest {
	var y YieldTest
	for _, pr := range s.Plan.Products {
		m := s.ProductMass(pr.ID)
		if pr.ByProduct() {
			y.ByProduct += m
			y.Credits = y.Credits.Add(s.price(pr.ID).Of(m))
		} else {
			y.Usable += m
		}
	}
	y.finish(s.Purchase, s.Mass())
	return y
}

// finish works the costs out of what was paid for a piece of a mass.
func (y *YieldTest) finish(paid measure.Money, mass measure.Mass) {
	if y.Usable > 0 {
		y.UsablePerKg = paid.Sub(y.Credits).Over(y.Usable.In(measure.UnitKilogram))
	}
	if kg := mass.In(measure.UnitKilogram); kg.Sign() > 0 {
		y.PurchasePerK = paid.Over(kg)
	}
	if y.PurchasePerK.Sign() > 0 {
		y.CostFactor = new(big.Rat).Quo(y.UsablePerKg.Rat(), y.PurchasePerK.Rat())
	}
}

// Step is one step of a bridge: what one muscle, by-product or cost was worth under A and is worth under B. Costs are
// negative worth.
type Step struct {
	ID     string
	Name   string
	Kind   string // "muscle", "by_product", "packaging", "labour", "discard" or "purchase"
	From   measure.Money
	To     measure.Money
	Change measure.Money // To − From
}

// Bridge goes from sheet a to sheet b, muscle by muscle in the atlas' order, then by-products, packaging, labour and
// purchase. A muscle's worth is its share, by weight, of the sales of every product it goes into. The changes add up
// exactly to b's value less a's.
func Bridge(a, b Sheet) []Step {
	var steps []Step
	add := func(id, name, kind string, from, to measure.Money) {
		steps = append(steps, Step{id, name, kind, from, to, to.Sub(from)})
	}
	for _, part := range a.Atlas.Parts() {
		kind := "by_product"
		if part.Kind == atlas.KindMuscle {
			kind = "muscle"
		}
		from, to := a.partSales(part.ID), b.partSales(part.ID)
		if (part.Kind == atlas.KindWaste || part.Kind == atlas.KindLoss) && from.Sign() == 0 && to.Sign() == 0 {
			continue
		}
		add(part.ID, part.Name, kind, from, to)
	}
	ta, tb := a.Totals(), b.Totals()
	add("packaging", "Packaging", "packaging", ta.Packaging.Neg(), tb.Packaging.Neg())
	add("labour", "Labour", "labour", ta.Labour.Neg(), tb.Labour.Neg())
	if ta.Discard.Sign() != 0 || tb.Discard.Sign() != 0 {
		add("discard", "Discard", "discard", ta.Discard.Neg(), tb.Discard.Neg())
	}
	if ta.Purchase.Cmp(tb.Purchase) != 0 {
		add("purchase", "Purchase", "purchase", ta.Purchase.Neg(), tb.Purchase.Neg())
	}
	return steps
}

// partSales is what a part brings: its mass in each product at that product's price.
func (s Sheet) partSales(part string) measure.Money {
	var sum measure.Money
	for _, c := range s.Cells {
		if c.Part == part && c.Fate == Sold {
			sum = sum.Add(s.price(c.Product).Of(c.Mass))
		}
	}
	return sum
}

// BreakEven is the price per kg of a product of b at which b is worth what a is. Where a sells the same product, its
// price moves both. ok is false when no price of this product could do it: it weighs the same under both, or the price
// would have to be below zero.
func BreakEven(a, b Sheet, productID string) (perKg measure.Money, ok bool) {
	pr, known := b.Plan.Product(productID)
	if !known {
		return measure.Money{}, false
	}
	more := b.ProductMass(productID) - a.ProductMass(productID)
	if more == 0 {
		return measure.Money{}, false
	}
	lead := b.Totals().Value.Sub(a.Totals().Value)
	price := b.Prices[b.Atlas.Key(pr)].PerKilogram().Sub(lead.Over(more.In(measure.UnitKilogram)))
	return price, price.Sign() >= 0
}

// ExtraHours is how many bench hours s takes more than other; negative when fewer.
func (s Sheet) ExtraHours(other Sheet) *big.Rat {
	extra := new(big.Rat).Sub(minutesOf(s.Minutes), minutesOf(other.Minutes))
	return extra.Quo(extra, big.NewRat(60, 1))
}
