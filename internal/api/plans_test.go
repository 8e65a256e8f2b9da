package api

import (
	"fmt"
	"maps"
	"math"
	"strings"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/work/stock"
)

// draftOf is a plan as it would be typed in again under another name.
func draftOf(p contract.Plan, name string) contract.PlanDraft {
	d := contract.PlanDraft{Name: name, Why: p.Why, Cut: string(p.Cut), Tool: string(p.Tool), Minutes: p.Minutes,
		Waste: maps.Clone(p.Waste), BasedOn: some(p.Id)}
	for _, pr := range p.Products {
		d.Products = append(d.Products,
			contract.DraftProduct{Id: some(pr.Id), Name: pr.Name, Form: pr.Form, Cook: pr.Cook, ThicknessMm: pr.ThicknessMm,
				PortionG: pr.PortionG, CountLow: pr.CountLow, CountHigh: pr.CountHigh, From: maps.Clone(pr.From)})
	}
	return d
}

func (r *rig) plans(atlasID string) map[string]contract.PlanDetail {
	r.t.Helper()
	var list contract.PlanList
	r.ok("GET", "/api/v1/plans/"+atlasID, nil, &list)
	out := map[string]contract.PlanDetail{}
	for _, p := range list.Plans {
		out[p.Plan.Id] = p
	}
	return out
}

// A way of cutting is copied, changed, kept in versions; a piece on the bench keeps the version it was put there by.
func TestOwnPlans(t *testing.T) {
	r := newRig(t)
	r.priced()
	const at = "/api/v1/plans/beef.top_sirloin"
	seamed := r.plans("beef.top_sirloin")["seamed"]
	if len(seamed.Options) != 4 || seamed.Cover == nil || seamed.Plan.Own || seamed.Plan.Version != 0 {
		t.Fatalf("seamed: %+v", seamed)
	}
	d := draftOf(seamed.Plan, "Harbour way")
	// the mouse goes to a product of one's own
	for i := range d.Products {
		delete(d.Products[i].From, "mouse")
	}
	d.Products = append(d.Products,
		contract.DraftProduct{Name: "Harbour dice", Form: "dice", Cook: some("stew"), PortionG: some(250.0),
			From: map[string]float64{"mouse": 76}})
	d.Waste["mouse"] = 24
	d.Minutes = 19
	var checked contract.PlanForecast
	r.ok("POST", at+"/check", d, &checked)
	last := checked.Plan.Products[len(checked.Plan.Products)-1]
	if last.Id != "harbour_dice" || checked.Totals.Minutes != 19 || checked.Totals.Purchase != "0.00" {
		t.Errorf("checked: %+v, %+v", last, checked.Totals)
	}
	var made contract.PlanDetail
	r.ok("POST", at, d, &made)
	if !made.Plan.Own || made.Plan.Version != 1 || made.MadeBy == nil {
		t.Errorf("made: %+v", made)
	}
	// it is one of the piece's ways now, and its product has a price
	var prices []contract.Price
	r.ok("GET", "/api/v1/prices", nil, &prices)
	found := false
	for _, p := range prices {
		found = found || p.Key == "beef.harbour_dice"
	}
	if !found {
		t.Error("the new product is not on the price list")
	}
	r.ok("PUT", "/api/v1/prices/beef.harbour_dice", map[string]any{"price": "14.90", "per": "kg", "version": 0}, nil)
	lot := r.received("OWN-1")
	piece := "/api/v1/pieces/" + lot.PieceIds[0]
	var detail contract.PieceDetail
	r.ok("PUT", piece+"/plan",
		map[string]any{"plan_id": made.Plan.Id, "version": 1, "options": map[string]string{"fat_cover": "6"}}, &detail)
	if from(detail.Card.PlanName) != "Harbour way; 6 mm of fat left" {
		t.Errorf("chosen: %v", from(detail.Card.PlanName))
	}
	var board contract.Board
	r.ok("POST", piece+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &board)
	// another version; the piece keeps the first
	d.Minutes, d.Version = 25, some(1)
	r.ok("PUT", at+"/"+made.Plan.Id, d, &made)
	if made.Plan.Version != 2 {
		t.Errorf("the second version is %d", made.Plan.Version)
	}
	if p := r.fails("PUT", at+"/"+made.Plan.Id, d); p.Status != 409 {
		t.Errorf("a second writer got %+v", p)
	}
	r.ok("GET", "/api/v1/breakdowns/"+board.Id, nil, &board)
	if p := board.Fixed.Plan; p.Version != 1 || p.Minutes != 19 || p.Chosen["fat_cover"] != "6" {
		t.Errorf("the piece on the bench goes by version %d, %g minutes, %v", p.Version, p.Minutes, p.Chosen)
	}
	var versions []contract.PlanVersion
	r.ok("GET", at+"/"+made.Plan.Id+"/versions", nil, &versions)
	if len(versions) != 2 || versions[0].Plan.Minutes != 25 || versions[1].Plan.Minutes != 19 {
		t.Errorf("versions: %+v", versions)
	}
	// what goes into the bin by the plan is waste, and the muscle is still all accounted for
	b := r.book(board.Id, r.event("opened", 0, map[string]any{"net_g": 6600, "source": "scale"}))
	for _, w := range []struct {
		part string
		g    float64
	}{{"tri_tip", 1020}, {"mouse", 170}, {"cap", 960}, {"heart_side", 890}, {"heart_main", 2380}} {
		b = r.book(b.Id, r.event("seamed_off", 0, map[string]any{"part": w.part, "net_g": w.g, "source": "scale"}))
	}
	for part, g := range map[string]float64{"cover_fat": 590, "wedge_fat": 185, "trim": 200} {
		b = r.book(b.Id, r.event("trimmed", 0, map[string]any{"part": part, "net_g": g, "source": "scale"}))
	}
	b = r.book(b.Id, r.event("discarded", 0, map[string]any{"part": "gristle", "net_g": 155, "source": "scale"}))
	b = r.book(b.Id, r.event("closed", 20, map[string]any{"minutes": 21}))
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison", nil, &c)
	thrown := 0.0
	for _, row := range c.Recorded.Products {
		if row.Id == "waste" {
			thrown = row.WeightG
		}
		if row.Id == "harbour_dice" && math.Abs(row.WeightG-129.2) > 0.01 { // 76 % of 170 g
			t.Errorf("dice: %.2f g", row.WeightG)
		}
	}
	// gristle, 24 % of the mouse, and the skins: 3 % of the tri-tip, 4 % of the cap, 1 % of the sirloin fillet
	if math.Abs(thrown-(155+0.24*170+0.03*1020+0.04*960+0.01*890)) > 0.01 {
		t.Errorf("%.2f g were thrown away", thrown)
	}
	// retired: no longer offered, still what was chosen
	r.ok("PUT", at+"/"+made.Plan.Id+"/retired", map[string]any{"retired": true, "version": 2}, nil)
	other := r.received("OWN-2")
	r.ok("GET", "/api/v1/pieces/"+other.PieceIds[0], nil, &detail)
	for _, p := range detail.Forecast.Plans {
		if p.Plan.Id == made.Plan.Id {
			t.Error("a retired plan is still offered")
		}
	}
	if !r.plans("beef.top_sirloin")[made.Plan.Id].Retired {
		t.Error("it does not say that it is retired")
	}
	if p := r.fails("PUT", "/api/v1/pieces/"+other.PieceIds[0]+"/plan",
		map[string]any{"plan_id": made.Plan.Id, "version": 1}); p.Status != 422 {
		t.Errorf("a retired plan was chosen: %+v", p)
	}
}

// Every field of a plan is checked, and the fault names it.
func TestPlanFaults(t *testing.T) {
	r := newRig(t)
	const at = "/api/v1/plans/beef.top_sirloin"
	seamed := r.plans("beef.top_sirloin")["seamed"].Plan
	for name, c := range map[string]struct {
		change func(*contract.PlanDraft)
		field  string
	}{
		"no name":           {func(d *contract.PlanDraft) { d.Name = " " }, "name"},
		"a used name":       {func(d *contract.PlanDraft) { d.Name = strings.ToUpper(seamed.Name) }, "name"},
		"no minutes":        {func(d *contract.PlanDraft) { d.Minutes = 0 }, "minutes"},
		"a day of minutes":  {func(d *contract.PlanDraft) { d.Minutes = 1440 }, "minutes"},
		"an unknown tool":   {func(d *contract.PlanDraft) { d.Tool = "axe" }, "tool"},
		"an unknown cut":    {func(d *contract.PlanDraft) { d.Cut = "torn" }, "cut"},
		"no products":       {func(d *contract.PlanDraft) { d.Products = nil }, "products"},
		"a part forgotten":  {func(d *contract.PlanDraft) { delete(d.Products[0].From, "heart_main") }, "parts.heart_main"},
		"a part twice":      {func(d *contract.PlanDraft) { d.Products[0].From["heart_main"] = 99 }, "parts.heart_main"},
		"an unknown part":   {func(d *contract.PlanDraft) { d.Products[0].From["tail"] = 5 }, "products.0.from"},
		"the loss sold":     {func(d *contract.PlanDraft) { d.Products[0].From["loss"] = 5 }, "products.0.from"},
		"more than all":     {func(d *contract.PlanDraft) { d.Products[0].From["cap"] = 101 }, "products.0.from"},
		"made of nothing":   {func(d *contract.PlanDraft) { d.Products[0].From = map[string]float64{} }, "products.0.from"},
		"an unknown form":   {func(d *contract.PlanDraft) { d.Products[0].Form = "cloud" }, "products.0.form"},
		"an unknown method": {func(d *contract.PlanDraft) { d.Products[0].Cook = some("boil") }, "products.0.cook"},
		"a thickness below 0": {func(d *contract.PlanDraft) { d.Products[0].ThicknessMm = some(-1.0) },
			"products.0.thickness_mm"},
		"a heavy portion": {func(d *contract.PlanDraft) { d.Products[0].PortionG = some(1e6) }, "products.0.portion_g"},
		"a count that falls": {func(d *contract.PlanDraft) {
			d.Products[0].CountLow, d.Products[0].CountHigh = some(4),
				some(2)
		}, "products.0.count_high"},
		"a known key renamed": {func(d *contract.PlanDraft) { d.Products[0].Name = "Something else" }, "products.0.name"},
		"a bad id":            {func(d *contract.PlanDraft) { d.Products[0].Id = some("A B") }, "products.0.id"},
		"a product twice": {func(d *contract.PlanDraft) {
			d.Products[1].Id, d.Products[1].Name, d.Products[1].Form = d.Products[0].Id, d.Products[0].Name, d.Products[0].Form
		}, "products.1.name"},
		"waste of the waste":   {func(d *contract.PlanDraft) { d.Waste["gristle"] = 5 }, "plan"},
		"a name of characters": {func(d *contract.PlanDraft) { d.Name = strings.Repeat("x", 121) }, "name"},
	} {
		d := draftOf(seamed, "Some way")
		c.change(&d)
		for _, path := range []string{at + "/check", at} {
			status, _, answer := r.do("POST", path, d)
			if want := map[bool]int{true: 409, false: 422}[name == "a used name"]; status != want ||
				!strings.Contains(string(answer), fmt.Sprintf(`"field":%q`, c.field)) {
				t.Errorf("%s: %d %s, want a fault at %s", name, status, answer, c.field)
			}
		}
	}
	for _, p := range r.plans("beef.top_sirloin") {
		if p.Plan.Own {
			t.Errorf("%s was kept", p.Plan.Name)
		}
	}
	if p := r.fails("GET", "/api/v1/plans/beef.unicorn", nil); p.Status != 404 {
		t.Errorf("plans of no piece: %+v", p)
	}
}

// Two ways side by side: the bridge adds up to the difference, and an option moves weight and money by the model.
func TestComparePlans(t *testing.T) {
	r := newRig(t)
	r.priced()
	compare := func(a, b map[string]any) contract.PlanComparison {
		t.Helper()
		var c contract.PlanComparison
		r.ok("POST", "/api/v1/plans/beef.top_sirloin/compare",
			map[string]any{"a": a, "b": b, "weight": "6.6", "weight_unit": "kg", "price": "11.40", "price_per": "kg"}, &c)
		return c
	}
	c := compare(map[string]any{"plan_id": "traditional"}, map[string]any{"plan_id": "seamed"})
	sum := measure.Money{}
	for _, s := range c.Bridge {
		m, err := measure.ParseMoney(s.Change)
		if err != nil {
			t.Fatal(err)
		}
		sum = sum.Add(m)
	}
	if sum.String() != c.Difference || c.A.Totals.Purchase != "75.24" {
		t.Errorf("the bridge comes to %s, the difference is %s; purchase %s", sum, c.Difference, c.A.Totals.Purchase)
	}
	// 3 mm against 6 mm of fat on the cap: 594 g of cover × 0.8 over the cap × 0.86 of it steak × 3/10 mm = 122.6 g move
	// from the fat to the steak
	c = compare(map[string]any{"plan_id": "seamed", "options": map[string]string{"fat_cover": "3"}},
		map[string]any{"plan_id": "seamed", "options": map[string]string{"fat_cover": "6"}})
	weigh := func(f contract.PlanForecast, id string) float64 {
		for _, row := range f.Products {
			if row.Id == id {
				return row.WeightG
			}
		}
		return 0
	}
	if steak, fat := weigh(c.B, "cap_steak")-weigh(c.A, "cap_steak"),
		weigh(c.A, "fat")-weigh(c.B, "fat"); math.Abs(steak-122.602) > 0.01 || math.Abs(fat-steak) > 0.01 {
		t.Errorf("3 mm more put %.3f g on the steak and take %.3f from the fat", steak, fat)
	}
	for _, bad := range []map[string]any{{"plan_id": "sideways"},
		{"plan_id": "seamed", "options": map[string]string{"cap": "no"}},
		{"plan_id": "seamed", "options": map[string]string{"fat_cover": "99"}}} {
		if status, _, answer := r.do("POST", "/api/v1/plans/beef.top_sirloin/compare",
			map[string]any{"a": bad, "b": map[string]any{"plan_id": "seamed"}}); status != 422 ||
			!strings.Contains(string(answer), `"field":"a.`) {
			t.Errorf("%v: %d %s", bad, status, answer)
		}
	}
}

// A plan within a plan: what was chosen is on the piece, on the board and in what is expected.
func TestOptionsReachTheBench(t *testing.T) {
	r := newRig(t)
	owner := asRole(t, r.work, "owner")
	lot := r.received("OPT-1")
	pick := stock.PlanPick{PlanID: "seamed", Options: map[string]string{"cap": "kebab", "mouse": "dressed"}}
	if err := r.work.Stock.ChoosePlan(owner, lot.PieceIds[0], pick, 1); err != nil {
		t.Fatal(err)
	}
	v, err := r.work.Compare.Piece(owner, lot.PieceIds[0])
	if err != nil {
		t.Fatal(err)
	}
	if _, ok := v.Card.Plan.Product("cap_steak"); ok || v.Card.Plan.Minutes != 18 { // 17 − 1 for the cap + 2 for the mouse
		t.Errorf("the plan is %s, %g minutes", v.Card.Plan.Name, v.Card.Plan.Minutes)
	}
	b, err := r.work.Bench.StartBreakdown(owner, lot.PieceIds[0], r.shop.Benches[0].Id)
	if err != nil {
		t.Fatal(err)
	}
	if _, ok := b.Plan.Product("kebab"); !ok {
		t.Errorf("the bench goes by %s", b.Plan.Name)
	}
	b, err = r.work.Bench.Book(owner, b.Breakdown.PublicID,
		seam.Event{ID: store.NewID(), Kind: seam.Opened, Net: 6600 * measure.Gram, At: today, Bench: r.shop.Benches[0].Id})
	if err != nil {
		t.Fatal(err)
	}
	if _, err = r.work.Bench.Book(owner, b.Breakdown.PublicID,
		seam.Event{ID: store.NewID(), Kind: seam.Portioned, Product: "chuck_eye_steak", Net: 900 * measure.Gram, At: today,
			Bench: r.shop.Benches[0].Id}); err == nil {
		t.Error("a product that no way of cutting this piece makes was booked")
	}
}
