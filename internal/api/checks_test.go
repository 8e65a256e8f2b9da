package api

import (
	"net/http"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/api/contract"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
)

// Rule: a scale that was never checked, was off, or was checked so many days ago as the shop set, is due; every check
// is kept, and in the audit.
func TestScalesAreCheckedWithATestWeight(t *testing.T) {
	now := today
	st, w := testdb.Service(t, func() time.Time { return now })
	r := serve(t, st, w, Options{Web: fstest.MapFS{"index.html": {Data: []byte("x")}},
		Scales: func(store.Bench) *device.Scale { return nil }})
	bench := r.shop.Benches[0]
	at := base + "/benches/" + bench.Id + "/checks"
	due := func() bool {
		t.Helper()
		var shop contract.Shop
		r.ok("GET", base+"/shop", nil, &shop)
		var list contract.ScaleChecks
		r.ok("GET", at, nil, &list)
		if shop.Benches[0].ScaleCheck.Due != list.State.Due {
			t.Fatalf("the shop says due: %t, the bench %t", shop.Benches[0].ScaleCheck.Due, list.State.Due)
		}
		return list.State.Due
	}
	if r.shop.ScaleCheckDays != 7 || !due() {
		t.Errorf("a scale that was never checked is not due (%d days)", r.shop.ScaleCheckDays)
	}
	var c contract.ScaleCheck
	// the shop's scale has a division of 5 g: 1 kg is 200 of them, and may be off by one
	r.ok("POST", at, `{"weight_g":1000,"shown_g":1005,"source":"scale"}`, &c)
	if !c.Fits || c.AllowedG != 5 || c.OffG != 5 || c.Name != "Owner" || due() {
		t.Errorf("a scale that fits: %+v", c)
	}
	r.ok("POST", at, `{"weight_g":1000,"shown_g":1010,"source":"typed","note":"stood in the draught"}`, &c)
	if c.Fits || c.OffG != 10 || !due() {
		t.Errorf("a scale that is off: %+v", c)
	}
	r.ok("POST", at, `{"weight_g":1000,"shown_g":1000,"source":"typed"}`, &c)
	now = now.AddDate(0, 0, 6)
	r.signIn("owner")
	if due() {
		t.Error("due after six days")
	}
	now = now.AddDate(0, 0, 1)
	r.signIn("owner")
	if !due() {
		t.Error("not due after seven days")
	}
	var list contract.ScaleChecks
	r.ok("GET", at, nil, &list)
	if len(list.Checks) != 3 || list.Checks[1].Note != "stood in the draught" || list.Checks[2].ShownG != 1005 {
		t.Errorf("the checks, latest first: %+v", list.Checks)
	}
	if got := r.trail("action=scale"); len(got) != 3 {
		t.Errorf("%d checks in the audit", len(got))
	}
	for body, field := range map[string]string{`{"weight_g":9,"shown_g":9,"source":"typed"}`: "weight_g",
		`{"weight_g":1000,"shown_g":-1,"source":"typed"}`:     "shown_g",
		`{"weight_g":1000,"shown_g":200001,"source":"typed"}`: "shown_g",
		`{"weight_g":1000,"shown_g":1000,"source":"guessed"}`: "source"} {
		if p := r.fails("POST", at, body); p.Status != http.StatusUnprocessableEntity || !has(p, field, "") {
			t.Errorf("%s: %d %+v", body, p.Status, p)
		}
	}
	for _, q := range []string{"UPDATE scale_checks SET shown_mg = weight_mg", "DELETE FROM scale_checks"} {
		if err := st.DB().Exec(q).Error; err == nil {
			t.Errorf("%s: done", q)
		}
	}
}
