package measure

import (
	"fmt"
	"math"
	"math/big"
	"strconv"
	"strings"

	"falda/internal/core/fault"
)

// Money is an exact amount in the shop's currency. The zero value is nothing; amounts are never changed in place. An
// amount that came through a [Currency] remembers its decimals, and so does whatever is reckoned from it.
type Money struct {
	r      *big.Rat
	places placesKnown
}

// placesKnown is the decimals of a currency and one more; zero where the currency is not known.
type placesKnown int8

// knownPlaces notes that an amount has so many decimals.
func knownPlaces(n int) placesKnown { return placesKnown(n + 1) }

func (p placesKnown) or(q placesKnown) placesKnown { return max(p, q) }

// MaxMoney bounds what is accepted as an amount: a thousand million.
var MaxMoney = MoneyOf(1_000_000_000, 1)

// MoneyOf is the amount num/den; den must not be zero.
func MoneyOf(num, den int64) Money { return Money{r: big.NewRat(num, den)} }

// MoneyFromRat takes a copy of r as an amount.
func MoneyFromRat(r *big.Rat) Money { return Money{r: new(big.Rat).Set(r)} }

// ParseMoney reads an amount as people type it. Faults carry no field: those of ParseNumber, and "too_large".
func ParseMoney(s string) (Money, error) {
	r, err := ParseNumber(s)
	if err != nil {
		return Money{}, err
	}
	m := Money{r: r}
	if m.Abs().Cmp(MaxMoney) > 0 {
		return Money{}, fault.New("", "too_large", "is more than a thousand million", "Check the amount.")
	}
	return m, nil
}

// MoneyFromDecimal reads an amount that the program itself has written, a DECIMAL of the database: of any size, with a
// decimal point. The error is not a person's fault.
func MoneyFromDecimal(s string) (Money, error) {
	for _, c := range s {
		if (c < '0' || c > '9') && c != '.' && c != '-' {
			return Money{}, fmt.Errorf("%q is not a stored amount", s)
		}
	}
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		return Money{}, fmt.Errorf("%q is not a stored amount", s)
	}
	return Money{r: r}, nil
}

// MoneyFromFloat takes a figure of statistics as an amount, to four decimals; false for what is no number.
func MoneyFromFloat(f float64) (Money, bool) {
	if math.IsNaN(f) || math.IsInf(f, 0) {
		return Money{}, false
	}
	r, ok := new(big.Rat).SetString(strconv.FormatFloat(f, 'f', 4, 64))
	return Money{r: r}, ok
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
func (a Money) Add(b Money) Money {
	return Money{new(big.Rat).Add(a.Rat(), b.Rat()), a.places.or(b.places)}
}

// Sub gives a − b.
func (a Money) Sub(b Money) Money {
	return Money{new(big.Rat).Sub(a.Rat(), b.Rat()), a.places.or(b.places)}
}

// Neg gives −a.
func (a Money) Neg() Money { return Money{new(big.Rat).Neg(a.Rat()), a.places} }

// Abs gives a without its sign.
func (a Money) Abs() Money { return Money{new(big.Rat).Abs(a.Rat()), a.places} }

// Times gives a·f.
func (a Money) Times(f *big.Rat) Money { return Money{new(big.Rat).Mul(a.Rat(), f), a.places} }

// Over gives a/f; f must not be zero.
func (a Money) Over(f *big.Rat) Money { return Money{new(big.Rat).Quo(a.Rat(), f), a.places} }

// Cmp compares: −1, 0 or +1.
func (a Money) Cmp(b Money) int { return a.Rat().Cmp(b.Rat()) }

// Sign is −1, 0 or +1.
func (a Money) Sign() int { return a.Rat().Sign() }

// Float is the amount for pictures and ratios, never for sums.
func (a Money) Float() float64 { f, _ := a.Rat().Float64(); return f }

// Text shows the amount with so many decimals, rounded half away from zero: "12.35".
func (a Money) Text(places int) string { return roundText(a.Rat(), places) }

// Round gives the amount to so many decimals, half away from zero.
func (a Money) Round(places int) Money {
	scale := pow10(places)
	whole := roundRat(new(big.Rat).Mul(a.Rat(), new(big.Rat).SetInt(scale)))
	return Money{new(big.Rat).SetFrac(whole, scale), a.places}
}

// Places is how many decimals the amount is shown with: those of its currency, or two where it has none.
func (a Money) Places() int {
	if a.places == 0 {
		return defaultPlaces
	}
	return int(a.places) - 1
}

// Whole says whether nothing is lost when the amount is shown with the decimals of its currency.
func (a Money) Whole() bool { return a.Round(a.Places()).Cmp(a) == 0 }

// MaxRate is the most that an hour of labour, or a kilogram's packaging, may cost: a slip of the decimal point is
// caught.
var MaxRate = Money{r: big.NewRat(10_000_000, 1)}

// PriceDecimals is how many decimals prices and rates are kept with at most.
const PriceDecimals = 4

// Full shows a price or a rate: with the decimals of its currency, or with four where it has more.
func (a Money) Full() string {
	if a.Whole() {
		return a.String()
	}
	return a.Text(PriceDecimals)
}

// Exact says that a price or rate fits the decimals it is kept with; the fault, without a field, is "too_precise".
func (a Money) Exact() error {
	if a.Round(PriceDecimals).Cmp(a) != 0 {
		return fault.New("", "too_precise", "has more than four decimals", "Round it to four.")
	}
	return nil
}

// String shows the amount with the decimals of its currency, or with two where it has none; never a negative zero.
func (a Money) String() string { return a.Text(a.Places()) }

// RaisedBy gives a price changed by so many percent, which may be negative, rounded half away from zero to whole steps
// and never below one step; step must be above zero.
func (p Price) RaisedBy(pct *big.Rat, step Money) Price {
	factor := new(big.Rat).Add(big.NewRat(1, 1), new(big.Rat).Mul(pct, big.NewRat(1, 100)))
	steps := roundRat(p.Amount.Times(factor).Over(step.Rat()).Rat())
	if steps.Sign() <= 0 {
		steps.SetInt64(1)
	}
	return Price{Amount: Money{new(big.Rat).Mul(step.Rat(), new(big.Rat).SetInt(steps)), p.Amount.places}, Per: p.Per}
}

// Price is money per unit of mass, kept as it was entered.
type Price struct {
	Amount Money
	Per    Unit // UnitKilogram or UnitPound
	// Spread says that the price is a guess: the standard deviation of its logarithm. 0 where the price is known.
	Spread float64
}

// Guessed says that nobody has said the price yet.
func (p Price) Guessed() bool { return p.Spread > 0 }

// MaxPrice bounds prices: high enough for currencies of small coins, low enough for a slip of the decimal point in
// them.
var MaxPrice = MoneyOf(100_000_000, 1)

// ParsePrice reads a price per kg or per lb: not negative, at most MaxPrice, of at most four decimals. Faults carry no
// field: those of ParseMoney, "negative", "ambiguous" where a comma may part thousands or decimals, "too_large",
// "too_precise" and "unknown_unit".
func ParsePrice(s string, per Unit) (Price, error) {
	if per != UnitKilogram && per != UnitPound {
		return Price{},
			fault.New("", "unknown_unit", fmt.Sprintf("a price per “%s” is not understood", per),
				"Give the price per kg or per lb.")
	}
	if whole, part, ok := strings.Cut(strings.TrimSpace(s), ","); ok && len(whole) <= 3 && len(part) == 3 && whole != "0" {
		return Price{},
			fault.New("", "ambiguous", fmt.Sprintf("“%s” may mean %s or %s", s, whole+part, whole+"."+part),
				"Write it without the comma, or with a point.")
	}
	m, err := ParseMoney(s)
	if err != nil {
		return Price{}, err
	}
	if m.Sign() < 0 {
		return Price{}, fault.New("", "negative", "is below zero", "Enter zero or more.")
	}
	if m.Cmp(MaxPrice) > 0 {
		return Price{}, fault.New("", "too_large", "is more than 100,000,000", "Check the price and its unit.")
	}
	return Price{Amount: m, Per: per}, m.Exact()
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
