package paper

import (
	"falda/internal/core/fault"
	"falda/internal/core/label"
)

// PackLabel is what stands on a pack, in words.
type PackLabel struct {
	Wide, High      float64 // of the label, in millimetres
	Name, Lawful    string  // the shop's own name; the lawful one below it, empty where it is the same
	Ingredients     string  // allergens in capitals; empty where there is nothing but meat
	Origin          []string
	Storage         string
	UseBy, Lot      string
	Net, Each, Cost string // weight, price of a kilogram, price
	EAN, GS1        string // empty where there is none
	Page            string // how to cook it
	Packer          string
	Notes           []string // cook through, once thawed
}

// smallest is the least height of letters on a label, in millimetres: an x-height of 1.2 mm (Regulation (EU) No
// 1169/2011, Article 13(2), from memory), which is 0.53 of this face's height.
const smallest = 1.2 / 0.53

// margins of a label, in millimetres, and the quiet zones of its codes.
const labelMargin = 3.0

// LayPack lays a pack's label out: as large as it fits, and never smaller than the law allows; else the fault names the
// size of the label.
func LayPack(p PackLabel) (label.Page, error) {
	pdf := sheet("", "P") // measures letters
	for size := 1.4; size >= 1; size -= 0.05 {
		l := layout{pdf: pdf, page: label.Page{Wide: p.Wide, High: p.High}, size: size * smallest}
		if l.pack(p) {
			return l.page, nil
		}
	}
	return label.Page{}, fault.New("high_mm", "too_small", "is too small for what must stand on the label",
		"Take a larger label, or leave something out.")
}

// layout is a label that is being laid out.
type layout struct {
	pdf  document
	page label.Page
	y    float64
	size float64 // of usual letters
}

// width of a text in millimetres, at a height of letters.
func (l *layout) width(text string, size float64, bold bool) float64 {
	style := ""
	if bold {
		style = "B"
	}
	l.pdf.SetFont(fontName, style, size*72/25.4)
	return l.pdf.GetStringWidth(text)
}

// wrap breaks a text into lines of a width.
func (l *layout) wrap(text string, size, wide float64, bold bool) []string {
	l.width("", size, bold) // sets the font
	return wrapped(l.pdf, text, wide)
}

// text puts a text from where the last one ended, in a column.
func (l *layout) text(text string, x, wide, size float64, bold bool) {
	for _, line := range l.wrap(text, size, wide, bold) {
		l.y += size
		l.page.Items = append(l.page.Items,
			label.Item{Kind: label.KindText, X: x, Y: l.y, Size: size, Bold: bold, Text: line})
		l.y += size * 0.22
	}
}

func (l *layout) right(text string, x, y, size float64, bold bool) {
	l.page.Items = append(l.page.Items, label.Item{Kind: label.KindText, X: x, Y: y, Size: size, Bold: bold, Right: true,
		Text: text})
}

// Sizes of codes, in millimetres: EAN-13 at 80 % of its nominal size or more, a GS1-128 with bars of a quarter of a
// millimetre (GS1 General Specifications, from memory).
const (
	eanWide, codeHigh, qrSide = 32.0, 12.0, 15.0
	gs1Module                 = 0.25
)

// pack lays out the whole and says whether the label holds it.
func (l *layout) pack(p PackLabel) bool {
	left, wide := labelMargin, p.Wide-2*labelMargin
	l.y = labelMargin
	l.text(p.Name, left, wide, l.size*1.7, true)
	if p.Lawful != "" {
		l.text(p.Lawful, left, wide, l.size, false)
	}
	foot := p.High - labelMargin - codeHigh - 3.2 // codes, and the digits below them
	price := 26.0                                 // the column of weight and price
	column := wide - price - 2
	top := l.y
	if p.Ingredients != "" {
		l.text("Ingredients: "+p.Ingredients, left, column, l.size, false)
	}
	for _, o := range p.Origin {
		l.text(o, left, column, l.size, false)
	}
	l.text(p.Storage, left, column, l.size, false)
	for _, n := range p.Notes {
		l.text(n, left, column, l.size, false)
	}
	l.text("Use by "+p.UseBy, left, column, l.size*1.25, true)
	l.text("Lot "+p.Lot, left, column, l.size, false)
	if p.Packer != "" {
		l.text(p.Packer, left, column, l.size, false)
	}
	end := l.y
	at := top
	for _, row := range []struct {
		lead, text string
		size       float64
	}{{"net", p.Net, 1.5}, {"a kg", p.Each, 1.2}, {"", p.Cost, 2}} {
		if row.text == "" {
			continue
		}
		at += l.size * row.size * 1.25
		l.right(row.text, p.Wide-labelMargin, at, l.size*row.size, row.size != 1.2)
		if w := l.width(row.text, l.size*row.size, true); row.lead != "" {
			l.right(row.lead, p.Wide-labelMargin-w-1.5, at, l.size, false)
		}
	}
	return max(end, at) <= l.codes(p, foot)
}

// codes puts the codes at the foot and gives where they begin.
func (l *layout) codes(p PackLabel, foot float64) float64 {
	begins := foot
	put := func(kind, text, below string, x, y, wide, high float64) {
		l.page.Items = append(l.page.Items, label.Item{Kind: kind, X: x, Y: y, Wide: wide, High: high, Text: text})
		if below != "" {
			l.page.Items = append(l.page.Items,
				label.Item{Kind: label.KindText, X: x, Y: y + high + 2.8, Size: 2.4, Text: below})
		}
	}
	if p.Page != "" {
		put(label.KindQR, p.Page, "", p.Wide-labelMargin-qrSide, p.High-labelMargin-qrSide, qrSide, qrSide)
		begins = p.High - labelMargin - qrSide - 1
		l.right("how to cook it", p.Wide-labelMargin-qrSide-1.5, p.High-labelMargin-0.4, 2.4, false)
	}
	x := labelMargin + 2
	if p.EAN != "" {
		put(label.KindEAN13, p.EAN, p.EAN, x, foot, eanWide, codeHigh)
	}
	if p.GS1 != "" { // above the rest, across the label
		code, err := gs1Code(p.GS1)
		if err != nil {
			return 0
		}
		wide := float64(code.Bounds().Dx()) * gs1Module
		if wide > p.Wide-2*labelMargin-5 {
			return 0
		}
		begins -= codeHigh + 4
		put(label.KindGS1, p.GS1, p.GS1, labelMargin+2.5, begins, wide, codeHigh)
	}
	return begins - 0.5
}
