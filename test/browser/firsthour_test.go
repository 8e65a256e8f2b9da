package browser

import (
	"fmt"
	"math"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
)

// actions counts what an owner does: a field that is filled in, a key that does something, a list that is picked from.
// Going on to the next field by Tab is no action of its own.
type actions struct {
	*screen
	n int
}

func (a *actions) fill(selector, text string) {
	a.t.Helper()
	a.n++
	a.tabTo(selector)
	a.eval(fmt.Sprintf("document.querySelector(%q).select?.()", selector)) // as Tab does in a browser with a window
	a.typed(text)
}

func (a *actions) act(selector string) {
	a.t.Helper()
	a.n++
	if selector != "" {
		a.tabTo(selector)
	}
	a.enter()
}

// keep takes a picture of a step for docs/first-hour.md, where one is asked for: FALDA_FIRST_HOUR names the folder.
func (a *actions) keep(name string) {
	folder := os.Getenv("FALDA_FIRST_HOUR")
	if folder == "" {
		return
	}
	a.t.Helper()
	time.Sleep(time.Second) // what moves comes to rest
	img, err := a.Screenshot(false, nil)
	if err == nil {
		err = os.WriteFile(filepath.Join(folder, name+".png"), img, 0o644)
	}
	if err != nil {
		a.t.Fatal(err)
	}
}

// From an empty database to the first true answer, by keyboard alone and in at most 60 actions: set-up with usual costs
// filled in, a few prices known by heart and the others guessed, the first box, a rump seamed, and whether it paid. The
// answer says how much of it rests on guesses, and its figure is the one by hand.
func TestTheFirstHour(t *testing.T) {
	dsn := database(t)
	p := run(t, "serve", "--dsn", dsn, "--addr", "127.0.0.1:0", "--drain", "0s", "--log", "json")
	_, link, _ := strings.Cut(p.line("set up once"), "#")
	a := &app{t: t, url: p.url}
	a.jar, _ = cookiejar.New(nil)
	b, _ := open(t, "")
	s := &actions{screen: show(t, b, a.url+"/set-up#"+link, 1280, 800)}

	s.until("the usual costs are filled in", "document.querySelector('#labour')?.value.length > 2 && "+
		"document.querySelector('#packaging').value.length > 2 && document.querySelector('#currency').value.length === 3")
	s.fill("#name", "Own shop")
	s.fill("#currency", "EUR")
	s.fill("#labour", "24")
	s.fill("#packaging", "")
	s.press(input.Delete)
	s.fill("#owner-name", "Ada")
	s.fill("#owner-email", "ada@own.example")
	s.fill("#owner-password", ownersPassword)
	s.act("")
	s.until("what costs money is asked for",
		"document.getElementById('packaging-fault')?.innerText.includes('0 where it costs')")
	s.fill("#packaging", "0.12")
	s.fill("#discard", "0")
	s.eval("document.scrollingElement.scrollTo(0, 0) ?? 1")
	s.keep("set-up")
	s.act("")
	s.says("The rail is empty. Receive the first lot.")
	s.until("what is to be done stands there", "document.querySelectorAll('[data-test=first-steps] li').length === 6 && "+
		"!document.querySelector('[data-step=prices].done')")
	s.keep("empty-rail")
	a.api("POST", "/session", map[string]any{"email": "ada@own.example", "password": ownersPassword}, nil)

	s.act("[data-step=prices] a")
	s.says("have no price yet")
	for _, f := range []struct{ key, price string }{{"mince_trim", "10"}, {"stew", "14"}, {"rump_steak", "21"},
		{"fillet_steak", "52"}} {
		s.fill("[id='heart-beef."+f.key+"']", f.price)
	}
	s.act("")
	s.says("guessed from 4.")
	s.until("the guesses are marked",
		"[...document.querySelectorAll('.prices td')].some(c => c.innerText.includes('guess, €'))")

	s.keep("guessed-prices")
	s.eval("history.back()")
	s.n++
	s.until("the prices are ticked", "document.querySelector('[data-step=prices].done')")
	s.act("[data-step=box] a")
	s.n += 2
	s.chooseTopSirloin("top sirloin")
	for _, f := range []struct{ id, text string }{{"#weight", "6.6"}, {"#price", "11.40"}, {"#slaughtered", "-24"},
		{"#supplier", "A croft"}} {
		s.fill(f.id, f.text)
	}
	s.act("")
	s.act("[data-plan=seamed] button")
	s.act(".step button")
	s.n++
	s.lookedOver()
	weights := []struct{ grams, left string }{{"6600", "6.600"}, {"180", "6.420"}, {"1000", "5.420"}, {"160", "5.260"},
		{"960", "4.300"}, {"900", "3.400"}, {"2400", "1.000"}, {"600", "0.400"}, {"150", "0.250"}, {"200", "0.050"}}
	for _, w := range weights {
		s.n++
		s.weigh(w.grams, w.left)
	}
	s.says("Everything is weighed")
	s.act("")
	s.says("It balances")
	s.fill("#close-minutes", "17")
	s.act("")
	s.says("Every gram is accounted for")
	s.act("[data-test=closed] button")
	s.until("the methods are confirmed", "document.querySelector('[data-test=confirm]')")
	s.act("[data-test=confirm]")
	said := s.text("[data-test=sentence]")
	s.keep("first-answer")
	if !strings.Contains(said, "that bear on it are guesses") || !strings.Contains(said, "four times in five") {
		t.Errorf("it says %q", said)
	}
	if s.n > 60 {
		t.Errorf("it took %d actions", s.n)
	}
	t.Logf("%d actions: %s", s.n, said)

	// by hand, what each sells for less packaging and work; the block cost both the same
	type side struct {
		Products []struct {
			Kind    string
			WeightG float64 `json:"weight_g"`
			Price   string
		}
		Totals struct{ Minutes float64 }
	}
	var c struct {
		Difference         string
		Recorded, Baseline side
	}
	a.api("GET", "/breakdowns/"+strings.TrimPrefix(s.eval("location.pathname"), "/compare/")+"/comparison", nil, &c)
	worth := func(x side) float64 {
		sum := -24 * x.Totals.Minutes / 60
		for _, r := range x.Products {
			price, _ := strconv.ParseFloat(r.Price, 64) // what is thrown away has none
			sum += price * r.WeightG / 1000
			if r.Kind == "meat" {
				sum -= 0.12 * r.WeightG / 1000
			}
		}
		return sum
	}
	difference, err := strconv.ParseFloat(c.Difference, 64)
	if err != nil || c.Recorded.Totals.Minutes != 17 || len(c.Recorded.Products) < 6 {
		t.Fatalf("%v: %+v", err, c)
	}
	if byHand := worth(c.Recorded) - worth(c.Baseline); math.Abs(byHand-difference) > 0.08 { // each line rounded to a cent
		t.Errorf("the difference is %.2f, by hand %.2f", difference, byHand)
	}
	if shown := s.text("[data-test=difference]"); !strings.Contains(shown, fmt.Sprintf("%.2f", math.Abs(difference))) {
		t.Errorf("the page shows %s of %.2f", shown, difference)
	}
	s.anExampleBeside(a)
}

// anExampleBeside looks at the example shop beside the real one, and takes it away from within.
func (s *actions) anExampleBeside(a *app) {
	s.t.Helper()
	s.eval("document.querySelector('.bar .mark').click() ?? 1")
	s.until("an example is offered", "document.querySelector('[data-test=example-offer] button')")
	s.act("[data-test=example-offer] button")
	s.says("The example shop is being filled")
	s.until("it is there", "[...document.querySelectorAll('[data-test=example-offer] button')]"+
		".some(b => b.innerText === 'Go to the example shop')")
	s.act("[data-test=example-offer] button")
	s.says("none of it counts in your own shop")
	s.says("wait for a plan, 8 are for the bench")
	var audit struct{ Rows []struct{ Action string } }
	a.api("GET", "/audit?action=shop", nil, &audit) // of the real shop, in which the other session still is
	if len(audit.Rows) != 1 || audit.Rows[0].Action != "shop.example" {
		s.t.Errorf("the audit of the real shop: %+v", audit.Rows)
	}
	s.act("[data-test=example-line] button:last-of-type")
	s.until("it is asked for", "[...document.querySelectorAll('[role=alertdialog] button')]"+
		".some(b => b.innerText === 'Remove it')")
	s.eval("[...document.querySelectorAll('[role=alertdialog] button')].find(b => b.innerText === 'Remove it').click() " +
		"?? 1")
	s.until("one is at home again", "!document.querySelector('[data-test=example-line]') && "+
		"[...document.querySelectorAll('[data-test=example-offer] button')].some(b => b.innerText.startsWith('Look at'))")
	s.says("A croft")
}
