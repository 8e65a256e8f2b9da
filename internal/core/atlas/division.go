package atlas

import (
	"slices"
	"strings"
)

// UsualDivision is the id of the division that a carcass' parts are.
const UsualDivision = "usual"

// DivisionSchool is the school of the divisions of a carcass as plans.
const DivisionSchool = "division"

// FormPiece is the form of what is cut further as a piece of its own: what a carcass is broken into, and the blocks of
// a large bone-in piece. The product's id is the piece's.
const FormPiece = "piece"

// formOffal is the form of offal that is sold as it is.
const formOffal = "offal"

// Division is one way of breaking a carcass: every gram of it belongs to exactly one part.
type Division struct {
	ID    string // UsualDivision, or the ids of what is taken instead, joined by "+"
	Name  string
	Short string // may be empty
	Note  string
	Parts []CarcassPart
	Other []Part // the carcass' own, and what the other division leaves over
}

// Divisions lists every consistent way of breaking a carcass: the usual one, and all that swap pieces which do not
// overlap.
func (c Carcass) Divisions() []Division {
	out := []Division{{ID: UsualDivision, Name: "The usual division", Parts: c.Parts, Other: c.Other}}
	for _, in := range c.Instead {
		for _, d := range slices.Clone(out) {
			if swapped, ok := d.instead(in); ok {
				out = append(out, swapped)
			}
		}
	}
	return out
}

// instead swaps pieces; ok is false where what they are taken from is swapped already.
func (d Division) instead(in Instead) (Division, bool) {
	var parts []CarcassPart
	left := len(in.Of)
	for _, p := range d.Parts {
		if slices.Contains(in.Of, p.Piece) && len(p.Findings) == 0 {
			left--
			continue
		}
		parts = append(parts, p)
	}
	if left != 0 {
		return d, false
	}
	other := slices.Clone(d.Other)
	for i, o := range other {
		if taken := in.Takes[o.ID]; taken > 0 {
			if other[i].SharePct = float64(Thousandths(o.SharePct)-Thousandths(taken)) / 1000; other[i].SharePct <= 0 {
				return d, false // another division took it
			}
		}
	}
	out := Division{ID: in.ID, Name: in.Name, Short: in.Short, Note: in.Note, Parts: append(parts, in.Pieces...),
		Other: append(slices.Clone(in.Rest), other...)}
	if d.ID != UsualDivision {
		out.ID, out.Name, out.Note = d.ID+"+"+in.ID, d.Name+"; "+lowerFirst(in.Name), d.Note+" "+in.Note
		out.Short = shortOf(d.Short, in.Short)
	}
	return out, true
}

// shortOf joins the short names of what is taken instead; their first words alone where that is too long, and nothing
// where one of them has none.
func shortOf(first, more string) string {
	if first == "" || more == "" {
		return ""
	}
	if joined := first + ", " + lowerFirst(more); len([]rune(joined)) <= ShortLength {
		return joined
	}
	var heads []string
	for _, name := range append(strings.Split(first, ", "), lowerFirst(more)) {
		head, _, _ := strings.Cut(name, " ")
		heads = append(heads, head)
	}
	return strings.Join(heads, ", ")
}

// Division gives a division by id; the usual one where there is no such.
func (c Carcass) Division(id string) Division {
	all := c.Divisions()
	if i := slices.IndexFunc(all, func(d Division) bool { return d.ID == id }); i >= 0 {
		return all[i]
	}
	return all[0]
}

// Whole gives a carcass as a piece to be taken apart: its pieces stand where muscles do, so that it is weighed,
// balanced and closed by the same rules; its plans are the divisions. It has no eating quality and no school to be
// compared with.
func (a *Atlas) Whole(c Carcass, division string) Piece {
	d := c.Division(division)
	p := Piece{ID: c.ID, Species: c.Species, Name: c.Name, Region: c.Region, Codes: c.Codes, Names: c.Names,
		Arrives: c.Arrives, Basis: c.Basis, WeightKg: c.WeightKg, SideSharePct: 100, Skill: c.Skill, Inspect: c.Inspect,
		Cautions: c.Cautions, Section: c.Section}
	for _, part := range d.Parts {
		piece := a.Pieces[a.byID[part.Piece]]
		m := Muscle{ID: part.Piece, Code: code(piece.Name), Name: piece.Name, Names: piece.Names, SharePct: part.SharePct,
			At: part.At, Seam: Seam{Tell: strings.Join(c.Divide, " ")}}
		if len(c.Cautions) > 0 {
			m.Seam.Danger = c.Cautions[0]
		}
		p.Muscles = append(p.Muscles, m)
	}
	for _, o := range d.Other {
		if o.Kind == kindOffal {
			o.Kind = KindTrim
		}
		p.Other = append(p.Other, o)
	}
	for _, way := range c.Divisions() {
		p.Plans = append(p.Plans, c.plan(a, way))
	}
	return p
}

// plan is a division as a plan: every part is sold as itself.
func (c Carcass) plan(a *Atlas, d Division) Plan {
	why := strings.Join(c.Divide, " ")
	if d.Note != "" {
		why = d.Note + " " + why
	}
	pl := Plan{ID: d.ID, School: DivisionSchool, Name: d.Name, Short: d.Short, Why: why, Cut: CutSeams, Tool: "saw",
		Minutes: c.Minutes}
	for _, part := range d.Parts {
		pl.Products = append(pl.Products,
			Product{ID: part.Piece, Name: a.Pieces[a.byID[part.Piece]].Name, Form: FormPiece,
				Count: Count{part.Count, part.Count}, From: map[string]float64{part.Piece: 100}})
	}
	for _, o := range d.Other {
		if o.Kind == KindLoss {
			continue
		}
		pr := a.sold(c, o)
		if i := slices.IndexFunc(pl.Products, func(x Product) bool { return x.ID == pr.ID }); i >= 0 {
			pl.Products[i].From[o.ID] = 100
			continue
		}
		pr.From = map[string]float64{o.ID: 100}
		pl.Products = append(pl.Products, pr)
	}
	return pl
}

// sold is the product that a part beside the pieces is sold as: one of the atlas' products, or itself.
func (a *Atlas) sold(c Carcass, o Part) Product {
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			if pr, ok := pl.Product(o.As); ok && p.Species == c.Species {
				return Product{ID: pr.ID, Name: pr.Name, Form: pr.Form}
			}
		}
	}
	pr := Product{ID: o.ID, Name: o.Name, Form: o.Kind}
	if o.Kind == kindOffal {
		pr.Form = formOffal
	}
	return pr
}

// Offal lists what carcasses give beside their pieces that is sold as itself.
func (a *Atlas) Offal(c Carcass) []Product {
	var out []Product
	for _, o := range c.Other {
		if pr := a.sold(c, o); pr.Form == formOffal {
			out = append(out, pr)
		}
	}
	return out
}

// code is the letters with which the words of a name begin, three at most.
func code(name string) string {
	name, _, _ = strings.Cut(name, ",")
	out := ""
	for _, w := range strings.Fields(name) {
		if r := []rune(w)[0]; len(out) < 3 {
			out += strings.ToUpper(string(r))
		}
	}
	if len(out) == 1 && len(name) > 1 {
		out += strings.ToLower(name[1:2])
	}
	return out
}
