package atlas

import (
	"slices"
	"strings"
)

// Found gives the piece as it is when the inspection points with these ids were ticked: what is absent is taken out of
// its muscles, parts, seams and plans, the shares of the rest grow to 100 %, the usual weights shrink, and its name says so. Unknown ids
// are passed over.
func (p Piece) Found(ids []string) Piece {
	absent := map[string]bool{}
	for _, in := range p.Inspect {
		if slices.Contains(ids, in.ID) {
			for _, part := range in.Absent {
				absent[part] = true
			}
		}
	}
	if len(absent) == 0 {
		return p
	}
	left := 0.0
	for _, part := range p.Parts() {
		switch {
		case !absent[part.ID]:
			left += float64(part.Share) / 1000
		case part.Kind == KindMuscle:
			p.Name += ", without " + strings.ToLower(part.Name)
		}
	}
	grow := 100 / left
	p.WeightKg = Range{p.WeightKg.Low / grow, p.WeightKg.Typical / grow, p.WeightKg.High / grow}
	gone := func(id string) bool { return absent[id] }
	var muscles []Muscle
	for _, m := range p.Muscles {
		if gone(m.ID) {
			continue
		}
		m.SharePct *= grow
		m.Touches = slices.DeleteFunc(slices.Clone(m.Touches), gone)
		m.Seam.After = slices.DeleteFunc(slices.Clone(m.Seam.After), gone)
		muscles = append(muscles, m)
	}
	var other []Part
	for _, o := range p.Other {
		if !gone(o.ID) {
			o.SharePct *= grow
			other = append(other, o)
		}
	}
	p.Muscles, p.Other = muscles, other
	plans := make([]Plan, len(p.Plans))
	for i, pl := range p.Plans {
		plans[i] = pl.without(absent)
	}
	p.Plans = plans
	return p
}

// without drops the absent parts, and the products that are then made of nothing.
func (pl Plan) without(absent map[string]bool) Plan {
	var products []Product
	for _, pr := range pl.Products {
		from := map[string]float64{}
		for part, pct := range pr.From {
			if !absent[part] {
				from[part] = pct
			}
		}
		if len(from) > 0 {
			pr.From = from
			products = append(products, pr)
		}
	}
	pl.Products = products
	return pl
}
