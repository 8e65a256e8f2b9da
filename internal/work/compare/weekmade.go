package compare

import (
	"context"
	"errors"
	"maps"
	"slices"

	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/trim"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/goods"
	"falda/internal/work/made"
)

// WeekMade is what is made by a recipe from the week's trim.
type WeekMade struct {
	Recipe     string // its name
	From       []WeekFrom
	Meat, Sold measure.Mass
	Pieces     int
	Value      measure.Money // sold, less what else goes in
}

// WeekFrom is how much of a kind of trim goes into something made.
type WeekFrom struct {
	Name string
	Mass measure.Mass
}

// trimOf gathers the trim and fat that the best week gives, each kind as one tub, worth what it fetches in that week.
func (w *week) trimOf(ctx context.Context, best bestuse.HeadsSolution) ([]goods.Tub, error) {
	corrections, err := w.s.goods.Corrections(ctx, w.Shop.ID)
	if err != nil {
		return nil, err
	}
	tubs := map[string]*goods.Tub{}
	for _, u := range best.Use {
		x := w.planOf(best, u)
		for _, pr := range x.plan.Products {
			if !pr.IsTrim() && pr.Form != "fat" {
				continue
			}
			parts, mass := partsOf(x, pr.ID)
			f, ok := trim.Of(x.piece, pr, parts)
			if !ok || mass == 0 {
				continue
			}
			key := x.piece.Key(pr)
			t := tubs[key]
			if t == nil {
				t = &goods.Tub{TubID: goods.TubID{Key: key, MadeOn: w.Shop.Day(w.s.now()), Place: "cold"}, Name: pr.Name,
					Species: x.piece.Species, Form: pr.Form, Kind: store.GoodsStream, Figures: &trim.Figures{}}
				tubs[key] = t
			}
			more := mass * measure.Mass(u.Pieces)
			before, share := t.Left.Grams(), more.Grams()
			t.Figures.Lean = (t.Figures.Lean*before + f.Lean*share) / (before + share)
			t.Figures.Connective = (t.Figures.Connective*before + f.Connective*share) / (before + share)
			t.Left += more
		}
	}
	var out []goods.Tub
	for _, key := range slices.Sorted(maps.Keys(tubs)) {
		t := tubs[key]
		with := corrections[key].With(*t.Figures)
		t.Figures, t.Tests = &with, corrections[key]
		if at := slices.IndexFunc(w.Sales, func(s WeekSale) bool { return s.Product == key && s.Made > 0 }); at >= 0 {
			t.Price = &measure.Price{Amount: w.Sales[at].Value.Over(w.Sales[at].Made.In(measure.UnitKilogram)),
				Per: measure.UnitKilogram}
		}
		out = append(out, *t)
	}
	return out, nil
}

// partsOf gives what one piece cut so gives of a product, by its parts.
func partsOf(x weekPlan, product string) (parts []trim.Piece, all measure.Mass) {
	for _, c := range value.Forecast(x.piece, x.plan, x.each) {
		if c.Product == product && c.Fate == value.Sold {
			parts = append(parts, trim.Piece{Part: c.Part, Mass: c.Mass})
			all += c.Mass
		}
	}
	return parts, all
}

// make finds what the trim of the best week should be made into by the shop's recipes; nothing where there is no trim
// or no recipe with meat and a price.
func (w *week) make(ctx context.Context, best bestuse.HeadsSolution, stop bestuse.Stop) error {
	tubs, err := w.trimOf(ctx, best)
	if err != nil || len(tubs) == 0 {
		return err
	}
	b, err := w.s.made.BlendOf(ctx, made.BlendAsk{}, tubs, w.Asked.Days, func() bool { return stop() })
	var faults fault.List
	if errors.As(err, &faults) { // no recipe that could take it
		return nil
	}
	if fault.Of(err) != nil {
		w.Notes = append(w.Notes, "What the trim could be made into was not found in time.")
		return nil
	}
	if err != nil {
		return err
	}
	w.MadeGain = b.Gain()
	for k, m := range b.Made {
		if m.Meat == 0 {
			continue
		}
		x := WeekMade{Recipe: m.Recipe.Name, Meat: m.Meat, Sold: m.Sold, Pieces: m.Pieces, Value: m.Value}
		for _, u := range b.Use {
			if u.Recipe == k {
				x.From = append(x.From, WeekFrom{b.Tubs[u.Tub].Name, u.Mass})
			}
		}
		w.Made = append(w.Made, x)
	}
	return nil
}
