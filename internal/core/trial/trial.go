// Package trial says whether a difference between two ways is real.
package trial

import (
	"fmt"
	"math"
	"sort"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"falda/internal/core/fault"
)

// MinPairs is the fewest pairs, or pieces of a side, that say anything.
const MinPairs = 3

// most bounds the pairs.
const most = 10_000

// power is the chance with which a trial is to find a difference that is there.
const power = 0.80

// Result is the difference b − a. With too few values only N and Mean are set.
type Result struct {
	N         int // pairs, or values of both sides
	Same      int // of the pairs, those that differ the way that the mean does; 0 unpaired
	Mean      float64
	SD        float64 // of the differences; unpaired, of one value of b less one of a
	T, DF, P  float64 // two-sided
	Low, High float64 // of the confidence interval
	Verdict   string  // "real", "not yet sure", "no" (nothing varies and nothing differs) or "too few to tell"
	// further pairs, or values of each side, that would settle a difference of this size; 0 where too many would
	More   int
	Enough bool // to say anything
}

// Compare tests a against b: paired, value by value, by Student's t of the differences; unpaired by Welch's. confidence
// is in per cent, above 50 and below 100. Sources: Student 1908, Biometrika 6, 1–25; Welch 1947, Biometrika 34, 28–35
// (from memory).
func Compare(paired bool, a, b []float64, confidence float64) (Result, error) {
	if err := check(paired, a, b, confidence); err != nil {
		return Result{}, err
	}
	if !paired {
		return Welch(sample(a), sample(b), confidence)
	}
	var r Result
	d := make([]float64, len(a))
	for i := range a {
		d[i] = b[i] - a[i]
	}
	r.N, r.Mean, r.Verdict = len(d), stat.Mean(d, nil), "too few to tell"
	for _, x := range d {
		if x*r.Mean > 0 {
			r.Same++
		}
	}
	if r.N < MinPairs {
		return r, nil
	}
	r.SD = stat.StdDev(d, nil)
	r.DF = float64(r.N - 1)
	r.finish(r.SD/math.Sqrt(float64(r.N)), confidence, r.N)
	return r, nil
}

// Sample is how many values there are, their mean and their standard deviation.
type Sample struct {
	N        int
	Mean, SD float64
}

func sample(v []float64) Sample {
	s := Sample{N: len(v), Mean: stat.Mean(v, nil)}
	if s.N > 1 {
		s.SD = stat.StdDev(v, nil)
	}
	return s
}

// Welch tests a against b, unpaired, where only their numbers, means and standard deviations are known. confidence is
// in per cent, above 50 and below 100. Source: Welch 1947, Biometrika 34, 28–35 (from memory).
func Welch(a, b Sample, confidence float64) (Result, error) {
	if !(confidence > 50 && confidence < 100) {
		return Result{}, fault.New("confidence_pct", "out_of_range", "must be above 50 and below 100", "95 is usual.")
	}
	r := Result{N: a.N + b.N, Mean: b.Mean - a.Mean, Verdict: "too few to tell"}
	if a.N < MinPairs || b.N < MinPairs {
		return r, nil
	}
	na, nb := float64(a.N), float64(b.N)
	va, vb := a.SD*a.SD/na, b.SD*b.SD/nb
	r.SD = math.Sqrt(va*na + vb*nb)
	r.DF = (va + vb) * (va + vb) / (va*va/(na-1) + vb*vb/(nb-1))
	r.finish(math.Sqrt(va+vb), confidence, min(a.N, b.N))
	return r, nil
}

// finish works t, p, the interval and the verdict out of a standard error.
func (r *Result) finish(se, confidence float64, have int) {
	r.Enough = true
	if se == 0 { // nothing varies: what differs differs for certain
		r.Low, r.High, r.P, r.Verdict = r.Mean, r.Mean, 1, "no"
		if r.DF = float64(r.N - 1); r.Mean != 0 {
			r.P, r.Verdict = 0, "real"
		}
		return
	}
	law := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: r.DF}
	r.T = r.Mean / se
	r.P = 2 * law.CDF(-math.Abs(r.T))
	half := law.Quantile((1+confidence/100)/2) * se
	r.Low, r.High = r.Mean-half, r.Mean+half
	r.judge(confidence, have)
}

// judge says it plainly. Where it is not sure, it says how many more would settle a difference as large as the one that
// was found, as long as that can be done: at most ten times what there is. A difference that was not found is not a
// difference that is not there: "no" is for values that do not vary and do not differ.
func (r *Result) judge(confidence float64, have int) {
	if r.P < 1-confidence/100 {
		r.Verdict = "real"
		return
	}
	need := Needed(math.Abs(r.Mean), r.SD, confidence)
	r.Verdict = "not yet sure"
	if need > 0 && need <= 10*have {
		r.More = max(1, need-have)
	}
}

// Corrected is the result with a p-value that was corrected for asking several questions (Holm), and the verdict that
// follows.
func (r Result) Corrected(p, confidence float64) Result {
	if r.Enough {
		r.P = p
		if r.Verdict == "real" && p >= 1-confidence/100 {
			r.Verdict = "not yet sure"
		}
	}
	return r
}

// Cell is the values of one group in one stratum: how many, their mean and standard deviation.
type Cell struct {
	Stratum string
	In      bool // of the group that is asked about; otherwise of the rest
	Sample
}

// Stratified tests a group against the rest within strata, such as the plans that pieces were cut by: only values of
// one stratum are compared, the differences are weighted by n₁·n₂/(n₁+n₂), and one standard deviation within all cells
// is pooled (the test of a factor in an additive two-way layout; Fisher 1925, Statistical Methods for Research Workers,
// from memory). With one stratum it is Welch's test. N is the number of values that could be compared; with fewer than
// three of either, or none, it is too few to tell.
func Stratified(cells []Cell, confidence float64) (Result, error) {
	type pair struct{ in, out Sample }
	var names []string
	strata := map[string]*pair{}
	for _, c := range cells {
		if strata[c.Stratum] == nil {
			strata[c.Stratum] = &pair{}
			names = append(names, c.Stratum)
		}
		if p := strata[c.Stratum]; c.In {
			p.in = p.in.With(c.Sample)
		} else {
			p.out = p.out.With(c.Sample)
		}
	}
	r := Result{Verdict: "too few to tell"}
	var shared []pair
	in, out := 0, 0
	for _, n := range names {
		if p := *strata[n]; p.in.N > 0 && p.out.N > 0 {
			shared = append(shared, p)
			in, out = in+p.in.N, out+p.out.N
		}
	}
	r.N = in + out
	if len(shared) == 1 {
		return Welch(shared[0].out, shared[0].in, confidence)
	}
	if !(confidence > 50 && confidence < 100) {
		return r, fault.New("confidence_pct", "out_of_range", "must be above 50 and below 100", "95 is usual.")
	}
	weights, squares, free := 0.0, 0.0, 0
	for _, p := range shared {
		w := float64(p.in.N) * float64(p.out.N) / float64(p.in.N+p.out.N)
		r.Mean += w * (p.in.Mean - p.out.Mean)
		weights += w
		for _, s := range []Sample{p.in, p.out} {
			squares += s.SD * s.SD * float64(s.N-1)
			free += s.N - 1
		}
	}
	if weights > 0 {
		r.Mean /= weights
	}
	if in < MinPairs || out < MinPairs || free < 1 {
		return r, nil
	}
	r.SD, r.DF = math.Sqrt(squares/float64(free)), float64(free)
	r.finish(r.SD/math.Sqrt(weights), confidence, min(in, out))
	return r, nil
}

// With is two samples as one.
func (s Sample) With(o Sample) Sample {
	n := float64(s.N + o.N)
	if n == 0 {
		return Sample{}
	}
	out := Sample{N: s.N + o.N, Mean: (s.Mean*float64(s.N) + o.Mean*float64(o.N)) / n}
	squares := 0.0
	for _, x := range []Sample{s, o} {
		if x.N > 0 {
			squares += x.SD*x.SD*float64(x.N-1) + float64(x.N)*(x.Mean-out.Mean)*(x.Mean-out.Mean)
		}
	}
	if out.N > 1 {
		out.SD = math.Sqrt(squares / (n - 1))
	}
	return out
}

// Pooled is the standard deviation within several samples; 0 where none holds two values.
func Pooled(samples ...Sample) float64 {
	squares, free := 0.0, 0
	for _, s := range samples {
		if s.N > 1 {
			squares += s.SD * s.SD * float64(s.N-1)
			free += s.N - 1
		}
	}
	if free == 0 {
		return 0
	}
	return math.Sqrt(squares / float64(free))
}

// Needed is how many pairs find a difference with a power of 80 % where the differences have a standard deviation; 0
// where no number would. By the usual approximation n ≥ (t(1−α/2) + t(0.8))²·(sd/difference)² with n − 1 degrees of
// freedom.
func Needed(difference, sd, confidence float64) int {
	if !(difference > 0) || !(sd > 0) {
		return 0
	}
	alpha := 1 - confidence/100
	ratio := sd / difference
	if ratio > 100 {
		return 0
	}
	enough := func(n int) float64 {
		law := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(n - 1)}
		z := law.Quantile(1-alpha/2) + law.Quantile(power)
		return z * z * ratio * ratio
	}
	// what is enough falls with n: what it is for the fewest pairs is enough for all
	most := max(0, int(math.Ceil(enough(MinPairs)))-MinPairs)
	return MinPairs + sort.Search(most, func(i int) bool { return float64(MinPairs+i) >= enough(MinPairs+i) })
}

func check(paired bool, a, b []float64, confidence float64) error {
	var faults fault.List
	for _, x := range []struct {
		name  string
		value []float64
	}{{"a", a}, {"b", b}} {
		name, list := x.name, x.value
		if len(list) == 0 || len(list) > most {
			faults.Add(name, fault.New("", "out_of_range", "must hold 1 to 10,000 values", ""))
		}
		for i, v := range list {
			if math.IsNaN(v) || math.Abs(v) > 1e12 {
				faults.Add(fmt.Sprintf("%s[%d]", name, i), fault.New("", "out_of_range", "must be a number within ±1e12", ""))
			}
		}
	}
	if paired && len(a) != len(b) {
		faults.Add("b",
			fault.New("", "unpaired", "has another number of values than a",
				"Give one for each pair, or compare them unpaired."))
	}
	if !(confidence > 50 && confidence < 100) {
		faults.Add("confidence_pct", fault.New("", "out_of_range", "must be above 50 and below 100", "95 is usual."))
	}
	return faults.Err()
}
