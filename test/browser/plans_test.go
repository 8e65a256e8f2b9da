package browser

import (
	"fmt"
	"testing"
)

// Two ways side by side; a choice within one moves the figure; a way of one's own is made by touching a muscle, checked
// while it is typed, kept in versions, and chosen for a piece.
func TestWaysToCut(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/plans/beef.top_sirloin", 1280, 900)
	s.says("Way B would bring")
	before := s.text("[data-test=per-kg]")
	s.choose("[data-way=B] input[name=way-b-cap][value=kebab]")
	s.until("the figure moves", fmt.Sprintf("document.querySelector('[data-test=per-kg]').innerText !== %q", before))
	s.says("Kebab cubes")
	s.tabTo("#way-b-cover")
	s.typed("33")
	s.says("There is only about 10 mm of it")

	s = a.show(b, "/plans/beef.top_sirloin/new?from=seamed", 1280, 900)
	s.says("Everything goes somewhere")
	s.choose("[data-part=mouse]")
	s.put("[aria-label='Percent of Mouse into Mince trim']", "60")
	s.says("Mouse: 40 % of it goes nowhere")
	s.put("[aria-label='Percent of Mouse thrown away']", "40")
	s.says("Everything goes somewhere")
	s.enter() // it has no name yet
	s.says("Is empty. Enter it.")
	s.put("#name", "Harbour way")
	s.enter()
	s.says("Our own ways")
	s.says("Harbour way")
	s.choose("[data-own='Harbour way'] a")
	s.says("Version 2 of Harbour way")
	s.put("#minutes", "21")
	s.enter()
	s.says("version 2, ")

	id := a.received("W-1")
	s = a.show(b, "/plan/"+id, 1280, 900)
	s.says("our own, version 2")
	s.until("it can be chosen",
		"[...document.querySelectorAll('[data-plan]')].find(p => p.innerText.includes('Harbour "+
			"way'))?.querySelector('button')?.click() ?? true")
	s.says("Put it on a bench")
	s.until("its minutes stand in its column",
		"document.querySelector('[data-plan].chosen [data-of=\"Bench time\"]')?.innerText === '21 min'")
	s.until("columns have short names", "[...document.querySelectorAll('[data-plan] h2')].some(h => h.innerText === "+
		"'Heart, medallions, cap')")
	s.choose(".ledgers summary")
	s.says("Labour, 21 minutes")
	s.until("the address says that the lines are open", "location.search === '?ledger=1'")
}
