package stock

import (
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// PieceCost is what one piece of a lot cost: its part of the invoice by weight. The pieces of a lot cost together what
// the lot cost, to the smallest coin.
func PieceCost(sh shop.Shop, h store.PieceRow) (measure.Money, error) {
	price, err := sh.Price(h.Lot.Price, h.Lot.PricePer)
	if err != nil {
		return measure.Money{}, err
	}
	before := measure.Mass(h.BeforeMg)
	upTo := sh.Money.Round(price.Of(before + measure.Mass(h.Piece.LabelMg)))
	return upTo.Sub(sh.Money.Round(price.Of(before))), nil
}

// LotCost is what a lot cost.
func LotCost(sh shop.Shop, price measure.Price, total measure.Mass) measure.Money {
	return sh.Money.Round(price.Of(total))
}
