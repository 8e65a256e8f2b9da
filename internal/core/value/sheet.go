package value

import (
	"math"
	"math/big"

	"falda/internal/core/atlas"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
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
	Ingredients    ingredient.Book
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

// OfPiece says whether the cell is of the piece itself, and not of something that was added to it.
func (c Cell) OfPiece() bool { return steps.AddedIngredient(c.Part) == "" }

// Forecast lays a piece out by the atlas' shares. The cells of the piece add up to the mass; what the plan's steps add
// has cells of its own.
func Forecast(p atlas.Piece, plan atlas.Plan, mass measure.Mass) []Cell {
	var cells []Cell
	masses := p.Split(mass)
	for i, part := range p.Parts() {
		cells = append(cells, spread(part, plan, masses[i])...)
	}
	if !plan.OwnSteps() {
		return cells
	}
	flow := p.Flow(plan)
	whole := seam.Masses(p, flow, mass)
	for _, a := range flow.Added {
		var goes []string
		var weights []int64
		for _, id := range flow.Order {
			if share := flow.Products[id][a.Thing()]; share > 0 {
				goes, weights = append(goes, id), append(weights, share)
			}
		}
		shares, err := measure.ApportionMass(whole[a.Thing()], weights)
		if err != nil { // string and net have no weight that is sold
			continue
		}
		for i, id := range goes {
			cells = append(cells, Cell{Part: steps.AddedPrefix + a.Ingredient, Product: id, Fate: Sold, Mass: shares[i],
				Estimated: true})
		}
	}
	return merge(cells)
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

// Recut lays the same piece out by another plan: every part keeps the mass it has in the cells, what was weighed as
// waste or lost stays so, and the rest goes where the other plan sends it.
func Recut(p atlas.Piece, plan atlas.Plan, cells []Cell) []Cell {
	sold := map[string]measure.Mass{}
	var out []Cell
	for _, c := range cells {
		switch {
		case !c.OfPiece(): // what this way added, the other may not
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

// Mass is the mass of the piece: of all that is on the sheet, less what was added.
func (s Sheet) Mass() measure.Mass { return s.sum(Cell.OfPiece) }

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
		if _, ok := s.Prices[s.Atlas.Key(pr)]; !ok && s.Plan.School != atlas.DivisionSchool && s.ProductMass(pr.ID) > 0 {
			names = append(names, pr.Name)
		}
	}
	return names
}

// minutesOf is minutes as an exact fraction of hundredths, so that labour is the same on every machine.
func minutesOf(m float64) *big.Rat { return big.NewRat(int64(math.Round(m*100)), 100) }
