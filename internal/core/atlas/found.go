package atlas

import (
	"maps"
	"slices"
	"strings"
)

// Found gives the piece as it is when the inspection points with these ids were ticked: what is absent is taken out of
// its muscles, parts, seams and plans, the shares of the rest grow to 100 %, the usual weights shrink, and its name
// says so; what a finding takes leaves the products for the bin, the mince or the fat, as the shop decided (finding →
// Discard, ToMince or PareOff) or else as the atlas says. Unknown ids are passed over.
func (p Piece) Found(ids []string, decided map[string]string) Piece {
	p = p.lacking(ids)
	for _, in := range p.Inspect {
		if in.Takes.Pct == 0 || !slices.Contains(ids, in.ID) {
			continue
		}
		to := in.Takes.To
		if d := decided[in.ID]; d != "" {
			to = d
		}
		p.Plans = slices.Clone(p.Plans)
		for i := range p.Plans {
			p.Plans[i] = p.taken(p.Plans[i], in.Takes, to)
		}
	}
	return p
}

// taken works one finding into a plan.
func (p Piece) taken(pl Plan, takes Takes, to string) Plan {
	pl = pl.copied()
	of := takes.Of
	if len(of) == 0 {
		for _, m := range p.Muscles {
			of = append(of, m.ID)
		}
	}
	target := Thrown
	for _, pr := range pl.Products {
		if (to == ToMince && pr.IsTrim()) || (to == PareOff && pr.Form == "fat") {
			target = pr.ID
			break
		}
	}
	var from []string
	for _, pr := range pl.Products {
		if to == Discard || !(pr.IsTrim() || pr.ByProduct()) {
			from = append(from, pr.ID)
		}
	}
	for _, part := range of {
		pl.choose(Choice{Moves: []Move{{Part: part, Of: from, To: target, Pct: takes.Pct}}})
	}
	pl.tidy()
	return pl
}

// lacking takes out what the ticked points say is absent.
func (p Piece) lacking(ids []string) Piece {
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
	pl.Waste = maps.Clone(pl.Waste)
	maps.DeleteFunc(pl.Waste, func(part string, _ float64) bool { return absent[part] })
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
