package bestuse

import (
	"fmt"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// places gives where each product stands.
func (p Problem) places() map[string]int {
	at := make(map[string]int, len(p.Products))
	for j, pr := range p.Products {
		at[pr.ID] = j
	}
	return at
}

// checkFalls says what is wrong with what products are sold as beyond their caps.
func (p Problem) checkFalls(faults *fault.List) {
	at := p.places()
	for j, pr := range p.Products {
		if pr.FallsTo == "" {
			continue
		}
		field := fmt.Sprintf("products[%d].fallback", j)
		to, ok := at[pr.FallsTo]
		switch {
		case !ok:
			faults.Add(field, fault.New("", "unknown", "is not one of the products", "List it among them."))
		case p.Products[to].Price.Cmp(pr.Price) > 0:
			faults.Add(field, fault.New("", "too_large", "is dearer than the product itself",
				"What does not sell cannot bring more than what does."))
		case p.circle(at, j):
			faults.Add(field, fault.New("", "circle", "comes back to the product itself", "Let one of them fall no further."))
		}
	}
}

// circle says whether following what a product is sold as comes back to it.
func (p Problem) circle(at map[string]int, from int) bool {
	j := from
	for range p.Products {
		to, ok := at[p.Products[j].FallsTo]
		if !ok {
			return false
		}
		if j = to; j == from {
			return true
		}
	}
	return false
}

// falling lists the products so that each stands before what it is sold as.
func (p Problem) falling() []int {
	at, deep := p.places(), make([]int, len(p.Products))
	most := 0
	for j := range p.Products {
		for k, n := j, 1; n <= len(p.Products); n++ { // what lies below stands later
			to, ok := at[p.Products[k].FallsTo]
			if !ok {
				break
			}
			k = to
			deep[k] = max(deep[k], n)
			most = max(most, n)
		}
	}
	out := make([]int, 0, len(p.Products))
	for d := 0; d <= most; d++ {
		for j := range p.Products {
			if deep[j] == d {
				out = append(out, j)
			}
		}
	}
	return out
}

// fallback is what a kilogram of a product brings beyond its cap: where it is sold as another, that one's price.
func (p Problem) fallback(pr Product) measure.Money {
	for _, to := range p.Products {
		if pr.FallsTo != "" && to.ID == pr.FallsTo {
			return to.Price
		}
	}
	return pr.Fallback
}
