package fault

import (
	"errors"
	"fmt"
	"testing"
)

// Rules: a list keeps its faults in the order in which the fields were looked at; it is invalid where any of them is,
// for then sending it again is of no use; and what no field is to blame for is never put down to one.
func TestLists(t *testing.T) {
	var l List
	l.Add("weight", New("", "not_positive", "must be above zero", ""))
	l.Add("ignored", nil)
	l.Add("price", fmt.Errorf("wrapped: %w", New("amount", "required", "is missing", "Enter it.")))
	l.Add("lot", List{NewConflict("", "duplicate", "exists already", ""), New("", "too_long", "is too long", "")})
	want := []string{"weight not_positive", "amount required", "lot duplicate", "lot too_long"}
	for i, f := range l {
		if got := f.Field + " " + f.Code; i >= len(want) || got != want[i] {
			t.Errorf("fault %d: %s", i, got)
		}
	}
	if len(l) != len(want) ||
		l.Error() != "weight: must be above zero; amount: is missing; lot: exists already; lot: is too long" {
		t.Error(l.Error())
	}
	for name, c := range map[string]struct {
		list List
		kind Kind
	}{
		"none":             {nil, Invalid},
		"all stand":        {List{NewConflict("a", "x", "", ""), NewConflict("b", "y", "", "")}, Conflict},
		"one is invalid":   {List{NewConflict("a", "x", "", ""), New("b", "y", "", "")}, Invalid},
		"not just now":     {List{NewUnavailable("wait", "")}, Unavailable},
		"busy, then stand": {List{NewUnavailable("wait", ""), NewConflict("b", "y", "", "")}, Unavailable},
	} {
		if got := c.list.Kind(); got != c.kind {
			t.Errorf("%s: %q", name, got)
		}
	}
	if (List{}).Err() != nil || Of(nil) != nil || Of(errors.New("the disk is full")) != nil {
		t.Error("no fault is taken for one")
	}
	defer func() {
		if recover() == nil || len(l) != len(want) {
			t.Error("an error of the database became a fault of a field")
		}
	}()
	l.Add("weight", errors.New("the database does not answer"))
}
