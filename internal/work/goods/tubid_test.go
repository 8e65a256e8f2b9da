package goods

import (
	"slices"
	"testing"
	"time"

	core "falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/store"
)

// Rule: a tub's id is read as it is written, and nothing else is one.
func FuzzTubID(f *testing.F) {
	for _, s := range []string{"beef.mince_trim~2026-03-20~cold", "made.x~2026-03-20~frozen~old", "", "a~b~c", "~~",
		"a~2026-03-20"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		id, ok := ReadTubID(text)
		if again, same := ReadTubID(id.String()); ok && (!same || again != id) {
			t.Errorf("%q was read as %+v, and that as %+v", text, id, again)
		}
	})
}

// By hand: what becomes of a tub of two pieces, 4 and 2 kg, is shared as they lie in it; a count of what stood below
// nothing makes it nothing first.
func TestChangesByHand(t *testing.T) {
	kg := int64(measure.Kilogram)
	list := []store.Goods{{ID: 1, LeftMg: 4 * kg}, {ID: 2, LeftMg: 2 * kg}}
	division := 5 * measure.Gram
	for name, c := range map[string]struct {
		kind   string
		weight measure.Mass
		want   []int64
	}{
		"three sold":        {core.Sold, 3 * measure.Kilogram, []int64{-2 * kg, -kg}},
		"all by the scale":  {core.Sold, 6*measure.Kilogram + 4*measure.Gram, []int64{-4 * kg, -2 * kg}},
		"nine found":        {core.Counted, 9 * measure.Kilogram, []int64{2 * kg, kg}},
		"nothing found":     {core.Counted, 0, []int64{-4 * kg, -2 * kg}},
		"a part moved":      {core.Moved, 3 * measure.Kilogram, []int64{-2 * kg, -kg}},
		"all of it moved":   {core.Moved, 0, []int64{0, 0}},
		"another date":      {core.Dated, 0, []int64{0, 0}},
		"it agrees exactly": {core.Counted, 6 * measure.Kilogram, []int64{0}},
	} {
		events, err := changes(list, c.kind, c.weight, division)
		var got []int64
		for _, e := range events {
			got = append(got, e.ChangeMg)
		}
		if err != nil || !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, %v; want %v", name, got, err, c.want)
		}
	}
	if _, err := changes(list, core.Sold, 6*measure.Kilogram+5*measure.Gram, division); err == nil {
		t.Error("more than there is was sold")
	}
	below := []store.Goods{{ID: 1, LeftMg: -kg}, {ID: 2, LeftMg: 0}}
	events, err := changes(below, core.Counted, 3*measure.Kilogram, division)
	if err != nil || len(events) != 1 || events[0].ChangeMg != 4*kg {
		t.Errorf("three found where there was less than nothing: %+v, %v", events, err)
	}
}

// Rule: goods that could not be minced any more when they were cut lie in a tub of their own.
func TestOldTrimLiesApart(t *testing.T) {
	day := time.Date(2026, 3, 20, 0, 0, 0, 0, time.UTC)
	before, same := day.AddDate(0, 0, -1), day
	g := store.Goods{ProductKey: "beef.mince_trim", MadeOn: day, Place: "cold"}
	young := tubOf(g)
	if g.MinceUntil = &same; tubOf(g) != young {
		t.Error("trim that may be minced on its day lies apart")
	}
	if g.MinceUntil = &before; tubOf(g) == young || !tubOf(g).Old {
		t.Error("old trim lies with the young")
	}
}
