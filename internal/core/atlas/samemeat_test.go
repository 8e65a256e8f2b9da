package atlas

import (
	"math"
	"testing"
)

// Facts of the trade (common practice, no source): the flat iron, the feather blade and the top blade steak are one
// muscle; so are the strip steak, the striploin steak and its roast. By hand: a saddle's loin chop is bone in part, and
// what is eaten of it is the rest.
func TestTheSameMeatUnderOtherNames(t *testing.T) {
	a := loaded(t)
	of := map[string]string{}
	seen := map[string]bool{}
	for _, m := range a.SameMeat() {
		if len(m.Products) < 2 {
			t.Errorf("%s is sold under one name", m.Muscle.Anatomical)
		}
		for _, s := range m.Products {
			if seen[s.Key] {
				t.Errorf("%s stands twice", s.Key)
			}
			seen[s.Key], of[s.Key] = true, m.Muscle.Anatomical
			if s.SharePct < 60 || s.SharePct > 100.001 || s.EdiblePct < s.SharePct-0.001 || s.EdiblePct > 100.001 {
				t.Errorf("%s: %.1f %% of it, %.1f %% eaten", s.Key, s.SharePct, s.EdiblePct)
			}
		}
	}
	for _, same := range [][]string{{"beef.flat_iron", "beef.top_blade_steak", "beef.blade_braise"},
		{"beef.striploin_steak", "beef.strip_roast"}, {"beef.cap_steak", "beef.cap_roast"}} {
		for _, key := range same {
			if of[key] == "" || of[key] != of[same[0]] {
				t.Errorf("%s is of %q, %s of %q", key, of[key], same[0], of[same[0]])
			}
		}
	}
	p, _ := a.Find("beef.rib")
	pl, _ := p.Plan("traditional")
	pr, _ := pl.Product("loin_end_roast")
	whole, bone := 0.0, 0.0
	for _, part := range p.Parts() {
		g := float64(part.Share) * pr.From[part.ID]
		if whole += g; part.ID == "rib_bone" || part.ID == "gristle" {
			bone += g
		}
	}
	if _, s := p.mostly(pr); math.Abs(s.EdiblePct-100*(1-bone/whole)) > 1e-9 || s.EdiblePct > 90 {
		t.Errorf("%.2f %% of a rib roast is eaten", s.EdiblePct)
	}
}
