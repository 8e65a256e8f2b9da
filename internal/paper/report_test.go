package paper

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"
	"unicode/utf16"

	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"

	"falda/internal/core/report"
)

// Rule: a report is one page, however much is in it; what is left out is said.
func TestAReportIsOnePage(t *testing.T) {
	made := func(rows int) report.Report {
		r := report.Report{Title: "Comparison: Rump", Shop: "A shop", MadeAt: time.Date(2026, 3, 20, 9, 0, 0, 0, time.UTC),
			Sentence: "It brings €1.57 a kilo more, chiefly from the rump cap.",
			Figures:  []report.Figure{{Label: "a kg of block", Value: "+€1.57"}}, BarsTitle: "Muscle by muscle",
			Bars:  []report.Bar{{Name: "Rump cap", Value: 0.97, Text: "+€0.97"}, {Name: "Labour", Value: -0.7, Text: "−€0.70"}},
			Notes: []string{"Weights were measured."}}
		table := report.Table{Title: strings.Repeat("A long title of a table that has to be broken ", 4),
			Columns: []string{"Product", "Weight", "Brings"}}
		for i := range rows {
			table.Rows = append(table.Rows,
				report.Texts(fmt.Sprint("Product with quite a long name, number ", i), "1.25 kg", "€12.50"))
		}
		r.Tables = []report.Table{table}
		return r
	}
	for rows, more := range map[int]string{0: "", 12: "", 400: "more lines"} {
		var out bytes.Buffer
		if err := Report(&out, made(rows)); err != nil {
			t.Fatal(err)
		}
		if pages := bytes.Count(out.Bytes(), []byte("/Type /Page\n")); pages != 1 {
			t.Errorf("%d rows: %d pages", rows, pages)
		}
		if !bytes.Contains(shown(out.Bytes()), []byte("Rump cap")) ||
			(rows > 0 && !bytes.Contains(shown(out.Bytes()), []byte("12.50"))) ||
			bytes.Contains(shown(out.Bytes()), []byte("more lines")) != (more != "") {
			t.Errorf("%d rows: something is missing, or is said to be", rows)
		}
	}
	huge := made(1)
	for range 400 {
		huge.Notes = append(huge.Notes, strings.Repeat("A note that is too long for any page. ", 20))
	}
	if err := Report(&bytes.Buffer{}, huge); err == nil {
		t.Error("what fits on no page does not say so")
	}
}

// shown is a page's bytes with its texts in the clear as far as they are ASCII: an embedded font is written to in
// UTF-16.
func shown(pdf []byte) []byte { return bytes.ReplaceAll(pdf, []byte{0}, nil) }

// Rule: any European name is printed as it is, in Latin, Greek and Cyrillic letters: each has a glyph in the fonts that
// go along.
func TestAnyEuropeanNameIsPrinted(t *testing.T) {
	names := "Łódź Dvořák Γιώργος Αθήνα Здравко Київ Þór Ægir Đorđe Šibenik Çağlar İstanbul Őry Ķekava Żuraw ß € − ≤ " +
		"“” ’ – … ² °"
	for name, ttf := range map[string][]byte{"regular": goregular.TTF, "bold": gobold.TTF} {
		font, err := sfnt.Parse(ttf)
		if err != nil {
			t.Fatal(err)
		}
		var b sfnt.Buffer
		for _, r := range names {
			if i, err := font.GlyphIndex(&b, r); err != nil || i == 0 {
				t.Errorf("%s has no %q: %v", name, r, err)
			}
		}
	}
	var out bytes.Buffer
	if err := Report(&out, report.Report{Title: names, Shop: names, Sentence: names, Made: "today"}); err != nil {
		t.Fatal(err)
	}
	utf16of := func(s string) []byte {
		var b []byte
		for _, u := range utf16.Encode([]rune(s)) {
			b = append(b, byte(u>>8), byte(u))
		}
		return b
	}
	for _, name := range []string{"Dvořák", "Γιώργος", "Здравко"} {
		if !bytes.Contains(out.Bytes(), utf16of(name)) {
			t.Errorf("%s is not on the page", name)
		}
	}
}
