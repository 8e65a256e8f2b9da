package paper

import (
	"io"
	"strings"
)

// Worksheet is a page to work by or to hand over: a head, lines of text, and tables with ruled rows.
type Worksheet struct {
	Shop, Title string
	Lines       []string // below the title
	Tables      []WorkTable
	Notes       []string // small, at the end
	Sign        string   // what stands below a line to sign on; empty for none
}

// WorkTable is a table of a worksheet. Wide are the widths of its columns in parts of the page, Right those that hold
// figures.
type WorkTable struct {
	Title   string
	Columns []string
	Wide    []float64
	Right   []bool
	Rows    [][]string
	Foot    []string // a last row in bold
}

// WriteWorksheets writes worksheets, each on a page of A4 of its own or on several.
func WriteWorksheets(w io.Writer, title string, sheets []Worksheet) error {
	pdf := sheet(title, "P")
	pdf.SetAutoPageBreak(true, margin)
	for _, s := range sheets {
		pdf.AddPage()
		s.draw(pdf)
	}
	return pdf.Output(w)
}

func (s Worksheet) draw(pdf document) {
	put := func(style string, size float64, rgb [3]int, text string) {
		pdf.SetFont(fontName, style, size)
		colourOf(pdf, rgb)
		pdf.MultiCell(textWide, size*0.5, text, "", "L", false)
	}
	put("", 10, second, s.Shop)
	put("B", 20, ink, s.Title)
	pdf.Ln(2)
	for _, l := range s.Lines {
		put("", 11, ink, l)
	}
	for _, t := range s.Tables {
		t.draw(pdf)
	}
	pdf.Ln(4)
	for _, n := range s.Notes {
		put("", 9, second, n)
	}
	if s.Sign != "" {
		pdf.Ln(20)
		pdf.SetFont(fontName, "", 9)
		colourOf(pdf, second)
		pdf.CellFormat(80, 5, s.Sign, "T", 1, "L", false, 0, "")
	}
}

// draw draws a table; what is too long for its cell is set on several lines.
func (t WorkTable) draw(pdf document) {
	pdf.Ln(4)
	if t.Title != "" {
		pdf.SetFont(fontName, "B", 13)
		colourOf(pdf, ink)
		pdf.CellFormat(textWide, 7, t.Title, "", 1, "L", false, 0, "")
	}
	t.row(pdf, t.Columns, "B", 9, 6)
	for _, r := range t.Rows {
		t.row(pdf, r, "", 11, 8)
	}
	if len(t.Foot) > 0 {
		t.row(pdf, t.Foot, "B", 11, 8)
	}
}

// row draws a row as high as its longest cell needs; a page that cannot hold it is left for the next.
func (t WorkTable) row(pdf document, cells []string, style string, size, high float64) {
	pdf.SetFont(fontName, style, size)
	colourOf(pdf, ink)
	sum := 0.0
	for _, w := range t.Wide {
		sum += w
	}
	line, tall := size*0.45, high
	lines := make([][]string, len(cells))
	for i, text := range cells {
		lines[i] = wrapped(pdf, text, textWide*t.Wide[i]/sum-2)
		tall = max(tall, float64(len(lines[i]))*line+high-line)
	}
	if pdf.GetY()+tall > pageHigh-margin {
		pdf.AddPage()
	}
	x, y := margin, pdf.GetY()
	for i := range cells {
		wide := textWide * t.Wide[i] / sum
		for k, text := range lines[i] {
			at := x + 1
			if t.Right[i] {
				at = x + wide - 1 - pdf.GetStringWidth(text)
			}
			pdf.Text(at, y+high*0.68+float64(k)*line, text)
		}
		x += wide
	}
	pdf.SetDrawColor(second[0], second[1], second[2])
	pdf.SetLineWidth(0.2)
	pdf.Line(margin, y+tall, margin+textWide, y+tall)
	pdf.SetY(y + tall)
}

// wrapped breaks a text into lines of a width, in the font that is set; a word that is longer stays whole.
func wrapped(pdf document, text string, wide float64) []string {
	var out []string
	line := ""
	for _, word := range strings.Fields(text) {
		next := strings.TrimSpace(line + " " + word)
		if line != "" && pdf.GetStringWidth(next) > wide {
			out, next = append(out, line), word
		}
		line = next
	}
	return append(out, line)
}
