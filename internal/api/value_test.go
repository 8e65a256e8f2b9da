package api

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"falda/internal/api/contract"
	"falda/internal/tabular"
	"falda/internal/work/compare"
)

func num(t *testing.T, s string) float64 {
	t.Helper()
	f, err := strconv.ParseFloat(s, 64)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

// straightHand cuts a rump straight through: 4.54 kg steak, 0.68 kg dice, 0.78 kg mince trim, 0.40 kg fat, 0.15 kg
// discarded, 7 minutes.
func (r *rig) straightHand(b contract.Board) {
	r.t.Helper()
	r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	for i, w := range []struct {
		product string
		g       float64
	}{{"rump_steak", 4540}, {"dice", 680}, {"mince_trim", 780}, {"fat", 400}} {
		r.book(b.Id, r.event("portioned", i+1, map[string]any{"product": w.product, "net_g": w.g}))
	}
	r.book(b.Id, r.event("discarded", 6, map[string]any{"part": "gristle", "net_g": 150}))
	r.book(b.Id, r.event("closed", 7, map[string]any{"minutes": 7, "reason": "as found"}))
}

// Two recorded pieces beside each other, and groups of them, in agreement with the values by hand: seamed 24.09,
// straight 20.48, on 6.6 kg.
func TestCompareAlternativesByHand(t *testing.T) {
	r := newRig(t)
	r.priced()
	seamed := r.cutHand(r.onBench("CS-1", "seamed"))
	straight := r.onBench("CS-2", "traditional")
	r.straightHand(straight)
	other := r.cutHand(r.onBench("CS-3", "seamed"))
	piece := func(id string) map[string]any { return map[string]any{"kind": "piece", "breakdown_id": id} }
	group := func(plan string) map[string]any {
		return map[string]any{"kind": "group", "atlas_id": "beef.top_sirloin", "plan_id": plan}
	}
	ask := func(body map[string]any, alternatives ...map[string]any) contract.Desk {
		t.Helper()
		body["alternatives"] = alternatives
		var d contract.Desk
		r.ok("POST", base+"/comparisons", body, &d)
		return d
	}
	// by hand: steak 4.54·18 + dice 0.68·14 + trim 0.78·10 + fat 0.40·0.50 = 99.24; packaging 6.00·0.12 = 0.72; labour 7
	// min at 24 = 2.80; block 75.24: 20.48. Seamed it is 24.09 (the way's test): 3.65 a kilogram, cut straight 3.10.
	lead := 3.65 - 3.10
	d := ask(map[string]any{}, piece(straight.Id), piece(seamed.Id), group("seamed"))
	for i, p := range d.Pairs { // the group is two alike: the same a kilogram
		if math.Abs(num(t, p.PerKg)-lead) > 0.0002 {
			t.Errorf("pair %d: %s a kilogram, by hand %.4f", i, p.PerKg, lead)
		}
		for name, steps := range map[string][]contract.BridgeStep{"muscle": p.ByMuscle, "cause": p.ByCause} {
			sum := 0.0
			for _, s := range steps {
				sum += num(t, s.Change)
			}
			if math.Abs(sum-num(t, p.PerKg)) > 0.00011 {
				t.Errorf("by %s it adds to %.4f of %s", name, sum, p.PerKg)
			}
		}
		if !strings.Contains(p.Sentence, "brought €0.55 a kilo more than CS-2 / 1 (") {
			t.Error(p.Sentence)
		}
	}
	if d.Alternatives[2].Pieces != 2 || d.Alternatives[2].WeightG != 13200 ||
		math.Abs(num(t, d.Alternatives[2].Totals.Value)-48.18) > 0.01 {
		t.Errorf("the group: %+v", d.Alternatives[2].Totals)
	}
	// worth at most, cut so: 11.40 and what it leaves
	if got := num(t, d.Alternatives[1].MaxBlockPrice); math.Abs(got-(11.40+24.09/6.6)) > 0.0051 { // to the cent
		t.Errorf("the block is worth at most %.4f", got)
	}
	// labour by cause: ten minutes more at 24 an hour on 6.6 kg
	for _, s := range d.Pairs[0].ByCause {
		if s.Kind == "labour" && math.Abs(num(t, s.Change)+4.0/6.6) > 0.0051 {
			t.Errorf("labour %s", s.Change)
		}
		if s.Kind == "price" && num(t, s.Change) != 0 {
			t.Errorf("the same prices make %s", s.Change)
		}
	}
	// what if the block costs 20: the lead stays, the values fall
	dear := ask(map[string]any{"block_price": "20", "margin_pct": 25, "credit": true, "method": "physical"},
		piece(straight.Id), piece(seamed.Id))
	if dear.Pairs[0].PerKg != d.Pairs[0].PerKg ||
		math.Abs(num(t, dear.Alternatives[0].Totals.PerKg)-(num(t, d.Alternatives[0].Totals.PerKg)-8.60)) > 0.0002 {
		t.Errorf("at 20 a kilo: %s, %s", dear.Pairs[0].PerKg, dear.Alternatives[0].Totals.PerKg)
	}
	sum := 0.0
	for _, c := range dear.Alternatives[1].Costs {
		sum += num(t, c.Cost)
		// each to the cent
		if c.Kind == "meat" &&
			(c.MinPerKg == nil || math.Abs(num(t, *c.MinPerKg)-num(t, c.CostPerKg)/0.75) > 0.005+0.005/0.75+1e-9) {
			t.Errorf("%s at least %v, costs %s", c.Name, c.MinPerKg, c.CostPerKg)
		}
		if c.Kind == "by_product" && (c.MinPerKg != nil || c.Cost != c.Sales) {
			t.Errorf("credited %s costs %s of %s", c.Name, c.Cost, c.Sales)
		}
	}
	tot := dear.Alternatives[1].Totals
	if want := num(t, tot.Purchase) + num(t, tot.Labour) + num(t, tot.Packaging) +
		num(t, tot.Discard); math.Abs(sum-want) > 0.03 {
		t.Errorf("costs add to %.2f of %.2f", sum, want)
	}
	// at the break-even price of the cap both are worth the same
	for _, e := range d.Pairs[0].Even {
		if e.Key != "beef.cap_steak" {
			continue
		}
		r.ok("PUT", base+"/prices/beef.cap_steak", map[string]any{"price": e.At, "per": "kg", "version": 1}, nil)
		anew := ask(map[string]any{"today": true}, piece(straight.Id), piece(seamed.Id))
		if got := num(t, anew.Pairs[0].PerKg); math.Abs(got) > 0.0001 {
			t.Errorf("at its break-even price of %s: %.4f", *e.At, got)
		}
	}
	for i, s := range d.Pairs[0].SellThrough {
		if s.Ok == (s.SellsPct == nil) || len(s.Chain) == 0 {
			t.Errorf("sell-through %d: %+v", i, s)
		}
	}
	if turns := d.Pairs[0].Turns; len(turns) < 5 || !turns[0].Possible || turns[0].ChangePct == nil ||
		math.Abs(*turns[0].ChangePct) > math.Abs(*turns[1].ChangePct) {
		t.Errorf("turns: %+v", turns[:2])
	}
	// groups by supplier and day; an empty one says so
	none := group("")
	none["supplier"] = "Nobody"
	for name, alternatives := range map[string][]map[string]any{"alternatives[1]": {piece(seamed.Id), none},
		"alternatives[0].atlas_id": {{"kind": "plan", "atlas_id": "beef.fish", "plan_id": "seamed"}, piece(seamed.Id)},
		"alternatives":             {piece(seamed.Id)},
		"alternatives[1].plan_id":  {piece(seamed.Id), {"kind": "plan", "atlas_id": "beef.top_sirloin", "plan_id": "magic"}},
		"alternatives[1].weight": {piece(seamed.Id),
			{"kind": "plan", "atlas_id": "beef.top_sirloin", "plan_id": "seamed", "weight": "-3", "weight_unit": "kg"}}} {
		if p := r.fails("POST", base+"/comparisons", map[string]any{"alternatives": alternatives}); !has(p, name, "") {
			t.Errorf("%s: %+v", name, p)
		}
	}
	// what a piece brought holds while it stands: opened again it is out of the group, closed anew it is in
	r.book(other.Id, r.event("reopened", 30, map[string]any{"reason": "one more trim"}))
	if d = ask(map[string]any{}, piece(seamed.Id), group("seamed")); d.Alternatives[1].Pieces != 1 {
		t.Errorf("a piece that is open again counts: %d", d.Alternatives[1].Pieces)
	}
	r.book(other.Id, r.event("closed", 31, map[string]any{"minutes": 17}))
	if d = ask(map[string]any{}, piece(seamed.Id), group("seamed")); d.Alternatives[1].Pieces != 2 {
		t.Errorf("closed anew: %d", d.Alternatives[1].Pieces)
	}
}

// History by week, plan and cutter, with the pieces behind it; a lot that is corrected corrects it.
func TestHistoryOverTheWire(t *testing.T) {
	r := newRig(t)
	r.priced()
	var empty contract.History
	if r.ok("GET", base+"/history", nil, &empty); empty.N != 0 || !strings.Contains(empty.Sentence, "No finished piece") {
		t.Errorf("%+v", empty)
	}
	seamed := r.cutHand(r.onBench("HI-1", "seamed"))
	var h contract.History
	if r.ok("GET", base+"/history", nil, &h); !strings.HasPrefix(h.Sentence, "1 finished piece,") {
		t.Error(h.Sentence)
	}
	r.straightHand(r.onBench("HI-2", "traditional"))
	r.ok("GET", base+"/history?by=plan&measure=before_purchase&atlas_id=beef.top_sirloin", nil, &h)
	// worth before the block, a kilogram as it is shown: straight (99.24 − 0.72 − 2.80)/6.6, seamed (24.09 + 75.24)/6.6
	want := map[string]float64{"beef.top_sirloin/traditional": 14.50, "beef.top_sirloin/seamed": 15.05}
	if h.N != 2 || len(h.Buckets) != 2 {
		t.Fatalf("%+v", h)
	}
	for _, b := range h.Buckets {
		if math.Abs(b.Mean-want[b.Key]) > 0.001 || b.N != 1 {
			t.Errorf("%s: %.4f of %d, by hand %.4f", b.Key, b.Mean, b.N, want[b.Key])
		}
	}
	var p contract.HistoryPieces
	r.ok("GET", base+"/history/pieces?by=plan&bucket=beef.top_sirloin/seamed", nil, &p)
	if len(p.Pieces) != 1 || p.Pieces[0].BreakdownId != seamed.Id || p.Next != nil ||
		math.Abs(p.Pieces[0].PerKg-3.65) > 0.001 {
		t.Errorf("%+v", p)
	}
	r.ok("GET", base+"/history?by=week", nil, &h)
	if len(h.Buckets) != 1 || h.Buckets[0].Key != "2026-W12" || h.Buckets[0].N != 2 { // 20 March 2026 is in ISO week 12
		t.Errorf("%+v", h.Buckets)
	}
	for field, q := range map[string]string{"by": "?by=moon", "measure": "?measure=joy", "from": "?from=2026-13-01"} {
		if p := r.fails("GET", base+"/history"+q, nil); !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	// many weeks: limits are the mean ± 3 s/√n by the spread within weeks (Shewhart's chart of means)
	var rows []struct {
		ID int64
	}
	if err := r.store.DB().Raw("SELECT breakdown_id AS id FROM results ORDER BY breakdown_id").Scan(&rows).
		Error; err != nil || len(rows) != 2 {
		t.Fatal(rows, err)
	}
	if flaws, err := r.work.Bench.Verify(t.Context(), false); err != nil || len(flaws.Flaws) != 0 {
		t.Errorf("verify: %+v %v", flaws.Flaws, err)
	}
	if err := r.store.DB().Exec("UPDATE results SET meat_mg = meat_mg - 1000 WHERE breakdown_id = ?", rows[0].ID).
		Error; err != nil {
		t.Fatal(err)
	}
	if v, err := r.work.Bench.Verify(t.Context(), true); err != nil || len(v.Flaws) != 1 || v.Rebuilt != 1 {
		t.Errorf("a result that was changed: %+v %v", v, err)
	}
	if v, err := r.work.Bench.Verify(t.Context(), false); err != nil || len(v.Flaws) != 0 {
		t.Errorf("rebuilt: %+v %v", v, err)
	}
}

// carcassOtherwise breaks a lamb another way, cuts left and right each its own way, and sells a piece and the whole as
// they are. No demand is limited yet, so every answer is a sum.
func carcassOtherwise(t *testing.T, ask func(map[string]any) contract.CarcassValue) {
	t.Helper()
	v := ask(nil)
	head := func(v contract.CarcassValue) float64 { return num(t, v.Totals.Head.Value) }
	if len(v.Divisions) != 6 || v.Division != "usual" {
		t.Errorf("%d divisions, broken by %q", len(v.Divisions), v.Division)
	}
	for _, d := range v.Divisions {
		broken := ask(map[string]any{"division": d.Id})
		if math.Abs(head(broken)-num(t, d.Head)) > 0.001 || broken.Minutes != d.Minutes || broken.Division != d.Id {
			t.Errorf("broken by %s a head leaves %s in %g min, in the list %s in %g", d.Id, broken.Totals.Head.Value,
				broken.Minutes, d.Head, d.Minutes)
		}
		total := 0.0
		for _, f := range broken.Flows {
			if f.From == "carcass" {
				total += f.WeightG
			}
		}
		if math.Abs(total-20_000) > 1e-6 {
			t.Errorf("broken by %s the bands begin with %g g", d.Id, total)
		}
	}
	// each leg its own way: a lamb is the mean of one cut all the one way and one cut all the other
	one := ask(map[string]any{"plans": map[string]string{"lamb.leg_chump": "seamed"}})
	both := ask(map[string]any{"plans": map[string]string{"lamb.leg_chump": "seamed"},
		"other_side": map[string]string{"lamb.leg_chump": "band_saw"}}) // as the traditional plan has it
	if off := head(both) - (head(one)+head(v))/2; math.Abs(off) > 0.02 || len(both.Pieces) != len(v.Pieces)+1 ||
		math.Abs(both.Minutes-(one.Minutes+v.Minutes)/2) > 0.051 {
		t.Errorf("left and right: %.2f and %g min, one way %.2f and %g, the other %.2f and %g", head(both), both.Minutes,
			head(one), one.Minutes, head(v), v.Minutes)
	}
	// sold at what it is even at, a carcass leaves what it does cut; a coin more a kilogram is 20 kg of it
	even := ask(map[string]any{"whole_price": v.EvenPrice, "whole_per": v.EvenPer})
	dear := ask(map[string]any{"whole_price": fmt.Sprint(num(t, v.EvenPrice) + 1), "whole_per": "kg"})
	if even.Whole == nil || math.Abs(num(t, even.Whole.More)) > 0.1 || dear.Whole == nil ||
		math.Abs(num(t, dear.Whole.Head)-num(t, even.Whole.Head)-20) > 0.001 ||
		math.Abs(num(t, even.Whole.Head)-(num(t, v.EvenPrice)*20-160)) > 0.001 {
		t.Errorf("sold whole: %+v, a coin dearer %+v", even.Whole, dear.Whole)
	}
	// a piece sold as it is brings its weight by its price
	neck := map[string]any{"division": "shoulders", "plans": map[string]string{"lamb.neck": "whole"}, "whole_per": "kg"}
	unpriced := ask(neck)
	neck["sold_whole"] = map[string]string{"lamb.neck": "6.50"}
	sold := ask(neck)
	i := slices.IndexFunc(sold.Pieces, func(p contract.CarcassPieceValue) bool { return p.Id == "lamb.neck" })
	if p := sold.Pieces[i]; p.PlanId != "whole" || math.Abs(num(t, p.Sales)-0.8*6.50) > 0.02 || // 4 % of 20 kg
		len(sold.Unpriced) != 0 || len(unpriced.Unpriced) != 1 {
		t.Errorf("the neck sold whole: %+v, unpriced %q and %q", p, unpriced.Unpriced, sold.Unpriced)
	}
}

// A whole lamb from plans per piece: a swap shows in the head, what a week cannot sell goes at its fallback, and the
// year is its seasons.
func TestCarcassValueOverTheWire(t *testing.T) {
	r := newRig(t)
	var prices []contract.Price
	r.ok("GET", base+"/prices", nil, &prices)
	list := "key,price\n"
	for i, p := range prices {
		list += fmt.Sprintf("%s,%d\n", p.Key, 5+i%20)
	}
	if status, _, answer := upload[contract.PriceImport](r, base+"/prices/import?save=true", []byte(list)); status != 200 {
		t.Fatal(answer)
	}
	ask := func(more map[string]any) contract.CarcassValue {
		t.Helper()
		body := map[string]any{"weight": "20", "weight_unit": "kg", "price": "8", "price_per": "kg", "plan_id": "traditional",
			"heads": 30}
		for k, v := range more {
			body[k] = v
		}
		var v contract.CarcassValue
		r.ok("POST", base+"/carcasses/lamb.whole/value", body, &v)
		return v
	}
	v := ask(nil)
	// a week’s half cent, 52 times
	if v.Minutes != 8 || v.Totals.Head.Purchase != "160.00" || v.Totals.Week.Purchase != "4800.00" ||
		math.Abs(num(t, v.Year)-num(t, v.Totals.Week.Value)*365/7) > 0.3 {

		t.Errorf("%v min, a head %s, a week %s, a year %s of %s", v.Minutes, v.Totals.Head.Purchase, v.Totals.Week.Purchase,
			v.Year, v.Totals.Week.Value)
	}
	total := 0.0
	for _, f := range v.Flows {
		if f.From == "carcass" {
			total += f.WeightG
		}
	}
	if math.Abs(total-20_000) > 1e-6 {
		t.Errorf("the bands begin with %g g", total)
	}
	swapped := ask(map[string]any{"plans": map[string]string{"lamb.rack": "seamed"}})
	d := num(t, swapped.Totals.Head.Value) - num(t, v.Totals.Head.Value)
	for _, p := range swapped.Pieces {
		if p.Id == "lamb.rack" && (p.Gain == nil || math.Abs(num(t, *p.Gain)-d) > 0.011) {
			t.Errorf("the rack's swap brings %v, the head changes by %.2f", p.Gain, d)
		}
	}
	carcassOtherwise(t, ask)
	// a cap on what the week makes most of: the rest goes at 1.00
	line := v.Lines[0]
	for _, l := range v.Lines {
		if l.WeightG > line.WeightG {
			line = l
		}
	}
	r.ok("PUT", base+"/demands",
		map[string]any{"product_key": line.Key, "week": "10", "unit": "kg", "fallback": "1", "version": 0}, nil)
	capped := ask(nil)
	want := (line.WeightG/1000 - 10) * (num(t, *line.Price) - 1)
	if math.Abs(num(t, capped.Lost)-want) > 0.01 ||
		math.Abs(num(t, v.Totals.Week.Value)-num(t, capped.Totals.Week.Value)-want) > 0.02 {
		t.Errorf("lost %s, by hand %.2f; the week falls by %.2f", capped.Lost, want,
			num(t, v.Totals.Week.Value)-num(t, capped.Totals.Week.Value))
	}
	// with demand: what a swap is said to bring is what the head's value moves by, whatever else is swapped
	for _, l := range v.Lines[:min(6, len(v.Lines))] {
		if l.Key != line.Key {
			r.ok("PUT", base+"/demands",
				map[string]any{"product_key": l.Key, "week": "8", "unit": "kg", "fallback": "1.50", "version": 0}, nil)
		}
	}
	plans := map[string]string{}
	looked := 0
	for _, p := range ask(nil).Pieces {
		for _, x := range p.Plans {
			if x.Id == p.PlannedId || looked > 12 {
				continue
			}
			before := ask(map[string]any{"plans": plans})
			plans[p.Id] = x.Id
			after := ask(map[string]any{"plans": plans})
			moved := num(t, after.Totals.Head.Value) - num(t, before.Totals.Head.Value)
			for _, q := range after.Pieces {
				// two heads, each a week's thirtieth, rounded
				if q.Id == p.Id && (q.Gain == nil || math.Abs(num(t, *q.Gain)-moved) > 0.0101) {
					t.Errorf("%s by %s is said to bring %v, the head changes by %.2f", p.Id, x.Id, from(q.Gain), moved)
				}
			}
			looked++
			break
		}
	}
	if looked < 5 {
		t.Errorf("only %d swaps were looked at", looked)
	}
	for field, more := range map[string]map[string]any{
		"plans.lamb.rack":      {"plans": map[string]string{"lamb.rack": "magic"}},
		"plans.lamb.tail":      {"plans": map[string]string{"lamb.tail": "x"}},
		"plans.lamb.neck":      {"plans": map[string]string{"lamb.neck": "traditional"}}, // the usual division has none
		"other_side.lamb.rack": {"other_side": map[string]string{"lamb.rack": "magic"}},
		"sold_whole.lamb.tail": {"sold_whole": map[string]string{"lamb.tail": "3"}},
		"division":             {"division": "thirds"}, "whole_price": {"whole_price": "x", "whole_per": "kg"},
		"plan_id": {"plan_id": "magic"}, "heads": {"heads": -1}, "weight": {"weight": "0"}, "price": {"price": "x"},
	} {
		body := map[string]any{"weight": "20", "weight_unit": "kg", "price_per": "kg"}
		for k, v := range more {
			body[k] = v
		}
		if p := r.fails("POST", base+"/carcasses/lamb.whole/value", body); !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	var g contract.YieldGrade
	r.ok("POST", base+"/calc/yield-grade",
		`{"species":"beef","fat_in":0.5,"kph_pct":3.5,"hot_carcass_lb":700,"ribeye_sq_in":12.3}`, &g)
	if math.Abs(g.Exact-3.174) > 1e-9 || g.Grade != 3 { // the pencil's, as in the core's test
		t.Errorf("%+v", g)
	}
	if p := r.fails("POST", base+"/calc/yield-grade",
		`{"species":"beef","fat_in":0.5,"kph_pct":3.5,"hot_carcass_lb":7,"ribeye_sq_in":12.3}`); !has(p, "hot_carcass_lb",
		"out_of_range") {
		t.Errorf("%+v", p)
	}
}

// The best use of two rumps: with the minutes for one, one is seamed; an order that cannot be met is named; what is
// young is left out.
func TestBestUseOverTheWire(t *testing.T) {
	r := newRig(t)
	r.priced()
	if p := r.fails("POST", base+"/best-use", `{}`); !has(p, "pieces", "none_ready") {
		t.Errorf("%+v", p)
	}
	r.received("BU-1")
	var one contract.BestUseView
	if r.ok("POST", base+"/best-use", `{}`, &one); !strings.HasPrefix(one.Sentence, "1 piece brings €") {
		t.Error(one.Sentence)
	}
	r.received("BU-2")
	young := arrival("BU-3")
	young["slaughtered_on"], young["packed_on"] = "2026-03-18", "2026-03-19"
	r.ok("POST", base+"/lots", young, nil)
	var v contract.BestUseView
	r.ok("POST", base+"/best-use", `{}`, &v)
	if !v.Proven || v.Hour != nil || len(v.Pieces) < 2 {
		t.Fatalf("%+v", v)
	}
	lines := 0.0
	for _, s := range v.Sales {
		lines += num(t, s.Value)
	}
	if math.Abs(lines-num(t, v.Brought)) > 1e-6 || math.Abs(num(t, v.Brought)-num(t, v.Costs)-num(t, v.Value)) > 1e-6 ||
		num(t, v.Costs) <= 0 {
		t.Errorf("the sales add up to %.2f, said %s; less %s of costs it is %s", lines, v.Brought, v.Costs, v.Value)
	}
	best := v.Pieces[0].PlanId
	if best == "traditional" { // by hand prices seaming pays 6.61 on the piece
		t.Errorf("without a limit: %s", v.Pieces[0].Sentence)
	}
	// what it brings more than the next best is to the cent what the piece's own page shows between the two
	compared := 0
	for _, p := range v.Pieces {
		if !strings.Contains(p.Sentence, "the next best") { // young, with one way alone
			continue
		}
		compared++
		var own contract.PieceDetail
		r.ok("GET", base+"/pieces/"+p.Piece.Id, nil, &own)
		var worth []int
		for _, f := range own.Forecast.Plans {
			worth = append(worth, int(math.Round(100*num(t, f.Totals.Value))))
		}
		slices.Sort(worth)
		n := len(worth)
		if want := fmt.Sprintf(" brings €%.2f more than ", float64(worth[n-1]-worth[n-2])/100); n < 2 ||
			!strings.Contains(p.Sentence, want) {
			t.Errorf("%s; its page: %v", p.Sentence, worth)
		}
	}
	if compared < 2 {
		t.Errorf("%d pieces say by how much", compared)
	}
	// 17 minutes and 7: with 25 for three pieces only one more than straight can be afforded
	r.ok("POST", base+"/best-use", `{"minutes":"33"}`, &v)
	straight, why := 0, ""
	for _, p := range v.Pieces {
		if p.PlanId == "traditional" {
			straight++
			why = p.Sentence
		}
	}
	if v.Minutes > 33 || straight == 0 || v.Hour == nil || num(t, *v.Hour) <= 0 ||
		!strings.Contains(why, "minutes are missing") {
		t.Errorf("%g minutes, %d straight, an hour %v: %s", v.Minutes, straight, v.Hour, why)
	}
	p := r.fails("POST", base+"/best-use",
		`{"minutes":"33","orders":[{"product_key":"beef.fat","weight":"0.2","unit":"kg"},{"product_key":"beef.cap_steak",
			"weight":"40","unit":"kg"}]}`)
	if !has(p, "orders[1].weight", "infeasible") || has(p, "orders[0].weight", "") {
		t.Errorf("%+v", p)
	}
	for field, body := range map[string]string{"minutes": `{"minutes":"-5"}`, "days": `{"days":99}`,
		"orders[0].product_key": `{"orders":[{"product_key":"lamb.rib_chop","weight":"1","unit":"kg"}]}`} {
		if p := r.fails("POST", base+"/best-use", body); !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	// a plan that is settled costs what the best use brings more without it; a piece that is left out is not asked of
	var free, pinned contract.BestUseView
	r.ok("POST", base+"/best-use", `{}`, &free)
	id := free.Pieces[0].Piece.Id
	r.ok("POST", base+"/best-use", `{"pins":[{"piece_id":"`+id+`","plan_id":"traditional"}]}`, &pinned)
	if p := pinned.Pieces[0]; p.Piece.Id != id || p.PlanId != "traditional" || !p.Pinned || len(p.Plans) < 2 {
		t.Errorf("settled: %+v", p)
	}
	if pinned.PinsCost == nil || free.PinsCost != nil || num(t, *pinned.PinsCost) <= 0 ||
		math.Abs(num(t, free.Value)-num(t, pinned.Value)-num(t, *pinned.PinsCost)) > 1e-6 {
		t.Errorf("%s free, %s settled, which is said to cost %v", free.Value, pinned.Value, pinned.PinsCost)
	}
	r.ok("POST", base+"/best-use", `{"leave":["`+id+`"]}`, &pinned)
	if len(pinned.Pieces) != len(free.Pieces)-1 || pinned.Pieces[0].Piece.Id == id {
		t.Errorf("left out: %d of %d pieces", len(pinned.Pieces), len(free.Pieces))
	}
	for field, pin := range map[string]string{"pins[0].piece_id": `{"piece_id":"nobody","plan_id":"seamed"}`,
		"pins[0].plan_id": `{"piece_id":"` + id + `","plan_id":"unicorn"}`} {
		if p := r.fails("POST", base+"/best-use", `{"pins":[`+pin+`]}`); !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	// pieces of a trial keep the way that was drawn for them
	var trial contract.Trial
	r.ok("POST", base+"/trials", trialBody(r.sides("BU-TR", 1)), &trial)
	r.ok("POST", base+"/best-use", `{}`, &v)
	drawn := 0
	for _, p := range v.Pieces {
		for _, alternative := range []contract.TrialArm{trial.Pairs[0].A, trial.Pairs[0].B} {
			if p.Piece.Id == alternative.Piece.Id && p.PlanId == from(alternative.Piece.PlanId) {
				drawn++
			}
		}
	}
	if drawn != 2 || !strings.Contains(strings.Join(v.Notes, " "), "2 pieces are of a trial") {
		t.Errorf("%d of the trial's pieces keep their way: %v", drawn, v.Notes)
	}
	var c contract.BestUse
	// the pencil's instance of the core: one seamed, one straight, 235
	pencil := `{"pieces":[{"id":"block","count":2,"plans":[{"id":"seamed","minutes":30,"yields":[{"product":"steak",
		"g":5000},{"product":"braise","g":5000}]},{"id":"straight","minutes":10,"yields":[{"product":"braise",
		"g":10000}]}]}],"products":[{"id":"steak","price":"20","cap_g":5000,"fallback":"8"},{"id":"braise","price":"9"}],
		"minutes":60,"worths":true}`
	r.ok("POST", base+"/calc/best-use", pencil, &c)
	if c.Value != "235.00" || len(c.Choices) != 2 || !c.Proven || from(c.HourWorth) != "0.00" ||
		(*c.DemandWorth)[0].PerKg != "7.00" {
		t.Errorf("%+v", c)
	}
	if p := r.fails("POST", base+"/calc/best-use",
		strings.Replace(pencil, `"price":"9"`, `"price":"9","order_g":99000`, 1)); !has(p, "products[1].order_g",
		"infeasible") {
		t.Errorf("%+v", p)
	}
}

// A report is one page, a workbook and JSON that say the same; a link shows it to whoever has it until it ends.
func TestReportsAndLinks(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.cutHand(r.onBench("RE-1", "seamed"))
	ask := map[string]any{"kind": "comparison",
		"comparison": map[string]any{"alternatives": []map[string]any{{"kind": "plan", "atlas_id": "beef.top_sirloin",
			"plan_id": "traditional"}, {"kind": "piece", "breakdown_id": b.Id}}}}
	for _, kind := range []map[string]any{ask, {"kind": "carcass", "carcass_id": "beef.side"},
		{"kind": "carcass", "carcass_id": "lamb.whole", "carcass": map[string]any{"heads": 30}}} {
		status, header, raw := r.do("POST", base+"/reports?format=pdf", kind)
		if pages := bytes.Count(raw, []byte("/Type /Page\n")); status != 200 ||
			header.Get("Content-Type") != "application/pdf" || !bytes.HasPrefix(raw, []byte("%PDF")) || pages != 1 {
			t.Errorf("%v: %d %s, %d pages", kind["kind"], status, header.Get("Content-Type"), pages)
		}
	}
	_, _, raw := r.do("POST", base+"/reports?format=xlsx", ask)
	rows, err := tabular.Read(t.Context(), bytes.NewReader(raw), tabular.Usual)
	if err != nil || !strings.Contains(fmt.Sprint(rows), "RE-1 / 1 (") {
		t.Errorf("%v %v", rows, err)
	}
	_, _, raw = r.do("POST", base+"/reports?format=json", ask)
	var whole struct {
		Report     contract.Report
		Comparison contract.Desk
	}
	if err := json.Unmarshal(raw, &whole); err != nil || whole.Report.Sentence != whole.Comparison.Pairs[0].Sentence ||
		len(whole.Report.Bars) == 0 {
		t.Errorf("%v: %.300s", err, raw)
	}
	for field, body := range map[string]map[string]any{"comparison": {"kind": "comparison"}, "trial_id": {"kind": "trial"},
		"carcass_id": {"kind": "carcass"}} {
		if p := r.fails("POST", base+"/reports?format=pdf", body); !has(p, field, "required") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	if p := r.fails("POST", base+"/reports?format=docx", ask); !has(p, "format", "") {
		t.Errorf("%+v", p)
	}
	var shared contract.ShareLink
	r.ok("POST", base+"/shares", map[string]any{"report": ask, "days": 7}, &shared)
	at := strings.TrimPrefix(shared.Link[strings.Index(shared.Link, "/shared/"):], "/shared/")
	r.signIn("")
	var seen contract.Report
	r.ok("GET", base+"/shared/"+at, nil, &seen)
	if seen.Sentence != whole.Report.Sentence || seen.ExpiresAt == nil || !seen.ExpiresAt.Equal(today.AddDate(0, 0, 7)) {
		t.Errorf("%+v", seen)
	}
	if p := r.fails("GET", base+"/shared/fr_somethingelse", nil); p.Status != 404 {
		t.Errorf("%+v", p)
	}
	if _, _, err := r.work.At(func() time.Time { return today.AddDate(0, 0, 8) }).Compare.Shared(t.Context(),
		at); err == nil {
		t.Error("it is shown after its end")
	}
	r.signIn("cutter")
	if p := r.fails("DELETE", base+"/shares/"+shared.Share.Id, nil); p.Status != http.StatusForbidden {
		t.Errorf("a cutter ends a share: %d", p.Status)
	}
	r.signIn("owner")
	r.ok("DELETE", base+"/shares/"+shared.Share.Id, nil, nil)
	if p := r.fails("GET", base+"/shared/"+at, nil); p.Status != 404 {
		t.Errorf("ended: %+v", p)
	}
	var list []contract.Share
	if r.ok("GET", base+"/shares", nil, &list); len(list) != 1 || list[0].State != "ended" {
		t.Errorf("%+v", list)
	}
	if p := r.fails("POST", base+"/shares", map[string]any{"report": ask, "days": 900}); !has(p, "days", "") {
		t.Errorf("%+v", p)
	}
	var none compare.ReportAsk
	if _, _, err := r.work.Compare.Report(asRole(t, r.work, "owner"), none); err == nil {
		t.Error("a report of nothing")
	}
}
