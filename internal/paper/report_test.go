package paper

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"

	"falda/internal/core/report"
)

// Rule: a report is one page, however much is in it; what is left out is said.
func TestAReportIsOnePage(t *testing.T) {
	made := func(rows int) report.Report {
		r := report.Report{Title: "Comparison: Rump", Shop: "A shop", MadeAt: time.Date(2026, 3, 20, 9, 0, 0, 0, time.UTC), Sentence: "It brings €1.57 a kilo more, chiefly from the rump cap.", Figures: []report.Figure{{Label: "a kg of block", Value: "+€1.57"}},
			BarsTitle: "Muscle by muscle", Bars: []report.Bar{{Name: "Rump cap", Value: 0.97, Text: "+€0.97"}, {Name: "Labour", Value: -0.7, Text: "−€0.70"}}, Notes: []string{"Weights were measured."}}
		table := report.Table{Title: strings.Repeat("A long title of a table that has to be broken ", 4), Columns: []string{"Product", "Weight", "Brings"}}
		for i := range rows {
			table.Rows = append(table.Rows, []string{fmt.Sprint("Product with quite a long name, number ", i), "1.25 kg", "€12.50"})
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
		if !bytes.Contains(out.Bytes(), []byte("Rump cap")) || (rows > 0 && !bytes.Contains(out.Bytes(), []byte("12.50"))) || bytes.Contains(out.Bytes(), []byte("more lines")) != (more != "") {
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
