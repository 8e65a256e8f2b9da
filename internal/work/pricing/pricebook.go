package pricing

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// perPiece is the unit of a price by the piece.
const perPiece = "piece"

// maxMarkets bounds how many markets a shop has.
const maxMarkets = 20

// Sells lists where the shop sells, the main one first.
func (s *Service) Sells(ctx context.Context) ([]store.Market, error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.Markets(ctx, shop.ID)
}

// NewMarket is a market as it is entered.
type NewMarket struct {
	Name         string
	TaxPct       float64
	Main, Active bool
	Version      int
}

// SaveMarket adds a market, where id is empty, or changes one. The first is the main one; a main one takes the place of
// the other.
func (s *Service) SaveMarket(ctx context.Context, id string, in NewMarket) error {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	in.Name = strings.TrimSpace(in.Name)
	var faults fault.List
	faults.Add("name", fault.Text(in.Name, 60, true))
	if !(in.TaxPct >= 0 && in.TaxPct <= 100) {
		faults.Add("tax_pct", fault.New("", "out_of_range", "must be from 0 to 100", "Enter the tax in percent."))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		list, err := tx.Markets(ctx, shop.ID)
		if err != nil {
			return audit.Change{}, err
		}
		if slices.ContainsFunc(list,
			func(m store.Market) bool { return m.PublicID != id && words.SameName(m.Name, in.Name) }) {
			return audit.Change{},
				fault.NewConflict("name", "duplicate_name", "is the name of another market", "Choose another.")
		}
		row := store.Market{ShopID: shop.ID, Name: in.Name, TaxPct: in.TaxPct, Main: in.Main, Active: in.Active,
			Version: in.Version}
		became := map[string]any{"name": row.Name, "tax_pct": row.TaxPct, "main": row.Main, "active": row.Active}
		if id == "" {
			if len(list) >= maxMarkets {
				return audit.Change{},
					fault.New("name", "too_many", fmt.Sprintf("there are %d markets already", len(list)),
						"Rename one that is no longer used.")
			}
			row.PublicID, row.Active, row.Version, row.Main = store.NewID(), true, 1, len(list) == 0
			return audit.Change{Action: "market.added", Subject: row.PublicID, SubjectName: row.Name, Became: became},
				tx.CreateMarket(ctx, &row)
		}
		i := slices.IndexFunc(list, func(m store.Market) bool { return m.PublicID == id })
		if i < 0 {
			return audit.Change{}, store.ErrNotFound
		}
		was := list[i]
		row.ID, row.PublicID = was.ID, was.PublicID
		if was.Main { // there is always one
			row.Main, row.Active = true, true
		}
		row.Active = row.Active || row.Main
		return audit.Change{Action: "market.changed", Subject: id, SubjectName: row.Name,
			Was:    map[string]any{"name": was.Name, "tax_pct": was.TaxPct, "main": was.Main, "active": was.Active},
			Became: became}, tx.SaveMarket(ctx, row)
	})
}

// market gives a market of the shop by its public id, the main one where that is empty; ok is false where the shop has
// none.
func (s *Service) market(ctx context.Context, shop shop.Shop, id string) (m store.Market, ok bool, err error) {
	list, err := s.store.Markets(ctx, shop.ID)
	if err != nil || (id == "" && len(list) == 0) {
		return m, false, err
	}
	if id == "" {
		return list[0], true, nil
	}
	i := slices.IndexFunc(list, func(m store.Market) bool { return m.PublicID == id })
	if i < 0 {
		return m, false, fault.New("market", "unknown", "is not a market of this shop", "Choose one of its markets.")
	}
	return list[i], true, nil
}

// Book is the prices that hold on a market on a day.
type Book struct {
	Market store.Market // zero where the shop has none
	Season string
	Day    time.Time
	Prices map[string]measure.Price // by product key
	Quotes map[string]store.Quote   // those of them that are not standing prices
	Stands map[string]int           // versions of the standing prices
	// ByUse are the prices of what is valued by what it becomes instead; a zero one had none.
	ByUse map[string]measure.Price
}

// BookOn reads the prices of a market (the main one where it is empty) on a day: its own in force, and the standing
// ones where it has none.
func (s *Service) BookOn(ctx context.Context, shop shop.Shop, market string, day time.Time) (Book, error) {
	return s.BookIn(ctx, shop, market, day, nil)
}

// BookIn is bookOn as if it were another season, where one is given.
func (s *Service) BookIn(ctx context.Context, shop shop.Shop, market string, day time.Time, season *string) (Book,
	error) {
	b := Book{Day: day, Prices: map[string]measure.Price{}, Quotes: map[string]store.Quote{}, Stands: map[string]int{}}
	if b.Season = value.SeasonOn(shop.Seasons, b.Day); season != nil {
		b.Season = *season
	}
	rows, err := s.store.Prices(ctx, shop.ID)
	if err != nil {
		return b, err
	}
	for key, row := range rows {
		if b.Prices[key], err = standing(shop, row); err != nil {
			return b, err
		}
		b.Stands[key] = row.Version
	}
	m, ok, err := s.market(ctx, shop, market)
	if err != nil {
		return b, err
	}
	if ok {
		b.Market = m
		quotes, err := s.store.QuotesOn(ctx, shop.ID, m.ID, b.Day)
		if err != nil {
			return b, err
		}
		b.Quotes = inForce(quotes, b.Season, b.Day)
		for key, q := range b.Quotes {
			if b.Prices[key], err = quotePrice(shop, q); err != nil {
				return b, fmt.Errorf("price of %s: %w", key, err)
			}
		}
	}
	if err := s.valueByUse(ctx, shop, &b); err != nil {
		return b, err
	}
	s.priceOnward(shop, b.Prices)
	return b, nil
}

// valueByUse puts what trim becomes in the place of its price, where the shop values it so.
func (s *Service) valueByUse(ctx context.Context, shop shop.Shop, b *Book) error {
	if !shop.TrimByUse {
		return nil
	}
	list, err := s.store.TrimWorths(ctx, shop.ID)
	if err != nil {
		return err
	}
	b.ByUse = map[string]measure.Price{}
	for _, w := range list {
		price, err := shop.Price(w.PerKg, "kg")
		if err != nil {
			return fmt.Errorf("worth of %s: %w", w.ProductKey, err)
		}
		b.ByUse[w.ProductKey] = b.Prices[w.ProductKey]
		b.Prices[w.ProductKey] = price
	}
	return nil
}

// priceOnward gives what is cut further as a piece of its own a price: what it brings a kilogram cut the traditional
// way at its usual weight, less its packaging, labour and what is thrown away of it. A piece of which something has no
// price has none.
func (s *Service) priceOnward(sh shop.Shop, book map[string]measure.Price) {
	pieces, _ := s.atlas.Onward()
	for _, id := range pieces {
		p, ok := s.atlas.Find(id)
		if !ok {
			continue
		}
		pl, _ := p.Traditional()
		sheet := ForecastSheet(sh, p, pl, p.Typical(), book)
		if len(sheet.Unpriced()) > 0 {
			continue
		}
		perKg := sh.Money.Round(sheet.Totals().Value.Over(p.Typical().In(measure.UnitKilogram)))
		book[p.Species+"."+id] = measure.Price{Amount: perKg, Per: measure.UnitKilogram, Spread: value.SpreadOf(sheet)}
	}
}

// inForce picks from the quotes of one market the one of each product that holds on a day.
func inForce(quotes []store.Quote, season string, day time.Time) map[string]store.Quote {
	list := make([]value.Quote, len(quotes))
	for i, q := range quotes {
		list[i] = value.Quote{Key: q.ProductKey, Season: q.Season, From: q.ValidFrom}
	}
	out := map[string]store.Quote{}
	for key, i := range value.InForce(list, season, day) {
		out[key] = quotes[i]
	}
	return out
}

// quotePrice is a quote as a price by weight.
func quotePrice(sh shop.Shop, q store.Quote) (measure.Price, error) {
	if q.Per != perPiece {
		return sh.Price(q.Amount, q.Per)
	}
	amount, err := measure.MoneyFromDecimal(q.Amount)
	if err != nil {
		return measure.Price{}, err
	}
	return value.PerPiece(sh.Money.Of(amount), measure.Mass(q.PieceMg)), nil
}

// TodaysBook reads today's prices on the main market for sheets.
func (s *Service) TodaysBook(ctx context.Context, shop shop.Shop) (map[string]measure.Price, map[string]int, error) {
	b, err := s.BookOn(ctx, shop, "", shop.Day(s.now()))
	return b.Prices, b.Stands, err
}

// BookPrice is the price of a product that holds on a market.
type BookPrice struct {
	Market  store.Market
	InForce measure.Price // by weight; zero where there is none
	Quote   *store.Quote  // that it comes from; nil where it is the standing price
}

// BookRow is a product in a price book.
type BookRow struct {
	PriceRow              // with the standing price
	BookPrice             // on the market of the book
	At        []BookPrice // on every market that is in use, the main one first
}

// BookView is a price book with what stands in it.
type BookView struct {
	Book
	Rows   []BookRow
	Quotes []QuoteRow // all of the market, those to come and those that are over too
}

// QuoteRow is a price of the market with its product.
type QuoteRow struct {
	store.Quote
	Name  string
	State string // "in_force", "to_come", "over" or "other_season"
	Shown string // the price as it is shown
}

// PriceBook gives the prices that hold on a market on a day, and all that the market has.
func (s *Service) PriceBook(ctx context.Context, market, day string) (BookView, error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return BookView{}, err
	}
	on := shop.Day(s.now())
	if day != "" {
		if on, err = time.Parse(time.DateOnly, day); err != nil || on.Year() < 1990 || on.Year() > 2200 {
			return BookView{}, fault.New("day", "not_a_day", fault.Quote(day)+" is not a day", "Write it as 2026-05-15.")
		}
	}
	v := BookView{}
	if v.Book, err = s.BookOn(ctx, shop, market, on); err != nil {
		return v, err
	}
	products, err := s.Prices(ctx)
	if err != nil {
		return v, err
	}
	at, err := s.pricesAt(ctx, shop, v.Book)
	if err != nil {
		return v, err
	}
	names := map[string]string{}
	for _, p := range products {
		row := BookRow{PriceRow: p, BookPrice: BookPrice{Market: v.Market, InForce: v.Prices[p.Key]}}
		if q, ok := v.Book.Quotes[p.Key]; ok {
			row.Quote = &q
		}
		if row.At, err = at(p); err != nil {
			return v, err
		}
		names[p.Key] = p.Name
		v.Rows = append(v.Rows, row)
	}
	if v.Market.ID == 0 {
		return v, nil
	}
	quotes, err := s.store.Quotes(ctx, shop.ID, v.Market.ID)
	for _, q := range quotes {
		state := "over"
		switch now, ok := v.Book.Quotes[q.ProductKey]; {
		case ok && now.ID == q.ID:
			state = "in_force"
		case q.ValidFrom.After(v.Day):
			state = "to_come"
		case q.Season != "" && q.Season != v.Season:
			state = "other_season"
		}
		v.Quotes = append(v.Quotes, QuoteRow{q, names[q.ProductKey], state, shop.Shown(q.Amount)})
	}
	return v, err
}

// pricesAt reads what every market that is in use has on the day of a book, and gives what a product costs on each.
func (s *Service) pricesAt(ctx context.Context, shop shop.Shop, b Book) (func(PriceRow) ([]BookPrice, error), error) {
	markets, err := s.store.Markets(ctx, shop.ID)
	if err != nil {
		return nil, err
	}
	quotes, err := s.store.AllQuotesOn(ctx, shop.ID, b.Day)
	if err != nil {
		return nil, err
	}
	of := map[int64][]store.Quote{}
	for _, q := range quotes {
		of[q.MarketID] = append(of[q.MarketID], q)
	}
	held := map[int64]map[string]store.Quote{}
	for id, list := range of {
		held[id] = inForce(list, b.Season, b.Day)
	}
	return func(p PriceRow) ([]BookPrice, error) {
		var out []BookPrice
		for _, m := range markets {
			if !m.Active {
				continue
			}
			x := BookPrice{Market: m, InForce: p.Price}
			if q, ok := held[m.ID][p.Key]; ok {
				x.Quote = &q
				if x.InForce, err = quotePrice(shop, q); err != nil {
					return nil, fmt.Errorf("price of %s: %w", p.Key, err)
				}
			}
			out = append(out, x)
		}
		return out, nil
	}, nil
}
