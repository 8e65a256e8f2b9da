package compare

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/work/pricing"
	"falda/internal/work/stock"
)

// breaking is the piece that stands for taking a carcass apart.
const breaking = "(broken)"

// placeOf is what the n-th part of a division, a piece, is called among the ways: a piece may be in it more than once.
func placeOf(piece string, n int) string { return fmt.Sprintf("%s#%d", piece, n) }

// read reads what is asked.
func (w *week) read() error {
	var faults fault.List
	in := w.Asked
	if in.Days < 1 || in.Days > 31 {
		faults.Add("days", fault.New("", "out_of_range", "must be from 1 to 31", "For how many days is it cut?"))
	}
	if len(in.Heads) < 1 || len(in.Heads) > maxHeadKinds {
		faults.Add("heads", fault.New("", "out_of_range", fmt.Sprintf("must be 1 to %d kinds", maxHeadKinds),
			"Say what is killed."))
	}
	for i, x := range in.Heads {
		at := fmt.Sprintf("heads[%d].", i)
		k := slices.IndexFunc(w.s.atlas.Carcasses, func(c atlas.Carcass) bool { return c.ID == x.Carcass })
		if _, twice := w.carcass[x.Carcass]; k < 0 || twice {
			faults.Add(at+"carcass", fault.New("", "unknown", "is no carcass of the atlas, or stands twice",
				"Choose one of the list."))
			continue
		}
		c := w.s.atlas.Carcasses[k]
		w.carcass[c.ID] = c
		w.mass[c.ID] = measure.Mass(math.Round(c.WeightKg.Typical * float64(measure.Kilogram)))
		if x.Weight != "" {
			m, err := measure.ParseMass(x.Weight, measure.Unit(x.Unit))
			if err == nil {
				err = stock.CheckPlausible(w.s.atlas.Whole(c, atlas.UsualDivision), m, 1)
			}
			faults.Add(at+"weight", err)
			w.mass[c.ID] = m
		}
		killed, err := w.readKilled(x.Slaughtered)
		faults.Add(at+"slaughtered_on", err)
		w.killed[c.ID] = killed
		if x.Count < 1 || x.Count > 200 {
			faults.Add(at+"count", fault.New("", "out_of_range", "must be from 1 to 200", "Count again."))
		}
		w.heads.Heads = append(w.heads.Heads, bestuse.Head{ID: c.ID, Count: x.Count})
	}
	limit := func(field, text string) *bestuse.Minutes {
		if strings.TrimSpace(text) == "" {
			return nil
		}
		m, err := readMinutes(text, "Enter the minutes there are.")
		faults.Add(field, err)
		return &m
	}
	var err error
	w.loss, err = readLoss(in.AgeingLoss)
	faults.Add("ageing_loss_pct", err)
	w.heads.Minutes, w.heads.Saw = limit("minutes", in.Minutes), limit("saw_minutes", in.Saw)
	return faults.Err()
}

// layOut lays the heads out: every division, every piece, every plan of it that has prices.
func (w *week) layOut(ctx context.Context) error {
	demands, err := w.s.store.Demands(ctx, w.Shop.ID)
	if err != nil {
		return err
	}
	v := BestView{Shop: w.Shop, Asked: BestAsk{Days: w.Asked.Days}, Book: w.Book}
	w.maker = problemMaker{best: &best{names: w.s.productNames(w.Shop)}, shop: w.Shop, view: &v, at: map[string]int{},
		unpriced: map[string]bool{}}
	if w.maker.caps, err = pricing.DemandOn(demands, w.Book.Season); err != nil {
		return err
	}
	for _, h := range w.heads.Heads {
		c := w.carcass[h.ID]
		for _, d := range c.Divisions() {
			w.divide(c, d)
		}
	}
	if len(w.heads.Ways) == 0 {
		return fault.New("heads", "not_ripe", "are all too young for these days", "Ask for more days, or another kill.")
	}
	if !slices.ContainsFunc(w.heads.Ways, func(x bestuse.Way) bool { return len(x.Plan.Yields) > 0 }) {
		return fault.New("prices", "none", "no price is known yet for anything that is made of it",
			"Type some on the prices page; those that are like them can be guessed from there.")
	}
	w.heads.Products = w.maker.problem.Products
	if w.Asked.Open {
		today := w.Shop.Day(w.s.now())
		if w.needs, err = w.s.orders.Needs(ctx, w.Shop.Begins(today.AddDate(0, 0, w.Asked.Days))); err != nil {
			return err
		}
	}
	for _, n := range w.needs {
		if j, ok := w.maker.at[n.Key]; ok && n.ToCut > 0 {
			w.heads.Products[j].Order += n.ToCut
		}
	}
	return w.stand(ctx)
}

// divide lays one division of a carcass out.
func (w *week) divide(c atlas.Carcass, d atlas.Division) {
	whole := w.s.atlas.Whole(c, d.ID)
	masses := massesOf(whole, w.mass[c.ID])
	if pl, ok := whole.Plan(d.ID); ok {
		w.way(c, d, breaking, 1, weekPlan{piece: whole, plan: pl, each: w.mass[c.ID]})
	}
	for n, part := range d.Parts {
		p, _ := w.s.atlas.Find(part.Piece)
		if len(part.Findings) > 0 { // cut off it already
			p = p.Found(part.Findings, nil)
		}
		p = w.Shop.AddOwn(p, "").In(w.Shop.Market)
		each := masses[part.Piece] / measure.Mass(part.Count)
		id := placeOf(part.Piece, n)
		var first time.Time // that a plan of it is ripe
		ways := len(w.heads.Ways)
		for _, pl := range p.Plans {
			if slices.ContainsFunc(pl.Products, func(pr atlas.Product) bool { return pr.Form == atlas.FormPiece }) {
				continue // it only falls into smaller pieces
			}
			x, ripe := w.ripe(c.ID, weekPlan{piece: p, plan: pl, each: each})
			if first.IsZero() || x.readyOn.Before(first) {
				first = x.readyOn
			}
			if !ripe {
				w.unripe++
				continue
			}
			for _, x := range x.everyChoice() {
				w.way(c, d, id, part.Count, x)
			}
		}
		if len(w.heads.Ways) == ways && !first.IsZero() {
			w.young[[3]string{c.ID, d.ID, id}] = first
		}
	}
}

// everyChoice gives a plan at its usual choices, and with each other choice of an option, one at a time.
func (x weekPlan) everyChoice() []weekPlan {
	out := []weekPlan{x}
	for _, o := range x.piece.OptionsOf(x.plan.ID) {
		for _, c := range o.Choices {
			chosen := map[string]string{o.ID: c.ID}
			if with, err := x.piece.With(x.plan, chosen); err == nil {
				out = append(out, weekPlan{piece: x.piece, plan: with, each: x.each, chosen: chosen, readyOn: x.readyOn})
			}
		}
	}
	return out
}

// way adds a way of cutting a piece, where it makes something that has a price; another choice that makes the same in
// no less time is left out.
func (w *week) way(c atlas.Carcass, d atlas.Division, piece string, count int, x weekPlan) {
	_, saw, _ := x.piece.Stages(x.plan, x.each)
	plan, _ := w.maker.plan(stock.Card{Piece: x.piece, Weight: x.each}, x.piece, x.plan)
	plan.Saw = bestuse.Minutes(math.Round(saw * 100))
	goesOn := map[string]bool{} // the pieces of a division: they bring what they are cut into
	for _, pr := range x.plan.Products {
		goesOn[x.piece.Key(pr)] = pr.Form == atlas.FormPiece
	}
	plan.Yields = slices.DeleteFunc(plan.Yields, func(y bestuse.Yield) bool {
		return goesOn[y.Product] || w.Book.Prices[y.Product].Per == ""
	})
	way := bestuse.Way{Head: c.ID, Division: d.ID, Piece: piece, ID: x.id(), PerHead: count, Plan: plan}
	if len(x.chosen) > 0 && slices.ContainsFunc(w.heads.Ways, way.NoBetterThan) {
		return
	}
	w.heads.Ways = append(w.heads.Ways, way)
	w.plans[[3]string{c.ID + d.ID, piece, way.ID}] = x
}

// only gives the heads with the ways that pass, of the usual division; a piece whose way is not ripe goes the first
// that is.
func (w *week) only(pick func(atlas.Piece) string) bestuse.Heads {
	h := w.heads
	h.Minutes, h.Saw = nil, nil
	h.Products = slices.Clone(h.Products)
	for j := range h.Products {
		h.Products[j].Order = 0
	}
	h.Ways = nil
	for _, x := range w.heads.Ways {
		wp := w.plans[[3]string{x.Head + x.Division, x.Piece, x.ID}]
		picked := pick(wp.piece)
		first := !slices.ContainsFunc(h.Ways, func(o bestuse.Way) bool { return o.Head == x.Head && o.Piece == x.Piece })
		if x.Division == atlas.UsualDivision && (x.Piece == breaking || picked == x.ID || first && !w.hasWay(x, picked)) {
			h.Ways = append(h.Ways, x)
		}
	}
	return h
}

// traditional is the plan of the traditional school, else the first.
func traditional(p atlas.Piece) string {
	if pl, ok := p.Traditional(); ok {
		return pl.ID
	}
	return p.Plans[0].ID
}

// seamed is the first plan that takes a piece apart along its seams, else the traditional one.
func seamed(p atlas.Piece) string {
	for _, pl := range p.Plans {
		if pl.Cut == atlas.CutSeams {
			return pl.ID
		}
	}
	return traditional(p)
}
