package api

import (
	"bytes"
	"maps"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
)

// with is an arrival with some fields changed.
func with(lot string, more map[string]any) map[string]any {
	out := arrival(lot)
	maps.Copy(out, more)
	return out
}

// A box of several pieces, each with its own weight, and all that is known of the animal.
func TestReceiveEverything(t *testing.T) {
	r := newRig(t)
	var lot contract.Lot
	r.ok("POST", "/api/v1/lots",
		with("R-1",
			map[string]any{"pieces": 3, "weight": "", "weights": []string{"6.1", "6,74", "7.015"}, "bone": "boneless",
				"feed": "grass", "sex": "heifer", "age_class": "over_30_months", "hang": "hip", "fat_class": "4L",
				"marbling": "300", "supplier_grade": "R4L", "ph": "5.62", "temperature_c": "8.5", "note": "cut at the seam",
				"findings": []string{"browned", "blood_shot"}, "decided": map[string]string{"browned": "discard"}}), &lot)
	if lot.TotalG != 19_855 || from(lot.Feed) != "grass" || from(lot.Hang) != "hip" || from(lot.Ph) != 5.62 ||
		from(lot.TemperatureC) != 8.5 || lot.Decided["browned"] != "discard" || from(lot.SupplierGrade) != "R4L" {
		t.Errorf("received: %+v", lot)
	}
	var d contract.LotDetail
	r.ok("GET", "/api/v1/lots/"+lot.Id, nil, &d)
	var weights []float64
	for _, c := range d.Cards {
		weights = append(weights, c.WeightG)
	}
	if !slices.Equal(weights, []float64{6100, 6740, 7015}) || d.Fixed || len(d.History) != 1 {
		t.Errorf("pieces of %v g, %d changes", weights, len(d.History))
	}
	// 7 °C for red meat (Regulation (EC) No 853/2004, from memory); spinal material of older cattle is a matter of local
	// rules
	cautions := strings.Join(d.Cautions, " ")
	for _, want := range []string{"8.5 °C is warmer than the 7 °C", "specified-risk"} {
		if !strings.Contains(cautions, want) {
			t.Errorf("%q is missing in %s", want, cautions)
		}
	}
	for field, bad := range map[string]map[string]any{
		"weights": {"pieces": 2, "weights": []string{"6.1"}}, "bone": {"bone": "half"}, "feed": {"feed": "hay"},
		"fat_pct": {"fat_pct": "90"}, "lean_yield_pct": {"lean_yield_pct": "5"},
		"sex": {"sex": "x"}, "age_class": {"age_class": "old"}, "hang": {"hang": "feet"}, "ph": {"ph": "14"},
		"temperature_c": {"temperature_c": "warm"}, "fat_class": {"fat_class": strings.Repeat("x", 21)},
		"supplier_grade": {"supplier_grade": strings.Repeat("x", 41)},
		"decided":        {"findings": []string{"blood_shot"}, "decided": map[string]string{"blood_shot": "mince"}},
	} {
		p := r.fails("POST", "/api/v1/lots", with("R-2", bad))
		if p.Status != 422 || p.Errors == nil || (*p.Errors)[0].Field != field {
			t.Errorf("%v: %+v, want a fault at %s", bad, p, field)
		}
	}
	if p := r.fails("POST", "/api/v1/lots",
		with("R-3", map[string]any{"pieces": 2, "weights": []string{"6.1", "66"}})); !strings.Contains((*p.Errors)[0].Message,
		"piece 2") {
		t.Errorf("a wrong weight: %+v", p)
	}
}

// What was entered wrongly is corrected with a reason; what the bench goes by stands; nothing is deleted.
func TestChangeAndVoidALot(t *testing.T) {
	r := newRig(t)
	lot := r.received("C-1")
	at := "/api/v1/lots/" + lot.Id
	body := func(version int, reason string, more map[string]any) map[string]any {
		return map[string]any{"lot": with("C-1", more), "version": version, "reason": reason}
	}
	if p := r.fails("PUT", at, body(1, " ", nil)); (*p.Errors)[0].Field != "reason" {
		t.Errorf("without a reason: %+v", p)
	}
	r.ok("PUT", at, body(1, "two came, not one", map[string]any{"pieces": 2, "weight": "13.2", "price": "11.90"}), &lot)
	if lot.Version != 2 || len(lot.PieceIds) != 2 || lot.Price != "11.90" || lot.TotalG != 13_200 {
		t.Errorf("changed: %+v", lot)
	}
	if p := r.fails("PUT", at, body(1, "late", nil)); p.Status != 409 {
		t.Errorf("a second writer: %+v", p)
	}
	r.received("C-2")
	if p := r.fails("PUT", at,
		map[string]any{"lot": arrival("C-2"), "version": 2, "reason": "x"}); (*p.Errors)[0].Field != "lot_number" {
		t.Errorf("another lot's number: %+v", p)
	}
	// one of the two was sent back
	second := lot.PieceIds[1]
	r.ok("PUT", "/api/v1/pieces/"+second+"/void",
		map[string]any{"voided": true, "version": 1, "reason": "sent back, sour"}, nil)
	if slices.Contains(r.onRail(), second) || !slices.Contains(r.onRail(), lot.PieceIds[0]) {
		t.Error("the rail does not follow")
	}
	if p := r.fails("PUT", "/api/v1/pieces/"+second+"/plan",
		map[string]any{"plan_id": "seamed", "version": 2}); p.Status != 409 && p.Status != 422 {
		t.Errorf("a voided piece was planned: %+v", p)
	}
	r.ok("PUT", "/api/v1/pieces/"+second+"/void",
		map[string]any{"voided": false, "version": 2, "reason": "it was the other one"}, nil)
	// the first goes on the bench: from now on what it is and weighs stands
	r.ok("PUT", "/api/v1/pieces/"+lot.PieceIds[0]+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
	var b contract.Board
	r.ok("POST", "/api/v1/pieces/"+lot.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	two := map[string]any{"pieces": 2, "weight": "13.2"}
	for field, more := range map[string]map[string]any{"weight": {"pieces": 2, "weight": "14"},
		"findings": {"pieces": 2, "weight": "13.2", "findings": []string{"tri_tip_off"}}} {
		if p := r.fails("PUT", at, body(2, "x", more)); (*p.Errors)[0].Field != field || (*p.Errors)[0].Code != "being_cut" {
			t.Errorf("%v of a piece on the bench: %+v", more, p)
		}
	}
	two["supplier"] = "Upper croft"
	r.ok("PUT", at, body(2, "it came from the upper croft", two), &lot)
	if lot.Supplier != "Upper croft" {
		t.Error("the supplier is not corrected")
	}
	if p := r.fails("PUT", at+"/void",
		map[string]any{"voided": true, "version": 3, "reason": "x"}); !strings.Contains(from(p.Detail), "on a bench") {
		t.Errorf("a lot on the bench was voided: %+v", p)
	}
	var d contract.LotDetail
	r.ok("GET", at, nil, &d)
	var actions []string
	for _, h := range d.History {
		actions = append(actions, h.Action)
	}
	want := []string{"lot.changed", "plan.chosen", "piece.restored", "piece.voided", "lot.changed", "lot.received"}
	if !slices.Equal(actions, want) || !d.Fixed {
		t.Errorf("its history is %v", actions)
	}
	if first := d.History[4]; from(first.Became)["reason"] != "two came, not one" ||
		from(first.Was)["price"] != "11.4000" {
		t.Errorf("the first change: %+v", first)
	}
	// a whole lot, voided and taken back
	other := r.received("C-3")
	r.ok("PUT", "/api/v1/lots/"+other.Id+"/void", map[string]any{"voided": true, "version": 1, "reason": "entered twice"},
		nil)
	if slices.Contains(r.onRail(), other.PieceIds[0]) {
		t.Error("a voided lot hangs on the rail")
	}
	r.ok("PUT", "/api/v1/lots/"+other.Id+"/void", map[string]any{"voided": false, "version": 2, "reason": "it was not"},
		nil)
	if !slices.Contains(r.onRail(), other.PieceIds[0]) {
		t.Error("it did not come back")
	}
}

func (r *rig) onRail() []string {
	r.t.Helper()
	cards := r.queue()
	var ids []string
	for _, c := range cards {
		ids = append(ids, c.Id)
	}
	return ids
}

// A delivery note is shown line by line before anything is received; bad lines stay out, duplicates are caught.
func TestDeliveryNote(t *testing.T) {
	r := newRig(t)
	r.received("N-0")
	note := strings.Join([]string{
		"lot_number,piece,pieces,weight,unit,price,per,slaughtered_on,packed_on,supplier,weights,feed,ph,invoiced",
		"N-1,rump,2,13.4,kg,11.40,kg,2026-02-24,26.02.2026,A croft,,grass,5.6,13.6",
		"N-2,beef.knuckle,,,kg,9.20,kg,2026-02-24,2026-02-26,A croft,5.2 5.6,,",
		"N-0,rump,1,6.6,kg,11.40,kg,2026-02-24,2026-02-26,A croft,,,",                         // received already
		"N-1,rump,1,6.6,kg,11.40,kg,2026-02-24,2026-02-26,A croft,,,",                         // stands twice
		"N-3,flat irn,1,6.6,kg,11.40,kg,2026-02-24,2026-02-26,A croft,,,",                     // no piece
		"N-4,rump,1,66,kg,eleven,kg,31.02.2026,2026-02-26,,,hay,99",                           // nearly everything
		`"=1+1",lamb carcass,1,19.5,kg,7.10,kg,2026-03-10,2026-03-11,"=cmd|' /C calc'!A0",,,`, // text is text
	}, "\n")
	send := func(save string) contract.NoteImport {
		t.Helper()
		status, out, answer := upload[contract.NoteImport](r, "/api/v1/lots/import?save="+save, []byte(note))
		if status != 200 {
			t.Fatal(status, answer)
		}
		return out
	}
	seen := send("false")
	if seen.Good != 3 || seen.Bad != 4 || seen.Saved {
		t.Fatalf("%d good, %d bad: %+v", seen.Good, seen.Bad, seen.Lines)
	}
	for line, wants := range map[int][]string{2: {"received already"}, 3: {"stands in line 2"}, 4: {"Do you mean"},
		5: {"weight: ", "price: ", "slaughtered_on: ", "supplier: ", "feed: ", "ph: "}} {
		faults := strings.Join(seen.Lines[line].Faults, " ")
		for _, want := range wants {
			if !strings.Contains(faults, want) {
				t.Errorf("line %d: %q is missing in %s", line+2, want, faults)
			}
		}
	}
	if n := len(r.onRail()); n != 1 {
		t.Errorf("a preview hung %d pieces", n-1)
	}
	saved := send("true")
	if !saved.Saved || saved.Good != 3 || from(saved.Lines[0].TotalG) != 13_400 || from(saved.Lines[1].TotalG) != 10_800 ||
		saved.Lines[1].Pieces != 2 {
		t.Errorf("saved: %+v", saved.Lines)
	}
	if n := len(r.onRail()); n != 1+2+2+1 {
		t.Errorf("%d pieces on the rail", n)
	}
	var first contract.LotDetail
	if r.ok("GET", base+"/lots/"+from(saved.Lines[0].LotId), nil, &first); from(first.Lot.InvoicedG) != 13_600 ||
		from(first.Lot.Claim) != "2.28" { // 0.2 kg at 11.40
		t.Errorf("short by the note: %+v", first.Lot)
	}
	if again := send("true"); again.Good != 0 {
		t.Errorf("the same note brought %d lots again", again.Good)
	}
	for _, bad := range []string{"", "lot_number,piece\n", "\x00\x01"} {
		if status, _, answer := upload[contract.NoteImport](r, "/api/v1/lots/import", []byte(bad)); status != 422 ||
			!strings.Contains(answer, `"field":"file"`) {
			t.Errorf("%q: %d %s", bad, status, answer)
		}
	}
}

// A carcass is weighed, broken, balanced and closed like any piece; each part then hangs as a piece of its own, and
// what the carcass cost is shared among them to the cent.
func TestBreakACarcass(t *testing.T) {
	r := newRig(t)
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	var lot contract.Lot
	r.ok("POST", "/api/v1/lots",
		with("L-1",
			map[string]any{"atlas_id": "lamb.whole", "weight": "20", "price": "7.50", "slaughtered_on": "2026-03-17",
				"packed_on": "2026-03-17", "feed": "grass"}), &lot)
	if !lot.Carcass {
		t.Fatal("a lamb is no carcass")
	}
	piece := "/api/v1/pieces/" + lot.PieceIds[0]
	var detail contract.PieceDetail
	r.ok("GET", piece, nil, &detail)
	if n := len(detail.Forecast.Plans); n != 6 || detail.Forecast.Carcass == nil || len(*detail.Forecast.Carcass) != 2 {
		t.Fatalf("%d ways to divide it", n)
	}
	r.ok("PUT", piece+"/plan", map[string]any{"plan_id": "shoulders", "version": 1}, nil)
	var b contract.Board
	r.ok("POST", piece+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	b = r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 19_900, "source": "scale"}))
	if len(b.Expected) == 0 || b.Fixed != nil {
		t.Errorf("expected: %+v", b.Expected)
	}
	for _, e := range b.Expected {
		if want := map[string]int{"lamb.leg_chump": 2, "lamb.rack": 2, "lamb.breast_ribs": 2,
			"lamb.shoulder_whole": 2}[e.Id]; e.Want != max(1, want) {
			t.Errorf("%s is weighed %d times", e.Id, e.Want)
		}
	}
	masses := map[string][]float64{"lamb.leg_chump": {3080, 3060}, "lamb.saddle": {2500}, "lamb.rack": {950, 940},
		"lamb.breast_ribs": {860, 840}, "lamb.shoulder_whole": {2290, 2260}, "lamb.neck": {790}}
	n := 1
	total := 0.0
	for part, list := range masses {
		for _, g := range list {
			b = r.book(b.Id, r.event("seamed_off", n, map[string]any{"part": part, "net_g": g, "source": "scale"}))
			n, total = n+1, total+g
		}
	}
	for part, g := range map[string]float64{"fore_ribs": 1580, "kidneys": 120, "kidney_fat": 375} {
		b = r.book(b.Id, r.event("trimmed", n, map[string]any{"part": part, "net_g": g, "source": "scale"}))
		n, total = n+1, total+g
	}
	if b.Balance.ResidualG != 19_900-total || b.Balance.Verdict != "balanced" {
		t.Fatalf("balance: %+v", b.Balance)
	}
	b = r.book(b.Id, r.event("closed", n, map[string]any{"minutes": 7}))
	if b.State != "closed" {
		t.Fatal(b.State)
	}
	cards := r.queue()
	got := map[string][]float64{}
	for _, c := range cards {
		got[c.AtlasId] = append(got[c.AtlasId], c.WeightG)
		if !strings.HasPrefix(c.LotNumber, "L-1/") || c.AgeDays != 3 {
			t.Errorf("%s hangs as lot %s, %d days old", c.Name, c.LotNumber, c.AgeDays)
		}
	}
	for part, want := range masses {
		if !slices.Equal(slices.Sorted(slices.Values(got[part])), slices.Sorted(slices.Values(want))) {
			t.Errorf("%s: pieces of %v, weighed %v", part, got[part], want)
		}
	}
	if len(got) != len(masses) {
		t.Errorf("on the rail: %v", got)
	}
	// what it gave beside its pieces lies in stock, as what it is sold as
	beside := map[string]float64{}
	for key, tub := range r.tubs() {
		beside[key] = tub.LeftG
	}
	if want := map[string]float64{"lamb.stock_bone@cold": 1580, "lamb.kidneys@cold": 120,
		"lamb.fat@cold": 375}; !maps.Equal(beside, want) {
		t.Errorf("in stock: %v, want %v", beside, want)
	}
	var d contract.LotDetail
	r.ok("GET", "/api/v1/lots/"+lot.Id, nil, &d)
	cost := measure.Money{}
	for _, l := range d.Broken {
		m, err := measure.ParseMoney(l.Cost)
		if err != nil {
			t.Fatal(err)
		}
		cost = cost.Add(m)
		if from(l.Feed) != "grass" || l.SlaughteredOn != "2026-03-17" {
			t.Errorf("%s lost what was known of the lamb", l.LotNumber)
		}
	}
	// 20 kg at 7.50; nothing has a price, so it goes by weight
	if paid, _ := cost.Rat().Float64(); len(d.Broken) != 6 || math.Abs(paid-150) > 0.01 {
		t.Errorf("%d lots that cost %s together", len(d.Broken), cost)
	}
	// where the program ended between the close and the hanging, the upkeep does it, once
	owner := asRole(t, r.work, "owner")
	if err := r.store.DB().Exec("UPDATE breakdowns SET judged_at = NULL WHERE public_id = ?", b.Id).Error; err != nil {
		t.Fatal(err)
	}
	if err := r.store.DB().Exec("DELETE p FROM pieces p JOIN lots l ON l.id = p.lot_id WHERE l.from_piece_id IS NOT NULL").
		Error; err != nil {
		t.Fatal(err)
	}
	if err := r.store.DB().Exec("DELETE FROM lots WHERE from_piece_id IS NOT NULL").Error; err != nil {
		t.Fatal(err)
	}
	for range 2 {
		if err := r.work.Bench.Upkeep(t.Context()); err != nil {
			t.Fatal(err)
		}
		if rail, err := r.work.Stock.Queue(owner, ""); err != nil || len(rail.Pieces) != 10 {
			t.Errorf("%d pieces on the rail, %v", len(rail.Pieces), err)
		}
	}
	v, err := r.work.Bench.Verify(t.Context(), false)
	if err != nil || len(v.Flaws) > 0 {
		t.Errorf("verify: %v %v", v.Flaws, err)
	}
}

// What the invoice says and what came: the difference at the lot's price is claimed, in the lot and in a letter; where
// nothing is missing there is none.
func TestShortWeightIsClaimed(t *testing.T) {
	r := newRig(t)
	a := arrival("SHORT-1")
	a["weight"], a["price"], a["pieces"], a["invoiced"], a["temperature_c"] = "26.9", "11.40", 4, "27.4", "3.5"
	var lot contract.Lot
	r.ok("POST", base+"/lots", a, &lot)
	// 0.5 kg at 11.40
	if from(lot.InvoicedG) != 27_400 || math.Abs(from(lot.ShortG)-500) > 0.001 || from(lot.Claim) != "5.70" {
		t.Errorf("%+v", lot)
	}
	status, header, raw := r.do("GET", base+"/lots/"+lot.Id+"/claim.pdf", nil)
	if status != 200 || header.Get("Content-Type") != "application/pdf" {
		t.Fatalf("%d %v", status, header)
	}
	for _, want := range []string{"SHORT-1", "27.40 kg", "26.90 kg", "0.50 kg", "5.70", "3.5 "} {
		if !bytes.Contains(printed(raw), []byte(want)) {
			t.Errorf("the letter does not say %q", want)
		}
	}
	// corrected: as much came as the invoice says
	var now contract.Lot
	change := arrival("SHORT-1")
	change["weight"], change["price"], change["pieces"], change["invoiced"] = "27.4", "11.40", 4, "27.4"
	r.ok("PUT", base+"/lots/"+lot.Id, map[string]any{"lot": change, "version": lot.Version, "reason": "weighed again"},
		&now)
	if now.Claim != nil || from(now.InvoicedG) != 27_400 {
		t.Errorf("%+v", now)
	}
	if p := r.fails("GET", base+"/lots/"+lot.Id+"/claim.pdf", nil); p.Status != 409 {
		t.Errorf("a letter of nothing: %+v", p)
	}
	for _, bad := range []string{"x", "0", "-3", "80", "9"} {
		a := arrival("SHORT-2")
		a["invoiced"] = bad
		a["weight"] = "26.9"
		a["pieces"] = 4
		if p := r.fails("POST", base+"/lots", a); !has(p, "invoiced", "") {
			t.Errorf("%q: %+v", bad, p)
		}
	}
}

// Every piece of a lot gets a tag, eight on a page; what was taken out gets none.
func TestTagsOfALot(t *testing.T) {
	r := newRig(t)
	a := arrival("TAG-1")
	a["pieces"], a["weight"] = 10, "66"
	var lot contract.Lot
	r.ok("POST", base+"/lots", a, &lot)
	tags := func() []byte {
		t.Helper()
		status, header, raw := r.do("GET", base+"/lots/"+lot.Id+"/tags.pdf", nil)
		if status != 200 || header.Get("Content-Type") != "application/pdf" {
			t.Fatalf("%d %v", status, header)
		}
		return printed(raw)
	}
	text := tags()
	for _, want := range []string{"TAG-1, 1 of 10", "TAG-1, 10 of 10", "6.60 kg", "A croft",
		"Slaughtered 24 February 2026"} {
		if !bytes.Contains(text, []byte(want)) {
			t.Errorf("the tags do not say %q", want)
		}
	}
	var d contract.LotDetail
	r.ok("GET", base+"/lots/"+lot.Id, nil, &d)
	r.ok("PUT", base+"/pieces/"+lot.PieceIds[3]+"/void", map[string]any{"voided": true, "version": d.Cards[3].Version,
		"reason": "sent back"}, nil)
	if text := tags(); bytes.Contains(text, []byte("TAG-1, 4 of 10")) || !bytes.Contains(text, []byte("TAG-1, 5 of 10")) {
		t.Error("a piece that went back has a tag")
	}
}

// What was measured of a lamb at its arrival reaches its grades: each per cent of fat within the muscle above 4 is two
// points, each of lean above 60 takes 0.8.
func TestFatAndLeanReachTheGrade(t *testing.T) {
	r := newRig(t)
	grade := func(lot string, more map[string]any) float64 {
		t.Helper()
		a := arrival(lot)
		a["atlas_id"], a["weight"], a["slaughtered_on"], a["packed_on"] = "lamb.leg_chump", "3.1",
			today.AddDate(0, 0, -8).Format(time.DateOnly), today.AddDate(0, 0, -7).Format(time.DateOnly)
		for k, v := range more {
			a[k] = v
		}
		var l contract.Lot
		r.ok("POST", base+"/lots", a, &l)
		r.ok("PUT", base+"/pieces/"+l.PieceIds[0]+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
		var b contract.Board
		r.ok("POST", base+"/pieces/"+l.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
		r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 3100}))
		var j contract.Judgement
		r.ok("GET", base+"/breakdowns/"+b.Id+"/judgement", nil, &j)
		for _, m := range j.Muscles {
			if m.Part == "topside" {
				for _, s := range m.Cells {
					if s.Method == "roast" {
						return s.Score
					}
				}
			}
		}
		t.Fatal("no score")
		return 0
	}
	plain := grade("FAT-1", nil)
	known := grade("FAT-2", map[string]any{"fat_pct": "6.5", "lean_yield_pct": "58"})
	if math.Abs(known-plain-5-1.6) > 0.11 {
		t.Errorf("with 6.5 %% fat and 58 %% lean it eats like %.1f, without like %.1f", known, plain)
	}
}
