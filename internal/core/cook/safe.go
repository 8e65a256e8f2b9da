// Package cook says how a cut is cooked: safe centres, times as steps, how many it feeds, and a timetable for several
// at once. Times are estimates that start a cook off; a probe decides. It has no clock.
package cook

import (
	"fmt"
	"math"
	"slices"
	"time"

	"falda/internal/core/fault"
)

// Safe floors of the centre, °C. Source: USDA FSIS safe minimum internal temperatures (from memory): whole cuts of beef
// and lamb 63 °C (145 °F) and 3 minutes of rest, minced meat 71 °C (160 °F). What is pierced, tenderised, rolled or
// stuffed carries its outside within and counts as minced, unless a validated instruction says otherwise.
const (
	MinCoreWhole  = 63.0
	MinCoreMinced = 71.0
	MinRest       = 3.0 // minutes, whole cuts
)

// IsGame says whether a species is shot and not slaughtered.
func IsGame(species string) bool { return species != "beef" && species != "lamb" }

// MinSafeCore is the safe centre of a cut, with why. Game is cooked through (common practice, no source): it was shot,
// and hung in its skin.
func MinSafeCore(minced, treated, game bool) (centre float64, why string) {
	switch {
	case game && !minced:
		return MinCoreMinced, "game is cooked through, 71 °C, unless your local game rules say otherwise"
	case minced:
		return MinCoreMinced, "minced meat: 71 °C throughout"
	case treated:
		return MinCoreMinced, "pierced, tenderised, rolled or stuffed: it counts as minced meat, 71 °C"
	}
	return MinCoreWhole, "a whole cut: 63 °C and 3 minutes of rest"
}

// Reference of lethality: 2 minutes at 70 °C. Source: UK FSA guidance (from memory), whose table also has 60 °C 45 min,
// 65 °C 10 min, 75 °C 30 s and 80 °C 6 s.
const (
	ReferenceC  = 70.0
	ZValue      = 7.5 // °C for ten times as fast
	SafeMinutes = 2.0 // minutes at the reference
)

// LethalRate is how many minutes at 70 °C a minute at a temperature counts for.
func LethalRate(c float64) float64 { return math.Pow(10, (c-ReferenceC)/ZValue) }

// Sample is a temperature of the centre at a time since the start.
type Sample struct {
	At time.Duration
	C  float64
}

// most bounds a log.
const most = 100_000

// Run is what a probe's log says.
type Run struct {
	PasteurisationMinutes float64        // at 70 °C that it is worth, of all of it
	SafeAt                *time.Duration // when it had been worth 2
	Peak                  float64
	PeakAt                time.Duration
	MinCoreAt             *time.Duration // when the floor was first reached
	TakeOutAt             *time.Duration // when the wanted centre less the carry-over was first reached
	Readings              int
}

// CarryOver is by how much the centre of a piece of so many kilograms still rises while it rests. Common practice, no
// source: 2 °C for a steak up to 6 °C for a large roast.
func CarryOver(kg float64) float64 { return math.Min(6, 2+2*math.Max(0, kg)) }

// Read works a log out: ∫10^((T−70)/7.5) dt by trapezoids of the rate, between soundings on a straight line of
// temperature. Soundings must be in their order, from −40 to 300 °C, two at least. Floor and wanted centre are in °C;
// kg is the weight.
func Read(log []Sample, floor, wanted, kg float64) (Run, error) {
	var faults fault.List
	if len(log) < 2 || len(log) > most {
		return Run{},
			fault.New("log", "out_of_range", "must hold two to 100,000 soundings", "Export the whole log of the probe.")
	}
	for i, s := range log {
		if math.IsNaN(s.C) || s.C < -40 || s.C > 300 {
			faults.Add(fmt.Sprintf("log[%d]", i),
				fault.New("", "out_of_range", "is no temperature from -40 to 300 °C", "Check the unit."))
		}
		if i > 0 && s.At <= log[i-1].At {
			faults.Add(fmt.Sprintf("log[%d]", i),
				fault.New("", "not_later", "is not later than the one before", "Sort the log by its time."))
		}
		if len(faults) > 10 {
			break
		}
	}
	if err := faults.Err(); err != nil {
		return Run{}, err
	}
	r := Run{Readings: len(log), Peak: log[0].C, PeakAt: log[0].At}
	cross := func(a, b Sample, c float64) time.Duration {
		if a.C >= c || b.C == a.C {
			return a.At
		}
		return a.At + time.Duration(float64(b.At-a.At)*(c-a.C)/(b.C-a.C))
	}
	takeOut := wanted - CarryOver(kg)
	for i, s := range log {
		if s.C > r.Peak {
			r.Peak, r.PeakAt = s.C, s.At
		}
		before := s
		if i > 0 {
			before = log[i-1]
		}
		if s.C >= floor && r.MinCoreAt == nil {
			at := cross(before, s, floor)
			r.MinCoreAt = &at
		}
		if s.C >= takeOut && r.TakeOutAt == nil {
			at := cross(before, s, takeOut)
			r.TakeOutAt = &at
		}
		if i == 0 {
			continue
		}
		span := (s.At - before.At).Minutes()
		worth := span * mean(before.C, s.C)
		if r.PasteurisationMinutes < SafeMinutes && r.PasteurisationMinutes+worth >= SafeMinutes {
			at := before.At + time.Duration((SafeMinutes-r.PasteurisationMinutes)/worth*float64(s.At-before.At))
			r.SafeAt = &at
		}
		r.PasteurisationMinutes += worth
	}
	return r, nil
}

// mean is the mean rate along a straight line of temperature, exactly.
func mean(a, b float64) float64 {
	if math.Abs(a-b) < 1e-9 {
		return LethalRate(a)
	}
	return (LethalRate(b) - LethalRate(a)) / ((b - a) * math.Ln10 / ZValue)
}

// Allergens are those that must be named. Source: Regulation (EU) No 1169/2011, Annex II (from memory).
var Allergens = []string{"gluten", "crustaceans", "eggs", "fish", "peanuts", "soya", "milk", "nuts", "celery",
	"mustard", "sesame", "sulphites", "lupin", "molluscs"}

// KnownAllergen says whether a word is one of them.
func KnownAllergen(a string) bool { return slices.Contains(Allergens, a) }
