package atlas

import (
	"reflect"
	"strings"
	"testing"
)

// Rule: every plan of the atlas, written to a file and read again, makes, wastes and takes the same.
func TestPlansGoOutAndIn(t *testing.T) {
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			raw, err := PlanFile(p, pl)
			if err != nil {
				t.Fatalf("%s %s: %v", p.ID, pl.ID, err)
			}
			piece, again, err := ReadPlanFile(raw)
			if err != nil {
				t.Fatalf("%s %s: %v\n%s", p.ID, pl.ID, err, raw)
			}
			again = p.Compile(again)
			if piece != p.ID || again.Name != pl.Name || again.Minutes != pl.Minutes || again.Tool != pl.Tool ||
				!reflect.DeepEqual(shares(again), shares(pl)) || len(again.Steps) != len(pl.Steps) ||
				!reflect.DeepEqual(again.Options, pl.Options) {
				t.Errorf("%s %s comes back as another plan", p.ID, pl.ID)
			}
			if faults := ValidatePlan(p, again); len(faults) > 0 {
				t.Errorf("%s %s: %v", p.ID, pl.ID, faults)
			}
		}
	}
	for name, text := range map[string]string{"nothing": "", "two": "- piece: a\n- piece: b\n", "no plan": "- piece: a\n",
		"an unknown key": "- piece: a\n  plans: [{id: x, nmae: y}]\n", "no YAML": "\t{"} {
		if _, _, err := ReadPlanFile([]byte(text)); err == nil {
			t.Errorf("%s is read", name)
		}
	}
	if raw, _ := PlanFile(a.Pieces[0], a.Pieces[0].Plans[0]); strings.Contains(string(raw), "null") {
		t.Errorf("nothing is written:\n%s", raw)
	}
}

// shares is what of each part goes where, and what is thrown away.
func shares(pl Plan) map[string]map[string]float64 {
	out := map[string]map[string]float64{Thrown: {}}
	for part, pct := range pl.Waste {
		out[Thrown][part] = pct
	}
	for _, pr := range pl.Products {
		out[pr.ID] = pr.From
	}
	return out
}
