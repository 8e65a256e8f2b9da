package api

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/work/audit"
)

// named counts where a text stands in the database: every column of letters of every table.
func (r *rig) named(text string) []string {
	r.t.Helper()
	var columns []struct{ T, C string }
	err := r.store.DB().Raw(`SELECT table_name AS t, column_name AS c FROM information_schema.columns
		WHERE table_schema = DATABASE() AND data_type IN ('char', 'varchar', 'text', 'mediumtext', 'longtext')`).
		Scan(&columns).Error
	if err != nil || len(columns) < 50 {
		r.t.Fatalf("%d columns: %v", len(columns), err)
	}
	var out []string
	for _, c := range columns {
		var n int
		q := fmt.Sprintf("SELECT COUNT(*) FROM `%s` WHERE LOCATE(?, LOWER(`%s`)) > 0", c.T, c.C)
		if err := r.store.DB().Raw(q, text).Scan(&n).Error; err != nil {
			r.t.Fatal(err)
		}
		if n > 0 {
			out = append(out, fmt.Sprintf("%s.%s: %d", c.T, c.C, n))
		}
	}
	return out
}

// Rule: somebody who left can have their name taken out: it then stands nowhere in the database, while all that they
// weighed and changed stays, under a pseudonym; and before that they can have all that is kept of them.
func TestSomebodyLeaves(t *testing.T) {
	r := newRig(t)
	var added contract.AddedPerson
	r.ok("POST", base+"/people",
		`{"name":"Zzleaver","email":"zzleaver@test.example","role":"head_cutter","pin":"4802"}`, &added)
	one := base + "/people/" + added.Person.Id
	var link struct{ Link string }
	r.ok("POST", one+"/link", nil, &link)
	in, err := r.work.People.ChoosePassword(t.Context(), link.Link, password, audit.Where{Address: "192.0.2.7"})
	if err != nil {
		t.Fatal(err)
	}
	r.token = in.Token
	b := r.onBench("L-1", "seamed")
	r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	r.book(b.Id, r.event("seamed_off", 1, map[string]any{"part": "cap", "net_g": 960}))
	r.ok("POST", base+"/plans/beef.top_sirloin", draftOf(r.plans("beef.top_sirloin")["seamed"].Plan, "Our way"), nil)
	r.ok("PUT", base+"/breakdowns/"+b.Id+"/practice", map[string]any{"level": 2}, nil)
	r.ok("POST", base+"/notes", map[string]any{"piece": "beef.top_sirloin", "step": "cap", "words": "As I do it."}, nil)
	r.ok("POST", base+"/learning/answers", map[string]any{"card": "beef.top_sirloin:name:cap", "choices": []string{"cap"}},
		nil)

	var mine []struct {
		Kind string
		What map[string]any
	}
	_, header, raw := r.do("GET", base+"/me/data", nil)
	if err := json.Unmarshal(raw, &mine); err != nil || !strings.Contains(header.Get("Content-Disposition"), ".json") {
		t.Fatalf("%v: %s", err, raw)
	}
	kinds := map[string]int{}
	for _, x := range mine {
		kinds[x.Kind]++
	}
	if mine[0].What["email"] != "zzleaver@test.example" || kinds["person"] != 1 || kinds["sign_in"] != 1 ||
		kinds["weighing"] != 2 || kinds["practice"] != 1 || kinds["drill"] != 1 || kinds["change"] < 3 {
		t.Errorf("what is kept: %v, first %v", kinds, mine[0].What)
	}

	r.signIn("owner")
	if p := r.fails("PUT", one+"/pseudonym", nil); p.Status != 409 || !has(p, "", "still_here") {
		t.Errorf("of somebody who is here: %+v", p)
	}
	r.ok("PUT", one, `{"name":"Zzleaver the second","role":"head_cutter","active":false,"version":1}`, nil)
	before := r.trail("most=500")
	var left contract.Person
	r.ok("PUT", one+"/pseudonym", nil, &left)
	if left.Name != "Former head cutter 1" || left.Email != "" || !left.Pseudonym || left.Active || left.HasPin {
		t.Errorf("who left is %+v", left)
	}
	if where := r.named("zzleaver"); len(where) > 0 {
		t.Errorf("the name still stands in %v", where)
	}
	after := r.trail("most=500")
	if len(after) != len(before)+1 {
		t.Errorf("the trail has %d rows, had %d", len(after), len(before))
	}
	theirs := 0
	for _, row := range after {
		if from(row.MemberId) == left.Id {
			theirs++
			if row.Name != left.Name || from(row.Address) != "" {
				t.Errorf("a row of theirs says %q, %q", row.Name, from(row.Address))
			}
		}
	}
	if theirs != kinds["weighing"]+kinds["change"] {
		t.Errorf("%d rows are theirs, they did %d", theirs, kinds["weighing"]+kinds["change"])
	}
	shop, err := r.store.FirstShop(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if flaws, _, _, err := r.store.AuditFlaws(t.Context(), shop.ID); err != nil || len(flaws) > 0 {
		t.Errorf("the chain of the audit: %v, %v", flaws, err)
	}
	if p := r.fails("PUT", one+"/pseudonym", nil); p.Status != 409 || !has(p, "", "pseudonym") {
		t.Errorf("twice: %+v", p)
	}
	if p := r.fails("PUT", one,
		fmt.Sprintf(`{"name":"Back","role":"cutter","active":true,"version":%d}`, left.Version)); p.
		Status != 409 || !has(p, "active", "pseudonym") {
		t.Errorf("let in again: %+v", p)
	}
	r.ok("POST", base+"/people", `{"name":"Zzleaver","email":"zzleaver@test.example","role":"cutter"}`, nil) // anew
	_, _, raw = r.do("GET", one+"/data", nil)
	if strings.Contains(strings.ToLower(string(raw)), "zzleaver") || !strings.Contains(string(raw), `"weighing"`) {
		t.Errorf("what is kept of them now: %s", raw)
	}
}
