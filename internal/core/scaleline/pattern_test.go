package scaleline

import (
	"errors"
	"testing"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Lines of three makes, invented: letters for the state, signs and spaces before the number, a bare number.
func TestRead(t *testing.T) {
	const kg, g = measure.Kilogram, measure.Gram
	for _, c := range []struct {
		pattern, unit, line string
		want                Weight
	}{
		{`^N (?P<sign>[+-])(?P<net>[0-9.]+) (?P<unit>kg|g|lb) (?:(?P<stable>S)|(?P<moving>M))$`, "g", "N +001.180 kg S",
			Weight{Net: 1180 * g, Gross: 1180 * g, Unit: "kg", State: Stable}},
		{`^N (?P<sign>[+-])(?P<net>[0-9.]+) (?P<unit>kg|g|lb) (?:(?P<stable>S)|(?P<moving>M))$`, "g", "N -000.020 kg M",
			Weight{Net: -20 * g, Gross: -20 * g, Unit: "kg", State: Moving}},
		{`G=(?P<gross>[\d,]+) T=(?P<tare>[\d,]+)(?P<stable> \*)?`, "kg", "G=1,420 T=0,240 *",
			Weight{Net: 1180 * g, Gross: 1420 * g, Tare: 240 * g, Unit: "kg", State: Stable}},
		{`G=(?P<gross>[\d,]+) T=(?P<tare>[\d,]+)(?P<stable> \*)?`, "kg", "G=1,420 T=0,240",
			Weight{Net: 1180 * g, Gross: 1420 * g, Tare: 240 * g, Unit: "kg", State: Moving}},
		{`^(?P<net>\d+)$`, "g", "0001180", Weight{Net: 1180 * g, Gross: 1180 * g, Unit: "g"}},
		{`(?P<over>-OL-)?(?P<net>\d+)`, "kg", "-OL-30", Weight{Net: 30 * kg, Gross: 30 * kg, Unit: "kg", State: Over}},
	} {
		p, err := New(c.pattern, c.unit)
		if err != nil {
			t.Fatalf("%s: %v", c.pattern, err)
		}
		if got, err := p.Read(c.line); err != nil || got != c.want {
			t.Errorf("%q by %s: %+v, %v; want %+v", c.line, c.pattern, got, err, c.want)
		}
		if _, err := p.Read("hello"); !errors.Is(err, ErrOther) {
			t.Errorf("by %s a greeting is read: %v", c.pattern, err)
		}
	}
}

// A weight that nobody calls stable is so once it has been the same for five lines; another begins anew.
func TestCalm(t *testing.T) {
	var c Calm
	w := Weight{Net: measure.Kilogram}
	for i := 1; i <= 6; i++ {
		if got := c.Settles(w); got != (i >= calmLines) {
			t.Errorf("after %d lines stable is %v", i, got)
		}
	}
	if w.Net++; c.Settles(w) {
		t.Error("another weight is stable at once")
	}
}

// What is no pattern is refused at its field, with the way out.
func TestRefused(t *testing.T) {
	for pattern, code := range map[string]string{"": "out_of_range", "(": "not_a_pattern", `\d+`: "no_weight",
		`(?P<weight>\d+)`: "unknown_group"} {
		_, err := New(pattern, "g")
		if list := fault.Of(err); len(list) != 1 || list[0].Field != "pattern" || list[0].Code != code {
			t.Errorf("%q: %v", pattern, err)
		}
	}
	if _, err := New(`(?P<net>\d+)`, "stone"); len(fault.Of(err)) != 1 || fault.Of(err)[0].Field != "unit" {
		t.Errorf("a unit that there is not: %v", err)
	}
}

// No pattern and no line makes the reader panic.
func FuzzRead(f *testing.F) {
	f.Add(`^(?P<net>\d+)$`, "0001180")
	f.Add(`(?P<sign>[+-])(?P<gross>[0-9.,]+)(?P<unit>\w+)?`, "+ 1,2 kg")
	f.Fuzz(func(t *testing.T, pattern, line string) {
		p, err := New(pattern, "kg")
		if err != nil {
			return
		}
		if w, err := p.Read(line); err == nil && w.Net != w.Gross-w.Tare {
			t.Errorf("%q by %q does not add up: %+v", line, pattern, w)
		}
	})
}
