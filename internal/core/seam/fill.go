package seam

import (
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Booked is the event that books so much of what is expected.
func (e Expected) Booked(net measure.Mass) Event {
	switch {
	case e.Block != "":
		return Event{Kind: Parted, Step: e.Step, Block: e.Block, Net: net}
	case e.Kind == KindIngredient:
		return Event{Kind: Added, Step: e.Step, Part: e.ID, Net: net}
	case e.Kind == KindTub:
		return Event{Kind: Tubbed, Part: e.ID, Net: net}
	case e.Kind == KindProduct:
		return Event{Kind: Portioned, Step: e.Step, Product: e.ID, Net: net}
	case e.Kind == atlas.KindMuscle:
		return Event{Kind: SeamedOff, Part: e.ID, Net: net}
	case e.Kind == atlas.KindWaste:
		return Event{Kind: Discarded, Part: e.ID, Net: net, Reason: "as usual"}
	}
	return Event{Kind: Trimmed, Part: e.ID, Net: net}
}

// Fill completes an event that does a step of the plan with what follows from the step and is not said: the block that
// it works on, the block that leaves, and what leaves in it, as far as that is still there. What is said stands.
func Fill(flow steps.Flow, b Board, e Event) Event {
	d, ok := flow.Step(e.Step)
	if !ok {
		return e
	}
	if e.Node == "" && e.Kind != Tubbed {
		e.Node = b.nodeOf(flow, d.Block)
	}
	if e.Kind != Parted || len(e.Holds) > 0 {
		return e
	}
	for _, o := range d.Outputs {
		if o.Kind != steps.ToBlock || (e.Block != "" && e.Block != o.ID) {
			continue
		}
		e.Block, e.Holds = o.ID, steps.Content{}
		for thing, share := range o.Holds {
			if steps.AddedIngredient(thing) == "" {
				e.Holds[thing] = share
			}
		}
		return e
	}
	return e
}

// nodeOf is the node of a block of the plan: its own, or, where it was not weighed, that of the block which it came out
// of; empty for the piece.
func (b Board) nodeOf(flow steps.Flow, block string) string {
	for range len(flow.Steps) + 1 { // each round goes one block up
		if block == steps.Piece || block == "" {
			return ""
		}
		if nodes := b.Blocks(block); len(nodes) > 0 {
			return nodes[len(nodes)-1].ID
		}
		up := ""
		for _, d := range flow.Steps {
			if d.Rest != nil && d.Rest.Block == block {
				up = d.Block
			}
			for _, o := range d.Outputs {
				if o.Kind == steps.ToBlock && o.ID == block {
					up = d.Block
				}
			}
		}
		block = up
	}
	return ""
}
