package api

import (
	"bytes"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// A shop's own name for a product stands beside its lawful name, on the price list, among the names of the same meat
// and on the card of that shop, and on no other's; who has not seen the latest name changes none.
func TestMenuNames(t *testing.T) {
	r := newRig(t)
	const at = base + "/prices/beef.tri_tip_whole/name"
	var p contract.Price
	r.ok("PUT", at, map[string]string{"was": "", "name": "  Sunday   corner "}, &p)
	if from(p.MenuName) != "Sunday corner" || p.Name != "Whole tri-tip" {
		t.Errorf("named: %+v", p)
	}
	for _, c := range []struct {
		body   map[string]string
		status int
	}{{map[string]string{"was": "", "name": "Corner"}, 409},
		{map[string]string{"was": "Sunday corner", "name": strings.Repeat("x", 61)}, 422},
		{map[string]string{"was": "Sunday corner", "name": "a\u0000b"}, 422}} {
		if p := r.fails("PUT", at, c.body); p.Status != c.status || (c.status == 422 && !has(p, "name", "")) {
			t.Errorf("%v: %+v", c.body, p)
		}
	}
	if p := r.fails("PUT", base+"/prices/beef.wing/name", map[string]string{"was": "", "name": "x"}); p.Status != 404 {
		t.Errorf("of no product: %+v", p)
	}
	if row := r.trail("action=menu_name.set"); len(row) != 1 || from(row[0].SubjectName) != "Whole tri-tip" {
		t.Errorf("the audit says %+v", row)
	}
	var meat []contract.SameMeat
	r.ok("GET", base+"/same-meat", nil, &meat)
	said := 0
	for _, m := range meat {
		for _, x := range m.Products {
			if from(x.MenuName) == "Sunday corner" && x.Key == "beef.tri_tip_whole" {
				said++
			}
		}
	}
	if said != 1 {
		t.Errorf("the same meat says it %d times", said)
	}
	const card = base + "/cook/beef.top_sirloin/tri_tip_whole"
	var mine, atlas contract.CookingCard
	r.ok("GET", card+"?shop="+r.shop.Id, nil, &mine)
	r.ok("GET", card, nil, &atlas)
	if from(mine.MenuName) != "Sunday corner" || mine.Name != "Whole tri-tip" || atlas.MenuName != nil {
		t.Errorf("cards: %v, %v", mine.MenuName, atlas.MenuName)
	}
	_, _, raw := r.do("GET", card+"/card.pdf?shop="+r.shop.Id, nil)
	if pdf := printed(raw); !bytes.Contains(pdf, []byte("Sunday corner")) ||
		!bytes.Contains(pdf, []byte("Whole tri-tip")) {
		t.Error("the printed card does not say both names")
	}
	if p := r.fails("GET", card+"?shop=nobody", nil); p.Status != 404 {
		t.Errorf("the card of no shop: %+v", p)
	}
	// its own name again
	var plain contract.Price
	r.ok("PUT", at, map[string]string{"was": "Sunday corner", "name": "Whole tri-tip"}, &plain)
	if plain.MenuName != nil {
		t.Errorf("renamed: %v", *plain.MenuName)
	}
}

// What only a shop's own plan makes has a card, at that shop, and a place in a timetable.
func TestCardOfAnOwnProduct(t *testing.T) {
	r := newRig(t)
	r.priced()
	d := draftOf(r.plans("beef.top_sirloin")["seamed"].Plan, "Harbour way")
	for i := range d.Products {
		delete(d.Products[i].From, "mouse")
	}
	d.Products = append(d.Products,
		contract.DraftProduct{Name: "Harbour dice", Form: "dice", Cook: some("stew"), From: map[string]float64{"mouse": 76}})
	d.Waste["mouse"] = 24
	var made contract.PlanDetail
	r.ok("POST", base+"/plans/beef.top_sirloin", d, &made)
	const card = base + "/cook/beef.top_sirloin/harbour_dice"
	var c contract.CookingCard
	r.ok("GET", card+"?shop="+r.shop.Id+"&plan="+made.Plan.Id, nil, &c)
	if c.Name != "Harbour dice" || c.Way != "stew" || len(c.Steps) < 3 || c.MinSafeCoreC != 63 {
		t.Errorf("%+v", c)
	}
	r.ok("GET", card+"?shop="+r.shop.Id, nil, &c)
	if p := r.fails("GET", card, nil); p.Status != 404 {
		t.Errorf("the atlas has a card of it: %+v", p)
	}
	if status, _, _ := r.do("GET", card+"/card.pdf?shop="+r.shop.Id, nil); status != 200 {
		t.Errorf("to print: %d", status)
	}
	var table contract.Timetable
	r.ok("POST", base+"/cooking/timetable", map[string]any{"serve_at": "2026-03-20T19:00:00Z",
		"dishes": []any{map[string]any{"atlas_id": "beef.top_sirloin", "product_id": "harbour_dice", "shop": r.shop.Id,
			"plan": made.Plan.Id, "diners": 4}}}, &table)
	if len(table.Cards) != 1 || table.Cards[0].Name != "Harbour dice" || len(table.Moments) < 3 {
		t.Errorf("%+v", table)
	}
}

// What is cut from one end of a muscle eats as that end does. By hand from the atlas: the small end, a tenth of the
// rump's main heart, grills at 45 and the body at 62.8, of which the steaks are; the muscle at 61. The peeled kebab has
// the back of the cap, 62 of 67, beside both hearts.
func TestProductsOfAnEnd(t *testing.T) {
	r := newRig(t)
	r.priced()
	var f contract.Forecast
	r.ok("POST", base+"/forecast", map[string]any{"atlas_id": "beef.top_sirloin", "pieces": 1, "weight": "6.6",
		"weight_unit": "kg", "price": "11.40", "price_per": "kg"}, &f)
	score := func(plan, product string) float64 {
		for _, p := range f.Plans {
			for _, row := range p.Products {
				if p.Plan.Id == plan && row.Id == product && row.Plate != nil {
					return row.Plate.Score
				}
			}
		}
		t.Fatalf("%s of %s has no grade", product, plan)
		return 0
	}
	heart := r.cell("heart_main", "grill").Score
	if got := score("seamed", "heart_steak"); got < heart+1.7 || got > heart+1.9 {
		t.Errorf("a heart steak eats at %g, the muscle at %g", got, heart)
	}
	var piece contract.AtlasPiece
	r.ok("GET", base+"/atlas/pieces/beef.top_sirloin", nil, &piece)
	for _, m := range piece.Muscles {
		if m.Id == "heart_main" && (len(m.Ends) != 2 || (*m.Ends[0].Eating)[0].Score != 45) {
			t.Errorf("the ends of the heart: %+v", m.Ends)
		}
	}
}
