package eating

import "falda/internal/core/atlas"

// mattersFrom is the share of a muscle from which on its going into a product says something of the product.
const mattersFrom = 20.0 // per cent

// Contradiction is a product that a plan sells for quick cooking, of a muscle that eats below 3 by that method. The
// toughest part decides what the eater remembers.
type Contradiction struct {
	Product atlas.Product
	Muscle  atlas.Muscle
	Score   Score // by the product's method
	Best    Score // of the muscle
}

// Contradictions lists what in a plan contradicts the grades; known gives what is known of a muscle.
func Contradictions(p atlas.Piece, pl atlas.Plan, known func(part string) []Score) []Contradiction {
	var out []Contradiction
	for _, pr := range pl.Products {
		if m, ok := atlas.FindMethod(pr.Cook); !ok || !m.Quick || m.ID == "thin_slice" {
			continue
		}
		for _, m := range p.Muscles {
			if pr.From[m.ID] < mattersFrom {
				continue
			}
			scores := known(m.ID)
			for _, s := range scores {
				if e, ok := m.EndOf(pl.ID, pr.ID); ok {
					s.Mean += m.Apart(e, s.Method)
				}
				if s.Method == pr.Cook && s.Grade() == BelowThree {
					best, _ := Best(scores)
					out = append(out, Contradiction{pr, m, s, best})
				}
			}
		}
	}
	return out
}
