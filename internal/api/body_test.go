package api

import (
	"encoding/json"
	"math"
	"testing"

	"falda/internal/api/contract"
)

// The inside of a piece over the wire: slices add up to the piece, each is drawn, and the atlas says where it knows
// none.
func TestTheInsideOfAPiece(t *testing.T) {
	r := newRig(t)
	var list []struct{ Id string }
	r.ok("GET", base+"/atlas/pieces", nil, &list)
	known := 0
	for _, p := range list {
		var b contract.Body
		status, _, raw := r.do("GET", base+"/atlas/pieces/"+p.Id+"/body?slices=5", nil)
		if status == 409 {
			continue
		}
		known++
		if err := json.Unmarshal(raw, &b); err != nil {
			t.Fatal(p.Id, status, err)
		}
		total, parts := 0.0, 0.0
		for _, s := range b.Slices {
			total += s.G
			sum := 0.0
			for _, x := range s.Parts {
				sum += x.G
			}
			if math.Abs(sum-s.G) > 0.001 || len(s.Outline) < 20 || len(s.Cells) == 0 {
				t.Errorf("%s: a slice of %g g holds %g, %d cells", p.Id, s.G, sum, len(s.Cells))
			}
		}
		for _, x := range b.Parts {
			parts += x.G
		}
		if len(b.Slices) != 5 || math.Abs(total-b.WeightG) > 0.001 || math.Abs(parts-b.WeightG) > 0.001 {
			t.Errorf("%s: %d slices of %g g, parts of %g, of %g", p.Id, len(b.Slices), total, parts, b.WeightG)
		}
	}
	if known < 27 {
		t.Errorf("the inside of %d pieces is known", known)
	}
	var b contract.Body
	r.ok("GET", base+"/atlas/pieces/beef.top_sirloin/body?thick_mm=50", nil, &b)
	if n := len(b.Slices); n != 5 || b.Slices[4].ToMm != 240 || b.Slices[4].FromMm != 200 {
		t.Errorf("%d slices of 50 mm", n)
	}
	if p := r.fails("GET", base+"/atlas/pieces/lamb.chump/body?slices=60", nil); !has(p, "thick_mm", "") {
		t.Errorf("slices of a millimetre: %+v", p)
	}
	if p := r.fails("GET", base+"/atlas/pieces/beef.chuck_bone_in/body", nil); p.Status != 409 {
		t.Errorf("a primal: %+v", p)
	}
}

// Straight through, slice by slice: the slices weigh what the same product weighs in the comparison of that very piece,
// and a way that cuts no slices says so.
func TestStraightThroughSliceBySlice(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.cutHand(r.onBench("SLICES-1", "seamed"))
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison?baseline=traditional", nil, &c)
	at := "/api/v1/atlas/pieces/beef.top_sirloin/straight"
	var of, usual contract.Straight
	r.ok("GET", at+"?plan_id=traditional&breakdown_id="+b.Id, nil, &of)
	r.ok("GET", at+"?plan_id=traditional", nil, &usual)
	sum := func(s contract.Straight) (g float64) {
		for _, x := range s.Slices {
			g += x.Slice.G
		}
		return g
	}
	weighs := 0.0
	for _, row := range c.Baseline.Products {
		if row.Id == "rump_steak" {
			weighs = row.WeightG
		}
	}
	if weighs == 0 || math.Abs(sum(of)-weighs) > 0.0005 || !of.Measured || usual.Measured {
		t.Errorf("the slices weigh %.3f g, the product %.3f", sum(of), weighs)
	}
	if len(of.Slices) != 8 || of.Products[0].Slices != 8 || len(of.Says) == 0 || of.Products[0].Grade == nil ||
		len(of.Slices[0].Slice.Cells) == 0 || math.Abs(sum(of)-sum(usual)) < 1 {
		t.Errorf("%d slices of %.0f and %.0f g, %q", len(of.Slices), sum(of), sum(usual), of.Says)
	}
	if !c.Baseline.Plan.Sliced || c.Recorded.Plan.Sliced {
		t.Error("only the other way cuts slices")
	}
	if p := r.fails("GET", at+"?plan_id=seamed", nil); p.Status != 409 || !has(p, "", "no_slices") {
		t.Errorf("a seamed way: %+v", p)
	}
	if p := r.fails("GET", at+"?plan_id=none", nil); !has(p, "plan_id", "unknown") {
		t.Errorf("no way: %+v", p)
	}
	// a way of the shop's own that was copied from it cuts the same slices
	own := contract.PlanDraft{}
	r.ok("GET", "/api/v1/plans/beef.top_sirloin/traditional/draft", nil, &own)
	own.Name = "Our cross-cut steaks"
	var made contract.PlanDetail
	r.ok("POST", "/api/v1/plans/beef.top_sirloin", own, &made)
	r.ok("GET", at+"?plan_id="+made.Plan.Id, nil, &usual)
	if len(usual.Slices) != 8 || !made.Plan.Sliced {
		t.Errorf("a copy cuts %d slices", len(usual.Slices))
	}
}
