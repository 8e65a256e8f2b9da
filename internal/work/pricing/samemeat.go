package pricing

import (
	"context"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// SoldMeat is a muscle with what it is sold as, and what a kilogram of that costs to eat.
type SoldMeat struct {
	atlas.Meat
	Names  []string              // of the products, as the market says them
	Menu   []string              // what the shop calls them; empty where it says the same
	Prices []*measure.Price      // as they are sold; nil where there is none
	Edible []*measure.Money      // a kilogram of what is eaten
	Others []map[string][]string // what else counters call it, by market
}

// SameMeat lists the muscles that are sold under several names, at today's prices.
func (s *Service) SameMeat(ctx context.Context) ([]SoldMeat, error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return nil, err
	}
	book, _, err := s.TodaysBook(ctx, shop)
	if err != nil {
		return nil, err
	}
	called, err := s.store.MenuNames(ctx, shop.ID)
	if err != nil {
		return nil, err
	}
	var out []SoldMeat
	for _, m := range s.atlas.SameMeat() {
		x := SoldMeat{Meat: m}
		x.Muscle.Name = m.Muscle.NameIn(shop.Market)
		for _, p := range m.Products {
			x.Names, x.Others = append(x.Names, p.Product.NameIn(shop.Market)), append(x.Others, p.Product.Names)
			x.Menu = append(x.Menu, called[p.Key])
			price, ok := book[p.Key]
			if !ok || p.EdiblePct <= 0 {
				x.Prices, x.Edible = append(x.Prices, nil), append(x.Edible, nil)
				continue
			}
			edible := shop.Money.Round(p.Edible(price))
			x.Prices, x.Edible = append(x.Prices, &price), append(x.Edible, &edible)
		}
		out = append(out, x)
	}
	return out, nil
}
