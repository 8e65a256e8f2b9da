package pricing

import (
	"context"
	"maps"
	"slices"

	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// CopyPrices reads the standing prices of another shop of the caller's, in which they may see to prices too, as a list
// for this one, and says what each would do; with save it sets them. Guesses stay where they are.
func (s *Service) CopyPrices(ctx context.Context, from string, save bool) ([]PriceLine, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	here, err := s.shops.Current(ctx)
	if err != nil {
		return nil, err
	}
	theirs, err := s.store.ShopsOf(ctx, who.PersonID)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(theirs, func(m store.MemberShop) bool { return m.ShopPublic == from && m.ShopID != here.ID })
	if i < 0 || !slices.Contains([]string{"owner", "head_cutter", "yield_desk"}, theirs[i].Role) {
		return nil, store.ErrNotFound
	}
	if theirs[i].Example {
		return nil, fault.New("shop_id", "example", "is an example: its prices are made up", "Take a real shop's.")
	}
	there, err := s.store.Shop(ctx, theirs[i].ShopID)
	if err != nil {
		return nil, err
	}
	if there.Currency != here.Currency {
		return nil, fault.New("shop_id", "currency", "reckons in "+there.Currency+", this shop in "+here.Currency,
			"Export its list, convert it and import it here.")
	}
	rows, err := s.store.Prices(ctx, there.ID)
	if err != nil {
		return nil, err
	}
	list := [][]string{PriceColumns[:4]}
	for _, key := range slices.Sorted(maps.Keys(rows)) {
		if p := rows[key]; p.Spread == 0 {
			list = append(list, []string{key, "", p.Amount, p.Per})
		}
	}
	if len(list) == 1 {
		return nil, fault.New("shop_id", "no_prices", "has no prices that are known", "Take another shop.")
	}
	return s.ImportPrices(ctx, list, save)
}
