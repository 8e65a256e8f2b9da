package browser

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// The atlas is browsed by species and region, searched by any name also misspelt, and speaks as the shop's market does.
func TestAtlasPages(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/atlas", 1280, 800)
	s.says("29 pieces, 161 muscles.")
	s.tabTo("#ask")
	s.typed("flat irn")
	s.until("the muscle is found in its piece",
		"document.querySelector('.hits a')?.innerText.replace(/\\s+/g, ' ').startsWith('Top blade muscle of Shoulder clod')")
	s.says("perhaps “flat iron”")
	s.eval("document.querySelector('.hits a').click()")
	s.says("full dressing takes 26")
	s.says("M. infraspinatus")
	if s.eval("document.querySelector('.sheet h2').innerText") != "Top blade" {
		t.Error("the muscle that was found is not open")
	}
	// a neighbour is one touch away, on the map and in the words
	s.eval("document.querySelector('[data-part=teres_major]').dispatchEvent(new MouseEvent('click', { bubbles: true }))")
	s.until("the shoulder tender is open", "document.querySelector('.sheet h2').innerText === 'Shoulder tender'")
	if alt := s.eval("document.querySelector('.grain').getAttribute('aria-label')"); !strings.Contains(alt,
		"one way, fine") {
		t.Errorf("its grain is drawn as %s", alt)
	}
	s.MustNavigate(a.url + "/atlas/lamb.leg_chump")
	s.until("the bones are drawn", "document.querySelectorAll('.seammap .bone').length >= 4")
	if picks := s.eval("[...document.querySelectorAll('.seammap [role=button]')].map(e => " +
		"e.dataset.part).includes('femur')"); picks != "false" {
		t.Error("a bone can be touched like a muscle")
	}
	s.MustNavigate(a.url + "/atlas/carcass/lamb.whole")
	s.says("Whole lamb carcass")
	s.says("instead of Forequarter pair with neck, bone-in")
	s.touch("Saddle, loin pair on the bone")
	s.until("the saddle is open", "document.querySelector('h1')?.innerText.startsWith('Saddle')")
	// names as the shop's market says them
	a.api("PUT", "/shop",
		map[string]any{"name": "Skerrow Cutting Hall", "market": "uk", "currency": "EUR", "weight_unit": "kg",
			"labour_rate": "24", "packaging_per_kg": "0.12", "loss_limit_knife_pct": 1.5, "loss_limit_saw_pct": 2.5,
			"division_g": 5, "lot_prefix": "SK-", "idle_minutes": 10, "version": a.shopVersion()}, nil)
	s.MustNavigate(a.url + "/atlas/beef.top_sirloin")
	s.until("the rump is called so", "document.querySelector('h1')?.innerText === 'Rump'")
	s.says("Top sirloin, boneless")
	// a shoulder of lamb is received and forecast with all its plans
	s.MustNavigate(a.url + "/receive")
	s.until("the piece has the focus", "document.activeElement?.id === 'piece'")
	s.typed("oyster shoulder")
	s.until("it is offered", "document.querySelector('[role=option]')")
	s.enter()
	for _, field := range []struct{ id, text string }{{"#weight", "2.3"}, {"#price", "8.60"}, {"#slaughtered", "-6"},
		{"#packed", "-5"}, {"#supplier", "Upper Brae croft"}} {
		s.tabTo(field.id)
		s.typed(field.text)
	}
	s.says("on the piece")
	if over := s.eval("document.documentElement.scrollWidth > window.innerWidth"); over != "false" {
		t.Error("the forecast of four plans is wider than the window")
	}
}

// The atlas opens on the animal: a region is one touch from its piece, the list beside it shows where a piece lies, the
// division is the caller's; a lot shows the same drawing.
func TestAtlasOpensOnTheAnimal(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	a.boxed("WHERE-1", 1)
	b, _ := open(t, "")
	s := a.show(b, "/atlas", 1280, 800)
	s.until("the side is drawn", "document.querySelectorAll('.carcassmap .area').length === 14")
	s.until("no word of it crosses a line", `(() => {
		const svg = document.querySelector('.carcassmap')
		const shapes = [...svg.querySelectorAll('.flesh')]
		const words = [...svg.querySelectorAll('text')]
		return words.length === shapes.length && words.every((w, i) => {
			if (!w.textContent.trim()) return true
			const b = w.getBBox()
			return [[b.x, b.y], [b.x + b.width, b.y], [b.x, b.y + b.height], [b.x + b.width, b.y + b.height]].every(
				([x, y]) => shapes[i].isPointInFill(new DOMPoint(x + (b.x + b.width / 2 - x) * 0.12, y)))
		})
	})()`)
	s.tabTo("a.piece[href$='beef.rib']")
	s.until("the focused piece is marked on the side",
		"document.querySelector('.carcassmap .picked')?.dataset.part === 'beef.rib'")
	s.tabTo("a.piece[href$='beef.tenderloin']")
	s.until("a piece of another division is shown in that one",
		"document.querySelector('.carcassmap .picked')?.dataset.part === 'beef.tenderloin'")
	s.choose(".units input[value=lamb]")
	s.until("the lamb is drawn", "document.querySelectorAll('.carcassmap .area').length === 5")
	s.picks("#division", "Chump off the leg")
	s.until("the chump has its place", "document.querySelector('.carcassmap [data-part=\"lamb.chump\"]')")
	s.until("the address keeps both", "location.search === '?species=lamb&division=chump'")
	s.tabTo(".carcassmap [data-part='lamb.rack']")
	s.press(input.Space)
	s.until("the rack is open", "location.pathname === '/atlas/lamb.rack'")

	s.MustNavigate(a.url + "/lots")
	s.says("WHERE-1")
	s.touch("WHERE-1")
	s.until("the lot shows where it comes from",
		"document.querySelector('.carcassmap .picked')?.dataset.part === 'beef.top_sirloin'")
}
