package api

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"maps"
	"net/url"
	"slices"
	"strings"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/tabular"
)

// everyChange does each kind of change once through the interface.
func (r *rig) everyChange() {
	r.t.Helper()
	var lot contract.Lot
	a := arrival("=1+1")
	a["supplier"] = "@croft"
	r.ok("POST", base+"/lots", a, &lot)
	r.ok("PUT", base+"/prices/beef.cap_steak", `{"price":"24","per":"kg","version":0}`, nil)
	r.ok("PUT", base+"/prices/beef.cap_steak", `{"price":"25.5","per":"lb","version":1}`, nil)
	piece := base + "/pieces/" + lot.PieceIds[0]
	r.ok("PUT", piece+"/plan", `{"plan_id":"traditional","version":1}`, nil)
	r.ok("PUT", piece+"/plan", `{"plan_id":"seamed","version":2}`, nil)
	var b contract.Board
	r.ok("POST", piece+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	b = r.book(b.Id, r.event("seamed_off", 1, map[string]any{"part": "cap", "net_g": 960}))
	r.book(b.Id, r.event("undone", 2, map[string]any{"target": *b.UndoTarget}))
	r.book(b.Id, r.event("seamed_off", 3, map[string]any{"part": "cap", "net_g": 950}))
	r.book(b.Id, r.event("closed", 4, map[string]any{"reason": "the rest went unweighed"}))
	r.ok("PUT", base+"/breakdowns/"+b.Id+"/judgement/cap", `{"method":"stew","note":"for the galley","version":0}`, nil)
	r.ok("POST", base+"/breakdowns/"+b.Id+"/judgement/confirm", nil, nil)
	r.ok("PUT", base+"/shop",
		map[string]any{"name": "Test shop", "market": "uk", "currency": "EUR", "weight_unit": "kg", "labour_rate": "26",
			"packaging_per_kg": "0.12", "idle_minutes": 10, "loss_limit_knife_pct": 1.5, "loss_limit_saw_pct": 2.5,
			"division_g": 5, "lot_prefix": "T-", "version": 1}, nil)
	var person struct{ Person contract.Person }
	r.ok("POST", base+"/people", `{"name":"New","email":"new@test.example","role":"cutter"}`, &person)
	one := base + "/people/" + person.Person.Id
	r.ok("PUT", one, `{"name":"New","role":"apprentice","active":true,"version":1}`, nil)
	r.ok("POST", one+"/link", nil, nil)
	for _, pin := range []string{"4802", ""} {
		r.do("PUT", one+"/pin", fmt.Sprintf(`{"pin":%q}`, pin))
	}
	var bench contract.BenchDetail
	r.ok("POST", base+"/benches", `{"name":"West"}`, &bench)
	r.ok("PUT", base+"/benches/"+bench.Id, `{"name":"Far west","active":true,"version":1}`, nil)
	var code contract.MadeCode
	r.ok("POST", base+"/benches/"+bench.Id+"/code", nil, &code)
	r.do("POST", base+"/enrolment", map[string]any{"code": code.Code})
	var benches []contract.BenchDetail
	r.ok("GET", base+"/benches", nil, &benches)
	r.do("DELETE", base+"/benches/"+bench.Id+"/screens/"+benches[2].Screens[0].Id, nil)
	var token contract.MadeToken
	r.ok("POST", base+"/tokens", `{"name":"x","scopes":["read","calc"]}`, &token)
	r.do("DELETE", base+"/tokens/"+token.Token.Id, nil)
	r.ok("POST", base+"/shops", `{"name":"Second","currency":"EUR","weight_unit":"kg","benches":["One"]}`, nil)
	r.withPassword("owner")
	r.do("POST", base+"/session", signInBody("owner@test.example", "not this one at all"))
	r.do("PUT", base+"/me/password", fmt.Sprintf(`{"old":%q,"new":"another good phrase"}`, password))
	r.do("DELETE", base+"/session", nil)
	r.signIn("owner")
	r.do("DELETE", base+"/me/sessions", nil)
	r.signIn("owner")
}

func (r *rig) trail(query string) []contract.AuditRow {
	r.t.Helper()
	var all []contract.AuditRow
	for next := ""; ; {
		var page contract.AuditPage
		r.ok("GET", base+"/audit?"+query+next, nil, &page)
		all = append(all, page.Rows...)
		if page.Next == nil {
			return all
		}
		next = "&after=" + url.QueryEscape(*page.Next)
	}
}

// Every change leaves its row: who, when, from where, what it was and what it became. Bench events stand in it too.
func TestAuditOfEveryChange(t *testing.T) {
	r := newRig(t)
	r.everyChange()
	rows := r.trail("most=500")
	actions := map[string]int{}
	for _, row := range rows {
		actions[row.Action]++
		if row.Name == "" || row.Role == "" || row.Via == "" || row.At.IsZero() {
			t.Errorf("a row without who or when: %+v", row)
		}
	}
	want := []string{"bench.added", "bench.changed", "bench.closed", "bench.code", "bench.enrolled", "bench.opened",
		"bench.revoked", "bench.seamed_off", "bench.undone", "breakdown.started", "judgement.confirmed", "lot.received",
		"method.chosen", "password.changed", "password.link", "person.added", "person.changed", "pin.set", "pin.taken",
		"plan.chosen", "price.set", "session.began", "session.ended", "session.ended_everywhere", "session.refused",
		"shop.added", "shop.set", "token.made", "token.revoked"}
	if got := slices.Sorted(maps.Keys(actions)); !slices.Equal(got, want) {
		t.Errorf("the audit holds %v\nwant %v", got, want)
	}
	find := func(action string, n int) contract.AuditRow {
		for _, row := range rows {
			if row.Action == action {
				if n--; n < 0 {
					return row
				}
			}
		}
		t.Fatalf("no %s", action)
		return contract.AuditRow{}
	}
	same := func(what string, got *map[string]any, want string) {
		t.Helper()
		raw, err := json.Marshal(got)
		if err != nil || string(raw) != want {
			t.Errorf("%s: %s, want %s", what, raw, want)
		}
	}
	price := find("price.set", 0)
	same("the price before", price.Was, `{"per":"kg","price":"24.0000"}`)
	same("the price after", price.Became, `{"per":"lb","price":"25.5000"}`)
	if from(price.SubjectName) != "Rump cap steak" || price.Name != "Owner" || price.Role != "owner" ||
		price.Via != "demo" || from(price.Address) != "127.0.0.1" || from(price.Request) == "" {
		t.Errorf("who set the price: %+v", price)
	}
	same("the first price before", find("price.set", 1).Was, `null`)
	same("the plan before", find("plan.chosen", 0).Was, `{"plan":"traditional"}`)
	same("what changed of the shop, before", find("shop.set", 0).Was,
		`{"idle_minutes":15,"labour_rate":"24.0000","market":"house"}`)
	var shop contract.Shop
	if r.ok("GET", base+"/shop", nil, &shop); shop.IdleMinutes != 10 {
		t.Errorf("the idle time is %d minutes", shop.IdleMinutes)
	}
	same("and after", find("shop.set", 0).Became, `{"idle_minutes":10,"labour_rate":"26.0000","market":"uk"}`)
	same("the person before", find("person.changed", 0).Was, `{"active":true,"role":"cutter"}`)
	cap := find("bench.seamed_off", 0)
	same("a weighing", cap.Became, `{"net_g":950,"part":"cap"}`)
	if from(cap.Bench) != "North" || from(cap.SubjectName) != "=1+1 / 1" || cap.Name != "Owner" {
		t.Errorf("a weighing: %+v", cap)
	}
}

// Filters fit, pages of any size give the same rows once, and the exported files hold them all.
func TestAuditFiltersPagesAndFiles(t *testing.T) {
	r := newRig(t)
	r.everyChange()
	all := r.trail("most=500")
	for _, size := range []int{1, 2, 7, 500} {
		paged := r.trail(fmt.Sprint("most=", size))
		if len(paged) != len(all) {
			t.Fatalf("in pages of %d there are %d rows, want %d", size, len(paged), len(all))
		}
		for i := range all {
			if fmt.Sprint(paged[i].Action, paged[i].At, from(paged[i].Subject),
				from(paged[i].Request)) != fmt.Sprint(all[i].Action, all[i].At, from(all[i].Subject), from(all[i].Request)) {
				t.Fatalf("in pages of %d row %d is %s, want %s", size, i, paged[i].Action, all[i].Action)
			}
		}
	}
	count := func(fits func(contract.AuditRow) bool) (n int) {
		for _, row := range all {
			if fits(row) {
				n++
			}
		}
		return n
	}
	owner, err := r.work.People.First(t.Context(), "owner")
	if err != nil {
		t.Fatal(err)
	}
	for query, want := range map[string]int{
		"action=price":           2,
		"action=bench.undone":    1,
		"action=nothing":         0,
		"member=" + owner.Member: count(func(a contract.AuditRow) bool { return from(a.MemberId) == owner.Member }),
		"bench=North":            5,
		"text=%3D1%2B1": count(func(a contract.AuditRow) bool {
			return strings.Contains(from(a.SubjectName),
				"=1+1")
		}),
		"from=2026-03-20":            len(all),
		"to=2026-03-19":              0,
		"from=2026-03-21":            0,
		"action=plan&bench=North":    0,
		"text=Rump+cap&action=price": 2,
	} {
		if got := r.trail(query); len(got) != want || (want == 0) != (len(got) == 0) {
			t.Errorf("%s: %d rows, want %d", query, len(got), want)
		}
	}
	for query, field := range map[string]string{"from=gestern": "from", "from=2026-03-20&to=2026-03-01": "to",
		"limit=0": "limit", "limit=501": "limit", "after=x": "after", "after=1.c.x": "after",
		"member=" + strings.Repeat("x", 200): "member"} {
		if p := r.fails("GET", base+"/audit?"+query, nil); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %d %+v", query, p.Status, from(p.Errors))
		}
	}
	if p := r.fails("GET", base+"/audit/export?format=pdf", nil); !has(p, "format", "unknown") {
		t.Errorf("as PDF: %+v", p)
	}
	_, header, raw := r.do("GET", base+"/audit/export?format=csv", nil)
	rows, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(raw, []byte("\ufeff")))).ReadAll()
	if err != nil || len(rows) != len(all)+1 ||
		!strings.Contains(header.Get("Content-Disposition"), `filename="falda-audit-2026-03-20.csv"`) {
		t.Errorf("as CSV: %d rows, %v, %s", len(rows), err, header.Get("Content-Disposition"))
	}
	for _, row := range rows {
		for _, cell := range row {
			if _, err := measure.ParseNumber(cell); err != nil && cell != "" && strings.ContainsAny(cell[:1], "=+-@") {
				t.Errorf("a spreadsheet takes %q for a formula", cell)
			}
		}
	}
	_, _, raw = r.do("GET", base+"/audit/export?format=xlsx", nil)
	if rows, err := tabular.Read(t.Context(), bytes.NewReader(raw), tabular.Usual); err != nil || len(rows) != len(all)+1 {
		t.Errorf("as XLSX: %d rows, %v", len(rows), err)
	}
	var list []contract.AuditRow
	_, _, raw = r.do("GET", base+"/audit/export?format=json&action=price", nil)
	if err := json.Unmarshal(raw, &list); err != nil || len(list) != 2 {
		t.Errorf("as JSON: %d rows, %v", len(list), err)
	}
	_, _, raw = r.do("GET", base+"/audit/export?format=json&action=nothing", nil)
	if err := json.Unmarshal(raw, &list); err != nil || len(list) != 0 {
		t.Errorf("nothing as JSON: %s, %v", raw, err)
	}
}

// Rule: neither the audit nor the log of the benches can be changed, not even by the program's own account.
func TestAppendOnly(t *testing.T) {
	r := newRig(t)
	r.everyChange()
	for _, table := range []string{"audit", "events"} {
		var before, after int
		if err := r.store.DB().Raw("SELECT COUNT(*) FROM " + table).Scan(&before).Error; err != nil || before == 0 {
			t.Fatal(before, err)
		}
		for _, q := range []string{"UPDATE " + table + " SET role = 'nobody'", "DELETE FROM " + table} {
			if err := r.store.DB().Exec(q).Error; err == nil || !strings.Contains(err.Error(), "append-only") {
				t.Errorf("%s: %v", q, err)
			}
		}
		if err := r.store.DB().Raw("SELECT COUNT(*) FROM " + table + " WHERE role <> 'nobody'").Scan(&after).
			Error; err != nil || after != before {
			t.Errorf("%s: %d rows before, %d after, %v", table, before, after, err)
		}
	}
	// a change that fails leaves no row
	rows := len(r.trail("most=500&action=price"))
	if p := r.fails("PUT", base+"/prices/beef.cap_steak", `{"price":"30","per":"kg","version":1}`); p.Status != 409 {
		t.Errorf("an old version: %d", p.Status)
	}
	if got := len(r.trail("most=500&action=price")); got != rows {
		t.Errorf("a price that was not set left %d rows", got-rows)
	}
}
