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

// By hand: minutes that fall with the square root of practice, 32 at first, are at the 65th no more than 4, and exactly
// 4 at the 64th; until then each takes 32/√n − 4 longer. Where nothing is left to doubt the band is the curve.
func TestReachesByHand(t *testing.T) {
	var minutes []float64
	for n := 1; n <= 60; n++ {
		minutes = append(minutes, 32/math.Sqrt(float64(n)))
	}
	c, err := Fit(minutes)
	if err != nil {
		t.Fatal(err)
	}
	want := 0.0
	for n := 61; n < 64; n++ {
		want += 32/math.Sqrt(float64(n)) - 4
	}
	n, longer := c.Reaches(4 + 1e-9)
	if n != 64 || math.Abs(longer-want) > 1e-6 {
		t.Errorf("piece %d, %g minutes longer, want %g", n, longer, want)
	}
	if n, _ := c.Reaches(1); n != 0 {
		t.Errorf("one minute is reached at piece %d", n)
	}
	if low, high := c.Band(9); math.Abs(low-c.At(9)) > 1e-6 || math.Abs(high-c.At(9)) > 1e-6 {
		t.Errorf("%g to %g", low, high)
	}
}

// By hand, the three points of the interval: at the mean of the logarithms of n the half width is t·s/√3.
func TestBandByHand(t *testing.T) {
	c, err := Fit([]float64{math.Exp(2), math.Exp(1.5), math.Exp(1.2)})
	if err != nil {
		t.Fatal(err)
	}
	x, y := []float64{0, math.Ln2, math.Log(3)}, []float64{2, 1.5, 1.2}
	rest, mean := 0.0, (x[0]+x[1]+x[2])/3
	sxx := 0.0
	for i := range x {
		e := y[i] - (math.Log(c.First) - c.Exponent*x[i])
		rest += e * e
		sxx += (x[i] - mean) * (x[i] - mean)
	}
	for n := 1; n <= 5; n++ {
		half := 12.7062 * math.Sqrt(rest*(1.0/3+(math.Log(float64(n))-mean)*(math.Log(float64(n))-mean)/sxx))
		low, high := c.Band(n)
		if math.Abs(math.Log(high/c.At(n))-half) > 1e-4 || math.Abs(math.Log(c.At(n)/low)-half) > 1e-4 {
			t.Errorf("at %d from %g to %g, want %g either way", n, low, high, half)
		}
	}
}
