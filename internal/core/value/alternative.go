package value

import (
	"math"
	"math/big"
	"slices"
	"unicode"

	"falda/internal/core/atlas"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// SoldProduct is what a product is called, and its form.
type SoldProduct struct{ Name, Form string }

// AlternativeCell is a cell of an alternative with what it brings.
type AlternativeCell struct {
	Part  string
	Key   string // of the product; empty unless Sold
	Fate  Fate
	Mass  measure.Mass
	Sales measure.Money // rounded so that the cells of a line add up to the line
	// Estimated says that the mass was not weighed; see Cell.
	Estimated bool
}

// Alternative is one alternative of a comparison: a plan on a piece, a recorded piece, or a group of recorded pieces
// added up. All amounts are those of all its pieces together; alternatives of different weight are compared per
// kilogram of block. Each line (a product as weighed, a product as estimated, packaging, labour, discard, the block) is
// rounded once to the currency's smallest coin; all totals are sums of these lines, and all differences are differences
// of such totals.
type Alternative struct {
	Name      string
	Cut       string // atlas.CutSeams or atlas.CutStraight
	Pieces    int
	Mass      measure.Mass
	Hours     *big.Rat // of the bench
	Cells     []AlternativeCell
	Products  map[string]SoldProduct
	Parts     []atlas.AnyPart
	Packaging measure.Money
	Labour    measure.Money
	Discard   measure.Money
	// Ingredients is what was added costs; Added are the ingredients and how much of each, in its unit.
	Ingredients measure.Money
	Added       []Added
	Purchase    measure.Money
	Unpriced    []string // names of what it sells without a price
	Planned     bool     // estimated; otherwise weighed
	Currency    measure.Currency
	Broken      bool // a carcass that falls into its pieces, which are priced when they are cut
	// Book is what its products were priced by; nil of a group, whose pieces were priced each by its own day.
	Book map[string]measure.Price
}

// Alternative gives a sheet as an alternative of a comparison.
func (s Sheet) Alternative(name string, planned bool) Alternative {
	out := Alternative{Name: name, Cut: s.Plan.Cut, Pieces: 1, Mass: s.Mass(), Hours: s.hours(),
		Products: map[string]SoldProduct{}, Parts: s.Atlas.Parts(), Purchase: s.Currency.Round(s.Purchase), Planned: planned,
		Currency: s.Currency, Broken: s.Plan.School == atlas.DivisionSchool}
	out.Added = s.added()
	for _, c := range s.Cells {
		x := AlternativeCell{Part: c.Part, Fate: c.Fate, Mass: c.Mass, Estimated: c.Estimated}
		if pr, ok := s.Plan.Product(c.Product); ok && c.Fate == Sold {
			x.Key = s.Atlas.Key(pr)
			out.Products[x.Key] = SoldProduct{pr.Name, pr.Form}
		}
		out.Cells = append(out.Cells, x)
	}
	out.Parts = WithAdded(out.Parts, out.Cells, s.Rates.Ingredients)
	return out.Reprice(s.Prices, s.Rates)
}

// WithAdded gives parts with the ingredients that cells hold behind them, so that what is sold of these has a name and
// a step in a bridge.
func WithAdded(parts []atlas.AnyPart, cells []AlternativeCell, book ingredient.Book) []atlas.AnyPart {
	for _, c := range cells {
		key := steps.AddedIngredient(c.Part)
		if key == "" || slices.ContainsFunc(parts, func(p atlas.AnyPart) bool { return p.ID == c.Part }) {
			continue
		}
		name := []rune(book[key].Called(key))
		name[0] = unicode.ToUpper(name[0])
		parts = append(slices.Clip(parts), atlas.AnyPart{ID: c.Part, Name: string(name), Kind: KindAdded})
	}
	return parts
}

// KindAdded is the kind of an ingredient among the parts of an alternative.
const KindAdded = "ingredient"

// Added is how much of an ingredient went into a piece, in the ingredient's unit: kilograms, metres or pieces.
type Added struct {
	Ingredient string
	Quantity   *big.Rat
}

// added lists what went into the sheet's piece: by the weight of its cells, and by number and length as the plan's
// steps say.
func (s Sheet) added() []Added {
	var out []Added
	for _, c := range s.Cells {
		if key := steps.AddedIngredient(c.Part); key != "" {
			out = append(out, Added{key, c.Mass.In(measure.UnitKilogram)})
		}
	}
	if !s.Plan.OwnSteps() {
		return out
	}
	for _, a := range s.Atlas.Flow(s.Plan).Added {
		if each, ok := a.Quantity(); ok {
			out = append(out, Added{a.Ingredient, each})
		}
	}
	return out
}

// line is what is rounded as one: a product as it was weighed, or as it was estimated.
type line struct {
	key       string
	estimated bool
}

// Reprice gives the alternative at other prices and rates: the same weights and minutes.
func (s Alternative) Reprice(book map[string]measure.Price, rates Rates) Alternative {
	out := s
	out.Cells, out.Unpriced, out.Book = slices.Clone(s.Cells), nil, book
	var lines []line
	cells := map[line][]int{}
	for i, c := range out.Cells {
		if c.Fate == Sold {
			l := line{c.Key, c.Estimated}
			if cells[l] == nil {
				lines = append(lines, l)
			}
			cells[l] = append(cells[l], i)
		}
	}
	for _, l := range lines {
		price, ok := book[l.key]
		exact, mass := make([]measure.Money, len(cells[l])), measure.Mass(0)
		for k, i := range cells[l] {
			exact[k] = price.Of(out.Cells[i].Mass)
			mass += out.Cells[i].Mass
		}
		pr := s.Products[l.key]
		if !ok && mass > 0 && !s.Broken && !slices.Contains(out.Unpriced, pr.Name) {
			out.Unpriced = append(out.Unpriced, pr.Name)
		}
		shown := measure.RoundToTotal(exact, price.Of(mass), s.Currency.Places())
		for k, i := range cells[l] {
			out.Cells[i].Sales = s.Currency.Of(shown[k])
		}
	}
	round := s.Currency.Round
	out.Packaging = round(rates.PackagingPerKg.Times(s.Packed().In(measure.UnitKilogram)))
	out.Discard = round(rates.DiscardPerKg.Times(s.fate(Waste).In(measure.UnitKilogram)))
	out.Labour = round(rates.LabourPerHour.Times(s.hours()))
	var cost measure.Money
	for _, a := range s.Added {
		in := rates.Ingredients[a.Ingredient]
		switch {
		case in.Price != nil:
			cost = cost.Add(in.Price.Times(a.Quantity))
		case !slices.Contains(out.Unpriced, in.Called(a.Ingredient)):
			out.Unpriced = append(out.Unpriced, in.Called(a.Ingredient))
		}
	}
	out.Ingredients = round(cost)
	return out
}

func (s Alternative) fate(f Fate) measure.Mass {
	sum := measure.Mass(0)
	for _, c := range s.Cells {
		if c.Fate == f {
			sum += c.Mass
		}
	}
	return sum
}

// AtBlockPrice gives the alternative as if its block had cost so much a kilogram.
func (s Alternative) AtBlockPrice(perKg measure.Money) Alternative {
	s.Purchase = s.Currency.Round(perKg.Times(s.Mass.In(measure.UnitKilogram)))
	return s
}

func byProduct(form string) bool { return atlas.Product{Form: form}.ByProduct() }

func isTrim(form string) bool { return atlas.Product{Form: form}.IsTrim() }

// Falls says whether it can be sold as something lesser: trim and by-products are the last that they become.
func (p SoldProduct) Falls() bool { return !byProduct(p.Form) && !isTrim(p.Form) }

func (s Alternative) hours() *big.Rat {
	if s.Hours == nil {
		return new(big.Rat)
	}
	return s.Hours
}

// Sales is what all of it brings.
func (s Alternative) Sales() measure.Money {
	sum := s.Currency.Of(measure.Money{}) // nothing, in the currency's coins, where nothing is sold
	for _, c := range s.Cells {
		sum = sum.Add(c.Sales)
	}
	return sum
}

// Costs are packaging, labour, discard and ingredients together: all but the block.
func (s Alternative) Costs() measure.Money {
	return s.Packaging.Add(s.Labour).Add(s.Discard).Add(s.Ingredients)
}

// Value is sales less all costs, the block's too.
func (s Alternative) Value() measure.Money { return s.Sales().Sub(s.Costs()).Sub(s.Purchase) }

// PerKg gives an amount of the alternative per kilogram of block; zero for an alternative of nothing.
func (s Alternative) PerKg(m measure.Money) measure.Money {
	if s.Mass <= 0 {
		return measure.Money{}
	}
	return m.Over(s.Mass.In(measure.UnitKilogram))
}

// ValuePerKg is the value per kilogram of block as it is shown: rounded once.
func (s Alternative) ValuePerKg() measure.Money { return s.Currency.Round(s.PerKg(s.Value())) }

// LinesPer gives the lines of the statement for a unit of block, kg or lb, rounded together so that they add up to its
// value as it is shown for that unit.
func (s Alternative) LinesPer(unit measure.Unit) Totals {
	factor := new(big.Rat)
	if s.Mass > 0 {
		factor.Quo(unit.Kilograms(), s.Mass.In(measure.UnitKilogram))
	}
	return s.Totals().Shared(factor, s.Currency.Round(s.ValuePerKg().Times(unit.Kilograms())), s.Currency)
}

// PerHour is the value before labour per bench hour; nil when no minutes were spent.
func (s Alternative) PerHour() *measure.Money {
	if s.hours().Sign() <= 0 {
		return nil
	}
	v := s.Value().Add(s.Labour).Over(s.hours())
	return &v
}

// hoursPerKg is bench hours per kilogram of block; zero for an alternative of nothing.
func (s Alternative) hoursPerKg() *big.Rat {
	if s.Mass <= 0 {
		return new(big.Rat)
	}
	return new(big.Rat).Quo(s.hours(), s.Mass.In(measure.UnitKilogram))
}

// PerExtraHour is what an extra bench hour of b brings against a, before its labour; nil where b takes none, or either
// weighs nothing.
func PerExtraHour(a, b Alternative) *measure.Money {
	more := new(big.Rat).Sub(b.hoursPerKg(), a.hoursPerKg())
	if a.Mass <= 0 || b.Mass <= 0 || more.Sign() <= 0 {
		return nil
	}
	v := exactLead(a, b).Add(b.PerKg(b.Labour)).Sub(a.PerKg(a.Labour)).Over(more)
	return &v
}

// Made is the mass of one product.
func (s Alternative) Made(key string) measure.Mass {
	sum := measure.Mass(0)
	for _, c := range s.Cells {
		if c.Fate == Sold && c.Key == key {
			sum += c.Mass
		}
	}
	return sum
}

// Saleable is the mass of all that is sold as meat.
func (s Alternative) Saleable() measure.Mass {
	sum := measure.Mass(0)
	for _, c := range s.Cells {
		if c.Fate == Sold && !byProduct(s.Products[c.Key].Form) {
			sum += c.Mass
		}
	}
	return sum
}

// Packed is the mass of the meat that is packed: all that is sold as meat, but for pieces that are cut further first.
func (s Alternative) Packed() measure.Mass {
	sum := s.Saleable()
	for _, c := range s.Cells {
		if c.Fate == Sold && s.Products[c.Key].Form == atlas.FormPiece {
			sum -= c.Mass
		}
	}
	return sum
}

// yield is kilograms of a product per kilogram of block, and price what it brings per kilogram; ok where it is made at
// all.
func (s Alternative) yield(key string) (yield *big.Rat, price measure.Money, ok bool) {
	m, sales := measure.Mass(0), measure.Money{}
	for _, c := range s.Cells {
		if c.Fate == Sold && c.Key == key {
			m, sales = m+c.Mass, sales.Add(c.Sales)
		}
	}
	if m == 0 || s.Mass <= 0 {
		return new(big.Rat), measure.Money{}, false
	}
	if listed, ok := s.Book[key]; ok { // as it is listed, free of the rounding of its line
		return big.NewRat(int64(m), int64(s.Mass)), listed.PerKilogram(), true
	}
	return big.NewRat(int64(m), int64(s.Mass)), sales.Over(m.In(measure.UnitKilogram)), true
}

// Keys lists the products that the alternative sells, each once.
func (s Alternative) Keys() []string { return keys(s) }

// keys lists the products of alternatives, the first one's first, each once.
func keys(alternatives ...Alternative) []string {
	var out []string
	for _, s := range alternatives {
		for _, c := range s.Cells {
			if c.Fate == Sold && !slices.Contains(out, c.Key) {
				out = append(out, c.Key)
			}
		}
	}
	return out
}

// hours is the sheet's minutes as hours.
func (s Sheet) hours() *big.Rat { return new(big.Rat).Quo(minutesOf(s.Minutes), big.NewRat(60, 1)) }

// HoursOf is minutes as hours, exact to the thousandth of a minute.
func HoursOf(minutes float64) *big.Rat {
	return big.NewRat(int64(math.Round(minutes*1000)), 60_000)
}

// YieldTest is the butcher's yield test of the alternative; see Sheet.YieldTest.
func (s Alternative) YieldTest() YieldTest {
	y := YieldTest{Usable: s.Saleable(), UsablePerKg: s.Currency.Of(measure.Money{})}
	for _, c := range s.Cells {
		if c.Fate == Sold && byProduct(s.Products[c.Key].Form) {
			y.ByProduct, y.Credits = y.ByProduct+c.Mass, y.Credits.Add(c.Sales)
		}
	}
	y.finish(s.Purchase, s.Mass)
	return y
}
