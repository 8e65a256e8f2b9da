package bestuse

import (
	"math"
	"testing"
)

// By hand: all four legs as roasts against two and two, in two weeks: one in which 10 kg of roast sell, one in which
// 2 kg do, all else as it was reckoned.
func TestTriedByHand(t *testing.T) {
	h := heads()
	p, _ := h.problem(map[string]string{"lamb": ""})
	inf := math.Inf(1)
	uses := []Solution{p.sell([][]int{{4, 0}}), p.sell([][]int{{2, 2}})}
	got := p.Try(uses, []Came{{[]float64{10, 3, inf}, []float64{1, 1, 1}}, {[]float64{2, 3, inf}, []float64{1, 1, 1}}})
	// roasts: 9.6 × 15.90 = 152.64; 2 × 15.90 + 3 × 11.90 = 67.50
	// mixed: 4.8 × 15.90 + 59.70 = 136.02; 31.80 + 2.8 × 11.90 + 59.70 = 124.82
	for i, want := range []Tried{{(152.64 + 67.50) / 2, 67.50, 57.32, 28.66},
		{(136.02 + 124.82) / 2, 124.82, 16.62, 8.31}} {
		g := got[i]
		for k, pair := range [][2]float64{{g.Mean, want.Mean}, {g.Worst, want.Worst}, {g.Regret, want.Regret},
			{g.MeanLoses, want.MeanLoses}} {
			if math.Abs(pair[0]-pair[1]) > 1e-9 {
				t.Errorf("use %d, figure %d: %v, want %v", i, k, pair[0], pair[1])
			}
		}
	}
	if Safest(got) != 1 {
		t.Errorf("%+v", got)
	}
	// a week as it was reckoned brings what was reckoned
	same := p.Try(uses, []Came{{[]float64{5, 3, inf}, []float64{1, 1, 1}}})
	for i, s := range uses {
		if math.Abs(same[i].Mean-s.Value.Float()) > 1e-9 {
			t.Errorf("use %d: %v, reckoned %v", i, same[i].Mean, s.Value.Text(2))
		}
	}
}
