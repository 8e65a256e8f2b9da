package shop

import (
	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// ParsePrice reads a price as people type it, in the shop's currency. Faults as [measure.ParsePrice]; "too_large" comes
// where the currency's coins make such a price a slip of the decimal point.
func (sh Shop) ParsePrice(amount, per string) (measure.Price, error) {
	p, err := measure.ParsePrice(amount, measure.Unit(per))
	if err != nil {
		return p, err
	}
	if limit := measure.MoneyOf(100_000, 1); sh.Money.Places() > 0 && p.Amount.Cmp(limit) > 0 {
		return p, fault.New("", "too_large", "is more than 100,000", "Check the price and its unit.")
	}
	p.Amount = sh.Money.Of(p.Amount)
	return p, nil
}

// Price reads a price that the database holds: checked when it came in, and of any size.
func (sh Shop) Price(amount, per string) (measure.Price, error) {
	m, err := measure.MoneyFromDecimal(amount)
	return measure.Price{Amount: sh.Money.Of(m), Per: measure.Unit(per)}, err
}

// Shown is a stored price or rate as it is shown: with the decimals of the shop's currency, or with as many as it has.
func (sh Shop) Shown(amount string) string {
	m, err := measure.MoneyFromDecimal(amount)
	if err != nil {
		return amount
	}
	return sh.Money.Of(m).Full()
}
