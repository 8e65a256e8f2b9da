package api

import (
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// A link goes to the address that the owner says, and to the one that it was asked at while nobody says one; what is no
// address is refused, and an empty one takes it back.
func TestTheAddressForPhones(t *testing.T) {
	r := newRig(t)
	r.priced()
	ask := map[string]any{"days": 3, "report": map[string]any{"kind": "carcass", "carcass_id": "lamb.whole"}}
	link := func() string {
		var shared struct{ Link string }
		r.ok("POST", base+"/shares", ask, &shared)
		return shared.Link
	}
	if got := link(); !strings.HasPrefix(got, r.url+"/shared/") {
		t.Errorf("the link is %s", got)
	}
	set := func(address string) map[string]any {
		var s contract.Shop
		r.ok("GET", base+"/shop", nil, &s)
		return map[string]any{"name": s.Name, "market": s.Market, "currency": s.Currency, "weight_unit": s.WeightUnit,
			"labour_rate": s.LabourRate, "packaging_per_kg": s.PackagingPerKg, "loss_limit_knife_pct": s.LossLimitKnifePct,
			"loss_limit_saw_pct": s.LossLimitSawPct, "division_g": s.DivisionG, "lot_prefix": s.LotPrefix,
			"idle_minutes": s.IdleMinutes, "address": address, "version": s.Version}
	}
	for _, bad := range []string{"falda", "ftp://falda.example", "http://", "https://a.example/here",
		"https://a.example?x=1", "https://u:p@a.example", "javascript:alert(1)", "https://" + strings.Repeat("a", 200)} {
		if p := r.fails("PUT", base+"/shop", set(bad)); p.Status != 422 || !has(p, "address", "not_an_address") {
			t.Errorf("%q: %+v", bad, p)
		}
	}
	r.ok("PUT", base+"/shop", set("https://falda.shop.example/"), nil)
	if got := link(); !strings.HasPrefix(got, "https://falda.shop.example/shared/") {
		t.Errorf("the link is %s", got)
	}
	without := set("")
	delete(without, "address")
	r.ok("PUT", base+"/shop", without, nil) // left out, it stays
	var s contract.Shop
	if r.ok("GET", base+"/shop", nil, &s); s.Address != "https://falda.shop.example" {
		t.Errorf("the address is %q", s.Address)
	}
	r.ok("PUT", base+"/shop", set(""), nil)
	if got := link(); !strings.HasPrefix(got, r.url+"/shared/") {
		t.Errorf("the link is %s", got)
	}
}
