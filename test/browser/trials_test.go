package browser

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// A trial is designed: the two sides of a carcass, the program draws which is cut which way and plans them; the
// scenario's trial of the rump shows its verdict and a line for each pair.
func TestTrials(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	a.boxed("SIDES-1", 4)
	b, _ := open(t, "")
	s := a.show(b, "/trials", 1280, 900)
	s.says("Rump: seamed or straight through")
	s.choose("[data-lot='SIDES-1']")
	s.says("2 pairs.")
	s.until("it says how many pairs it takes",
		"document.querySelector('[data-test=needed]')?.innerText.includes('it takes about')")
	s.choose("[data-test=design]")
	s.says("Enter it.")
	s.put("#tr-name", "Four sides")
	s.choose("[data-test=design]")
	s.says("No pair is complete yet; 2 to cut.")
	s.until("both pairs wait",
		"document.querySelectorAll('[data-test=pairs] tbody tr').length === 2 && "+
			"document.querySelector('[data-test=pairs]').innerText.includes('waits for its mate')")
	s = a.show(b, "/trials", 1280, 900)
	s.touch("Rump: seamed or straight through")
	s.until("the verdict stands",
		"document.querySelector('[data-test=trial-sentence]')?.innerText.includes('In 5 of 5 pairs') && "+
			"document.querySelector('[data-test=trial-sentence]').innerText.includes('surely more than luck')")
	s.until("the picture is drawn", "document.querySelector('[data-test=plot] svg')")
	s.eval("document.querySelector('[data-test=plot]').focus()")
	for pair := 1; pair <= 5; pair++ {
		s.press(input.ArrowRight)
		s.until("a line for each pair",
			fmt.Sprintf("document.querySelector('.chart [aria-live]').innerText.startsWith('Pair %d: €')", pair))
	}
	s.touch("Void this trial")
	s.put("input.reason", "for the test")
	s.enter()
	s.says("Void: for the test")
	s.touch("Take it back in")
	s.until("it counts again",
		"document.querySelector('[data-test=trial-sentence]')?.innerText.includes('more than luck')")
}
