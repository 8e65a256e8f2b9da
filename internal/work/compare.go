package work

import (
	"context"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seammap"
	"falda/internal/core/value"
)

// BreakEven is the price at which both ways of cutting come out even, for one product of the recorded one.
type BreakEven struct {
	Product atlas.Product
	Now     measure.Price
	PerKg   measure.Money
	OK      bool // there is such a price
}

// PartWeight is a muscle or part as it was recorded, beside the atlas.
type PartWeight struct {
	Part     atlas.AnyPart
	Mass     measure.Mass
	Measured bool
}

// Comparison is a recorded piece against another plan on the same piece.
type Comparison struct {
	View      BoardView
	Recorded  value.Sheet
	Against   value.Sheet
	Sentence  string
	Diff      measure.Money
	PerKg     measure.Money
	PerHour   *measure.Money // what an extra bench hour brought; nil when no extra minutes were spent
	Bridge    []value.Step
	Parts     []PartWeight
	Map       seammap.Map
	BreakEven []BreakEven
	Basis     string
	Doubts    []Against // what of the recorded plan contradicts the grades
	Today     bool      // it is at today's prices and rates
	Other     *Repriced // what it comes to at the other prices; nil where that is the same
}

// Repriced is a comparison at other prices: today's, or those of its day.
type Repriced struct {
	Diff, PerKg measure.Money
	Sentence    string
}

// Compare lays a closed breakdown beside another plan on the same piece, at the prices of the day it was closed or at today's.
func (s *Service) Compare(ctx context.Context, id, against string, today bool) (Comparison, error) {
	v, err := s.cutBoard(ctx, id)
	if err != nil {
		return Comparison{}, err
	}
	if !v.Board.Closed() {
		return Comparison{}, notFinished()
	}
	c := Comparison{View: v, Today: today}
	if c.Recorded, c.Against, err = s.sheets(ctx, v, against); err != nil {
		return c, err
	}
	now, rates, err := s.pricesToday(ctx, v)
	if err != nil {
		return c, err
	}
	recorded, other := c.Recorded, c.Against // the same weights and minutes
	for _, sheet := range []*value.Sheet{&recorded, &other} {
		sheet.Prices, sheet.Rates = now.Prices, rates
	}
	if today {
		c.Recorded, recorded, c.Against, other = recorded, c.Recorded, other, c.Against
	}
	a, b := c.Against.Totals(), c.Recorded.Totals()
	c.Diff, c.PerKg = b.Value.Sub(a.Value), b.PerKg.Sub(a.PerKg)
	if hours := c.Recorded.ExtraHours(c.Against); hours.Sign() > 0 {
		perHour := c.Diff.Add(b.Labour.Sub(a.Labour)).Over(hours)
		c.PerHour = &perHour
	}
	telling := value.Telling{Past: true, Unit: v.Shop.Unit, Currency: v.Shop.Money}
	c.Sentence = value.Sentence(c.Against, c.Recorded, telling)
	oa, ob := other.Totals(), recorded.Totals()
	if x := (Repriced{ob.Value.Sub(oa.Value), ob.PerKg.Sub(oa.PerKg), value.Sentence(other, recorded, telling)}); x.Diff.Cmp(c.Diff) != 0 {
		c.Other = &x
	}
	c.Bridge = value.Bridge(c.Against, c.Recorded)
	for _, part := range v.Card.Piece.Parts() {
		_, times := v.Board.Taken(part.ID, "")
		measured := times > 0 || part.Kind == atlas.KindLoss
		c.Parts = append(c.Parts, PartWeight{part, c.Recorded.PartMass(part.ID), measured})
	}
	c.Map, err = seammap.OfPiece(v.Card.Piece, func(m string) float64 { return c.Recorded.PartMass(m).Grams() })
	if err != nil { // no muscle was weighed or reckoned: the atlas' picture stands in
		c.Map = v.Map
	}
	for _, pr := range v.Plan.Products {
		price, ok := value.BreakEven(c.Against, c.Recorded, pr.ID)
		c.BreakEven = append(c.BreakEven, BreakEven{pr, c.Recorded.Prices[v.Card.Piece.Key(pr)], price, ok})
	}
	c.Basis = basis(v, today, now)
	c.Doubts, err = s.boardAgainst(ctx, v)
	return c, err
}

// pricesToday is today's prices, and the rates of who cut a piece.
func (s *Service) pricesToday(ctx context.Context, v BoardView) (Book, value.Rates, error) {
	b, err := s.bookOn(ctx, v.Shop, "", s.now())
	if err != nil {
		return b, value.Rates{}, err
	}
	log, err := s.log(ctx, v.Shop, v.Breakdown.ID)
	return b, v.Shop.ratesOf(mainRole(log)), err
}

// basis says what a comparison rests on.
func basis(v BoardView, today bool, now Book) string {
	weighed := "Muscle weights were measured on the bench; how each muscle divides into products is the plan's estimate."
	if v.Plan.Cut == atlas.CutStraight {
		weighed = "Product weights were measured on the bench; how they divide into muscles is the atlas' estimate."
	}
	minutes := "Bench minutes were measured"
	if v.Board.Given != nil {
		minutes = "Bench minutes were given by hand"
	}
	market, season, of := v.Breakdown.Prices.Market, v.Breakdown.Prices.Season, v.Breakdown.PricedAt.Format("2 January 2006")
	if today {
		market, season, of = now.Market.Name, now.Season, "today"
	}
	if market != "" {
		of += " at “" + market + "”"
	}
	if season != "" {
		of += ", " + season
	}
	return weighed + " " + minutes + "; those of the other way are the atlas' estimate. Loss and waste count the same both ways. Prices and rates of " + of + "."
}
