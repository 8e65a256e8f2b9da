package markdown

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"falda/internal/core/fault"
)

func near(t *testing.T, what string, got, want float64) {
	t.Helper()
	if math.Abs(got-want) > 1e-9*math.Max(1, math.Abs(want)) {
		t.Errorf("%s: %v, want %v", what, got, want)
	}
}

// One pack and one day can be done by hand: it sells with the chance that anybody at all asks, 1 − e^−λ.
func TestOnePackOneDayByHand(t *testing.T) {
	a := Ask{Packs: 1, Days: 1, Price: 10, Steps: []float64{50}, PerDay: []float64{0.5}, Elasticity: 2, Waste: 1}
	p, err := Best(a)
	if err != nil {
		t.Fatal(err)
	}
	full := 10*(1-math.Exp(-0.5)) - math.Exp(-0.5)
	half := 5*(1-math.Exp(-2)) - math.Exp(-2) // a price of one half, to the power of −2: four times as many
	near(t, "held", p.Held, full)
	near(t, "best", p.Brings, math.Max(full, half))
	if half < full || p.Now != 50 || p.LowerFrom != 0 || p.Away {
		t.Errorf("half brings %v, full %v: %+v", half, full, p)
	}
	near(t, "left", p.LeftMean, math.Exp(-2))
	near(t, "left where the price is held", p.HeldLeft, math.Exp(-0.5))
}

// What nobody asks for goes elsewhere at once; what is sure to sell keeps its price.
func TestTheEndsAreObvious(t *testing.T) {
	p, err := Best(Ask{Packs: 8, Days: 3, Price: 6, Steps: []float64{10, 30}, PerDay: []float64{0}, Elasticity: 2,
		Elsewhere: 2})
	if err != nil || !p.Away || p.Keep != 0 {
		t.Errorf("nobody asks: %+v %v", p, err)
	}
	near(t, "elsewhere", p.Brings, 16)
	p, err = Best(Ask{Packs: 4, Days: 5, Price: 6, Steps: []float64{10, 30}, PerDay: []float64{40}, Elasticity: 2,
		Elsewhere: 2})
	if err != nil || p.Now != 0 || p.LowerFrom != -1 || p.Keep != 4 {
		t.Errorf("everybody asks: %+v %v", p, err)
	}
	near(t, "all at full price", p.Brings, 24)
}

// brute tries every rule there is: it recurses over all that can happen, and knows no table.
func brute(a Ask, day, n int, off float64) float64 {
	if day == a.Days {
		return -a.Waste * float64(n)
	}
	best := math.Inf(-1)
	for _, s := range append([]float64{off}, a.Steps...) {
		if s < off {
			continue
		}
		mean := a.PerDay[min(day, len(a.PerDay)-1)] * math.Pow(1-s/100, -a.Elasticity)
		price, v, rest, chance := a.Price*(1-s/100), 0.0, 1.0, math.Exp(-mean)
		for k := range n {
			v += chance * (float64(k)*price + brute(a, day+1, n-k, s))
			rest -= chance
			chance *= mean / float64(k+1)
		}
		v += rest * (float64(n)*price + brute(a, day+1, 0, s))
		best = math.Max(best, v)
	}
	for away := 1; away <= n; away++ {
		best = math.Max(best, float64(away)*a.Elsewhere+brute(a, day, n-away, off))
	}
	return best
}

func TestBestIsNoLessThanTryingEverything(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 9))
	for i := range 150 {
		a := Ask{Packs: 1 + r.IntN(4), Days: 1 + r.IntN(3), Price: 2 + 10*r.Float64(), Steps: []float64{20, 45},
			PerDay: []float64{3 * r.Float64(), 2 * r.Float64()}, Elasticity: 3 * r.Float64(), Elsewhere: 4 * r.Float64(),
			Waste: r.Float64()}
		if i%3 == 0 {
			a.Off = 20
		}
		p, err := Best(a)
		if err != nil {
			t.Fatal(err)
		}
		near(t, fmt.Sprintf("%+v", a), p.Brings, brute(a, 0, a.Packs, a.Off))
		if p.Held > p.Brings+1e-9 {
			t.Errorf("%+v: holding the price brings more: %+v", a, p)
		}
	}
}

// The days that are told are those of the plan: played often, it brings what it says.
func TestThePlanPlayedBringsWhatItSays(t *testing.T) {
	a := Ask{Packs: 12, Days: 4, Price: 8, Steps: []float64{10, 20, 30, 50}, PerDay: []float64{2, 2.5, 1.5, 3},
		Elasticity: 2, Elsewhere: 3, Waste: 0.5}
	p, err := Best(a)
	if err != nil {
		t.Fatal(err)
	}
	sells := 0.0
	for i, d := range p.Days {
		sells += d.Sells
		if i > 0 && d.Off < p.Days[i-1].Off-1e-9 && d.Packs > 0.5 {
			t.Errorf("day %d: the price rises again: %+v", i, p.Days)
		}
	}
	if away := float64(p.Keep) - sells - p.LeftMean; away < -1e-6 {
		t.Errorf("more leaves than there is: %v of %d", away, p.Keep)
	}
	if p.LeftMean > p.HeldLeft {
		t.Errorf("more is left than where the price is held: %+v", p)
	}
}

func TestAskIsChecked(t *testing.T) {
	_, err := Best(Ask{Packs: 0, Days: 99, Price: -1, PerDay: []float64{-2}, Steps: []float64{30, 20}, Elasticity: 11,
		Off: 101, Elsewhere: -1, Waste: math.NaN()})
	var faults fault.List
	if !errors.As(err, &faults) {
		t.Fatal(err)
	}
	said := map[string]bool{}
	for _, f := range faults {
		said[f.Field] = true
	}
	for _, field := range []string{"packs", "days", "price", "per_day[0]", "steps[1]", "elasticity", "off", "elsewhere",
		"waste"} {
		if !said[field] {
			t.Errorf("%s passes: %v", field, err)
		}
	}
}

func ExampleBest() {
	p, err := Best(Ask{Packs: 10, Days: 2, Price: 9, Steps: []float64{20, 40}, PerDay: []float64{2}, Elasticity: 2,
		Elsewhere: 2})
	fmt.Printf("%.0f %% off, sell %d: %.2f instead of %.2f %v\n", p.Now, p.Keep, p.Brings, p.Held, err)
	// Output: 20 % off, sell 10: 49.92 instead of 35.96 <nil>
}
