package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/goccy/go-yaml"

	"falda/internal/core/fault"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/people"
	"falda/internal/work/shop"
)

// Rule: wrong tries are counted by the account, however its address is written.
func TestBackOffIsNotBySpelling(t *testing.T) {
	r, _ := clocked(t)
	email := r.withPassword("cutter")
	r.signIn("")
	spellings := []string{email, strings.ToUpper(email), " " + email + " ", strings.Replace(email, "t", "T", 1), email}
	for _, s := range spellings {
		if status, _, _ := r.do("POST", base+"/session", signInBody(s, "wrong wrong wrong")); status != 422 {
			t.Fatalf("%q with a wrong password: %d", s, status)
		}
	}
	for _, s := range append(spellings, strings.Replace(email, "e", "E", 1)) {
		if status, _, _ := r.do("POST", base+"/session", signInBody(s, password)); status != 429 {
			t.Errorf("after five wrong tries %q is let try again: %d", s, status)
		}
	}
	// letters that look like others, or cannot be seen, are another address: nobody's
	for _, s := range []string{strings.Replace(email, "u", "ü", 1), strings.Replace(email, "c", "c\u200b", 1),
		strings.Replace(email, "c", "ｃ", 1)} {
		if status, _, _ := r.do("POST", base+"/session", signInBody(s, password)); status != 422 {
			t.Errorf("%q signs in as %s: %d", s, email, status)
		}
		_, _, err := r.work.People.AddPerson(asRole(t, r.work, "owner"),
			people.Account{Name: "Twin", Email: s, Role: "cutter"})
		if f := fault.Of(err); f == nil || f[0].Field != "email" {
			t.Errorf("%q was added: %v", s, err)
		}
	}
}

// Rule: of an IPv6 address it is the network that counts, of IPv4 the address.
func TestNetworks(t *testing.T) {
	for _, c := range []struct{ a, b string }{
		{"2001:db8:1:2:3::1", "2001:db8:1:2:ffff::9"}, {"::ffff:192.0.2.7", "192.0.2.7"}, {"fe80::1%eth0", "fe80::2"},
	} {
		if people.Network(c.a) != people.Network(c.b) {
			t.Errorf("%s and %s are of two networks: %s, %s", c.a, c.b, people.Network(c.a), people.Network(c.b))
		}
	}
	if people.Network("2001:db8:1:2::1") == people.Network("2001:db8:1:3::1") ||
		people.Network("192.0.2.7") == people.Network("192.0.2.8") {
		t.Error("two networks are one")
	}
}

// Rule: somebody who guesses all the time does not keep out who signed in in this browser before.
func TestAStrangerLocksNobodyOut(t *testing.T) {
	r, now := clocked(t)
	email := r.withPassword("head_cutter")
	r.signIn("")
	_, header, _ := r.do("POST", base+"/session", signInBody(email, password))
	known := cookieOf(t, header, knownCookie)
	if !known.HttpOnly || known.SameSite != http.SameSiteStrictMode || known.MaxAge < 86400 {
		t.Errorf("the browser keeps %+v", known)
	}
	in := func(cookie string, pass string) int {
		t.Helper()
		req, err := http.NewRequest("POST", r.url+base+"/session", strings.NewReader(signInBody(email, pass)))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		if cookie != "" {
			req.AddCookie(&http.Cookie{Name: knownCookie, Value: cookie})
		}
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		return resp.StatusCode
	}
	let := 0
	for n := range 60 { // a stranger tries every second, the head cutter each tenth
		in("", "wrong wrong wrong")
		*now = now.Add(time.Second)
		if n%10 == 9 && in(known.Value, password) == 204 {
			let++
		}
	}
	if let != 6 {
		t.Errorf("the head cutter was let in %d of 6 times", let)
	}
	if got := in("fk_of-somebody-else", password); got != 429 {
		t.Errorf("with a cookie that is nobody's: %d", got)
	}
	// in a known browser one waits for one's own wrong tries
	for range 5 {
		in(known.Value, "wrong wrong wrong")
	}
	if got := in(known.Value, password); got != 429 {
		t.Errorf("after five wrong tries in the known browser: %d", got)
	}
	*now = now.Add(2 * time.Hour)
	if got := in(known.Value, password); got != 204 {
		t.Errorf("hours later: %d", got)
	}
}

// Rule: the owner of one shop does not come into another through an invitation that is not used yet.
func TestNoWayInThroughAnInvitation(t *testing.T) {
	r := newRig(t)
	a := asRole(t, r.work, "owner")
	if _, err := r.work.Shop.AddShop(a, shop.NewShop{Name: "Hill", Currency: "EUR", Unit: "kg"}); err != nil {
		t.Fatal(err)
	}
	shops, err := r.store.Shops(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	hill, err := r.work.People.MemberCaller(t.Context(), shops[1].ID, "owner")
	if err != nil {
		t.Fatal(err)
	}
	b := audit.As(t.Context(), hill)
	who := people.Account{Name: "New boss", Email: "new.boss@a.example", Role: "owner"}
	_, linkA, err := r.work.People.AddPerson(a, who)
	if err != nil || linkA == "" {
		t.Fatal(linkA, err)
	}
	who.Role = "apprentice"
	_, linkB, err := r.work.People.AddPerson(b, who)
	if err != nil || linkB == "" {
		t.Fatal(linkB, err)
	}
	r.signIn("")
	status, header, answer := r.do("PUT", base+"/invitation/password",
		map[string]string{"link": linkB, "password": password})
	if status != 204 {
		t.Fatalf("joining Hill: %d %s", status, answer)
	}
	r.token = cookieOf(t, header, sessionCookie).Value
	var me struct {
		Role  string
		Shops []struct{ ID, Name string }
	}
	r.ok("GET", base+"/me", nil, &me)
	if len(me.Shops) != 1 || me.Shops[0].Name != "Hill" || me.Role != "apprentice" {
		t.Errorf("by Hill's link one is in %+v", me)
	}
	if p := r.fails("PUT", base+"/session/shop", map[string]string{"shop_id": shops[0].PublicID}); p.Status != 404 {
		t.Errorf("into the other shop: %d", p.Status)
	}
	// the first shop's link stands, and asks for the password that Hill's brought about: it sets none
	var invited struct {
		Shop   string
		Choose bool
	}
	r.ok("POST", base+"/invitation", map[string]string{"link": linkA}, &invited)
	if invited.Choose || invited.Shop != "Test shop" {
		t.Errorf("the first link: %+v", invited)
	}
	if p := r.fails("PUT", base+"/invitation/password",
		map[string]string{"link": linkA, "password": "another good phrase"}); p.Status != 422 ||
		!has(p, "password", "wrong_secret") {
		t.Errorf("the first link takes another password: %+v", p)
	}
	r.ok("PUT", base+"/invitation/password", map[string]string{"link": linkA, "password": password}, nil)
	if p := r.fails("PUT", base+"/invitation/password",
		map[string]string{"link": linkA, "password": password}); p.Status != 409 {
		t.Errorf("a link used twice: %d", p.Status)
	}
	// who has an account somewhere is not in a shop that only entered their address
	future := people.Account{Name: "Future head", Email: "future.head@a.example", Role: "owner"}
	_, link, err := r.work.People.AddPerson(b, future)
	if err != nil {
		t.Fatal(err)
	}
	r.signIn("")
	_, header, _ = r.do("PUT", base+"/invitation/password", map[string]string{"link": link, "password": password})
	r.token = cookieOf(t, header, sessionCookie).Value
	if _, _, err := r.work.People.AddPerson(a, future); err != nil {
		t.Fatal(err)
	}
	r.ok("GET", base+"/me", nil, &me)
	if len(me.Shops) != 1 {
		t.Errorf("an address entered by another shop opens it: %+v", me.Shops)
	}
	if p := r.fails("PUT", base+"/session/shop", map[string]string{"shop_id": shops[0].PublicID}); p.Status != 404 {
		t.Errorf("into it: %d", p.Status)
	}
}

// Rule: of the links that set an installation up, the latest alone counts.
func TestOlderSetUpLinksAreDead(t *testing.T) {
	r := newRig(t)
	if err := r.store.DB().Exec("UPDATE installation SET set_up_at = NULL").Error; err != nil {
		t.Fatal(err)
	}
	var links []string
	for range 3 {
		link, err := r.work.People.SetUpLink(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		links = append(links, link)
	}
	for i, link := range links {
		_, err := r.work.People.SetUpByLink(t.Context(), link, shop.NewShop{Name: "First", Currency: "EUR", Unit: "kg"},
			people.Account{Email: "first@a.example", Name: "First", Password: password}, audit.Where{})
		if (err == nil) != (i == 2) {
			t.Errorf("link %d: %v", i+1, err)
		}
	}
}

// Rule: a stream ends with the right to it.
func TestStreamsEndWithTheRight(t *testing.T) {
	was := beatEvery
	beatEvery = 100 * time.Millisecond
	t.Cleanup(func() { beatEvery = was })
	r := newRig(t)
	board := r.onBench("ST-1", "seamed")
	owner := r.token
	open := func(path, token string) (ended chan struct{}) {
		t.Helper()
		ctx, cancel := context.WithCancel(t.Context())
		t.Cleanup(cancel) // before the server is closed, which waits for its streams
		req, err := http.NewRequestWithContext(ctx, "GET", r.url+base+path, nil)
		if err != nil {
			t.Fatal(err)
		}
		req.AddCookie(&http.Cookie{Name: sessionCookie, Value: token})
		resp, err := http.DefaultClient.Do(req)
		if err != nil || resp.StatusCode != 200 {
			t.Fatal(path, err, resp)
		}
		ended = make(chan struct{})
		go func() {
			_, _ = io.Copy(io.Discard, resp.Body)
			resp.Body.Close()
			close(ended)
		}()
		return ended
	}
	paths := []string{"/benches/" + r.shop.Benches[0].Id + "/scale/stream", "/breakdowns/" + board.Id + "/stream"}
	r.signIn("cutter")
	cutter := r.token
	var ends []chan struct{}
	for _, p := range paths {
		ends = append(ends, open(p, cutter))
	}
	stays := open(paths[0], owner)
	time.Sleep(3 * beatEvery)
	for i, e := range ends {
		select {
		case <-e:
			t.Fatalf("stream %s ended by itself", paths[i])
		default:
		}
	}
	r.ok("DELETE", base+"/session", nil, nil)
	for i, e := range ends {
		select {
		case <-e:
		case <-time.After(20 * time.Second):
			t.Errorf("after signing out %s goes on", paths[i])
		}
	}
	select {
	case <-stays:
		t.Error("somebody else's stream ended too")
	default:
	}
}

// Rule: one caller takes a few streams, one shop a part of them, so that there are always some for the others.
func TestStreamsAreShared(t *testing.T) {
	var s streams
	who := func(shop, session int64) audit.Caller { return audit.Caller{ShopID: shop, SessionID: session} }
	var ends []func()
	for range maxCallerStreams {
		end, ok := s.begin(who(1, 1))
		if !ok {
			t.Fatal("a caller has too few streams")
		}
		ends = append(ends, end)
	}
	if _, ok := s.begin(who(1, 1)); ok {
		t.Error("one caller has more streams than there are for one")
	}
	for n := int64(2); ; n++ {
		end, ok := s.begin(who(1, n))
		if !ok {
			break
		}
		ends = append(ends, end)
	}
	if len(ends) != maxShopStreams {
		t.Errorf("one shop has %d streams", len(ends))
	}
	if end, ok := s.begin(who(2, 900)); !ok {
		t.Error("another shop has none")
	} else {
		end()
		end() // once is enough
	}
	for _, end := range ends {
		end()
	}
	if s.all != 0 || len(s.shop) != 0 || len(s.caller) != 0 {
		t.Errorf("left: %d, %v, %v", s.all, s.shop, s.caller)
	}
}

// Rule: a caller who sends too much of a class waits, and nobody else does.
func TestRequestsAreLimitedByCaller(t *testing.T) {
	r := newRig(t)
	limited := serve(t, r.store, r.work,
		Options{Scales: func(store.Bench) *device.Scale { return nil },
			Limits: Limits{heavy: {0.5, 3}, reading: {1000, 1000}, changing: {1000, 1000}}})
	body := map[string]any{"kind": "nothing"}
	for n := range 6 {
		status, header, answer := limited.do("POST", base+"/reports", body)
		if want := n >= 3; want != (status == 429) {
			t.Errorf("request %d: %d %s", n+1, status, answer)
		} else if want && header.Get("Retry-After") == "" {
			t.Error("nothing says how long to wait")
		}
	}
	limited.ok("GET", base+"/shop", nil, nil)
	limited.signIn("head_cutter")
	if status, _, _ := limited.do("POST", base+"/reports", body); status == 429 {
		t.Error("somebody else has to wait too")
	}
	for route := range rights {
		if _, known := UsualLimits()[classOf(route)]; !known {
			t.Errorf("%s is of no class", route)
		}
	}
	c := counters{limits: Limits{reading: {1, 1}}}
	for n := range 3 * maxCounted {
		c.take(fmt.Sprint(n), reading, time.Now())
	}
	if len(c.known) > maxCounted {
		t.Errorf("%d callers are remembered", len(c.known))
	}
}

// Rule: what the contract requires has to be there; a form is no JSON.
func TestRequiredFieldsAreRequired(t *testing.T) {
	r := newRig(t)
	r.signIn("cutter")
	r.ok("PUT", base+"/me/pin", map[string]string{"pin": "2580"}, nil)
	for name, c := range map[string]struct {
		method, path, media, body string
		status                    int
		field                     string
	}{
		"an object without fields": {"PUT", "/me/pin", "application/json", `{}`, 422, "pin"},
		"a field that is null":     {"PUT", "/me/pin", "application/json", `{"pin":null}`, 422, "pin"},
		"a form":                   {"PUT", "/me/pin", "application/x-www-form-urlencoded", "pin=2580", 415, ""},
		"a form to sign in by":     {"POST", "/session", "application/x-www-form-urlencoded", "email=a&password=b", 415, ""},
		"no type at all":           {"PUT", "/me/pin", "", `{"pin":""}`, 415, ""},
		"a list's entry":           {"POST", "/batches", "application/json", `{"piece_ids":["x"]}`, 422, "bench_id"},
		"a nested field": {"POST", "/plans/beef.top_sirloin/compare", "application/json",
			`{"a":{"plan_id":"seamed"},"b":{}}`, 422, "b.plan_id"},
	} {
		req, err := http.NewRequest(c.method, r.url+base+c.path, strings.NewReader(c.body))
		if err != nil {
			t.Fatal(err)
		}
		if c.media != "" {
			req.Header.Set("Content-Type", c.media)
		}
		req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		answer, _ := io.ReadAll(resp.Body)
		resp.Body.Close()
		if resp.StatusCode != c.status || (c.field != "" && !bytes.Contains(answer, []byte(`"field":"`+c.field+`"`))) {
			t.Errorf("%s: %d %s", name, resp.StatusCode, answer)
		}
	}
	var me struct {
		HasPin bool `json:"has_pin"`
	}
	if r.ok("GET", base+"/me", nil, &me); !me.HasPin {
		t.Error("the PIN went with a body that named none")
	}
}

// Rule: files are taken up to two megabytes on every route that takes one, and on no other.
func TestUploadsAreThoseOfTheContract(t *testing.T) {
	raw, err := os.ReadFile("../../api/openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	var spec struct {
		Paths map[string]map[string]struct {
			RequestBody struct {
				Content map[string]any
			} `yaml:"requestBody"`
		}
	}
	if err := yaml.Unmarshal(raw, &spec); err != nil {
		t.Fatal(err)
	}
	var want []string
	for path, ops := range spec.Paths {
		for method, op := range ops {
			if _, is := op.RequestBody.Content["application/octet-stream"]; is {
				want = append(want, strings.ToUpper(method)+" "+path)
			}
		}
	}
	if !slices.Equal(slices.Sorted(slices.Values(want)), slices.Sorted(slices.Values(uploads))) {
		t.Errorf("the contract takes files at %v", want)
	}
}

// Rule: who may not enter the sheets of a tasting gets no link with which an eater does; a token changes no settings.
func TestLinksAndSettingsAreNotForAll(t *testing.T) {
	r := newRig(t)
	v := r.planTasting(10)
	for _, role := range []string{"owner", "head_cutter", "cutter", "apprentice", "yield_desk"} {
		r.signIn(role)
		_, _, answer := r.do("GET", base+"/tastings/"+v.Id, nil)
		if shown := bytes.Contains(answer, []byte(*v.Places[0].Link)); shown != (role != "apprentice") {
			t.Errorf("%s sees the links: %v", role, shown)
		}
		if status, _, _ := r.do("GET", base+"/tastings/"+v.Id+"/sheets.pdf", nil); (status == 200) != (role != "apprentice") {
			t.Errorf("%s prints the sheets: %d", role, status)
		}
	}
	for _, scope := range people.Scopes {
		_, token, err := r.work.People.AddToken(asRole(t, r.work, "owner"), "script "+scope.ID, []string{scope.ID}, "")
		if err != nil {
			t.Fatal(err)
		}
		bearer := visitor{via: "token", token: func() string { return token }}
		if status, _, _ := r.send(bearer, "PUT", base+"/eating", []byte(`{}`)); status != 403 {
			t.Errorf("a token of scope %s changes settings: %d", scope.ID, status)
		}
		if _, _, answer := r.send(bearer, "GET", base+"/tastings/"+v.Id, nil); bytes.Contains(answer,
			[]byte(*v.Places[0].Link)) != (scope.ID == "record") && scope.ID == "read" {
			t.Errorf("a token of scope %s sees the links", scope.ID)
		}
	}
}

// Rule: names that the database calls equal are refused with a message, and names hide nothing.
func TestNamesThatAreTheSame(t *testing.T) {
	r := newRig(t)
	r.ok("POST", base+"/markets", map[string]any{"name": "Café Nord", "tax_pct": 10}, nil)
	for name, c := range map[string]struct {
		path  string
		body  map[string]any
		field string
	}{
		"a market with other accents": {"/markets", map[string]any{"name": "Cafe nord", "tax_pct": 10}, "name"},
		"two benches but for accents": {"/shops",
			map[string]any{"name": "Third", "currency": "EUR", "weight_unit": "kg", "benches": []string{"a", "á"}}, "benches"},
		"a name that cannot be seen": {"/benches", map[string]any{"name": "\u200b"}, "name"},
		"a name that runs backwards": {"/benches", map[string]any{"name": "\u202egnir"}, "name"},
		"a joined name": {"/people",
			map[string]any{"name": "a\u2066b", "email": "x@a.example", "role": "cutter"}, "name"},
	} {
		if p := r.fails("POST", base+c.path, c.body); (p.Status != 409 && p.Status != 422) || !has(p, c.field, "") {
			t.Errorf("%s: %+v", name, p)
		}
	}
	for _, good := range []string{"Łódź", "Dvořák", "Γιώργος", "Željko", "नाम"} {
		r.ok("POST", base+"/benches", map[string]any{"name": good}, nil)
	}
}

// Rule: a disk without room is said as such, and readiness says so as well.
func TestAFullDiskIsSaid(t *testing.T) {
	p := problemOf(fmt.Errorf("booking: %w", store.ErrFull))
	if p.Status != 503 || !strings.Contains(p.Title, "full") {
		t.Errorf("%+v", p)
	}
	if p := problemOf(store.ErrBehind); p.Status != 503 {
		t.Errorf("a log that grew meanwhile: %+v", p)
	}
	if raw, err := json.Marshal(p); err != nil || len(raw) == 0 {
		t.Error(err)
	}
}
