package paper

import (
	"fmt"
	"io"
)

// BatchSheet is what hangs beside the mincer: what goes in, from which tub, and room to write what was weighed.
type BatchSheet struct {
	Name, LotNumber, MadeOn, UseBy string
	Limits                         []string // of the recipe, in words
	Meat                           [][2]string
	Else                           [][2]string
	Expected                       string
	Label                          string // what it must say
	Allergens                      string
	Cautions                       []string
}

// WriteBatchSheet writes the sheet of a batch, a page of A4.
func WriteBatchSheet(w io.Writer, b BatchSheet) error {
	pdf := sheet("Batch "+b.LotNumber, "P")
	pdf.AddPage()
	put := func(style string, size float64, rgb [3]int, text string) {
		pdf.SetFont(fontName, style, size)
		colourOf(pdf, rgb)
		pdf.MultiCell(textWide, size*0.5, text, "", "L", false)
	}
	put("B", 22, ink, b.Name)
	put("", 11, second, fmt.Sprintf("Batch %s, made %s, use by %s", b.LotNumber, b.MadeOn, b.UseBy))
	pdf.Ln(3)
	for _, l := range b.Limits {
		put("", 11, ink, l)
	}
	rows := func(title string, list [][2]string) {
		if len(list) == 0 {
			return
		}
		pdf.Ln(4)
		put("B", 13, ink, title)
		for _, row := range list {
			pdf.SetFont(fontName, "", 12)
			colourOf(pdf, ink)
			pdf.CellFormat(textWide-90, 10, row[0], "B", 0, "L", false, 0, "")
			pdf.SetFont(fontName, "B", 12)
			pdf.CellFormat(45, 10, row[1], "B", 0, "R", false, 0, "")
			pdf.CellFormat(45, 10, "", "B", 1, "R", false, 0, "") // what the scale said
		}
	}
	rows("Meat: planned, weighed", b.Meat)
	rows("What else goes in: planned, weighed", b.Else)
	rows("What comes out: expected, weighed", [][2]string{{b.Name, b.Expected}, {"Thrown away", ""}})
	pdf.Ln(5)
	if b.Label != "" {
		put("B", 11, ink, "On its label")
		put("", 11, ink, b.Label)
	}
	if b.Allergens != "" {
		put("B", 12, act, "Contains: "+b.Allergens+".")
	}
	pdf.Ln(3)
	for _, c := range b.Cautions {
		put("", 9, second, "– "+c)
	}
	return pdf.Output(w)
}
