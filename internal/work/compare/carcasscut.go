package compare

import (
	"math"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/carcass"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// otherSide is the side of a piece that is cut otherwise than its fellow.
const otherSide = "other"

// carcassCut is a carcass with what each of its pieces is cut by.
type carcassCut struct {
	pieces  []CarcassPiece
	beside  []carcass.OtherYield
	minutes float64 // of one
}

// cuts gives the pieces as the core rolls them up.
func (c carcassCut) cuts() []carcass.Cut {
	out := make([]carcass.Cut, len(c.pieces))
	for i, p := range c.pieces {
		out[i] = carcass.Cut{Piece: p.Piece, Side: p.Side, Mass: p.Mass, Count: p.Count()}
		if p.PlanID == WholePlan {
			out[i].Whole = &measure.Price{Per: measure.UnitKilogram}
			if p.Price != nil {
				out[i].Whole = p.Price
			}
			continue
		}
		out[i].Plan, _ = p.Piece.Plan(p.PlanID)
	}
	return out
}

// back gives the cut with one piece cut as the carcass plan has it.
func (c carcassCut) back(i int) carcassCut {
	c.pieces = slices.Clone(c.pieces)
	c.pieces[i].PlanID = c.pieces[i].Planned
	c.minutes -= c.pieces[i].Minutes
	return c
}

// planFor is what a carcass plan cuts a piece by: what it says of it, or, for a piece that the usual division has none
// of, the piece's own plan of the same school, and the traditional one where there is none such.
func planFor(cp atlas.CarcassPlan, p atlas.Piece) atlas.Plan {
	if pl, ok := p.Plan(cp.Pieces[p.ID]); ok {
		return pl
	}
	if i := slices.IndexFunc(p.Plans, func(pl atlas.Plan) bool { return pl.School == cp.School }); i >= 0 {
		return p.Plans[i]
	}
	if pl, ok := p.Traditional(); ok {
		return pl
	}
	return p.Plans[0]
}

// divided lays a division out with every piece cut as the carcass plan has it, each weighing its share, and says how
// long one takes: as long as the plan says of the usual division, less what is not cut then and with what is instead.
func (s *Service) divided(v *CarcassView, d atlas.Division, chosen map[string]string) carcassCut {
	masses := massesOf(s.atlas.Whole(v.Carcass, d.ID), v.Weight)
	c := carcassCut{beside: v.beside(s.atlas, d.ID), minutes: v.Plan.Minutes}
	gone := map[string]bool{}
	for _, part := range v.Carcass.Parts {
		gone[part.Piece] = true
	}
	for _, part := range d.Parts {
		p, _ := s.atlas.Find(part.Piece)
		if len(part.Findings) > 0 { // cut off it already
			p = p.Found(part.Findings, nil)
		}
		p = v.Shop.AddOwn(p, chosen[part.Piece]).In(v.Shop.Market)
		pl := planFor(v.Plan, p)
		if !gone[part.Piece] {
			c.minutes += pl.Minutes * float64(part.Count)
		}
		delete(gone, part.Piece)
		c.pieces = append(c.pieces,
			CarcassPiece{Piece: p, PerHead: float64(part.Count), Mass: masses[part.Piece], PlanID: pl.ID, Planned: pl.ID})
	}
	for _, part := range v.Carcass.Parts {
		if p, ok := s.atlas.Find(part.Piece); ok && gone[part.Piece] {
			c.minutes -= planFor(v.Plan, p).Minutes * float64(part.Count)
		}
	}
	return c
}

// carcassPieces lays out which piece is cut by which plan, and how long one carcass takes.
func (s *Service) carcassPieces(v *CarcassView, in CarcassAsk) error {
	var faults fault.List
	chosen := map[string]string{}
	for _, list := range []map[string]string{in.OtherSide, in.Swaps} {
		for piece, plan := range list {
			chosen[piece] = plan
		}
	}
	c := s.divided(v, v.Division, chosen)
	v.Minutes = c.minutes
	known := map[string]bool{}
	for _, p := range c.pieces {
		known[p.Piece.ID] = true
		for _, side := range sides(p, in.OtherSide) {
			field, list := "plans.", in.Swaps
			if side.Side != "" {
				field, list = "other_side.", in.OtherSide
			}
			id := list[p.Piece.ID]
			faults.Add(field+p.Piece.ID, v.swap(&side, id, in))
			v.Minutes += side.Minutes
			v.Pieces = append(v.Pieces, side)
		}
	}
	for _, asked := range []struct {
		field string
		list  map[string]string
	}{{"plans.", in.Swaps}, {"other_side.", in.OtherSide}, {"sold_whole.", in.SoldWhole}} {
		for id := range asked.list {
			if !known[id] {
				faults.Add(asked.field+fault.Shorten(id),
					fault.New("", "unknown", "is not a piece of this carcass, broken so", "Leave it out."))
			}
		}
	}
	v.Minutes = math.Max(1, v.Minutes)
	return faults.Err()
}

// sides gives a piece, or its two halves where the other of a pair (or of every other side) is cut its own way.
func sides(p CarcassPiece, other map[string]string) []CarcassPiece {
	if other[p.Piece.ID] == "" {
		return []CarcassPiece{p}
	}
	one, two := p, p
	one.Mass, two.Mass, two.Side = p.Mass/2, p.Mass-p.Mass/2, otherSide
	one.PerHead, two.PerHead = p.PerHead/2, p.PerHead/2
	return []CarcassPiece{one, two}
}

// swap cuts a piece of the view by a plan of its own, or leaves it whole; nothing where id is empty.
func (v *CarcassView) swap(p *CarcassPiece, id string, in CarcassAsk) error {
	if id == "" {
		return nil
	}
	planned, _ := p.Piece.Plan(p.Planned)
	if id == WholePlan {
		p.PlanID, p.Minutes = id, -planned.Minutes*p.PerHead
		if in.SoldWhole[p.Piece.ID] == "" {
			return nil
		}
		price, err := v.Shop.ParsePrice(in.SoldWhole[p.Piece.ID], in.WholePer)
		p.Price = &price
		return err
	}
	pl, ok := p.Piece.Plan(id)
	if !ok {
		return fault.New("", "unknown", fault.Quote(id)+" is not a plan of this piece", "Choose one of its plans.")
	}
	p.PlanID, p.Minutes = id, (pl.Minutes-planned.Minutes)*p.PerHead
	return nil
}

// divisions says what a head leaves by each division, by the carcass plan throughout; the usual one is the base.
func (s *Service) divisions(v *CarcassView, kill func(carcassCut) (carcass.RollUp, error)) error {
	for _, d := range v.Carcass.Divisions() {
		c := s.divided(v, d, nil)
		r, err := kill(c)
		if err != nil {
			return err
		}
		if d.ID == atlas.UsualDivision {
			v.Base = r
		}
		priced := !slices.ContainsFunc(r.Lines, func(l carcass.Line) bool { return !l.Priced && l.Mass > 0 })
		v.Ways = append(v.Ways,
			CarcassDivision{Division: d, Head: r.PerHead(r.Totals.Value), Minutes: c.minutes, Priced: priced})
	}
	return nil
}

// roll rolls the cut up and says what each swap in it brings, demand counted.
func (v *CarcassView) roll(now carcassCut, kill func(carcassCut) (carcass.RollUp, error)) (err error) {
	if v.Roll, err = kill(now); err != nil {
		return err
	}
	for i := range v.Pieces {
		p := &v.Pieces[i]
		if p.PlanID == p.Planned {
			continue
		}
		v.Swapped = true
		back, err := kill(now.back(i))
		if err != nil {
			return err
		}
		p.Gain = v.Roll.PerHead(v.Roll.Totals.Value).Sub(back.PerHead(back.Totals.Value))
	}
	return nil
}

// sellWhole says what the carcass would leave sold as it is, and at which price it would leave what it does cut.
func (v *CarcassView) sellWhole(in CarcassAsk, cost measure.Money) error {
	cut := v.Roll.PerHead(v.Roll.Totals.Value)
	unit := measure.UnitKilogram
	if v.Shop.Unit != "" {
		unit = v.Shop.Unit
	}
	v.Even = measure.Price{Per: unit,
		Amount: v.Shop.Money.Round(cut.Add(v.Shop.Money.Round(cost)).Over(v.Weight.In(unit)))}
	if in.WholePrice == "" {
		return nil
	}
	price, err := v.Shop.ParsePrice(in.WholePrice, in.WholePer)
	if err != nil {
		var faults fault.List
		faults.Add("whole_price", err)
		return faults.Err()
	}
	w := CarcassWhole{Price: price, Head: v.Shop.Money.Round(price.Of(v.Weight)).Sub(v.Shop.Money.Round(cost))}
	w.More = w.Head.Sub(cut)
	v.Whole = &w
	return nil
}
