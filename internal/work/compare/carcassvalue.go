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
	Weight, Unit    string // of one; the usual weight where empty
	Price, PricePer string // nothing where empty
	Plan            string // the plan of the whole that it starts from; the first where empty
	Swaps           map[string]string
	Heads           int // a week
	Market          string
}

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
	Book     pricing.Book
	Weight   measure.Mass
	Minutes  float64 // of one
	Pieces   []CarcassPiece
	Roll     carcass.RollUp // in the season of today
	Base     carcass.RollUp // the same without the swaps
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
	Count   int
	Mass    measure.Mass // of all of them in one carcass
	PlanID  string
	Planned string // the plan of the whole's own
	Minutes float64
	Gain    measure.Money // what this swap moves the totals by, a head, all others as they are and demand counted
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
	beside := v.beside(s.atlas)
	kill := func(b pricing.Book, plans func(CarcassPiece) string, minutes float64) (carcass.RollUp, error) {
		k := carcass.Batch{Heads: in.Heads, Minutes: math.Max(1, minutes), Purchase: cost, Prices: b.Prices,
			Rates: shop.Rates, OtherYields: beside, Currency: shop.Money}
		for _, p := range v.Pieces {
			pl, _ := p.Piece.Plan(plans(p))
			k.Cuts = append(k.Cuts, carcass.Cut{Piece: p.Piece, Plan: pl, Mass: p.Mass, Count: p.Count})
		}
		var err error
		if k.Caps, err = pricing.DemandOn(demands, b.Season); err != nil {
			return carcass.RollUp{}, err
		}
		return carcass.Roll(k), nil
	}
	if err := v.roll(func(plans func(CarcassPiece) string, minutes float64) (carcass.RollUp, error) {
		return kill(v.Book, plans, minutes)
	}); err != nil {
		return v, err
	}
	if err := s.seasons(ctx, &v, in, func(b pricing.Book) (carcass.RollUp, error) {
		return kill(b, chosenPlan, v.Minutes)
	}); err != nil {
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
	faults.Add("", s.carcassPieces(v, in))
	return cost, faults.Err()
}

func chosenPlan(p CarcassPiece) string { return p.PlanID }

// roll rolls the chosen plans and the carcass plan's own up, and says what each swap brings, demand counted.
func (v *CarcassView) roll(kill func(plans func(CarcassPiece) string, minutes float64) (carcass.RollUp, error)) (
	err error) {
	if v.Roll, err = kill(chosenPlan, v.Minutes); err != nil {
		return err
	}
	if v.Base, err = kill(func(p CarcassPiece) string { return p.Planned }, v.Plan.Minutes); err != nil {
		return err
	}
	for i := range v.Pieces {
		p := &v.Pieces[i]
		if p.PlanID == p.Planned {
			continue
		}
		v.Swapped = true
		back, err := kill(func(x CarcassPiece) string { // this one swap taken back
			if x.Piece.ID == p.Piece.ID {
				return x.Planned
			}
			return x.PlanID
		}, v.Minutes-p.Minutes)
		if err != nil {
			return err
		}
		p.Gain = v.Roll.PerHead(v.Roll.Totals.Value).Sub(back.PerHead(back.Totals.Value))
	}
	return nil
}

// carcassPieces lays out which piece is cut by which plan, and how long one carcass takes.
func (s *Service) carcassPieces(v *CarcassView, in CarcassAsk) error {
	d := v.Carcass.Division(atlas.UsualDivision)
	masses := massesOf(s.atlas.Whole(v.Carcass, atlas.UsualDivision), v.Weight)
	var faults fault.List
	v.Minutes = v.Plan.Minutes
	known := map[string]bool{}
	for _, part := range d.Parts {
		p, _ := s.atlas.Find(part.Piece)
		p = v.Shop.AddOwn(p, in.Swaps[part.Piece]).In(v.Shop.Market)
		x := CarcassPiece{Piece: p, Count: part.Count, Mass: masses[part.Piece], Planned: v.Plan.Pieces[part.Piece]}
		x.PlanID = x.Planned
		known[part.Piece] = true
		if id := in.Swaps[part.Piece]; id != "" {
			pl, ok := p.Plan(id)
			if !ok {
				faults.Add("plans."+part.Piece,
					fault.New("", "unknown", fault.Quote(id)+" is not a plan of this piece", "Choose one of its plans."))
			}
			was, _ := p.Plan(x.Planned)
			x.PlanID, x.Minutes = id, (pl.Minutes-was.Minutes)*float64(part.Count)
			v.Minutes += x.Minutes
		}
		v.Pieces = append(v.Pieces, x)
	}
	for id := range in.Swaps {
		if !known[id] {
			faults.Add("plans."+fault.Shorten(id), fault.New("", "unknown", "is not a piece of this carcass", "Leave it out."))
		}
	}
	v.Minutes = math.Max(1, v.Minutes)
	return faults.Err()
}

// beside is what one carcass gives beside its pieces.
func (v *CarcassView) beside(a *atlas.Atlas) []carcass.OtherYield {
	whole := a.Whole(v.Carcass, atlas.UsualDivision)
	masses := massesOf(whole, v.Weight)
	pl, _ := whole.Plan(atlas.UsualDivision)
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
	for _, l := range v.Roll.Lines {
		if !l.Priced && l.Mass > 0 {
			v.Unpriced = append(v.Unpriced, l.Name)
		}
	}
	said := words.Carcass{Plan: v.Plan.Name, Unpriced: len(v.Unpriced), Head: v.Roll.PerHead(v.Roll.Totals.Value),
		Paid: v.Paid, Lost: v.Roll.Lost, Currency: v.Shop.Money}
	if v.Swapped {
		swap := said.Head.Sub(v.Base.PerHead(v.Base.Totals.Value))
		said.Swap = &swap
	}
	v.Sentence = said.Sentence()
	v.Basis = "Shares, and how each muscle divides, are the atlas’ estimates; minutes are those of “" + v.Plan.Name +
		"” in one run, and what a swap adds piece by piece. Prices of " + v.Book.Day.Format(words.LongDay) +
		"; the year is each season’s week by its days."
	if v.LastPaid != nil {
		v.Basis += " The carcass at " + v.Shop.Money.Text(*v.LastPaid) + " a kilogram, as it was last received."
	}
}
