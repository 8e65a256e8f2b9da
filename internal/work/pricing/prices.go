package pricing

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// PriceRow is a product of the atlas with its price, if it has one.
type PriceRow struct {
	Key       string
	Name      string
	Species   string
	Form      string
	ByProduct bool
	Price     measure.Price // zero when there is none
	Version   int           // 0 when there is none
	Each      measure.Mass  // of one portion, where plans aim at a weight; 0 otherwise
	Pieces    []string      // ids of what it is cut from, in the atlas' order
	MenuName  string        // what the shop calls it, beside its lawful name; empty where it says that
}

// Prices lists every product of the atlas once, with its price.
func (s *Service) Prices(ctx context.Context) ([]PriceRow, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.Prices(ctx, shop.ID)
	if err != nil {
		return nil, err
	}
	called, err := s.store.MenuNames(ctx, shop.ID)
	if err != nil {
		return nil, err
	}
	list := s.Products(shop, "")
	for i := range list {
		list[i].MenuName = called[list[i].Key]
		if row, ok := rows[list[i].Key]; ok {
			if list[i].Price, err = standing(shop.Shop, row); err != nil {
				return nil, err
			}
			list[i].Version = row.Version
		}
	}
	return list, nil
}

// standing reads a standing price as the database holds it.
func standing(sh shop.Shop, row store.Price) (measure.Price, error) {
	p, err := sh.Price(row.Amount, row.Per)
	if err != nil {
		return p, fmt.Errorf("price of %s: %w", row.ProductKey, err)
	}
	p.Spread = row.Spread
	return p, nil
}

// Products lists what the atlas' plans, their options and the shop's own plans make, each once; what only the own plan
// without makes is left out.
func (s *Service) Products(shop shop.WithPlans, without string) []PriceRow {
	at := map[string]int{}
	var list []PriceRow
	add := func(p atlas.Piece, products []atlas.Product) {
		for _, pr := range products {
			if pr.Form == atlas.FormPiece { // it is priced by what it is cut into
				continue
			}
			key := p.Key(pr)
			i, ok := at[key]
			if !ok {
				i = len(list)
				at[key] = i
				list = append(list,
					PriceRow{Key: key, Name: pr.Name, Species: p.Species, Form: pr.Form, ByProduct: pr.ByProduct(),
						Each: measure.Mass(pr.PortionG * float64(measure.Gram))})
			}
			if p.ID != "" && !slices.Contains(list[i].Pieces, p.ID) {
				list[i].Pieces = append(list[i].Pieces, p.ID)
			}
		}
	}
	for _, p := range s.atlas.Pieces {
		for _, pl := range p.Plans {
			add(p, pl.All())
		}
		for _, o := range p.Options {
			for _, c := range o.Choices {
				add(p, c.Products)
			}
		}
	}
	for _, c := range s.atlas.Carcasses {
		add(atlas.Piece{Species: c.Species}, s.atlas.Offal(c))
	}
	for _, o := range shop.Own {
		if p, ok := s.atlas.Find(o.AtlasID); ok && o.PublicID != without {
			add(p, o.Body.All())
		}
	}
	return list
}

// SetPrice sets the price of a product; version is that of the price it replaces, 0 where there is none.
func (s *Service) SetPrice(ctx context.Context, key, amount, per string, version int) (PriceRow, error) {
	defer s.shops.Wake() // what had no result, or no price, may have one now
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return PriceRow{}, err
	}
	var row PriceRow
	for _, p := range s.Products(shop, "") {
		if p.Key == key {
			row = p
		}
	}
	if row.Key == "" {
		return row, store.ErrNotFound
	}
	var faults fault.List
	row = row.changed(shop.Shop, PriceChange{key, amount, per, version}, "", &faults)
	if err := faults.Err(); err != nil {
		return row, err
	}
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if err := s.setPrice(ctx, tx, row, row.Price, version); err != nil {
			return err
		}
		return s.sharpen(ctx, tx, shop)
	})
	row.Version++
	return row, err
}

// changed reads a price that is to be set, with the version that it replaces; faults name "price" and "version" after
// what they stand at.
func (r PriceRow) changed(sh shop.Shop, c PriceChange, at string, faults *fault.List) PriceRow {
	var err error
	r.Price, err = sh.ParsePrice(c.Price, c.Per)
	faults.Add(at+"price", err)
	if c.Version < 0 {
		faults.Add(at+"version", fault.New("", "negative", "is below zero", "Send the version you have seen."))
	}
	r.Version = c.Version
	return r
}

// setPrice sets a price inside a transaction, with its row of the audit; version is that of the price it replaces.
func (s *Service) setPrice(ctx context.Context, tx *store.Store, product PriceRow, price measure.Price,
	version int) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	was, err := tx.Price(ctx, who.ShopID, product.Key)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	c := audit.Change{Action: "price.set", Subject: product.Key, SubjectName: product.Name,
		Became: map[string]any{"price": price.Amount.Text(measure.PriceDecimals), "per": string(price.Per)}}
	if err == nil {
		c.Was = map[string]any{"price": was.Amount, "per": was.Per}
	}
	if version == 0 { // what lacked a price may have one now
		if err := tx.StaleResults(ctx, who.ShopID); err != nil {
			return err
		}
	}
	row := store.Price{ShopID: who.ShopID, ProductKey: product.Key, Amount: price.Amount.Text(measure.PriceDecimals),
		Per: string(price.Per), Version: version}
	if err := tx.SetPrice(ctx, row); err != nil {
		return err
	}
	return s.audit.Write(ctx, tx, who, c)
}

// Freeze keeps prices and rates with a breakdown; thaw reads them back.
func Freeze(book map[string]measure.Price, rates value.Rates) *store.Pricing {
	p := &store.Pricing{Products: map[string]store.PriceOf{}, LabourRate: rates.LabourPerHour.Text(4),
		PackagingPerKg: rates.PackagingPerKg.Text(4), DiscardPerKg: rates.DiscardPerKg.Text(4)}
	for key, price := range book {
		p.Products[key] = store.PriceOf{Amount: price.Amount.Text(4), Per: string(price.Per), Spread: price.Spread}
	}
	for key, in := range rates.Ingredients {
		kept := store.KeptIngredient{Name: in.Name, Unit: in.Unit}
		if in.Price != nil {
			text := in.Price.Text(6)
			kept.Price = &text
		}
		if p.Ingredients == nil {
			p.Ingredients = map[string]store.KeptIngredient{}
		}
		p.Ingredients[key] = kept
	}
	return p
}

func Thaw(sh shop.Shop, p *store.Pricing) (map[string]measure.Price, value.Rates, error) {
	book := map[string]measure.Price{}
	var err error
	for key, kept := range p.Products {
		if book[key], err = sh.Price(kept.Amount, kept.Per); err != nil {
			return nil, value.Rates{}, fmt.Errorf("kept price of %s: %w", key, err)
		}
		price := book[key]
		price.Spread = kept.Spread
		book[key] = price
	}
	labour, err := measure.MoneyFromDecimal(p.LabourRate)
	if err != nil {
		return nil, value.Rates{}, err
	}
	packaging, err := measure.MoneyFromDecimal(p.PackagingPerKg)
	if err != nil {
		return nil, value.Rates{}, err
	}
	var discard measure.Money // nothing where it was kept before there was such a cost
	if p.DiscardPerKg != "" {
		discard, err = measure.MoneyFromDecimal(p.DiscardPerKg)
	}
	if err != nil {
		return nil, value.Rates{}, err
	}
	rates := value.Rates{LabourPerHour: labour, PackagingPerKg: packaging, DiscardPerKg: discard}
	for key, kept := range p.Ingredients {
		in := ingredient.Ingredient{Key: key, Name: kept.Name, Unit: kept.Unit}
		if kept.Price != nil {
			m, err := measure.MoneyFromDecimal(*kept.Price)
			if err != nil {
				return nil, value.Rates{}, err
			}
			in.Price = &m
		}
		if rates.Ingredients == nil {
			rates.Ingredients = ingredient.Book{}
		}
		rates.Ingredients[key] = in
	}
	return book, rates, nil
}
