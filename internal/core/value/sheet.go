package value

import (
	"math"
	"math/big"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

// Fate is what becomes of a cell's mass.
type Fate string

// The fates.
const (
	Sold  Fate = "sold"
	Waste Fate = "waste"
	Loss  Fate = "loss"
)

// Cell is the mass of one part that goes into one product, or is wasted or lost.
type Cell struct {
	Part    string // atlas id; empty for a discard that names none
	Product string // id of a product of the plan; empty unless Sold
	Fate    Fate
	Mass    measure.Mass
	Planned bool // waste that the plan reckons with; not weighed as such
	// Estimated says that the mass rests on shares of the atlas or the plan. Otherwise it was weighed as what it is: the
	// product, the tub, the waste; or a whole muscle that the plan sells as one product.
	Estimated bool
}

// Rates are what the shop pays besides the meat.
type Rates struct {
	LabourPerHour  measure.Money
	PackagingPerKg measure.Money // of meat sold; by-products go unpacked
	DiscardPerKg   measure.Money // of what is thrown away
}

// Sheet is one way of cutting one piece, fully laid out and priced.
type Sheet struct {
	Atlas    atlas.Piece
	Plan     atlas.Plan
	Cells    []Cell
	Prices   map[string]measure.Price // by product key; a product without one is worth nothing
	Minutes  float64
	Rates    Rates
	Purchase measure.Money
	Currency measure.Currency // every line is rounded once to its smallest coin; two decimals where it is empty
}

// Forecast lays a piece out by the atlas' shares. The cells add up to the mass.
func Forecast(p atlas.Piece, plan atlas.Plan, mass measure.Mass) []Cell {
	var cells []Cell
	masses := p.Split(mass)
	for i, part := range p.Parts() {
		cells = append(cells, spread(part, plan, masses[i])...)
	}
	return cells
}

// spread lays a part's mass into the products of a plan by the plan's percentages.
func spread(part atlas.AnyPart, plan atlas.Plan, mass measure.Mass) []Cell {
	if part.Kind == atlas.KindLoss {
		return []Cell{{Part: part.ID, Fate: Loss, Mass: mass, Estimated: true}}
	}
	var cells []Cell
	var weights []int64
	left := int64(100_000)
	for _, pr := range plan.Products {
		if pct := pr.From[part.ID]; pct > 0 {
			cells = append(cells, Cell{Part: part.ID, Product: pr.ID, Fate: Sold, Estimated: true})
			weights = append(weights, atlas.Thousandths(pct))
			left -= atlas.Thousandths(pct)
		}
	}
	if thrown := atlas.Thousandths(plan.Waste[part.ID]); thrown > 0 || (part.Kind == atlas.KindWaste && left > 0) {
		if part.Kind == atlas.KindWaste { // what of it is not sold with a product
			thrown = left
		}
		cells = append(cells, Cell{Part: part.ID, Fate: Waste, Planned: true, Estimated: true})
		weights = append(weights, thrown)
	}
	shares, err := measure.ApportionMass(mass, weights)
	if err != nil { // a part that no product takes; validation does not let it in
		return []Cell{{Part: part.ID, Fate: Waste, Mass: mass, Estimated: true}}
	}
	for i := range cells {
		cells[i].Mass = shares[i]
	}
	return cells
}

// Recorded lays a piece out as it was weighed at the bench. What was weighed is what it is: a product enters with its
// own mass, and what went into a tub of fat, bone or trim is sold as that and as nothing else. Only a muscle that was
// weighed and not opened goes into products by the plan's percentages, in cells of their own that say so. A product
// weighed off the piece itself is shared among the parts that the plan makes it of, those left out that were weighed by
// themselves. What is unaccounted for is loss; it is negative by less than the scale's tolerance when the scale rounded
// up. The cells add up to the weighed piece.
//
// The plan that comes back is the one given, with the products of tubs that only another plan of the piece has.
func Recorded(p atlas.Piece, plan atlas.Plan, b seam.Board) ([]Cell, atlas.Plan) {
	root, ok := b.Node("")
	if !ok {
		return nil, plan
	}
	r := recorder{p: p, plan: plan, board: b, typical: Forecast(p, plan, p.Typical()), alone: map[string]bool{}}
	for _, id := range root.Children {
		if n, _ := b.Node(id); n.Product == "" {
			if part, ok := p.Part(atlas.MuscleOf(n.Part)); ok && part.Kind != atlas.KindTrim && part.Kind != atlas.KindWaste {
				r.alone[part.ID] = true
			}
		}
	}
	left := root.Mass
	for _, id := range root.Children {
		n, _ := b.Node(id)
		r.node(n, "")
		left -= n.Mass
	}
	r.cells = append(r.cells, Cell{Part: lossPart(p), Fate: Loss, Mass: left})
	return merge(r.cells), r.plan
}

type recorder struct {
	p       atlas.Piece
	plan    atlas.Plan
	board   seam.Board
	typical []Cell
	alone   map[string]bool // muscles, fat and bone that were weighed by themselves
	cells   []Cell
}

// node lays out one weighed node; owner is the muscle it was taken from, empty for the piece.
func (r *recorder) node(n seam.Node, owner string) {
	switch {
	case n.Event == seam.Discarded:
		part := n.Part
		if owner != "" {
			part = owner
		}
		r.cells = append(r.cells, Cell{Part: part, Fate: Waste, Mass: n.Mass})
	case n.Product != "" && owner != "":
		r.cells = append(r.cells, Cell{Part: owner, Product: n.Product, Fate: Sold, Mass: n.Mass})
	case n.Product != "":
		r.product(n)
	case n.Event == seam.Trimmed:
		part := owner
		if part == "" {
			part = n.Part
		}
		r.cells = append(r.cells, r.tub(n, part))
	default:
		part, _ := r.p.Part(atlas.MuscleOf(n.Part)) // an end is of its muscle
		left := n.Mass
		for _, id := range n.Children {
			child, _ := r.board.Node(id)
			r.node(child, part.ID)
			left -= child.Mass
		}
		if len(n.Children) > 0 { // what is not on the scale of an opened muscle is lost with its close
			r.cells = append(r.cells, Cell{Part: part.ID, Fate: Loss, Mass: left})
			return
		}
		cells := spread(part, r.plan, left)
		if len(cells) == 1 { // all of it one product: nothing was reckoned
			cells[0].Estimated = false
		}
		r.cells = append(r.cells, cells...)
	}
}

// tub lays out what was weighed into a tub of fat, bone or trim: as the product of that kind that the plan makes of the
// part, else the plan's first of that kind, else that of another plan of the piece. Where none sells it, it is waste.
func (r *recorder) tub(n seam.Node, part string) Cell {
	kind := seam.DressingKind(n.Part)
	if known, ok := r.p.Part(n.Part); ok {
		kind = known.Kind
	}
	if pr, ok := tubProduct(r.plan, kind, n.Part); ok {
		return Cell{Part: part, Product: pr.ID, Fate: Sold, Mass: n.Mass}
	}
	for _, other := range r.p.Plans {
		if pr, ok := tubProduct(other, kind, n.Part); ok {
			pr.From = nil // of the plan that was cut by, it is no part
			r.plan.Products = append(slices.Clone(r.plan.Products), pr)
			return Cell{Part: part, Product: pr.ID, Fate: Sold, Mass: n.Mass}
		}
	}
	return Cell{Part: part, Fate: Waste, Mass: n.Mass}
}

func tubProduct(plan atlas.Plan, kind, part string) (best atlas.Product, ok bool) {
	for _, pr := range plan.Products {
		fits := (kind == atlas.KindTrim && pr.IsTrim()) || (kind == atlas.KindFat && pr.Form == "fat") ||
			(kind == atlas.KindBone && pr.Form == "bone")
		if fits && (!ok || pr.From[part] > best.From[part]) {
			best, ok = pr, true
		}
	}
	return best, ok
}

// product shares a weighed product among the parts that the plan makes it of.
func (r *recorder) product(n seam.Node) {
	// where everything in it was weighed by itself, some was left on: all of them
	for _, all := range []bool{false, true} {
		var parts []string
		var weights []int64
		for _, c := range r.typical {
			if c.Product == n.Product && c.Mass > 0 && (all || !r.alone[c.Part]) {
				parts = append(parts, c.Part)
				weights = append(weights, int64(c.Mass))
			}
		}
		shares, err := measure.ApportionMass(n.Mass, weights)
		if err != nil {
			continue
		}
		for i, part := range parts {
			r.cells = append(r.cells, Cell{Part: part, Product: n.Product, Fate: Sold, Mass: shares[i]})
		}
		return
	}
	r.cells = append(r.cells, Cell{Product: n.Product, Fate: Sold, Mass: n.Mass}) // of no part that can be told
}

// Recut lays the same piece out by another plan: every part keeps the mass it has in the cells, what was weighed as
// waste or lost stays so, and the rest goes where the other plan sends it.
func Recut(p atlas.Piece, plan atlas.Plan, cells []Cell) []Cell {
	sold := map[string]measure.Mass{}
	var out []Cell
	for _, c := range cells {
		switch {
		case c.Fate == Sold && c.Part == "": // of no part that can be told: nothing can be said of it the other way
			out = append(out, Cell{Fate: Waste, Mass: c.Mass, Estimated: true})
		case c.Fate == Sold || c.Planned:
			sold[c.Part] += c.Mass
		default:
			out = append(out, c)
		}
	}
	for _, part := range p.Parts() {
		if m := sold[part.ID]; m != 0 {
			out = append(out, spread(part, plan, m)...)
		}
	}
	return merge(out)
}

// merge adds up cells of the same part, product and fate, keeping the order in which they first stand.
func merge(cells []Cell) []Cell {
	type key struct {
		part, product string
		fate          Fate
		planned       bool
		estimated     bool
	}
	at := map[key]int{}
	var out []Cell
	for _, c := range cells {
		k := key{c.Part, c.Product, c.Fate, c.Planned, c.Estimated}
		if i, ok := at[k]; ok {
			out[i].Mass += c.Mass
			continue
		}
		at[k] = len(out)
		out = append(out, c)
	}
	return out
}

func lossPart(p atlas.Piece) string {
	for _, o := range p.Other {
		if o.Kind == atlas.KindLoss {
			return o.ID
		}
	}
	return "loss"
}

// sum adds up the cells that a question keeps.
func (s Sheet) sum(keep func(Cell) bool) measure.Mass {
	sum := measure.Mass(0)
	for _, c := range s.Cells {
		if keep(c) {
			sum += c.Mass
		}
	}
	return sum
}

// Mass is the mass of the whole sheet: the piece.
func (s Sheet) Mass() measure.Mass { return s.sum(func(Cell) bool { return true }) }

// FateMass is the mass of all cells with a fate.
func (s Sheet) FateMass(f Fate) measure.Mass {
	return s.sum(func(c Cell) bool { return c.Fate == f })
}

// ProductMass is the mass of one product.
func (s Sheet) ProductMass(id string) measure.Mass {
	return s.sum(func(c Cell) bool { return c.Product == id && c.Fate == Sold })
}

// Weighed is the mass of one product that was weighed; the rest of it is estimated.
func (s Sheet) Weighed(id string) measure.Mass {
	return s.sum(func(c Cell) bool { return c.Product == id && c.Fate == Sold && !c.Estimated })
}

// Guessed says whether some of what has a fate is estimated.
func (s Sheet) Guessed(f Fate) bool {
	return s.sum(func(c Cell) bool { return c.Fate == f && c.Estimated }) != 0
}

// PartMass is the mass of one part, whatever becomes of it.
func (s Sheet) PartMass(id string) measure.Mass {
	return s.sum(func(c Cell) bool { return c.Part == id })
}

// Unpriced lists the names of products that the sheet sells and no price is known for; they count as nothing. Pieces
// that a carcass is broken into are not sold as such.
func (s Sheet) Unpriced() []string {
	var names []string
	for _, pr := range s.Plan.Products {
		if _, ok := s.Prices[s.Atlas.Key(pr)]; !ok && pr.Form != atlas.FormPiece && s.ProductMass(pr.ID) > 0 {
			names = append(names, pr.Name)
		}
	}
	return names
}

// minutesOf is minutes as an exact fraction of hundredths, so that labour is the same on every machine.
func minutesOf(m float64) *big.Rat { return big.NewRat(int64(math.Round(m*100)), 100) }
