package browser

import (
	"os"
	"path/filepath"
	"testing"
)

// A cooking card is open to whoever has its address, in °C and °F; a timetable works back from the time of serving; a
// probe's log is read from a file and followed live; a plan says what another week would bring.
func TestCooking(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	phone, _ := open(t, "")
	p := show(t, phone, a.url+"/cook/beef.top_sirloin/tri_tip_whole", 390, 844)
	p.says("Whole tri-tip: 910 g, feeds 2.")
	p.says("Out of the heat at 59 °C") // it opens at the least done that is not below its floor
	p.says("the safe floor is 63 °C")
	p.eval("(() => { const s = document.querySelector('label.ask select'); s.value = 'medium_rare'; s.dispatchEvent(new " +
		"Event('change', { bubbles: true })) })()")
	p.says("Out of the heat at 51 °C")
	p.says("below the safe floor of 63 °C")
	p.says("Slice across the grain.")
	p.put(".ask input", "6")
	p.says("Whole tri-tip: 2.04 kg, feeds 6.")
	p.eval("document.querySelectorAll('.units input')[1].click()")
	p.says("4.50 lb")
	p.says("below the safe floor of 145 °F")
	p.choose(".tick input") // rolled or stuffed: it counts as minced
	p.until("the floor is that of mince",
		"document.querySelector('[data-test=centre]').innerText === '160 °F' && "+
			"document.querySelector('[data-test=floor]').innerText.includes('160 °F')")
	p.choose("details summary")
	p.choose("input[value=mustard]")
	p.says("Contains: mustard.")

	b, _ := open(t, "")
	s := a.show(b, "/cooking", 1280, 900)
	s.choose("[data-cut=tri_tip_whole]")
	s.choose("[data-cut=heart_steak]")
	s.choose("[data-cut=dice]")
	s.until("three dishes are asked for", "document.querySelectorAll('.dish').length === 3")
	s.until("how done is asked of what is grilled and roasted, not of what is stewed",
		"document.querySelectorAll('.dish .pick-one').length === 2 && !document.querySelector('[data-dish=dice] .pick-one')")
	s.choose("[data-dish=dice] .drop")
	s.put("[data-dish=tri_tip_whole] .fields label:nth-child(2) input", "1")
	s.put("#c-day", "2.1.2027")
	s.put("#c-hour", "1900")
	s.choose("[data-test=timetable]")
	// a kilogram, to the floor of 63 °C: 60 minutes out of the cold, 20 at 230 °C, then by its thickness: 270 mm long it
	// is 67 mm thick, and takes 44.8 · 1.5 · 0.67^2.3 = 26 at 180 °C; 20 of rest, sliced at 18:55
	s.says("Begin at 16:49; on the table at 19:00.")
	s.until("the oven is lit, turned down and emptied",
		"(() => { const t = document.querySelector('[data-test=moments]').innerText; return t.includes('17:29') && "+
			"t.includes('Heat the oven to 230 °C.') && /18:09\\s+Whole tri-tip Turn the oven down/.test(t) && /18:35\\s+Whole "+
			"tri-tip Rest it/.test(t) })()")

	log := filepath.Join(t.TempDir(), "probe.csv")
	if err := os.WriteFile(log, []byte("minutes,temperature\n0,5\n30,40\n60,62\n90,66\n95,66\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	s.MustElement("[data-test=probe-file]").MustSetFiles(log)
	s.says("enough since minute")
	s.says("The floor of 63.0 °C was reached at minute 68.") // 62 to 66 °C in 30 minutes: 63 after 7.5
	a.api("POST", "/benches/"+a.bench("North")+"/probe/command", map[string]any{"c": 58}, nil)
	s.touch("Follow North")
	s.until("it follows", "document.querySelector('[data-test=probe-sentence]')?.innerText.includes('not enough yet')")
	s.touch("Stop North")

	piece := a.received("AGE-1")
	s = a.show(b, "/plan/"+piece, 1280, 900)
	s.until("it says what a week brings",
		"document.querySelector('[data-test=ageing]')?.innerText.startsWith('Another week would bring at most')")
}
