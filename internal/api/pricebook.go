package api

import (
	"context"
	"errors"
	"math/big"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work/pricing"
)

func season(s value.Season) contract.Season {
	return contract.Season{Name: s.Name, From: s.From, To: s.To}
}

func market(m store.Market) contract.Market {
	return contract.Market{Id: m.PublicID, Name: m.Name, TaxPct: m.TaxPct, Main: m.Main, Active: m.Active,
		Version: m.Version}
}

func (h *handlers) markets(ctx context.Context) ([]contract.Market, error) {
	list, err := h.work.Pricing.Sells(ctx)
	return each(list, market), err
}

func (h *handlers) ListMarkets(ctx context.Context,
	_ contract.ListMarketsRequestObject) (contract.ListMarketsResponseObject, error) {
	list, err := h.markets(ctx)
	return contract.ListMarkets200JSONResponse(list), err
}

func (h *handlers) AddMarket(ctx context.Context, r contract.AddMarketRequestObject) (contract.AddMarketResponseObject,
	error) {
	if err := h.work.Pricing.SaveMarket(ctx, "", pricing.NewMarket{Name: r.Body.Name, TaxPct: r.Body.TaxPct}); err != nil {
		return nil, err
	}
	list, err := h.markets(ctx)
	return contract.AddMarket200JSONResponse(list), err
}

func (h *handlers) ChangeMarket(ctx context.Context,
	r contract.ChangeMarketRequestObject) (contract.ChangeMarketResponseObject, error) {
	b := r.Body
	if err := h.work.Pricing.SaveMarket(ctx, r.MarketId,
		pricing.NewMarket{Name: b.Name, TaxPct: b.TaxPct, Main: b.Main, Active: b.Active, Version: b.Version}); err != nil {
		return nil, err
	}
	list, err := h.markets(ctx)
	return contract.ChangeMarket200JSONResponse(list), err
}

func (h *handlers) GetPriceBook(ctx context.Context,
	r contract.GetPriceBookRequestObject) (contract.GetPriceBookResponseObject, error) {
	v, err := h.work.Pricing.PriceBook(ctx, from(r.Params.Market), from(r.Params.Day))
	if err != nil {
		return nil, err
	}
	shop, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return nil, err
	}
	out := contract.GetPriceBook200JSONResponse{Market: some(v.Market.PublicID), Season: v.Season,
		Day: v.Day.Format(time.DateOnly), Seasons: each(shop.Shop.Seasons, season), HasFeed: h.feed != nil,
		Quotes: each(v.Quotes, quote)}
	if out.Markets, err = h.markets(ctx); err != nil {
		return nil, err
	}
	for _, row := range v.Rows {
		x := bookPrice(row.BookPrice)
		out.Rows = append(out.Rows, contract.BookRow{Product: price(row.PriceRow), Price: x.Price,
			Per: (*contract.BookRowPer)(x.Per), WithTax: x.WithTax, Source: contract.BookRowSource(x.Source), Season: x.Season,
			ValidFrom: x.ValidFrom, At: each(row.At, bookPrice), Pieces: texts(row.Pieces)})
	}
	return out, nil
}

func bookPrice(p pricing.BookPrice) contract.BookPrice {
	x := contract.BookPrice{Market: p.Market.PublicID, Source: "none"}
	if p.InForce.Per != "" {
		tax := new(big.Rat).Add(big.NewRat(1, 1), new(big.Rat).SetFrac64(int64(p.Market.TaxPct*100+0.5), 10_000))
		x.Price, x.Per, x.WithTax, x.Source = some(priceText(p.InForce)), some(contract.BookPricePer(p.InForce.Per)),
			some(p.InForce.Amount.Times(tax).String()), "standing"
	}
	if q := p.Quote; q != nil {
		x.Source, x.Season, x.ValidFrom = "market", some(q.Season), some(q.ValidFrom.Format(time.DateOnly))
		if q.Source == "feed" {
			x.Source = "feed"
		}
	}
	return x
}

func quote(q pricing.QuoteRow) contract.Quote {
	out := contract.Quote{Id: q.PublicID, ProductKey: q.ProductKey, Name: q.Name, Season: q.Season,
		ValidFrom: q.ValidFrom.Format(time.DateOnly), Price: q.Shown, Per: contract.QuotePer(q.Per),
		Source: contract.QuoteSource(q.Source), State: contract.QuoteState(q.State), Version: q.Version}
	if q.PieceMg > 0 {
		out.PieceG = some(measure.Mass(q.PieceMg).Grams())
	}
	return out
}

func (h *handlers) SetQuote(ctx context.Context, r contract.SetQuoteRequestObject) (contract.SetQuoteResponseObject,
	error) {
	b := r.Body
	err := h.work.Pricing.SetQuote(ctx,
		pricing.NewQuote{Market: b.Market, Season: from(b.Season), Key: b.ProductKey, From: b.ValidFrom, Amount: b.Price,
			Per: string(b.Per), PieceG: from(b.PieceG), Version: b.Version})
	return contract.SetQuote204Response{}, err
}

func (h *handlers) DropQuote(ctx context.Context, r contract.DropQuoteRequestObject) (contract.DropQuoteResponseObject,
	error) {
	return contract.DropQuote204Response{}, h.work.Pricing.DropQuote(ctx, r.QuoteId, r.Params.Version)
}

// productNames gives what products are called, by key.
func (h *handlers) productNames(ctx context.Context) (map[string]string, error) {
	products, err := h.work.Pricing.Prices(ctx)
	names := make(map[string]string, len(products))
	for _, p := range products {
		names[p.Key] = p.Name
	}
	return names, err
}

func (h *handlers) ListDemands(ctx context.Context,
	_ contract.ListDemandsRequestObject) (contract.ListDemandsResponseObject, error) {
	list, err := h.work.Pricing.Demands(ctx)
	if err != nil {
		return nil, err
	}
	names, err := h.productNames(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListDemands200JSONResponse(each(list, func(d pricing.DemandRow) contract.Demand {
		return contract.Demand{ProductKey: d.ProductKey, Name: names[d.ProductKey], Season: d.Season,
			WeekG: measure.Mass(d.WeekMg).Grams(), Fallback: d.Shown, Version: d.Version}
	})), nil
}

func (h *handlers) SetDemand(ctx context.Context, r contract.SetDemandRequestObject) (contract.SetDemandResponseObject,
	error) {
	b := r.Body
	err := h.work.Pricing.SetDemand(ctx,
		pricing.NewDemand{Key: b.ProductKey, Season: from(b.Season), Week: b.Week, Unit: string(from(b.Unit)),
			Fallback: from(b.Fallback), Version: b.Version})
	return contract.SetDemand204Response{}, err
}

func (h *handlers) ReadFeed(ctx context.Context, r contract.ReadFeedRequestObject) (contract.ReadFeedResponseObject,
	error) {
	if h.feed == nil {
		return nil,
			fault.New("", "no_feed", "The program was started without a market feed.",
				"Start it with --price-feed, or read a list in.")
	}
	body, err := h.feed.Read(ctx)
	if err != nil {
		return nil,
			fault.New("", "feed_silent", "The market feed does not answer.",
				"Look whether it runs, and try again; nothing was changed.")
	}
	defer body.Close()
	rows, err := readTable(ctx, body)
	switch {
	case errors.Is(err, device.ErrLongFeed):
		return nil,
			fault.New("", "feed_too_long", "The market feed holds more than 2 MiB.",
				"Have it cut into shorter lists; nothing was changed.")
	case err != nil && fault.Of(err) == nil && ctx.Err() == nil:
		return nil,
			fault.New("", "feed_silent", "The market feed fell silent in the middle.",
				"Look whether it runs, and try again; nothing was changed.")
	case err != nil:
		return nil, err
	}
	out, err := h.priceImport(ctx, rows, from(r.Params.Save), true)
	return contract.ReadFeed200JSONResponse(out), err
}

// CopyPrices reads another shop's prices and says what they would do here.
func (h *handlers) CopyPrices(ctx context.Context,
	r contract.CopyPricesRequestObject) (contract.CopyPricesResponseObject, error) {
	save := from(r.Params.Save)
	lines, err := h.work.Pricing.CopyPrices(ctx, r.Params.ShopId, save)
	if err != nil {
		return nil, err
	}
	return contract.CopyPrices200JSONResponse(imported(lines, save)), nil
}

// priceImport reads a price list, from a file or the feed, and says what each line does.
func (h *handlers) priceImport(ctx context.Context, rows [][]string, save, feed bool) (contract.PriceImport, error) {
	read := h.work.Pricing.ImportPrices
	if feed {
		read = h.work.Pricing.ImportFeed
	}
	lines, err := read(ctx, rows, save)
	if err != nil {
		return contract.PriceImport{}, err
	}
	return imported(lines, save), nil
}

func imported(lines []pricing.PriceLine, save bool) contract.PriceImport {
	out := contract.PriceImport{Lines: each(lines, priceLine), Saved: save}
	for _, l := range lines {
		switch l.State {
		case pricing.LineBad:
			out.Bad++
		case pricing.LineSame:
			out.Same++
		default:
			out.Set++
		}
	}
	return out
}
