package atlas

import (
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"falda/internal/core/measure"
)

// cut gives a plan of a piece with choices made.
func cut(t *testing.T, a *Atlas, piece, plan string, chosen map[string]string) (Piece, Plan) {
	t.Helper()
	p, ok := a.Find(piece)
	if !ok {
		t.Fatal("no ", piece)
	}
	pl, ok := p.Plan(plan)
	if !ok {
		t.Fatal("no ", piece, " ", plan)
	}
	with, err := p.With(pl, chosen)
	if err != nil {
		t.Fatal(piece, plan, chosen, err)
	}
	return p, with
}

// kilograms of a product that the plan makes of a piece of the usual weight.
func makes(p Piece, pl Plan, product string) float64 {
	pr, _ := pl.Product(product)
	sum := 0.0
	for i, part := range p.Parts() {
		sum += p.Split(p.Typical())[i].Grams() / 1000 * pr.From[part.ID] / 100
	}
	return sum
}

// What practitioners disagree about can be had both ways, and the two ways differ in what is sold (common practice, no
// source). Not among them: the tool, which is a plan's own; browning, which is a finding's; and how done a roast is,
// which is the cook's.
func TestBothSchoolsOfEveryMatter(t *testing.T) {
	a := loaded(t)
	type way struct {
		plan    string
		chosen  map[string]string
		product string // sold one way and not, or less, the other
	}
	pick := func(kv ...string) map[string]string { return map[string]string{kv[0]: kv[1]} }
	for _, m := range []struct {
		matter, piece string
		one, other    way
	}{
		{"fat cover: bare or 6 mm", "beef.top_sirloin", way{"seamed", pick(FatCover, "0"), "fat"},
			way{"seamed", pick(FatCover, "6"), "cap_steak"}},
		{"fat cover: a roast at 12 mm", "beef.clod", way{"seamed", pick(FatCover, "3"), "fat"},
			way{"seamed", pick(FatCover, "12"), "heart_roast"}},
		{"rump cap: across or with the grain", "beef.top_sirloin", way{"seamed", nil, "cap_steak"},
			way{"seamed", pick("cap", "along"), "cap_steak_along"}},
		{"rump cap: a roast", "beef.top_sirloin", way{"seamed", nil, "cap_steak"},
			way{"seamed", pick("cap", "roast"), "cap_roast"}},
		{"rump cap: kebab", "beef.top_sirloin", way{"seamed", nil, "cap_steak"},
			way{"seamed", pick("cap", "kebab"), "kebab"}},
		{"last cap steaks", "beef.top_sirloin", way{"seamed", nil, "cap_steak"},
			way{"seamed", pick("cap_end", "vein_line"), "kebab"}},
		{"top blade", "beef.clod", way{"seamed", nil, "flat_iron"},
			way{"seamed", pick("top_blade", "cross_cut"), "top_blade_steak"}},
		{"mouse", "beef.top_sirloin", way{"seamed", nil, "mince_trim"}, way{"seamed", pick("mouse", "dressed"), "dice"}},
		{"tri-tip: roast or steaks", "beef.top_sirloin", way{"seamed", nil, "tri_tip_whole"},
			way{"seamed", pick("tri_tip", "steaks"), "tri_tip_steak"}},
		{"tri-tip: mince", "beef.top_sirloin", way{"seamed", nil, "tri_tip_whole"},
			way{"seamed", pick("tri_tip", "mince"), "mince_trim"}},
		{"bone: rib", "beef.rib", way{"traditional", nil, "loin_end_roast"}, way{"boned_out", nil, "ribeye_steak"}},
		{"bone: lamb leg", "lamb.leg_chump", way{"boned_rolled", nil, "rolled_leg"},
			way{"boned_rolled", pick("bone", "shank_in"), "tunnel_leg"}},
		{"fillet: strap and chain", "beef.tenderloin", way{"strap_off", nil, "whole_fillet"},
			way{"strap_off", pick("strap", "on"), "fillet_strap_on"}},
		{"fillet steaks: strap", "beef.tenderloin", way{"traditional", nil, "fillet_steak_on"},
			way{"traditional", pick("steaks_strap", "off"), "fillet_steak"}},
		{"lamb neck", "lamb.forequarter", way{"traditional", nil, "whole_neck"},
			way{"traditional", pick("neck", "sausage"), "sausage_trim"}},
		{"frenching: rib", "beef.rib", way{"traditional", nil, "loin_end_roast"},
			way{"traditional", pick("frenching", "frenched"), "mince_trim"}},
		{"frenching: rack", "lamb.rack", way{"roast_ready", nil, "roasting_rack"},
			way{"roast_ready", pick("frenching", "frenched"), "scraped_rack"}},
		{"kidney fat", "lamb.saddle", way{"traditional", nil, "fat"},
			way{"traditional", pick("kidney_fat", "left_on"), "loin_chop"}},
	} {
		p, one := cut(t, a, m.piece, m.one.plan, m.one.chosen)
		_, other := cut(t, a, m.piece, m.other.plan, m.other.chosen)
		if x, y := makes(p, one, m.one.product), makes(p, other, m.one.product); x <= y+0.001 {
			t.Errorf("%s: %.3f kg of %s one way, %.3f the other", m.matter, x, m.one.product, y)
		}
		if x, y := makes(p, one, m.other.product), makes(p, other, m.other.product); y <= x+0.001 {
			t.Errorf("%s: %.3f kg of %s the other way, %.3f one way", m.matter, y, m.other.product, x)
		}
	}
}

// However options are combined, everything goes somewhere, and the atlas itself stays as it is.
func TestOptionsCombine(t *testing.T) {
	a := loaded(t)
	tried := 0
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			before := pl.copied()
			combos := []map[string]string{{}}
			for _, o := range p.OptionsOf(pl.ID) {
				for _, c := range slices.Clone(combos) {
					for _, choice := range o.Choices {
						next := maps.Clone(c)
						next[o.ID] = choice.ID
						combos = append(combos, next)
					}
				}
			}
			natural, _, coverable := p.CoverOf(pl)
			for _, c := range combos {
				for _, mm := range []float64{-1, 0, 3, natural} {
					chosen := maps.Clone(c)
					if mm >= 0 {
						chosen[FatCover] = strconv.FormatFloat(mm, 'f', -1, 64)
					}
					with, err := p.With(pl, chosen)
					if mm >= 0 && !coverable {
						if err == nil {
							t.Errorf("%s %s: leaves a cover where there is none", p.ID, pl.ID)
						}
						continue
					}
					if err != nil {
						if !strings.Contains(err.Error(), "no fat cover") { // a choice took away what could bear it
							t.Errorf("%s %s %v: %v", p.ID, pl.ID, chosen, err)
						}
						continue
					}
					tried++
					for _, f := range ValidatePlan(p, with) {
						t.Errorf("%s %s %v: %v", p.ID, pl.ID, chosen, f)
					}
				}
			}
			for i, pr := range before.Products {
				if !maps.Equal(pr.From, pl.Products[i].From) {
					t.Fatalf("%s %s was changed", p.ID, pl.ID)
				}
			}
		}
	}
	if tried < 400 {
		t.Errorf("only %d combinations tried", tried)
	}
	p, _ := a.Find("beef.top_sirloin")
	pl, _ := p.Plan("seamed")
	for _, bad := range []map[string]string{{"cap": "sideways"}, {"no_such": "x"}, {FatCover: "30"}, {FatCover: "-1"},
		{FatCover: "thick"}} {
		if _, err := p.With(pl, bad); err == nil {
			t.Errorf("%v was taken", bad)
		}
	}
}

// A thickness is a weight: area × thickness × density. The cap of a usual rump is about 270 × 180 mm (common practice,
// no source); beef fat weighs about 0.91 g/cm³ (handbook value, from memory).
func TestFatCoverIsAreaTimesThickness(t *testing.T) {
	a := loaded(t)
	fatOn := func(mm string) float64 {
		p, pl := cut(t, a, "beef.top_sirloin", "seamed", map[string]string{FatCover: mm})
		pr, _ := pl.Product("cap_steak")
		cover, _ := p.Part("cover_fat")
		return p.Typical().Grams() * float64(cover.Share) / 100_000 * pr.From["cover_fat"] / 100
	}
	want := 27.0 * 18 * 0.3 * 0.91
	if got := fatOn("3"); math.Abs(got-want) > 0.2*want {
		t.Errorf("3 mm on the cap weigh %.0f g, by its size %.0f", got, want)
	}
	if three, six := fatOn("3"), fatOn("6"); math.Abs(six-2*three) > 1 {
		t.Errorf("twice as thick: %.1f g and %.1f", three, six)
	}
	if bare := fatOn("0"); bare != 0 {
		t.Errorf("peeled bare leaves %.1f g", bare)
	}
	p, pl := cut(t, a, "beef.top_sirloin", "seamed", nil)
	if _, left, ok := p.CoverOf(pl); !ok || left < 3 || left > 6 { // 3–6 mm on the cap: common practice, no source
		t.Errorf("the plan leaves %.1f mm on the cap", left)
	}
	if p, pl := cut(t, a, "beef.clod", "seamed", nil); true {
		if _, left, ok := p.CoverOf(pl); !ok || left > 12 { // 12 mm or less on heart roasts: common practice, no source
			t.Errorf("the plan leaves %.1f mm on the heart roast", left)
		}
	}
}

// How many there are and what one weighs: common practice, no source.
func TestPortionsOfTheTrade(t *testing.T) {
	a := loaded(t)
	portions := func(piece, plan, product string) Portions {
		p, pl := cut(t, a, piece, plan, nil)
		pr, ok := pl.Product(product)
		if !ok {
			t.Fatal("no ", product)
		}
		n, ok := pr.Portions(measure.Mass(makes(p, pl, product) * float64(measure.Kilogram)))
		if !ok {
			t.Fatal(piece, plan, product, "is not counted")
		}
		return n
	}
	for _, f := range []struct {
		piece, plan, product string
		low, high            int
		least, most          float64 // grams of one
	}{
		{"beef.top_sirloin", "seamed", "cap_steak", 6, 7, 110, 180}, // across the grain; four is the count along it
		{"beef.top_sirloin", "seamed", "heart_steak", 6, 9, 225, 285},
		{"beef.top_sirloin", "small_roasts", "heart_joint", 2, 2, 900, 1200},
		{"beef.chuck_roll", "traditional", "chuck_eye_steak", 2, 4, 180, 330},
		{"beef.chuck_roll", "traditional", "chuck_roast", 2, 3, 1800, 2300},
		{"beef.clod", "seamed", "flat_iron", 2, 2, 400, 900},
		{"lamb.forequarter", "traditional", "round_bone_chop", 8, 10, 60, 170},
		{"lamb.forequarter", "traditional", "forequarter_chop", 12, 14, 130, 330},
		{"beef.rib", "frenched", "long_bone_chop", 4, 4, 500, 1100},
	} {
		n := portions(f.piece, f.plan, f.product)
		if n.Low < f.low || n.High > f.high || n.Each.Grams() < f.least || n.Each.Grams() > f.most {
			t.Errorf("%s of %s: %d–%d of %.0f g", f.product, f.piece, n.Low, n.High, n.Each.Grams())
		}
	}
	six, lightest, heaviest := 0, math.Inf(1), 0.0
	for _, product := range []string{"topside_portion", "thick_flank_portion", "rump_portion", "silverside_portion"} {
		n := portions("lamb.leg_chump", "seamed", product)
		six += n.High
		lightest, heaviest = min(lightest, n.Each.Grams()), max(heaviest, n.Each.Grams())
	}
	if six != 6 || heaviest > 1.1*lightest { // six even portions of a leg
		t.Errorf("%d portions of a leg, from %.0f to %.0f g", six, lightest, heaviest)
	}
	for _, product := range []string{"hind_shank", "fillet_piece"} {
		if n := portions("lamb.leg_chump", "seamed", product); n.High != 1 {
			t.Errorf("%d of %s", n.High, product)
		}
	}
	if _, ok := (Product{Form: "trim"}).Portions(measure.Kilogram); ok {
		t.Error("trim is counted")
	}
}

// What a finding takes goes where the trade says: blood-shot meat into the bin and never into the mince; browned
// surfaces into either, as the house decides (common practice, no source).
func TestFindingsHaveConsequences(t *testing.T) {
	a := loaded(t)
	p, _ := a.Find("beef.top_sirloin")
	goes := func(found []string, decided map[string]string) (trim, thrown, steak float64) {
		q := p.Found(found, decided)
		pl, _ := q.Plan("seamed")
		for _, f := range ValidatePlan(q, pl) {
			t.Errorf("%v %v: %v", found, decided, f)
		}
		pr, _ := pl.Product("mince_trim")
		st, _ := pl.Product("heart_steak")
		return pr.From["heart_main"], pl.Waste["heart_main"], st.From["heart_main"]
	}
	trim, thrown, steak := goes(nil, nil)
	if thrown != 0 {
		t.Errorf("%.2f %% of a sound heart is thrown away", thrown)
	}
	bloodTrim, bloodThrown, bloodSteak := goes([]string{"blood_shot"}, nil)
	if bloodThrown < 3.9 || bloodTrim > trim || bloodSteak >= steak {
		t.Errorf("blood-shot: %.2f %% thrown, trim %.2f after %.2f", bloodThrown, bloodTrim, trim)
	}
	brownTrim, brownThrown, _ := goes([]string{"browned"}, nil)
	if brownTrim <= trim || brownThrown != 0 {
		t.Errorf("browned, to the mince: trim %.2f after %.2f, thrown %.2f", brownTrim, trim, brownThrown)
	}
	_, discarded, _ := goes([]string{"browned"}, map[string]string{"browned": Discard})
	if discarded < 1.9 {
		t.Errorf("browned, discarded: %.2f %% thrown", discarded)
	}
	for _, piece := range a.Pieces {
		for _, in := range piece.Inspect {
			q := piece.Found([]string{in.ID}, nil)
			for _, pl := range q.Plans {
				for _, f := range ValidatePlan(q, pl) {
					t.Errorf("%s with %s: %v", piece.ID, in.ID, f)
				}
			}
			for _, word := range []string{"blood", "clot", "pus"} {
				if strings.Contains(strings.ToLower(in.Look), word) &&
					(in.Takes.To == ToMince || slices.Contains(in.Takes.May, ToMince)) {
					t.Errorf("%s: %s may go to the mince", piece.ID, in.ID)
				}
			}
		}
	}
}

// A plan takes off a muscle what that plan takes off: a roast that keeps strap, tendon and fat on less than full
// dressing.
func TestDressingIsThePlans(t *testing.T) {
	a := loaded(t)
	p, on := cut(t, a, "beef.clod", "traditional", nil)
	_, out := cut(t, a, "beef.clod", "seamed", nil)
	heart, _ := p.Muscle("clod_heart")
	if d := on.Dressing("clod_heart"); d >= heart.TrimPct {
		t.Errorf("a shoulder roast is dressed by %.1f %%, fully by %.1f", d, heart.TrimPct)
	}
	if on.Dressing("tail") <= out.Dressing("top_blade") {
		t.Error("the tail, nearly all trim, is dressed less than a flat iron")
	}
	// bone-in, its gristle is sold with it (common practice, no source)
	rib, _ := a.Find("beef.rib")
	in, _ := rib.Plan("traditional")
	sold := 0.0
	for _, pr := range in.Products {
		sold += pr.From["gristle"]
	}
	if sold < 50 {
		t.Errorf("only %.0f %% of a standing rib's gristle is sold with it", sold)
	}
}
