package order

import (
	"cmp"
	"slices"
	"time"

	"falda/internal/core/measure"
)

// The states of an order.
const (
	Open      = "open"
	Gone      = "gone"      // handed over
	Cancelled = "cancelled" // nobody wants it any more
)

// enough is what part of a line must be packed for the line to be complete: meat is cut by hand, and a twentieth less
// is taken as what was ordered. Common practice, no source.
const enough = 0.95

// Line is a product that a customer wants.
type Line struct {
	Key    string       `json:"key"`              // of the product
	Mass   measure.Mass `json:"mg"`               // in all
	Packs  int          `json:"packs,omitempty"`  // in how many packs; 0 where nobody said
	Pieces int          `json:"pieces,omitempty"` // in each pack; 0 where nobody said
	Price  string       `json:"price,omitempty"`  // a kilogram, as agreed; empty for the list's of the day
	Note   string       `json:"note,omitempty"`
}

// Left is what of a line is still to be packed; never below nothing.
func (l Line) Left(packed measure.Mass) measure.Mass {
	if l.Complete(packed) {
		return 0
	}
	return l.Mass - packed
}

// Complete says whether enough of a line is packed.
func (l Line) Complete(packed measure.Mass) bool { return float64(packed) >= enough*float64(l.Mass) }

// Amount is what a mass costs at a price, rounded once to the currency's smallest coin.
func Amount(m measure.Mass, p measure.Price, c measure.Currency) measure.Money {
	return c.Round(p.Of(m))
}

// Wanted is what is left of a line of an open order.
type Wanted struct {
	Order string
	Due   time.Time
	Key   string
	Left  measure.Mass
}

// Need is what of a product open orders ask for.
type Need struct {
	Key       string
	Wanted    measure.Mass
	FromStock measure.Mass // that lies there for it
	ToCut     measure.Mass
	First     time.Time // when the first of them is due that stock does not serve; else when the first is
	Orders    []string  // by when they are due
}

// Needs says what must be cut for open orders beyond what lies in stock, which goes to the order that is due first.
func Needs(wanted []Wanted, stock map[string]measure.Mass) []Need {
	list := slices.Clone(wanted)
	slices.SortStableFunc(list, func(a, b Wanted) int { return a.Due.Compare(b.Due) })
	left := map[string]measure.Mass{}
	for key, m := range stock {
		left[key] = max(0, m)
	}
	at := map[string]int{}
	var out []Need
	for _, w := range list {
		if w.Left <= 0 {
			continue
		}
		i, ok := at[w.Key]
		if !ok {
			i = len(out)
			at[w.Key] = i
			out = append(out, Need{Key: w.Key, First: w.Due})
		}
		n := &out[i]
		there := min(left[w.Key], w.Left)
		left[w.Key] -= there
		if there < w.Left && n.ToCut == 0 {
			n.First = w.Due
		}
		n.Wanted, n.FromStock, n.ToCut = n.Wanted+w.Left, n.FromStock+there, n.ToCut+w.Left-there
		if !slices.Contains(n.Orders, w.Order) {
			n.Orders = append(n.Orders, w.Order)
		}
	}
	slices.SortStableFunc(out, func(a, b Need) int { return cmp.Or(a.First.Compare(b.First), cmp.Compare(a.Key, b.Key)) })
	return out
}
