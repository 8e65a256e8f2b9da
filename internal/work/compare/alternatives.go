package compare

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/bench"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// The kinds of alternative.
const (
	AlternativePlan  = "plan"  // a plan on a piece that is not there
	AlternativePiece = "piece" // a recorded piece
	AlternativeGroup = "group" // recorded pieces added up
)

// AlternativePick names one alternative of a comparison.
type AlternativePick struct {
	Kind      string
	AtlasID   string // of a plan, or of a group
	Plan      stock.PlanPick
	Weight    string // of a plan's piece; the usual weight where empty
	Unit      string
	Breakdown string // of a piece
	Group     GroupPick
}

// GroupPick says which recorded pieces make a group: all that is set must fit. Days are inclusive.
type GroupPick struct {
	PlanID, Supplier, Cutter, From, To string
	Breakdowns                         []string
}

// query reads a group.
func (g GroupPick) query(shop shop.WithPlans, atlasID string) (store.ResultQuery, error) {
	q := store.ResultQuery{ShopID: shop.ID, AtlasID: atlasID, PlanID: g.PlanID, Supplier: g.Supplier, Member: g.Cutter,
		Breakdowns: g.Breakdowns}
	var faults fault.List
	day := func(field, text string, plus int) (t time.Time) {
		if text == "" {
			return t
		}
		t, err := time.Parse(time.DateOnly, text)
		if err != nil || t.Year() < 1990 || t.Year() > 2200 {
			faults.Add(field, fault.New("", "not_a_day", fault.Quote(text)+" is not a day", "Write it as 2026-05-15."))
		}
		return t.AddDate(0, 0, plus)
	}
	q.From, q.To = day("from", g.From, 0), day("to", g.To, 1)
	if len(g.Breakdowns) > 1000 {
		faults.Add("breakdowns",
			fault.New("", "too_many", "are more than 1,000", "Name the group by plan, supplier, cutter or days."))
	}
	return q, faults.Err()
}

// alternative is an alternative with what is known of it.
type alternative struct {
	value.Alternative
	Pick     AlternativePick
	Piece    atlas.Piece
	PlanName string
	Rate     measure.Money     // labour per hour that it was reckoned with
	RateNow  measure.Money     // and what the same people cost today; of a group as it was paid
	Priced   string            // in words: of which day its prices are
	Today    value.Alternative // at today's prices and rates
	Same     bool              // a plan laid over the very piece that it is compared with
	as       *value.Sheet      // of a piece: as it was cut
}

// alternativeOf reads one alternative of a comparison. Planned alternatives and all Today are at the prices of the
// book; recorded ones at those of their day. What a plan is compared with, where that was recorded, is like: it is paid
// at the same wage, and a plan for the same piece, or for one of no weight of its own, is laid over that very piece, at
// its prices too.
func (s *Service) alternativeOf(ctx context.Context, shop shop.WithPlans, k AlternativePick, b pricing.Book,
	like *alternative) (alternative, error) {
	v := alternative{Pick: k, Rate: shop.Rates.LabourPerHour, RateNow: shop.Rates.LabourPerHour}
	var err error
	switch k.Kind {
	case AlternativePlan:
		err = s.planSide(shop, &v, b, like)
	case AlternativePiece:
		err = s.pieceSide(ctx, &v)
	case AlternativeGroup:
		err = s.groupSide(ctx, shop, &v)
	default:
		err = fault.New("kind", "unknown", fault.Quote(k.Kind)+" is not a kind of alternative", "Use plan, piece or group.")
	}
	if err != nil {
		return v, err
	}
	rates := shop.Rates
	rates.LabourPerHour = v.RateNow
	v.Today = v.Reprice(b.Prices, rates)
	return v, nil
}

func (s *Service) planSide(shop shop.WithPlans, v *alternative, b pricing.Book, like *alternative) error {
	p, ok := s.atlas.Find(v.Pick.AtlasID)
	if !ok {
		return fault.New("atlas_id", "unknown", fault.Quote(v.Pick.AtlasID)+" is not a piece of the atlas",
			"Choose one of the list.")
	}
	p = shop.AddOwn(p, v.Pick.Plan.PlanID).In(shop.Market)
	weight, given := p.Typical(), v.Pick.Weight != ""
	if given {
		var err error
		if weight, err = measure.ParseMass(v.Pick.Weight, measure.Unit(v.Pick.Unit)); err == nil {
			err = stock.CheckPlausible(p, weight, 1)
		}
		if err != nil {
			var faults fault.List
			faults.Add("weight", err)
			return faults
		}
	}
	same := like != nil && like.as != nil && like.Piece.ID == p.ID && (!given || weight == like.Mass)
	if same {
		p = like.Piece // as it was found
	}
	with, err := stock.PickPlan(p, v.Pick.Plan)
	if err != nil {
		return err
	}
	v.Piece, v.PlanName, v.Priced = p, with.Name, "prices of "+b.Day.Format(words.LongDay)
	name := "“" + with.ShortName() + "”"
	if same {
		v.Same, v.Rate, v.RateNow, v.Priced = true, like.Rate, like.RateNow, like.Priced
		v.Alternative = bench.Recut(*like.as, with).Alternative(name, true)
		return nil
	}
	sheet := pricing.ForecastSheet(shop.Shop, p, with, weight, b.Prices)
	if like != nil {
		v.Rate, v.RateNow = like.Rate, like.RateNow
		sheet.Rates.LabourPerHour = like.Rate
	}
	v.Alternative = sheet.Alternative(name, true)
	return nil
}

func (s *Service) pieceSide(ctx context.Context, v *alternative) error {
	board, err := s.bench.BoardForSale(ctx, v.Pick.Breakdown)
	if err != nil {
		return err
	}
	if !board.Board.Closed() {
		return bench.NotFinished()
	}
	sheet, err := s.bench.SheetAsCut(ctx, board)
	if err != nil {
		return err
	}
	v.as = &sheet
	v.Piece, v.PlanName, v.Rate, v.Priced = board.Card.Piece, board.Plan.Name, sheet.Rates.LabourPerHour,
		"prices of "+board.Shop.Local(*board.Breakdown.PricedAt).Format(words.LongDay)
	log, err := s.bench.LogOf(ctx, board.Shop, board.Breakdown.ID)
	if err != nil {
		return err
	}
	v.RateNow = board.Shop.RatesOf(bench.MainRole(log)).LabourPerHour // who cut it still cuts it
	v.Pick.AtlasID = board.Card.Row.Lot.AtlasID
	v.Alternative = sheet.Alternative(fmt.Sprintf("%s (%s)", stock.PieceName(board.Card.Row), board.Plan.Name), false)
	return nil
}

func (s *Service) groupSide(ctx context.Context, shop shop.WithPlans, v *alternative) error {
	k := v.Pick
	p, ok := s.atlas.Find(k.AtlasID)
	if !ok {
		return fault.New("atlas_id", "unknown", fault.Quote(k.AtlasID)+" is not a piece of the atlas",
			"Choose one of the list.")
	}
	p = shop.AddOwn(p, k.Group.PlanID).In(shop.Market)
	q, err := k.Group.query(shop, k.AtlasID)
	if err != nil {
		return err
	}
	sum, cells, err := s.store.SumResults(ctx, q)
	if err != nil {
		return err
	}
	if sum.N == 0 {
		return fault.New("", "empty", "No finished piece fits this group.",
			"Choose another plan, supplier, cutter or other days.")
	}
	v.Piece = p
	v.PlanName = "all ways"
	name := fmt.Sprintf("%d × %s", sum.N, p.Name)
	if k.Group.PlanID != "" {
		v.PlanName = k.Group.PlanID
		if pl, ok := p.Plan(k.Group.PlanID); ok {
			v.PlanName = pl.Name
		}
		name += " cut as “" + v.PlanName + "”"
	}
	if k.Group.Supplier != "" {
		name += " from " + k.Group.Supplier
	}
	v.Alternative, err = groupAlternative(shop.Money, p, sum, cells, s.productNames(shop))
	v.Name = name
	v.Priced = "each at the prices of its day"
	if sum.First != nil && sum.Last != nil {
		v.Priced += ", " + shop.Local(*sum.First).Format("2 Jan 2006") + " to " + shop.Local(*sum.Last).Format("2 Jan 2006")
	}
	if shop.ResultsStale > 0 {
		v.Priced += "; some pieces are still being worked out"
	}
	if v.Hours.Sign() > 0 {
		v.Rate = v.Labour.Over(v.Hours)
	}
	v.RateNow = v.Rate
	return err
}

// groupAlternative makes an alternative of what the read tables add up to.
func groupAlternative(currency measure.Currency, p atlas.Piece, sum store.ResultSum, cells []store.ResultCell,
	names map[string]value.SoldProduct) (value.Alternative, error) {
	alternative := value.Alternative{Currency: currency, Pieces: sum.N, Cut: atlas.CutStraight,
		Mass: measure.Mass(sum.InputMg), Hours: value.HoursOf(sum.Minutes), Products: map[string]value.SoldProduct{},
		Parts: p.Parts()}
	if 2*sum.Seams > sum.N {
		alternative.Cut = atlas.CutSeams
	}
	for _, x := range []struct {
		text string
		into *measure.Money
	}{{sum.Packaging, &alternative.Packaging}, {sum.Labour, &alternative.Labour}, {sum.Discard, &alternative.Discard},
		{sum.Ingredients, &alternative.Ingredients},
		{sum.Purchase, &alternative.Purchase}} {
		m, err := measure.MoneyFromDecimal(x.text)
		if err != nil {
			return alternative, err
		}
		*x.into = currency.Of(m)
	}
	for _, c := range cells {
		sales, err := measure.MoneyFromDecimal(c.Sales)
		if err != nil {
			return alternative, err
		}
		alternative.Cells = append(alternative.Cells,
			value.AlternativeCell{Part: c.Part, Key: c.ProductKey, Fate: value.Fate(c.Fate), Mass: measure.Mass(c.MassMg),
				Sales: currency.Of(sales)})
		if c.ProductKey != "" {
			alternative.Products[c.ProductKey] = names[c.ProductKey]
		}
	}
	alternative.Parts = value.WithAdded(alternative.Parts, alternative.Cells, nil)
	if sum.Unpriced > 0 {
		alternative.Unpriced = []string{fmt.Sprintf("some products of %d of the pieces", sum.Unpriced)}
	}
	return alternative, nil
}

// productNames gives every product of the shop by its key.
func (s *Service) productNames(shop shop.WithPlans) map[string]value.SoldProduct {
	out := map[string]value.SoldProduct{}
	for _, p := range s.prices.Products(shop, "") {
		out[p.Key] = value.SoldProduct{Name: p.Name, Form: p.Form}
	}
	return out
}

// sameNames tells alternatives of the same name apart.
func sameNames(alternatives []alternative) {
	for i := range alternatives {
		same := slices.ContainsFunc(alternatives[:i],
			func(v alternative) bool { return strings.EqualFold(v.Name, alternatives[i].Name) })
		if same {
			alternatives[i].Name += fmt.Sprintf(" (%d)", i+1)
		}
	}
}
