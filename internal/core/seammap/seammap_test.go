package seammap_test

import (
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/seammap"
)

func pieces(t testing.TB) []atlas.Piece {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	return a.Pieces
}

// wholes are the carcasses, divided in every way.
func wholes(t testing.TB) []atlas.Piece {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	var all []atlas.Piece
	for _, c := range a.Carcasses {
		for _, d := range c.Divisions() {
			all = append(all, a.Whole(c, d.ID))
		}
	}
	return all
}

// Rule of the picture: areas are true to the shares, cells tile the outline, the same input gives the same picture.
func TestAtlasMapsAreTrue(t *testing.T) {
	for _, p := range append(pieces(t), wholes(t)...) {
		m, err := p.MapByShare()
		if err != nil {
			t.Fatalf("%s: %v", p.ID, err)
		}
		total := 0.0
		for _, a := range m.Areas {
			total += share(p, a.ID)
		}
		tiled := 0.0
		if len(m.Areas) != len(p.Muscles)+len(p.Bones()) {
			t.Errorf("%s: %d areas", p.ID, len(m.Areas))
		}
		for _, a := range m.Areas {
			tiled += seammap.AreaOf(a.Polygon)
			if want := share(p, a.ID) / total; math.Abs(a.Share-want) > 1e-4 {
				t.Errorf("%s: %s has %.4f of the section, its weight %.4f", p.ID, a.ID, a.Share, want)
			}
			if a.Room <= 0 || !seammap.Inside(a.Polygon, a.Centre) {
				t.Errorf("%s: %s has no room for its name", p.ID, a.ID)
			}
		}
		if outline := seammap.AreaOf(m.Outline); math.Abs(tiled-outline) > 1e-6*outline {
			t.Errorf("%s: the areas add to %f of %f", p.ID, tiled, outline)
		}
		again, err := p.MapByShare()
		if err != nil || !reflect.DeepEqual(m, again) {
			t.Errorf("%s: a second drawing differs", p.ID)
		}
	}
}

func share(p atlas.Piece, id string) float64 { part, _ := p.Part(id); return float64(part.Share) }

// apart are muscles that touch in the animal and cannot in a flat section, whose every cell is convex: each is a thin
// sheet that lies over several others, or runs round a bone. There are as few as a search over all positions found.
var apart = map[string][][2]string{
	// five muscles that all touch each other: no plane holds them (Kuratowski 1930)
	"beef.chuck_roll":      {{"chuck_eye", "splenius"}},
	"lamb.square_shoulder": {{"cover", "heart"}, {"mock_tender", "inner_blade"}},
	"lamb.shoulder_whole":  {{"cover", "under_blade"}},
	"lamb.forequarter":     {{"cover", "heart"}},
}

// The neighbours of the drawing are the neighbours of the atlas, and the largest muscles look it.
func TestSeamsAreTheAtlasNeighbours(t *testing.T) {
	for _, p := range pieces(t) {
		m, err := p.MapByShare()
		if err != nil {
			t.Fatal(err)
		}
		drawn := map[[2]string]bool{}
		for _, s := range m.Seams {
			drawn[[2]string{s.A, s.B}], drawn[[2]string{s.B, s.A}] = true, true
			a, isMuscle := p.Muscle(s.A)
			if _, other := p.Muscle(s.B); isMuscle && other && !slices.Contains(a.Touches, s.B) &&
				seammap.Dist(s.From, s.To) > 0.1*
					p.Section.W {
				t.Errorf("%s: %s and %s share a long line and do not touch", p.ID, s.A, s.B)
			}
		}
		for _, a := range p.Muscles {
			for _, n := range a.Touches {
				known := slices.Contains(apart[p.ID], [2]string{a.ID, n}) || slices.Contains(apart[p.ID], [2]string{n, a.ID})
				if drawn[[2]string{a.ID, n}] == known {
					t.Errorf("%s: %s and %s touch, and share no line", p.ID, a.ID, n)
				}
			}
		}
	}
}

// Random sites in a random convex outline: areas agree whatever the weights.
func TestRandomMaps(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for round := range 200 {
		outline := seammap.Block(50+rng.Float64()*100, 50+rng.Float64()*100)
		var sites []seammap.Site
		for len(sites) < 2+rng.IntN(14) {
			at := seammap.Point{rng.Float64() * 150, rng.Float64() * 150}
			near := slices.ContainsFunc(sites, func(s seammap.Site) bool { return seammap.Dist(s.At, at) < 2 })
			if seammap.Inside(outline, at) && !near {
				sites = append(sites, seammap.Site{string(rune('a' + len(sites))), at, 0.2 + rng.Float64()*10})
			}
		}
		m, err := seammap.Draw(outline, sites)
		if err != nil {
			t.Fatalf("round %d: %v", round, err)
		}
		total := 0.0
		for _, s := range sites {
			total += s.Weight
		}
		for i, a := range m.Areas {
			if math.Abs(a.Share-sites[i].Weight/total) > 1e-5 {
				t.Fatalf("round %d: %s has %.5f, want %.5f", round, a.ID, a.Share, sites[i].Weight/total)
			}
		}
	}
}

// A carcass is drawn in an outline that is not convex, in every division. Its areas are checked by counting the points
// of a fine grid that fall into each, which is not how they were computed.
func TestCarcassesAreTrueToWeight(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range a.Carcasses {
		for _, d := range c.Divisions() {
			p := a.Whole(c, d.ID)
			m, err := p.MapByShare()
			if err != nil {
				t.Fatalf("%s, %s: %v", c.ID, d.ID, err)
			}
			points, held, shares := 0, map[string]int{}, 0.0
			for x := 0.1; x < c.Section.W; x += 0.2 {
				for y := 0.1; y < c.Section.H; y += 0.2 {
					at := seammap.Point{x, y}
					if !seammap.Inside(m.Outline, at) {
						continue
					}
					points++
					for _, area := range m.Areas {
						if seammap.Inside(area.Polygon, at) {
							held[area.ID]++
						}
					}
				}
			}
			for _, part := range d.Parts {
				shares += part.SharePct
			}
			for _, part := range d.Parts {
				got, want := float64(held[part.Piece])/float64(points), part.SharePct/shares
				if math.Abs(got-want) > 0.004 {
					t.Errorf("%s, %s: %s covers %.4f of the outline, want %.4f", c.ID, d.ID, part.Piece, got, want)
				}
			}
		}
	}
}

func TestDrawRefuses(t *testing.T) {
	square := []seammap.Point{{0, 0}, {10, 0}, {10, 10}, {0, 10}}
	for name, sites := range map[string][]seammap.Site{
		"no sites":  nil,
		"no weight": {{"a", seammap.Point{1, 1}, 0}},
		"not a sum": {{"a", seammap.Point{1, 1}, math.NaN()}},
		"one point": {{"a", seammap.Point{1, 1}, 1}, {"b", seammap.Point{1, 1}, 1}},
		"outside":   {{"a", seammap.Point{11, 1}, 1}},
	} {
		if _, err := seammap.Draw(square, sites); err == nil {
			t.Errorf("%s: was drawn", name)
		}
	}
	m, err := seammap.Draw(square, []seammap.Site{{"a", seammap.Point{2, 5}, 3}, {"b", seammap.Point{8, 5}, 1}})
	// by hand: three quarters of a square of ten
	if err != nil || len(m.Seams) != 1 || math.Abs(m.Seams[0].From.X-7.5) > 1e-3 {
		t.Errorf("two sites in a square: %+v, %v", m.Seams, err)
	}
}

func BenchmarkMap(b *testing.B) {
	p := pieces(b)[0]
	for b.Loop() {
		if _, err := p.MapByShare(); err != nil {
			b.Fatal(err)
		}
	}
}
