package paper

import "io"

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

// draw draws a table; what is too long for its cell is set smaller.
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

func (t WorkTable) row(pdf document, cells []string, style string, size, high float64) {
	pdf.SetFont(fontName, style, size)
	colourOf(pdf, ink)
	sum := 0.0
	for _, w := range t.Wide {
		sum += w
	}
	for i, text := range cells {
		wide := textWide * t.Wide[i] / sum
		align := "L"
		if t.Right[i] {
			align = "R"
		}
		for fit := size; fit > size*0.6 && pdf.GetStringWidth(text) > wide-2; fit -= 0.5 {
			pdf.SetFont(fontName, style, fit)
		}
		end := 0
		if i == len(cells)-1 {
			end = 1
		}
		pdf.CellFormat(wide, high, text, "B", end, align, false, 0, "")
		pdf.SetFont(fontName, style, size)
	}
}
