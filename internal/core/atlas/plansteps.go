package atlas

import (
	"maps"
	"math"
	"slices"
	"sync"

	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Gone is what a finding takes off a part before the plan's steps begin: a percentage of it, into a tub.
type Gone struct {
	Part string    `json:"part"`
	Pct  float64   `json:"pct"`
	To   steps.Tub `json:"to"`
}

// Start is what the steps of a plan begin with: all of each part of the piece but its loss, less what is missing and
// what findings take.
func (p Piece) Start(pl Plan) steps.Content {
	start := steps.Content{}
	for _, part := range p.Parts() {
		if part.Kind != KindLoss {
			start[part.ID] = steps.Whole - p.Missing[part.ID]
		}
	}
	for _, g := range pl.Gone {
		if has := start[g.Part]; has > 0 {
			start[g.Part] = has - goes(has, g)
		}
	}
	return start
}

// goes is how much of what there is of a part a finding takes.
func goes(has int64, g Gone) int64 { return int64(math.Round(float64(has) * g.Pct / 100)) }

// StepsOf is the plan as steps: its own, or its percentages turned into steps by the one rule of [fromShares].
func (p Piece) StepsOf(pl Plan) []steps.Step {
	if pl.OwnSteps() {
		return pl.Steps
	}
	return p.fromShares(pl)
}

// Flow plays the plan's steps on the piece under what was chosen. What findings took is in its tubs, and so is the
// loose trim that no step names: it goes to the mince by share.
func (p Piece) Flow(pl Plan) steps.Flow {
	start := p.Start(pl)
	f := steps.WalkSliced(start, p.StepsOf(pl), pl.Options, pl.Chosen, p.Lies(pl))
	tub := func(to steps.Tub, part string, share int64) {
		if f.Tubs[to] == nil {
			f.Tubs[to] = steps.Content{}
		}
		f.Tubs[to][part] += share
	}
	for _, g := range pl.Gone {
		if whole, ok := start[g.Part]; ok {
			tub(g.To, g.Part, steps.Whole-p.Missing[g.Part]-whole)
		}
	}
	for _, o := range p.Other {
		if left := f.Left[steps.Piece][o.ID]; o.Kind == KindTrim && left > 0 {
			tub(steps.MinceTrim, o.ID, left)
			delete(f.Left[steps.Piece], o.ID)
		}
	}
	return f
}

// Sizes are the weights and lengths of the piece's parts at a weight of the piece.
func (p Piece) Sizes(m measure.Mass) steps.Sizes {
	z := steps.Sizes{Grams: map[string]float64{}, Mm: map[string]float64{}, Piece: p.LengthMm,
		Ratio: float64(m) / float64(p.Typical()), Seams: func() map[[2]string]float64 { return p.seamAreas(m) }}
	for _, part := range p.Parts() {
		z.Grams[part.ID] = m.Grams() * float64(part.Share) / float64(steps.Whole)
	}
	for _, m := range p.Muscles {
		z.Mm[m.ID] = m.Shape.LengthMm
	}
	return z
}

// seamAreas are the areas where parts of the piece touch, at a weight of the piece: they grow as its surface.
func (p Piece) seamAreas(m measure.Mass) map[[2]string]float64 {
	b, err := p.Inside()
	if err != nil {
		return nil
	}
	seams, err := b.Seams()
	if err != nil { // a section that cannot be drawn; a test holds that there is none
		return nil
	}
	out := map[[2]string]float64{}
	grown := math.Pow(float64(m)/float64(b.Weight), 2.0/3)
	for _, s := range seams {
		out[[2]string{s.A, s.B}] += s.AreaCm2 * grown
	}
	return out
}

// MinutesAt is the bench minutes of a plan on a piece of a weight, to a tenth: those of the plan, which are for the
// usual weight, as the time of its steps grows with the piece.
func (p Piece) MinutesAt(pl Plan, m measure.Mass) float64 { return p.Pace(pl)(m) }

// Pace is [Piece.MinutesAt] of a plan for many weights: its steps are played once.
func (p Piece) Pace(pl Plan) func(m measure.Mass) float64 {
	usual := p.Typical()
	played := sync.OnceValues(func() (steps.Flow, float64) {
		f := p.Flow(pl)
		return f, f.Time(p.Sizes(usual))
	})
	return func(m measure.Mass) float64 {
		if m == usual || m <= 0 {
			return pl.Minutes
		}
		f, at := played()
		if at <= 0 {
			return pl.Minutes
		}
		return math.Round(pl.Minutes*f.Time(p.Sizes(m))/at*10) / 10
	}
}

// Stages are the bench minutes of a plan on a piece of a weight, parted by the saw: what comes before it, what is on
// it, and what comes after; together what [Piece.MinutesAt] says. A plan that is sawn throughout has all of it on the
// saw.
func (p Piece) Stages(pl Plan, m measure.Mass) (before, saw, after float64) {
	minutes := p.MinutesAt(pl, m)
	sizes := p.Sizes(m)
	for _, d := range p.Flow(pl).Steps {
		switch t := d.Time(sizes); {
		case d.Tool == "hand_saw" || d.Tool == "band_saw":
			saw += t
		case saw > 0:
			after += t
		default:
			before += t
		}
	}
	if all := before + saw + after; all > 0 && saw > 0 {
		return before * minutes / all, saw * minutes / all, after * minutes / all
	}
	if pl.Tool == "saw" {
		return 0, minutes, 0
	}
	return minutes, 0, 0
}

// tubProduct is what a tub is sold as where the plan does not say.
func (p Piece) tubProduct(tub steps.Tub) Product {
	switch tub {
	case steps.SausageTrim:
		return Product{ID: "sausage_trim", Name: "Trim for sausage", Form: "sausage_trim"}
	case steps.FatTub:
		return Product{ID: "fat", Name: "Fat for rendering", Form: "fat"}
	case steps.Stock:
		return Product{ID: "stock_bone", Name: "Stock bones", Form: "bone"}
	}
	if p.Species == "lamb" {
		return Product{ID: "mince_trim", Name: "Lean trim for mince", Form: "trim"}
	}
	return Product{ID: "mince_trim", Name: "Mince trim", Form: "trim"}
}

// TubProduct is the product that a tub of the piece is sold as; ok is false for what is thrown away.
func (p Piece) TubProduct(tub steps.Tub) (pr Product, ok bool) {
	return p.tubProduct(tub), tub != steps.Discard
}

// Compile fills in what follows from a plan's steps: what each product is made of, how thick and how many, how it was
// treated, what is thrown away, and the minutes. A plan of percentages stays as it is; its slices are counted.
func (p Piece) Compile(pl Plan) Plan {
	if !pl.OwnSteps() {
		if laid := p.Slices(pl); laid != nil {
			pl = pl.copied()
			pl.count(laid)
		}
		return pl
	}
	if pl.Declared == nil {
		pl.Declared = pl.Products
	}
	pl.Products = pl.Declared
	pl = pl.copied()
	f := p.Flow(pl)
	goes := p.goals(&pl, f)
	from := shared(goes)
	for i := range pl.Products {
		pr := &pl.Products[i]
		pr.From = from[pr.ID]
		if how := f.Treated[pr.ID]; how != "" && pr.Treated == "" {
			pr.Treated = how
		}
	}
	pl.Waste = from[Thrown]
	if pl.Waste == nil {
		pl.Waste = map[string]float64{}
	}
	p.unspell(&pl)
	p.figures(&pl, f)
	pl.tidy()
	pl.count(p.Slices(pl))
	z := p.Sizes(p.Typical())
	pl.Minutes = f.Time(z)
	pl.Tool = "knife"
	for _, d := range f.Steps {
		if !d.Idle && (d.Tool == "hand_saw" || d.Tool == "band_saw") {
			pl.Tool = "saw"
		}
	}
	return pl
}

// goals says what each product of the plan and the bin holds; what a tub is sold as joins the plan's products.
func (p Piece) goals(pl *Plan, f steps.Flow) map[string]steps.Content {
	goes := map[string]steps.Content{} // product, or Thrown → parts
	for id, c := range f.Products {
		goes[id] = c
	}
	for id, c := range f.Pieces {
		goes[id] = c
	}
	for _, tub := range steps.Tubs {
		c := f.Tubs[tub]
		if c.Sum() == 0 {
			continue
		}
		pr, sold := p.TubProduct(tub)
		if !sold {
			goes[Thrown] = c
			continue
		}
		if _, ok := pl.Product(pr.ID); !ok {
			pl.Products = append(pl.Products, pr)
		}
		if goes[pr.ID] != nil {
			both := maps.Clone(goes[pr.ID])
			for part, s := range c {
				both[part] += s
			}
			c = both
		}
		goes[pr.ID] = c
	}
	return goes
}

// shared turns shares of the piece as bought into percentages of what there is of each part: they add to 100 for every
// part that goes anywhere.
func shared(goes map[string]steps.Content) map[string]map[string]float64 {
	ids := slices.Sorted(maps.Keys(goes))
	out := map[string]map[string]float64{}
	parts := map[string]bool{}
	for _, id := range ids {
		out[id] = map[string]float64{}
		for _, part := range goes[id].Things() {
			parts[part] = steps.AddedIngredient(part) == ""
		}
	}
	for _, part := range slices.Sorted(maps.Keys(parts)) {
		if !parts[part] {
			continue
		}
		weights := make([]int64, len(ids))
		for i, id := range ids {
			weights[i] = goes[id][part]
		}
		shares, err := measure.Apportion(steps.Whole, weights)
		if err != nil { // nothing of it goes anywhere
			continue
		}
		for i, s := range shares {
			if s > 0 {
				out[ids[i]][part] = float64(s) / 1000
			}
		}
	}
	return out
}

// figures takes thickness, weight and number of the products from the steps that give them, where the plan does not
// say.
func (p Piece) figures(pl *Plan, f steps.Flow) {
	counts := map[string]steps.Range{}
	for _, d := range f.Steps {
		for _, o := range d.Outputs {
			if o.Kind != steps.ToProduct {
				continue
			}
			c := counts[o.ID]
			counts[o.ID] = steps.Range{Low: c.Low + o.Count.Low, High: c.High + o.Count.High}
			at := slices.IndexFunc(pl.Products, func(pr Product) bool { return pr.ID == o.ID })
			if at < 0 {
				continue
			}
			pr := &pl.Products[at]
			if d.Do == steps.Slice || d.Do == steps.Saw || d.Do == steps.Dice || d.Do == steps.Flatten {
				if mm := d.Mm.Mid(); mm > 0 && pr.ThicknessMm == 0 {
					pr.ThicknessMm = mm
				}
			}
			if g := d.PortionG.Mid(); g > 0 && pr.PortionG == 0 {
				pr.PortionG = g
			}
		}
	}
	for i := range pl.Products {
		pr := &pl.Products[i]
		if c := counts[pr.ID]; c.High > 0 && pr.Count.High == 0 {
			pr.Count = Count{Low: int(math.Floor(c.Low)), High: int(math.Ceil(c.High))}
		}
	}
}

// Order lists the muscles in an order in which they can come off: each after all that lie over its seam, in the atlas'
// order otherwise.
func (p Piece) Order() []string {
	off := map[string]bool{}
	var order []string
	for len(order) < len(p.Muscles) {
		before := len(order)
		for _, m := range p.Muscles {
			if !off[m.ID] && !slices.ContainsFunc(m.Seam.After, func(a string) bool { return !off[a] }) {
				off[m.ID] = true
				order = append(order, m.ID)
				break
			}
		}
		if len(order) == before { // a circle; validation does not let it in
			break
		}
	}
	return order
}
