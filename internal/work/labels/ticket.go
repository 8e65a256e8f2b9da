package labels

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/goods"
)

// Ticket is what stands on a price ticket.
type Ticket struct {
	Key, Name, Menu string
	Price           *measure.Price // as it is asked
	Off             float64        // per cent that it is reduced by
	Origin          []string       // of what lies in stock of it
	Atlas, Product  string         // whose cooking card tells the rest; empty where there is none
}

// Tickets works out price tickets of products, in the order in which they are asked for.
func (s *Service) Tickets(ctx context.Context, keys []string) ([]Ticket, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return nil, err
	}
	there, err := s.goods.Stock(ctx)
	if err != nil {
		return nil, err
	}
	called, err := CalledOn(ctx, s.store, sh.Shop, sh.Day(s.now()))
	if err != nil {
		return nil, err
	}
	settings, err := SettingsOf(ctx, s.store, sh.Shop)
	if err != nil {
		return nil, err
	}
	var faults fault.List
	out := make([]Ticket, 0, len(keys))
	for i, key := range keys {
		p, ok := products[key]
		if !ok {
			faults.Add(fmt.Sprintf("products[%d]", i), fault.New("", "unknown", "is no product of this shop", "Leave it out."))
			continue
		}
		pack := Pack{Settings: settings, Tub: goods.Tub{TubID: goods.TubID{Key: key}, Species: p.Species,
			Kind: store.GoodsProduct}}
		pack.find(s, sh)
		if at := slices.IndexFunc(there.Tubs, func(t goods.Tub) bool { return t.Key == key && t.Left > 0 }); at >= 0 {
			pack.Tub = there.Tubs[at]
			if err := s.origin(ctx, sh, &pack); err != nil {
				return nil, err
			}
		}
		t := Ticket{Key: key, Name: p.Name, Menu: called[key].Name, Off: reduced(there, key), Atlas: pack.Atlas,
			Product: pack.Product}
		t.Price = goods.Less(sh.Shop, cmp.Or(called[key].Price, p.Price), t.Off)
		for _, line := range pack.Origin {
			if slices.Contains(countries, line[:min(len(line), 4)]) {
				t.Origin = append(t.Origin, line)
			}
		}
		out = append(out, t)
	}
	return out, faults.Err()
}

// countries are how the lines of the origin begin that a ticket shows: not plants, references and batches.
var countries = []string{"Orig", "Born", "Rear", "Slau"}

// reduced is by how much a product is reduced where it is sold: at the counter, or where none of it lies there in the
// cold room.
func reduced(there goods.Stock, key string) float64 {
	off := map[string]float64{}
	for _, t := range there.Tubs {
		if t.Key == key && t.Left > 0 && !t.UseBy.Before(there.Today) {
			off[t.Place] = max(off[t.Place], t.Off)
		}
	}
	if v, ok := off["counter"]; ok {
		return v
	}
	return off["cold"]
}
