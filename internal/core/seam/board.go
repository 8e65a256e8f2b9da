package seam

import (
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
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
	for _, c := range n.Children {
		child, _ := b.Node(c)
		outputs = append(outputs, child.Mass)
		coarsest = max(coarsest, child.Division)
	}
	if coarsest == 0 {
		coarsest = division
	}
	return weigh(n.Mass, outputs, b.inner(n), coarsest, limitPct)
}

// inner is what was lost inside the finished parts of a node.
func (b Board) inner(n Node) measure.Mass {
	sum := measure.Mass(0)
	for _, id := range n.Children {
		child, _ := b.Node(id)
		if child.Closed {
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

// Order lists the muscles in an order in which they can come off: each after all that lie over its seam, in the atlas'
// order otherwise.
func Order(p atlas.Piece) []string {
	off := map[string]bool{}
	var order []string
	for len(order) < len(p.Muscles) {
		before := len(order)
		for _, m := range p.Muscles {
			if !off[m.ID] && len(waitsFor(m, off)) == 0 {
				off[m.ID] = true
				order = append(order, m.ID)
				break
			}
		}
		if len(order) == before { // a circle; validation does not let it in
			break
		}
	}
	return order
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
