package paper

import (
	"fmt"
	"io"
)

// Record is what somebody has learned, in words.
type Record struct {
	Shop, Name, Day string
	Asked, Known    int
	Pieces          []RecordPiece
}

// RecordPiece is what somebody has learned of a piece.
type RecordPiece struct {
	Name                     string
	Cards, Asked, Known, Cut int
	Curve                    string
	Steps                    []RecordStep
}

// RecordStep is a step that was judged.
type RecordStep struct {
	Name, Words, By, On string
	Signed              bool
}

// maxRecordSize and its like are between which sizes, in points, the text of the record is set so that it holds on a
// page.
const (
	recordLarge = 10.0
	recordSmall = 5.5
)

// LearningRecord writes the record, a page of A4. The text is set smaller until the page holds it; a record that is
// longer than that goes on a second page.
func LearningRecord(w io.Writer, r Record) error {
	for size := recordLarge; ; size -= 0.5 {
		pdf := sheet("What "+r.Name+" has learned", "P")
		pdf.AddPage()
		drawRecord(pdf, r, size)
		if pdf.PageNo() == 1 || size <= recordSmall {
			return pdf.Output(w)
		}
	}
}

func drawRecord(pdf document, r Record, size float64) {
	put := func(style string, size float64, rgb [3]int, text string) {
		pdf.SetFont(fontName, style, size)
		colourOf(pdf, rgb)
		pdf.MultiCell(textWide, size*0.48, text, "", "L", false)
	}
	put("B", 16, ink, r.Name)
	put("", size, second,
		fmt.Sprintf("What was studied, cut and signed off at %s, on %s. Of %d questions that were asked "+
			"%d are known: right twice in a row.", r.Shop, r.Day, r.Asked, r.Known))
	if len(r.Pieces) == 0 {
		put("", size, ink, "Nothing yet.")
	}
	for _, p := range r.Pieces {
		pdf.Ln(size * 0.4)
		put("B", size+2, ink, p.Name)
		put("", size, ink, fmt.Sprintf("Drills: %d of %d questions known, %d asked. Cut: %d.", p.Known, p.Cards, p.Asked,
			p.Cut))
		if p.Curve != "" {
			put("", size, ink, p.Curve)
		}
		for _, s := range p.Steps {
			state := "Signed off"
			if !s.Signed {
				state = "To practise"
			}
			text := fmt.Sprintf("%s: %s, %s, %s.", s.Name, state, s.By, s.On)
			if s.Words != "" {
				text += " " + s.Words
			}
			put("", size, ink, "– "+text)
		}
	}
	pdf.Ln(8)
	put("", size-1, second, "Minutes and yields as measured at the bench; the curve is the power law of practice. What a "+
		"trade requires of training, and who may sign for it, differs from place to place.")
	pdf.Ln(10)
	pdf.SetFont(fontName, "", 9)
	colourOf(pdf, second)
	pdf.CellFormat(80, 6, "Signed", "T", 1, "L", false, 0, "")
}
