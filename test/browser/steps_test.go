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
	plate("Fold the inner flap back") // what is done before, and leaves nothing to weigh by itself: Enter ticks it
	s.says("Bone out the arm bone")
	s.enter()
	s.until("it is ticked", "!document.querySelector('[data-test=plate]').innerText.includes('Fold the inner flap back')")
	next("ingredient:stuffing@fill") // the rest was done meanwhile: a weight books what is weighed next
	s.weigh("285", "2.170")          // it comes to the board
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

// The heart-in-one plan is left half way: steps without a weight are ticked by Enter, one is left out and taken back,
// two muscles are touched on the map and booked as one block, and the block becomes what another plan makes of it. The
// answer values what was done.
func TestTheWorkIsDoneOtherwise(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	var lot struct {
		Pieces []string `json:"piece_ids"`
	}
	a.api("POST", "/lots", map[string]any{"atlas_id": "beef.top_sirloin", "pieces": 1, "weight": "6.6",
		"weight_unit": "kg", "price": "11.40", "price_per": "kg", "slaughtered_on": a.day(24), "supplier": "A croft",
		"lot_number": "OW-1", "findings": []string{}}, &lot)
	a.api("PUT", "/pieces/"+lot.Pieces[0]+"/plan", map[string]any{"plan_id": "heart_in_one", "version": 1}, nil)
	var board struct{ ID string }
	a.api("POST", "/pieces/"+lot.Pieces[0]+"/breakdown", map[string]any{"bench_id": a.bench("North")}, &board)
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+board.ID, 1280, 800)
	s.lookedOver()
	plate := func(name string) {
		t.Helper()
		s.until("the plate says "+name, "document.querySelector('[data-test=plate]').innerText.includes('"+name+"')")
	}
	s.weigh("6600", "6.600")
	s.weigh("1000", "6.600") // the tri-tip, a block that is dressed
	plate("Whole tri-tip")
	s.weigh("870", "5.730")
	plate("wedge and seam fat")
	s.says("Nothing to weigh: Enter when it is done.")
	s.enter()
	plate("Dress the piece")
	s.enter()
	plate("mouse")
	s.enter()
	plate("Rump cap with its fat")
	s.says("Then")
	s.choose("[data-test=skip]") // the cap stays on
	s.until("the cap is not asked for", `!document.querySelector('[data-key="block:cap"]')`)
	s.press('u')
	s.until("it is asked for again", `document.querySelector('[data-key="block:cap"]')`)
	// two muscles together, as one block, by the map
	s.typed("3300")
	s.press('c')
	s.says("Several parts left together")
	for _, part := range []string{"heart_main", "heart_side"} {
		s.eval("document.querySelector('.map [data-part=" + part +
			"]').dispatchEvent(new MouseEvent('click', { bubbles: true }))")
	}
	s.until("both are named", "document.querySelector('[data-test=book-block]').innerText.includes('Sirloin fillet with')")
	s.choose("[data-test=book-block]")
	s.says("3.300 kg booked")
	s.until("it is confirmed", "document.querySelector('.bench').dataset.waiting === '0'")
	s.typed("3100")
	s.press('c')
	s.choosing("It came off", "Sirloin fillet with Rump heart")
	s.choosing("Sold as", "heart_joint")
	s.put("[aria-label='How many']", "2")
	s.choose("[data-test=book-product]")
	s.residual("2.630")
	s.weigh("1400", "2.630") // the cap as it comes off
	s.press('e')
	s.says("Finish")
	s.put("#close-reason", "left half way")
	s.enter()
	s.says("Every gram is accounted for")
	s = a.show(b, "/compare/"+board.ID, 1280, 900)
	s.says("Rump heart joint")
	s.until("both joints, by count and weight",
		"[...document.querySelectorAll('tr')].some((r) => r.innerText.includes('Rump heart joint') && "+
			"r.innerText.includes('3.10'))")
}

// A rump is handed from one bench to another half way, with a word for who takes it, and goes on there as it stood.
func TestAPieceIsHandedOver(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("HO-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1280, 800)
	s.lookedOver()
	s.weigh("6600", "6.600")
	s.weigh("180", "6.420")
	s.press('g')
	s.says("Hand it to another bench.")
	s.put("[aria-label='For who takes it']", "wedge off, tri-tip next")
	s.touch("South")
	s.until("it left this screen", "location.pathname === '/'")
	s = a.show(b, "/bench/"+id, 1024, 768)
	s.says("wedge off, tri-tip next")
	s.until("it is on the other bench", "document.querySelector('.bench').innerText.includes('South')")
	s.residual("6.420")
	s.until("the clock stands", "document.querySelector('.bench').innerText.includes('paused')")
	s.press('p')
	s.weigh("1000", "5.420")
}

// A standing roast that nobody bought is cut again: it hangs on the rail as a piece of its own, with its weight.
func TestARoastIsCutAgain(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	var lot struct {
		Pieces []string `json:"piece_ids"`
	}
	a.api("POST", "/lots", map[string]any{"atlas_id": "beef.rib", "form": "three_chuck", "pieces": 1, "weight": "4.1",
		"weight_unit": "kg", "price": "15", "price_per": "kg", "slaughtered_on": a.day(25), "supplier": "A croft",
		"lot_number": "AG-1", "findings": []string{}}, &lot)
	a.api("PUT", "/pieces/"+lot.Pieces[0]+"/plan", map[string]any{"plan_id": "standing_roast", "version": 1}, nil)
	var board struct{ ID string }
	a.api("POST", "/pieces/"+lot.Pieces[0]+"/breakdown", map[string]any{"bench_id": a.bench("North")}, &board)
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+board.ID, 1280, 800)
	s.lookedOver()
	s.weigh("4100", "4.100")
	s.followThePlate()
	s.enter()
	s.says("It balances")
	s.tabTo("[data-test=close]")
	s.enter()
	s.says("within the limit")
	s.choose("[data-test=again]")
	s.until("it is planned like any other piece", "location.pathname.startsWith('/plan/')")
	s.says("AG-1/R")
	s.says("standing roast opened again")
}
