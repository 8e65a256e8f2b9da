package age

import (
	"fmt"

	"falda/internal/core/atlas"
)

// Limits for meat as it comes in. Temperatures: Regulation (EC) No 853/2004, Annex III, Section I, chapter VII (from
// memory): red meat 7 °C, offal 3 °C. pH: above about 5.8 beef is dark-cutting; common practice, no source.
const (
	warmest  = 7.0
	frozen   = -1.5
	darkAt   = 5.8
	unripeAt = 6.0 // above it rigor is not over, or never was
)

// AtBench is the caution about the temperature of a piece, in °C, that is being cut; empty within the limits.
// Regulation (EC) No 853/2004, Annex III, Section I, chapter V (from memory): meat stays at or below 7 °C while it is
// cut, the room at or below 12 °C.
func AtBench(p atlas.Piece, c float64) string {
	switch {
	case c > warmest:
		return "That is above the 7 °C (45 °F) that red meat may have while it is cut. Back into the chill; no mince of it " +
			"before you have checked your local rules."
	case c < frozen:
		return "That is freezing: the fat breaks and the knife slips. Let it come to 0 to 4 °C (32 to 39 °F) first."
	}
	return ""
}

// AtArrival lists the cautions about a piece as it came in. Temperature in °C and pH may be unknown. Local rules
// decide. How long it may be minced is MinceUntil.
func AtArrival(p atlas.Piece, temperature, ph *float64, ageClass string) []string {
	var out []string
	if t := temperature; t != nil {
		switch {
		case *t > warmest:
			out = append(out,
				fmt.Sprintf("%.1f °C is warmer than the 7 °C that red meat may have. Do not take it in before you have checked "+
					"your local rules.", *t))
		case *t < frozen:
			out = append(out,
				fmt.Sprintf("At %.1f °C it is freezing or frozen. Thawed meat is cut soon, is not frozen again, and must be "+
					"labelled so.", *t))
		}
	}
	if ph != nil && p.Species == "beef" && *ph > darkAt {
		word := "It may be dark-cutting: it keeps badly and stays red when cooked. Do not age it further; use it soon."
		if *ph > unripeAt {
			word = "It is dark-cutting, or rigor is not over. Measure again; do not vacuum-pack or age it."
		}
		out = append(out, fmt.Sprintf("pH %.2f is above %.1f. %s", *ph, darkAt, word))
	}
	if ageClass == "over_30_months" || ageClass == "over_12_months" {
		out = append(out,
			"Spinal column, cord and skull of older animals may be specified-risk material: who may cut it, and what happens "+
				"to bones, is a matter of your local rules.")
	}
	return out
}
