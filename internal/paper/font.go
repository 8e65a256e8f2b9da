package paper

import (
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// fontName is the family that all pages are set in: the Go fonts, which go along with the program and know Latin, Greek
// and Cyrillic letters with all their European accents (WGL4). What is used of them is embedded in each file.
const fontName = "Go"

// document is a PDF that takes any text: characters beyond the Basic Multilingual Plane, which the font lacks and the
// library cannot measure, are written as an empty box.
type document struct{ *fpdf.Fpdf }

func withFonts(pdf *fpdf.Fpdf) document {
	pdf.AddUTF8FontFromBytes(fontName, "", goregular.TTF)
	pdf.AddUTF8FontFromBytes(fontName, "B", gobold.TTF)
	return document{pdf}
}

// writable replaces what cannot be written.
func writable(text string) string {
	return strings.Map(func(r rune) rune {
		if r > 0xffff {
			return '□'
		}
		return r
	}, text)
}

// Text, CellFormat, MultiCell, GetStringWidth and SetTitle are those of the library, for any text.
func (d document) Text(x, y float64, text string) { d.Fpdf.Text(x, y, writable(text)) }

func (d document) CellFormat(w, h float64, text, border string, ln int, align string, fill bool, link int, url string) {
	d.Fpdf.CellFormat(w, h, writable(text), border, ln, align, fill, link, url)
}

func (d document) MultiCell(w, h float64, text, border, align string, fill bool) {
	d.Fpdf.MultiCell(w, h, writable(text), border, align, fill)
}

func (d document) GetStringWidth(text string) float64 { return d.Fpdf.GetStringWidth(writable(text)) }

func (d document) SetTitle(title string, isUTF8 bool) { d.Fpdf.SetTitle(writable(title), isUTF8) }
