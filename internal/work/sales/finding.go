package sales

import (
	"context"
	"strings"

	"falda/internal/core/measure"
	"falda/internal/core/till"
	"falda/internal/work/goods"
	"falda/internal/work/labels"
	"falda/internal/work/shop"
)

// finder finds the product that a line means.
type finder struct {
	products map[string]goods.Product
	byItem   map[string]string
	byName   map[string]string
	said     map[string]string // by people; empty for what is not of the counter
	prefix   string
	labels   labels.Settings
}

func (s *Service) finder(ctx context.Context, sh shop.WithPlans) (finder, error) {
	f := finder{byItem: map[string]string{}, byName: map[string]string{}, said: map[string]string{}}
	var err error
	if f.products, err = s.goods.Products(ctx, sh); err != nil {
		return f, err
	}
	codes, err := s.store.ProductCodes(ctx, sh.ID)
	if err != nil {
		return f, err
	}
	for key, c := range codes {
		f.byItem[c.Item] = key
		if c.GTIN != "" {
			f.byName[strings.TrimLeft(c.GTIN, "0")] = key
		}
	}
	named := map[string]int{} // a name that two products share means neither
	for key, p := range f.products {
		f.byName[strings.ToLower(p.Name)] = key
		named[strings.ToLower(p.Name)]++
	}
	for name, n := range named {
		if n > 1 {
			delete(f.byName, name)
		}
	}
	menu, err := s.store.MenuNames(ctx, sh.ID)
	if err != nil {
		return f, err
	}
	for key, name := range menu {
		f.byName[strings.ToLower(name)] = key
	}
	said, err := s.store.SaleNames(ctx, sh.ID)
	if err != nil {
		return f, err
	}
	for _, n := range said {
		f.said[strings.ToLower(n.Said)] = n.ProductKey
	}
	f.labels, err = labels.SettingsOf(ctx, s.store, sh.Shop)
	f.prefix = f.labels.Prefix
	return f, err
}

// product finds it: by what somebody said of the till's words, by the name, and by the number last, for a till may
// number things in a way of its own.
func (f finder) product(l *Line) {
	key := ""
	for _, said := range []string{l.Name, l.Item} {
		if k, known := f.said[strings.ToLower(said)]; known && said != "" {
			if l.Skip = k == ""; l.Skip {
				return
			}
			key = k
			break
		}
	}
	if key == "" && l.Name != "" {
		key = f.byName[strings.ToLower(l.Name)]
	}
	if n, ok := till.ReadNumber(l.Item, f.prefix); ok {
		if own := f.byItem[n.Item]; key == "" {
			key = own
		} else if own != key {
			n.Coded = false
		}
		if n.Coded && f.labels.ByWeight && l.Mass == 0 && key != "" {
			l.Mass = measure.Mass(n.Inside) * measure.Gram
		}
	}
	for _, said := range []string{l.Item, strings.TrimLeft(l.Item, "0")} {
		if key == "" && said != "" {
			key = f.byName[strings.ToLower(said)]
		}
	}
	if _, ok := f.products[key]; ok {
		l.Key, l.Product = key, f.products[key].Name
	}
}

// guess is what a line weighs that says nothing of it: its amount by today's price; 0 where there is none.
func (f finder) guess(l Line) measure.Mass {
	price := f.products[l.Key].Price
	if price == nil || price.Amount.Sign() <= 0 {
		return 0
	}
	perKg := price.PerKilogram().Float()
	m, err := measure.FromGrams(l.Amount.Float() / perKg * 1000)
	if err != nil {
		return 0
	}
	return m
}
