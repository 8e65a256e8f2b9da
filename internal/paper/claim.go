package paper

import (
	"io"
)

// Claim is what a letter to a supplier says of weight that was invoiced and did not come, in words.
type Claim struct {
	Shop, Supplier, Day   string
	LotNumber, What       string // the supplier's lot, and the pieces in it
	ReceivedOn            string
	Invoiced, Received    string
	Short, Price, Amount  string
	Temperature           string // at arrival; empty where nobody measured it
	Slaughtered, PackedOn string // packed: empty of what hung unpacked
	Findings              []string
}

// ClaimLetter writes the letter, a page of A4, with a line to sign.
func ClaimLetter(w io.Writer, c Claim) error {
	pdf := sheet("Claim for "+c.LotNumber, "P")
	pdf.AddPage()
	put := func(style string, size float64, text string) {
		pdf.SetFont(fontName, style, size)
		colourOf(pdf, ink)
		pdf.MultiCell(textWide, size*0.5, text, "", "L", false)
	}
	put("B", 12, c.Shop)
	pdf.Ln(10)
	put("", 11, c.Supplier)
	pdf.Ln(4)
	put("", 11, c.Day)
	pdf.Ln(10)
	put("B", 14, "Short weight in lot "+c.LotNumber)
	pdf.Ln(4)
	put("", 11,
		"On "+c.ReceivedOn+" we received "+c.What+". The invoice says "+c.Invoiced+"; on our scale it was "+c.Received+
			". "+c.Short+" is missing. At "+c.Price+" that is "+c.Amount+", which we ask you to credit.")
	pdf.Ln(6)
	for _, row := range [][2]string{{"Lot", c.LotNumber}, {"Slaughtered", c.Slaughtered}, {"Packed", c.PackedOn},
		{"Invoiced", c.Invoiced}, {"Received", c.Received}, {"Short", c.Short}, {"Price", c.Price},
		{"Temperature at arrival", c.Temperature}, {"To be credited", c.Amount}} {
		if row[1] == "" {
			continue
		}
		pdf.SetFont(fontName, "", 11)
		pdf.CellFormat(60, 7, row[0], "B", 0, "L", false, 0, "")
		pdf.SetFont(fontName, "B", 11)
		pdf.CellFormat(textWide-60, 7, row[1], "B", 1, "R", false, 0, "")
	}
	if len(c.Findings) > 0 {
		pdf.Ln(6)
		put("", 11, "We also found:")
		for _, f := range c.Findings {
			put("", 11, "– "+f)
		}
	}
	pdf.Ln(24)
	pdf.SetFont(fontName, "", 9)
	colourOf(pdf, second)
	pdf.CellFormat(80, 6, "Signed", "T", 1, "L", false, 0, "")
	pdf.Ln(4)
	pdf.MultiCell(textWide, 4.5,
		"Weighed in the shop, not on a verified scale unless it says so. What trade law asks of scales and "+
			"of claims differs from place to place.", "", "L", false)
	return pdf.Output(w)
}
