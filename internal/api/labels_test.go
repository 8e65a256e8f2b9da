package api

import (
	"bytes"
	"context"
	"encoding/base64"
	"image/png"
	"net"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/multi/qrcode"

	"falda/internal/api/contract"
	"falda/internal/core/label"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
)

// cutFrom receives a rump whose origin is known and cuts it; it gives the tub of its heaviest product.
func (r *rig) cutFrom(number string, more map[string]any) contract.Tub {
	r.t.Helper()
	in := arrival(number)
	in["slaughtered_on"], in["packed_on"] = "2026-03-13", "2026-03-15"
	for k, v := range more {
		in[k] = v
	}
	var l contract.Lot
	r.ok("POST", base+"/lots", in, &l)
	r.ok("PUT", base+"/pieces/"+l.PieceIds[0]+"/plan", map[string]any{"plan_id": "seamed", "version": 1}, nil)
	var b contract.Board
	r.ok("POST", base+"/pieces/"+l.PieceIds[0]+"/breakdown", map[string]any{"bench_id": r.shop.Benches[0].Id}, &b)
	r.cutHand(b)
	r.ok("PUT", base+"/goods/begin", map[string]string{"day": "2026-03-20"}, nil)
	var most contract.Tub
	for _, x := range r.tubs() {
		if x.Kind == "product" && x.LeftG > most.LeftG {
			most = x
		}
	}
	return most
}

var islands = map[string]any{"born_in": "Vonsey", "reared_in": "Skerrow", "slaughtered_in": "Skerrow", "plant": "SK 7"}

// A pack's label says what was received, cut and set: names, price by weight, origin, use-by, lot; a number is given to
// a product that has none and stays; the codes hold what they say, and the picture of the label can be read.
func TestPackLabel(t *testing.T) {
	r := newRig(t)
	r.priced()
	tub := r.cutFrom("LABEL-1", islands)
	ask := map[string]any{"tub": tub.Id, "weight": "0.225", "unit": "kg"}
	var l contract.PackLabel
	r.ok("POST", base+"/labels/pack", ask, &l)
	if l.Item != "01001" || l.Lot != "26032001001" || l.UseBy != tub.UseBy || l.NetG != 225 {
		t.Errorf("the label: %+v", l)
	}
	if !slices.Contains(l.Origin, "Born in: Vonsey") || !slices.Contains(l.Origin, "Slaughtered in: Skerrow SK 7") ||
		len(l.Missing) != 2 { // of the plant that cuts nothing is set
		t.Errorf("origin %q, lacks %q", l.Origin, l.Missing)
	}
	ean := from(l.Ean13)
	if cents := strings.Replace(from(l.Price), ".", "", 1); len(ean) != 13 || !strings.HasPrefix(ean, "2101001") ||
		strings.TrimLeft(ean[7:12], "0") != strings.TrimLeft(cents, "0") || label.CheckDigit(ean[:12]) != ean[12] {
		t.Errorf("the number %s does not hold %s", ean, from(l.Price))
	}
	raw, err := base64.StdEncoding.DecodeString(strings.TrimPrefix(l.Picture, "data:image/png;base64,"))
	if err != nil {
		t.Fatal(err)
	}
	img, err := png.Decode(bytes.NewReader(raw))
	if err != nil {
		t.Fatal(err)
	}
	bits, err := gozxing.NewBinaryBitmapFromImage(img)
	if err != nil {
		t.Fatal(err)
	}
	found, err := qrcode.NewQRCodeMultiReader().DecodeMultiple(bits, nil)
	if err != nil || len(found) != 1 || !strings.Contains(found[0].GetText(), "/cook/beef.top_sirloin/") {
		t.Errorf("the cooking code: %v, %v", found, err)
	}
	var now contract.Labels
	r.ok("PUT", base+"/labels/codes/"+tub.Key, map[string]any{"item": "00042", "gtin": "09501101530003"}, &now)
	r.ok("GET", base+"/labels", nil, &now)
	s := now.Settings
	s.Country, s.Plant, s.ByWeight = "Skerrow", "SK 12", true
	s.HighMm = 110
	r.ok("PUT", base+"/labels/settings", s, &now)
	if p := r.fails("PUT", base+"/labels/settings", s); p.Status != 409 {
		t.Errorf("set over what was not seen: %+v", p)
	}
	r.ok("POST", base+"/labels/pack", ask, &l)
	if len(l.Missing) != 0 || from(l.Gs1) != "(01)09501101530003(3103)000225(17)"+
		strings.ReplaceAll(tub.UseBy, "-", "")[2:]+"(10)26032000042" || !strings.HasPrefix(from(l.Ean13), "210004200225") {
		t.Errorf("numbered: %+v", l)
	}
	_, _, pdf := r.do("POST", base+"/labels/pdf", map[string]any{"sheet": true,
		"packs": []any{map[string]any{"pack": ask, "copies": 3}}})
	if !bytes.HasPrefix(pdf, []byte("%PDF")) {
		t.Error("the labels are no PDF")
	}
	_, _, pdf = r.do("POST", base+"/tickets/pdf", map[string]any{"products": []string{tub.Key, "beef.mince_trim"}})
	if !bytes.HasPrefix(pdf, []byte("%PDF")) {
		t.Error("the tickets are no PDF")
	}
}

// Each field of labels is held, and the fault names it.
func TestLabelFaults(t *testing.T) {
	r := newRig(t)
	r.priced()
	tub := r.cutFrom("LABEL-2", nil)
	fail := func(method, path string, body any, field string) {
		t.Helper()
		if p := r.fails(method, base+path, body); p.Status != 422 || !has(p, field, "") {
			t.Errorf("%s %s: want a fault of %s, got %+v", method, path, field, p)
		}
	}
	fail("POST", "/labels/pack", map[string]any{"tub": tub.Id, "weight": "0", "unit": "kg"}, "weight")
	fail("POST", "/labels/pack", map[string]any{"tub": "x", "weight": "1", "unit": "kg"}, "tub")
	fail("PUT", "/labels/codes/"+tub.Key, map[string]any{"item": "12"}, "item")
	fail("PUT", "/labels/codes/"+tub.Key, map[string]any{"item": "00012", "gtin": "09501101530004"}, "gtin")
	r.ok("PUT", base+"/labels/codes/beef.mince_trim", map[string]any{"item": "00007"}, nil)
	fail("PUT", "/labels/codes/"+tub.Key, map[string]any{"item": "00007"}, "item")
	good := contract.LabelSettings{Prefix: "21", WideMm: 100, HighMm: 70}
	for field, spoil := range map[string]func(*contract.LabelSettings){
		"prefix":  func(s *contract.LabelSettings) { s.Prefix = "31" },
		"wide_mm": func(s *contract.LabelSettings) { s.WideMm = 5 },
		"plant":   func(s *contract.LabelSettings) { s.Plant = strings.Repeat("x", 30) },
	} {
		s := good
		spoil(&s)
		fail("PUT", "/labels/settings", s, field)
	}
	pack := map[string]any{"tub": tub.Id, "weight": "1", "unit": "kg"}
	fail("POST", "/labels/pdf", map[string]any{"packs": []any{map[string]any{"pack": pack, "copies": 0}}},
		"packs[0].copies")
	fail("POST", "/labels/pdf", map[string]any{"packs": []any{}}, "packs")
	fail("POST", "/tickets/pdf", map[string]any{"products": []string{"beef.unicorn"}}, "products[0]")
	if p := r.fails("POST", base+"/labels/print", map[string]any{"bench_id": r.shop.Benches[0].Id, "pack": pack,
		"copies": 1}); p.Status != 409 {
		t.Errorf("printed without a printer: %+v", p)
	}
	s := good
	s.WideMm, s.HighMm = 41, 41 // too small for what the law asks for
	r.ok("PUT", base+"/labels/settings", s, nil)
	fail("POST", "/labels/pack", pack, "high_mm")
}

// What the printer prints is the label that was asked for, as often as it was; without paper the error says so.
func TestLabelIsPrinted(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	came := make(chan int, 3)
	sim := &device.SimPrinter{Every: 20 * time.Millisecond, Printed: func(p label.Page, n int) {
		if slices.ContainsFunc(p.Items, func(i label.Item) bool { return i.Kind == label.KindEAN13 }) {
			came <- n
		}
	}}
	go func() { _ = sim.Serve(context.WithoutCancel(t.Context()), l) }()
	p := device.ConnectPrinter(t.Context(), l.Addr().String())
	for s, changed := p.Reading(); s.Status != device.OK; s, changed = p.Reading() {
		<-changed
	}
	st, w := testdb.Service(t, func() time.Time { return today })
	r := serve(t, st, w, Options{Scales: func(store.Bench) *device.Scale { return nil },
		Printers: func(store.Bench) *device.Printer { return p }})
	r.priced()
	tub := r.cutFrom("LABEL-3", nil)
	ask := map[string]any{"bench_id": r.shop.Benches[0].Id, "copies": 2,
		"pack": map[string]any{"tub": tub.Id, "weight": "0.5", "unit": "kg"}}
	r.ok("POST", base+"/labels/print", ask, nil)
	if n := <-came; n != 2 {
		t.Errorf("%d labels came", n)
	}
	if err := p.Command(t.Context(), "paper out"); err != nil {
		t.Fatal(err)
	}
	if x := r.fails("POST", base+"/labels/print", ask); x.Status != 503 ||
		!strings.Contains(from(x.Detail), "paper is out") {
		t.Errorf("without paper: %+v", x)
	}
}
