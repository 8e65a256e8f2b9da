package api

import (
	"bufio"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
)

// The stream shows what the scale shows, the commands reach it, and a bench without a scale says so.
func TestScaleOverTheInterface(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go (&device.SimScale{Settle: 50 * time.Millisecond, Every: 5 * time.Millisecond, Division: 10 * measure.Gram}).
		Serve(ctx, l)
	scale := device.Connect(ctx, l.Addr().String())
	st, w := testdb.Service(t, func() time.Time { return today })
	find := func(bench store.Bench) *device.Scale {
		if bench.Name == "North" {
			return scale
		}
		return nil
	}
	srv := httptest.NewUnstartedServer(Handler(Options{Work: w, Scales: find, Web: fstest.MapFS{},
		Log: slog.New(slog.NewTextHandler(io.Discard, nil))}))
	srv.Config.ReadTimeout = 300 * time.Millisecond // a stream lives longer than a request may take to be read
	srv.Start()
	t.Cleanup(srv.Close) // after the test's context has ended the streams
	r := &rig{t: t, url: srv.URL, store: st, work: w}
	r.signIn("owner")
	r.ok("GET", "/api/v1/shop", nil, &r.shop)
	if !r.shop.Benches[0].HasScale || r.shop.Benches[1].HasScale {
		t.Errorf("benches: %+v", r.shop.Benches)
	}
	north, south := r.shop.Benches[0].Id, r.shop.Benches[1].Id

	readings := r.listenTo(north)
	want := func(what string, fits func(contract.ScaleReading) bool) contract.ScaleReading {
		t.Helper()
		timeout := time.After(20 * time.Second)
		for {
			select {
			case got := <-readings:
				if fits(got) {
					return got
				}
			case <-timeout:
				t.Fatalf("the stream never shows %s", what)
			}
		}
	}
	stable := func(g float64) func(contract.ScaleReading) bool {
		return func(s contract.ScaleReading) bool { return s.Status == "ok" && s.Stable && s.NetG == g }
	}
	want("an empty pan", stable(0))
	command := "/api/v1/benches/" + north + "/scale/command"
	r.ok("POST", command, `{"command":"put","g":1234}`, nil)
	want("movement", func(s contract.ScaleReading) bool { return !s.Stable })
	if got := want("1,230 g", stable(1230)); got.DivisionG != 10 || !got.Simulated || got.Load == 0 {
		t.Errorf("%+v", got)
	}
	r.ok("POST", command, `{"command":"tare"}`, nil)
	if got := want("a tared pan", stable(0)); got.TareG != 1230 || got.GrossG != 1230 {
		t.Errorf("%+v", got)
	}
	r.ok("POST", command, `{"command":"clear_tare"}`, nil)
	want("the tare cleared", stable(1230))
	for body, field := range map[string]string{`{"command":"dance"}`: "command", `{"command":"put","g":-1}`: "g",
		`{"command":"put","g":1e300}`: "g"} {
		if p := r.fails("POST", command, body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", body, p)
		}
	}
	if p := r.fails("POST", "/api/v1/benches/"+south+"/scale/command", `{"command":"zero"}`); p.Status != 409 {
		t.Errorf("a bench without a scale: %+v", p)
	}
	time.Sleep(2 * srv.Config.ReadTimeout)
	r.ok("POST", command, `{"command":"take"}`, nil)
	want("an empty pan again, on the same stream", stable(0))
	if got := <-r.listenTo(south); got.Status != "disconnected" || *got.Message != "this bench has no scale" {
		t.Errorf("the stream of a bench without a scale: %+v", got)
	}
	if p := r.fails("GET", "/api/v1/benches/none/scale/stream", nil); p.Status != 404 {
		t.Errorf("no such bench: %+v", p)
	}
}

// listenTo reads a stream of server-sent events until the test ends.
func (r *rig) listenTo(bench string) <-chan contract.ScaleReading {
	t := r.t
	t.Helper()
	req, err := http.NewRequestWithContext(t.Context(), "GET", r.url+"/api/v1/benches/"+bench+"/scale/stream", nil)
	if err != nil {
		t.Fatal(err)
	}
	req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { resp.Body.Close() })
	if resp.Header.Get("Content-Type") != "text/event-stream" {
		t.Fatalf("the stream is %s", resp.Header.Get("Content-Type"))
	}
	out := make(chan contract.ScaleReading, 1000)
	go func() {
		for lines := bufio.NewScanner(resp.Body); lines.Scan(); {
			if raw, ok := strings.CutPrefix(lines.Text(), "data: "); ok {
				var s contract.ScaleReading
				if json.Unmarshal([]byte(raw), &s) == nil {
					out <- s
				}
			}
		}
	}()
	return out
}

// A bench's scale is read by the pattern that was set for it, which is tried on its lines first; what is no pattern is
// refused at its field.
func TestScaleOfAnotherMake(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	sim := &device.SimScale{Speaks: "letters", Settle: 30 * time.Millisecond, Every: 10 * time.Millisecond}
	go func() { _ = sim.Serve(t.Context(), l) }()
	s := device.Connect(t.Context(), l.Addr().String())
	st, w := testdb.Service(t, func() time.Time { return today })
	r := serve(t, st, w, Options{Scales: func(store.Bench) *device.Scale { return s }})
	at := base + "/benches/" + r.shop.Benches[0].Id + "/scale/lines"
	set := map[string]any{"pattern": device.Dialects["letters"], "unit": "kg", "version": 1}
	var lines []contract.ScaleLine
	for len(lines) < 3 {
		r.ok("POST", at, map[string]any{"pattern": set["pattern"], "unit": "kg"}, &lines)
	}
	if last := lines[len(lines)-1]; !last.Reads || from(last.State) != "stable" || last.NetG == nil || *last.NetG != 0 {
		t.Errorf("tried it reads %+v", last)
	}
	if p := r.fails("POST", at, map[string]any{"pattern": "(", "unit": "kg"}); !has(p, "pattern", "not_a_pattern") {
		t.Errorf("a bracket is a pattern: %+v", p)
	}
	if p := r.fails("PUT", at, map[string]any{"pattern": `(?P<weight>\d+)`, "unit": "kg", "version": 1}); !has(p,
		"pattern", "unknown_group") {
		t.Errorf("an unknown group is taken: %+v", p)
	}
	var b contract.BenchDetail
	r.ok("PUT", at, set, &b)
	if from(b.ScalePattern) != set["pattern"] || b.Version != 2 {
		t.Errorf("set: %+v", b)
	}
	if p := r.fails("PUT", at, set); p.Status != 409 {
		t.Errorf("set over what was not seen: %+v", p)
	}
	if err := s.Command(t.Context(), "put 1180"); err != nil {
		t.Fatal(err)
	}
	for {
		reading, changed := s.Reading()
		if reading.Stable && reading.Net.Grams() == 1180 {
			break
		}
		select {
		case <-changed:
		case <-time.After(10 * time.Second):
			t.Fatalf("it shows %+v", reading)
		}
	}
}
