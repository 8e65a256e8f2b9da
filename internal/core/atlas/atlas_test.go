package atlas

import (
	"math"
	"os"
	"slices"
	"strings"
	"testing"

	"falda/internal/core/measure"
)

func load(t *testing.T) Piece {
	t.Helper()
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	p, ok := a.Find("beef.top_sirloin")
	if !ok {
		t.Fatal("no top sirloin")
	}
	return p
}

// Facts of the trade: common practice, no source.
func TestTopSirloinAgainstTheTrade(t *testing.T) {
	p := load(t)
	if p.Codes["imps"] != "184" { // IMPS/NAMP item 184, Beef Loin, Top Sirloin Butt, Boneless (USDA IMPS series 100, from memory)
		t.Errorf("IMPS number %s", p.Codes["imps"])
	}
	side, _ := p.Muscle("heart_side")
	if kg := p.WeightKg.Typical * side.SharePct / 100; math.Abs(kg-0.9) > 0.1 {
		t.Errorf("a sirloin fillet of %.2f kg; the trade knows about 0.9 kg (2 lb)", kg)
	}
	heart, _ := p.Muscle("heart_main")
	if heart.MinAgeDays != 21 {
		t.Errorf("heart is steaked from day %d; the trade hangs top sirloin about 21 days", heart.MinAgeDays)
	}
	large := 0
	for _, m := range p.Muscles {
		if m.SharePct > 10 {
			large++
		}
	}
	if large != 4 || len(p.Muscles) != 5 {
		t.Errorf("%d large muscles of %d; the trade counts four main ones and the mouse", large, len(p.Muscles))
	}
	cap, _ := p.Muscle("cap")
	if !strings.Contains(cap.Anatomical, "biceps femoris") || !strings.Contains(heart.Anatomical, "gluteus medius") {
		t.Error("cap is the biceps femoris, heart the gluteus medius (Nomina Anatomica Veterinaria, from memory)")
	}
	seamed, _ := p.Plan("seamed")
	for _, pr := range seamed.Products {
		if pr.ID == "cap_steak" && pr.ThicknessMm != 38 {
			t.Errorf("cap steaks of %.0f mm; the trade cuts 38 mm (1.5 in)", pr.ThicknessMm)
		}
	}
}

func TestSplitClosesExactly(t *testing.T) {
	p := load(t)
	for _, m := range []measure.Mass{1, 7, 999, 6_600_000, 5_480_001, 123_456_789} {
		sum := measure.Mass(0)
		for _, s := range p.Split(m) {
			sum += s
		}
		if sum != m {
			t.Errorf("parts of %d mg add to %d", m, sum)
		}
	}
}

func TestFoundTakesTheTriTipOut(t *testing.T) {
	p := load(t)
	without := p.Found([]string{"tri_tip_off", "no_such_point"})
	if _, ok := without.Muscle("tri_tip"); ok {
		t.Fatal("tri-tip is still there")
	}
	if _, ok := p.Muscle("tri_tip"); !ok {
		t.Fatal("the atlas itself was changed")
	}
	if kg := without.WeightKg.Typical; math.Abs(kg-5.4) > 0.1 { // about 5.4 kg: common practice, no source
		t.Errorf("a rump without tri-tip of %.2f kg", kg)
	}
	if without.Name != "Top sirloin, boneless, without tri-tip" {
		t.Errorf("it is called %s", without.Name)
	}
	sum := 0.0
	for _, part := range without.Parts() {
		sum += float64(part.Share)
	}
	if math.Abs(sum-whole) > 10 {
		t.Errorf("shares add to %.0f thousandths", sum)
	}
	for _, m := range without.Muscles {
		if slices.Contains(m.Seam.After, "tri_tip") || slices.Contains(m.Touches, "tri_tip") {
			t.Errorf("%s still waits for or touches the tri-tip", m.ID)
		}
	}
	seamed, _ := without.Plan("seamed")
	if _, ok := seamed.Product("tri_tip_whole"); ok {
		t.Error("the plan still sells a tri-tip")
	}
}

func TestSearch(t *testing.T) {
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	for question, why := range map[string]string{
		"top sirloin": "house name", "sirloin butt": "name in us", "RUMP": "name in", "hufte": "name in de", "Hüfte": "name in de", "184": "item number (imps)", "full rum": "name in uk",
		"picanha": "muscle in it, name in br", "biceps femoris": "muscle in it", "burgermeister": "muscle in it, name in de",
	} {
		hits := a.Search(question)
		if len(hits) == 0 || hits[0].Piece.ID != "beef.top_sirloin" || !strings.HasPrefix(hits[0].Why, why) {
			t.Errorf("%q found %d, want top sirloin by %s", question, len(hits), why)
			for _, h := range hits {
				t.Logf("%s by %s, %s", h.Piece.ID, h.Matched, h.Why)
			}
		}
	}
	if hits := a.Search("salmon"); len(hits) != 0 {
		t.Errorf("salmon found %s", hits[0].Piece.ID)
	}
	if len(a.Search("")) != len(a.Pieces) {
		t.Error("an empty question does not list every piece")
	}
}

// Every rule of the loader has a fault that names file, piece and key.
func TestLoaderRefuses(t *testing.T) {
	raw, err := os.ReadFile("data/beef-rump.yaml")
	if err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct{ old, new, want string }{
		"unknown key":          {"  region:", "  regoin:", "regoin"},
		"bad sum":              {"share_pct: 15.5", "share_pct: 15.6", "share_pct: the shares add to 100.100"},
		"circle":               {"after: [tri_tip]\n        tell: \"Bone side", "after: [heart_main]\n        tell: \"Bone side", "goes round in a circle"},
		"one-sided neighbour":  {"touches: [heart_main, heart_side, tri_tip]", "touches: [heart_main, heart_side, tri_tip, mouse]", "mouse does not touch it back"},
		"forgotten part":       {"mouse: 100, trim: 100}}\n        - {id: fat, name: Fat for rendering, form: fat, from: {cover_fat: 45", "trim: 100}}\n        - {id: fat, name: Fat for rendering, form: fat, from: {cover_fat: 45", "plans.traditional.from.mouse"},
		"unknown method":       {"cook: stir_fry", "cook: boil", "is not a cooking method"},
		"method, no estimate":  {"eating: {grill: 66, pan_fry: 66", "eating: {pan_fry: 66", "heart_side has no estimate for grill"},
		"sells the waste":      {"from: {cover_fat: 45", "from: {gristle: 1, cover_fat: 45", "is not a muscle or part that can be sold"},
		"position outside":     {"at: [21, 33]", "at: [111, 30]", "lies outside the section"},
		"outline not convex":   {"[20, 6]", "[30, 30]", "section.outline"},
		"no basis":             {"  basis:", "  # basis:", "basis: is missing"},
		"two muscles, one id":  {"- id: mouse", "- id: cap", "stands twice"},
		"no traditional plan":  {"school: traditional", "school: other", "no plan of the traditional school"},
		"weights out of order": {"low: 5.0", "low: 9.0", "weight_kg"},
		"unknown seam":         {"after: [tri_tip, mouse, cap]", "after: [tri_tip, moose, cap]", "“moose” is not a muscle"},
		"absent unknown":       {"absent: [tri_tip, wedge_fat]", "absent: [tail]", "“tail” is not a muscle or part"},
		"not yaml":             {"  species: beef", "  species: [beef", "["},
	} {
		text := strings.Replace(string(raw), c.old, c.new, 1)
		if text == string(raw) {
			t.Errorf("%s: the fixture does not hold %q", name, c.old)
			continue
		}
		_, err := Decode("rump.yaml", []byte(text))
		if err == nil {
			t.Errorf("%s: was accepted", name)
			continue
		}
		if !strings.Contains(err.Error(), c.want) || !strings.Contains(err.Error(), "rump.yaml") {
			t.Errorf("%s: %v\nwant %q and the file named", name, err, c.want)
		}
	}
}

func BenchmarkLoad(b *testing.B) {
	for b.Loop() {
		if _, err := Load(); err != nil {
			b.Fatal(err)
		}
	}
}
