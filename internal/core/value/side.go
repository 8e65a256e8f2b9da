package value

import (
	"math"
	"math/big"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// SideProduct is what a product is called, and its form.
type SideProduct struct{ Name, Form string }

// SideCell is a cell of a side with what it brings.
type SideCell struct {
	Part  string
	Key   string // of the product; empty unless Sold
	Fate  Fate
	Mass  measure.Mass
	Sales measure.Money
}

// Side is one side of a comparison: a plan on a piece, a recorded piece, or a group of recorded pieces added up. All amounts are those of all
// its pieces together; sides of different weight are compared per kilogram of block.
type Side struct {
	Name      string
	Cut       string // atlas.CutSeams or atlas.CutStraight
	Pieces    int
	Mass      measure.Mass
	Hours     *big.Rat // of the bench
	Cells     []SideCell
	Products  map[string]SideProduct
	Parts     []atlas.AnyPart
	Packaging measure.Money
	Labour    measure.Money
	Discard   measure.Money
	Purchase  measure.Money
	Unpriced  []string // names of what it sells without a price
	Planned   bool     // estimated; otherwise weighed
}

// Side gives a sheet as a side of a comparison.
func (s Sheet) Side(name string, planned bool) Side {
	t := s.Totals()
	out := Side{Name: name, Cut: s.Plan.Cut, Pieces: 1, Mass: s.Mass(), Hours: new(big.Rat).Quo(minutesOf(s.Minutes), big.NewRat(60, 1)), Products: map[string]SideProduct{}, Parts: s.Atlas.Parts(),
		Packaging: t.Packaging, Labour: t.Labour, Discard: t.Discard, Purchase: t.Purchase, Unpriced: s.Unpriced(), Planned: planned}
	for _, c := range s.Cells {
		x := SideCell{Part: c.Part, Fate: c.Fate, Mass: c.Mass}
		if pr, ok := s.Plan.Product(c.Product); ok && c.Fate == Sold {
			x.Key, x.Sales = s.Atlas.Key(pr), s.price(c.Product).Of(c.Mass)
			out.Products[x.Key] = SideProduct{pr.Name, pr.Form}
		}
		out.Cells = append(out.Cells, x)
	}
	return out
}

// Reprice gives the side at other prices and rates: the same weights and minutes.
func (s Side) Reprice(book map[string]measure.Price, rates Rates) Side {
	out := s
	out.Cells, out.Unpriced = slices.Clone(s.Cells), nil
	meat, waste := measure.Mass(0), measure.Mass(0)
	for i, c := range out.Cells {
		switch {
		case c.Fate == Waste:
			waste += c.Mass
		case c.Fate == Sold:
			price, ok := book[c.Key]
			pr := s.Products[c.Key]
			if !ok && pr.Form != atlas.FormPiece && !slices.Contains(out.Unpriced, pr.Name) {
				out.Unpriced = append(out.Unpriced, pr.Name)
			}
			out.Cells[i].Sales = price.Of(c.Mass)
			if !byProduct(pr.Form) {
				meat += c.Mass
			}
		}
	}
	out.Packaging = rates.PackagingPerKg.Times(meat.In(measure.UnitKilogram))
	out.Discard = rates.DiscardPerKg.Times(waste.In(measure.UnitKilogram))
	out.Labour = rates.LabourPerHour.Times(s.hours())
	return out
}

// AtBlockPrice gives the side as if its block had cost so much a kilogram.
func (s Side) AtBlockPrice(perKg measure.Money) Side {
	s.Purchase = perKg.Times(s.Mass.In(measure.UnitKilogram))
	return s
}

func byProduct(form string) bool { return atlas.Product{Form: form}.ByProduct() }

func isTrim(form string) bool { return atlas.Product{Form: form}.IsTrim() }

// Falls says whether it can be sold as something lesser: trim and by-products are the last that they become.
func (p SideProduct) Falls() bool { return !byProduct(p.Form) && !isTrim(p.Form) }

func (s Side) hours() *big.Rat {
	if s.Hours == nil {
		return new(big.Rat)
	}
	return s.Hours
}

// Sales is what all of it brings.
func (s Side) Sales() measure.Money {
	var sum measure.Money
	for _, c := range s.Cells {
		sum = sum.Add(c.Sales)
	}
	return sum
}

// Costs are packaging, labour and discard together: all but the block.
func (s Side) Costs() measure.Money { return s.Packaging.Add(s.Labour).Add(s.Discard) }

// Value is sales less all costs, the block's too.
func (s Side) Value() measure.Money { return s.Sales().Sub(s.Costs()).Sub(s.Purchase) }

// PerKg gives an amount of the side per kilogram of block; zero for a side of nothing.
func (s Side) PerKg(m measure.Money) measure.Money {
	if s.Mass <= 0 {
		return measure.Money{}
	}
	return m.Over(s.Mass.In(measure.UnitKilogram))
}

// PerHour is the value before labour per bench hour; nil when no minutes were spent.
func (s Side) PerHour() *measure.Money {
	if s.hours().Sign() <= 0 {
		return nil
	}
	v := s.Value().Add(s.Labour).Over(s.hours())
	return &v
}

// hoursPerKg is bench hours per kilogram of block; zero for a side of nothing.
func (s Side) hoursPerKg() *big.Rat {
	if s.Mass <= 0 {
		return new(big.Rat)
	}
	return new(big.Rat).Quo(s.hours(), s.Mass.In(measure.UnitKilogram))
}

// PerExtraHour is what an extra bench hour of b brings against a, before its labour; nil where b takes none, or either weighs nothing.
func PerExtraHour(a, b Side) *measure.Money {
	more := new(big.Rat).Sub(b.hoursPerKg(), a.hoursPerKg())
	if a.Mass <= 0 || b.Mass <= 0 || more.Sign() <= 0 {
		return nil
	}
	v := Lead(a, b).Add(b.PerKg(b.Labour)).Sub(a.PerKg(a.Labour)).Over(more)
	return &v
}

// Made is the mass of one product.
func (s Side) Made(key string) measure.Mass {
	sum := measure.Mass(0)
	for _, c := range s.Cells {
		if c.Fate == Sold && c.Key == key {
			sum += c.Mass
		}
	}
	return sum
}

// Saleable is the mass of all that is sold as meat.
func (s Side) Saleable() measure.Mass {
	sum := measure.Mass(0)
	for _, c := range s.Cells {
		if c.Fate == Sold && !byProduct(s.Products[c.Key].Form) {
			sum += c.Mass
		}
	}
	return sum
}

// yield is kilograms of a product per kilogram of block, and price what it brings per kilogram; ok where it is made at all.
func (s Side) yield(key string) (yield *big.Rat, price measure.Money, ok bool) {
	m, sales := measure.Mass(0), measure.Money{}
	for _, c := range s.Cells {
		if c.Fate == Sold && c.Key == key {
			m, sales = m+c.Mass, sales.Add(c.Sales)
		}
	}
	if m == 0 || s.Mass <= 0 {
		return new(big.Rat), measure.Money{}, false
	}
	return big.NewRat(int64(m), int64(s.Mass)), sales.Over(m.In(measure.UnitKilogram)), true
}

// Keys lists the products that the side sells, each once.
func (s Side) Keys() []string { return keys(s) }

// keys lists the products of sides, the first one's first, each once.
func keys(sides ...Side) []string {
	var out []string
	for _, s := range sides {
		for _, c := range s.Cells {
			if c.Fate == Sold && !slices.Contains(out, c.Key) {
				out = append(out, c.Key)
			}
		}
	}
	return out
}

// Lead is by how much a kilogram of block b is worth more than a.
func Lead(a, b Side) measure.Money { return b.PerKg(b.Value()).Sub(a.PerKg(a.Value())) }

// BridgeByPart goes from a to b muscle by muscle, then by-products, packaging, labour, discard and the block, per kilogram of block. The changes
// add up exactly to the lead.
func BridgeByPart(a, b Side) []Step {
	var steps []Step
	add := func(id, name, kind string, from, to measure.Money) {
		from, to = a.PerKg(from), b.PerKg(to)
		steps = append(steps, Step{id, name, kind, from, to, to.Sub(from)})
	}
	seen := map[string]bool{}
	worth := func(s Side, part string) measure.Money {
		var sum measure.Money
		for _, c := range s.Cells {
			if c.Part == part {
				sum = sum.Add(c.Sales)
			}
		}
		return sum
	}
	for _, part := range append(slices.Clone(a.Parts), b.Parts...) {
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
	if a.PerKg(a.Purchase).Cmp(b.PerKg(b.Purchase)) != 0 {
		add("purchase", "Purchase", "purchase", a.Purchase.Neg(), b.Purchase.Neg())
	}
	return steps
}

// CauseOrder says in which order BridgeByCause takes the causes.
const CauseOrder = "Prices first (what a sells, at b’s prices), then how much is sold as anything at all, then what it is sold as, then labour, packaging, discard and the block."

// BridgeByCause goes from a to b by cause, per kilogram of block, in the order of CauseOrder: prices — a's products at b's prices (a product that b
// does not make keeps a's); yield — more or less of the block sold, at the average price of a's products; use — the same weight sold as
// something else; labour, packaging, discard, purchase. From and To of each step are running values; the changes add up exactly to the lead.
func BridgeByCause(a, b Side) []Step {
	at := a.PerKg(a.Value())
	var steps []Step
	add := func(id, name string, change measure.Money) {
		to := at.Add(change)
		steps = append(steps, Step{id, name, id, at, to, change})
		at = to
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
	if c := a.PerKg(a.Purchase).Sub(b.PerKg(b.Purchase)); c.Sign() != 0 {
		add("purchase", "Purchase", c)
	}
	return steps
}

// SideSentence says in one sentence whether b pays against a, by how much a kilogram of block, and which muscle or cost makes the difference.
func SideSentence(a, b Side, t Telling) string {
	missing := slices.Clone(a.Unpriced)
	for _, n := range b.Unpriced {
		if !slices.Contains(missing, n) {
			missing = append(missing, n)
		}
	}
	if len(missing) > 0 {
		return "Whether it pays cannot be said yet: there is no price for " + strings.Join(missing, ", ") + "."
	}
	if a.Mass <= 0 || b.Mass <= 0 {
		return "Nothing has been weighed yet."
	}
	lead := Lead(a, b)
	per := lead.Times(t.unit().Kilograms())
	verb, word := " brings ", " more"
	if !b.Planned && !a.Planned {
		verb = " brought "
	}
	if strings.Trim(per.Abs().Text(t.Currency.Places()), "0.") == "" {
		return capital(b.Name) + " and " + a.Name + " come out even."
	}
	if lead.Sign() < 0 {
		word = " less"
	}
	return capital(b.Name) + verb + t.Currency.Text(per.Abs()) + " a " + t.unitWord() + word + " than " + a.Name + mainReason(BridgeByPart(a, b), lead) + "."
}

// HoursOf is minutes as hours, exact to the thousandth of a minute.
func HoursOf(minutes float64) *big.Rat {
	return big.NewRat(int64(math.Round(minutes*1000)), 60_000)
}

// YieldTest is the butcher's yield test of the side; see Sheet.YieldTest.
func (s Side) YieldTest() YieldTest {
	y := YieldTest{Usable: s.Saleable()}
	for _, c := range s.Cells {
		if c.Fate == Sold && byProduct(s.Products[c.Key].Form) {
			y.ByProduct, y.Credits = y.ByProduct+c.Mass, y.Credits.Add(c.Sales)
		}
	}
	y.finish(s.Purchase, s.Mass)
	return y
}
