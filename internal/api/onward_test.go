package api

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// The blocks of a large piece hang on the rail when it is closed: a lot of each, with its weight, its origin, and its
// share of the cost by what each product brings; what they are worth on the large piece is what they bring cut the
// traditional way, less labour, packaging and discard.
func TestBlocksGoOnAsPieces(t *testing.T) {
	r := newRig(t)
	var list contract.PriceBook
	r.ok("GET", base+"/price-book", nil, &list)
	for i, row := range list.Rows {
		price := fmt.Sprintf("%d.00", 12+i%9)
		if row.Product.Kind != "meat" {
			price = "0.80"
		}
		if strings.HasPrefix(row.Product.Key, "beef.") {
			r.ok("PUT", "/api/v1/prices/"+row.Product.Key, map[string]any{"price": price, "per": "kg", "version": 0}, nil)
		}
		if strings.HasPrefix(row.Product.Key, "beef.beef.") {
			t.Errorf("%s stands in the price list", row.Product.Key)
		}
	}
	lot := arrival("BIG-1")
	lot["atlas_id"], lot["weight"], lot["price"] = "beef.loin_bone_in", "30", "9.00"
	var l contract.Lot
	r.ok("POST", "/api/v1/lots", lot, &l)
	r.ok("PUT", "/api/v1/pieces/"+l.PieceIds[0]+"/plan", map[string]any{"plan_id": "traditional", "version": 1}, nil)
	var b contract.Board
	r.ok("POST", "/api/v1/pieces/"+l.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 30_000}))
	at := 1
	for b.Next != nil {
		i := slices.IndexFunc(b.Expected, func(e contract.Expected) bool { return e.Key == *b.Next })
		e := b.Expected[i]
		kind, what := "portioned", map[string]any{"product": e.Id, "net_g": e.ExpectedG}
		if e.Kind == "waste" {
			kind, what = "discarded", map[string]any{"part": e.Id, "net_g": e.ExpectedG}
		}
		b = r.book(b.Id, r.event(kind, at, what))
		at++
	}
	b = r.book(b.Id, r.event("closed", 30, map[string]any{"minutes": 22, "reason": "as found"}))
	var c contract.Comparison
	r.ok("GET", base+"/breakdowns/"+b.Id+"/comparison", nil, &c)
	var of contract.LotDetail
	r.ok("GET", base+"/lots/"+l.Id, nil, &of)
	if len(of.Broken) != 1 || of.Broken[0].AtlasId != "beef.short_loin" || of.Broken[0].Pieces != 1 ||
		math.Abs(of.Broken[0].TotalG-9900) > 0.01 || of.Broken[0].LotNumber != "BIG-1/1" {
		t.Fatalf("what was cut from it: %+v", of.Broken)
	}
	rail := r.queue()
	i := slices.IndexFunc(rail, func(p contract.PieceCard) bool { return p.AtlasId == "beef.short_loin" })
	if i < 0 || rail[i].Supplier != "A croft" || rail[i].WeightG != of.Broken[0].TotalG {
		t.Fatalf("the rail: %+v", rail)
	}
	// what the block brings on the large piece, a kilogram: that of its own forecast at its usual weight
	var f contract.Forecast
	r.ok("POST", "/api/v1/forecast", map[string]any{"atlas_id": "beef.short_loin", "pieces": 1, "weight": "10",
		"weight_unit": "kg", "price": "0.01", "price_per": "kg"}, &f)
	own := 0.0
	for _, p := range f.Plans {
		if p.Plan.Id == "traditional" {
			own = num(t, p.Totals.Value) + num(t, p.Totals.Purchase)
		}
	}
	for _, row := range c.Recorded.Products {
		if row.Id == "beef.short_loin" && math.Abs(num(t, row.Value)-own/10*9.9) > 0.06 {
			t.Errorf("the block brings %s, its own forecast %.2f", row.Value, own/10*9.9)
		}
		if row.Id == "beef.short_loin" && (row.GoesOn == nil || !*row.GoesOn) {
			t.Errorf("it does not go on: %+v", row)
		}
	}
	// the costs of all products are what the piece cost; the block carries its part on
	var cost float64
	for _, row := range c.Costs {
		if row.Id == "beef.beef.short_loin" {
			cost = num(t, row.Cost)
		}
	}
	if per := num(t, of.Broken[0].Price); cost == 0 || math.Abs(per*9.9-cost) > 0.01 {
		t.Errorf("the block costs %.2f on the comparison and %.2f on the rail", cost, per*9.9)
	}
	// what hangs already is not undone by opening the large piece again
	if p := r.fails("POST", "/api/v1/breakdowns/"+b.Id+"/events",
		r.event("reopened", 31, map[string]any{"reason": "a wrong weight"})); p.Status != 409 {
		t.Errorf("reopened: %+v", p)
	}
}

// A piece is handed to another bench half way: its board goes on there with the word for who takes it, the log says who
// did what where, and a finished one stays.
func TestAPieceIsHandedOver(t *testing.T) {
	r := newRig(t)
	b := r.onBench("HO-1", "seamed")
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	b = r.book(b.Id, r.event("trimmed", 1, map[string]any{"part": "wedge_fat", "net_g": 180}))
	r.book(b.Id, r.event("noted", 2, map[string]any{"note": "clean, to be steaked"}))
	second := r.shop.Benches[1]
	at := base + "/breakdowns/" + b.Id + "/bench"
	r.ok("PUT", at, map[string]any{"bench_id": second.Id}, &b)
	if b.Bench.Name != second.Name || len(b.Notes) != 1 || b.Notes[0] != "clean, to be steaked" ||
		b.Balance.OutputG != 180 {
		t.Errorf("on its new bench: %+v, %v", b.Bench, b.Notes)
	}
	e := r.event("seamed_off", 60, map[string]any{"part": "tri_tip", "net_g": 1000})
	e["bench_id"] = second.Id
	if b = r.book(b.Id, e); b.Balance.OutputG != 1180 || b.Bench.Name != second.Name {
		t.Errorf("it goes on: %+v", b.Balance)
	}
	if p := r.fails("PUT", at, map[string]any{"bench_id": second.Id}); p.Status != 409 || !has(p, "bench_id", "same") {
		t.Errorf("to the same bench: %+v", p)
	}
	if p := r.fails("PUT", at, map[string]any{"bench_id": "nowhere"}); !has(p, "bench_id", "unknown") {
		t.Errorf("to no bench: %+v", p)
	}
	found := 0
	for _, row := range r.trail("") {
		if row.Action == "breakdown.handed_over" {
			found++
		}
	}
	if found != 1 {
		t.Errorf("the audit has %d", found)
	}
	r.book(b.Id, r.event("closed", 90, map[string]any{"reason": "left"}))
	if p := r.fails("PUT", at, map[string]any{"bench_id": r.shop.Benches[0].Id}); p.Status != 409 {
		t.Errorf("a finished piece: %+v", p)
	}
}

// byPlan books everything that a board asks for as its plan expects it, and closes.
func (r *rig) byPlan(b contract.Board) contract.Board {
	r.t.Helper()
	for at := 1; b.Next != nil && at < 60; at++ {
		i := slices.IndexFunc(b.Expected, func(e contract.Expected) bool { return e.Key == *b.Next })
		e := b.Expected[i]
		what := map[string]any{"net_g": math.Round(e.ExpectedG)}
		if e.Step != nil {
			what["step"] = *e.Step
		}
		kind := "trimmed"
		switch {
		case e.Block != nil:
			kind, what["block"] = "parted", *e.Block
		case e.Kind == "tub":
			kind, what["part"] = "tubbed", e.Id
		case e.Kind == "product":
			kind, what["product"] = "portioned", e.Id
		case e.Kind == "muscle":
			kind, what["part"] = "seamed_off", e.Id
		case e.Kind == "ingredient":
			kind, what["part"] = "ingredient_added", e.Id
		case e.Kind == "waste":
			kind, what["part"], what["reason"] = "discarded", e.Id, "as usual"
		default:
			what["part"] = e.Id
		}
		b = r.book(b.Id, r.event(kind, at, what))
	}
	return r.book(b.Id, r.event("closed", 90, map[string]any{"reason": "as found"}))
}

// A standing roast that nobody bought hangs on the rail again, once, with its weight and what it cost, and is cut into
// steaks and ribs like any other piece.
func TestAStandingRoastIsCutAgain(t *testing.T) {
	r := newRig(t)
	lot := arrival("RIB-1")
	lot["atlas_id"], lot["weight"], lot["price"], lot["form"] = "beef.rib", "4.1", "15.00", "three_chuck"
	var l contract.Lot
	r.ok("POST", "/api/v1/lots", lot, &l)
	r.ok("PUT", "/api/v1/pieces/"+l.PieceIds[0]+"/plan", map[string]any{"plan_id": "standing_roast", "version": 1}, nil)
	var b contract.Board
	r.ok("POST", "/api/v1/pieces/"+l.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 4100}))
	at := base + "/breakdowns/" + b.Id + "/again"
	b = r.byPlan(b)
	if b.CutAgain == nil || len(*b.CutAgain) != 1 {
		t.Fatalf("what may be cut again: %v", b.CutAgain)
	}
	row := (*b.CutAgain)[0]
	roast := b.Rows[slices.IndexFunc(b.Rows, func(x contract.BoardRow) bool { return x.EventId == row })]
	var hung contract.HungPiece
	r.ok("POST", at, map[string]any{"row": row}, &hung)
	var page contract.PieceDetail
	r.ok("GET", base+"/pieces/"+hung.PieceId, nil, &page)
	if page.Card.WeightG != roast.WeightG || page.Card.AtlasId != "beef.rib" || from(page.Lot.Form) != "opened_roast" ||
		!strings.HasPrefix(page.Lot.LotNumber, "RIB-1/R") || page.Lot.SlaughteredOn != l.SlaughteredOn {
		t.Errorf("it hangs as %+v of %+v", page.Card, page.Lot)
	}
	// what the roast cost with the work on it, less its packaging at 0.12, is what the new piece costs
	var c contract.Comparison
	r.ok("GET", base+"/breakdowns/"+b.Id+"/comparison?method=physical", nil, &c)
	i := slices.IndexFunc(c.Costs, func(x contract.CostRow) bool { return x.Id == "beef.standing_roast" })
	if cost := num(t, page.Lot.Cost); i < 0 ||
		math.Abs(cost-(num(t, c.Costs[i].Cost)-0.12*c.Costs[i].WeightG/1000)) > 0.02 {
		t.Errorf("it cost %.2f, the roast %+v", cost, c.Costs)
	}
	if p := r.fails("POST", at, map[string]any{"row": row}); p.Status != 409 || !has(p, "row", "hangs") {
		t.Errorf("twice: %+v", p)
	}
	if p := r.fails("POST", at, map[string]any{"row": b.Rows[0].EventId}); !has(p, "row", "unknown") {
		t.Errorf("the piece itself: %+v", p)
	}
	r.ok("PUT", "/api/v1/pieces/"+hung.PieceId+"/plan", map[string]any{"plan_id": "boned_out", "version": 1}, nil)
	var again contract.Board
	r.ok("POST", "/api/v1/pieces/"+hung.PieceId+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &again)
	again = r.book(again.Id, r.event("opened", 0, map[string]any{"net_g": roast.WeightG}))
	for _, e := range again.Expected {
		if e.Id == "mince_trim" && e.ExpectedG > 0.1*roast.WeightG {
			t.Errorf("%g g of trim from a roast that was trimmed", e.ExpectedG)
		}
	}
	if again = r.byPlan(again); again.State != "closed" {
		t.Errorf("%s", again.State)
	}
	if p := r.fails("POST", base+"/breakdowns/"+b.Id+"/events",
		r.event("reopened", 95, map[string]any{"reason": "a wrong weight"})); p.Status != 409 {
		t.Errorf("what hangs again was taken back: %+v", p)
	}
}
