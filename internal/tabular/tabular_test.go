package tabular_test

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"io"
	"slices"
	"strings"
	"testing"

	"github.com/xuri/excelize/v2"

	"falda/internal/core/fault"
	"falda/internal/tabular"
)

// What a spreadsheet would take for a formula gets an apostrophe (OWASP, CSV Injection); numbers stay numbers.
func TestSafeCells(t *testing.T) {
	for cell, want := range map[string]string{"=1+1": "'=1+1", "=HYPERLINK(\"x\")": "'=HYPERLINK(\"x\")",
		"+49 123": "'+49 123", "@SUM(A1)": "'@SUM(A1)", "-2+3": "'-2+3", "\t=1": "'\t=1", "\r=1": "'\r=1", "-5": "-5",
		"-12.50": "-12.50", "": "", "rump": "rump", "a=b": "a=b", "'x": "'x", "|calc": "'|calc"} {
		if got := tabular.Safe(cell); got != want {
			t.Errorf("%q became %q, want %q", cell, got, want)
		}
	}
}

// table is a CSV or an XLSX being written.
type table interface {
	Write([]string) error
	Close() error
}

// written writes the rows and closes the file.
func written(t *testing.T, w table, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range rows {
		if err := w.Write(r); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
}

var rows = [][]string{{"a", "=1+1", "ä, \"ß\"\nx"}, {"-1.5", "", "@x"}}

func TestWriteCSV(t *testing.T) {
	var b bytes.Buffer
	w, err := tabular.WriteCSV(&b, []string{"one", "two", "three"})
	written(t, w, err)
	text, marked := strings.CutPrefix(b.String(), "\ufeff")
	got, err := csv.NewReader(strings.NewReader(text)).ReadAll() // an independent reader
	want := [][]string{{"one", "two", "three"}, {"a", "'=1+1", "ä, \"ß\"\nx"}, {"-1.5", "", "'@x"}}
	if err != nil || !marked || !slices.EqualFunc(got, want, slices.Equal[[]string]) {
		t.Errorf("%q %v", got, err)
	}
}

// In an XLSX every cell is text, so that none is a formula, and reading it back gives what was written.
func TestXLSXThereAndBack(t *testing.T) {
	var b bytes.Buffer
	w, err := tabular.WriteXLSX(&b, "List", []string{"one", "two", "three"})
	written(t, w, err)
	f, err := excelize.OpenReader(bytes.NewReader(b.Bytes()))
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	formula, err := f.GetCellFormula("List", "B2")
	kind, kindErr := f.GetCellType("List", "B2")
	if err != nil || kindErr != nil || formula != "" ||
		(kind != excelize.CellTypeInlineString && kind != excelize.CellTypeSharedString) {
		t.Errorf("=1+1 became a formula %q of kind %v, %v %v", formula, kind, err, kindErr)
	}
	got, err := tabular.Read(t.Context(), bytes.NewReader(b.Bytes()), tabular.Usual)
	want := [][]string{{"one", "two", "three"}, {"a", "=1+1", "ä, \"ß\"\nx"}, {"-1.5", "", "@x"}}
	if err != nil || !slices.EqualFunc(got, want, slices.Equal[[]string]) {
		t.Errorf("%q %v", got, err)
	}
}

func TestReadCSVOfAllKinds(t *testing.T) {
	want := [][]string{{"name", "price"}, {"rump", "17,90"}}
	for name, text := range map[string]string{"semicolons": "name;price\nrump;17,90\n",
		"tabs, CRLF": "name\tprice\r\nrump\t17,90\r\n", "commas, quotes, mark": "\ufeffname,price\n\n\"rump\",\"17,90\",\n",
		"no last line end": "name;price\nrump;17,90"} {
		got, err := tabular.Read(t.Context(), strings.NewReader(text), tabular.Usual)
		if err != nil || !slices.EqualFunc(got, want, slices.Equal[[]string]) {
			t.Errorf("%s: %q %v", name, got, err)
		}
	}
}

// bomb is an XLSX whose sheet unpacks to many times its size.
func bomb(t *testing.T, mebibytes int) []byte {
	t.Helper()
	chunk := bytes.Repeat([]byte("x"), 1<<20)
	return withSheet(t, func(w io.Writer) error {
		_, err := io.WriteString(w, `<row r="1"><c r="A1" t="inlineStr"><is><t>`)
		for range mebibytes {
			if err == nil {
				_, err = w.Write(chunk)
			}
		}
		if err == nil {
			_, err = io.WriteString(w, `</t></is></c></row>`)
		}
		return err
	})
}

// withSheet is a workbook with the rows that are written into its sheet.
func withSheet(t *testing.T, rows func(w io.Writer) error) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := excelize.NewFile().Write(&b); err != nil {
		t.Fatal(err)
	}
	in, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, file := range in.File {
		if strings.HasPrefix(file.Name, "xl/worksheets/") {
			continue
		}
		if err := z.Copy(file); err != nil {
			t.Fatal(err)
		}
	}
	w, err := z.Create("xl/worksheets/sheet1.xml")
	if err == nil {
		_, err = io.WriteString(w, `<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`)
	}
	if err == nil {
		err = rows(w)
	}
	if err == nil {
		_, err = io.WriteString(w, `</sheetData></worksheet>`)
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// cells is an XLSX of so many rows of so many cells, small when packed.
func cells(t *testing.T, rows, columns int) []byte {
	t.Helper()
	return withSheet(t, func(w io.Writer) error {
		for range rows {
			if _, err := io.WriteString(w, "<row>"+strings.Repeat(`<c r="A1"><v>1</v></c>`, columns)+"</row>"); err != nil {
				return err
			}
		}
		return nil
	})
}

// Bombs end at a limit, with an error that names it.
func TestLimits(t *testing.T) {
	small := tabular.Limits{Bytes: 1 << 20, Unpacked: 8 << 20, Cells: 2000, Rows: 100, Columns: 10, Cell: 50}
	big := bomb(t, 200)
	if len(big) > 1<<20 {
		t.Fatalf("the bomb is %d bytes, too large to be one", len(big))
	}
	for name, c := range map[string]struct {
		raw  []byte
		code string
	}{
		"too many bytes":     {bytes.Repeat([]byte("a,b\n"), 1<<19), "too_large"},
		"too many rows":      {bytes.Repeat([]byte("a,b\n"), 101), "too_many_rows"},
		"too many columns":   {[]byte("1,2,3,4,5,6,7,8,9,10,11\n"), "too_many_columns"},
		"too long a cell":    {[]byte(strings.Repeat("x", 51)), "cell_too_long"},
		"an endless quote":   {[]byte("\"" + strings.Repeat("a,b\n", 1000)), "not_csv"},
		"not a text":         {[]byte{0xff, 0xfe, 'a', 0}, "not_text"},
		"a zip of something": {[]byte("PK\x03\x04 nothing"), "not_xlsx"},
		"a zip bomb":         {big, "too_large"},
		"a row without end":  {cells(t, 1, 300_000), "too_many_columns"},
		"cells without end":  {cells(t, 100_000, 3), "too_many_cells"},
	} {
		rows, err := tabular.Read(t.Context(), bytes.NewReader(c.raw), small)
		f := fault.Of(err)
		if len(f) != 1 || f[0].Code != c.code || f[0].Hint == "" {
			t.Errorf("%s: %d rows, %v", name, len(rows), err)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte("a;b\n1;2"))
	f.Add([]byte("\"a\n"))
	f.Add([]byte("PK\x03\x04"))
	l := tabular.Limits{Bytes: 4096, Unpacked: 1 << 20, Cells: 500, Rows: 20, Columns: 5, Cell: 100}
	f.Fuzz(func(t *testing.T, raw []byte) {
		rows, err := tabular.Read(t.Context(), bytes.NewReader(raw), l)
		if err != nil && fault.Of(err) == nil {
			t.Fatalf("an error that is no fault: %v", err)
		}
		for _, r := range rows {
			if len(rows) > l.Rows || len(r) > l.Columns ||
				slices.ContainsFunc(r, func(c string) bool { return len(c) > l.Cell }) {
				t.Fatalf("beyond the limits: %d rows, %q", len(rows), r)
			}
		}
	})
}

// Rules: figures are numbers in a spreadsheet, with the decimals they have; what would lose something as a number stays
// a text.
func TestFiguresAreNumbers(t *testing.T) {
	var b bytes.Buffer
	x, err := tabular.WriteXLSX(&b, "List", []string{"a", "b", "c", "d", "e", "f"})
	if err == nil {
		err = x.Write([]string{"12.50", "-3", "0012", "1234567890123456789", "1e5", "=1"})
	}
	if err == nil {
		err = x.Close()
	}
	if err != nil {
		t.Fatal(err)
	}
	f, err := excelize.OpenReader(bytes.NewReader(b.Bytes()))
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	for cell, want := range map[string]struct {
		shown  string
		number bool
	}{"A2": {"12.50", true}, "B2": {"-3", true}, "C2": {"0012", false}, "D2": {"1234567890123456789", false},
		"E2": {"1e5", false}, "F2": {"=1", false}} {
		kind, err1 := f.GetCellType("List", cell)
		shown, err2 := f.GetCellValue("List", cell)
		if number := kind == excelize.CellTypeUnset || kind == excelize.CellTypeNumber; err1 != nil || err2 != nil ||
			number != want.number || shown != want.shown {
			t.Errorf("%s is %q of kind %v, want %q, a number: %v", cell, shown, kind, want.shown, want.number)
		}
	}
}

// Rule: a caller who is gone is not read for.
func TestReadingEndsWithItsCaller(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := tabular.Read(ctx, bytes.NewReader(cells(t, 10, 3)), tabular.Usual); !errors.Is(err, context.Canceled) {
		t.Errorf("read for nobody: %v", err)
	}
}
