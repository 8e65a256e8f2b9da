package value

import (
	"math"
	"testing"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

// Worked by hand: of 5,000 g a muscle of 1,180 g is 23.6 %. Five earlier ones of 22, 23, 24, 25 and 26 % have a mean of
// 24 and a standard deviation of √(10/4) = 1.58114: the band is 20.838 to 27.162.
func TestYieldsByHand(t *testing.T) {
	expected := []seam.Expected{
		{Kind: "muscle", ID: "a", Name: "A", Mass: 1200 * measure.Gram, Low: 800 * measure.Gram, High: 1600 * measure.Gram,
			Taken: 1180 * measure.Gram},
		{Kind: "muscle", ID: "b", Name: "B", Mass: 500 * measure.Gram, Low: 400 * measure.Gram, High: 600 * measure.Gram},
		{Kind: "trim", ID: "c", Name: "C", Mass: 300 * measure.Gram, Low: 200 * measure.Gram, High: 400 * measure.Gram,
			Taken: 405 * measure.Gram},
	}
	past := map[string][]float64{"a": {22, 23, 24, 25, 26}, "b": {10, 10, 10, 10}, "loss": {0.5, 0.5, 0.5, 0.5, 0.5}}
	got := Yields(expected, 5000*measure.Gram, 30*measure.Gram, 1.5, past)
	want := []struct {
		pct, mean, low, high float64
		n                    int
		odd                  string
	}{
		{23.6, 24, 20.838, 27.162, 5, ""},
		{0, 10, 8, 12, 0, "below"}, // four earlier pieces are too few: the atlas' share and band
		{8.1, 6, 4, 8, 0, "above"},
		{0.6, 0.5, 0.49, 0.51, 5, "above"}, // all alike: the narrowest band
	}
	if len(got) != len(want) {
		t.Fatalf("%d rows: %+v", len(got), got)
	}
	near := func(a, b float64) bool { return math.Abs(a-b) < 0.0005 }
	for i, w := range want {
		g := got[i]
		if !near(g.Pct, w.pct) || !near(g.Mean, w.mean) || !near(g.Low, w.low) || !near(g.High, w.high) || g.N != w.n ||
			g.Odd() != w.odd {
			t.Errorf("%s: %+v %q, by hand %+v", g.ID, g, g.Odd(), w)
		}
	}
	if Yields(expected, 0, 0, 1.5, nil) != nil {
		t.Error("a piece that weighs nothing has yields")
	}
}
