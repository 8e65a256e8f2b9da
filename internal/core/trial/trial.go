// Package trial says whether a difference between two ways is real.
package trial

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"falda/internal/core/fault"
)

// Least is the fewest pairs, or pieces of a side, that say anything.
const Least = 3

// most bounds the pairs.
const most = 10_000

// power is the chance with which a trial is to find a difference that is there.
const power = 0.80

// Result is the difference b − a. With too few values only N and Mean are set.
type Result struct {
	N         int // pairs, or values of both sides
	Mean      float64
	SD        float64 // of the differences; unpaired, of one value of b less one of a
	T, DF, P  float64 // two-sided
	Low, High float64 // of the confidence interval
	Verdict   string  // "real", "not yet sure", "no" or "too few to tell"
	More      int     // further pairs, or values of each side, that would settle a difference of this size
	Enough    bool    // to say anything
}

// Compare tests a against b: paired, value by value, by Student's t of the differences; unpaired by Welch's. confidence is in per cent, above 50 and
// below 100. Sources: Student 1908, Biometrika 6, 1–25; Welch 1947, Biometrika 34, 28–35 (from memory).
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
	if r.N < Least {
		return r, nil
	}
	r.SD = stat.StdDev(d, nil)
	r.DF = float64(r.N - 1)
	r.settle(r.SD/math.Sqrt(float64(r.N)), confidence, r.N)
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

// Welch tests a against b, unpaired, where only their numbers, means and standard deviations are known. confidence is in per cent, above 50 and
// below 100. Source: Welch 1947, Biometrika 34, 28–35 (from memory).
func Welch(a, b Sample, confidence float64) (Result, error) {
	if !(confidence > 50 && confidence < 100) {
		return Result{}, fault.New("confidence_pct", "out_of_range", "must be above 50 and below 100", "95 is usual.")
	}
	r := Result{N: a.N + b.N, Mean: b.Mean - a.Mean, Verdict: "too few to tell"}
	if a.N < Least || b.N < Least {
		return r, nil
	}
	na, nb := float64(a.N), float64(b.N)
	va, vb := a.SD*a.SD/na, b.SD*b.SD/nb
	r.SD = math.Sqrt(va*na + vb*nb)
	r.DF = (va + vb) * (va + vb) / (va*va/(na-1) + vb*vb/(nb-1))
	r.settle(math.Sqrt(va+vb), confidence, min(a.N, b.N))
	return r, nil
}

// settle works t, p, the interval and the verdict out of a standard error.
func (r *Result) settle(se, confidence float64, have int) {
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

// judge says it plainly. Where it is not sure, it says how many more would settle a difference as large as the one that was found; where that
// would take more than ten times what there is, the answer is no.
func (r *Result) judge(confidence float64, have int) {
	if r.P < 1-confidence/100 {
		r.Verdict = "real"
		return
	}
	need := Needed(math.Abs(r.Mean), r.SD, confidence)
	if need == 0 || need > 10*have {
		r.Verdict = "no"
		return
	}
	r.More = max(1, need-have)
	r.Verdict = "not yet sure"
}

// Needed is how many pairs find a difference with a power of 80 % where the differences have a standard deviation; 0 where no number would.
// By the usual approximation n ≥ (t(1−α/2) + t(0.8))²·(sd/difference)² with n − 1 degrees of freedom.
func Needed(difference, sd, confidence float64) int {
	if !(difference > 0) || !(sd > 0) {
		return 0
	}
	alpha := 1 - confidence/100
	ratio := sd / difference
	if ratio > 100 {
		return 0
	}
	for n := Least; ; n++ {
		law := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(n - 1)}
		z := law.Quantile(1-alpha/2) + law.Quantile(power)
		if float64(n) >= z*z*ratio*ratio {
			return n
		}
	}
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
		faults.Add("b", fault.New("", "unpaired", "has another number of values than a", "Give one for each pair, or compare them unpaired."))
	}
	if !(confidence > 50 && confidence < 100) {
		faults.Add("confidence_pct", fault.New("", "out_of_range", "must be above 50 and below 100", "95 is usual."))
	}
	return faults.Err()
}
