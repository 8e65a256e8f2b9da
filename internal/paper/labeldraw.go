package paper

import (
	"image"
	"image/color"
	"image/draw"
	"io"
	"math"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/code128"
	"github.com/boombuler/barcode/ean"
	"github.com/boombuler/barcode/qr"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"falda/internal/core/label"
)

// gs1Code is a GS1-128: Code 128 that begins with the function character 1; the text has its identifiers in brackets.
// Only the last element may have a length of its own, so that nothing need part them.
func gs1Code(text string) (barcode.Barcode, error) {
	return code128.Encode(string(code128.FNC1) + strings.NewReplacer("(", "", ")", "").Replace(text))
}

// codeOf gives the modules of an item that is a code.
func codeOf(i label.Item) (barcode.Barcode, error) {
	switch i.Kind {
	case label.KindGS1:
		return gs1Code(i.Text)
	case label.KindEAN13:
		return ean.Encode(i.Text)
	}
	return qr.Encode(i.Text, qr.M, qr.Auto)
}

// modules calls draw for each dark stretch of a code: of a row of it where it is a QR code, else of its bars.
func modules(code barcode.Barcode, draw func(x, y, wide, high float64)) {
	b := code.Bounds()
	dx, dy := float64(b.Dx()), float64(b.Dy())
	for y := range b.Dy() {
		for x := 0; x < b.Dx(); x++ {
			from := x
			for x < b.Dx() && dark(code.At(b.Min.X+x, b.Min.Y+y)) {
				x++
			}
			if x > from {
				draw(float64(from)/dx, float64(y)/dy, float64(x-from)/dx, 1/dy)
			}
		}
	}
}

func dark(c color.Color) bool {
	r, _, _, _ := c.RGBA()
	return r < 0x8000
}

// Labels writes labels as PDF: each on a page of its own size, or as many as fit on pages of A4.
func Labels(w io.Writer, pages []label.Page, onSheet bool) error {
	if len(pages) == 0 {
		return nil
	}
	var pdf document
	var at func(i int) (x, y float64)
	if onSheet {
		pdf = sheet("Labels", "P")
		wide, high := pages[0].Wide, pages[0].High
		across := max(1, int((pageWide-6)/wide))
		down := max(1, int((pageHigh-6)/high))
		at = func(i int) (x, y float64) {
			if i%(across*down) == 0 {
				pdf.AddPage()
			}
			i %= across * down
			return (pageWide-float64(across)*wide)/2 + float64(i%across)*wide,
				(pageHigh-float64(down)*high)/2 + float64(i/across)*high
		}
	} else {
		size := fpdf.SizeType{Wd: pages[0].Wide, Ht: pages[0].High}
		pdf = withFonts(fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: size}))
		pdf.SetAutoPageBreak(false, 0)
		pdf.SetTitle("Labels", true)
		at = func(int) (x, y float64) { pdf.AddPage(); return 0, 0 }
	}
	for i, p := range pages {
		x, y := at(i)
		if err := drawLabel(pdf, p, x, y, onSheet); err != nil {
			return err
		}
	}
	return pdf.Output(w)
}

func drawLabel(pdf document, p label.Page, x, y float64, frame bool) error {
	if frame {
		pdf.SetDrawColor(200, 200, 200)
		pdf.SetLineWidth(0.1)
		pdf.Rect(x, y, p.Wide, p.High, "D")
	}
	pdf.SetFillColor(0, 0, 0)
	pdf.SetTextColor(0, 0, 0)
	for _, i := range p.Items {
		switch i.Kind {
		case label.KindText:
			style := ""
			if i.Bold {
				style = "B"
			}
			pdf.SetFont(fontName, style, i.Size*72/25.4)
			at := x + i.X
			if i.Right {
				at -= pdf.GetStringWidth(i.Text)
			}
			pdf.Text(at, y+i.Y, i.Text)
		case label.KindLine:
			pdf.Rect(x+i.X, y+i.Y, i.Wide, i.High, "F")
		default:
			code, err := codeOf(i)
			if err != nil {
				return err
			}
			modules(code, func(mx, my, mw, mh float64) {
				pdf.Rect(x+i.X+mx*i.Wide, y+i.Y+my*i.High, mw*i.Wide, mh*i.High, "F")
			})
		}
	}
	return nil
}

// DotsPerMm is how fine a label printer prints: 203 dots an inch.
const DotsPerMm = 8

// Picture draws a label in dots, black on white, as a label printer does. Bars are whole dots wide.
func Picture(p label.Page) (*image.Gray, error) {
	dots := func(mm float64) int { return int(math.Round(mm * DotsPerMm)) }
	img := image.NewGray(image.Rect(0, 0, dots(p.Wide), dots(p.High)))
	draw.Draw(img, img.Bounds(), image.White, image.Point{}, draw.Src)
	fill := func(x, y, wide, high int) {
		draw.Draw(img, image.Rect(x, y, x+wide, y+high), image.Black, image.Point{}, draw.Src)
	}
	for _, i := range p.Items {
		switch i.Kind {
		case label.KindText:
			if err := write(img, i); err != nil {
				return nil, err
			}
		case label.KindLine:
			fill(dots(i.X), dots(i.Y), max(1, dots(i.Wide)), max(1, dots(i.High)))
		default:
			code, err := codeOf(i)
			if err != nil {
				return nil, err
			}
			b := code.Bounds()
			each := max(1, dots(i.Wide)/b.Dx())
			tall := dots(i.High)
			if b.Dy() > 1 {
				tall = each * b.Dy()
			}
			modules(code, func(mx, my, mw, mh float64) {
				top := dots(i.Y) + int(math.Round(my*float64(tall)))
				end := dots(i.Y) + int(math.Round((my+mh)*float64(tall)))
				fill(dots(i.X)+int(math.Round(mx*float64(b.Dx())))*each, top, int(math.Round(mw*float64(b.Dx())))*each, end-top)
			})
		}
	}
	return img, nil
}

// write writes a text into a picture.
func write(img *image.Gray, i label.Item) error {
	ttf := goregular.TTF
	if i.Bold {
		ttf = gobold.TTF
	}
	parsed, err := opentype.Parse(ttf)
	if err != nil {
		return err
	}
	face, err := opentype.NewFace(parsed,
		&opentype.FaceOptions{Size: i.Size * DotsPerMm, DPI: 72, Hinting: font.HintingFull})
	if err != nil {
		return err
	}
	defer face.Close()
	d := font.Drawer{Dst: img, Src: image.Black, Face: face,
		Dot: fixed.P(int(math.Round(i.X*DotsPerMm)), int(math.Round(i.Y*DotsPerMm)))}
	if i.Right {
		d.Dot.X -= d.MeasureString(i.Text)
	}
	d.DrawString(writable(i.Text))
	return nil
}
