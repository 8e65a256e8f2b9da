package stock

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
)

// Word is one of the words with which an arrival is described.
type Word struct{ ID, Name string }

// Words are the words there are for each field of an arrival that is chosen from a list, in the order in which they are
// shown.
var Words = map[string][]Word{
	"bone": {{"bone_in", "bone-in"}, {"boneless", "boneless"}},
	"feed": {{"grass", "grass"}, {"grain", "grain"}, {"mixed", "grass, finished on grain"}},
	"sex": {{"heifer", "heifer"}, {"steer", "steer"}, {"bull", "bull"}, {"cow", "cow"}, {"ewe", "ewe"},
		{"wether", "wether"}, {"ram", "ram"}},
	"age_class": {{"up_to_12_months", "up to 12 months"}, {"over_12_months", "over 12 months, sheep"},
		{"up_to_30_months", "up to 30 months, cattle"}, {"over_30_months", "over 30 months, cattle"}},
	"hang": {{"achilles", "by the Achilles tendon"}, {"hip", "by the hip bone"}},
}

// readWords checks the texts of an arrival, and trims them.
func readWords(in *Arrival, faults *fault.List) {
	in.Supplier, in.LotNumber, in.Note = strings.TrimSpace(in.Supplier), strings.TrimSpace(in.LotNumber),
		strings.TrimSpace(in.Note)
	text := func(field, value string, limit int, need bool) {
		switch {
		case need && value == "":
			faults.Add(field, fault.Required("Enter it from the label."))
		case utf8.RuneCountInString(value) > limit:
			faults.Add(field, fault.New("", "too_long", fmt.Sprintf("is longer than %d characters", limit), "Shorten it."))
		case !utf8.ValidString(value) ||
			strings.ContainsFunc(value, func(r rune) bool { return r < ' ' && r != '\n' && r != '\t' }):
			faults.Add(field, fault.New("", "not_text", "holds characters that are not text", "Type it again."))
		}
	}
	text("supplier", in.Supplier, MaxSupplier, true)
	text("lot_number", in.LotNumber, MaxLotNumber, true)
	text("note", in.Note, fault.MaxNote, false)
}

// readAbout reads what is known of the animal and of how it came; all of it may be unknown.
func readAbout(in Arrival, a *CheckedArrival, faults *fault.List) {
	a.About = store.About{Bone: in.Bone, Feed: in.Feed, Sex: in.Sex, AgeClass: in.AgeClass, Hang: in.Hang,
		FatClass: strings.TrimSpace(in.FatClass), Marbling: strings.TrimSpace(in.Marbling),
		SupplierGrade: strings.TrimSpace(in.SupplierGrade), Breed: strings.TrimSpace(in.Breed),
		BornIn: strings.TrimSpace(in.BornIn), RearedIn: strings.TrimSpace(in.RearedIn),
		SlaughteredIn: strings.TrimSpace(in.SlaughteredIn), Plant: strings.TrimSpace(in.Plant)}
	for _, x := range [][2]string{{"bone", in.Bone}, {"feed", in.Feed}, {"sex", in.Sex}, {"age_class", in.AgeClass},
		{"hang", in.Hang}} {
		if x[1] != "" && !slices.ContainsFunc(Words[x[0]], func(w Word) bool { return w.ID == x[1] }) {
			faults.Add(x[0],
				fault.New("", "unknown", fault.Quote(x[1])+" is not one of the words for it",
					"Choose one of the list, or leave it open."))
		}
	}
	faults.Add("fat_class", fault.Text(a.About.FatClass, 20, false))
	faults.Add("marbling", fault.Text(a.About.Marbling, 20, false))
	faults.Add("supplier_grade", fault.Text(a.About.SupplierGrade, 40, false))
	faults.Add("breed", fault.Text(a.About.Breed, 60, false))
	faults.Add("born_in", fault.Text(a.About.BornIn, 40, false))
	faults.Add("reared_in", fault.Text(a.About.RearedIn, 40, false))
	faults.Add("slaughtered_in", fault.Text(a.About.SlaughteredIn, 40, false))
	faults.Add("plant", fault.Text(a.About.Plant, 20, false))
	number := func(field, text string, low, high float64) *float64 {
		if strings.TrimSpace(text) == "" {
			return nil
		}
		n, err := measure.ParseNumber(text)
		if err != nil {
			faults.Add(field, err)
			return nil
		}
		v, _ := strconv.ParseFloat(n.FloatString(2), 64)
		if v < low || v > high {
			faults.Add(field,
				fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", low, high),
					"Check the number, or leave it open."))
			return nil
		}
		return &v
	}
	a.About.Ph, a.About.TemperatureC = number("ph", in.Ph, 4, 9), number("temperature_c", in.TemperatureC, -30, 45)
	a.About.FatPct, a.About.LeanYieldPct = number("fat_pct", in.FatPct, 0, 40),
		number("lean_yield_pct", in.LeanYieldPct, 30, 80)
}
