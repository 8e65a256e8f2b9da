package paper

import (
	"bytes"
	"fmt"
	"io"

	"codeberg.org/go-pdf/fpdf"
)

// Tag is what hangs on a piece from its arrival to the bench, in words.
type Tag struct {
	Name, Piece string // of the piece; its lot and number
	Weight      string
	Facts       []string // lines of small print: slaughtered, ready, supplier
	Page        string   // address of its page
}

// A page of A4 holds two columns of four tags.
const (
	tagWide, tagHigh = 95.0, 66.0
	tagsAcross       = 2
	tagsDown         = 4
)

// Tags writes the tags of the pieces of a lot, eight on a page of A4, each with the code of the piece's page.
func Tags(w io.Writer, title string, tags []Tag) error {
	pdf := sheet(title, "P")
	for i, t := range tags {
		at := i % (tagsAcross * tagsDown)
		if at == 0 {
			pdf.AddPage()
		}
		x := (pageWide-tagsAcross*tagWide)/2 + float64(at%tagsAcross)*tagWide
		y := (pageHigh-tagsDown*tagHigh)/2 + float64(at/tagsAcross)*tagHigh
		pdf.SetDrawColor(second[0], second[1], second[2])
		pdf.SetLineWidth(0.1)
		pdf.Rect(x, y, tagWide, tagHigh, "D")
		if err := tag(pdf, t, fmt.Sprint("tag", i), x+5, y+5); err != nil {
			return err
		}
	}
	return pdf.Output(w)
}

func tag(pdf document, t Tag, name string, x, y float64) error {
	code, err := qrPicture(t.Page)
	if err != nil {
		return err
	}
	const codeWide = 24.0
	pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(code))
	pdf.ImageOptions(name, x+tagWide-10-codeWide, y+tagHigh-10-codeWide, codeWide, codeWide, false,
		fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
	line := func(style string, size, wide float64, colour [3]int, text string) {
		pdf.SetFont(fontName, style, size)
		colourOf(pdf, colour)
		pdf.SetXY(x, y)
		pdf.MultiCell(wide, size*0.45, text, "", "L", false)
		y = pdf.GetY() + 1
	}
	line("B", 15, tagWide-10, ink, t.Name)
	line("B", 12, tagWide-10, ink, t.Piece)
	line("", 12, tagWide-10, ink, t.Weight)
	for _, f := range t.Facts {
		line("", 9, tagWide-10-codeWide-2, ink, f)
	}
	if onlyHere(t.Page) {
		line("", 6.5, tagWide-10-codeWide-2, second, "The code opens on this machine only.")
	}
	return nil
}
