package api

import (
	"math"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// The example of the GS1 General Specifications' article number 9501101530003 (from memory), 1.234 kg, and a number of
// the shop's own scale with the price in it.
func TestLabelCalculator(t *testing.T) {
	r := newRig(t)
	const ask = `{"gtin":"9501101530003","weight_g":1234,"use_by":"2026-12-03","lot":"SK-2648-02"`
	var c contract.LabelCodes
	r.ok("POST", base+"/calc/label", ask+`,"in_store":{"prefix":"21","item":"01234","price":"12.34"}}`, &c)
	if c.Gs1 != "(01)09501101530003(3103)001234(17)261203(10)SK-2648-02" || from(c.Ean13) != "2101234012345" {
		t.Errorf("%+v", c)
	}
	var plain contract.LabelCodes
	r.ok("POST", base+"/calc/label", ask+`}`, &plain)
	if plain.Ean13 != nil {
		t.Errorf("%+v", plain)
	}
	for body, field := range map[string]string{
		strings.Replace(ask, "0003", "0001", 1) + "}":                         "gtin",
		strings.Replace(ask, "1234", "0", 1) + "}":                            "weight_g",
		strings.Replace(ask, "2026-12-03", "soon", 1) + "}":                   "use_by",
		strings.Replace(ask, "SK-2648-02", "SK 2648", 1) + "}":                "lot",
		ask + `,"in_store":{"prefix":"31","item":"01234","price":"1"}}`:       "in_store.prefix",
		ask + `,"in_store":{"prefix":"21","item":"01234","price":"1000.00"}}`: "in_store.price",
		ask + `,"in_store":{"prefix":"21","item":"01234","price":"x"}}`:       "in_store.price",
		ask + `,"in_store":{"prefix":"21","item":"01234"}}`:                   "in_store.price",
		ask + `,"in_store":{"prefix":"21","item":"01234","weight_g":100000}}`: "in_store.weight_g",
		ask + `,"in_store":{"prefix":"21","item":"1234","weight_g":500}}`:     "in_store.item",
	} {
		if p := r.fails("POST", base+"/calc/label", body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", body, p)
		}
	}
}

// By hand: 34 and 20 in two weeks each are 1.7; the limits and p by an exact binomial test of 34 of 54 (from a table of
// R's binom.test, from memory: p = 0.0759, 0.4874 to 0.7571 of all).
func TestRateRatioCalculator(t *testing.T) {
	r := newRig(t)
	var x contract.RateRatio
	r.ok("POST", base+"/calc/rate-ratio", `{"a":{"count":34,"days":14},"b":{"count":20,"days":14},"level":0.95}`, &x)
	if math.Abs(*x.Ratio-1.7) > 1e-9 || math.Abs(x.P-0.0759) > 5e-4 || math.Abs(*x.Low-0.4874/0.5126) > 5e-3 ||
		math.Abs(*x.High-0.7571/0.2429) > 1.5e-2 {
		t.Errorf("%g, %g to %g, p %g", *x.Ratio, *x.Low, *x.High, x.P)
	}
	_, _, raw := r.do("POST", base+"/calc/rate-ratio", `{"a":{"count":3,"days":14},"b":{"count":0,"days":14}}`)
	if !strings.Contains(string(raw), `"ratio":null`) || !strings.Contains(string(raw), `"high":null`) {
		t.Errorf("%s", raw)
	}
	if p := r.fails("POST", base+"/calc/rate-ratio", `{"a":{"count":-3,"days":14},"b":{"count":0,"days":14}}`); !has(p,
		"a.count", "") {
		t.Errorf("%+v", p)
	}
}

// By hand: minutes that fall with the square root of practice have the exponent a half; the tenth takes 32/√10.
func TestLearningCalculator(t *testing.T) {
	r := newRig(t)
	var c contract.LearningCurve
	r.ok("POST", base+"/calc/learning", `{"minutes":[32,22.627416998,18.475208614,16],"ahead":12}`, &c)
	if math.Abs(c.First-32) > 1e-6 || math.Abs(c.Exponent-0.5) > 1e-6 || c.Next.N != 5 || c.Ahead.N != 16 ||
		math.Abs(c.Ahead.Minutes-8) > 1e-6 || math.Abs(*c.R2-1) > 1e-9 {
		t.Errorf("%+v", c)
	}
	_, _, raw := r.do("POST", base+"/calc/learning", `{"minutes":[20,20,20]}`)
	if !strings.Contains(string(raw), `"r2":null`) || !strings.Contains(string(raw), `"exponent":0`) {
		t.Errorf("%s", raw)
	}
	for body, field := range map[string]string{`{"minutes":[1,2]}`: "minutes", `{"minutes":[1,2,-3]}`: "minutes[2]",
		`{"minutes":[1,2,3],"ahead":0}`: "ahead"} {
		if p := r.fails("POST", base+"/calc/learning", body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", body, p)
		}
	}
}
