package browser

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
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

// A plan is written step by step: a muscle touched on the map leaves with the step or stays, a new product is named, a
// step is added, taken back and moved; it is valued while it is written, kept, changed, sent to another shop as a file
// and brought in from one.
func TestAPlanStepByStep(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/plans/beef.top_sirloin/new/steps?from=cap_then_heart", 1280, 900)
	s.says("are left after packaging and")
	before := s.text("[data-test=state]")
	s.choose("[data-step=mouse] button")
	s.until("the mouse leaves with it", "document.querySelector('.area[data-part=mouse].next')")
	s.choose(".area[data-part=mouse]")
	s.says("1 of 11 steps cannot be done as they stand.")
	s.until("it is said where", "document.querySelector('[data-step=mouse] [role=alert]').innerText.includes('comes off')")
	s.choose(".area[data-part=mouse]")
	s.says("are left after packaging and")
	s.put("#adding", "Mouse steak")
	s.enter()
	s.choosing("What it becomes, 1", "product:mouse_steak")
	s.until("it sells for more or less", fmt.Sprintf("document.querySelector('[data-test=state]').innerText !== %q && "+
		"document.querySelector('[data-product=\"Mouse steak\"]').innerText.includes('0.1')", before))

	steps := "[...document.querySelectorAll('[data-step]')].map(e => e.dataset.step).join()"
	was := s.eval(steps)
	s.choose("[data-test=add-step]")
	s.says("1 of 12 steps cannot be done as they stand.")
	s.choosing("What is done", "season")
	s.says("are left after packaging and")
	s.choose("[data-test=undo]")
	s.choose("[data-test=undo]")
	s.until("the step is gone again", steps+" === '"+was+"'")
	s.choose("[data-step=mouse] button")
	s.touch("Earlier")
	s.until("the mouse comes earlier", steps+".startsWith('wedge,tri_tip,mouse,tri_tip_skin')")

	s.put("#name", "Mouse sold by itself")
	s.enter()
	s.says("Our own ways")
	s.choose("[data-own='Mouse sold by itself'] a")
	s.says("Version 2 of Mouse sold by itself")
	s.choose("[data-step=cap_steaks] button")
	s.put("[aria-label='Thick, at least']", "42")
	s.until("the step says so", "document.querySelector('[data-step=cap_steaks]').innerText.includes('at 42 mm')")
	s.tabTo("form[aria-label='A plan in steps'] [type=submit]")
	s.enter()
	s.says("version 2, ")

	got, err := s.Eval("() => fetch(document.querySelector(\"[data-own='Mouse sold by itself'] a[download]\").href)" +
		".then(r => r.text())")
	if err != nil {
		t.Fatal(err)
	}
	file := got.Value.Str()
	path := filepath.Join(t.TempDir(), "theirs.plan.yaml")
	for _, theirs := range []string{strings.Replace(file, "Mouse sold by itself", "Their mouse", 1), "no: plan"} {
		if err := os.WriteFile(path, []byte(theirs), 0o600); err != nil {
			t.Fatal(err)
		}
		s = a.show(b, "/plans/beef.top_sirloin", 1280, 900)
		s.until("a file can be chosen", "document.querySelector('[data-test=plan-file] input[type=file]')")
		s.MustElement("[data-test=plan-file] input[type=file]").MustSetFiles(path)
		if theirs == "no: plan" {
			s.until("it is refused", "document.querySelector('[data-test=plan-file] [role=alert]')?.innerText.length > 10")
			continue
		}
		s.says("theirs.plan.yaml: Their mouse")
		s.choose("[data-test=keep-plan]")
		s.says("“Their mouse” is one of the shop's own ways now.")
	}
}
