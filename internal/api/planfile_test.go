package api

import (
	"bytes"
	"net/http"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// A plan goes out as a file, and comes in at another shop as one of its own: looked at first, kept when asked, priced
// and valued the same; a file that is no plan, or of another piece, is refused with the way out.
func TestAPlanGoesToAnotherShop(t *testing.T) {
	r := newRig(t)
	r.priced()
	const at = "/api/v1/plans/beef.top_sirloin"
	status, header, raw := r.do("GET", at+"/heart_in_one/file", nil)
	if status != 200 || !strings.Contains(header.Get("Content-Disposition"), "beef-top-sirloin.plan.yaml") ||
		!strings.Contains(string(raw), "do: take_off") || strings.Contains(string(raw), "from:") {
		t.Fatalf("%d %v %.400s", status, header, raw)
	}
	text := strings.Replace(string(raw), "name: \"Heart in one", "name: \"Their heart in one", 1)
	text = strings.Replace(text, "name: 'Heart in one", "name: 'Their heart in one", 1)
	if text == string(raw) {
		t.Fatalf("no name in %.400s", raw)
	}
	status, seen, answer := upload[contract.PlanForecast](r, at+"/file", []byte(text))
	if status != 200 || !strings.HasPrefix(seen.Plan.Name, "Their heart in one") || seen.Plan.Own {
		t.Fatalf("%d %s", status, answer)
	}
	if _, made := r.plans("beef.top_sirloin")["x"]; made || len(r.plans("beef.top_sirloin")) != 8 {
		t.Errorf("looking at it kept it: %d plans", len(r.plans("beef.top_sirloin")))
	}
	if status, _, answer = upload[contract.PlanForecast](r, at+"/file?save=true", []byte(text)); status != 200 {
		t.Fatalf("%d %s", status, answer)
	}
	var own contract.PlanDetail
	for _, p := range r.plans("beef.top_sirloin") {
		if p.Plan.Own {
			own = p
		}
	}
	theirs := r.plans("beef.top_sirloin")["heart_in_one"].Plan
	if !strings.HasPrefix(own.Plan.Name, "Their heart") || own.Plan.Minutes != theirs.Minutes ||
		len(own.Plan.Products) != len(theirs.Products) {
		t.Errorf("kept: %+v", own.Plan)
	}
	// it is cut by like any other, and its steps can be printed
	status, header, raw = r.do("GET",
		"/api/v1/atlas/pieces/beef.top_sirloin/card.pdf?plan="+own.Plan.Id+"&chosen=cap:roast", nil)
	if status != http.StatusOK || header.Get("Content-Type") != "application/pdf" ||
		!bytes.HasPrefix(raw, []byte("%PDF")) {
		t.Errorf("%d %v", status, header)
	}
	for name, body := range map[string]string{"no plan": "hello: there", "of another piece": strings.Replace(text,
		"beef.top_sirloin", "beef.knuckle", 1), "a step unknown": strings.Replace(text, "do: take_off", "do: rip_off", 1),
		"too long": text + strings.Repeat("# more\n", 60_000)} {
		if status, _, answer := upload[contract.PlanForecast](r, at+"/file", []byte(body)); status != 422 {
			t.Errorf("%s: %d %s", name, status, answer)
		}
	}
}
