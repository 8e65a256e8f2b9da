package compare

import (
	"context"
	"math/big"

	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seammap"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/work/bench"
	"falda/internal/work/judge"
	"falda/internal/work/pricing"
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
	View           bench.BoardView
	Recorded       value.Sheet
	Baseline       value.Sheet
	Sentence       string
	Diff           measure.Money
	PerKg          measure.Money
	PerHour        *measure.Money // what an extra bench hour brought; nil when no extra minutes were spent
	Bridge         []value.Step
	Parts          []PartWeight
	Map            seammap.Map
	BreakEven      []BreakEven
	Costs          value.CostTable // what each product cost as it was cut
	Counts         map[string]int  // portions of each product that were counted at the bench
	Basis          string
	GradeConflicts []judge.GradeConflict      // what of the recorded plan contradicts the grades
	Plates         [2]map[string]eating.Mixed // how products eat: of the recorded plan, of the other
	Today          bool                       // it is at today's prices and rates
	Other          *Repriced                  // what it comes to at the other prices; nil where that is the same
}

// Repriced is a comparison at other prices: today's, or those of its day.
type Repriced struct {
	Diff, PerKg measure.Money
	Sentence    string
}

// Compare lays a closed breakdown beside another plan on the same piece, at the prices of the day it was closed or at
// today's. method is how the joint cost is shared; net realisable value where it is empty.
func (s *Service) Compare(ctx context.Context, id, baseline string, today bool, method value.Method) (Comparison,
	error) {
	if method == "" {
		method = value.NRV
	}
	if !value.KnownMethod(string(method)) {
		return Comparison{},
			fault.New("method", "unknown", fault.Quote(string(method))+" is not a method",
				"Use physical, sales_value, nrv or constant_margin.")
	}
	v, err := s.bench.BoardForSale(ctx, id)
	if err != nil {
		return Comparison{}, err
	}
	if !v.Board.Closed() {
		return Comparison{}, bench.NotFinished()
	}
	c := Comparison{View: v, Today: today, Counts: map[string]int{}}
	if c.Recorded, c.Baseline, err = s.bench.Sheets(ctx, v, baseline); err != nil {
		return c, err
	}
	now, rates, err := s.pricesToday(ctx, v)
	if err != nil {
		return c, err
	}
	recorded, other := c.Recorded, c.Baseline // the same weights and minutes
	for _, sheet := range []*value.Sheet{&recorded, &other} {
		sheet.Prices, sheet.Rates = now.Prices, rates
	}
	if today {
		c.Recorded, recorded, c.Baseline, other = recorded, c.Recorded, other, c.Baseline
	}
	base, cut := c.Baseline.Alternative("", true), c.Recorded.Alternative("", false)
	c.Diff, c.PerKg, c.PerHour = value.LeadPerPiece(base, cut), value.Lead(base, cut), value.PerExtraHour(base, cut)
	telling := words.Telling{Past: true, Unit: v.Shop.Unit, Currency: v.Shop.Money}
	c.Sentence = words.Sheets(c.Baseline, c.Recorded, telling)
	base2, cut2 := other.Alternative("", true), recorded.Alternative("", false)
	if x := (Repriced{value.LeadPerPiece(base2, cut2), value.Lead(base2, cut2),
		words.Sheets(other, recorded, telling)}); x.Diff.Cmp(c.Diff) != 0 {
		c.Other = &x
	}
	c.Bridge = value.Bridge(base, cut)
	if c.Costs, err = value.CostsOf(cut, method, false, new(big.Rat)); err != nil && fault.Of(err) == nil {
		return c, err
	}
	for _, pr := range c.Recorded.Plan.Products {
		key := v.Card.Piece.Key(pr)
		_, price, ok := value.BreakEvenPrice(base, cut, key)
		c.BreakEven = append(c.BreakEven, BreakEven{pr, c.Recorded.Prices[key], price, ok})
	}
	c.weighed()
	c.Basis = basis(v, c.Recorded, today, now)
	if c.GradeConflicts, err = s.judge.BoardConflicts(ctx, v); err != nil {
		return c, err
	}
	plates, err := s.judge.BoardPlates(ctx, v, c.Recorded, c.Baseline)
	c.Plates = [2]map[string]eating.Mixed{plates[0], plates[1]}
	return c, err
}

// weighed fills in what the piece gave: its parts, its map and the counts.
func (c *Comparison) weighed() {
	v := c.View
	for _, part := range v.Card.Piece.Parts() {
		_, times := v.Board.Alone(part.ID)
		measured := times > 0 || part.Kind == atlas.KindLoss
		c.Parts = append(c.Parts, PartWeight{part, c.Recorded.PartMass(part.ID), measured})
	}
	var err error
	c.Map, err = v.Card.Piece.Map(func(m string) float64 { return c.Recorded.PartMass(m).Grams() })
	if err != nil { // no muscle was weighed or reckoned: the atlas' picture stands in
		c.Map = v.Map
	}
	for _, pr := range c.Recorded.Plan.Products {
		if n, ok := v.Board.Counted(pr.ID); ok {
			c.Counts[pr.ID] = n
		}
	}
}

// pricesToday is today's prices, and the rates of who cut a piece.
func (s *Service) pricesToday(ctx context.Context, v bench.BoardView) (pricing.Book, value.Rates, error) {
	b, err := s.prices.BookOn(ctx, v.Shop.Shop, "", v.Shop.Day(s.now()))
	if err != nil {
		return b, value.Rates{}, err
	}
	log, err := s.bench.LogOf(ctx, v.Shop, v.Breakdown.ID)
	return b, v.Shop.RatesOf(bench.MainRole(log)), err
}

// basis says what a comparison rests on.
func basis(v bench.BoardView, recorded value.Sheet, today bool, now pricing.Book) string {
	var weighed string
	products, guessed := false, false
	for _, cell := range recorded.Cells {
		if cell.Fate == value.Sold {
			products, guessed = products || !cell.Estimated, guessed || cell.Estimated
		}
	}
	switch {
	case !guessed && v.Plan.Cut == atlas.CutStraight:
		weighed = "Product weights were measured on the bench; how they divide into muscles is the atlas' estimate."
	case !guessed:
		weighed = "What was sold was weighed on the bench."
	case products:
		weighed = "What was weighed on the bench enters with its own weight; how muscles that were not opened divide into " +
			"products is the plan's estimate."
	default:
		weighed = "Muscle weights were measured on the bench; how each muscle divides into products is the plan's estimate."
	}
	minutes := "Bench minutes were measured"
	if v.Board.Given != nil {
		minutes = "Bench minutes were given by hand"
	}
	market, season, of := v.Breakdown.Prices.Market, v.Breakdown.Prices.Season,
		v.Shop.Local(*v.Breakdown.PricedAt).Format(words.LongDay)
	if today {
		market, season, of = now.Market.Name, now.Season, "today"
	}
	if market != "" {
		of += " at “" + market + "”"
	}
	if season != "" {
		of += ", " + season
	}
	return weighed + " " + minutes +
		"; those of the other way are the atlas' estimate. Loss, and what was thrown away at the bench, count the same " +
		"both ways. Prices and rates of " + of + "."
}
