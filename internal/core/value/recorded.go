package value

import (
	"maps"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
)

// Recorded lays a piece out as it was weighed at the bench. What was weighed is what it is: a product enters with its
// own mass, and what went into a tub of fat, bone or trim is sold as that and as nothing else. Only a muscle that was
// weighed and not opened goes into products by the plan's percentages, in cells of their own that say so. A product
// weighed off the piece itself is shared among the parts that the plan makes it of, those left out that were weighed by
// themselves. What is unaccounted for is loss; it is negative by less than the scale's tolerance when the scale rounded
// up.
//
// A block that left joined is laid out by what was cut from it: each product among the parts that the step takes it
// from, or that are still in the block. What was weighed into a tub is shared among the parts that the steps send
// there, and what was added has cells of its own. The cells add up to the weighed piece and what was added.
//
// The plan that comes back is the one given, with the products of tubs that only another plan of the piece has.
func Recorded(p atlas.Piece, plan atlas.Plan, b seam.Board) ([]Cell, atlas.Plan) {
	root, ok := b.Node("")
	if !ok {
		return nil, plan
	}
	flow := p.Flow(plan)
	r := recorder{p: p, plan: plan, board: b, flow: flow, typical: Forecast(p, plan, p.Typical()),
		masses: seam.Masses(p, flow, root.Mass), alone: map[string]bool{}}
	for _, id := range root.Children {
		if n, _ := b.Node(id); n.Product == "" && n.Event != seam.Tubbed && n.Event != seam.Parted {
			if part, ok := p.Part(atlas.MuscleOf(n.Part)); ok && part.Kind != atlas.KindTrim && part.Kind != atlas.KindWaste {
				r.alone[part.ID] = true
			}
		}
	}
	added := map[string]measure.Mass{}
	for _, n := range b.Nodes {
		if n.Event == seam.Added {
			added[steps.AddedPrefix+n.Part] += n.Mass
		}
	}
	maps.Copy(r.masses, added)
	left := root.Mass + b.AddedMass() - b.Output()
	for _, id := range root.Children {
		n, _ := b.Node(id)
		r.node(n, "")
	}
	for _, thing := range slices.Sorted(maps.Keys(added)) { // what is lost of it is not lost of the piece
		lost := added[thing]
		for _, c := range r.cells {
			if c.Part == thing {
				lost -= c.Mass
			}
		}
		r.cells = append(r.cells, Cell{Part: thing, Fate: Loss, Mass: lost})
		left -= lost
	}
	r.cells = append(r.cells, Cell{Part: lossPart(p), Fate: Loss, Mass: left})
	return merge(r.cells), r.plan
}

func (r *recorder) root() seam.Node { n, _ := r.board.Node(""); return n }

type recorder struct {
	p       atlas.Piece
	plan    atlas.Plan
	board   seam.Board
	flow    steps.Flow
	masses  map[string]measure.Mass // of the whole of every part, and of what is added; estimated
	typical []Cell
	alone   map[string]bool // muscles, fat and bone that were weighed by themselves
	cells   []Cell
}

// node lays out one weighed node; owner is the muscle it was taken from, empty for the piece.
func (r *recorder) node(n seam.Node, owner string) {
	switch {
	case n.Event == seam.Parted:
		r.block(n)
	case n.Event == seam.Tubbed:
		r.tubbed(n)
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

// sold adds a product that only another plan of the piece makes to the plan, so that it has a name and a price.
func (r *recorder) sold(id string) {
	if _, ok := r.plan.Product(id); ok {
		return
	}
	if pr, ok := seam.Sold(r.p, r.plan, id); ok {
		pr.From = nil // of the plan that was cut by, it is no part
		r.plan.Products = append(slices.Clone(r.plan.Products), pr)
	}
}

// block lays out a block that left joined. Cut into nothing yet, its parts go where the plan sends them.
func (r *recorder) block(n seam.Node) {
	if n.Divided() {
		for _, id := range n.Children {
			child, _ := r.board.Node(id)
			r.ofBlock(child, n)
		}
		return
	}
	things, shares := r.divide(n.Mass, r.holding(n))
	for i, thing := range things {
		part, ok := r.p.Part(thing)
		if !ok { // what was added stays what it is
			r.cells = append(r.cells, Cell{Part: thing, Product: r.firstProduct(), Fate: Sold, Mass: shares[i], Estimated: true})
			continue
		}
		r.cells = append(r.cells, spread(part, r.plan, shares[i])...)
	}
}

// firstProduct is the first product that is sold as meat.
func (r *recorder) firstProduct() string {
	for _, pr := range r.plan.Products {
		if !pr.ByProduct() && !pr.IsTrim() {
			return pr.ID
		}
	}
	return ""
}

// ofBlock lays out what was cut from a block.
func (r *recorder) ofBlock(n, block seam.Node) {
	switch {
	case n.Event == seam.Parted:
		r.block(n)
	case n.Event == seam.Discarded:
		r.shareOut(n.Mass, r.holding(block), Cell{Fate: Waste})
	case n.Product != "":
		r.sold(n.Product)
		holds := r.holding(block)
		if given := r.given(n, holds); len(given) > 0 {
			holds = given
		}
		r.shareOut(n.Mass, holds, Cell{Product: n.Product, Fate: Sold})
	case n.Event == seam.Trimmed:
		things, shares := r.divide(n.Mass, r.holding(block))
		for i, thing := range things {
			part := n
			part.Mass = shares[i]
			r.cells = append(r.cells, r.tub(part, thing))
		}
	default:
		r.node(n, "")
	}
}

// holding is what is left in a block, with what was added to it.
func (r *recorder) holding(n seam.Node) steps.Content {
	out := r.board.Holding(r.p, n.ID)
	for _, id := range n.Inputs {
		if x, _ := r.board.Node(id); x.Event == seam.Added {
			thing := steps.AddedPrefix + x.Part
			out[thing] += int64(float64(steps.Whole) * float64(x.Mass) / float64(r.masses[thing]))
		}
	}
	return out
}

// given is what the plan's step makes the product of, as far as the block holds it.
func (r *recorder) given(n seam.Node, holds steps.Content) steps.Content {
	d, ok := r.flow.Step(n.Step)
	if !ok {
		return nil
	}
	out := steps.Content{}
	for _, o := range d.Outputs {
		if o.Kind == steps.ToProduct && o.ID == n.Product {
			for thing, share := range o.Holds {
				if added := steps.AddedIngredient(thing); added != "" {
					thing = steps.AddedPrefix + added
				}
				if holds[thing] > 0 {
					out[thing] = share
				}
			}
		}
	}
	return out
}

// divide shares a mass among the things of a content by what each is expected to weigh.
func (r *recorder) divide(m measure.Mass, c steps.Content) ([]string, []measure.Mass) {
	things := c.Things()
	weights := make([]int64, len(things))
	for i, thing := range things {
		weights[i] = int64(float64(r.masses[thing]) * float64(c[thing]) / float64(steps.Whole))
	}
	shares, err := measure.ApportionMass(m, weights)
	if err != nil {
		return []string{""}, []measure.Mass{m} // of no part that can be told
	}
	return things, shares
}

// shareOut gives a mass to the things of a content, each in a cell like the given one.
func (r *recorder) shareOut(m measure.Mass, c steps.Content, like Cell) {
	things, shares := r.divide(m, c)
	for i, thing := range things {
		if shares[i] != 0 {
			like.Part, like.Mass = thing, shares[i]
			r.cells = append(r.cells, like)
		}
	}
}

// tubbed lays out what was weighed in a tub among the parts that the steps send there; where they send nothing, among
// all parts of the piece.
func (r *recorder) tubbed(n seam.Node) {
	tub := steps.Tub(n.Part)
	holds := r.flow.Tubs[tub]
	if holds.Sum() == 0 {
		holds = r.p.Start(r.plan)
	}
	pr, sold := r.p.TubProduct(tub)
	if !sold {
		r.shareOut(n.Mass, holds, Cell{Fate: Waste})
		return
	}
	if _, ok := r.plan.Product(pr.ID); !ok {
		r.plan.Products = append(slices.Clone(r.plan.Products), pr)
	}
	r.shareOut(n.Mass, holds, Cell{Product: pr.ID, Fate: Sold})
}

// product shares a weighed product among the parts that the plan makes it of.
func (r *recorder) product(n seam.Node) {
	r.sold(n.Product)
	if r.plan.OwnSteps() {
		if given := r.given(n, r.holding(r.root())); len(given) > 0 {
			r.shareOut(n.Mass, given, Cell{Product: n.Product, Fate: Sold})
			return
		}
	}
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
