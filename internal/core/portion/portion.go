package portion

import (
	"fmt"
	"math/big"

	"falda/internal/core/fault"
)

// Point is the cross-section of what is portioned at a place along it, in any unit.
type Point struct{ Mm, Area *big.Rat }

// Product is what may be cut. Weights are in grams; nil where there is no bound.
type Product struct {
	ID           string
	PricePerKg   *big.Rat
	Label        *big.Rat // it is paid for so much where it is given, and what it weighs more is given away
	MinG, MaxG   *big.Rat
	MinMm, MaxMm int // MaxMm 0: as long as the piece
	FromMm, ToMm int // the zone it must lie within; ToMm 0: to the end
	AtLeast      int
	AtMost       int // 0: without bound
}

// Problem is what is portioned. The profile covers it from end to end, piecewise linear between its points.
type Problem struct {
	LengthMm       int
	WeightG        *big.Rat
	Profile        []Point
	KerfMm         int
	RestPricePerKg *big.Rat
	Products       []Product
}

// Piece is a portion, or a rest where Product is below zero.
type Piece struct {
	Product      int // its place among the products
	FromMm, ToMm int
	G            *big.Rat
}

// Layout is how a piece is portioned.
type Layout struct {
	Value                  *big.Rat // in money, not rounded
	Pieces                 []Piece
	GiveAwayG, RestG, CutG *big.Rat // CutG: what the saw takes
}

// The bounds of a problem: more would hold a machine up.
const (
	MaxLengthMm = 3000
	MaxProducts = 30
	maxCounts   = 10_000    // of the products that are bounded, all combinations
	maxStates   = 4_500_000 // combinations times millimetres
)

// check says what is wrong with a problem, field by field.
func (p Problem) check() error {
	var faults fault.List
	add := func(field, code, message, hint string) { faults.Add(field, fault.New("", code, message, hint)) }
	if p.LengthMm < 1 || p.LengthMm > MaxLengthMm {
		add("length_mm", "out_of_range", fmt.Sprintf("must be from 1 to %d", MaxLengthMm), "Enter whole millimetres.")
	}
	if p.WeightG == nil || p.WeightG.Sign() <= 0 {
		add("weight_g", "out_of_range", "must be above 0", "Enter what it weighs.")
	}
	if p.KerfMm < 0 || p.KerfMm > 20 {
		add("kerf_mm", "out_of_range", "must be from 0 to 20",
			"Enter what the saw takes, in whole millimetres; 0 for a knife.")
	}
	if p.RestPricePerKg == nil || p.RestPricePerKg.Sign() < 0 {
		add("rest_price_per_kg", "out_of_range", "must not be below 0", "Enter what rests bring.")
	}
	if len(p.Products) == 0 || len(p.Products) > MaxProducts {
		add("products", "out_of_range", fmt.Sprintf("must be from 1 to %d", MaxProducts), "Say what may be cut.")
	}
	p.checkProfile(add)
	for i := range p.Products {
		p.Products[i].check(fmt.Sprintf("products[%d]", i), p.LengthMm, add)
	}
	if n := p.counts(); n > maxCounts || n*(p.LengthMm+1) > maxStates {
		add("products", "too_many_bounds", "have bounds on their counts that make too many cases",
			"Bound fewer products, or lower the bounds.")
	}
	return faults.Err()
}

func (p Problem) checkProfile(add func(field, code, message, hint string)) {
	bad := len(p.Profile) < 2
	whole := new(big.Rat)
	for i, q := range p.Profile {
		bad = bad || q.Area.Sign() < 0 || (i > 0 && q.Mm.Cmp(p.Profile[i-1].Mm) <= 0)
		whole.Add(whole, q.Area)
	}
	if !bad {
		bad = p.Profile[0].Mm.Sign() != 0 || p.Profile[len(p.Profile)-1].Mm.Cmp(big.NewRat(int64(p.LengthMm), 1)) != 0 ||
			whole.Sign() == 0
	}
	if bad {
		add("profile", "not_a_profile", "does not go from 0 to the length with areas that are not below 0",
			"Give places in rising order, the first 0, the last the length, not all of them without area.")
	}
}

func (q Product) check(field string, length int, add func(field, code, message, hint string)) {
	negative := func(r *big.Rat) bool { return r != nil && r.Sign() < 0 }
	if q.PricePerKg == nil || q.PricePerKg.Sign() < 0 {
		add(field+".price_per_kg", "out_of_range", "must not be below 0", "Enter the price of a kilogram.")
	}
	if negative(q.MinG) || (q.MaxG != nil && q.MinG != nil && q.MaxG.Cmp(q.MinG) < 0) || negative(q.MaxG) {
		add(field+".max_g", "out_of_range", "must not be below the least weight", "Enter the lighter first.")
	}
	if q.Label != nil && (q.Label.Sign() <= 0 || q.MinG == nil || q.MinG.Cmp(q.Label) < 0) {
		add(field+".label_g", "out_of_range", "must be above 0, and not above the least weight",
			"What the label says must be in every portion.")
	}
	if q.MinMm < 0 || q.MaxMm < 0 || (q.MaxMm > 0 && q.MaxMm < q.MinMm) {
		add(field+".max_mm", "out_of_range", "must not be below the least thickness", "Enter the thinner first.")
	}
	if q.FromMm < 0 || q.ToMm < 0 || q.end(length) > length || q.FromMm >= q.end(length) {
		add(field+".to_mm", "out_of_range", "must lie behind the beginning of the zone and within the length",
			"Enter where along the piece it may be cut.")
	}
	if q.AtLeast < 0 || q.AtMost < 0 || (q.AtMost > 0 && q.AtMost < q.AtLeast) {
		add(field+".at_most", "out_of_range", "must not be below the least count", "Enter the smaller number first.")
	}
}

// end is where the zone of a product ends.
func (q Product) end(length int) int {
	if q.ToMm == 0 {
		return length
	}
	return q.ToMm
}

// bound is how far a product's portions are counted; 0: not at all.
func (q Product) bound() int {
	if q.AtMost > 0 {
		return q.AtMost
	}
	return q.AtLeast
}

// counts is how many combinations of counted portions there are; more than maxCounts where they are too many.
func (p Problem) counts() int {
	n := 1
	for _, q := range p.Products {
		if n *= max(q.bound(), 0) + 1; n > maxCounts {
			return maxCounts + 1
		}
	}
	return n
}

// Best gives the layout that brings the most. Of equals it takes the one of fewest pieces, then the smallest first cut,
// then the product that stands first. Where a product's least count cannot be met, the error names the first product
// that makes it so.
func Best(p Problem) (Layout, error) {
	if err := p.check(); err != nil {
		return Layout{}, err
	}
	s := newScale(p)
	pieces, ok := solve(p, s)
	if !ok {
		for i := range p.Products {
			part := p
			part.Products = append([]Product(nil), p.Products...)
			for j := i + 1; j < len(part.Products); j++ {
				part.Products[j].AtLeast = 0
			}
			if _, ok := solve(part, s); !ok {
				return Layout{}, fault.New(fmt.Sprintf("products[%d].at_least", i), "cannot_be_met",
					"cannot be met with so many of "+p.Products[i].ID, "Ask for fewer, or widen its weights, thickness or zone.")
			}
		}
	}
	return p.layout(s, pieces), nil
}

// Equal gives n portions of the first product, equal in weight to the nearest millimetre.
func Equal(p Problem, n int) (Layout, error) {
	if err := p.check(); err != nil {
		return Layout{}, err
	}
	if n < 1 || n+(n-1)*p.KerfMm > p.LengthMm {
		return Layout{}, fault.New("equal", "out_of_range", "must be from 1 to what the length holds", "Take fewer portions.")
	}
	s := newScale(p)
	cuts := s.equal(n, p.KerfMm)
	var pieces []Piece
	from := 0
	for i := range n {
		to := p.LengthMm
		if i < n-1 {
			to = cuts[i]
		}
		if to <= from {
			return Layout{}, fault.New("equal", "too_thin", "makes portions of less than a millimetre", "Take fewer portions.")
		}
		pieces = append(pieces, Piece{Product: 0, FromMm: from, ToMm: to})
		from = to + p.KerfMm
	}
	return p.layout(s, pieces), nil
}

// Portions is how many portions a layout has, and what the lightest and the heaviest weigh; 0 without one.
func (l Layout) Portions() (n int, lightest, heaviest *big.Rat) {
	lightest, heaviest = new(big.Rat), new(big.Rat)
	for _, x := range l.Pieces {
		if x.Product < 0 {
			continue
		}
		if n++; n == 1 || x.G.Cmp(lightest) < 0 {
			lightest = x.G
		}
		if n == 1 || x.G.Cmp(heaviest) > 0 {
			heaviest = x.G
		}
	}
	return n, lightest, heaviest
}

// layout weighs and values pieces.
func (p Problem) layout(s scale, pieces []Piece) Layout {
	out := Layout{Value: new(big.Rat), Pieces: pieces, GiveAwayG: new(big.Rat), RestG: new(big.Rat),
		CutG: new(big.Rat).Set(p.WeightG)}
	thousand := big.NewRat(1000, 1)
	for i := range pieces {
		x := &out.Pieces[i]
		x.G = s.grams(p, x.FromMm, x.ToMm)
		out.CutG.Sub(out.CutG, x.G)
		paid, price := x.G, p.RestPricePerKg
		if x.Product < 0 {
			out.RestG.Add(out.RestG, x.G)
		} else {
			q := p.Products[x.Product]
			if price = q.PricePerKg; q.Label != nil {
				paid = q.Label
				out.GiveAwayG.Add(out.GiveAwayG, new(big.Rat).Sub(x.G, q.Label))
			}
		}
		v := new(big.Rat).Mul(paid, price)
		out.Value.Add(out.Value, v.Quo(v, thousand))
	}
	return out
}
