package measure

import (
	"fmt"
	"math"
	"math/big"

	"falda/internal/core/fault"
)

// Mass is a mass in whole milligrams. Negative masses occur as differences only.
type Mass int64

// The masses that others are made of. A pound is not a whole number of milligrams; use Unit Pound to convert.
const (
	Milligram Mass = 1
	Gram      Mass = 1000
	Kilogram  Mass = 1000 * Gram
	// MaxMass is the most that any input may weigh: ten tonnes.
	MaxMass = 10_000 * Kilogram
)

// Unit is a unit of mass.
type Unit string

// The units that Falda reads and shows.
const (
	UnitGram     Unit = "g"
	UnitKilogram Unit = "kg"
	UnitPound    Unit = "lb"
	UnitOunce    Unit = "oz"
)

// milligramsPer holds the exact milligrams in each unit.
var milligramsPer = map[Unit]*big.Rat{
	UnitGram:     big.NewRat(1000, 1),
	UnitKilogram: big.NewRat(1_000_000, 1),
	UnitPound:    big.NewRat(45359237, 100),
	UnitOunce:    big.NewRat(45359237, 1600),
}

// Valid says whether u is a unit that Falda knows.
func (u Unit) Valid() bool { return milligramsPer[u] != nil }

// Kilograms is how many kilograms one of the unit is, exactly; nil for a unit that Falda does not know.
func (u Unit) Kilograms() *big.Rat {
	if per := milligramsPer[u]; per != nil {
		return new(big.Rat).Quo(per, big.NewRat(int64(Kilogram), 1))
	}
	return nil
}

// ParseMass reads a number in the given unit as a mass, rounded to the milligram, half away from zero. Faults carry no
// field: those of ParseNumber, "unknown_unit", and "too_large" beyond MaxMass.
func ParseMass(s string, u Unit) (Mass, error) {
	per := milligramsPer[u]
	if per == nil {
		return 0, fault.New("", "unknown_unit", fmt.Sprintf("“%s” is not a unit of mass", u), "Use g, kg, lb or oz.")
	}
	r, err := ParseNumber(s)
	if err != nil {
		return 0, err
	}
	r.Mul(r, per)
	if new(big.Rat).Abs(r).Cmp(new(big.Rat).SetInt64(int64(MaxMass))) > 0 {
		return 0, fault.New("", "too_large", "is more than ten tonnes", "Check the number and the unit.")
	}
	return Mass(roundRat(r).Int64()), nil
}

// FromGrams turns grams as sent in JSON into a mass, rounded to the milligram. It refuses what is not a finite number
// ("not_a_number") and what is beyond MaxMass either way ("too_large").
func FromGrams(g float64) (Mass, error) {
	if math.IsNaN(g) || math.IsInf(g, 0) {
		return 0, fault.New("", "not_a_number", "is not a number", "Enter grams as a number.")
	}
	if math.Abs(g) > MaxMass.Grams() {
		return 0, fault.New("", "too_large", "is more than ten tonnes", "Check the number and the unit.")
	}
	return Mass(math.Round(g * 1000)), nil
}

// Grams gives the mass in grams, exact to the milligram for all masses up to MaxMass.
func (m Mass) Grams() float64 { return float64(m) / 1000 }

// In gives the mass in a unit as an exact fraction; u must be valid.
func (m Mass) In(u Unit) *big.Rat {
	return new(big.Rat).Quo(new(big.Rat).SetInt64(int64(m)), milligramsPer[u])
}

// Text shows the mass in a unit with so many decimals, rounded half away from zero, followed by the unit: "1.18 kg".
func (m Mass) Text(u Unit, places int) string {
	return roundText(m.In(u), places) + " " + string(u)
}

// PoundsOunces splits the mass into whole pounds and ounces, the ounces rounded to the tenth: 16.0 oz carry over.
func (m Mass) PoundsOunces() (pounds int64, ounces float64) {
	tenths := roundRat(new(big.Rat).Mul(m.In(UnitOunce), big.NewRat(10, 1))).Int64()
	return tenths / 160, float64(tenths%160) / 10
}

// roundRat rounds to a whole number, half away from zero.
func roundRat(r *big.Rat) *big.Int {
	num := new(big.Int).Abs(r.Num())
	num.Mul(num, big.NewInt(2)).Add(num, r.Denom())
	q := num.Quo(num, new(big.Int).Mul(r.Denom(), big.NewInt(2)))
	if r.Sign() < 0 {
		q.Neg(q)
	}
	return q
}

// roundText shows r with so many decimals, half away from zero, never as "-0".
func roundText(r *big.Rat, places int) string {
	scale := new(big.Rat).SetInt(pow10(places))
	whole := roundRat(new(big.Rat).Mul(r, scale))
	return new(big.Rat).Quo(new(big.Rat).SetInt(whole), scale).FloatString(places)
}
