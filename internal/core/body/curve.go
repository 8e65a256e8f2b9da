package body

import "math"

// Curve runs through points and rises and falls only where they do: a cubic between every two, with slopes that keep it
// monotone. Before the first and behind the last it stays level.
//
// Fritsch & Carlson 1980, SIAM Journal on Numerical Analysis 17, 238–246; the slopes at the ends are one-sided
// differences, limited alike.
type Curve struct{ x, y, slope []float64 }

// NewCurve goes through points whose places rise; there is at least one.
func NewCurve(x, y []float64) Curve {
	n := len(x)
	c := Curve{x, y, make([]float64, n)}
	if n == 1 {
		return c
	}
	rise := make([]float64, n-1)
	for i := range rise {
		rise[i] = (y[i+1] - y[i]) / (x[i+1] - x[i])
	}
	c.slope[0], c.slope[n-1] = rise[0], rise[n-2]
	for i := 1; i < n-1; i++ {
		if rise[i-1]*rise[i] > 0 {
			c.slope[i] = (rise[i-1] + rise[i]) / 2
		}
	}
	for i, r := range rise {
		if r == 0 {
			c.slope[i], c.slope[i+1] = 0, 0
			continue
		}
		a, b := c.slope[i]/r, c.slope[i+1]/r
		if s := math.Hypot(a, b); s > 3 { // outside of the circle of radius 3 it could overshoot
			c.slope[i], c.slope[i+1] = 3*a/s*r, 3*b/s*r
		}
	}
	return c
}

// At is the height of the curve at a place.
func (c Curve) At(at float64) float64 {
	n := len(c.x)
	if at <= c.x[0] {
		return c.y[0]
	}
	if at >= c.x[n-1] {
		return c.y[n-1]
	}
	i := 0
	for c.x[i+1] <= at {
		i++
	}
	h := c.x[i+1] - c.x[i]
	t := (at - c.x[i]) / h
	return c.y[i] + (c.y[i+1]-c.y[i])*t*t*(3-2*t) + h*t*(1-t)*(c.slope[i]*(1-t)-c.slope[i+1]*t)
}
