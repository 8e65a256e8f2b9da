package api

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/api/contract"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/audit"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

// today is the day of every test here.
var today = time.Date(2026, 3, 20, 9, 0, 0, 0, time.UTC)

// rig is the real interface on a real database.
type rig struct {
	t     testing.TB
	url   string
	store *store.Store
	work  *work.Rooms
	shop  contract.Shop
	token string // of the session that requests are sent with
	log   *bytes.Buffer
	lots  int // that were numbered
}

func newRig(t testing.TB) *rig {
	t.Helper()
	st, w := testdb.Service(t, func() time.Time { return today })
	web := fstest.MapFS{"index.html": {Data: []byte("<!doctype html><title>app</title>")},
		"assets/x.js": {Data: []byte("1")}}
	return serve(t, st, w, Options{Web: web, Scales: func(store.Bench) *device.Scale { return nil }})
}

// serve serves the interface on a database and signs an owner in.
func serve(t testing.TB, st *store.Store, w *work.Rooms, o Options) *rig {
	t.Helper()
	r := &rig{t: t, store: st, work: w, log: &bytes.Buffer{}}
	o.Work, o.Access, o.Log = w, true, slog.New(slog.NewTextHandler(&locked{w: r.log}, nil))
	srv := httptest.NewServer(Handler(o))
	t.Cleanup(srv.Close)
	r.url = srv.URL
	r.signIn("owner")
	r.ok("GET", "/api/v1/shop", nil, &r.shop)
	return r
}

// locked lets several write to one log.
type locked struct {
	mu sync.Mutex
	w  io.Writer
}

func (l *locked) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.w.Write(p)
}

// asRole is a context in which work is done for somebody of a role in the first shop.
func asRole(t testing.TB, w *work.Rooms, role string) context.Context { return testdb.As(t, w, role) }

// signIn makes requests go out as somebody of a role in the first shop; an empty role is nobody.
func (r *rig) signIn(role string) {
	r.t.Helper()
	r.token = ""
	if role == "" {
		return
	}
	who, err := r.work.People.First(r.t.Context(), role)
	if err != nil {
		r.t.Fatal(err)
	}
	if r.token, err = r.work.People.SignInDemo(r.t.Context(), who.Member, audit.Where{}); err != nil {
		r.t.Fatal(err)
	}
}

// do sends a request; a string body goes as it is, anything else as JSON.
func (r *rig) do(method, path string, body any) (int, http.Header, []byte) {
	r.t.Helper()
	var raw []byte
	switch b := body.(type) {
	case nil:
	case string:
		raw = []byte(b)
	default:
		var err error
		if raw, err = json.Marshal(b); err != nil {
			r.t.Fatal(err)
		}
	}
	if body == nil {
		return r.send(r.mine(), method, path, nil)
	}
	return r.send(r.mine(), method, path, raw)
}

// mine is who requests go out as.
func (r *rig) mine() visitor { return visitor{token: func() string { return r.token }} }

// send sends a request as a visitor; a body that is not nil goes as JSON.
func (r *rig) send(v visitor, method, path string, body []byte) (int, http.Header, []byte) {
	r.t.Helper()
	req, err := http.NewRequest(method, r.url+path, bytes.NewReader(body))
	if err != nil {
		r.t.Fatal(err)
	}
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	switch token := v.token(); {
	case v.via == "token":
		req.Header.Set("Authorization", "Bearer "+token)
	case token != "":
		req.AddCookie(&http.Cookie{Name: sessionCookie, Value: token})
	}
	if v.screen != "" {
		req.AddCookie(&http.Cookie{Name: screenCookie, Value: v.screen})
	}
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		r.t.Fatal(err)
	}
	defer resp.Body.Close()
	answer, err := io.ReadAll(resp.Body)
	if err != nil {
		r.t.Fatal(err)
	}
	return resp.StatusCode, resp.Header, answer
}

// ok sends a request that must succeed.
func (r *rig) ok(method, path string, body, out any) {
	r.t.Helper()
	status, _, answer := r.do(method, path, body)
	if status >= 300 {
		r.t.Fatalf("%s %s: %d %s", method, path, status, answer)
	}
	if out != nil {
		if err := json.Unmarshal(answer, out); err != nil {
			r.t.Fatalf("%s %s: %v", method, path, err)
		}
	}
}

// fails sends a request that must be refused with a problem.
func (r *rig) fails(method, path string, body any) contract.Problem {
	r.t.Helper()
	status, header, answer := r.do(method, path, body)
	var p contract.Problem
	if err := json.Unmarshal(answer, &p); err != nil || header.Get("Content-Type") != "application/problem+json" ||
		p.Status != status || status < 400 || p.Title == "" {
		r.t.Fatalf("%s %s: %d %s is no problem: %s", method, path, status, header.Get("Content-Type"), answer)
	}
	return p
}

// arrival is one rump of 6.6 kg at 11.40 a kilo, 24 days old.
func arrival(lot string) map[string]any {
	return map[string]any{"atlas_id": "beef.top_sirloin", "pieces": 1, "weight": "6.6", "weight_unit": "kg",
		"price": "11.40", "price_per": "kg", "slaughtered_on": "2026-02-24", "packed_on": "2026-02-26", "supplier": "A croft",
		"lot_number": lot, "findings": []string{}}
}

// handPrices are those of the comparison by hand.
var handPrices = map[string]string{"beef.heart_steak": "20", "beef.side_medallion": "26", "beef.cap_steak": "24",
	"beef.tri_tip_whole": "17", "beef.strips": "16", "beef.mince_trim": "10", "beef.fat": "0.50", "beef.rump_steak": "18",
	"beef.dice": "14"}

func (r *rig) priced() {
	for key, price := range handPrices {
		r.ok("PUT", "/api/v1/prices/"+key, map[string]any{"price": price, "per": "kg", "version": 0}, nil)
	}
}

// received receives a rump.
func (r *rig) received(lot string) contract.Lot {
	r.t.Helper()
	var l contract.Lot
	r.ok("POST", "/api/v1/lots", arrival(lot), &l)
	return l
}

// onBench receives a rump, chooses a plan and puts it on the first bench.
func (r *rig) onBench(lot, plan string) contract.Board {
	r.t.Helper()
	l := r.received(lot)
	r.ok("PUT", "/api/v1/pieces/"+l.PieceIds[0]+"/plan", map[string]any{"plan_id": plan, "version": 1}, nil)
	var b contract.Board
	r.ok("POST", "/api/v1/pieces/"+l.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	return b
}

// event fills in what every event has; at counts minutes from the start of the day.
func (r *rig) event(kind string, at int, more map[string]any) map[string]any {
	e := map[string]any{"id": store.NewID(), "kind": kind,
		"at": today.Add(time.Duration(at) * time.Minute).Format(time.RFC3339Nano), "bench_id": r.shop.Benches[0].Id}
	for k, v := range more {
		e[k] = v
	}
	return e
}

func (r *rig) book(board string, e map[string]any) contract.Board {
	r.t.Helper()
	var b contract.Board
	r.ok("POST", "/api/v1/breakdowns/"+board+"/events", e, &b)
	return b
}

// handWeights are those of the comparison by hand, in the order in which they come off.
var handWeights = []struct {
	kind, part string
	g          float64
}{{"trimmed", "wedge_fat", 180}, {"seamed_off", "tri_tip", 1000}, {"seamed_off", "mouse", 160},
	{"seamed_off", "cap", 960}, {"seamed_off", "heart_side", 900}, {"seamed_off", "heart_main", 2400},
	{"trimmed", "cover_fat", 600}, {"discarded", "gristle", 150}, {"trimmed", "trim", 200}}

// queue gives the pieces on the rail.
func (r *rig) queue() []contract.PieceCard {
	r.t.Helper()
	var list contract.PieceList
	r.ok("GET", base+"/pieces", nil, &list)
	return list.Pieces
}
