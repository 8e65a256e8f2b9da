package api

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// Three lambs: each gives two legs and so on, and all of them go some way; what is sold comes of what those ways make;
// the best is no worse than any other way, and a limit of demand or of minutes never makes it better.
func TestAWeekOfLambs(t *testing.T) {
	r := newRig(t)
	ask, v := r.threeLambs()
	head := ask["heads"].([]map[string]any)[0]
	head["weight"], head["weight_unit"] = "20", "kg"
	r.ok("POST", base+"/week", ask, &v)
	pieces := map[string]int{}
	minutes := 0.0
	for _, u := range v.Uses {
		pieces[u.Piece] += u.Pieces
		minutes += u.Minutes
	}
	var carcasses []contract.Carcass
	r.ok("GET", base+"/atlas/carcasses", nil, &carcasses)
	for _, c := range carcasses {
		if c.Id != "lamb.whole" || v.Divisions[0].Division != "usual" {
			continue
		}
		for _, part := range c.Parts {
			if pieces[part.Piece] != 3*part.Count {
				t.Errorf("%d of %s, three lambs have %d", pieces[part.Piece], part.Piece, 3*part.Count)
			}
		}
	}
	best := amount(t, v.Ways[0].Brings)
	for _, w := range v.Ways {
		if amount(t, w.Brings) > best+0.005 || amount(t, w.Worst) > amount(t, w.Mean) {
			t.Errorf("%+v, and the best brings %.2f", w, best)
		}
	}
	if len(v.Ways) < 3 || !v.Proven || minutes > v.Ways[0].Minutes || len(v.Worth) != 1 {
		t.Errorf("%+v", v)
	}
	r.weekFlows(v)
	sold := 0.0
	for _, s := range v.Sales {
		sold += amount(t, s.Value)
		if math.Abs(s.MadeG-s.FullG-s.FallbackG) > 0.001 {
			t.Errorf("%+v", s)
		}
	}
	if sold < best {
		t.Errorf("sold for %.2f, and it brings %.2f", sold, best)
	}
	// a fourth brings what four bring more than three
	head["count"] = 4
	var four contract.WeekView
	r.ok("POST", base+"/week", ask, &four)
	if d := amount(t, four.Ways[0].Brings) - best - amount(t, v.Worth[0].More); math.Abs(d) > 0.011 {
		t.Errorf("the fourth brings %s, and four %s after %.2f", v.Worth[0].More, four.Ways[0].Brings, best)
	}
	ask["minutes"] = fmt.Sprint(math.Floor(four.Ways[0].Minutes - 20))
	var less contract.WeekView
	if status, _, raw := r.do("POST", base+"/week", ask); status == 200 {
		if err := json.Unmarshal(raw, &less); err != nil {
			t.Fatal(err)
		}
		if amount(t, less.Ways[0].Brings) > amount(t, four.Ways[0].Brings) || less.Ways[0].Minutes > four.Ways[0].Minutes-20 {
			t.Errorf("with 20 minutes less: %+v", less.Ways[0])
		}
	} else if status != 422 { // where the best takes the least
		t.Errorf("%d %s", status, raw)
	}
	ask["minutes"] = "5"
	if p := r.fails("POST", base+"/week", ask); !has(p, "minutes", "infeasible") {
		t.Errorf("%+v", p)
	}
	bare := newRig(t)
	if p := bare.fails("POST", base+"/week", map[string]any{"heads": []map[string]any{{"carcass": "lamb.whole",
		"count": 3}}}); !has(p, "prices", "none") {
		t.Errorf("a shop without a price: %+v", p)
	}
	p := bare.fails("POST", base+"/week",
		map[string]any{"heads": []map[string]any{{"carcass": "goat", "count": 0}}, "days": 99,
			"saw_minutes": "x"})
	for _, field := range []string{"heads[0].carcass", "days", "saw_minutes"} {
		if !has(p, field, "") {
			t.Errorf("%s passes: %+v", field, p)
		}
	}
}

// weekFlows checks that what flows out of the kill is what stands in the sales, by weight and by value, at every stage.
func (r *rig) weekFlows(v contract.WeekView) {
	r.t.Helper()
	out, into, worth := map[string]float64{}, map[string]float64{}, map[string]float64{}
	for _, f := range v.Flows {
		out[f.From] += f.WeightG
		into[f.To] += f.WeightG
		worth[f.To] += f.Value
	}
	for id, g := range into {
		if strings.HasPrefix(id, "piece/") && math.Abs(out[id]-g) > 0.01 {
			r.t.Errorf("%s: %.2f g in and %.2f out", id, g, out[id])
		}
		if v.Names[id] == "" {
			r.t.Errorf("%s has no name", id)
		}
	}
	for _, s := range v.Sales {
		id := "product/" + s.Key
		if math.Abs(into[id]-s.MadeG) > 0.01 || math.Abs(worth[id]-amount(r.t, s.Value)) > 0.05 {
			r.t.Errorf("%s: %.2f g and %.2f flow, %.2f g and %s are sold", s.Key, into[id], worth[id], s.MadeG, s.Value)
		}
	}
}

// threeLambs asks what three lambs should become, where the leg has a price and all others are guessed by it.
func (r *rig) threeLambs() (ask map[string]any, v contract.WeekView) {
	r.t.Helper()
	r.ok("PUT", base+"/prices/lamb.leg_roast", map[string]any{"price": "15.90", "per": "kg", "version": 0}, nil)
	r.ok("POST", base+"/prices/guesses", nil, nil)
	ask = map[string]any{"heads": []map[string]any{{"carcass": "lamb.whole", "count": 3}}}
	r.ok("POST", base+"/week", ask, &v)
	return ask, v
}

// The week before is laid beside this one by what was cut in it; the bid lies between what single lambs bring by the
// house's own scatter. By hand: legs of the same weight that gave 60 and 66 % of meat by one plan, three of each, lie
// 1/21 either way of their mean of 63, with 5 degrees of freedom √(6/441/5) = 5.2 % of scatter.
func TestAWeekBesideTheLast(t *testing.T) {
	r := newRig(t)
	ask, v := r.threeLambs()
	has := func(v contract.WeekView) bool {
		return slices.ContainsFunc(v.Ways, func(w contract.WeekWay) bool { return w.Id == "last" })
	}
	if has(v) || v.SpreadN != 0 || v.SpreadPct != 3 {
		t.Errorf("nothing was cut: %v, %v %% of %d", has(v), v.SpreadPct, v.SpreadN)
	}
	exec := r.bulk
	for i := range 6 {
		r.onBench(r.next("LAST"), "seamed")
		exec(`INSERT INTO results (breakdown_id, shop_id, atlas_id, plan_id, plan_name, cut, supplier, member_id, closed_at,
			closed_on, input_mg, meat_mg, by_products_mg, waste_mg, loss_mg, minutes, priced, sales, packaging, labour,
			discard, purchase, value_per_kg, before_purchase_per_kg) SELECT MAX(id), MAX(shop_id), 'lamb.leg_chump', 'seamed',
			'Seamed', 'seams', 'x', NULL, ?, ?, 2400000, ?, 0, 0, 0, 17, 1, 1, 0, 0, 0, 0, 1, 1 FROM breakdowns`, today, today,
			[]int{1_440_000, 1_584_000}[i%2])
	}
	r.ok("POST", base+"/week", ask, &v)
	if !has(v) || v.SpreadN != 6 || v.SpreadPct != 5.2 {
		t.Errorf("%v, %v %% of %d", has(v), v.SpreadPct, v.SpreadN)
	}
	at := slices.IndexFunc(v.Ways, func(w contract.WeekWay) bool { return w.Id == "last" })
	old := slices.IndexFunc(v.Ways, func(w contract.WeekWay) bool { return w.Id == "traditional" })
	if last := amount(t, v.Ways[at].Brings); last > amount(t, v.Ways[0].Brings)+0.005 ||
		v.Ways[at].Brings == v.Ways[old].Brings {
		t.Errorf("as the last week %.2f, the best %s, traditionally %s", last, v.Ways[0].Brings, v.Ways[old].Brings)
	}
	for _, x := range v.Worth {
		low, more, high := amount(t, x.Low), amount(t, x.More), amount(t, x.High)
		if !(low < more && more < high) || math.Abs(low+high-2*more) > 0.011 {
			t.Errorf("%+v", x)
		}
	}
}

// A way of the shop's own counts beside the atlas', and so does another choice within a plan: where they bring more the
// week has them, and nothing brings less for knowing them. The trim is made into what the recipes say: what that adds
// is what it sells for less what the same trim fetches in the week as it is.
func TestAWeekByWhatTheHouseCanDo(t *testing.T) {
	r := newRig(t)
	ask, v := r.threeLambs()
	before := amount(t, v.Ways[0].Brings)
	if len(v.Made) != 0 || v.MadeGain != "0" && amount(t, v.MadeGain) != 0 {
		t.Errorf("without a recipe %+v is made, %s more", v.Made, v.MadeGain)
	}
	if !slices.ContainsFunc(v.Uses, func(u contract.WeekUse) bool { return u.Options != nil }) {
		t.Errorf("no other choice within a plan brings more: %+v", v.Uses)
	}
	d := draftOf(r.plans("lamb.leg_chump")["traditional"].Plan, "Harbour leg")
	d.Products[0].Id, d.Products[0].Name = nil, "Harbour roast"
	var own contract.PlanDetail
	r.ok("POST", base+"/plans/lamb.leg_chump", d, &own)
	var book []contract.Price
	r.ok("GET", base+"/prices", nil, &book)
	for _, x := range book {
		if x.Name == "Harbour roast" {
			r.ok("PUT", base+"/prices/"+x.Key, map[string]any{"price": "30.00", "per": "kg", "version": 0}, nil)
		}
	}
	r.ok("POST", base+"/week", ask, &v)
	legs := 0
	for _, u := range v.Uses {
		if u.PlanId == own.Plan.Id {
			legs += u.Pieces
		}
	}
	if legs != 6 || amount(t, v.Ways[0].Brings) <= before {
		t.Errorf("%d of six legs by the way of one's own at €30: %+v", legs, v.Uses)
	}
	r.ok("POST", base+"/recipes", mince("Harbour mince", "25.00", map[string]any{"species": "lamb"}), nil)
	r.ok("POST", base+"/week", ask, &v)
	if len(v.Made) != 1 {
		t.Fatalf("of the trim is made %+v", v.Made)
	}
	gain := amount(t, v.Made[0].Value)
	for _, f := range v.Made[0].From {
		at := slices.IndexFunc(v.Sales, func(s contract.WeekSale) bool { return s.Name == f.Name })
		if at < 0 {
			t.Fatalf("%s is nowhere sold", f.Name)
		}
		gain -= f.WeightG * amount(t, v.Sales[at].Value) / v.Sales[at].MadeG
	}
	if math.Abs(gain-amount(t, v.MadeGain)) > 0.02 || gain <= 0 {
		t.Errorf("it adds %s, by hand %.2f", v.MadeGain, gain)
	}
}
