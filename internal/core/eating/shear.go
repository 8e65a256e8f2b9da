package eating

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"

	"falda/internal/core/fault"
)

// Shear force of a cooked steak, Warner–Bratzler, in kilograms-force. Source: ASTM F2925 (from memory): the mean of at
// least six cores; up to 4.4 kgf tender, up to 3.9 kgf very tender.
const (
	MinCores   = 6
	tender     = 4.4
	veryTender = 3.9
)

// ShearResult is the mean of the cores and its class: "very_tender", "tender" or "above".
type ShearResult struct {
	Cores    int
	Mean, SD float64 // kgf
	Class    string
}

// Shear works cores out; each above 0 and at most 30 kgf, six at least.
func Shear(cores []float64) (ShearResult, error) {
	var faults fault.List
	for i, c := range cores {
		if math.IsNaN(c) || c <= 0 || c > 30 {
			faults.Add(fmt.Sprintf("cores[%d]", i),
				fault.New("", "out_of_range", "must be above 0 and at most 30 kgf", "Newtons are 9.80665 times as many."))
		}
	}
	if len(cores) < MinCores {
		faults.Add("cores",
			fault.New("", "too_few", fmt.Sprintf("are fewer than %d", MinCores),
				"Take more cores of the same steak; a mean of fewer says too little."))
	}
	if err := faults.Err(); err != nil {
		return ShearResult{}, err
	}
	r := ShearResult{Cores: len(cores), Class: "above"}
	r.Mean, r.SD = stat.MeanStdDev(cores, nil)
	switch mean := math.Round(r.Mean*1e9) / 1e9; { // 3.9 from six cores is 3.9
	case mean <= veryTender:
		r.Class = "very_tender"
	case mean <= tender:
		r.Class = "tender"
	}
	return r, nil
}
