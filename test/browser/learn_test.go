package browser

import (
	"fmt"
	"image"
	"image/jpeg"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// learned is somebody's record, as the program gives it.
type learned struct {
	Member string
	Asked  int
	Due    int
	Pieces []struct {
		Piece     string
		Asked     int
		Signed    []struct{ Signed bool }
		Practices []struct {
			BreakdownID string `json:"breakdown_id"`
		}
	}
}

func (l learned) of(piece string) int {
	for i, p := range l.Pieces {
		if p.Piece == piece {
			return i
		}
	}
	return -1
}

// answers answers what is asked, whatever it is: choice after choice, or a number; what was right is remembered, by
// question, for when it comes again.
func (s *screen) answers(right map[string]string) {
	s.t.Helper()
	ask := s.text("[data-test=drill-ask]")
	if s.eval("!!document.querySelector('#drill-number')") == "true" {
		number := right[ask]
		if number == "" {
			number = "1"
		}
		s.put("#drill-number", number)
		s.enter()
	} else {
		choice := right[ask]
		if choice == "" {
			choice = s.eval("document.querySelector('[data-choice]').dataset.choice")
		}
		s.choose(fmt.Sprintf("[data-choice=%q]", choice))
	}
	s.until("the answer was marked", "document.querySelector('[data-test=drill-next]')")
	right[ask] = s.eval("document.querySelector('button.right')?.dataset.choice ?? document.querySelector(" +
		"'[data-test=drill-verdict]').innerText.match(/It is ([0-9.]+)/)?.[1] ?? ''")
}

// An apprentice sits through what is new of a piece; what was wrong comes again until it is known, and each answer
// comes back another day.
func TestASitting(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	a.signIn("apprentice")
	b, _ := open(t, "")
	var before, after learned
	a.api("GET", "/learning", nil, &before)
	s := a.show(b, "/learning?open=beef.brisket", 1280, 900)
	s.until("its drills are there", "document.querySelector('[data-test=learn-piece]')")
	s.touch("Judge it")
	right, asked := map[string]string{}, 0
	for {
		s.until("a question, or the end", "document.querySelector('[data-test=drill-ask], [data-test=drill-done]')")
		if s.eval("!!document.querySelector('[data-test=drill-done]')") == "true" {
			break
		}
		if asked++; asked > 20 {
			t.Fatal("the sitting never ends")
		}
		s.answers(right)
		s.choose("[data-test=drill-next]")
		s.until("it goes on", "!document.querySelector('[data-test=drill-verdict]')")
	}
	a.api("GET", "/learning", nil, &after)
	fresh := len(right)
	if at := after.of("beef.brisket"); fresh < 4 || after.Pieces[at].Asked != fresh || after.Asked != before.Asked+fresh {
		t.Errorf("%d of %d new ones of the brisket were kept; %d in all, %d before", after.Pieces[at].Asked, fresh,
			after.Asked, before.Asked)
	}
	if !strings.Contains(s.text("[data-test=drill-done]"), fmt.Sprintf("of %d questions known at once", fresh)) {
		t.Errorf("%q", s.text("[data-test=drill-done]"))
	}
}

// The block of a question is drawn in space, and a part of it is touched there.
func TestTouchTheBlock(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	a.signIn("cutter")
	b, _ := open(t, "")
	s := a.show(b, "/learning/drill?piece=beef.topside&group=seam", 1280, 900)
	s.until("the map is there", "document.querySelector('[data-test=drill-map]')")
	s.eval("[...document.querySelectorAll('.views input')][1].click()")
	s.until("the block is drawn", "+document.querySelector('[data-test=drill-block]')?.dataset.frames > 0")
	if n := s.colours("[data-test=drill-block]"); n < 4 {
		t.Errorf("the block shows %d colours", n)
	}
	s.MustElement("[data-test=drill-block]").MustClick()
	s.until("the touch was marked", "document.querySelector('[data-test=drill-verdict]')")
	if says := s.text("[data-test=drill-verdict]"); !strings.Contains(says, "It is off.") &&
		!strings.Contains(says, "First:") &&
		!strings.Contains(says, "Something must come off before") {
		t.Errorf("%q", says)
	}
}

// A piece at the bench is made a practice piece: its words come when they are asked for. A finished one lies beside the
// others; a head cutter says what to practise and signs it off, and notes something with a photograph.
func TestPracticeAtTheBench(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	waiting := a.planned("LEARN-1", "North")
	a.signIn("apprentice")
	b, _ := open(t, "")
	var mine learned
	a.api("GET", "/learning", nil, &mine)
	s := a.show(b, "/bench/"+waiting, 1024, 768)
	s.lookedOver()
	s.typed("6.6")
	s.enter()
	s.says("Find it")
	s.choose("[data-act=k]")
	s.choose("[data-test=practice-keep]")
	s.until("its words wait to be asked for", "document.querySelector('[data-test=tell]')")
	if s.eval("document.body.innerText.includes('Find it')") == "true" {
		t.Error("the words are said unasked")
	}
	s.choose("[data-test=tell]")
	s.says("Find it")

	a.signIn("head_cutter")
	var theirs learned
	a.api("GET", "/learning?member="+mine.Member, nil, &theirs)
	rump := theirs.Pieces[theirs.of("beef.top_sirloin")]
	done := rump.Practices[1].BreakdownID // the first is on the bench
	s = a.show(b, "/learning/practice/"+done, 1280, 900)
	s.says("than the others")
	const row = "[data-step=heart_main] "
	s.choose(row + "[data-test=practise]")
	s.put(row+"input", "Longer strokes.")
	s.choose(row + "[data-test=say]")
	s.until("it is to be practised", "document.querySelector('"+row+"').innerText.includes('Longer strokes.')")
	s.choose(row + "[data-test=sign]")
	s.until("it is signed off", "document.querySelector('"+row+"').innerText.includes('Signed off')")

	path := filepath.Join(t.TempDir(), "cut.jpg")
	f, err := os.Create(path)
	if err != nil {
		t.Fatal(err)
	}
	if err := jpeg.Encode(f, image.NewGray(image.Rect(0, 0, 300, 200)), nil); err != nil {
		t.Fatal(err)
	}
	if err := f.Close(); err != nil {
		t.Fatal(err)
	}
	s.put("#note-words", "The seam side.")
	s.MustElement("[data-test=note-picture]").MustSetFiles(path)
	s.says("cut.jpg")
	s.choose("[data-test=note-keep]")
	s.until("the photograph is shown", "document.querySelector('[data-test=notes] img')?.naturalWidth === 300")
}
