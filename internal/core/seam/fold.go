package seam

import (
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/steps"
)

// Fold plays events in their order and gives the board. It is pure: it looks at nothing but its arguments. Events that
// cannot apply, because they or what they stand on were undone, are void. A repeated id counts once.
func Fold(p atlas.Piece, events []Event) Board {
	events, known := firsts(events)
	b := Board{Void: undoneBy(events), Events: len(events), index: make(map[string]int, len(events)),
		off: map[string]bool{}, done: map[string]bool{}, skipped: map[string]bool{},
		free: map[string]bool{}, known: known}
	for i, e := range events {
		nodes := len(b.Nodes)
		if !b.Void[e.ID] {
			b.apply(p, e)
		}
		for ; nodes < len(b.Nodes); nodes++ {
			b.Nodes[nodes].Seq = i + 1
		}
	}
	return b
}

// firsts drops every repetition of an id, so that what was sent twice counts once. It gives the ids as well.
func firsts(events []Event) ([]Event, map[string]bool) {
	seen := make(map[string]bool, len(events))
	out := make([]Event, 0, len(events))
	for _, e := range events {
		if !seen[e.ID] {
			seen[e.ID] = true
			out = append(out, e)
		}
	}
	return out, seen
}

// undoneBy reads the log from its end: an undo that is not itself undone makes its target void.
func undoneBy(events []Event) map[string]bool {
	void := map[string]bool{}
	for i := len(events) - 1; i >= 0; i-- {
		if e := events[i]; e.Kind == Undone && !void[e.ID] {
			void[e.Target] = true
		}
	}
	return void
}

// part applies a weighing of what comes off a part of the piece.
func (b *Board) part(p atlas.Piece, e Event) {
	parent, ok := b.Node(e.Node)
	if !ok || parent.Closed {
		b.Void[e.ID] = true
		return
	}
	n := Node{ID: e.ID, Parent: parent.ID, Part: e.Part, Product: e.Product, Step: e.Step, Block: e.Block, Holds: e.Holds}
	if m, ok := p.Muscle(e.Part); ok && e.Kind == SeamedOff {
		n.OutOfOrder = len(waitsFor(m, b.off)) > 0
		if parent.ID == b.Root {
			b.off[e.Part] = true
		}
	}
	for part, share := range e.Holds {
		if share == steps.Whole {
			b.off[part] = true
		}
	}
	if e.Step != "" {
		b.done[e.Step] = true
	} else {
		for part := range e.Holds {
			b.free[part] = true
		}
	}
	b.grow(n, e)
	i := b.index[parent.ID]
	if e.Kind == Added {
		b.Nodes[i].Inputs = append(b.Nodes[i].Inputs, e.ID)
		return
	}
	b.Nodes[i].Children = append(b.Nodes[i].Children, e.ID)
}

// tick marks a step as done, and what it took from a node into tubs.
func (b *Board) tick(e Event) {
	id := e.Node
	if id == "" {
		id = b.Root
	}
	i, ok := b.index[id]
	if len(e.Holds) > 0 && (!ok || b.Nodes[i].Closed) {
		b.Void[e.ID] = true
		return
	}
	b.done[e.Step] = true
	for part, share := range e.Holds {
		if b.Nodes[i].Dressed == nil {
			b.Nodes[i].Dressed = steps.Content{}
		}
		b.Nodes[i].Dressed[part] += share
	}
}

// join lays a block into another.
func (b *Board) join(e Event) {
	into, ok := b.Node(e.Node)
	from, known := b.index[e.Target]
	if !ok || !known || into.Closed || b.Nodes[from].Joined != "" {
		b.Void[e.ID] = true
		return
	}
	b.Nodes[from].Joined = into.ID
	i := b.index[into.ID]
	b.Nodes[i].Inputs = append(b.Nodes[i].Inputs, e.Target)
	if e.Step != "" {
		b.done[e.Step] = true
	}
}

// apply changes the board by an event.
func (b *Board) apply(p atlas.Piece, e Event) {
	switch e.Kind {
	case Opened:
		if b.Root != "" {
			b.Void[e.ID] = true
			return
		}
		b.Root, b.Started, b.since = e.ID, e.At, e.At
		b.grow(Node{ID: e.ID}, e)
	case SeamedOff, Trimmed, Portioned, Discarded, Parted, Tubbed, Added:
		b.part(p, e)
	case Joined:
		b.join(e)
	case Ticked:
		b.tick(e)
	case Skipped:
		b.done[e.Step], b.skipped[e.Step] = true, true
	case WeighedAgain:
		i, ok := b.index[e.Target]
		if !ok || b.settled(b.Nodes[i]) {
			b.Void[e.ID] = true
			return
		}
		n := &b.Nodes[i]
		n.Mass, n.Division, n.Source, n.WeighedAgain = e.Net, e.Division, e.Source, true
		n.Shared = e.Shared
	case Moved:
		b.move(e)
	case Measured:
		n, ok := b.Node(e.Node)
		if !ok || e.TempC == nil {
			b.Void[e.ID] = true
			return
		}
		b.Temps = append(b.Temps, Temp{ID: e.ID, Node: n.ID, At: e.At, C: *e.TempC, Source: e.Source})
	case Inspected:
		b.Looked, b.Found = true, strings.Fields(e.Note)
	case Reopened:
		b.reopen(e)
	case Noted:
		b.Notes = append(b.Notes, e.Note)
	case Paused:
		if b.Open() && !b.Paused {
			b.Paused = true
			b.work(e)
		}
	case Resumed:
		if b.Paused {
			b.Paused, b.since = false, e.At
		}
	case Closed:
		b.close(e)
	}
}

// work adds the time since the clock last started. A clock that was set back adds nothing.
func (b *Board) work(e Event) {
	if e.At.After(b.since) {
		b.Worked += e.At.Sub(b.since)
	}
	b.since = e.At
}

// ran is the time at the bench up to a moment, pauses left out.
func (b *Board) ran(at time.Time) time.Duration {
	if !b.Paused && at.After(b.since) {
		return b.Worked + at.Sub(b.since)
	}
	return b.Worked
}

func (b *Board) grow(n Node, e Event) {
	if ran := b.ran(e.At); ran > b.counted {
		n.Took, b.counted = (ran-b.counted)/time.Duration(max(1, e.Shared)), ran
	}
	n.Event, n.Mass, n.Division, n.Source = e.Kind, e.Net, e.Division, e.Source
	n.Count, n.Reason, n.At, n.Role, n.Note = e.Count, e.Reason, e.At, e.Role, e.Note
	n.Shared = e.Shared
	b.index[n.ID] = len(b.Nodes)
	b.Nodes = append(b.Nodes, n)
}

// move gives a weighing to another part or product; what is off the piece is counted anew.
func (b *Board) move(e Event) {
	i, ok := b.index[e.Target]
	if !ok || e.Target == b.Root || b.settled(b.Nodes[i]) {
		b.Void[e.ID] = true
		return
	}
	n := &b.Nodes[i]
	n.Part, n.Product, n.Moved = e.Part, e.Product, true
	b.off = map[string]bool{}
	for _, n := range b.Nodes {
		if n.Event == SeamedOff && n.Parent == b.Root {
			b.off[n.Part] = true
		}
		for part, share := range n.Holds {
			if share == steps.Whole {
				b.off[part] = true
			}
		}
	}
}

func (b *Board) reopen(e Event) {
	id := e.Node
	if id == "" {
		id = b.Root
	}
	i, ok := b.index[id]
	if !ok || !b.Nodes[i].Closed {
		b.Void[e.ID] = true
		return
	}
	n := &b.Nodes[i]
	n.Closed, n.CloseReason, n.Loss = false, "", 0
	if id == b.Root {
		b.since, b.Ended, b.Given = e.At, time.Time{}, nil
	}
}

func (b *Board) close(e Event) {
	id := e.Node
	if id == "" {
		id = b.Root
	}
	i, ok := b.index[id]
	if !ok || b.Nodes[i].Closed {
		b.Void[e.ID] = true
		return
	}
	n := &b.Nodes[i]
	n.Closed, n.CloseReason = true, e.Reason
	n.Loss = n.Mass
	for _, c := range n.Children {
		n.Loss -= b.out(b.Nodes[b.index[c]])
	}
	if id == b.Root {
		n.Loss += b.AddedMass()
	}
	if id != b.Root {
		return
	}
	if !b.Paused {
		b.work(e)
	}
	b.Paused, b.Ended, b.Given = false, e.At, e.Minutes
}
