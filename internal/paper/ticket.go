package paper

import (
	"io"
)

// Ticket is a price ticket for the counter, in words.
type Ticket struct {
	Name, Lawful string // the lawful name empty where it is the same
	Price, Per   string
	Lines        []string // origin, best method, whom it feeds
}

// A page of A4 holds two columns of four tickets, each on a card of its own.
const (
	ticketWide, ticketHigh = 95.0, 68.0
	ticketsDown            = 4
)

// Tickets writes price tickets, eight on a page of A4, with lines to cut along.
func Tickets(w io.Writer, list []Ticket) error {
	pdf := sheet("Price tickets", "P")
	for i, t := range list {
		at := i % (2 * ticketsDown)
		if at == 0 {
			pdf.AddPage()
		}
		x := (pageWide-2*ticketWide)/2 + float64(at%2)*ticketWide
		y := (pageHigh-ticketsDown*ticketHigh)/2 + float64(at/2)*ticketHigh
		pdf.SetDrawColor(second[0], second[1], second[2])
		pdf.SetLineWidth(0.1)
		pdf.Rect(x, y, ticketWide, ticketHigh, "D")
		t.draw(pdf, x+6, y+5)
	}
	if len(list) == 0 {
		pdf.AddPage()
	}
	return pdf.Output(w)
}

func (t Ticket) draw(pdf document, x, y float64) {
	wide, top := ticketWide-12, y
	line := func(style string, size float64, colour [3]int, text string) {
		pdf.SetFont(fontName, style, size)
		for ; size > 9 && pdf.GetStringWidth(text) > 2*wide; size-- { // two lines at most
			pdf.SetFont(fontName, style, size)
		}
		colourOf(pdf, colour)
		pdf.SetXY(x, y)
		pdf.MultiCell(wide, size*0.42, text, "", "L", false)
		y = pdf.GetY() + 1
	}
	line("B", 22, ink, t.Name)
	if t.Lawful != "" {
		line("", 11, second, t.Lawful)
	}
	for _, l := range t.Lines {
		line("", 11, ink, l)
	}
	foot := max(y+12, top+ticketHigh-11) // at the foot of the card
	pdf.SetFont(fontName, "B", 34)
	colourOf(pdf, act)
	pdf.Text(x, foot, t.Price)
	after := x + pdf.GetStringWidth(t.Price) + 3
	pdf.SetFont(fontName, "", 14)
	colourOf(pdf, second)
	pdf.Text(after, foot, t.Per)
}
