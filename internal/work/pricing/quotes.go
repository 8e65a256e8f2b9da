package pricing

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// NewQuote is a price as it is entered.
type NewQuote struct {
	Market, Season, Key, From string
	Amount, Per               string
	PieceG                    float64 // what one weighs, where it is by the piece; the product's own portion where 0
	Source                    string
	Version                   int // of the price it replaces; 0 adds one
}

// SetQuote sets a price of a market.
func (s *Service) SetQuote(ctx context.Context, in NewQuote) error {
	defer s.shops.Wake() // what had no result, or no price, may have one now
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	products, err := s.Prices(ctx)
	if err != nil {
		return err
	}
	q, product, err := s.readQuote(ctx, shop, products, in)
	if err != nil {
		return err
	}
	return s.store.Tx(ctx, func(tx *store.Store) error {
		if err := holdSeasons(ctx, tx, shop.ID, q.Season); err != nil {
			return err
		}
		return s.setQuote(ctx, tx, q, product)
	})
}

// holdSeasons holds the shop, so that no season goes of it until the transaction ends, and says whether it has these;
// the whole year has no name.
func holdSeasons(ctx context.Context, tx *store.Store, shopID int64, names ...string) error {
	row, err := tx.LockShop(ctx, shopID)
	if err != nil {
		return err
	}
	for _, name := range names {
		if name != "" && !slices.ContainsFunc(row.Seasons, func(x value.Season) bool { return x.Name == name }) {
			return fault.NewConflict("season", "unknown", fault.Quote(name)+" is not a season of this shop any more",
				"Use one of the settings, or none for the whole year.")
		}
	}
	return nil
}

// readQuote reads a price as it was entered; where the market has one for the same product, season and day, it takes
// its place.
func (s *Service) readQuote(ctx context.Context, shop shop.Shop, products []PriceRow, in NewQuote) (store.Quote,
	PriceRow, error) {
	var faults fault.List
	q := store.Quote{ShopID: shop.ID, Season: strings.TrimSpace(in.Season), ProductKey: in.Key, Per: in.Per,
		Source: "given", Version: in.Version}
	if in.Source != "" {
		q.Source = in.Source
	}
	var product PriceRow
	if i := slices.IndexFunc(products, func(p PriceRow) bool { return p.Key == in.Key }); i >= 0 {
		product = products[i]
	} else {
		faults.Add("product_key",
			fault.New("", "unknown", fault.Quote(in.Key)+" is not a product of the atlas", "Name it as in the list."))
	}
	m, ok, err := s.market(ctx, shop, in.Market)
	if err != nil && fault.Of(err) == nil {
		return q, product, err
	}
	faults.Add("", err)
	if err == nil && !ok {
		faults.Add("market", fault.New("", "required", "there is none yet", "Add a market first."))
	}
	q.MarketID = m.ID
	if q.Season != "" && !slices.ContainsFunc(shop.Seasons, func(x value.Season) bool { return x.Name == q.Season }) {
		faults.Add("season",
			fault.New("", "unknown", fault.Quote(q.Season)+" is not a season of this shop",
				"Use one of the settings, or none for the whole year."))
	}
	if q.ValidFrom, err = time.Parse(time.DateOnly, in.From); err != nil || q.ValidFrom.Year() < 2000 ||
		q.ValidFrom.Year() > 2100 {
		faults.Add("valid_from", fault.New("", "not_a_day", fault.Quote(in.From)+" is not a day", "Write it as 2026-05-15."))
	}
	unit := measure.Unit(in.Per)
	if in.Per == perPiece {
		unit = measure.UnitKilogram
		each, err := measure.FromGrams(in.PieceG)
		if in.PieceG == 0 && err == nil {
			each = product.Each
		}
		if err == nil && each <= 0 {
			err = fault.New("", "required", "is needed for a price by the piece", "Say what one weighs, in grams.")
		} else if err == nil && each < measure.Gram {
			err = fault.New("", "too_small", "is less than a gram", "Say what one weighs, in grams.")
		}
		faults.Add("piece_g", err)
		q.PieceMg = int64(each)
	}
	price, err := shop.ParsePrice(in.Amount, string(unit))
	if err == nil && q.PieceMg >= int64(measure.Gram) &&
		value.PerPiece(price.Amount, measure.Mass(q.PieceMg)).Amount.Cmp(measure.MaxRate) > 0 {
		err = fault.New("", "too_large", "is more than 100,000 a kilogram", "Check the price and what one weighs.")
	}
	faults.Add("price", err)
	if in.Version < 0 {
		faults.Add("version", fault.New("", "negative", "is below zero", "Send the version you have seen."))
	}
	q.Amount = price.Amount.Text(measure.PriceDecimals)
	return q, product, faults.Err()
}

// setQuote sets a price inside a transaction, with its row of the audit.
func (s *Service) setQuote(ctx context.Context, tx *store.Store, q store.Quote, product PriceRow) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	c := audit.Change{Action: "quote.set", Subject: q.ProductKey, SubjectName: product.Name,
		Became: map[string]any{"price": q.Amount, "per": q.Per, "season": q.Season,
			"valid_from": q.ValidFrom.Format(time.DateOnly)}}
	was, err := tx.QuoteAt(ctx, q)
	switch {
	case err == nil:
		q.PublicID = was.PublicID
		c.Was = map[string]any{"price": was.Amount, "per": was.Per}
	case errors.Is(err, store.ErrNotFound):
		if q.Version != 0 {
			return store.ErrConflict
		}
		q.PublicID = store.NewID()
	default:
		return err
	}
	if q.Version == 0 { // what lacked a price may have one now
		if err := tx.StaleResults(ctx, who.ShopID); err != nil {
			return err
		}
	}
	if err := tx.SetQuote(ctx, q); err != nil {
		return err
	}
	return s.audit.Write(ctx, tx, who, c)
}

// DropQuote takes a price of a market out.
func (s *Service) DropQuote(ctx context.Context, id string, version int) error {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		q, err := tx.Quote(ctx, shop.ID, id)
		if err != nil {
			return audit.Change{}, err
		}
		q.Version = version
		return audit.Change{Action: "quote.dropped", Subject: q.ProductKey, SubjectName: q.ProductKey,
			Was: map[string]any{"price": q.Amount, "per": q.Per, "season": q.Season,
				"valid_from": q.ValidFrom.Format(time.DateOnly)}}, tx.DropQuote(ctx, q)
	})
}
