package api

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math"
	"strings"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/store"
)

// freshCut receives a rump that was slaughtered a week ago and cuts it by hand; it gives the lot and the board.
func (r *rig) freshCut(number string) (contract.Lot, contract.Board) {
	r.t.Helper()
	in := arrival(number)
	in["slaughtered_on"], in["packed_on"] = "2026-03-13", "2026-03-15"
	var l contract.Lot
	r.ok("POST", base+"/lots", in, &l)
	r.ok("PUT", base+"/pieces/"+l.PieceIds[0]+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
	var b contract.Board
	r.ok("POST", base+"/pieces/"+l.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	return l, r.cutHand(b)
}

func (r *rig) tubs() map[string]contract.Tub {
	r.t.Helper()
	var s contract.Stock
	r.ok("GET", base+"/goods", nil, &s)
	out := map[string]contract.Tub{}
	for _, t := range s.Tubs {
		out[t.Key+"@"+t.Place] = t
	}
	return out
}

func booking(kind, tub string, more map[string]any) map[string]any {
	out := map[string]any{"id": store.NewID(), "kind": kind, "tub": tub}
	for k, v := range more {
		out[k] = v
	}
	return out
}

// What a bench gives lies in stock from the day on which the stock is begun; it follows what is corrected at the bench;
// what becomes of it is booked, once, and can be taken back. Nothing is lost on the way.
func TestGoodsFollowTheBench(t *testing.T) {
	r := newRig(t)
	r.priced()
	_, b := r.freshCut("GOODS-1")
	if s := r.tubs(); len(s) != 0 {
		t.Fatalf("before it is begun there is %+v", s)
	}
	if p := r.fails("PUT", base+"/goods/begin", map[string]string{"day": "2026-01-01"}); !has(p, "day", "") {
		t.Errorf("begun long ago: %+v", p)
	}
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	if p := r.fails("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-19"}); p.Status != 409 {
		t.Errorf("begun twice: %+v", p)
	}
	// every product of the comparison lies there, to the gram
	var c contract.Comparison
	r.ok("GET", base+"/breakdowns/"+b.Id+"/comparison?baseline=traditional", nil, &c)
	lies := r.tubs()
	cut := map[string]float64{} // as weighed and as estimated
	for _, row := range c.Recorded.Products {
		if row.Key != "" {
			cut[row.Key] += row.WeightG
		}
	}
	for key, g := range cut {
		if tub := lies[key+"@cold"]; math.Abs(tub.LeftG-g) > 0.001 || tub.Parts != 1 {
			t.Errorf("%s: %g g cut, %g g in stock", key, g, tub.LeftG)
		}
	}
	if len(cut) != len(lies) || len(cut) < 6 {
		t.Errorf("%d products, %d tubs", len(cut), len(lies))
	}
	trim := lies["beef.mince_trim@cold"]
	if trim.Kind != "stream" || from(trim.MinceUntil) != "2026-03-28" || trim.UseBy != "2026-03-22" || trim.Late ||
		from(trim.LeanPct) < 60 || from(trim.LeanPct) > 95 || from(trim.SlaughteredFrom) != "2026-03-13" {
		t.Errorf("the trim: %+v", trim)
	}
	// half a kilogram is thrown away, twice by mistake of the network, and then it is taken back
	waste := booking("wasted", trim.Id, map[string]any{"weight": "0.5", "unit": "kg", "note": "on the floor"})
	r.ok("POST", base+"/goods/events", waste, nil)
	r.ok("POST", base+"/goods/events", waste, nil)
	if got := r.tubs()["beef.mince_trim@cold"].LeftG; math.Abs(got-(trim.LeftG-500)) > 0.001 {
		t.Errorf("%g g left of %g", got, trim.LeftG)
	}
	undo := map[string]string{"id": store.NewID()}
	for range 2 {
		r.ok("PUT", base+"/goods/events/"+waste["id"].(string)+"/undo", undo, nil)
	}
	if got := r.tubs()["beef.mince_trim@cold"].LeftG; got != trim.LeftG {
		t.Errorf("after taking it back %g g, there were %g", got, trim.LeftG)
	}
	// a part is frozen, with a date of its own; a count finds less
	r.ok("POST", base+"/goods/events", booking("moved", trim.Id,
		map[string]any{"weight": "200", "unit": "g", "place": "frozen", "use_by": "2026-06-18"}), nil)
	lies = r.tubs()
	if f := lies["beef.mince_trim@frozen"]; f.LeftG != 200 || f.UseBy != "2026-06-18" {
		t.Errorf("frozen: %+v", f)
	}
	r.ok("POST", base+"/goods/events", booking("counted", trim.Id, map[string]any{"weight": "0.1", "unit": "kg"}), nil)
	if got := r.tubs()["beef.mince_trim@cold"].LeftG; got != 100 {
		t.Errorf("counted to 100 g, and there are %g", got)
	}
	for field, body := range map[string]map[string]any{
		"weight": booking("sold", trim.Id, map[string]any{"weight": "0.2", "unit": "kg"}),
		"note":   booking("wasted", trim.Id, map[string]any{"weight": "0.05", "unit": "kg"}),
		"place":  booking("moved", trim.Id, map[string]any{"place": "cold"}),
		"kind":   booking("eaten", trim.Id, nil),
		"use_by": booking("dated", trim.Id, map[string]any{"use_by": "2020-01-01"}),
		"tub":    booking("sold", "beef.mince_trim", map[string]any{"weight": "1", "unit": "kg"}),
	} {
		if p := r.fails("POST", base+"/goods/events", body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	// the board is opened again and a weight corrected: the stock follows it, what became of it stays
	var log []contract.LoggedEvent
	r.ok("GET", base+"/breakdowns/"+b.Id+"/events", nil, &log)
	undone := func(kind, part string) {
		for _, e := range log {
			if string(e.Event.Kind) == kind && from(e.Event.Part) == part {
				r.book(b.Id, r.event("undone", 30, map[string]any{"target": e.Event.Id}))
			}
		}
	}
	r.book(b.Id, r.event("reopened", 29, map[string]any{"reason": "a weight was wrong"}))
	if cap, gone := r.tubs()["beef.cap_steak@cold"]; gone {
		t.Errorf("an open board still gives %g g of cap steak", cap.LeftG)
	}
	undone("seamed_off", "cap")
	r.book(b.Id, r.event("seamed_off", 31, map[string]any{"part": "cap", "net_g": 900}))
	r.book(b.Id, r.event("closed", 32, map[string]any{"minutes": 17, "reason": "as usual"}))
	now := r.tubs()
	if a, b := now["beef.cap_steak@cold"].LeftG, lies["beef.cap_steak@cold"].LeftG; a >= b || a < b-60.001 {
		t.Errorf("60 g less of cap, and %g g of cap steak after %g", a, b)
	}
	if f := now["beef.mince_trim@frozen"].LeftG; f != 200 {
		t.Errorf("what was frozen changed to %g g", f)
	}
	_, _, raw := r.do("GET", base+"/goods/export?format=csv", nil)
	rows, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(raw, []byte("\ufeff")))).ReadAll()
	if err != nil || len(rows) < 2 || rows[0][0] != "product" {
		t.Errorf("%v, %v", rows, err)
	}
	var booked contract.GoodsLog
	r.ok("GET", base+"/goods/events", nil, &booked)
	if len(booked.Events) != 4 || booked.Events[3].Kind != "wasted" || !booked.Events[3].Undone ||
		math.Abs(booked.Events[3].ChangeG+500) > 0.001 || from(booked.Events[0].By) != "Owner" {
		t.Errorf("the log: %+v", booked.Events)
	}
	if flaws, err := r.store.CrossShopRefs(t.Context()); err != nil || len(flaws) > 0 {
		t.Errorf("%v, %v", flaws, err)
	}
}

// Fat tests draw a stream's figures towards what they found, by as much as they weigh: two that are 6 points leaner by
// 6 · (2/9) / (1/16 + 2/9) = 4.68.
func TestFatTestsCorrectTheAtlas(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	r.freshCut("FAT-1")
	tub := r.tubs()["beef.mince_trim@cold"]
	found := fmt.Sprintf("%.1f", from(tub.AtlasLeanPct)+6)
	for range 2 {
		r.ok("POST", base+"/fat-tests", map[string]any{"id": store.NewID(), "tub": tub.Id, "lean_pct": found}, nil)
	}
	now := r.tubs()["beef.mince_trim@cold"]
	if got := from(now.LeanPct) - from(tub.AtlasLeanPct); math.Abs(got-4.68) > 0.16 || from(now.Tests) != 2 {
		t.Errorf("%g points leaner by %d tests", got, from(now.Tests))
	}
	for field, body := range map[string]map[string]any{
		"lean_pct": {"id": store.NewID(), "tub": tub.Id, "lean_pct": "101"},
		"tub":      {"id": store.NewID(), "tub": r.tubs()["beef.cap_steak@cold"].Id, "lean_pct": "80"},
		"id":       {"id": "x", "tub": tub.Id, "lean_pct": "80"}} {
		if p := r.fails("POST", base+"/fat-tests", body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	var list []contract.FatTest
	r.ok("GET", base+"/fat-tests", nil, &list)
	r.ok("DELETE", base+"/fat-tests/"+list[0].Id, nil, nil)
	if n := from(r.tubs()["beef.mince_trim@cold"].Tests); n != 1 {
		t.Errorf("%d tests after one went", n)
	}
}

// mince is a recipe of beef.
func mince(name, price string, more map[string]any) map[string]any {
	body := map[string]any{"kind": "mince", "species": "beef", "category": "", "lean_min_pct": 0, "lean_max_pct": 0,
		"collagen_max_pct": 0, "shares": []any{}, "lines": []any{}, "piece_g": 0, "making_loss_pct": 0,
		"cooking_loss_pct": 0, "slicing_loss_pct": 0, "batch_kg": 0, "shelf_days": 2, "week_kg": 0}
	for k, v := range more {
		body[k] = v
	}
	return map[string]any{"name": name, "price": price, "body": body}
}

// The whole way: trim is blended, a batch is begun, weighed and closed, lies in stock under a lot of its own, and leads
// back to the piece and forward from the lot.
func TestFromTrimToMince(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	lot, _ := r.freshCut("MINCE-1")
	r.freshCut("MINCE-2")
	tub := r.tubs()["beef.mince_trim@cold"]
	if tub.Parts != 2 {
		t.Fatalf("two pieces of a day lie in one tub: %+v", tub)
	}
	for field, body := range map[string]map[string]any{"name": mince("", "9", nil), "price": mince("x", "dear", nil),
		"lean_min_pct": mince("x", "9", map[string]any{"lean_min_pct": 120}),
		"kind":         mince("x", "9", map[string]any{"kind": "soup"})} {
		if p := r.fails("POST", base+"/recipes", body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	var rec contract.Recipe
	r.ok("POST", base+"/recipes", mince("Pure mince", "11.90", nil), &rec)
	if p := r.fails("POST", base+"/recipes", mince("Pure mince", "9", nil)); p.Status != 409 {
		t.Errorf("two of one name: %+v", p)
	}
	// everything goes into the mince: it brings more than trim by itself
	ask := map[string]any{"tubs": []string{tub.Id}, "recipes": []any{map[string]any{"recipe": rec.Id}}}
	var blend contract.Blend
	r.ok("POST", base+"/blend", ask, &blend)
	if len(blend.Use) != 1 || math.Abs(blend.Use[0].G-tub.LeftG) > 0.001 || blend.Tubs[0].MarginPerKg != "11.90" ||
		!blend.Proven || blend.Value != fmt.Sprintf("%.2f", 11.90*tub.LeftG/1000) {
		t.Errorf("%+v", blend)
	}
	tooMuch := map[string]any{"tubs": []string{tub.Id},
		"recipes": []any{map[string]any{"recipe": rec.Id, "least": "99"}}}
	if p := r.fails("POST", base+"/blend", tooMuch); p.Status != 422 || !has(p, "recipes[0].least", "") {
		t.Errorf("%+v", p)
	}
	// at least cost 1 kg takes 1 kg
	cheap := map[string]any{"tubs": []string{tub.Id}, "cheap": true,
		"recipes": []any{map[string]any{"recipe": rec.Id, "least": "1"}}}
	r.ok("POST", base+"/blend", cheap, &blend)
	if math.Abs(blend.Use[0].G-1000) > 0.001 {
		t.Errorf("%+v", blend.Use)
	}
	begin := map[string]any{"id": store.NewID(), "recipe": rec.Id, "plan": map[string]string{tub.Id: "1.2"}}
	var m contract.Making
	r.ok("POST", base+"/makings", begin, &m)
	r.ok("POST", base+"/makings", begin, &m)
	if m.LotNumber != "M260320-1" || m.UseBy != "2026-03-22" || len(m.Plan) != 1 || m.Plan[0].G != 1200 {
		t.Fatalf("%+v", m)
	}
	at := base + "/makings/" + m.Id
	weigh := func(kind, kg string, more map[string]any) contract.Making {
		t.Helper()
		e := map[string]any{"id": store.NewID(), "kind": kind, "weight": kg, "unit": "kg"}
		for k, v := range more {
			e[k] = v
		}
		var m contract.Making
		r.ok("POST", at+"/events", e, &m)
		r.ok("POST", at+"/events", e, &m) // sent twice it counts once
		return m
	}
	weigh("used", "1.2", map[string]any{"tub": tub.Id})
	if p := r.fails("PUT", at+"/close", map[string]string{}); !has(p, "came", "") {
		t.Errorf("closed with nothing made: %+v", p)
	}
	weigh("came", "1.5", nil)
	if p := r.fails("PUT", at+"/close", map[string]string{}); !has(p, "came", "") {
		t.Errorf("more came than went in: %+v", p)
	}
	m = weigh("dropped", "0.01", map[string]any{"note": "fell"})
	var undone contract.Making
	for _, l := range m.Log {
		if l.Kind == "came" {
			r.ok("PUT", at+"/events/"+l.Id+"/undo", map[string]string{"id": store.NewID()}, &undone)
		}
	}
	m = weigh("came", "1.1", map[string]any{"count": 2})
	if m.MeatG != 1200 || m.CameG != 1100 || m.LostG != 90 || m.LossPct != 7.5 || m.Pieces != 2 || len(m.Log) != 3 {
		t.Errorf("%+v", m)
	}
	if p := r.fails("PUT", at+"/close", map[string]string{}); !has(p, "reason", "") {
		t.Errorf("7.5 %% lost and nobody said why: %+v", p)
	}
	r.ok("PUT", at+"/close", map[string]string{"reason": "left in the mincer"}, &m)
	if m.State != "closed" {
		t.Errorf("%+v", m)
	}
	made := r.tubs()["made."+rec.Id+"@cold"]
	if made.LeftG != 1100 || made.Kind != "made" || from(made.LotNumber) != "M260320-1" || from(made.Price) != "11.90" ||
		made.UseBy != "2026-03-22" {
		t.Errorf("in stock: %+v", made)
	}
	if got := r.tubs()["beef.mince_trim@cold"].LeftG; math.Abs(got-(tub.LeftG-1200)) > 0.001 {
		t.Errorf("%g g of trim left of %g", got, tub.LeftG)
	}
	// back to the pieces of both lots, and forward from one of them
	var origin []contract.TraceStep
	r.ok("GET", at+"/origin", nil, &origin)
	sum, lots := 0.0, map[string]bool{}
	for _, x := range origin {
		sum += from(x.UsedG)
		lots[from(x.LotNumber)] = true
	}
	if math.Abs(sum-1200) > 0.001 || !lots["MINCE-1"] || !lots["MINCE-2"] {
		t.Errorf("%+v", origin)
	}
	var back contract.Recall
	r.ok("GET", base+"/lots/"+lot.Id+"/recall", nil, &back)
	if len(back.Made) != 1 || from(back.Made[0].LotNumber) != "M260320-1" || back.Made[0].LeftG != 1100 ||
		len(back.Cut) < 6 {
		t.Errorf("recall: %+v", back)
	}
	_, _, raw := r.do("GET", base+"/lots/"+lot.Id+"/recall/export?format=csv", nil)
	if !strings.Contains(string(raw), "M260320-1") {
		t.Errorf("%s", raw)
	}
	status, _, pdf := r.do("GET", at+"/sheet.pdf", nil)
	if status != 200 || !bytes.Contains(printed(pdf), []byte("Batch M260320-1")) {
		t.Errorf("the sheet: %d", status)
	}
	// it is opened again only while nothing of it has gone
	sold := booking("sold", made.Id, map[string]any{"weight": "0.5", "unit": "kg"})
	r.ok("POST", base+"/goods/events", sold, nil)
	if p := r.fails("PUT", at+"/reopen", nil); p.Status != 409 {
		t.Errorf("opened with some sold: %+v", p)
	}
	r.ok("PUT", base+"/goods/events/"+sold["id"].(string)+"/undo", map[string]string{"id": store.NewID()}, nil)
	r.ok("PUT", at+"/reopen", nil, &m)
	if _, there := r.tubs()["made."+rec.Id+"@cold"]; there || m.State != "open" {
		t.Errorf("opened again: %+v", m)
	}
}

// A batch that empties its tub knows how lean it is, and says which limits of its recipe it breaks.
func TestABatchOfAWholeTub(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	r.freshCut("WHOLE-1")
	tub := r.tubs()["beef.mince_trim@cold"]
	var rec contract.Recipe
	r.ok("POST", base+"/recipes", mince("Lean mince", "15.00", map[string]any{"lean_min_pct": 99}), &rec)
	var m contract.Making
	r.ok("POST", base+"/makings", map[string]any{"id": store.NewID(), "recipe": rec.Id}, &m)
	r.ok("POST", base+"/makings/"+m.Id+"/events", map[string]any{"id": store.NewID(), "kind": "used", "tub": tub.Id,
		"weight": fmt.Sprintf("%.3f", tub.LeftG), "unit": "g"}, &m)
	if _, there := r.tubs()["beef.mince_trim@cold"]; there {
		t.Fatal("the tub is not empty")
	}
	if from(m.LeanPct) != from(tub.LeanPct) || len(m.Breaks) != 1 {
		t.Errorf("%g %% lean of a tub of %g, breaks %v", from(m.LeanPct), from(tub.LeanPct), m.Breaks)
	}
}

// Where a shop values trim by what it becomes, comparisons go by it and the price of the tub does not.
func TestTrimByUse(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	r.freshCut("USE-1")
	var rec contract.Recipe
	r.ok("POST", base+"/recipes", mince("Pure mince", "15.00", nil), &rec)
	forecast := func() (price, total string) {
		var f contract.Forecast
		r.ok("POST", base+"/forecast", map[string]any{"atlas_id": "beef.top_sirloin", "pieces": 1, "weight": "6.6",
			"weight_unit": "kg", "price": "11.40", "price_per": "kg"}, &f)
		for _, p := range f.Plans {
			for _, row := range p.Products {
				if p.Plan.Id == "seamed" && row.Id == "mince_trim" {
					return from(row.Price), row.Value
				}
			}
		}
		t.Fatal("no mince trim")
		return "", ""
	}
	flat, _ := forecast()
	r.ok("PUT", base+"/blend/value", map[string]bool{"by_use": true}, nil)
	byUse, _ := forecast()
	var shop contract.Shop
	r.ok("GET", base+"/shop", nil, &shop)
	if flat == byUse || byUse != "15.00" || !shop.TrimByUse {
		t.Errorf("trim at %s, and by use at %s", flat, byUse)
	}
	if tub := r.tubs()["beef.mince_trim@cold"]; from(tub.Price) != flat {
		t.Errorf("the tub is worth %s", from(tub.Price))
	}
	r.ok("PUT", base+"/blend/value", map[string]bool{"by_use": false}, nil)
	if again, _ := forecast(); again != flat {
		t.Errorf("back at %s", again)
	}
}

// What a recipe makes can be an ingredient of the plans, with the cost and the allergens of what went in.
func TestARecipeMakesAnIngredient(t *testing.T) {
	r := newRig(t)
	for _, in := range []map[string]any{
		{"key": "bread", "name": "Bread", "unit": "kg", "price": "2", "allergens": []string{"gluten"}},
		{"key": "milk", "name": "Milk", "unit": "litre", "price": "1", "allergens": []string{"milk"}}} {
		r.ok("POST", base+"/ingredients", in, nil)
	}
	draft := mince("Bread stuffing", "", map[string]any{"kind": "stuffing", "species": "",
		"lines": []any{map[string]any{"ingredient": "bread", "per_kg": 0.6},
			map[string]any{"ingredient": "milk", "per_kg": 0.4}}})
	draft["ingredient_key"] = "bread_stuffing"
	var rec contract.Recipe
	r.ok("POST", base+"/recipes", draft, &rec)
	if rec.Cost != "1.60" || strings.Join(rec.Allergens, ", ") != "Cereals with gluten, Milk" || rec.OutG != 1000 {
		t.Errorf("%+v", rec)
	}
	burger := mince("Stuffed burger", "14", map[string]any{"kind": "burger", "piece_g": 150,
		"lines": []any{map[string]any{"ingredient": "bread_stuffing", "per_kg": 0.25}}})
	r.ok("POST", base+"/recipes", burger, &rec)
	if rec.Cost != "0.40" || strings.Join(rec.Allergens, ", ") != "Cereals with gluten, Milk" || len(rec.Without) > 0 {
		t.Errorf("a burger with it: %+v", rec)
	}
	var scaled contract.Recipe
	r.ok("GET", base+"/recipes/"+rec.Id+"/scaled?weight=12", nil, &scaled)
	if scaled.MeatG != 12_000 || scaled.OutG != 15_000 || scaled.Pieces != 100 || scaled.Cost != "4.80" ||
		scaled.Label[0].Name != "Beef" || scaled.Label[0].Pct != 80 {
		t.Errorf("for 12 kg: %+v", scaled)
	}
	if p := r.fails("GET", base+"/recipes/"+rec.Id+"/scaled?weight=-1", nil); !has(p, "weight", "") {
		t.Errorf("%+v", p)
	}
}

// What became of a product in a stretch of time is what was booked and stands: sold, thrown away, counted; what was
// taken back does not count.
func TestWhatBecameOfGoods(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.freshCut("BECAME-1")
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	tub := r.tubOf("beef.mince_trim")
	book := func(kind, g string) string {
		b := booking(kind, tub.Id, map[string]any{"weight": g, "unit": "g", "note": "why"})
		r.ok("POST", base+"/goods/events", b, nil)
		return b["id"].(string)
	}
	book("sold", "50")
	undone := book("sold", "30")
	book("wasted", "20")
	r.ok("PUT", base+"/goods/events/"+undone+"/undo", map[string]string{"id": store.NewID()}, nil)
	book("counted", fmt.Sprintf("%.3f", tub.LeftG-70-10)) // ten less than the log says
	var list []contract.GoodsBecame
	r.ok("GET", base+"/goods/became?days=1", nil, &list)
	if len(list) != 1 || list[0].Key != "beef.mince_trim" {
		t.Fatalf("became: %+v", list)
	}
	b := list[0]
	if b.SoldG != 50 || b.WastedG != 20 || math.Abs(b.DifferenceG+10) > 0.001 || b.UsedG != 0 {
		t.Errorf("became: %+v", b)
	}
	if p := r.fails("GET", base+"/goods/became?days=0", nil); !has(p, "days", "") {
		t.Errorf("no day: %+v", p)
	}
}
