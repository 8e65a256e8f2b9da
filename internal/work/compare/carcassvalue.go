package compare

import (
	"context"
	"fmt"
	"math"
	"math/big"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/carcass"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// CarcassAsk is what is asked of a carcass.
type CarcassAsk struct {
	Weight, Unit    string            // of one; the usual weight where empty
	Price, PricePer string            // nothing where empty
	Plan            string            // the plan of the whole that it starts from; the first where empty
	Division        string            // how it is broken; the usual division where empty
	Swaps           map[string]string // piece to plan, or WholePlan, where it is cut otherwise
	OtherSide       map[string]string // the same for the other of a pair, or every other side, where that differs
	SoldWhole       map[string]string // piece to what it is sold at as it is, by WholePer
	WholePrice      string            // what the carcass would be sold at uncut; nothing where empty
	WholePer        string
	Heads           int // a week
	Market          string
}

// WholePlan stands for a plan where a piece is not cut but sold as it is.
const WholePlan = carcass.WholePart

// CarcassSeason is what a week's kill comes to in one season, and how many weeks of the year are in it.
type CarcassSeason struct {
	Name  string
	Weeks float64
	Roll  carcass.RollUp
	Value measure.Money // of all its weeks
}

// CarcassView is a carcass rolled up.
type CarcassView struct {
	Shop     shop.WithPlans
	Carcass  atlas.Carcass
	Plan     atlas.CarcassPlan
	Division atlas.Division
	Ways     []CarcassDivision // every division, at the plan's own
	Book     pricing.Book
	Weight   measure.Mass
	Minutes  float64 // of one
	Pieces   []CarcassPiece
	Roll     carcass.RollUp // in the season of today
	Base     carcass.RollUp // the usual division, without the swaps
	Whole    *CarcassWhole
	Even     measure.Price // what it would have to be sold at uncut to leave the same
	Year     measure.Money
	Seasons  []CarcassSeason
	Unpriced []string
	Sentence string
	Basis    string
	Swapped  bool
	Paid     bool           // what it costs is in it
	LastPaid *measure.Money // a kilogram, where that is what it is taken to cost
}

// CarcassPiece is a piece of the carcass with the plans there are for it.
type CarcassPiece struct {
	Piece   atlas.Piece
	Side    string       // "other" is the other of a pair, or of every other side, that is cut its own way
	PerHead float64      // how many a carcass has on the mean: half a one of every other side
	Mass    measure.Mass // of all of them in one carcass
	PlanID  string
	Planned string         // the plan of the whole's own
	Price   *measure.Price // what it is sold at as it is
	Minutes float64
	Gain    measure.Money // what this swap moves the totals by, a head, all others as they are and demand counted
}

// Count is how many of it a carcass has, where it has it.
func (p CarcassPiece) Count() int { return max(1, int(p.PerHead)) }

// Name is what the piece is called, and which of a pair it is.
func (p CarcassPiece) Name() string {
	switch {
	case p.Side == "":
		return p.Piece.Name
	case p.PerHead < 1:
		return p.Piece.Name + ", every other one"
	}
	return p.Piece.Name + ", the other one"
}

// CarcassDivision is one way of breaking the carcass and what a head leaves by it, by the carcass plan throughout.
type CarcassDivision struct {
	atlas.Division
	Head    measure.Money
	Minutes float64
	Priced  bool
}

// CarcassWhole is a carcass sold as it is.
type CarcassWhole struct {
	Price measure.Price
	Head  measure.Money // what it leaves
	More  measure.Money // than cut
}

// maxHeads bounds a week's kill.
const maxHeads = 10_000

// CarcassValue assembles an alternative or a whole lamb from a plan for each piece and rolls it up: per head, a week, a
// year.
func (s *Service) CarcassValue(ctx context.Context, id string, in CarcassAsk) (CarcassView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return CarcassView{}, err
	}
	v := CarcassView{Shop: shop}
	if in.Heads == 0 {
		in.Heads = 1
	}
	cost, err := s.readCarcass(ctx, &v, id, in)
	if err != nil {
		return v, err
	}
	v.Paid = cost.Sign() > 0
	if v.Book, err = s.prices.BookOn(ctx, shop.Shop, in.Market, shop.Day(s.now())); err != nil {
		return v, err
	}
	demands, err := s.store.Demands(ctx, shop.ID)
	if err != nil {
		return v, err
	}
	caps := map[string]map[string]carcass.Cap{}
	kill := func(b pricing.Book, c carcassCut) (carcass.RollUp, error) {
		k := carcass.Batch{Heads: in.Heads, Minutes: math.Max(1, c.minutes), Purchase: cost, Prices: b.Prices,
			Rates: shop.Rates, OtherYields: c.beside, Currency: shop.Money, Cuts: c.cuts()}
		if caps[b.Season] == nil {
			if caps[b.Season], err = pricing.DemandOn(demands, b.Season); err != nil {
				return carcass.RollUp{}, err
			}
		}
		k.Caps = caps[b.Season]
		return carcass.Roll(k), nil
	}
	now := carcassCut{pieces: v.Pieces, beside: v.beside(s.atlas, v.Division.ID), minutes: v.Minutes}
	today := func(c carcassCut) (carcass.RollUp, error) { return kill(v.Book, c) }
	if err := v.roll(now, today); err != nil {
		return v, err
	}
	if err := s.divisions(&v, today); err != nil {
		return v, err
	}
	if err := s.seasons(ctx, &v, in, func(b pricing.Book) (carcass.RollUp, error) { return kill(b, now) }); err != nil {
		return v, err
	}
	if err := v.sellWhole(in, cost); err != nil {
		return v, err
	}
	v.explain()
	return v, nil
}

// readCarcass reads what is asked of a carcass into the view, and what one head costs.
func (s *Service) readCarcass(ctx context.Context, v *CarcassView, id string, in CarcassAsk) (cost measure.Money,
	err error) {
	var ok bool
	if v.Carcass, ok = s.atlas.FindCarcass(id); !ok {
		return cost,
			fault.New("carcass_id", "unknown", fault.Quote(id)+" is not a carcass of the atlas", "Choose one of the list.")
	}
	var faults fault.List
	v.Weight = measure.Mass(math.Round(v.Carcass.WeightKg.Typical * float64(measure.Kilogram)))
	if in.Weight != "" {
		v.Weight, err = measure.ParseMass(in.Weight, measure.Unit(in.Unit))
		if err == nil {
			err = stock.CheckPlausible(s.atlas.Whole(v.Carcass, atlas.UsualDivision), v.Weight, 1)
		}
		faults.Add("weight", err)
	}
	if in.Price != "" {
		price, err := v.Shop.ParsePrice(in.Price, in.PricePer)
		faults.Add("price", err)
		cost = price.Of(v.Weight)
	} else {
		if v.LastPaid, err = s.lastPaid(ctx, v.Shop, id); err != nil {
			return cost, err
		}
		if v.LastPaid != nil {
			cost = v.LastPaid.Times(v.Weight.In(measure.UnitKilogram))
		}
	}
	if in.Heads < 1 || in.Heads > maxHeads {
		faults.Add("heads",
			fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", maxHeads), "Enter how many a week."))
	}
	i := max(0, slices.IndexFunc(v.Carcass.Plans, func(p atlas.CarcassPlan) bool { return p.ID == in.Plan }))
	if v.Plan = v.Carcass.Plans[i]; in.Plan != "" && v.Plan.ID != in.Plan {
		faults.Add("plan_id",
			fault.New("", "unknown", fault.Quote(in.Plan)+" is not a plan of this carcass", "Choose one of its plans."))
	}
	ways := v.Carcass.Divisions()
	if i = 0; in.Division != "" {
		if i = slices.IndexFunc(ways, func(d atlas.Division) bool { return d.ID == in.Division }); i < 0 {
			faults.Add("division", fault.New("", "unknown", fault.Quote(in.Division)+" is not a division of this carcass",
				"Choose one of its divisions."))
			i = 0
		}
	}
	v.Division = ways[i]
	if v.Weight > 0 {
		faults.Add("", s.carcassPieces(v, in))
	}
	return cost, faults.Err()
}

// beside is what one carcass gives beside the pieces of a division.
func (v *CarcassView) beside(a *atlas.Atlas, division string) []carcass.OtherYield {
	whole := a.Whole(v.Carcass, division)
	masses := massesOf(whole, v.Weight)
	pl, _ := whole.Plan(division)
	var out []carcass.OtherYield
	for _, o := range whole.Other {
		b := carcass.OtherYield{ID: o.ID, Name: o.Name, Mass: masses[o.ID]}
		for _, pr := range pl.Products {
			if pr.From[o.ID] > 0 {
				b.Key, b.Form, b.Name = whole.Key(pr), pr.Form, pr.Name
			}
		}
		out = append(out, b)
	}
	return out
}

// seasons works a week out for each season of the year and adds the year up by how many days are in each.
func (s *Service) seasons(ctx context.Context, v *CarcassView, in CarcassAsk,
	roll func(pricing.Book) (carcass.RollUp, error)) error {
	days := map[string]int{}
	var order []string
	for d := time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC); d.Year() == 2025; d = d.AddDate(0, 0, 1) { // a year of 365 days
		name := value.SeasonOn(v.Shop.Seasons, d)
		if days[name] == 0 {
			order = append(order, name)
		}
		days[name]++
	}
	for _, name := range order {
		b := v.Book
		if name != v.Book.Season {
			var err error
			if b, err = s.prices.BookIn(ctx, v.Shop.Shop, in.Market, v.Shop.Day(s.now()), &name); err != nil {
				return err
			}
		}
		x := CarcassSeason{Name: name, Weeks: float64(days[name]) / 7, Roll: v.Roll}
		if name != v.Book.Season {
			var err error
			if x.Roll, err = roll(b); err != nil {
				return err
			}
		}
		x.Value = v.Shop.Money.Round(x.Roll.Totals.Value.Times(big.NewRat(int64(days[name]), 7)))
		v.Year = v.Year.Add(x.Value)
		v.Seasons = append(v.Seasons, x)
	}
	return nil
}

// explain puts it in a sentence, and says what it rests on.
func (v *CarcassView) explain() {
	guessed := 0
	for _, l := range v.Roll.Lines {
		if l.Price.Guessed() {
			guessed++
		}
		if !l.Priced && l.Mass > 0 {
			v.Unpriced = append(v.Unpriced, l.Name)
		}
	}
	said := words.Carcass{Plan: v.Plan.Name, Unpriced: len(v.Unpriced), Guessed: guessed, Of: len(v.Roll.Lines),
		Head: v.Roll.PerHead(v.Roll.Totals.Value), Paid: v.Paid, Lost: v.Roll.Lost, Currency: v.Shop.Money}
	if v.Whole != nil {
		said.Whole = &v.Whole.More
	}
	if v.Swapped = v.Swapped || v.Division.ID != atlas.UsualDivision; v.Swapped {
		swap := said.Head.Sub(v.Base.PerHead(v.Base.Totals.Value))
		said.Swap = &swap
	}
	v.Sentence = said.Sentence()
	v.Basis = "Shares, and how each muscle divides, are the atlas’ estimates; minutes are those of “" + v.Plan.Name +
		"” in one run, and what a swap adds piece by piece. Prices of " + v.Book.Day.Format(words.LongDay) +
		"; the year is each season’s week by its days."
	if v.Division.ID != atlas.UsualDivision {
		v.Basis += " A piece that “" + v.Plan.Name + "” does not name, since the usual division has none of it, is cut by" +
			" the plan of its own that is nearest in kind; its minutes are those of that plan."
	}
	if slices.ContainsFunc(v.Pieces, func(p CarcassPiece) bool { return p.Side != "" }) {
		v.Basis += " Where two are cut each its own way, a carcass is the mean of both."
	}
	if v.LastPaid != nil {
		v.Basis += " The carcass at " + v.Shop.Money.Text(*v.LastPaid) + " a kilogram, as it was last received."
	}
}
