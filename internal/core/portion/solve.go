package portion

import (
	"math/big"
	"math/bits"
)

// amount is a value as a whole number, of whichever size the problem needs.
type amount[V any] interface {
	plus(V) V
	minus(V) V
	cmp(V) int
}

// wide is a whole number of 128 bits, not below 0.
type wide struct{ hi, lo uint64 }

func (a wide) plus(b wide) wide {
	lo, carry := bits.Add64(a.lo, b.lo, 0)
	return wide{a.hi + b.hi + carry, lo}
}

func (a wide) minus(b wide) wide {
	lo, borrow := bits.Sub64(a.lo, b.lo, 0)
	return wide{a.hi - b.hi - borrow, lo}
}

func (a wide) cmp(b wide) int {
	switch {
	case a.hi < b.hi || (a.hi == b.hi && a.lo < b.lo):
		return -1
	case a == b:
		return 0
	default:
		return 1
	}
}

// long is a whole number of any size; its zero value is 0.
type long struct{ v *big.Int }

func (a long) plus(b long) long {
	switch {
	case a.v == nil:
		return b
	case b.v == nil:
		return a
	}
	return long{new(big.Int).Add(a.v, b.v)}
}

func (a long) minus(b long) long {
	if b.v == nil {
		return a
	}
	return long{new(big.Int).Sub(a.v, b.v)}
}

func (a long) cmp(b long) int {
	zero := new(big.Int)
	x, y := a.v, b.v
	if x == nil {
		x = zero
	}
	if y == nil {
		y = zero
	}
	return x.Cmp(y)
}

// prices are the values of pieces: by weight a factor times a difference of the profile's sums, or a label's.
type prices struct {
	factor []*big.Int // of each product and, last, of rests: price times weight
	label  []*big.Int // of each product: what a labelled portion brings; nil without a label
}

// pricesOf brings prices and weights to whole numbers of one common part.
func pricesOf(p Problem, s scale) prices {
	money, grams := big.NewInt(1), new(big.Int).Set(p.WeightG.Denom())
	all := []*big.Rat{p.RestPricePerKg}
	for _, q := range p.Products {
		all = append(all, q.PricePerKg)
		if q.Label != nil {
			grams = lcm(grams, q.Label.Denom())
		}
	}
	for _, r := range all {
		money = lcm(money, r.Denom())
	}
	whole := func(r *big.Rat, den *big.Int) *big.Int {
		v := new(big.Int).Quo(den, r.Denom())
		return v.Mul(v, r.Num())
	}
	weight := whole(p.WeightG, grams)
	out := prices{}
	for _, q := range p.Products {
		price := whole(q.PricePerKg, money)
		out.factor = append(out.factor, new(big.Int).Mul(price, weight))
		var label *big.Int
		if q.Label != nil {
			label = new(big.Int).Mul(price, whole(q.Label, grams))
			label.Mul(label, s.whole)
		}
		out.label = append(out.label, label)
	}
	out.factor = append(out.factor, new(big.Int).Mul(whole(p.RestPricePerKg, money), weight))
	return out
}

// solve gives the pieces that bring the most; false where the least counts cannot be met.
func solve(p Problem, s scale) ([]Piece, bool) {
	v := pricesOf(p, s)
	most := new(big.Int) // more than any value there can be
	for _, f := range v.factor {
		most.Add(most, f)
	}
	most.Mul(most, s.whole)
	for i, l := range v.label {
		if l != nil {
			most.Add(most, new(big.Int).Mul(l, big.NewInt(int64(p.LengthMm/max(1, p.Products[i].MinMm)+1))))
		}
	}
	if most.BitLen() <= 126 {
		to := func(x *big.Int) wide {
			var words [16]byte
			x.FillBytes(words[:])
			var w wide
			for i := range 8 {
				w.hi, w.lo = w.hi<<8|uint64(words[i]), w.lo<<8|uint64(words[8+i])
			}
			return w
		}
		return newTable(p, s, v, to).run()
	}
	return newTable(p, s, v, func(x *big.Int) long { return long{x} }).run()
}

// state is the best that can be made of what lies behind a place.
type state[V amount[V]] struct {
	value  V
	ok     bool
	pieces int16
	cut    int16 // where the first piece ends
	what   int16 // the product of the first piece; len(products) for a rest
}

// better says whether a stands before b.
func (a state[V]) better(b state[V]) bool {
	if !b.ok {
		return a.ok
	}
	if !a.ok {
		return false
	}
	if c := a.value.cmp(b.value); c != 0 {
		return c > 0
	}
	if a.pieces != b.pieces {
		return a.pieces < b.pieces
	}
	if a.cut != b.cut {
		return a.cut < b.cut
	}
	return a.what < b.what
}

// table is the dynamic programme. For each place and each combination of counts so far: any is the best from there on,
// fresh the best that does not begin with a rest, within the best of a rest that goes on to there. Only the first is
// kept for all places.
type table[V amount[V]] struct {
	p           Problem
	s           scale
	radix       []int // by product; 0 where it is not counted
	counts      int
	any         [][]state[V]
	fresh       [][]state[V]  // of the last places only, by what is left when they are divided by how many there are
	within      [2][]state[V] // of this place and the one behind it, by whether it is odd
	value       [][]V         // by product and millimetre: what all before it is worth; the last for rests
	label       []V
	first, last [][]int // by product and beginning: where its portion may end; last below first: nowhere
}

func newTable[V amount[V]](p Problem, s scale, v prices, to func(*big.Int) V) *table[V] {
	t := &table[V]{p: p, s: s, counts: 1, radix: make([]int, len(p.Products)), label: make([]V, len(p.Products))}
	for i, q := range p.Products {
		if b := q.bound(); b > 0 {
			t.radix[i] = t.counts
			t.counts *= b + 1
		}
		if v.label[i] != nil {
			t.label[i] = to(v.label[i])
		}
		first, last := ends(p, s, q)
		t.first, t.last = append(t.first, first), append(t.last, last)
	}
	for _, f := range v.factor {
		worth := make([]V, len(s.sum))
		for a, sum := range s.sum {
			worth[a] = to(new(big.Int).Mul(sum, f))
		}
		t.value = append(t.value, worth)
	}
	for range p.LengthMm + 1 {
		t.any = append(t.any, make([]state[V], t.counts))
	}
	for range p.KerfMm + 1 {
		t.fresh = append(t.fresh, make([]state[V], t.counts))
	}
	for i := range t.within {
		t.within[i] = make([]state[V], t.counts)
	}
	return t
}

// ends gives, for each place where a portion of a product may begin, the first and last place where it may end.
func ends(p Problem, s scale, q Product) (first, last []int) {
	long := q.MaxMm
	if long == 0 {
		long = p.LengthMm
	}
	heavy := s.reaches(p, q.MinG) // nowhere before heavy[a] is a portion from a on heavy enough
	for a := range p.LengthMm + 1 {
		lo, hi := a+max(1, q.MinMm), min(a+long, q.end(p.LengthMm))
		if a < q.FromMm {
			hi = -1
		}
		first, last = append(first, max(lo, heavy[a])), append(last, hi)
	}
	if q.MaxG != nil {
		b, most := 0, s.part(p, q.MaxG, false)
		for a := range last {
			for b = max(b, a); b < p.LengthMm && s.over(a, b+1).Cmp(most) <= 0; b++ {
			}
			last[a] = min(last[a], b)
		}
	}
	return first, last
}

// reaches gives, for each place, the first one behind it up to which so many grams lie.
func (s scale) reaches(p Problem, grams *big.Rat) []int {
	out := make([]int, p.LengthMm+1)
	if grams == nil {
		return out
	}
	b, least := 0, s.part(p, grams, true)
	for a := range out {
		for b = max(b, a); b <= p.LengthMm && s.over(a, b).Cmp(least) < 0; b++ {
		}
		out[a] = b
	}
	return out
}

// over is the integral of the profile between two places.
func (s scale) over(a, b int) *big.Int { return new(big.Int).Sub(s.sum[b], s.sum[a]) }

// part is the integral that weighs so many grams: the next whole number above, or below.
func (s scale) part(p Problem, grams *big.Rat, up bool) *big.Int {
	r := new(big.Rat).Quo(grams, p.WeightG)
	r.Mul(r, new(big.Rat).SetInt(s.whole))
	out, rest := new(big.Int).QuoRem(r.Num(), r.Denom(), new(big.Int))
	if up && rest.Sign() != 0 {
		out.Add(out, big.NewInt(1))
	}
	return out
}

// after is the combination of counts once a portion of a product is added; below 0 where there are too many.
func (t *table[V]) after(c, product int) int {
	r := t.radix[product]
	if r == 0 {
		return c
	}
	q := t.p.Products[product]
	n := c / r % (q.bound() + 1)
	switch {
	case n < q.bound():
		return c + r
	case q.AtMost > 0:
		return -1
	default:
		return c // enough of it is enough
	}
}

// done says whether the least counts are met.
func (t *table[V]) done(c int) bool {
	for i, q := range t.p.Products {
		if q.AtLeast > 0 && c/t.radix[i]%(q.bound()+1) < q.AtLeast {
			return false
		}
	}
	return true
}

func (t *table[V]) run() ([]Piece, bool) {
	end := t.p.LengthMm
	for c := range t.counts {
		t.within[end%2][c] = state[V]{ok: t.done(c), cut: int16(end)}
	}
	for a := end - 1; a >= 0; a-- {
		for c := range t.counts {
			best := t.portions(a, c)
			t.fresh[a%len(t.fresh)][c] = best
			if rest := t.rest(a, c); rest.better(best) {
				best = rest
			}
			t.any[a][c] = best
			t.within[a%2][c] = t.goOn(a, c)
		}
	}
	if !t.any[0][0].ok {
		return nil, false
	}
	return t.read(), true
}

// portions is the best at a place that begins with a portion.
func (t *table[V]) portions(a, c int) (best state[V]) {
	for i := range t.p.Products {
		next := t.after(c, i)
		if next < 0 {
			continue
		}
		worth := t.value[i]
		for b := t.first[i][a]; b <= t.last[i][a]; b++ {
			x := state[V]{ok: true, pieces: 1, cut: int16(b), what: int16(i)}
			if t.p.Products[i].Label != nil {
				x.value = t.label[i]
			} else {
				x.value = worth[b].minus(worth[a])
			}
			if b == t.p.LengthMm {
				x.ok = t.done(next)
			} else if from := b + t.p.KerfMm; from >= t.p.LengthMm {
				continue // behind the saw nothing is left, and it must not cut at the end
			} else {
				behind := t.any[from][next]
				x.ok, x.value, x.pieces = behind.ok, x.value.plus(behind.value), x.pieces+behind.pieces
			}
			if x.better(best) {
				best = x
			}
		}
	}
	return best
}

// rest is the best at a place that begins with a rest.
func (t *table[V]) rest(a, c int) state[V] {
	x := t.within[(a+1)%2][c]
	x.value = x.value.plus(t.millimetre(a))
	x.pieces++
	x.what = int16(len(t.p.Products))
	return x
}

// millimetre is what the millimetre behind a place brings as rest.
func (t *table[V]) millimetre(a int) V {
	worth := t.value[len(t.p.Products)]
	return worth[a+1].minus(worth[a])
}

// goOn is the best of a rest that goes on to a place: it ends there, and a portion follows, or it goes on.
func (t *table[V]) goOn(a, c int) state[V] {
	best := t.within[(a+1)%2][c]
	best.value = best.value.plus(t.millimetre(a))
	if from := a + t.p.KerfMm; from < t.p.LengthMm {
		stop := t.fresh[from%len(t.fresh)][c]
		stop.cut, stop.what = int16(a), 0
		best.what = 0
		if stop.better(best) {
			best = stop
		}
	}
	return best
}

// read follows the best choices from the beginning.
func (t *table[V]) read() []Piece {
	var out []Piece
	rested, c := false, 0
	for a := 0; a < t.p.LengthMm; {
		x := t.any[a][c]
		if rested { // what follows a rest is no rest
			x = t.portions(a, c)
		}
		piece := Piece{Product: int(x.what), FromMm: a, ToMm: int(x.cut)}
		if rested = piece.Product == len(t.p.Products); rested {
			piece.Product = -1
		} else {
			c = t.after(c, piece.Product)
		}
		out = append(out, piece)
		if piece.ToMm == t.p.LengthMm {
			break
		}
		a = piece.ToMm + t.p.KerfMm
	}
	return out
}
