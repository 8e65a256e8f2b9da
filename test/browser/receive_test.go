package browser

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
)

// A lamb is received, divided, broken at a bench by keyboard, and hangs as its pieces.
func TestALambIsBroken(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/receive", 1280, 900)
	s.until("the piece has the focus", "document.activeElement?.id === 'piece'")
	s.typed("lamb carcass")
	s.enter() // before the answer can be there: the first that fits is meant
	s.until("the carcass is chosen", "document.querySelector('#piece').value === 'Whole lamb carcass'")
	s.until("the list is shut", "!document.querySelector('[role=option]')")
	for _, field := range []struct{ id, text string }{{"#weight", "20"}, {"#price", "7.40"}, {"#slaughtered", "-2"},
		{"#packed", "-1"}, {"#supplier", "Long Geo croft"}, {"#lot", "LAMB"}} {
		s.put(field.id, field.text)
	}
	s.says("Minutes of the whole run")
	s.enter()
	s.says("It is broken at a bench first")
	s.tabTo("[data-plan=usual] button")
	s.enter()
	s.says("Put it on a bench")
	s.tabTo(".step button")
	s.enter()
	s.lookedOver()
	s.weigh("19900", "19.900")
	s.says("1 of 2, about")
	for _, w := range [][2]string{{"3080", "16.820"}, {"3060", "13.760"}, {"2500", "11.260"}, {"950", "10.310"},
		{"940", "9.370"}, {"6960", "2.410"}, {"860", "1.550"}, {"840", "0.710"}, {"120", "0.590"}, {"375", "0.215"}} {
		s.weigh(w[0], w[1])
	}
	s.tabTo("[data-act=e]")
	s.enter()
	s.says("Finish the piece")
	s.tabTo("[data-test=close]")
	s.enter()
	s.says("Each piece hangs on the rail with its own weight")
	s.touch("To the rail")
	s.put(".filter input[type=search]", "lamb/1") // what waits for its age is folded away until it is looked for
	s.says("LAMB/1")
	s.until("both legs hang on one hook, each a touch away",
		"[...document.querySelectorAll('.group')].some(e => e.innerText.includes('LAMB/1') && e.querySelectorAll('.pieces "+
			"a').length === 2)")
}

// A delivery note shows every line before anything is received; a lot is corrected and voided with a reason, and the
// page says who did it.
func TestANoteAndACorrection(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/receive/note", 1280, 900)
	s.says("A delivery note as a file")
	path := filepath.Join(t.TempDir(), "note.csv")
	now := a.day(20)
	text := fmt.Sprintf("lot_number,piece,pieces,weight,price,slaughtered_on,packed_on,supplier\n"+
		"NOTE-1,rump,2,13.2,11.40,%s,%s,A croft\n"+
		"NOTE-2,unicorn,1,5,9,%s,%s,A croft\n", now, now, now, now)
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	s.MustElement("input[type=file]").MustSetFiles(path)
	s.says("1 good line, 1 bad")
	s.says("is not a piece of the atlas")
	s.touch("Receive the 1, leave 1 out")
	s.says("1 lot received")

	s = a.show(b, "/lots", 1280, 900)
	s.touch("NOTE-1")
	s.says("NOTE-1: 2 × ")
	s.touch("Correct it")
	s.put("#weight", "13.9")
	s.enter()
	s.says("Say why.")
	s.put("#reason", "the ticket says 13.9")
	s.enter()
	s.says("13.90 kg")
	s.says("“the ticket says 13.9”")
	s.touch("Void lot")
	s.put("#reason", "sent back")
	s.enter()
	s.says("Voided")
	s.touch("Take back the voiding")
	s.put("#reason", "they kept it")
	s.enter()
	s.says("took the voiding of a lot back")
}
