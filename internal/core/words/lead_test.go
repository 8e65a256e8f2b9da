package words

import (
	"strings"
	"sync"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/value"
)

var loaded = sync.OnceValues(atlas.Load)

func rump(t *testing.T, plans ...string) (p atlas.Piece, out []atlas.Plan) {
	t.Helper()
	a, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	p, _ = a.Find("beef.top_sirloin")
	for _, id := range plans {
		pl, ok := p.Plan(id)
		if !ok {
			t.Fatalf("no plan %s", id)
		}
		out = append(out, pl)
	}
	return p, out
}

func perKg(s string) measure.Price {
	return measure.Price{Amount: measure.MustMoney(s), Per: measure.UnitKilogram}
}

func TestSheets(t *testing.T) {
	p, plans := rump(t, "traditional", "seamed")
	telling := Telling{Past: true, Unit: measure.UnitKilogram, Currency: "EUR"}
	sheets := func(cap string) (a, b value.Sheet) {
		a = value.Sheet{Atlas: p, Plan: plans[0], Prices: map[string]measure.Price{
			"beef.rump_steak": perKg("10"), "beef.dice": perKg("10"), "beef.mince_trim": perKg("10"), "beef.fat": perKg("10"),
			"beef.heart_steak": perKg("10"), "beef.side_medallion": perKg("10"), "beef.cap_steak": perKg(cap),
			"beef.tri_tip_whole": perKg("10"), "beef.strips": perKg("10")}}
		a.Cells = value.Forecast(p, a.Plan, 10*measure.Kilogram)
		b = a
		b.Plan = plans[1]
		b.Cells = value.Forecast(p, b.Plan, 10*measure.Kilogram)
		return a, b
	}
	// by hand: cap steaks are 86 % of 1.45 kg and 26 % of 0.9 kg of cover fat, 1.481 kg; each euro on them is 1.48 on the
	// piece, and the skins thrown away, 1.18 % of 10 kg, cost 1.18 at 10 a kilo: even at 10 + 1.18 ÷ 1.481 = 10.80;
	// each line is rounded to the cent, so that it is even a cent below
	for cap, want := range map[string]string{
		"11": "Seaming this block paid: €0.03 a kilo more than cutting straight through, €0.31 on the piece, most of it " +
			"from the rump cap.",
		"9": "Seaming this block did not pay: €0.26 a kilo less than cutting straight through, €2.65 on the piece, most " +
			"of it from the rump cap.",
		"10.79": "Seaming and cutting straight through come out even on this block.",
	} {
		a, b := sheets(cap)
		if got := Sheets(a, b, telling); got != want {
			t.Errorf("cap at %s: %s\nwant %s", cap, got, want)
		}
	}
	a, b := sheets("11")
	telling.Past, telling.Unit = false, measure.UnitPound
	// 0.030 × 0.45359 = 0.0136
	if got := Sheets(a, b, telling); !strings.HasPrefix(got, "Seaming this block would pay €0.01 a pound") {
		t.Error(got)
	}
	delete(b.Prices, "beef.cap_steak")
	if got := Sheets(a, b, telling); got != "Whether it pays cannot be said yet: there is no price for Rump cap steak." {
		t.Error(got)
	}
	if got := Sheets(value.Sheet{}, value.Sheet{}, telling); got != "Nothing has been weighed yet." {
		t.Error(got)
	}
}

// Two alternatives of a kilogram each, all of it one product at 12.00 and at 9.90 a kilogram: 2.10 a kilogram between
// them.
func TestLead(t *testing.T) {
	one := func(name, price string) value.Alternative {
		return value.Alternative{Name: name, Pieces: 1, Mass: measure.Kilogram, Currency: "EUR",
			Cells: []value.AlternativeCell{{Key: "x", Fate: value.Sold, Mass: measure.Kilogram,
				Sales: measure.MustMoney(price)}},
			Products: map[string]value.SoldProduct{"x": {Name: "Steak", Form: "steak"}}}
	}
	a, b := one("mincing it", "9.90"), one("seaming it", "12.00")
	telling := Telling{Unit: measure.UnitKilogram, Currency: "EUR"}
	if got := Lead(a, b, telling); !strings.HasPrefix(got, "Seaming it brought €2.10 a kilo more than mincing it") {
		t.Error(got)
	}
	if got := Lead(b, a, telling); !strings.HasPrefix(got, "Mincing it brought €2.10 a kilo less than seaming it") {
		t.Error(got)
	}
	if got := Lead(a, a, telling); got != "Mincing it and mincing it come out even." {
		t.Error(got)
	}
	b.Unpriced = []string{"Steak"}
	if got := Lead(a, b, telling); !strings.Contains(got, "no price for Steak") {
		t.Error(got)
	}
}
