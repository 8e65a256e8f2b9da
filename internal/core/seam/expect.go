package seam

import (
	"math"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Band is how far a weight may stray from the expected one before it is asked about, as a part of it. Common practice,
// no source: a third either way covers animals of different build.
const Band = 0.33

// Expected is one thing that should be weighed under the plan.
type Expected struct {
	Kind  string // atlas.KindMuscle, KindFat …, KindProduct, KindBlock or KindTub
	ID    string // of the part, product, block or tub
	Name  string
	Code  string
	Step  string   // that leaves it; empty for a tub, which gathers along the way
	Block string   // that leaves, in a plan that was written in steps
	Parts []string // the muscles in that block or product
	// CutFrom is what a product is sliced from, where that is more than one muscle, and CutMass what it weighs.
	CutFrom   steps.Content
	CutMass   measure.Mass
	Mass      measure.Mass // from the atlas' shares and the weighed piece; estimated
	Low, High measure.Mass
	Taken     measure.Mass
	Times     int
	Want      int // weighings: one, as many pieces as a carcass gives of this part, none where it left in another block
	Reachable bool
	WaitsFor  []string // steps that must be done first: the muscles that lie over its seam
}

// Key names it among all that is expected of a plan. What leaves by the step that is called like it goes by its kind
// and id alone.
func (e Expected) Key() string {
	if e.Step == "" || e.Step == e.ID || strings.HasSuffix(e.Step, "."+e.ID) {
		return e.Kind + ":" + e.ID
	}
	return e.Kind + ":" + e.ID + "@" + e.Step
}

// Kinds of what is expected that are no parts of a piece.
const (
	KindProduct = "product" // of the plan
	KindBlock   = "block"   // several parts that stay joined
	KindTub     = "tub"     // trim, fat, bone or waste that gathers along the way
	// what is added by weight: a stuffing, a rub
	KindIngredient = "ingredient"
)

// Expect lists what should be weighed as the plan's steps say, in their order, and the tubs last. A block that is all
// of one part goes by the name of the part. Piece weight is the input once weighed, else the given one; what comes off
// a block that was weighed is reckoned from the block's own weight.
func Expect(p atlas.Piece, plan atlas.Plan, b Board, weight measure.Mass) []Expected {
	return ExpectBy(p.Flow(plan), p, plan, b, weight)
}

// ExpectBy is Expect where the plan was walked already.
func ExpectBy(flow steps.Flow, p atlas.Piece, plan atlas.Plan, b Board, weight measure.Mass) []Expected {
	if b.Root != "" {
		weight = b.Input()
	}
	x := expecting{p: p, plan: plan, b: b, masses: Masses(p, flow, weight), parts: map[string]atlas.AnyPart{}}
	for _, part := range p.Parts() {
		x.parts[part.ID] = part
	}
	tubs := map[string]measure.Mass{}
	for _, d := range flow.Steps {
		if d.Idle || b.skipped[d.ID] {
			continue
		}
		x.added(flow, d)
		for _, o := range d.Outputs {
			switch {
			case o.Weigh == steps.WeighNone:
			case o.Weigh == steps.WeighTub:
				tubs[o.ID] += x.mass(o.Holds)
			default:
				x.output(d, o)
			}
		}
	}
	for _, tub := range steps.Tubs {
		if m := tubs[string(tub)]; m > 0 {
			e := Expected{Kind: KindTub, ID: string(tub), Name: TubNames[tub], Mass: m, Want: 1, Reachable: true}
			e.Taken, e.Times = b.Taken(string(tub), "")
			x.add(e)
		}
	}
	x.wait(flow)
	return x.out
}

// TubNames says the tubs in words.
var TubNames = map[steps.Tub]string{steps.MinceTrim: "Trim for mince", steps.SausageTrim: "Trim for sausage",
	steps.FatTub: "Fat", steps.Stock: "Bones for stock", steps.Discard: "Discard"}

// Masses gives the mass of the whole of every part of a piece, and of what the steps add to it.
func Masses(p atlas.Piece, flow steps.Flow, weight measure.Mass) map[string]measure.Mass {
	out := map[string]measure.Mass{}
	masses := p.Split(weight)
	for i, part := range p.Parts() {
		out[part.ID] = masses[i]
	}
	for _, a := range flow.Added {
		if a.PerKg > 0 {
			onto := measure.Mass(0)
			for thing, share := range a.To {
				onto += part(out[thing], share)
			}
			added := a.PerKg
			if most := a.MaxPct / 100; most > 0 && most < 1 { // of the block with it
				added = math.Min(added, most/(1-most))
			}
			out[a.Thing()] = measure.Mass(math.Round(float64(onto) * added))
		}
	}
	return out
}

// part is a share of a mass, in thousandths of a percent.
func part(m measure.Mass, share int64) measure.Mass {
	return measure.Mass(float64(m) * float64(share) / float64(steps.Whole))
}

type expecting struct {
	p      atlas.Piece
	plan   atlas.Plan
	b      Board
	masses map[string]measure.Mass
	parts  map[string]atlas.AnyPart
	out    []Expected
}

// mass is what a content is expected to weigh. What the piece lacks of a part is not in the part's mass.
func (x *expecting) mass(c steps.Content) measure.Mass {
	sum := measure.Mass(0)
	for thing, share := range c {
		if lacks := x.p.Missing[thing]; lacks > 0 && lacks < steps.Whole {
			share = int64(float64(share) * float64(steps.Whole) / float64(steps.Whole-lacks))
		}
		sum += part(x.masses[thing], share)
	}
	return sum
}

func (x *expecting) add(e Expected) {
	e.Low, e.High = measure.Mass(float64(e.Mass)*(1-Band)), measure.Mass(float64(e.Mass)*(1+Band))
	x.out = append(x.out, e)
}

// added adds what a step adds by weight.
func (x *expecting) added(flow steps.Flow, d steps.Done) {
	for _, a := range flow.Added {
		if a.Step != d.ID || a.PerKg == 0 {
			continue
		}
		e := Expected{Kind: KindIngredient, ID: a.Ingredient, Name: strings.ReplaceAll(a.Ingredient, "_", " "), Step: d.ID,
			Mass: x.masses[a.Thing()], Want: 1}
		for _, n := range x.b.Nodes {
			if n.Event == Added && n.Part == a.Ingredient && (n.Step == d.ID || n.Step == "") {
				e.Taken, e.Times = e.Taken+n.Mass, e.Times+1
			}
		}
		x.add(e)
	}
}

// output adds what a step leaves that is weighed by itself.
func (x *expecting) output(d steps.Done, o steps.Output) {
	e := Expected{Step: d.ID, Mass: x.mass(o.Holds), Want: 1}
	one, single := x.single(o.Holds)
	switch o.Kind {
	case steps.ToProduct, steps.ToPiece:
		pr, _ := x.plan.Product(o.ID)
		e.Kind, e.ID, e.Name = KindProduct, o.ID, pr.Name
		e.Parts = x.muscles(o.Holds)
		e.Taken, e.Times = x.b.taken(d.ID, o.ID)
		if d.Do == steps.Slice && x.plan.OwnSteps() {
			e.CutFrom, e.CutMass = d.On, x.mass(d.On)
		}
	case steps.ToTub: // a tub that is weighed by itself: it is its part
		e.Kind, e.ID, e.Name = one.Kind, one.ID, one.Name
		if !single {
			e.Kind, e.ID, e.Name = KindTub, o.ID, TubNames[steps.Tub(o.ID)]
		}
		e.Taken, e.Times = x.b.Taken(e.ID, "")
	default:
		e.Kind, e.ID, e.Name = KindBlock, o.ID, o.Name
		if x.plan.OwnSteps() {
			e.Block, e.Parts = o.ID, x.muscles(o.Holds)
		}
		if single && o.Holds[one.ID] == steps.Whole-x.p.Missing[one.ID] {
			e.Kind, e.ID, e.Name = one.Kind, one.ID, one.Name
			if m, ok := x.p.Muscle(one.ID); ok {
				e.Code = m.Code
			}
			e.Taken, e.Times = x.b.Taken(one.ID, "")
			if pr, ok := x.plan.Product(one.ID); ok && pr.Form == atlas.FormPiece {
				e.Want = max(1, pr.Count.High)
			}
		}
		for _, n := range x.b.Blocks(o.ID) {
			if n.Step == d.ID || n.Step == "" {
				e.Taken, e.Times = e.Taken+n.Mass, e.Times+1
			}
		}
	}
	if e.Times == 0 && x.free(o.Holds) { // it left in a block that the plan does not know
		e.Want = 0
	}
	if from := x.b.Blocks(d.Block); len(from) == 1 && d.On.Sum() > 0 { // from the block as it was weighed
		if usual := x.mass(d.On); usual > 0 && x.mass(from[0].Holds) >= usual {
			e.Mass = measure.Mass(float64(e.Mass) * float64(from[0].Mass) / float64(x.mass(from[0].Holds)))
			if e.CutFrom != nil {
				e.CutMass = from[0].Mass
			}
		}
	}
	x.add(e)
}

// muscles lists the muscles in a content.
func (x *expecting) muscles(c steps.Content) []string {
	var out []string
	for _, thing := range c.Things() {
		if x.parts[thing].Kind == atlas.KindMuscle {
			out = append(out, thing)
		}
	}
	return out
}

// free says whether all of a content left in blocks of no step.
func (x *expecting) free(c steps.Content) bool {
	for thing := range c {
		if !x.b.free[thing] {
			return false
		}
	}
	return len(c) > 0
}

// single gives the one part that a content is of.
func (x *expecting) single(c steps.Content) (atlas.AnyPart, bool) {
	if len(c) != 1 {
		return atlas.AnyPart{}, false
	}
	for thing := range c {
		part, ok := x.parts[thing]
		return part, ok
	}
	return atlas.AnyPart{}, false
}

// wait says for each what must be done first.
func (x *expecting) wait(flow steps.Flow) {
	for i := range x.out {
		e := &x.out[i]
		d, ok := flow.Step(e.Step)
		if !ok {
			continue
		}
		for _, id := range d.Waits {
			if !x.done(flow, id, 0) {
				e.WaitsFor = append(e.WaitsFor, id)
			}
		}
		e.Reachable = len(e.WaitsFor) == 0
	}
}

// done says whether a step is behind: something was booked for it, it is idle, its muscle is off, what it leaves was
// weighed as often as it should, or, where nothing of it is weighed, what it waits for is done.
func (x *expecting) done(flow steps.Flow, id string, depth int) bool {
	d, ok := flow.Step(id)
	if !ok || d.Idle || x.b.done[id] || x.b.off[id] {
		return true
	}
	weighed := false
	for _, e := range x.out {
		if e.Step == id {
			if weighed = true; e.Times < e.Want {
				return false
			}
		}
	}
	if weighed || depth > len(flow.Steps) {
		return true
	}
	for _, before := range d.Waits {
		if !x.done(flow, before, depth+1) {
			return false
		}
	}
	return true
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
	if e.Times == 0 || e.Times < e.Want || (e.Kind != atlas.KindMuscle && e.Kind != KindProduct) {
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
