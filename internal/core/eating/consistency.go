package eating

import (
	"math"

	"gonum.org/v1/gonum/stat"
)

// Assessor is how one eater's scores lie to the others'. Who is odd is flagged and never left out.
type Assessor struct {
	Samples   int     // with a composite
	Mean      float64 // of them
	SD        float64 // standard deviation of them; 0 with fewer than two
	Agreement float64 // correlation with the mean of the others over the same samples; NaN where it cannot be told
	Flag      string  // empty, "flat" (hardly tells samples apart) or "contrary" (ranks them against the others)
}

// How few samples still say something of an eater, and what is flagged. Common practice, no source.
const (
	leastSamples = 4
	flatSpread   = 4.0 // points
	against      = -0.3
)

// Consistency looks at each eater's composites: scores[eater][sample], NaN where there is none.
func Consistency(scores [][]float64) []Assessor {
	out := make([]Assessor, len(scores))
	for e, mine := range scores {
		var own, others, paired []float64
		for s, v := range mine {
			if math.IsNaN(v) {
				continue
			}
			own = append(own, v)
			var rest []float64
			for o, theirs := range scores {
				if o != e && !math.IsNaN(theirs[s]) {
					rest = append(rest, theirs[s])
				}
			}
			if len(rest) > 0 {
				others, paired = append(others, stat.Mean(rest, nil)), append(paired, v)
			}
		}
		x := Assessor{Samples: len(own), Agreement: math.NaN()}
		if len(own) > 0 {
			x.Mean = stat.Mean(own, nil)
		}
		if len(own) > 1 {
			x.SD = stat.StdDev(own, nil)
		}
		if len(paired) >= leastSamples {
			x.Agreement = stat.Correlation(paired, others, nil)
		}
		switch {
		case len(own) < leastSamples:
		case x.SD < flatSpread:
			x.Flag = "flat"
		case x.Agreement < against:
			x.Flag = "contrary"
		}
		out[e] = x
	}
	return out
}
