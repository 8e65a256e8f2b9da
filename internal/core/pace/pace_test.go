package pace

import (
	"math"
	"testing"

	"falda/internal/core/atlas"
)

// By hand: five times of twice as long draw the pace half way, in logarithms: √2. None leave it where it was, and a
// time that is out of all reason counts as fourfold.
func TestOfByHand(t *testing.T) {
	for _, c := range []struct {
		ratios  []float64
		towards float64
		ratio   float64
		n       int
	}{
		{[]float64{2, 2, 2, 2, 2}, 1, math.Sqrt2, 5},
		{nil, 1.3, 1.3, 0},
		{[]float64{2, 0.5}, 1, 1, 2},
		{[]float64{4000}, 1, math.Pow(4, 1.0/6), 1},
		{[]float64{0, -1}, 0.8, 0.8, 0},
	} {
		if p := Of(c.ratios, c.towards); math.Abs(p.Ratio-c.ratio) > 1e-12 || p.N != c.n {
			t.Errorf("%v towards %g: %+v", c.ratios, c.towards, p)
		}
	}
}

// Rules: every muscle of a piece has its seam once, in an order in which it can come off; on a piece of eight times the
// weight the areas are four times as large, and the minutes more, but less than four times.
func TestSeamsGrowAsTheSurface(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range a.Pieces {
		if _, ok := Way(p); !ok {
			continue
		}
		usual, big := Seams(p, p.Typical()), Seams(p, 8*p.Typical())
		if len(usual) != len(p.Muscles) {
			t.Errorf("%s: %d seams of %d muscles", p.ID, len(usual), len(p.Muscles))
		}
		for i, s := range usual {
			if !s.Known {
				continue
			}
			if r := big[i].Cm2 / s.Cm2; math.Abs(r-4) > 1e-9 {
				t.Errorf("%s %s: %.3f times the area", p.ID, s.Muscle.ID, r)
			}
			// a fifth is the start, the rest grows fourfold: 0.2 + 0.8 · 4
			if r := big[i].Minutes / s.Minutes; s.Minutes > 0 && math.Abs(r-3.4) > 1e-6 {
				t.Errorf("%s %s: %.3f times the minutes", p.ID, s.Muscle.ID, r)
			}
		}
	}
}
