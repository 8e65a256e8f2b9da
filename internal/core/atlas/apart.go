package atlas

import "falda/internal/core/steps"

// Off is what comes off a piece together.
type Off struct {
	Step  steps.Done
	Parts []string
}

// Apart gives in which order a plan takes a piece apart: each part with the step by which most of it leaves the piece,
// what leaves together as one. What no step takes is the last. A plan that goes straight through takes nothing apart;
// its piece comes apart along the seams. By is the plan that it goes by.
func (p Piece) Apart(pl Plan) (out []Off, by Plan) {
	if pl.Cut != CutSeams {
		pl = Plan{Cut: CutSeams}
	}
	gone := map[string]bool{}
	left := map[string]int64{}
	for part, share := range p.Start(pl) {
		left[part] = share
	}
	for _, d := range p.Flow(pl).Steps {
		if d.Idle || d.Block != steps.Piece {
			continue
		}
		off := Off{Step: d}
		for _, o := range d.Outputs {
			for _, part := range o.Holds.Things() {
				if left[part] -= o.Holds[part]; !gone[part] && left[part] < steps.Whole/2 {
					if _, is := p.Part(part); is {
						gone[part] = true
						off.Parts = append(off.Parts, part)
					}
				}
			}
		}
		if len(off.Parts) > 0 {
			out = append(out, off)
		}
	}
	last := Off{}
	for _, part := range p.Parts() {
		if part.Kind != KindLoss && !gone[part.ID] {
			last.Parts = append(last.Parts, part.ID)
		}
	}
	if len(last.Parts) > 0 {
		out = append(out, last)
	}
	return out, pl
}
