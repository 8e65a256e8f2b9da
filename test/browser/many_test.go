package browser

import (
	"bufio"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"os/exec"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"falda/internal/localdb"
)

// program is one running falda.
type program struct {
	t    *testing.T
	args []string
	cmd  *exec.Cmd
	errs *bytes.Buffer
	url  string // from its first line
	more chan string
}

// run starts falda and waits for the line that says it is ready.
func run(t *testing.T, args ...string) *program {
	t.Helper()
	p := &program{t: t, args: args}
	t.Cleanup(p.kill)
	p.start()
	return p
}

func (p *program) start() {
	p.t.Helper()
	p.errs, p.more = &bytes.Buffer{}, make(chan string, 100)
	p.cmd = exec.Command(binary, p.args...)
	p.cmd.Stderr = p.errs
	out, err := p.cmd.StdoutPipe()
	if err != nil {
		p.t.Fatal(err)
	}
	if err := p.cmd.Start(); err != nil {
		p.t.Fatal(err)
	}
	go func() {
		for lines := bufio.NewScanner(out); lines.Scan(); {
			p.more <- lines.Text()
		}
		close(p.more)
	}()
	p.url = strings.TrimPrefix(p.line("ready "), "ready ")
}

// line waits for a line of its output that begins so.
func (p *program) line(begin string) string {
	p.t.Helper()
	for {
		select {
		case l, ok := <-p.more:
			if !ok {
				_ = p.cmd.Wait()
				p.t.Fatalf("falda %s ended before it said %q\n%s", p.args[0], begin, p.errs)
			}
			if strings.HasPrefix(l, begin) {
				return l
			}
		case <-time.After(patience):
			p.t.Fatalf("falda %s never said %q\n%s", p.args[0], begin, p.errs)
		}
	}
}

func (p *program) kill() {
	if p.cmd != nil && p.cmd.ProcessState == nil {
		_ = p.cmd.Process.Kill()
		_ = p.cmd.Wait()
	}
}

// proxy is a plain reverse proxy: it takes the programs in turn, and the next one where one does not answer the call.
type proxy struct {
	turn  atomic.Int64
	hosts []string
}

// RoundTrip sends a request to the next program. Another one is asked where no connection comes about, and for what
// only reads also where the connection breaks: as common proxies do by default.
func (p *proxy) RoundTrip(r *http.Request) (*http.Response, error) {
	var body []byte
	var err error
	if r.Body != nil {
		if body, err = io.ReadAll(r.Body); err != nil {
			return nil, err
		}
	}
	for range p.hosts {
		out := r.Clone(r.Context())
		out.Body = io.NopCloser(bytes.NewReader(body))
		out.URL.Host = p.hosts[int(p.turn.Add(1))%len(p.hosts)]
		var resp *http.Response
		if resp, err = http.DefaultTransport.RoundTrip(out); err == nil ||
			(r.Method != http.MethodGet && !strings.Contains(err.Error(), "connection refused")) {
			return resp, err
		}
	}
	return nil, err
}

// behindProxy stands a proxy before programs and gives its address.
func behindProxy(t *testing.T, programs ...*program) string {
	t.Helper()
	p := &proxy{}
	for _, one := range programs {
		p.hosts = append(p.hosts, strings.TrimPrefix(one.url, "http://"))
	}
	srv := httptest.NewServer(&httputil.ReverseProxy{Transport: p, FlushInterval: -1,
		Rewrite: func(r *httputil.ProxyRequest) {
			r.SetURL(&url.URL{Scheme: "http", Host: "falda"})
			r.Out.Host = r.In.Host
			r.SetXForwarded()
		}, ErrorHandler: func(w http.ResponseWriter, _ *http.Request, _ error) { w.WriteHeader(http.StatusBadGateway) }})
	t.Cleanup(func() { srv.CloseClientConnections(); srv.Close() })
	return srv.URL
}

// database starts a database of its own, migrated.
func database(t *testing.T) string {
	t.Helper()
	db, err := localdb.Start(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(db.Stop)
	if out, err := exec.Command(binary, "migrate", "--dsn", db.DSN).CombinedOutput(); err != nil {
		t.Fatalf("migrate: %v\n%s", err, out)
	}
	return db.DSN
}

const ownersPassword = "river stone lantern"

// setUp goes through the one-time link in the browser.
func setUp(t *testing.T, a *app, s *screen) {
	t.Helper()
	s.says("A shop and its owner")
	for _, field := range []struct{ id, text string }{{"#name", "Own shop"}, {"#labour", "24"},
		{"#benches", "North, East"}, {"#owner-name", "Ada"}, {"#owner-email", "ada@own.example"}} {
		s.tabTo(field.id)
		s.eval(fmt.Sprintf("document.querySelector(%q).select()", field.id)) // what is usual is filled in
		s.typed(field.text)
	}
	s.tabTo("#owner-password")
	s.typed("short")
	s.enter()
	s.until("the password is refused at its field",
		"document.getElementById('owner-password-fault')?.innerText.includes('shorter than 12')")
	for range 5 {
		s.press(input.Backspace)
	}
	s.typed(ownersPassword)
	s.enter()
	s.says("The rail is empty. Receive the first lot.")
	a.api("POST", "/session", map[string]any{"email": "ada@own.example", "password": ownersPassword}, nil)
}

// Two programs on one database behind a plain reverse proxy: the whole way from an empty database, while one after the
// other is killed and comes back. Nothing is lost, nothing counts twice, and nobody has to sign in again.
func TestTwoProgramsBehindAProxy(t *testing.T) {
	dsn := database(t)
	scale := run(t, "simulate", "scale", "--addr", "127.0.0.1:0", "--settle", "50ms")
	serve := func() *program {
		return run(t, "serve", "--dsn", dsn, "--addr", "127.0.0.1:0", "--behind-proxy", "--drain", "0s", "--log", "json",
			"--scale", "North="+scale.url)
	}
	one, two := serve(), serve()
	_, unused, _ := strings.Cut(one.line("set up once"), "#")
	_, link, _ := strings.Cut(two.line("set up once"), "#")
	a := &app{t: t, url: behindProxy(t, one, two)}
	a.jar, _ = cookiejar.New(nil)
	b, _ := open(t, "")
	s := show(t, b, a.url+"/set-up#"+link, 1280, 800)
	setUp(t, a, s)
	if again := show(t, b, a.url+"/set-up#"+unused, 1280, 800); true {
		again.until("the form is there", "document.querySelector('#owner-password')")
		again.tabTo("#name")
		again.typed("Taken over")
		again.tabTo("#owner-name")
		again.typed("Eve")
		again.tabTo("#owner-email")
		again.typed("eve@own.example")
		again.tabTo("#owner-password")
		again.typed(ownersPassword)
		again.enter()
		again.says("The link was used already or is too old")
	}
	for key, price := range handPrices {
		a.api("PUT", "/prices/"+key, map[string]any{"price": price, "per": "kg", "version": 0}, nil)
	}
	id := a.planned("B-1", "North")
	s = show(t, b, a.url+"/bench/"+id, 1280, 800)
	s.lookedOver()
	s.weigh("6600", "6.600")
	s.weigh("180", "6.420")
	s.weigh("1000", "5.420")
	one.kill()
	s.weigh("160", "5.260")
	s.weigh("960", "4.300")
	// the live weight comes from the program that is left
	a.api("POST", "/benches/"+a.bench("North")+"/scale/command", map[string]any{"command": "put", "g": 900}, nil)
	s.until("the scale shows 0.900", "document.querySelector('.digits')?.innerText.includes('0.900')")
	s.enter()
	s.residual("3.400")
	one.args = at(one)
	one.start()
	two.kill()
	s.weigh("2400", "1.000")
	s.weigh("600", "0.400")
	two.args = at(two)
	two.start()
	// both at once: what is booked waits, and is sent when one is back
	one.kill()
	two.kill()
	s.typed("150")
	s.enter()
	s.says("1 weighing waits here, safe")
	one.start()
	s.until("it is through", "document.querySelector('.bench').dataset.waiting === '0'")
	two.start()
	s.weigh("200", "0.050")
	s.tabTo("[data-act=e]")
	s.enter()
	s.says("It balances: 0.050 kg")
	var board struct {
		Booked  int
		Balance struct {
			OutputG float64 `json:"output_g"`
		}
	}
	for _, p := range []*program{one, two} {
		direct := &app{t: t, url: p.url, jar: a.jar}
		direct.api("GET", "/breakdowns/"+id, nil, &board)
		if board.Booked != 11 || board.Balance.OutputG != 6550 {
			t.Errorf("%s has %d events and %v g, want 11 and 6,550", p.url, board.Booked, board.Balance.OutputG)
		}
	}
	// one that is told to stop finishes what it does, and the other goes on
	if err := one.cmd.Process.Signal(syscall.SIGTERM); err != nil {
		t.Fatal(err)
	}
	if err := one.cmd.Wait(); err != nil {
		t.Errorf("stopping: %v\n%s", err, one.errs)
	}
	a.api("GET", "/breakdowns/"+id, nil, &board)
	logs := one.errs.String() + two.errs.String() // which of the two has a booking is the proxy's turn
	if !strings.Contains(logs, `"route":"/api/v1/breakdowns/:breakdown_id/events"`) ||
		strings.Contains(logs, ownersPassword) || strings.Contains(logs, link) {
		t.Error("the log has no line for the bookings, or a secret in it")
	}
	out, err := exec.Command(binary, "verify", "--dsn", dsn).CombinedOutput()
	if err != nil || !strings.Contains(string(out), "1 shops, 1 breakdowns, 11 events: 0 flaws") {
		t.Errorf("verify: %v\n%s", err, out)
	}
}

// at are the arguments with which a program starts again where it was.
func at(p *program) []string {
	args := append([]string{}, p.args...)
	for i := range args {
		if args[i] == "--addr" {
			args[i+1] = strings.TrimPrefix(p.url, "http://")
		}
	}
	return args
}
