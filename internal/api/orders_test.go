package api

import (
	"bytes"
	"encoding/csv"
	"math"
	"strconv"
	"strings"
	"testing"

	ics "github.com/arran4/golang-ical"

	"falda/internal/api/contract"
	"falda/internal/store"
)

func newOrder(customer string, more map[string]any) map[string]any {
	out := map[string]any{"id": store.NewID(), "customer": customer, "day": "2026-03-21", "time": "11:00"}
	for k, v := range more {
		out[k] = v
	}
	return out
}

func wants(key, weight string, more map[string]any) map[string]any {
	out := map[string]any{"product_key": key, "weight": weight, "unit": "kg"}
	for k, v := range more {
		out[k] = v
	}
	return out
}

// tubOf gives the one tub of a product.
func (r *rig) tubOf(key string) contract.Tub {
	r.t.Helper()
	for _, t := range r.tubs() {
		if t.Key == key {
			return t
		}
	}
	r.t.Fatalf("no tub of %s", key)
	return contract.Tub{}
}

// What is packed for an order leaves the tub once, however often it is sent; taken back it lies there again. What is
// paid is what was weighed, at the agreed price or the list's.
func TestOrderIsPackedFromStock(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.freshCut("ORDER-1")
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	var steak contract.Tub
	for _, x := range r.tubs() {
		if x.Kind == "product" && x.LeftG > steak.LeftG {
			steak = x
		}
	}
	var o contract.Order
	in := newOrder("The galley", map[string]any{"lines": []any{wants(steak.Key, "0.5", map[string]any{"packs": 2,
		"price": "20.10", "note": "thick"}), wants("beef.mince_trim", "0.2", nil)}})
	r.ok("POST", base+"/orders", in, &o)
	r.ok("POST", base+"/orders", in, &o)
	var list contract.OrderList
	if r.ok("GET", base+"/orders", nil, &list); len(list.Orders) != 1 || o.Number != "O-2612-01" {
		t.Fatalf("sent twice there are %d orders, the first is %s", len(list.Orders), o.Number)
	}
	if l := o.Lines[0]; l.WeightG != 1000 || from(l.Amount) != "20.10" || !l.Agreed || l.Complete {
		t.Errorf("two packs of half a kilo at 20.10: %+v", l)
	}
	pack := map[string]any{"id": store.NewID(), "line": 0, "tub": steak.Id, "weight": "0.973", "unit": "kg", "count": 2}
	at := base + "/orders/" + o.Id
	r.ok("POST", at+"/packs", pack, nil)
	r.ok("POST", at+"/packs", pack, &o)
	// 0.973 × 20.10 = 19.5573
	if l := o.Lines[0]; l.PackedG != 973 || from(l.Amount) != "19.56" || !l.Complete || l.PacksMade != 2 {
		t.Errorf("packed: %+v", l)
	}
	if left := r.tubOf(steak.Key).LeftG; math.Abs(left-(steak.LeftG-973)) > 0.001 {
		t.Errorf("%.1f g are left of %.1f", left, steak.LeftG)
	}
	if o.Ready {
		t.Error("ready, and the mince is not packed")
	}
	// the slip says what was weighed
	_, _, raw := r.do("GET", at+"/slip?format=csv", nil)
	rows, err := csv.NewReader(bytes.NewReader(raw)).ReadAll()
	if err != nil || len(rows) != 3 || rows[1][9] != "0.973" || rows[1][12] != "19.56" {
		t.Errorf("the slip: %v, %v", rows, err)
	}
	// what is packed cannot be cancelled, and its line cannot become another product
	if p := r.fails("PUT", at+"/state", map[string]any{"state": "cancelled", "version": o.Version}); p.Status != 409 {
		t.Errorf("cancelled with packs: %+v", p)
	}
	change := newOrder("The galley",
		map[string]any{"version": o.Version, "lines": []any{wants("beef.mince_trim", "1", nil)}})
	if p := r.fails("PUT", at, change); p.Status != 409 || !has(p, "lines[0]", "packed") {
		t.Errorf("a packed line changed: %+v", p)
	}
	undo := map[string]string{"id": store.NewID()}
	r.ok("PUT", at+"/packs/"+pack["id"].(string)+"/undo", undo, nil)
	r.ok("PUT", at+"/packs/"+pack["id"].(string)+"/undo", undo, &o)
	if left := r.tubOf(steak.Key).LeftG; o.PackedG != 0 || math.Abs(left-steak.LeftG) > 0.001 {
		t.Errorf("taken back: %.1f g packed, %.1f in the tub", o.PackedG, left)
	}
	// handed over it stands still
	pack["id"] = store.NewID()
	r.ok("POST", at+"/packs", pack, &o)
	r.ok("PUT", at+"/state", map[string]any{"state": "gone", "version": o.Version}, &o)
	pack["id"] = store.NewID()
	if p := r.fails("POST", at+"/packs", pack); p.Status != 409 {
		t.Errorf("packed after it was handed over: %+v", p)
	}
	if r.ok("GET", base+"/orders?ended=true", nil, &list); len(list.Orders) != 1 || list.Orders[0].State != "gone" {
		t.Errorf("ended: %+v", list)
	}
}

// Each field of an order is held, and the fault names it.
func TestOrderFaults(t *testing.T) {
	r := newRig(t)
	for field, in := range map[string]map[string]any{
		"customer":             newOrder("", map[string]any{"lines": []any{wants("beef.mince_trim", "1", nil)}}),
		"lines":                newOrder("x", nil),
		"day":                  newOrder("x", map[string]any{"day": "tomorrow"}),
		"time":                 newOrder("x", map[string]any{"time": "noon"}),
		"lines[0].product_key": newOrder("x", map[string]any{"lines": []any{wants("beef.unicorn", "1", nil)}}),
		"lines[0].weight":      newOrder("x", map[string]any{"lines": []any{wants("beef.mince_trim", "0", nil)}}),
		"lines[0].packs": newOrder("x",
			map[string]any{"lines": []any{wants("beef.mince_trim", "1", map[string]any{"packs": -1})}}),
		"lines[0].price": newOrder("x",
			map[string]any{"lines": []any{wants("beef.mince_trim", "1", map[string]any{"price": "x"})}}),
		"whole.price_per_kg": newOrder("x", map[string]any{"whole": lamb(map[string]any{"price_per_kg": "-1"})}),
		"whole.cuts[0].plan_id": newOrder("x", map[string]any{"whole": lamb(map[string]any{"cuts": []any{
			map[string]any{"piece": "lamb.leg_chump", "plan_id": "nothing", "count": 1}}})}),
	} {
		if p := r.fails("POST", base+"/orders", in); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
}

func lamb(more map[string]any) map[string]any {
	out := map[string]any{"carcass": "lamb.whole", "weight": "18.4", "unit": "kg", "price_per_kg": "9.50"}
	for k, v := range more {
		out[k] = v
	}
	return out
}

// A whole lamb costs its weight at one price; cut one by one it costs its products at the list's. What is said of its
// pieces adds up, and what is ordered weighs no more than the lamb.
func TestWholeLamb(t *testing.T) {
	r := newRig(t)
	r.priced()
	var v contract.WholeView
	r.ok("POST", base+"/orders/whole", lamb(nil), &v)
	if v.Price != "174.80" { // 18.4 × 9.50
		t.Errorf("the whole costs %s", v.Price)
	}
	sum, sales := 0.0, 0.0
	for _, c := range v.Cuts {
		n, _ := strconv.ParseFloat(c.Sales, 64)
		sales += n
		for _, p := range c.Products {
			sum += p.WeightG
		}
	}
	if one, _ := strconv.ParseFloat(v.OneByOne, 64); math.Abs(one-sales) > 0.005 || sum <= 0 || sum > 18_400 {
		t.Errorf("one by one %s, its cuts %.2f; %.0f g of products", v.OneByOne, sales, sum)
	}
	var legs contract.WholeCutView
	for _, c := range v.Cuts {
		if c.Count == 2 && len(c.Plans) > 1 && legs.Piece == "" {
			legs = c
		}
	}
	other := legs.Plans[0].Id
	if other == legs.PlanId {
		other = legs.Plans[1].Id
	}
	cut := map[string]any{"piece": legs.Piece, "plan_id": other, "count": 1, "pieces": 4, "note": "no bone"}
	r.ok("POST", base+"/orders/whole", lamb(map[string]any{"cuts": []any{cut}}), &v)
	ways := map[string]int{}
	for _, c := range v.Cuts {
		if c.Piece == legs.Piece {
			ways[c.PlanId] += c.Count
		}
	}
	if ways[other] != 1 || ways[legs.PlanId] != 1 {
		t.Errorf("one of two cut otherwise: %v", ways)
	}
	cut["count"] = 3
	if p := r.fails("POST", base+"/orders/whole", lamb(map[string]any{"cuts": []any{cut}})); !has(p, "cuts[0].count", "") {
		t.Errorf("three of two: %+v", p)
	}
	cut["count"] = 1
	var o contract.Order
	r.ok("POST", base+"/orders",
		newOrder("A household", map[string]any{"whole": lamb(map[string]any{"cuts": []any{cut}})}), &o)
	if o.Whole == nil || o.Total != "174.80" || len(o.Lines) < 3 {
		t.Fatalf("ordered: %+v", o)
	}
	_, _, sheet := r.do("GET", base+"/orders/"+o.Id+"/sheet.pdf", nil)
	if !bytes.HasPrefix(sheet, []byte("%PDF")) {
		t.Error("the cutting sheet is no PDF")
	}
	_, _, raw := r.do("GET", base+"/orders.ics", nil)
	cal, err := ics.ParseCalendar(strings.NewReader(string(raw)))
	if err != nil || len(cal.Events()) != 1 {
		t.Fatalf("the calendar: %v", err)
	}
	if at, err := cal.Events()[0].GetStartAt(); err != nil || !at.Equal(o.DueAt) {
		t.Errorf("due at %v in the calendar, %v in the order", at, o.DueAt)
	}
}

// Open orders bind the best use: what they want beyond what lies in stock must be cut, and what nothing becomes is
// told.
func TestOpenOrdersBindBestUse(t *testing.T) {
	r := newRig(t)
	r.priced()
	in := arrival("BIND-1")
	var l contract.Lot
	r.ok("POST", base+"/lots", in, &l)
	var free contract.BestUseView
	r.ok("POST", base+"/best-use", map[string]any{}, &free)
	made := map[string]float64{}
	for _, s := range free.Sales {
		made[s.Key] = s.WeightG
	}
	// a product of another plan than the best one
	var key string
	piece, _ := r.work.Atlas().Find("beef.top_sirloin")
	for _, pl := range piece.Plans {
		if pl.ID != free.Pieces[0].PlanId && pl.ID == "traditional" {
			for _, pr := range pl.Products {
				if made[piece.Key(pr)] == 0 && !pr.ByProduct() {
					key = piece.Key(pr)
				}
			}
		}
	}
	r.ok("POST", base+"/orders", newOrder("The galley", map[string]any{"lines": []any{wants(key, "0.5", nil),
		wants("lamb.leg_roast", "1", nil)}}), nil)
	var bound contract.BestUseView
	r.ok("POST", base+"/best-use", map[string]any{"open_orders": true}, &bound)
	got := 0.0
	for _, s := range bound.Sales {
		if s.Key == key {
			got = s.WeightG
		}
	}
	if got < 500 {
		t.Errorf("0.5 kg of %s are ordered, %.0f g are cut", key, got)
	}
	if !strings.Contains(strings.Join(bound.Notes, " "), "no piece that is ready becomes it") {
		t.Errorf("nothing is said of the lamb: %v", bound.Notes)
	}
	free1, _ := strconv.ParseFloat(free.Value, 64)
	bound1, _ := strconv.ParseFloat(bound.Value, 64)
	if bound1 > free1 {
		t.Errorf("bound it brings %s, free %s", bound.Value, free.Value)
	}
	var needs []contract.OrderNeed
	if r.ok("GET", base+"/orders/needs", nil, &needs); len(needs) != 2 || needs[0].ToCutG+needs[1].ToCutG != 1500 {
		t.Errorf("needs: %+v", needs)
	}
}

// An order that lies in stock need not be cut; of two orders the one that is due first takes it.
func TestStockServesTheFirstOrder(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.freshCut("NEED-1")
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	tub := r.tubOf("beef.mince_trim")
	kg := strconv.FormatFloat(tub.LeftG/1000, 'f', 6, 64)
	r.ok("POST", base+"/orders", newOrder("Later", map[string]any{"day": "2026-03-25",
		"lines": []any{wants("beef.mince_trim", "2", nil)}}), nil)
	r.ok("POST", base+"/orders", newOrder("Sooner", map[string]any{"lines": []any{wants("beef.mince_trim", kg, nil)}}),
		nil)
	var needs []contract.OrderNeed
	r.ok("GET", base+"/orders/needs", nil, &needs)
	if n := needs[0]; len(needs) != 1 || math.Abs(n.InStockG-tub.LeftG) > 0.001 || math.Abs(n.ToCutG-2000) > 0.001 ||
		n.First.Day() != 25 {
		t.Errorf("needs: %+v of a tub of %.1f g", needs, tub.LeftG)
	}
	if r.ok("GET", base+"/orders/needs?days=2", nil, &needs); len(needs) != 1 || needs[0].ToCutG != 0 {
		t.Errorf("within two days: %+v", needs)
	}
}

// A piece is cut for one open order; one of an order that has ended is free again.
func TestPieceOfAnOrder(t *testing.T) {
	r := newRig(t)
	piece := r.planned("PIECE-1", 1, "seamed")[0]
	take := func(who string) (o contract.Order) {
		r.ok("POST", base+"/orders", newOrder(who, map[string]any{"lines": []any{wants("beef.mince_trim", "1", nil)}}), &o)
		return o
	}
	one, two := take("One"), take("Two")
	set := map[string]any{"pieces": []string{piece}}
	r.ok("PUT", base+"/orders/"+one.Id+"/pieces", set, &one)
	if len(one.Pieces) != 1 || one.Pieces[0].State != "waits" {
		t.Fatalf("cut for one: %+v", one.Pieces)
	}
	if p := r.fails("PUT", base+"/orders/"+two.Id+"/pieces", set); p.Status != 409 || !has(p, "pieces", "taken") {
		t.Errorf("cut for two: %+v", p)
	}
	r.ok("PUT", base+"/orders/"+one.Id+"/state", map[string]any{"state": "cancelled", "version": one.Version}, nil)
	r.ok("PUT", base+"/orders/"+two.Id+"/pieces", set, &two)
	if len(two.Pieces) != 1 {
		t.Errorf("once the first was cancelled: %+v", two.Pieces)
	}
}
