package bench

import (
	"context"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/pricing"
	"falda/internal/work/stock"
)

// priceClose keeps the prices of the day with a breakdown that was just closed, and the rates of who cut it, and gives
// what it brought. What it gained on the other way of cutting by them stands with the breakdown.
func (s *Service) priceClose(ctx context.Context, v *BoardView, log []seam.Event) (*store.Result, error) {
	if v.Breakdown.Prices == nil { // closed anew, it keeps the prices of its first close
		now := s.now()
		b, err := s.prices.BookOn(ctx, v.Shop.Shop, "", v.Shop.Day(now))
		if err != nil {
			return nil, err
		}
		if len(v.Flow.Added) > 0 { // the board may have been read before an ingredient had its price
			shop, err := s.shops.WithPlans(ctx)
			if err != nil {
				return nil, err
			}
			v.Shop.Rates.Ingredients = shop.Rates.Ingredients
		}
		v.Breakdown.Prices, v.Breakdown.PricedAt = pricing.Freeze(b.Prices, v.Shop.RatesOf(MainRole(log))), &now
		v.Breakdown.Prices.Market, v.Breakdown.Prices.Season = b.Market.Name, b.Season
	}
	recorded, baseline, err := s.Sheets(ctx, *v, "")
	if err != nil {
		return nil, err
	}
	v.Breakdown.GainPerKg = gainOf(recorded, baseline)
	return resultOf(*v, recorded), nil
}

// Sheets lays a breakdown out as recorded, and the same parts as another plan would have cut them; against names the
// plan, or is empty for the traditional one (the first other, where that is how it was cut).
func (s *Service) Sheets(ctx context.Context, v BoardView, baseline string) (recorded, other value.Sheet, err error) {
	pl, err := baselinePlan(v, baseline)
	if err != nil {
		return recorded, other, err
	}
	if recorded, err = s.SheetAsCut(ctx, v); err != nil {
		return recorded, other, err
	}
	return recorded, Recut(recorded, pl), nil
}

// baselinePlan is the plan that a piece is compared with; see sheets.
func baselinePlan(v BoardView, baseline string) (atlas.Plan, error) {
	p := v.Card.Piece
	if baseline != "" {
		known, ok := p.Plan(baseline)
		if !ok {
			return known,
				fault.New("baseline", "unknown", fault.Quote(baseline)+" is not a plan of this piece", "Choose one of its plans.")
		}
		return known, nil
	}
	pl, _ := p.Traditional()
	if pl.ID == v.Plan.ID {
		for _, any := range p.Plans {
			if any.ID != v.Plan.ID {
				return any, nil
			}
		}
	}
	return pl, nil
}

// SheetAsCut lays a breakdown out as recorded, at the prices and rates of the day it was closed; what had no price on
// that day is taken at today's.
func (s *Service) SheetAsCut(ctx context.Context, v BoardView) (value.Sheet, error) {
	sheets, err := s.SheetsAsCut(ctx, v)
	if err != nil {
		return value.Sheet{}, err
	}
	return sheets[0], nil
}

// SheetsAsCut is SheetAsCut for boards of one shop; today's prices are read once.
func (s *Service) SheetsAsCut(ctx context.Context, boards ...BoardView) ([]value.Sheet, error) {
	if len(boards) == 0 {
		return nil, nil
	}
	today, _, err := s.prices.TodaysBook(ctx, boards[0].Shop.Shop)
	if err != nil {
		return nil, err
	}
	out := make([]value.Sheet, len(boards))
	for i, v := range boards {
		book, rates, err := pricing.Thaw(v.Shop.Shop, v.Breakdown.Prices)
		if err != nil {
			return nil, err
		}
		for key, price := range today {
			if _, known := book[key]; !known {
				book[key] = price
			}
		}
		if out[i], err = v.recordedSheet(book, rates); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// recordedSheet lays a piece out as it was weighed at the bench.
func (v BoardView) recordedSheet(book map[string]measure.Price, rates value.Rates) (value.Sheet, error) {
	cells, plan := value.Recorded(v.Card.Piece, v.Plan, v.Board)
	cost, err := stock.PieceCost(v.Shop.Shop, v.Card.Row)
	return value.Sheet{Atlas: v.Card.Piece, Plan: plan, Cells: cells, Prices: book, Minutes: v.Minutes, Rates: rates,
		Purchase: cost, Currency: v.Shop.Money}, err
}

// Recut lays the same piece, the parts that were weighed, out by another plan: at the same prices and wages, for the
// same purchase, in the minutes that the other plan takes on a piece of its weight.
func Recut(recorded value.Sheet, pl atlas.Plan) value.Sheet {
	mass := measure.Mass(0)
	for _, c := range recorded.Cells {
		if c.OfPiece() {
			mass += c.Mass
		}
	}
	other := recorded
	other.Plan, other.Minutes = pl, recorded.Atlas.MinutesAt(pl, mass)
	other.Cells = value.Recut(recorded.Atlas, pl, recorded.Cells)
	return other
}
