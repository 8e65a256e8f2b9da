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

// How long seams take, by hand: a piece whose cap took six minutes where the atlas says so many is one measured time,
// and weighs as one beside the five of the atlas.
func TestThePaceOfSeams(t *testing.T) {
	r := newRig(t)
	const at = "/api/v1/atlas/pieces/beef.top_sirloin/pace"
	var before, after contract.SeamPaces
	r.ok("GET", at, nil, &before)
	if before.Pieces != 0 || len(before.Seams) != 5 || before.Cutter != nil {
		t.Fatalf("nothing was timed: %+v", before)
	}
	for _, s := range before.Seams {
		if s.Minutes <= 0 || s.HouseMinutes != s.Minutes || s.N != 0 || s.Cm2 < 20 || !s.Known {
			t.Errorf("before anything was timed: %+v", s)
		}
	}
	b := r.onBench("PACE-1", "seamed")
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	minute := 0
	for _, w := range handWeights {
		minute += map[bool]int{true: 6, false: 1}[w.part == "cap"]
		b = r.book(b.Id, r.event(w.kind, minute, map[string]any{"part": w.part, "net_g": w.g, "reason": "as usual"}))
	}
	r.book(b.Id, r.event("closed", minute+1, nil))
	r.ok("GET", at, nil, &after)
	if after.Pieces != 1 || len(after.Cutters) != 1 {
		t.Fatalf("one piece was timed: %+v", after)
	}
	var mine contract.SeamPaces
	r.ok("GET", at+"?cutter="+after.Cutters[0].Id, nil, &mine)
	for i, s := range after.Seams {
		// the piece weighs 6.6 kg, the usual one 6.5: its seams are larger
		ratio := 1 / s.Minutes / (0.2 + 0.8*math.Pow(6.6/6.5, 2.0/3))
		if s.Part == "cap" {
			ratio *= 6
		}
		ratio = math.Max(0.25, math.Min(4, ratio))
		house := math.Pow(ratio, 1.0/6)
		if math.Abs(s.HouseMinutes-s.Minutes*house) > 0.011 || s.N != 1 {
			t.Errorf("%s: %.2f min in the house, by hand %.2f", s.Part, s.HouseMinutes, s.Minutes*house)
		}
		// one more time of the same beside five of the house's
		if own := mine.Seams[i]; own.CutterMinutes == nil ||
			math.Abs(*own.CutterMinutes-s.Minutes*math.Pow(house, 5.0/6)*math.Pow(ratio, 1.0/6)) > 0.011 {
			t.Errorf("%s: %+v for who cut it", s.Part, own)
		}
	}
}

// How products eat: one that is of one muscle eats like that muscle is judged, one of several between them, and the
// worst in it is named.
func TestHowProductsEat(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.cutHand(r.onBench("PLATE-1", "seamed"))
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison?baseline=traditional", nil, &c)
	var j contract.Judgement
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/judgement", nil, &j)
	grilled := map[string]float64{}
	for _, m := range j.Muscles {
		for _, cell := range m.Cells {
			if cell.Method == "grill" {
				grilled[m.Part] = cell.Score
			}
		}
	}
	low, high := math.Inf(1), 0.0
	for _, score := range grilled {
		low, high = math.Min(low, score), math.Max(high, score)
	}
	rows := map[string]contract.OutputRow{}
	for _, row := range append(c.Recorded.Products, c.Baseline.Products...) {
		rows[row.Id] = row
	}
	if p := rows["cap_steak"].Plate; p == nil || math.Abs(p.Score-grilled["cap"]) > 0.11 || p.WorstScore != p.Score {
		t.Errorf("cap steak: %+v, the cap grills like %.1f", p, grilled["cap"])
	}
	if p := rows["rump_steak"].Plate; p == nil || p.Score <= low || p.Score >= high || p.WorstScore >= p.Score ||
		p.SpoiltPct <= 0 || p.SpoiltPct >= 100 {
		t.Errorf("rump steak: %+v between %.1f and %.1f", p, low, high)
	}
	if rows["fat"].Plate != nil {
		t.Error("fat has a plate")
	}
}
