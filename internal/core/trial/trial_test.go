package trial

import (
	"math"
	"testing"

	"falda/internal/core/fault"
)

func near(a, b, within float64) bool { return math.Abs(a-b) <= within }

// The sleep data of Student 1908, in every R installation as `sleep`: hours of extra sleep under two drugs.
var group1, group2 = []float64{0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0.0, 2.0}, []float64{1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4}

// Source: R's t.test of those data, paired and by Welch; b − a turns the signs.
func TestStudentsSleepData(t *testing.T) {
	p, err := Compare(true, group1, group2, 95)
	if err != nil || p.N != 10 || !near(p.Mean, 1.58, 1e-12) || !near(p.T, 4.0621, 5e-5) || p.DF != 9 || !near(p.P, 0.002833, 5e-7) || !near(p.Low, 0.7001142, 5e-8) || !near(p.High, 2.4598858, 5e-8) || p.Verdict != "real" {
		t.Errorf("paired: %+v, %v", p, err)
	}
	w, err := Compare(false, group1, group2, 95)
	if err != nil || !near(w.T, 1.8608, 5e-5) || !near(w.DF, 17.776, 5e-4) || !near(w.P, 0.07939, 5e-6) || !near(w.Low, -0.2054832, 5e-8) || !near(w.High, 3.3654832, 5e-8) || w.Verdict != "not yet sure" || w.More <= 0 {
		t.Errorf("Welch: %+v, %v", w, err)
	}
	if back, _ := Compare(true, group2, group1, 95); !near(back.Mean, -p.Mean, 1e-12) || !near(back.Low, -p.High, 1e-9) {
		t.Errorf("the other way about: %+v", back)
	}
}

// Source: R's power.t.test(delta = 0.5, sd = 1, type = "paired", power = 0.8) needs 33.37 pairs, delta = 1 needs 9.94 (from memory).
func TestPairsNeeded(t *testing.T) {
	for difference, want := range map[float64]int{0.5: 34, 1: 10} {
		if got := Needed(difference, 1, 95); got != want {
			t.Errorf("a difference of %g s.d. needs %d pairs, want %d", difference, got, want)
		}
	}
	if Needed(0, 1, 95) != 0 || Needed(1, 0, 95) != 0 || Needed(1e-6, 1, 95) != 0 {
		t.Error("a number of pairs for nothing")
	}
}

func TestWhatCannotBeTold(t *testing.T) {
	if r, err := Compare(true, []float64{1, 2}, []float64{2, 4}, 95); err != nil || r.Verdict != "too few to tell" || r.Enough || r.Mean != 1.5 {
		t.Errorf("two pairs: %+v, %v", r, err)
	}
	if r, err := Compare(true, []float64{1, 2, 3}, []float64{2, 3, 4}, 95); err != nil || r.Verdict != "real" || r.Low != 1 || r.High != 1 {
		t.Errorf("always one more: %+v, %v", r, err)
	}
	if r, err := Compare(false, []float64{5, 5, 5}, []float64{5, 5, 5}, 95); err != nil || r.Verdict != "no" || r.P != 1 {
		t.Errorf("no difference at all: %+v, %v", r, err)
	}
	if r, err := Compare(true, []float64{10, 20, 30, 40}, []float64{11, 18, 31.2, 39.9}, 95); err != nil || r.Verdict != "not yet sure" || r.More != 0 {
		t.Errorf("noise: %+v, %v", r, err)
	}
	for name, c := range map[string]struct {
		paired     bool
		a, b       []float64
		confidence float64
	}{"none": {true, nil, nil, 95}, "unlike": {true, []float64{1, 2, 3}, []float64{1, 2}, 95}, "certain": {true, []float64{1, 2, 3}, []float64{1, 2, 4}, 100}, "no number": {false, []float64{1, 2, math.NaN()}, []float64{1, 2, 4}, 95}} {
		if r, err := Compare(c.paired, c.a, c.b, c.confidence); fault.Of(err) == nil {
			t.Errorf("%s: %+v", name, r)
		}
	}
}

// Worked by hand: 0.01, 0.04, 0.03 and 0.005 of four questions: 0.005·4 = 0.02, 0.01·3 = 0.03, 0.03·2 = 0.06, and 0.04·1 no less than 0.06. It
// is what R's p.adjust(c(0.01, 0.04, 0.03, 0.005), "holm") gives (from memory).
func TestHolmByHand(t *testing.T) {
	got := Holm([]float64{0.01, 0.04, 0.03, 0.005})
	for i, want := range []float64{0.03, 0.06, 0.06, 0.02} {
		if !near(got[i], want, 1e-12) {
			t.Errorf("%v", got)
		}
	}
	if one := Holm([]float64{0.6, 0.7}); one[0] != 1 || one[1] != 1 {
		t.Errorf("no more than 1: %v", one)
	}
}

// Median 2 of 1, 2, 2, 3, 30; deviations 1, 0, 0, 1, 28 with the median 1: 28 are more than 3.5 · 1.4826.
func TestOutliersAreMarked(t *testing.T) {
	if got := Outliers([]float64{1, 2, 2, 3, 30}); !got[4] || got[0] || got[1] || got[2] || got[3] {
		t.Errorf("%v", got)
	}
	for _, quiet := range [][]float64{{1, 2, 90}, {1, 1, 1, 1, 9}, nil} {
		for _, o := range Outliers(quiet) {
			if o {
				t.Errorf("%v has one", quiet)
			}
		}
	}
}

// The example of docs/value.md: 1.60, 1.40, 1.80 and 1.20 have the mean 1.50, the standard deviation √(0.2/3) and t = 11.62 with 3 degrees of
// freedom; p of that by the closed form of Student's law with 3 degrees.
func TestTheExampleWithAPencil(t *testing.T) {
	r, err := Compare(true, []float64{0, 0, 0, 0}, []float64{1.6, 1.4, 1.8, 1.2}, 95)
	x := 1.5 / (math.Sqrt(0.2/3) / 2) / math.Sqrt(3)
	p := 1 - 2/math.Pi*(math.Atan(x)+x/(1+x*x))
	if err != nil || !near(r.Mean, 1.5, 1e-12) || !near(r.T, 11.619, 1e-3) || !near(r.P, p, 1e-9) || !near(r.P, 0.0014, 5e-5) || r.Verdict != "real" {
		t.Errorf("%+v, by the closed form p = %.6f, %v", r, p, err)
	}
}
