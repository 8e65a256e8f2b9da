package api

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/url"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"

	"falda/internal/store"
)

// written is the contract, as far as odd requests are made from it.
type written struct {
	Paths      map[string]map[string]operation
	Components struct {
		Schemas    map[string]schema
		Parameters map[string]parameter
	}
}

type operation struct {
	Parameters  []parameter
	RequestBody struct {
		Content map[string]struct{ Schema schema }
	} `yaml:"requestBody"`
}

type parameter struct {
	Ref    string `yaml:"$ref"`
	Name   string
	In     string
	Schema schema
}

type schema struct {
	Ref        string `yaml:"$ref"`
	Type       string
	Format     string
	Enum       []any
	Items      *schema
	Required   []string
	Properties map[string]schema
	Additional any `yaml:"additionalProperties"`
}

// odd makes requests from the contract and bends them.
type odd struct {
	*rand.Rand
	doc written
	ids map[string]string
}

// value is what a schema asks for, from the shop's own ids where a field is called after one; most of what need not be
// there is left out.
func (o *odd) value(s schema, name string, depth int) any {
	if s.Ref != "" {
		s = o.doc.Components.Schemas[s.Ref[strings.LastIndex(s.Ref, "/")+1:]]
	}
	switch {
	case depth > 6:
		return nil
	case len(s.Enum) > 0:
		return s.Enum[o.IntN(len(s.Enum))]
	}
	switch s.Type {
	case "array":
		out := []any{}
		for range o.IntN(3) {
			out = append(out, o.value(*s.Items, strings.TrimSuffix(name, "s"), depth+1))
		}
		return out
	case "integer":
		return o.IntN(4)
	case "number":
		return float64(o.IntN(4000)) / 2
	case "boolean":
		return o.IntN(2) == 0
	case "string":
		return o.text(s, name)
	}
	out := map[string]any{}
	for _, key := range slices.Sorted(maps.Keys(s.Properties)) {
		if slices.Contains(s.Required, key) || o.IntN(3) == 0 {
			out[key] = o.value(s.Properties[key], key, depth+1)
		}
	}
	return out
}

func (o *odd) text(s schema, name string) string {
	switch {
	case o.ids[name] != "":
		return o.ids[name]
	case s.Format == "date" || strings.HasSuffix(name, "_on") || name == "day" || name == "from" || name == "to":
		return "2026-03-20"
	case s.Format == "date-time" || name == "at":
		return "2026-03-20T10:00:00Z"
	case name == "id":
		return store.NewID()
	case name == "key" || name == "product":
		return o.ids["product_key"]
	case strings.Contains(name, "unit") || strings.Contains(name, "per"):
		return "kg"
	case strings.Contains(name, "weight") || strings.Contains(name, "price") || name == "minutes":
		return strconv.Itoa(1+o.IntN(9)) + ".5"
	}
	return []string{"", "x", "seamed", "usual", "cap", "10:00", "beef"}[o.IntN(7)]
}

// bends are what a value is bent into.
var bends = []any{nil, "", " ", -1, 0, 1e308, -1e308, 1 << 53, 0.1, true, []any{}, map[string]any{}, []any{nil}, "NaN",
	"-0", "1e9999", "0.000000000000000000001", "99999999999999999999999", "1,5", "٣", "1 kg", "2026-02-30",
	"0000-00-00", "9999-12-31T23:59:59Z", "24:00", "' OR 1=1 --", "\u0000", "\u202e\ufeff", "🥩🥩🥩", "../../etc", "<b>",
	"%00", "\x7f", "none", strings.Repeat("x", 300), strings.Repeat("ü", 70_000),
	[]any{[]any{[]any{[]any{"deep"}}}}, map[string]any{"$ref": "#"}}

// bend is one of them, of its own, for it may be bent further.
func (o *odd) bend() any {
	v := bends[o.IntN(len(bends))]
	switch v.(type) {
	case []any, map[string]any:
		raw, err := json.Marshal(v)
		if err == nil {
			err = json.Unmarshal(raw, &v)
		}
		if err != nil {
			panic(err) // none of the bends is such
		}
	}
	return v
}

// bent changes one thing somewhere in a value.
func (o *odd) bent(v any) any {
	if o.IntN(6) == 0 {
		return o.bend()
	}
	switch x := v.(type) {
	case map[string]any:
		keys := slices.Sorted(maps.Keys(x))
		switch {
		case len(keys) == 0 || o.IntN(12) == 0:
			x["surplus"] = o.bend()
		case o.IntN(8) == 0:
			delete(x, keys[o.IntN(len(keys))])
		default:
			k := keys[o.IntN(len(keys))]
			x[k] = o.bent(x[k])
		}
		return x
	case []any:
		switch {
		case len(x) == 0:
			return append(x, o.bend())
		case o.IntN(4) == 0:
			return append(x, x[o.IntN(len(x))]) // the same twice
		case o.IntN(20) == 0:
			for len(x) < 400 {
				x = append(x, x[0])
			}
			return x
		}
		i := o.IntN(len(x))
		x[i] = o.bent(x[i])
		return x
	}
	return o.bend()
}

// path fills the parameters of a path and adds those of the query, some of them bent.
func (o *odd) path(route string, op operation) string {
	_, path, _ := strings.Cut(route, " ")
	query := url.Values{}
	text := func(v any) string {
		s := fmt.Sprint(v)
		return s[:min(len(s), 2000)]
	}
	for _, p := range op.Parameters {
		if p.Ref != "" {
			p = o.doc.Components.Parameters[p.Ref[strings.LastIndex(p.Ref, "/")+1:]]
		}
		v := o.value(p.Schema, p.Name, 0)
		if o.IntN(8) == 0 {
			v = o.bend()
		}
		switch p.In {
		case "path":
			if text(v) == "" {
				v = "none"
			}
			path = strings.Replace(path, "{"+p.Name+"}", url.PathEscape(text(v)), 1)
		case "query":
			query.Set(p.Name, text(v))
		}
	}
	path = base + inBraces.ReplaceAllString(path, "none")
	if len(query) > 0 {
		path += "?" + query.Encode()
	}
	return path
}

// body is a body for a route: a good one that is known, or one from the contract; then it is bent a few times, and
// seldom broken off.
func (o *odd) body(route string, op operation) []byte {
	media, ok := op.RequestBody.Content["application/json"]
	if !ok {
		if len(op.RequestBody.Content) == 0 {
			return nil
		}
		return []byte(fmt.Sprint(o.bend()) + "\n1;2;3\n\"")
	}
	var v any
	if known := bodies[route]; known == "" || o.IntN(2) == 0 || json.Unmarshal([]byte(known), &v) != nil {
		v = o.value(media.Schema, "", 0)
	}
	for range o.IntN(4) {
		v = o.bent(v)
	}
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err) // none of the bends is such
	}
	if o.IntN(40) == 0 && len(raw) > 1 {
		raw = raw[:o.IntN(len(raw))]
	}
	return raw
}

// ends are the routes that take away from whoever calls what the next call needs, or fill a whole shop with an example.
var ends = []string{"DELETE /session", "DELETE /me/sessions", "PUT /me/password", "PUT /me/pin", "PUT /session/shop",
	"POST /shops/example", "DELETE /shops/example", "POST /shops"}

// Rule: no request, however odd, is answered by a fault of the program's own. Requests are made from the contract, for
// every route and everybody who may call it, and bent; FALDA_ODD is how many (500 where it is not set), FALDA_SEED
// which ones. None is answered with 500 or more, every refusal says what is wrong, another shop does not change, and
// afterwards everything still balances.
func TestOddRequests(t *testing.T) {
	n, seed := howMany(t, "FALDA_ODD", 500), howMany(t, "FALDA_SEED", 1)
	r := newRig(t)
	a, b := r.twoShops()
	raw, err := os.ReadFile("../../api/openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	o := &odd{Rand: rand.New(rand.NewPCG(uint64(seed), 26)), ids: a.ids}
	if err := yaml.Unmarshal(raw, &o.doc); err != nil {
		t.Fatal(err)
	}
	visitors := r.lasting()
	before := r.everything(b.shop)
	routes := routesOf(t)
	answers := map[int]int{}
	for i := range n {
		route := routes[(i+o.IntN(7))%len(routes)]
		if slices.Contains(ends, route) || strings.HasSuffix(route, "/stream") {
			continue
		}
		method, path, _ := strings.Cut(route, " ")
		op := o.doc.Paths[path][strings.ToLower(method)]
		v := visitors[o.IntN(len(visitors))]
		if o.IntN(4) > 0 { // mostly somebody who may
			may := slices.DeleteFunc(slices.Clone(visitors),
				func(v visitor) bool { return !rights[route].allows(v.role, v.via, v.scopes) })
			if len(may) > 0 {
				v = may[o.IntN(len(may))]
			}
		}
		at, body := o.path(route, op), o.body(route, op)
		status, _, answer := r.send(v, method, at, body)
		answers[status/100]++
		what := fmt.Sprintf("%s as %s: %.300s: %d %.300s", method, v.name, at+" "+string(body), status, answer)
		if status >= 500 {
			t.Errorf("no. %d: %s", i, what)
		}
		var problem struct{ Title string }
		if status >= 400 && status < 500 && (json.Unmarshal(answer, &problem) != nil || problem.Title == "") {
			t.Errorf("no. %d is refused without a word: %s", i, what)
		}
	}
	t.Logf("%d requests of seed %d: %v", n, seed, answers)
	if answers[2] < n/20 || answers[4] < n/4 {
		t.Errorf("%v: these are not the requests that were meant", answers)
	}
	if r.everything(b.shop) != before {
		t.Error("something of the other shop has changed")
	}
	flaws, err := r.work.Bench.Verify(t.Context(), false)
	if err != nil || len(flaws.Flaws) > 0 {
		t.Errorf("%v %v", flaws.Flaws, err)
	}
}

// lasting are the visitors, signed in once.
func (r *rig) lasting() []visitor {
	out := r.visitors()
	for i, v := range out {
		if v.via == "password" {
			token := v.token()
			out[i].token = func() string { return token }
		}
	}
	return out
}

func howMany(t testing.TB, name string, usual int) int {
	t.Helper()
	text := os.Getenv(name)
	if text == "" {
		return usual
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		t.Fatalf("%s=%s: give a number above zero", name, text)
	}
	return n
}
