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
