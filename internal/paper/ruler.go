package paper

import (
	"fmt"
	"io"
	"math"
)

// Ruler is where a muscle is cut, to be laid beside it.
type Ruler struct {
	Title, Piece, Says, Basis string
	LengthMm                  int
	Marks                     []Mark
}

// Mark is a portion, or a rest, along a muscle.
type Mark struct {
	FromMm, ToMm int
	Number       int // of the portion
	Portion      bool
	Weight       string
}

// A strip of a ruler on a page of A4 across: so long, and so far below each other.
const (
	stripLong = 260
	stripHigh = 46.0
	stripTop  = 46.0
)

// PortionRuler writes the marks of a muscle at true scale, in strips of 260 mm on A4 across, with a bar of 100 mm by
// which the printer is checked.
func PortionRuler(w io.Writer, r Ruler) error {
	pdf := sheet("Where to cut: "+r.Title, "L")
	strips := int(math.Ceil(float64(r.LengthMm) / stripLong))
	x := (pageHigh - stripLong) / 2 // the page lies across
	for i := range strips {
		row := i % 3
		if row == 0 {
			pdf.AddPage()
			rulerHead(pdf, r, x)
		}
		y := stripTop + float64(row)*stripHigh
		from, to := i*stripLong, min((i+1)*stripLong, r.LengthMm)
		rulerStrip(pdf, r, x, y, from, to)
	}
	return pdf.Output(w)
}

func rulerHead(pdf document, r Ruler, x float64) {
	colourOf(pdf, ink)
	pdf.SetFont(fontName, "B", 14)
	pdf.Text(x, 16, r.Title+" of "+r.Piece)
	pdf.SetFont(fontName, "", 10)
	pdf.Text(x, 22, r.Says)
	colourOf(pdf, second)
	pdf.SetFont(fontName, "", 8)
	pdf.Text(x, 27, "Shape: "+r.Basis+". Weigh each portion; what is left moves the marks.")
	pdf.SetDrawColor(ink[0], ink[1], ink[2])
	pdf.SetLineWidth(0.4)
	pdf.Line(x, 32, x+100, 32)
	pdf.Line(x, 30.5, x, 33.5)
	pdf.Line(x+100, 30.5, x+100, 33.5)
	pdf.Text(x+103, 33, "100 mm exactly, or the printer scales: print at 100 %.")
}

// rulerStrip draws the stretch of a muscle between two places.
func rulerStrip(pdf document, r Ruler, x, y float64, from, to int) {
	pdf.SetDrawColor(ink[0], ink[1], ink[2])
	pdf.SetLineWidth(0.3)
	pdf.Rect(x, y, float64(to-from), 22, "D")
	colourOf(pdf, second)
	pdf.SetFont(fontName, "", 6)
	for mm := from; mm <= to; mm++ {
		long := 1.2
		if mm%5 == 0 {
			long = 2
		}
		if mm%10 == 0 {
			long = 3
			pdf.Text(x+float64(mm-from)-1.5, y+26, fmt.Sprint(mm))
		}
		pdf.SetLineWidth(0.1)
		pdf.Line(x+float64(mm-from), y+22-long, x+float64(mm-from), y+22)
	}
	colourOf(pdf, ink)
	for _, m := range r.Marks {
		if m.ToMm <= from || m.FromMm >= to {
			continue
		}
		a, b := max(m.FromMm, from), min(m.ToMm, to)
		if m.FromMm >= from {
			cutLine(pdf, x+float64(m.FromMm-from), y)
		}
		if m.ToMm <= to {
			cutLine(pdf, x+float64(m.ToMm-from), y)
		}
		if b-a < 10 {
			continue
		}
		pdf.SetFont(fontName, "B", 10)
		text := fmt.Sprint(m.Number)
		if !m.Portion {
			text = "rest"
		}
		pdf.Text(x+float64(a+b)/2-float64(from)-pdf.GetStringWidth(text)/2, y+7, text)
		pdf.SetFont(fontName, "", 7)
		pdf.Text(x+float64(a+b)/2-float64(from)-pdf.GetStringWidth(m.Weight)/2, y+12, m.Weight)
	}
}

func cutLine(pdf document, x, y float64) {
	pdf.SetDrawColor(act[0], act[1], act[2])
	pdf.SetLineWidth(0.7)
	pdf.Line(x, y-4, x, y+22)
	pdf.SetDrawColor(ink[0], ink[1], ink[2])
}
