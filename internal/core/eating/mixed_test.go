package eating

import (
	"math"
	"testing"
)

// By hand: three parts of 70 ± 8 and one of 40 ± 8 eat like 62.5, with √(0.75² + 0.25²) · 8 = 6.32; the worst is 40; of
// the first Φ((46.5 − 70) ÷ 8) = 0.166 % of bites are below 3, of the other Φ(6.5 ÷ 8) = 79.2 %: 19.9 % on the whole.
func TestMixByHand(t *testing.T) {
	m, ok := Mix([]Portion{{"good", 300, Score{Method: "grill", Mean: 70, SD: 8}},
		{"bad", 100, Score{Method: "grill", Mean: 40, SD: 8}}})
	if !ok || math.Abs(m.Mean-62.5) > 1e-9 || math.Abs(m.SD-6.3246) > 1e-3 || m.Worst != "bad" || m.Least != 40 ||
		math.Abs(m.Spoilt-19.92) > 0.02 || m.Grade() != Three {
		t.Errorf("%+v", m)
	}
	// a sliver is no muscle that an eater meets
	m, _ = Mix([]Portion{{"good", 970, Score{Mean: 70, SD: 8}}, {"sliver", 30, Score{Mean: 20, SD: 8}}})
	if m.Worst != "good" {
		t.Errorf("the worst is %s", m.Worst)
	}
	if _, ok := Mix(nil); ok {
		t.Error("nothing eats like something")
	}
}
