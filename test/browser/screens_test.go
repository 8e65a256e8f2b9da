package browser

import (
	"fmt"
	"strings"
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

// No screen is wider than its window, and every thing to touch on the bench is big enough, on a desk, a tablet and a
// phone.
func TestScreensFitTheirWindows(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	var cards []struct {
		ID          string
		Stage       string
		BreakdownID string `json:"breakdown_id"`
	}
	a.list("/pieces", "pieces", &cards)
	paths := map[string]string{"rail": "/", "receive": "/receive"}
	for _, c := range cards {
		switch {
		case c.Stage == "plan":
			paths["plan"] = "/plan/" + c.ID
		case c.BreakdownID != "":
			paths[c.Stage] = "/" + c.Stage + "/" + c.BreakdownID
		}
	}
	if len(paths) != 6 {
		t.Fatalf("the demo has pieces at %v only", paths)
	}
	for _, page := range []string{"prices", "people", "benches", "tokens", "audit"} {
		paths[page] = "/shop/" + page
	}
	paths["settings"], paths["me"], paths["enrol"] = "/shop", "/me", "/enrol"
	paths["ways"], paths["a way of one's own"], paths["lots"], paths["a note"] = "/plans/beef.top_sirloin",
		"/plans/lamb.shoulder_whole/new?from=seamed", "/lots", "/receive/note"
	paths["log"] = "/log"
	paths["ready"], paths["atlas"], paths["a piece of it"], paths["a carcass"] = "/ready", "/atlas",
		"/atlas/lamb.forequarter", "/atlas/carcass/beef.side"
	paths["grades"], paths["how grades are made"], paths["tastings"], paths["a new tasting"] = "/grades/lamb.leg_chump",
		"/grade-settings", "/tastings", "/tastings/new"
	paths["cooking"], paths["a cooking card"] = "/cooking", "/cook/lamb.leg_chump/rolled_leg"
	var trials []struct{ ID string }
	a.list("/trials", "trials", &trials)
	paths["trials"], paths["a trial"] = "/trials", "/trials/"+trials[0].ID
	paths["does it pay"], paths["best use"], paths["a whole carcass"], paths["history"], paths["shares"] = "/value",
		"/value/best-use", "/value/carcass", "/value/history", "/value/shares"
	var shared struct{ Link string }
	a.api("POST", "/shares",
		map[string]any{"days": 1, "report": map[string]any{"kind": "trial", "trial_id": trials[0].ID}}, &shared)
	paths["a shared report"] = shared.Link[strings.Index(shared.Link, "/shared/"):]
	var tastings []struct{ ID string }
	a.list("/tastings", "tastings", &tastings)
	var places tasting
	a.api("GET", "/tastings/"+tastings[0].ID, nil, &places)
	paths["a tasting"], paths["an eater's page"] = "/tastings/"+tastings[0].ID, "/taste/"+places.Places[0].Link
	boxed := a.boxed("FIT-1", 2)
	a.api("PUT", "/pieces/"+boxed[1]+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
	var batch struct{ ID string }
	a.api("POST", "/batches", map[string]any{"piece_ids": boxed, "bench_id": a.bench("North")}, &batch)
	paths["together"] = "/batch/" + batch.ID
	b, _ := open(t, "")
	for name, path := range paths {
		s := a.show(b, path, 1280, 800)
		for _, size := range [][2]int{{1280, 800}, {1024, 768}, {390, 844}} {
			s.MustSetViewport(size[0], size[1], 1, false)
			s.until(name+" is there",
				fmt.Sprintf("document.querySelector('h1') && window.innerWidth === %d && "+
					"!document.body.innerText.includes('Fetching')", size[0]))
			if over := s.eval("document.documentElement.scrollWidth > window.innerWidth ? " +
				"document.documentElement.scrollWidth : ''"); over != "" {
				t.Errorf("%s is %s px wide in a window of %d", name, over, size[0])
			}
			if name == "bench" || name == "together" {
				small := s.eval("[...document.querySelectorAll('.plate, .item, .key, .small-key, .piece')].filter(e => " +
					"e.offsetParent).filter(e => { const r = e.getBoundingClientRect(); return r.height < 56 || r.width < 56 " +
					"}).map(e => e.innerText).join('; ')")
				if small != "" {
					t.Errorf("too small to hit with a glove at %d: %s", size[0], small)
				}
				if px := s.eval("parseFloat(getComputedStyle(document.querySelector('.digits')).fontSize) >= 88"); px != "true" {
					t.Errorf("the live weight is too small to be read from two metres at %d", size[0])
				}
			}
		}
		s.MustClose()
	}
}
