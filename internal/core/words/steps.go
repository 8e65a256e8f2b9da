package words

import (
	"fmt"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
)

// verbs says what a step does.
var verbs = map[steps.Verb]string{steps.TakeOff: "Take off", steps.Free: "Cut loose", steps.BoneOut: "Bone out",
	steps.Saw: "Saw", steps.Part: "Divide", steps.Dress: "Dress", steps.Slice: "Slice", steps.Dice: "Dice",
	steps.Flatten: "Flatten", steps.Open: "Open out", steps.French: "French the bones", steps.Fold: "Fold",
	steps.Roll: "Roll", steps.Fill: "Fill", steps.Tie: "Tie", steps.Net: "Net", steps.Season: "Season",
	steps.Tenderise: "Tenderise", steps.Mince: "Mince", steps.Cook: "Cook", steps.Stack: "Lay out",
	steps.Keep: "Set aside"}

// Verb says what a kind of step does: “Take off”.
func Verb(v steps.Verb) string { return verbs[v] }

// Step says what a step of a plan does to which block: “Slice the rump cap at 30 mm: cap steak.” A step that has a name
// is called by it.
func Step(p atlas.Piece, pl atlas.Plan, d steps.Done) string {
	var b strings.Builder
	if d.Name != "" {
		b.WriteString(d.Name)
	} else {
		b.WriteString(verbs[d.Do])
	}
	switch {
	case d.Name != "":
	case len(d.Parts) > 0 && len(d.As) > 0 && d.As[0].Name != "":
		b.WriteString(" the " + strings.TrimPrefix(Uncapitalised(d.As[0].Name), "the "))
	case len(d.Parts) > 0 && len(d.Parts) <= 3:
		b.WriteString(" the " + parts(p, d))
	default:
		b.WriteString(" the " + Block(p, pl, d.Block))
	}
	if d.Joins != "" {
		b.WriteString(", with the " + Block(p, pl, d.Joins) + " laid in")
	}
	if mm := measured(d.Mm, "mm"); mm != "" {
		b.WriteString(" at " + mm)
	}
	if g := measured(d.PortionG, "g"); g != "" {
		b.WriteString(", " + g + " each")
	}
	var out []string
	for _, o := range d.Outputs {
		if o.Kind != steps.ToBlock {
			out = append(out, Output(p, pl, o))
		}
	}
	if len(out) > 0 {
		b.WriteString(": " + strings.Join(out, ", "))
	}
	return b.String()
}

// Output says what a step leaves: the name of a block, product, tub or piece.
func Output(p atlas.Piece, pl atlas.Plan, o steps.Output) string {
	switch o.Kind {
	case steps.ToProduct, steps.ToPiece:
		if pr, ok := seam.Sold(p, pl, o.ID); ok {
			return Uncapitalised(pr.Name)
		}
	case steps.ToTub:
		return Uncapitalised(seam.TubNames[steps.Tub(o.ID)])
	default:
		return Block(p, pl, o.ID)
	}
	return Uncapitalised(FromID(o.ID))
}

// Block says what a block is called in a plan, in the middle of a sentence.
func Block(p atlas.Piece, pl atlas.Plan, id string) string {
	if id == steps.Piece || id == "" {
		return "piece"
	}
	return Uncapitalised(BlockName(p, pl, id))
}

// BlockName is the name of a block that a plan makes: as the plan calls it, else made of its id.
func BlockName(p atlas.Piece, pl atlas.Plan, id string) string {
	for _, s := range p.StepsOf(pl) {
		for _, b := range s.As {
			if b.Block == id && b.Name != "" {
				return b.Name
			}
		}
		if s.Rest != nil && s.Rest.Block == id && s.Rest.Name != "" {
			return s.Rest.Name
		}
	}
	return FromID(id)
}

func parts(p atlas.Piece, d steps.Done) string {
	var names []string
	for id := range d.Parts {
		name := FromID(id)
		if part, ok := p.Part(id); ok {
			name = part.Name
		}
		names = append(names, Uncapitalised(name))
	}
	slices.Sort(names)
	return strings.Join(names, " and ")
}

// Thickness says how thick a step cuts, and how heavy one is to be; empty where it says neither.
func Thickness(s steps.Step) string {
	mm, g := measured(s.Mm, "mm"), measured(s.PortionG, "g")
	if mm != "" && g != "" {
		return mm + ", " + g + " each"
	}
	return mm + g
}

func measured(r steps.Range, unit string) string {
	switch {
	case r == steps.Range{}:
		return ""
	case r.Low == r.High:
		return fmt.Sprintf("%g %s", r.Low, unit)
	}
	return fmt.Sprintf("%g–%g %s", r.Low, r.High, unit)
}
