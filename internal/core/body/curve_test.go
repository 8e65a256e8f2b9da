package body

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// Rule: the curve goes through its points, and between two of them it lies between them.
func TestCurveDoesNotOvershoot(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 300 {
		n := 1 + rng.IntN(8)
		x, y := make([]float64, n), make([]float64, n)
		for i := range n {
			x[i], y[i] = rng.Float64(), float64(rng.IntN(6))*rng.Float64()
		}
		slices.Sort(x)
		c := NewCurve(x, y)
		for i := range n {
			if math.Abs(c.At(x[i])-y[i]) > 1e-9 {
				t.Fatalf("at %g it is %g, not %g", x[i], c.At(x[i]), y[i])
			}
		}
		for i := range n - 1 {
			last := y[i]
			for k := 1; k <= 20; k++ {
				v := c.At(x[i] + (x[i+1]-x[i])*float64(k)/20)
				if v < math.Min(y[i], y[i+1])-1e-9 || v > math.Max(y[i], y[i+1])+1e-9 ||
					(v-last)*(y[i+1]-y[i]) < -1e-9 {
					t.Fatalf("between %g and %g it is %g after %g", y[i], y[i+1], v, last)
				}
				last = v
			}
		}
	}
}

// The data of Akima 1970 (Journal of the ACM 17), from memory, as Fritsch and Carlson use them to show that a spline
// overshoots where theirs does not: level at 10, then up to 85.
func TestCurveOnAkimasData(t *testing.T) {
	x := []float64{0, 2, 3, 5, 6, 8, 9, 11, 12, 14, 15}
	y := []float64{10, 10, 10, 10, 10, 10, 10.5, 15, 50, 60, 85}
	c := NewCurve(x, y)
	for at := 0.0; at <= 8; at += 0.05 {
		if c.At(at) != 10 {
			t.Fatalf("at %.2f it is %g, not level", at, c.At(at))
		}
	}
	last := 10.0
	for at := 8.0; at <= 15; at += 0.01 {
		if v := c.At(at); v < last {
			t.Fatalf("it falls at %.2f", at)
		} else {
			last = v
		}
	}
}
