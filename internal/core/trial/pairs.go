package trial

import (
	"math"
	"slices"
)

// Outliers marks differences that lie far from the rest: more than 3.5 robust standard deviations (1.4826 times the
// median absolute deviation) from the median. They are marked and never left out. Source: Iglewicz & Hoaglin 1993 (from
// memory). Fewer than five say nothing.
func Outliers(d []float64) []bool {
	out := make([]bool, len(d))
	if len(d) < 5 {
		return out
	}
	m := median(d)
	away := make([]float64, len(d))
	for i, v := range d {
		away[i] = math.Abs(v - m)
	}
	mad := 1.4826 * median(away)
	if mad == 0 {
		return out
	}
	for i := range d {
		out[i] = away[i] > 3.5*mad
	}
	return out
}

func median(list []float64) float64 {
	s := slices.Sorted(slices.Values(list))
	if n := len(s); n%2 == 0 {
		return (s[n/2-1] + s[n/2]) / 2
	}
	return s[len(s)/2]
}

// Holm corrects p-values of several questions asked of the same pieces, so that the chance of any false “real” stays
// what it was for one. Source: Holm 1979, Scand. J. Statist. 6, 65–70 (from memory).
func Holm(p []float64) []float64 {
	order := make([]int, len(p))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case p[a] < p[b]:
			return -1
		case p[a] > p[b]:
			return 1
		}
		return 0
	})
	out := make([]float64, len(p))
	last := 0.0
	for rank, i := range order {
		last = math.Max(last, math.Min(1, p[i]*float64(len(p)-rank)))
		out[i] = last
	}
	return out
}
