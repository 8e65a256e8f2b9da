// Command pictures takes every picture of docs/screenshots anew, from demo data on a day that never changes: what
// docs/screenshots/list.json names, and nothing else. It needs Chromium and the program in bin/falda.
package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
)

const (
	folder = "docs/screenshots"
	// moment is what the demo takes for now.
	moment = "2026-11-20T10:00:00Z"
	// patience is how long a part of a page is waited for.
	patience = 20 * time.Second
	// settles is how long a page is left alone before its picture is taken.
	settles = 1500 * time.Millisecond
)

// clock makes a page take the demo's moment for now, too.
const clock = `{
	const late = Date.now() - Date.parse('` + moment + `')
	const Real = Date
	Date = class extends Real {
		constructor(...given) { given.length ? super(...given) : super(Real.now() - late) }
		static now() { return Real.now() - late }
	}
}`

// picture is one of the list: a page, its size, and what is done on it before.
type picture struct {
	Name, Path    string
	Width, Height int
	Steps         []string
}

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "pictures:", err)
		os.Exit(1)
	}
}

func run() error {
	var list []picture
	raw, err := os.ReadFile(filepath.Join(folder, "list.json"))
	if err != nil {
		return err
	}
	if err := json.Unmarshal(raw, &list); err != nil {
		return err
	}
	data, err := os.MkdirTemp("", "falda-pictures-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(data)
	base, stop, err := startDemo(data)
	if err != nil {
		return err
	}
	defer stop()
	c, err := signIn(base)
	if err != nil {
		return err
	}
	ids, err := c.places()
	if err != nil {
		return err
	}
	b, end, err := browser(c)
	if err != nil {
		return err
	}
	defer end()
	for _, p := range list {
		if err := take(b, base, p, ids); err != nil {
			return fmt.Errorf("%s: %w", p.Name, err)
		}
		fmt.Println("  " + p.Name)
	}
	return nil
}

// startDemo starts the program on a fresh database and waits until it serves.
func startDemo(data string) (base string, stop func(), err error) {
	cmd := exec.Command("bin/falda", "demo", "--addr", "127.0.0.1:0", "--data", data, "--on", moment)
	cmd.Stderr = io.Discard
	out, err := cmd.StdoutPipe()
	if err != nil {
		return "", nil, err
	}
	if err := cmd.Start(); err != nil {
		return "", nil, err
	}
	stop = func() {
		_ = cmd.Process.Signal(os.Interrupt)
		_ = cmd.Wait()
	}
	for lines := bufio.NewScanner(out); lines.Scan(); {
		if where, ok := strings.CutPrefix(lines.Text(), "ready "); ok {
			return where, stop, nil
		}
	}
	stop()
	return "", nil, fmt.Errorf("the demo did not start")
}

// caller asks the demo's interface as its owner.
type caller struct {
	base string
	http.Client
}

func (c *caller) ask(method, path, body string, into any) error {
	q, err := http.NewRequest(method, c.base+"/api/v1"+path, strings.NewReader(body))
	if err != nil {
		return err
	}
	q.Header.Set("Content-Type", "application/json")
	q.Header.Set("Origin", c.base)
	r, err := c.Do(q)
	if err != nil {
		return err
	}
	defer r.Body.Close()
	if r.StatusCode >= 300 {
		why, _ := io.ReadAll(io.LimitReader(r.Body, 400))
		return fmt.Errorf("%s %s: %s %s", method, path, r.Status, why)
	}
	if into == nil {
		return nil
	}
	return json.NewDecoder(r.Body).Decode(into)
}

func signIn(base string) (*caller, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	c := &caller{base: base, Client: http.Client{Jar: jar}}
	var me struct{ Offered []struct{ ID, Role string } }
	if err := c.ask("GET", "/me", "", &me); err != nil {
		return nil, err
	}
	for _, o := range me.Offered {
		if o.Role == "owner" {
			return c, c.ask("POST", "/session/demo", `{"member_id":"`+o.ID+`"}`, nil)
		}
	}
	return nil, fmt.Errorf("the demo offers no owner")
}

// places finds what stands for each name in braces: the first piece of the scenario at each stage, two pieces of a box
// together on a bench, and the latest tasting.
func (c *caller) places() (map[string]string, error) {
	var list struct {
		Pieces []struct {
			ID, Stage   string
			AtlasID     string `json:"atlas_id"`
			LotNumber   string `json:"lot_number"`
			BreakdownID string `json:"breakdown_id"`
			Off         []string
		}
	}
	if err := c.ask("GET", "/pieces", "", &list); err != nil {
		return nil, err
	}
	out := map[string]string{}
	first := func(name, id string) {
		if out[name] == "" {
			out[name] = id
		}
	}
	for _, p := range list.Pieces {
		switch {
		case p.Stage == "plan" && p.AtlasID == "beef.top_sirloin":
			first("plan", p.ID)
		case p.Stage == "bench" && len(p.Off) > 0:
			first("bench", p.BreakdownID)
		case p.Stage == "judge", p.Stage == "compare":
			first(p.Stage, p.BreakdownID)
		}
	}
	var tastings struct{ Tastings []struct{ ID, State string } }
	if err := c.ask("GET", "/tastings", "", &tastings); err != nil {
		return nil, err
	}
	for _, t := range tastings.Tastings {
		first("tasting", t.ID)
	}
	return out, c.together(out)
}

// together puts two pieces that are alike on a bench as one batch.
func (c *caller) together(out map[string]string) error {
	var lot struct {
		ID       string
		PieceIDs []string `json:"piece_ids"`
	}
	arrival := `{"atlas_id":"beef.top_sirloin","pieces":2,"weight":"13.1","weight_unit":"kg","price":"11.40",` +
		`"price_per":"kg","slaughtered_on":"2026-10-27","packed_on":"2026-10-29","supplier":"Nether Voe croft",` +
		`"lot_number":"SK-2647-40","findings":[]}`
	if err := c.ask("POST", "/lots", arrival, &lot); err != nil {
		return err
	}
	for _, id := range lot.PieceIDs {
		if err := c.ask("PUT", "/pieces/"+id+"/plan", `{"plan_id":"seamed","version":1}`, nil); err != nil {
			return err
		}
	}
	var benches []struct{ ID, Name string }
	if err := c.ask("GET", "/benches", "", &benches); err != nil {
		return err
	}
	ask, err := json.Marshal(map[string]any{"piece_ids": lot.PieceIDs, "bench_id": benches[0].ID})
	if err != nil {
		return err
	}
	var batch struct{ ID string }
	err = c.ask("POST", "/batches", string(ask), &batch)
	out["batch"] = batch.ID
	return err
}

// browser starts Chromium, signed in.
func browser(c *caller) (*rod.Browser, func(), error) {
	profile, err := os.MkdirTemp("", "falda-chromium-")
	if err != nil {
		return nil, nil, err
	}
	l := launcher.New().Bin("/usr/bin/chromium").Leakless(false).Headless(true).NoSandbox(true).UserDataDir(profile).
		Set("disable-gpu").Set("disable-background-networking").Set("no-first-run").Set("disable-sync").
		Set("hide-scrollbars")
	end := func() {
		l.Kill()
		_ = os.RemoveAll(profile)
	}
	at, err := l.Launch()
	if err != nil {
		end()
		return nil, nil, err
	}
	b := rod.New().ControlURL(at)
	if err := b.Connect(); err != nil {
		end()
		return nil, nil, err
	}
	where, err := url.Parse(c.base)
	if err != nil {
		return nil, nil, err
	}
	for _, k := range c.Jar.Cookies(where) {
		if err := b.SetCookies([]*proto.NetworkCookieParam{{Name: k.Name, Value: k.Value, Domain: where.Hostname(),
			Path: "/", HTTPOnly: true, SameSite: proto.NetworkCookieSameSiteStrict}}); err != nil {
			return nil, nil, err
		}
	}
	// with its last page a browser forgets who is signed in
	_, err = b.Page(proto.TargetCreateTarget{})
	return b, end, err
}

// take opens a page, does what is to be done on it, and keeps its picture.
func take(b *rod.Browser, base string, p picture, ids map[string]string) error {
	path := p.Path
	for name, id := range ids {
		path = strings.ReplaceAll(path, "{"+name+"}", id)
	}
	if strings.Contains(path, "{") {
		return fmt.Errorf("the demo has nothing for %s", path)
	}
	page, err := b.Page(proto.TargetCreateTarget{})
	if err != nil {
		return err
	}
	defer page.Close()
	page = page.Timeout(3 * patience)
	if _, err := page.Activate(); err != nil {
		return err
	}
	width, height := p.Width, p.Height
	if width == 0 {
		width = 1280
	}
	if height == 0 {
		height = 800
	}
	size := &proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height, DeviceScaleFactor: 1}
	if err := page.SetViewport(size); err != nil {
		return err
	}
	if _, err := page.EvalOnNewDocument(clock); err != nil {
		return err
	}
	if err := page.Navigate(base + path); err != nil {
		return err
	}
	if _, err := page.Timeout(patience).Element("h1"); err != nil {
		return err
	}
	for _, step := range p.Steps {
		if err := do(page, step); err != nil {
			return fmt.Errorf("%s: %w", step, err)
		}
	}
	time.Sleep(settles)
	img, err := page.Screenshot(false, nil)
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(folder, p.Name+".png"), img, 0o644)
}

// do does one step: "click SELECTOR", "wait SELECTOR", "type SELECTOR TEXT" or "enter".
func do(page *rod.Page, step string) error {
	what, rest, _ := strings.Cut(step, " ")
	if what == "enter" {
		return page.Keyboard.Type(input.Enter)
	}
	selector, text, _ := strings.Cut(rest, "  ")
	if what == "type" {
		selector, text, _ = strings.Cut(rest, " ")
	}
	e, err := page.Timeout(patience).Element(selector)
	if err != nil {
		return err
	}
	switch what {
	case "wait":
		return nil
	case "click":
		return e.Click(proto.InputMouseButtonLeft, 1)
	case "type":
		if err := e.Focus(); err != nil {
			return err
		}
		return page.InsertText(text)
	}
	return fmt.Errorf("is no step")
}
