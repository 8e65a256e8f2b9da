package blend

import (
	"errors"
	"math/big"
	"slices"
)

// Stream is what is in a tub: trim of one kind. Percentages are of its mass, 0 to 100.
type Stream struct {
	ID            string
	Kg            *big.Rat
	LeanPct       *big.Rat // chemical: the rest is fat
	ConnectivePct *big.Rat
	ProteinPct    *big.Rat // nil where it was not tested: a fifth of the lean
	WorthPerKg    *big.Rat // elsewhere: as it is sold or used where it goes into nothing here
}

// Protein is the stream's protein in percent of its mass: as tested, else a fifth of its lean. Common practice, no
// source.
func (s Stream) Protein() *big.Rat {
	if s.ProteinPct != nil {
		return s.ProteinPct
	}
	return new(big.Rat).Mul(s.LeanPct, big.NewRat(1, 5))
}

// Share bounds how much of a product is of some streams, as parts of one; nil where it does not.
type Share struct {
	Of          []string // ids of streams
	Least, Most *big.Rat
}

// Product is what can be made. Limits that are nil do not hold.
type Product struct {
	ID                     string
	LeanMinPct, LeanMaxPct *big.Rat
	ConnectiveMaxPct       *big.Rat // of the mass
	CollagenMaxPct         *big.Rat // of the protein: the ratio that laws go by
	PricePerKg             *big.Rat // of a kilogram of the meat in it, less what else goes into that
	MinKg, MaxKg           *big.Rat // of the meat
	// DemandKg sells at the price; what is made beyond it brings FallbackPerKg. Nil: all of it sells at the price.
	DemandKg, FallbackPerKg *big.Rat
	BatchKg                 *big.Rat // it is made in whole batches of so much; nil for any amount
	Shares                  []Share
	Not                     []string // ids of streams that may not go into it
}

// Use is how much of a stream goes into a product.
type Use struct {
	Stream, Product string
	Kg              *big.Rat
}

// Left is what of a stream goes into nothing.
type Left struct {
	Stream string
	Kg     *big.Rat
}

// Made is how much of a product is made; percentages are nil where that is nothing.
type Made struct {
	ID                                  string
	Kg                                  *big.Rat
	LeanPct, ConnectivePct, CollagenPct *big.Rat
	Batches                             int // 0 of what is not made in batches
}

// Margin is what one more kilogram of a stream would add.
type Margin struct {
	Stream string
	PerKg  *big.Rat
}

// Mix is what the streams should become.
type Mix struct {
	Value    *big.Rat // of the products, and of what is left at its worth elsewhere
	Use      []Use    // more than nothing, by stream and product in the order they were given
	Left     []Left
	Products []Made
	Margins  []Margin // of what is given, with the batches as they are
	Proven   bool     // no other brings more
}

// ErrStopped is that the search was stopped before it found a mix.
var ErrStopped = errors.New("stopped before a mix was found")

// Stop says whether to give up.
type Stop func() bool

// ErrUnmet is that the least that is asked of a product cannot be made.
var ErrUnmet = errors.New("the least that is asked of a product cannot be made")

// Unmet is the product whose least cannot be made, beside the least of those before it.
type Unmet struct{ Product int }

func (u Unmet) Error() string { return ErrUnmet.Error() }
func (u Unmet) Unwrap() error { return ErrUnmet }

// maxNodes bounds the search for whole batches.
const maxNodes = 4000

// Best finds the mix that brings most. Streams and products have ids of their own; stop may be nil. The error is an
// [Unmet] that names the first product whose least cannot be met, or [ErrStopped].
func Best(streams []Stream, products []Product, stop Stop) (Mix, error) {
	if stop == nil {
		stop = func() bool { return false }
	}
	m := model{streams: streams, products: products, stop: stop}
	low, high := m.bounds()
	best, ok := m.solve(low, high)
	proven := true
	if ok && slices.ContainsFunc(products, Product.inBatches) {
		best, proven, ok = m.branch(low, high, best)
	}
	var unmet error
	if !ok {
		unmet = m.unmet()
	}
	if stop() && !ok {
		return Mix{}, ErrStopped
	}
	if !ok {
		return Mix{}, unmet
	}
	return m.mix(best, proven), nil
}

func (p Product) inBatches() bool { return p.BatchKg != nil && p.BatchKg.Sign() > 0 }

// model is a question with its columns: use of stream s in product p at s·P + p, then what is made of each product
// beyond its demand.
type model struct {
	streams  []Stream
	products []Product
	stop     Stop
}

// bounds are the least and most of each product; no most is nil.
func (m model) bounds() (low, high []*big.Rat) {
	for _, p := range m.products {
		least := new(big.Rat)
		if p.MinKg != nil {
			least = p.MinKg
		}
		low, high = append(low, least), append(high, p.MaxKg)
	}
	return low, high
}

func (m model) columns() int { return len(m.streams)*len(m.products) + len(m.products) }

func (m model) use(stream, product int) int { return stream*len(m.products) + product }

func (m model) beyond(product int) int { return len(m.streams)*len(m.products) + product }

// row gives a row of the programme: a figure for each stream's part in one product.
func (m model) row(product int, of func(Stream) *big.Rat) []*big.Rat {
	row := make([]*big.Rat, m.columns())
	for s, x := range m.streams {
		row[m.use(s, product)] = of(x)
	}
	return row
}

// limits are the rows of a product's recipe, each at most nothing.
func (m model) limits(k int) (rows [][]*big.Rat) {
	p := m.products[k]
	minus := func(a, b *big.Rat) *big.Rat { return new(big.Rat).Sub(a, b) }
	if p.LeanMinPct != nil {
		rows = append(rows, m.row(k, func(s Stream) *big.Rat { return minus(p.LeanMinPct, s.LeanPct) }))
	}
	if p.LeanMaxPct != nil {
		rows = append(rows, m.row(k, func(s Stream) *big.Rat { return minus(s.LeanPct, p.LeanMaxPct) }))
	}
	if p.ConnectiveMaxPct != nil {
		rows = append(rows, m.row(k, func(s Stream) *big.Rat { return minus(s.ConnectivePct, p.ConnectiveMaxPct) }))
	}
	if p.CollagenMaxPct != nil {
		ratio := new(big.Rat).Quo(p.CollagenMaxPct, big.NewRat(100, 1))
		rows = append(rows, m.row(k,
			func(s Stream) *big.Rat { return minus(s.ConnectivePct, new(big.Rat).Mul(ratio, s.Protein())) }))
	}
	for _, sh := range p.Shares {
		part := func(s Stream) *big.Rat {
			if slices.Contains(sh.Of, s.ID) {
				return big.NewRat(1, 1)
			}
			return new(big.Rat)
		}
		if sh.Most != nil {
			rows = append(rows, m.row(k, func(s Stream) *big.Rat { return minus(part(s), sh.Most) }))
		}
		if sh.Least != nil {
			rows = append(rows, m.row(k, func(s Stream) *big.Rat { return minus(sh.Least, part(s)) }))
		}
	}
	return rows
}

// solve finds the best mix with each product between two bounds; ok is false where there is none. The rows of the
// streams come first.
func (m model) solve(low, high []*big.Rat) (*tableau, bool) {
	var p programme
	p.gain = make([]*big.Rat, m.columns())
	one := big.NewRat(1, 1)
	for s, x := range m.streams {
		row := make([]*big.Rat, m.columns())
		for k, pr := range m.products {
			row[m.use(s, k)] = one
			p.gain[m.use(s, k)] = new(big.Rat).Sub(pr.PricePerKg, x.WorthPerKg)
		}
		p.add(row, x.Kg)
	}
	for k, pr := range m.products {
		for _, row := range m.limits(k) {
			p.add(row, new(big.Rat))
		}
		all := m.row(k, func(Stream) *big.Rat { return one })
		if high[k] != nil {
			p.add(all, high[k])
		}
		if low[k].Sign() > 0 {
			p.add(negated(all), new(big.Rat).Neg(low[k]))
		}
		if len(pr.Not) > 0 {
			row := m.row(k, func(s Stream) *big.Rat {
				if slices.Contains(pr.Not, s.ID) {
					return one
				}
				return nil
			})
			p.add(row, new(big.Rat))
		}
		if pr.DemandKg != nil { // what is beyond the demand: made − beyond ≤ demand
			row := slices.Clone(all)
			row[m.beyond(k)] = big.NewRat(-1, 1)
			p.add(row, pr.DemandKg)
			p.gain[m.beyond(k)] = new(big.Rat).Sub(pr.FallbackPerKg, pr.PricePerKg)
		}
	}
	t := p.tableau()
	return t, t.solve(m.stop)
}

func negated(row []*big.Rat) []*big.Rat {
	out := make([]*big.Rat, len(row))
	for i, v := range row {
		if v != nil {
			out[i] = new(big.Rat).Neg(v)
		}
	}
	return out
}

// unmet finds the first product whose least cannot be made together with those before it.
func (m model) unmet() error {
	low, high := m.bounds()
	asked := make([]*big.Rat, len(low))
	for k := range asked {
		asked[k] = new(big.Rat)
	}
	for k := range low {
		asked[k] = low[k]
		t, ok := m.solve(asked, high)
		if ok && m.products[k].inBatches() {
			part := model{streams: m.streams, products: slices.Clone(m.products), stop: m.stop}
			for i := k + 1; i < len(part.products); i++ {
				part.products[i].BatchKg = nil
			}
			_, _, ok = part.branch(asked, high, t)
		}
		if !ok {
			return Unmet{k}
		}
	}
	return Unmet{len(low) - 1}
}
