package order

import (
	"testing"
	"time"

	"falda/internal/core/measure"
)

const kg = measure.Kilogram

// What lies in stock is promised once, to the order that is due first; what is wanted is what stock serves and what
// must be cut, to the milligram.
func TestNeedsPromiseStockOnce(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 11, n, 12, 0, 0, 0, time.UTC) }
	wanted := []Wanted{{"late", day(9), "steak", 3 * kg}, {"soon", day(2), "steak", 2 * kg}, {"soon", day(2), "mince", kg},
		{"done", day(1), "steak", 0}}
	got := Needs(wanted, map[string]measure.Mass{"steak": 4 * kg, "mince": -kg})
	if len(got) != 2 || got[0].Key != "mince" || got[0].ToCut != kg || got[0].FromStock != 0 {
		t.Fatalf("needs: %+v", got)
	}
	steak := got[1]
	if steak.Wanted != 5*kg || steak.FromStock != 4*kg || steak.ToCut != kg || !steak.First.Equal(day(9)) {
		t.Errorf("steaks: %+v", steak)
	}
	if steak.Wanted != steak.FromStock+steak.ToCut || len(steak.Orders) != 2 || steak.Orders[0] != "soon" {
		t.Errorf("steaks do not add up: %+v", steak)
	}
}

// A twentieth less than was ordered is taken as what was ordered; no more than that.
func TestComplete(t *testing.T) {
	l := Line{Mass: 2 * kg}
	for packed, left := range map[measure.Mass]measure.Mass{0: 2 * kg, 19 * kg / 10: 0, 2 * kg: 0, 3 * kg: 0,
		18 * kg / 10: kg / 5} {
		if got := l.Left(packed); got != left {
			t.Errorf("of 2 kg with %v packed %v are left, want %v", packed, got, left)
		}
	}
}

// An amount is rounded once: 0.973 kg at 20.10 is 19.5573.
func TestAmount(t *testing.T) {
	price, err := measure.ParsePrice("20.10", "kg")
	if err != nil {
		t.Fatal(err)
	}
	if got := Amount(973*measure.Gram, price, "EUR").String(); got != "19.56" {
		t.Errorf("it costs %s, want 19.56", got)
	}
}
