package api

import (
	"testing"

	"falda/internal/api/contract"
)

// By hand as in the core: two lambs, four legs; two roasts and two seamed bring 136.02.
const fourLegs = `{"heads":[{"id":"lamb","count":2}],"ways":[
	{"head":"lamb","id":"roast","piece":"leg","per_head":2,"minutes":4,"products":[{"id":"roast","kg":"2.4"}]},
	{"head":"lamb","id":"seamed","piece":"leg","per_head":2,"minutes":12,"saw_minutes":1,
	"products":[{"id":"portion","kg":"1.5"}]}],
	"products":[{"id":"roast","price":"15.90","cap_kg":"5","fallback":"dice"},
	{"id":"dice","price":"11.90","cap_kg":"3"},{"id":"portion","price":"19.90"}]`

func TestBestCarcassByHand(t *testing.T) {
	r := newRig(t)
	var b contract.BestCarcass
	r.ok("POST", base+"/calc/best-carcass", fourLegs+`,"minutes":40}`, &b)
	if b.Value != "136.02" || b.Bound != "136.02" || !b.Proven || len(b.Use) != 2 || b.Use[1].Pieces != 2 ||
		b.Products[0].SoldKg != "4.800" || from(b.HourWorth) != "0.00" || b.Minutes != 32 || b.SawMinutes != 2 {
		t.Errorf("%+v", b)
	}
	// 16 minutes leave no time to seam: 5 kg roasts, 3 kg diced, 1.6 kg for nothing; an hour more brings 20.82
	r.ok("POST", base+"/calc/best-carcass", fourLegs+`,"minutes":16}`, &b)
	if b.Value != "115.20" || b.Products[0].AsFallbackKg != "4.600" || b.Products[1].SoldKg != "3.000" ||
		b.Products[1].AsFallbackKg != "1.600" || from(b.HourWorth) != "20.82" {
		t.Errorf("%+v", b)
	}
	b = contract.BestCarcass{}
	// an order for portions takes one more from the roasts
	r.ok("POST", base+"/calc/best-carcass", fourLegs+`,"orders":[{"product":"portion","kg":"4.5"}]}`, &b)
	if b.Value != "127.71" || b.HourWorth != nil {
		t.Errorf("%+v", b)
	}
}

// A head is divided in one way: long saddles bring more here, and then nothing of the short ones is there.
func TestOneDivisionIsChosen(t *testing.T) {
	r := newRig(t)
	way := func(division, piece, product, kg string) string {
		return `{"head":"lamb","division":"` + division + `","id":"w","piece":"` + piece + `","per_head":1,
			"products":[{"id":"` + product + `","kg":"` + kg + `"}]}`
	}
	var b contract.BestCarcass
	r.ok("POST", base+"/calc/best-carcass", `{"heads":[{"id":"lamb","count":3}],"ways":[`+
		way("short", "saddle", "chop", "2")+","+way("short", "leg", "roast", "3")+","+way("long", "saddle", "chop", "4")+
		`],"products":[{"id":"chop","price":"20"},{"id":"roast","price":"12"}]}`, &b)
	if b.Value != "240.00" || len(b.Divisions) != 1 || b.Divisions[0].Division != "long" || len(b.Use) != 1 {
		t.Errorf("%+v", b)
	}
}

func TestBestCarcassNamesWhatClashes(t *testing.T) {
	r := newRig(t)
	p := r.fails("POST", base+"/calc/best-carcass",
		fourLegs+`,"orders":[{"product":"portion","kg":"4.5"},{"product":"roast","kg":"4.8"}]}`)
	if p.Status != 422 || !has(p, "orders[0].kg", "infeasible") || !has(p, "orders[1].kg", "infeasible") {
		t.Errorf("%+v", p)
	}
	if p = r.fails("POST", base+"/calc/best-carcass", fourLegs+`,"minutes":10}`); !has(p, "minutes", "infeasible") {
		t.Errorf("%+v", p)
	}
	if p = r.fails("POST", base+"/calc/best-carcass", fourLegs+`,"orders":[{"product":"veal","kg":"x"}]}`); !has(p,
		"orders[0].product", "unknown") {
		t.Errorf("%+v", p)
	}
}
