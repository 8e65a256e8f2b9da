package browser

import (
	"strings"
	"testing"
)

// The atlas shows the inside of a piece slice by slice, and lays the cuts of a muscle; what a portion weighed moves the
// marks of what is left.
func TestInsideAPiece(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/atlas/beef.striploin", 1280, 800)
	s.until("the slices lie there", "document.querySelectorAll('[data-test=fan] .slice').length === 15")
	if s.eval("document.querySelectorAll('[data-test=fan] .slice .cell').length >= 60") != "true" {
		t.Error("the slices are hardly drawn")
	}
	s.choose("[data-test=fan] .slice:nth-child(14)")
	s.until("the one near the hip holds the vein end",
		"document.querySelector('[data-test=fan] table').innerText.includes('Vein end')")
	s.choose("[data-test=fan] .slice:nth-child(2)")
	s.until("the one near the ribs does not",
		"!document.querySelector('[data-test=fan] table').innerText.includes('Vein end')")

	s.choose(".order li:last-child button")
	s.until("the eye is laid",
		"document.querySelector('[data-test=portions] strong')?.innerText.includes('portions of 0.22')")
	before := s.text("[data-test=next-cut] .mm")
	marks := s.eval("document.querySelectorAll('[data-test=portions] .mark').length")
	s.eval("document.querySelector('[data-test=weighed]').focus() ?? 1")
	s.typed("0.260")
	s.enter()
	s.until("a mark is gone", "document.querySelectorAll('[data-test=portions] .mark').length < "+marks)
	s.until("the next one begins where the first ended",
		"document.querySelector('[data-test=portions] .marks li').innerText.startsWith('"+
			strings.TrimSuffix(before, " mm")+"–')")
}

// A scale is checked at the bench with a test weight: one that fits is said so, one that is off too, and both are
// logged.
func TestAScaleIsCheckedAtTheBench(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("CHK-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1024, 768)
	command := "/benches/" + a.bench("North") + "/scale/command"
	touch := func(label string) {
		t.Helper()
		find := "[...document.querySelectorAll('main button')].find(b => b.innerText.trim() === '" + label + "')"
		s.until(label+" is there", find)
		s.eval(find + ".click() ?? 1")
	}
	touch("Tub")
	touch("Check with a test weight")
	for _, c := range []struct {
		g    float64
		says string
	}{{2000, "It fits: off by 0 g, 5 g are allowed."}, {2015, "It is off by 15 g; 5 g are allowed."}} {
		a.api("POST", command, map[string]any{"command": "put", "g": c.g}, nil)
		s.until("the scale rests", "!document.querySelector('[data-test=log-check]').disabled && "+
			"document.querySelector('[data-test=scale-check] .digits').innerText.startsWith('2.0')")
		s.eval("(f => { f.value = '2'; f.dispatchEvent(new Event('input')) " +
			"})(document.querySelector('[data-test=test-weight]')) ?? 1")
		s.until("what lies there is shown", "document.querySelector('[data-test=scale-check] .digits').innerText === '"+
			map[float64]string{2000: "2.000", 2015: "2.015"}[c.g]+"'")
		s.choose("[data-test=log-check]")
		s.until(c.says, "document.querySelector('[data-test=check-verdict]')?.innerText.includes('"+c.says+"')")
		a.api("POST", command, map[string]any{"command": "take"}, nil)
	}
	touch("Back")
	s.until("the bench says that the scale is off",
		"document.querySelector('[data-test=scale-due]')?.innerText.includes('was off')")
	var checks struct {
		Checks []struct {
			ShownG float64 `json:"shown_g"`
			Fits   bool
		}
	}
	a.api("GET", "/benches/"+a.bench("North")+"/checks", nil, &checks)
	if len(checks.Checks) < 2 || checks.Checks[0].ShownG != 2015 || checks.Checks[0].Fits || !checks.Checks[1].Fits {
		t.Errorf("%+v", checks)
	}
}
