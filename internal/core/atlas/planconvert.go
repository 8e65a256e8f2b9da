package atlas

import (
	"maps"
	"math"
	"slices"

	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// fromShares turns a plan of percentages into steps. By the seams, every muscle comes off in the order of its seams,
// then every other part but the loss; each is a block of its own, weighed, whose percentages leave as products by
// share. Straight through, every product leaves the piece with its percentages of all parts, weighed; then what is
// thrown away. The minutes are laid on the steps in proportion to what they take. Walking the steps gives the
// percentages back exactly.
func (p Piece) fromShares(pl Plan) []steps.Step {
	var list []steps.Step
	if pl.Cut == CutSeams {
		list = p.seamed(pl)
	} else {
		list = p.straight(pl)
	}
	p.layMinutes(list, pl.Minutes)
	return list
}

// toolOf is the tool of a converted step.
func toolOf(pl Plan) string {
	if pl.Tool == "saw" {
		return "band_saw"
	}
	return "straight_knife"
}

func (p Piece) seamed(pl Plan) []steps.Step {
	var list []steps.Step
	other := func(before string) {
		for _, o := range p.Other {
			if _, there := p.Muscle(o.Before); !there { // it is missing from this piece
				o.Before = ""
			}
			if o.Kind == KindLoss || o.Before != before {
				continue
			}
			do := steps.TakeOff
			if o.Kind == KindBone {
				do = steps.BoneOut
			}
			list = append(list, steps.Step{ID: o.ID, Do: do, Of: steps.Names{steps.Piece},
				Parts: steps.Shares{o.ID: 100}, As: steps.Blocks{{Block: o.ID, Name: o.Name}}, Say: o.Say})
		}
	}
	for _, id := range p.Order() {
		other(id)
		m, _ := p.Muscle(id)
		list = append(list, steps.Step{ID: id, Do: steps.TakeOff, Of: steps.Names{steps.Piece},
			Parts: steps.Shares{id: 100}, As: steps.Blocks{{Block: id, Name: m.Name}}, After: m.Seam.After, Tool: toolOf(pl),
			Say: steps.Say{Find: m.Seam.Tell, Wrong: m.Seam.Danger}})
	}
	other("")
	for _, off := range slices.Clone(list) {
		part := off.ID
		keep := func(to steps.Give, id string, pct float64) {
			list = append(list, steps.Step{ID: part + "." + id, Do: steps.Keep, Of: steps.Names{part},
				Parts: steps.Shares{part: pct}, Gives: []steps.Give{to}, After: []string{part}, Weigh: steps.WeighNone})
		}
		left := steps.Whole
		for _, pr := range pl.Products {
			if pct := pr.From[part]; pct > 0 {
				keep(steps.Give{Product: pr.ID, Count: countOf(pr)}, pr.ID, pct)
				left -= Thousandths(pct)
			}
		}
		if any, _ := p.Part(part); any.Kind != KindWaste {
			left = Thousandths(pl.Waste[part])
		}
		if left > 0 {
			keep(steps.Give{Tub: steps.Discard}, Thrown, float64(left)/1000)
		}
	}
	return list
}

// saying are the words of what leaves: its own; where no muscle is in it, those of the part that it is most of.
func (p Piece) saying(say steps.Say, from map[string]float64) steps.Say {
	if say != (steps.Say{}) || slices.ContainsFunc(p.Muscles, func(m Muscle) bool { return from[m.ID] > 0 }) {
		return say
	}
	most := 0.0
	for _, o := range p.Other {
		if share := from[o.ID] * o.SharePct; share > most {
			most, say = share, o.Say
		}
	}
	return say
}

func countOf(pr Product) steps.Range {
	return steps.Range{Low: float64(pr.Count.Low), High: float64(pr.Count.High)}
}

// cutting is the verb that a product of a form is cut with.
func cutting(form, tool string) steps.Verb {
	switch form {
	case "steak", "chop", "braising_steak", "medallion", "scallop", "thin_slice", "riblet":
		if tool == "saw" {
			return steps.Saw
		}
		return steps.Slice
	case "dice", "strip", "kebab":
		return steps.Dice
	case "trim", "sausage_trim", "fat":
		return steps.TakeOff
	case "bone":
		return steps.BoneOut
	}
	return steps.Part
}

func (p Piece) straight(pl Plan) []steps.Step {
	var list []steps.Step
	left := map[string]int64{}
	for _, part := range p.Parts() {
		switch {
		case part.Kind == KindWaste:
			left[part.ID] = steps.Whole
		case part.Kind != KindLoss:
			left[part.ID] = Thousandths(pl.Waste[part.ID])
		}
	}
	for _, pr := range pl.Products {
		s := steps.Step{ID: pr.ID, Do: cutting(pr.Form, pl.Tool), Of: steps.Names{steps.Piece}, Parts: maps.Clone(pr.From),
			Gives: []steps.Give{{Product: pr.ID, Count: countOf(pr)}}, Tool: toolOf(pl), Say: p.saying(pr.Say, pr.From)}
		if mm := pr.ThicknessMm; mm > 0 && (s.Do == steps.Slice || s.Do == steps.Saw || s.Do == steps.Dice) {
			s.Mm = steps.Range{Low: mm, High: mm}
		}
		if g := pr.PortionG; g > 0 && (s.Do == steps.Slice || s.Do == steps.Part || s.Do == steps.Dice) {
			s.PortionG = steps.Range{Low: g, High: g}
		}
		for part, pct := range pr.From {
			if any, _ := p.Part(part); any.Kind == KindWaste {
				left[part] -= Thousandths(pct)
			}
		}
		list = append(list, s)
	}
	for _, part := range p.Parts() {
		if share := left[part.ID]; share > 0 {
			s := steps.Step{ID: Thrown + "." + part.ID, Do: steps.TakeOff, Of: steps.Names{steps.Piece},
				Parts: steps.Shares{part.ID: float64(share) / 1000}, Gives: []steps.Give{{Tub: steps.Discard}},
				Weigh: steps.WeighNone, Say: p.saying(steps.Say{}, steps.Shares{part.ID: 100})}
			if part.Kind == KindWaste {
				s.Weigh = steps.WeighEach
			}
			list = append(list, s)
		}
	}
	return list
}

// layMinutes shares minutes among steps by what they take off the piece, to the thousandth of a minute.
func (p Piece) layMinutes(list []steps.Step, minutes float64) {
	weights := make([]int64, len(list))
	for i, s := range list {
		if s.Weigh == steps.WeighNone {
			continue
		}
		for part, pct := range s.Parts {
			if any, ok := p.Part(part); ok {
				weights[i] += int64(math.Round(float64(any.Share) * pct))
			}
		}
	}
	shares, err := measure.Apportion(int64(math.Round(minutes*1000)), weights)
	if err != nil { // nothing is taken at all
		return
	}
	for i, s := range shares {
		list[i].Minutes.Base = float64(s) / 1000
	}
}

// InSteps gives a plan of percentages as a plan of steps: what it makes, wastes and takes stays exactly the same. A
// plan of steps stays as it is.
func (p Piece) InSteps(pl Plan) Plan {
	if pl.OwnSteps() {
		return pl
	}
	pl.Steps, pl.ByShares = p.fromShares(pl), true
	return pl
}

// Inherit gives a plan that was made when the atlas had one muscle where it has two now: what it says of the muscle
// that the other was a part of holds for both. A plan that knows both stays as it is.
func (p Piece) Inherit(pl Plan) Plan {
	said := map[string]bool{}
	for _, pr := range pl.All() {
		for part := range pr.From {
			said[part] = true
		}
	}
	for part := range pl.Waste {
		said[part] = true
	}
	for _, s := range pl.Steps {
		for part := range s.Parts {
			said[part] = true
		}
	}
	for _, m := range p.Muscles {
		i := slices.IndexFunc(m.Was, func(old string) bool { return said[old] })
		if i < 0 || said[m.ID] {
			continue
		}
		pl = pl.asBefore(m.Was[i], m.ID)
	}
	return pl
}

// asBefore gives the plan with all that it says of one part said of another too.
func (pl Plan) asBefore(old, part string) Plan {
	both := func(shares map[string]float64) map[string]float64 {
		out := maps.Clone(shares)
		if pct, ok := out[old]; ok {
			out[part] = pct
		}
		return out
	}
	products := func(list []Product) []Product {
		out := slices.Clone(list)
		for i := range out {
			out[i].From = both(out[i].From)
		}
		return out
	}
	pl.Products, pl.Declared, pl.Waste = products(pl.Products), products(pl.Declared), both(pl.Waste)
	pl.Steps = slices.Clone(pl.Steps)
	for i, s := range pl.Steps {
		s.Parts = both(s.Parts)
		s.Takes = slices.Clone(s.Takes)
		for _, t := range pl.Steps[i].Takes {
			if t.Part == old {
				t.Part = part
				s.Takes = append(s.Takes, t)
			}
		}
		pl.Steps[i] = s
	}
	return pl
}
