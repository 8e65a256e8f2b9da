package demand

import (
	"math"

	"gonum.org/v1/gonum/mathext"
	"gonum.org/v1/gonum/stat/distuv"

	"falda/internal/core/fault"
)

// Sold is how many were sold in how many days.
type Sold struct {
	Count int
	Days  float64
}

// Ratio is how many times as fast the first sells as the second, with its limits; nil where it is not known.
type Ratio struct {
	Ratio, Low, High *float64
	P                float64 // that as much of a difference would come by chance, were both alike
}

// maxCount bounds a count of packs.
const maxCount = 10_000_000

// RateRatio compares two counts as rates a day, at a level such as 0.95: given their sum the first is binomial; its
// Clopper–Pearson limits are turned into those of the ratio. P is twice the smaller tail, at most 1. Faults name
// a.count and so on, and level.
func RateRatio(a, b Sold, level float64) (Ratio, error) {
	var faults fault.List
	for i, s := range []Sold{a, b} {
		name := string(rune(97 + i))
		if s.Count < 0 || s.Count > maxCount {
			faults.Add(name+".count", fault.New("", "out_of_range", "must be from 0 to ten million", "Count again."))
		}
		if !(s.Days > 0 && s.Days <= 100_000) {
			faults.Add(name+".days", fault.New("", "out_of_range", "must be above 0 and at most 100,000", "Say how long."))
		}
	}
	if !(level > 0 && level < 1) {
		faults.Add("level", fault.New("", "out_of_range", "must be between 0 and 1", "Such as 0.95."))
	}
	if err := faults.Err(); err != nil {
		return Ratio{}, err
	}
	n := a.Count + b.Count
	if n == 0 {
		return Ratio{P: 1}, nil
	}
	x, half := float64(a.Count), (1-level)/2
	low, high := 0.0, 1.0
	if a.Count > 0 {
		low = mathext.InvRegIncBeta(x, float64(b.Count)+1, half)
	}
	if b.Count > 0 {
		high = mathext.InvRegIncBeta(x+1, float64(b.Count), 1-half)
	}
	// a share p of all is a ratio p/(1−p) of the counts, by the days of the other
	by := b.Days / a.Days
	out := Ratio{P: tails(a.Count, n, a.Days/(a.Days+b.Days))}
	ratio := func(p float64) *float64 {
		v := p / (1 - p) * by
		return &v
	}
	out.Low = ratio(low)
	if b.Count > 0 {
		v := x / float64(b.Count) * by
		out.Ratio, out.High = &v, ratio(high)
	}
	return out, nil
}

// tails is twice the smaller tail of a binomial at what was found, at most 1.
func tails(k, n int, p float64) float64 {
	d := distuv.Binomial{N: float64(n), P: p}
	below := d.CDF(float64(k))
	above := 1.0
	if k > 0 {
		above = 1 - d.CDF(float64(k-1))
	}
	return math.Min(1, 2*math.Min(below, above))
}

// Week is what was sold of a product in a week so many weeks ago.
type Week struct {
	Packs int
	Ago   float64
}

// Prior is what a shop believes of a product before it has sold any: so many packs a week, believed as much as so many
// weeks of sales would weigh.
type Prior struct{ Packs, Weeks float64 }

// HalfLife is after how many weeks a week counts half, where a shop has not said. Common practice, no source.
const HalfLife = 8.0

// Forecast is what will be sold in a week: the mean, and the 80 % interval of what can come.
type Forecast struct {
	Mean      float64
	Low, High int
	N         int     // weeks behind it
	Weight    float64 // what they weigh together
}

// Expect weighs the weeks that were, the latest most, with the prior: the rate is gamma, what comes negative binomial.
// The prior must be above zero.
func Expect(prior Prior, weeks []Week, halfLife float64) Forecast {
	shape, rate := prior.Packs*prior.Weeks, prior.Weeks
	f := Forecast{N: len(weeks)}
	for _, w := range weeks {
		by := math.Pow(0.5, w.Ago/halfLife)
		shape += by * float64(w.Packs)
		rate += by
		f.Weight += by
	}
	f.Mean = shape / rate
	f.Low, f.High = quantile(shape, rate, 0.1), quantile(shape, rate, 0.9)
	return f
}

// quantile is the least count that so much of the negative binomial of a gamma-distributed rate does not exceed.
func quantile(shape, rate, p float64) int {
	q := rate / (rate + 1) // of no more packs
	for k := 0; ; k++ {
		// P(X ≤ k) is the regularised incomplete beta of shape and k+1 at q
		if mathext.RegIncBeta(shape, float64(k)+1, q) >= p || k > maxCount {
			return k
		}
	}
}
