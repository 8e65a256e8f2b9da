package device

import (
	"fmt"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Status is whether a scale's weight can be used.
type Status string

// The statuses.
const (
	OK           Status = "ok"
	Over         Status = "over"         // more than the scale can weigh
	Under        Status = "under"        // below zero by more than the scale shows
	Disconnected Status = "disconnected" // no scale, or it does not speak
	WrongUnit    Status = "wrong_unit"   // it shows a unit that is not known, and no weight counts until it says another
)

// Reading is what a scale shows at one moment.
type Reading struct {
	Status    Status
	Stable    bool
	Gross     measure.Mass
	Tare      measure.Mass
	Net       measure.Mass // Gross − Tare
	Division  measure.Mass
	Unit      measure.Unit // that the scale shows
	Simulated bool
	Load      int // grows each time another load lies there, so that one load is booked once
	Message   string
}

// rounding is how far three weights may be apart that were each rounded to the milligram.
const rounding = 2 * measure.Milligram

// maxLine bounds a line of the protocol, in bytes.
const maxLine = 200

// parse reads one line from a scale into a reading that holds what earlier lines said. Lines that the protocol does not
// know are errors; they change nothing.
func (r Reading) parse(line string) (Reading, error) {
	words := strings.Fields(line)
	if len(line) > maxLine || len(words) < 2 {
		return r, fmt.Errorf("scale: %q is not a line of the protocol", clip(line))
	}
	next := r
	switch words[0] {
	case "hello":
		next.Simulated = false
	case "weight":
		next.Status, next.Stable = OK, words[1] == "stable"
		switch words[1] {
		case "stable", "moving":
		case "over":
			next.Status = Over
		case "under":
			next.Status = Under
		default:
			return r, fmt.Errorf("scale: %q is not a state", clip(words[1]))
		}
	default:
		return r, fmt.Errorf("scale: %q is not a line of the protocol", clip(line))
	}
	for _, w := range words[2:] {
		key, value, _ := strings.Cut(w, "=")
		if err := next.set(key, value); err != nil {
			return r, fmt.Errorf("scale: %s: %w", clip(w), err)
		}
	}
	// pounds do not come out at whole milligrams
	if off := next.Net - (next.Gross - next.Tare); off >= -rounding && off <= rounding {
		next.Net = next.Gross - next.Tare
	}
	if words[0] == "weight" && (next.Division <= 0 || next.Net != next.Gross-next.Tare) {
		return r, fmt.Errorf("scale: %q does not add up", clip(line))
	}
	next.Message = ""
	return next, nil
}

func (r *Reading) set(key, value string) error {
	var target *measure.Mass
	switch key {
	case "unit":
		u := measure.Unit(value)
		if !u.Valid() {
			return fault.New("", "unknown_unit", "is not a unit", "")
		}
		r.Unit = u
		return nil
	case "simulated":
		r.Simulated = value == "yes"
		return nil
	case "gross":
		target = &r.Gross
	case "tare":
		target = &r.Tare
	case "net":
		target = &r.Net
	case "division":
		target = &r.Division
	default:
		return nil // later versions may say more
	}
	if r.Unit == "" {
		return fault.New("", "no_unit", "no unit was said", "")
	}
	m, err := measure.ParseMass(value, r.Unit)
	if err != nil {
		return err
	}
	*target = m
	return nil
}

func clip(s string) string {
	if len(s) > 60 {
		return s[:60] + "…"
	}
	return s
}
