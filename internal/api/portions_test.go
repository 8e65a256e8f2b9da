package api

import (
	"bytes"
	"math"
	"strconv"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// A muscle is portioned by weight, count and thickness; what is weighed moves the marks of what is left; the ruler is a
// page.
func TestPortionsOfAMuscle(t *testing.T) {
	r := newRig(t)
	const at = base + "/portions"
	lay := func(more map[string]any) contract.PortionPlan {
		t.Helper()
		ask := map[string]any{"atlas_id": "beef.striploin", "part": "eye", "weight_g": 3900}
		for k, v := range more {
			ask[k] = v
		}
		var p contract.PortionPlan
		r.ok("POST", at, ask, &p)
		total, from := 0.0, p.Pieces[0].FromMm
		for _, x := range p.Pieces {
			if x.FromMm != from {
				t.Fatalf("the marks do not tile: %+v", p.Pieces)
			}
			from = x.ToMm
			total += x.G
		}
		if from != p.LengthMm {
			t.Fatalf("the marks end at %d of %d mm", from, p.LengthMm)
		}
		return p
	}
	byWeight := map[string]any{"way": "weight", "label_g": 220, "over_g": 30}
	p := lay(byWeight)
	if p.Portions < 15 || p.LightestG < 220 || p.HeaviestG > 250 || p.OtherSentence == nil ||
		math.Abs(float64(p.Portions)*220+p.GiveAwayG+p.RestG-3900) > 0.5 {
		t.Errorf("by weight: %+v", p)
	}
	first := p.Pieces[0]
	p = lay(map[string]any{"way": "weight", "label_g": 220, "over_g": 30,
		"cut": []any{map[string]any{"to_mm": first.ToMm, "g": 260}}})
	sum := 260.0
	for _, x := range p.Pieces {
		sum += x.G
	}
	if p.Pieces[0].FromMm != first.ToMm || math.Abs(sum-3900) > 1 {
		t.Errorf("after a portion of 260 g: from %d mm, %g g in all", p.Pieces[0].FromMm, sum)
	}
	if p = lay(map[string]any{"way": "count", "count": 12}); p.Portions != 12 || p.RestG != 0 ||
		p.HeaviestG-p.LightestG > 30 {
		t.Errorf("by count: %+v", p)
	}
	if p = lay(map[string]any{"way": "thickness", "thickness_mm": 30}); p.Pieces[1].FromMm != 30 ||
		p.Pieces[1].ToMm != 60 ||
		p.HeaviestG-p.LightestG < 5 {
		t.Errorf("by thickness: %+v", p)
	}
	if p = lay(map[string]any{"way": "count", "count": 4, "length_mm": 300.0}); p.LengthMm != 300 {
		t.Errorf("%d mm long", p.LengthMm)
	}
	// in halves: half as many slices, each of two portions
	if p = lay(map[string]any{"way": "count", "count": 12, "into": 2}); p.Portions != 12 || len(p.Pieces) != 6 ||
		p.Into != 2 || math.Abs(p.LightestG*12-3900) > 200 {
		t.Errorf("in halves: %+v", p)
	}
	// an order: eight portions, the rest stays one piece
	if p = lay(map[string]any{"way": "weight", "label_g": 220, "over_g": 30, "count": 8}); p.Portions != 8 ||
		len(p.Pieces) != 9 || p.Pieces[8].Portion || p.OtherSentence != nil {
		t.Errorf("an order of eight: %+v", p)
	}
	// the whole piece straight through: its parts together
	if p = lay(map[string]any{"part": "piece", "weight_g": 5600, "way": "thickness",
		"thickness_mm": 30}); p.LengthMm != 440 ||
		p.Portions != 15 || p.HeaviestG < 300 || p.HeaviestG > 480 {
		t.Errorf("the whole piece: %+v", p)
	}
	// money, by hand: what is paid is the labels; what is over them is given away; rests have a price of their own
	p = lay(map[string]any{"way": "weight", "label_g": 220, "over_g": 30, "price": "30", "rest_price": "10",
		"price_per": "kg"})
	paid := float64(p.Portions) * 220 / 1000 * 30
	for what, got := range map[string][2]float64{"portions": {amount(t, p.Money.Portions), paid},
		"rest":       {amount(t, p.Money.Rest), p.RestG / 1000 * 10},
		"given away": {amount(t, p.Money.GivenAway), p.GiveAwayG / 1000 * 30},
		"whole":      {amount(t, p.Money.Whole), paid + p.RestG/1000*10}} {
		if math.Abs(got[0]-got[1]) > 0.006 {
			t.Errorf("%s bring %.2f, by hand %.3f", what, got[0], got[1])
		}
	}
	if p.OtherMoney == nil || lay(byWeight).Money != nil {
		t.Error("money is said of both ways where a price was given, and only there")
	}
	status, header, raw := r.do("POST", at+"/ruler.pdf", map[string]any{"atlas_id": "beef.striploin", "part": "eye",
		"weight_g": 3900, "way": "count", "count": 12})
	if status != 200 || header.Get("Content-Type") != "application/pdf" ||
		!bytes.Contains(printed(raw), []byte("12 portions")) || !bytes.Contains(printed(raw), []byte("100 mm exactly")) {
		t.Errorf("the ruler: %d %v", status, header)
	}
	for field, more := range map[string]map[string]any{
		"atlas_id":     {"atlas_id": "beef.nothing", "way": "count", "count": 2},
		"part":         {"part": "nothing", "way": "count", "count": 2},
		"weight_g":     {"weight_g": 1, "way": "count", "count": 2},
		"length_mm":    {"length_mm": 5, "way": "count", "count": 2},
		"way":          {"way": "by eye"},
		"part ":        {"atlas_id": "beef.chuck_bone_in", "part": "piece", "way": "count", "count": 2},
		"count":        {"way": "count"},
		"label_g":      {"way": "weight"},
		"into":         {"way": "count", "count": 9, "into": 9},
		"price":        {"way": "count", "count": 2, "price": "much", "price_per": "kg"},
		"rest_price":   {"way": "count", "count": 2, "price": "30", "rest_price": "-1", "price_per": "kg"},
		"thickness_mm": {"way": "thickness"},
		"cut[0]":       {"way": "count", "count": 3, "cut": []any{map[string]any{"to_mm": 9999, "g": 10}}},
	} {
		ask := map[string]any{"atlas_id": "beef.striploin", "part": "eye", "weight_g": 3900}
		for k, v := range more {
			ask[k] = v
		}
		if p := r.fails("POST", at, ask); p.Status != 422 || !has(p, strings.TrimSpace(field), "") {
			t.Errorf("%s: %d %+v", field, p.Status, p.Errors)
		}
	}
}

func amount(t testing.TB, text string) float64 {
	t.Helper()
	v, err := strconv.ParseFloat(text, 64)
	if err != nil {
		t.Fatal(err)
	}
	return v
}

// Every muscle of the atlas can be portioned, whatever its shape.
func TestEveryMuscleIsPortioned(t *testing.T) {
	r := newRig(t)
	n := 0
	for _, p := range r.work.Atlas().Pieces {
		for _, m := range p.Muscles {
			var got contract.PortionPlan
			r.ok("POST", base+"/portions", map[string]any{"atlas_id": p.ID, "part": m.ID, "way": "count", "count": 2,
				"weight_g": math.Max(60, p.WeightKg.Typical*m.SharePct*10)}, &got)
			if got.Portions != 2 || got.Basis == "" || got.HeaviestG > 1.5*got.LightestG {
				t.Errorf("%s of %s: %+v", m.ID, p.ID, got)
			}
			n++
		}
	}
	if n < 100 {
		t.Errorf("%d muscles", n)
	}
}

// A block of parts that are still joined is portioned as it lies: its marks add up to its weight, and the board says of
// a product that is sliced from a block what is in that and what it weighs.
func TestPortionsOfABlock(t *testing.T) {
	r := newRig(t)
	ask := func(holds map[string]float64) map[string]any {
		return map[string]any{"atlas_id": "beef.top_sirloin", "part": "block", "holds": holds, "called": "the heart",
			"weight_g": 3200, "way": "count", "count": 4}
	}
	var p contract.PortionPlan
	r.ok("POST", base+"/portions", ask(map[string]float64{"heart_main": 100, "heart_side": 100}), &p)
	sum := 0.0
	for _, x := range p.Pieces {
		sum += x.G
	}
	if p.Portions != 4 || math.Abs(sum-3200) > 1 || p.Name != "the heart" || p.HeaviestG-p.LightestG > 40 {
		t.Errorf("%+v, %g g in all", p, sum)
	}
	for _, bad := range []map[string]float64{{}, {"tail": 100}, {"heart_main": 101}, {"heart_main": 0}, {"trim": 100}} {
		if problem := r.fails("POST", base+"/portions", ask(bad)); !has(problem, "holds", "") {
			t.Errorf("%v: %+v", bad, problem)
		}
	}
	var lot contract.Lot
	r.ok("POST", base+"/lots", with("BLOCK-1", map[string]any{"atlas_id": "beef.striploin", "weight": "5.6"}), &lot)
	r.ok("PUT", base+"/pieces/"+lot.PieceIds[0]+"/plan", map[string]any{"plan_id": "front_steaks", "version": 1}, nil)
	var b contract.Board
	r.ok("POST", base+"/pieces/"+lot.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 5600}))
	blocks := 0
	for _, e := range b.Expected {
		if e.CutFrom == nil {
			continue
		}
		blocks++
		if e.Kind != "product" || e.CutFrom.WeightG < e.ExpectedG || len(e.CutFrom.Holds) == 0 {
			t.Errorf("%+v cut from %+v", e, e.CutFrom)
		}
	}
	if blocks == 0 {
		t.Error("nothing is sliced from a block")
	}
}
