package work_test

import (
	"fmt"
	"testing"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/order"
	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/orders"
)

// packed is an order of which half a kilogram is packed.
type packed struct {
	order string
	id    string // of a packing that both send
}

// asked enters an order of a product.
func (r *arena) asked(key string) orders.Order {
	r.Helper()
	o, err := r.two.Orders.Save(r.ctx, "", orders.NewOrder{ID: store.NewID(), Customer: "The galley",
		Day: noon.Format(time.DateOnly), Time: "18:00", Lines: []orders.NewLine{{Key: key, Weight: "3", Unit: "kg"}}})
	if err != nil {
		r.Fatal(err)
	}
	return o
}

// Rules of orders, whatever two programs do at once: a packing that both send counts once; nothing is packed for an
// order that is handed over; one entered twice is one; a piece is cut for one order.
func TestTwoAtOnceOnAnOrder(t *testing.T) {
	r := newArena(t)
	if err := r.two.Goods.Begin(r.ctx, noon.Format(time.DateOnly)); err != nil {
		t.Fatal(err)
	}
	ready := func() packed {
		p := packed{id: store.NewID()}
		o := r.asked("beef.mince_trim")
		p.order = o.PublicID
		if _, err := r.two.Orders.Pack(r.ctx, o.PublicID,
			orders.Packed{ID: store.NewID(), Weight: "0.5", Unit: "kg"}); err != nil {
			t.Fatal(err)
		}
		return p
	}
	grams := func(p packed) (g float64, state string) {
		o, err := r.two.Orders.Order(r.ctx, p.order)
		if err != nil {
			t.Fatal(err)
		}
		return o.InPacks.Grams(), o.State
	}
	pack := func(w *work.Rooms, p packed) error {
		_, err := w.Orders.Pack(r.ctx, p.order, orders.Packed{ID: p.id, Weight: "1", Unit: "kg"})
		return err
	}
	both(r, contest[packed]{make: ready, name: "both send one packing", a: pack, b: pack,
		check: func(p packed, a, b error) string {
			if g, _ := grams(p); g != 1500 || a != nil || b != nil {
				return fmt.Sprintf("%g g packed; %v, %v", g, a, b)
			}
			return ""
		}})
	hand := func(w *work.Rooms, p packed) error {
		_, err := w.Orders.SetState(r.ctx, p.order, order.Gone, 1)
		return err
	}
	both(r, contest[packed]{make: ready, name: "pack, hand over", a: pack, b: hand,
		check: func(p packed, a, b error) string {
			g, state := grams(p)
			if want := map[bool]float64{true: 500, false: 1500}[len(fault.Of(a)) > 0]; state != order.Gone || g != want {
				return fmt.Sprintf("%s with %g g packed; %v, %v", state, g, a, b)
			}
			return ""
		}})
	r.oneOrder(t)
	r.onePiece(t)
}

// oneOrder has both enter the same order.
func (r *arena) oneOrder(t *testing.T) {
	enter := func(w *work.Rooms, id string) error {
		_, err := w.Orders.Save(r.ctx, "", orders.NewOrder{ID: id, Customer: "Twice", Day: noon.Format(time.DateOnly),
			Time: "18:00", Lines: []orders.NewLine{{Key: "beef.mince_trim", Weight: "3", Unit: "kg"}}})
		return err
	}
	both(r, contest[string]{make: store.NewID, name: "both enter an order", a: enter, b: enter,
		check: func(id string, a, b error) string {
			o, err := r.two.Orders.Order(r.ctx, id)
			if err != nil || a != nil || b != nil || o.Number == "" {
				return fmt.Sprintf("%v; %v, %v", err, a, b)
			}
			return ""
		}})
}

// onePiece has both take one piece for an order each.
func (r *arena) onePiece(t *testing.T) {
	type wanted struct{ piece, one, two string }
	cut := func(of func(wanted) string) func(w *work.Rooms, x wanted) error {
		return func(w *work.Rooms, x wanted) error {
			_, err := w.Orders.SetPieces(r.ctx, of(x), []string{x.piece})
			return err
		}
	}
	both(r, contest[wanted]{name: "both cut one piece", make: func() wanted {
		return wanted{r.received().Pieces[0].PublicID, r.asked("beef.mince_trim").PublicID,
			r.asked("beef.mince_trim").PublicID}
	}, a: cut(func(x wanted) string { return x.one }), b: cut(func(x wanted) string { return x.two }),
		check: func(x wanted, a, b error) string {
			one, err1 := r.two.Orders.Order(r.ctx, x.one)
			two, err2 := r.two.Orders.Order(r.ctx, x.two)
			if n := len(one.Pieces) + len(two.Pieces); err1 != nil || err2 != nil || n != 1 {
				return fmt.Sprintf("%d orders have the piece; %v, %v, %v, %v", n, a, b, err1, err2)
			}
			return ""
		}})
	if r.forced < 30 {
		t.Errorf("only %d interleavings", r.forced)
	}
}
