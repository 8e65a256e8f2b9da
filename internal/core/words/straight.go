package words

import (
	"fmt"
	"math"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/straight"
)

// Straight says what a piece gives that is cut straight through, a sentence each: “4 of 15 slices hold a hard line,
// where striploin eye and vein end meet.”
func Straight(p atlas.Piece, r straight.Reading) []string {
	n := len(r.Slices)
	var hard, many, low, falls int
	var of []string
	meet := map[string]bool{}
	for _, s := range r.Slices {
		for _, l := range s.Lines {
			if a, z := muscle(p, l.A), muscle(p, l.B); l.Hard && !meet[a+z] {
				meet[a+z] = true
				of = append(of, a+" and "+z)
			}
		}
	}
	for _, pr := range r.Products {
		hard, many, low, falls = hard+pr.Hard, many+pr.Many, low+pr.Low, falls+pr.Falls
	}
	var out []string
	if hard > 0 {
		out = append(out, fmt.Sprintf("%d of %s %s a hard line, where %s meet.", hard, Count(n, "slice", "slices"),
			verb(hard, "holds", "hold"), strings.Join(of, ", and ")))
	}
	if many > 0 {
		text := fmt.Sprintf("%d of %s %s three muscles or more", many, Count(n, "slice", "slices"),
			verb(many, "holds", "hold"))
		if low > 0 {
			text += fmt.Sprintf("; in %d one of them is below 3", low)
		}
		out = append(out, text+".")
	} else if low > 0 {
		out = append(out, fmt.Sprintf("In %d of %s a muscle is below 3.", low, Count(n, "slice", "slices")))
	}
	if hard+many+low == 0 {
		out = append(out, "No slice holds a hard line, and none more than two muscles.")
	}
	if falls > 0 {
		out = append(out, fmt.Sprintf("%d %s apart along a seam unless tied.", falls, verb(falls, "falls", "fall")))
	}
	if stop := stopping(p, r); stop != "" {
		out = append(out, stop)
	}
	return out
}

// stopping says where the cutter should stop.
func stopping(p atlas.Piece, r straight.Reading) string {
	if r.StopMm == 0 || r.Stop == "" {
		return ""
	}
	before := 0
	for _, s := range r.Slices {
		if s.ToMm <= r.StopMm+1 {
			before++
		}
	}
	return fmt.Sprintf("Where to stop: %.0f mm from the %s, after %s; there the %s comes in.", math.Round(r.StopMm),
		p.Body.Axis.From, Count(before, "slice", "slices"), muscle(p, r.Stop))
}

func muscle(p atlas.Piece, id string) string {
	m, _ := p.Muscle(id)
	return Uncapitalised(m.Name)
}

func verb(n int, one, many string) string {
	if n == 1 {
		return one
	}
	return many
}
