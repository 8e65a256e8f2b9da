package browser

import (
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

type tasting struct {
	ID      string
	State   string
	Samples []struct {
		Number     int
		Code, Part string
		Method     string
		Result     *struct {
			Complete int
			Score    float64
		}
	}
	Places []struct {
		Number int
		Link   string
		Order  []int
	}
	Sheets []struct {
		Assessor int
		Code     string
		Source   string
		Ratings  map[string]*float64
	}
}

// A tasting from its plan to the matrix: planned by touch; scored on a phone, without an account, partly while the
// program is dead; typed in from paper by keyboard alone; closed, and then in the house's grade.
func TestATasting(t *testing.T) {
	data := t.TempDir()
	a := start(t, data, "127.0.0.1:0")
	addr := strings.TrimPrefix(a.url, "http://")
	b, _ := open(t, "")
	s := a.show(b, "/tastings", 1280, 800)
	s.says("1 tasting is open")
	s.touch("Plan a tasting")
	s.choose("[data-sample='mouse stir_fry']")
	s.choose("[data-sample='mouse stew']")
	s.choose("[data-sample='tri_tip pan_fry']")
	s.choose("[data-sample='tri_tip pan_fry']") // and out again
	s.says("2 samples for 10 eaters.")
	s.says("Every sample stands equally often in every place")
	s.choose("[data-test=plan-tasting]")
	s.says("Enter it.") // a name is missing
	s.fill("t-name", "The mouse")
	s.fill("t-eaters", "3")
	s.says("With 4 eaters every sample would stand")
	s.choose("[data-test=plan-tasting]")
	s.says("No sheet is complete yet; 6 are due.")
	id := s.eval("location.pathname.split('/').pop()")
	var v tasting
	a.api("GET", "/tastings/"+id, nil, &v)
	if len(v.Samples) != 2 || len(v.Places) != 3 {
		t.Fatalf("%+v", v)
	}

	// the phone of the third eater, which knows nobody
	phone, _ := open(t, "")
	p := show(t, phone, a.url+"/taste/"+v.Places[2].Link, 390, 844)
	first, second := v.Samples[v.Places[2].Order[0]-1].Code, v.Samples[v.Places[2].Order[1]-1].Code
	p.until("the first sample is there", fmt.Sprintf("document.querySelector('.lines')?.dataset.code === %q", first))
	if text := p.text("body"); strings.Contains(text, "ouse") || strings.Contains(text, "Stir") {
		t.Errorf("the page is not blind: %s", text)
	}
	if p.eval("document.querySelectorAll('.cross').length") != "0" {
		t.Error("a line has a mark before it was touched")
	}
	mark := func(attribute string, at float64) {
		t.Helper()
		el := p.MustElement(fmt.Sprintf("[data-line=%s] .track", attribute))
		el.MustScrollIntoView()
		box := el.MustShape().Box()
		if err := p.Mouse.MoveTo(proto.NewPoint(box.X+box.Width*at/100, box.Y+box.Height/2)); err != nil {
			t.Fatal(err)
		}
		p.Mouse.MustClick(proto.InputMouseButtonLeft)
		p.until(attribute+" is marked", fmt.Sprintf("document.querySelector('[data-line=%s] .cross')", attribute))
	}
	for _, attribute := range []string{"tenderness", "juiciness", "flavour", "overall"} {
		mark(attribute, 40)
	}
	p.until("it is sent", "document.querySelector('[data-test=taste-state]').innerText.startsWith('Touch each line')")
	a.kill()
	p.choose("[data-test=next-sample]")
	p.until("the second sample is there", fmt.Sprintf("document.querySelector('.lines')?.dataset.code === %q", second))
	for _, attribute := range []string{"tenderness", "juiciness", "flavour", "overall"} {
		mark(attribute, 60)
	}
	p.says("1 sample kept on this phone")
	a.waitForDatabase()
	a = start(t, data, addr)
	p.says("All marked and sent. Thank you.")

	// paper, by keyboard alone
	s = a.show(b, "/tastings/"+id, 1280, 800)
	s.until("two sheets are in", "document.body.innerText.includes('2 of 6 sheets in')")
	s.eval("document.querySelectorAll('.bar .units input')[1].click()")
	s.until("eater 1 is next", "document.querySelector('[data-test=paper]').innerText.includes('Eater 1, sample')")
	s.tabTo("[data-test=paper] .mark")
	for _, m := range []string{"30", "40", "50", "60", "70", "80", "90", "101"} {
		s.typed(m)
		s.enter()
	}
	s.says("A mark is from 0 to 100")
	for range 3 {
		s.press(input.Backspace)
	}
	s.typed("99")
	s.enter()
	s.says("Eater 1 is kept.")
	s.until("eater 2 is next",
		"document.querySelector('[data-test=paper]').innerText.includes('Eater 2, sample') && "+
			"document.activeElement.classList.contains('mark')")
	for _, m := range []string{"20", "20", "20", "", "55", "55", "55", "55"} {
		s.typed(m)
		s.enter()
	}
	s.says("Eater 2 is kept.")
	a.api("GET", "/tastings/"+id, nil, &v)
	if len(v.Sheets) != 6 {
		t.Errorf("%d sheets", len(v.Sheets))
	}
	for _, h := range v.Sheets {
		want, source := map[int]string{1: "paper", 2: "paper", 3: "phone"}[h.Assessor], h.Source
		if source != want {
			t.Errorf("eater %d by %s", h.Assessor, source)
		}
		if h.Assessor == 3 {
			at := map[string]float64{first: 40, second: 60}[h.Code]
			for name, m := range h.Ratings {
				if m == nil || math.Abs(*m-at) > 2 {
					t.Errorf("%s of %s: %v, want about %g", name, h.Code, m, at)
				}
			}
		}
	}
	s.eval("document.querySelectorAll('.bar .units input')[0].click()")
	s.says("1 of 3 sheets lack a mark")
	s.says("It counts for the house’s grades once it is closed.")
	s.choose("[data-test=close-tasting]")
	s.says("It counts.")
	s = a.show(b, "/grades/beef.top_sirloin", 1280, 800)
	s.says("8 of 34 grades of this piece rest on our own eaters.") // six of the scenario's
	s.choose("[data-part=mouse][data-method=stir_fry]")
	s.says("The mouse")
	s.until("the reason stands there",
		"/the atlas: \\d+, estimated/.test(document.querySelector('[data-test=why]').innerText) && "+
			"document.querySelector('.detail').innerText.includes('measured')")
	// a change of the settings says what it moves
	s = a.show(b, "/grade-settings", 1280, 800)
	s.fill("assessor_sd", "5")
	s.choose("[data-test=regrade]")
	s.until("it says which grades moved",
		"/Saved\\. \\d+ grades? moved/.test(document.querySelector('[data-test=moved]')?.innerText ?? '')")
	// a programme's sheet, its columns chosen on the screen
	sheet := filepath.Join(t.TempDir(), "scores.csv")
	if err := os.WriteFile(sheet,
		[]byte("Block,Muscle,Cooked by,Points\nTop sirloin,Mouse,Stew,20\nbeef.top_sirloin,mouse,stew,31\n"),
		0o600); err != nil {
		t.Fatal(err)
	}
	s.MustElement("[data-test=given-file]").MustSetFiles(sheet)
	s.says("scores.csv: 0 good, 2 left out")
	s.picks("#col-method", "Cooked by")
	s.says("scores.csv: 1 good, 1 left out")
	s.put("#source", "A programme")
	s.choose("[data-test=keep-given]")
	s.says("1 score kept.")
	s = a.show(b, "/grades/beef.top_sirloin", 1280, 800)
	s.choose("[data-part=mouse][data-method=stew]")
	s.says("A programme gave 31")
}
