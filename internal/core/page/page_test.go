package page

import (
	"slices"
	"testing"

	"falda/internal/core/fault"
)

func TestMarks(t *testing.T) {
	for _, want := range [][]int64{{7}, {0}, {1_700_000_000_000_000, 12}, {1, 2, 3}} {
		if got, err := Read(Mark(want...), len(want)); err != nil || !slices.Equal(got, want) {
			t.Errorf("%v became %v, %v", want, got, err)
		}
	}
	if got, err := Read("", 2); got != nil || err != nil {
		t.Errorf("the beginning: %v, %v", got, err)
	}
	for _, bad := range []string{"x", "1", "1.2.3", "1.-2", "1.", ".", "1.99999999999999999999"} {
		if _, err := Read(bad, 2); len(fault.Of(err)) != 1 || fault.Of(err)[0].Field != "after" {
			t.Errorf("%q: %v", bad, err)
		}
	}
}
