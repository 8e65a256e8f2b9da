package work

import (
	"context"
	"errors"
	"fmt"
	"math/big"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/store"
)

// hangBroken makes pieces of what carcasses were broken into. It is asked after a carcass was closed, and by the upkeep for
// what a program that ended in between left undone. Each part becomes a lot of its own, each of its weighings a piece. One
// carcass that cannot be done does not keep the others from it.
func (s *Service) hangBroken(ctx context.Context, shop ShopWithPlans) error {
	closed, err := s.store.Unhung(ctx, shop.ID, s.atlas.CarcassIDs())
	if err != nil {
		return err
	}
	var failed []error
	for _, b := range closed {
		err := s.recorded(ctx, func(tx *store.Store) (change, error) { return s.hangOne(ctx, tx, shop, b) })
		if err != nil && !errors.Is(err, store.ErrConflict) { // another program was faster
			failed = append(failed, fmt.Errorf("carcass %s: %w", b.PublicID, err))
		}
	}
	return errors.Join(failed...)
}

func (s *Service) hangOne(ctx context.Context, tx *store.Store, shop ShopWithPlans, b store.Breakdown) (change, error) {
	if err := tx.LockPiece(ctx, shop.ID, b.PieceID); err != nil {
		return change{}, err
	}
	h, err := tx.HungByID(ctx, shop.ID, b.PieceID)
	if err != nil {
		return change{}, err
	}
	if err := tx.MarkHung(ctx, shop.ID, b.ID, s.now()); err != nil {
		return change{}, err
	}
	c, ok := s.atlas.FindCarcass(h.Lot.AtlasID)
	if !ok {
		return change{}, fmt.Errorf("lot %s is of the carcass %s, which the atlas does not know", h.Lot.LotNumber, h.Lot.AtlasID)
	}
	outputs, err := tx.Outputs(ctx, shop.ID, b.ID)
	if err != nil {
		return change{}, err
	}
	book, _, err := s.priceBook(ctx, shop.Shop)
	if err != nil {
		return change{}, err
	}
	division := c.Division(b.PlanID)
	paid, err := pieceCost(shop.Shop, h)
	if err != nil {
		return change{}, err
	}
	costs := s.shareCost(shop, c, division, outputs, paid, book)
	made := map[string]any{}
	for i, part := range division.Parts {
		lot := store.Lot{PublicID: store.NewID(), ShopID: shop.ID, LotNumber: fmt.Sprintf("%s/%d", brokenNumber(h), i+1), Supplier: h.Lot.Supplier, AtlasID: part.Piece, PricePer: "kg",
			SlaughteredOn: h.Lot.SlaughteredOn, PackedOn: later(h.Lot.PackedOn, shop.Day(s.now())), Findings: append([]string{}, part.Findings...), About: h.Lot.About,
			ReceivedAt: s.now(), Version: 1, FromPieceID: &h.Piece.ID}
		lot.About.TemperatureC = nil
		var pieces []store.Piece
		for _, o := range outputs {
			if o.Part == part.Piece && o.Kind != "opened" {
				pieces = append(pieces, store.Piece{PublicID: store.NewID(), ShopID: shop.ID, Number: len(pieces) + 1, LabelMg: o.MassMg, Version: 1})
				lot.TotalMg += o.MassMg
			}
		}
		if len(pieces) == 0 {
			continue
		}
		lot.Pieces = len(pieces)
		lot.Price = costs[part.Piece].Over(measure.Mass(lot.TotalMg).In(measure.UnitKilogram)).Text(measure.PriceDecimals)
		if err := tx.CreateLot(ctx, &lot, pieces); err != nil {
			return change{}, err
		}
		made[lot.LotNumber] = map[string]any{"piece": lot.AtlasID, "pieces": lot.Pieces, "total_g": measure.Mass(lot.TotalMg).Grams(), "price": lot.Price}
	}
	return change{Action: "carcass.broken", Subject: h.Lot.PublicID, SubjectName: pieceName(h), Became: made}, nil
}

// brokenNumber is what the lots of a carcass' pieces are numbered after: its lot, and which of its pieces it is where there are several.
func brokenNumber(h store.Hung) string {
	if h.Lot.Pieces > 1 {
		return fmt.Sprintf("%s/%d", h.Lot.LotNumber, h.Piece.Number)
	}
	return h.Lot.LotNumber
}

// shareCost shares what a carcass cost among its pieces: what bone, fat and trim bring is credited first; the rest goes by what each piece
// brings cut the traditional way, less its labour and packaging (net realisable value), or by weight where prices are missing.
func (s *Service) shareCost(shop ShopWithPlans, c atlas.Carcass, d atlas.Division, outputs []store.Output, cost measure.Money, book map[string]measure.Price) map[string]measure.Money {
	mass := map[string]measure.Mass{}
	for _, o := range outputs {
		if o.Kind != "opened" {
			mass[o.Part] += measure.Mass(o.MassMg)
		}
	}
	for _, o := range d.Other {
		key := c.Species + "." + o.As
		if o.As == "" {
			key = c.Species + "." + o.ID
		}
		cost = cost.Sub(book[key].Of(mass[o.ID]))
	}
	var products []value.JointProduct
	priced := true
	for _, part := range d.Parts {
		m := mass[part.Piece]
		if m == 0 {
			continue
		}
		p, _ := s.atlas.Find(part.Piece)
		p = p.Found(part.Findings, nil)
		pl, _ := p.Traditional()
		sheet := forecastSheet(shop.Shop, p, pl, m, book)
		sheet.Minutes *= float64(part.Count)
		priced = priced && len(sheet.Unpriced()) == 0
		t := sheet.Totals()
		kg := m.In(measure.UnitKilogram)
		products = append(products, value.JointProduct{ID: part.Piece, Quantity: kg, FinalQuantity: big.NewRat(1, 1), FinalPrice: t.Sales, FurtherCost: t.Labour.Add(t.Packaging)})
	}
	method := value.NRV
	if !priced {
		method = value.Physical
	}
	shared, err := value.AllocateJoint(cost, method, products)
	if err != nil { // nothing is worth anything: by weight
		shared, err = value.AllocateJoint(cost, value.Physical, products)
	}
	out := map[string]measure.Money{}
	if err == nil {
		for _, a := range shared.Allocations {
			out[a.ID] = a.Cost
		}
	}
	return out
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// cutBoard gives the board of what is cut for sale. A carcass is not: what is asked of it only its pieces can answer.
func (s *Service) cutBoard(ctx context.Context, id string) (BoardView, error) {
	v, err := s.Board(ctx, id)
	if err == nil && v.Card.Carcass {
		err = fault.Stands("", "carcass", "A carcass is broken into pieces, not cut for sale.", "Look at its pieces; they hang on the rail and stand on the page of its lot.")
	}
	return v, err
}

// CarcassPlanView is what a carcass would bring if every piece of its usual division were cut by one plan of the atlas.
type CarcassPlanView struct {
	Plan   atlas.CarcassPlan
	Totals value.Totals
	Priced bool
}

// sayCarcass puts what a carcass would bring under each of its plans into a forecast, and the sentence that compares the first of the
// traditional school with the best of the others.
func (f *Forecast) sayCarcass(s *Service, shop ShopWithPlans, c atlas.Carcass, weight measure.Mass, book map[string]measure.Price) {
	f.Carcass = s.carcassPlans(shop, c, weight, f.PieceCost, book)
	var base, best *CarcassPlanView
	for i := range f.Carcass {
		v := &f.Carcass[i]
		switch {
		case !v.Priced:
			f.Sentence = "What it would bring cannot be said yet: some of what it becomes has no price."
			return
		case v.Plan.School == "traditional" && base == nil:
			base = v
		case best == nil || v.Totals.Value.Cmp(best.Totals.Value) > 0:
			best = v
		}
	}
	if base == nil || best == nil {
		return
	}
	diff := best.Totals.Value.Sub(base.Totals.Value)
	word := " more than "
	if diff.Sign() < 0 {
		word = " less than "
	}
	f.Sentence = fmt.Sprintf("%s would bring %s%s%s, after %g more minutes of work.", best.Plan.Name, shop.Money.Text(diff.Abs()), word, words.Uncapitalised(base.Plan.Name), best.Plan.Minutes-base.Plan.Minutes)
}

// massesOf is what each part of a piece weighs by its share.
func massesOf(p atlas.Piece, weight measure.Mass) map[string]measure.Mass {
	out, parts := map[string]measure.Mass{}, p.Parts()
	for i, m := range p.Split(weight) {
		out[parts[i].ID] = m
	}
	return out
}

// carcassPlans works out what a carcass would bring under each of its plans.
func (s *Service) carcassPlans(shop ShopWithPlans, c atlas.Carcass, weight measure.Mass, cost measure.Money, book map[string]measure.Price) []CarcassPlanView {
	d := c.Division(atlas.UsualDivision)
	whole := s.atlas.Whole(c, atlas.UsualDivision)
	masses := massesOf(whole, weight)
	var out []CarcassPlanView
	for _, cp := range c.Plans {
		v := CarcassPlanView{Plan: cp, Priced: true}
		for _, part := range d.Parts {
			p, _ := s.atlas.Find(part.Piece)
			pl, _ := p.Plan(cp.Pieces[part.Piece])
			sheet := forecastSheet(shop.Shop, p, pl, masses[part.Piece], book)
			sheet.Minutes = 0 // those of the whole count
			t := sheet.Totals()
			v.Totals.Sales, v.Totals.Packaging, v.Totals.Discard = v.Totals.Sales.Add(t.Sales), v.Totals.Packaging.Add(t.Packaging), v.Totals.Discard.Add(t.Discard)
			v.Priced = v.Priced && len(sheet.Unpriced()) == 0
		}
		for _, o := range d.Other {
			if o.As != "" {
				v.Totals.Sales = v.Totals.Sales.Add(shop.Money.Round(book[c.Species+"."+o.As].Of(masses[o.ID])))
			}
		}
		v.Totals.Labour = shop.Money.Round(shop.Rates.LabourPerHour.Times(big.NewRat(int64(cp.Minutes*100), 6000)))
		v.Totals.Purchase = shop.Money.Round(cost)
		v.Totals.Value = v.Totals.Sales.Sub(v.Totals.Packaging).Sub(v.Totals.Discard).Sub(v.Totals.Labour).Sub(v.Totals.Purchase)
		v.Totals.PerKg = shop.Money.Round(v.Totals.Value.Over(weight.In(measure.UnitKilogram)))
		out = append(out, v)
	}
	return out
}
