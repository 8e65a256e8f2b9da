package api

import (
	"bytes"
	"fmt"
	"math"
	"net/url"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// A cooking card is open to whoever eats it; in it nothing of a shop, in what is wrong with a question its field.
func TestCookingCards(t *testing.T) {
	r := newRig(t)
	nobody := visitor{token: func() string { return "" }}
	var c contract.CookingCard
	r.signIn("")
	r.ok("GET", base+"/cook/beef.top_sirloin/tri_tip_whole?doneness=medium_rare&diners=4", nil, &c)
	if c.Name != "Whole tri-tip" || from(c.Doneness) != "medium_rare" || c.CoreC != 55 || c.MinSafeCoreC != 63 ||
		!c.BelowSafe || c.WeightG != 1360 || c.Feeds != 4 || len(c.DonenessChoices) != 5 ||
		!strings.Contains(c.Sentence, "below the safe floor") || c.Slice == "" {
		t.Errorf("%+v", c)
	}
	for query, field := range map[string]string{"doneness=blue": "doneness", "diners=-4": "diners",
		"weight_g=1": "weight_g", "allergens=milk,love": "allergens"} {
		if p := r.fails("GET", base+"/cook/beef.top_sirloin/tri_tip_whole?"+query, nil); p.Status != 422 ||
			!has(p, field, "") {
			t.Errorf("%s: %+v", query, p)
		}
	}
	for _, path := range []string{"/cook/beef.top_sirloin/wing", "/cook/fish/tri_tip_whole"} {
		if status, _ := r.call(nobody, "GET", base+path, ""); status != 404 {
			t.Errorf("%s: %d", path, status)
		}
	}
	status, header, raw := r.do("GET",
		base+"/cook/beef.top_sirloin/cap_steak/card.pdf?units=us&allergens="+url.QueryEscape("mustard, milk"), nil)
	if status != 200 || header.Get("Content-Type") != "application/pdf" ||
		!bytes.Contains(printed(raw), []byte("Contains: mustard, milk.")) {
		t.Errorf("as PDF: %d %s", status, header.Get("Content-Type"))
	}
	if p := r.fails("GET", base+"/cook/beef.top_sirloin/cap_steak/card.pdf?units=stones", nil); !has(p, "units", "") {
		t.Errorf("%+v", p)
	}
}

func TestTimetableAndProbe(t *testing.T) {
	r := newRig(t)
	var table contract.Timetable
	r.ok("POST", base+"/cooking/timetable",
		`{"serve_at":"2026-03-20T19:00:00Z","dishes":[{"atlas_id":"beef.top_sirloin","product_id":"tri_tip_whole",
			"weight_g":1000,"doneness":"medium"},{"atlas_id":"beef.top_sirloin","product_id":"heart_steak","diners":2}]}`,
		&table)
	last := table.Moments[len(table.Moments)-1]
	if last.Do != "Serve." || len(table.Cards) != 2 || len(table.Moments) < 9 || len(table.Clashes) != 0 {
		t.Errorf("%+v", table)
	}
	for i := 1; i < len(table.Moments); i++ {
		if table.Moments[i].At.Before(table.Moments[i-1].At) {
			t.Error("moments out of order")
		}
	}
	for body, field := range map[string]string{`{"serve_at":"2026-03-20T19:00:00Z","dishes":[]}`: "dishes",
		`{"serve_at":"2026-03-20T19:00:00Z","dishes":[{"atlas_id":"beef.top_sirloin",
			"product_id":"wing"}]}`: "dishes[0].product",
		`{"serve_at":"2026-03-20T19:00:00Z","dishes":[{"atlas_id":"beef.top_sirloin","product_id":"tri_tip_whole",
			"weight_g":3}]}`: "dishes[0].weight_g"} {
		if p := r.fails("POST", base+"/cooking/timetable", body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", body, p)
		}
	}
	// 60 °C for 45 minutes, after ten minutes on the way: by the FSA's table it is enough
	var run contract.ProbeRun
	r.ok("POST", base+"/cooking/probe",
		`{"target_core_c":60,"weight_g":1000,"readings":[{"s":0,"c":20},{"s":600,"c":60},{"s":3300,"c":60}]}`, &run)
	// 4 °C of carry-over: 56 °C after 36 of 40 degrees
	if !run.Safe || run.PasteurisationMinutes < 1.9 || run.PasteurisationMinutes > 2.4 || run.PeakC != 60 ||
		run.MinCoreAtMin != nil || run.TakeOutAtMin == nil || math.Abs(*run.TakeOutAtMin-9) > 0.01 {
		t.Errorf("%+v", run)
	}
	clock := "Time;Core\n"
	for i := range 60 {
		clock += fmt.Sprintf("18:%02d:00;%d,5\n", i, 20+i)
	}
	send := func(query, body string) (int, string) {
		return r.call(visitor{token: func() string { return r.token }}, "POST", base+"/cooking/probe/import"+query, body)
	}
	if status, answer := send("?target_core_c=60&weight_g=2000", clock); status != 200 ||
		!strings.Contains(answer, `"readings":60`) || !strings.Contains(answer, `"min_core_at_min":42.5`) {
		t.Errorf("a clock's log: %d %s", status, answer)
	}
	if status, answer := send("?target_core_c=60", "minutes,f\n0,68\n30,140\n60,145.4\n"); status != 200 ||
		!strings.Contains(answer, `"peak_c":63`) {
		t.Errorf("in °F: %d %s", status, answer)
	}
	for range 20 { // of two columns that would do the first is taken, every time
		if status, answer := send("?target_core_c=60", "minutes,seconds,temp\n0,0,20\n30,1,62\n60,2,63\n"); status != 200 ||
			!strings.Contains(answer, `"peak_at_min":60`) {
			t.Fatalf("two times: %d %s", status, answer)
		}
	}
	for _, bad := range []string{"a,b\n1,2\n3,4\n", "time,temp\n1,2\n", "time,temp\nnoon,60\n1,61\n",
		"time,temp\n5,60\n1,61\n2,hot\n"} {
		if status, answer := send("?target_core_c=60", bad); status != 422 {
			t.Errorf("%q: %d %s", bad, status, answer)
		}
	}
	if status, _ := send("?target_core_c=600", clock); status != 422 {
		t.Error("600 °C are wanted")
	}
}

// A card goes by weight as sold, thickness and way; what is none is named.
func TestACardGoesByThicknessAndWay(t *testing.T) {
	r := newRig(t)
	const at = base + "/cook/beef.striploin/strip_roast"
	card := func(query string) (c contract.CookingCard) {
		t.Helper()
		r.ok("GET", at+query, nil, &c)
		return c
	}
	usual, thick := card(""), card("?thickness_mm=140")
	if usual.ThicknessMm == nil || thick.Minutes <= usual.Minutes || len(usual.Lines) == 0 || *usual.Steps[2].Gas != "4" {
		t.Errorf("%+v", usual)
	}
	if half := card("?weight_g=1500"); half.CutMm == nil || *half.CutMm < 130 || *half.CutMm > 160 {
		t.Errorf("1.5 kg: %+v", half.CutMm)
	}
	if cold := card("?way=cold_sliced"); cold.Way != "cold_sliced" || len(cold.Steps) != len(usual.Steps)+2 ||
		len(cold.Ways) < 2 {
		t.Errorf("cold: %+v", cold)
	}
	for query, field := range map[string]string{"?way=by_eye": "way", "?thickness_mm=1": "thickness_mm",
		"?weight_g=5": "weight_g"} {
		if p := r.fails("GET", at+query, nil); !has(p, field, "") {
			t.Errorf("%s: %+v", query, p)
		}
	}
}
