package labels

import (
	"context"
	"time"

	"falda/internal/core/demand"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// Called is what a shop calls a product on a day, and what it asks for it.
type Called struct {
	Name  string         // empty where it says the lawful name
	Price *measure.Price // of a trial of prices; nil where the list's counts
}

// TurnsOf is when a trial of names runs.
func TurnsOf(t store.NamingTrial) demand.Turns { return demand.Turns{Begins: t.Begins, Weeks: t.Weeks} }

// CalledOn gives what products are called on a day, by product key: what the shop says of them, and in a trial of names
// or prices that of the week.
func CalledOn(ctx context.Context, st *store.Store, sh shop.Shop, day time.Time) (map[string]Called, error) {
	menu, err := st.MenuNames(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	out := make(map[string]Called, len(menu))
	for key, name := range menu {
		out[key] = Called{Name: name}
	}
	trials, err := st.NamingTrials(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	for _, t := range trials {
		turns := TurnsOf(t)
		if t.EndedAt != nil || !turns.On(day) {
			continue
		}
		c, amount := Called{Name: t.NameA}, t.PriceA
		if turns.Second(day) {
			c.Name, amount = t.NameB, t.PriceB
		}
		if amount != nil {
			price, err := sh.Price(*amount, "kg")
			if err != nil {
				return nil, err
			}
			c.Price = &price
		}
		out[t.ProductKey] = c
	}
	return out, nil
}
