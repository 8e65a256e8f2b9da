package eating

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"

	"falda/internal/core/atlas"
)

// Source: Watson, Gee, Polkinghorne & Porter 2008, Aust. J. Exp. Agric. 48 (from memory): cut-offs 46.5, 64, 76.
func TestCutOffsAtTheirEdges(t *testing.T) {
	for score, want := range map[float64]Grade{0: BelowThree, 46.49: BelowThree, 46.5: Three, 63.99: Three, 64: Four,
		75.99: Four, 76: Five, 100: Five} {
		if got := Of(score); got != want {
			t.Errorf("%.2f is %s, want %s", score, got, want)
		}
	}
}

// Outside check: gonum's normal distribution, an independent implementation of the same law.
func TestChancesAgainstAReferenceLibrary(t *testing.T) {
	for mean := 30.0; mean <= 90; mean += 3.7 {
		for _, sd := range []float64{1, 4.5, 8, 20} {
			s := Score{Mean: mean, SD: sd}
			n := distuv.Normal{Mu: mean, Sigma: sd}
			want := map[Grade]float64{BelowThree: n.CDF(46.5), Three: n.CDF(64) - n.CDF(46.5), Four: n.CDF(76) - n.CDF(64),
				Five: 1 - n.CDF(76)}
			sum := 0.0
			for g, p := range s.Chances() {
				sum += p
				if math.Abs(p-100*want[g]) > 1e-6 {
					t.Errorf("mean %.1f sd %.1f grade %s: %.6f, want %.6f", mean, sd, g, p, 100*want[g])
				}
			}
			if math.Abs(sum-100) > 1e-9 {
				t.Errorf("chances add to %f", sum)
			}
			if math.Abs(s.Low()-n.Quantile(0.05)) > 1e-6 {
				t.Errorf("lower bound %f, want %f", s.Low(), n.Quantile(0.05))
			}
		}
	}
	if c := (Score{Mean: 70}).Chances(); c[Four] != 100 {
		t.Errorf("a score without spread: %v", c)
	}
}

// Rule: a well-tested good beats an unknown best.
func TestBestTakesTheLowerBound(t *testing.T) {
	best, ok := Best([]Score{{Method: "grill", Mean: 70, SD: 8}, {Method: "roast", Mean: 66, SD: 3, Assessors: 10}})
	if !ok || best.Method != "roast" {
		t.Errorf("best is %s", best.Method)
	}
	if _, ok := Best(nil); ok {
		t.Error("something is best of nothing")
	}
}

func TestNoSteak(t *testing.T) {
	tough := []Score{{Method: "grill", Mean: 40}, {Method: "pan_fry", Mean: 46}, {Method: "thin_slice", Mean: 60},
		{Method: "braise", Mean: 70}}
	if !NoSteak(tough) {
		t.Error("a muscle below 3 by grill and pan is a steak")
	}
	tough[1].Mean = 46.5
	if NoSteak(tough) {
		t.Error("a muscle of grade 3 in the pan is no steak")
	}
	if NoSteak([]Score{{Method: "braise", Mean: 40}}) {
		t.Error("judged without a quick method")
	}
}

// Every muscle of the atlas has a best method among its estimates, and the mouse is not grilled (common practice, no
// source).
func TestAtlasEstimates(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range a.Pieces {
		for _, m := range p.Muscles {
			best, ok := Best(Estimates(m))
			if !ok || m.Eating[best.Method] != best.Mean {
				t.Errorf("%s %s: best %+v", p.ID, m.ID, best)
			}
			for _, mean := range m.Eating {
				if mean > best.Mean {
					t.Errorf("%s %s: %.0f beats the best of %.0f", p.ID, m.ID, mean, best.Mean)
				}
			}
			if m.ID == "mouse" && (best.Method == "grill" || best.Method == "stir_fry") {
				t.Errorf("the mouse is best by %s", best.Method)
			}
		}
	}
}

// By hand: four steps of marbling above the usual are six points, of which a fillet follows a fifth; lamb of 62 % lean
// and 6 % fat within the muscle loses 1.6 and gains 4 points; what lamb was fed on is said, and counts nothing.
func TestMarblingAndLambFacts(t *testing.T) {
	marbling, lean, fat := 5.0, 62.0, 6.0
	fifth := 0.2
	rib := atlas.Muscle{Eating: map[string]float64{"grill": 60}}
	fillet := atlas.Muscle{Eating: map[string]float64{"grill": 60}, Follows: &fifth}
	for _, c := range []struct {
		m    atlas.Muscle
		f    Facts
		want float64
		why  string
	}{
		{rib, Facts{Species: "beef", Marbling: &marbling}, 66, "marbling 5"},
		{fillet, Facts{Species: "beef", Marbling: &marbling}, 61.2, "marbling 5, which this muscle follows by 20 %"},
		{rib, Facts{Species: "lamb", LeanPct: &lean, FatPct: &fat, Feed: "grass"}, 62.4,
			"fed on grass: recorded, and not counted; no sure effect is known for lamb"},
	} {
		got, parts, ok := Usual.Estimate(c.m, "grill", c.f)
		if !ok || math.Abs(got.Mean-c.want) > 1e-9 || len(parts) < 2 || parts[1].Why != c.why {
			t.Errorf("%+v: %.2f, by hand %.2f; %+v", c.f, got.Mean, c.want, parts)
		}
	}
}
