package trim

import (
	"math"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// By hand: a tub of three parts of cap trim and one of cover fat is as lean as their mean by mass; bone has no lean.
func TestOfByHand(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	p, _ := a.Find("beef.top_sirloin")
	m, _ := p.Muscle("cap")
	tub := []Piece{{"cap", 300 * measure.Gram}, {"cover_fat", 100 * measure.Gram}, {"loss", 50 * measure.Gram}}
	f, ok := Of(p, atlas.Product{Form: "trim"}, tub)
	if want := (3*m.LeanPct + leanOfFat) / 4; !ok || math.Abs(f.Lean-want) > 1e-9 {
		t.Errorf("%+v, want %.2f %% lean", f, want)
	}
	if want := (3*connectiveOf[m.Connective] + connectiveOfFat) / 4; math.Abs(f.Connective-want) > 1e-9 {
		t.Errorf("%+v, want %.2f %% connective", f, want)
	}
	if f, _ = Of(p, atlas.Product{Form: "trim", LeanPct: 52}, tub); f.Lean != 52 {
		t.Errorf("a product that says how lean it is: %+v", f)
	}
	if f, _ = Of(p, atlas.Product{Form: "trim"}, []Piece{{"trim", measure.Gram}}); f.Lean != 82 {
		t.Errorf("trim of which the atlas says it: %+v", f)
	}
	if _, ok = Of(p, atlas.Product{Form: "bone"}, tub); ok {
		t.Error("bone is lean")
	}
	// rule: every muscle says how much connective tissue it holds in a word that counts
	for _, p := range a.Pieces {
		for _, m := range p.Muscles {
			if connectiveOf[m.Connective] == 0 {
				t.Errorf("%s %s: %q", p.ID, m.ID, m.Connective)
			}
		}
	}
}

// By hand: four tests that are 5 points leaner: precisions 1/16 and 4/9, so 5 · (4/9) / (1/16 + 4/9) = 4.38.
func TestCorrectedByHand(t *testing.T) {
	c := Corrected([]float64{5, 5, 5, 5})
	if want := 5 * (4.0 / 9) / (1.0/16 + 4.0/9); math.Abs(c.Points-want) > 1e-9 || c.N != 4 || c.SD >= houseSD {
		t.Errorf("%+v, want %.3f", c, want)
	}
	if c := Corrected(nil); c.Points != 0 || c.SD != houseSD || c.With(Figures{Lean: 81}).Lean != 81 {
		t.Errorf("no test: %+v", c)
	}
	if f := (Correction{Points: 30}).With(Figures{Lean: 90}); f.Lean != 100 {
		t.Errorf("%+v", f)
	}
}

// Regulation (EU) No 1169/2011, Annex VI, Part B: 7 / 20 / 25 % fat, collagen to protein 12 / 15 / 15; 9 CFR 319.15: 30
// % fat (from memory).
func TestCategories(t *testing.T) {
	for id, want := range map[string][2]float64{"eu_lean": {7, 12}, "eu_beef": {20, 15}, "eu_other": {25, 15},
		"us_ground": {30, 0}} {
		if c, ok := FindCategory(id); !ok || c.FatMaxPct != want[0] || c.CollagenMaxPct != want[1] || c.Source == "" {
			t.Errorf("%s: %+v", id, c)
		}
	}
	if _, ok := FindCategory("xx"); ok {
		t.Error("there is a category of no name")
	}
}
