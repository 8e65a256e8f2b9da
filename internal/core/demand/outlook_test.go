package demand

import (
	"math"
	"testing"
	"time"

	"falda/internal/core/measure"
)

func on(text string) time.Time {
	d, err := time.Parse(time.DateOnly, text)
	if err != nil {
		panic(err)
	}
	return d
}

func TestSpanIsOfWholeWeeks(t *testing.T) {
	for _, c := range []struct {
		first, last, today string
		weeks              int
	}{
		{"2026-11-02", "2026-11-15", "2026-11-18", 2}, // two weeks, Monday to Sunday
		{"2026-11-04", "2026-11-15", "2026-11-18", 1}, // the first begins on a Wednesday
		{"2026-11-02", "2026-11-18", "2026-11-18", 2}, // the week of today is not over
		{"2026-11-16", "2026-11-18", "2026-11-18", 0},
		{"2026-11-02", "2026-11-03", "2026-11-18", 1}, // what ends early was a week with little in it
	} {
		s := SpanOf(on(c.first), on(c.last), on(c.today))
		if n := len(s.Mondays()); n != c.weeks {
			t.Errorf("%v: %d weeks", c, n)
		}
	}
	if m := Monday(on("2026-11-29")); m != on("2026-11-23") { // a Sunday
		t.Error(m)
	}
}

// By hand: 10 packs a week believed as one week, half-life 1 week, weeks of 4 (two ago) and 8 (one ago):
// (10 + 4/4 + 8/2) ÷ (1 + 1/4 + 1/2) = 15 ÷ 1.75.
func TestLookByHand(t *testing.T) {
	days := []OnDay{{on("2026-11-02"), 4, 2 * measure.Kilogram}, {on("2026-11-10"), 5, 3 * measure.Kilogram},
		{on("2026-11-14"), 3, measure.Kilogram}, {on("2026-11-16"), 90, 90 * measure.Kilogram}}
	span := SpanOf(on("2026-11-02"), on("2026-11-16"), on("2026-11-17"))
	o := Look(Belief{Prior{10, 1}, 1}, days, span, on("2026-11-16"), nil)
	if math.Abs(o.Mean-15/1.75) > 1e-12 || o.N != 2 || o.Pack != measure.Kilogram/2 {
		t.Errorf("%+v", o)
	}
	if len(o.Weeks) != 2 || o.Weeks[0].Forecast != nil || o.Weeks[1].Packs != 8 || o.Weeks[1].Mass != 4*measure.Kilogram {
		t.Fatalf("%+v", o.Weeks)
	}
	// the second week from the first alone: (10 + 4/2) ÷ (1 + 1/2)
	if f := o.Weeks[1].Forecast; math.Abs(f.Mean-8) > 1e-12 || !o.Weeks[1].Within() {
		t.Errorf("%+v", o.Weeks[1])
	}
	// Tuesday: (10/7 + 5/2) ÷ 1.75
	if math.Abs(o.Weekday[1].Mean-(10.0/7+2.5)/1.75) > 1e-12 {
		t.Errorf("%+v", o.Weekday)
	}
	sum := 0.0
	for _, d := range o.Weekday {
		sum += d.Mean
	}
	if math.Abs(sum-o.Mean) > 1e-9 {
		t.Errorf("the days add up to %v, the week is %v", sum, o.Mean)
	}
	if o.Mass(3) != 1500*measure.Gram {
		t.Error(o.Mass(3))
	}
}

// Weeks of another season do not count while there is one of the same; before that all do.
func TestSeasonsApart(t *testing.T) {
	days := []OnDay{{on("2026-08-24"), 40, 0}, {on("2026-08-31"), 6, 0}}
	span := SpanOf(on("2026-08-24"), on("2026-09-06"), on("2026-09-07"))
	autumn := func(m time.Time) bool { return m.Month() >= time.September || m.Day() > 30 }
	b := Belief{Prior{5, 0.001}, 8}
	if o := Look(b, days, span, on("2026-09-07"), autumn); o.N != 1 || math.Abs(o.Mean-6) > 0.1 {
		t.Errorf("%+v", o.Forecast)
	}
	never := func(time.Time) bool { return false }
	if o := Look(b, days, span, on("2026-09-07"), never); o.N != 2 {
		t.Errorf("%+v", o.Forecast)
	}
	if o := Look(b, nil, Span{}, on("2026-09-07"), nil); o.N != 0 || o.Mean != 5 || o.Pack != 0 {
		t.Errorf("%+v", o)
	}
}
