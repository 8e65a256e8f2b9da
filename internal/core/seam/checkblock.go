package seam

import (
	"fmt"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Sold finds a product that a block may be sold as: of the plan, else of another plan of the piece.
func Sold(p atlas.Piece, plan atlas.Plan, id string) (atlas.Product, bool) {
	if pr, ok := plan.Product(id); ok {
		return pr, true
	}
	for _, other := range p.Plans {
		if pr, ok := other.Product(id); ok {
			return pr, true
		}
	}
	return atlas.Product{}, false
}

// maxName bounds the ids of blocks, steps and ingredients in an event.
const maxName = 60

// maxAdded bounds what goes into a block, in times its own weight.
const maxAdded = 5

// planned says whether a step is one of the plan under what was chosen.
func planned(p atlas.Piece, plan atlas.Plan, id string) bool {
	return slices.ContainsFunc(p.StepsOf(plan), func(s steps.Step) bool {
		return s.ID == id && s.Holds(plan.Options, plan.Chosen)
	})
}

// checkBlock checks that what leaves as a block is in what it leaves.
func checkBlock(faults *fault.List, p atlas.Piece, b Board, e Event) {
	if e.Block == "" || len(e.Block) > maxName || e.Block == steps.Piece {
		faults.Add("block", fault.New("", "required", "names no block", "Give the block a name of its own."))
	}
	if len(e.Holds) == 0 {
		faults.Add("holds", fault.New("", "required", "is empty", "Say which parts left together."))
	}
	checkHolds(faults, p, b, e)
}

// checkHolds checks that what an event takes is of the piece, and, where it does no step of the plan, that it is still
// in what it is taken from.
func checkHolds(faults *fault.List, p atlas.Piece, b Board, e Event) {
	there := b.Holding(p, e.Node)
	for _, part := range e.Holds.Things() {
		known, ok := p.Part(part)
		if !ok || known.Kind == atlas.KindLoss {
			faults.Add("holds."+part,
				fault.New("", "unknown", fault.Quote(part)+" is not a muscle or part of this piece", "Leave it out."))
			continue
		}
		if e.Step != "" { // what a step leaves may come from piles that nobody weighed
			continue
		}
		name := known.Name
		switch has := there[part]; {
		case has == 0:
			faults.Add("holds."+part,
				fault.NewConflict("", "not_there", name+" is not in it any more", "Leave it out, or undo what took it."))
		case e.Holds[part] > has:
			faults.Add("holds."+part,
				fault.NewConflict("", "too_much", fmt.Sprintf("only %g %% of %s is still in it", float64(has)/1000, name),
					"Take less of it."))
		}
	}
	for part, share := range e.Holds {
		if share <= 0 || share > steps.Whole {
			faults.Add("holds."+part, fault.New("", "out_of_range", "must be above 0 and at most 100 %", "Leave it out."))
		}
	}
}

// checkJoin checks that a block may be laid into another.
func checkJoin(faults *fault.List, b Board, e Event) {
	n, ok := b.Node(e.Target)
	into, there := b.Node(e.Node)
	switch {
	case e.Target == "" || !ok || n.Event != Parted:
		faults.Add("target", fault.New("", "unknown", "is not a block on this board", "Name the block that is laid in."))
	case n.Joined != "":
		faults.Add("target", fault.NewConflict("", "joined", "was laid into another block already", ""))
	case !there || into.Closed:
		faults.Add("node",
			fault.New("", "unknown", "is not an open block on this board", "Name the block that it goes into."))
	default:
		for up := into; up.ID != ""; up, _ = b.Node(up.Parent) {
			if up.ID == n.ID {
				faults.Add("node", fault.NewConflict("", "circle", "came out of the block that would be laid into it", ""))
			}
			if up.ID == b.Root {
				break
			}
		}
	}
}

// checkTick checks that a step without a weight may be ticked or left out.
func checkTick(faults *fault.List, p atlas.Piece, plan atlas.Plan, b Board, e Event) {
	switch {
	case e.Step == "" || !planned(p, plan, e.Step):
		faults.Add("step",
			fault.New("", "unknown", fault.Quote(e.Step)+" is not a step of this plan", "Name one of its steps."))
	case b.done[e.Step] && len(e.Holds) == 0:
		faults.Add("step", fault.NewConflict("", "done", "was done already", "Undo it first."))
	}
	if n, ok := b.Node(e.Node); !ok || n.Closed {
		faults.Add("node", fault.New("", "unknown", "is not an open block on this board", "Leave it empty for the piece."))
		return
	}
	checkHolds(faults, p, b, e)
}

// checkBlocks refuses a close where more came off a block than it weighed. A block into which the plan lays another is
// not asked: nobody has to say that it was laid in.
func checkBlocks(faults *fault.List, p atlas.Piece, plan atlas.Plan, b Board, rules Rules) {
	laid := map[string]bool{}
	for _, d := range p.Flow(plan).Steps {
		if d.Joins != "" {
			laid[d.Block] = true
		}
	}
	for _, n := range b.Nodes {
		if n.Event != Parted || len(n.Children) == 0 || laid[n.Block] {
			continue
		}
		if bal := b.Balance(n.ID, rules.Division, 100); bal.Verdict == Gain {
			faults.Add("node", fault.New("", "gain",
				fmt.Sprintf("%s more came off the block “%s” than it weighed", (-bal.Residual).Text(measure.UnitKilogram, 3),
					n.Block),
				"Something was weighed twice or a tare was forgotten: undo or weigh again what is wrong, then finish."))
		}
	}
}
