package bestuse

import (
	"fmt"
	"math"
	"math/big"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Minutes are hundredths of a bench minute, whole.
type Minutes int64

// Problem is what is to be cut, and within which limits.
type Problem struct {
	Pieces   []Piece
	Products []Product
	Minutes  *Minutes // of the bench; nil where they are no limit
	Saw      *Minutes // of the saw; likewise
}

// Piece is one piece, or several alike, that are ready.
type Piece struct {
	ID    string
	Count int  // at least 1
	Waits bool // it may also be left for another day, bringing nothing
	Plans []Plan
}

// Plan is a way of cutting one piece: what it gives and what it costs.
type Plan struct {
	ID      string
	Minutes Minutes
	Saw     Minutes       // of them at the saw
	Cost    measure.Money // packaging, labour, discard; the piece itself is paid in any case
	Yields  []Yield
}

// Yield is what one piece gives of a product.
type Yield struct {
	Product string
	Mass    measure.Mass
}

// Product is sold at its price up to the cap, and at its fallback beyond, or as another product.
type Product struct {
	ID       string
	Price    measure.Money // per kg
	Cap      *measure.Mass // nil where all that is cut sells at the price
	Fallback measure.Money // per kg; not above the price
	FallsTo  string        // the product it is sold as in the place of Fallback, within that one's cap; not a dearer one
	Order    measure.Mass  // must be there at least; 0 for no order
}

// The most that a problem may hold.
const (
	MaxPieces   = 500
	MaxCount    = 500
	MaxPlans    = 64
	MaxProducts = 500
)

// Check says what is wrong with a problem. Faults name the field: "pieces[i].plans[k].yields[n].mass_g" and the like.
func (p Problem) Check() error {
	var faults fault.List
	between := func(field string, n, low, high int) bool {
		if n < low || n > high {
			faults.Add(field,
				fault.New("", "out_of_range", fmt.Sprintf("must be from %d to %d, is %d", low, high, n), "Change it."))
			return false
		}
		return true
	}
	bad := func(wrong bool, field, code, message, out string) {
		if wrong {
			faults.Add(field, fault.New("", code, message, out))
		}
	}
	if !between("pieces", len(p.Pieces), 1, MaxPieces) || !between("products", len(p.Products), 1, MaxProducts) {
		return faults.Err()
	}
	known := map[string]bool{}
	for i, pr := range p.Products {
		at := fmt.Sprintf("products[%d].", i)
		bad(pr.ID == "", at+"id", "required", "is empty", "Name the product.")
		bad(known[pr.ID], at+"id", "twice", "stands twice", "Give each product its own id.")
		bad(pr.Price.Sign() < 0, at+"price", "negative", "is below zero", "Enter zero or more.")
		bad(pr.Fallback.Sign() < 0, at+"fallback", "negative", "is below zero", "Enter zero or more.")
		bad(pr.Fallback.Cmp(pr.Price) > 0, at+"fallback", "too_large", "is above the price",
			"What does not sell cannot bring more than what does.")
		bad(pr.Cap != nil && *pr.Cap < 0, at+"cap_g", "negative", "is below zero", "Enter zero or more.")
		bad(pr.Order < 0, at+"order_g", "negative", "is below zero", "Enter zero or more.")
		known[pr.ID] = true
	}
	p.checkFalls(&faults)
	bad(p.Saw != nil && *p.Saw < 0, "saw_minutes", "negative", "is below zero", "Enter zero or more.")
	bad(p.Minutes != nil && *p.Minutes < 0, "minutes", "negative", "is below zero", "Enter zero or more.")
	pieces := map[string]bool{}
	for i, x := range p.Pieces {
		at := fmt.Sprintf("pieces[%d].", i)
		bad(x.ID == "", at+"id", "required", "is empty", "Name the piece.")
		bad(pieces[x.ID], at+"id", "twice", "stands twice", "Give each piece its own id, or a count.")
		pieces[x.ID] = true
		between(at+"count", x.Count, 1, MaxCount)
		between(at+"plans", len(x.Plans), 1, MaxPlans)
		plans := map[string]bool{}
		for k, pl := range x.Plans {
			at := fmt.Sprintf("%splans[%d].", at, k)
			bad(pl.ID == "" || plans[pl.ID], at+"id", "twice", "is empty or stands twice",
				"Give each plan of a piece its own id.")
			plans[pl.ID] = true
			bad(pl.Minutes < 0, at+"minutes", "negative", "is below zero", "Enter zero or more.")
			bad(pl.Saw < 0, at+"saw_minutes", "negative", "is below zero", "Enter zero or more.")
			for n, y := range pl.Yields {
				at := fmt.Sprintf("%syields[%d].", at, n)
				bad(!known[y.Product], at+"product", "unknown", "is not one of the products", "List it among them.")
				bad(y.Mass < 0, at+"mass_g", "negative", "is below zero", "Enter zero or more.")
			}
		}
	}
	return faults.Err()
}

// Choice is how many of a piece are cut by a plan. Plan is empty for those that wait.
type Choice struct {
	Piece, Plan string
	Count       int
}

// Sale is what becomes of a product.
type Sale struct {
	Product  string
	Made     measure.Mass
	Full     measure.Mass // sold at the full price; what other products are sold as it too
	Fallback measure.Mass // sold at the fallback, or as another product
	Value    measure.Money
}

// Solution is the best use.
type Solution struct {
	Choices []Choice // by piece and plan, in their order; only counts above 0
	Sales   []Sale   // by product, in their order
	Minutes Minutes
	Saw     Minutes
	Value   measure.Money // sales less the plans' costs; what the pieces cost is not in it
	Proven  bool          // no other use brings a ten-thousandth more
	AtMost  float64       // what any use could bring at most, where it is not proven
	Nodes   int           // how many relaxations were solved

	counts [][]int // by piece and plan
}

// Sales works out what counts of pieces by plan bring. It is exact.
func (p Problem) sell(counts [][]int) Solution {
	out := Solution{counts: counts}
	made := map[string]measure.Mass{}
	for i, x := range p.Pieces {
		left := x.Count
		for k, pl := range x.Plans {
			n := counts[i][k]
			if n == 0 {
				continue
			}
			left -= n
			out.Choices = append(out.Choices, Choice{x.ID, pl.ID, n})
			out.Minutes += pl.Minutes * Minutes(n)
			out.Saw += pl.Saw * Minutes(n)
			out.Value = out.Value.Sub(pl.Cost.Times(big.NewRat(int64(n), 1)))
			for _, y := range pl.Yields {
				made[y.Product] += y.Mass * measure.Mass(n)
			}
		}
		if left > 0 {
			out.Choices = append(out.Choices, Choice{x.ID, "", left})
		}
	}
	into := map[string]measure.Mass{} // what is sold as another product
	out.Sales = make([]Sale, len(p.Products))
	for _, j := range p.falling() {
		pr := p.Products[j]
		s := Sale{Product: pr.ID, Made: made[pr.ID], Full: made[pr.ID] + into[pr.ID]}
		if pr.Cap != nil && s.Full > *pr.Cap {
			s.Full, s.Fallback = *pr.Cap, s.Full-*pr.Cap
		}
		s.Value = pr.Price.Times(s.Full.In(measure.UnitKilogram))
		if pr.FallsTo == "" {
			s.Value = s.Value.Add(pr.Fallback.Times(s.Fallback.In(measure.UnitKilogram)))
		} else {
			into[pr.FallsTo] += s.Fallback
		}
		out.Value = out.Value.Add(s.Value)
		out.Sales[j] = s
	}
	return out
}

// atMost is what no use can bring more than: each piece by the plan that brings most at full prices.
func (p Problem) atMost() float64 {
	price := map[string]measure.Money{}
	for _, pr := range p.Products {
		price[pr.ID] = pr.Price
	}
	sum := 0.0
	for _, x := range p.Pieces {
		maximum := math.Inf(-1)
		if x.Waits {
			maximum = 0
		}
		for _, pl := range x.Plans {
			v := -pl.Cost.Float()
			for _, y := range pl.Yields {
				v += price[y.Product].Float() * y.Mass.Grams() / 1000
			}
			maximum = math.Max(maximum, v)
		}
		sum += maximum * float64(x.Count)
	}
	return sum + 1
}

// meets says whether a use keeps every limit and order.
func (p Problem) meets(s Solution) bool {
	if p.Minutes != nil && s.Minutes > *p.Minutes || p.Saw != nil && s.Saw > *p.Saw {
		return false
	}
	for j, pr := range p.Products {
		if s.Sales[j].Made < pr.Order {
			return false
		}
	}
	return true
}
