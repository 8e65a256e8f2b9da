package atlas

import (
	"math"
	"slices"

	"falda/internal/core/body"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Laid is a slice of a piece that is cut straight: where it lies, in millimetres from the first end of the axis, and
// the product that it is of; empty for a rest, which is too thin for any or in no zone.
type Laid struct {
	FromMm, ToMm float64
	Product      string
}

// leastOf is which part of its thickness the last slice of a product must have at least; thinner it is a rest. Common
// practice, no source.
const leastOf = 2.0 / 3

// inFace is the share of a slice from which on a part shows in its face.
const inFace = 0.01

// sliced says whether a product is cut straight along the piece's axis.
func (pr Product) sliced() bool { return pr.Along != nil }

// stretch is where a product may be cut, in millimetres of the axis.
func stretch(b *body.Body, z steps.Zone) (from, to float64) {
	from, to = z.FromMm, b.LengthMm
	if z.ToMm > 0 {
		to = math.Min(to, z.ToMm)
	}
	if z.While != "" {
		first, last := b.Shows(z.While, inFace)
		from, to = math.Max(from, first), math.Min(to, last)
	}
	if z.Until != "" {
		first, _ := b.Shows(z.Until, inFace)
		to = math.Min(to, first)
	}
	return from, to
}

// zone is a product that is sliced, with where it may be.
type zone struct {
	id       string
	from, to float64
	thick    float64
}

// zones are the sliced products of a plan, in its order.
func zones(b *body.Body, pl Plan) []zone {
	var out []zone
	products := pl.Products
	if pl.OwnSteps() && pl.Declared != nil { // as they were written, whatever the steps make of them
		products = pl.Declared
	}
	for _, pr := range products {
		if !pr.sliced() {
			continue
		}
		z := zone{id: pr.ID, thick: pr.ThicknessMm}
		z.from, z.to = stretch(b, *pr.Along)
		if n := pr.Count.Low; n > 0 && n == pr.Count.High { // a number that habit or bones fix
			z.thick = (z.to - z.from) / (float64(n) / float64(max(1, pr.Into)))
		}
		if z.thick <= 0 {
			z.thick = z.to - z.from
		}
		if z.thick > 0 {
			out = append(out, z)
		}
	}
	return out
}

// Slices lays the slices of a plan along its piece from the first end: each is of the first product in the plan's order
// whose zone and thickness hold it; where none does, the first that at least two thirds of its thickness are left for;
// else it is a rest. Nothing where the plan slices nothing along the piece, or its inside is not known.
func (p Piece) Slices(pl Plan) []Laid {
	b, err := p.Inside()
	if err != nil {
		return nil
	}
	const near = 1e-6
	list := zones(b, pl)
	if len(list) == 0 {
		return nil
	}
	var out []Laid
	for x := 0.0; x < b.LengthMm-near; {
		next := Laid{FromMm: x, ToMm: b.LengthMm}
		for _, least := range []float64{1, leastOf} {
			for _, z := range list {
				if end := math.Min(x+z.thick, z.to); next.Product == "" && x >= z.from-near && end-x >= least*z.thick-near {
					next.Product, next.ToMm = z.id, end
				}
			}
		}
		if next.Product == "" { // to where the next zone begins
			for _, z := range list {
				if z.from > x+near {
					next.ToMm = math.Min(next.ToMm, z.from)
				}
			}
		}
		out = append(out, next)
		x = next.ToMm
	}
	return out
}

// fractions gives for each part which part of its whole lies in the slices of each product.
func (p Piece) fractions(laid []Laid) map[string]map[string]float64 {
	b, err := p.Inside()
	if err != nil {
		return nil
	}
	out := map[string]map[string]float64{}
	for _, part := range b.Parts {
		of := map[string]float64{}
		for _, s := range laid {
			if s.Product != "" {
				of[s.Product] += b.Fraction(part.ID, s.FromMm, s.ToMm)
			}
		}
		out[part.ID] = of
	}
	return out
}

// lies is what lies where along a piece, for the steps of a plan.
type lies struct {
	b      *body.Body
	slices map[string]map[string]float64 // by product, then by part
}

// Slices is what lies in the slices of a product.
func (l lies) Slices(product string) map[string]float64 { return l.slices[product] }

// Zone is what lies in a stretch.
func (l lies) Zone(z steps.Zone) map[string]float64 {
	from, to := stretch(l.b, z)
	out := map[string]float64{}
	for _, part := range l.b.Parts {
		out[part.ID] = l.b.Fraction(part.ID, from, to)
	}
	return out
}

// Lies tells what lies where along the piece, for the steps of a plan that slices it or divides it at a place; nil for
// any other. The percentages of plans without steps of their own were worked out from the slices already.
func (p Piece) Lies(pl Plan) steps.Lies {
	if !pl.OwnSteps() {
		return nil
	}
	b, err := p.Inside()
	laid := p.Slices(pl)
	if err != nil || (laid == nil && !slices.ContainsFunc(pl.Steps, func(s steps.Step) bool { return s.Zone != nil })) {
		return nil
	}
	l := lies{b: b, slices: map[string]map[string]float64{}}
	for part, in := range p.fractions(laid) {
		for product, f := range in {
			if l.slices[product] == nil {
				l.slices[product] = map[string]float64{}
			}
			l.slices[product][part] = f
		}
	}
	return l
}

// bySlices fills in what the products of a plan of percentages are made of where they are sliced along the piece: the
// percentages say how much of a part stays on the slices in all, the inside of the piece on which. What lies in rests
// goes where else the percentages say, in their proportion; the number of slices is that of the products.
func (p Piece) bySlices(pl Plan) (Plan, error) {
	laid := p.Slices(pl)
	if laid == nil || pl.OwnSteps() {
		return pl, nil
	}
	pl = pl.copied()
	pl.count(laid)
	for part, in := range p.fractions(laid) {
		if err := pl.reslice(part, in); err != nil {
			return pl, err
		}
	}
	return pl, nil
}

// count says of each sliced product how many of it there are; the plan's products must be its own.
func (pl *Plan) count(laid []Laid) {
	counts := map[string]int{}
	for _, s := range laid {
		counts[s.Product]++
	}
	for i, pr := range pl.Products {
		if pr.sliced() && (pr.ThicknessMm > 0 || pr.Count.High > 0) && counts[pr.ID] > 0 {
			pl.Products[i].Sliced = counts[pr.ID] * max(1, pr.Into)
		}
	}
}

// reslice shares a part out again: in gives which fraction of it lies in the slices of each product. Where the
// percentages name nothing else that what lies in the rests could become, it stays with the slices.
func (pl *Plan) reslice(part string, in map[string]float64) error {
	kept, others, on := 0.0, pl.Waste[part], 0.0
	for _, pr := range pl.Products {
		switch {
		case !pr.sliced():
			others += pr.From[part]
		case pr.From[part] > 0:
			kept += pr.From[part]
			on += in[pr.ID]
		}
	}
	if kept == 0 || on == 0 {
		return nil
	}
	stays := math.Min(100, kept/on) // percent of what lies in a slice
	if others == 0 {
		stays = kept / on
	}
	left := kept + others - on*stays
	into := []map[string]float64{pl.Waste}
	weights := []int64{0}
	if others > 0 {
		weights[0] = int64(math.Round(pl.Waste[part] / others * left * 1e6))
	}
	for _, pr := range pl.Products {
		pct := 0.0
		switch {
		case pr.sliced() && pr.From[part] > 0:
			pct = in[pr.ID] * stays
		case !pr.sliced() && others > 0:
			pct = pr.From[part] / others * left
		}
		into, weights = append(into, pr.From), append(weights, int64(math.Round(pct*1e6)))
	}
	shares, err := measure.Apportion(Thousandths(kept+others), weights)
	if err != nil {
		return err
	}
	for i, s := range shares {
		if into[i][part] = float64(s) / 1000; s == 0 {
			delete(into[i], part)
		}
	}
	return nil
}
