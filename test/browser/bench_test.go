package browser

import (
	"fmt"
	"strings"
	"testing"
)

// A muscle is dressed and portioned in a balance of its own; a weight on the wrong muscle is moved, another is weighed
// again; a piece that was finished by mistake is opened again with a reason; the log goes through all of it, event by
// event. By keyboard where a cutter has one hand, by touch where the screen asks for a choice.
func TestDressMoveAndReopen(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("D-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1280, 900)
	s.says("Before the first cut")
	s.choose("input[value=blood_shot]")
	s.says("Never grind it")
	s.enter()
	s.until("what was found stands",
		"document.querySelector('[data-test=plate]').innerText.includes('The whole piece') && "+
			"document.body.innerText.includes('Cut wide of it')")
	s.weigh("6600", "6.600")
	s.weigh("180", "6.420")  // wedge of fat
	s.weigh("1000", "5.420") // tri-tip
	s.weigh("160", "5.260")  // mouse
	s.weigh("960", "4.300")  // cap
	s.press('o')             // opens the cap
	s.says("Rump cap, 0.960 kg")
	s.choose("[data-test=portion-it]") // where to cut it, for the weight that it has
	s.until("its portions are laid",
		"document.querySelector('[data-test=portions] strong')?.innerText.includes('4 portions of 0.22')")
	s.choose("[data-test=portion-it]")
	s.until("they are put away", "!document.querySelector('[data-test=portions]')")
	s.choose("[data-inside='product:cap_steak']")
	s.touch("4")
	s.typed("860")
	s.enter()
	s.until("0.100 kg left", "document.querySelector('[data-test=inside-left]').innerText.startsWith('0.100')")
	s.says("× 4")
	s.typed("60")
	s.press('t') // lean trim of the cap
	s.until("0.040 kg left", "document.querySelector('[data-test=inside-left]').innerText.startsWith('0.040')")
	s.choose("[data-inside='waste:silver']")
	s.typed("30")
	s.enter()
	s.until("0.010 kg left", "document.querySelector('[data-test=inside-left]').innerText.startsWith('0.010')")
	s.choose("[data-test=inside-done]")
	s.until("back at the piece", "!document.querySelector('[data-test=inside]')")
	s.residual("4.300")

	s.weigh("2400", "1.900") // the heart, booked as the sirloin fillet that was next
	s.press('l')
	s.says("What was weighed")
	s.until("it can be moved",
		"(() => { const r = document.querySelector('[data-row=heart_side]'); const m = "+
			"[...r.querySelectorAll('button')].find(b => b.innerText === 'Move'); m.click(); return true })()")
	s.choose("[data-move=heart_main]")
	s.until("the fillet is next again",
		`document.querySelector('[data-key="muscle:heart_side"]').classList.contains('picked')`)
	s.weigh("990", "0.910")
	s.press('l')
	s.until("the fillet can be weighed again",
		"(() => { const r = document.querySelector('[data-row=heart_side]'); [...r.querySelectorAll('button')].find(b => "+
			"b.innerText === 'Weigh again').click(); return true })()")
	s.says("Sirloin fillet, again")
	s.typed("900")
	s.enter()
	s.residual("1.000")
	s.weigh("600", "0.400")
	s.weigh("150", "0.250") // gristle or trim, whichever is next
	s.weigh("200", "0.050")
	s.tabTo("[data-act=e]")
	s.enter()
	s.says("It balances")
	s.tabTo("[data-test=close]")
	s.enter()
	s.says("within the limit")
	s.touch("Open it again")
	s.put("#reopen-reason", "scraps on the other board")
	s.enter()
	s.until("it is open again", "document.querySelector('[data-test=plate]')?.innerText.includes('Everything is weighed')")
	s.residual("0.050")
	s.typed("20")
	s.press('t')
	s.residual("0.030")

	s = a.show(b, "/log", 1280, 900)
	s.put("#text", "D-1")
	s.until("it alone is found", "document.querySelectorAll('tbody tr').length === 1")
	s.touch("Top sirloin, boneless")
	s.says("event by event")
	s.says("moved a weight")
	s.says("opened it again “scraps on the other board”")
	s.eval("(() => { const r = document.querySelector('#slider'); r.value = '3'; r.dispatchEvent(new Event('input', " +
		"{bubbles: true})) })()")
	s.says("After 3 of")
	s.says("0.180 kg weighed off, 6.420 kg unaccounted for")
}

// Two screens on one board: what one books the other shows, without a touch.
func TestTwoScreensOnOneBoard(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("T-1", "North")
	b, _ := open(t, "")
	one := a.show(b, "/bench/"+id, 1280, 800)
	one.lookedOver()
	other := a.show(b, "/bench/"+id, 1024, 768)
	other.says("Before the first cut")
	one.MustActivate()
	one.weigh("6600", "6.600")
	one.weigh("1000", "5.600")
	other.residual("5.600")
	other.MustActivate()
	other.weigh("160", "5.440")
	one.residual("5.440")
}

// A bench that was opened once opens again without a network: the page, the board and what waits are there; when the
// network is back everything arrives once.
func TestABenchOpensWithoutANetwork(t *testing.T) {
	data := t.TempDir()
	a := start(t, data, "127.0.0.1:0")
	addr := strings.TrimPrefix(a.url, "http://")
	id := a.planned("O-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1280, 800)
	s.lookedOver()
	s.weigh("6600", "6.600")
	s.weigh("1000", "5.600")
	s.until("the app's files are kept",
		"(window.kept ??= Promise.all([caches.open('falda-shell').then(c => c.match('/')), "+
			"caches.open('falda-answers').then(c => c.match('/api/v1/shop'))]).then(all => { if (all.every(Boolean)) "+
			"window.ready = true; else window.kept = undefined }), window.ready && navigator.serviceWorker.controller)")
	a.kill()
	a.waitForDatabase()
	s.MustReload()
	s.says("No connection.")
	s.residual("5.600")
	s.weigh("160", "5.440")
	s.MustReload()
	s.says("1 weighing waits here, safe")
	s.residual("5.440")
	s.touch("Tub")
	s.touch("Zero")
	s.says("The network or the program is away")
	s.weigh("960", "4.480")
	s.press('u') // what waits is taken back before what is confirmed
	s.residual("5.440")
	s.weigh("960", "4.480")
	a = start(t, data, addr)
	s.until("everything is through",
		"document.querySelector('.bench').dataset.waiting === '0' && !document.querySelector('.away')")
	s.residual("4.480")
	s.until("nothing is said of the network any more",
		"!document.body.innerText.includes('The network or the program is away')")
	var board struct{ Booked int }
	a.api("GET", "/breakdowns/"+id, nil, &board)
	if board.Booked != 7 {
		t.Errorf("%d events, want each of seven once", board.Booked)
	}
}

// A tub is remembered by its name and taken off what the scale shows; a weight that is held can come off the scale
// before it is booked.
func TestTubsAndHold(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("T-2", "North")
	scale := "/benches/" + a.bench("North") + "/scale/command"
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1280, 800)
	s.lookedOver()
	s.weigh("6600", "6.600")
	lay := func(g int, shown string) {
		t.Helper()
		a.api("POST", scale, map[string]any{"command": "put", "g": g}, nil)
		// a pan that swings passes its weight
		s.until(shown+" is shown",
			fmt.Sprintf("document.querySelector('[data-test=live]')?.innerText === %q && document.querySelector('.plate "+
				".state').innerText === 'stable'", shown))
	}
	lay(850, "0.850")
	s.touch("Tub")
	s.says("Which tub is on the scale?")
	s.put("[data-test=tubs] input", "grey tub")
	s.enter()
	s.choose("[data-tub='grey tub']")
	s.says("grey tub, tare 0.850")
	lay(1850, "1.000")
	s.press('h')
	s.says("Weight held; take it off the scale")
	a.api("POST", scale, map[string]any{"command": "take"}, nil)
	s.enter()
	s.residual("5.600")
	var log []struct {
		Event struct {
			NetG  float64 `json:"net_g"`
			TareG float64 `json:"tare_g"`
		}
	}
	a.api("GET", "/breakdowns/"+id+"/events", nil, &log)
	if last := log[len(log)-1].Event; last.NetG != 1000 || last.TareG != 850 {
		t.Errorf("booked: %+v", last)
	}
	s.MustReload()
	s.touch("Tub")
	s.until("the screen remembers it", "document.querySelector(\"[data-tub='grey tub']\")")
}
