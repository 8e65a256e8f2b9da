package atlas

import (
	"math"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
)

// The two carcasses, and the two quarters of beef, take each piece once, by the division that is said; what else can be
// pulled is said too.
func TestCarcasses(t *testing.T) {
	a := loaded(t)
	if len(a.Carcasses) != 4 {
		t.Fatalf("%d carcasses", len(a.Carcasses))
	}
	lamb, _ := a.FindCarcass("lamb.whole")
	side, ok := a.FindCarcass("beef.side")
	if !ok || len(lamb.Parts) != 5 || len(side.Parts) != 14 {
		t.Fatalf("lamb in %d pieces, side in %d", len(lamb.Parts), len(side.Parts))
	}
	// a whole lamb on the band saw: 5–10 minutes cut and packed. Common practice, no source
	for _, pl := range lamb.Plans {
		if pl.School == "traditional" && (pl.Minutes < 5 || pl.Minutes > 10) {
			t.Errorf("a lamb on the band saw takes %g minutes", pl.Minutes)
		}
	}
	for _, c := range a.Carcasses {
		sum := 0.0
		for _, part := range c.Parts {
			p, _ := a.Find(part.Piece)
			sum += part.SharePct
			// the typical piece is about the typical carcass' share, within a quarter
			if kg := c.WeightKg.Typical * part.SharePct / 100 / float64(part.Count); math.Abs(kg-p.WeightKg.Typical) > 0.25*
				p.WeightKg.Typical {
				t.Errorf("%s: %s weighs %.2f kg by its share and %.2f by its own entry", c.ID, p.ID, kg, p.WeightKg.Typical)
			}
		}
		bone, fat := 0.0, 0.0
		for _, o := range c.Other {
			sum += o.SharePct
			switch o.Kind {
			case KindBone:
				bone += o.SharePct
			case KindFat:
				fat += o.SharePct
			}
		}
		if math.Abs(sum-100) > 1e-9 {
			t.Errorf("%s: %.3f %%", c.ID, sum)
		}
		// bone 12–18 % and fat 8–20 % of a side: common practice, no source
		if c.ID == "beef.side" && (bone < 10 || bone > 18 || fat < 8 || fat > 20) {
			t.Errorf("a side with %.1f %% bone and %.1f %% fat", bone, fat)
		}
	}
}

// A carcass takes one consistent division; every one of them takes all of it, each part once.
func TestDivisions(t *testing.T) {
	a := loaded(t)
	for id, want := range map[string][]string{
		// not both shoulders of one forequarter
		"lamb.whole": {"usual", "shoulders", "square", "chump", "shoulders+chump", "square+chump"},
		// not the loin on the bone and its fillet out
		"beef.side": {"usual", "fillet_out", "loin_on_bone", "chuck_on_bone", "fillet_out+chuck_on_bone",
			"loin_on_bone+chuck_on_bone", "ribeye", "fillet_out+ribeye", "loin_on_bone+ribeye", "chuck_on_bone+ribeye",
			"fillet_out+chuck_on_bone+ribeye", "loin_on_bone+chuck_on_bone+ribeye"},
		"beef.hindquarter": {"usual"}, "beef.forequarter": {"usual"},
	} {
		c, _ := a.FindCarcass(id)
		var got []string
		names := map[string]bool{}
		for _, d := range c.Divisions() {
			got = append(got, d.ID)
			p := a.Whole(c, d.ID)
			if named, _ := p.Plan(d.ID); names[named.ShortName()] {
				t.Errorf("%s: two divisions are called %s", id, named.ShortName())
			} else {
				names[named.ShortName()] = true
			}
			sum, seen := int64(0), map[string]bool{}
			for _, part := range p.Parts() {
				if seen[part.ID] {
					t.Errorf("%s %s: %s is taken twice", id, d.ID, part.ID)
				}
				seen[part.ID] = true
				sum += part.Share
			}
			if sum != whole {
				t.Errorf("%s %s: %d thousandths", id, d.ID, sum)
			}
			pl, ok := p.Plan(d.ID)
			if !ok || len(ValidatePlan(p, pl)) > 0 {
				t.Errorf("%s %s: %v", id, d.ID, ValidatePlan(p, pl))
			}
		}
		if !slices.Equal(got, want) {
			t.Errorf("%s is divided as %v", id, got)
		}
	}
	whole, ok := a.Find("lamb.whole")
	if !ok || len(whole.Muscles) != 5 {
		t.Errorf("the whole lamb is found as %s with %d parts", whole.Name, len(whole.Muscles))
	}
	if hits := a.Search("lamb carcass"); len(hits) == 0 || hits[0].Piece.ID != "lamb.whole" {
		t.Errorf("a lamb carcass is found as %v", hits)
	}
}

// Every rule about carcasses has a fault that names file, carcass and key.
func TestCarcassLoaderRefuses(t *testing.T) {
	raw, err := data.ReadFile("data/carcass/lamb-whole.yaml")
	if err != nil {
		t.Fatal(err)
	}
	rump, err := data.ReadFile("data/lamb.yaml")
	if err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct{ old, new, want string }{
		"unknown key":   {"  region:", "  regoin:", "regoin"},
		"bad sum":       {"share_pct: 1.9", "share_pct: 2.0", "share_pct: the shares add to 100.100"},
		"unknown piece": {"{piece: lamb.rack,", "{piece: lamb.rock,", "parts.lamb.rock: is not a piece"},
		"not its own share": {"piece: lamb.saddle, share_pct: 12.5", "piece: lamb.saddle, share_pct: 12.4",
			"side_share_pct 12.5"},
		"twice":        {"{piece: lamb.saddle, share_pct: 12.5,", "{piece: lamb.rack, share_pct: 12.5,", "stands twice"},
		"unknown plan": {"lamb.saddle: seamed", "lamb.saddle: sawn", "plans.seamed.pieces.lamb.saddle"},
		"a piece left out": {"lamb.saddle: traditional, lamb.rack: traditional,", "lamb.rack: traditional,",
			"cuts 4 of the 5 pieces"},
		"taken and instead": {"{piece: lamb.chump, share_pct: 6.0", "{piece: lamb.rack, share_pct: 6.0",
			"a carcass takes one division"},
		"instead of nothing": {"of: [lamb.leg_chump]", "of: [lamb.neck]", "lamb.neck is not taken"},
		"instead of more":    {"kind: bone, share_pct: 8.0", "kind: bone, share_pct: 9.0", "instead.shoulders: share_pct"},
		"takes of nothing": {"      of: [lamb.leg_chump]", "      takes: {tail: 1}\n      of: [lamb.leg_chump]",
			"instead.chump: takes.tail"},
		"takes all of it": {"      of: [lamb.leg_chump]", "      takes: {kidney_fat: 1.9}\n      of: [lamb.leg_chump]",
			"instead.chump: takes.kidney_fat"},
		"long short name": {"short: Chump off", "short: The chump cut off the leg at the hip", "instead.chump: short"},
		"unknown finding": {"findings: [chump_off]", "findings: [chump_of]", "“chump_of” is not an inspection point"},
		"no loss":         {"kind: loss", "kind: fat", "exactly one part of kind loss"},
		"unknown kind":    {"kind: offal", "kind: awful", "other.kidneys"},
		"no basis":        {"  basis:", "  # basis:", "basis"},
		"crossed outline": {"[9, 20], [14, 9]", "[9, 20], [80, 42], [14, 9]", "an outline that does not cross itself"},
	} {
		text := strings.Replace(string(raw), c.old, c.new, 1)
		if text == string(raw) {
			t.Errorf("%s: the fixture does not hold %q", name, c.old)
			continue
		}
		_, err := LoadFS(fstest.MapFS{"lamb.yaml": {Data: rump}, "carcass/whole.yaml": {Data: []byte(text)}})
		if err == nil || !strings.Contains(err.Error(), c.want) || !strings.Contains(err.Error(), "carcass/whole.yaml") {
			t.Errorf("%s: %v\nwant %q and the file named", name, err, c.want)
		}
	}
}
