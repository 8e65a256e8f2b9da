package steps

import (
	"maps"
	"math"
	"slices"

	"falda/internal/core/measure"
)

// as divides the block, by percent of it as it stands, into others.
func (w *walker) as(block string) {
	if len(w.now.As) == 0 {
		return
	}
	w.all(block)
	w.split[block] = w.now.ID
	weights, whole := make([]int64, len(w.now.As)+1), Whole
	for i, b := range w.now.As {
		weights[i] = thousandths(b.Pct)
		if b.Pct == 0 {
			weights[i] = max(0, whole)
		}
		whole -= weights[i]
	}
	if whole < 0 {
		w.fault("as", "the blocks add to more than 100 %%")
		return
	}
	weights[len(w.now.As)] = whole
	parts := divide(w.blocks[block], weights)
	how := w.treated[block]
	delete(w.blocks, block)
	if left := parts[len(parts)-1]; left.Sum() > 0 {
		w.blocks[block] = left
	}
	for i, b := range w.now.As {
		w.block(b, parts[i], how, w.weigh(WeighEach))
	}
}

// divide shares every thing of a content in the proportion of weights; the shares of each add up to it exactly.
func divide(c Content, weights []int64) []Content {
	out := make([]Content, len(weights))
	for i := range out {
		out[i] = Content{}
	}
	for _, thing := range c.Things() {
		shares, err := measure.Apportion(c[thing], weights)
		if err != nil { // all weights are zero: nothing is divided
			continue
		}
		for i, s := range shares {
			if s > 0 {
				out[i][thing] = s
			}
		}
	}
	return out
}

// gives turns blocks, as they stand, into products, tubs and pieces.
func (w *walker) gives(on []string) {
	if len(w.now.Gives) == 0 {
		return
	}
	for _, name := range on {
		w.all(name)
		w.split[name] = w.now.ID
		rest := w.share(w.blocks[name], w.now.Gives, w.treated[name])
		delete(w.blocks, name)
		if rest.Sum() > 0 {
			w.blocks[name] = rest
		}
		w.made[name] = append(w.made[name], w.now.ID)
	}
}

// share gives a content away, and what is left of it.
func (w *walker) share(c Content, gives []Give, how string) Content {
	weights, whole := make([]int64, len(gives)+1), Whole
	open := -1
	for i, g := range gives {
		if weights[i] = thousandths(g.Pct); g.Pct == 0 {
			open = i
		}
		whole -= weights[i]
	}
	if whole < 0 {
		w.fault("gives", "adds to more than 100 %%")
		return Content{}
	}
	if open >= 0 {
		weights[open], whole = whole, 0
	}
	weights[len(gives)] = whole
	parts := divide(c, weights)
	w.slice(parts, gives)
	for i, g := range gives {
		o := Output{Holds: parts[i], Count: g.Count, Form: g.Form}
		switch {
		case g.Product != "":
			o.Kind, o.ID, o.Weigh = ToProduct, g.Product, w.weigh(WeighEach)
		case g.Piece != "":
			o.Kind, o.ID, o.Weigh = ToPiece, g.Piece, w.weigh(WeighEach)
		default:
			o.Kind, o.ID, o.Weigh = ToTub, string(g.Tub), w.weigh(WeighTub)
		}
		w.leave(o, how)
	}
	return parts[len(gives)]
}

// slice divides what sliced products were given among them as it lies in the piece. Of what lies in none of them each
// keeps what it was given.
func (w *walker) slice(parts []Content, gives []Give) {
	if w.lies == nil {
		return
	}
	var at []int
	var fractions []map[string]float64
	for i, g := range gives {
		if f := w.lies.Slices(g.Product); f != nil {
			at, fractions = append(at, i), append(fractions, f)
		}
	}
	if len(at) < 2 {
		return
	}
	all := Content{}
	for _, i := range at {
		all.add(parts[i])
	}
	for _, thing := range all.Things() {
		weights := make([]int64, len(at))
		for k, f := range fractions {
			weights[k] = int64(math.Round(f[thing] * 1e9))
		}
		shares, err := measure.Apportion(all[thing], weights)
		if err != nil { // it lies in none of them
			continue
		}
		for k, i := range at {
			if parts[i][thing] = shares[k]; shares[k] == 0 {
				delete(parts[i], thing)
			}
		}
	}
}

// leave books an output that is no block.
func (w *walker) leave(o Output, how string) {
	if o.Holds.Sum() == 0 {
		return
	}
	if at := slices.IndexFunc(w.now.Outputs,
		func(x Output) bool { return x.Kind == o.Kind && x.ID == o.ID }); at >= 0 { // of several blocks at once
		w.now.Outputs[at].Holds.add(o.Holds)
	} else {
		o := o
		o.Holds = maps.Clone(o.Holds)
		w.now.Outputs = append(w.now.Outputs, o)
	}
	var goes map[string]Content
	switch o.Kind {
	case ToTub:
		if w.Tubs[Tub(o.ID)] == nil {
			w.Tubs[Tub(o.ID)] = Content{}
		}
		w.Tubs[Tub(o.ID)].add(o.Holds)
		return
	case ToPiece:
		goes = w.Pieces
	default:
		goes = w.Products
		if how != "" {
			w.Treated[o.ID] = how
		}
	}
	if goes[o.ID] == nil {
		goes[o.ID] = Content{}
		w.Order = append(w.Order, o.ID)
	}
	goes[o.ID].add(o.Holds)
}

// rest gives what is left of the block a name of its own.
func (w *walker) rest(block string) {
	w.last = block
	if w.now.Rest == nil {
		return
	}
	to := w.now.Rest.Block
	w.all(block)
	w.last = to
	if c := w.blocks[block]; c != nil {
		if w.blocks[to] == nil {
			w.blocks[to] = Content{}
		}
		w.blocks[to].add(c)
		if how := w.treated[block]; how != "" {
			w.treated[to] = how
		}
		delete(w.blocks, block)
	}
	w.made[to] = append(w.made[to], w.now.ID)
	w.made[block] = append(w.made[block], w.now.ID)
}
