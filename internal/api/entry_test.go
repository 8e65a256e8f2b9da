package api

import (
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/device"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/people"
)

const password = "river stone lantern"

// clocked is a rig whose clock can be set.
func clocked(t *testing.T) (*rig, *time.Time) {
	t.Helper()
	now := today
	st, w := testdb.Service(t, func() time.Time { return now })
	r := serve(t, st, w, Options{Web: fstest.MapFS{}, Scales: func(store.Bench) *device.Scale { return nil }})
	return r, &now
}

// withPassword gives somebody of a role a password and answers their address.
func (r *rig) withPassword(role string) string {
	r.t.Helper()
	who, err := r.work.People.First(r.t.Context(), role)
	if err != nil {
		r.t.Fatal(err)
	}
	if err := r.store.SetPassword(r.t.Context(), who.PersonID, secret.Hash(password)); err != nil {
		r.t.Fatal(err)
	}
	p, err := r.store.Person(r.t.Context(), who.PersonID)
	if err != nil {
		r.t.Fatal(err)
	}
	return p.Email
}

func signInBody(email, pass string) string {
	return fmt.Sprintf(`{"email":%q,"password":%q}`, email, pass)
}

// cookieOf finds a cookie of an answer.
func cookieOf(t *testing.T, h http.Header, name string) *http.Cookie {
	t.Helper()
	for _, c := range (&http.Response{Header: h}).Cookies() {
		if c.Name == name {
			return c
		}
	}
	t.Fatalf("no cookie %s in %v", name, h["Set-Cookie"])
	return nil
}

// The session's cookie is out of reach of scripts and of other sites; over TLS it is bound to the host.
func TestSignInAndItsCookie(t *testing.T) {
	r, now := clocked(t)
	email := r.withPassword("cutter")
	r.signIn("")
	status, header, answer := r.do("POST", base+"/session", signInBody(" "+strings.ToUpper(email)+" ", password))
	if status != 204 {
		t.Fatalf("signing in: %d %s", status, answer)
	}
	c := cookieOf(t, header, sessionCookie)
	if !c.HttpOnly || c.SameSite != http.SameSiteStrictMode || c.Path != "/" || c.Domain != "" || len(c.Value) < 43 ||
		c.Secure {
		t.Errorf("the cookie is %+v", c)
	}
	r.token = c.Value
	r.ok("GET", base+"/pieces", nil, nil)
	// over TLS, and behind a proxy that speaks TLS
	o := Options{Work: r.work, Scales: func(store.Bench) *device.Scale { return nil }, Web: fstest.MapFS{},
		Log: slog.New(slog.DiscardHandler), BehindProxy: true}
	over := httptest.NewTLSServer(Handler(o))
	t.Cleanup(over.Close)
	plain := httptest.NewServer(Handler(o))
	t.Cleanup(plain.Close)
	for url, client := range map[string]*http.Client{over.URL: over.Client(), plain.URL: http.DefaultClient} {
		req, err := http.NewRequest("POST", url+base+"/session", strings.NewReader(signInBody(email, password)))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		if url == plain.URL {
			req.Header.Set("X-Forwarded-Proto", "https")
		}
		resp, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		if c := cookieOf(t, resp.Header, hostPrefix+sessionCookie); !c.Secure || !c.HttpOnly {
			t.Errorf("over TLS the cookie is %+v", c)
		}
		if (resp.TLS != nil) != (resp.Header.Get("Strict-Transport-Security") != "") {
			t.Errorf("%s: HSTS is %q", url, resp.Header.Get("Strict-Transport-Security"))
		}
	}
	// a session ends when it is not used, whatever the browser keeps
	*now = now.Add(13 * time.Hour)
	r.work = work.New(r.store, r.work.Atlas(), func() time.Time { return *now }) // which remembers nobody
	if _, err := r.work.People.BySession(t.Context(), r.token); err == nil {
		t.Error("a session holds after 13 hours without use")
	}
	if _, err := r.work.People.Sessions(asRole(t, r.work, "cutter")); err != nil {
		t.Error(err)
	}
}

// Wrong passwords cost time, more with each, for the account and for the address; the right one is refused too while
// one has to wait, and lets everything be forgotten.
func TestBackOff(t *testing.T) {
	r, now := clocked(t)
	email := r.withPassword("owner")
	r.signIn("")
	try := func(email, pass string) (int, time.Duration, string) {
		status, h, answer := r.do("POST", base+"/session", signInBody(email, pass))
		wait, _ := strconv.Atoi(h.Get("Retry-After"))
		return status, time.Duration(wait) * time.Second, string(answer)
	}
	_, _, unknown := try("nobody@test.example", "wrong password at all")
	status, _, known := try(email, "wrong password at all")
	strip := regexp.MustCompile(`"request":"[^"]*"`)
	if status != 422 || strip.ReplaceAllString(unknown, "") != strip.ReplaceAllString(known, "") {
		t.Errorf("an unknown address is told from a known one:\n%s\n%s", unknown, known)
	}
	for range 4 {
		try(email, "wrong password at all")
	}
	var waits []time.Duration
	for range 4 {
		status, wait, _ := try(email, password)
		if status != 429 || wait == 0 {
			t.Fatalf("after wrong ones the right password at once: %d, wait %s", status, wait)
		}
		waits = append(waits, wait)
		*now = now.Add(wait)
		if status, _, answer := try(email, "wrong password at all"); status != 422 {
			t.Fatalf("after the wait: %d %s", status, answer)
		}
	}
	if !slices.Equal(waits, []time.Duration{time.Second, 2 * time.Second, 4 * time.Second, 8 * time.Second}) {
		t.Errorf("one waits %v", waits)
	}
	*now = now.Add(16 * time.Second)
	if status, _, answer := try(email, password); status != 204 {
		t.Fatalf("the right password after the wait: %d %s", status, answer)
	}
	if status, _, _ := try(email, "wrong password at all"); status != 422 {
		t.Error("the right password did not let the wrong ones be forgotten")
	}
	// many accounts from one address
	refused := 0
	for i := range 60 {
		if status, _, _ := try(fmt.Sprintf("guess%d@test.example", i), "wrong password at all"); status == 429 {
			refused++
		}
	}
	if refused < 15 {
		t.Errorf("only %d of 60 guesses at other accounts were refused", refused)
	}
}

// A PIN opens a bench's own screen and nothing else: not another screen, not without the screen's cookie, and not what
// is of the desk. Wrong ones cost time.
func TestPinIsWorthNothingElsewhere(t *testing.T) {
	r, now := clocked(t)
	r.ok("GET", base+"/shop", nil, &r.shop)
	screen, other := r.screenAt(0), r.screenAt(1)
	cutter, err := r.work.People.First(t.Context(), "cutter")
	if err != nil {
		t.Fatal(err)
	}
	if err := r.work.People.SetPin(audit.As(t.Context(), cutter), "", "4802"); err != nil {
		t.Fatal(err)
	}
	body := func(pin string) string { return fmt.Sprintf(`{"member_id":%q,"pin":%q}`, cutter.Member, pin) }
	at := func(screen string) visitor { return visitor{token: func() string { return "" }, screen: screen} }
	if status, answer := r.call(at(""), "POST", base+"/session/pin", body("4802")); status != 422 ||
		!strings.Contains(answer, "not enrolled") {
		t.Errorf("a PIN without a screen: %d %s", status, answer)
	}
	if status, _ := r.call(at(""), "POST", base+"/session",
		`{"email":"cutter@test.example","password":"4802"}`); status != 422 {
		t.Errorf("a PIN as a password: %d", status)
	}
	if status, answer := r.call(at(screen), "POST", base+"/session/pin", body("4801")); status != 422 ||
		!strings.Contains(answer, "is not the PIN of Cutter") {
		t.Errorf("a wrong PIN: %d %s", status, answer)
	}
	token, err := r.work.People.SignInByPin(t.Context(), screen, cutter.Member, "4802", audit.Where{})
	if err != nil {
		t.Fatal(err)
	}
	held := visitor{via: "pin", role: "cutter", token: func() string { return token }, screen: screen}
	if status, _ := r.call(held, "GET", base+"/pieces", ""); status != 200 {
		t.Errorf("the rail on the bench: %d", status)
	}
	held.screen = ""
	if status, _ := r.call(held, "GET", base+"/pieces", ""); status != 401 {
		t.Errorf("the session's cookie without the screen's: %d", status)
	}
	held.screen = other
	if status, _ := r.call(held, "GET", base+"/pieces", ""); status != 401 {
		t.Errorf("the session's cookie on another bench's screen: %d", status)
	}
	for range 4 {
		r.call(at(screen), "POST", base+"/session/pin", body("0001"))
	}
	if status, _ := r.call(at(screen), "POST", base+"/session/pin", body("4802")); status != 429 {
		t.Errorf("after four wrong PINs: %d", status)
	}
	*now = now.Add(10 * time.Minute)
	if status, answer := r.call(at(screen), "POST", base+"/session/pin", body("4802")); status != 204 {
		t.Errorf("after the wait: %d %s", status, answer)
	}
	// the bench of an event is the screen's own, whatever is sent; the cutter before may have booked what comes in late
	b := r.onBench("T-1", "seamed")
	head, err := r.work.People.First(t.Context(), "head_cutter")
	if err != nil {
		t.Fatal(err)
	}
	held.screen = screen
	e := r.event("opened", 0, map[string]any{"net_g": 6600, "bench_id": r.shop.Benches[1].Id, "role": "owner"})
	send := func(e map[string]any) int {
		raw, err := json.Marshal(e)
		if err != nil {
			t.Fatal(err)
		}
		status, _ := r.call(held, "POST", base+"/breakdowns/"+b.Id+"/events", string(raw))
		return status
	}
	if status := send(e); status != 200 {
		t.Errorf("booking on the bench: %d", status)
	}
	if status := send(r.event("trimmed", 1,
		map[string]any{"part": "trim", "net_g": 10, "by": head.Member})); status != 422 {
		t.Errorf("an event by somebody who was never on this screen: %d", status)
	}
	if err := r.work.People.SetPin(audit.As(t.Context(), head), "", "7305"); err != nil {
		t.Fatal(err)
	}
	if token, err = r.work.People.SignInByPin(t.Context(), screen, head.Member, "7305", audit.Where{}); err != nil {
		t.Fatal(err)
	}
	if status := send(r.event("trimmed", 1,
		map[string]any{"part": "trim", "net_g": 10, "by": cutter.Member})); status != 200 {
		t.Errorf("an event of the cutter before: %d", status)
	}
	log, err := r.work.Bench.Log(asRole(t, r.work, "owner"), b.Id)
	if err != nil || len(log) != 2 {
		t.Fatal(len(log), err)
	}
	for i, l := range log {
		if l.Event.Bench != r.shop.Benches[0].Id || l.Event.By != cutter.Member || l.Event.Role != "cutter" ||
			l.Name != "Cutter" {
			t.Errorf("event %d: at %s by %s (%s) as %s", i, l.Event.Bench, l.Event.By, l.Name, l.Event.Role)
		}
	}
	// taken off its bench, the screen is nothing
	owner := asRole(t, r.work, "owner")
	benches, err := r.work.People.Benches(owner)
	if err != nil {
		t.Fatal(err)
	}
	if err := r.work.People.RevokeScreen(owner, benches[0].Bench.PublicID, benches[0].Screens[0].PublicID); err != nil {
		t.Fatal(err)
	}
	if status, _ := r.call(held, "GET", base+"/pieces", ""); status != 401 {
		t.Errorf("on a screen that was taken off: %d", status)
	}
}

// What ends a sign-in ends it at once: signing out everywhere, another password, another role, leaving, a revoked
// token.
func TestWhatEndsASignIn(t *testing.T) {
	r := newRig(t)
	owner := asRole(t, r.work, "owner")
	members, err := r.work.People.People(owner)
	if err != nil {
		t.Fatal(err)
	}
	cutter := members[slices.IndexFunc(members, func(m store.MemberRow) bool { return m.Role == "cutter" })]
	version := cutter.Version
	in := func() []string {
		var out []string
		for range 2 {
			r.signIn("cutter")
			r.ok("GET", base+"/pieces", nil, nil)
			out = append(out, r.token)
		}
		return out
	}
	ended := func(what string, tokens []string) {
		t.Helper()
		for _, token := range tokens {
			r.token = token
			if p := r.fails("GET", base+"/pieces", nil); p.Status != 401 {
				t.Errorf("%s: %d", what, p.Status)
			}
		}
	}
	tokens := in()
	if status, _, _ := r.do("DELETE", base+"/me/sessions", nil); status != 204 {
		t.Fatal(status)
	}
	ended("signed out everywhere", tokens)

	r.withPassword("cutter")
	tokens = in()
	if p := r.fails("PUT", base+"/me/password", `{"old":"not mine at all","new":"another good phrase"}`); !has(p, "old",
		"wrong_secret") {
		t.Errorf("with a wrong old password: %+v", p)
	}
	if p := r.fails("PUT", base+"/me/password", fmt.Sprintf(`{"old":%q,"new":"cutter"}`, password)); !has(p, "new",
		"too_short") {
		t.Errorf("a short new one: %+v", p)
	}
	r.ok("PUT", base+"/me/password", fmt.Sprintf(`{"old":%q,"new":"another good phrase"}`, password), nil)
	r.ok("GET", base+"/pieces", nil, nil) // here one stays
	ended("another password", tokens[:1])

	tokens = in()
	if _, err := r.work.People.ChangePerson(owner, cutter.PublicID,
		people.PersonChange{Name: "Cutter", Role: "apprentice", Active: true, Version: version}); err != nil {
		t.Fatal(err)
	}
	ended("another role", tokens)
	if _, err := r.work.People.ChangePerson(owner, cutter.PublicID,
		people.PersonChange{Name: "Cutter", Role: "apprentice", Active: false, Version: version + 1}); err != nil {
		t.Fatal(err)
	}
	if _, err := r.work.People.SignIn(t.Context(), "cutter@test.example", "another good phrase",
		audit.Where{}); err == nil {
		t.Error("who left comes in with the right password")
	}

	row, token, err := r.work.People.AddToken(owner, "stock", []string{"read"}, today.Format(time.DateOnly))
	if err != nil {
		t.Fatal(err)
	}
	script := visitor{via: "token", token: func() string { return token }}
	if status, _ := r.call(script, "GET", base+"/pieces", ""); status != 200 {
		t.Errorf("a token on its last day: %d", status)
	}
	if err := r.work.People.RevokeToken(owner, row.PublicID); err != nil {
		t.Fatal(err)
	}
	if status, _ := r.call(script, "GET", base+"/pieces", ""); status != 401 {
		t.Errorf("a revoked token: %d", status)
	}
	if _, _, err := r.work.People.AddToken(owner, "late", []string{"read"}, "2026-03-19"); err == nil {
		t.Error("a token that ended yesterday was made")
	}
	if _, _, err := r.work.People.AddToken(owner, "for ever", []string{"read"}, "9999-12-31"); err == nil {
		t.Error("a token of eight thousand years was made")
	}
	// the last owner stays
	me := members[slices.IndexFunc(members, func(m store.MemberRow) bool { return m.Role == "owner" })]
	if _, err := r.work.People.ChangePerson(owner, me.PublicID,
		people.PersonChange{Name: "Owner", Role: "cutter", Active: true, Version: 1}); err == nil {
		t.Error("the last owner became a cutter")
	}
}
