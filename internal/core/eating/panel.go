package eating

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"falda/internal/core/fault"
)

// Ratings are what one eater gave one sample, 0–100 each; nil where the eater gave none.
type Ratings struct {
	Tenderness, Juiciness, Flavour, Overall *float64
}

// Weights are the parts of the attributes in the composite.
type Weights struct {
	ID                                      string
	Tenderness, Juiciness, Flavour, Overall float64
}

// The two sets of weights in use. Source: Watson, Gee, Polkinghorne & Porter 2008, Aust. J. Exp. Agric. 48 (from
// memory); the older ones are those of the work before it.
var (
	Current = Weights{"current", 0.3, 0.1, 0.3, 0.3}
	Older   = Weights{"older", 0.4, 0.1, 0.2, 0.3}
)

// AllWeights lists the sets of weights.
var AllWeights = []Weights{Current, Older}

// FindWeights gives a set of weights by its name; the empty name is the current one.
func FindWeights(id string) (Weights, bool) {
	for _, w := range AllWeights {
		if id == w.ID || (id == "" && w.ID == Current.ID) {
			return w, true
		}
	}
	return Weights{}, false
}

// Composite is an eater's score of a sample, 0–100; ok is false where a mark is missing.
func (w Weights) Composite(m Ratings) (score float64, ok bool) {
	if m.Tenderness == nil || m.Juiciness == nil || m.Flavour == nil || m.Overall == nil {
		return 0, false
	}
	return w.Tenderness**m.Tenderness + w.Juiciness**m.Juiciness + w.Flavour**m.Flavour + w.Overall**m.Overall, true
}

// PanelResult is what a panel of eaters says of one sample. Means are clipped.
type PanelResult struct {
	Assessors                               int // sheets with any mark
	Complete                                int // sheets with all four, which the score is of
	Dropped                                 int // of the composites, from each end
	Tenderness, Juiciness, Flavour, Overall float64
	Score                                   float64
	// of the composites that were kept for nothing but this: all of them, n − 1
	SD    float64
	Grade Grade
}

// Clip is how many values are dropped from each end of n: ⌊n/5⌋, so of ten the two highest and the two lowest. Source
// as for the weights.
func Clip(n int) int { return n / 5 }

// ClippedMean drops Clip(n) values from each end and takes the mean of the rest; of no values NaN.
func ClippedMean(values []float64) float64 {
	sorted := slices.Sorted(slices.Values(values))
	drop := Clip(len(sorted))
	return stat.Mean(sorted[drop:len(sorted)-drop], nil)
}

// Panel works a tasting of one sample out. Missing marks: an eater counts for each attribute that was marked, and for
// the score only with all four. Marks must be from 0 to 100, and at least one sheet complete; faults name the mark,
// such as scores[3].flavour.
func Panel(scores []Ratings, w Weights) (PanelResult, error) {
	var faults fault.List
	var r PanelResult
	columns := [4][]float64{}
	var composites []float64
	for i, m := range scores {
		any := false
		for c, mark := range []struct {
			name string
			v    *float64
		}{{"tenderness", m.Tenderness}, {"juiciness", m.Juiciness}, {"flavour", m.Flavour}, {"overall", m.Overall}} {
			if mark.v == nil {
				continue
			}
			if math.IsNaN(*mark.v) || *mark.v < 0 || *mark.v > 100 {
				faults.Add(fmt.Sprintf("scores[%d].%s", i, mark.name),
					fault.New("", "out_of_range", "must be from 0 to 100", "Read the mark off the line anew."))
				continue
			}
			any = true
			columns[c] = append(columns[c], *mark.v)
		}
		if any {
			r.Assessors++
		}
		if s, ok := w.Composite(m); ok {
			composites = append(composites, s)
		}
	}
	if err := faults.Err(); err != nil {
		return r, err
	}
	if len(composites) == 0 {
		return r, fault.New("scores", "none", "hold no sheet with all four marks", "Enter at least one complete sheet.")
	}
	r.Complete, r.Dropped = len(composites), Clip(len(composites))
	for c, into := range []*float64{&r.Tenderness, &r.Juiciness, &r.Flavour, &r.Overall} {
		*into = ClippedMean(columns[c])
	}
	r.Score = ClippedMean(composites)
	if len(composites) > 1 {
		r.SD = stat.StdDev(composites, nil)
	}
	r.Grade = Of(r.Score)
	return r, nil
}
