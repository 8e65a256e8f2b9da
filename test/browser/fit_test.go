package browser

import (
	_ "embed"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"
)

//go:embed fit.js
var fitJS string

// sizes are a large desk, a desk, a tablet at the bench, a small tablet, a phone, and a desk at 200 %.
var sizes = [][2]int{{1920, 1080}, {1280, 800}, {1024, 768}, {768, 1024}, {640, 400}, {390, 844}}

// Rule: at every size no two texts or controls of a page overlap, nothing is cut off or beyond the window, and no page
// scrolls sideways; every thing to touch on the bench is big enough. Accessibility is checked by axe-core, by its rules
// for WCAG 2.2 A and AA and for good practice, by day on a desk and by night on a phone.
func TestEveryRouteFitsEverySize(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	paths := a.everyRoute()
	names := make([]string, 0, len(paths))
	for name := range paths {
		names = append(names, name)
	}
	slices.Sort(names)
	axe, err := os.ReadFile(filepath.Join("..", "..", "web", "node_modules", "axe-core", "axe.min.js"))
	if err != nil {
		t.Fatal(err)
	}
	b, _ := open(t, "")
	titles := map[string]string{}
	for _, name := range names {
		s := a.show(b, paths[name], 1280, 800)
		for _, size := range sizes {
			s.MustSetViewport(size[0], size[1], 1, false)
			s.until(name+" is there", fmt.Sprintf("document.querySelector('h1') && window.innerWidth === %d && "+
				"!document.body.innerText.includes('Loading')", size[0]))
			faults, err := s.Eval(fitJS)
			if err != nil {
				t.Fatal(err)
			}
			if v := faults.Value.Str(); v != "" {
				t.Errorf("%s at %d × %d:\n%s", name, size[0], size[1], v)
			}
			if over := s.eval("document.documentElement.scrollWidth > window.innerWidth ? " +
				"document.documentElement.scrollWidth : ''"); over != "" {
				t.Errorf("%s is %s px wide in a window of %d", name, over, size[0])
			}
			if name == "bench" || name == "together" {
				s.fitsAGlove(size[0])
			}
			if size[0] == 1280 || size[0] == 390 {
				s.eval("document.documentElement.setAttribute('data-scheme', " +
					"innerWidth === 390 ? 'dark' : 'light') ?? 1")
				time.Sleep(400 * time.Millisecond) // colours change over 80 ms, on a busy machine later
				s.until("the colours have changed",
					"document.getAnimations().every(a => a.playState !== 'running' && a.playState !== 'pending')")
				s.accessible(string(axe), fmt.Sprintf("%s at %d", name, size[0]))
			}
		}
		title := s.eval("document.title")
		if title == "Falda" || !strings.HasSuffix(title, "Falda") || titles[title] != "" {
			t.Errorf("%s is called %q; %s too", name, title, titles[title])
		}
		titles[title] = name
		s.MustClose()
	}
}

// fitsAGlove checks that what is touched on a bench can be hit with a glove, and read from two metres.
func (s *screen) fitsAGlove(width int) {
	s.t.Helper()
	small := s.eval("[...document.querySelectorAll('.plate, .item, .key, .small-key, .piece, .bar a, .bar button, " +
		".pan button')].filter(e => e.offsetParent).filter(e => { const r = e.getBoundingClientRect(); " +
		"return r.height < 56 || r.width < 56 }).map(e => e.innerText).join('; ')")
	if small != "" {
		s.t.Errorf("too small to hit with a glove at %d: %s", width, small)
	}
	if px := s.eval("parseFloat(getComputedStyle(document.querySelector('.digits')).fontSize) >= 88"); px != "true" {
		s.t.Errorf("the live weight is too small to be read from two metres at %d", width)
	}
}

// accessible runs axe-core over the page as it stands.
func (s *screen) accessible(axe, what string) {
	s.t.Helper()
	if s.eval("typeof axe") == "undefined" {
		if _, err := s.Eval("() => { " + axe + "; window.axe = axe }"); err != nil {
			s.t.Fatal(err)
		}
	}
	// what a bar at the foot happens to cover is scrolled to: how large it is is asked of the page without it
	s.eval(`document.querySelectorAll('.foot').forEach(f => f.style.setProperty('position', 'static')) ?? 1`)
	defer s.eval(`document.querySelectorAll('.foot').forEach(f => f.style.removeProperty('position')) ?? 1`)
	got, err := s.Eval(`() => axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa',
		'best-practice'] })
		.then(r => r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.html.slice(0, 140)).join(' | '))
		.join('\n'))`)
	if err != nil {
		s.t.Fatal(err)
	}
	if v := got.Value.Str(); v != "" {
		s.t.Errorf("%s is not accessible:\n%s", what, v)
	}
}

// everyRoute gives the address of every page of the app, with something to show at each.
func (a *app) everyRoute() map[string]string {
	a.t.Helper()
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
		a.t.Fatalf("the demo has pieces at %v only", paths)
	}
	for _, page := range []string{"prices", "people", "benches", "tokens", "audit"} {
		paths[page] = "/shop/" + page
	}
	paths["settings"], paths["me"], paths["enrol"] = "/shop", "/me", "/enrol"
	paths["ways"], paths["a way of one's own"], paths["lots"], paths["a note"] = "/plans/beef.top_sirloin",
		"/plans/lamb.shoulder_whole/new?from=seamed", "/lots", "/receive/note"
	var asked struct{ Orders []struct{ ID string } }
	a.api("GET", "/orders", nil, &asked)
	paths["orders"], paths["an order"], paths["a new order"], paths["an order changed"], paths["the day"] = "/orders",
		"/orders/"+asked.Orders[3].ID, "/orders/new", "/orders/"+asked.Orders[0].ID+"/edit", "/day"
	paths["labels"], paths["a count"] = "/labels", "/stock/count?place=cold"
	paths["log"], paths["same meat"] = "/log", "/same-meat"
	paths["a plan in steps"] = "/plans/beef.top_sirloin/new/steps?from=heart_in_one"
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
	var makings []struct{ ID, State string }
	a.list("/makings", "makings", &makings)
	for _, m := range makings {
		paths["a batch that is "+m.State] = "/making/" + m.ID
	}
	var lots []struct{ ID string }
	a.list("/lots", "lots", &lots)
	paths["in stock"], paths["the stock log"], paths["a recall"] = "/stock", "/stock/log", "/recall/"+lots[0].ID
	paths["sales"], paths["selling for less"], paths["the counter"], paths["instead of"] = "/sales?open=beef.heart_steak",
		"/stock/reduce", "/counter", "/instead?of=beef.striploin_steak"
	var hung struct {
		Room struct{ Version int }
		Link string
	}
	a.api("GET", "/counter", nil, &hung)
	a.api("PUT", "/counter/screen", map[string]any{"on": true, "version": hung.Room.Version}, &hung)
	paths["above the counter"] = hung.Link[strings.Index(hung.Link, "/above/"):]
	var mine struct {
		Others []struct{ ID, Name string }
	}
	a.api("GET", "/learning", nil, &mine)
	for _, o := range mine.Others {
		var theirs learned
		if a.api("GET", "/learning?member="+o.ID, nil, &theirs); theirs.of("beef.top_sirloin") >= 0 {
			for _, x := range theirs.Pieces[theirs.of("beef.top_sirloin")].Practices {
				paths["learning"], paths["a practice piece"] = "/learning?open=beef.top_sirloin&member="+o.ID,
					"/learning/practice/"+x.BreakdownID
			}
		}
	}
	paths["a drill"] = "/learning/drill?piece=beef.top_sirloin&group=name"
	paths["a week"] = "/value/week?heads=lamb.whole~3~&minutes=&saw="
	paths["mince and make"], paths["recipes"] = "/making", "/recipes"
	return paths
}
