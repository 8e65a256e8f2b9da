package atlas

import (
	"math/big"
	"slices"
	"strings"

	"falda/internal/core/measure"
)

// SoldAs is a product that a muscle is sold as.
type SoldAs struct {
	Product   Product
	Key       string
	Piece     Piece
	SharePct  float64 // of the muscle in it
	EdiblePct float64 // of what is sold: all but bone and waste
}

// Edible is what a kilogram of what is eaten of it costs at a price, exactly; EdiblePct must be above zero.
func (s SoldAs) Edible(p measure.Price) measure.Money {
	return p.Amount.Over(p.Per.Kilograms()).Over(new(big.Rat).SetFloat64(s.EdiblePct / 100))
}

// Meat is one muscle with everything that it is sold as, of whatever piece.
type Meat struct {
	Muscle   Muscle
	Species  string
	Products []SoldAs
}

// mainly is the share of a product from which on it is sold as the meat of one muscle.
const mainly = 0.6

// SameMeat lists the muscles that are sold under several names: each with the products that are mostly of it, as Sold
// lists them.
func (a *Atlas) SameMeat() []Meat {
	at := map[string]int{}
	var out []Meat
	for _, x := range a.Sold() {
		latin := Words(x.Muscle.Anatomical)
		thing := x.Species + " " + strings.Join(latin[:min(3, len(latin))], " ")
		i, ok := at[thing]
		if !ok {
			i = len(out)
			at[thing] = i
			out = append(out, Meat{Muscle: x.Muscle, Species: x.Species})
		}
		out[i].Products = append(out[i].Products, x.Products...)
	}
	return slices.DeleteFunc(out, func(m Meat) bool { return len(m.Products) < 2 })
}

// Sold lists the products that are mostly of one muscle, one by one: each stands once, as the first way of the first
// piece makes it. Trim and what is minced is of no one muscle.
func (a *Atlas) Sold() []Meat {
	seen := map[string]bool{}
	var out []Meat
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				key := p.Key(pr)
				if seen[key] || pr.IsTrim() || pr.ByProduct() || pr.Form == FormPiece {
					continue
				}
				m, s := p.mostly(pr)
				if s.SharePct < mainly*100 {
					continue
				}
				seen[key] = true
				s.Product, s.Key, s.Piece = pr, key, p
				out = append(out, Meat{Muscle: m, Species: p.Species, Products: []SoldAs{s}})
			}
		}
	}
	return out
}

// mostly is the muscle that most of a product of the piece is, and how much of it; of the product's own weight.
func (p Piece) mostly(pr Product) (most Muscle, s SoldAs) {
	whole, eaten, muscle := 0.0, 0.0, 0.0
	for _, part := range p.Parts() {
		w := float64(part.Share) * pr.From[part.ID]
		whole += w
		if part.Kind != KindBone && part.Kind != KindWaste {
			eaten += w
		}
		if m, is := p.Muscle(part.ID); is && w > muscle {
			most, muscle = m, w
		}
	}
	if whole > 0 {
		s.SharePct, s.EdiblePct = 100*muscle/whole, 100*eaten/whole
	}
	return most, s
}
