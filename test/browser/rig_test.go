// Package browser drives the real interface in a real browser, on the real program and its database.
package browser

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	neturl "net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
)

var (
	binary  string
	entered string // a data folder in which the scenario is entered, once there is one
	enter   sync.Once
)

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "falda-browser-")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(dir, "falda")
	if out, err := exec.Command("go", "build", "-o", binary, "falda/cmd/falda").CombinedOutput(); err != nil {
		fmt.Fprintf(os.Stderr, "%v\n%s", err, out)
		os.Exit(1)
	}
	entered = filepath.Join(dir, "entered")
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// patience is how long anything may take before a test gives up; it judges that it happens, not how fast.
const patience = 90 * time.Second

// app is a running demo.
type app struct {
	t    *testing.T
	cmd  *exec.Cmd
	url  string
	data string
	errs *bytes.Buffer
	jar  *cookiejar.Jar // of whoever is signed in
}

// start runs the demo on a data folder, with flags of its own, and waits for its ready line.
func start(t *testing.T, data, addr string, flags ...string) *app {
	t.Helper()
	a := &app{t: t, data: data, errs: &bytes.Buffer{}}
	fill(t, data)
	a.cmd = exec.Command(binary, append([]string{"demo", "--addr", addr, "--data", data}, flags...)...)
	a.cmd.Stderr = a.errs
	out, err := a.cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := a.cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { a.kill(); a.waitForDatabase() })
	line := make(chan string, 1)
	go func() {
		text, _ := bufio.NewReader(out).ReadString('\n')
		line <- strings.TrimSpace(text)
	}()
	select {
	case l := <-line:
		url, ok := strings.CutPrefix(l, "ready ")
		if !ok {
			t.Fatalf("the demo said %q\n%s", l, a.errs)
		}
		a.url = url
		a.signIn("owner")
	case <-time.After(2 * patience):
		t.Fatalf("the demo is not ready\n%s", a.errs)
	}
	return a
}

// fill copies the entered scenario into a data folder that is empty, so that it is entered once and not for every test.
func fill(t *testing.T, data string) {
	t.Helper()
	if left, err := os.ReadDir(data); err == nil && len(left) > 0 {
		return
	}
	enter.Do(func() {
		cmd := exec.Command(binary, "demo", "--addr", "127.0.0.1:0", "--data", entered)
		out, err := cmd.StdoutPipe()
		if err != nil {
			t.Fatal(err)
		}
		if err := cmd.Start(); err != nil {
			t.Fatal(err)
		}
		line, err := bufio.NewReader(out).ReadString('\n')
		if err != nil || !strings.HasPrefix(line, "ready ") {
			t.Fatalf("the scenario is not entered: %q, %v", line, err)
		}
		if err := cmd.Process.Signal(syscall.SIGTERM); err != nil { // it closes its database in order
			t.Fatal(err)
		}
		_ = cmd.Wait()
	})
	if err := os.CopyFS(data, os.DirFS(entered)); err != nil {
		t.Fatal(err)
	}
}

// signIn makes requests and screens be of one of the demo's accounts.
func (a *app) signIn(role string) {
	a.t.Helper()
	var err error
	if a.jar, err = cookiejar.New(nil); err != nil {
		a.t.Fatal(err)
	}
	var me struct{ Offered []struct{ ID, Role string } }
	a.api("GET", "/me", nil, &me)
	for _, o := range me.Offered {
		if o.Role == role {
			a.api("POST", "/session/demo", map[string]any{"member_id": o.ID}, nil)
			return
		}
	}
	a.t.Fatalf("the demo offers no %s", role)
}

// kill ends the program at once, as a crash would.
func (a *app) kill() {
	if a.cmd.ProcessState == nil {
		_ = a.cmd.Process.Kill()
		_ = a.cmd.Wait()
	}
}

func (a *app) databasePID() int {
	raw, err := os.ReadFile(filepath.Join(a.data, "database", "db.pid"))
	if err != nil {
		return 0
	}
	pid := 0
	fmt.Sscan(string(raw), &pid)
	return pid
}

// waitForDatabase waits until the database that a dead program left behind has ended too.
func (a *app) waitForDatabase() {
	for end := time.Now().Add(patience); time.Now().Before(end) && alive(a.databasePID()); {
		time.Sleep(50 * time.Millisecond)
	}
}

func alive(pid int) bool { return pid > 0 && syscall.Kill(pid, 0) == nil }

// api sends a request to the interface and reads its answer.
func (a *app) api(method, path string, body, out any) {
	a.t.Helper()
	raw, err := json.Marshal(body)
	if err != nil {
		a.t.Fatal(err)
	}
	req, err := http.NewRequest(method, a.url+"/api/v1"+path, bytes.NewReader(raw))
	if err != nil {
		a.t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	resp, err := (&http.Client{Jar: a.jar, Timeout: patience}).Do(req)
	if err != nil {
		a.t.Fatal(err)
	}
	defer resp.Body.Close()
	answer, err := io.ReadAll(resp.Body)
	if err != nil || resp.StatusCode >= 300 {
		a.t.Fatalf("%s %s: %d %s %v", method, path, resp.StatusCode, answer, err)
	}
	if out != nil {
		if err := json.Unmarshal(answer, out); err != nil {
			a.t.Fatal(err)
		}
	}
}

// shopVersion is the version that the shop's settings now have.
func (a *app) shopVersion() int {
	a.t.Helper()
	var shop struct{ Version int }
	a.api("GET", "/shop", nil, &shop)
	return shop.Version
}

func (a *app) bench(name string) string {
	a.t.Helper()
	var s struct {
		Benches []struct{ ID, Name string }
	}
	a.api("GET", "/shop", nil, &s)
	for _, b := range s.Benches {
		if b.Name == name {
			return b.ID
		}
	}
	a.t.Fatalf("no bench %s", name)
	return ""
}

// received receives a rump through the interface; it gives the piece's id.
func (a *app) received(lot string) string {
	a.t.Helper()
	now := time.Now().UTC()
	var l struct {
		PieceIDs []string `json:"piece_ids"`
	}
	a.api("POST", "/lots",
		map[string]any{"atlas_id": "beef.top_sirloin", "pieces": 1, "weight": "6.6", "weight_unit": "kg", "price": "11.40",
			"price_per": "kg", "slaughtered_on": now.AddDate(0, 0, -24).Format(time.DateOnly),
			"packed_on": now.AddDate(0, 0, -22).Format(time.DateOnly), "supplier": "A croft", "lot_number": lot,
			"findings": []string{}}, &l)
	return l.PieceIDs[0]
}

// planned receives a rump, plans it and puts it on a bench; it gives the breakdown's id.
func (a *app) planned(lot, bench string) string {
	a.t.Helper()
	piece := a.received(lot)
	a.api("PUT", "/pieces/"+piece+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
	var b struct{ ID string }
	a.api("POST", "/pieces/"+piece+"/breakdown", map[string]any{"bench_id": a.bench(bench)}, &b)
	return b.ID
}

// open starts a browser of its own. Its profile folder is kept where one is given, so that it can be killed and
// reopened.
func open(t *testing.T, profile string) (*rod.Browser, *launcher.Launcher) {
	t.Helper()
	if profile == "" {
		profile = t.TempDir()
	}
	l := launcher.New().Bin("/usr/bin/chromium").Leakless(false).Headless(true).NoSandbox(true).UserDataDir(profile).
		Set("disable-gpu").Set("disable-background-networking").Set("no-first-run").Set("disable-sync").
		Set("disable-component-update").Set("disable-quic").
		Set("use-angle", "swiftshader").Set("enable-unsafe-swiftshader") // pictures in space, without a graphics card
	url, err := l.Launch()
	if err != nil {
		t.Fatal(err)
	}
	b := rod.New().ControlURL(url)
	if err := b.Connect(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = b.Close(); l.Kill() })
	return b, l
}

// screen is one page with a keyboard.
type screen struct {
	*rod.Page
	t    *testing.T
	keys int // pressed so far
}

// show opens a page of the app as whoever is signed in.
func (a *app) show(b *rod.Browser, path string, width, height int) *screen {
	a.t.Helper()
	at, err := neturl.Parse(a.url)
	if err != nil {
		a.t.Fatal(err)
	}
	for _, c := range a.jar.Cookies(at) {
		b.MustSetCookies(&proto.NetworkCookie{Name: c.Name, Value: c.Value, Domain: at.Hostname(), Path: "/", HTTPOnly: true,
			SameSite: proto.NetworkCookieSameSiteStrict, Expires: -1})
	}
	return show(a.t, b, a.url+path, width, height)
}

// show opens a page. What the page's policy stops, and what it throws, fails the test.
func show(t *testing.T, b *rod.Browser, url string, width, height int) *screen {
	t.Helper()
	p := b.MustPage("").Timeout(10 * time.Minute)
	p.MustSetViewport(width, height, 1, false)
	if err := (proto.LogEnable{}).Call(p); err != nil {
		t.Fatal(err)
	}
	var over atomic.Bool
	t.Cleanup(func() { over.Store(true) })
	go p.EachEvent(func(e *proto.LogEntryAdded) {
		if e.Entry.Source == proto.LogLogEntrySourceSecurity && !over.Load() {
			t.Errorf("%s: %s", e.Entry.URL, e.Entry.Text)
		}
	}, func(e *proto.RuntimeExceptionThrown) {
		if !over.Load() {
			t.Errorf("the page threw: %s %v", e.ExceptionDetails.Text, e.ExceptionDetails.Exception)
		}
	})()
	p.MustNavigate(url)
	return &screen{Page: p, t: t}
}

func (s *screen) press(k input.Key) {
	s.t.Helper()
	s.keys++
	if err := s.Keyboard.Type(k); err != nil {
		s.t.Fatal(err)
	}
}

func (s *screen) enter() { s.t.Helper(); s.press(input.Enter) }

func (s *screen) typed(text string) {
	s.t.Helper()
	for _, r := range text {
		s.press(input.Key(r))
	}
}

// eval evaluates a JavaScript expression.
func (s *screen) eval(js string) string {
	s.t.Helper()
	got, err := s.Eval("() => String(" + js + ")")
	if err != nil {
		s.t.Fatalf("%s: %v", js, err)
	}
	return got.Value.Str()
}

// until waits until a JavaScript expression is true.
func (s *screen) until(what, js string) {
	s.t.Helper()
	for end := time.Now().Add(patience); time.Now().Before(end); time.Sleep(40 * time.Millisecond) {
		got, err := s.Eval("() => !!(" + js + ")")
		if err == nil && got.Value.Bool() {
			return
		}
	}
	said := "nothing"
	if text, err := s.Eval("() => document.body.innerText.slice(0, 1500)"); err == nil {
		said = text.Value.Str()
	}
	s.t.Fatalf("never: %s\nthe screen says:\n%s", what, said)
}

func (s *screen) says(text string) {
	s.t.Helper()
	s.until("says "+text, fmt.Sprintf("document.body.innerText.includes(%q)", text))
}

// tabTo presses Tab until the focus is on an element that fits a selector.
func (s *screen) tabTo(selector string) {
	s.t.Helper()
	s.until(selector+" is there", fmt.Sprintf("document.querySelector(%q)", selector))
	for range 150 {
		if s.eval(fmt.Sprintf("document.activeElement?.matches(%q) ?? false", selector)) == "true" {
			return
		}
		s.press(input.Tab)
	}
	s.t.Fatalf("Tab never comes to %s", selector)
}

// choose touches an element.
func (s *screen) choose(selector string) {
	s.t.Helper()
	s.until(selector+" is there", fmt.Sprintf("document.querySelector(%q)", selector))
	s.eval(fmt.Sprintf("document.querySelector(%q).dispatchEvent(new MouseEvent('click', {bubbles: true, cancelable: "+
		"true}))", selector))
}

// picks opens a list and picks what is called so, or has such an id.
func (s *screen) picks(list, what string) {
	s.t.Helper()
	s.choose(list)
	s.until(what+" is offered", fmt.Sprintf("[...document.querySelectorAll('[role=option] [data-value]')].some(o => "+
		"o.dataset.value === %q || o.innerText === %q)", what, what))
	s.eval(fmt.Sprintf("[...document.querySelectorAll('[role=option] [data-value]')].find(o => o.dataset.value === %q || "+
		"o.innerText === %q).dispatchEvent(new MouseEvent('mousedown', {bubbles: true, cancelable: true}))", what, what))
	s.until("the list is shut", "!document.querySelector('.p-select-overlay')")
}

// choosing picks by id from the list under a label.
func (s *screen) choosing(label, value string) {
	s.t.Helper()
	s.picks(fmt.Sprintf("[role=combobox][aria-label=%q]", label), value)
}

// put puts a text into a field in place of what is there, and leaves the focus in it.
func (s *screen) put(selector, text string) {
	s.t.Helper()
	s.until(selector+" is there", fmt.Sprintf("document.querySelector(%q)", selector))
	s.eval(fmt.Sprintf("(document.querySelector(%q).focus(), document.querySelector(%q).select())", selector, selector))
	s.press(input.Backspace)
	s.typed(text)
}

// lookedOver reads the cautions of a board and says that the piece was looked over.
func (s *screen) lookedOver() {
	s.t.Helper()
	s.says("Before the first cut")
	s.says("Check the piece")
	s.enter()
	s.says("about")
	s.until("it was looked over", "document.querySelector('[data-test=plate]')?.innerText.includes('The whole piece')")
}

// residual waits until the board shows so many kilograms as not weighed yet.
func (s *screen) residual(kg string) {
	s.t.Helper()
	s.until(kg+" kg is not weighed yet",
		fmt.Sprintf("document.querySelector('[data-test=residual]')?.innerText.startsWith(%q)", kg+" kg"))
}

// weigh types a weight, books it, and waits until so much is left.
func (s *screen) weigh(g, left string) {
	s.t.Helper()
	s.typed(g)
	s.enter()
	s.residual(left)
}

func (s *screen) text(selector string) string {
	s.t.Helper()
	s.until(selector+" is there", fmt.Sprintf("document.querySelector(%q)", selector))
	return s.eval(fmt.Sprintf("document.querySelector(%q).innerText", selector))
}

// day is so many days ago, as a file or the interface writes it.
func (a *app) day(ago int) string { return time.Now().UTC().AddDate(0, 0, -ago).Format(time.DateOnly) }

// list asks for a list, and gives what stands in it under a name.
func (a *app) list(path, name string, into any) {
	a.t.Helper()
	var page map[string]json.RawMessage
	a.api("GET", path, nil, &page)
	if err := json.Unmarshal(page[name], into); err != nil {
		a.t.Fatal(err)
	}
}
