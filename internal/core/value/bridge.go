package value

import (
	"math/big"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// Lead is by how much a kilogram of block b is worth more than a: the difference of the two values a kilogram as they
// are shown.
func Lead(a, b Alternative) measure.Money { return b.ValuePerKg().Sub(a.ValuePerKg()) }

// LeadPer is Lead, the figure as it is shown, turned into one per pound or kilogram.
func LeadPer(a, b Alternative, unit measure.Unit) measure.Money {
	return b.Currency.Round(Lead(a, b).Times(unit.Kilograms()))
}

// exactLead is the same before it is rounded, for what is worked out from it.
func exactLead(a, b Alternative) measure.Money { return b.PerKg(b.Value()).Sub(a.PerKg(a.Value())) }

// LeadPerPiece is by how much a piece of b's mean weight is worth more than the same weight cut as a. Of two
// alternatives of one piece it is the difference of the two values shown.
func LeadPerPiece(a, b Alternative) measure.Money {
	if a.Mass <= 0 || b.Mass <= 0 || b.Pieces == 0 {
		return measure.Money{}
	}
	n := big.NewRat(int64(b.Pieces), 1)
	as := a.Value().Times(big.NewRat(int64(b.Mass), int64(a.Mass))).Over(n)
	return b.Currency.Round(b.Value().Over(n)).Sub(b.Currency.Round(as))
}

// Bridge goes from a to b, two ways of cutting one piece: muscle by muscle in the atlas' order, then by-products,
// packaging, labour, discard and what the piece cost. A muscle's worth is its share, by weight, of the sales of every
// product it goes into. The changes add up exactly to b's value less a's.
func Bridge(a, b Alternative) []Step {
	return bridge(a, b, func(_ Alternative, m measure.Money) measure.Money { return m })
}

// BridgeByPart is Bridge per kilogram of block, for alternatives of any weight. The froms add up to a's value a
// kilogram as it is shown, the tos to b's, the changes to the lead.
func BridgeByPart(a, b Alternative) []Step {
	steps := bridge(a, b, Alternative.PerKg)
	froms, tos := make([]measure.Money, len(steps)), make([]measure.Money, len(steps))
	for i, s := range steps {
		froms[i], tos[i] = s.From, s.To
	}
	froms = measure.RoundToTotal(froms, a.ValuePerKg(), a.Currency.Places())
	tos = measure.RoundToTotal(tos, b.ValuePerKg(), b.Currency.Places())
	for i := range steps {
		steps[i].From, steps[i].To, steps[i].Change = froms[i], tos[i], tos[i].Sub(froms[i])
	}
	return steps
}

func bridge(a, b Alternative, per func(Alternative, measure.Money) measure.Money) []Step {
	var steps []Step
	add := func(id, name, kind string, from, to measure.Money) {
		from, to = per(a, from), per(b, to)
		steps = append(steps, Step{id, name, kind, from, to, to.Sub(from)})
	}
	seen := map[string]bool{}
	worth := func(s Alternative, part string) measure.Money {
		sum := s.Currency.Of(measure.Money{})
		for _, c := range s.Cells {
			if c.Part == part {
				sum = sum.Add(c.Sales)
			}
		}
		return sum
	}
	parts := append(slices.Clone(a.Parts), b.Parts...)
	for _, part := range append(parts, atlas.AnyPart{Name: "Not told by muscle", Kind: atlas.KindTrim}) {
		if seen[part.ID] {
			continue
		}
		seen[part.ID] = true
		from, to := worth(a, part.ID), worth(b, part.ID)
		if from.Sign() == 0 && to.Sign() == 0 && part.Kind != atlas.KindMuscle {
			continue
		}
		kind := "by_product"
		if part.Kind == atlas.KindMuscle {
			kind = "muscle"
		}
		add(part.ID, part.Name, kind, from, to)
	}
	add("packaging", "Packaging", "packaging", a.Packaging.Neg(), b.Packaging.Neg())
	add("labour", "Labour", "labour", a.Labour.Neg(), b.Labour.Neg())
	if a.Discard.Sign() != 0 || b.Discard.Sign() != 0 {
		add("discard", "Discard", "discard", a.Discard.Neg(), b.Discard.Neg())
	}
	if a.Ingredients.Sign() != 0 || b.Ingredients.Sign() != 0 {
		add("ingredients", "Ingredients", "ingredients", a.Ingredients.Neg(), b.Ingredients.Neg())
	}
	if a.PerKg(a.Purchase).Cmp(b.PerKg(b.Purchase)) != 0 || a.Purchase.Sign() != 0 {
		add("purchase", "Purchase", "purchase", a.Purchase.Neg(), b.Purchase.Neg())
	}
	return steps
}

// CauseOrder says in which order BridgeByCause takes the causes.
const CauseOrder = "Prices first (what a sells, at b’s prices), then how much is sold as anything at all, then what " +
	"it is sold as, then labour, packaging, discard, ingredients and the block."

// BridgeByCause goes from a to b by cause, per kilogram of block, in the order of CauseOrder: prices — a's products at
// b's prices (a product that b does not make keeps a's); yield — more or less of the block sold, at the average price
// of a's products; use — the same weight sold as something else; labour, packaging, discard, purchase. From and To of
// each step are running values; the changes, each rounded, add up exactly to the lead.
func BridgeByCause(a, b Alternative) []Step {
	var steps []Step
	add := func(id, name string, change measure.Money) {
		steps = append(steps, Step{ID: id, Name: name, Kind: id, Change: change})
	}
	var before, after, there measure.Money // a at its own prices, a at b's, b at b's
	sold, become := new(big.Rat), new(big.Rat)
	for _, key := range keys(a, b) {
		ya, pa, ina := a.yield(key)
		yb, pb, inb := b.yield(key)
		if !inb {
			pb = pa
		}
		if ina {
			before, after = before.Add(pa.Times(ya)), after.Add(pb.Times(ya))
			sold.Add(sold, ya)
		}
		there = there.Add(pb.Times(yb))
		become.Add(become, yb)
	}
	add("price", "Prices", after.Sub(before))
	more := measure.Money{}
	if sold.Sign() > 0 {
		more = after.Over(sold).Times(new(big.Rat).Sub(become, sold))
	}
	add("yield", "Yield", more)
	add("use", "What it is sold as", there.Sub(after).Sub(more))
	add("labour", "Labour", a.PerKg(a.Labour).Sub(b.PerKg(b.Labour)))
	add("packaging", "Packaging", a.PerKg(a.Packaging).Sub(b.PerKg(b.Packaging)))
	if a.Discard.Sign() != 0 || b.Discard.Sign() != 0 {
		add("discard", "Discard", a.PerKg(a.Discard).Sub(b.PerKg(b.Discard)))
	}
	if a.Ingredients.Sign() != 0 || b.Ingredients.Sign() != 0 {
		add("ingredients", "Ingredients", a.PerKg(a.Ingredients).Sub(b.PerKg(b.Ingredients)))
	}
	if c := a.PerKg(a.Purchase).Sub(b.PerKg(b.Purchase)); c.Sign() != 0 {
		add("purchase", "Purchase", c)
	}
	changes := make([]measure.Money, len(steps))
	for i, s := range steps {
		changes[i] = s.Change
	}
	at := a.ValuePerKg()
	for i, change := range measure.RoundToTotal(changes, Lead(a, b), a.Currency.Places()) {
		steps[i].From, steps[i].To, steps[i].Change = at, at.Add(change), change
		at = steps[i].To
	}
	return steps
}
