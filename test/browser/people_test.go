package browser

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod"
)

// press a button or link by what it says.
func (s *screen) touch(text string) {
	s.t.Helper()
	find := fmt.Sprintf("[...document.querySelectorAll('button, a')].find(e => e.offsetParent && e.innerText.trim() === "+
		"%q && !e.disabled)", text)
	s.until("there is "+text+" to touch", find)
	s.eval("(" + find + ").click()")
}

// touchIn touches a button within a part of the page.
func (s *screen) touchIn(within, text string) {
	s.t.Helper()
	find := fmt.Sprintf("[...document.querySelectorAll(%q)].find(e => e.offsetParent && e.innerText.trim() === %q)",
		within+" button", text)
	s.until("there is "+text+" to touch in "+within, find)
	s.eval("(" + find + ").click()")
}

func (s *screen) fill(id, text string) {
	s.t.Helper()
	s.tabTo("#" + id)
	s.eval("document.activeElement.select?.()")
	s.typed(text)
}

// fresh is a page of a browser that knows nobody yet.
func fresh(t *testing.T, b *rod.Browser, url string) *screen {
	t.Helper()
	return show(t, b.MustIncognito(), url, 1280, 800)
}

// Somebody is invited, chooses a password through the link, and comes in with it; who forgot to lock the door is signed
// out everywhere.
func TestInviteAndComeIn(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := fresh(t, b, a.url+"/shop/people")
	s.says("Who is working?")
	s.tabTo("[data-role=owner]")
	s.enter()
	s.says("5 people, 4 with a PIN for the benches.")
	s.fill("new-name", "Bo")
	s.fill("new-email", "not an address")
	s.enter()
	s.until("the address is refused at its field",
		"document.getElementById('new-email-fault')?.innerText.includes('is not an address')")
	s.fill("new-email", "bo@skerrow.example")
	s.fill("new-pin", "1234")
	s.enter()
	s.until("the PIN is refused at its field",
		"document.getElementById('new-pin-fault')?.innerText.includes('tried first')")
	s.fill("new-pin", "8306")
	s.enter()
	s.says("A link for Bo")
	link := s.text("[data-test=secret]")
	s.says("6 people, 5 with a PIN")

	bo := fresh(t, b, link)
	bo.says("You sign in as bo@skerrow.example, to Skerrow Cutting Hall.")
	bo.fill("new-password", "bobobobobobo")
	bo.enter()
	bo.until("the password is refused at its field",
		"document.getElementById('new-password-fault')?.innerText.includes('too easy')")
	bo.fill("new-password", "kelp and granite")
	bo.enter()
	bo.says("wait for a plan")
	bo.touch("Bo")
	bo.touch("Your page: PIN, password, sign-ins")
	bo.says("Where you are signed in")
	bo.touch("Sign out everywhere")
	bo.says("Who is working?")
	bo.touch("with address and password")
	bo.fill("email", "bo@skerrow.example")
	bo.fill("password", "kelp and gravel")
	bo.enter()
	bo.says("Does not belong to this address")
	bo.fill("password", "kelp and granite")
	bo.enter()
	bo.says("Where you are signed in")
	if again := fresh(t, b, link); true {
		again.says("This link does not hold")
	}
	// Bo is a cutter: the shop's own pages are not for that role
	bo.MustNavigate(a.url + "/shop/audit")
	bo.says("This page is not for your role.")
	// let in no more, Bo is out at the next step
	s.eval("[...document.querySelectorAll('.people tbody tr')].find(r => r.innerText.includes('bo@skerrow.example'))" +
		".querySelector('button').click()")
	s.touch("Block access")
	s.touchIn(".p-confirmdialog", "Block access")
	s.says("No longer here; what they did stays")
	bo.MustNavigate(a.url + "/")
	bo.says("Who is working?")
}

// A screen is enrolled with a code. A cutter comes in with two touches and the PIN, another takes over at the same
// board, and what each books is theirs.
func TestBenchScreenAndPins(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	id := a.planned("P-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/shop/benches", 1280, 800)
	s.until("North is there", "document.querySelector('[data-bench=North]')")
	s.eval("[...document.querySelectorAll('[data-bench=North] button')].find(e => e.innerText === 'Enrol a " +
		"screen').click()")
	code := s.text("[data-test=secret]")

	wall := show(t, b.MustIncognito(), a.url+"/enrol", 1024, 768)
	wall.fill("code", "ABCD-EFGH")
	wall.enter()
	wall.says("Is not a code that holds")
	wall.fill("code", strings.ToLower(code))
	wall.enter()
	wall.says("Who cuts at North?")
	pin := func(name, digits string) {
		t.Helper()
		wall.touch(name)
		for _, d := range digits {
			wall.touch(string(d))
		}
	}
	pin("Cutter", "0000")
	wall.says("Is not the PIN of Cutter")
	for _, d := range "4802" {
		wall.touch(string(d))
	}
	wall.says("wait for a plan")
	wall.MustNavigate(a.url + "/bench/" + id)
	wall.lookedOver()
	wall.says("Cutter cuts")
	wall.typed("6600")
	wall.enter()
	wall.residual("6.600")
	// two touches and the PIN, and the board is there again
	wall.eval("document.querySelector('.who').click()")
	pin("Apprentice", "6174")
	wall.says("Apprentice cuts")
	wall.residual("6.600")
	wall.typed("1000")
	wall.enter()
	wall.residual("5.600")
	var log []struct {
		Name  string
		Event struct{ Kind, Role string }
	}
	a.api("GET", "/breakdowns/"+id+"/events", nil, &log)
	if len(log) != 3 || log[0].Event.Kind != "inspected" || log[1].Name != "Cutter" || log[1].Event.Role != "cutter" ||
		log[2].Name != "Apprentice" || log[2].Event.Role != "apprentice" {
		t.Errorf("who did what: %+v", log)
	}
	if small := wall.eval("[...document.querySelectorAll('.key, .tile')].filter(e => e.offsetParent && " +
		"e.getBoundingClientRect().height < 56).length"); small != "0" {
		t.Errorf("%s keys are too small for a glove", small)
	}
	// taken off, the screen asks nobody's name any more
	s.MustReload()
	s.until("the screen is listed", "document.querySelector('[data-bench=North] li')")
	s.eval("document.querySelector('[data-bench=North] li button').click()")
	s.touchIn(".p-confirmdialog", "Take off")
	s.says("No screen is enrolled here.")
	wall.MustReload()
	wall.says("Who is working?")
}

// Settings are kept or refused at their field; a token is shown once; the audit says who did it and can be fetched as a
// file.
func TestShopPages(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/shop", 1280, 800)
	s.fill("labour", "much")
	s.fill("knife", "0")
	s.enter()
	for id, says := range map[string]string{"labour": "is not a number", "knife": "must be from 0.1 to 20 %"} {
		s.until(id+" says "+says,
			fmt.Sprintf("document.getElementById('%s-fault')?.innerText.toLowerCase().includes(%q)", id, says))
	}
	s.fill("labour", "26.50")
	s.fill("knife", "1.8")
	s.enter()
	s.says("Settings saved.")
	// somebody else was faster
	a.api("PUT", "/shop",
		map[string]any{"name": "Skerrow Cutting Hall", "market": "house", "currency": "EUR", "weight_unit": "kg",
			"labour_rate": "27", "packaging_per_kg": "0.12", "loss_limit_knife_pct": 1.8, "loss_limit_saw_pct": 2.5,
			"division_g": 5, "lot_prefix": "SK-", "idle_minutes": 10, "version": a.shopVersion()}, nil)
	s.fill("labour", "28")
	s.enter()
	s.says("Somebody else changed this since you opened it")
	s.touch("Load it again")
	s.until("theirs is there", "document.getElementById('labour').value === '27.00'")

	s.MustNavigate(a.url + "/shop/tokens")
	s.fill("token-name", "Stock list")
	s.enter()
	s.says("The token Stock list")
	secret := s.text("[data-test=secret]")
	if !strings.HasPrefix(secret, "ft_") {
		t.Errorf("the token is %q", secret)
	}
	s.MustReload()
	s.says("1 token lets scripts in.")
	if s.eval("document.body.innerText.includes('"+secret+"')") != "false" {
		t.Error("the token is shown again")
	}
	s.touch("Revoke")
	s.touchIn(".p-confirmdialog", "Revoke token")
	s.says("No access tokens yet.")

	s.MustNavigate(a.url + "/shop/audit")
	s.says("revoked a token")
	s.until("who signed in is not shown", "![...document.querySelectorAll('[data-test=trail] strong')].some(x => "+
		"x.innerText === 'signed in')")
	s.picks("#what", "Everything")
	s.says("signed in")
	s.picks("#what", "shop")
	s.until("only the shop's changes are left",
		"[...document.querySelectorAll('[data-test=trail] td strong')].filter(x => x.innerText === 'set the shop').length "+
			"=== 2 && document.querySelectorAll('[data-test=trail] tbody tr:not(.p-datatable-row-group-header)').length === 2")
	if was := s.text("[data-test=trail] tbody tr:last-child"); !strings.Contains(was, "24.00 → 26.50") ||
		!strings.Contains(was, "Owner") {
		t.Errorf("the row of the change: %s", was)
	}
	got, err := s.Eval(`async () => {
		const r = await fetch(document.querySelector('a[download]').href)
		return (await r.text()).split('\r\n').length
	}`)
	if err != nil || got.Value.Int() != 4 { // heading, two rows, the end
		t.Errorf("the CSV has %v lines, %v", got, err)
	}
	// an apprentice sees the settings and can change nothing
	a.signIn("apprentice")
	s = a.show(b, "/shop", 1280, 800)
	s.says("An owner of the shop can change these.")
	if s.eval("document.querySelector('#labour').matches(':disabled') && !document.body.innerText.includes('People')") !=
		"true" {
		t.Error("an apprentice could change the settings")
	}
	s.MustNavigate(a.url + "/receive")
	s.until("receiving is not offered", "!document.querySelector('.rail').innerText.includes('Receive')")
}

// The page's policy stops an inline script, and what would come from elsewhere.
func TestPolicyStopsInlineScript(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	p := b.MustPage(a.url)
	p.MustWaitLoad()
	got, err := p.Eval(`async () => {
		const stopped = []
		document.addEventListener('securitypolicyviolation', (e) => stopped.push(e.effectiveDirective))
		const script = document.createElement('script'); script.textContent = 'window.got = true';
		document.head.append(script)
		const style = document.createElement('style'); style.textContent = 'body { color: red }'; document.head.append(style)
		const image = new Image(); image.src = 'http://127.0.0.2:9/x.png'; document.body.append(image)
		await fetch('http://127.0.0.2:9/').catch(() => {})
		await new Promise((r) => setTimeout(r, 500))
		return [String(window.got), ...stopped.sort()].join(' ')
	}`)
	if err != nil || got.Value.Str() != "undefined connect-src img-src script-src-elem style-src-elem" {
		t.Errorf("stopped: %v, %v", got.Value, err)
	}
}

// A price list is read in with a preview: good lines are set when asked, bad ones say why they are left out.
func TestPriceListInTheBrowser(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/shop/prices", 1280, 800)
	s.says("products have a price.")
	list := filepath.Join(t.TempDir(), "summer list.csv")
	if err := os.WriteFile(list, []byte("product,price\nRump cap steak,31.40\nUnicorn,1\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	s.MustElement("input[type=file]").MustSetFiles(list)
	s.says("summer list.csv: 1 to set, 0 stand already, 1 left out")
	s.says("“Unicorn” is not a product of the atlas")
	s.touch("Save 1 price, leave 1 out")
	s.says("1 price set.")
	s.put(".find input[type=search]", "rump cap steak")
	s.says("€31.40")
	// what is shown is changed by a percentage, seen first, and taken back: 31.40 and 10 % are 34.54, in tenths 34.50
	s.until("two products are shown", "document.querySelectorAll('.prices .price').length === 2")
	s.eval("document.querySelector('#raise-pct').closest('details').open = true")
	s.put("#raise-pct", "-95")
	s.touch("Show what it would change")
	s.says("ust be from −90 to 500")
	s.put("#raise-pct", "10")
	s.touch("Show what it would change")
	s.until("it is shown before it is saved",
		"document.querySelector('[data-test=raised] tbody')?.innerText.includes('€34.50')")
	s.touch("Save 2 prices")
	s.until("the price is changed", "document.querySelector('.prices .price')?.innerText === '€34.50'")
	s.touch("Undo")
	s.until("the price is taken back", "document.querySelector('.prices .price')?.innerText === '€31.40'")
	// where it stands: a refusal leaves what was typed in view, and Enter keeps what is right
	s.eval("document.querySelector('.prices .price').click()")
	s.put(".prices input[inputmode=decimal]", "dear")
	s.enter()
	s.says("“dear” is not a number.")
	s.put(".prices input[inputmode=decimal]", "32.50")
	s.enter()
	s.until("the price is kept where it stands",
		"document.querySelector('.prices .price')?.innerText === '€32.50'")
	bomb := filepath.Join(t.TempDir(), "bomb.csv")
	if err := os.WriteFile(bomb, bytes.Repeat([]byte("product,price\n"), 300_000), 0o600); err != nil {
		t.Fatal(err)
	}
	s.MustElement("input[type=file]").MustSetFiles(bomb)
	s.says("The file is larger than 2048 KiB")
}
