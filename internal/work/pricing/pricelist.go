package pricing

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work/shop"
)

// PriceColumns head a price list. A list that comes in needs the price and the key or the product; per is the kilogram
// where it is left out. A line that names a market sets a price there, for a season or the whole year, from a day on
// (today where it is left out); one that names none sets the standing price.
var PriceColumns = []string{"key", "product", "price", "per", "piece_g", "market", "season", "valid_from"}

// What a line of a price list does.
const (
	LineNew     = "new"
	LineChanged = "changed"
	LineSame    = "same"
	LineBad     = "bad"
)

// PriceLine is one line of a price list that came in.
type PriceLine struct {
	Line    int // of the file, its heading counted
	Product PriceRow
	Named   string // as the line names it
	Typed   string
	Price   measure.Price
	State   string
	Fault   error
	Quote   *store.Quote // what it sets on a market; nil for a standing price
	Where   string       // market, season and day
	Was     string       // of the market
	Shown   string       // the price it sets there
}

// priceLists is what lines are read against.
type priceLists struct {
	shop     shop.Shop
	products []PriceRow
	markets  []store.Market
	quotes   []store.Quote
	source   string
}

func (s *Service) priceLists(ctx context.Context, source string) (l priceLists, err error) {
	l.source = source
	if l.shop, err = s.shops.Current(ctx); err != nil {
		return l, err
	}
	if l.products, err = s.Prices(ctx); err != nil {
		return l, err
	}
	if l.markets, err = s.store.Markets(ctx, l.shop.ID); err != nil {
		return l, err
	}
	l.quotes, err = s.store.Quotes(ctx, l.shop.ID, 0)
	return l, err
}

// ImportPrices reads a price list, its heading first, and says what each line would do. With save it sets the good
// lines, all or none, and leaves the bad ones out.
func (s *Service) ImportPrices(ctx context.Context, rows [][]string, save bool) ([]PriceLine, error) {
	return s.importPrices(ctx, rows, save, "given")
}

// ImportFeed is ImportPrices for what a market's feed says; its prices are marked so.
func (s *Service) ImportFeed(ctx context.Context, rows [][]string, save bool) ([]PriceLine, error) {
	return s.importPrices(ctx, rows, save, "feed")
}

func (s *Service) importPrices(ctx context.Context, rows [][]string, save bool, source string) ([]PriceLine, error) {
	defer s.shops.Wake() // what had no price may have one now
	if len(rows) == 0 {
		return nil, fault.New("file", "empty", "has no lines", "Export the price list, change it and send it back.")
	}
	at := tabular.HeadingOf(rows[0])
	if !at.Has("price") || (!at.Has("key") && !at.Has("product")) {
		return nil,
			fault.New("file", "no_heading", "does not begin with a heading that names the columns",
				"The first line must hold “price”, and “key” or “product”; “per” if not per kg.")
	}
	list, err := s.priceLists(ctx, source)
	if err != nil {
		return nil, err
	}
	var lines []PriceLine
	seen := map[string]int{}
	for i, row := range rows[1:] {
		cell := at.Of(row)
		l := readPriceLine(list.shop, list.products, cell("key"), cell("product"), cell("price"),
			strings.ToLower(cell("per")), cell("market") != "")
		l.Line = i + 2
		if l.Fault == nil && cell("market") != "" {
			s.readQuoteLine(ctx, list, &l, cell)
		}
		if l.State != LineBad {
			one := l.Product.Key + "\x00" + l.Where
			if before, twice := seen[one]; twice {
				l.State, l.Fault = LineBad,
					fault.New("product", "twice", fmt.Sprintf("stands in line %d already", before), "Leave one of the two.")
			}
			seen[one] = l.Line
		}
		lines = append(lines, l)
	}
	if !save {
		return lines, nil
	}
	return lines, s.store.Tx(ctx, func(tx *store.Store) error { return s.savePriceLines(ctx, tx, list.shop.ID, lines) })
}

// savePriceLines sets the prices of the good lines.
func (s *Service) savePriceLines(ctx context.Context, tx *store.Store, shopID int64, lines []PriceLine) error {
	var seasons []string
	for _, l := range lines {
		if l.Quote != nil {
			seasons = append(seasons, l.Quote.Season)
		}
	}
	if err := holdSeasons(ctx, tx, shopID, seasons...); err != nil {
		return err
	}
	for _, l := range lines {
		if l.State != LineNew && l.State != LineChanged {
			continue
		}
		var err error
		if l.Quote != nil {
			err = s.setQuote(ctx, tx, *l.Quote, l.Product)
		} else {
			err = s.setPrice(ctx, tx, l.Product, l.Price, l.Product.Version)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// readQuoteLine reads what a line says of a market.
func (s *Service) readQuoteLine(ctx context.Context, list priceLists, l *PriceLine, cell func(string) string) {
	l.State = LineBad
	i := slices.IndexFunc(list.markets, func(m store.Market) bool { return strings.EqualFold(m.Name, cell("market")) })
	if i < 0 {
		l.Fault = fault.New("market", "unknown", fault.Quote(cell("market"))+" is not a market of this shop",
			"Add it first, or write it as it is called.")
		return
	}
	in := NewQuote{Market: list.markets[i].PublicID, Season: cell("season"), Key: l.Product.Key, From: cell("valid_from"),
		Amount: l.Typed, Per: strings.ToLower(cell("per")), Source: list.source}
	for _, season := range list.shop.Seasons {
		if strings.EqualFold(season.Name, in.Season) {
			in.Season = season.Name
		}
	}
	if in.From == "" {
		in.From = list.shop.Day(s.now()).Format(time.DateOnly)
	}
	if in.Per == "" {
		in.Per = "kg"
	}
	if text := cell("piece_g"); text != "" {
		g, err := measure.ParseNumber(text)
		if err != nil {
			l.Fault = err
			return
		}
		in.PieceG, _ = g.Float64()
	}
	q, _, err := s.readQuote(ctx, list.shop, list.products, in)
	if err != nil {
		l.Fault = err
		return
	}
	l.Quote, l.State, l.Where, l.Shown = &q, LineNew, list.markets[i].Name, list.shop.Shown(q.Amount)
	if q.Season != "" {
		l.Where += ", " + q.Season
	}
	l.Where += ", from " + q.ValidFrom.Format(time.DateOnly)
	for _, was := range list.quotes {
		if was.MarketID == q.MarketID && was.ProductKey == q.ProductKey && was.Season == q.Season &&
			was.ValidFrom.Equal(q.ValidFrom) {
			q.Version, l.State, l.Was = was.Version, LineChanged, list.shop.Shown(was.Amount)+" per "+was.Per
			if was.Amount == q.Amount && was.Per == q.Per && was.PieceMg == q.PieceMg {
				l.State = LineSame
			}
		}
	}
}

func readPriceLine(sh shop.Shop, list []PriceRow, key, product, price, per string, onMarket bool) PriceLine {
	l := PriceLine{Named: product, Typed: price, State: LineBad}
	if l.Named == "" {
		l.Named = key
	}
	i := slices.IndexFunc(list, func(p PriceRow) bool { return key != "" && p.Key == key })
	if i < 0 && key == "" {
		i = slices.IndexFunc(list, func(p PriceRow) bool { return strings.EqualFold(p.Name, product) })
		if more := slices.IndexFunc(list[i+1:],
			func(p PriceRow) bool { return strings.EqualFold(p.Name, product) }); i >= 0 && more >= 0 {
			l.Fault = fault.New("product", "ambiguous", "is the name of several products", "Name it by its key.")
			return l
		}
	}
	if i < 0 {
		l.Fault = fault.New("product", "unknown", fault.Quote(l.Named)+" is not a product of the atlas",
			"Name it as in the exported list.")
		return l
	}
	l.Product = list[i]
	if per == "" || (onMarket && per == perPiece) {
		per = "kg"
	}
	if per == perPiece {
		l.Fault = fault.New("per", "unknown_unit", "the standing price is by weight", "Name a market to price by the piece.")
		return l
	}
	if l.Price, l.Fault = sh.ParsePrice(price, per); l.Fault != nil {
		return l
	}
	was := l.Product.Price
	switch {
	case l.Product.Version == 0:
		l.State = LineNew
	case was.Per == l.Price.Per && was.Amount.Cmp(l.Price.Amount) == 0:
		l.State = LineSame
	default:
		l.State = LineChanged
	}
	return l
}

// PriceList gives the whole price list as rows of PriceColumns: the standing prices of all products, then what each
// market has.
func (s *Service) PriceList(ctx context.Context) ([][]string, error) {
	list, err := s.priceLists(ctx, "")
	if err != nil {
		return nil, err
	}
	var rows [][]string
	names := map[string]string{}
	for _, p := range list.products {
		names[p.Key] = p.Name
		price, per := "", "kg"
		if p.Version > 0 && !p.Price.Guessed() { // a guess does not go out as a price
			price, per = p.Price.Amount.Full(), string(p.Price.Per)
		}
		rows = append(rows, []string{p.Key, p.Name, price, per, "", "", "", ""})
	}
	for _, q := range list.quotes {
		market := ""
		for _, m := range list.markets {
			if m.ID == q.MarketID {
				market = m.Name
			}
		}
		each := ""
		if q.Per == perPiece {
			each = measure.Mass(q.PieceMg).Text(measure.UnitGram, 1)
			each, _, _ = strings.Cut(each, " ")
		}
		rows = append(rows,
			[]string{q.ProductKey, names[q.ProductKey], list.shop.Shown(q.Amount), q.Per, each, market, q.Season,
				q.ValidFrom.Format(time.DateOnly)})
	}
	return rows, nil
}
