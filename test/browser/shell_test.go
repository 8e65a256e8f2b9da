package browser

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// Everything is found: by "/" and a word, by two touches in the menu, and back by the line above the page; each page
// has its name, begins at its top, and takes the focus.
func TestEverythingIsFound(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.boxed("SEEK-1", 2)[0]
	b, _ := open(t, "")
	s := a.show(b, "/", 1280, 800)
	s.says("wait for a plan")
	s.press(input.Tab)
	s.until("the skip link shows when it has the focus",
		"document.activeElement.className === 'skip' && document.activeElement.getBoundingClientRect().top >= 0")
	find := func(question, first string) {
		t.Helper()
		s.press('/')
		s.until("the search has the focus", "document.activeElement.id === 'search-all'")
		s.typed(question)
		s.until("it finds "+first, "[...document.querySelectorAll('.p-autocomplete-option')].find(o => "+
			"o.dataset.pFocused === 'true')?.innerText.includes('"+first+"')")
		s.enter()
	}
	find("seek-1", "SEEK-1, 1 of 2")
	s.until("the piece's plan is open", "location.pathname === '/plan/"+id+"'")
	s.until("its title says so", "document.title === 'Plan · Top sirloin, boneless SEEK-1 · Falda'")
	s.until("the page has the focus", "document.activeElement.id === 'main'")
	s.press('/')
	s.until("the search has the focus", "document.activeElement.id === 'search-all'")
	s.typed("zzqqxx")
	s.says("Nothing is called so")
	s.press(input.Escape)
	s.until("the search is shut", "!document.getElementById('search-all')")
	find("tri-tip", "Tri-tip")
	s.until("the atlas shows it", "location.pathname.startsWith('/atlas/')")
	find("best use", "Best use today")
	s.until("the page is open", "location.pathname === '/value/best-use'")
	s.until("its group is marked", "document.querySelector('.opens.here')?.innerText === 'Money'")

	s.press('?')
	s.until("help for this page", "document.querySelector('[data-test=help]')?.innerText.includes('Help: Best use')")
	s.press(input.Escape)
	s.until("help is shut", "!document.querySelector('[data-test=help]')")

	// two touches, on a desk and on a phone
	s.touch("Shop")
	s.touch("Who changed what")
	s.until("the audit is open", "location.pathname === '/shop/audit'")
	s.MustSetViewport(390, 844, 1, false)
	s.touch("Menu")
	s.touch("Tastings")
	s.until("the tastings are open", "location.pathname === '/tastings' && document.title === 'Tastings · Falda'")
	s.until("the menu is shut", "!document.querySelector('.panel')")

	// a stage's link goes to the stage, which lies below the others on a phone
	s.choose("nav.rail a:nth-child(4)")
	s.until("the judged are in sight", "(() => { const r = document.getElementById('judge')?.getBoundingClientRect(); "+
		"return r && r.top >= 0 && r.top < 300 })()")
	s.eval("history.back()")
	s.until("back", "location.pathname === '/tastings'")

	// the way up
	s.MustNavigate(a.url + "/plans/beef.top_sirloin/new?from=seamed")
	s.until("the line names the way up",
		"[...document.querySelectorAll('.crumbs li')].map(l => l.innerText).join('>').startsWith('Atlas>Cutting plans>')")
	s.touch("Cutting plans")
	s.until("the plans are open", "location.pathname === '/plans/beef.top_sirloin'")
}

// At a bench nothing of the desk is in the way; the light follows the system until one chooses.
func TestABenchHidesTheDesk(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("CALM-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1024, 768)
	s.says("Before the first cut")
	if got := s.eval("[...document.querySelectorAll('.bar a, .bar button')].map(e => e.innerText.replace(/\\s+/g, ' ')" +
		".trim()).join('; ')"); got != "Falda; G Hand over; K Practice; M Sound off; ? Help; Owner" {
		t.Errorf("the bar of a bench holds %s", got)
	}
	s.touch("Owner")
	s.says("Weights in")
	for _, c := range []string{"dark", "light"} {
		s.choose("input[value=" + c + "]")
		s.until(c+" is chosen", "document.documentElement.dataset.scheme === '"+c+"'")
	}
	s.choose("input[value=lb]")
	s.until("weights are in pounds", "document.querySelector('.plate .unit').innerText === 'lb'")
	s.press(input.Escape)
	s.until("the panel is shut", "!document.querySelector('.you')")
	s.press('/')
	s.until("no search at a bench", "!document.getElementById('search-all')")
}
