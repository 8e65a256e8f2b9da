package seam

import (
	"maps"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Node is one weighed thing: the piece, a muscle, a part, a product, or what was thrown away.
type Node struct {
	ID           string // the event that made it
	Parent       string // empty for the piece
	Seq          int    // place of its event in the log, from 1; it never changes
	Event        Kind
	Part         string // atlas id; empty for the piece, for products, and for a discard that names none
	Product      string
	Mass         measure.Mass
	Division     measure.Mass
	Source       string
	Count        int
	Reason       string
	At           time.Time
	Role         string
	WeighedAgain bool
	Moved        bool // from another muscle or product
	Note         string
	Took         time.Duration // at the bench since the weighing before, pauses left out: what this seam took
	// the share of one among so many that were weighed together; zero where it was weighed by itself
	Shared      int
	OutOfOrder  bool // a muscle that came off before one that lies over its seam
	Step        string
	Block       string        // of a block that left joined
	Holds       steps.Content // what left in it; nil for what is one part, or none
	Joined      string        // the node that it was laid into
	Dressed     steps.Content // what of it went into tubs
	Inputs      []string      // what was added to it or laid into it
	Children    []string
	Closed      bool
	CloseReason string
	Loss        measure.Mass // set when closed: input less children
}

// Board is the state of a breakdown after its events.
type Board struct {
	Root    string // id of the piece's node; empty until it is opened
	Nodes   []Node // in the order of their events
	Notes   []string
	Looked  bool     // the cautions were read, the piece looked over
	Found   []string // ids of what was found then
	Temps   []Temp   // taken on the way, oldest first
	Paused  bool
	Given   *float64 // bench minutes given by hand at the close
	Started time.Time
	Ended   time.Time // of the close
	Worked  time.Duration
	Void    map[string]bool // events that were undone, and those that stood on them
	Events  int
	index   map[string]int
	off     map[string]bool // muscles that are off the piece
	done    map[string]bool // steps that something was booked for
	skipped map[string]bool // steps that were left out
	free    map[string]bool // parts that left in a block of no step
	known   map[string]bool // ids of the events
	since   time.Time
	counted time.Duration // worked up to the latest weighing
}

// Temp is a temperature that was taken at the bench.
type Temp struct {
	ID     string // of its event
	Node   string // what it is of
	At     time.Time
	C      float64
	Source string // "probe" or "typed"
}

// Node gives a node by the id of its event; the empty id means the piece.
func (b Board) Node(id string) (Node, bool) {
	if id == "" {
		id = b.Root
	}
	i, ok := b.index[id]
	if !ok {
		return Node{}, false
	}
	return b.Nodes[i], true
}

// Done lists the steps for which something was booked or ticked, and those that were left out, by their ids.
func (b Board) Done() []string { return slices.Sorted(maps.Keys(b.done)) }

// LeftOut lists the steps that were left out, by their ids.
func (b Board) LeftOut() []string { return slices.Sorted(maps.Keys(b.skipped)) }

// Open says whether the piece was opened and not yet closed.
func (b Board) Open() bool { n, ok := b.Node(""); return ok && !n.Closed }

// Closed says whether the piece was closed.
func (b Board) Closed() bool { n, ok := b.Node(""); return ok && n.Closed }

// Input is the piece's weight, zero until it is opened.
func (b Board) Input() measure.Mass { n, _ := b.Node(""); return n.Mass }

// settled says that a node's weight is part of a balance that was closed: its own, or that of what it came from.
func (b Board) settled(n Node) bool {
	parent, ok := b.index[n.Parent]
	return n.Closed || (ok && b.Nodes[parent].Closed)
}

// Balance weighs a node against its children, with the coarsest division among its weighings, or the given one where
// none is known. The empty id means the piece.
func (b Board) Balance(id string, division measure.Mass, limitPct float64) Balance {
	n, _ := b.Node(id)
	outputs := make([]measure.Mass, 0, len(n.Children))
	coarsest := n.Division
	count := func(n Node) {
		outputs = append(outputs, n.Mass)
		coarsest = max(coarsest, n.Division)
	}
	in, weighed := n.Mass, 0
	if n.ID == b.Root {
		in += b.AddedMass()
	} else {
		in += b.laidIn(n)
	}
	for _, x := range b.Nodes {
		if x.Event == Added && (n.ID == b.Root || x.Parent == n.ID) {
			weighed++
		}
	}
	for _, c := range n.Children {
		child, _ := b.Node(c)
		if n.ID == b.Root {
			b.last(child, count)
		} else {
			count(child)
		}
	}
	if coarsest == 0 {
		coarsest = division
	}
	return weighAll(in, outputs, b.inner(n), weighed, coarsest, limitPct)
}

// Divided says that the node is a block whose parts stay joined and whose own weight is not what came out of the piece;
// what came off it is. Something was taken from it, or it was laid into another; or it left by a step of the plan, for
// the plan cuts every block further: until that is done its mass is still on the board.
func (n Node) Divided() bool {
	return n.Event == Parted && (n.Step != "" || len(n.Children) > 0 || n.Joined != "" || len(n.Dressed) > 0)
}

// last visits what came out of the piece at last by way of a node: the node itself, or what was cut from the block that
// it is.
func (b Board) last(n Node, visit func(Node)) {
	if !n.Divided() {
		visit(n)
		return
	}
	for _, id := range n.Children {
		child, _ := b.Node(id)
		b.last(child, visit)
	}
}

// out is the mass that came out of the piece by way of a node.
func (b Board) out(n Node) measure.Mass {
	sum := measure.Mass(0)
	b.last(n, func(n Node) { sum += n.Mass })
	return sum
}

// Output is the mass of all that came out of the piece: what is on the scale at last, each gram once.
func (b Board) Output() measure.Mass {
	root, _ := b.Node("")
	sum := measure.Mass(0)
	for _, id := range root.Children {
		child, _ := b.Node(id)
		sum += b.out(child)
	}
	return sum
}

// AddedMass is the mass of all ingredients that were added.
func (b Board) AddedMass() measure.Mass {
	sum := measure.Mass(0)
	for _, n := range b.Nodes {
		if n.Event == Added {
			sum += n.Mass
		}
	}
	return sum
}

// laidIn is the mass of what was added to a node and of the blocks laid into it.
func (b Board) laidIn(n Node) measure.Mass {
	sum := measure.Mass(0)
	for _, id := range n.Inputs {
		x, _ := b.Node(id)
		sum += x.Mass
		if x.Event == Parted { // what had been cut from it before stays what it is
			for _, c := range x.Children {
				child, _ := b.Node(c)
				sum -= child.Mass
			}
		}
	}
	return sum
}

// Blocks gives the nodes of the blocks that are called so, in their order.
func (b Board) Blocks(block string) []Node {
	var out []Node
	for _, n := range b.Nodes {
		if n.Event == Parted && n.Block == block {
			out = append(out, n)
		}
	}
	return out
}

// Holding is what is left in a node: what left in it, or the whole piece, less the parts that left it since.
func (b Board) Holding(p atlas.Piece, id string) steps.Content {
	n, ok := b.Node(id)
	if !ok {
		return nil
	}
	out := steps.Content{}
	switch {
	case n.ID == b.Root:
		out = p.Start(atlas.Plan{})
	case n.Holds != nil:
		for part, share := range n.Holds {
			out[part] = share
		}
	case n.Part != "":
		out[atlas.MuscleOf(n.Part)] = steps.Whole
	}
	for _, id := range n.Inputs {
		if x, _ := b.Node(id); x.Event == Parted {
			for part, share := range b.Holding(p, id) {
				out[part] += share
			}
		}
	}
	for part, share := range n.Dressed {
		out[part] = max(0, out[part]-share)
	}
	for _, id := range n.Children {
		child, _ := b.Node(id)
		switch {
		case child.Holds != nil:
			for part, share := range child.Holds {
				out[part] = max(0, out[part]-share)
			}
		case child.Part != "" && child.Product == "" && child.Event != Tubbed && n.ID == b.Root:
			delete(out, atlas.MuscleOf(child.Part))
		}
	}
	return out
}

// inner is what was lost inside the finished parts of a node.
func (b Board) inner(n Node) measure.Mass {
	sum := measure.Mass(0)
	for _, id := range n.Children {
		child, _ := b.Node(id)
		if child.Closed && child.Event != Parted {
			sum += child.Loss
		}
		sum += b.inner(child)
	}
	return sum
}

// Lost is all that a finished piece lost: on the board, and inside each part that was opened. Zero until it is closed.
func (b Board) Lost() measure.Mass {
	root, ok := b.Node("")
	if !ok || !root.Closed {
		return 0
	}
	return root.Loss + b.inner(root)
}

// Counted is how many portions of a product were counted; known says that each of its weighings was.
func (b Board) Counted(product string) (count int, known bool) {
	for _, n := range b.Nodes {
		if n.Product == product && n.Event == Portioned {
			if n.Count == 0 {
				return 0, false
			}
			count += n.Count
			known = true
		}
	}
	return count, known
}

// Taken is the mass of a part or product that came straight off the piece, and in how many weighings.
func (b Board) Taken(part, product string) (sum measure.Mass, times int) {
	for _, n := range b.Nodes {
		if n.Parent == b.Root && n.ID != b.Root && n.Part == part && n.Product == product {
			sum += n.Mass
			times++
		}
	}
	return sum, times
}

// inBlocks says whether all of a part left in blocks.
func (b Board) inBlocks(p atlas.Piece, part string) bool {
	left := int64(0)
	for _, n := range b.Nodes {
		if n.Event == Parted && n.Parent == b.Root {
			left += n.Holds[part]
		}
	}
	return left > 0 && left >= steps.Whole-p.Missing[part]
}

// Alone is the mass of a part that was weighed by itself, straight off the piece or as a block of nothing else, and in
// how many weighings. What left in a block with others has no weight of its own.
func (b Board) Alone(part string) (sum measure.Mass, times int) {
	sum, times = b.Taken(part, "")
	for _, n := range b.Nodes {
		if n.Event == Parted && len(n.Holds) == 1 && n.Holds[part] == steps.Whole {
			sum += n.Mass
			times++
		}
	}
	return sum, times
}

// taken is the mass of a product that a step gave, and in how many weighings; what was booked without a step counts for
// every step that gives it.
func (b Board) taken(step, product string) (sum measure.Mass, times int) {
	for _, n := range b.Nodes {
		if n.Event == Portioned && n.Product == product && (n.Step == step || (n.Step == "" && n.Parent == b.Root)) {
			sum += n.Mass
			times++
		}
	}
	return sum, times
}

// Took is the time at the bench by part or product that came straight off the piece, with what was done inside it.
func (b Board) Took() map[string]time.Duration {
	out := map[string]time.Duration{}
	for _, n := range b.Nodes {
		of := n
		for of.Parent != b.Root && of.Parent != "" {
			of = b.Nodes[b.index[of.Parent]]
		}
		if n.ID != b.Root {
			out[of.Part+of.Product] += n.Took
		}
	}
	return out
}

// Minutes is the time at the bench: given by hand at the close, else from the opening to the close, or to now while it
// is open, less the pauses.
func (b Board) Minutes(now time.Time) float64 {
	if b.Given != nil {
		return *b.Given
	}
	worked := b.Worked
	if b.Open() && !b.Paused && now.After(b.since) {
		worked += now.Sub(b.since)
	}
	return worked.Minutes()
}

// waitsFor lists what must still come off before m can.
func waitsFor(m atlas.Muscle, off map[string]bool) []string {
	var waits []string
	for _, a := range m.Seam.After {
		if !off[a] {
			waits = append(waits, a)
		}
	}
	return waits
}
