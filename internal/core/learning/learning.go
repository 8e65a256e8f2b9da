// Package learning says how fast somebody gets faster: the power law of practice, minutes = first · n^(−exponent), by
// least squares on logarithms. It is pure. Source: Newell & Rosenbloom 1981 (from memory).
package learning

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"falda/internal/core/fault"
)

// Curve is how the minutes fall with practice.
type Curve struct {
	First    float64  // minutes of the first, by the curve
	Exponent float64  // above 0 where it gets faster
	R2       *float64 // of the logarithms; nil where all took as long
	Low      float64  // 95 % interval of the exponent, by t with N − 2 degrees
	High     float64
	N        int

	mean, spread, rest, t float64 // of the logarithms: of n, its sum of squares, what is left, and t for 95 %
}

// At gives the minutes of the nth by the curve; n from 1.
func (c Curve) At(n int) float64 { return c.First * math.Pow(float64(n), -c.Exponent) }

// Band is between what the minutes of the nth lie on the mean, with 95 %; both are the curve's where all took as long.
func (c Curve) Band(n int) (low, high float64) {
	at := c.At(n)
	if c.spread == 0 {
		return at, at
	}
	x := math.Log(float64(n)) - c.mean
	half := c.t * math.Sqrt(c.rest*(1/float64(c.N)+x*x/c.spread))
	return at * math.Exp(-half), at * math.Exp(half)
}

// furthest is how far ahead a curve is followed, in pieces.
const furthest = 500

// Reaches is the first piece after those cut whose minutes are by the curve no more than so many, and how many minutes
// the pieces before it take longer in all; 0 where that is not within 500 pieces.
func (c Curve) Reaches(minutes float64) (n int, longer float64) {
	for n = c.N + 1; n <= c.N+furthest; n++ {
		at := c.At(n)
		if at <= minutes {
			return n, longer
		}
		longer += at - minutes
	}
	return 0, 0
}

// The most values that are taken, and the longest that one may be, in minutes.
const (
	maxValues  = 5000
	maxMinutes = 100_000
)

// Fit draws the curve through minutes in the order in which they were taken: at least 3, all above 0. Faults name
// minutes, or one of them.
func Fit(minutes []float64) (Curve, error) {
	var faults fault.List
	if len(minutes) < 3 || len(minutes) > maxValues {
		faults.Add("minutes", fault.New("", "out_of_range", fmt.Sprintf("must be 3 to %d values", maxValues),
			"Take some more."))
	}
	x, y := make([]float64, len(minutes)), make([]float64, len(minutes))
	same := true
	for i, m := range minutes {
		if !(m > 0 && m <= maxMinutes) {
			faults.Add(fmt.Sprintf("minutes[%d]", i), fault.New("", "out_of_range", "must be above 0", "Look at it again."))
		}
		x[i], y[i] = math.Log(float64(i+1)), math.Log(m)
		same = same && m == minutes[0]
	}
	if err := faults.Err(); err != nil {
		return Curve{}, err
	}
	if same {
		return Curve{First: minutes[0], N: len(minutes)}, nil
	}
	alpha, beta := stat.LinearRegression(x, y, nil, false)
	r2 := stat.RSquared(x, y, nil, alpha, beta)
	mean, rest, spread := stat.Mean(x, nil), 0.0, 0.0
	for i := range x {
		e := y[i] - alpha - beta*x[i]
		rest += e * e
		spread += (x[i] - mean) * (x[i] - mean)
	}
	free := float64(len(x) - 2)
	t := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: free}.Quantile(0.975)
	half := t * math.Sqrt(rest/free/spread)
	return Curve{First: math.Exp(alpha), Exponent: -beta, R2: &r2, Low: -beta - half, High: -beta + half,
		N: len(minutes), mean: mean, spread: spread, rest: rest / free, t: t}, nil
}
