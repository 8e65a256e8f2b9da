package pricing

import (
	"context"
	"slices"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// maxMenuName is how long a shop's own name for a product may be: a ticket's line.
const maxMenuName = 60

// SetMenuName sets what the shop calls a product at its counter, beside the name that it must be sold by; an empty name
// takes it away. Was is the name that it replaces, as whoever sets it has seen it.
func (s *Service) SetMenuName(ctx context.Context, key, was, name string) (PriceRow, error) {
	list, err := s.Prices(ctx)
	if err != nil {
		return PriceRow{}, err
	}
	i := slices.IndexFunc(list, func(p PriceRow) bool { return p.Key == key })
	if i < 0 {
		return PriceRow{}, store.ErrNotFound
	}
	name = strings.Join(strings.Fields(name), " ")
	var faults fault.List
	faults.Add("name", fault.Text(name, maxMenuName, false))
	if err := faults.Err(); err != nil {
		return PriceRow{}, err
	}
	if name == list[i].Name { // that is its name already
		name = ""
	}
	if was != list[i].MenuName {
		return PriceRow{}, store.ErrConflict
	}
	if name == was {
		return list[i], nil
	}
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return PriceRow{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "menu_name.set", Subject: key, SubjectName: list[i].Name,
				Was: map[string]any{"name": was}, Became: map[string]any{"name": name}},
			tx.SetMenuName(ctx, store.MenuName{ShopID: shop.ID, ProductKey: key, Name: name}, was)
	})
	list[i].MenuName = name
	return list[i], err
}
