package trial

import (
	"math"
	"testing"

	"falda/internal/core/fault"
)

func near(a, b, within float64) bool { return math.Abs(a-b) <= within }

// The sleep data of Student 1908, in every R installation as `sleep`: hours of extra sleep under two drugs.
var group1, group2 = []float64{0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0.0, 2.0},
	[]float64{1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4}

// Source: R's t.test of those data, paired and by Welch; b − a turns the signs.
func TestStudentsSleepData(t *testing.T) {
	p, err := Compare(true, group1, group2, 95)
	if err != nil || p.N != 10 || !near(p.Mean, 1.58, 1e-12) || !near(p.T, 4.0621, 5e-5) || p.DF != 9 ||
		!near(p.P, 0.002833, 5e-7) || !near(p.Low, 0.7001142, 5e-8) || !near(p.High, 2.4598858, 5e-8) || p.Verdict != "real" {
		t.Errorf("paired: %+v, %v", p, err)
	}
	w, err := Compare(false, group1, group2, 95)
	if err != nil || !near(w.T, 1.8608, 5e-5) || !near(w.DF, 17.776, 5e-4) || !near(w.P, 0.07939, 5e-6) ||
		!near(w.Low, -0.2054832, 5e-8) || !near(w.High, 3.3654832, 5e-8) || w.Verdict != "not yet sure" || w.More <= 0 {
		t.Errorf("Welch: %+v, %v", w, err)
	}
	if back, _ := Compare(true, group2, group1, 95); !near(back.Mean, -p.Mean, 1e-12) || !near(back.Low, -p.High, 1e-9) {
		t.Errorf("the other way about: %+v", back)
	}
}

// Source: R's power.t.test(delta = 0.5, sd = 1, type = "paired", power = 0.8) needs 33.37 pairs, delta = 1 needs 9.94
// (from memory).
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
	if r, err := Compare(true, []float64{1, 2}, []float64{2, 4}, 95); err != nil || r.Verdict != "too few to tell" ||
		r.Enough || r.Mean != 1.5 {
		t.Errorf("two pairs: %+v, %v", r, err)
	}
	if r, err := Compare(true, []float64{1, 2, 3}, []float64{2, 3, 4}, 95); err != nil || r.Verdict != "real" ||
		r.Low != 1 || r.High != 1 {
		t.Errorf("always one more: %+v, %v", r, err)
	}
	if r, err := Compare(false, []float64{5, 5, 5}, []float64{5, 5, 5}, 95); err != nil || r.Verdict != "no" || r.P != 1 {
		t.Errorf("no difference at all: %+v, %v", r, err)
	}
	if r, err := Compare(true, []float64{10, 20, 30, 40}, []float64{11, 18, 31.2, 39.9}, 95); err != nil ||
		r.Verdict != "not yet sure" || r.More != 0 {
		t.Errorf("noise: %+v, %v", r, err)
	}
	for name, c := range map[string]struct {
		paired     bool
		a, b       []float64
		confidence float64
	}{"none": {true, nil, nil, 95}, "unlike": {true, []float64{1, 2, 3}, []float64{1, 2}, 95},
		"certain":   {true, []float64{1, 2, 3}, []float64{1, 2, 4}, 100},
		"no number": {false, []float64{1, 2, math.NaN()}, []float64{1, 2, 4}, 95}} {
		if r, err := Compare(c.paired, c.a, c.b, c.confidence); fault.Of(err) == nil {
			t.Errorf("%s: %+v", name, r)
		}
	}
}

// Worked by hand: 0.01, 0.04, 0.03 and 0.005 of four questions: 0.005·4 = 0.02, 0.01·3 = 0.03, 0.03·2 = 0.06, and
// 0.04·1 no less than 0.06. It is what R's p.adjust(c(0.01, 0.04, 0.03, 0.005), "holm") gives (from memory).
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

// The example of docs/value.md: 1.60, 1.40, 1.80 and 1.20 have the mean 1.50, the standard deviation √(0.2/3) and t =
// 11.62 with 3 degrees of freedom; p of that by the closed form of Student's law with 3 degrees.
func TestTheExampleWithAPencil(t *testing.T) {
	r, err := Compare(true, []float64{0, 0, 0, 0}, []float64{1.6, 1.4, 1.8, 1.2}, 95)
	x := 1.5 / (math.Sqrt(0.2/3) / 2) / math.Sqrt(3)
	p := 1 - 2/math.Pi*(math.Atan(x)+x/(1+x*x))
	if err != nil || !near(r.Mean, 1.5, 1e-12) || !near(r.T, 11.619, 1e-3) || !near(r.P, p, 1e-9) ||
		!near(r.P, 0.0014, 5e-5) || r.Verdict != "real" {
		t.Errorf("%+v, by the closed form p = %.6f, %v", r, p, err)
	}
}

// Rule: groups are held against each other within a stratum alone. With a pencil: in plan P one group has 1 2 3, the
// other 2 3 4; in plan Q 11 12 13 twice against 12 13 14. Within each plan the group is 1 lower, weights 3·3/6 and
// 6·3/9: 1.5 and 2; mean −1. The squares within the cells are 10, with 11 degrees of freedom, so that t is −1/√(10/11 /
// 3.5). Taken together without regard to plans the group would be ahead by 1.67.
func TestWithinStrataByHand(t *testing.T) {
	of := func(stratum string, in bool, values ...float64) Cell {
		return Cell{Stratum: stratum, In: in, Sample: sample(values)}
	}
	cells := []Cell{of("P", true, 1, 2, 3), of("P", false, 2, 3, 4), of("Q", true, 11, 12, 13, 11, 12, 13),
		of("Q", false, 12, 13, 14)}
	r, err := Stratified(cells, 95)
	if err != nil {
		t.Fatal(err)
	}
	// squares within: 2 + 2 + 4 + 2 = 10, with 2 + 2 + 5 + 2 = 11 degrees of freedom
	s := math.Sqrt(10.0 / 11)
	if want := -1 / (s * math.Sqrt(1/3.5)); math.Abs(r.Mean+1) > 1e-12 || math.Abs(r.T-want) > 1e-12 || r.DF != 11 ||
		r.N != 15 {
		t.Errorf("%+v, by hand t %.4f", r, want)
	}
	// t(11) is 1.796 at 10 % and 2.201 at 5 % of two sides, in any table (from memory)
	if r.P < 0.05 || r.P > 0.10 || r.Verdict == "real" {
		t.Errorf("t %.3f with 11 degrees of freedom has p %.4f and is %s", r.T, r.P, r.Verdict)
	}
	in, out := []float64{1, 2, 3, 11, 12, 13, 11, 12, 13}, []float64{2, 3, 4, 12, 13, 14}
	if mixed, err := Compare(false, out, in, 95); err != nil || mixed.Mean < 0 {
		t.Errorf("without strata the group looks better, %+v: the example shows nothing", mixed)
	}
	// what shares no stratum cannot be compared; one stratum is Welch's test
	alone, err := Stratified([]Cell{of("P", true, 1, 2, 3), of("Q", false, 12, 13, 14)}, 95)
	if err != nil || alone.N != 0 || alone.Enough || alone.Verdict != "too few to tell" {
		t.Errorf("%+v %v", alone, err)
	}
	one, err := Stratified([]Cell{of("P", true, in...), of("P", false, out...)}, 95)
	welch, err2 := Compare(false, out, in, 95)
	if err != nil || err2 != nil || one != welch {
		t.Errorf("%+v, by Welch %+v", one, welch)
	}
}

// Rule: who asks of many at once finds something by chance: a result counts as real by its corrected p alone; and it is
// never said that there is no difference where only none was found.
func TestCorrectedForManyQuestions(t *testing.T) {
	r, err := Compare(true, []float64{1, 2, 3, 4}, []float64{1.4, 2.9, 3.5, 4.9}, 95)
	if err != nil || r.Verdict != "real" {
		t.Fatal(r, err)
	}
	if c := r.Corrected(0.07, 95); c.Verdict != "not yet sure" || c.P != 0.07 {
		t.Errorf("%+v", c)
	}
	if c := r.Corrected(0.04, 95); c.Verdict != "real" {
		t.Errorf("%+v", c)
	}
	small, err := Compare(true, []float64{1, 2, 3, 4, 5}, []float64{1.9, 1.2, 3.8, 3.1, 5.01}, 95)
	if err != nil || small.Verdict != "not yet sure" {
		t.Errorf("a difference that is small beside its scatter: %+v %v", small, err)
	}
	if same, err := Compare(true, []float64{1, 2, 3}, []float64{1, 2, 3}, 95); err != nil || same.Verdict != "no" {
		t.Errorf("nothing differs: %+v %v", same, err)
	}
}
