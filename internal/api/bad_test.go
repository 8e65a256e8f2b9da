package api

import (
	"net/http"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
)

func has(p contract.Problem, field, code string) bool {
	return slices.ContainsFunc(from(p.Errors),
		func(e contract.FieldError) bool { return e.Field == field && (code == "" || e.Code == code) })
}

// Bad input gets a clear error that names the field, and nothing of it is kept.
func TestReceiveRefuses(t *testing.T) {
	r := newRig(t)
	long := strings.Repeat("x", 600)
	for name, c := range map[string]struct {
		field string
		value any
		code  string
	}{
		"no piece":        {"atlas_id", "", "required"},
		"unknown piece":   {"atlas_id", "beef.unicorn", "unknown"},
		"no pieces":       {"pieces", 0, "out_of_range"},
		"many pieces":     {"pieces", 501, "out_of_range"},
		"no weight":       {"weight", "", "required"},
		"negative weight": {"weight", "-6.6", "not_positive"},
		"absurd weight":   {"weight", "6600", "absurd"},
		"grams as kilos":  {"weight", "99999999", "too_large"},
		"no number":       {"weight", "six", "not_a_number"},
		"wrong unit":      {"weight_unit", "stone", "unknown_unit"},
		"negative price":  {"price", "-1", "negative"},
		"no price":        {"price", "", "required"},
		"absurd price":    {"price", "1000000", "too_large"},
		"price per stone": {"price_per", "stone", "unknown_unit"},
		"no slaughter":    {"slaughtered_on", "", "required"},
		"not a day":       {"slaughtered_on", "31.02.2026", "not_a_day"},
		"future":          {"slaughtered_on", "2026-04-20", "future"},
		"long ago":        {"slaughtered_on", "1996-02-24", "too_old"},
		"packed too soon": {"packed_on", "2026-02-20", "before_slaughter"},
		"no supplier":     {"supplier", "  ", "required"},
		"long supplier":   {"supplier", long, "too_long"},
		"odd supplier":    {"supplier", "a\x00b", "not_text"},
		"no lot number":   {"lot_number", "", "required"},
		"long lot number": {"lot_number", long, "too_long"},
		"unknown finding": {"findings", []string{"gold"}, "unknown"},
		"long note":       {"note", long, "too_long"},
	} {
		a := arrival("T-1")
		a[c.field] = c.value
		if p := r.fails("POST", "/api/v1/lots", a); p.Status != 422 || !has(p, c.field, c.code) {
			t.Errorf("%s: %d %+v", name, p.Status, from(p.Errors))
		}
	}
	r.ok("POST", "/api/v1/lots", arrival("T-1"), nil)
	if p := r.fails("POST", "/api/v1/lots", arrival("T-1")); p.Status != 409 || !has(p, "lot_number", "duplicate") {
		t.Errorf("the same lot twice: %+v", p)
	}
	var lots contract.LotList
	r.ok("GET", "/api/v1/lots", nil, &lots)
	if len(lots.Lots) != 1 || len(lots.Lots[0].PieceIds) != 1 {
		t.Errorf("%d lots were kept of one good one", len(lots.Lots))
	}
}

func TestEventsRefuse(t *testing.T) {
	r := newRig(t)
	b := r.onBench("T-1", "seamed")
	r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	events := "/api/v1/breakdowns/" + b.Id + "/events"
	part := map[string]any{"part": "cap", "net_g": 960.0}
	with := func(kind, field string, value any) map[string]any {
		e := r.event(kind, 1, part)
		e[field] = value
		return e
	}
	for name, c := range map[string]struct {
		event map[string]any
		field string
	}{
		"negative":        {with("seamed_off", "net_g", -5), "net_g"},
		"nothing":         {with("seamed_off", "net_g", 0), "net_g"},
		"ten thousand t":  {with("seamed_off", "net_g", 1e10), "net_g"},
		"unknown muscle":  {with("seamed_off", "part", "wing"), "part"},
		"unknown kind":    {with("eaten", "part", "cap"), "kind"},
		"no id":           {with("seamed_off", "id", ""), "id"},
		"not a uuid":      {with("seamed_off", "id", "17"), "id"},
		"uuid version 4":  {with("seamed_off", "id", "0b8ae7f5-7a0f-4f5c-9a53-7f6f8f3b2f10"), "id"},
		"far future":      {with("seamed_off", "at", "2031-01-01T00:00:00Z"), "at"},
		"somebody else":   {with("seamed_off", "by", "0198c0de-0000-7000-8000-000000000000"), "by"},
		"unknown bench":   {with("seamed_off", "bench_id", "none"), "bench_id"},
		"unknown node":    {with("seamed_off", "node", "0198c0de-0000-7000-8000-000000000000"), "node"},
		"tare off":        {with("seamed_off", "gross_g", 2000), "net_g"},
		"count":           {with("seamed_off", "count", -1), "count"},
		"division":        {with("seamed_off", "division_g", -5), "division_g"},
		"long reason":     {with("seamed_off", "reason", strings.Repeat("x", 501)), "reason"},
		"close with loss": {r.event("closed", 2, nil), "node"},
		"undo of nothing": {r.event("undone", 2, nil), "target"},
	} {
		if p := r.fails("POST", events, c.event); p.Status != 422 || !has(p, c.field, "") {
			t.Errorf("%s: %d %+v", name, p.Status, from(p.Errors))
		}
	}
	// a gain cannot be closed, whatever is said about it
	r.book(b.Id, r.event("seamed_off", 3, map[string]any{"part": "heart_main", "net_g": 6700}))
	if p := r.fails("POST", events, r.event("closed", 4, map[string]any{"reason": "please"})); !has(p, "node", "gain") {
		t.Errorf("closed with a gain: %+v", p)
	}
	var board contract.Board
	r.ok("GET", "/api/v1/breakdowns/"+b.Id, nil, &board)
	if board.Booked != 2 || board.Balance.OutputG != 6700 {
		t.Errorf("%d events are kept of two good ones", board.Booked)
	}
}

func TestMalformedRequests(t *testing.T) {
	r := newRig(t)
	b := r.onBench("T-1", "seamed")
	events := "/api/v1/breakdowns/" + b.Id + "/events"
	for name, c := range map[string]struct {
		method, path string
		body         any
		status       int
		field        string
	}{
		"broken JSON":     {"POST", events, `{"id":`, 400, ""},
		"two values":      {"POST", events, `{} {}`, 400, ""},
		"unknown field":   {"POST", events, `{"colour":"red"}`, 400, "colour"},
		"wrong type":      {"POST", events, `{"net_g":"heavy"}`, 400, "net_g"},
		"a fraction":      {"POST", "/api/v1/forecast", `{"pieces":1.5}`, 400, "pieces"},
		"a list":          {"POST", "/api/v1/lots", `[]`, 400, ""},
		"too large":       {"POST", "/api/v1/lots", `{"note":"` + strings.Repeat("x", 300<<10) + `"}`, 413, ""},
		"no such address": {"GET", "/api/v1/nothing", nil, 404, ""},
		"wrong method":    {"DELETE", "/api/v1/lots", nil, 405, ""},
		"no such piece":   {"GET", "/api/v1/pieces/none", nil, 404, ""},
		"no such board":   {"GET", "/api/v1/breakdowns/none", nil, 404, ""},
		"no such atlas":   {"GET", "/api/v1/atlas/pieces/beef.unicorn", nil, 404, ""},
		"no such price":   {"PUT", "/api/v1/prices/beef.unicorn", `{"price":"1","per":"kg","version":0}`, 404, ""},
		"bad price":       {"PUT", "/api/v1/prices/beef.fat", `{"price":"1,2,3","per":"kg","version":0}`, 422, "price"},
		"bad plan": {"PUT", "/api/v1/pieces/" + b.Piece.Id + "/plan", `{"plan_id":"none","version":2}`, 422,
			"plan_id"},
		"not finished":    {"GET", "/api/v1/breakdowns/" + b.Id + "/comparison", nil, 409, ""},
		"judged too soon": {"POST", "/api/v1/breakdowns/" + b.Id + "/judgement/confirm", nil, 409, ""},
		"no scale": {"POST", "/api/v1/benches/" + r.shop.Benches[0].Id + "/scale/command", `{"command":"zero"}`, 409,
			""},
		"no note": {"PUT", "/api/v1/breakdowns/" + b.Id + "/judgement/cap",
			`{"method":"stew","note":" ","version":0}`, 422, "note"},
		"no such method": {"PUT", "/api/v1/breakdowns/" + b.Id + "/judgement/cap",
			`{"method":"boil","note":"x","version":0}`, 422, "method"},
		"no such muscle": {"PUT", "/api/v1/breakdowns/" + b.Id + "/judgement/wing",
			`{"method":"stew","note":"x","version":0}`, 404, ""},
		"long question": {"GET", "/api/v1/atlas/search?q=" + strings.Repeat("x", 300), nil, 422, "q"},
	} {
		p := r.fails(c.method, c.path, c.body)
		if p.Status != c.status || (c.field != "" && !has(p, c.field, "")) {
			t.Errorf("%s: %d %s %+v", name, p.Status, from(p.Detail), from(p.Errors))
		}
	}
	req, err := http.NewRequest("POST", r.url+"/api/v1/pieces/"+b.Piece.Id+"/breakdown", strings.NewReader("{}"))
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
	req.Header.Set("Sec-Fetch-Site", "cross-site") // a page of somebody else's
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	resp.Body.Close()
	if resp.StatusCode != http.StatusForbidden {
		t.Errorf("a request of another site's page: %d", resp.StatusCode)
	}
}

// Source of the joint-cost figures: Horngren et al., Cost Accounting (from memory). The balance is model.md's example,
// by hand: 5,480 − 5,410 = 70 g, 70/5480 = 1.2774 %, 3·5·√(4/12) = 8.66 g.
func TestCalculators(t *testing.T) {
	r := newRig(t)
	var b contract.Balance
	r.ok("POST", "/api/v1/calc/balance",
		`{"input_g":5480,"division_g":5,"loss_limit_pct":1.5,"outputs":[{"kind":"muscle","g":1180},{"g":2300},{"g":1930}]}`,
		&b)
	if b.OutputG != 5410 || b.ResidualG != 70 || b.ResidualPct != 1.2774 || b.ToleranceG != 8.66 ||
		b.Verdict != "balanced" {
		t.Errorf("%+v", b)
	}
	dairy := func(method string) string {
		return `{"joint_cost":"400000","method":"` + method + `","products":[
			{"id":"cream","quantity":25000,"split_price":"8","final_quantity":20000,"final_price":"25","further_cost":"280000"},
			{"id":"skim","quantity":75000,"split_price":"4","final_quantity":50000,"final_price":"22","further_cost":"520000"}]}`
	}
	for method, want := range map[string][2]string{"physical": {"100000.00", "300000.00"},
		"sales_value": {"160000.00", "240000.00"}, "nrv": {"110000.00", "290000.00"},
		"constant_margin": {"95000.00", "305000.00"}} {
		var j contract.JointCost
		r.ok("POST", "/api/v1/calc/joint-cost", dairy(method), &j)
		if j.Allocations[0].Cost != want[0] || j.Allocations[1].Cost != want[1] || j.Method != method {
			t.Errorf("%s: %+v", method, j)
		}
		if (method == "constant_margin") != (j.GrossMarginPct != nil && *j.GrossMarginPct == 25) {
			t.Errorf("%s: gross margin %v", method, j.GrossMarginPct)
		}
	}
	for body, field := range map[string]string{
		`{"outputs":[]}`:                                          "input_g",
		`{"input_g":-1,"outputs":[]}`:                             "input_g",
		`{"input_g":9,"outputs":[{"kind":"elephant","g":2}]}`:     "outputs[0].kind",
		`{"input_g":1,"outputs":[{"g":-2}]}`:                      "outputs[0].g",
		`{"input_g":1,"outputs":[],"loss_limit_pct":101}`:         "loss_limit_pct",
		`{"input_g":1,"outputs":[],"division_g":-1}`:              "division_g",
		`{"input_g":1e300,"outputs":[]}`:                          "input_g",
		`{"input_g":1,"outputs":[{"g":1}],"division_g":99999999}`: "division_g",
	} {
		if p := r.fails("POST", "/api/v1/calc/balance", body); !has(p, field, "") {
			t.Errorf("%s: %+v", body, p)
		}
	}
	for body, field := range map[string]string{
		`{"joint_cost":"x","method":"nrv","products":[{"id":"a"}]}`:                             "joint_cost",
		`{"joint_cost":"1","method":"luck","products":[{"id":"a","quantity":1}]}`:               "method",
		`{"joint_cost":"1","method":"nrv","products":[]}`:                                       "products",
		`{"joint_cost":"1","method":"physical","products":[{"id":"a","quantity":-1}]}`:          "products[0].quantity",
		`{"joint_cost":"1","method":"physical","products":[{"id":"a"},{"id":"a"}]}`:             "products[1].id",
		`{"joint_cost":"1","method":"nrv","products":[{"id":"a"}]}`:                             "products",
		`{"joint_cost":"1","method":"nrv","products":[{"id":"a","final_price":"1e9"}]}`:         "products[0].final_price",
		`{"joint_cost":"1","method":"physical","products":[{"id":"a","quantity":1e200}]}`:       "products[0].quantity",
		`{"joint_cost":"1","method":"physical","products":[{"id":"","quantity":1}]}`:            "products[0].id",
		`{"joint_cost":"-1","method":"physical","products":[{"id":"a","quantity":1}]}`:          "joint_cost",
		`{"joint_cost":"1","method":"nrv","products":[{"id":"a","further_cost":"9999999999"}]}`: "products[0].further_cost",
	} {
		if p := r.fails("POST", "/api/v1/calc/joint-cost", body); !has(p, field, "") {
			t.Errorf("%s: %+v", body, p)
		}
	}
}

// The contract is served as it is written, and every route in it is there.
func TestContractIsServedAndKept(t *testing.T) {
	r := newRig(t)
	status, _, served := r.do("GET", "/api/v1/openapi.yaml", nil)
	written, err := os.ReadFile("../../api/openapi.yaml")
	if err != nil || status != 200 || string(served) != string(written) {
		t.Fatalf("served %d bytes of %d, %v", len(served), len(written), err)
	}
	var doc struct {
		Paths map[string]map[string]any `yaml:"paths"`
	}
	if err := yaml.Unmarshal(written, &doc); err != nil {
		t.Fatal(err)
	}
	param := regexp.MustCompile(`\{[^}]+\}`)
	routes := 0
	for path, methods := range doc.Paths {
		for method := range methods {
			routes++
			if strings.HasSuffix(path, "/stream") {
				continue // does not end
			}
			r.signIn("owner") // some of them sign out
			status, header, body := r.do(strings.ToUpper(method), "/api/v1"+param.ReplaceAllString(path, "none"), "{}")
			if status == 405 || status >= 500 || (status == 404 && strings.Contains(string(body), "no such address")) {
				t.Errorf("%s %s: %d", method, path, status)
			}
			if header.Get("X-Request-Id") == "" || header.Get("Content-Security-Policy") == "" {
				t.Errorf("%s %s: headers are missing", method, path)
			}
		}
	}
	if routes < 50 {
		t.Errorf("only %d routes were tried", routes)
	}
	for path, want := range map[string]int{"/": 200, "/bench/anything": 200, "/assets/x.js": 200, "/assets/gone.js": 404,
		"/healthz": 200, "/readyz": 200} {
		if status, _, _ := r.do("GET", path, nil); status != want {
			t.Errorf("%s: %d, want %d", path, status, want)
		}
	}
}

// The decoder of bench events never panics; what it takes is an event whose masses are within bounds.
func FuzzEvent(f *testing.F) {
	for _, s := range []string{`{}`, `{"id":"x","net_g":1}`, `{"net_g":1e309}`,
		`{"at":"2026-01-01T00:00:00Z","kind":"opened","net_g":-0}`, `{"minutes":null}`, `[`, `{"node":"\u0000"}`} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		var b contract.BenchEvent
		if err := decodeStrict(raw, &b); err != nil {
			if p := problemOf(err); p.Status != 400 {
				t.Fatalf("%q: %+v", raw, p)
			}
			return
		}
		e, err := event(b)
		if err != nil {
			if fault.Of(err) == nil {
				t.Fatalf("%q: an error that is no fault: %v", raw, err)
			}
			return
		}
		if e.Net.Grams() > 1e7 || e.Net.Grams() < -1e7 {
			t.Fatalf("%q became %d mg", raw, e.Net)
		}
	})
}

// The calculators of eating quality: a panel by hand, a serving plan that is balanced, Student's sleep data (sources in
// the core's tests), and bad input with its field.
func TestEatingCalculators(t *testing.T) {
	r := newRig(t)
	var p struct {
		N              int
		DroppedEachEnd int `json:"dropped_each_end"`
		Score          float64
		Grade          string
	}
	r.ok("POST", base+"/calc/panel",
		`{"weights":"current","scores":[{"tenderness":61,"juiciness":55,"flavour":60,"overall":62},{"tenderness":81,
			"juiciness":75,"flavour":80,"overall":82},{"tenderness":1,"juiciness":null}]}`, &p)
	// 0.3·61 + 0.1·55 + 0.3·60 + 0.3·62 = 60.4
	if p.N != 3 || p.DroppedEachEnd != 0 || p.Score != (60.4+80.4)/2 || p.Grade != "4" {
		t.Errorf("%+v", p)
	}
	var s struct {
		Orders [][]int
		Codes  map[string]string
	}
	r.ok("POST", base+"/calc/serving-plan", `{"samples":6,"eaters":12,"seed":7}`, &s)
	if len(s.Orders) != 12 || len(s.Codes) != 6 || len(s.Codes["6"]) != 3 {
		t.Errorf("%+v", s)
	}
	var tr struct {
		N       int
		T, P    float64
		Verdict string
	}
	r.ok("POST", base+"/calc/trial",
		`{"paired":true,"a":[0.7,-1.6,-0.2,-1.2,-0.1,3.4,3.7,0.8,0,2],"b":[1.9,0.8,1.1,0.1,-0.1,4.4,5.5,1.6,4.6,3.4],
			"confidence_pct":95}`, &tr)
	if tr.N != 10 || tr.T < 4.062 || tr.T > 4.0622 || tr.P < 0.0028 || tr.P > 0.0029 || tr.Verdict != "real" {
		t.Errorf("%+v", tr)
	}
	for _, c := range [][3]string{{"panel", `{"scores":[{"tenderness":101}]}`, "scores[0].tenderness"},
		{"panel", `{"scores":[]}`, "scores"}, {"panel", `{"weights":"x","scores":[]}`, "weights"},
		{"serving-plan", `{"samples":0,"eaters":5}`, "samples"}, {"serving-plan", `{"samples":3,"eaters":501}`, "eaters"},
		{"trial", `{"paired":true,"a":[1,2,3],"b":[1,2]}`, "b"},
		{"trial", `{"paired":false,"a":[1,2,3],"b":[1,2],"confidence_pct":100}`, "confidence_pct"}} {
		if p := r.fails("POST", base+"/calc/"+c[0], c[1]); p.Status != 422 || !has(p, c[2], "") {
			t.Errorf("%s %s: %+v", c[0], c[1], p)
		}
	}
}
