package judge

import (
	"context"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/cook"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// Offered is something that can be offered, with what it costs to eat.
type Offered struct {
	eating.Offer
	Name  string
	Menu  string // what the shop calls it; empty where it says that
	Meat  atlas.Meat
	Price measure.Price
	Plate measure.Money // what one eater's part costs
}

// Instead is what can be offered in the place of a product.
type Instead struct {
	Of      Offered
	Method  atlas.Method
	Methods []atlas.Method // by which it can be asked
	List    []Offered      // the cheapest first
}

// Instead finds cheaper things that eat at least as well by the same method as a product does, by the lower bound of
// the house's grade; by the method that suits the product best where none is named. What is cooked slowly is not
// offered in the place of what is cooked fast.
func (s *Service) Instead(ctx context.Context, key, method string) (Instead, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Instead{}, err
	}
	grades, err := s.HouseGrades(ctx, shop)
	if err != nil {
		return Instead{}, err
	}
	var out Instead
	sold := s.atlas.Sold()
	at := slices.IndexFunc(sold, func(m atlas.Meat) bool { return m.Products[0].Key == key })
	if at < 0 {
		return out, store.ErrNotFound
	}
	scores := grades.Scores(sold[at].Products[0].Piece, sold[at].Muscle.ID, eating.Facts{Species: sold[at].Species})
	if method == "" {
		best, _ := eating.Best(scores)
		method = best.Method
	}
	for _, x := range scores {
		m, _ := atlas.FindMethod(x.Method)
		out.Methods = append(out.Methods, m)
		if m.ID == method {
			out.Method = m
		}
	}
	if out.Method.ID == "" {
		return out, fault.New("method", "unknown", "is no method by which it is graded", "Choose one of the list.")
	}
	offered, err := s.offered(ctx, shop, grades, out.Method)
	if err != nil {
		return out, err
	}
	mine, ok := offered[key]
	if !ok {
		return out, fault.NewConflict("product_key", "no_price", "has no price", "Set one in the price book first.")
	}
	out.Of = mine
	var all []eating.Offer
	for _, m := range sold {
		own, _ := atlas.FindMethod(m.Products[0].Product.Cook)
		if o, ok := offered[m.Products[0].Key]; ok && own.Quick == out.Method.Quick {
			all = append(all, o.Offer)
		}
	}
	for _, o := range eating.Instead(mine.Offer, all) {
		out.List = append(out.List, offered[o.Key])
	}
	return out, nil
}

// offered gives what is sold, has a price and is graded by a method, by product key.
func (s *Service) offered(ctx context.Context, shop shop.WithPlans, grades HouseGrades,
	method atlas.Method) (map[string]Offered, error) {
	book, _, err := s.prices.TodaysBook(ctx, shop.Shop)
	if err != nil {
		return nil, err
	}
	called, err := s.store.MenuNames(ctx, shop.ID)
	if err != nil {
		return nil, err
	}
	each := float64(cook.RoastEach)
	if method.Quick {
		each = cook.SteakEach
	}
	out := map[string]Offered{}
	for _, m := range s.atlas.Sold() {
		x := m.Products[0]
		graded := grades.With(x.Piece, m.Muscle.ID, method.ID, eating.Facts{Species: m.Species})
		price, priced := book[x.Key]
		if !graded.Known || !priced || x.EdiblePct <= 0 {
			continue
		}
		o := Offered{Offer: eating.Offer{Key: x.Key, Score: graded.Score, EachG: each,
			Edible: shop.Money.Round(x.Edible(price))}, Price: price, Meat: m,
			Name: x.Product.NameIn(shop.Market), Menu: called[x.Key]}
		o.Plate = shop.Money.Round(o.Offer.Plate())
		out[x.Key] = o
	}
	return out, nil
}
