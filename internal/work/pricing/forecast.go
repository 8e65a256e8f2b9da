package pricing

import (
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/work/shop"
)

// There is one way to lay out a forecast and one to lay out a recorded piece. Every screen, list and report that asks
// what a piece brings goes through one of the two, so that the same question has the same answer to the cent.

// ForecastSheet lays a piece of a weight out by the atlas' shares and a plan, at a book and the shop's rates, in the
// minutes that the plan takes on a piece of that weight.
func ForecastSheet(sh shop.Shop, p atlas.Piece, pl atlas.Plan, mass measure.Mass,
	book map[string]measure.Price) value.Sheet {
	return value.Sheet{Atlas: p, Plan: pl, Cells: value.Forecast(p, pl, mass), Prices: book,
		Minutes: p.MinutesAt(pl, mass), Rates: sh.Rates, Currency: sh.Money}
}
