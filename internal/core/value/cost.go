package value

import (
	"math/big"

	"falda/internal/core/atlas"

	"falda/internal/core/measure"
)

// Methods are the joint-cost methods with the reason to choose each in a line; the first is the default.
var Methods = []struct {
	ID        Method
	Name, Why string
}{
	{NRV, "Net realisable value",
		"By what each brings after its own packaging: the dear carries more. Choose it for pricing and for judging cuts."},
	{SalesValue, "Sales value",
		"By what each sells for, packaging left out. Choose it where everything is sold as it comes off the block."},
	{Physical, "Weight",
		"Every kilogram costs the same. Choose it for yields and stock counts; it makes trim look dear and steaks cheap."},
	{ConstantMargin, "Constant margin",
		"Every product earns the same margin. Choose it to see what each may cost if all are to earn alike."},
}

// KnownMethod says whether there is a joint-cost method of this id.
func KnownMethod(id string) bool {
	for _, m := range Methods {
		if string(m.ID) == id {
			return true
		}
	}
	return false
}

// CostRow is what a product, or a muscle, cost and earns.
type CostRow struct {
	ID, Name  string
	ByProduct bool
	Mass      measure.Mass
	Sales     measure.Money
	Joint     measure.Money // its part of block, labour and discard
	Further   measure.Money // packaging
	MarginPct *big.Rat      // (sales − cost)/sales, 0–1; nil where it brings nothing
	PerKg     measure.Money // Cost a kilogram
	// a kilogram: its price; of a muscle, or a product of a group, what a kilogram brought on the mean
	SellsAt measure.Money
	// the price at which the margin that is asked for is left; nothing for a by-product that is credited
	MinPerKg measure.Money
}

// Cost is all that it cost.
func (r CostRow) Cost() measure.Money { return r.Joint.Add(r.Further) }

// CostTable is what each product and each muscle of an alternative cost.
type CostTable struct {
	Method   Method
	Credited bool
	Joint    measure.Money // block, labour, discard and ingredients, less credits
	Credits  measure.Money
	Products []CostRow
	Muscles  []CostRow
}

// CostsOf shares the joint cost of an alternative (block, labour, discard and ingredients) among its products by a
// method, and each product's cost among its muscles by weight. With credit, by-products carry what they bring and no
// more; the rest carries what is left. margin, from 0 to below 1, is what the minimum prices leave: cost/(1 − margin).
// All costs add up exactly to the alternative's costs.
func CostsOf(s Alternative, method Method, credit bool, margin *big.Rat) (CostTable, error) {
	t := CostTable{Method: method, Credited: credit, Joint: s.Purchase.Add(s.Labour).Add(s.Discard).Add(s.Ingredients)}
	rows, at := s.costRows()
	var products []JointProduct
	for i := range rows {
		r := &rows[i]
		if credit && r.ByProduct {
			t.Credits = t.Credits.Add(r.Sales)
			r.Joint = r.Sales
			continue
		}
		kg := r.Mass.In(measure.UnitKilogram)
		products = append(products,
			JointProduct{ID: r.ID, Quantity: kg, SplitPrice: r.Sales.Over(kg), FinalQuantity: kg, FinalPrice: r.Sales.Over(kg),
				FurtherCost: r.Further})
	}
	t.Joint = t.Joint.Sub(t.Credits)
	if t.Joint.Sign() < 0 { // the by-products alone pay for it
		t.Joint = measure.Money{}
	}
	shared, err := AllocateJoint(t.Joint, method, products)
	if err != nil {
		return t, err
	}
	exact := make([]measure.Money, len(shared.Allocations))
	for i, a := range shared.Allocations {
		exact[i] = a.Cost
	}
	for i, m := range measure.RoundToTotal(exact, t.Joint, s.Currency.Places()) {
		rows[at[shared.Allocations[i].ID]].Joint = m
	}
	for i := range rows {
		rows[i].finish(margin, credit, s.Currency)
		if price, ok := s.Book[rows[i].ID]; ok {
			rows[i].SellsAt = price.PerKilogram()
		}
	}
	t.Products = rows
	t.Muscles = s.muscleCosts(rows, at, margin)
	return t, nil
}

// costRows gives a row for each product that is sold, with its mass, its sales and its part of the packaging, and where
// each stands.
func (s Alternative) costRows() (rows []CostRow, at map[string]int) {
	at = map[string]int{}
	meat := s.Packed()
	for _, c := range s.Cells {
		if c.Fate != Sold {
			continue
		}
		i, ok := at[c.Key]
		if !ok {
			i, at[c.Key] = len(rows), len(rows)
			pr := s.Products[c.Key]
			rows = append(rows, CostRow{ID: c.Key, Name: pr.Name, ByProduct: byProduct(pr.Form)})
		}
		rows[i].Mass, rows[i].Sales = rows[i].Mass+c.Mass, rows[i].Sales.Add(c.Sales)
	}
	packed := make([]measure.Money, len(rows))
	for i, r := range rows {
		if !r.ByProduct && meat > 0 && s.Products[r.ID].Form != atlas.FormPiece {
			packed[i] = s.Packaging.Times(big.NewRat(int64(r.Mass), int64(meat)))
		}
	}
	for i, m := range measure.RoundToTotal(packed, s.Packaging, s.Currency.Places()) {
		rows[i].Further = m
	}
	return rows, at
}

func (r *CostRow) finish(margin *big.Rat, credit bool, currency measure.Currency) {
	if r.Sales.Sign() > 0 {
		r.MarginPct = new(big.Rat).Quo(r.Sales.Sub(r.Cost()).Rat(), r.Sales.Rat())
	}
	if kg := r.Mass.In(measure.UnitKilogram); kg.Sign() > 0 {
		r.PerKg, r.SellsAt = r.Cost().Over(kg), r.Sales.Over(kg)
		if !(credit && r.ByProduct) {
			r.MinPerKg = r.PerKg.Over(new(big.Rat).Sub(big.NewRat(1, 1), margin))
		}
	}
	r.PerKg, r.SellsAt = currency.Of(r.PerKg), currency.Of(r.SellsAt)
}

func (s Alternative) muscleCosts(products []CostRow, at map[string]int, margin *big.Rat) []CostRow {
	var out []CostRow
	for _, part := range s.Parts {
		if part.Kind != "muscle" {
			continue
		}
		r := CostRow{ID: part.ID, Name: part.Name}
		for _, c := range s.Cells {
			if c.Part != part.ID || c.Fate != Sold {
				continue
			}
			p := products[at[c.Key]]
			f := big.NewRat(int64(c.Mass), int64(p.Mass))
			r.Mass, r.Sales = r.Mass+c.Mass, r.Sales.Add(c.Sales)
			r.Joint, r.Further = r.Joint.Add(p.Joint.Times(f)), r.Further.Add(p.Further.Times(f))
		}
		if r.Mass > 0 {
			r.finish(margin, false, s.Currency)
			out = append(out, r)
		}
	}
	return out
}
