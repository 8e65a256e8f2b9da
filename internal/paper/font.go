package paper

import (
	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// fontName is the family that all pages are set in: the Go fonts, which go along with the program and know Latin, Greek
// and Cyrillic letters with all their European accents (WGL4). What is used of them is embedded in each file.
const fontName = "Go"

// withFonts makes the family known to a document.
func withFonts(pdf *fpdf.Fpdf) *fpdf.Fpdf {
	pdf.AddUTF8FontFromBytes(fontName, "", goregular.TTF)
	pdf.AddUTF8FontFromBytes(fontName, "B", gobold.TTF)
	return pdf
}
