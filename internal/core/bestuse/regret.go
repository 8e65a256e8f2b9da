package bestuse

import (
	"math"
	"slices"
)

// Came is a week as it may come: by product what of it sells at its price, and by how much more or less there is of it.
type Came struct {
	Caps    []float64 // kilograms; +Inf for no limit
	Factors []float64 // 1 is as was reckoned
}

// Tried is what a use brings over many weeks as they may come.
type Tried struct {
	Mean      float64
	Worst     float64 // the tenth that goes worst brings less
	Regret    float64 // nine times of ten it is behind the best of those tried by no more than this
	MeanLoses float64 // by how much it is behind the best, in the mean
}

// Try tries uses of one problem, each in the same weeks.
func (p Problem) Try(uses []Solution, weeks []Came) []Tried {
	order, at := p.falling(), p.places()
	values := make([][]float64, len(uses))
	for u, s := range uses {
		cost := -s.Value.Float()
		for _, x := range s.Sales {
			cost += x.Value.Float()
		}
		values[u] = make([]float64, len(weeks))
		for w, came := range weeks {
			into := make([]float64, len(p.Products))
			v := -cost
			for _, j := range order {
				pr := p.Products[j]
				q := s.Sales[j].Made.Grams()/1000*came.Factors[j] + into[j]
				full := math.Min(q, came.Caps[j])
				v += pr.Price.Float() * full
				if to, ok := at[pr.FallsTo]; ok {
					into[to] += q - full
				} else {
					v += pr.Fallback.Float() * (q - full)
				}
			}
			values[u][w] = v
		}
	}
	out := make([]Tried, len(uses))
	for u := range uses {
		behind := make([]float64, len(weeks))
		for w := range weeks {
			best := values[0][w]
			for _, other := range values {
				best = math.Max(best, other[w])
			}
			behind[w] = best - values[u][w]
			out[u].Mean += values[u][w] / float64(len(weeks))
			out[u].MeanLoses += behind[w] / float64(len(weeks))
		}
		out[u].Worst, out[u].Regret = quantile(values[u], 0.1), quantile(behind, 0.9)
	}
	return out
}

// quantile is the value that so much of a list lies at or below.
func quantile(list []float64, p float64) float64 {
	if len(list) == 0 {
		return 0
	}
	sorted := slices.Sorted(slices.Values(list))
	return sorted[max(0, int(math.Ceil(p*float64(len(sorted))))-1)]
}

// Safest is the use whose worst tenth brings most, among those whose mean is within one per cent of the best mean.
func Safest(list []Tried) int {
	best := 0
	for i, t := range list {
		if t.Mean > list[best].Mean {
			best = i
		}
	}
	safe := best
	for i, t := range list {
		if t.Mean >= list[best].Mean-0.01*math.Abs(list[best].Mean) && t.Worst > list[safe].Worst {
			safe = i
		}
	}
	return safe
}
