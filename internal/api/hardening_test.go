package api

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/device"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
)

// A code enrols one screen, soon; guessing costs time.
func TestEnrolCode(t *testing.T) {
	r, now := clocked(t)
	r.ok("GET", base+"/shop", nil, &r.shop)
	owner := asRole(t, r.work, "owner")
	code, _, err := r.work.People.EnrolCode(owner, r.shop.Benches[0].Id)
	if err != nil {
		t.Fatal(err)
	}
	r.signIn("")
	send := func(code string) (int, http.Header, []byte) {
		return r.do("POST", base+"/enrolment", fmt.Sprintf(`{"code":%q}`, code))
	}
	status, header, answer := send(strings.ToLower(strings.ReplaceAll(code, "-", " ")))
	if status != 204 {
		t.Fatalf("the code as somebody types it: %d %s", status, answer)
	}
	if c := cookieOf(t, header, screenCookie); !c.HttpOnly || c.MaxAge < 86400*300 {
		t.Errorf("the screen's cookie: %+v", c)
	}
	if status, _, _ := send(code); status != 422 {
		t.Errorf("a second time: %d", status)
	}
	if code, _, err = r.work.People.EnrolCode(owner, r.shop.Benches[0].Id); err != nil {
		t.Fatal(err)
	}
	*now = now.Add(16 * time.Minute)
	if status, _, _ := send(code); status != 422 {
		t.Errorf("after 16 minutes: %d", status)
	}
	limited := 0
	for range 20 {
		if status, _, _ := send(secret.NewCode()); status == 429 {
			limited++
		}
	}
	if limited < 12 {
		t.Errorf("only %d of 20 guesses were held up", limited)
	}
}

// The demo lets in with a touch, opens its calculators to all, and answers to loopback's names alone. Elsewhere it does
// not.
func TestDemoMode(t *testing.T) {
	st, w := testdb.Service(t, func() time.Time { return today })
	page := fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}}
	for _, demo := range []bool{true, false} {
		r := serve(t, st, w, Options{Web: page, Scales: func(store.Bench) *device.Scale { return nil }, Demo: demo})
		r.signIn("")
		var me struct{ Offered []struct{ ID, Role string } }
		r.ok("GET", base+"/me", nil, &me)
		if (len(me.Offered) == 5) != demo {
			t.Errorf("demo %v offers %d accounts", demo, len(me.Offered))
		}
		if status, _, _ := r.do("POST", base+"/calc/balance",
			`{"input_g":10,"outputs":[{"g":9}]}`); (status == 200) != demo || (!demo && status != 401) {
			t.Errorf("demo %v, the calculator for nobody: %d", demo, status)
		}
		if status, _, _ := r.do("POST", base+"/session/demo",
			`{"member_id":"`+cutterOf(t, w)+`"}`); (status == 204) != demo || (!demo && status != 404) {
			t.Errorf("demo %v, in with a touch: %d", demo, status)
		}
		req, err := http.NewRequest("GET", r.url+"/api/v1/me", nil)
		if err != nil {
			t.Fatal(err)
		}
		req.Host = "rebound.example"
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		if (resp.StatusCode == http.StatusMisdirectedRequest) != demo {
			t.Errorf("demo %v, by another name: %d", demo, resp.StatusCode)
		}
	}
}

func cutterOf(t *testing.T, w *work.Rooms) string {
	t.Helper()
	who, err := w.People.First(t.Context(), "cutter")
	if err != nil {
		t.Fatal(err)
	}
	return who.Member
}

// The page's policy lets in nothing but files from here and styles with the nonce of this very answer.
func TestContentSecurityPolicy(t *testing.T) {
	st, w := testdb.Service(t, func() time.Time { return today })
	page := fstest.MapFS{"index.html": {Data: []byte(`<!doctype html><meta property="csp-nonce" nonce="` + nonceMark +
		`">`)}, "assets/x.js": {Data: []byte("1")}}
	r := serve(t, st, w, Options{Web: page, Scales: func(store.Bench) *device.Scale { return nil }})
	nonces := map[string]bool{}
	for range 3 {
		_, header, body := r.do("GET", "/bench/x", nil)
		csp := header.Get("Content-Security-Policy")
		nonce := regexp.MustCompile(`'nonce-([^']+)'`).FindStringSubmatch(csp)
		if nonce == nil || len(nonce[1]) < 22 || !strings.Contains(string(body), `nonce="`+nonce[1]+`"`) ||
			strings.Contains(string(body), nonceMark) {
			t.Fatalf("policy %s, page %s", csp, body)
		}
		nonces[nonce[1]] = true
		for _, part := range strings.Split(csp, ";") {
			if strings.Contains(part, "unsafe") || strings.Contains(part, "*") || strings.Contains(part, "http") ||
				(strings.Contains(part, "script-src") && strings.TrimSpace(part) != "script-src 'self'") {
				t.Errorf("the policy holds %s", part)
			}
		}
		for _, must := range []string{"default-src 'none'", "frame-ancestors 'none'", "base-uri 'none'",
			"form-action 'self'"} {
			if !strings.Contains(csp, must) {
				t.Errorf("the policy lacks %s", must)
			}
		}
	}
	if len(nonces) != 3 {
		t.Error("a nonce came twice")
	}
	for _, path := range []string{"/", "/assets/x.js", base + "/pieces", base + "/none", "/healthz"} {
		_, header, _ := r.do("GET", path, nil)
		for name, want := range map[string]string{"X-Content-Type-Options": "nosniff", "X-Frame-Options": "DENY",
			"Referrer-Policy": "same-origin", "Cross-Origin-Opener-Policy": "same-origin"} {
			if header.Get(name) != want {
				t.Errorf("%s: %s is %q", path, name, header.Get(name))
			}
		}
	}
}

// Another site's page can do nothing with the cookie it makes the browser send.
func TestCrossSiteRequests(t *testing.T) {
	r := newRig(t)
	for name, header := range map[string][2]string{"fetch metadata": {"Sec-Fetch-Site", "cross-site"},
		"same site, other origin": {"Sec-Fetch-Site", "same-site"}, "origin": {"Origin", "https://elsewhere.example"}} {
		for _, method := range []string{"POST", "PUT", "DELETE"} {
			req, err := http.NewRequest(method, r.url+base+"/me/sessions", strings.NewReader("{}"))
			if err != nil {
				t.Fatal(err)
			}
			req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
			req.Header.Set(header[0], header[1])
			resp, err := http.DefaultClient.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			resp.Body.Close()
			if resp.StatusCode != http.StatusForbidden {
				t.Errorf("%s, %s: %d", name, method, resp.StatusCode)
			}
		}
	}
	r.ok("GET", base+"/pieces", nil, nil) // one is still signed in
}

// Rule: no secret comes into the log, the audit or, as it is, into the database.
func TestNoSecretIsWritten(t *testing.T) {
	r := newRig(t)
	email := r.withPassword("owner")
	secrets := []string{password, "another good phrase", "a wrong password here", "4802", "7391"}
	r.ok("PUT", base+"/me/password", fmt.Sprintf(`{"old":%q,"new":"another good phrase"}`, password), nil)
	secrets = append(secrets, r.token)
	r.do("POST", base+"/session", signInBody(email, "a wrong password here"))
	_, header, _ := r.do("POST", base+"/session", signInBody(email, "another good phrase"))
	r.token = cookieOf(t, header, sessionCookie).Value
	secrets = append(secrets, r.token)
	r.ok("PUT", base+"/me/pin", `{"pin":"4802"}`, nil)
	var person struct {
		Person struct{ ID string }
		Link   string
	}
	r.ok("POST", base+"/people", `{"name":"New","email":"new@test.example","role":"cutter","pin":"7391"}`, &person)
	var link struct{ Link string }
	r.ok("POST", base+"/people/"+person.Person.ID+"/link", nil, &link)
	var made struct{ Secret string }
	r.ok("POST", base+"/tokens", `{"name":"x","scopes":["read"]}`, &made)
	var code struct{ Code string }
	r.ok("POST", base+"/benches/"+r.shop.Benches[0].Id+"/code", nil, &code)
	_, header, _ = r.do("POST", base+"/enrolment", fmt.Sprintf(`{"code":%q}`, code.Code))
	screen := cookieOf(t, header, screenCookie).Value
	who, err := r.work.People.First(t.Context(), "owner")
	if err != nil {
		t.Fatal(err)
	}
	r.call(visitor{token: func() string { return "" }, screen: screen}, "POST", base+"/session/pin",
		fmt.Sprintf(`{"member_id":%q,"pin":"4802"}`, who.Member))
	r.call(visitor{via: "token", token: func() string { return made.Secret }}, "GET", base+"/pieces", "")
	r.do("GET", "/welcome?link="+link.Link, nil) // as somebody might mistype it
	r.do("PUT", base+"/invitation/password", fmt.Sprintf(`{"link":%q,"password":"another good phrase"}`, link.Link))
	secrets = append(secrets, person.Link, link.Link, made.Secret, code.Code, secret.PlainCode(code.Code), screen)
	var rows []map[string]any
	text := ""
	for _, table := range []string{"people", "members", "sessions", "devices", "one_time_tokens", "tokens", "audit",
		"attempts"} {
		if err := r.store.DB().Raw("SELECT * FROM " + table).Scan(&rows).Error; err != nil {
			t.Fatal(err)
		}
		for _, row := range rows {
			for column, v := range row {
				// in which four digits may stand by chance
				if !strings.HasSuffix(column, "_at") && column != "id" && !strings.HasSuffix(column, "_id") {
					text += fmt.Sprintf(" %v", v)
				}
			}
		}
	}
	hashes := regexp.MustCompile(`[0-9a-f]{64}|\$argon2id\S+|[0-9a-f-]{36}`)
	text = hashes.ReplaceAllString(text, "#")
	logged := hashes.ReplaceAllString(r.log.String(), "#")
	logged = regexp.MustCompile(`time=\S+`).ReplaceAllString(logged, "")
	if !strings.Contains(logged, "/session") || len(text) < 1000 {
		t.Fatal("nothing was written at all")
	}
	for i, s := range secrets {
		if s == "" {
			t.Fatalf("secret %d is empty", i)
		}
		if strings.Contains(logged, s) {
			t.Errorf("%s stands in the log", s)
		}
		if strings.Contains(text, s) {
			t.Errorf("%s stands in the database", s)
		}
	}
}

// A body has its limit, and what only a proxy may say is not believed from anybody else.
func TestLimitsOfARequest(t *testing.T) {
	r := newRig(t)
	if status, _, _ := r.do("POST", base+"/lots",
		`{"note":"`+strings.Repeat("x", 300<<10)+`"}`); status != http.StatusRequestEntityTooLarge {
		t.Errorf("a body of 300 KiB: %d", status)
	}
	req, err := http.NewRequest("GET", r.url+base+"/me", nil)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("X-Forwarded-For", "203.0.113.9")
	req.Header.Set("X-Forwarded-Proto", "https")
	req.Header.Set(requestHeader, "chosen-by-the-caller")
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	resp.Body.Close()
	if resp.Header.Get(requestHeader) == "chosen-by-the-caller" || strings.Contains(r.log.String(), "203.0.113.9") {
		t.Error("without a proxy, what only a proxy may say was believed")
	}
}
