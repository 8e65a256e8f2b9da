package value

import (
	"math/big"

	"falda/internal/core/measure"
)

// Totals are the value of a sheet and what it is made of. Each amount is rounded once to the currency's smallest coin,
// and Value = Sales − Packaging − Labour − Discard − Ingredients − Purchase of the amounts as they are shown.
type Totals struct {
	Sales     measure.Money
	Packaging measure.Money
	Labour    measure.Money
	Discard   measure.Money // what it costs to get rid of what is thrown away
	// Ingredients is what was added costs: stuffing, spice, net, string.
	Ingredients measure.Money
	Purchase    measure.Money
	Value       measure.Money
	PerKg       measure.Money  // Value per kg of piece; zero for a piece of nothing
	PerHour     *measure.Money // Value before labour per bench hour; nil when no minutes were spent
}

// Shared gives each line times a factor, such as one for a kilogram or one head's part, rounded together so that they
// add up to a value as it is shown.
func (t Totals) Shared(factor *big.Rat, value measure.Money, currency measure.Currency) Totals {
	lines := []measure.Money{t.Sales, t.Packaging.Neg(), t.Labour.Neg(), t.Discard.Neg(), t.Ingredients.Neg(),
		t.Purchase.Neg()}
	for i := range lines {
		lines[i] = lines[i].Times(factor)
	}
	lines = measure.RoundToTotal(lines, value, currency.Places())
	return Totals{Sales: lines[0], Packaging: lines[1].Neg(), Labour: lines[2].Neg(), Discard: lines[3].Neg(),
		Ingredients: lines[4].Neg(), Purchase: lines[5].Neg(), Value: value}
}

// Totals adds the sheet up.
func (s Sheet) Totals() Totals { return s.Alternative("", false).Totals() }

// Totals are the alternative's amounts and its value.
func (s Alternative) Totals() Totals {
	return Totals{Sales: s.Sales(), Packaging: s.Packaging, Labour: s.Labour, Discard: s.Discard,
		Ingredients: s.Ingredients, Purchase: s.Purchase, Value: s.Value(), PerKg: s.ValuePerKg(), PerHour: s.PerHour()}
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
func (s Sheet) YieldTest() YieldTest { return s.Alternative("", false).YieldTest() }

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

// ExtraHours is how many bench hours s takes more than other; negative when fewer.
func (s Sheet) ExtraHours(other Sheet) *big.Rat {
	extra := new(big.Rat).Sub(minutesOf(s.Minutes), minutesOf(other.Minutes))
	return extra.Quo(extra, big.NewRat(60, 1))
}
