package age

import (
	"testing"
	"time"

	"falda/internal/core/atlas"
)

// Top sirloin is best hung about 21 days before it is steaked: common practice, no source.
func TestTopSirloinIsReadyAfterThreeWeeks(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	p, _ := a.Find("beef.top_sirloin")
	killed := time.Date(2026, 2, 20, 15, 0, 0, 0, time.UTC) // three weeks run over the end of February: ready 13 March
	for day, ready := range map[string]bool{"2026-03-12": false, "2026-03-13": true, "2026-04-01": true,
		"2026-02-20": false} {
		today, _ := time.Parse(time.DateOnly, day)
		r := Of(p, p.Plans, killed, today)
		if r.Ready != ready || r.ReadyOn.Format(time.DateOnly) != "2026-03-13" {
			t.Errorf("%s: ready %v, on %s", day, r.Ready, r.ReadyOn)
		}
		for _, m := range r.Muscles {
			if m.ID == "mouse" {
				t.Error("the mouse is minced; its age does not hold the block back")
			}
			if m.Ready != !today.Before(m.ReadyOn) {
				t.Errorf("%s: %+v", day, m)
			}
		}
	}
}

// A lamb as it hangs is as young as the youngest of its pieces that are for quick cooking; its breast is for none.
func TestALambWaitsForItsPieces(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	c, _ := a.FindCarcass("lamb.whole")
	killed := time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC)
	last := killed
	quick := map[string]time.Time{}
	for _, part := range c.Parts {
		p, _ := a.Find(part.Piece)
		if r := Of(p, p.Plans, killed, killed); len(r.Muscles) > 0 {
			quick[p.ID] = r.ReadyOn
			if r.ReadyOn.After(last) {
				last = r.ReadyOn
			}
		}
	}
	for _, today := range []time.Time{killed, last.AddDate(0, 0, -1), last} {
		r := OfCarcass(a, c, "uk", killed, today)
		if r.Ready != !today.Before(last) || !r.ReadyOn.Equal(last) || len(r.Muscles) != len(quick) || len(quick) < 3 {
			t.Errorf("%s: %+v, want %s for %v", today, r, last, quick)
		}
		for _, m := range r.Muscles {
			if !m.ReadyOn.Equal(quick[m.ID]) || m.MinAgeDays != Days(killed, m.ReadyOn) {
				t.Errorf("%+v, want %s", m, quick[m.ID])
			}
		}
	}
}

func TestDays(t *testing.T) {
	late := time.Date(2028, 2, 28, 23, 59, 0, 0, time.UTC)
	if got := Days(late, time.Date(2028, 3, 1, 0, 1, 0, 0, time.UTC)); got != 2 { // a leap year
		t.Errorf("%d days", got)
	}
	if got := Days(late, late.AddDate(0, 0, -3)); got != -3 {
		t.Errorf("%d days", got)
	}
}

// Regulation (EC) 853/2004, Annex III, Section V, chapter III (from memory): chilled meat within 6 days of slaughter,
// boned vacuum-packed beef within 15.
func TestMinceUntil(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	killed := time.Date(2026, 3, 1, 22, 0, 0, 0, time.UTC)
	for id, want := range map[string]string{"beef.top_sirloin": "2026-03-16", "beef.chuck_roll": "2026-03-16",
		"beef.rib": "2026-03-07", "beef.short_loin": "2026-03-07", "lamb.leg_chump": "2026-03-07",
		"lamb.neck": "2026-03-07"} {
		p, ok := a.Find(id)
		if !ok {
			t.Fatal(id)
		}
		if on, rule := MinceUntil(p, killed); on.Format(time.DateOnly) != want || rule == "" {
			t.Errorf("%s may be minced until %s, want %s", id, on.Format(time.DateOnly), want)
		}
	}
}

// Limits at arrival, at their edges: 7 °C for red meat (Regulation (EC) No 853/2004, from memory); pH 5.8 for beef
// (common practice, no source); spinal material of animals over the age.
func TestAtArrival(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	beef, _ := a.Find("beef.top_sirloin")
	lamb, _ := a.Find("lamb.saddle")
	f := func(v float64) *float64 { return &v }
	for _, c := range []struct {
		p        atlas.Piece
		temp, ph *float64
		age      string
		want     int
	}{
		{beef, nil, nil, "", 0}, {beef, f(7), f(5.8), "up_to_30_months", 0}, {beef, f(7.1), nil, "", 1},
		{beef, f(-1.6), nil, "", 1}, {beef, f(-1.5), nil, "", 0}, {beef, nil, f(5.81), "", 1}, {beef, nil, f(6.3), "", 1},
		{lamb, nil, f(5.9), "", 0}, {beef, nil, nil, "over_30_months", 1}, {lamb, f(9), nil, "over_12_months", 2},
	} {
		if got := AtArrival(c.p, c.temp, c.ph, c.age); len(got) != c.want {
			t.Errorf("%s at %v °C, pH %v, %s: %v", c.p.Name, c.temp, c.ph, c.age, got)
		}
	}
}
