package api

import (
	"strings"
	"testing"

	ics "github.com/arran4/golang-ical"

	"falda/internal/api/contract"
)

// What is not cut yet is listed with the day on which each way of cutting may begin, as the atlas' least ages give it
// by hand: the rump's heart and cap are steaked from day 21, and minced within 15 days of slaughter.
func TestReadinessBoardAndCalendar(t *testing.T) {
	r := newRig(t)
	old, young := arrival("T-1"), arrival("T-2")
	young["slaughtered_on"], young["packed_on"] = "2026-03-10", "2026-03-11"
	r.ok("POST", base+"/lots", old, nil)
	var lot contract.Lot
	r.ok("POST", base+"/lots", young, &lot)
	r.ok("PUT", base+"/pieces/"+lot.PieceIds[0]+"/plan", `{"plan_id":"small_roasts","version":1}`, nil)
	var page contract.ReadinessList
	r.ok("GET", base+"/readiness", nil, &page)
	list := page.Pieces
	if len(list) != 2 {
		t.Fatalf("%d pieces", len(list))
	}
	for _, p := range list {
		plans := map[string]contract.ReadyPlan{}
		for _, pl := range p.Plans {
			plans[pl.Id] = pl
		}
		switch p.Card.LotNumber {
		case "T-1": // slaughtered on 24 February, today is 20 March
			if !plans["seamed"].Ready || plans["seamed"].ReadyOn != "2026-03-17" || p.MinceUntil != "2026-03-11" ||
				!p.MincePast {
				t.Errorf("the old one: %+v", p)
			}
		case "T-2": // slaughtered on 10 March
			if plans["seamed"].Ready || plans["seamed"].ReadyOn != "2026-03-31" ||
				strings.Join(plans["seamed"].WaitsFor, ", ") != "Rump cap, Sirloin fillet, Rump heart" || p.MincePast ||
				p.MinceUntil != "2026-03-25" {
				t.Errorf("the young one: %+v", p)
			}
			if !plans["small_roasts"].Chosen || !plans["small_roasts"].Ready { // roasts need no age
				t.Errorf("the roasts: %+v", plans["small_roasts"])
			}
		}
	}
	_, token, err := r.work.People.AddToken(asRole(t, r.work, "owner"), "calendar", []string{"read"}, "")
	if err != nil {
		t.Fatal(err)
	}
	_, priced, err := r.work.People.AddToken(asRole(t, r.work, "owner"), "prices", []string{"prices"}, "")
	if err != nil {
		t.Fatal(err)
	}
	r.signIn("")
	status, header, raw := r.do("GET", base+"/readiness.ics?token="+token, nil)
	cal, err := ics.ParseCalendar(strings.NewReader(string(raw))) // RFC 5545 as a library reads it
	if status != 200 || err != nil || !strings.HasPrefix(header.Get("Content-Type"), "text/calendar") {
		t.Fatalf("the calendar: %d %s %v", status, header.Get("Content-Type"), err)
	}
	days := map[string]string{}
	for _, e := range cal.Events() {
		start, err := e.GetAllDayStartAt()
		if err != nil {
			t.Fatal(err)
		}
		days[e.GetProperty(ics.ComponentPropertySummary).Value] = start.Format("2006-01-02")
	}
	if len(days) != 4 || days["Ready: Top sirloin\\, boneless\\, T-2 / 1"]+
		days["Ready: Top sirloin, boneless, T-2 / 1"] != "2026-03-10" {
		t.Errorf("the calendar holds %v", days)
	}
	for query, want := range map[string]int{"": 401, "?token=ft_guess": 401, "?token=" + priced: 403} {
		if status, _, _ := r.do("GET", base+"/readiness.ics"+query, nil); status != want {
			t.Errorf("the calendar with %q: %d, want %d", query, status, want)
		}
	}
	if status, _, _ := r.do("GET", base+"/pieces?token="+token, nil); status != 401 {
		t.Errorf("a token in the address of another route: %d", status)
	}
	if strings.Contains(r.log.String(), token) {
		t.Error("the token in the address stands in the log")
	}
}
