package api

import (
	"bytes"
	"net/http"
	"strings"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/tabular"
)

// upload sends a file, and reads what it would do.
func upload[T any](r *rig, path string, content []byte) (int, T, string) {
	r.t.Helper()
	req, err := http.NewRequest("POST", r.url+path, bytes.NewReader(content))
	if err != nil {
		r.t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/octet-stream")
	req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
	status, answer, err := ask(http.DefaultClient, req)
	if err != nil {
		r.t.Fatal(err)
	}
	var out T
	if status == 200 {
		if err := decodeStrict(answer, &out); err != nil {
			r.t.Fatal(err)
		}
	}
	return status, out, string(answer)
}

// A list that comes in is shown line by line first; only when asked are the good lines set, and the bad ones are left
// out.
func TestPriceListInAndOut(t *testing.T) {
	r := newRig(t)
	r.ok("PUT", base+"/prices/beef.cap_steak", `{"price":"24","per":"kg","version":0}`, nil)
	list := "Product;Price;Per;Note\nRump cap steak;25,50;kg;dearer\nBeef fat;-1;kg;\nUnicorn;9;kg;\n\n=cmd;1;kg;\nRUMP " +
		"STEAK;7.90;lb;\nRump steak;8;kg;twice\nDiced rump;;kg;\nDiced rump;13.9;stone;\n"
	status, seen, answer := upload[contract.PriceImport](r, base+"/prices/import", []byte(list))
	if status != 200 || seen.Saved || seen.Set != 2 || seen.Same != 0 || seen.Bad != 6 {
		t.Fatalf("%d %s", status, answer)
	}
	for i, want := range []struct {
		line         int
		state, fault string
	}{{2, "changed", ""}, {3, "bad", "is not a product"}, {4, "bad", "“Unicorn” is not a product"},
		{5, "bad", "is not a product"}, {6, "new", ""}, {7, "bad", "stands in line 6 already"}, {8, "bad", "is empty"},
		{9, "bad", "is not understood"}} {
		l := seen.Lines[i]
		if l.Line != want.line || string(l.State) != want.state || !strings.Contains(from(l.Fault), want.fault) ||
			(want.fault == "") != (l.Fault == nil) {
			t.Errorf("line %d: %+v %s, want %+v", i, l, from(l.Fault), want)
		}
	}
	if from(seen.Lines[0].Was) != "24.00 per kg" || seen.Lines[0].Price != "25.50" {
		t.Errorf("what changes: %+v", seen.Lines[0])
	}
	prices := func() map[string]contract.Price {
		var list []contract.Price
		r.ok("GET", base+"/prices", nil, &list)
		out := map[string]contract.Price{}
		for _, p := range list {
			out[p.Key] = p
		}
		return out
	}
	if p := prices()["beef.cap_steak"]; p.Price != "24.00" {
		t.Errorf("looking at a list set a price: %+v", p)
	}
	if status, done, answer := upload[contract.PriceImport](r, base+"/prices/import?save=true",
		[]byte(list)); status != 200 || !done.Saved || done.Set != 2 {
		t.Fatalf("%d %s", status, answer)
	}
	if p := prices(); p["beef.cap_steak"].Price != "25.50" || p["beef.cap_steak"].Version != 2 ||
		p["beef.rump_steak"].Price != "7.90" || p["beef.rump_steak"].Per != "lb" {
		t.Errorf("after it was set: %+v %+v", p["beef.cap_steak"], p["beef.rump_steak"])
	}
	if rows := r.trail("action=price"); len(rows) != 3 || rows[0].Name != "Owner" {
		t.Errorf("the audit has %d prices", len(rows))
	}
	// what goes out comes in again, and changes nothing
	for _, format := range []string{"csv", "xlsx"} {
		_, header, raw := r.do("GET", base+"/prices/export?format="+format, nil)
		rows, err := tabular.Read(t.Context(), bytes.NewReader(raw), tabular.Usual)
		if err != nil || len(rows) != 1+len(prices()) || !strings.Contains(header.Get("Content-Disposition"), "."+format) {
			t.Fatalf("%s: %d rows, %v", format, len(rows), err)
		}
		status, back, answer := upload[contract.PriceImport](r, base+"/prices/import", raw)
		// those without a price have none to set
		if status != 200 || back.Set != 0 || back.Same != 2 || back.Bad != len(prices())-2 {
			t.Errorf("%s sent back: %d %s", format, status, answer)
		}
	}
}

// Files that are none, or are bombs, end with a clear error about the file.
func TestPriceListRefuses(t *testing.T) {
	r := newRig(t)
	for name, c := range map[string]struct {
		content []byte
		code    string
	}{
		"nothing": {nil, "empty"}, "no heading": {[]byte("Rump steak;12\n"), "no_heading"},
		"too large": {bytes.Repeat([]byte("a;b\n"), 600_000), "too_large"}, "no text": {[]byte{0xff, 0xfe, 0, 1}, "not_text"},
		"half an XLSX":  {[]byte("PK\x03\x04half"), "not_xlsx"},
		"too many rows": {append([]byte("product;price\n"), bytes.Repeat([]byte("x;1\n"), 20_001)...), "too_many_rows"},
	} {
		status, _, answer := upload[contract.PriceImport](r, base+"/prices/import?save=true", c.content)
		if status != 422 || !strings.Contains(answer, `"field":"file"`) || !strings.Contains(answer, `"code":"`+c.code+`"`) {
			t.Errorf("%s: %d %s", name, status, answer)
		}
	}
	if _, err := tabular.Read(t.Context(), bytes.NewReader(bytes.Repeat([]byte("x"), 3<<20)),
		tabular.Usual); fault.Of(err) == nil {
		t.Error("3 MiB are within the limit")
	}
}
