package atlas

import (
	"maps"
	"slices"
	"strings"

	"falda/internal/core/steps"
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

// tubOf is the tub that a consequence of a finding means.
func tubOf(to string) steps.Tub {
	switch to {
	case ToMince:
		return steps.MinceTrim
	case PareOff:
		return steps.FatTub
	}
	return steps.Discard
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
	if pl.OwnSteps() {
		pl.Gone = slices.Clone(pl.Gone)
		for _, part := range of {
			pl.Gone = append(pl.Gone, Gone{Part: part, Pct: takes.Pct, To: tubOf(to)})
		}
		return p.Compile(pl)
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
	absent := steps.Shares{}
	for _, in := range p.Inspect {
		if slices.Contains(ids, in.ID) {
			for _, part := range in.Absent {
				absent[part] = 100
			}
		}
	}
	p, names := p.Without(absent)
	for _, name := range names {
		p.Name += ", without " + strings.ToLower(name)
	}
	return p
}

// Form gives a form of the piece by id.
func (p Piece) Form(id string) (Form, bool) {
	for _, f := range p.Forms {
		if f.ID == id {
			return f, true
		}
	}
	return Form{}, false
}

// As gives the piece in one of its forms: named by it unless it is the usual one, without what it lacks. An unknown
// form, or none, changes nothing.
func (p Piece) As(id string) Piece {
	f, ok := p.Form(id)
	if !ok {
		return p
	}
	p, _ = p.Without(f.Absent)
	if !f.Default {
		p.Name += ", " + f.Name
	}
	if len(f.Code) > 0 {
		codes := map[string]string{}
		maps.Copy(codes, p.Codes)
		maps.Copy(codes, f.Code)
		p.Codes = codes
	}
	return p
}

// Without gives the piece without some of its parts, in percent of each part's whole: the shares of the rest grow to
// 100 %, the usual weights shrink, and the plans go by what is left. It names the muscles that are gone altogether.
func (p Piece) Without(absent steps.Shares) (Piece, []string) {
	gone, has, missing, grow, names := p.after(absent)
	if len(has) == 0 || grow <= 0 {
		return p, nil
	}
	p.Missing = missing
	p.WeightKg = Range{p.WeightKg.Low / grow, p.WeightKg.Typical / grow, p.WeightKg.High / grow}
	share := func(id string, pct float64) float64 {
		if kept, ok := has[id]; ok {
			pct *= kept
		}
		return pct * grow
	}
	away := func(id string) bool { return gone[id] }
	var muscles []Muscle
	for _, m := range p.Muscles {
		if gone[m.ID] {
			continue
		}
		m.SharePct = share(m.ID, m.SharePct)
		m.Touches = slices.DeleteFunc(slices.Clone(m.Touches), away)
		m.Seam.After = slices.DeleteFunc(slices.Clone(m.Seam.After), away)
		muscles = append(muscles, m)
	}
	var other []Part
	for _, o := range p.Other {
		if !gone[o.ID] {
			o.SharePct = share(o.ID, o.SharePct)
			other = append(other, o)
		}
	}
	p.Muscles, p.Other = muscles, other
	plans := make([]Plan, len(p.Plans))
	for i, pl := range p.Plans {
		plans[i] = p.Compile(pl.without(gone))
	}
	p.Plans = plans
	return p, names
}

// after says what of the piece is there without some of its parts: which parts are gone, what is left of those that are
// not whole as a part of one, all that is missing then, how many times the share of every part grows, and the names of
// the muscles that are gone. It grows by nothing where nothing would be left.
func (p Piece) after(absent steps.Shares) (gone map[string]bool, has map[string]float64, missing map[string]int64,
	grow float64, names []string) {
	left, before := 0.0, 0.0
	gone, has, missing = map[string]bool{}, map[string]float64{}, map[string]int64{}
	maps.Copy(missing, p.Missing)
	for _, part := range p.Parts() {
		was := steps.Whole - missing[part.ID]
		now := was - min(was, Thousandths(absent[part.ID]))
		share := float64(part.Share) / 1000
		before += share
		if now == was {
			left += share
			continue
		}
		has[part.ID] = float64(now) / float64(was)
		left += share * has[part.ID]
		missing[part.ID] = steps.Whole - now
		if now == 0 {
			gone[part.ID] = true
			if part.Kind == KindMuscle {
				names = append(names, part.Name)
			}
		}
	}
	if left > 0 {
		grow = before / left
	}
	return gone, has, missing, grow, names
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
