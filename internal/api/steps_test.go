package api

import (
	"os"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/api/contract"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
)

// stuffed is a rump in steps: the cap is filled and tied, the heart stays in one and is steaked.
func stuffed() map[string]any {
	type m = map[string]any
	list := func(x ...any) []any { return x }
	return m{"name": "Stuffed cap, heart in one", "why": "", "cut": "seams", "tool": "knife", "minutes": 1, "waste": m{},
		"products": list(m{"id": "tri_tip_whole", "name": "Whole tri-tip", "form": "whole", "from": m{}},
			m{"id": "stuffed_cap", "name": "Stuffed rump cap", "form": "roast", "from": m{}},
			m{"id": "heart_steak", "name": "Rump heart steak", "form": "steak", "cook": "grill", "from": m{}}),
		"steps": list(
			m{"id": "tri", "do": "take_off", "of": list("piece"), "parts": m{"tri_tip": 100, "wedge_fat": 100},
				"as": list(m{"block": "tri", "name": "Tri-tip with its fat"}), "tool": "straight_knife", "minutes": m{"base": 1}},
			m{"id": "tri_dress", "do": "dress", "of": list("tri"), "minutes": m{"base": 2}, "takes": list(
				m{"part": "wedge_fat", "pct": 100, "to": "fat"}, m{"part": "tri_tip", "pct": 10, "to": "mince_trim"}),
				"gives": list(m{"product": "tri_tip_whole", "count": m{"low": 1, "high": 1}})},
			m{"id": "mouse", "do": "take_off", "of": list("piece"), "parts": m{"mouse": 100},
				"gives": list(m{"tub": "mince_trim"}), "after": list("tri"), "minutes": m{"base": 0.5}},
			m{"id": "cap", "do": "take_off", "of": list("piece"), "parts": m{"cap": 100, "cover_fat": 70},
				"as": list(m{"block": "cap", "name": "Cap with its fat"}), "after": list("tri"), "minutes": m{"base": 1.5}},
			m{"id": "fill", "do": "fill", "of": list("cap"), "minutes": m{"base": 2},
				"adds": list(m{"ingredient": "stuffing", "per_kg": 0.2, "max_pct": 25})},
			m{"id": "tie", "do": "tie", "of": list("cap"), "minutes": m{"base": 1}, "gives": list(m{"product": "stuffed_cap"})},
			m{"id": "heart_dress", "do": "dress", "of": list("piece"), "after": list("cap", "mouse"), "minutes": m{"base": 1},
				"takes": list(m{"part": "cover_fat", "pct": 30, "to": "fat"}, m{"part": "gristle", "pct": 100, "to": "discard"})},
			m{"id": "heart", "do": "take_off", "of": list("piece"), "after": list("heart_dress"), "minutes": m{"base": 0.5},
				"parts": m{"heart_main": 100, "heart_side": 100}, "as": list(m{"block": "heart", "name": "Heart in one"})},
			m{"id": "steaks", "do": "slice", "of": list("heart"), "mm": m{"low": 30, "high": 30}, "minutes": m{"base": 3},
				"gives": list(m{"product": "heart_steak", "pct": 95}, m{"tub": "mince_trim"})})}
}

// A plan in steps from the editor's door to the answer: what the shop has not is asked for, its steps say what is done,
// blocks and tubs are booked as what they are, and each product has the weight that was booked, with what was added
// paid for.
func TestAPlanInStepsIsCut(t *testing.T) {
	r := newRig(t)
	r.priced()
	var made contract.PlanDetail
	r.ok("POST", "/api/v1/plans/beef.top_sirloin", stuffed(), &made)
	if made.Plan.Minutes != 12.5 || made.Plan.Tool != "knife" {
		t.Errorf("%g minutes with the %s", made.Plan.Minutes, made.Plan.Tool)
	}
	var list contract.IngredientList
	r.ok("GET", "/api/v1/ingredients", nil, &list)
	asked := slices.IndexFunc(list.Ingredients, func(i contract.Ingredient) bool { return i.Key == "stuffing" })
	if asked < 0 || !list.Ingredients[asked].Missing ||
		!slices.Contains(list.Ingredients[asked].UsedIn, "Stuffed cap") {
		t.Fatalf("the plan asks for stuffing: %+v", list.Ingredients)
	}
	r.ok("POST", "/api/v1/ingredients", map[string]any{"key": "stuffing", "name": "Bread stuffing", "unit": "kg",
		"price": "8", "allergens": []string{"gluten"}}, &list)
	r.ok("PUT", "/api/v1/prices/beef.stuffed_cap", map[string]any{"price": "25", "per": "kg", "version": 0}, nil)

	var done contract.PlanSteps
	r.ok("POST", "/api/v1/plans/beef.top_sirloin/"+made.Plan.Id+"/steps", map[string]any{}, &done)
	if len(done.Steps) != 9 || !slices.Equal(done.Allergens, []string{"Cereals with gluten"}) {
		t.Errorf("%d steps, bring %v", len(done.Steps), done.Allergens)
	}
	if got := done.Steps[8].Words; got != "Slice the heart in one at 30 mm: rump heart steak, trim for mince" {
		t.Errorf("the last step says %q", got)
	}

	b := r.onBench("ST-1", made.Plan.Id)
	var keys []string
	for _, e := range b.Expected {
		keys = append(keys, e.Key)
	}
	want := []string{"block:tri", "product:tri_tip_whole@tri_dress", "block:cap", "ingredient:stuffing@fill",
		"product:stuffed_cap@tie", "block:heart", "product:heart_steak@steaks", "tub:mince_trim", "tub:fat", "tub:discard"}
	if !slices.Equal(keys, want) {
		t.Errorf("asked for %v, want %v: nothing that stays joined", keys, want)
	}
	at := 0
	book := func(kind string, more map[string]any) string {
		t.Helper()
		at++
		e := r.event(kind, at, more)
		b = r.book(b.Id, e)
		return e["id"].(string)
	}
	book("opened", map[string]any{"net_g": 6600, "division_g": 5})
	tri := book("parted", map[string]any{"step": "tri", "block": "tri", "net_g": 1200,
		"holds": map[string]any{"tri_tip": 100, "wedge_fat": 100}})
	book("ticked",
		map[string]any{"step": "tri_dress", "node": tri, "holds": map[string]any{"tri_tip": 10, "wedge_fat": 100}})
	book("portioned",
		map[string]any{"step": "tri_dress", "node": tri, "product": "tri_tip_whole", "net_g": 950, "count": 1})
	book("ticked", map[string]any{"step": "mouse", "holds": map[string]any{"mouse": 100}})
	cap := book("parted", map[string]any{"step": "cap", "block": "cap", "net_g": 1300,
		"holds": map[string]any{"cap": 100, "cover_fat": 70}})
	book("ingredient_added", map[string]any{"step": "fill", "node": cap, "part": "stuffing", "net_g": 260})
	book("portioned", map[string]any{"step": "tie", "node": cap, "product": "stuffed_cap", "net_g": 1555})
	heart := book("parted", map[string]any{"step": "heart", "block": "heart", "net_g": 2900,
		"holds": map[string]any{"heart_main": 100, "heart_side": 100}})
	book("portioned", map[string]any{"step": "steaks", "node": heart, "product": "heart_steak", "net_g": 2700, "count": 9})
	book("tubbed", map[string]any{"part": "fat", "net_g": 600})
	book("tubbed", map[string]any{"part": "mince_trim", "net_g": 500})
	book("tubbed", map[string]any{"part": "mince_trim", "net_g": 350})
	book("tubbed", map[string]any{"part": "discard", "net_g": 190})
	if from(b.Balance.InputG) != 6860 || b.Balance.ResidualG != 15 || b.Next != nil {
		t.Errorf("balance %+v, next %v", b.Balance, b.Next)
	}
	book("closed", map[string]any{"minutes": 14})
	_, _, file := r.do("GET", "/api/v1/breakdowns/export?format=csv", nil)
	for _, row := range []string{"Stuffed rump cap,portioned,Cap with its fat,,1.555", "Trim for mince,tubbed,,,0.500",
		"Bread stuffing,ingredient_added,Cap with its fat,,0.260"} {
		if !strings.Contains(string(file), row) {
			t.Errorf("the file does not say %q:\n%s", row, file)
		}
	}
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison", nil, &c)
	weights := map[string]float64{"tri_tip_whole": 950, "stuffed_cap": 1555, "heart_steak": 2700, "mince_trim": 850,
		"fat": 600, "waste": 190}
	for _, row := range c.Recorded.Products {
		if w, ok := weights[row.Id]; ok {
			if row.WeightG != w {
				t.Errorf("%s: %g g, %g were booked", row.Id, row.WeightG, w)
			}
			delete(weights, row.Id)
		}
	}
	if len(weights) > 0 {
		t.Errorf("not in the answer: %v", weights)
	}
	if c.Recorded.Totals.Ingredients == nil || *c.Recorded.Totals.Ingredients != "2.08" { // 260 g at 8 a kilo
		t.Errorf("ingredients %v", c.Recorded.Totals.Ingredients)
	}
	// 950 g at 17, 1,555 g at 25, 2,700 g at 20, 850 g at 10, 600 g at 0.50
	if c.Recorded.Totals.Sales != "117.83" {
		t.Errorf("sales %s", c.Recorded.Totals.Sales)
	}
}

// What is wrong with a step is named by the step and the field, and nothing is kept.
func TestStepFaults(t *testing.T) {
	r := newRig(t)
	for field, spoil := range map[string]func(step map[string]any){
		"steps.tri.tool":          func(s map[string]any) { s["tool"] = "axe" },
		"steps.tri.parts.tri_tip": func(s map[string]any) { s["parts"] = map[string]any{"tri_tip": 101} },
		"steps.tri.after":         func(s map[string]any) { s["after"] = []string{"later"} },
		"plan":                    func(s map[string]any) { s["parts"] = map[string]any{"tri_tip": 90, "wedge_fat": 100} },
	} {
		draft := stuffed()
		spoil(draft["steps"].([]any)[0].(map[string]any))
		if p := r.fails("POST", "/api/v1/plans/beef.top_sirloin", draft); p.Status != 422 || !names(p, field) {
			t.Errorf("%s: %+v", field, p)
		}
	}
	if own := r.plans("beef.top_sirloin"); len(own) == 0 {
		t.Fatal("no plans")
	} else {
		for _, p := range own {
			if p.Plan.Own {
				t.Errorf("%s was kept", p.Plan.Name)
			}
		}
	}
}

// A piece comes in one of its forms: without the part that the form lacks, and every figure after it without it too.
func TestAFormIsReceived(t *testing.T) {
	r := newRig(t)
	r.priced()
	var rump contract.AtlasPiece
	if r.ok("GET", "/api/v1/atlas/pieces/beef.top_sirloin", nil, &rump); len(rump.Forms) != 2 || !rump.Forms[0].Usual ||
		!slices.Equal(rump.Forms[1].Absent, []string{"tri-tip", "wedge and seam fat"}) {
		t.Fatalf("%+v", rump.Forms)
	}
	in := arrival("FO-1")
	in["form"], in["weight"] = "tri_tip_off", "5.4"
	var lot contract.Lot
	r.ok("POST", "/api/v1/lots", in, &lot)
	if lot.Name != "Top sirloin, boneless, without tri-tip" || *lot.Form != "tri_tip_off" {
		t.Errorf("%s in the form %s", lot.Name, from(lot.Form))
	}
	var piece contract.PieceDetail
	r.ok("GET", "/api/v1/pieces/"+lot.PieceIds[0], nil, &piece)
	for _, way := range piece.Forecast.Plans {
		sum := 0.0
		for _, row := range way.Products {
			if sum += row.WeightG; row.Id == "tri_tip_whole" {
				t.Errorf("%s gives a tri-tip that is not there", way.Plan.Name)
			}
		}
		if sum < 5399.9 || sum > 5400.1 {
			t.Errorf("%s accounts for %g g of 5,400", way.Plan.Name, sum)
		}
	}
	for _, area := range piece.SeamMap.Areas {
		if area.Part == "tri_tip" {
			t.Error("the map shows a tri-tip that is not there")
		}
	}
	in["form"], in["lot_number"] = "with_horns", "FO-2"
	if p := r.fails("POST", "/api/v1/lots", in); p.Status != 422 || !names(p, "form") {
		t.Errorf("an unknown form: %+v", p)
	}
	// what went out comes in elsewhere as it was
	b := r.onBench("FO-3", "seamed")
	r.cutHand(b)
	_, _, file := r.do("GET", "/api/v1/breakdowns/export?format=json", nil)
	if status, out, answer := upload[contract.LogImport](newRig(t), "/api/v1/breakdowns/import", file); status != 200 ||
		out.Lines[0].Fault != nil {
		t.Errorf("%d %s", status, answer)
	}
}

// A piece that was found without a part goes out and comes in again with its plan as it was cut.
func TestAPieceFoundWithoutAPartComesInAgain(t *testing.T) {
	there := newRig(t)
	in := arrival("FI-1")
	in["findings"], in["weight"] = []string{"tri_tip_off"}, "5.4"
	var lot contract.Lot
	there.ok("POST", "/api/v1/lots", in, &lot)
	there.ok("PUT", "/api/v1/pieces/"+lot.PieceIds[0]+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
	var b contract.Board
	there.ok("POST", "/api/v1/pieces/"+lot.PieceIds[0]+"/breakdown",
		map[string]any{"bench_id": there.shop.Benches[0].Id}, &b)
	there.book(b.Id, there.event("opened", 0, map[string]any{"net_g": 5400}))
	_, _, file := there.do("GET", "/api/v1/breakdowns/export?format=json", nil)
	status, out, answer := upload[contract.LogImport](newRig(t), "/api/v1/breakdowns/import", file)
	if status != 200 || len(out.Lines) != 1 || out.Lines[0].Fault != nil || out.Lines[0].Added != 1 {
		t.Errorf("%d %s", status, answer)
	}
}

// A file that the version before wrote comes in: its breakdowns have plans of percentages and events of the old kinds.
func TestTheLogOfTheVersionBeforeComesIn(t *testing.T) {
	now := time.Date(2026, 11, 28, 9, 0, 0, 0, time.UTC)
	st, w := testdb.Service(t, func() time.Time { return now })
	r := serve(t, st, w, Options{Web: fstest.MapFS{}, Scales: func(store.Bench) *device.Scale { return nil }})
	file, err := os.ReadFile("testdata/breakdowns-schema-10.json")
	if err != nil {
		t.Fatal(err)
	}
	status, out, answer := upload[contract.LogImport](r, "/api/v1/breakdowns/import", file)
	if status != 200 || len(out.Lines) != 3 {
		t.Fatal(status, answer)
	}
	for _, l := range out.Lines {
		if l.Fault != nil || l.Added == 0 {
			t.Errorf("%s: %d added, %s", l.LotNumber, l.Added, from(l.Fault))
		}
	}
}
