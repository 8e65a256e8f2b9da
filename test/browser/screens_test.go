package browser

import (
	"fmt"
	"testing"
)

// Bad input is shown at its field, in words, and nothing that was typed is lost.
func TestBadInputAtItsField(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/receive", 1280, 800)
	s.chooseTopSirloin("184")
	for _, field := range []struct{ id, text string }{{"#weight", "6600"}, {"#price", "eleven"},
		{"#slaughtered", "31.02."}, {"#packed", "-2"}, {"#supplier", "A croft"}} {
		s.tabTo(field.id)
		s.typed(field.text)
	}
	s.enter()
	for id, message := range map[string]string{"weight": "Check the weight, its unit", "price": "is not a number",
		"slaughtered": "is not a day"} {
		s.until(id+" says "+message, fmt.Sprintf("document.getElementById('%s-fault')?.innerText.includes(%q)", id, message))
	}
	for id, kept := range map[string]string{"weight": "6600", "price": "eleven", "slaughtered": "31.02.",
		"supplier": "A croft"} {
		if got := s.eval(fmt.Sprintf("document.getElementById('%s').value", id)); got != kept {
			t.Errorf("%s lost %q: %q", id, kept, got)
		}
	}
	// a gain on the bench cannot be finished, and says the way out
	id := a.planned("G-1", "North")
	s = a.show(b, "/bench/"+id, 1280, 800)
	s.lookedOver()
	s.typed("66")
	s.enter()
	s.says("cannot be a Top sirloin")
	s.typed("6600")
	s.enter()
	s.residual("6.600")
	s.typed("7000")
	s.says("More than is left of it: 6.600 kg.")
	s.enter()
	s.says("The same key once more books it all the same")
	s.residual("6.600")
	s.enter()
	s.residual("−0.400")
	s.tabTo("[data-act=e]")
	s.enter()
	s.says("0.400 kg more came out than went in")
	s.says("Back to the board")
	s.enter()
	s.press('u')
	s.residual("6.600")
}
