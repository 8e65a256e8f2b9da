package demand

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"

	"falda/internal/core/fault"
)

// By hand: 34 and 20 in as many days are 1.7. Limits by solving the binomial tails for 2.5 %: a brute search over p.
func TestRateRatioByHand(t *testing.T) {
	r, err := RateRatio(Sold{34, 14}, Sold{20, 14}, 0.95)
	if err != nil || math.Abs(*r.Ratio-1.7) > 1e-12 {
		t.Fatalf("%+v, %v", r, err)
	}
	search := func(above bool) float64 { // p at which the tail is 2.5 %
		low, high := 0.0, 1.0
		for range 200 {
			p := (low + high) / 2
			d := distuv.Binomial{N: 54, P: p}
			tail := d.CDF(34)
			if above {
				tail = 1 - d.CDF(33)
			}
			if (tail < 0.025) == above {
				low = p
			} else {
				high = p
			}
		}
		return (low + high) / 2
	}
	low, high := search(true), search(false)
	if math.Abs(*r.Low-low/(1-low)) > 1e-6 || math.Abs(*r.High-high/(1-high)) > 1e-6 {
		t.Errorf("%g to %g, want %g to %g", *r.Low, *r.High, low/(1-low), high/(1-high))
	}
	// P of 34 or more of 54 at a half, twice
	d := distuv.Binomial{N: 54, P: 0.5}
	if want := 2 * (1 - d.CDF(33)); math.Abs(r.P-want) > 1e-9 {
		t.Errorf("p %g, want %g", r.P, want)
	}
}

// What is not known is left out: none of the second, none of the first, none at all; twice the days halve the rate.
func TestRateRatioEdges(t *testing.T) {
	r, _ := RateRatio(Sold{5, 7}, Sold{0, 7}, 0.95)
	if r.Ratio != nil || r.High != nil || r.Low == nil || *r.Low <= 0 {
		t.Errorf("none of the second: %+v", r)
	}
	if r, _ = RateRatio(Sold{0, 7}, Sold{5, 7}, 0.95); *r.Low != 0 || *r.Ratio != 0 || *r.High <= 0 {
		t.Errorf("none of the first: %+v", r)
	}
	if r, _ = RateRatio(Sold{0, 7}, Sold{0, 7}, 0.95); r.Ratio != nil || r.Low != nil || r.High != nil || r.P != 1 {
		t.Errorf("none at all: %+v", r)
	}
	if r, _ = RateRatio(Sold{10, 20}, Sold{10, 10}, 0.9); math.Abs(*r.Ratio-0.5) > 1e-12 {
		t.Errorf("in twice the days: %+v", r)
	}
	for field, f := range map[string]func() error{
		"a.count": func() error { _, err := RateRatio(Sold{-1, 7}, Sold{1, 7}, 0.95); return err },
		"b.days":  func() error { _, err := RateRatio(Sold{1, 7}, Sold{1, 0}, 0.95); return err },
		"level":   func() error { _, err := RateRatio(Sold{1, 7}, Sold{1, 7}, 1); return err }} {
		if list := fault.Of(f()); len(list) != 1 || list[0].Field != field {
			t.Errorf("%s: %v", field, list)
		}
	}
}

// By hand: a prior of 10 packs a week that weighs one week, and one week of 16 now: (10 + 16) / 2 = 13. The interval is
// that of 200,000 draws of a rate from gamma and a count from Poisson, to a pack.
func TestExpect(t *testing.T) {
	f := Expect(Prior{10, 1}, []Week{{16, 0}}, HalfLife)
	if math.Abs(f.Mean-13) > 1e-12 || f.N != 1 || f.Weight != 1 {
		t.Errorf("%+v", f)
	}
	if old := Expect(Prior{10, 1}, []Week{{16, 8}}, HalfLife); math.Abs(old.Mean-(10+8)/1.5) > 1e-12 {
		t.Errorf("a week of eight weeks ago counts half: %+v", old)
	}
	src := rand.NewPCG(9, 9)
	gamma := distuv.Gamma{Alpha: 26, Beta: 2, Src: src}
	below, above := 0, 0
	const draws = 200_000
	for range draws {
		x := distuv.Poisson{Lambda: gamma.Rand(), Src: src}.Rand()
		if x <= float64(f.Low) {
			below++
		}
		if x <= float64(f.High) {
			above++
		}
	}
	if p := float64(below) / draws; p < 0.1-0.005 || p > 0.16 {
		t.Errorf("%.3f are at most %d", p, f.Low)
	}
	if p := float64(above) / draws; p < 0.9-0.005 || p > 0.95 {
		t.Errorf("%.3f are at most %d", p, f.High)
	}
}
