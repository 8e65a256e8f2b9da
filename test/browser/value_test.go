package browser

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
)

// TestValuePages goes through the pages of value on one program, in an order in which none stands in another's way.
func TestValuePages(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	for _, page := range []struct {
		name string
		test func(*testing.T, *app, *rod.Browser)
	}{{"does it pay", doesItPay}, {"a whole carcass", aWholeCarcass}, {"history", historyDownToThePieces},
		{"the price book", priceBookOfAMarket}, {"best use", bestUseOfTheDay}} {
		t.Run(page.name, func(t *testing.T) {
			whole := a.t
			a.t = t
			defer func() { a.t = whole }()
			page.test(t, a, b)
		})
	}
}

// Does it pay? A plan against all pieces that were cut by another: the sentence, both bridges adding up to what it
// says, today's prices beside those of the day; a link that whoever has it can read, until it is ended.
func doesItPay(t *testing.T, a *app, b *rod.Browser) {
	s := a.show(b, "/value", 1280, 900)
	s.until("two plans are compared",
		"document.querySelector('[data-test=pair-sentence]')?.innerText.includes('more than')")
	s.choose("details.question summary")
	s.choosing("Way B is", "group")
	s.choosing("Cut by plan", "seamed")
	s.until("the group is there",
		"document.querySelector('[data-test=pair-sentence]')?.innerText.includes('× Top sirloin')")
	// what the bridges say adds up to the sentence's figure, to a cent for each step
	sum := "(sel) => [...document.querySelectorAll(`[data-test=${sel}] strong`)].reduce((n, e) => n + " +
		"Number(e.innerText.replace('−', '-').replace(/[^0-9.-]/g, '')), 0)"
	lead := "Number(document.querySelector('.figures .figure').innerText.replace('−', '-').replace(/[^0-9.-]/g, ''))"
	for _, bridge := range []string{"by-muscle", "by-cause"} {
		if off := s.eval(fmt.Sprintf("Math.abs((%s)(%q) - %s) > 0.08 ? `${(%s)(%q)} of ${%s}` : ''", sum, bridge, lead, sum,
			bridge, lead)); off != "" {
			t.Errorf("%s adds up to %s", bridge, off)
		}
	}
	s.until("it says what would turn it", "document.querySelectorAll('[data-test=turns] li').length > 3")
	s.until("and how much must sell", "document.querySelectorAll('[data-test=sell] tbody tr').length > 2")
	s.put("input[aria-label='Price of the block']", "20")
	s.enter()
	s.until("a dear block leaves less",
		"[...document.querySelectorAll('[data-test=alternatives] tbody tr')].every(r => r.innerText.includes('€20.00'))")
	s.put("input[aria-label='Price of the block']", "x")
	s.enter()
	s.until("a price that is none is told at its field",
		"[...document.querySelectorAll('[role=alert]')].some(e => e.innerText.includes('number'))")
	s.put("input[aria-label='Price of the block']", " ")
	s.enter()
	s.until("the comparison is back", "document.querySelector('[data-test=costs]')")
	s.choose("[data-test=reprice]")
	s.until("today's prices are taken",
		"document.querySelector('[data-test=reprice]').innerText.includes('Prices of their day')")
	s.touch("Share by a link")
	s.until("the link is shown", "document.querySelector('[data-test=link]')?.value.includes('/shared/fr_')")
	link := s.eval("document.querySelector('[data-test=link]').value")
	sentence := s.text("[data-test=pair-sentence]")
	address := s.eval("location.href")
	other, _ := open(t, "")
	stranger := show(t, other, link, 390, 844)
	stranger.says(strings.TrimSuffix(sentence, "."))
	s = a.show(b, "/value/shares", 1280, 900)
	s.says("Comparison: Top sirloin")
	s.touch("End it")
	s.says("ended")
	stranger = show(t, other, link, 390, 844)
	stranger.says("There is nothing at this link")
	s = show(t, b, address, 1280, 900)
	s.until("the address keeps what is compared",
		"document.querySelector('[data-test=pair-sentence]')?.innerText.includes('× Top sirloin')")
}

// The best use of what is ready: found, said piece by piece, and planned so; an order that cannot be met is told at its
// own line.
func bestUseOfTheDay(t *testing.T, a *app, b *rod.Browser) {
	s := a.show(b, "/value/best-use", 1280, 900)
	s.until("it is found at once",
		"document.querySelector('[data-test=best-sentence]')?.innerText.includes('of 240 bench minutes')")
	s.choose("details.question summary")
	s.put("#bu-minutes", "90")
	s.touch("Add an order")
	s.choosing("Product of order 1", "beef.cap_steak")
	s.put("input[aria-label='Weight of order 1']", "400")
	s.until("the order that cannot be met is told",
		"document.querySelector('.order .fault')?.innerText.includes('Cannot be met: 400.00 kg of Rump cap steak')")
	s.put("input[aria-label='Weight of order 1']", "0.9")
	s.until("it is found anew",
		"document.querySelector('[data-test=best-sentence]')?.innerText.includes('of 90 bench minutes')")
	s.until("every piece says why", "[...document.querySelectorAll('[data-test=best-pieces] tbody .why')].length > 3 && "+
		"[...document.querySelectorAll('[data-test=best-pieces] tbody .why')].every(e => e.innerText.length > 20)")
	// another plan for one piece: what it costs is said, and it can be let go again
	row := "[...document.querySelectorAll('[data-test=best-pieces] [data-piece]')].find(r => r.innerText.includes('Top " +
		"sirloin'))"
	label := s.eval(row + ".querySelector('[role=combobox]').getAttribute('aria-label')")
	s.choosing(label, "small_roasts") // which is best for no piece, so that it is another than the one that stands there
	s.until("what the choice costs", "/€\\d/.test(document.querySelector('[data-test=pins-cost]')?.innerText ?? '') && "+
		"[...document.querySelectorAll('[data-test=best-pieces] tr.pinned [role=combobox]')].some(c => c.ariaLabel === '"+
		label+"')")
	s.touch("Best again")
	s.until("it is free again", "!document.querySelector('[data-test=pins-cost]')")
	s.choosing(label, "(none)")
	s.until("it is not cut today", "document.body.innerText.includes('not today') && "+
		"![...document.querySelectorAll('[data-test=best-pieces] [role=combobox]')].some(c => c.ariaLabel === '"+label+"')")
	s.touch("Take in again")
	s.until("it is back",
		"[...document.querySelectorAll('[data-test=best-pieces] [role=combobox]')].some(c => c.ariaLabel === '"+
			label+"')")
	s.choose("[data-test=take]")
	s.until("the pieces are planned",
		"document.body.innerText.includes(' planned.') && !document.querySelector('[data-test=take]')")
	s = a.show(b, "/value/best-use", 1280, 900)
	s.until("what was asked is remembered", "document.querySelector('#bu-minutes').value === '90'")
}

// A whole lamb: swapping the plan of one piece changes the head by what the swap alone brings; the bands follow the
// piece.
func aWholeCarcass(t *testing.T, a *app, b *rod.Browser) {
	s := a.show(b, "/value/carcass", 1280, 900)
	s.until("the head is there", "document.querySelector('[data-test=head]')?.innerText.includes('€')")
	before := s.text("[data-test=head]")
	s.choosing("Plan of Saddle, loin pair on the bone", "seamed")
	s.until("the swap shows",
		"document.querySelector('[data-test=carcass-sentence]').innerText.includes('Cut so, a carcass leaves')")
	if after := s.text("[data-test=head]"); after == before {
		t.Error("the head stays at " + after)
	}
	s.until("what the swap alone brings",
		"[...document.querySelectorAll('[data-test=pieces] tbody tr')].filter(r => /[+−]€/.test(r.innerText)).length === 1")
	s.until("the bands are drawn", "document.querySelectorAll('.flow svg path').length > 30")
	// by keyboard: to the first piece, and open it
	s.eval("document.querySelector('.flow [data-test=plot]').focus()")
	s.press(input.ArrowRight)
	s.until("the piece is named", "document.querySelector('.flow [aria-live]').innerText.startsWith('Leg with chump')")
	folded := s.eval("document.querySelectorAll('.flow svg path').length")
	s.enter()
	s.until("its muscles are drawn", "document.querySelectorAll('.flow svg path').length > "+folded)
	// the two legs each its own way; the neck on its own and sold as it is; the lamb sold as it is
	s.choose("button[data-part='lamb.leg_chump']")
	s.choosing("Plan of Leg with chump, bone-in, the other one", "seamed")
	s.until("each brings its own", "[...document.querySelectorAll('[data-test=pieces] tbody tr')].filter(r => "+
		"r.innerText.startsWith('Leg') && r.innerText.includes('3.10')).length === 2")
	s.choose("[data-test=divisions] input[value=shoulders]")
	s.says("Shoulders lifted off the ribs")
	s.until("it has other pieces", "document.querySelector('[data-test=pieces]').innerText.includes('neck')")
	s.choosing("Plan of Neck, whole, bone-in", "whole")
	s.says("What it brings cannot be said yet: 1 of")
	s.put("[id='sold-lamb.neck']", "6.50")
	s.enter()
	s.says("Cut so, a carcass leaves")
	s.put("#cv-whole", "12")
	s.enter()
	s.until("whole it brings that", "document.querySelector('[data-test=whole]')?.innerText.includes('€') && "+
		"/Sold whole it would leave €[0-9.]+ "+
		"(less|more)/.test(document.querySelector('[data-test=carcass-sentence]').innerText)")
	s.put("#cv-heads", "x")
	s.enter()
	s.says("Must be from 1 to 10000")
	s.picks("[role=combobox]#cv-carcass", "beef.side")
	s.until("the side is there", "document.querySelectorAll('[data-test=pieces] tbody tr').length > 8")
	s.until("its yield grade too",
		"document.querySelector('[data-test=yield-grade]')?.innerText.includes('most saleable meat')")
}

// History: cutter by cutter, down to the pieces, and from there to one of them.
func historyDownToThePieces(t *testing.T, a *app, b *rod.Browser) {
	s := a.show(b, "/value/history", 1280, 900)
	s.until("the picture is drawn", "document.querySelectorAll('[data-test=plot] svg path').length > 8")
	s.eval("document.querySelector('[data-test=plot]').focus()")
	s.press(input.ArrowRight)
	s.until("the first week is said", `/^20\d\d-W\d\d: €\d/.test(document.querySelector('.chart [aria-live]').innerText)`)
	s.enter()
	s.until("and opens to its pieces", "document.querySelectorAll('[data-test=pieces] tbody tr').length > 0")
	for _, kind := range []string{"SVG", "PNG"} {
		file := b.MustWaitDownload()
		s.touch(kind)
		if got := string(file()); !strings.Contains(got[:min(len(got), 400)],
			map[string]string{"SVG": "<svg", "PNG": "\x89PNG"}[kind]) {
			t.Errorf("the picture as %s begins with %.40q", kind, got)
		}
	}
	s.choosing("by", "cutter")
	s.until("cutter by cutter", "document.querySelector('[data-test=buckets]')?.innerText.includes('Head cutter')")
	s.touch("Head cutter")
	s.until("the pieces behind it",
		"document.querySelectorAll('[data-test=pieces] tbody tr').length > 2 && "+
			"[...document.querySelectorAll('[data-test=pieces] tbody tr')].every(r => r.innerText.includes('Head cutter'))")
	s.choose("[data-test=pieces] tbody a")
	s.until("and one of them", "document.querySelector('[data-test=sentence]')?.innerText.length > 20")
}

// The price book: the feed is shown before it is kept; a price of a market holds from its day and can be taken out.
func priceBookOfAMarket(t *testing.T, a *app, b *rod.Browser) {
	s := a.show(b, "/shop/prices", 1280, 900)
	s.choose("[data-test=feed]")
	s.until("what the feed would do",
		"document.body.innerText.includes('The market feed: ') && document.body.innerText.includes('Ferry galley, from')")
	s.touch("Save 9 prices")
	s.says("9 prices set.")
	s.until("they are marked as the feed's",
		"document.querySelector('.prices').innerText.includes('from the feed, since')")
	s.eval("document.querySelectorAll('details').forEach(d => { d.open = true })")
	s.picks("[role=combobox][aria-label=Market]", "Ferry galley")
	s.says("Prices of Ferry galley")
	s.picks("#q-key", "Flat iron steak")
	s.put("#q-price", "x")
	s.touch("Set it")
	s.until("what is no price is told at its field",
		"document.querySelector('#q-price').closest('.quote').innerText.includes('number')")
	s.put("#q-price", "21.50")
	s.eval("[...document.querySelectorAll('.quote button')].find(b => b.innerText === 'Set it').click()")
	s.says("Flat iron steak: set.")
	s.until("it holds",
		"[...document.querySelectorAll('.prices tbody tr')].some(r => r.innerText.includes('Flat iron') && "+
			"r.innerText.includes('€21.50'))")
	s.eval("[...document.querySelectorAll('[data-test=quotes] tbody tr')].find(r => r.innerText.includes('Flat " +
		"iron')).querySelector('button').click()")
	s.says("Flat iron steak: removed.")
}

// The week's kill is asked anew with other heads; the answer names them, the picture is drawn, what one more is worth
// stands with what a single one is, and the other ways beside it.
func TestAWeeksKill(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/value/week?heads=lamb.whole~3~&minutes=&saw=&open=0", 1280, 900)
	s.until("the answer is there", "document.querySelector('[data-test=week-sentence]')?.innerText.startsWith('3 ×')")
	s.until("the picture is drawn", "document.querySelector('.flow svg path')")
	s.says("As the last seven days were cut")
	s.until("the bid has its interval", "/a single one .+ to /.test(document.querySelector('[data-test=bid]')?.innerText)")
	var v struct {
		Ways  []struct{ ID, Brings string }
		Worth []struct{ More string }
	}
	a.api("POST", "/week", map[string]any{"days": 7, "open_orders": false,
		"heads": []map[string]any{{"carcass": "lamb.whole", "count": 3}}}, &v)
	shown := s.text("[data-test=week-ways]")
	for _, w := range v.Ways {
		if !strings.Contains(strings.ReplaceAll(shown, ",", ""), w.Brings) {
			t.Errorf("%s brings %s, and the page says\n%s", w.ID, w.Brings, shown)
		}
	}
	s.takeTheWeek(a)
	s.choose("details.question summary")
	s.until("the question is open", "document.querySelector('details.question')?.open")
	s.eval("[...document.querySelectorAll('details.question input')].find(i => i.value === '3').focus()")
	s.eval("document.activeElement.select()")
	s.typed("5")
	s.enter()
	s.until("it was asked anew", "document.querySelector('[data-test=week-sentence]')?.innerText.startsWith('5 ×')")
	if !strings.Contains(s.eval("location.search"), "lamb.whole~5") {
		t.Errorf("the address says %s", s.eval("location.search"))
	}
}

// takeTheWeek plans the pieces that wait as the week has it, those too that have a plan and are not begun: as many as
// the button says get another way, and each gets one that the week has for its kind.
func (s *screen) takeTheWeek(a *app) {
	s.t.Helper()
	type card struct {
		ID       string
		AtlasID  string `json:"atlas_id"`
		PlanName string `json:"plan_name"`
	}
	var before, after []card
	a.list("/pieces", "pieces", &before)
	s.choose("[data-test=week-anew] input")
	s.until("there are pieces to plan", "document.querySelector('[data-test=week-take]')")
	said := s.text("[data-test=week-take]")
	s.choose("[data-test=week-take]")
	s.until("they are planned", "!document.querySelector('[data-test=week-take]')")
	a.list("/pieces", "pieces", &after)
	shown, changed := s.text("table[aria-label='Which piece goes which way']"), 0
	for _, x := range after {
		at := slices.IndexFunc(before, func(o card) bool { return o.ID == x.ID })
		if before[at].PlanName == x.PlanName {
			continue
		}
		changed++
		if !strings.Contains(shown, x.PlanName) {
			s.t.Errorf("%s is to be cut by %q, which the week has not:\n%s", x.AtlasID, x.PlanName, shown)
		}
	}
	if want := fmt.Sprintf("Plan the %d piece", changed); changed == 0 || !strings.HasPrefix(said, want) {
		s.t.Errorf("%q, and %d pieces got another way", said, changed)
	}
}
