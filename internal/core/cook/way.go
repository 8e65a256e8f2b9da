package cook

import (
	"math"

	"falda/internal/core/atlas"
)

// Way is a way of cooking a product: one of the methods, or something more done with one.
type Way struct {
	ID, Name string
	method   string // of the atlas
}

// The ways that are more than a method.
const (
	slowCooker = "slow_cooker"
	coldSliced = "cold_sliced"
)

// waysOf lists the ways in which a product can be cooked: the one that it is sold for first, then those that the muscle
// that it is mostly of is known by. What is minced, treated or thin is cooked the one way that it is made for.
func waysOf(p atlas.Piece, pr atlas.Product) []Way {
	first, ok := atlas.FindMethod(pr.Cook)
	if !ok {
		return nil
	}
	ways := []Way{{first.ID, first.Name, first.ID}}
	fixed := pr.Treated != "" || first.ID == "mince" || first.ID == "cure_cook" || first.ID == "stir_fry" ||
		first.ID == "thin_slice"
	muscles := mostlyOf(p, pr)
	if !fixed && len(muscles) > 0 {
		for _, m := range atlas.Methods {
			_, known := muscles[0].Eating[m.ID]
			if known && m.ID != first.ID && fits(pr, m.ID) {
				ways = append(ways, Way{m.ID, m.Name, m.ID})
			}
		}
	}
	for _, w := range ways {
		switch w.ID {
		case "braise", "stew":
			return append(ways, Way{slowCooker, "Slow cooker", w.ID})
		case "roast":
			ways = append(ways, Way{coldSliced, "Roast, cold and sliced thin", "roast"})
		}
	}
	return ways
}

// fits says whether a product in the shape that it is sold in can be cooked by a method: a steak is fried and not
// roasted, a joint is roasted and not fried.
func fits(pr atlas.Product, method string) bool {
	flat := pr.ThicknessMm > 0 && pr.ThicknessMm <= 60
	switch method {
	case "grill", "pan_fry":
		return flat || pr.Form == "whole" || pr.Form == "medallion"
	case "roast", "slow_roast", "smoke":
		return !flat
	case "braise":
		return true
	}
	return false
}

// after adds what a way does more than its method.
func (c *Card) after() {
	switch c.Way.ID {
	case slowCooker:
		c.CoreC, c.TakeOutC, c.RestMin, c.HoldMin = 90, 90, 10, 120
		c.Steps = []Step{{Do: "Brown it on all sides in a hot pan.", Minutes: 10, Hands: true},
			{Do: "Into the slow cooker, half covered with liquid, lid on, on low; on high it takes half as long.",
				Minutes: math.Round((300+60*c.WeightG/1000)*c.tough()/30) * 30},
			{Do: "Let it rest in its liquid.", Minutes: 10}}
	case coldSliced:
		c.Steps = append(c.Steps, Step{Do: "Cool it within two hours, then chill it overnight, wrapped.", Minutes: 120},
			Step{Do: "Slice it cold, as thin as you can; keep it below 5 °C and eat it within three days.", Hands: true})
	}
}

// gasMarks are the marks of British gas ovens by temperature (usual tables; from memory).
var gasMarks = []struct {
	c    float64
	mark string
}{{110, "¼"}, {120, "½"}, {140, "1"}, {150, "2"}, {165, "3"}, {180, "4"}, {190, "5"}, {200, "6"}, {220, "7"},
	{230, "8"}, {240, "9"}}

// GasMark is the mark of a gas oven that comes next to a temperature; empty for none.
func GasMark(c float64) string {
	if c <= 0 {
		return ""
	}
	best := gasMarks[0]
	for _, g := range gasMarks {
		if math.Abs(g.c-c) < math.Abs(best.c-c) {
			best = g
		}
	}
	return best.mark
}
