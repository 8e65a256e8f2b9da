package api

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/ladder"
	"falda/internal/core/measure"
	"falda/internal/work/pricing"
)

// priceText shows a price with the decimals of its currency, or with four where it was given with more.
func priceText(p measure.Price) string { return p.Amount.Full() }

func price(r pricing.PriceRow) contract.Price {
	out := contract.Price{Key: r.Key, Name: r.Name, Species: r.Species, Form: r.Form, Kind: "meat", Per: "kg",
		Version: r.Version, MenuName: some(r.MenuName)}
	if r.ByProduct {
		out.Kind = "by_product"
	}
	if r.Version > 0 {
		out.Price, out.Per = priceText(r.Price), contract.PricePer(r.Price.Per)
		out.Guess = guessRange(r.Price)
	}
	return out
}

// guessRange is the range of a guess; nil of a price that is known.
func guessRange(p measure.Price) *contract.PriceGuess {
	if !p.Guessed() {
		return nil
	}
	low, high := ladder.Guess{Price: p.Amount.Float(), Spread: p.Spread}.Within()
	return &contract.PriceGuess{Low: fmt.Sprintf("%.2f", low), High: fmt.Sprintf("%.2f", high)}
}

// GuessPrices guesses what has no price.
func (h *handlers) GuessPrices(ctx context.Context,
	_ contract.GuessPricesRequestObject) (contract.GuessPricesResponseObject, error) {
	g, err := h.work.Pricing.GuessPrices(ctx)
	if err != nil {
		return nil, err
	}
	return contract.GuessPrices200JSONResponse{Known: g.Known, Guessed: g.Guessed, Without: texts(g.Without)}, nil
}

// DropGuesses takes the guesses away.
func (h *handlers) DropGuesses(ctx context.Context,
	_ contract.DropGuessesRequestObject) (contract.DropGuessesResponseObject, error) {
	if err := h.work.Pricing.DropGuesses(ctx); err != nil {
		return nil, err
	}
	return contract.DropGuesses204Response{}, nil
}

func (h *handlers) ListPrices(ctx context.Context,
	_ contract.ListPricesRequestObject) (contract.ListPricesResponseObject, error) {
	rows, err := h.work.Pricing.Prices(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListPrices200JSONResponse(each(rows, price)), nil
}

func (h *handlers) SetPrice(ctx context.Context, r contract.SetPriceRequestObject) (contract.SetPriceResponseObject,
	error) {
	row, err := h.work.Pricing.SetPrice(ctx, r.ProductKey, r.Body.Price, string(r.Body.Per), r.Body.Version)
	if err != nil {
		return nil, err
	}
	return contract.SetPrice200JSONResponse(price(row)), nil
}

// SetMenuName sets what the shop calls a product.
func (h *handlers) SetMenuName(ctx context.Context,
	r contract.SetMenuNameRequestObject) (contract.SetMenuNameResponseObject, error) {
	row, err := h.work.Pricing.SetMenuName(ctx, r.ProductKey, r.Body.Was, r.Body.Name)
	if err != nil {
		return nil, err
	}
	return contract.SetMenuName200JSONResponse(price(row)), nil
}

func (h *handlers) SetPrices(ctx context.Context,
	r contract.SetPricesRequestObject) (contract.SetPricesResponseObject, error) {
	rows, err := h.work.Pricing.SetPrices(ctx, each(r.Body.Prices, func(c contract.PriceChange) pricing.PriceChange {
		return pricing.PriceChange{Key: c.Key, Price: c.Price, Per: string(c.Per), Version: c.Version}
	}))
	if err != nil {
		return nil, err
	}
	return contract.SetPrices200JSONResponse(each(rows, price)), nil
}

func (h *handlers) RaisePrices(ctx context.Context,
	r contract.RaisePricesRequestObject) (contract.RaisePricesResponseObject, error) {
	rows, err := h.work.Pricing.Raise(ctx, r.Body.Keys, r.Body.Pct, r.Body.Step)
	if err != nil {
		return nil, err
	}
	return contract.RaisePrices200JSONResponse(each(rows, func(x pricing.Raised) contract.RaisedPrice {
		return contract.RaisedPrice{Product: price(x.PriceRow), Becomes: priceText(x.Becomes)}
	})), nil
}

func (h *handlers) ExportPrices(ctx context.Context,
	r contract.ExportPricesRequestObject) (contract.ExportPricesResponseObject, error) {
	if err := tableFormat(r.Params.Format); err != nil {
		return nil, err
	}
	rows, err := h.work.Pricing.PriceList(ctx)
	if err != nil {
		return nil, err
	}
	return file{r.Params.Format, "prices-" + h.work.Now().Format(time.DateOnly), "Prices", pricing.PriceColumns,
		func(put func([]string) error) error {
			for _, row := range rows {
				if err := put(row); err != nil {
					return err
				}
			}
			return nil
		}, h.log}, nil
}

func (h *handlers) ImportPrices(ctx context.Context,
	r contract.ImportPricesRequestObject) (contract.ImportPricesResponseObject, error) {
	rows, err := readTable(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	out, err := h.priceImport(ctx, rows, from(r.Params.Save), false)
	return contract.ImportPrices200JSONResponse(out), err
}

func priceLine(l pricing.PriceLine) contract.PriceLine {
	out := contract.PriceLine{Line: l.Line, Product: l.Named, Price: l.Typed, State: contract.PriceLineState(l.State)}
	if l.Product.Key != "" {
		out.Key, out.Product = &l.Product.Key, l.Product.Name
	}
	if l.Quote != nil {
		out.Where, out.Was, out.Per = some(l.Where), some(l.Was), some(l.Quote.Per)
		out.Price = l.Shown
		return out
	}
	if l.Product.Version > 0 {
		out.Was = some(priceText(l.Product.Price) + " per " + string(l.Product.Price.Per))
	}
	if f := fault.Of(l.Fault); f != nil {
		out.Fault = some(strings.TrimSpace(f[0].Message + ". " + f[0].Hint))
		return out
	}
	out.Price, out.Per = priceText(l.Price), some(string(l.Price.Per))
	return out
}

// GetSameMeat lists the muscles that are sold under several names.
func (h *handlers) GetSameMeat(ctx context.Context, _ contract.GetSameMeatRequestObject) (
	contract.GetSameMeatResponseObject, error) {
	list, err := h.work.Pricing.SameMeat(ctx)
	if err != nil {
		return nil, err
	}
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	out := contract.GetSameMeat200JSONResponse{}
	for _, m := range list {
		x := contract.SameMeat{Muscle: m.Muscle.Name, Anatomical: m.Muscle.Anatomical, Species: m.Species}
		for i, p := range m.Products {
			row := contract.SoldAs{Key: p.Key, ProductId: p.Product.ID, Name: m.Names[i], AtlasId: p.Piece.ID,
				Piece: p.Piece.NameIn(market), SharePct: tenths(p.SharePct), EdiblePct: tenths(p.EdiblePct), Others: []string{}}
			for _, in := range slices.Sorted(maps.Keys(m.Others[i])) {
				row.Others = append(row.Others, in+": "+strings.Join(m.Others[i][in], ", "))
			}
			row.MenuName = some(m.Menu[i])
			if price := m.Prices[i]; price != nil {
				row.Price, row.PricePer = some(priceText(*price)), some(string(price.Per))
				row.EdiblePerKg = some(m.Edible[i].String())
			}
			x.Products = append(x.Products, row)
		}
		out = append(out, x)
	}
	return out, nil
}
