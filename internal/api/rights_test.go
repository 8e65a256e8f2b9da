package api

import (
	"fmt"
	"maps"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"

	"falda/internal/work/audit"
	"falda/internal/work/people"
)

// routesOf lists the contract's routes as the table of rights names them.
func routesOf(t *testing.T) []string {
	t.Helper()
	written, err := os.ReadFile("../../api/openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	var doc struct {
		Paths map[string]map[string]any `yaml:"paths"`
	}
	if err := yaml.Unmarshal(written, &doc); err != nil {
		t.Fatal(err)
	}
	var out []string
	for path, methods := range doc.Paths {
		for method := range methods {
			out = append(out, strings.ToUpper(method)+" "+path)
		}
	}
	slices.Sort(out)
	return out
}

// reckoning are the routes that take a question in a body and change nothing.
var reckoning = []string{"POST /forecast", "POST /eating/preview", "POST /plans/{atlas_id}/check",
	"POST /plans/{atlas_id}/compare", "POST /plans/{atlas_id}/{plan_id}/steps", "POST /plans/{atlas_id}/draft",
	"POST /portions", "POST /portions/ruler.pdf", "POST /cooking/timetable", "POST /cooking/probe",
	"POST /cooking/probe/import", "POST /comparisons", "POST /carcasses/{carcass_id}/value", "POST /best-use",
	"POST /blend", "POST /reports", "POST /orders/whole",
	"POST /tickets/pdf", "POST /week", "POST /learning/check"}

// Rule: every route of the contract has a row in the table of rights, and every row a route.
func TestEveryRouteHasItsRow(t *testing.T) {
	routes := routesOf(t)
	if table := slices.Sorted(maps.Keys(rights)); !slices.Equal(routes, table) {
		for _, r := range routes {
			if _, known := rights[r]; !known {
				t.Errorf("%s has no row in the table of rights", r)
			}
		}
		for _, r := range table {
			if !slices.Contains(routes, r) {
				t.Errorf("the row %s is of no route", r)
			}
		}
	}
	for route, row := range rights {
		if row.open != everybody && len(row.roles) == 0 {
			t.Errorf("%s: nobody may", route)
		}
		if !strings.HasPrefix(route, "GET ") && row.scope == "read" && !slices.Contains(reckoning, route) {
			t.Errorf("%s changes something, and a token that may read may call it", route)
		}
	}
}

// visitor is somebody who calls routes.
type visitor struct {
	name, role, via string
	scopes          []string
	token           func() string // of a session, or a script's
	screen          string
}

// screenAt enrols a screen at the first bench of the first shop and gives its token.
func (r *rig) screenAt(bench int) string {
	r.t.Helper()
	ctx := asRole(r.t, r.work, "owner")
	code, _, err := r.work.People.EnrolCode(ctx, r.shop.Benches[bench].Id)
	if err != nil {
		r.t.Fatal(err)
	}
	screen, err := r.work.People.Enrol(r.t.Context(), code, audit.Where{About: "a tablet"})
	if err != nil {
		r.t.Fatal(err)
	}
	return screen
}

// visitors are somebody of each role by password and by PIN, tokens of each scope, and nobody.
func (r *rig) visitors() []visitor {
	r.t.Helper()
	screen := r.screenAt(0)
	out := []visitor{{name: "nobody", token: func() string { return "" }},
		{name: "a screen with nobody at it", token: func() string { return "" }, screen: screen}}
	for i, role := range all {
		who, err := r.work.People.First(r.t.Context(), role)
		if err != nil {
			r.t.Fatal(err)
		}
		pin := fmt.Sprintf("48%d2", i)
		if err := r.work.People.SetPin(audit.As(r.t.Context(), who), "", pin); err != nil {
			r.t.Fatal(err)
		}
		out = append(out,
			visitor{name: role, role: role, via: "password", token: func() string { r.signIn(role); return r.token }})
		held := ""
		out = append(out, visitor{name: role + " by PIN", role: role, via: "pin", screen: screen, token: func() string {
			if _, err := r.work.People.BySession(r.t.Context(), held); err != nil {
				if held, err = r.work.People.SignInByPin(r.t.Context(), screen, who.Member, pin, audit.Where{}); err != nil {
					r.t.Fatal(err)
				}
			}
			return held
		}})
	}
	for _, scope := range people.Scopes {
		_, token, err := r.work.People.AddToken(asRole(r.t, r.work, "owner"), scope.ID, []string{scope.ID}, "")
		if err != nil {
			r.t.Fatal(err)
		}
		out = append(out,
			visitor{name: "a token for " + scope.ID, via: "token", scopes: []string{scope.ID},
				token: func() string { return token }})
	}
	return out
}

// call sends a request as a visitor and gives its status and answer.
func (r *rig) call(v visitor, method, path, body string) (int, string) {
	r.t.Helper()
	status, _, answer := r.send(v, method, path, []byte(body))
	return status, string(answer)
}

var inBraces = regexp.MustCompile(`\{[^}]+\}`)

// Rule: the table is enforced. Every route is tried as every role, by password and by PIN, with a token of each scope,
// on a screen with nobody at it, and as nobody.
func TestEveryRouteAsEverybody(t *testing.T) {
	r := newRig(t)
	visitors := r.visitors()
	tried, allowed := 0, 0
	for _, route := range routesOf(t) {
		row := rights[route]
		method, path, _ := strings.Cut(route, " ")
		path = base + inBraces.ReplaceAllString(path, "none")
		for _, v := range visitors {
			tried++
			status, answer := r.call(v, method, path, "{}")
			want := row.open == everybody || row.allows(v.role, v.via, v.scopes)
			switch {
			case want && (status == 401 || status == 403):
				t.Errorf("%s as %s: %d, though it may: %s", route, v.name, status, answer)
			case !want && v.via == "" && status != 401:
				t.Errorf("%s as %s: %d, want 401", route, v.name, status)
			case !want && v.via != "" && status != 403:
				t.Errorf("%s as %s: %d, want 403", route, v.name, status)
			case status >= 500:
				t.Errorf("%s as %s: %d %s", route, v.name, status, answer)
			}
			if want {
				allowed++
			}
		}
	}
	t.Logf("%d routes × %d visitors: %d tried, %d allowed", len(rights), len(visitors), tried, allowed)
	if tried < 900 || allowed < 300 || allowed > tried-300 {
		t.Errorf("%d tried, %d allowed: this is not the table that was meant", tried, allowed)
	}
}

// A few rows said in words, so that a slip in the table is seen: an apprentice cuts and sets no price, the yield desk
// prices and does not cut, nobody manages people but the owner, and not from a bench.
func TestRightsInWords(t *testing.T) {
	for _, c := range []struct {
		route, role, via string
		scopes           []string
		may              bool
	}{
		{"POST /breakdowns/{breakdown_id}/events", "apprentice", "pin", nil, true},
		{"PUT /prices/{product_key}", "apprentice", "password", nil, false},
		{"PUT /prices/{product_key}", "yield_desk", "password", nil, true},
		{"POST /breakdowns/{breakdown_id}/events", "yield_desk", "password", nil, false},
		{"POST /people", "owner", "password", nil, true}, {"POST /people", "owner", "pin", nil, false},
		{"POST /people", "head_cutter", "password", nil, false}, {"GET /audit", "owner", "pin", nil, false},
		{"GET /audit", "", "token", []string{"read"}, false}, {"GET /audit", "", "token", []string{"audit"}, true},
		{"POST /tokens", "", "token", []string{"calc", "read", "record", "prices", "audit"}, false},
		{"POST /lots", "apprentice", "password", nil, false}, {"PUT /shop", "head_cutter", "password", nil, false},
		{"POST /benches/{bench_id}/code", "head_cutter", "password", nil, true},
		{"PUT /me/password", "cutter", "pin", nil, false},
	} {
		if got := rights[c.route].allows(c.role, c.via, c.scopes); got != c.may {
			t.Errorf("%s as %s %s %v: %v", c.route, c.role, c.via, c.scopes, got)
		}
	}
}
