package value

import (
	"math"
	"math/big"

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
		return []Cell{{Part: part.ID, Fate: Loss, Mass: mass}}
	}
	var cells []Cell
	var weights []int64
	left := int64(100_000)
	for _, pr := range plan.Products {
		if pct := pr.From[part.ID]; pct > 0 {
			cells = append(cells, Cell{Part: part.ID, Product: pr.ID, Fate: Sold})
			weights = append(weights, atlas.Thousandths(pct))
			left -= atlas.Thousandths(pct)
		}
	}
	if thrown := atlas.Thousandths(plan.Waste[part.ID]); thrown > 0 || (part.Kind == atlas.KindWaste && left > 0) {
		if part.Kind == atlas.KindWaste { // what of it is not sold with a product
			thrown = left
		}
		cells = append(cells, Cell{Part: part.ID, Fate: Waste, Planned: true})
		weights = append(weights, thrown)
	}
	shares, err := measure.ApportionMass(mass, weights)
	if err != nil { // a part that no product takes; validation does not let it in
		return []Cell{{Part: part.ID, Fate: Waste, Mass: mass}}
	}
	for i := range cells {
		cells[i].Mass = shares[i]
	}
	return cells
}

// Recorded lays a piece out as it was weighed at the bench. A muscle that was not opened goes into products by the
// plan's percentages; a product that was weighed itself is shared among its muscles as the plan composes it. What is
// unaccounted for is loss; it is negative by less than the scale's tolerance when the scale rounded up. The cells add
// up to the weighed piece.
func Recorded(p atlas.Piece, plan atlas.Plan, b seam.Board) []Cell {
	root, ok := b.Node("")
	if !ok {
		return nil
	}
	r := recorder{p: p, plan: plan, board: b, typical: Forecast(p, plan, p.Typical())}
	left := root.Mass
	for _, id := range root.Children {
		n, _ := b.Node(id)
		r.node(n, "")
		left -= n.Mass
	}
	r.cells = append(r.cells, Cell{Part: lossPart(p), Fate: Loss, Mass: left})
	return merge(r.cells)
}

type recorder struct {
	p       atlas.Piece
	plan    atlas.Plan
	board   seam.Board
	typical []Cell
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
	case n.Event == seam.Trimmed && owner != "":
		r.cells = append(r.cells, r.trimmed(n, owner))
	default:
		part, _ := r.p.Part(atlas.MuscleOf(n.Part)) // an end is of its muscle
		left := n.Mass
		for _, id := range n.Children {
			child, _ := r.board.Node(id)
			r.node(child, part.ID)
			left -= child.Mass
		}
		if n.Closed && len(n.Children) > 0 {
			r.cells = append(r.cells, Cell{Part: part.ID, Fate: Loss, Mass: left})
		} else {
			r.cells = append(r.cells, spread(part, r.plan, left)...)
		}
	}
}

// trimmed lays out what came off a muscle when it was dressed: into the plan's trim, fat or bone, and to waste where the plan sells none.
func (r *recorder) trimmed(n seam.Node, owner string) Cell {
	kind := seam.DressingKind(n.Part)
	if part, ok := r.p.Part(n.Part); ok {
		kind = part.Kind
	}
	for _, pr := range r.plan.Products {
		if (kind == atlas.KindTrim && pr.IsTrim()) || (kind == atlas.KindFat && pr.Form == "fat") || (kind == atlas.KindBone && pr.Form == "bone") {
			return Cell{Part: owner, Product: pr.ID, Fate: Sold, Mass: n.Mass}
		}
	}
	return Cell{Part: owner, Fate: Waste, Mass: n.Mass}
}

// product shares a weighed product among the parts that the plan makes it of.
func (r *recorder) product(n seam.Node) {
	var parts []string
	var weights []int64
	for _, c := range r.typical {
		if c.Product == n.Product && c.Mass > 0 {
			parts = append(parts, c.Part)
			weights = append(weights, int64(c.Mass))
		}
	}
	shares, err := measure.ApportionMass(n.Mass, weights)
	if err != nil { // a product that this plan makes of nothing: its mass still counts, its worth cannot be told
		r.cells = append(r.cells, Cell{Fate: Waste, Mass: n.Mass})
		return
	}
	for i, part := range parts {
		r.cells = append(r.cells, Cell{Part: part, Product: n.Product, Fate: Sold, Mass: shares[i]})
	}
}

// Recut lays the same piece out by another plan: every part keeps the mass it has in the cells, what was weighed as waste or
// lost stays so, and the rest goes where the other plan sends it.
func Recut(p atlas.Piece, plan atlas.Plan, cells []Cell) []Cell {
	sold := map[string]measure.Mass{}
	var out []Cell
	for _, c := range cells {
		if c.Fate == Sold || c.Planned {
			sold[c.Part] += c.Mass
		} else {
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
	}
	at := map[key]int{}
	var out []Cell
	for _, c := range cells {
		k := key{c.Part, c.Product, c.Fate, c.Planned}
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

// PartMass is the mass of one part, whatever becomes of it.
func (s Sheet) PartMass(id string) measure.Mass {
	return s.sum(func(c Cell) bool { return c.Part == id })
}

// Unpriced lists the names of products that the sheet sells and no price is known for; they count as nothing. Pieces that a carcass is
// broken into are not sold as such.
func (s Sheet) Unpriced() []string {
	var names []string
	for _, pr := range s.Plan.Products {
		if _, ok := s.Prices[s.Atlas.Key(pr)]; !ok && pr.Form != atlas.FormPiece && s.ProductMass(pr.ID) > 0 {
			names = append(names, pr.Name)
		}
	}
	return names
}

// price is the price of a product of the plan by its id; the zero price when there is none.
func (s Sheet) price(productID string) measure.Price {
	pr, ok := s.Plan.Product(productID)
	if !ok {
		return measure.Price{}
	}
	return s.Prices[s.Atlas.Key(pr)]
}

// minutesOf is minutes as an exact fraction of hundredths, so that labour is the same on every machine.
func minutesOf(m float64) *big.Rat { return big.NewRat(int64(math.Round(m*100)), 100) }
