package browser

import (
	"fmt"
	"strings"
	"testing"
	"time"
)

// boxed receives several rumps in one lot and plans the first of them; it gives their ids.
func (a *app) boxed(lot string, pieces int) []string {
	a.t.Helper()
	var l struct {
		PieceIDs []string `json:"piece_ids"`
	}
	a.api("POST", "/lots",
		map[string]any{"atlas_id": "beef.top_sirloin", "pieces": pieces, "weight": fmt.Sprint(6.6 * float64(pieces)),
			"weight_unit": "kg", "price": "11.40", "price_per": "kg", "slaughtered_on": a.day(24), "packed_on": a.day(22),
			"supplier": "A croft", "lot_number": lot, "findings": []string{}}, &l)
	a.api("PUT", "/pieces/"+l.PieceIDs[0]+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
	return l.PieceIDs
}

// Three rumps of one lot go on a bench together: each is weighed whole, then what comes off all of them is weighed at
// once and shared, and taken back at once; one weight is typed while the program is dead. At the close the minutes are
// shared, and each piece goes its way.
func TestThreePiecesTogether(t *testing.T) {
	data := t.TempDir()
	a := start(t, data, "127.0.0.1:0")
	addr := strings.TrimPrefix(a.url, "http://")
	pieces := a.boxed("BOX-1", 3)
	b, _ := open(t, "")
	s := a.show(b, "/", 1280, 800)
	s.says("BOX-1")
	s.until("the two that are not planned hang on one hook",
		"[...document.querySelectorAll('#plan .group')].some(g => g.innerText.includes('BOX-1') && g.innerText.includes('2 "+
			"× 6.60 kg'))")
	s = a.show(b, "/plan/"+pieces[0], 1280, 800)
	s.choose("[data-test=together]")
	s.touch("North")
	s.says("3 × Top sirloin, boneless, together")
	s.says("Before the first cut")
	s.enter()
	s.says("The whole piece: piece 1")
	s.weigh("6400", "19.600") // of what the labels say of the others
	s.weigh("6.6", "19.600")
	s.says("The whole piece: piece 3")
	s.weigh("6800", "19.800")
	s.press('a')
	s.says("Wedge and seam fat: all 3")
	s.weigh("550", "19.250")
	s.says("Tri-tip: all 3")
	s.weigh("3000", "16.250")
	s.weigh("495", "15.755") // mouse
	s.says("Rump cap: all 3")
	s.weigh("2970", "12.785")
	s.press('u')
	s.residual("15.755")
	s.says("Rump cap: all 3")
	s.weigh("2970", "12.785")

	s.press('a') // one by one, and the third first
	s.choose("[data-piece='3']")
	s.says("Sirloin fillet: piece 3")
	s.weigh("930", "11.855")
	s.says("Sirloin fillet: piece 1")
	s.until("everything is confirmed", "document.querySelector('.bench').dataset.waiting === '0'")
	a.kill()
	s.typed("890")
	s.enter()
	s.says("1 weighing waits here, safe")
	s.residual("10.965")
	a.waitForDatabase()
	a = start(t, data, addr)
	s.until("the connection is back",
		"document.querySelector('.bench').dataset.waiting === '0' && !document.querySelector('.away')")
	s.weigh("910", "10.055")
	s.press('a')
	// heart, cover fat, gristle and trim
	for _, w := range [][2]string{{"7230", "2.825"}, {"1790", "1.035"}, {"450", "0.585"}, {"490", "0.095"}} {
		s.weigh(w[0], w[1])
	}
	s.enter()
	s.says("It balances")
	s.put("#close-minutes", "39.6")
	s.enter()
	s.says("All 3 are finished, 40 minutes shared by their weights.")

	var rail []struct {
		ID          string
		Stage       string
		BatchID     string `json:"batch_id"`
		BreakdownID string `json:"breakdown_id"`
	}
	a.list("/pieces", "pieces", &rail)
	found := 0
	for _, p := range rail {
		for i, id := range pieces {
			if p.ID != id {
				continue
			}
			found++
			var board struct {
				State   string
				Minutes float64
				Booked  int
				Rows    []struct {
					ID      string
					WeightG float64 `json:"weight_g"`
				}
			}
			a.api("GET", "/breakdowns/"+p.BreakdownID, nil, &board)
			cap := 0.0
			for _, r := range board.Rows {
				if r.ID == "cap" {
					cap += r.WeightG
				}
			}
			// 2,970 g shared by 6.4, 6.6 and 6.8 of 19.8 kg; 39.6 minutes likewise
			if want := []float64{960, 990, 1020}[i]; cap != want || p.Stage != "judge" || p.BatchID == "" ||
				board.Minutes != []float64{12.8, 13.2, 13.6}[i] {
				t.Errorf("piece %d: a cap of %g g, %s, %g minutes", i+1, cap, p.Stage, board.Minutes)
			}
			// looked over, weighed, ten weighings, one undone and booked anew, closed
			if board.Booked != 14 {
				t.Errorf("piece %d has %d events", i+1, board.Booked)
			}
		}
	}
	if found != 3 {
		t.Errorf("%d of 3 pieces are on the rail", found)
	}
}

// A warm piece is noted with the caution, by the probe and typed; a cap is weighed in its two ends; at the close its
// yields stand beside the usual, and each output has its number. All of it on a screen whose clock is three hours fast:
// what it books is dated by the server's.
func TestWarmMeatEndsAndYields(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("Y-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/", 1280, 900)
	s.says("Receive a lot")
	s.MustEvalOnNewDocument("(() => { const real = Date; const off = 3 * 3600e3; globalThis.Date = class extends real { " +
		"constructor(...a) { if (a.length) super(...a); else super(real.now() + off) } static now() { return real.now() + " +
		"off } } })()")
	s.MustNavigate(a.url + "/bench/" + id)
	s.lookedOver()
	s.weigh("6600", "6.600")
	s.press('d')
	s.says("How warm is the piece?")
	a.api("POST", "/benches/"+a.bench("North")+"/probe/command", map[string]any{"c": 9.4}, nil)
	s.until("the probe shows it and rests",
		"document.querySelector('[data-test=degrees]')?.innerText === '9.4 °C' && "+
			"document.querySelector('[data-test=temp-panel]').innerText.includes('steady')")
	s.choose("[data-test=take-temp]")
	s.says("That is above the 7 °C (45 °F)")
	s.press('d')
	s.put("[data-test=temp-panel] input", "200")
	s.enter()
	s.says("A temperature of meat at a bench, such as 4.0 °C")
	s.put("[data-test=temp-panel] input", "3,5")
	s.enter()
	s.until("the last one is within the limit",
		"document.querySelector('[data-test=temp]')?.innerText.includes('3.5 °C') && "+
			"!document.querySelector('[data-test=temp]').classList.contains('fault')")
	s.weigh("180", "6.420")  // wedge of fat
	s.weigh("1000", "5.420") // tri-tip
	s.weigh("160", "5.260")  // mouse
	s.weigh("960", "4.300")  // cap
	s.press('o')
	s.says("Before the vein line")
	for _, w := range [][3]string{{"660", "0.300", "front"}, {"295", "0.005", "back"}} {
		s.choose("[data-inside='end:cap/" + w[2] + "']")
		s.typed(w[0])
		s.enter()
		s.until(w[1]+" kg left",
			fmt.Sprintf("document.querySelector('[data-test=inside-left]').innerText.startsWith(%q)", w[1]))
	}
	s.choose("[data-test=inside-back]")
	for _, w := range [][2]string{{"900", "3.400"}, {"2400", "1.000"}, {"600", "0.400"}, {"150", "0.250"},
		{"200", "0.050"}} {
		s.weigh(w[0], w[1])
	}
	s.enter()
	s.says("was opened and is not done yet. Finish it first.")
	s.choose("[data-test=inside-done]")
	s.until("back at the piece", "!document.querySelector('[data-test=inside]')")
	s.enter()
	s.says("It balances")
	s.enter()
	s.says("within the limit")
	s.says("pieces of the house cut the same way") // the demo's
	s.until("the yields stand there",
		"document.querySelectorAll('[data-test=yields] tbody tr').length >= 9 && "+
			"document.querySelector('[data-test=yields]').innerText.includes('14.5')")
	s.choose("details:not([open]) summary")
	s.until("each output has its number",
		"[...document.querySelectorAll('[data-test=outputs] .number')].some(n => n.innerText === 'Y-1-1-09') && "+
			"document.querySelector('[data-test=outputs]').innerText.includes('Before the vein line, of rump cap')")

	var log []struct {
		Event struct {
			Kind string
			At   time.Time
		}
		ReceivedAt time.Time `json:"received_at"`
	}
	a.api("GET", "/breakdowns/"+id+"/events", nil, &log)
	for _, l := range log {
		if off := l.ReceivedAt.Sub(l.Event.At); off > time.Minute || off < -time.Minute {
			t.Errorf("%s is dated %s away from when it came in", l.Event.Kind, off)
		}
	}
}
