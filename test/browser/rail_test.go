package browser

import (
	"fmt"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
)

// The rail is searched and filtered, and what was asked stands in the address; nothing says that it is empty while it
// is still being read.
func TestTheRailIsFiltered(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	held := make(chan struct{})
	router := b.HijackRequests()
	router.MustAdd("*/api/v1/pieces*", func(h *rod.Hijack) {
		select {
		case <-held:
		case <-time.After(patience):
		}
		h.ContinueRequest(&proto.FetchContinueRequest{})
	})
	go router.Run()
	s := a.show(b, "/", 1280, 800)
	s.says("The rail is being read")
	if s.eval("document.body.innerText.includes('The rail is empty')") != "false" {
		t.Error("it is said to be empty before it is known")
	}
	s.until("its shape is there", "document.querySelectorAll('.p-skeleton').length > 8")
	close(held)
	s.says("wait for a plan")
	router.MustStop()
	all := "[...document.querySelectorAll('.tag .name')].map(e => e.innerText)"
	s.until("small maps", "document.querySelectorAll('.tag svg.mini').length > 8")
	s.until("what is off is hatched", "document.querySelectorAll('#bench svg.mini path.off').length === 2")
	s.until("each stage has its weight",
		"[...document.querySelectorAll('.column > .head')].every(h => / kg/.test(h.innerText))")
	s.until("what waits for its age is folded",
		"/pieces wait for their age/.test(document.querySelector('#plan summary').innerText)")
	s.put(".filter input[type=search]", "shoulder clod")
	s.until("only clods", all+".length && "+all+".every(n => n.startsWith('Shoulder clod'))")
	s.until("it stands in the address", "location.search === '?q=shoulder+clod'")
	s.choose(".tag")
	s.until("a piece is open", "location.pathname !== '/'")
	s.eval("history.back()")
	s.until("what was asked is still there", "document.querySelector('.filter input').value === 'shoulder clod' && "+
		all+".length && "+all+".every(n => n.startsWith('Shoulder clod'))")
	s.touch("Show all")
	s.choose("input[value=lamb]")
	s.until("only lamb", "location.search === '?kind=lamb' && "+all+".length && !"+all+".some(n => n.startsWith('Top'))")
}

// A long list is searched, sorted and paged, and its state stands in the address: it is there again after Back; on a
// phone its rows are cards.
func TestALongListKeepsItsState(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/log", 1280, 800)
	cells := func(n int) string {
		return fmt.Sprintf("[...document.querySelectorAll('.list-table tbody tr td:nth-child(%d)')].map(c => c.innerText)", n)
	}
	s.put("#text", "clod")
	s.until("only clods", cells(1)+".length === 9 && "+cells(1)+".every(c => c.startsWith('Shoulder clod'))")
	numbers := cells(9) + ".map(c => Number(c.replace('−', '-').replace(/[^0-9.-]/g, '')))"
	s.choose("th:nth-child(9)")
	s.until("the least first", numbers+".every((n, i, all) => !i || n >= all[i - 1])")
	s.choose("th:nth-child(9)")
	s.until("the most first", numbers+".every((n, i, all) => !i || n <= all[i - 1]) && "+
		"location.search === '?text=clod&sort=-gain'")
	s.choose(".list-table tbody a")
	s.until("a row is open", "location.pathname.startsWith('/log/')")
	s.eval("history.back()")
	s.until("the list is as it was", "document.getElementById('text')?.value === 'clod' && "+cells(1)+".length === 9 && "+
		numbers+".every((n, i, all) => !i || n <= all[i - 1])")

	// a day is typed as its hint shows it, or touched in a calendar
	s.eval("(() => { const f = document.getElementById('from'); f.value = '−900'; for (const e of ['input', 'change']) " +
		"f.dispatchEvent(new Event(e, { bubbles: true })) })()")
	s.until("the day counts", "new URLSearchParams(location.search).get('from') === '−900' && "+cells(1)+".length === 9")
	s.choose(".day-pick button")
	s.choose(".p-datepicker-day:not(.p-disabled)")
	s.until("the calendar fills it in", "/^\\d{4}-\\d{2}-\\d{2}$/.test(document.getElementById('from').value) && "+
		"!document.querySelector('.p-datepicker')")

	// a file that does not come says so, where it was asked for
	s.eval("window.fetch = () => Promise.reject(new TypeError('gone'))")
	s.touch("CSV")
	s.until("the failure is said",
		"document.querySelector('.files [role=alert]')?.innerText.includes('network')")

	s.MustNavigate(a.url + "/shop/prices?sort=name")
	prices := "[...document.querySelectorAll('.prices tbody tr td:first-child')].map(c => c.innerText)"
	s.until("fifty prices", prices+".length === 50")
	s.choose(".prices .p-paginator-next")
	s.until("the next fifty", "location.search.includes('page=2') && "+prices+".length === 50 && "+
		"document.querySelector('.prices .p-paginator-current').innerText.startsWith('51 to 100 of ')")
	s.put(".find input[type=search]", "tri-tip")
	s.until("those that fit, from their first", prices+".length > 0 && "+prices+".length < 10 && "+prices+
		".every(c => /tri-tip/i.test(c))")
	s.MustSetViewport(390, 844, 1, false)
	s.until("cards on a phone", "getComputedStyle(document.querySelector('.list-table tbody tr')).display === 'grid' && "+
		"document.documentElement.scrollWidth <= innerWidth")
}

// What was done can be taken back where it was done; what cannot be undone is asked first; a form that was changed is
// not left without a word.
func TestWhatIsDoneIsSaid(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/shop/people", 1280, 800)
	s.until("people", "document.querySelector('.people tbody button')")
	s.eval("[...document.querySelectorAll('.people tbody tr')].find(r => r.innerText.startsWith('Apprentice'))" +
		".querySelector('button').click()")
	s.touch("Block access")
	s.says("Block access for Apprentice?")
	s.touchIn(".p-confirmdialog", "Cancel")
	s.until("nothing is done", "!document.querySelector('.p-confirmdialog')")
	s.touch("Block access")
	s.touchIn(".p-confirmdialog", "Block access")
	s.until("it is said", "document.querySelector('[data-test=done]')?.innerText.includes('can no longer sign in')")

	// a bench out of use, and back by Undo
	s.MustNavigate(a.url + "/shop/benches")
	s.eval("1")
	s.until("benches", "document.querySelector('[data-bench=South]')")
	s.eval("[...document.querySelectorAll('[data-bench=South] button')].find(b => b.innerText === 'Out of use').click()")
	s.touchIn(".p-confirmdialog", "Out of use")
	s.until("it is out of use", "document.querySelector('[data-bench=South]').classList.contains('out')")
	s.touch("Undo")
	s.until("it is back", "!document.querySelector('[data-bench=South]').classList.contains('out')")

	// a changed form
	s.MustNavigate(a.url + "/shop")
	s.put("#labour", "not a number")
	s.touch("Save")
	s.until("the fault has the focus", "document.activeElement.id === 'labour' && document.getElementById('labour-fault')")
	s.touch("People")
	s.says("Leave without saving?")
	s.touchIn(".p-confirmdialog", "Stay here")
	s.until("nothing is lost",
		"location.pathname === '/shop' && document.getElementById('labour').value === 'not a number'")
	s.touch("People")
	s.touchIn(".p-confirmdialog", "Leave without saving")
	s.until("it is left", "location.pathname === '/shop/people'")
}
