package paper

import (
	"fmt"
	"io"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"falda/internal/core/atlas"
	"falda/internal/core/seammap"
)

// The page: A4 upright, in millimetres.
const (
	pageWide = 210.0
	pageHigh = 297.0
	margin   = 14.0
	textWide = pageWide - 2*margin
	mapWide  = 96.0
)

// Colours of the product, red green blue.
var (
	ink      = [3]int{29, 25, 22}
	second   = [3]int{90, 80, 72}
	act      = [3]int{124, 29, 40}
	seamBlue = [3]int{31, 111, 178}
	hairline = [3]int{217, 208, 195}
	boneGrey = [3]int{226, 222, 216}
)

// SeamCard writes the seam card of a piece: one page with the map, the order of the seams with how each is found and
// what goes wrong there, what to look for, and the cautions. Names are those of a market. The text is set smaller until
// the page holds it; it fails where not even the smallest does.
func SeamCard(w io.Writer, p atlas.Piece, m seammap.Map, market string) error {
	for size := 9.0; size >= 5; size -= 0.25 {
		c := newCard(p, m, market, size)
		if c.draw() {
			return c.pdf.Output(w)
		}
	}
	return fmt.Errorf("the seam card of %s does not fit on a page", p.ID)
}

type card struct {
	pdf    document
	piece  atlas.Piece
	m      seammap.Map
	market string
	size   float64 // of the text, in points
	order  []atlas.Muscle
	// numbers are what stands on the map, by muscle: its place in the order, or of a plan its step
	numbers map[string]int
}

func newCard(p atlas.Piece, m seammap.Map, market string, size float64) *card {
	pdf := withFonts(fpdf.New("P", "mm", "A4", ""))
	pdf.SetMargins(margin, margin, margin)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetTitle("Seam card: "+p.NameIn(market), true)
	pdf.SetCompression(false) // a page of text; so that it can be searched by anything
	pdf.AddPage()
	c := &card{pdf: pdf, piece: p, m: m, market: market, size: size, order: muscles(p), numbers: map[string]int{}}
	for i, m := range c.order {
		c.numbers[m.ID] = i + 1
	}
	return c
}

func muscles(p atlas.Piece) []atlas.Muscle {
	var out []atlas.Muscle
	for _, id := range p.Order() {
		if m, ok := p.Muscle(id); ok {
			out = append(out, m)
		}
	}
	return out
}

func (c *card) colour(rgb [3]int) { c.pdf.SetTextColor(rgb[0], rgb[1], rgb[2]) }

// put writes a paragraph at x, as wide as w, and leaves the pen below it.
func (c *card) put(x, w float64, style string, size float64, rgb [3]int, text string) {
	c.pdf.SetFont(fontName, style, size)
	c.colour(rgb)
	c.pdf.SetX(x)
	c.pdf.MultiCell(w, size*0.44, text, "", "L", false)
}

// draw lays the page out, and answers whether it holds everything.
func (c *card) draw() bool {
	p, pdf := c.piece, c.pdf
	c.put(margin, textWide, "B", 20, ink, p.NameIn(c.market))
	also := p.Region
	if p.NameIn(c.market) != p.Name {
		also = p.Name + " · " + also
	}
	c.put(margin, textWide, "", 9, second, also+" · usually "+p.Typical().Text("kg", 1))
	pdf.Ln(2)
	top := pdf.GetY()
	bottom := c.drawMap(margin, top, mapWide)
	x := margin + mapWide + 6
	pdf.SetY(top)
	c.put(x, textWide-mapWide-6, "B", c.size+1, ink, "Take care")
	for _, caution := range p.Cautions {
		c.put(x, textWide-mapWide-6, "", c.size, ink, "- "+caution)
	}
	c.put(x, textWide-mapWide-6, "", c.size-0.5, second, "Local codes and your own training come first.")
	pdf.SetY(max(bottom, pdf.GetY()) + 3)
	c.rule()
	for i, mu := range c.order {
		y := pdf.GetY()
		c.put(margin, 52, "B", c.size+1, ink, fmt.Sprintf("%d  %s", i+1, mu.NameIn(c.market)))
		c.put(margin+5, 47, "", c.size-0.5, second,
			fmt.Sprintf("%.1f %%, %s grain, %s; dressing %.0f %%", mu.SharePct, mu.Grain.Texture, mu.Grain.Direction,
				mu.TrimPct))
		left := pdf.GetY()
		pdf.SetY(y)
		c.put(margin+54, textWide-54, "", c.size, ink, mu.Seam.Tell)
		c.put(margin+54, textWide-54, "B", c.size, act, mu.Seam.Danger)
		pdf.SetY(max(left, pdf.GetY()) + 1)
		c.rule()
	}
	c.put(margin, textWide, "B", c.size+1, ink, "Look, smell, feel")
	for _, in := range p.Inspect {
		c.put(margin, textWide, "", c.size, ink, in.Look+". "+in.Do)
	}
	pdf.Ln(1)
	c.put(margin, textWide, "", c.size-0.5, second, "Basis: "+p.Basis+".")
	return pdf.GetY() <= pageHigh-margin && pdf.Error() == nil
}

func (c *card) rule() {
	y := c.pdf.GetY()
	c.pdf.SetDrawColor(hairline[0], hairline[1], hairline[2])
	c.pdf.SetLineWidth(0.2)
	c.pdf.Line(margin, y, pageWide-margin, y)
	c.pdf.SetY(y + 1.5)
}

// drawMap draws the seam map so wide at a place, its muscles numbered in their order, and answers where it ends.
func (c *card) drawMap(x, y, wide float64) float64 {
	pdf, scale := c.pdf, wide/c.piece.Section.W
	at := func(p seammap.Point) fpdf.PointType { return fpdf.PointType{X: x + p.X*scale, Y: y + p.Y*scale} }
	polygon := func(points []seammap.Point) []fpdf.PointType {
		out := make([]fpdf.PointType, len(points))
		for i, p := range points {
			out[i] = at(p)
		}
		return out
	}
	pdf.SetFillColor(boneGrey[0], boneGrey[1], boneGrey[2])
	for _, a := range c.m.Areas {
		if _, isMuscle := c.piece.Muscle(a.ID); !isMuscle {
			pdf.Polygon(polygon(a.Polygon), "F")
		}
	}
	pdf.SetDrawColor(seamBlue[0], seamBlue[1], seamBlue[2])
	pdf.SetLineWidth(0.5)
	for _, s := range c.m.Seams {
		from, to := at(s.From), at(s.To)
		pdf.Line(from.X, from.Y, to.X, to.Y)
	}
	pdf.SetDrawColor(ink[0], ink[1], ink[2])
	pdf.SetLineWidth(0.6)
	pdf.Polygon(polygon(c.m.Outline), "D")
	pdf.SetFont(fontName, "B", 10)
	for _, a := range c.m.Areas {
		text := "bone"
		c.colour(second)
		if _, isMuscle := c.piece.Muscle(a.ID); isMuscle {
			text = ""
			c.colour(ink)
		}
		if n := c.numbers[a.ID]; n > 0 {
			text = fmt.Sprint(n)
		}
		centre := at(a.Centre)
		if w := pdf.GetStringWidth(text); text != "bone" || a.Room*scale*2 > w {
			pdf.Text(centre.X-w/2, centre.Y+1.3, strings.TrimSpace(text))
		}
	}
	return y + c.piece.Section.H*scale
}
