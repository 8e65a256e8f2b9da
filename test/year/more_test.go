package year

import (
	"fmt"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
	"github.com/google/uuid"
)

// ordered is what the ferry's galley wants of a week: so much of one product.
type ordered struct{ id, key string }

func (y *year) order(n int, monday time.Time) ordered {
	key := []string{"beef.dice", "beef.heart_steak", "lamb.leg_roast"}[n%3]
	o := ordered{uuid.Must(uuid.NewV7()).String(), key}
	y.do("yield_desk", "POST", "/orders", map[string]any{"id": o.id, "customer": "The galley",
		"day": monday.AddDate(0, 0, 4).Format(time.DateOnly), "time": "16:00",
		"lines": []any{map[string]any{"product_key": key, "weight": "1.2", "unit": "kg"}}}, nil)
	return o
}

// deliver packs what there is for an order, and hands it over; what is not there is cancelled.
func (y *year) deliver(o ordered) {
	var list struct {
		Orders []struct {
			ID      string
			Version int
		}
	}
	y.do("yield_desk", "GET", "/orders", nil, &list)
	var stock struct {
		Tubs []struct {
			ID, Key string
			LeftG   float64 `json:"left_g"`
			Over    bool
		}
	}
	y.do("yield_desk", "GET", "/goods", nil, &stock)
	for _, open := range list.Orders {
		state, version := "cancelled", open.Version
		for _, t := range stock.Tubs {
			if t.Key == o.key && t.LeftG >= 1300 && !t.Over && state == "cancelled" {
				var after struct{ Version int }
				y.do("cutter", "POST", "/orders/"+open.ID+"/packs", map[string]any{"id": uuid.Must(uuid.NewV7()).String(),
					"line": 0, "tub": t.ID, "weight": "1.2", "unit": "kg", "count": 1}, &after)
				state, version = "gone", after.Version
				y.delivered++
			}
		}
		y.do("yield_desk", "PUT", "/orders/"+open.ID+"/state", map[string]any{"state": state, "version": version}, nil)
	}
}

// taste holds a tasting of two muscles with ten eaters, who find the cap better than the atlas does.
func (y *year) taste(n int) {
	var v struct {
		ID      string
		Samples []struct{ Code, Part string }
	}
	y.do("yield_desk", "POST", "/tastings", map[string]any{"name": fmt.Sprintf("Rump, week %d", n),
		"held_on": y.now.Format(time.DateOnly), "assessors": 10, "seed": n, "samples": []any{
			map[string]any{"atlas_id": "beef.top_sirloin", "part": "cap", "method": "grill"},
			map[string]any{"atlas_id": "beef.top_sirloin", "part": "tri_tip", "method": "grill"}}}, &v)
	var sheets []any
	for eater := 1; eater <= 10; eater++ {
		for _, s := range v.Samples {
			mark := func(mean float64) float64 {
				return math.Round(math.Min(100, math.Max(0, mean+12*y.rng.NormFloat64())))
			}
			mean := map[bool]float64{true: 82, false: 55}[s.Part == "cap"]
			sheets = append(sheets, map[string]any{"assessor": eater, "code": s.Code, "ratings": map[string]any{
				"tenderness": mark(mean), "juiciness": mark(mean), "flavour": mark(mean), "overall": mark(mean)}})
			y.eaten++
		}
	}
	y.do("yield_desk", "PUT", "/tastings/"+v.ID+"/sheets", map[string]any{"sheets": sheets}, nil)
}

// drill answers what the apprentice is asked of the rump this week, with the first choice of each question: some of it
// is right.
func (y *year) drill() {
	var s struct {
		Questions []struct {
			Card    string
			Choices []struct{ ID string }
		}
	}
	y.do("apprentice", "GET", "/learning/sitting?piece=beef.top_sirloin", nil, &s)
	for i, q := range s.Questions {
		if len(q.Choices) > 0 && i < 5 {
			y.do("apprentice", "POST", "/learning/answers", map[string]any{"card": q.Card, "choices": []string{q.Choices[0].ID}},
				nil)
			y.answers++
		}
	}
}

// invariants checks that all that was entered is there once, and that everything balances.
func (y *year) invariants() {
	t := y.t
	v, err := y.work.Bench.Verify(t.Context(), false)
	if err != nil || len(v.Flaws) > 0 || v.Breakdowns != y.cuts {
		t.Errorf("%d breakdowns were cut; verify: %v %+v", y.cuts, err, v)
	}
	for _, by := range []string{"week", "piece", "plan", "cutter", "supplier"} {
		var h struct {
			N       int
			Buckets []struct{ N int }
		}
		y.do("owner", "GET", "/history?by="+by+"&measure=yield", nil, &h)
		sum := 0
		for _, b := range h.Buckets {
			sum += b.N
		}
		if h.N != y.cuts || sum != y.cuts {
			t.Errorf("history by %s has %d pieces, its parts %d; %d were cut", by, h.N, sum, y.cuts)
		}
	}
	var input, takings int64
	for query, into := range map[string]*int64{"SELECT SUM(input_mg) FROM results": &input,
		"SELECT CAST(SUM(amount) * 100 AS SIGNED) FROM sales": &takings} {
		if err := y.store.DB().Raw(query).Scan(into).Error; err != nil {
			t.Fatal(err)
		}
	}
	if math.Abs(float64(input)/1000-y.grams) > 1 || takings != int64(y.takings) {
		t.Errorf("%d mg were cut and %d cents taken; entered were %.0f g and %d", input, takings, y.grams, y.takings)
	}
	// what a piece gives is what went in: all that left the bench and what was lost
	var odd int64
	if err := y.store.DB().Raw("SELECT COUNT(*) FROM results WHERE meat_mg + by_products_mg + waste_mg + loss_mg <> " +
		"input_mg").Scan(&odd).Error; err != nil || odd > 0 {
		t.Errorf("%d pieces do not balance, %v", odd, err)
	}
	t.Logf("%d pieces of %.0f kg, %s over the counter, %d deliveries to the galley, %d marks by eaters, %d answers",
		y.cuts, y.grams/1000, money(y.takings), y.delivered, y.eaten, y.answers)
}

// learned checks that the shop is told what was made up.
func (y *year) learned() {
	t := y.t
	type history struct {
		Sentence string
		Buckets  []struct {
			Key, Name, Verdict string
			N                  int
			Mean, Difference   float64
			P                  float64
		}
	}
	var by history
	y.do("owner", "GET", "/history?by=supplier&measure=yield", nil, &by)
	for _, b := range by.Buckets {
		if real := b.Verdict == "real"; !real || (b.Difference > 0) != (b.Name == crofts[0]) {
			t.Errorf("the second croft's pieces are fatter; of %s is said %+v", b.Name, b)
		}
	}
	var record struct {
		Pieces []struct {
			Piece string
			Curve *struct {
				Cuts     []struct{}
				Exponent float64
			}
		}
	}
	y.do("apprentice", "GET", "/learning", nil, &record)
	curves := 0
	for _, p := range record.Pieces {
		if p.Curve == nil || len(p.Curve.Cuts) < 30 {
			continue
		}
		curves++
		t.Logf("%s: the apprentice's minutes fall by the power %.3f", p.Piece, p.Curve.Exponent)
		if math.Abs(math.Abs(p.Curve.Exponent)-learning) > 0.08 {
			t.Errorf("%s: they were made to fall by %.3f", p.Piece, learning)
		}
	}
	if curves < 3 {
		t.Errorf("%d curves of the apprentice", curves)
	}
	for _, k := range kinds {
		t.Logf("%s: %s paid", k.id, y.chosen[k.id])
	}
	// a rump steak at 16.50 beside a heart at 19.90 and a cap at 23.90: that is what seaming is for
	if y.chosen["beef.top_sirloin"] != "seamed" {
		t.Error("seaming the rump was made to pay")
	}
	for _, s := range tills {
		for _, x := range [][2]string{{"summer", "5, 6, 7, 8, 9"}, {"winter", "12, 1, 2"}} {
			part, months := x[0], x[1]
			var n int
			if err := y.store.DB().Raw("SELECT COALESCE(SUM(packs), 0) FROM sales WHERE product_key = ? AND MONTH(day) IN ("+
				months+")", s.key).Scan(&n).Error; err != nil || n != y.packs[s.key+part] {
				t.Errorf("%d packs of %s in %s, %d were entered: %v", n, s.said, part, y.packs[s.key+part], err)
			}
		}
	}
}

// clock makes a page take the year's last evening for now.
const clock = `{
	const late = Date.now() - Date.parse('%s')
	const Real = Date
	Date = class extends Real {
		constructor(...given) { given.length ? super(...given) : super(Real.now() - late) }
		static now() { return Real.now() - late }
	}
}`

// ids are what makes two addresses of one page different.
var ids = regexp.MustCompile(`/(beef|lamb|deer|veal|pork)[^/]*|/[0-9a-f-]{20,}|/[A-Za-z0-9_-]{18,}`)

// everyPageOpens goes from the rail over every link that the pages have, one address of each page: each has a heading,
// no error, and is not left loading.
func (y *year) everyPageOpens() {
	t := y.t
	b := y.browser()
	page, err := b.Page(proto.TargetCreateTarget{URL: "about:blank"})
	if err != nil {
		t.Fatal(err)
	}
	page.MustSetViewport(1280, 800, 1, false)
	page.MustEvalOnNewDocument(fmt.Sprintf(clock, ends.Format(time.RFC3339)))
	bad := 0
	go page.EachEvent(func(e *proto.RuntimeExceptionThrown) {
		bad++
		t.Errorf("%s", e.ExceptionDetails.Text)
	})()
	cookies := y.who["owner"].Jar.Cookies(address(y.url))
	for _, c := range cookies {
		page.MustSetCookies(&proto.NetworkCookieParam{Name: c.Name, Value: c.Value, URL: y.url})
	}
	seen, next := map[string]bool{"/": true}, []string{"/"}
	for len(next) > 0 {
		path := next[0]
		next = next[1:]
		page.MustNavigate(y.url + path)
		if err := y.settled(page); err != nil {
			t.Errorf("%s: %v", path, err)
			continue
		}
		links := page.MustEval(`async () => {
			const found = new Set()
			const look = () => document.querySelectorAll('a[href^="/"]').forEach((a) => found.add(a.getAttribute('href')))
			look()
			for (const menu of document.querySelectorAll('header [aria-expanded]')) {
				menu.click()
				await new Promise((done) => setTimeout(done, 150))
				look()
			}
			return [...found]
		}`)
		for _, l := range links.Arr() {
			href, _, _ := strings.Cut(l.Str(), "#")
			path, _, _ := strings.Cut(href, "?")
			page := ids.ReplaceAllString(path, "/*")
			if strings.HasPrefix(page, "/cook/") { // of one product as of any other
				page = "/cook/*"
			}
			if !seen[page] && !strings.HasPrefix(path, "/api") {
				seen[page] = true
				next = append(next, href)
			}
		}
	}
	if len(seen) < 30 {
		t.Errorf("only %d pages were found: %v", len(seen), seen)
	}
	t.Logf("%d pages opened", len(seen))
	// a day of the year before is told with its year
	page.MustNavigate(y.url + "/sales")
	if err := y.settled(page); err != nil {
		t.Error(err)
	}
	begun := y.first.Format("2 Jan 2006")
	if text := page.MustElement("main").MustText(); y.first.Before(ends.AddDate(0, 0, -310)) &&
		!strings.Contains(text, begun) {
		t.Errorf("sales do not say that they began on %s: %.300s", begun, text)
	}
	if dir := os.Getenv("FALDA_PICTURES"); dir != "" {
		y.pictures(page, dir)
	}
}

// settled waits until a page is there.
func (y *year) settled(page *rod.Page) error {
	for end := time.Now().Add(90 * time.Second); ; time.Sleep(100 * time.Millisecond) {
		state, err := page.Eval(`() => {
			const fault = document.querySelector('.note[role=alert]')
			if (fault) return 'error: ' + fault.innerText
			return document.querySelector('h1') && !document.body.innerText.includes('Loading') ? 'there' : ''
		}`)
		if err == nil && state.Value.Str() == "there" {
			return nil
		}
		if err == nil && strings.HasPrefix(state.Value.Str(), "error") {
			return fmt.Errorf("%s", state.Value.Str())
		}
		if time.Now().After(end) {
			return fmt.Errorf("is not there: %v", err)
		}
	}
}

func (y *year) browser() *rod.Browser {
	y.t.Helper()
	l := launcher.New().Bin("/usr/bin/chromium").Leakless(false).Headless(true).NoSandbox(true).
		Set("disable-gpu").Set("disable-background-networking").Set("no-first-run").
		Set("disable-sync").Set("use-angle", "swiftshader").Set("enable-unsafe-swiftshader")
	url, err := l.Launch()
	if err != nil {
		y.t.Fatal(err)
	}
	b := rod.New().ControlURL(url)
	if err := b.Connect(); err != nil {
		y.t.Fatal(err)
	}
	y.t.Cleanup(func() { _ = b.Close(); l.Kill(); l.Cleanup() })
	return b
}

// pictures takes what docs/year.md shows.
func (y *year) pictures(page *rod.Page, dir string) {
	var record struct{ Member string }
	y.do("apprentice", "GET", "/learning", nil, &record)
	for _, x := range [][2]string{
		{"plans", "/value/history?by=plan&measure=value&atlas_id=beef.top_sirloin"},
		{"suppliers", "/value/history?by=supplier&measure=yield"},
		{"sales", "/sales"}, {"learned", "/learning?open=beef.top_sirloin&member=" + record.Member},
	} {
		page.MustNavigate(y.url + x[1])
		if err := y.settled(page); err != nil {
			y.t.Errorf("%s: %v", x[1], err)
		}
		time.Sleep(1500 * time.Millisecond)
		page.MustScreenshot(filepath.Join(dir, x[0]+".png"))
	}
}
