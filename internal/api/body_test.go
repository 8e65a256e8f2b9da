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
