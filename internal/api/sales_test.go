package api

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"

	"falda/internal/api/contract"
	trays "falda/internal/core/counter"
	"falda/internal/core/demand"
	"falda/internal/store"
	"falda/internal/work/sales"
)

// sells gives a shop a file of a till, a trial of names and a page above its counter.
func (r *rig) sells(ctx context.Context, mark string) map[string]string {
	r.t.Helper()
	must := func(err error) {
		r.t.Helper()
		if err != nil {
			r.t.Fatal(err)
		}
	}
	must(r.work.Sales.Means(ctx, mark+" cap", "beef.cap_steak"))
	f, err := r.work.Sales.Import(ctx, [][]string{{"day", "name", "kg", "amount"},
		{day(today.AddDate(0, 0, -3)), mark + " cap", "0.4", "9.20"}}, sales.Ask{Till: mark + " till", Name: mark + ".csv",
		Save: true})
	must(err)
	monday := day(demand.Monday(today))
	must(r.work.Sales.Begin(ctx, sales.NewTrial{Key: "beef.heart_steak", NameA: mark + " one", NameB: mark + " two",
		Begins: monday, Weeks: 4}))
	s, err := r.work.Sales.Sales(ctx)
	must(err)
	must(r.work.Counter.Save(ctx, trays.Usual(), 0))
	link, err := r.work.Counter.Hang(ctx, true, 1)
	must(err)
	return map[string]string{"file_id": f.Read.PublicID, "naming_id": s.Trials[0].PublicID, "screen_link": link}
}

// upload sends a file.
func (r *rig) upload(path, body string, into any) int {
	r.t.Helper()
	status, _, raw := r.do(http.MethodPost, path, body)
	if status == 200 && into != nil {
		if err := json.Unmarshal(raw, into); err != nil {
			r.t.Fatal(err)
		}
	}
	return status
}

// weekOfSales is a till's file: so many packs of 400 g at 10.00 on the Monday of each week before this one, the
// earliest first.
func weekOfSales(name string, packs ...int) string {
	var b strings.Builder
	b.WriteString("Date;Article;Weight kg;Total;Kind\n")
	monday := demand.Monday(today)
	for i, n := range packs {
		for range n {
			fmt.Fprintf(&b, "%s;%s;0.400;10,00;\n", monday.AddDate(0, 0, -7*(len(packs)-i)).Format("02.01.2006"), name)
		}
	}
	return b.String()
}

// A till's file is read by its own words: what a name means is said once, and so is which column is which; a day is
// read once. The forecast is by hand; what was sold leaves the stock, and lies there again when the file is taken back.
func TestATillsFileIsReadOnce(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.freshCut("SALES-1")
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	before := r.tubOf("beef.heart_steak")
	file := weekOfSales("RUMP HRT", 6, 3)
	var sheet contract.SaleSheet
	if r.upload(base+"/sales/import", file, &sheet); sheet.Good != 0 || sheet.Bad != 9 || len(sheet.Unknown) != 1 ||
		sheet.Unknown[0].Said != "RUMP HRT" || sheet.Columns.Amount != "Total" {
		t.Fatalf("%+v", sheet)
	}
	r.ok("PUT", base+"/sales/names", map[string]string{"said": "RUMP HRT", "product_key": "beef.heart_steak"}, nil)
	if r.upload(base+"/sales/import", file, &sheet); sheet.Good != 9 || sheet.Takings != "90.00" || sheet.Kept != nil {
		t.Fatalf("%+v", sheet)
	}
	if r.upload(base+"/sales/import?save=true&stock=true&file=w.csv", file, &sheet); sheet.Kept == nil {
		t.Fatalf("%+v", sheet)
	}
	short := 0.0
	for _, x := range sheet.Short {
		short += x.ByG
	}
	left := 0.0
	for _, x := range r.tubs() {
		if x.Key == "beef.heart_steak" {
			left += x.LeftG
		}
	}
	if math.Abs(before.LeftG-left+short-3600) > 0.01 {
		t.Errorf("3,600 g were sold: %.1f of %.1f are left, %.1f were not there", left, before.LeftG, short)
	}
	if status := r.upload(base+"/sales/import?save=true", file, nil); status != 422 {
		t.Errorf("the same days again: %d", status)
	}
	var s contract.Sales
	r.ok("GET", base+"/sales", nil, &s)
	p := s.Products[0]
	// usual: 3 packs a week weigh as 0.25 of a week; half-life 8: weeks of 6 (two ago) and 3 (one ago)
	w2, w1 := math.Pow(0.5, 2.0/8), math.Pow(0.5, 1.0/8)
	mean := (0.75 + 6*w2 + 3*w1) / (0.25 + w2 + w1)
	if math.Abs(p.Forecast.Mean-mean) > 0.005 || p.N != 2 || p.PackG != 400 || p.Takings != "90.00" ||
		from(p.PerKg) != "25.00" || from(p.FullPct) != 100 {
		t.Errorf("%+v, mean %.3f", p, mean)
	}
	if len(s.Files) != 1 {
		t.Errorf("%d files: the days were read in before", len(s.Files))
	}
	r.ok("PUT", base+"/sales/files/"+s.Files[0].Id+"/undone", nil, &s)
	r.ok("PUT", base+"/sales/files/"+s.Files[0].Id+"/undone", nil, &s)
	if len(s.Products) != 0 || !s.Files[0].Undone || r.tubOf("beef.heart_steak").LeftG != before.LeftG {
		t.Errorf("taken back: %+v", s)
	}
}

// Columns that no one can guess are said once; the next file of that heading is read so. What is exported can be read
// in again elsewhere.
func TestColumnsAreRemembered(t *testing.T) {
	r := newRig(t)
	r.priced()
	monday := demand.Monday(today).AddDate(0, 0, -7)
	file := "u;v;w;x\n" + monday.Format("1/2/2006") + ";Rump cap steak;500;11.95\n"
	var sheet contract.SaleSheet
	if r.upload(base+"/sales/import", file, &sheet); !slices.Equal(sheet.Missing, []string{"day", "amount", "item"}) {
		t.Fatalf("%+v", sheet)
	}
	said := "?mapped=true&day=u&name=v&weight=w&amount=x&unit=g&month_first=true"
	if r.upload(base+"/sales/import"+said+"&save=true", file, &sheet); sheet.Good != 1 || sheet.Lines[0].MassG != 500 {
		t.Fatalf("%+v", sheet)
	}
	if r.upload(base+"/sales/import?till=Other", file, &sheet); sheet.Good != 1 || sheet.Unit != "g" || !sheet.MonthFirst {
		t.Errorf("not remembered: %+v", sheet)
	}
	if r.upload(base+"/sales/import", file, &sheet); sheet.Good != 0 || sheet.Left != 1 || len(sheet.Covered) != 1 {
		t.Errorf("the same day of the same till: %+v", sheet)
	}
	_, _, csv := r.do("GET", base+"/sales/export?format=csv", nil)
	if r.upload(base+"/sales/import?till=Third", string(csv), &sheet); sheet.Good != 1 || sheet.Takings != "11.95" ||
		from(sheet.Lines[0].Product) != "Rump cap steak" {
		t.Errorf("an export read in again: %s %+v", csv, sheet)
	}
	// a number that is nobody's is explained once, zeros in front and all
	numbers := "day;item;amount\n" + day(monday) + ";0077123;4.00\n"
	if r.upload(base+"/sales/import?till=Fourth", numbers, &sheet); len(sheet.Unknown) != 1 {
		t.Fatalf("%+v", sheet)
	}
	r.ok("PUT", base+"/sales/names", map[string]string{"said": sheet.Unknown[0].Said, "product_key": "beef.cap_steak"},
		nil)
	if r.upload(base+"/sales/import?till=Fourth", numbers, &sheet); sheet.Good != 1 {
		t.Errorf("%+v", sheet)
	}
	for _, body := range []string{"", "day;amount\n"} {
		if status := r.upload(base+"/sales/import", body, nil); status != 422 {
			t.Errorf("%q: %d", body, status)
		}
	}
}

// A trial of names is judged by the exact interval of the calculator, on days on which the shop sold anything; its name
// of the week stands on the ticket.
func TestNamesTakeTurns(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.upload(base+"/sales/import?save=true", weekOfSales("Rump heart steak", 30, 8), nil)
	begins := demand.Monday(today).AddDate(0, 0, -14)
	ask := map[string]any{"product_key": "beef.heart_steak", "name_a": "Heart of rump", "name_b": "Plain steak",
		"begins": day(begins), "weeks": 4}
	var s contract.Sales
	r.ok("POST", base+"/sales/trials", ask, &s)
	got := s.Trials[0]
	var want contract.RateRatio
	r.ok("POST", base+"/calc/rate-ratio", map[string]any{"a": map[string]any{"count": 30, "days": 1},
		"b": map[string]any{"count": 8, "days": 1}, "level": 0.95}, &want)
	if got.PacksA != 30 || got.PacksB != 8 || got.DaysA != 1 || math.Abs(from(got.Low)-from(want.Low)) > 1e-9 ||
		got.Verdict != "more" || got.State != "running" || from(got.ThisWeek) != "Heart of rump" {
		t.Errorf("%+v, by the calculator %+v", got, want)
	}
	if p := r.fails("POST", base+"/sales/trials", ask); !has(p, "product_key", "twice") {
		t.Errorf("%+v", p)
	}
	ask["begins"], ask["weeks"], ask["name_b"] = "2026-03-18", 3, "Heart of rump"
	p := r.fails("POST", base+"/sales/trials", ask)
	for _, field := range []string{"begins", "weeks", "name_b"} {
		if !has(p, field, "") {
			t.Errorf("%s passes: %+v", field, p)
		}
	}
	r.ok("PUT", base+"/sales/trials/"+got.Id+"/stopped", nil, &s)
	if s.Trials[0].State != "stopped" {
		t.Errorf("%+v", s.Trials[0])
	}
}

// What is reduced is asked for everywhere: in stock, on the label, on the page above the counter; and at its full price
// again when that is taken back.
func TestReducedPricesAreAskedEverywhere(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.freshCut("REDUCE-1")
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	was := r.tubOf("beef.heart_steak")
	booking := map[string]any{"id": store.NewID(), "tub": was.Id, "kind": "reduced", "off_pct": "30"}
	if p := r.fails("POST", base+"/goods/events", booking); !has(p, "note", "") {
		t.Errorf("without a reason: %+v", p)
	}
	booking["note"], booking["off_pct"] = "use by tomorrow", "99"
	if p := r.fails("POST", base+"/goods/events", booking); !has(p, "off_pct", "out_of_range") {
		t.Errorf("%+v", p)
	}
	booking["off_pct"] = "30"
	r.ok("POST", base+"/goods/events", booking, nil)
	now := r.tubOf("beef.heart_steak")
	var full float64
	fmt.Sscan(from(was.Price), &full)
	want := fmt.Sprintf("%.2f", math.Round(full*70)/100)
	if from(now.Price) != want || from(now.FullPrice) != from(was.Price) || from(now.OffPct) != 30 {
		t.Errorf("%s less 30 %%: %+v", from(was.Price), now)
	}
	var label contract.PackLabel
	r.ok("POST", base+"/labels/pack", map[string]string{"tub": was.Id, "weight": "0.5", "unit": "kg"}, &label)
	if from(label.PricePerKg) != want || !slices.Contains(label.Notes, "Reduced.") {
		t.Errorf("the label: %+v", label)
	}
	tickets, err := r.work.Labels.Tickets(asRole(t, r.work, "owner"), []string{was.Key})
	if err != nil || tickets[0].Off != 30 || tickets[0].Price.Amount.Text(2) != want {
		t.Errorf("the ticket: %+v %v", tickets, err)
	}
	var advice contract.Markdowns
	r.ok("GET", base+"/goods/markdowns", nil, &advice)
	for _, a := range advice.Tubs {
		var best, held float64
		fmt.Sscan(a.Brings, &best)
		fmt.Sscan(a.Held, &held)
		if best < held || a.NowPct < a.OffPct || len(a.Plan) != a.Days || a.KeepG+a.AwayG != a.Tub.LeftG {
			t.Errorf("%+v", a)
		}
	}
	if len(advice.Tubs) == 0 {
		t.Error("nothing is advised")
	}
	r.ok("PUT", base+"/goods/events/"+booking["id"].(string)+"/undo", map[string]string{"id": store.NewID()}, nil)
	if now = r.tubOf("beef.heart_steak"); from(now.Price) != from(was.Price) || now.OffPct != nil {
		t.Errorf("taken back: %+v", now)
	}
}

// A comparison by what really sold asks what a kilogram that went brought: here half of the steak was sold at its price
// and half thrown away, so it brings half.
func TestComparedByWhatReallySold(t *testing.T) {
	r := newRig(t)
	r.priced()
	d := day(today.AddDate(0, 0, -2))
	file := "day;name;kg;amount;kind;reason\n" + d + ";Rump heart steak;2;40;;\n" + d +
		";Rump heart steak;2;0;wasted;past its date\n"
	r.upload(base+"/sales/import?save=true", file, nil)
	ask := map[string]any{"alternatives": []map[string]any{
		{"kind": "plan", "atlas_id": "beef.top_sirloin", "plan_id": "traditional"},
		{"kind": "plan", "atlas_id": "beef.top_sirloin", "plan_id": "seamed"}}, "today": true}
	var book, sold contract.Desk
	r.ok("POST", base+"/comparisons", ask, &book)
	ask["sold_days"] = 28
	r.ok("POST", base+"/comparisons", ask, &sold)
	at := func(d contract.Desk) (out string) {
		for _, p := range d.Alternatives[1].Costs {
			if p.Name == "Rump heart steak" {
				out = p.SellsAt
			}
		}
		return out
	}
	if at(sold) != "10.00" || at(book) == "10.00" {
		t.Errorf("sold at %s, by the book %s", at(sold), at(book))
	}
	b := sold.Sold.Alternatives[1]
	if sold.Sold.Products != 1 || from(b.FullPct) != 50 || sold.Sold.Alternatives[0].FullPct != nil {
		t.Errorf("%+v", sold.Sold)
	}
	ask["sold_days"] = 999
	if p := r.fails("POST", base+"/comparisons", ask); !has(p, "sold_days", "out_of_range") {
		t.Errorf("%+v", p)
	}
}

// The page above the counter shows what there is and its price to whoever has the link, and nothing of the shop: not
// what it paid, nor how much there is. A new link ends the old one.
func TestThePageAboveTheCounter(t *testing.T) {
	r := newRig(t)
	r.priced()
	r.freshCut("ABOVE-1")
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	var v contract.CounterView
	r.ok("GET", base+"/counter", nil, &v)
	if len(v.Trays) == 0 || v.Screen {
		t.Fatalf("%+v", v)
	}
	room := v.Room
	room.LengthCm = 60
	r.ok("PUT", base+"/counter", room, &v)
	if v.Slots != 4 || len(v.Trays) > 4 || v.Room.Version != 1 {
		t.Errorf("%+v", v)
	}
	if status, _, _ := r.do("PUT", base+"/counter", room); status != 409 {
		t.Errorf("an old version: %d", status)
	}
	room.TrayWideCm, room.Version = 90, 1
	if p := r.fails("PUT", base+"/counter", room); !has(p, "tray_wide_cm", "too_large") {
		t.Errorf("%+v", p)
	}
	r.ok("PUT", base+"/counter/screen", map[string]any{"on": true, "version": 1}, &v)
	link := from(v.Link)[strings.LastIndex(from(v.Link), "/")+1:]
	get := func() (int, string) {
		status, raw := r.call(visitor{token: func() string { return "" }}, "GET", base+"/counter/screen/"+link, "")
		return status, string(raw)
	}
	status, page := get()
	if status != 200 || !strings.Contains(page, "Rump heart steak") {
		t.Fatalf("%d %s", status, page)
	}
	for _, secret := range []string{"ABOVE-1", "left_g", "croft", "11.40", "\"kg\":"} {
		if strings.Contains(page, secret) {
			t.Errorf("it shows %s", secret)
		}
	}
	r.ok("PUT", base+"/counter/screen", map[string]any{"on": true, "version": 2}, &v)
	if status, _ = get(); status != 404 {
		t.Errorf("the old link: %d", status)
	}
}

// Whatever is offered in the place of something is cheaper on the plate and as sure to eat as well; the order is by the
// plate.
func TestInsteadIsCheaperAndAsSure(t *testing.T) {
	r := newRig(t)
	r.priced()
	var v contract.InsteadView
	r.ok("GET", base+"/instead?product_key=beef.side_medallion", nil, &v)
	last := 0.0
	for _, x := range v.List {
		var plate, of float64
		fmt.Sscan(x.Plate, &plate)
		fmt.Sscan(v.Of.Plate, &of)
		if plate > of || x.Low < v.Of.Low || plate < last || x.Key == v.Of.Key {
			t.Errorf("%s at %s: %.1f; %s at %s: %.1f", x.Name, x.Plate, x.Low, v.Of.Name, v.Of.Plate, v.Of.Low)
		}
		last = plate
	}
	if len(v.List) == 0 || v.Method == "" {
		t.Errorf("%+v", v)
	}
	if p := r.fails("GET", base+"/instead?product_key=beef.side_medallion&method=fry", nil); !has(p, "method", "unknown") {
		t.Errorf("%+v", p)
	}
	if status, _, _ := r.do("GET", base+"/instead?product_key=beef.mince_trim", nil); status != 404 {
		t.Errorf("trim is of no one muscle: %d", status)
	}
}

// Without a till there is none to fetch; settings name what is out of range.
func TestSalesSettingsAreChecked(t *testing.T) {
	r := newRig(t)
	if p := r.fails("POST", base+"/sales/till", nil); !has(p, "", "no_till") {
		t.Errorf("%+v", p)
	}
	p := r.fails("PUT", base+"/sales/settings", contract.SaleSettings{Steps: []float64{30, 20}, Elasticity: 11})
	for _, field := range []string{"packs", "weeks", "half_life", "elasticity", "steps", "pack_g"} {
		if !has(p, field, "") {
			t.Errorf("%s passes: %+v", field, p)
		}
	}
	var s contract.Sales
	r.ok("PUT", base+"/sales/settings", contract.SaleSettings{Packs: 5, Weeks: 1, HalfLife: 4, Elasticity: 1.5,
		Steps: []float64{15}, PackG: 350}, &s)
	if s.Settings.Version != 1 || s.Settings.HalfLife != 4 {
		t.Errorf("%+v", s.Settings)
	}
}
