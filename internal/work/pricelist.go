package work

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
)

// PriceColumns head a price list. A list that comes in needs the price and the key or the product; per is the kilogram where
// it is left out.
var PriceColumns = []string{"key", "product", "price", "per"}

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
}

// ImportPrices reads a price list, its heading first, and says what each line would do. With save it sets the good lines, all
// or none, and leaves the bad ones out.
func (s *Service) ImportPrices(ctx context.Context, rows [][]string, save bool) ([]PriceLine, error) {
	if len(rows) == 0 {
		return nil, fault.New("file", "empty", "has no lines", "Export the price list, change it and send it back.")
	}
	at := headingOf(rows[0])
	if !at.has("price") || (!at.has("key") && !at.has("product")) {
		return nil, fault.New("file", "no_heading", "does not begin with a heading that names the columns", "The first line must hold “price”, and “key” or “product”; “per” if not per kg.")
	}
	list, err := s.Prices(ctx)
	if err != nil {
		return nil, err
	}
	var lines []PriceLine
	seen := map[string]int{}
	for i, row := range rows[1:] {
		cell := at.of(row)
		l := readPriceLine(list, cell("key"), cell("product"), cell("price"), strings.ToLower(cell("per")))
		l.Line = i + 2
		if l.State != LineBad {
			if before, twice := seen[l.Product.Key]; twice {
				l.State, l.Fault = LineBad, fault.New("product", "twice", fmt.Sprintf("stands in line %d already", before), "Leave one of the two.")
			}
			seen[l.Product.Key] = l.Line
		}
		lines = append(lines, l)
	}
	if !save {
		return lines, nil
	}
	return lines, s.store.Tx(ctx, func(tx *store.Store) error {
		for _, l := range lines {
			if l.State != LineNew && l.State != LineChanged {
				continue
			}
			if err := s.setPrice(ctx, tx, l.Product, l.Price, l.Product.Version); err != nil {
				return err
			}
		}
		return nil
	})
}

func readPriceLine(list []PriceRow, key, product, price, per string) PriceLine {
	l := PriceLine{Named: product, Typed: price, State: LineBad}
	if l.Named == "" {
		l.Named = key
	}
	i := slices.IndexFunc(list, func(p PriceRow) bool { return key != "" && p.Key == key })
	if i < 0 && key == "" {
		i = slices.IndexFunc(list, func(p PriceRow) bool { return strings.EqualFold(p.Name, product) })
		if more := slices.IndexFunc(list[i+1:], func(p PriceRow) bool { return strings.EqualFold(p.Name, product) }); i >= 0 && more >= 0 {
			l.Fault = fault.New("product", "ambiguous", "is the name of several products", "Name it by its key.")
			return l
		}
	}
	if i < 0 {
		l.Fault = fault.New("product", "unknown", "“"+clip(l.Named)+"” is not a product of the atlas", "Name it as in the exported list.")
		return l
	}
	l.Product = list[i]
	if per == "" {
		per = "kg"
	}
	if l.Price, l.Fault = measure.ParsePrice(price, measure.Unit(per)); l.Fault != nil {
		return l
	}
	l.Price, l.Fault = measure.ParsePrice(l.Price.Amount.Text(moneyDecimals), l.Price.Per)
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
