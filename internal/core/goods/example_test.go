package goods_test

import (
	"fmt"
	"time"

	"falda/internal/core/goods"
	"falda/internal/core/measure"
)

// Five kilograms, of which two are sold and one of the sales is taken back.
func ExampleFold() {
	s := goods.Fold(5*measure.Kilogram, "cold", time.Time{}, []goods.Event{
		{ID: "1", Kind: goods.Sold, Change: -2 * measure.Kilogram},
		{ID: "2", Kind: goods.Sold, Change: -1 * measure.Kilogram},
		{ID: "3", Kind: goods.Undone, Undoes: "2"},
		{ID: "4", Kind: goods.Moved, Place: "frozen"}})
	fmt.Println(s.Left.Text(measure.UnitKilogram, 1), "in the", s.Place, "place,", s.Sold.Text(measure.UnitKilogram, 1),
		"sold")
	// Output: 3.0 kg in the frozen place, 2.0 kg sold
}

// What lies in one tub is mixed: of each as much as there is of the whole.
func ExampleTake() {
	taken, ok := goods.Take([]measure.Mass{4 * measure.Kilogram, 2 * measure.Kilogram}, 3*measure.Kilogram)
	fmt.Println(taken[0].Text(measure.UnitKilogram, 0), taken[1].Text(measure.UnitKilogram, 0), ok)
	// Output: 2 kg 1 kg true
}
