package browser

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// What a weight is doubted for is said before it is booked; what was booked stays on the screen with its undo; what
// was undone can be booked again from where it lies.
func TestAWeightIsDoubtedBeforeItIsBooked(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("T-9", "North")
	scale := "/benches/" + a.bench("North") + "/scale/command"
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1024, 768)
	s.lookedOver()
	s.weigh("6600", "6.600")
	calm := "!document.querySelector('[data-test=weight-doubt]')"
	lie := func(g int, shown string) {
		t.Helper()
		a.api("POST", scale, map[string]any{"command": "put", "g": g}, nil)
		s.until(shown+" lies still", fmt.Sprintf("document.querySelector('[data-test=live]')?.innerText === %q && "+
			"document.querySelector('.plate .state').innerText === 'stable'", shown))
	}
	s.weigh("180", "6.420") // the wedge of fat
	// a slipped digit: ten times a tri-tip
	s.typed("10000")
	s.says("More than is left of it: 6.420 kg.")
	for range 5 {
		s.press(input.Backspace)
	}
	s.until("nothing is doubted", calm)
	s.typed("3000")
	s.says("Usual is")
	for range 4 {
		s.press(input.Backspace)
	}
	lie(1000, "1.000")
	s.until("a usual weight is not doubted", calm)
	s.choose("[data-test=plate]")
	s.residual("5.420")
	s.until("the lasting line", "document.querySelector('[data-test=booked]')?.innerText === '1.000 kg booked: "+
		"tri-tip\\nUndo'")
	s.choose("[data-test=plate]")
	s.says("This weight is booked already")
	s.choose("[data-test=booked] button")
	s.residual("6.420")
	s.choose("[data-test=plate]") // the same meat, never lifted off
	s.residual("5.420")
}
