package work

import (
	"context"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
)

// settle keeps the prices of the day with a breakdown that was just closed, and the rates of who cut it, and gives what it brought. What it
// gained on the other way of cutting by them stands with the breakdown.
func (s *Service) settle(ctx context.Context, v *BoardView, log []seam.Event) (*store.Result, error) {
	if v.Breakdown.Prices == nil { // closed anew, it keeps the prices of its first close
		now := s.now()
		b, err := s.bookOn(ctx, v.Shop.Shop, "", v.Shop.Day(now))
		if err != nil {
			return nil, err
		}
		v.Breakdown.Prices, v.Breakdown.PricedAt = freeze(b.Prices, v.Shop.ratesOf(mainRole(log))), &now
		v.Breakdown.Prices.Market, v.Breakdown.Prices.Season = b.Market.Name, b.Season
	}
	recorded, against, err := s.sheets(ctx, *v, "")
	if err != nil {
		return nil, err
	}
	v.Breakdown.GainPerKg = gainOf(recorded, against)
	return resultOf(*v, recorded), nil
}

// sheets lays a breakdown out as recorded, and the same parts as another plan would have cut them; against names the
// plan, or is empty for the traditional one (the first other, where that is how it was cut).
func (s *Service) sheets(ctx context.Context, v BoardView, against string) (recorded, other value.Sheet, err error) {
	pl, err := baselinePlan(v, against)
	if err != nil {
		return recorded, other, err
	}
	if recorded, err = s.asCut(ctx, v); err != nil {
		return recorded, other, err
	}
	return recorded, cutAs(recorded, pl), nil
}

// baselinePlan is the plan that a piece is compared with; see sheets.
func baselinePlan(v BoardView, against string) (atlas.Plan, error) {
	p := v.Card.Piece
	if against != "" {
		known, ok := p.Plan(against)
		if !ok {
			return known, fault.New("against", "unknown", fault.Quote(against)+" is not a plan of this piece", "Choose one of its plans.")
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

// asCut lays a breakdown out as recorded, at the prices and rates of the day it was closed; what had no price on that day is
// taken at today's.
func (s *Service) asCut(ctx context.Context, v BoardView) (value.Sheet, error) {
	book, rates, err := thaw(v.Shop.Shop, v.Breakdown.Prices)
	if err != nil {
		return value.Sheet{}, err
	}
	today, _, err := s.priceBook(ctx, v.Shop.Shop)
	if err != nil {
		return value.Sheet{}, err
	}
	for key, price := range today {
		if _, known := book[key]; !known {
			book[key] = price
		}
	}
	return v.recordedSheet(book, rates)
}
