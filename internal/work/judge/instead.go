package judge

import (
	"context"
	"math/big"

	"falda/internal/core/atlas"
	"falda/internal/core/cook"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
)

// Offered is something that can be offered, with what it costs to eat.
type Offered struct {
	eating.Offer
	Name   string
	Menu   string // what the shop calls it; empty where it says that
	Meat   atlas.Meat
	Price  measure.Price
	Plate  measure.Money // what one eater's part costs
	LeftKg float64       // that lies in stock; filled in by whoever knows
}

// Instead is what can be offered in the place of a product.
type Instead struct {
	Of      Offered
	Method  atlas.Method
	Methods []atlas.Method // by which it can be asked
	List    []Offered      // the cheapest first
}

// Instead finds cheaper things that eat at least as well by the same method as a product does, by the lower bound of the
// house's grade; by the method that suits the product best where none is named.
func (s *Service) Instead(ctx context.Context, key, method string) (Instead, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Instead{}, err
	}
	grades, err := s.HouseGrades(ctx, shop)
	if err != nil {
		return Instead{}, err
	}
	book, _, err := s.prices.TodaysBook(ctx, shop.Shop)
	if err != nil {
		return Instead{}, err
	}
	called, err := s.store.MenuNames(ctx, shop.ID)
	if err != nil {
		return Instead{}, err
	}
	sold := s.atlas.Sold()
	out := Instead{}
	at := -1
	for i, m := range sold {
		if m.Products[0].Key == key {
			at = i
		}
	}
	if at < 0 {
		return out, store.ErrNotFound
	}
	of := sold[at]
	scores := grades.Scores(of.Products[0].Piece, of.Muscle.ID, eating.Facts{Species: of.Species})
	if method == "" {
		best, _ := eating.Best(scores)
		method = best.Method
	}
	known := false
	for _, x := range scores {
		if m, ok := atlas.FindMethod(x.Method); ok {
			out.Methods = append(out.Methods, m)
			if m.ID == method {
				out.Method, known = m, true
			}
		}
	}
	if !known {
		return out, fault.New("method", "unknown", "is no method by which it is graded", "Choose one of the list.")
	}
	var all []eating.Offer
	offered := map[string]Offered{}
	for _, m := range sold {
		x := m.Products[0]
		graded := grades.With(x.Piece, m.Muscle.ID, method, eating.Facts{Species: m.Species})
		price, priced := book[x.Key]
		if !graded.Known || !priced || x.EdiblePct <= 0 {
			continue
		}
		eaten := new(big.Rat).SetFloat64(x.EdiblePct / 100)
		o := Offered{Offer: eating.Offer{Key: x.Key, Score: graded.Score, EachG: cook.RoastEach,
			Edible: shop.Money.Round(price.Amount.Over(price.Per.Kilograms()).Over(eaten))}, Price: price, Meat: m,
			Name: x.Product.NameIn(shop.Market), Menu: called[x.Key]}
		if out.Method.Quick {
			o.EachG = cook.SteakEach
		}
		o.Plate = shop.Money.Round(o.Offer.Plate())
		offered[x.Key] = o
		all = append(all, o.Offer)
	}
	mine, ok := offered[key]
	if !ok {
		return out, fault.NewConflict("product_key", "no_price", "This has no price.", "Set one in the price book first.")
	}
	out.Of = mine
	for _, o := range eating.Instead(mine.Offer, all) {
		out.List = append(out.List, offered[o.Key])
	}
	return out, nil
}
