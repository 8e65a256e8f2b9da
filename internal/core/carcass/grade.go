package carcass

import (
	"fmt"
	"math"

	"falda/internal/core/fault"
)

// Beef are the measurements behind a beef yield grade.
type Beef struct {
	FatIn      float64 // adjusted fat thickness over the rib eye, inches
	KphPct     float64 // kidney, pelvic and heart fat, per cent of the carcass
	HotLb      float64 // hot carcass weight, pounds
	RibeyeSqIn float64 // rib-eye area, square inches
}

// YieldGrade is 2.50 + 2.50·fat + 0.20·KPH % + 0.0038·hot weight − 0.32·rib-eye area, not rounded; the grade that is
// stamped is its whole part, from 1 to 5. Source: USDA, United States Standards for Grades of Carcass Beef (from
// memory). Faults name "fat_in", "kph_pct", "hot_lb", "ribeye_sq_in".
func (b Beef) YieldGrade() (exact float64, grade int, err error) {
	var faults fault.List
	within(&faults, "fat_in", b.FatIn, 0, 4)
	within(&faults, "kph_pct", b.KphPct, 0, 15)
	within(&faults, "hot_lb", b.HotLb, 200, 2000)
	within(&faults, "ribeye_sq_in", b.RibeyeSqIn, 4, 30)
	exact = 2.50 + 2.50*b.FatIn + 0.20*b.KphPct + 0.0038*b.HotLb - 0.32*b.RibeyeSqIn
	return exact, stamped(exact), faults.Err()
}

// LambYieldGrade is 0.4 + 10·fat over the rib eye in inches, and the grade that is stamped. Source: USDA, United States
// Standards for Grades of Lamb, Yearling Mutton and Mutton Carcasses (from memory). Faults name "fat_in".
func LambYieldGrade(fatIn float64) (exact float64, grade int, err error) {
	var faults fault.List
	within(&faults, "fat_in", fatIn, 0, 2)
	exact = 0.4 + 10*fatIn
	return exact, stamped(exact), faults.Err()
}

// stamped is the whole part, never above 5 or below 1; the thousandth that floating point may lack is given.
func stamped(exact float64) int {
	return int(math.Min(5, math.Max(1, math.Floor(exact+1e-9))))
}

func within(faults *fault.List, field string, v, low, high float64) {
	if !(v >= low && v <= high) {
		faults.Add(field,
			fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", low, high), "Check the figure and its unit."))
	}
}
