package paper

import (
	"bytes"
	"cmp"
	"fmt"
	"io"
	"math"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"falda/internal/core/cook"
	"falda/internal/core/measure"
)

// CookingCard writes the cooking card of a cut, a page of A5: what it feeds, the steps, the centre and the floor, which
// way to slice, and the code of its page. Called is what the shop calls it, if anything but its name. In °F and pounds
// where us is set.
func CookingCard(w io.Writer, c cook.Card, called string, us bool, page string) error {
	pdf := withFonts(fpdf.New("P", "mm", "A5", ""))
	pdf.SetMargins(margin, margin, margin)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetTitle("Cooking card: "+c.Product.Name, true)
	pdf.SetCompression(false)
	pdf.AddPage()
	card := cookingCard{document: pdf, card: c, us: us}
	card.head(called)
	card.steps()
	card.centre()
	card.slice()
	if keeps := c.Product.Keeps; keeps != "" {
		card.put("", 11, ink, "Sold with "+keeps+".")
	}
	if len(c.Contains) > 0 {
		card.put("B", 11, act, "Contains: "+strings.Join(c.Contains, ", ")+".")
		pdf.Ln(1)
	}
	card.put("", 8, second,
		"Times are estimates that start you off; go by a probe in the thickest place. Keep it chilled until it is cooked, "+
			"and raw meat apart from what is eaten raw. Local advice comes first.")
	code, err := qrPicture(page)
	if err != nil {
		return err
	}
	pdf.RegisterImageOptionsReader("page", fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(code))
	pdf.ImageOptions("page", 148-margin-24, margin-4, 24, 24, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
	if pdf.GetY() > 210-6 {
		return fmt.Errorf("the cooking card of %s does not fit on a page", c.Product.ID)
	}
	return pdf.Output(w)
}

// cookingCard is a card on its page, 148 mm wide.
type cookingCard struct {
	document
	card cook.Card
	us   bool
}

const cardWidth = 148 - 2*margin

func (c cookingCard) put(style string, size float64, rgb [3]int, text string) {
	c.SetFont(fontName, style, size)
	colourOf(c.document, rgb)
	c.MultiCell(cardWidth, size*0.46, text, "", "L", false)
}

func (c cookingCard) degrees(v float64) string {
	if c.us {
		return fmt.Sprintf("%.0f °F", measure.Fahrenheit(v))
	}
	return fmt.Sprintf("%.0f °C", v)
}

// head writes what it is and whom it feeds, left of the code.
func (c cookingCard) head(called string) {
	c.SetRightMargin(margin + 26)
	c.SetFont(fontName, "B", 20)
	colourOf(c.document, ink)
	c.MultiCell(cardWidth-26, 9, cmp.Or(called, c.card.Product.Name), "", "L", false)
	if called != "" {
		c.SetFont(fontName, "", 11)
		c.MultiCell(cardWidth-26, 5, c.card.Product.Name, "", "L", false)
	}
	c.SetRightMargin(margin)
	weight := fmt.Sprintf("%.0f g", c.card.WeightG)
	if c.us {
		weight = fmt.Sprintf("%.2f lb", c.card.WeightG/453.59237)
	}
	thick := ""
	if mm := c.card.ThicknessMm; mm > 0 {
		thick = fmt.Sprintf(", %.0f mm thick", mm)
		if c.us {
			thick = fmt.Sprintf(", %.1f in thick", mm/25.4)
		}
	}
	c.SetY(max(c.GetY(), margin+16))
	c.put("", 11, second, fmt.Sprintf("%s%s. %s, feeds %d.", c.card.Way.Name, thick, weight, c.card.Feeds))
	c.Ln(3)
}

func (c cookingCard) steps() {
	for i, s := range c.card.Steps {
		text := fmt.Sprintf("%d  %s", i+1, s.Do)
		if s.OvenC > 0 {
			text += fmt.Sprintf(" Oven at %s, gas %s.", c.degrees(s.OvenC), cook.GasMark(s.OvenC))
		}
		if s.Minutes > 0 {
			text += fmt.Sprintf(" %g min.", s.Minutes)
		}
		c.put("", 12, ink, text)
		c.Ln(1.5)
	}
	for _, line := range c.card.Lines {
		c.put("", 11, second, line)
		c.Ln(1)
	}
	c.Ln(2)
}

// centre writes when to take it out, and how that stands to what is safe.
func (c cookingCard) centre() {
	text := c.degrees(c.card.CoreC) + " at the centre."
	if c.card.TakeOutC < c.card.CoreC {
		text = fmt.Sprintf("Out of the heat at %s; it rises to %s while it rests.", c.degrees(c.card.TakeOutC),
			c.degrees(c.card.CoreC))
	}
	c.put("B", 12, ink, text)
	colour := second
	if c.card.BelowSafe {
		colour = act
	}
	c.put("", 9.5, colour, strings.ReplaceAll(in(c.card.Summary(), c.us), "  ", " "))
	c.Ln(2)
}

// slice writes and draws which way to slice it.
func (c cookingCard) slice() {
	if c.card.Slice == "" {
		return
	}
	y := c.GetY()
	grainPicture(c.document, margin, y, c.card.Grain)
	c.SetLeftMargin(margin + 40)
	c.SetXY(margin+40, y)
	c.SetFont(fontName, "", 11)
	colourOf(c.document, ink)
	c.MultiCell(cardWidth-40, 5, c.card.Slice, "", "L", false)
	c.SetLeftMargin(margin)
	c.SetY(math.Max(c.GetY(), y+24) + 2)
}

// in puts the temperatures of a sentence in °F.
func in(text string, us bool) string {
	if !us {
		return text
	}
	words := strings.Fields(text)
	for i := 0; i+1 < len(words); i++ {
		var v float64
		if _, err := fmt.Sscanf(words[i], "%f", &v); err == nil && strings.HasPrefix(words[i+1], "°C") {
			words[i] = fmt.Sprintf("%.0f", measure.Fahrenheit(v))
			words[i+1] = "°F" + strings.TrimPrefix(words[i+1], "°C")
		}
	}
	return strings.Join(words, " ")
}

// grainPicture draws a cut with its grain and the knife across it.
func grainPicture(pdf document, x, y float64, grain string) {
	const w, h = 34.0, 22.0
	pdf.SetDrawColor(ink[0], ink[1], ink[2])
	pdf.SetLineWidth(0.5)
	pdf.RoundedRect(x, y, w, h, 7, "1234", "D")
	pdf.SetLineWidth(0.2)
	pdf.SetDrawColor(second[0], second[1], second[2])
	for i := 1; i < 7; i++ {
		f := y + h*float64(i)/7
		switch grain {
		case "fan":
			pdf.Line(x+3, y+h/2, x+w-2, y+2+(h-4)*float64(i-1)/5)
		case "spiral":
			pdf.Ellipse(x+w/2, y+h/2, float64(i)*2.3, float64(i)*1.4, 0, "D")
		case "two ways":
			pdf.Line(x+3, f, x+w/2, f)
			pdf.Line(x+w/2, f, x+w-3, f-4+h*0.02*float64(i))
		default:
			pdf.Line(x+3, f, x+w-3, f)
		}
	}
	pdf.SetDrawColor(act[0], act[1], act[2])
	pdf.SetLineWidth(0.8)
	for _, f := range []float64{0.3, 0.5, 0.7} {
		pdf.Line(x+w*f, y-1.5, x+w*f, y+h+1.5)
	}
}
