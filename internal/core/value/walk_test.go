package value

import (
	"maps"
	"math/rand/v2"
	"slices"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
)

// choicesOf lists every way to answer the options of a plan in steps.
func choicesOf(pl atlas.Plan) []map[string]string {
	out := []map[string]string{{}}
	for _, o := range pl.Options {
		var next []map[string]string
		for _, chosen := range out {
			for _, c := range o.Choices {
				with := maps.Clone(chosen)
				with[o.ID] = c.ID
				next = append(next, with)
			}
		}
		out = next
	}
	return out
}

// Rule: every plan of the atlas that is written in steps can be cut under every choice: in an order that its steps
// allow, every step booked as the bench books it, nothing asked for that stays joined, the balance closed; and each
// product is on the sheet with the weight that was booked, to the milligram.
func TestEveryPlanInStepsIsCut(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	rng := rand.New(rand.NewPCG(11, 12))
	ways := 0
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			if !pl.OwnSteps() {
				continue
			}
			for _, chosen := range choicesOf(pl) {
				with, err := p.With(pl, chosen)
				if err != nil {
					t.Fatal(err)
				}
				ways++
				cut(t, rng, p, with)
			}
		}
	}
	if ways < 250 {
		t.Errorf("only %d ways were cut", ways)
	}
}

// cut takes a plan through the bench, on a piece whose parts weigh up to a tenth more or less than the atlas says.
func cut(t *testing.T, rng *rand.Rand, p atlas.Piece, pl atlas.Plan) {
	t.Helper()
	b := &bench{t: t, p: p, plan: pl, actual: map[string]measure.Mass{}, nodes: map[string]string{},
		tubs: map[string]measure.Mass{}, booked: map[string]measure.Mass{}}
	flow := p.Flow(pl)
	input := measure.Mass(0)
	for i, m := range p.Split(p.Typical()) {
		part := p.Parts()[i]
		m = measure.Mass(float64(m) * (0.9 + 0.2*rng.Float64()))
		input += m
		if part.Kind != atlas.KindLoss {
			b.actual[part.ID] = m
		}
	}
	for thing, m := range seam.Masses(p, flow, p.Typical()) {
		if steps.AddedIngredient(thing) != "" {
			b.actual[thing] = m
		}
	}
	b.book(seam.Event{Kind: seam.Opened, Net: input})
	done := map[string]bool{}
	for len(done) < len(flow.Steps) {
		ready := slices.DeleteFunc(slices.Clone(flow.Steps), func(d steps.Done) bool {
			return done[d.ID] || slices.ContainsFunc(d.Waits, func(id string) bool { return !done[id] })
		})
		if len(ready) == 0 {
			t.Fatalf("%s %s: nothing can be done after %v", p.ID, pl.Name, done)
		}
		d := ready[rng.IntN(len(ready))]
		done[d.ID] = true
		b.walked(flow, d)
	}
	for _, e := range seam.ExpectBy(flow, p, pl, seam.Fold(p, b.log), 0) {
		if e.Kind == seam.KindTub && b.tubs[e.ID] > 0 {
			b.book(seam.Event{Kind: seam.Tubbed, Part: e.ID, Net: b.tubs[e.ID]})
		}
	}
	for _, e := range seam.ExpectBy(flow, p, pl, seam.Fold(p, b.log), 0) {
		if e.Times < e.Want {
			t.Errorf("%s %s: %s of %s is still asked for", p.ID, pl.Name, e.ID, e.Step)
		}
	}
	b.book(seam.Event{Kind: seam.Closed, Reason: "as it is"})
	cells, as := Recorded(p, pl, seam.Fold(p, b.log))
	sheet := Sheet{Atlas: p, Plan: as, Cells: cells}
	if sheet.Mass() != input {
		t.Errorf("%s %s: the sheet weighs %v, the piece %v", p.ID, pl.Name, sheet.Mass(), input)
	}
	for tub, m := range b.tubs {
		if pr, sold := p.TubProduct(steps.Tub(tub)); sold {
			b.booked[pr.ID] += m
		} else if got := sheet.FateMass(Waste); got != m {
			t.Errorf("%s %s: %v thrown away, %v was booked", p.ID, pl.Name, got, m)
		}
	}
	for id, m := range b.booked {
		if got := sheet.ProductMass(id); got != m {
			t.Errorf("%s %s: %s weighs %v, %v was booked", p.ID, pl.Name, id, got, m)
		}
	}
}

// walked books a step as a bench does: it names the step, and what follows from that is filled in.
func (b *bench) walked(flow steps.Flow, d steps.Done) {
	fill := func(e seam.Event) {
		b.t.Helper()
		e.Step = d.ID
		b.book(seam.Fill(flow, seam.Fold(b.p, b.log), e))
	}
	if d.Idle {
		return
	}
	board := seam.Fold(b.p, b.log)
	if d.Joins != "" && len(board.Blocks(d.Joins)) > 0 && len(board.Blocks(d.Block)) > 0 {
		fill(seam.Event{Kind: seam.Joined, Target: board.Blocks(d.Joins)[0].ID})
	}
	for _, a := range flow.Added {
		if a.Step == d.ID && b.actual[a.Thing()] > 0 {
			fill(seam.Event{Kind: seam.Added, Part: a.Ingredient, Net: b.actual[a.Thing()]})
		}
	}
	for _, o := range d.Outputs {
		m := b.mass(o.Holds)
		switch {
		case m <= 0:
		case o.Kind == steps.ToTub && o.Weigh != steps.WeighEach:
			b.tubs[o.ID] += m
		case o.Kind == steps.ToTub:
			b.tubs[o.ID] += m
			fill(seam.Event{Kind: seam.Tubbed, Part: o.ID, Net: m})
		case o.Kind == steps.ToBlock:
			if o.Weigh != steps.WeighNone {
				fill(seam.Event{Kind: seam.Parted, Block: o.ID, Net: m})
			}
		default:
			b.booked[o.ID] += m
			fill(seam.Event{Kind: seam.Portioned, Product: o.ID, Net: m})
		}
	}
}

// answersOf lists every way to answer options, none of them chosen first.
func answersOf(options []atlas.Option) []map[string]string {
	out := []map[string]string{{}}
	for _, o := range options {
		for _, chosen := range slices.Clone(out) {
			for _, c := range o.Choices {
				with := maps.Clone(chosen)
				with[o.ID] = c.ID
				out = append(out, with)
			}
		}
	}
	return out
}

// Rule: every plan of percentages, under every choice, is cut by the steps that the rule makes of it, in a random order
// that the seams allow: what is asked for is booked, each event is let through, the balance is closed, and each part's
// products are its booked weight by the plan's percentages, to the milligram of the part.
func TestEveryPlanOfPercentagesIsCut(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	rng := rand.New(rand.NewPCG(13, 14))
	ways := 0
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			if pl.OwnSteps() {
				continue
			}
			for _, chosen := range answersOf(p.OptionsOf(pl.ID)) {
				with, err := p.With(pl, chosen)
				if err != nil {
					continue // two choices that exclude each other
				}
				ways++
				cutByShares(t, rng, p, with)
			}
		}
	}
	if ways < 120 {
		t.Errorf("only %d ways were cut", ways)
	}
}

func cutByShares(t *testing.T, rng *rand.Rand, p atlas.Piece, pl atlas.Plan) {
	t.Helper()
	b := &bench{t: t, p: p, plan: pl}
	actual, input := map[string]measure.Mass{}, measure.Mass(0)
	for i, m := range p.Split(p.Typical()) {
		m = measure.Mass(float64(m) * (0.9 + 0.2*rng.Float64()))
		input += m
		if part := p.Parts()[i]; part.Kind != atlas.KindLoss {
			actual[part.ID] = m
		}
	}
	b.book(seam.Event{Kind: seam.Opened, Net: input})
	flow := p.Flow(pl)
	booked := map[string]measure.Mass{}
	for {
		expected := seam.ExpectBy(flow, p, pl, seam.Fold(p, b.log), 0)
		open := slices.DeleteFunc(expected, func(e seam.Expected) bool { return e.Times >= e.Want || !e.Reachable })
		if len(open) == 0 {
			break
		}
		e := open[rng.IntN(len(open))]
		net := actual[e.ID]
		if pr, ok := pl.Product(e.ID); ok && e.Kind == seam.KindProduct {
			net = 0
			for part, pct := range pr.From {
				net += measure.Mass(float64(actual[part]) * pct / 100)
			}
		} else if pl.Cut == atlas.CutStraight { // what the products leave of it
			sold := 0.0
			for _, pr := range pl.Products {
				sold += pr.From[e.ID]
			}
			net = measure.Mass(float64(net) * (1 - sold/100))
		}
		booked[e.ID] = net
		switch e.Kind {
		case atlas.KindMuscle:
			b.book(seam.Event{Kind: seam.SeamedOff, Part: e.ID, Net: net})
		case atlas.KindWaste:
			b.book(seam.Event{Kind: seam.Discarded, Part: e.ID, Net: net})
		case seam.KindProduct:
			b.book(seam.Event{Kind: seam.Portioned, Product: e.ID, Net: net})
		default:
			b.book(seam.Event{Kind: seam.Trimmed, Part: e.ID, Net: net})
		}
	}
	b.book(seam.Event{Kind: seam.Closed, Reason: "as it is"})
	cells, as := Recorded(p, pl, seam.Fold(p, b.log))
	sheet := Sheet{Atlas: p, Plan: as, Cells: cells}
	if sheet.Mass() != input {
		t.Errorf("%s %s: the sheet weighs %v, the piece %v", p.ID, pl.Name, sheet.Mass(), input)
	}
	of := map[string]measure.Mass{}
	for _, c := range cells {
		if c.Fate != Loss {
			of[c.Part] += c.Mass
		}
	}
	for id, m := range booked {
		switch _, isPart := p.Part(id); {
		case isPart && of[id] != m && pl.Cut == atlas.CutSeams:
			t.Errorf("%s %s: %s weighs %v on the sheet, %v was booked", p.ID, pl.Name, id, of[id], m)
		case !isPart && sheet.ProductMass(id) != m:
			t.Errorf("%s %s: %s weighs %v on the sheet, %v was booked", p.ID, pl.Name, id, sheet.ProductMass(id), m)
		}
	}
	if pl.Cut != atlas.CutSeams {
		return
	}
	for _, m := range p.Muscles {
		for _, pr := range pl.Products {
			want, got := float64(booked[m.ID])*pr.From[m.ID]/100, measure.Mass(0)
			for _, c := range cells {
				if c.Part == m.ID && c.Product == pr.ID {
					got += c.Mass
				}
			}
			if d := float64(got) - want; d > 1 || d < -1 {
				t.Errorf("%s %s: %s of %s weighs %v, by its percentage %.0f", p.ID, pl.Name, pr.ID, m.ID, got, want)
			}
		}
	}
}
