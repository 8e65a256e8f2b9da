package seam

import (
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Kind is what happened at the bench.
type Kind string

// The kinds of event.
const (
	Opened       Kind = "opened"        // the piece is on the board and weighed: Net is the input
	SeamedOff    Kind = "seamed_off"    // a muscle came off: Part, Net
	Trimmed      Kind = "trimmed"       // fat, bone or trim came off: Part, Net
	Portioned    Kind = "portioned"     // a product of the plan was weighed: Product, Net, Count
	Discarded    Kind = "discarded"     // into the bin: Net, Reason; Part may name the waste it is
	WeighedAgain Kind = "weighed_again" // Target's weight is Net after all
	Undone       Kind = "undone"        // Target did not happen
	Noted        Kind = "noted"         // Note
	Paused       Kind = "paused"        // the clock stops
	Resumed      Kind = "resumed"       // the clock runs
	Closed       Kind = "closed"        // Node is finished; Reason when the loss is high; Minutes when given by hand
	// the cautions were read and the piece looked over; Note holds what was found, its ids parted by blanks
	Inspected Kind = "inspected"
	Moved     Kind = "moved"    // Target's weight is of Part, or of Product, after all
	Reopened  Kind = "reopened" // Node is not finished after all; Reason
	Measured  Kind = "measured" // the temperature of Node was taken: TempC

	Parted  Kind = "parted"           // a block left Node and stays joined: Block, Holds, Net
	Tubbed  Kind = "tubbed"           // what has gathered in a tub was weighed: Part is the tub, Net
	Added   Kind = "ingredient_added" // an ingredient went into Node: Part is the ingredient, Net its mass
	Joined  Kind = "joined"           // Target, a block, was laid into Node
	Ticked  Kind = "ticked"           // Step is done and nothing was weighed; Holds went from Node into tubs by it
	Skipped Kind = "skipped"          // Step is left out; what it would have taken stays where it is
)

// Kinds lists all kinds.
var Kinds = []Kind{Opened, SeamedOff, Trimmed, Portioned, Discarded, WeighedAgain, Undone, Noted, Paused, Resumed,
	Closed, Inspected, Moved, Reopened, Measured, Parted, Tubbed, Added, Joined, Ticked, Skipped}

// Weighs says whether an event of this kind brings a new node with a weight.
func (k Kind) Weighs() bool {
	switch k {
	case Opened, SeamedOff, Trimmed, Portioned, Discarded, Parted, Tubbed, Added:
		return true
	}
	return false
}

// Event is one entry of the log. It is never changed once booked.
type Event struct {
	ID       string // made by the client, unique
	Kind     Kind
	At       time.Time // by the bench's own clock
	Bench    string
	By       string // who did it: public id of a member; empty where it is not known
	Role     string
	Node     string // the event that made the node this one acts in; empty for the piece itself
	Part     string // atlas id of a muscle or part
	Product  string // id of a product of the plan
	Net      measure.Mass
	Gross    measure.Mass
	Tare     measure.Mass
	Division measure.Mass // of the scale; zero when not known
	Source   string       // "scale" or "typed"
	Count    int          // portions in this weighing; zero when not counted
	Target   string
	Reason   string
	Note     string
	Minutes  *float64 // with Closed: bench minutes given by hand
	TempC    *float64 // with Measured: °C
	// how many pieces were weighed together, of which Net is this one's share; zero where it was weighed by itself
	Shared int
	Step   string        // of the plan, where the event does what the plan says
	Block  string        // with Parted: id of the block in the plan, or a name that the bench gave it
	Holds  steps.Content // with Parted: the parts that left together; with Ticked: what went into tubs
}
