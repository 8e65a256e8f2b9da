package steps

import (
	"math/big"
	"slices"
	"strconv"
	"strings"
)

// Content is what a block holds: for each part, thousandths of a percent of the part's whole in the piece. Things that
// were added stand in it under the name that [Addition.Thing] gives them.
type Content map[string]int64

// Sum is all shares together.
func (c Content) Sum() int64 {
	sum := int64(0)
	for _, s := range c {
		sum += s
	}
	return sum
}

// Things lists what the content holds anything of, sorted.
func (c Content) Things() []string {
	out := make([]string, 0, len(c))
	for thing, s := range c {
		if s > 0 {
			out = append(out, thing)
		}
	}
	slices.Sort(out)
	return out
}

func (c Content) add(other Content) {
	for thing, s := range other {
		c[thing] += s
	}
}

// The kinds of place that something goes to.
const (
	ToBlock   = "block"
	ToProduct = "product"
	ToTub     = "tub"
	ToPiece   = "piece"
)

// Output is what a step leaves: a block, a product, what goes into a tub, or a piece.
type Output struct {
	Kind  string // ToBlock, ToProduct, ToTub or ToPiece
	ID    string
	Name  string // of a block; empty where it has none
	Holds Content
	Weigh string // WeighEach, WeighTogether, WeighTub or WeighNone
	Count Range  // how many; zero where it is not said
	Form  string // of a piece
}

// Done is a step under the chosen options, with what it works on and leaves.
type Done struct {
	Step
	Block   string  // the block worked on; empty where the step works on products that have left
	On      Content // what the block holds when the step begins, in the file's order
	Outputs []Output
	Waits   []string // steps that must be done first: those named, and those that make or fill its block
	Idle    bool     // its parts are absent, or its block is: it closes by itself
}

// Addition is what a step adds to a block.
type Addition struct {
	Add
	Step string
	To   Content // what the block holds when it is added
}

// Thing names the addition in a [Content].
func (a Addition) Thing() string { return AddedPrefix + a.Ingredient + "/" + a.Step }

// Quantity is how much is added by length or number, in the ingredient's unit; ok is false for what is added by weight.
func (a Addition) Quantity() (_ *big.Rat, ok bool) {
	if a.PerKg > 0 || a.Each == 0 {
		return nil, false
	}
	each, ok := new(big.Rat).SetString(strconv.FormatFloat(a.Each, 'f', -1, 64))
	if !ok {
		return nil, false
	}
	return each.Mul(each, big.NewRat(int64(max(1, a.Count)), 1)), true
}

// AddedPrefix begins the name of what was added; no part's id begins so.
const AddedPrefix = "+"

// AddedIngredient gives the ingredient that a thing is; empty where it is a part of the piece.
func AddedIngredient(thing string) string {
	name, ok := strings.CutPrefix(thing, AddedPrefix)
	if !ok {
		return ""
	}
	name, _, _ = strings.Cut(name, "/")
	return name
}

// Flow is where everything goes under chosen options.
type Flow struct {
	Steps    []Done
	Products map[string]Content // what each product is made of
	Pieces   map[string]Content
	Tubs     map[Tub]Content
	Left     map[string]Content // what no step moved, by block
	Added    []Addition
	Treated  map[string]string // product → how its outside came inside; see atlas.Product
	Order    []string          // products and pieces in the order in which they first leave
	Faults   []error           // what cannot be done, each headed by the step and the field
}

// Step gives a step of the flow by id.
func (f Flow) Step(id string) (Done, bool) {
	for _, d := range f.Steps {
		if d.ID == id {
			return d, true
		}
	}
	return Done{}, false
}
