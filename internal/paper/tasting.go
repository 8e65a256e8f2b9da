package paper

import (
	"bytes"
	"fmt"
	"image/png"
	"io"
	"net"
	"net/url"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
)

// Tasting is what the sheets of a tasting show.
type Tasting struct {
	Name      string // for the kitchen
	Blind     string // for the eaters
	Day       string
	Samples   []TastingSample
	Assessors []TastingAssessor
}

// TastingSample is a sample with its code, for the kitchen.
type TastingSample struct {
	Code, Muscle, Method, From, Note string
}

// TastingAssessor is an eater's number, the address of the score page, and the samples by their index in the order of
// tasting.
type TastingAssessor struct {
	Number int
	Page   string
	Order  []int
}

// Attributes are what eaters mark, with the words at the two ends of each line.
var Attributes = []struct{ ID, Name, Low, High string }{
	{"tenderness", "How tender?", "tough", "tender"},
	{"juiciness", "How juicy?", "dry", "juicy"},
	{"flavour", "The flavour?", "bad", "good"},
	{"overall", "All in all?", "bad", "good"},
}

// lineLong is the length of a mark's line in millimetres: a millimetre is a point.
const lineLong = 100.0

// ScoreSheets writes the sheets of all eaters, each on pages of its own: blind codes, open lines without ticks, and the
// code of the eater's page on a phone.
func ScoreSheets(w io.Writer, t Tasting) error {
	pdf := sheet(t.Blind, "P")
	for _, e := range t.Assessors {
		code, err := qrPicture(e.Page)
		if err != nil {
			return err
		}
		name := fmt.Sprint("eater", e.Number)
		pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(code))
		page := func() {
			pdf.AddPage()
			colourOf(pdf, ink)
			pdf.SetFont(fontName, "B", 16)
			pdf.Text(margin, margin+6, fmt.Sprintf("Eater %d", e.Number))
			pdf.SetFont(fontName, "", 10)
			pdf.Text(margin, margin+12, t.Blind)
			pdf.Text(margin, margin+17,
				"One mark across each line, anywhere on it. A sip of water and a bite of bread between two samples.")
			pdf.ImageOptions(name, pageWide-margin-24, margin-4, 24, 24, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
			pdf.SetFont(fontName, "", 7)
			colourOf(pdf, second)
			if onlyHere(e.Page) {
				pdf.Text(margin, margin+21, "The code opens on this machine only: the owner sets its address in the settings.")
			} else {
				pdf.Text(margin, margin+21, "Or on a phone: "+e.Page)
			}
			pdf.SetY(margin + 26)
		}
		page()
		for _, at := range e.Order {
			if pdf.GetY()+46 > pageHigh-margin {
				page()
			}
			y := pdf.GetY()
			colourOf(pdf, ink)
			pdf.SetFont(fontName, "B", 14)
			pdf.Text(margin, y+6, t.Samples[at].Code)
			for i, a := range Attributes {
				ly := y + 6 + float64(i)*9.5
				pdf.SetFont(fontName, "", 10)
				colourOf(pdf, ink)
				pdf.Text(margin+18, ly, a.Name)
				x := margin + 62
				colourOf(pdf, second)
				pdf.SetFont(fontName, "", 8)
				pdf.Text(x-2-pdf.GetStringWidth(a.Low), ly, a.Low)
				pdf.Text(x+lineLong+2, ly, a.High)
				pdf.SetDrawColor(ink[0], ink[1], ink[2])
				pdf.SetLineWidth(0.3)
				pdf.Line(x, ly-1, x+lineLong, ly-1)
				pdf.Line(x, ly-2.5, x, ly+0.5)
				pdf.Line(x+lineLong, ly-2.5, x+lineLong, ly+0.5)
			}
			pdf.SetY(y + 44)
		}
		colourOf(pdf, second)
		pdf.SetFont(fontName, "", 7)
		pdf.Text(margin, pageHigh-8,
			"For whoever types it in: each line is 100 mm long; the millimetres from its left end are the points.")
	}
	return pdf.Output(w)
}

// ServingSheet writes the kitchen's sheet: what each code is, and which codes each eater gets in which order.
func ServingSheet(w io.Writer, t Tasting) error {
	pdf := sheet("Kitchen: "+t.Name, "L")
	wide := pageHigh - 2*margin
	pdf.SetAutoPageBreak(true, margin)
	pdf.AddPage()
	colourOf(pdf, ink)
	pdf.SetFont(fontName, "B", 16)
	pdf.CellFormat(wide, 8, "For the kitchen: "+t.Name+", "+t.Day, "", 1, "L", false, 0, "")
	pdf.SetFont(fontName, "", 9)
	colourOf(pdf, act)
	pdf.MultiCell(wide, 5,
		"Not for the eaters. All samples the same thickness, doneness, rest and size of bite; plates carry the code alone. "+
			"Centre temperatures and times as on the cooking cards; local rules come first.", "", "L", false)
	pdf.Ln(2)
	colourOf(pdf, ink)
	for _, p := range t.Samples {
		pdf.SetFont(fontName, "B", 11)
		pdf.CellFormat(16, 6, p.Code, "", 0, "L", false, 0, "")
		pdf.SetFont(fontName, "", 10)
		pdf.CellFormat(wide-16, 6,
			strings.TrimRight(fmt.Sprintf("%s, %s. %s. %s", p.Muscle, strings.ToLower(p.Method), p.From, p.Note), " ."), "", 1,
			"L", false, 0, "")
	}
	pdf.Ln(3)
	cell := min(18, (wide-24)/float64(max(1, len(t.Samples))))
	pdf.SetFont(fontName, "B", 9)
	pdf.CellFormat(24, 6, "Eater", "B", 0, "L", false, 0, "")
	for i := range t.Samples {
		pdf.CellFormat(cell, 6, fmt.Sprintf("%d.", i+1), "B", 0, "C", false, 0, "")
	}
	pdf.Ln(-1)
	for _, e := range t.Assessors {
		pdf.SetFont(fontName, "B", 10)
		pdf.CellFormat(24, 6, fmt.Sprint(e.Number), "B", 0, "L", false, 0, "")
		pdf.SetFont(fontName, "", 10)
		for _, at := range e.Order {
			pdf.CellFormat(cell, 6, t.Samples[at].Code, "B", 0, "C", false, 0, "")
		}
		pdf.Ln(-1)
	}
	return pdf.Output(w)
}

func sheet(title, way string) document {
	pdf := withFonts(fpdf.New(way, "mm", "A4", ""))
	pdf.SetMargins(margin, margin, margin)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetTitle(title, true)
	pdf.SetCompression(false)
	return pdf
}

func colourOf(pdf document, rgb [3]int) { pdf.SetTextColor(rgb[0], rgb[1], rgb[2]) }

// onlyHere says that an address leads no other device to the program: it names the machine that reads it.
func onlyHere(address string) bool {
	u, err := url.Parse(address)
	if err != nil {
		return false
	}
	ip := net.ParseIP(u.Hostname())
	return u.Hostname() == "localhost" || ip != nil && ip.IsLoopback()
}

// qrPicture is a QR code (ISO/IEC 18004) as a PNG.
func qrPicture(text string) ([]byte, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return nil, err
	}
	if code, err = barcode.Scale(code, 256, 256); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = png.Encode(&out, code)
	return out.Bytes(), err
}
