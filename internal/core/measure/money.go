package measure

import (
	"fmt"
	"math/big"

	"falda/internal/core/fault"
)

// Money is an exact amount in the shop's currency. The zero value is nothing; amounts are never changed in place.
type Money struct{ r *big.Rat }

// MaxMoney bounds what is accepted as an amount: a thousand million.
var MaxMoney = MoneyOf(1_000_000_000, 1)

// MoneyOf is the amount num/den; den must not be zero.
func MoneyOf(num, den int64) Money { return Money{big.NewRat(num, den)} }

// MoneyFromRat takes a copy of r as an amount.
func MoneyFromRat(r *big.Rat) Money { return Money{new(big.Rat).Set(r)} }

// ParseMoney reads an amount as people type it. Faults carry no field: those of ParseNumber, and "too_large".
func ParseMoney(s string) (Money, error) {
	r, err := ParseNumber(s)
	if err != nil {
		return Money{}, err
	}
	m := Money{r}
	if m.Abs().Cmp(MaxMoney) > 0 {
		return Money{}, fault.New("", "too_large", "is more than a thousand million", "Check the amount.")
	}
	return m, nil
}

// MustMoney is ParseMoney for constants; it panics on what is not an amount.
func MustMoney(s string) Money {
	m, err := ParseMoney(s)
	if err != nil {
		panic(err)
	}
	return m
}

// Rat gives a copy of the amount as a fraction.
func (a Money) Rat() *big.Rat {
	if a.r == nil {
		return new(big.Rat)
	}
	return new(big.Rat).Set(a.r)
}

// Add, Sub, Neg and Abs are exact.
func (a Money) Add(b Money) Money { return Money{new(big.Rat).Add(a.Rat(), b.Rat())} }

// Sub gives a − b.
func (a Money) Sub(b Money) Money { return Money{new(big.Rat).Sub(a.Rat(), b.Rat())} }

// Neg gives −a.
func (a Money) Neg() Money { return Money{new(big.Rat).Neg(a.Rat())} }

// Abs gives a without its sign.
func (a Money) Abs() Money { return Money{new(big.Rat).Abs(a.Rat())} }

// Times gives a·f.
func (a Money) Times(f *big.Rat) Money { return Money{new(big.Rat).Mul(a.Rat(), f)} }

// Over gives a/f; f must not be zero.
func (a Money) Over(f *big.Rat) Money { return Money{new(big.Rat).Quo(a.Rat(), f)} }

// Cmp compares: −1, 0 or +1.
func (a Money) Cmp(b Money) int { return a.Rat().Cmp(b.Rat()) }

// Sign is −1, 0 or +1.
func (a Money) Sign() int { return a.Rat().Sign() }

// Float is the amount for pictures and ratios, never for sums.
func (a Money) Float() float64 { f, _ := a.Rat().Float64(); return f }

// Text shows the amount with so many decimals, rounded half away from zero: "12.35".
func (a Money) Text(places int) string { return roundText(a.Rat(), places) }

// String shows the amount with two decimals.
func (a Money) String() string { return a.Text(2) }

// Price is money per unit of mass, kept as it was entered.
type Price struct {
	Amount Money
	Per    Unit // UnitKilogram or UnitPound
}

// ParsePrice reads a price per kg or per lb: not negative, at most 100,000. Faults carry no field: those of ParseMoney,
// "negative", "too_large" and "unknown_unit".
func ParsePrice(s string, per Unit) (Price, error) {
	if per != UnitKilogram && per != UnitPound {
		return Price{}, fault.New("", "unknown_unit", fmt.Sprintf("a price per “%s” is not understood", per), "Give the price per kg or per lb.")
	}
	m, err := ParseMoney(s)
	if err != nil {
		return Price{}, err
	}
	if m.Sign() < 0 {
		return Price{}, fault.New("", "negative", "is below zero", "Enter zero or more.")
	}
	if m.Cmp(MoneyOf(100_000, 1)) > 0 {
		return Price{}, fault.New("", "too_large", "is more than 100,000", "Check the price and its unit.")
	}
	return Price{m, per}, nil
}

// Of is what a mass costs at this price, exactly. The zero Price makes everything worth nothing.
func (p Price) Of(m Mass) Money {
	if p.Per == "" {
		return Money{}
	}
	return p.Amount.Times(m.In(p.Per))
}

// PerKilogram is the same price per kilogram, exactly.
func (p Price) PerKilogram() Money { return p.Of(Kilogram) }
