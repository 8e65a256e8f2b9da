package work

import (
	"context"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
)

// settle keeps the prices of the day with a breakdown that was just closed, and the rates of who cut it, and gives what it brought. What it
// gained on the other way of cutting by them stands with the breakdown.
func (s *Service) settle(ctx context.Context, v *BoardView, log []seam.Event) (*store.Result, error) {
	if v.Breakdown.Prices == nil { // closed anew, it keeps the prices of its first close
		now := s.now()
		b, err := s.bookOn(ctx, v.Shop, "", now)
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
	if len(recorded.Unpriced())+len(against.Unpriced()) == 0 {
		gain := recorded.Totals().PerKg.Sub(against.Totals().PerKg).Text(moneyDecimals)
		v.Breakdown.GainPerKg = &gain
	}
	return resultOf(*v, recorded), nil
}

// sheets lays a breakdown out as recorded, and the same parts as another plan would have cut them; against names the
// plan, or is empty for the traditional one (the first other, where that is how it was cut).
func (s *Service) sheets(ctx context.Context, v BoardView, against string) (recorded, other value.Sheet, err error) {
	p := v.Card.Piece
	var pl atlas.Plan
	if against == "" {
		if pl, _ = p.Traditional(); pl.ID == v.Plan.ID {
			for _, any := range p.Plans {
				if any.ID != v.Plan.ID {
					pl = any
					break
				}
			}
		}
	} else if known, ok := p.Plan(against); ok {
		pl = known
	} else {
		return recorded, other, fault.New("against", "unknown", "“"+clip(against)+"” is not a plan of this piece", "Choose one of its plans.")
	}
	book, rates, err := thaw(v.Breakdown.Prices)
	if err != nil {
		return recorded, other, err
	}
	// what had no price on the day is taken at today's
	today, _, err := s.priceBook(ctx, v.Shop)
	if err != nil {
		return recorded, other, err
	}
	for key, price := range today {
		if _, known := book[key]; !known {
			book[key] = price
		}
	}
	price, err := priceOf(v.Card.Hung.Lot.Price, v.Card.Hung.Lot.PricePer)
	if err != nil {
		return recorded, other, err
	}
	recorded = value.Sheet{Atlas: p, Plan: v.Plan, Cells: value.Recorded(p, v.Plan, v.Board), Prices: book, Minutes: v.Minutes, Rates: rates,
		Purchase: price.Of(measure.Mass(v.Card.Hung.Piece.LabelMg))}
	other = recorded
	other.Plan, other.Minutes, other.Cells = pl, pl.Minutes, value.Recut(p, pl, recorded.Cells)
	return recorded, other, nil
}
