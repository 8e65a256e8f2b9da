package steps

import (
	"fmt"
	"slices"
)

// fields are those that only some verbs have a use for.
type fields uint16

const (
	fParts fields = 1 << iota
	fAs
	fRest
	fTakes
	fGives
	fJoins
	fInto
	fEach
	fMm
	fPortion
	fBy
	fZone
	fAdds
)

// grammar says which fields a verb may have. Every verb may have of, after, when, weigh, say, caution, display, tool,
// needs, skill and minutes.
var grammar = map[Verb]fields{
	TakeOff:   fParts | fAs | fRest | fGives | fJoins,
	Free:      0,
	BoneOut:   fParts | fAs | fRest | fGives,
	Saw:       fParts | fAs | fRest | fGives | fInto | fEach | fMm | fBy | fZone,
	Part:      fParts | fAs | fRest | fGives | fInto | fEach | fMm | fPortion | fBy | fZone,
	Dress:     fTakes | fRest | fGives | fMm | fPortion,
	Slice:     fParts | fAs | fRest | fGives | fEach | fMm | fPortion | fBy | fZone,
	Dice:      fParts | fAs | fRest | fGives | fJoins | fMm | fPortion,
	Flatten:   fGives | fMm,
	Open:      fGives | fMm | fRest,
	French:    fTakes | fGives | fMm,
	Fold:      fGives | fJoins | fRest,
	Roll:      fGives | fJoins | fRest,
	Fill:      fGives | fJoins | fAdds | fRest,
	Tie:       fGives | fAdds | fRest,
	Net:       fGives | fAdds | fRest,
	Season:    fGives | fAdds | fRest,
	Tenderise: fGives | fJoins | fMm | fRest,
	Mince:     fParts | fGives | fJoins | fAdds,
	Cook:      fGives | fMm,
	Stack:     fGives,
	Keep:      fParts | fAs | fRest | fGives | fJoins,
}

// Verbs lists the verbs.
var Verbs = []Verb{TakeOff, Free, BoneOut, Saw, Part, Dress, Slice, Dice, Flatten, Open, French, Fold, Roll, Fill, Tie,
	Net, Season, Tenderise, Mince, Cook, Stack, Keep}

// Fields lists the fields that a step of this kind has a use for, beside those that every step has, by their names in a
// file; none for a verb that there is not.
func (v Verb) Fields() []string {
	var out []string
	for _, f := range (Step{}).has() {
		if grammar[v]&f.bit != 0 {
			out = append(out, f.name)
		}
	}
	return out
}

// has lists the fields that the step has of those that only some verbs have.
func (s Step) has() []struct {
	bit  fields
	name string
	set  bool
} {
	type one = struct {
		bit  fields
		name string
		set  bool
	}
	return []one{{fParts, "parts", len(s.Parts) > 0}, {fAs, "as", len(s.As) > 0}, {fRest, "rest", s.Rest != nil},
		{fTakes, "takes", len(s.Takes) > 0}, {fGives, "gives", len(s.Gives) > 0}, {fJoins, "joins", s.Joins != ""},
		{fInto, "into_blocks", s.IntoBlocks != 0}, {fEach, "each_into", s.EachInto != Range{}},
		{fMm, "mm", s.Mm != Range{}}, {fPortion, "portion_g", s.PortionG != Range{}}, {fBy, "by", s.By != ""},
		{fZone, "zone", s.Zone != nil}, {fAdds, "adds", len(s.Adds) > 0}}
}

// Bounds of figures in a step.
const (
	maxMm      = 1000
	maxGrams   = 20_000
	maxCount   = 1000
	maxMinutes = 600
)

// Check lists what in the steps is against the grammar, whatever the piece: each fault headed by the step and the
// field. What depends on the piece and the choices is found by [Walk].
func Check(list []Step, options []Option) []error {
	c := checker{options: options, ids: map[string]bool{}, blocks: map[string]bool{Piece: true}}
	c.checkOptions()
	for _, s := range list {
		c.at = "steps." + s.ID
		c.step(s)
		c.ids[s.ID] = true
	}
	return c.faults
}

type checker struct {
	options []Option
	ids     map[string]bool
	blocks  map[string]bool
	at      string
	faults  []error
}

func (c *checker) add(field, format string, args ...any) {
	c.faults = append(c.faults, fmt.Errorf("%s.%s: %s", c.at, field, fmt.Sprintf(format, args...)))
}

func (c *checker) checkOptions() {
	seen := map[string]bool{}
	for _, o := range c.options {
		c.at = "options." + o.ID
		if o.ID == "" || o.Name == "" || seen[o.ID] {
			c.add("id", "needs an id of its own and a name")
		}
		seen[o.ID] = true
		if _, ok := o.Choice(o.Default); !ok {
			c.add("default", "“%s” is not one of its choices", o.Default)
		}
		if len(o.Choices) < 2 {
			c.add("choices", "needs two choices at least")
		}
		ids := map[string]bool{}
		for _, ch := range o.Choices {
			if ch.ID == "" || ch.Name == "" || ids[ch.ID] {
				c.add("choices."+ch.ID, "needs an id of its own and a name")
			}
			ids[ch.ID] = true
		}
	}
}

func (c *checker) step(s Step) {
	if s.ID == "" || c.ids[s.ID] {
		c.add("id", "must be there, and its own in the plan")
	}
	allowed, known := grammar[s.Do]
	if !known {
		c.add("do", "“%s” is not one of %v", s.Do, Verbs)
	}
	for _, f := range s.has() {
		if known && f.set && allowed&f.bit == 0 {
			c.add(f.name, "has no use in a step that does “%s”", s.Do)
		}
	}
	if len(s.Parts) > 0 && len(s.As) == 0 && len(s.Gives) == 0 {
		c.add("as", "the parts leave, but nothing says as what")
	}
	if len(s.Parts) > 0 && len(s.As) > 1 {
		c.add("as", "parts leave together, as one block")
	}
	if s.Do == TakeOff && len(s.Parts) == 0 {
		c.add("parts", "names nothing that comes off")
	}
	c.order(s)
	c.places(s)
	c.figures(s)
	if s.Tool != "" && !slices.Contains(Tools, s.Tool) {
		c.add("tool", "“%s” is not one of %v", s.Tool, Tools)
	}
	if s.Weigh != "" && !slices.Contains([]string{WeighEach, WeighTogether, WeighTub, WeighNone}, s.Weigh) {
		c.add("weigh", "must be each, together, tub or none")
	}
	if s.By != "" && s.By != ByBone {
		c.add("by", "must be “%s”", ByBone)
	}
}

// order checks what the step comes after, and under which choices it is done.
func (c *checker) order(s Step) {
	for _, id := range s.After {
		if !c.ids[id] {
			c.add("after", "“%s” is not an earlier step", id)
		}
	}
	for id, under := range s.When {
		at := slices.IndexFunc(c.options, func(o Option) bool { return o.ID == id })
		if at < 0 {
			c.add("when", "“%s” is not an option of the plan", id)
			continue
		}
		if len(under) == 0 {
			c.add("when."+id, "names no choice")
		}
		for _, choice := range under {
			if _, ok := c.options[at].Choice(choice); !ok {
				c.add("when."+id, "“%s” is not one of its choices", choice)
			}
		}
	}
}

// places checks the blocks, tubs and products that a step names.
func (c *checker) places(s Step) {
	whole := 0.0
	for _, b := range s.As {
		if b.Block == "" || b.Block == Piece {
			c.add("as", "needs a block of its own")
		}
		if b.Pct < 0 || b.Pct > 100 {
			c.add("as."+b.Block, "must be from 0 to 100 %%")
		}
		c.blocks[b.Block] = true
		whole += b.Pct
	}
	if whole > 100.0005 {
		c.add("as", "the blocks add to more than 100 %%")
	}
	if s.Rest != nil {
		if s.Rest.Block == "" || s.Rest.Block == Piece || s.Rest.Pct != 0 {
			c.add("rest", "needs a block of its own, without a percentage")
		}
		c.blocks[s.Rest.Block] = true
	}
	for part, pct := range s.Parts {
		c.percent("parts."+part, pct)
	}
	for _, t := range s.Takes {
		c.percent("takes."+t.Part, t.Pct)
		if t.To == "" || t.To == Piece {
			c.add("takes."+t.Part, "needs a tub or a block that it goes to")
		}
	}
	c.gives(s)
	for _, a := range s.Adds {
		if a.Ingredient == "" || a.PerKg < 0 || a.PerKg > 5 || a.Each < 0 || a.MaxPct < 0 || a.MaxPct > 100 || a.Count < 0 {
			c.add("adds."+a.Ingredient, "needs an ingredient; per_kg up to 5, max_pct up to 100, nothing below 0")
		}
	}
}

// gives checks what the block becomes.
func (c *checker) gives(s Step) {
	open, whole := 0, 0.0
	for _, g := range s.Gives {
		named := 0
		for _, name := range []string{g.Product, string(g.Tub), g.Piece} {
			if name != "" {
				named++
			}
		}
		if named != 1 {
			c.add("gives", "needs a product, a tub or a piece, and one only")
		}
		if g.Tub != "" && !slices.Contains(Tubs, g.Tub) {
			c.add("gives", "“%s” is not one of the tubs %v", g.Tub, Tubs)
		}
		if g.Pct < 0 || g.Pct > 100 {
			c.add("gives", "must be from 0 to 100 %%")
		}
		if g.Pct == 0 {
			open++
		}
		whole += g.Pct
		c.within("gives", "count", g.Count, maxCount)
	}
	if open > 1 || whole > 100.0005 {
		c.add("gives", "one of several may leave its percentage out, and they add to 100 at most")
	}
}

func (c *checker) percent(field string, pct float64) {
	if !(pct > 0 && pct <= 100) {
		c.add(field, "must be above 0 and at most 100 %%")
	}
}

func (c *checker) within(field, what string, r Range, most float64) {
	if !(r.Low >= 0 && r.Low <= r.High && r.High <= most) {
		c.add(field, "%s must rise from low to high, from 0 to %g", what, most)
	}
}

func (c *checker) figures(s Step) {
	c.within("mm", "it", s.Mm, maxMm)
	c.within("portion_g", "it", s.PortionG, maxGrams)
	c.within("each_into", "it", s.EachInto, maxCount)
	if s.IntoBlocks < 0 || s.IntoBlocks > maxCount {
		c.add("into_blocks", "must be from 0 to %d", maxCount)
	}
	if z := s.Zone; z != nil && (z.FromMm < 0 || (z.ToMm > 0 && z.ToMm <= z.FromMm)) {
		c.add("zone", "must rise from 0 or above")
	}
	if s.Skill < 0 || s.Skill > 5 {
		c.add("skill", "must be from 0 to 5")
	}
	for _, m := range []float64{s.Minutes.Base, s.Minutes.PerKg, s.Minutes.PerSlice, s.Minutes.PerCm2} {
		if !(m >= 0 && m <= maxMinutes) {
			c.add("minutes", "must be from 0 to %d", maxMinutes)
		}
	}
}
