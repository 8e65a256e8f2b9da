package till

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"falda/internal/core/measure"
)

func TestHeadingsAreGuessed(t *testing.T) {
	for _, c := range []struct {
		heading string
		want    Columns
	}{
		{"Date;PLU;Description;Qty;Weight kg;Total", Columns{Day: "Date", Item: "PLU", Name: "Description", Packs: "Qty",
			Weight: "Weight kg", Amount: "Total"}},
		{"day;item;name;packs;grams;amount;kind;reason", Columns{"day", "item", "name", "packs", "grams", "amount", "kind",
			"reason"}},
		{"Sold on;Barcode;Net amount", Columns{Day: "Sold on", Item: "Barcode", Amount: "Net amount"}},
		{"a;b;c", Columns{}},
	} {
		if got := Guess(strings.Split(c.heading, ";")); got != c.want {
			t.Errorf("%s: %+v", c.heading, got)
		}
	}
	if m := (Columns{}).Missing(); fmt.Sprint(m) != "[day amount item]" {
		t.Error(m)
	}
}

func way() Way {
	return Way{Columns: Columns{"day", "item", "name", "packs", "weight", "amount", "kind", "reason"},
		Unit: measure.UnitKilogram}
}

func cells(pairs ...string) func(string) string {
	at := map[string]string{}
	for i := 0; i+1 < len(pairs); i += 2 {
		at[pairs[i]] = pairs[i+1]
	}
	return func(c string) string { return at[c] }
}

func TestLinesAreRead(t *testing.T) {
	day := time.Date(2026, 11, 28, 0, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		cells []string
		want  string
	}{
		{[]string{"day", "2026-11-28", "item", "1001", "weight", "0.852", "amount", "12.34"}, "sold 1 852000 12.34"},
		{[]string{"day", "28.11.2026 14:05", "name", " Heart  steak ", "packs", "3", "weight", "660 g", "amount",
			"€ 1.012,50"}, "sold 3 660000 1012.50"},
		{[]string{"day", "2026-11-28T09:00", "item", "1001", "packs", "-1", "weight", "-0.3", "amount", "-4.20"},
			"returned 1 300000 4.20"},
		{[]string{"day", "28/11/2026", "item", "1001", "weight", "1", "amount", "£1,250.00", "kind", "Markdown"},
			"reduced 1 1000000 1250.00"},
		{[]string{"day", "20261128", "item", "1001", "weight", "0.4", "kind", "waste", "reason", "past its date"},
			"wasted 1 400000 0.00"},
	} {
		l, faults := way().Read(cells(c.cells...))
		if len(faults) > 0 {
			t.Errorf("%v: %v", c.cells, faults)
			continue
		}
		if got := fmt.Sprintf("%s %d %d %s", l.Kind, l.Packs, l.Mass, l.Amount.Text(2)); got != c.want ||
			!l.Day.Equal(day) {
			t.Errorf("%v: %s on %s", c.cells, got, l.Day)
		}
	}
	american := way()
	american.MonthFirst = true
	if l, f := american.Read(cells("day", "11/28/2026", "item", "7", "amount", "1")); len(f) > 0 || !l.Day.Equal(day) {
		t.Errorf("%+v %v", l, f)
	}
}

func TestBadLinesNameTheirColumns(t *testing.T) {
	for field, c := range map[string][]string{
		"day":    {"day", "28th", "item", "1", "amount", "1"},
		"item":   {"day", "2026-11-28", "amount", "1"},
		"packs":  {"day", "2026-11-28", "item", "1", "amount", "1", "packs", "1.5"},
		"weight": {"day", "2026-11-28", "item", "1", "amount", "1", "weight", "heavy"},
		"amount": {"day", "2026-11-28", "item", "1", "amount", ""},
		"kind":   {"day", "2026-11-28", "item", "1", "amount", "1", "kind", "loan"},
	} {
		if _, faults := way().Read(cells(c...)); len(faults) != 1 || faults[0].Field != field {
			t.Errorf("%s: %v", field, faults)
		}
	}
}

// The barcode is that of the labels: prefix 21, item 01001, 12.34 inside, its check digit by the published method.
func TestNumbersAndBarcodes(t *testing.T) {
	if n, ok := ReadNumber("2101001012345", "21"); ok {
		t.Errorf("a wrong check digit passes: %+v", n)
	}
	for d := range 10 {
		code := fmt.Sprintf("210100101234%d", d)
		if n, ok := ReadNumber(code, "21"); ok && (n.Item != "01001" || n.Inside != 1234 || !n.Coded) {
			t.Errorf("%s: %+v", code, n)
		}
	}
	if n, ok := ReadNumber("1001", "21"); !ok || n.Item != "01001" || n.Coded {
		t.Errorf("%+v", n)
	}
	for _, no := range []string{"", "12a", "123456", "Heart steak"} {
		if _, ok := ReadNumber(no, "21"); ok {
			t.Errorf("%q passes", no)
		}
	}
}

// By hand: 8 kg for 120, 1 kg of them reduced, 0.5 kg back for 7.50, 1 kg thrown away: 112.50 for 8.5 kg.
func TestSumByHand(t *testing.T) {
	var s Sum
	kg := measure.Kilogram
	s.Add(Sold, 14, 7*kg, measure.MustMoney("110"))
	s.Add(Reduced, 2, kg, measure.MustMoney("10"))
	s.Add(Returned, 1, kg/2, measure.MustMoney("7.50"))
	s.Add(Wasted, 2, kg, measure.Money{})
	if s.Packs != 15 || s.Gone() != 8*kg+kg/2 || s.Takings.Text(2) != "112.50" {
		t.Errorf("%+v", s)
	}
	if p := s.PerKg(); p == nil || p.Text(4) != "13.2353" {
		t.Errorf("%v", p)
	}
	if share, ok := s.FullShare(); !ok || share != 6.5/8.5 {
		t.Errorf("%v", share)
	}
	if _, ok := (Sum{}).FullShare(); ok || (Sum{}).PerKg() != nil {
		t.Error("nothing went, and it is valued")
	}
}

func FuzzRead(f *testing.F) {
	f.Add("2026-11-28", "1001", "2", "0.5 kg", "€ 3,20", "")
	f.Fuzz(func(t *testing.T, day, item, packs, weight, amount, kind string) {
		l, faults := way().Read(cells("day", day, "item", item, "packs", packs, "weight", weight, "amount", amount, "kind",
			kind))
		if len(faults) == 0 && (l.Packs < 0 || l.Mass < 0 || l.Amount.Sign() < 0 || l.Said() == "") {
			t.Errorf("%+v", l)
		}
	})
}
