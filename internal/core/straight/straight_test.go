package straight

import (
	"math"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
)

func reading(t *testing.T, p atlas.Piece, pl atlas.Plan) (Reading, Takes) {
	t.Helper()
	b, err := p.Inside()
	if err != nil {
		t.Fatal(err)
	}
	takes := Takes{}
	for _, pr := range pl.Products {
		takes[pr.ID] = map[string]measure.Mass{}
		for _, part := range b.Parts {
			takes[pr.ID][part.ID] = measure.Mass(math.Round(float64(part.Mass) * pr.From[part.ID] / 100))
		}
	}
	r, err := Read(p, pl, b, takes, func(part, method string) (eating.Score, bool) {
		m, _ := p.Muscle(part)
		mean, ok := m.Eating[method]
		return eating.Score{Method: method, Mean: mean, SD: eating.PriorSD}, ok
	})
	if err != nil {
		t.Fatal(err)
	}
	return r, takes
}

func loaded(t *testing.T) *atlas.Atlas {
	t.Helper()
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// Rules: the slices of a product hold what the product holds, part by part to the milligram; a mean lies between the
// best and the worst of what is in it.
func TestSlicesHoldTheirProduct(t *testing.T) {
	for _, p := range loaded(t).Pieces {
		for _, pl := range p.Plans {
			if p.Slices(pl) == nil {
				continue
			}
			r, takes := reading(t, p, pl)
			sums := map[string]map[string]measure.Mass{}
			for _, s := range r.Slices {
				if sums[s.Product] == nil {
					sums[s.Product] = map[string]measure.Mass{}
				}
				whole := measure.Mass(0)
				low, high := 100.0, 0.0
				for _, x := range s.Parts {
					sums[s.Product][x.Part] += x.Mass
					whole += x.Mass
					pr, _ := pl.Product(s.Product)
					if m, ok := p.Muscle(x.Part); ok {
						if mean, known := m.Eating[pr.Cook]; known {
							low, high = math.Min(low, mean), math.Max(high, mean)
						}
					}
				}
				if whole != s.Mass {
					t.Errorf("%s %s: a slice of %d mg holds %d", p.ID, pl.ID, s.Mass, whole)
				}
				if s.Eats != nil && (s.Eats.Mean < low-1e-9 || s.Eats.Mean > high+1e-9) {
					t.Errorf("%s %s: a slice eats like %.1f, what is in it like %.1f to %.1f", p.ID, pl.ID, s.Eats.Mean, low, high)
				}
			}
			for product, parts := range sums {
				for part, got := range parts {
					if got != takes[product][part] {
						t.Errorf("%s %s %s: slices hold %d mg of %s, the product %d", p.ID, pl.ID, product, got, part,
							takes[product][part])
					}
				}
			}
		}
	}
}

// Facts of the trade (common practice, no source): the steaks of a striploin hold a hard line only where the vein
// muscle is, in the last quarter to third; in a porterhouse it comes up in the last of them; most straight rump steaks
// hold three muscles or more, those from the big end two; of a chuck roll the first three steaks are one muscle.
func TestWhatTheTradeSees(t *testing.T) {
	a := loaded(t)
	read := func(piece, plan string) Reading {
		p, _ := a.Find(piece)
		pl, _ := p.Plan(plan)
		r, _ := reading(t, p, pl)
		return r
	}
	strip := read("beef.striploin", "traditional")
	if steak, vein := strip.Products[0], strip.Products[1]; steak.N != 10 || steak.Hard != 0 || vein.N != 5 ||
		vein.Hard < 3 {
		t.Errorf("striploin: %d of %d, then %d of %d hold a hard line", steak.Hard, steak.N, vein.Hard, vein.N)
	}
	if strip.Stop != "vein_end" || strip.StopMm < 0.62*440 || strip.StopMm > 0.78*440 {
		t.Errorf("striploin: stop at %.0f mm for %q", strip.StopMm, strip.Stop)
	}
	loin := read("beef.short_loin", "traditional")
	if first, last := loin.Products[1], loin.Products[2]; first.Hard != 0 || last.Hard == 0 || last.Hard == last.N {
		t.Errorf("short loin: %d T-bones, %d of %d porterhouses hold a hard line", first.Hard, last.Hard, last.N)
	}
	rump := read("beef.top_sirloin", "traditional")
	if r := rump.Products[0]; 2*r.Many <= r.N || rump.Slices[0].Muscles != 2 {
		t.Errorf("rump: %d of %d hold three muscles, the first %d", r.Many, r.N, rump.Slices[0].Muscles)
	}
	for _, s := range read("beef.chuck_roll", "traditional").Slices[:3] {
		if s.Muscles != 1 || s.Hard() || s.Product != "chuck_eye_steak" {
			t.Errorf("chuck roll: %+v", s.Laid)
		}
	}
}

// By hand: two muscles in a block that is the same all along, one over the other and half of it each. Every slice holds
// both, the seam crosses the whole face, so that it falls apart; it eats like the mean of 70 and 40, and the lower one
// is below 3.
func TestAPlainBlock(t *testing.T) {
	station := func(at float64) body.Station {
		return body.Station{At: at, WidthMm: 100, HeightMm: 60, Round: 8,
			Cells: map[string][3]float64{"top": {0, 0.5, 50}, "low": {0, -0.5, 50}}}
	}
	b, err := body.New(&body.Sketch{Axis: body.Axis{From: "a", To: "b", LengthMm: 200, Lies: "flat"},
		Stations: []body.Station{station(0), station(1)}},
		[]body.Part{{ID: "top", Mass: 600 * measure.Gram, Density: 1.06, Lean: true},
			{ID: "low", Mass: 600 * measure.Gram, Density: 1.06, Lean: true}}, false)
	if err != nil {
		t.Fatal(err)
	}
	p := atlas.Piece{Muscles: []atlas.Muscle{{ID: "top", Connective: "low"}, {ID: "low", Connective: "high"}}}
	s := []Slice{{Laid: atlas.Laid{FromMm: 0, ToMm: 50}}, {Laid: atlas.Laid{FromMm: 50, ToMm: 100}}}
	fill(s, b, map[string]measure.Mass{"top": 200 * measure.Gram, "low": 200 * measure.Gram})
	for i := range s {
		err := read(&s[i], p, atlas.Product{Cook: "grill"}, b, func(part, _ string) (eating.Score, bool) {
			return eating.Score{Mean: map[string]float64{"top": 70, "low": 40}[part], SD: 8}, true
		})
		if x := s[i]; err != nil || x.Mass != 200*measure.Gram || x.Muscles != 2 || !x.Hard() || !x.Falls ||
			math.Abs(x.Eats.Mean-55) > 1e-9 || x.Worst != "low" || len(x.Below) != 1 {
			t.Errorf("%+v, %v", x, err)
		}
	}
}
