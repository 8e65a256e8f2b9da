package ladder

import (
	"math"
	"testing"

	"falda/internal/core/atlas"
)

// Every product of the atlas has an index, and no index is of a product that there is not.
func TestEveryProductHasAnIndex(t *testing.T) {
	table, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	made := map[string]bool{}
	add := func(p atlas.Piece, products []atlas.Product) {
		for _, pr := range products {
			if pr.Form != atlas.FormPiece {
				made[p.Key(pr)] = true
			}
		}
	}
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			add(p, pl.All())
		}
		for _, o := range p.Options {
			for _, c := range o.Choices {
				add(p, c.Products)
			}
		}
	}
	for _, c := range a.Carcasses {
		add(atlas.Piece{Species: c.Species}, a.Offal(c))
	}
	for key := range made {
		if _, ok := table[key]; !ok {
			t.Errorf("%s has no index", key)
		}
	}
	for key := range table {
		if !made[key] {
			t.Errorf("%s has an index, and no plan makes it", key)
		}
	}
	// common practice, no source: the order of the counter
	for _, pair := range [][2]string{{"beef.mince_trim", "beef.stew"}, {"beef.stew", "beef.rump_steak"},
		{"beef.rump_steak", "beef.striploin_steak"}, {"beef.striploin_steak", "beef.fillet_steak"},
		{"beef.stock_bone", "beef.mince_trim"}, {"lamb.shoulder_roast", "lamb.leg_roast"},
		{"lamb.leg_roast", "lamb.loin_chop"}, {"lamb.loin_chop", "lamb.frenched_rack"}} {
		if table[pair[0]].At >= table[pair[1]].At {
			t.Errorf("%s is not below %s", pair[0], pair[1])
		}
	}
}

func near(t *testing.T, what string, got, want float64) {
	t.Helper()
	if math.Abs(got-want) > 1e-9*math.Abs(want)+1e-12 {
		t.Errorf("%s: %.12g, by hand %.12g", what, got, want)
	}
}

// With a pencil: one price sets the level; two on either side of the middle set level and slope, the slope drawn to the
// usual one; the spread is that of the index and of what is not known of level and slope.
func TestTheLadderByHand(t *testing.T) {
	table := Table{"beef.a": {100, 0.15}, "beef.b": {400, 0.15}, "beef.m": {200, 0.15}, "lamb.x": {100, 0.15}}
	one := Fit(map[string]float64{"beef.m": 18}, table)
	near(t, "half the index", one["beef.a"].Price, 9)
	near(t, "double the index", one["beef.b"].Price, 36)
	if _, ok := one["lamb.x"]; ok {
		t.Error("lamb is guessed from beef")
	}
	// n = 1, nothing left over: scale (4+0)/(4+1) = 0.8. At the middle the level has the variance of the one price,
	// 0.15²; ln 2 away from it the slope adds (0.15 ln 2)²
	near(t, "spread at the middle", one["beef.m"].Spread, math.Sqrt(0.8*2)*0.15)
	near(t, "spread beside it", one["beef.b"].Spread, math.Sqrt(0.8*(2+math.Ln2*math.Ln2))*0.15)
	// a = 100 costs 8, b = 400 costs 50. r = ln 0.08 and ln 0.125, u = ∓ln 2. By symmetry the level is the mean of r, and
	// d = Σu·r/(Σu² + 1), since the prior weighs like one price at u = 1: (ln 2 · ln(0.125/0.08))/(2 ln² 2 + 1)
	two := Fit(map[string]float64{"beef.a": 8, "beef.b": 50}, table)
	near(t, "between", two["beef.m"].Price, 200*math.Sqrt(0.08*0.125))
	d := math.Ln2 * math.Log(0.125/0.08) / (2*math.Ln2*math.Ln2 + 1)
	near(t, "the dear one", two["beef.b"].Price, 400*math.Sqrt(0.08*0.125)*math.Exp(d*math.Ln2))
	if g := two["beef.b"].Price; !(g > 40 && g < 50) {
		t.Errorf("a known price is guessed at %.2f, not between what it is and what the other says", g)
	}
	low, high := one["beef.m"].Within()
	near(t, "the range about it", math.Sqrt(low*high), 18)
}

// Properties: another currency changes nothing but the unit; a price more makes no guess of its species less sure where
// it fits; what the table does not know is passed over.
func TestTheLadderHolds(t *testing.T) {
	table, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	known := map[string]float64{"beef.mince_trim": 9.9, "beef.fillet_steak": 52, "beef.rump_steak": 21,
		"own.thing": 5, "beef.stew": 0}
	a := Fit(known, table)
	b := Fit(map[string]float64{"beef.mince_trim": 99, "beef.fillet_steak": 520, "beef.rump_steak": 210}, table)
	for key, g := range a {
		near(t, key+" in another currency", b[key].Price, 10*g.Price)
		near(t, key+" as sure", b[key].Spread, g.Spread)
		if !(g.Price > 0) || !(g.Spread > 0) || g.Spread > 2 {
			t.Errorf("%s: %+v", key, g)
		}
	}
	if len(a) < 100 || len(a) >= len(table) {
		t.Errorf("%d of %d are guessed from beef alone", len(a), len(table))
	}
	known["beef.striploin_steak"] = a["beef.striploin_steak"].Price
	more := Fit(known, table)
	for key := range a {
		if more[key].Spread > a[key].Spread+1e-12 {
			t.Errorf("%s is less sure with a price more: %.4f, %.4f before", key, more[key].Spread, a[key].Spread)
		}
	}
}
