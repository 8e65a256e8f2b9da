package api

import (
	"encoding/json"
	"fmt"
	"math"
	"testing"

	"falda/internal/api/contract"
)

// The calculators of the inside of a piece, over the wire: figures by hand, and what is wrong is named.
func TestCalcBody(t *testing.T) {
	r := newRig(t)
	var f contract.FitResult
	r.ok("POST", base+"/calc/fit", `{"rows":[50,50],"columns":[40,60],"seed":[[1,2],[3,4]]}`, &f)
	if x := (-210 + math.Sqrt(210*210+4*4000)) / 2; math.Abs(f.Fitted[0][0]-x) > 1e-3 || f.LargestFactor < 1.5 {
		t.Errorf("%+v, want %.4f first", f, x)
	}
	var s contract.SectionResult
	r.ok("POST", base+"/calc/section",
		`{"outline":[[0,0],[0,4],[10,4],[10,0]],"places":[[2,2],[8,2],[5,9]],"areas":[1,3,0]}`, &s)
	if len(s.Cells) != 3 || len(s.Cells[2]) != 0 || s.WorstPct > 0.5 {
		t.Errorf("%+v", s)
	}
	for _, p := range s.Cells[0] {
		if p[0] > 2.5+0.01 {
			t.Errorf("the quarter reaches to %v", p)
		}
	}
	var l contract.PortionResult
	cylinder := `{"length_mm":300,"weight_g":1200,"profile":[[0,50],[300,50]],"equal":6,"products":[{"id":"x",
		"price_per_kg":"10"}]}`
	if r.ok("POST", base+"/calc/portion", cylinder, &l); len(l.Pieces) != 6 || l.Pieces[3].FromMm != 150 ||
		l.Pieces[3].G != 200 || l.Value != "12.00" {
		t.Errorf("%+v", l)
	}
	cone := [][]float64{}
	for x := range 301 {
		cone = append(cone, []float64{float64(x), float64(x * x)})
	}
	raw, _ := json.Marshal(map[string]any{"length_mm": 300, "weight_g": 1200, "profile": cone, "equal": 4,
		"products": []any{map[string]any{"id": "x", "price_per_kg": "10"}}})
	r.ok("POST", base+"/calc/portion", string(raw), &l)
	for k := 1; k < 4; k++ {
		if want := 300 * math.Cbrt(float64(k)/4); math.Abs(float64(l.Pieces[k].FromMm)-want) > 0.51 {
			t.Errorf("cut %d of the cone lies at %d, want %.1f", k, l.Pieces[k].FromMm, want)
		}
	}
	steaks := `{"length_mm":400,"weight_g":3900,"profile":[[0,8200],[400,9100]],"kerf_mm":0,"rest_price_per_kg":"9.90",
		"products":[{"id":"steak","price_per_kg":"31.00","label_g":220,"min_g":220,"max_g":260,"min_mm":15,"max_mm":45,
		"from_mm":0,"to_mm":300,"at_least":%d}]}`
	r.ok("POST", base+"/calc/portion", fmt.Sprintf(steaks, 0), &l)
	if n := len(l.Pieces); n != 14 || *l.Pieces[0].Product != "steak" || l.Pieces[n-1].Product != nil ||
		math.Abs(l.GiveAwayG+l.RestG+12*220-3900) > 0.1 || l.KerfG != 0 {
		t.Errorf("%d pieces: %+v", n, l)
	}
	for _, bad := range []struct{ path, body, field string }{
		{"fit", `{"rows":[5,10,5],"columns":[8,12],"seed":[[1,1],[1,0],[1,1]]}`, "rows[1]"},
		{"fit", `{"rows":[1],"columns":[2],"seed":[[1]]}`, "columns"},
		{"fit", `{"rows":[1],"columns":[1],"seed":[[-1]]}`, "seed[0][0]"},
		{"fit", `{"rows":[1],"columns":[1],"seed":[[1,1]]}`, "seed[0]"},
		{"section", `{"outline":[[0,0],[1,0]],"places":[[0,0]],"areas":[1]}`, "outline"},
		{"section", `{"outline":[[0,0],[4,0],[1,1],[0,4]],"places":[[0,0]],"areas":[1]}`, "outline"},
		{"section", `{"outline":[[0,0],[4,0],[0,4]],"places":[[1,1],[1,1]],"areas":[1,1]}`, "places[1]"},
		{"section", `{"outline":[[0,0],[4,0],[0,4]],"places":[[1,1]],"areas":[-1]}`, "areas[0]"},
		{"portion", fmt.Sprintf(steaks, 40), "products[0].at_least"},
		{"portion", `{"length_mm":0,"weight_g":1,"profile":[[0,1],[1,1]],"products":[{"id":"x","price_per_kg":"1"}]}`,
			"length_mm"},
	} {
		if p := r.fails("POST", base+"/calc/"+bad.path, bad.body); p.Status != 422 || !has(p, bad.field, "") {
			t.Errorf("%s %s: %d %+v", bad.path, bad.body, p.Status, p.Errors)
		}
	}
}
