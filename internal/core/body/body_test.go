package body_test

import (
	"math"
	"slices"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/measure"
)

func pieces(t testing.TB) []atlas.Piece {
	t.Helper()
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	return a.Pieces
}

// Rules: every piece that has an inside fits it, with corrections under three and a scale near one; each slice's areas
// are its outline's; each part's volume is its share; slices cut anywhere hold each part to the milligram.
func TestEveryInsideHolds(t *testing.T) {
	without := 0
	for _, p := range pieces(t) {
		if p.Body == nil {
			without++
			continue
		}
		b, err := p.Inside()
		if err != nil {
			t.Error(err)
			continue
		}
		if b.Scale < 0.8 || b.Scale > 1.25 {
			t.Errorf("%s: its section is scaled by %.2f", p.ID, b.Scale)
		}
		t.Logf("%-22s factor %.2f scale %.2f rounds %d", p.ID, b.Factor, b.Scale, b.Rounds)
		for k := range body.Slices {
			if whole := b.OutlineOf(k); math.Abs(total(b.AreasOf(k))-whole) > 1e-4*whole {
				t.Errorf("%s: slice %d holds %.1f of %.1f mm²", p.ID, k, total(b.AreasOf(k)), whole)
			}
		}
		for _, at := range [][]float64{nil, {b.LengthMm / 3}, {10, 33.3, 70}} {
			total := map[string]measure.Mass{}
			for _, slice := range b.Cut(at) {
				for _, s := range slice {
					total[s.Part] += s.Mass
				}
			}
			for _, part := range b.Parts {
				if total[part.ID] != part.Mass {
					t.Errorf("%s: slices hold %d mg of %s, there are %d", p.ID, total[part.ID], part.ID, part.Mass)
				}
			}
		}
	}
	if without > 2 { // whole primals, which are made of pieces of their own
		t.Errorf("%d pieces have no inside", without)
	}
}

// Rules: every section is drawn; its cells have their areas and lie within the outline's.
func TestEverySectionIsDrawn(t *testing.T) {
	for _, p := range pieces(t) {
		if p.Body == nil {
			continue
		}
		b, err := p.Inside()
		if err != nil {
			continue // said above
		}
		for k := 0; k < body.Slices; k += 3 {
			s, err := b.Section(k)
			if err != nil {
				t.Errorf("%s: slice %d: %v", p.ID, k, err)
				continue
			}
			whole := body.AreaOf(s.Outline)
			areas := map[string]float64{}
			for j, part := range b.Parts {
				areas[part.ID] = b.AreasOf(k)[j]
			}
			for _, c := range s.Cells {
				want := areas[c.Part] * b.Scale * b.Scale
				if got := body.AreaOf(c.Ring); math.Abs(got-want) > 0.01*whole {
					t.Errorf("%s: slice %d: %s has %.0f mm² of %.0f", p.ID, k, c.Part, got, want)
				}
			}
		}
	}
}

func total(v []float64) (sum float64) {
	for _, x := range v {
		sum += x
	}
	return sum
}

// shares gives the share of each part of a slice.
func shares(b *body.Body, from, to float64) map[string]float64 {
	at := []float64{to}
	which := 0
	if from > 0 {
		at, which = []float64{from, to}, 1
	}
	out, total := map[string]float64{}, 0.0
	for _, s := range b.Cut(at)[which] {
		out[s.Part] = float64(s.Mass)
		total += float64(s.Mass)
	}
	for id := range out {
		out[id] /= total
	}
	return out
}

func inside(t *testing.T, id string) (atlas.Piece, *body.Body) {
	t.Helper()
	for _, p := range pieces(t) {
		if p.ID == id {
			b, err := p.Inside()
			if err != nil {
				t.Fatal(err)
			}
			return p, b
		}
	}
	t.Fatalf("no %s", id)
	return atlas.Piece{}, nil
}

// Facts of the trade (common practice, no source), held against the insides.
func TestFactsOfTheTrade(t *testing.T) {
	// striploin: vein steaks come in the last quarter to third, and grow towards the hip end
	_, b := inside(t, "beef.striploin")
	if r, ok := b.RunOf("vein_end"); !ok || r.FromMm < 0.62*b.LengthMm || r.FromMm > 0.8*b.LengthMm || r.ToMm < b.LengthMm-
		1 {
		t.Errorf("the vein end runs from %.0f to %.0f of %.0f mm", r.FromMm, r.ToMm, b.LengthMm)
	}
	if a, z := shares(b, 330, 360), shares(b, 400, 430); a["vein_end"] >= z["vein_end"] {
		t.Errorf("the vein end is %.2f, then %.2f", a["vein_end"], z["vein_end"])
	}
	// rib: the eye is largest at the loin end; cap and third muscle only grow towards the chuck
	_, b = inside(t, "beef.rib")
	loin, chuck := shares(b, 0, 50), shares(b, 330, 380)
	if loin["eye"] <= chuck["eye"] || loin["cap"] >= chuck["cap"] || loin["inner"] >= chuck["inner"] ||
		loin["inner"] > 0.001 {
		t.Errorf("the rib at the loin end is %v, at the chuck %v", loin, chuck)
	}
	// chuck roll: in the first 75 mm from the rib end the eye is the largest, and neither neck nor third muscle is there
	_, b = inside(t, "beef.chuck_roll")
	first, last := shares(b, 0, 75), shares(b, 325, 380)
	if first["chuck_eye"] < 0.38 || first["neck"] > 0 || first["splenius"] > 0.001 || last["neck"] < last["chuck_eye"] {
		t.Errorf("the chuck roll begins with %v and ends with %v", first, last)
	}
	// top sirloin: a slice in the middle holds three or four muscles and more, the big end two; the small end is the
	// gristly
	_, b = inside(t, "beef.top_sirloin")
	cuts := b.Cut([]float64{25, 110, 135, 215})
	if n := b.Muscles(cuts[2], 0.05); n < 3 || n > 4 {
		t.Errorf("a rump steak from the middle holds %d muscles", n)
	}
	if n := b.Muscles(cuts[0], 0.05); n != 2 {
		t.Errorf("a rump steak from the big end holds %d muscles", n)
	}
	if end, middle := shares(b, 211, 240), shares(b, 90, 120); end["gristle"] < 1.5*middle["gristle"] {
		t.Errorf("gristle is %.3f at the small end, %.3f in the middle", end["gristle"], middle["gristle"])
	}
	// leg: the last third of it is shank
	_, b = inside(t, "lamb.leg_chump")
	if r, ok := b.RunOf("shank"); !ok || r.FromMm < b.LengthMm/2 {
		t.Errorf("the shank begins at %.0f mm", r.FromMm)
	}
}

// Rule: parts that are neighbours on the flat map touch inside too, all but a few that a section across cannot show.
func TestNeighboursTouchInside(t *testing.T) {
	for _, p := range pieces(t) {
		if p.Body == nil {
			continue
		}
		b, err := p.Inside()
		if err != nil {
			t.Fatal(err)
		}
		seams, err := b.Seams()
		if err != nil {
			t.Fatal(err)
		}
		touch := map[[2]string]float64{}
		for _, s := range seams {
			touch[[2]string{s.A, s.B}] += s.AreaCm2
			touch[[2]string{s.B, s.A}] += s.AreaCm2
			if s.AreaCm2 <= 0 || s.ToMm <= s.FromMm {
				t.Errorf("%s: a seam of nothing: %+v", p.ID, s)
			}
		}
		pairs, apart := 0, 0
		for _, m := range p.Muscles {
			for _, o := range m.Touches {
				if pairs++; touch[[2]string{m.ID, o}] == 0 {
					apart++
				}
			}
		}
		if 4*apart > pairs {
			t.Errorf("%s: %d of %d neighbours do not touch inside", p.ID, apart, pairs)
		}
	}
}

// A piece whose parts were weighed has an inside that holds them, whatever they weigh.
func TestWeighed(t *testing.T) {
	p, b := inside(t, "beef.top_sirloin")
	weights := map[string]measure.Mass{}
	for _, part := range b.Parts {
		weights[part.ID] = part.Mass
	}
	weights["cap"] = weights["cap"] * 3
	weights["mouse"] = 0
	w, err := p.InsideWeighed(weights)
	if err != nil {
		t.Fatal(err)
	}
	total := measure.Mass(0)
	for _, s := range w.Cut(nil)[0] {
		total += s.Mass
		if s.Mass != weights[s.Part] {
			t.Errorf("%s weighs %d, holds %d", s.Part, weights[s.Part], s.Mass)
		}
	}
	if total != w.Weight || w.Scale <= b.Scale {
		t.Errorf("%d of %d mg, scale %.3f after %.3f", total, w.Weight, w.Scale, b.Scale)
	}
}

func BenchmarkFit(b *testing.B) {
	for _, p := range pieces(b) {
		if p.ID == "lamb.leg_chump" {
			in, err := p.Inside()
			if err != nil {
				b.Fatal(err)
			}
			weights := map[string]measure.Mass{}
			for _, part := range in.Parts {
				weights[part.ID] = part.Mass
			}
			for b.Loop() {
				if _, err := p.InsideWeighed(weights); err != nil {
					b.Fatal(err)
				}
			}
		}
	}
}

// What is still joined lies where its parts lie: slice by slice a block is the sum of what it holds of each.
func TestABlockIsTheSumOfItsParts(t *testing.T) {
	list := pieces(t)
	p := list[slices.IndexFunc(list, func(p atlas.Piece) bool { return p.ID == "beef.top_sirloin" })]
	b, err := p.Inside()
	if err != nil {
		t.Fatal(err)
	}
	one, _ := b.RunOf("heart_main")
	two, _ := b.RunOf("heart_side")
	both, ok := b.RunOfBlock(map[string]float64{"heart_main": 1, "heart_side": 0.4})
	if !ok {
		t.Fatal("a block of two muscles has no place")
	}
	for k := range both.Mm {
		if want := one.GramsPerMm[k] + 0.4*two.GramsPerMm[k]; math.Abs(both.GramsPerMm[k]-want) > 1e-9 {
			t.Errorf("at %.0f mm %g, want %g", both.Mm[k], both.GramsPerMm[k], want)
		}
	}
	if both.FromMm != min(one.FromMm, two.FromMm) || both.ToMm != max(one.ToMm, two.ToMm) {
		t.Errorf("from %g to %g", both.FromMm, both.ToMm)
	}
	front := map[string]float64{}
	for _, m := range p.Muscles {
		front[m.ID] = b.Fraction(m.ID, 0, 150)
	}
	if r, ok := b.RunOfBlock(front); !ok || r.FromMm != 0 || math.Abs(r.ToMm-150) > 1 {
		t.Errorf("what lies in the first 150 mm lies from %.1f to %.1f", r.FromMm, r.ToMm)
	}
	behind := map[string]float64{}
	for _, m := range p.Muscles {
		behind[m.ID] = b.Fraction(m.ID, 150, b.LengthMm)
	}
	if r, ok := b.RunOfBlock(behind); !ok || math.Abs(r.FromMm-150) > 1 || r.ToMm != b.LengthMm {
		t.Errorf("what lies behind lies from %.1f to %.1f", r.FromMm, r.ToMm)
	}
	if _, ok := b.RunOfBlock(map[string]float64{"trim": 1}); ok {
		t.Error("loose trim has a place")
	}
	if prof, ok := b.BlockProfile(map[string]float64{"heart_main": 1}, 180); !ok || prof.LengthMm != 180 ||
		prof.Mm[len(prof.Mm)-1] != 180 {
		t.Errorf("%+v", prof)
	}
}
