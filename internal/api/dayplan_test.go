package api

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	ics "github.com/arran4/golang-ical"

	"falda/internal/api/contract"
)

// dayAsk is a day on all benches from a time to another.
func (r *rig) dayAsk(from, to string, more map[string]any) map[string]any {
	posts := []any{}
	for _, b := range r.shop.Benches {
		posts = append(posts, map[string]any{"bench_id": b.Id, "from": from, "to": to,
			"pauses": []any{map[string]any{"from": "12:30", "to": "13:00"}}})
	}
	out := map[string]any{"posts": posts, "rules": map[string]any{"clean": 10, "clean_saw": 10, "wash": 20}}
	for k, v := range more {
		out[k] = v
	}
	return out
}

// planned receives rumps and plans them.
func (r *rig) planned(lot string, n int, plan string) []string {
	r.t.Helper()
	in := arrival(lot)
	in["pieces"], in["weight"] = n, fmt.Sprint(float64(n)*6.6)
	var l contract.Lot
	r.ok("POST", base+"/lots", in, &l)
	for _, id := range l.PieceIds {
		r.ok("PUT", base+"/pieces/"+id+"/plan", map[string]any{"plan_id": plan, "version": 1}, nil)
	}
	return l.PieceIds
}

// A day takes what is ready and has a plan; nothing overlaps; an order's pieces are in time; the rail shows when and
// where each is cut; what was begun stays, and the rest is laid out anew.
func TestDay(t *testing.T) {
	r := newRig(t)
	r.priced()
	var d contract.DayView
	r.ok("GET", base+"/day", nil, &d)
	if d.MadeAt != nil || len(d.Posts) != len(r.shop.Benches) {
		t.Fatalf("unplanned: %+v", d)
	}
	pieces := r.planned("DAY-1", 4, "seamed")
	var o contract.Order
	r.ok("POST", base+"/orders", newOrder("The galley", map[string]any{"day": "2026-03-20", "time": "23:30",
		"lines": []any{wants("beef.mince_trim", "0.1", nil), wants("lamb.leg_roast", "1", nil)}}), &o)
	r.ok("PUT", base+"/orders/"+o.Id+"/pieces", map[string]any{"pieces": pieces[3:]}, nil)
	r.ok("PUT", base+"/day", r.dayAsk("08:00", "23:00", nil), &d)
	n := 0
	for _, p := range d.Posts {
		for i, x := range p.Slots {
			n++
			if x.From.Before(d.Now) {
				t.Errorf("%s begins at %v, before now", x.Piece.Id, x.From)
			}
			if i > 0 && x.CleanFrom.Before(p.Slots[i-1].To) {
				t.Errorf("two pieces at once on %s", p.Bench)
			}
			if (x.Piece.Id == pieces[3]) != (strings.Join(x.Orders, "") == o.Number) {
				t.Errorf("piece %s is cut for %v", x.Piece.Id, x.Orders)
			}
		}
	}
	if n != 4 || d.Finish == nil || !d.Proven || len(d.Orders) != 1 || d.Orders[0].Late || len(d.Orders[0].Short) != 1 {
		t.Errorf("%d pieces, %+v", n, d)
	}
	if !strings.Contains(strings.Join(d.Notes, " "), "nothing planned gives 1.00 kg") {
		t.Errorf("of the lamb nothing is said: %v", d.Notes)
	}
	var rail contract.PieceList
	r.ok("GET", base+"/pieces", nil, &rail)
	for _, c := range rail.Pieces {
		if c.PlannedAt == nil || from(c.PlannedBench) == "" {
			t.Errorf("%s hangs on the rail without its time", c.Id)
		}
	}
	// one is begun; what is left is laid out anew, and it stays where it is
	var b contract.Board
	r.ok("POST", base+"/pieces/"+pieces[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	if p := r.fails("PUT", base+"/day", r.dayAsk("08:00", "23:00", nil)); p.Status != 409 {
		t.Errorf("planned over a plan that was not seen: %+v", p)
	}
	r.ok("PUT", base+"/day", r.dayAsk("08:00", "23:00", map[string]any{"version": d.Version,
		"pins": map[string]string{pieces[1]: r.shop.Benches[0].Id}}), &d)
	states := map[string]string{}
	for _, p := range d.Posts {
		for _, x := range p.Slots {
			states[x.Piece.Id] = string(x.Status)
			if x.Piece.Id == pieces[1] && p.BenchId != r.shop.Benches[0].Id {
				t.Error("what is pinned is on another bench")
			}
		}
	}
	if states[pieces[0]] != "cutting" || states[pieces[1]] != "waits" || len(states) != 4 {
		t.Errorf("after one was begun: %v", states)
	}
	// what is named is cut, and nothing else
	r.ok("PUT", base+"/day", r.dayAsk("08:00", "23:00", map[string]any{"version": d.Version,
		"pieces": []string{pieces[1], pieces[3]}}), &d)
	clear(states)
	for _, p := range d.Posts {
		for _, x := range p.Slots {
			states[x.Piece.Id] = string(x.Status)
		}
	}
	if len(states) != 3 || states[pieces[2]] != "" || len(d.Open) != 1 || d.Open[0].Id != pieces[2] {
		t.Errorf("two are named beside the one that was begun: %v, open %+v", states, d.Open)
	}
	_, _, raw := r.do("GET", base+"/day/export?format=ics", nil)
	cal, err := ics.ParseCalendar(strings.NewReader(string(raw)))
	if err != nil || len(cal.Events()) != 3 {
		t.Errorf("the calendar: %v", err)
	}
	_, _, raw = r.do("GET", base+"/day/export?format=pdf", nil)
	if !bytes.HasPrefix(raw, []byte("%PDF")) {
		t.Error("the sheets are no PDF")
	}
	r.ok("DELETE", base+"/day?version="+number(d.Version), nil, nil)
	var gone contract.DayView
	if r.ok("GET", base+"/day", nil, &gone); gone.MadeAt != nil {
		t.Error("the plan was taken away and is there")
	}
}

// Each field of a day is held, and the fault names it.
func TestDayFaults(t *testing.T) {
	r := newRig(t)
	bench := r.shop.Benches[0].Id
	post := func(more map[string]any) []any {
		out := map[string]any{"bench_id": bench, "from": "08:00", "to": "16:00"}
		for k, v := range more {
			out[k] = v
		}
		return []any{out}
	}
	for field, more := range map[string]map[string]any{
		"posts":              {"posts": []any{}},
		"posts[0].bench_id":  {"posts": post(map[string]any{"bench_id": "x"})},
		"posts[1].bench_id":  {"posts": append(post(nil), post(nil)...)},
		"posts[0].cutter_id": {"posts": post(map[string]any{"cutter_id": "x"})},
		"posts[0].from":      {"posts": post(map[string]any{"from": "early"})},
		"posts[0].to":        {"posts": post(map[string]any{"to": "07:00"})},
		"posts[0].pauses[0].from": {"posts": post(map[string]any{"pauses": []any{map[string]any{"from": "07:00",
			"to": "07:30"}}})},
		"rules.clean": {"rules": map[string]any{"clean": -1, "clean_saw": 0, "wash": 0}},
		"day":         {"day": "2026-03-19"},
		"pieces":      {"pieces": []string{"nothing"}},
	} {
		if p := r.fails("PUT", base+"/day", r.dayAsk("08:00", "16:00", more)); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
}
