package value

import (
	"testing"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

func on(day string) time.Time {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		panic(err)
	}
	return t
}

// Rules: a season may go over the year's end; a price of the season stands before one of the whole year, the later
// before the earlier, and none before its day.
func TestWhichPriceHolds(t *testing.T) {
	seasons := []Season{{"Summer", "05-15", "09-15"}, {"Winter", "11-01", "02-28"}}
	for day, want := range map[string]string{"2026-05-15": "Summer", "2026-09-15": "Summer", "2026-09-16": "",
		"2026-12-31": "Winter", "2027-01-01": "Winter", "2027-03-01": ""} {
		if got := SeasonOn(seasons, on(day)); got != want {
			t.Errorf("%s is in %q, want %q", day, got, want)
		}
	}
	list := []Quote{{Key: "a", From: on("2026-01-01")}, {Key: "a", From: on("2026-06-01")},
		{Key: "a", Season: "Summer", From: on("2026-05-01")}, {Key: "a", Season: "Summer", From: on("2027-05-01")},
		{Key: "b", From: on("2026-08-01")}}
	for _, c := range []struct {
		day  string
		want map[string]int
	}{{"2026-03-01", map[string]int{"a": 0}}, {"2026-05-20", map[string]int{"a": 2}},
		{"2026-08-01", map[string]int{"a": 2, "b": 4}}, {"2026-10-01", map[string]int{"a": 1, "b": 4}},
		{"2027-06-01", map[string]int{"a": 3, "b": 4}}, {"2025-12-31", nil}} {
		got := InForce(list, SeasonOn(seasons, on(c.day)), on(c.day))
		if len(got) != len(c.want) || got["a"] != c.want["a"] || got["b"] != c.want["b"] {
			t.Errorf("%s: %v, want %v", c.day, got, c.want)
		}
	}
	for name, wrong := range map[string][]Season{"seasons[0].from": {{"x", "13-01", "02-01"}},
		"seasons[0].to": {{"x", "02-01", "02-31"}}, "seasons[1].from": {{"x", "01-01", "03-01"}, {"y", "02-28", "05-01"}},
		"seasons[1].name": {{"x", "01-01", "01-02"}, {"x", "02-01", "02-02"}}} {
		if fs := fault.Of(CheckSeasons(wrong)); len(fs) != 1 || fs[0].Field != name {
			t.Errorf("%v: %v", wrong, fs)
		}
	}
	if err := CheckSeasons(seasons); err != nil {
		t.Error(err)
	}
	// 2.70 for a steak of 225 g is 12 a kilo
	if p := PerPiece(measure.MustMoney("2.70"), 225*measure.Gram); p.Amount.Text(4) != "12.0000" {
		t.Error(p.Amount)
	}
}
