package api

import (
	"bufio"
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"falda/internal/api/contract"
)

// cutHand books the weights of the comparison by hand and closes.
func (r *rig) cutHand(b contract.Board) contract.Board {
	r.t.Helper()
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600, "source": "scale"}))
	for i, w := range handWeights {
		b = r.book(b.Id, r.event(w.kind, i+1, map[string]any{"part": w.part, "net_g": w.g, "reason": "as usual"}))
	}
	return r.book(b.Id, r.event("closed", 20, map[string]any{"minutes": 17}))
}

// The log of all breakdowns: found by any word of it, page by page, and out as files that add up.
func TestTheLogOfBreakdowns(t *testing.T) {
	r := newRig(t)
	r.priced()
	closed := r.cutHand(r.onBench("LOG-1", "seamed"))
	r.onBench("LOG-2", "traditional")
	list := func(query string) contract.BreakdownPage {
		t.Helper()
		var p contract.BreakdownPage
		r.ok("GET", "/api/v1/breakdowns"+query, nil, &p)
		return p
	}
	all := list("")
	if len(all.Breakdowns) != 2 || all.Next != nil || all.Breakdowns[0].LotNumber != "LOG-2 / 1" ||
		all.Breakdowns[1].State != "closed" || from(all.Breakdowns[1].Cutters) != "Owner" || all.Breakdowns[1].LossG != 50 {
		t.Fatalf("the log: %+v", all)
	}
	for query, want := range map[string]int{"?text=log-1": 1, "?text=sirloin": 2, "?text=owner": 1, "?text=croft": 2,
		"?text=unicorn": 0, "?state=closed": 1, "?state=waiting": 1, "?from=2026-03-20": 2, "?to=2026-03-19": 0,
		"?text=cross-cut": 1} {
		if got := list(query); len(got.Breakdowns) != want {
			t.Errorf("%s finds %d", query, len(got.Breakdowns))
		}
	}
	for _, bad := range []string{"?state=lost", "?from=yesterday", "?after=x"} {
		if p := r.fails("GET", "/api/v1/breakdowns"+bad, nil); p.Status != 422 {
			t.Errorf("%s: %+v", bad, p)
		}
	}
	_, header, raw := r.do("GET", "/api/v1/breakdowns/export?format=csv&state=closed", nil)
	rows, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(raw, []byte("\ufeff")))).ReadAll()
	if err != nil || len(rows) != 1+1+len(handWeights)+1 ||
		!strings.Contains(header.Get("Content-Disposition"), "falda-outputs.csv") {
		t.Fatalf("%d rows, %v: %s", len(rows), err, raw)
	}
	if last := rows[len(rows)-1]; last[8] != "loss" || last[11] != "0.050" || rows[1][11] != "6.600" {
		t.Errorf("the outputs: %v … %v", rows[1], last)
	}
	_, _, raw = r.do("GET", "/api/v1/breakdowns/export?format=json", nil)
	var out []struct {
		ID  string                 `json:"id"`
		Log []contract.LoggedEvent `json:"log"`
	}
	if err := json.Unmarshal(raw, &out); err != nil || len(out) != 2 || out[1].ID != closed.Id ||
		len(out[1].Log) != len(handWeights)+2 {
		t.Errorf("as JSON: %v %s", err, raw[:min(300, len(raw))])
	}
	if p := r.fails("GET", "/api/v1/breakdowns/export?format=tar", nil); p.Status != 422 && p.Status != 400 {
		t.Errorf("an unknown format: %+v", p)
	}
}

// Closed by mistake, opened again with a reason, closed anew: the prices stay those of the first close, and the log
// tells all of it. A carcass that was broken is not opened again.
func TestReopenAndMoveThroughTheInterface(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.cutHand(r.onBench("RE-1", "seamed"))
	r.ok("PUT", "/api/v1/prices/beef.heart_steak", map[string]any{"price": "99", "per": "kg", "version": 1}, nil)
	events := "/api/v1/breakdowns/" + b.Id + "/events"
	if p := r.fails("POST", events, r.event("reopened", 30, nil)); (*p.Errors)[0].Field != "reason" {
		t.Errorf("without a reason: %+v", p)
	}
	b = r.book(b.Id, r.event("reopened", 30, map[string]any{"reason": "a tub was left on the other board"}))
	if b.State != "open" {
		t.Fatalf("it is %s", b.State)
	}
	var wrong string
	for _, row := range b.Rows {
		if row.Id == "mouse" {
			wrong = row.EventId
		}
	}
	b = r.book(b.Id, r.event("moved", 31, map[string]any{"target": wrong, "part": "tri_tip"}))
	b = r.book(b.Id, r.event("seamed_off", 32, map[string]any{"part": "mouse", "net_g": 40}))
	b = r.book(b.Id, r.event("closed", 33, map[string]any{"minutes": 18}))
	if b.State != "closed" || b.Balance.ResidualG != 10 {
		t.Errorf("closed anew: %s, %g g of loss", b.State, b.Balance.ResidualG)
	}
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison", nil, &c)
	for _, row := range c.Recorded.Products {
		if row.Id == "heart_steak" && from(row.Price) != "20.00" {
			t.Errorf("heart steak at %s", from(row.Price))
		}
	}
	if v, err := r.work.Bench.Verify(t.Context(), false); err != nil || len(v.Flaws) > 0 {
		t.Errorf("verify: %v %v", v.Flaws, err)
	}
}

// A muscle is opened into its products and its trim; what was weighed so is what is compared.
func TestAMuscleIsPortioned(t *testing.T) {
	r := newRig(t)
	r.priced()
	b := r.onBench("PO-1", "seamed")
	b = r.book(b.Id, r.event("inspected", 0, map[string]any{"note": "blood_shot"}))
	if !b.Looked || len(b.Found) != 1 {
		t.Errorf("looked over: %v %v", b.Looked, b.Found)
	}
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	cap := ""
	for i, w := range handWeights {
		e := r.event(w.kind, i+1, map[string]any{"part": w.part, "net_g": w.g, "reason": "as usual"})
		b = r.book(b.Id, e)
		if w.part == "cap" {
			cap = e["id"].(string)
		}
	}
	inside := func(kind string, more map[string]any) {
		t.Helper()
		more["node"] = cap
		b = r.book(b.Id, r.event(kind, 12, more))
	}
	inside("portioned", map[string]any{"product": "cap_steak", "net_g": 880, "count": 4})
	inside("trimmed", map[string]any{"part": "lean", "net_g": 50})
	inside("discarded", map[string]any{"part": "silver", "net_g": 25})
	inside("closed", map[string]any{})
	b = r.book(b.Id, r.event("closed", 20, map[string]any{"minutes": 17}))
	var c contract.Comparison
	r.ok("GET", "/api/v1/breakdowns/"+b.Id+"/comparison", nil, &c)
	got := map[string]float64{}
	for _, row := range c.Recorded.Products {
		got[row.Id] = row.WeightG
	}
	// cap steak: the 880 weighed, and none of the fat in the tub; mince weighed: 50 of the cap, 160 of mouse, 200 of trim;
	// mince by the plan: 11 % of 2,400, 8 % of 900, 10 % of 1,000; fat: 600 and 180; waste 150 + 25, and by the plan 3 %
	// of 1,000 and 1 % of 900; loss 50 + 5
	if got["cap_steak"] != 880 || got["mince_trim"] != 50+160+200 || got["mince_trim~rest"] != 264+72+100 ||
		got["fat"] != 780 || got["waste"] != 175+30+9 || got["loss"] != 55 {
		t.Errorf("recorded: %v", got)
	}
}

// Who watches a board hears within a second or so that somebody else booked on it.
func TestABoardIsWatched(t *testing.T) {
	r := newRig(t)
	b := r.onBench("WA-1", "seamed")
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, "GET", r.url+"/api/v1/breakdowns/"+b.Id+"/stream", nil)
	if err != nil {
		t.Fatal(err)
	}
	req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer resp.Body.Close()
	lines := make(chan string, 10)
	go func() {
		for s := bufio.NewScanner(resp.Body); s.Scan(); {
			if text, ok := strings.CutPrefix(s.Text(), "data: "); ok {
				lines <- text
			}
		}
		close(lines)
	}()
	next := func(want string) {
		t.Helper()
		select {
		case got := <-lines:
			if got != want {
				t.Errorf("it says %q, want %q", got, want)
			}
		case <-time.After(30 * time.Second):
			t.Fatalf("it never says %s", want)
		}
	}
	next("0")
	r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	next("1")
	r.book(b.Id, r.event("seamed_off", 1, map[string]any{"part": "tri_tip", "net_g": 1000}))
	next("2")
}

// What goes out as JSON comes in elsewhere as it was, once: sent a second time it changes nothing.
func TestTheLogComesInAgain(t *testing.T) {
	there := newRig(t)
	b := there.cutHand(there.onBench("IN-1", "seamed"))
	b = there.book(b.Id, there.event("reopened", 30, map[string]any{"reason": "scraps"}))
	b = there.book(b.Id, there.event("closed", 31, map[string]any{"minutes": 18}))
	half := there.onBench("IN-2", "traditional")
	there.book(half.Id, there.event("opened", 0, map[string]any{"net_g": 6500}))
	_, _, file := there.do("GET", "/api/v1/breakdowns/export?format=json", nil)

	here := newRig(t) // another installation
	take := func() contract.LogImport {
		t.Helper()
		status, out, answer := upload[contract.LogImport](here, "/api/v1/breakdowns/import", file)
		if status != 200 {
			t.Fatal(status, answer)
		}
		for _, l := range out.Lines {
			if l.Fault != nil {
				t.Fatal(*l.Fault)
			}
		}
		return out
	}
	first := take()
	if len(first.Lines) != 2 || first.Lines[1].Added != len(handWeights)+4 || first.Lines[0].Added != 1 {
		t.Errorf("taken in: %+v", first.Lines)
	}
	if again := take(); again.Lines[1].Added != 0 || again.Lines[1].Present != len(handWeights)+4 {
		t.Errorf("taken in again: %+v", again.Lines)
	}
	var was, is []struct {
		ID    string  `json:"id"`
		State string  `json:"state"`
		LossG float64 `json:"loss_g"`
		Log   []struct {
			Event struct {
				ID, Kind, Part, At, Role string
				NetG                     float64 `json:"net_g"`
			}
		} `json:"log"`
	}
	_, _, back := here.do("GET", "/api/v1/breakdowns/export?format=json", nil)
	if err := json.Unmarshal(file, &was); err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(back, &is); err != nil {
		t.Fatal(err)
	}
	if a, b := fmt.Sprint(was), fmt.Sprint(is); a != b || len(is) != 2 {
		t.Errorf("it was\n%s\nand is\n%s", a, b)
	}
	if v, err := here.work.Bench.Verify(t.Context(), false); err != nil || len(v.Flaws) > 0 {
		t.Errorf("verify: %v %v", v.Flaws, err)
	}
	for _, bad := range []string{"", "{}", "[1]", `[{"id":"x"}]`} {
		status, out, answer := upload[contract.LogImport](here, "/api/v1/breakdowns/import", []byte(bad))
		if status == 200 && (len(out.Lines) != 1 || out.Lines[0].Fault == nil) || status >= 500 {
			t.Errorf("%q: %d %s", bad, status, answer)
		}
	}
	// a file that was tampered with does not get in
	if status, out, _ := upload[contract.LogImport](here, "/api/v1/breakdowns/import",
		bytes.ReplaceAll(bytes.ReplaceAll(file, []byte(b.Id), []byte("0198c0de-0000-7000-8000-00000000beef")),
			[]byte(`"total_g":6600`), []byte(`"total_g":9600`))); status != 200 || out.Lines[1].Fault == nil {
		t.Errorf("tampered: %d %+v", status, out)
	}
}
