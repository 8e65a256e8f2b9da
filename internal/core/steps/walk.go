package steps

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
)

// Walk plays the steps that hold under the choices, in their order, on a piece that holds what start says: [Whole] of
// each part, less what is absent. Steps whose parts or blocks are not there are idle. What cannot be done is among the
// faults, and is left undone; taking more of a part than there is takes what there is, and is a fault only where the
// part was whole at the start.
func Walk(start Content, list []Step, options []Option, chosen map[string]string) Flow {
	return WalkSliced(start, list, options, chosen, nil)
}

// Lies tells what lies where along the piece, as fractions of the whole of each part; nil where that is not known.
type Lies interface {
	// Slices is what lies in the slices of a product; nil for a product that is not sliced along the piece.
	Slices(product string) map[string]float64
	// Zone is what lies in a stretch.
	Zone(z Zone) map[string]float64
}

// WalkSliced is [Walk] where it is known what lies where in the piece: what a step gives to several products that are
// sliced along it is divided among them as it lies, and parts that leave a block by a zone leave as much as lies there,
// whatever percentages the step names.
func WalkSliced(start Content, list []Step, options []Option, chosen map[string]string, lies Lies) Flow {
	w := walker{start: start, lies: lies, blocks: map[string]Content{Piece: maps.Clone(start)},
		treated: map[string]string{}, made: map[string][]string{}, touched: map[string][]string{}, split: map[string]string{},
		last: Piece, Flow: Flow{Products: map[string]Content{}, Pieces: map[string]Content{}, Tubs: map[Tub]Content{},
			Left: map[string]Content{}, Treated: map[string]string{}}}
	held := map[string]bool{}
	for _, s := range list {
		if s.Holds(options, chosen) {
			held[s.ID] = true
		}
	}
	for _, s := range list {
		if held[s.ID] {
			w.step(s, held)
		}
	}
	for block, c := range w.blocks {
		for _, thing := range c.Things() {
			if w.Left[block] == nil {
				w.Left[block] = Content{}
			}
			w.Left[block][thing] = c[thing]
		}
	}
	return w.Flow
}

type walker struct {
	Flow
	lies    Lies
	start   Content
	blocks  map[string]Content
	treated map[string]string   // block → how
	made    map[string][]string // block → steps that made it or added to it
	touched map[string][]string // block → steps that worked on it
	split   map[string]string   // block → the last step that divided it by percent
	last    string
	now     *Done
}

func (w *walker) fault(field, format string, args ...any) {
	w.Faults = append(w.Faults, fmt.Errorf("steps.%s.%s: %s", w.now.ID, field, fmt.Sprintf(format, args...)))
}

// step plays one step.
func (w *walker) step(s Step, held map[string]bool) {
	w.Steps = append(w.Steps, Done{Step: s})
	w.now = &w.Steps[len(w.Steps)-1]
	for _, id := range s.After {
		if held[id] {
			w.wait(id)
		}
	}
	on := w.worksOn(s)
	if len(on) == 0 && w.blocks[s.Joins] != nil { // the block is absent, what would be laid into it is not
		on, w.now.Joins = []string{s.Joins}, ""
	}
	if len(on) == 0 {
		w.now.Idle = len(s.Gives)+len(s.Parts)+len(s.As)+len(s.Takes) > 0
		w.absent(s)
		return
	}
	if w.nothingThere(s, on) {
		w.now.Idle = true
		w.absent(s)
		return
	}
	block := on[0]
	w.now.Block = block
	w.workOn(on)
	if len(s.Parts) == 0 {
		w.joins(block)
	}
	w.adds(block)
	w.now.On = Content{}
	for _, name := range on {
		w.now.On.add(w.blocks[name])
	}
	if how := treats(s); how != "" {
		for _, name := range on {
			w.treated[name] = how
		}
	}
	switch {
	case len(s.Parts) > 0:
		w.parts(block)
	default:
		w.takes(block)
		w.as(block)
		w.gives(on)
	}
	w.rest(block)
}

// worksOn gives the blocks that a step works on, of those that are there; finished products are treated only.
func (w *walker) worksOn(s Step) []string {
	of := s.Of
	if len(of) == 0 {
		of = Names{w.last}
	}
	var on []string
	for _, name := range of {
		switch _, product := w.Products[name]; {
		case w.blocks[name] != nil:
			on = append(on, name)
		case product:
			if how := treats(s); how != "" {
				w.Treated[name] = how
			}
		case w.wasMade(name): // it left, or what makes it was absent
		default:
			w.fault("of", "“%s” is not a block that is there", name)
		}
	}
	return on
}

// nothingThere says that nothing is left in the blocks that a step would work on, or none of the parts that it is done
// for is in the piece.
func (w *walker) nothingThere(s Step, on []string) bool {
	wanted := len(s.Where) == 0
	for _, part := range s.Where {
		wanted = wanted || w.start[part] > 0
	}
	if !wanted {
		return true
	}
	sum := int64(0)
	for _, name := range on {
		sum += w.blocks[name].Sum()
	}
	return sum == 0 && len(s.Adds) == 0 && w.blocks[s.Joins] == nil
}

// absent notes that the blocks which a step would make are not missing by mistake: what they would be made of is
// absent.
func (w *walker) absent(s Step) {
	for _, b := range s.As {
		w.made[b.Block] = append(w.made[b.Block], s.ID)
	}
	if s.Rest != nil {
		w.made[s.Rest.Block] = append(w.made[s.Rest.Block], s.ID)
	}
}

func (w *walker) wasMade(block string) bool { return len(w.made[block]) > 0 }

func (w *walker) wait(id string) {
	if id != "" && id != w.now.ID && !slices.Contains(w.now.Waits, id) {
		w.now.Waits = append(w.now.Waits, id)
	}
}

// workOn notes that the step works on blocks, and waits for what made them.
func (w *walker) workOn(on []string) {
	for _, name := range on {
		for _, id := range w.made[name] {
			w.wait(id)
		}
		w.wait(w.split[name])
		w.touched[name] = append(w.touched[name], w.now.ID)
	}
}

// all waits for everything that was done to a block so far: what leaves now must not be there when that is done.
func (w *walker) all(block string) {
	for _, id := range w.touched[block] {
		w.wait(id)
	}
}

func treats(s Step) string {
	switch s.Do {
	case Fill:
		return "stuffed"
	case Roll, Fold:
		return "rolled"
	case Mince:
		return "minced"
	case Tenderise:
		if s.Tool == "needle" {
			return "needled"
		}
		return "cubed"
	}
	return ""
}

func (w *walker) joins(block string) {
	other := w.now.Joins
	if other == "" {
		return
	}
	c, there := w.blocks[other]
	switch {
	case other == block:
		w.fault("joins", "a block does not join itself")
	case there:
		for _, id := range w.made[other] {
			w.wait(id)
		}
		w.all(other)
		w.blocks[block].add(c)
		if how := w.treated[other]; how != "" {
			w.treated[block] = how
		}
		delete(w.blocks, other)
	case !w.wasMade(other):
		w.fault("joins", "“%s” is not a block that is there", other)
	}
}

func (w *walker) adds(block string) {
	for _, a := range w.now.Adds {
		add := Addition{Add: a, Step: w.now.ID, To: maps.Clone(w.blocks[block])}
		w.Added = append(w.Added, add)
		if a.PerKg > 0 { // string and net by the length have no share in what is eaten
			w.blocks[block][add.Thing()] = Whole
		}
	}
}

// take moves a percentage of a part's whole out of a block.
func (w *walker) take(block, part, field string, pct float64) int64 {
	want := thousandths(pct)
	there := w.blocks[block][part]
	if want > there {
		if w.start[part] == Whole {
			w.fault(field, "takes %s %% of %s, of which %s has %s %%", percent(want), part, block, percent(there))
		}
		want = there
	}
	if w.blocks[block][part] -= want; w.blocks[block][part] == 0 {
		delete(w.blocks[block], part)
	}
	return want
}

func thousandths(pct float64) int64 { return int64(math.Round(pct * 1000)) }

func percent(share int64) string {
	return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.3f", float64(share)/1000), "0"), ".")
}

// parts lets parts leave the block together.
func (w *walker) parts(block string) {
	left := Content{}
	var zone map[string]float64
	if w.now.Zone != nil && w.lies != nil {
		zone = w.lies.Zone(*w.now.Zone)
	}
	for _, part := range slices.Sorted(maps.Keys(w.now.Parts)) {
		pct := w.now.Parts[part]
		if zone != nil { // of what there is of it
			pct = math.Round(float64(w.blocks[block][part])*zone[part]) / 1000
		}
		if s := w.take(block, part, "parts", pct); s > 0 {
			left[part] = s
		}
	}
	if left.Sum() == 0 { // its parts are absent, and so is the block that they would be
		w.now.Idle = true
		w.absent(Step{ID: w.now.ID, As: w.now.As})
		return
	}
	how := w.treated[block]
	if len(w.now.As) == 0 {
		if rest := w.share(left, w.now.Gives, how); rest.Sum() > 0 {
			w.fault("gives", "%s %% of what leaves goes nowhere", percent(rest.Sum()*Whole/left.Sum()))
		}
		return
	}
	to := w.now.As[0]
	w.block(to, left, how, w.weigh(WeighEach))
	w.joins(to.Block)
	if len(w.now.Gives) > 0 {
		w.gives([]string{to.Block})
	}
}

// block makes a block, or lays more onto it.
func (w *walker) block(b Block, holds Content, how, weigh string) {
	if b.Block == Piece {
		w.fault("as", "the piece itself cannot leave as a block")
		return
	}
	if w.blocks[b.Block] == nil {
		w.blocks[b.Block] = Content{}
	}
	w.blocks[b.Block].add(holds)
	if how != "" {
		w.treated[b.Block] = how
	}
	w.made[b.Block] = append(w.made[b.Block], w.now.ID)
	w.now.Outputs = append(w.now.Outputs,
		Output{Kind: ToBlock, ID: b.Block, Name: b.Name, Holds: maps.Clone(holds), Weigh: weigh})
}

// weigh is how an output is weighed that is usually weighed so.
func (w *walker) weigh(usual string) string {
	if w.now.Weigh != "" {
		return w.now.Weigh
	}
	return usual
}

func (w *walker) takes(block string) {
	tubs := map[Tub]Content{}
	for _, t := range w.now.Takes {
		s := w.take(block, t.Part, "takes", t.Pct)
		if s == 0 {
			continue
		}
		if !slices.Contains(Tubs, Tub(t.To)) {
			w.block(Block{Block: t.To}, Content{t.Part: s}, w.treated[block], w.weigh(WeighNone))
			continue
		}
		if tubs[Tub(t.To)] == nil {
			tubs[Tub(t.To)] = Content{}
		}
		tubs[Tub(t.To)][t.Part] += s
	}
	for _, tub := range Tubs {
		if tubs[tub] != nil {
			w.leave(Output{Kind: ToTub, ID: string(tub), Holds: tubs[tub], Weigh: w.weigh(WeighTub)}, "")
		}
	}
}
