package learning

import (
	"math"
	"testing"

	"falda/internal/core/fault"
)

// By hand: 32, 16·√2 …: minutes that fall with the square root of practice lie on the curve exactly, first 32, exponent
// a half, and nothing is left to doubt.
func TestFitByHand(t *testing.T) {
	var minutes []float64
	for n := 1; n <= 9; n++ {
		minutes = append(minutes, 32/math.Sqrt(float64(n)))
	}
	c, err := Fit(minutes)
	if err != nil || math.Abs(c.First-32) > 1e-9 || math.Abs(c.Exponent-0.5) > 1e-12 || math.Abs(*c.R2-1) > 1e-12 ||
		math.Abs(c.High-c.Low) > 1e-9 || math.Abs(c.At(16)-8) > 1e-9 {
		t.Errorf("%+v, %v", c, err)
	}
}

// By hand, three points: ln n = 0, 0.6931, 1.0986 and minutes e², e^1.5, e^1.2 with logarithms 2, 1.5, 1.2. Sxx =
// 0.6151, Sxy = −0.4492 by the means 0.5973 and 1.5667, so the exponent is 0.7303; residuals leave 0.0002, one degree
// of freedom, t = 12.706.
func TestIntervalByHand(t *testing.T) {
	c, err := Fit([]float64{math.Exp(2), math.Exp(1.5), math.Exp(1.2)})
	if err != nil {
		t.Fatal(err)
	}
	x := []float64{0, math.Ln2, math.Log(3)}
	y := []float64{2, 1.5, 1.2}
	mx, my := (x[0]+x[1]+x[2])/3, (y[0]+y[1]+y[2])/3
	sxx, sxy, syy := 0.0, 0.0, 0.0
	for i := range x {
		sxx += (x[i] - mx) * (x[i] - mx)
		sxy += (x[i] - mx) * (y[i] - my)
		syy += (y[i] - my) * (y[i] - my)
	}
	slope := sxy / sxx
	half := 12.7062 * math.Sqrt((syy-slope*sxy)/1/sxx)
	if math.Abs(c.Exponent+slope) > 1e-9 || math.Abs(c.Low-(-slope-half)) > 1e-4 || math.Abs(c.High-(-slope+half)) > 1e-4 {
		t.Errorf("%+v, want %g ± %g", c, -slope, half)
	}
}

func TestFitEdges(t *testing.T) {
	c, err := Fit([]float64{20, 20, 20})
	if err != nil || c.Exponent != 0 || c.R2 != nil || c.First != 20 || c.At(50) != 20 {
		t.Errorf("all alike: %+v, %v", c, err)
	}
	for field, m := range map[string][]float64{"minutes": {1, 2}, "minutes[1]": {1, 0, 3},
		"minutes[2]": {1, 2, math.NaN()}} {
		if _, err := Fit(m); len(fault.Of(err)) != 1 || fault.Of(err)[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}
