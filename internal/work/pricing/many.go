package pricing

import (
	"context"
	"fmt"
	"math/big"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
)

// maxChanges bounds how many prices are changed at once.
const maxChanges = 500

// PriceChange is a price to be set, as it is sent.
type PriceChange struct {
	Key, Price, Per string
	Version         int // of the price that it replaces, 0 where there is none
}

// SetPrices sets several standing prices, all or none of them. Faults name "prices[i].…"; a price that another has
// changed meanwhile is a conflict.
func (s *Service) SetPrices(ctx context.Context, changes []PriceChange) ([]PriceRow, error) {
	defer s.shops.Wake()
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	var faults fault.List
	if len(changes) == 0 || len(changes) > maxChanges {
		faults.Add("prices", fault.New("", "out_of_range", fmt.Sprintf("holds %d prices", len(changes)),
			fmt.Sprintf("Send 1 to %d of them.", maxChanges)))
		return nil, faults.Err()
	}
	known := map[string]PriceRow{}
	for _, p := range s.Products(shop, "") {
		known[p.Key] = p
	}
	rows := make([]PriceRow, len(changes))
	seen := map[string]bool{}
	for i, c := range changes {
		at := fmt.Sprintf("prices[%d].", i)
		row, ok := known[c.Key]
		if !ok || seen[c.Key] {
			faults.Add(at+"key", fault.New("", "unknown", "is not a product, or stands twice",
				"Send each product of the price list once."))
		}
		seen[c.Key] = true
		rows[i] = row.changed(shop.Shop, c, at, &faults)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	return rows, s.store.Tx(ctx, func(tx *store.Store) error {
		for i := range rows {
			if err := s.setPrice(ctx, tx, rows[i], rows[i].Price, rows[i].Version); err != nil {
				return err
			}
			rows[i].Version++
		}
		return s.sharpen(ctx, tx, shop)
	})
}

// Raised is a product with its standing price, and what it would be.
type Raised struct {
	PriceRow
	Becomes measure.Price
}

// Raise says what the standing prices of some products would be, changed by a percentage and rounded to a step of
// money; it sets nothing. Products without a price or with a guess, and prices that stay the same, are left out.
func (s *Service) Raise(ctx context.Context, keys []string, pct, step string) ([]Raised, error) {
	var faults fault.List
	by, err := measure.ParseNumber(pct)
	faults.Add("pct", err)
	if err == nil && (by.Cmp(big.NewRat(-90, 1)) < 0 || by.Cmp(big.NewRat(500, 1)) > 0 || by.Sign() == 0) {
		faults.Add("pct", fault.New("", "out_of_range", "must be from −90 to 500, and not 0",
			"Enter by how many percent, such as 5 or −10."))
	}
	coin, err := measure.ParseMoney(step)
	faults.Add("step", err)
	if err == nil && (coin.Sign() <= 0 || coin.Exact() != nil) {
		faults.Add("step", fault.New("", "not_above_zero", "must be above 0", "Enter a step such as 0.10."))
	}
	if len(keys) == 0 || len(keys) > maxChanges {
		faults.Add("keys", fault.New("", "out_of_range", fmt.Sprintf("holds %d products", len(keys)),
			fmt.Sprintf("Send 1 to %d of them.", maxChanges)))
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	asked := map[string]bool{}
	for _, k := range keys {
		asked[k] = true
	}
	list, err := s.Prices(ctx)
	out := []Raised{}
	for _, p := range list {
		if !asked[p.Key] || p.Version == 0 || p.Price.Guessed() {
			continue
		}
		if becomes := p.Price.RaisedBy(by, coin); becomes.Amount.Cmp(p.Price.Amount) != 0 {
			out = append(out, Raised{p, becomes})
		}
	}
	return out, err
}
