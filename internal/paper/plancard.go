package paper

import (
	"fmt"
	"io"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/seammap"
	"falda/internal/core/steps"
	"falda/internal/core/words"
)

// PlanCard writes the card of a plan to hang above a bench: the map with each muscle numbered by the step in which it
// leaves, the cautions that its tools call for, and the steps in their order with tool, thickness, how it is found and
// what goes wrong. It runs over as many pages as it needs; steps that are not done under the chosen options are left
// out.
func PlanCard(w io.Writer, p atlas.Piece, pl atlas.Plan, m seammap.Map, market string) error {
	c := newCard(p, m, market, planSize)
	c.pdf.SetTitle("Steps: "+p.NameIn(market)+", "+pl.ShortName(), true)
	c.pdf.SetAutoPageBreak(true, margin)
	done := stepsOf(p, pl)
	c.numbers = numbered(p, done)
	c.put(margin, textWide, "B", 20, ink, p.NameIn(market))
	c.put(margin, textWide, "", 11, ink, pl.Name)
	c.put(margin, textWide, "", 9, second, fmt.Sprintf("%.0f minutes on a piece of the usual weight, %s", pl.Minutes,
		p.Typical().Text("kg", 1)))
	c.pdf.Ln(2)
	top := c.pdf.GetY()
	bottom := c.drawMap(margin, top, mapWide)
	x := margin + mapWide + 6
	c.pdf.SetY(top)
	c.put(x, textWide-mapWide-6, "B", c.size+1, ink, "Take care")
	for _, caution := range p.CautionsFor(pl) {
		c.put(x, textWide-mapWide-6, "", c.size, ink, "- "+caution)
	}
	c.put(x, textWide-mapWide-6, "", c.size-0.5, second, "Local codes and your own training come first.")
	c.pdf.SetY(max(bottom, c.pdf.GetY()) + 3)
	c.rule()
	for i, d := range done {
		c.step(i+1, pl, d)
	}
	c.put(margin, textWide, "", c.size-0.5, second, "Basis: "+p.Basis+".")
	return c.pdf.Output(w)
}

// planSize is the size of the text of a plan's card, in points; it is read at arm's length.
const planSize = 9.5

// stepsOf lists the steps that are done, those of a plan of percentages without what is only reckoned by share.
func stepsOf(p atlas.Piece, pl atlas.Plan) []steps.Done {
	var out []steps.Done
	for _, d := range p.Flow(pl).Steps {
		if !d.Idle && (pl.OwnSteps() || d.Weigh != steps.WeighNone) {
			out = append(out, d)
		}
	}
	return out
}

// numbered gives each muscle the number of the step in which it first leaves.
func numbered(p atlas.Piece, done []steps.Done) map[string]int {
	out := map[string]int{}
	for i, d := range done {
		first := func(part string) {
			if _, isMuscle := p.Muscle(part); isMuscle && out[part] == 0 {
				out[part] = i + 1
			}
		}
		for part := range d.Parts {
			first(part)
		}
		for _, o := range d.Outputs {
			if o.Kind == steps.ToTub {
				continue
			}
			for part := range o.Holds {
				first(part)
			}
		}
	}
	return out
}

// step writes one step; one that would be broken over two pages begins on the next.
func (c *card) step(n int, pl atlas.Plan, d steps.Done) {
	if c.pdf.GetY() > pageHigh-margin-28 {
		c.pdf.AddPage()
	}
	how := strings.ReplaceAll(d.Tool, "_", " ")
	if thick := words.Thickness(d.Step); thick != "" {
		how = strings.Trim(how+", "+thick, ", ")
	}
	y := c.pdf.GetY()
	c.put(margin, 10, "B", c.size+3, ink, fmt.Sprint(n))
	c.pdf.SetY(y)
	c.put(margin+10, textWide-10, "B", c.size+1, ink, words.Step(c.piece, pl, d))
	if how != "" {
		c.put(margin+10, textWide-10, "", c.size, second, how)
	}
	if d.Say.Hold != "" {
		c.put(margin+10, textWide-10, "", c.size, ink, "Hold: "+d.Say.Hold)
	}
	if d.Say.Find != "" {
		c.put(margin+10, textWide-10, "", c.size, ink, d.Say.Find)
	}
	if wrong := strings.TrimSpace(d.Say.Wrong + " " + d.Caution); wrong != "" {
		c.put(margin+10, textWide-10, "B", c.size, act, wrong)
	}
	if d.Say.Stop != "" {
		c.put(margin+10, textWide-10, "", c.size, ink, "Stop: "+d.Say.Stop)
	}
	c.pdf.SetY(c.pdf.GetY() + 1)
	c.rule()
}
