package seam

import (
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// Band is how far a weight may stray from the expected one before it is asked about, as a part of it. Common practice,
// no source: a third either way covers animals of different build.
const Band = 0.33

// Expected is one thing that should come off the piece under its plan.
type Expected struct {
	Kind      string // atlas.KindMuscle, KindFat …, or KindProduct
	ID        string
	Name      string
	Code      string
	Mass      measure.Mass // from the atlas' shares and the weighed piece; estimated
	Low, High measure.Mass
	Taken     measure.Mass
	Times     int
	Want      int // weighings: one, or as many pieces as a carcass gives of this part
	Reachable bool
	WaitsFor  []string // muscles that lie over its seam
}

// KindProduct is the kind of an expected product, where a plan cuts straight.
const KindProduct = "product"

// Expect lists what should come off: the muscles in their order and then fat, bone, trim and waste where the plan
// seams; the products and the waste where it cuts straight. Piece weight is the input once weighed, else the given one.
func Expect(p atlas.Piece, plan atlas.Plan, b Board, weight measure.Mass) []Expected {
	if b.Root != "" {
		weight = b.Input()
	}
	parts, masses := p.Parts(), p.Split(weight)
	share := map[string]measure.Mass{}
	for i, part := range parts {
		share[part.ID] = masses[i]
	}
	var out []Expected
	add := func(kind, id, name, code string, m measure.Mass, waits []string) {
		e := Expected{Kind: kind, ID: id, Name: name, Code: code, Mass: m, WaitsFor: waits, Reachable: len(waits) == 0,
			Want: 1}
		if pr, ok := plan.Product(id); ok && pr.Form == atlas.FormPiece {
			e.Want = max(1, pr.Count.High)
		}
		e.Low, e.High = measure.Mass(float64(m)*(1-Band)), measure.Mass(float64(m)*(1+Band))
		if kind == KindProduct {
			e.Taken, e.Times = b.Taken("", id)
		} else {
			e.Taken, e.Times = b.Taken(id, "")
		}
		out = append(out, e)
	}
	if plan.Cut == atlas.CutSeams {
		for _, id := range Order(p) {
			m, _ := p.Muscle(id)
			add(atlas.KindMuscle, id, m.Name, m.Code, share[id], waitsFor(m, b.off))
		}
	} else {
		for _, pr := range plan.Products {
			sum := measure.Mass(0)
			for part, pct := range pr.From {
				sum += measure.Mass(float64(share[part]) * pct / 100)
			}
			add(KindProduct, pr.ID, pr.Name, "", sum, nil)
		}
	}
	for _, part := range parts {
		sold := part.Kind == atlas.KindFat || part.Kind == atlas.KindBone || part.Kind == atlas.KindTrim
		left := share[part.ID]
		// some of it is sold in the products that were cut through it
		if part.Kind == atlas.KindWaste && plan.Cut == atlas.CutStraight {
			for _, pr := range plan.Products {
				left -= measure.Mass(float64(share[part.ID]) * pr.From[part.ID] / 100)
			}
		}
		if (part.Kind == atlas.KindWaste && left > 0) || (sold && plan.Cut == atlas.CutSeams) {
			add(part.Kind, part.ID, part.Name, "", left, nil)
		}
	}
	return out
}

// Next is the position in expected of what should be weighed next: the first that is reachable and not yet taken as
// often as it should; −1 when everything has been weighed.
func Next(expected []Expected) int {
	for i, e := range expected {
		if e.Times < e.Want && e.Reachable {
			return i
		}
	}
	for i, e := range expected {
		if e.Times < e.Want {
			return i
		}
	}
	return -1
}

// Question asks quietly about a weight far from the expected one, naming what may have happened; empty when it is near.
// It never blocks. Trim, fat and waste are not asked about: they vary too much.
func (e Expected) Question(u measure.Unit) string {
	if e.Times < e.Want || (e.Kind != atlas.KindMuscle && e.Kind != KindProduct) {
		return ""
	}
	switch {
	case e.Times > e.Want && e.Taken > e.High:
		return "Weighed " + timesText(e.Times) + ", " + (e.Taken-e.Mass).Text(u, 2) + " over the usual weight. Booked twice?"
	case e.Taken < e.Low:
		return (e.Mass-e.Taken).Text(u, 2) + " under the usual weight. A piece left on its neighbour?"
	case e.Taken > e.High:
		return (e.Taken-e.Mass).Text(u, 2) + " over the usual weight. Part of a neighbour on it, or a tub not tared?"
	}
	return ""
}

func timesText(n int) string {
	if n == 2 {
		return "twice"
	}
	return "several times"
}
