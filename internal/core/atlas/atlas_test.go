package atlas

import (
	"io/fs"
	"maps"
	"math"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

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
	// IMPS/NAMP item 184, Beef Loin, Top Sirloin Butt, Boneless (USDA IMPS series 100, from memory)
	if p.Codes["imps"] != "184" {
		t.Errorf("IMPS number %s", p.Codes["imps"])
	}
	alternative, _ := p.Muscle("heart_side")
	if kg := p.WeightKg.Typical * alternative.SharePct / 100; math.Abs(kg-0.9) > 0.1 {
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
	without := p.Found([]string{"tri_tip_off", "no_such_point"}, nil)
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

// Item numbers of the two standards (USDA IMPS series 100 and 200; UNECE bovine and ovine carcases and cuts; from
// memory).
func TestItemNumbers(t *testing.T) {
	a := loaded(t)
	for id, want := range map[string][2]string{
		"beef.chuck_roll": {"116A", "2275"}, "beef.clod": {"114", "2300"}, "beef.chuck_tender": {"116B", "2310"},
		"beef.shin_arm": {"117", ""}, "beef.brisket": {"119", ""}, "beef.rib": {"107", ""},
		"beef.chuck_short_rib": {"130", ""}, "beef.striploin": {"180", "2140"}, "beef.short_loin": {"174", "1550"},
		"beef.tenderloin": {"189A", "2150"}, "beef.bottom_sirloin": {"185", ""}, "beef.knuckle": {"167", "2060"},
		"beef.topside": {"168", "2000"}, "beef.silverside": {"170", "2020"}, "beef.top_sirloin": {"184", "2090"},
		"lamb.leg_chump": {"", "4800"}, "lamb.saddle": {"231", ""}, "lamb.rack": {"204", "4932"},
		"lamb.square_shoulder": {"207", "4990"}, "lamb.forequarter": {"", "4960"}, "lamb.breast_ribs": {"209", "5010"},
		"lamb.chump": {"", "4790"},
	} {
		p, ok := a.Find(id)
		if !ok || p.Codes["imps"] != want[0] || p.Codes["unece"] != want[1] {
			t.Errorf("%s: %v, want %v", id, p.Codes, want)
		}
	}
}

func loaded(t *testing.T) *Atlas {
	t.Helper()
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// Facts of the trade about the whole atlas: common practice, no source.
func TestAtlasAgainstTheTrade(t *testing.T) {
	a := loaded(t)
	find := func(id string) Piece {
		p, ok := a.Find(id)
		if !ok {
			t.Fatal("no ", id)
		}
		return p
	}
	muscle := func(piece, id string) Muscle {
		m, ok := find(piece).Muscle(id)
		if !ok {
			t.Fatal("no ", piece, " ", id)
		}
		return m
	}
	near := func(what string, got, want, off float64) {
		t.Helper()
		if math.Abs(got-want) > off {
			t.Errorf("%s: %.2f, the trade knows %.2f", what, got, want)
		}
	}
	near("kg of a chuck roll", find("beef.chuck_roll").WeightKg.Typical, 11.3, 0.5)
	near("kg of a big chuck roll", find("beef.chuck_roll").WeightKg.High, 15, 0.5)
	near("kg of the short loin of a very big animal", find("beef.short_loin").WeightKg.High, 14, 0.6)
	fillet := find("beef.tenderloin")
	dressed := 0.0
	for _, id := range []string{"psoas_major", "head_wing"} {
		m := muscle("beef.tenderloin", id)
		dressed += fillet.WeightKg.Typical * m.SharePct / 100 * (1 - m.TrimPct/100)
	}
	near("kg of a dressed fillet", dressed, 1.6, 0.25)
	topside := find("beef.topside")
	main, _ := topside.Muscle("main")
	// one or two dressed roasts of 3.6–4.5 kg, cap off
	if kg := topside.WeightKg.Typical * main.SharePct / 100 * (1 - main.TrimPct/100); kg < 3.6 || kg > 6.6 {
		t.Errorf("the main muscle of a topside dressed: %.1f kg", kg)
	}
	for _, m := range find("beef.knuckle").Muscles {
		if m.MinAgeDays != 0 && m.MinAgeDays < 14 && m.Eating["pan_fry"] >= 60 {
			t.Errorf("%s of the knuckle is fried from day %d; the trade waits 14", m.Name, m.MinAgeDays)
		}
	}
	// the shoulder tender and the fillet are the tenderest beef muscles, the top blade comes next (Warner–Bratzler
	// rankings of the beef muscle profiling work of the universities of Nebraska and Florida, 2000–2005; from memory)
	for _, pair := range [][4]string{{"beef.tenderloin", "psoas_major", "beef.top_sirloin", "heart_main"},
		{"beef.clod", "teres_major", "beef.clod", "clod_heart"}, {"beef.clod", "top_blade", "beef.topside", "main"},
		{"beef.striploin", "eye", "beef.silverside", "flat"}} {
		x, okx := find(pair[0]).Muscle(pair[1])
		y, oky := find(pair[2]).Muscle(pair[3])
		if okx && oky && (x.Tenderness <= y.Tenderness || x.Eating["grill"] <= y.Eating["grill"]) {
			t.Errorf("%s (%d, %.0f) should eat tenderer than %s (%d, %.0f)", x.Name, x.Tenderness, x.Eating["grill"], y.Name,
				y.Tenderness, y.Eating["grill"])
		}
	}
	// anatomy (Nomina Anatomica Veterinaria; from memory)
	for at, latin := range map[[2]string]string{{"beef.clod", "top_blade"}: "infraspinatus",
		{"beef.clod", "teres_major"}: "teres major", {"beef.clod", "clod_heart"}: "triceps brachii",
		{"beef.chuck_tender", "tender"}: "supraspinatus", {"beef.tenderloin", "psoas_major"}: "psoas major",
		{"beef.chuck_roll", "under_blade"}: "serratus ventralis"} {
		if m := muscle(at[0], at[1]); !strings.Contains(m.Anatomical, latin) {
			t.Errorf("%s is %s, not %s", m.Name, m.Anatomical, latin)
		}
	}
	for _, p := range a.Pieces {
		plans := map[string]bool{}
		for _, pl := range p.Plans {
			plans[pl.Cut] = true
		}
		if !plans[CutSeams] || !plans[CutStraight] {
			t.Errorf("%s cannot be cut both ways", p.ID)
		}
		if p.Basis == "" || p.Region == "" || p.Arrives == "" || len(p.Inspect) == 0 || len(p.Cautions) == 0 {
			t.Errorf("%s lacks its basis, region, inspection or cautions", p.ID)
		}
	}
}

// One box finds a piece, a muscle or a product by any name, also misspelt.
func TestSearch(t *testing.T) {
	a := loaded(t)
	for question, want := range map[string]struct {
		piece, id, why string
		near           bool
	}{
		"top sirloin":      {"beef.top_sirloin", "", "house name", false},
		"top sirloin butt": {"beef.top_sirloin", "", "name in us", false}, "RUMP": {"beef.top_sirloin", "", "name in", false},
		"hufte": {"beef.top_sirloin", "", "name in de", false}, "Hüfte": {"beef.top_sirloin", "", "name in de", false},
		"184":            {"beef.top_sirloin", "", "item number (imps)", false},
		"116a":           {"beef.chuck_roll", "", "item number (imps)", false},
		"full rum":       {"beef.top_sirloin", "", "name in uk", false},
		"picanha":        {"beef.top_sirloin", "cap", "name in br", false},
		"rump cap":       {"beef.top_sirloin", "cap", "house name", false},
		"flat iron":      {"beef.clod", "top_blade", "name in us", false},
		"flat irn":       {"beef.clod", "top_blade", "name in us", true},
		"infraspinatus":  {"beef.clod", "top_blade", "anatomical name", false},
		"infraspinattus": {"beef.clod", "top_blade", "anatomical name", true},
		"serratus":       {"beef.chuck_roll", "under_blade", "anatomical name", false},
		"brisckt":        {"beef.brisket", "", "house name", true},
		"porterhouse":    {"beef.short_loin", "porterhouse", "name in", false},
		"chuck role":     {"beef.chuck_roll", "", "house name", true},
		"denver":         {"beef.chuck_roll", "under_blade", "name in", false},
		"lamb":           {"lamb.whole", "", "house name", false}, // the animal before what comes of it
	} {
		hits := a.Lookup(question)
		if len(hits) == 0 || hits[0].Piece.ID != want.piece || hits[0].ID != want.id ||
			!strings.HasPrefix(hits[0].Why, want.why) || hits[0].Near != want.near {
			t.Errorf("%q found %d, want %+v", question, len(hits), want)
			for _, h := range hits[:min(4, len(hits))] {
				t.Logf("%s %s %s by %s, %s, near %v", h.Piece.ID, h.Kind, h.ID, h.Matched, h.Why, h.Near)
			}
		}
	}
	femoris := map[string]bool{}
	for _, h := range a.Lookup("biceps femoris") {
		femoris[h.Piece.ID] = true
	}
	// one muscle from the rump cap to the silverside
	if !femoris["beef.top_sirloin"] || !femoris["beef.silverside"] || !femoris["lamb.chump"] {
		t.Errorf("biceps femoris is in %v", femoris)
	}
	for _, nothing := range []string{"herring", "xq", "77777", "  -- "} {
		if hits := a.Lookup(nothing); len(hits) != 0 {
			t.Errorf("%q found %s", nothing, hits[0].Matched)
		}
	}
	if len(a.Search("")) != len(a.Pieces)+len(a.Carcasses) {
		t.Error("an empty question does not list every piece")
	}
	seen := map[string]bool{}
	for _, h := range a.Search("rump") {
		if seen[h.Piece.ID] {
			t.Errorf("%s is found twice", h.Piece.ID)
		}
		seen[h.Piece.ID] = true
	}
}

// What is said at the bench is for the cutter: no mark of how it came to be known stands in it.
func TestNoMarksInWhatIsSaid(t *testing.T) {
	mark := regexp.MustCompile(`\((usual|cp|est|guess)\b[^)]*\)`)
	files, err := fs.Glob(data, "data/plans/*.yaml")
	if err != nil || len(files) < 20 {
		t.Fatalf("%d files, %v", len(files), err)
	}
	for _, name := range files {
		raw, err := data.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		if found := mark.FindString(string(raw)); found != "" {
			t.Errorf("%s says %s", name, found)
		}
	}
}

// One name for different things in different markets is told apart.
func TestMeanings(t *testing.T) {
	a := loaded(t)
	for _, clear := range []string{"top blade", "picanha", "t-bone", "no such name"} {
		if m := a.Meanings(clear); len(m) > 0 && clear != "top blade" {
			t.Errorf("%q is not clear: %v", clear, m)
		}
	}
	several := map[string]bool{}
	for _, e := range a.names {
		m := a.Meanings(e.hit.Matched)
		if len(m) == 0 {
			continue
		}
		several[strings.ToLower(e.hit.Matched)] = true
		things, markets := map[string]bool{}, map[string]bool{}
		for _, one := range m {
			things[one.thing], markets[one.Market] = true, true
		}
		if len(things) < 2 || len(markets) < 2 {
			t.Errorf("%q means one thing, or is of one market: %v", e.hit.Matched, m)
		}
	}
	t.Logf("unclear names: %v", slices.Sorted(maps.Keys(several)))
	// in Britain the striploin, in America what is behind it: common practice, no source
	// a porterhouse has the fillet on in America, and is the striploin in Australia
	if !several["sirloin"] || !several["porterhouse"] || several["flat iron"] {
		t.Errorf("unclear names: %v", several)
	}
	p, _ := a.Find("beef.top_sirloin")
	if p.NameIn("uk") != "Rump" || p.NameIn("house") != "Top sirloin, boneless" ||
		p.NameIn("xx") != "Top sirloin, boneless" {
		t.Errorf("it is called %s, %s", p.NameIn("uk"), p.NameIn("house"))
	}
}

// Slips by hand: one left out, one added, one taken for another, two exchanged.
func TestSlips(t *testing.T) {
	for _, c := range []struct {
		a, b string
		want int
	}{{"iron", "iron", 0}, {"irn", "iron", 1}, {"ironn", "iron", 1}, {"iran", "iron", 1}, {"iorn", "iron", 1},
		{"brisckt", "brisket", 2}, {"", "ab", 2}, {"kitten", "sitting", 3}} {
		if got := slips(c.a, c.b, 5); got != c.want {
			t.Errorf("%s and %s: %d slips, want %d", c.a, c.b, got, c.want)
		}
	}
}

// Every rule of the loader has a fault that names file, piece and key.
func TestLoaderRefuses(t *testing.T) {
	raw, err := os.ReadFile("data/beef-rump.yaml")
	if err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct{ old, new, want string }{
		"unknown key": {"  region:", "  regoin:", "regoin"},
		"bad sum":     {"share_pct: 15.5", "share_pct: 15.6", "share_pct: the shares add to 100.100"},
		"circle": {"after: [tri_tip]\n        tell: \"Bone side",
			"after: [heart_main]\n        tell: \"Bone side", "goes round in a circle"},
		"one-sided neighbour": {"touches: [heart_main, heart_side, tri_tip]",
			"touches: [heart_main, heart_side, tri_tip, mouse]", "mouse does not touch it back"},
		"forgotten part": {"mouse: 100, trim: 100}}\n        - {id: fat, name: Fat for rendering, form: fat, from: " +
			"{cover_fat: 45", "trim: 100}}\n        - {id: fat, name: Fat for rendering, form: fat, from: {cover_fat: 45",
			"plans.traditional.from.mouse"},
		"end apart": {"eating: {grill: 45, pan_fry: 45}", "eating: {grill: 85, pan_fry: 45}",
			"do not come to the muscle's 61"},
		"unknown method": {"cook: stir_fry", "cook: boil", "is not a cooking method"},
		"method, no estimate": {"eating: {grill: 66, pan_fry: 66", "eating: {pan_fry: 66",
			"heart_side has no estimate for grill"},
		"sells the loss": {"from: {cover_fat: 45", "from: {loss: 1, cover_fat: 45",
			"is not a muscle or part that can be sold"},
		"sells waste twice": {"from: {cover_fat: 45, wedge_fat: 70}", "from: {cover_fat: 45, wedge_fat: 70, gristle: 101}",
			"more than there is"},
		"move to nothing": {"to: cap_roast, pct: 100", "to: cap_rost, pct: 100",
			"options.cap.choices.roast: “cap_rost” is not a product"},
		"option of no plan": {"in: [seamed]", "in: [seemed]", "“seemed” is not a plan"},
		"choice without why": {"          why: \"One roast with", "          # why: \"One roast with",
			"options.cap.choices.roast"},
		"cover over no muscle": {"over: {cap: 80", "over: {cape: 80", "cover.over.cape"},
		"finding takes all":    {"takes: {pct: 4, ", "takes: {pct: 90, ", "takes.pct"},
		"finding goes nowhere": {"of: [heart_main], to: discard", "of: [heart_main], to: away", "“away” is not one of"},
		"unknown direction":    {"direction: two ways", "direction: up", "grain.direction"},
		"tenderness of six":    {"tenderness: 3", "tenderness: 6", "tenderness"},
		"fat with a place":     {"kind: fat, share_pct: 9,", "kind: fat, at: [3, 3], share_pct: 9,", "other.cover_fat.at"},
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

// A folder of one's own may replace a piece; what it says is cut from an end must still be cut there.
func TestEndOfNoProduct(t *testing.T) {
	raw, err := os.ReadFile("data/beef-rump.yaml")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := LoadWith(fstest.MapFS{"rump.yaml": {Data: raw}}); err != nil {
		t.Errorf("the piece as it is: %v", err)
	}
	wrong := strings.Replace(string(raw), "of: [peeled/kebab]", "of: [peeled/kebap]", 1)
	_, err = LoadWith(fstest.MapFS{"rump.yaml": {Data: []byte(wrong)}})
	if err == nil || !strings.Contains(err.Error(), "muscles.cap.ends.back.of: “peeled/kebap”") {
		t.Errorf("an end of a product that is none: %v", err)
	}
}

func BenchmarkLoad(b *testing.B) {
	for b.Loop() {
		if _, err := Load(); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkLookup(b *testing.B) {
	a, err := Load()
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		a.Lookup("flat irn")
	}
}

// The ends of a muscle are parts of it: two at least, with what each is for, and they are all of it.
func TestEndsOfMuscles(t *testing.T) {
	a := loaded(t)
	found := 0
	for _, p := range a.Pieces {
		for _, m := range p.Muscles {
			if len(m.Ends) == 0 {
				continue
			}
			found++
			sum := 0.0
			for _, e := range m.Ends {
				sum += e.SharePct
				id := m.EndID(e)
				if of, got, ok := p.End(id); !ok || of.ID != m.ID || got.Name != e.Name || MuscleOf(id) != m.ID || e.Why == "" {
					t.Errorf("%s: %s is %+v", p.ID, id, got)
				}
			}
			if math.Abs(sum-100) > 1e-9 || len(m.Ends) < 2 {
				t.Errorf("%s: the ends of %s are %g %% of it", p.ID, m.ID, sum)
			}
			if MuscleOf(m.ID) != m.ID {
				t.Errorf("%s is of %s", m.ID, MuscleOf(m.ID))
			}
		}
	}
	if found < 8 {
		t.Errorf("%d muscles have ends", found)
	}
}

// Every plan has a short name of its own within its piece; a plan without one is called by its first words.
func TestShortNames(t *testing.T) {
	for _, p := range loaded(t).Pieces {
		seen := map[string]string{}
		for _, pl := range p.Plans {
			if pl.Short == "" || seen[pl.Short] != "" {
				t.Errorf("%s: “%s” is the short name of %s and of %s", p.ID, pl.Short, pl.ID, seen[pl.Short])
			}
			seen[pl.Short] = pl.ID
		}
	}
	for name, want := range map[string]string{"Cap roast, mouse diced": "Cap roast",
		"Harbour counter: cap roast and everything else diced": "Harbour counter: cap roast…", "Whole": "Whole"} {
		if got := (Plan{Name: name}).ShortName(); got != want {
			t.Errorf("“%s” is called “%s”, want “%s”", name, got, want)
		}
	}
}

// What thickness, weight and number say of a product must agree: a portion is thickness times the weight of a
// millimetre. Common practice, no source: what such a steak weighs on a usual piece.
func TestThicknessAndWeightAgree(t *testing.T) {
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		piece, plan, product string
		mm, low, high        float64
	}{
		{"beef.top_sirloin", "seamed", "side_medallion", 35, 115, 135},
		{"beef.knuckle", "seamed", "centre_steak", 30, 70, 110},
		{"beef.knuckle", "seamed", "scallop", 7, 25, 45},
		{"beef.knuckle", "whole_cross_cut", "knuckle_steak", 19, 270, 330},
		{"beef.chuck_roll", "seamed", "under_blade_steak", 25, 155, 175},
		{"beef.chuck_roll", "traditional", "thin_chuck_steak", 12, 350, 470},
		{"beef.chuck_roll", "traditional", "chuck_roast", 64, 1800, 2300},
		{"beef.clod", "traditional", "top_blade_steak", 25, 126, 146},
		{"beef.topside", "seamed", "tender_steak", 28, 165, 195},
		{"beef.tenderloin", "seamed", "head_steak", 32, 110, 150},
	} {
		p, _ := a.Find(c.piece)
		pl, _ := p.Plan(c.plan)
		pr, ok := pl.Product(c.product)
		if !ok || pr.ThicknessMm != c.mm || pr.PortionG < c.low || pr.PortionG > c.high {
			t.Errorf("%s %s: %g mm, %g g; want %g mm, %g to %g g", c.piece, c.product, pr.ThicknessMm, pr.PortionG, c.mm, c.low,
				c.high)
		}
	}
	// a short loin of 14 kg at 30 mm gives about 13 steaks of 750 to 850 g with the bone
	loin, _ := a.Find("beef.short_loin")
	if each := 0.79 * loin.GramsPerMm(14*measure.Kilogram) * 30; each < 750 || each > 850 {
		t.Errorf("a T-bone of a 14 kg short loin weighs %.0f g", each)
	}
	// the cap across the grain at 38 mm gives six or seven
	rump, _ := a.Find("beef.top_sirloin")
	seamed, _ := rump.Plan("seamed")
	cap, _ := rump.Muscle("cap")
	steak, _ := seamed.Product("cap_steak")
	if n := int(cap.Shape.LengthMm / steak.ThicknessMm); n < steak.Count.Low || n > steak.Count.High {
		t.Errorf("a cap of %g mm gives %d steaks of %g mm, the plan says %d to %d", cap.Shape.LengthMm, n, steak.ThicknessMm,
			steak.Count.Low, steak.Count.High)
	}
}
