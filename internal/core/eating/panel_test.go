package eating

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
)

func marks(t, j, f, o float64) Ratings { return Ratings{&t, &j, &f, &o} }

// Worked by hand. Ten eaters, tenderness 10, 20 … 100, all else 50: of the tenderness the two highest and two
// lowest go, the mean of 30 … 80 is 55. Composites by the current weights are 0.3·T + 35: of 38 … 65 the middle six
// have the mean 51.5. By the older ones 0.4·T + 30: 52.
func TestPanelByHand(t *testing.T) {
	var scores []Ratings
	for _, i := range rand.New(rand.NewPCG(1, 2)).Perm(10) { // the order does not matter
		scores = append(scores, marks(float64(10*(i+1)), 50, 50, 50))
	}
	r, err := Panel(scores, Current)
	if err != nil || r.Dropped != 2 || r.Tenderness != 55 || r.Juiciness != 50 || math.Abs(r.Score-51.5) > 1e-9 ||
		r.Grade != Three || r.Complete != 10 {
		t.Errorf("%+v, %v", r, err)
	}
	if r, _ := Panel(scores, Older); math.Abs(r.Score-52) > 1e-9 {
		t.Errorf("by the older weights %+v", r)
	}
	for n, want := range map[int]int{1: 0, 4: 0, 5: 1, 9: 1, 10: 2, 14: 2, 15: 3} {
		if Clip(n) != want {
			t.Errorf("of %d eaters %d are dropped from each end", n, Clip(n))
		}
	}
}

// The composite is clipped by itself: who is extreme in the composite need not be so in any attribute.
func TestEachColumnIsClippedByItself(t *testing.T) {
	scores := []Ratings{marks(0, 90, 50, 50), marks(100, 10, 50, 50), marks(50, 50, 0, 100), marks(50, 50, 100, 0),
		marks(40, 60, 60, 40)}
	r, err := Panel(scores, Current)
	// tenderness: 40, 50, 50 of 0 … 100; juiciness 50, 50, 60; flavour 50, 50, 60; overall 40, 50, 50; composites 39, 61,
	// 50, 50, 48: the middle 48, 50, 50
	for name, got := range map[string][2]float64{"tenderness": {r.Tenderness, 140.0 / 3},
		"juiciness": {r.Juiciness, 160.0 / 3}, "flavour": {r.Flavour, 160.0 / 3}, "overall": {r.Overall, 140.0 / 3},
		"score": {r.Score, 148.0 / 3}} {
		if math.Abs(got[0]-got[1]) > 1e-9 || err != nil {
			t.Errorf("%s %g, by hand %g, %v", name, got[0], got[1], err)
		}
	}
	half := marks(90, 90, 90, 90)
	half.Flavour = nil
	if r, err := Panel(append(scores, half), Current); err != nil || r.Complete != 5 || r.Assessors != 6 ||
		math.Abs(r.Score-148.0/3) > 1e-9 {
		t.Errorf("a sheet without flavour counts for the score: %+v, %v", r, err)
	}
	for name, bad := range map[string][]Ratings{"none": nil, "no complete one": {half}, "101": {marks(101, 1, 1, 1)},
		"no number": {marks(math.NaN(), 1, 1, 1)}} {
		if _, err := Panel(bad, Current); fault.Of(err) == nil {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// Williams 1949 (from memory): every sample equally often in every place, every ordered pair of neighbours equally
// often, for 2 to 12 samples (and all that a tasting may have); t orders when t is even, 2t when odd.
func TestWilliamsIsBalanced(t *testing.T) {
	for n := 2; n <= MaxSamples; n++ {
		orders := Williams(n)
		if want := n * (1 + n%2); len(orders) != want {
			t.Errorf("%d samples: %d orders, want %d", n, len(orders), want)
		}
		places, pairs := map[[2]int]int{}, map[[2]int]int{}
		for _, o := range orders {
			if sorted := slices.Sorted(slices.Values(o)); len(sorted) != n || sorted[0] != 0 || sorted[n-1] != n-1 ||
				len(slices.Compact(sorted)) != n {
				t.Fatalf("%d samples: %v is no order", n, o)
			}
			for i, s := range o {
				places[[2]int{i, s}]++
				if i > 0 {
					pairs[[2]int{o[i-1], s}]++
				}
			}
		}
		each := 1 + n%2
		if len(places) != n*n || len(pairs) != n*(n-1) {
			t.Errorf("%d samples: %d places, %d pairs", n, len(places), len(pairs))
		}
		for what, counts := range map[string]map[[2]int]int{"place": places, "pair": pairs} {
			for k, c := range counts {
				if c != each {
					t.Errorf("%d samples: %s %v occurs %d times, want %d", n, what, k, c, each)
				}
			}
		}
	}
}

func seeded(seed uint64) Shuffle { return rand.New(rand.NewPCG(seed, 1)).Perm }

func TestServingPlans(t *testing.T) {
	p, err := Serve(6, 12, seeded(7))
	if err != nil || len(p.Orders) != 12 || len(p.Codes) != 6 || !p.Balanced {
		t.Fatalf("%+v, %v", p, err)
	}
	places, pairs := map[string]int{}, map[string]int{}
	for _, o := range p.Orders {
		for i, s := range o {
			places[fmt.Sprint(i, s)]++
			if i > 0 {
				pairs[fmt.Sprint(o[i-1], s)]++
			}
		}
	}
	if len(places) != 36 || len(pairs) != 30 || places["0 1"] != 2 || pairs["1 2"] != 2 {
		t.Errorf("twelve eaters of six samples: %v %v", places, pairs)
	}
	if again, _ := Serve(6, 12, seeded(7)); fmt.Sprint(again) != fmt.Sprint(p) {
		t.Error("the same seed gives another plan")
	}
	if other, _ := Serve(6, 12, seeded(8)); fmt.Sprint(other.Orders, other.Codes) == fmt.Sprint(p.Orders, p.Codes) {
		t.Error("another seed gives the same plan")
	}
	codes := slices.Sorted(slices.Values(p.Codes))
	if len(slices.Compact(codes)) != 6 || len(codes[0]) != 3 {
		t.Errorf("codes %v", p.Codes)
	}
	if p, _ := Serve(5, 12, seeded(1)); p.Balanced || p.Next != 20 {
		t.Errorf("twelve eaters of five samples: %+v", p)
	}
	for _, bad := range [][2]int{{0, 5}, {27, 5}, {5, 0}, {5, 501}} {
		if _, err := Serve(bad[0], bad[1], seeded(1)); fault.Of(err) == nil {
			t.Errorf("%v is served", bad)
		}
	}
}

// Outside check: the posterior of a normal mean with a known spread, worked by hand, and by integrating Bayes' rule on
// a grid with gonum's normal law.
func TestAPanelMovesAnEstimate(t *testing.T) {
	prior := Score{Method: "grill", Mean: 60, SD: 8, Basis: "estimated"}
	// precisions 1/64 and 9/324 = 1/36: mean (60/64 + 75/36)/(1/64 + 1/36) = 69.6, variance 1/(1/64 + 1/36) = 23.04
	got := Usual.WithPanel(prior, 75, 9)
	if math.Abs(got.Mean-69.6) > 1e-9 || math.Abs(got.SD-4.8) > 1e-9 || got.Basis != "measured" || got.Assessors != 9 {
		t.Errorf("%+v", got)
	}
	p, l := distuv.Normal{Mu: 60, Sigma: 8}, distuv.Normal{Mu: 75, Sigma: 18.0 / 3}
	var w, m, v float64
	for x := 0.0; x <= 130; x += 0.01 {
		d := p.Prob(x) * l.Prob(x)
		w, m, v = w+d, m+d*x, v+d*x*x
	}
	if m /= w; math.Abs(m-got.Mean) > 1e-3 || math.Abs(math.Sqrt(v/w-m*m)-got.SD) > 1e-3 {
		t.Errorf("by the grid %g ± %g", m, math.Sqrt(v/w-m*m))
	}
	twice := Usual.WithPanel(Usual.WithPanel(prior, 70, 4), 79, 5) // the same nine eaters, in two sittings
	if math.Abs(twice.Mean-Usual.WithPanel(prior, 75, 9).Mean) > 1e-9 || twice.Assessors != 9 {
		t.Errorf("in two sittings %+v", twice)
	}
	if g := Usual.WithExternal(prior, 60); g.Mean != 60 || g.SD >= prior.SD || g.Basis != "given" {
		t.Errorf("given %+v", g)
	}
}

func TestEstimatesMoveAsTheyShould(t *testing.T) {
	m := atlas.Muscle{Eating: map[string]float64{"grill": 60, "braise": 70}}
	of := func(method string, f Facts) float64 {
		t.Helper()
		s, parts, ok := Usual.Estimate(m, method, f)
		sum := 0.0
		for _, p := range parts {
			sum += p.Points
		}
		if !ok || math.Abs(sum-s.Mean) > 0.1 {
			t.Errorf("%s: %g of parts that add to %g", method, s.Mean, sum)
		}
		return s.Mean
	}
	beef := Facts{Species: "beef", AgeDays: 14, Hind: true}
	if of("grill", beef) != 60 {
		t.Errorf("at the reference day %g", of("grill", beef))
	}
	last := 0.0
	for d := 1; d < 60; d++ { // older is better, by less each day
		beef.AgeDays = d
		now := of("grill", beef)
		if now < last {
			t.Errorf("day %d is worse", d)
		}
		last = now
	}
	if last > 60+Usual.BeefAgeing || of("braise", beef) != 70 {
		t.Errorf("day 59: grill %g, braise %g", last, of("braise", beef))
	}
	if got := Usual.Ageing("beef", 20); math.Abs(got-10*(math.Exp2(-14.0/6)-math.Exp2(-20.0/6))) > 1e-9 ||
		Usual.Ageing("lamb", 5) != 0 {
		t.Errorf("six days more bring %g", got)
	}
	lean, fat := 64.0, 5.5
	lamb := Facts{Species: "lamb", AgeDays: 5, Hang: "hip", Hind: true, LeanPct: &lean, FatPct: &fat}
	if got := of("grill", lamb); math.Abs(got-(60+4-3.2+3)) > 1e-9 {
		t.Errorf("a lean, fat-marbled leg hung by the hip: %g", got)
	}
	if _, _, ok := Usual.Estimate(m, "smoke", beef); ok {
		t.Error("an estimate of what the atlas does not know")
	}
	bad := Usual
	bad.AssessorSD, bad.Weights = 0, "best"
	if got := fault.Of(bad.Check()); len(got) != 2 || Usual.Check() != nil {
		t.Errorf("settings: %v", got)
	}
}

// Source: ASTM F2925 (from memory): tender up to 4.4 kgf, very tender up to 3.9, of at least six cores.
func TestShearClasses(t *testing.T) {
	of := func(kgf ...float64) []float64 { return append(slices.Repeat([]float64{kgf[0]}, 5), kgf[len(kgf)-1]) }
	for mean, want := range map[float64]string{2.0: "very_tender", 3.9: "very_tender", 3.91: "tender", 4.4: "tender",
		4.41: "above", 9: "above"} {
		if r, err := Shear(of(mean)); err != nil || r.Class != want || math.Abs(r.Mean-mean) > 1e-9 {
			t.Errorf("%g kgf is %+v, %v", mean, r, err)
		}
	}
	for _, bad := range [][]float64{nil, {4, 4, 4, 4, 4}, of(0), of(31), of(math.NaN())} {
		if _, err := Shear(bad); fault.Of(err) == nil {
			t.Errorf("%v has a class", bad)
		}
	}
}

// Worked by hand: of five samples, two eaters mark 10, 20, 30, 40, 50; one the other way about; one all alike. Beside
// the mean of the others the first two agree, the third is against, the fourth tells nothing apart. Who is flagged
// stays in.
func TestAssessorsAreFlaggedNotDropped(t *testing.T) {
	up, down, flat := []float64{10, 20, 30, 40, 50}, []float64{50, 40, 30, 20, 10}, []float64{30, 31, 30, 31, 30}
	got := Consistency([][]float64{up, up, down, flat, {10, math.NaN(), math.NaN(), math.NaN(), 50}})
	for i, want := range []string{"", "", "contrary", "flat", ""} {
		if got[i].Flag != want {
			t.Errorf("eater %d is %q, want %q: %+v", i+1, got[i].Flag, want, got[i])
		}
	}
	// the others' means are 25, 91/3, 30, 91/3 and 35
	if got[0].Samples != 5 || got[0].Mean != 30 || math.Abs(got[0].SD-math.Sqrt(250)) > 1e-9 ||
		math.Abs(got[0].Agreement-200/math.Sqrt(1000*752.0/15)) > 1e-9 || math.Abs(got[2].Agreement+1) > 0.1 {
		t.Errorf("%+v", got)
	}
	if got[4].Samples != 2 || !math.IsNaN(got[4].Agreement) {
		t.Errorf("two samples say something of an eater: %+v", got[4])
	}
	if one := Consistency([][]float64{up}); !math.IsNaN(one[0].Agreement) || one[0].Flag != "" {
		t.Errorf("alone: %+v", one)
	}
}

// A product for quick cooking of a muscle that is below 3 by its method contradicts the grade; a slow one, a thin slice
// or a scrap does not.
func TestContradictions(t *testing.T) {
	p := atlas.Piece{Muscles: []atlas.Muscle{{ID: "a"}, {ID: "b"}}}
	pl := atlas.Plan{Products: []atlas.Product{
		{ID: "steak", Cook: "grill", From: map[string]float64{"a": 80, "b": 15}},
		{ID: "thin", Cook: "thin_slice", From: map[string]float64{"a": 20}},
		{ID: "stew", Cook: "stew", From: map[string]float64{"b": 85}},
		{ID: "mixed", Cook: "pan_fry", From: map[string]float64{"b": 100}},
	}}
	known := func(part string) []Score {
		if part == "a" {
			return []Score{{Method: "grill", Mean: 46.4, SD: 5}, {Method: "thin_slice", Mean: 30, SD: 5},
				{Method: "stew", Mean: 70, SD: 5}}
		}
		return []Score{{Method: "grill", Mean: 20, SD: 5}, {Method: "pan_fry", Mean: 46.5, SD: 5},
			{Method: "stew", Mean: 20, SD: 5}}
	}
	got := Contradictions(p, pl, known)
	if len(got) != 1 || got[0].Product.ID != "steak" || got[0].Muscle.ID != "a" || got[0].Best.Method != "stew" {
		t.Errorf("%+v", got)
	}
}
