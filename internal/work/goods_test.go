package work_test

import (
	"errors"
	"fmt"
	"testing"

	"falda/internal/core/fault"
	"falda/internal/core/recipe"
	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/goods"
	"falda/internal/work/made"
)

// tubs are goods of a making that lie in one tub, for two to take from.
type tubs struct {
	tub    string
	making string
	id     string // of a booking that both send
	sold   string // of a booking that was made before
}

// lying gives a tub of so many grams, of which a kilogram was sold already.
func (r *arena) lying(recipeID string, grams int64) func() tubs {
	return func() tubs {
		r.Helper()
		must := func(err error) {
			r.Helper()
			if err != nil {
				r.Fatal(err)
			}
		}
		m, err := r.two.Made.Begin(r.ctx, made.NewMaking{ID: store.NewID(), Recipe: recipeID})
		must(err)
		key := goods.MadeKey(recipeID) + "." + fmt.Sprint(m.ID) // a tub of its own for each contest
		must(r.store.PutMade(r.Context(), store.Goods{PublicID: store.NewID(), ShopID: r.shop.ID, ProductKey: key,
			MakingID: &m.ID, MadeOn: m.MadeOn, UseBy: m.MadeOn.AddDate(0, 0, 3), MadeMg: 1000 * grams}))
		t := tubs{tub: goods.TubID{Key: key, MadeOn: m.MadeOn, Place: "cold"}.String(), making: m.PublicID,
			id: store.NewID(), sold: store.NewID()}
		must(r.two.Goods.Book(r.ctx, goods.Booking{ID: t.sold, Tub: t.tub, Kind: "sold", Weight: "1", Unit: "kg"}))
		return t
	}
}

// left is how many grams a tub holds, over all places.
func (r *arena) left(t tubs) float64 {
	r.Helper()
	id, _ := goods.ReadTubID(t.tub)
	list, err := r.store.GoodsThere(r.Context(), r.shop.ID)
	if err != nil {
		r.Fatal(err)
	}
	sum := int64(0)
	for _, g := range list {
		if g.ProductKey == id.Key {
			if g.LeftMg < 0 {
				r.Errorf("below nothing: %+v", g)
			}
			sum += g.LeftMg
		}
	}
	return float64(sum) / 1000
}

// Rules of the stock log, whatever two programs do at once: no more goes than there is; a booking that both send counts
// once, and is taken back once; what is moved while something is sold of it is neither doubled nor lost.
func TestTwoTakeFromOneTub(t *testing.T) {
	r := newArena(t)
	if err := r.two.Goods.Begin(r.ctx, noon.Format("2006-01-02")); err != nil {
		t.Fatal(err)
	}
	rec, err := r.two.Made.SaveRecipe(r.ctx, "", made.NewRecipe{Name: "Mince", Body: recipe.Recipe{Kind: "mince"}})
	if err != nil {
		t.Fatal(err)
	}
	five := r.lying(rec.PublicID, 6000) // five kilograms are left of six
	sell := func(id func(tubs) string, kg string) func(w *work.Rooms, t tubs) error {
		return func(w *work.Rooms, t tubs) error {
			return w.Goods.Book(r.ctx, goods.Booking{ID: id(t), Tub: t.tub, Kind: "sold", Weight: kg, Unit: "kg"})
		}
	}
	own := func(tubs) string { return store.NewID() }
	refused := func(err error) bool { return len(fault.Of(err)) > 0 }
	both(r, contest[tubs]{make: five, name: "both sell three of five", a: sell(own, "3"), b: sell(own, "3"),
		check: func(t tubs, a, b error) string {
			if left := r.left(t); left != 2000 || refused(a) == refused(b) {
				return fmt.Sprintf("%g g left; %v, %v", left, a, b)
			}
			return ""
		}})
	same := func(t tubs) string { return t.id }
	both(r, contest[tubs]{make: five, name: "both send one booking", a: sell(same, "3"), b: sell(same, "3"),
		check: func(t tubs, a, b error) string {
			if left := r.left(t); left != 2000 || a != nil || b != nil {
				return fmt.Sprintf("%g g left; %v, %v", left, a, b)
			}
			return ""
		}})
	undo := func(w *work.Rooms, t tubs) error { return w.Goods.Undo(r.ctx, store.NewID(), t.sold) }
	both(r, contest[tubs]{make: five, name: "both take one booking back", a: undo, b: undo,
		check: func(t tubs, a, b error) string {
			if left := r.left(t); left != 6000 {
				return fmt.Sprintf("%g g left; %v, %v", left, a, b)
			}
			return ""
		}})
	freeze := func(w *work.Rooms, t tubs) error {
		return w.Goods.Book(r.ctx,
			goods.Booking{ID: store.NewID(), Tub: t.tub, Kind: "moved", Weight: "2", Unit: "kg", Place: "frozen"})
	}
	both(r, contest[tubs]{make: five, name: "freeze two, sell three", a: freeze, b: sell(own, "3"),
		check: func(t tubs, a, b error) string {
			if left := r.left(t); left != 2000 || a != nil || b != nil {
				return fmt.Sprintf("%g g left; %v, %v", left, a, b)
			}
			return ""
		}})
	if r.forced < 10 {
		t.Errorf("only %d interleavings", r.forced)
	}
}

// Rule: a batch that is ended by two at once gives its goods once.
func TestTwoEndOneBatch(t *testing.T) {
	r := newArena(t)
	if err := r.two.Goods.Begin(r.ctx, noon.Format("2006-01-02")); err != nil {
		t.Fatal(err)
	}
	rec, err := r.two.Made.SaveRecipe(r.ctx, "", made.NewRecipe{Name: "Mince", Body: recipe.Recipe{Kind: "mince"}})
	if err != nil {
		t.Fatal(err)
	}
	batch := func() string {
		id := store.NewID()
		if _, err := r.two.Made.Begin(r.ctx, made.NewMaking{ID: id, Recipe: rec.PublicID}); err != nil {
			t.Fatal(err)
		}
		for kind, kg := range map[string]string{"added": "2", "came": "1.99"} {
			_, err := r.two.Made.Weigh(r.ctx, id, made.Weighing{ID: store.NewID(), Kind: kind, Key: "water", Weight: kg,
				Unit: "kg"})
			if err != nil {
				t.Fatal(err)
			}
		}
		return id
	}
	end := func(w *work.Rooms, id string) error { _, err := w.Made.Close(r.ctx, id, ""); return err }
	again := func(w *work.Rooms, id string) error {
		_, err := w.Made.Reopen(r.ctx, id)
		if errors.Is(err, store.ErrConflict) {
			return nil
		}
		return err
	}
	made := func(id string) (state string, mg int64) {
		m, err := r.store.Making(t.Context(), r.shop.ID, id, false)
		if err != nil {
			t.Fatal(err)
		}
		list, err := r.store.GoodsMadeIn(t.Context(), r.shop.ID, []int64{m.ID})
		if err != nil || len(list) > 1 {
			t.Fatalf("%+v, %v", list, err)
		}
		for _, g := range list {
			mg += g.MadeMg
		}
		return m.State, mg
	}
	agrees := func(id string, a, b error) string {
		state, mg := made(id)
		if want := map[string]int64{"closed": 1_990_000, "open": 0}[state]; mg != want || a != nil || b != nil {
			return fmt.Sprintf("%s with %d mg; %v, %v", state, mg, a, b)
		}
		return ""
	}
	both(r, contest[string]{make: batch, name: "both end a batch", a: end, b: end, check: agrees})
	ended := func() string {
		id := batch()
		if err := end(r.two, id); err != nil {
			t.Fatal(err)
		}
		return id
	}
	both(r, contest[string]{make: ended, name: "end a batch, open it", a: end, b: again, check: agrees})
}
