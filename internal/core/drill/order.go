package drill

import (
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/steps"
	"falda/internal/core/words"
)

// Thing is what comes off a piece together, by one step of a plan; what is left last is none.
type Thing struct {
	ID    string
	Name  string
	Parts []string
	Needs []string // things that must be off before it
	Wrong string   // what goes wrong there
}

// apart is a piece with the order in which a plan takes it apart.
type apart struct{ things []Thing }

// takeApart says what a plan takes off a piece, and what must be off before what.
func takeApart(p atlas.Piece, pl atlas.Plan) apart {
	if pl.Cut != atlas.CutSeams {
		return apart{}
	}
	offs, by := p.Apart(pl)
	flow := p.Flow(by)
	is := map[string]bool{}
	for _, o := range offs {
		is[o.Step.ID] = o.Step.ID != ""
	}
	var out apart
	for _, o := range offs {
		if o.Step.ID == "" {
			continue
		}
		t := Thing{ID: o.Step.ID, Name: named(words.Step(p, by, o.Step)), Parts: o.Parts, Wrong: wrong(p, o)}
		t.Needs = needs(flow, is, o.Step.ID, map[string]bool{})
		out.things = append(out.things, t)
	}
	return out
}

// named is a step without where things then go.
func named(step string) string {
	name, _, _ := strings.Cut(step, ": ")
	return strings.TrimSuffix(name, ".")
}

// needs lists what must be off before a step, also through steps that take nothing off.
func needs(flow steps.Flow, is map[string]bool, id string, seen map[string]bool) []string {
	var out []string
	d, _ := flow.Step(id)
	for _, w := range d.Waits {
		switch {
		case seen[w]:
		case is[w]:
			out = append(out, w)
		default:
			seen[w] = true
			out = append(out, needs(flow, is, w, seen)...)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// wrong is what goes wrong at a step: its own words, or those of the one muscle that it takes off.
func wrong(p atlas.Piece, o atlas.Off) string {
	if o.Step.Say.Wrong != "" {
		return o.Step.Say.Wrong
	}
	for _, id := range o.Parts {
		if m, ok := p.Muscle(id); ok && m.Seam.Danger != "" {
			return m.Seam.Danger
		}
	}
	return ""
}

// worth says whether there is anything to get wrong.
func (a apart) worth() bool {
	return len(a.things) >= minChoices && slices.ContainsFunc(a.things, func(t Thing) bool { return len(t.Needs) > 0 })
}

// same says whether another plan takes the same things off with the same needs.
func (a apart) same(b apart) bool {
	key := func(x apart) []string {
		var out []string
		for _, t := range x.things {
			out = append(out, strings.Join(t.Parts, ",")+"<"+strings.Join(t.Needs, ","))
		}
		return out
	}
	return slices.Equal(key(a), key(b))
}

// Taking is how far a piece was taken apart.
type Taking struct {
	Off      []string // what came off, in its order
	Mistakes int
	Done     bool   // nothing is left but the rest
	Right    bool   // the last touch was
	Says     string // why it was not
}

// take plays touches in their order: what is touched comes off where everything that must be off before it is. Any
// order that the plan allows is right.
func (a apart) take(touched []string) Taking {
	out := Taking{Right: true}
	for _, id := range touched {
		out.Right, out.Says = true, ""
		at := slices.IndexFunc(a.things, func(t Thing) bool { return t.ID == id })
		if at < 0 {
			out.Right, out.Says = false, "That is what is left at the end. Something must come off before."
			out.Mistakes++
			continue
		}
		if slices.Contains(out.Off, id) {
			continue
		}
		t := a.things[at]
		var under []string
		for _, n := range t.Needs {
			if !slices.Contains(out.Off, n) {
				under = append(under, n)
			}
		}
		if len(under) == 0 {
			out.Off = append(out.Off, id)
			continue
		}
		out.Right = false
		out.Mistakes++
		out.Says = "Not yet. First: " + a.list(under) + "."
		if t.Wrong != "" {
			out.Says += " " + t.Wrong
		}
	}
	out.Done = len(out.Off) == len(a.things)
	return out
}

// list names things in a sentence.
func (a apart) list(ids []string) string {
	var out []string
	for _, t := range a.things {
		if slices.Contains(ids, t.ID) {
			out = append(out, words.Uncapitalised(t.Name))
		}
	}
	return strings.Join(out, "; ")
}
