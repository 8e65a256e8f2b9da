package api

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"falda/internal/work/audit"
)

// fuzzed is how many requests are sent.
var fuzzed = 6000

// fuzzer makes requests that nobody would send on purpose.
type fuzzer struct {
	rng    *rand.Rand
	routes []string
	ids    map[string][]string // good ones, by path parameter
	good   map[string]string   // good bodies, by route
	tokens []string
}

// oddities are texts that have broken programs before.
var oddities = []string{"", " ", "0", "-1", "9223372036854775808", "1e309", "NaN", "null", "true", "[]", "{}", "'",
	"\"", "\\", "' OR '1'='1", "1; DROP TABLE lots", "../../etc/passwd", "%00", "\x00", "\u202e", "🥩",
	"<script>alert(1)</script>", "=1+1", "{{7*7}}", "${jndi:x}", strings.Repeat("a", 5000), strings.Repeat("ü", 300),
	"0198c0de-0000-7000-8000-000000000000", "2026-02-30", "9999-12-31", "-0.0000001", "\xff\xfe", "kg", "1,5"}

func (f *fuzzer) odd() string { return oddities[f.rng.IntN(len(oddities))] }

// value is any JSON value, nested sometimes.
func (f *fuzzer) value(depth int) any {
	switch f.rng.IntN(9) {
	case 0:
		return nil
	case 1:
		return f.rng.IntN(2) == 0
	case 2:
		return f.rng.NormFloat64() * 1e6
	case 3:
		return []any{1e300, -1e300, 1 << 60, -5, 0.1, 1e-320}[f.rng.IntN(6)]
	case 4:
		list := []any{}
		for range f.rng.IntN(4) * min(depth, 1) {
			list = append(list, f.value(depth-1))
		}
		return list
	case 5:
		m := map[string]any{}
		for range f.rng.IntN(3) * min(depth, 1) {
			m[f.odd()] = f.value(depth - 1)
		}
		return m
	default:
		return f.odd()
	}
}

// body is a good body with something wrong in it, or no JSON at all.
func (f *fuzzer) body(route string) []byte {
	var m map[string]any
	if json.Unmarshal([]byte(f.good[route]), &m) != nil || m == nil {
		m = map[string]any{}
	}
	switch f.rng.IntN(12) {
	case 0:
		return []byte(f.odd())
	case 1:
		return []byte(strings.Repeat("[", 1+f.rng.IntN(20000)))
	case 2:
		return nil
	}
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	for range f.rng.IntN(3) {
		if len(keys) > 0 {
			k := keys[f.rng.IntN(len(keys))]
			if m[k] = f.value(2); f.rng.IntN(6) == 0 {
				delete(m, k)
			}
		}
	}
	if f.rng.IntN(15) == 0 {
		m[f.odd()] = f.value(1)
	}
	raw, err := json.Marshal(m)
	if err != nil {
		return []byte("{}")
	}
	if f.rng.IntN(10) == 0 && len(raw) > 2 { // a byte that is another
		raw[f.rng.IntN(len(raw))] = byte(f.rng.IntN(256))
	}
	return raw
}

func (f *fuzzer) request(base string) (*http.Request, string, error) {
	route := f.routes[f.rng.IntN(len(f.routes))]
	method, path, _ := strings.Cut(route, " ")
	path = inBraces.ReplaceAllStringFunc(path, func(p string) string {
		good := f.ids[strings.Trim(p, "{}")]
		if len(good) > 0 && f.rng.IntN(3) > 0 {
			return good[f.rng.IntN(len(good))]
		}
		return url.PathEscape(f.odd())
	})
	query := url.Values{}
	for _, name := range []string{"q", "baseline", "member", "action", "bench", "text", "from", "to", "after", "limit",
		"format", "by", "measure", "bucket", "after", "market", "day", "version", "atlas_id", "supplier", "cutter"} {
		if f.rng.IntN(12) == 0 {
			query.Add(name, f.odd())
		}
	}
	if f.rng.IntN(30) == 0 {
		method = []string{"PATCH", "HEAD", "OPTIONS", "DELETE", "GET"}[f.rng.IntN(5)]
	}
	at := base + path
	if len(query) > 0 {
		at += "?" + query.Encode()
	}
	req, err := http.NewRequest(method, at, bytes.NewReader(f.body(route)))
	if err != nil {
		return nil, route, err
	}
	if f.rng.IntN(20) > 0 {
		req.Header.Set("Content-Type", "application/json")
	} else {
		req.Header.Set("Content-Type",
			[]string{"text/plain", "multipart/form-data; boundary=x", "application/x-www-form-urlencoded",
				"application/json; charset=utf-16"}[f.rng.IntN(4)])
	}
	switch token := f.tokens[f.rng.IntN(len(f.tokens))]; {
	case f.rng.IntN(25) == 0:
		req.Header.Set("Authorization", "Bearer "+url.QueryEscape(f.odd()))
	case token != "":
		req.AddCookie(&http.Cookie{Name: sessionCookie, Value: token})
	}
	return req, route, nil
}

// Thousands of requests that are wrong in some way, from four callers at once: each is answered, none with a fault of
// the server.
func TestFuzzedRequests(t *testing.T) {
	if testing.Short() { // under the race detector
		fuzzed = 2000
	}
	r := newRig(t)
	a, _ := r.twoShops()
	good := map[string]string{
		"POST /lots": jsonOf(t, arrival("F-1")),
		"POST /forecast": jsonOf(t,
			map[string]any{"atlas_id": "beef.top_sirloin", "pieces": 1, "weight": "6.6", "weight_unit": "kg", "price": "11",
				"price_per": "kg"}),
		"POST /breakdowns/{breakdown_id}/events": jsonOf(t,
			r.event("trimmed", 1,
				map[string]any{"part": "trim", "net_g": 10, "gross_g": 10, "tare_g": 0, "division_g": 5, "source": "scale",
					"count": 1, "reason": "x", "note": "y", "target": "", "node": ""})),
		"POST /pieces/{piece_id}/breakdown": jsonOf(t, map[string]any{"bench_id": a.ids["bench_id"]}),
		"PUT /prices/{product_key}":         `{"price":"20","per":"kg","version":1}`,
		"PUT /prices/{product_key}/name":    `{"was":"","name":"Sunday cap"}`,
		"POST /calc/balance": `{"input_g":5480,"division_g":5,"loss_limit_pct":1.5,
			"outputs":[{"kind":"muscle","g":1180}]}`,
		"POST /calc/joint-cost": `{"joint_cost":"400","method":"nrv","products":[{"id":"a","quantity":2,"split_price":"1",
	"final_quantity":2,"final_price":"3","further_cost":"1"}]}`, "POST /session": signInBody("a@b.example", "x"),
		"POST /session/pin": `{"member_id":"x","pin":"1"}`,
		"POST /set-up": `{"link":"x","name":"x","currency":"EUR","weight_unit":"kg","labour_rate":"1",
			"packaging_per_kg":"1","discard_per_kg":"1","benches":["a"],"owner_name":"x",
			"owner_email":"a@b.example","owner_password":"x"}`,
		"POST /people": `{"name":"x","email":"f@x.example","role":"cutter","pin":"4802"}`,
		"POST /tokens": `{"name":"x","scopes":["read"],"ends_on":"2027-01-01"}`, "POST /benches": `{"name":"x"}`,
		"POST /shops": `{"name":"x","currency":"EUR","weight_unit":"kg","benches":["a"]}`,
		"PUT /shop": `{"name":"x","market":"house","currency":"EUR","weight_unit":"kg","labour_rate":"1",
	"packaging_per_kg":"1","loss_limit_knife_pct":1,"loss_limit_saw_pct":1,"division_g":5,"lot_prefix":"x","version":1}`,
	}
	for route, body := range bodies {
		good[route] = body
	}
	good["POST /cooking/timetable"] = `{"serve_at":"2026-03-20T19:00:00Z","dishes":[{"atlas_id":"beef.top_sirloin",
		"product_id":"tri_tip_whole","diners":4}]}`
	good["POST /cooking/probe"] = `{"target_core_c":60,"weight_g":1000,"readings":[{"s":0,"c":5},{"s":600,"c":62}]}`
	good["POST /tastings"] = `{"name":"x","held_on":"2026-03-20","assessors":2,
		"samples":[{"atlas_id":"beef.top_sirloin","part":"cap","method":"grill"}]}`
	good["POST /calc/panel"] = `{"scores":[{"tenderness":1,"juiciness":2,"flavour":3,"overall":4}]}`
	good["POST /calc/trial"] = `{"paired":true,"a":[1,2,3],"b":[2,3,5]}`
	alternatives := `[{"kind":"plan","atlas_id":"beef.top_sirloin","plan_id":"traditional"},{"kind":"plan",
		"atlas_id":"beef.top_sirloin","plan_id":"seamed","weight":"6","weight_unit":"kg"}]`
	good["POST /comparisons"] = `{"alternatives":` + alternatives +
		`,"block_price":"11","margin_pct":20,"method":"nrv","chain":[{"key":"beef.cap_steak","sells_pct":50}]}`
	good["POST /reports"] = `{"kind":"comparison","comparison":{"alternatives":` + alternatives + `}}`
	good["POST /shares"] = `{"days":3,"report":{"kind":"carcass","carcass_id":"lamb.whole"}}`
	good["POST /carcasses/{carcass_id}/value"] = `{"weight":"20","weight_unit":"kg","price":"8","price_per":"kg",
		"plan_id":"traditional","plans":{"lamb.rack":"seamed"},"heads":30}`
	good["POST /best-use"] = `{"minutes":"100","days":7,"wait":true,"orders":[{"product_key":"beef.cap_steak",
		"weight":"1","unit":"kg"}]}`
	good["POST /calc/best-use"] = `{"pieces":[{"id":"a","count":2,"may_wait":true,"plans":[{"id":"x","minutes":5,
		"cost":"1","yields":[{"product":"p","g":500}]}]}],"products":[{"id":"p","price":"10","cap_g":600,"fallback":"5",
		"order_g":100}],"minutes":20,"worths":true}`
	good["POST /calc/yield-grade"] = `{"species":"beef","fat_in":0.5,"kph_pct":3.5,"hot_carcass_lb":700,
		"ribeye_sq_in":12.3}`
	good["POST /markets"], good["PUT /demands"] = `{"name":"x","tax_pct":7}`,
		`{"product_key":"beef.cap_steak","season":"","week":"5","unit":"kg","fallback":"9","version":0}`
	good["PUT /quotes"] = `{"market":"` + a.ids["market_id"] +
		`","product_key":"beef.cap_steak","season":"","valid_from":"2026-02-01","price":"2.70","per":"piece",
		"piece_g":225,"version":0}`
	good["POST /calc/serving-plan"] = `{"samples":3,"eaters":4,"seed":1}`
	ids := map[string][]string{}
	for name, id := range a.ids {
		ids[name] = []string{id}
	}
	var routes []string
	for _, route := range routesOf(t) {
		if !strings.HasSuffix(route, "/stream") {
			routes = append(routes, route)
		}
	}
	const hands = 4
	var mu sync.Mutex
	statuses, sent := map[int]int{}, 0
	var all sync.WaitGroup
	for hand := range hands {
		f := &fuzzer{rng: rand.New(rand.NewPCG(uint64(hand), 2026)), routes: routes, ids: ids, good: good}
		renew := func() {
			f.tokens = []string{""}
			for _, role := range []string{"owner", "owner", "owner", "apprentice"} {
				who, err := r.work.People.First(context.Background(), role)
				if err != nil {
					t.Error(err)
					return
				}
				token, err := r.work.People.SignInDemo(context.Background(), who.Member, audit.Where{})
				if err != nil { // fuzzed out of the shop: the others go on
					continue
				}
				f.tokens = append(f.tokens, token)
			}
		}
		all.Go(func() {
			client := &http.Client{Timeout: 20 * time.Second,
				CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
			for n := range fuzzed / hands {
				if n%15 == 0 {
					renew() // for some of the requests sign out
				}
				req, route, err := f.request(r.url + base)
				if err != nil {
					continue
				}
				status, answer, err := ask(client, req)
				if err != nil {
					t.Errorf("%s %s: %v", req.Method, route, err)
					continue
				}
				mu.Lock()
				statuses[status]++
				sent++
				mu.Unlock()
				if status >= 500 {
					t.Errorf("%s (%.300s): %d %.300s", route, req.URL, status, answer)
				}
			}
		})
	}
	all.Wait()
	t.Logf("%d requests: %v", sent, statuses)
	for _, line := range strings.Split(r.log.String(), "\n") {
		if strings.Contains(line, "level=ERROR") {
			t.Logf("%.900s", line)
		}
	}
	if sent < fuzzed*8/10 || statuses[200]+statuses[201]+statuses[204] < fuzzed/8 || statuses[422] < fuzzed/24 ||
		statuses[400] < fuzzed/12 {
		t.Errorf("%d requests, %v: that was no such test", sent, statuses)
	}
	// and the app is as well as before
	if v, err := r.work.Bench.Verify(t.Context(), false); err != nil || len(v.Flaws) > 0 {
		t.Errorf("the database afterwards: %v, %v", v.Flaws, err)
	}
}

func ask(client *http.Client, req *http.Request) (int, []byte, error) {
	resp, err := client.Do(req)
	if err != nil {
		return 0, nil, err
	}
	defer resp.Body.Close()
	answer, err := io.ReadAll(resp.Body)
	if err != nil {
		return 0, nil, err
	}
	if resp.StatusCode >= 400 && !strings.Contains(resp.Header.Get("Content-Type"), "json") &&
		req.Method != http.MethodHead {
		return 0, nil, errors.New(fmt.Sprint("an error that is no problem+json: ", resp.StatusCode, " ", string(answer)))
	}
	return resp.StatusCode, answer, nil
}

func jsonOf(t *testing.T, v any) string {
	t.Helper()
	raw, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(raw)
}
