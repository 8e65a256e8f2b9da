package value

import (
	"cmp"
	"math"
	"math/big"
	"slices"

	"falda/internal/core/measure"
)

// BreakEvenPrice is the price per kg of a product at which b is worth what a is, per kilogram of block; where both make
// it, its price moves both. now is what it brings under b (or a, where only that makes it). ok is false where no price
// could do it.
func BreakEvenPrice(a, b Alternative, key string) (now, at measure.Money, ok bool) {
	ya, pa, _ := a.yield(key)
	yb, pb, inb := b.yield(key)
	if now = pb; !inb {
		now = pa
	}
	more := new(big.Rat).Sub(yb, ya)
	if more.Sign() == 0 {
		return now, measure.Money{}, false
	}
	// both at one price, even where they were sold at different ones
	at = pb.Times(yb).Sub(pa.Times(ya)).Sub(exactLead(a, b)).Over(more)
	return now, at, at.Sign() >= 0
}

// Markdown is a step that what does not sell goes down to: so much of what reaches it sells there, the rest goes on.
// All that reaches the last sells.
type Markdown struct {
	Name  string
	Key   string
	PerKg measure.Money
	Sells float64 // 0–1
}

// Remainder is what a kilogram that did not sell at its full price brings on its way down the chain; nothing where
// there is no chain.
func Remainder(chain []Markdown) measure.Money {
	var worth measure.Money
	left := big.NewRat(1, 1)
	for i, m := range chain {
		part := new(big.Rat).SetFloat64(m.Sells)
		if i == len(chain)-1 || part == nil {
			part = big.NewRat(1, 1)
		}
		part.Mul(part, left)
		worth = worth.Add(m.PerKg.Times(part))
		left.Sub(left, part)
	}
	return worth
}

// SellThrough is the fraction of a product of b that must sell at its full price for b to be worth what a is, the rest
// going down the chain. ok is false where no fraction from 0 to 1 does it: then b is ahead even when none sells
// (always), or behind even when all does (not always).
func SellThrough(a, b Alternative, key string, chain []Markdown) (fraction float64, ok, always bool) {
	y, price, made := b.yield(key)
	fall := price.Sub(Remainder(chain))
	lead := exactLead(a, b)
	if !made || fall.Sign() <= 0 {
		return 0, false, lead.Sign() >= 0
	}
	f, _ := new(big.Rat).Quo(lead.Over(y).Rat(), fall.Rat()).Float64() // what may go unsold
	fraction = 1 - f
	if fraction < 0 || fraction > 1 {
		return 0, false, fraction < 0
	}
	return fraction, true, false
}

// Turn is a figure that the answer hangs on, and where it would turn.
type Turn struct {
	Kind      string // "price", "yield", "minutes" or "labour_rate"
	Key, Name string // of the product
	Now, At   float64
	ChangePct float64 // from Now to At
	Possible  bool    // it can be there at all
}

// Turns lists the figures on which the answer between a and b hangs, one at a time with all others as they are: the
// price of each product, the yield of each product of b that is not trim itself (what is lacking or over is trim), b's
// minutes, and the labour rate. The one that has to change least comes first; those that cannot turn it stand last,
// without a value.
func Turns(a, b Alternative, rate measure.Money) []Turn {
	lead := exactLead(a, b)
	var out []Turn
	add := func(t Turn) {
		t.Possible = t.Possible && t.At >= 0 && !math.IsInf(t.At, 0) && !math.IsNaN(t.At) && t.Now > 0
		if t.Possible {
			t.ChangePct = (t.At - t.Now) / t.Now * 100
		} else {
			t.At = 0
		}
		out = append(out, t)
	}
	trim, trimYield := trimOf(b)
	for _, key := range keys(a, b) {
		pr, ok := b.Products[key]
		if !ok {
			pr = a.Products[key]
		}
		now, at, ok := BreakEvenPrice(a, b, key)
		add(Turn{Kind: "price", Key: key, Name: pr.Name, Now: now.Float(), At: at.Float(), Possible: ok})
		y, price, made := b.yield(key)
		if fall := price.Sub(trim); made && fall.Sign() > 0 && pr.Falls() {
			now, _ := y.Float64()
			at := now - lead.Float()/fall.Float()
			add(Turn{Kind: "yield", Key: key, Name: pr.Name, Now: now * 100, At: at * 100, Possible: at <= now+trimYield+1e-12})
		}
	}
	if kg, _ := b.Mass.In(measure.UnitKilogram).Float64(); kg > 0 && b.Pieces > 0 && rate.Sign() > 0 {
		hours, _ := b.hours().Float64()
		now := hours * 60 / float64(b.Pieces)
		add(Turn{Kind: "minutes", Now: now, At: now + lead.Float()*kg/rate.Float()*60/float64(b.Pieces), Possible: true})
	}
	more := new(big.Rat).Sub(b.hoursPerKg(), a.hoursPerKg())
	t := Turn{Kind: "labour_rate", Now: rate.Float()}
	if more.Sign() != 0 {
		t.At, t.Possible = lead.Add(b.PerKg(b.Labour)).Sub(a.PerKg(a.Labour)).Over(more).Float(), true // one wage for both
	}
	add(t)
	slices.SortStableFunc(out, func(x, y Turn) int {
		if x.Possible != y.Possible {
			return map[bool]int{true: -1, false: 1}[x.Possible]
		}
		return cmp.Compare(math.Abs(x.ChangePct), math.Abs(y.ChangePct))
	})
	return out
}

// trimOf is what a alternative's trim brings per kg, and how much of the block is trim.
func trimOf(s Alternative) (measure.Money, float64) {
	m, sales := measure.Mass(0), measure.Money{}
	for _, c := range s.Cells {
		if c.Fate == Sold && isTrim(s.Products[c.Key].Form) {
			m, sales = m+c.Mass, sales.Add(c.Sales)
		}
	}
	if m == 0 || s.Mass <= 0 {
		return measure.Money{}, 0
	}
	return sales.Over(m.In(measure.UnitKilogram)), float64(m) / float64(s.Mass)
}

// MaxBlockPrice is the most that a kilogram of the block is worth when it is cut so and a margin, a fraction of sales
// from 0 to below 1, is to be left: (sales·(1 − margin) − packaging − labour − discard) per kg.
func (s Alternative) MaxBlockPrice(margin *big.Rat) measure.Money {
	keep := new(big.Rat).Sub(big.NewRat(1, 1), margin)
	return s.PerKg(s.Sales().Times(keep).Sub(s.Costs()))
}
