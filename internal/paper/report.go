package paper

import (
	"fmt"
	"io"
	"math"
	"strings"

	"falda/internal/core/report"
)

// Report writes a report on one page: the sentence, its figures, the bars and the tables. The text is set smaller until
// the page holds it; where not even the smallest does, the tables end early and say by how many lines.
func Report(w io.Writer, r report.Report) error {
	size := 10.0
	for ; size > 5.5; size -= 0.25 {
		p := newReportPage(r, size)
		if p.draw(math.MaxInt) {
			return p.pdf.Output(w)
		}
	}
	for limit := 30; limit > 0; limit-- {
		p := newReportPage(r, size)
		if p.draw(limit) {
			return p.pdf.Output(w)
		}
	}
	return fmt.Errorf("the report “%s” does not fit on a page", r.Title)
}

// longFigure is how long a cell may be and still count as a figure.
const longFigure = 24

type reportPage struct {
	pdf  document
	r    report.Report
	size float64
	line float64
}

func newReportPage(r report.Report, size float64) *reportPage {
	pdf := sheet(r.Title, "P")
	return &reportPage{pdf: pdf, r: r, size: size, line: size * 0.46}
}

func (p *reportPage) font(style string, size float64, rgb [3]int) {
	p.pdf.SetFont(fontName, style, size)
	colourOf(p.pdf, rgb)
}

// draw draws the page with at most so many rows of each table and says whether it holds all of it.
func (p *reportPage) draw(limit int) bool {
	pdf := p.pdf
	pdf.AddPage()
	p.font("", p.size*0.85, second)
	pdf.CellFormat(textWide, p.line, p.r.Shop+" · "+p.r.Made, "", 1, "L", false, 0, "")
	p.font("B", p.size*1.2, ink)
	pdf.CellFormat(textWide, p.line*1.6, p.r.Title, "", 1, "L", false, 0, "")
	p.font("B", p.size*1.5, act)
	pdf.MultiCell(textWide, p.line*1.6, p.r.Sentence, "", "L", false)
	pdf.Ln(p.line / 2)
	p.figures()
	p.bars()
	for _, t := range p.r.Tables {
		p.table(t, limit)
	}
	p.font("", p.size*0.8, second)
	for _, n := range p.r.Notes {
		pdf.MultiCell(textWide, p.line*0.85, n, "", "L", false)
	}
	return pdf.GetY() <= pageHigh-margin
}

func (p *reportPage) figures() {
	if len(p.r.Figures) == 0 {
		return
	}
	wide := textWide / float64(len(p.r.Figures))
	y := p.pdf.GetY()
	for i, f := range p.r.Figures {
		x := margin + float64(i)*wide
		p.font("", p.size*0.8, second)
		p.pdf.Text(x, y+p.line*0.8, f.Label)
		p.font("B", p.size*1.3, ink)
		p.pdf.Text(x, y+p.line*2.1, f.Value)
	}
	p.pdf.SetY(y + p.line*2.8)
}

// bars draws the picture: a bar for each, to the right of the line where it adds, to the left where it takes away.
func (p *reportPage) bars() {
	if len(p.r.Bars) == 0 {
		return
	}
	pdf := p.pdf
	p.font("B", p.size, ink)
	pdf.MultiCell(textWide, p.line*1.2, p.r.BarsTitle, "", "L", false)
	low, high := 0.0, 0.0
	for _, b := range p.r.Bars {
		low, high = math.Min(low, b.Value), math.Max(high, b.Value)
	}
	const names, texts = 52.0, 22.0
	room := textWide - names - 2*texts
	scale := room / math.Max(high-low, 1e-9)
	zero := margin + names + texts - low*scale
	step := p.line * 1.15
	y := pdf.GetY() + 1
	for _, b := range p.r.Bars {
		p.font("", p.size*0.85, ink)
		pdf.Text(margin, y+step*0.75, p.fit(b.Name, names-2))
		pdf.SetFillColor(act[0], act[1], act[2])
		x, w := zero, b.Value*scale
		if w < 0 {
			pdf.SetFillColor(second[0], second[1], second[2])
			x, w = zero+w, -w
		}
		pdf.Rect(x, y+step*0.15, math.Max(w, 0.2), step*0.7, "F")
		text := b.Text
		if b.Value < 0 {
			pdf.Text(x-1.5-pdf.GetStringWidth(text), y+step*0.75, text)
		} else {
			pdf.Text(x+w+1.5, y+step*0.75, text)
		}
		y += step
	}
	pdf.SetDrawColor(ink[0], ink[1], ink[2])
	pdf.SetLineWidth(0.2)
	pdf.Line(zero, pdf.GetY()+1, zero, y)
	pdf.SetY(y + p.line*0.6)
}

// fit shortens a text until it is no wider.
func (p *reportPage) fit(text string, wide float64) string {
	out := text
	for r := []rune(text); p.pdf.GetStringWidth(out) > wide && len(r) > 1; {
		r = r[:len(r)-1]
		out = strings.TrimSpace(string(r)) + "…"
	}
	return out
}

func (p *reportPage) table(t report.Table, limit int) {
	if len(t.Rows) == 0 {
		return
	}
	pdf := p.pdf
	p.font("B", p.size, ink)
	pdf.MultiCell(textWide, p.line*1.2, t.Title, "", "L", false)
	wide := p.columns(t)
	pdf.SetDrawColor(hairline[0], hairline[1], hairline[2])
	pdf.SetLineWidth(0.15)
	row := func(cells []report.Cell, style string, rgb [3]int) {
		p.font(style, p.size*0.85, rgb)
		for i, cell := range cells {
			if i >= len(wide) {
				break
			}
			c := cell.Text
			align := "R"
			if i == 0 || len(c) > longFigure {
				align = "L"
			}
			pdf.CellFormat(wide[i], p.line, p.fit(c, wide[i]-1.5), "B", 0, align, false, 0, "")
		}
		pdf.Ln(p.line)
	}
	row(report.Texts(t.Columns...), "", second)
	for i, r := range t.Rows {
		if i == limit {
			p.font("", p.size*0.8, second)
			pdf.CellFormat(textWide, p.line, fmt.Sprintf("and %d more lines; the spreadsheet has them all", len(t.Rows)-limit),
				"", 1, "L", false, 0, "")
			break
		}
		row(r, "", ink)
	}
	pdf.Ln(p.line * 0.5)
}

// columns gives figures the width they need and shares what is left among the columns of words by their longest text.
func (p *reportPage) columns(t report.Table) []float64 {
	p.font("", p.size*0.85, ink)
	wide, words := make([]float64, len(t.Columns)), make([]bool, len(t.Columns))
	left, sum := textWide, 0.0
	for i, c := range t.Columns {
		wide[i], words[i] = p.pdf.GetStringWidth(c), i == 0
		for _, r := range t.Rows {
			if i < len(r) {
				wide[i] = math.Max(wide[i], p.pdf.GetStringWidth(r[i].Text))
				words[i] = words[i] || len(r[i].Text) > longFigure
			}
		}
		if wide[i] += 4; words[i] {
			sum += wide[i]
		} else {
			left -= wide[i]
		}
	}
	for i := range wide {
		if words[i] {
			wide[i] *= math.Max(left, 20) / sum
		}
	}
	return wide
}
