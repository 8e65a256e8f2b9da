package value

import (
	"math"
	"math/big"

	"falda/internal/core/ladder"
	"falda/internal/core/measure"
)

// Doubt says how far an answer rests on guessed prices.
type Doubt struct {
	Guessed int           // products that bear on the answer and whose price is a guess
	Of      int           // products that bear on the answer
	Low     measure.Money // within this the answer lies four times in five, if only the guesses are in doubt
	High    measure.Money
	Turns   string        // the guess that turns the answer within its own range: its product; empty where none does
	At      measure.Money // a price of a kilogram at which it does
}

// Doubts says how far the lead of b over a, per unit of block, rests on guessed prices: each guess moves it by the
// difference of the yields times the price, and they are taken to err independently of each other. What both give alike
// of a block bears on nothing.
func Doubts(a, b Alternative, unit measure.Unit) Doubt {
	lead := LeadPer(a, b, unit)
	d := Doubt{Low: lead, High: lead}
	variance, most := 0.0, 0.0
	kilos, _ := unit.Kilograms().Float64()
	for _, key := range keys(a, b) {
		ya, _, _ := a.yield(key)
		yb, _, _ := b.yield(key)
		more, _ := new(big.Rat).Sub(yb, ya).Float64()
		if math.Abs(more) < 1e-9 {
			continue
		}
		d.Of++
		price, ok := b.Book[key]
		if !ok {
			price = a.Book[key]
		}
		if !price.Guessed() {
			continue
		}
		d.Guessed++
		by := more * price.PerKilogram().Float() * price.Spread * kilos
		variance += by * by
		if _, at, ok := BreakEvenPrice(a, b, key); ok && math.Abs(by) > most && withinRange(at, price) {
			most, d.Turns, d.At = math.Abs(by), key, at
		}
	}
	off := measure.MoneyOf(int64(math.Round(math.Sqrt(variance)*ladder.FourInFive*1e6)), 1_000_000)
	d.Low, d.High = b.Currency.Round(lead.Sub(off)), b.Currency.Round(lead.Add(off))
	return d
}

// withinRange says whether a price of a kilogram is within the range of a guess.
func withinRange(at measure.Money, guess measure.Price) bool {
	low, high := ladder.Guess{Price: guess.PerKilogram().Float(), Spread: guess.Spread}.Within()
	return at.Float() >= low && at.Float() <= high
}

// GuessedOf counts the products of an alternative, and those of them whose price is a guess.
func GuessedOf(a Alternative) (guessed, of int) {
	for _, key := range a.Keys() {
		of++
		if a.Book[key].Guessed() {
			guessed++
		}
	}
	return guessed, of
}

// SpreadOf is how far the value of a sheet is in doubt for its guessed prices: the standard deviation as a share of the
// value; 0 where none is guessed, or where it is worth nothing.
func SpreadOf(s Sheet) float64 {
	made := map[string]measure.Mass{}
	for _, c := range s.Cells {
		if pr, ok := s.Plan.Product(c.Product); ok && c.Fate == Sold {
			made[s.Atlas.Key(pr)] += c.Mass
		}
	}
	variance := 0.0
	for key, m := range made {
		by := s.Prices[key].Of(m).Float() * s.Prices[key].Spread
		variance += by * by
	}
	worth := s.Totals().Value.Float()
	if worth <= 0 {
		return 0
	}
	return math.Sqrt(variance) / worth
}
