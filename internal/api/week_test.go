package api

import (
	"encoding/json"
	"fmt"
	"math"
	"testing"

	"falda/internal/api/contract"
)

// Three lambs: each gives two legs and so on, and all of them go some way; what is sold comes of what those ways make;
// the best is no worse than any other way, and a limit of demand or of minutes never makes it better.
func TestAWeekOfLambs(t *testing.T) {
	r := newRig(t)
	r.priced()
	ask := map[string]any{"heads": []map[string]any{{"carcass": "lamb.whole", "count": 3, "weight": "20",
		"weight_unit": "kg"}}}
	var v contract.WeekView
	r.ok("POST", base+"/week", ask, &v)
	pieces := map[string]int{}
	minutes := 0.0
	for _, u := range v.Uses {
		pieces[u.Piece] += u.Pieces
		minutes += u.Minutes
	}
	var carcasses []contract.Carcass
	r.ok("GET", base+"/atlas/carcasses", nil, &carcasses)
	for _, c := range carcasses {
		if c.Id != "lamb.whole" || v.Divisions[0].Division != "usual" {
			continue
		}
		for _, part := range c.Parts {
			if pieces[part.Piece] != 3*part.Count {
				t.Errorf("%d of %s, three lambs have %d", pieces[part.Piece], part.Piece, 3*part.Count)
			}
		}
	}
	best := amount(t, v.Ways[0].Brings)
	for _, w := range v.Ways {
		if amount(t, w.Brings) > best+0.005 || amount(t, w.Worst) > amount(t, w.Mean) {
			t.Errorf("%+v, and the best brings %.2f", w, best)
		}
	}
	if len(v.Ways) < 3 || !v.Proven || minutes > v.Ways[0].Minutes || len(v.Worth) != 1 {
		t.Errorf("%+v", v)
	}
	sold := 0.0
	for _, s := range v.Sales {
		sold += amount(t, s.Value)
		if math.Abs(s.MadeG-s.FullG-s.FallbackG) > 0.001 {
			t.Errorf("%+v", s)
		}
	}
	if sold < best {
		t.Errorf("sold for %.2f, and it brings %.2f", sold, best)
	}
	// a fourth brings what four bring more than three
	ask["heads"].([]map[string]any)[0]["count"] = 4
	var four contract.WeekView
	r.ok("POST", base+"/week", ask, &four)
	if d := amount(t, four.Ways[0].Brings) - best - amount(t, v.Worth[0].More); math.Abs(d) > 0.011 {
		t.Errorf("the fourth brings %s, and four %s after %.2f", v.Worth[0].More, four.Ways[0].Brings, best)
	}
	ask["minutes"] = fmt.Sprint(math.Floor(four.Ways[0].Minutes - 20))
	var less contract.WeekView
	if status, _, raw := r.do("POST", base+"/week", ask); status == 200 {
		if err := json.Unmarshal(raw, &less); err != nil {
			t.Fatal(err)
		}
		if amount(t, less.Ways[0].Brings) > amount(t, four.Ways[0].Brings) || less.Ways[0].Minutes > four.Ways[0].Minutes-20 {
			t.Errorf("with 20 minutes less: %+v", less.Ways[0])
		}
	} else if status != 422 { // where the best takes the least
		t.Errorf("%d %s", status, raw)
	}
	ask["minutes"] = "5"
	if p := r.fails("POST", base+"/week", ask); !has(p, "minutes", "infeasible") {
		t.Errorf("%+v", p)
	}
	p := r.fails("POST", base+"/week",
		map[string]any{"heads": []map[string]any{{"carcass": "goat", "count": 0}}, "days": 99,
			"saw_minutes": "x"})
	for _, field := range []string{"heads[0].carcass", "days", "saw_minutes"} {
		if !has(p, field, "") {
			t.Errorf("%s passes: %+v", field, p)
		}
	}
}
