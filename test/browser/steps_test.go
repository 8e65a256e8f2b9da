package browser

import (
	"strings"
	"testing"
)

// A stuffed cushion from the plan to the answer, by keyboard alone: the bench asks for what leaves and what is added,
// says the steps between, and takes the tubs when it suits; the answer has each product with the weight that was
// booked, and what was added paid for.
func TestAStuffedCushion(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	var lot struct {
		Pieces []string `json:"piece_ids"`
	}
	a.api("POST", "/lots", map[string]any{"atlas_id": "lamb.shoulder_whole", "pieces": 1, "weight": "2.3",
		"weight_unit": "kg", "price": "9.40", "price_per": "kg", "slaughtered_on": a.day(9), "packed_on": a.day(8),
		"supplier": "A croft", "lot_number": "CU-1", "findings": []string{}}, &lot)
	b, _ := open(t, "")
	s := a.show(b, "/plan/"+lot.Pieces[0], 1280, 900)
	s.until("the cushion is there", "document.querySelector('[data-plan=cushion] button')")
	s.choose("[data-plan=cushion] button")
	s.says("Within this plan")
	s.says("Who fills it")
	s.eval("[...document.querySelectorAll('summary')].find((x) => x.innerText.includes('step by step')).click()")
	s.says("Bone out the blade bone")
	s.says("brings cereals with gluten")
	s.touch("North")
	plate := func(name string) {
		t.Helper()
		s.until("the plate asks for "+name,
			"document.querySelector('[data-test=plate]').innerText.includes('"+name+"')")
	}
	next := func(key string) {
		t.Helper()
		s.until(key+" is next", `document.querySelector('[data-key="`+key+`"]').classList.contains('picked')`)
	}
	s.says("Before the first cut")
	s.enter()
	plate("The whole piece")
	s.weigh("2310", "2.310")
	s.says("inner side up, fat on the board")
	plate("Neck fillet")
	s.weigh("250", "2.310") // the block is cut further: it is still on the board
	next("product:neck_fillet_whole@neck_dress")
	s.weigh("195", "2.115") // dressed and sold
	plate("Fore shank")
	s.weigh("230", "2.115")
	next("product:fore_shank@shank_sold")
	s.weigh("230", "1.885")
	plate("Bread and herb stuffing")
	s.says("Take off the gland") // what is done before, and leaves nothing to weigh by itself
	s.says("Bone out the arm bone")
	s.weigh("285", "2.170") // it comes to the board
	plate("cushion")
	s.weigh("1640", "0.530")
	s.weigh("140", "0.390") // the tubs
	s.weigh("95", "0.295")
	s.weigh("200", "0.095")
	s.weigh("75", "0.020")
	s.says("Everything is weighed")
	s.enter()
	s.says("It balances")
	s.tabTo("[data-test=close]")
	s.enter()
	s.says("within the limit")
	id := strings.TrimPrefix(s.eval("location.pathname"), "/bench/")
	s = a.show(b, "/compare/"+id, 1280, 900)
	s.says("1.640")
	s.says("Ingredients")
	s.until("285 g at 6.80 cost 1.94", "document.body.innerText.includes('1.94')")
}
