package atlas

import (
	"math"
	"strings"
	"testing"
	"testing/fstest"
)

// The two carcasses take each piece once, by the division that is said; what else can be pulled is said too.
func TestCarcasses(t *testing.T) {
	a := loaded(t)
	if len(a.Carcasses) != 2 {
		t.Fatalf("%d carcasses", len(a.Carcasses))
	}
	lamb, _ := a.FindCarcass("lamb.whole")
	side, ok := a.FindCarcass("beef.side")
	if !ok || len(lamb.Parts) != 5 || len(side.Parts) != 14 {
		t.Fatalf("lamb in %d pieces, side in %d", len(lamb.Parts), len(side.Parts))
	}
	for _, pl := range lamb.Plans { // a whole lamb on the band saw: 5–10 minutes cut and packed. Common practice, no source
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
			if kg := c.WeightKg.Typical * part.SharePct / 100 / float64(part.Count); math.Abs(kg-p.WeightKg.Typical) > 0.25*p.WeightKg.Typical {
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
		if c.ID == "beef.side" && (bone < 10 || bone > 18 || fat < 8 || fat > 20) { // bone 12–18 % and fat 8–20 % of a side: common practice, no source
			t.Errorf("a side with %.1f %% bone and %.1f %% fat", bone, fat)
		}
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
		"unknown key": {"  region:", "  regoin:", "regoin"}, "bad sum": {"share_pct: 1.9", "share_pct: 2.0", "share_pct: the shares add to 100.100"}, "unknown piece": {"{piece: lamb.rack,", "{piece: lamb.rock,", "parts.lamb.rock: is not a piece"},
		"not its own share": {"piece: lamb.saddle, share_pct: 12.5", "piece: lamb.saddle, share_pct: 12.4", "side_share_pct 12.5"}, "twice": {"{piece: lamb.saddle, share_pct: 12.5, count: 1}", "{piece: lamb.rack, share_pct: 12.5, count: 1}", "stands twice"},
		"unknown plan": {"lamb.saddle: seamed", "lamb.saddle: sawn", "plans.seamed.pieces.lamb.saddle"}, "a piece left out": {"lamb.saddle: traditional, lamb.rack: traditional,", "lamb.rack: traditional,", "cuts 4 of the 5 pieces"},
		"taken and instead": {"pieces: [lamb.chump]", "pieces: [lamb.rack]", "a carcass takes one division"}, "instead of nothing": {"of: [lamb.leg_chump]", "of: [lamb.neck]", "lamb.neck is not taken"},
		"no loss": {"kind: loss", "kind: fat", "exactly one part of kind loss"}, "unknown kind": {"kind: offal", "kind: awful", "other.kidneys"}, "no basis": {"  basis:", "  # basis:", "basis"},
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
