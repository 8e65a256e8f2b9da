package portion

import (
	"math/big"
)

// Even gives portions of the first product of one thickness, the last one too where it is at least as thick as least;
// else it is a rest.
func Even(p Problem, thick, least int) (Layout, error) {
	if err := p.check(); err != nil {
		return Layout{}, err
	}
	s := newScale(p)
	var pieces []Piece
	for from := 0; from < p.LengthMm; from += thick + p.KerfMm {
		x := Piece{FromMm: from, ToMm: min(from+thick, p.LengthMm)}
		if x.ToMm-from < min(thick, least) {
			x.Product = -1
		}
		pieces = append(pieces, x)
	}
	return p.layout(s, pieces), nil
}

// FromEnd gives portions of the first product one after the other from the first end, each as thin as its least weight
// lets it be, as many as are wanted, or as there are where most is 0; what is left is one rest at the other end. No
// layout has more portions of it.
func FromEnd(p Problem, most int) (Layout, error) {
	if err := p.check(); err != nil {
		return Layout{}, err
	}
	s := newScale(p)
	q := p.Products[0]
	first, last := ends(p, s, q)
	var pieces []Piece
	from := 0
	for from < p.LengthMm && first[from] <= last[from] && (most <= 0 || len(pieces) < most) {
		pieces = append(pieces, Piece{FromMm: from, ToMm: first[from]})
		from = first[from] + p.KerfMm
	}
	if from < p.LengthMm {
		pieces = append(pieces, Piece{Product: -1, FromMm: from, ToMm: p.LengthMm})
	}
	return p.layout(s, pieces), nil
}

// After is what is left to portion once so many millimetres are cut off in front, and what was cut off weighs so many
// grams: its profile, and its weight to the gram.
func (p Problem) After(cutMm int, weighedG *big.Rat) Problem {
	from := cutMm + p.KerfMm
	rest := p
	rest.LengthMm = p.LengthMm - from
	rest.WeightG = new(big.Rat).Sub(p.WeightG, weighedG)
	if p.KerfMm > 0 { // what the saw took is known from the profile alone
		s := newScale(p)
		rest.WeightG.Sub(rest.WeightG, s.grams(p, cutMm, min(from, p.LengthMm)))
	}
	rest.Profile = nil
	at := big.NewRat(int64(from), 1)
	for i, q := range p.Profile {
		if i+1 < len(p.Profile) && q.Mm.Cmp(at) <= 0 && p.Profile[i+1].Mm.Cmp(at) > 0 {
			rest.Profile = append(rest.Profile, Point{new(big.Rat), p.at(i, at)})
		}
		if q.Mm.Cmp(at) > 0 {
			rest.Profile = append(rest.Profile, Point{new(big.Rat).Sub(q.Mm, at), q.Area})
		}
	}
	rest.Products = append([]Product(nil), p.Products...)
	for i, q := range rest.Products {
		rest.Products[i].FromMm = max(0, q.FromMm-from)
		if q.ToMm > 0 {
			rest.Products[i].ToMm = max(1, q.ToMm-from)
		}
	}
	return rest
}
