package api

import (
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// By the Pearson square (from memory): 80 % from 90 and 50 takes three parts to one. 12 kg of the leaner and 4 of the
// fatter make 16 kg at 9.90, and 6 kg stay at 2: 170.40. Nothing is made of what cannot be lean enough.
func TestBlendCalculator(t *testing.T) {
	r := newRig(t)
	const streams = `"streams":[{"id":"lean","kg":"12","lean_pct":"90","connective_pct":"3","worth_per_kg":"7"},
		{"id":"fat","kg":"10","lean_pct":"50","connective_pct":"9","worth_per_kg":"2.00"}]`
	var m contract.BlendResult
	_, _, raw := r.do("POST", base+"/calc/blend", `{`+streams+`,"products":[
		{"id":"mince","lean_min_pct":"80","lean_max_pct":"80","price_per_kg":"9.90"},
		{"id":"tartare","lean_min_pct":"95","price_per_kg":"30"}]}`)
	if !strings.Contains(string(raw), `"lean_pct":null`) {
		t.Errorf("nothing made has a lean: %s", raw)
	}
	r.ok("POST", base+"/calc/blend", `{`+streams+`,"products":[
		{"id":"mince","lean_min_pct":"80","lean_max_pct":"80","price_per_kg":"9.90","connective_max_pct":"15"}]}`, &m)
	if m.Value != "170.40" || len(m.Use) != 2 || m.Use[1].Kg != "4.000" || m.Left[1].Kg != "6.000" ||
		m.Products[0].Kg != "16.000" || from(m.Products[0].LeanPct) != "80.0000" || m.Marginal[0].PerKg != "12.5333" ||
		m.Marginal[1].PerKg != "2.0000" || !m.Proven {
		t.Errorf("%+v", m)
	}
	const a = `"products":[{"id":"a","price_per_kg":"5",`
	for body, field := range map[string]string{
		a + `"min_kg":"8"},{"id":"b","price_per_kg":"5","min_kg":"15"}]`: "products[1].min_kg",
		`"products":[{"id":"a","price_per_kg":"x"}]`:                     "products[0].price_per_kg",
		a + `"lean_min_pct":"101"}]`:                                     "products[0].lean_min_pct",
		a + `"lean_min_pct":"80","lean_max_pct":"70"}]`:                  "products[0].lean_max_pct",
		a + `"min_kg":"8","max_kg":"7"}]`:                                "products[0].max_kg",
		a + `"max_kg":"7"},{"id":"a","price_per_kg":"5"}]`:               "products[1].id",
		`"products":[]`: "products"} {
		if p := r.fails("POST", base+"/calc/blend", `{`+streams+`,`+body+`}`); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", body, p)
		}
	}
}
