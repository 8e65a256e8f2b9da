package eating

import (
	"fmt"

	"falda/internal/core/fault"
)

// How large a tasting may be.
const (
	MaxSamples   = 26
	MaxAssessors = 500
)

// Williams gives the orders of a Williams design for t samples, numbered from 0: t orders when t is even, 2t when odd.
// Over all of them every sample stands equally often in every place and every ordered pair of neighbours occurs equally
// often. Source: Williams 1949, Aust. J. Sci. Res. A 2, 149–168 (from memory). Of one sample there is one order.
func Williams(t int) [][]int {
	if t < 1 {
		return nil
	}
	first := make([]int, t) // 0, 1, t−1, 2, t−2, …: the steps between neighbours are all different
	for i := range first {
		if i%2 == 1 {
			first[i] = (i + 1) / 2
		} else if i > 0 {
			first[i] = t - i/2
		}
	}
	var orders [][]int
	for k := range t {
		order := make([]int, t)
		for i, s := range first {
			order[i] = (s + k) % t
		}
		orders = append(orders, order)
	}
	if t%2 == 1 && t > 1 { // an odd square is not balanced by itself; with its mirror it is
		for _, o := range orders[:t] {
			mirror := make([]int, t)
			for i, s := range o {
				mirror[t-1-i] = s
			}
			orders = append(orders, mirror)
		}
	}
	return orders
}

// ServingPlan says in which order each eater tastes the samples, and under which code.
type ServingPlan struct {
	Orders   [][]int  // by eater: sample numbers from 1, in the order of tasting
	Codes    []string // by sample: three digits, no two alike
	Balanced bool     // the eaters are a whole number of designs
	Next     int      // so many eaters, or the next more, would be
}

// Balance says whether so many eaters are a whole number of designs, and if not, how many the next such number is.
func Balance(samples, assessors int) (balanced bool, next int) {
	n := len(Williams(samples))
	if n == 0 {
		return false, assessors
	}
	return assessors%n == 0, (assessors + n - 1) / n * n
}

// Shuffle gives the numbers from 0 to n − 1 in a random order. It is the caller's, so that the core has no chance in
// it.
type Shuffle func(n int) []int

// Serve makes a serving plan; the same shuffling gives the same plan. Samples 1–26, eaters 1–500.
func Serve(samples, assessors int, shuffle Shuffle) (ServingPlan, error) {
	var faults fault.List
	if samples < 1 || samples > MaxSamples {
		faults.Add("samples",
			fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", MaxSamples), "Taste the rest another day."))
	}
	if assessors < 1 || assessors > MaxAssessors {
		faults.Add("assessors", fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", MaxAssessors), ""))
	}
	if err := faults.Err(); err != nil {
		return ServingPlan{}, err
	}
	design := Williams(samples)
	names := shuffle(samples) // which sample is which letter of the design
	var plan ServingPlan
	plan.Balanced, plan.Next = Balance(samples, assessors)
	var round []int
	for e := range assessors {
		if e%len(design) == 0 {
			round = shuffle(len(design))
		}
		order := make([]int, samples)
		for i, s := range design[round[e%len(design)]] {
			order[i] = names[s] + 1
		}
		plan.Orders = append(plan.Orders, order)
	}
	for _, c := range shuffle(900)[:samples] {
		plan.Codes = append(plan.Codes, fmt.Sprint(100+c))
	}
	return plan, nil
}
