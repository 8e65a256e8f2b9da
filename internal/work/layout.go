package work

import (
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
)

// There is one way to lay out a forecast and one to lay out a recorded piece. Every screen, list and report that asks what
// a piece brings goes through one of the two, so that the same question has the same answer to the cent.

// forecastSheet lays a piece of a weight out by the atlas' shares and a plan, at a book and the shop's rates.
func forecastSheet(sh Shop, p atlas.Piece, pl atlas.Plan, mass measure.Mass, book map[string]measure.Price) value.Sheet {
	return value.Sheet{Atlas: p, Plan: pl, Cells: value.Forecast(p, pl, mass), Prices: book, Minutes: pl.Minutes, Rates: sh.Rates,
		Currency: sh.Money}
}

// recordedSheet lays a piece out as it was weighed at the bench.
func (v BoardView) recordedSheet(book map[string]measure.Price, rates value.Rates) (value.Sheet, error) {
	cells, plan := value.Recorded(v.Card.Piece, v.Plan, v.Board)
	cost, err := pieceCost(v.Shop.Shop, v.Card.Hung)
	return value.Sheet{Atlas: v.Card.Piece, Plan: plan, Cells: cells, Prices: book, Minutes: v.Minutes, Rates: rates, Purchase: cost,
		Currency: v.Shop.Money}, err
}

// cutAs lays the same piece, the parts that were weighed, out by another plan: at the same prices and wages, for the same
// purchase, in the other plan's minutes.
func cutAs(recorded value.Sheet, pl atlas.Plan) value.Sheet {
	other := recorded
	other.Plan, other.Minutes, other.Cells = pl, pl.Minutes, value.Recut(recorded.Atlas, pl, recorded.Cells)
	return other
}

// pieceCost is what one piece of a lot cost: its part of the invoice by weight. The pieces of a lot cost together what the
// lot cost, to the smallest coin.
func pieceCost(sh Shop, h store.Hung) (measure.Money, error) {
	price, err := sh.priceOf(h.Lot.Price, h.Lot.PricePer)
	if err != nil {
		return measure.Money{}, err
	}
	before := measure.Mass(h.BeforeMg)
	upTo := sh.Money.Round(price.Of(before + measure.Mass(h.Piece.LabelMg)))
	return upTo.Sub(sh.Money.Round(price.Of(before))), nil
}

// lotCost is what a lot cost.
func lotCost(sh Shop, price measure.Price, total measure.Mass) measure.Money {
	return sh.Money.Round(price.Of(total))
}
