package words

import (
	"slices"
	"strings"
	"testing"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/measure"
	"falda/internal/core/straight"
	"falda/internal/core/trial"
)

// Rule: one of a thing is said in the singular, wherever a sentence counts.
func TestSingularAndPlural(t *testing.T) {
	limit := bestuse.Minutes(6000)
	said := func(n int) map[string]string {
		best := BestUse{Cut: n, Brings: measure.MustMoney("10"), InTrial: n, TooYoung: n, Limit: &limit, Currency: "EUR"}
		return map[string]string{
			"history":  History{Measure: "yield", By: "week", Pieces: n, Mean: 88.2}.Sentence(),
			"best use": best.Sentence() + " " + strings.Join(best.Notes(), " "),
			"carcass":  Carcass{Unpriced: n, Currency: "EUR"}.Sentence(),
			"yields":   Yields(nil, n, true),
			"trial": Trial{A: "a", B: "b", Pairs: n, Open: n, ConfidencePct: 95, Unit: measure.UnitKilogram, Currency: "EUR",
				Result: &trial.Result{N: n, Mean: 1, Verdict: "not yet sure", More: n, Enough: true}}.Sentence(),
		}
	}
	for what, text := range said(1) {
		for _, wrong := range []string{"1 pieces", "1 finished pieces", "1 pairs", "1 more pairs",
			"1 of what it becomes have"} {
			if strings.Contains(text, wrong) {
				t.Errorf("%s: %s", what, text)
			}
		}
	}
	for what, text := range said(3) {
		for _, wrong := range []string{"3 piece ", "3 finished piece,", "3 pair,", "3 more pair ",
			"3 of what it becomes has"} {
			if strings.Contains(text, wrong) {
				t.Errorf("%s: %s", what, text)
			}
		}
	}
}

func TestTrialSentence(t *testing.T) {
	base := Trial{A: "cross-cut", B: "seamed", Pairs: 5, ConfidencePct: 95, Unit: measure.UnitKilogram, Currency: "EUR"}
	with := func(change func(*Trial)) string {
		x := base
		change(&x)
		return x.Sentence()
	}
	for want, got := range map[string]string{
		"No pair is complete yet; 5 to cut.": base.Sentence(),
		"In 5 of 5 pairs “seamed” brought more than “cross-cut”, €1.69 a kilogram on average: surely more than luck. The " +
			"true difference lies between +€1.42 a kilogram and +€1.97 a kilogram, 95 % sure.": with(func(x *Trial) {
			x.Result = &trial.Result{N: 5, Same: 5, Mean: 1.69, Low: 1.42, High: 1.97, P: 0.0004, Verdict: "real",
				Enough: true}
		}),
		"In 3 of 5 pairs “seamed” brought more than “cross-cut”, €0.20 a kilogram on average: it may be luck, 7 more pairs " +
			"would tell. The true difference lies between −€0.30 a kilogram and +€0.70 a kilogram, 95 % sure.": with(
			func(x *Trial) {
				x.Result = &trial.Result{N: 5, Same: 3, Mean: 0.2, Low: -0.3, High: 0.7, P: 0.3, Verdict: "not yet sure",
					More: 7, Enough: true}
			}),
		"In 1 of 1 pair “seamed” brought less than “cross-cut”, €0.45 a pound on average: too few to tell. 4 of 5 pairs " +
			"still to be cut.": with(func(x *Trial) {
			x.Unit, x.Open = measure.UnitPound, 4
			x.Result = &trial.Result{N: 1, Same: 1, Mean: -1, Verdict: "too few to tell"}
		}),
	} {
		if got != want {
			t.Errorf("%s\nwant %s", got, want)
		}
	}
}

func TestHistorySentence(t *testing.T) {
	h := History{Measure: "value", By: "cutter", Pieces: 12, Mean: -0.5, Groups: 3, Unit: measure.UnitPound,
		Currency: "EUR", Real: []Unlike{{"Ida", 0.9}}, Alone: []string{"Bo"}}
	want := "12 finished pieces, value a pound after all costs: mean −€0.23. Unlike the rest, the same kind cut by the " +
		"same plan: " +
		"Ida +€0.41. They cut by different plans, and so cannot be held against each other: Bo."
	if got := h.Sentence(); got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	h.By, h.Out = "week", []string{"2026-W10"}
	if got := h.Sentence(); !strings.Contains(got, "Beyond what chance makes of it: 2026-W10.") {
		t.Error(got)
	}
	if got := (History{}).Sentence(); got != "No finished piece fits; choose another piece, plan or other days." {
		t.Error(got)
	}
}

func TestBestUseSentences(t *testing.T) {
	limit, hour := bestuse.Minutes(6000), measure.MustMoney("18.5")
	b := BestUse{Cut: 4, Brings: measure.MustMoney("321.4"), Used: 5400, Limit: &limit, Hour: &hour, Proven: true,
		ShadowsProven: true, Unit: measure.UnitKilogram, Currency: "EUR",
		ProductName: func(string) string { return "Cap steak (picanha)" }}
	if got := b.Sentence(); got !=
		"4 pieces bring €321.40 so, before what they cost, in 54 of 60 bench minutes. One more bench hour would bring "+
			"€18.50 more." {
		t.Error(got)
	}
	if len(b.Notes()) != 0 {
		t.Errorf("nothing to note, got %v", b.Notes())
	}
	b.Proven, b.AtMost = false, measure.MustMoney("330")
	if !slices.Contains(b.Notes(), "Found in the time there was; nothing could bring more than €330.00.") {
		t.Errorf("%v", b.Notes())
	}
	plan := func(id string) string { return "“" + id + "”" }
	for reason, want := range map[bestuse.Reason]string{
		bestuse.BringsMost:   "Seamed brings €2.00 more than “straight”, the next best.",
		bestuse.DemandIsFull: "Seamed brings €2.00 more than “straight”: no more cap steak sells at its full price.",
		bestuse.ShortOfMinutes: "“straight” would bring €2.00 more here, but 1.5 minutes are missing; they bring more " +
			"elsewhere.",
		bestuse.ForAnOrder: "“straight” would bring €2.00 more, but then the order of cap steak would not be met.",
		bestuse.OnlyPlan:   "There is no other plan that it is ready for.",
	} {
		w := bestuse.Why{Chosen: bestuse.Choice{Plan: "seamed"}, Reason: reason, Other: "straight",
			By: measure.MustMoney("2"), Minutes: 150}
		if got := b.Because(w, plan); got != want {
			t.Errorf("%s: %s\nwant %s", reason, got, want)
		}
	}
	message, hint := b.Unmet(bestuse.Clash{Minutes: true,
		Orders: []bestuse.UnmetOrder{{Order: 2 * measure.Kilogram, AtMost: measure.Kilogram}}})
	if message != "cannot be met in 60 bench minutes: 2.00 kg of Cap steak (picanha) (at most 1.00 kg could be cut)" ||
		hint != "Give more bench minutes, or take one of them smaller." {
		t.Errorf("%s / %s", message, hint)
	}
}

func TestAgeingSentence(t *testing.T) {
	day := time.Date(2026, 3, 30, 0, 0, 0, 0, time.UTC)
	a := Ageing{Points: 1.24, Muscle: "Heart (gluteus medius)", Method: "Grill", Cost: measure.MustMoney("3.1"),
		Loss: 95 * measure.Gram, Unit: measure.UnitKilogram, Currency: "EUR",
		Young: []TooYoung{{"Cap", "Grill", day}, {"Mouse", "Grill", day}}}
	want := "Another week would bring at most 1.2 points (heart, grill), and cost €3.10: 0.095 kg of weight lost, and " +
		"the store. " +
		"Too young to grill until Monday 30 March: cap, mouse."
	if got := a.Sentence(); got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	young := age.Readiness{ReadyOn: day, Muscles: []age.Muscle{{Name: "Heart"}, {Name: "Cap", Ready: true}}}
	if got := Ready(young); got != "Not old enough to steak before 30 March: Heart." {
		t.Error(got)
	}
	if got := Ready(age.Readiness{}); !strings.HasPrefix(got, "Nothing of it is for quick cooking") {
		t.Error(got)
	}
}

// By hand, on slices that are made up.
func TestStraightSentences(t *testing.T) {
	a, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	p, _ := a.Find("beef.striploin")
	line := straight.Line{A: "eye", B: "vein_end", Hard: true}
	slices := []straight.Slice{{Laid: atlas.Laid{FromMm: 0, ToMm: 150}}, {Laid: atlas.Laid{FromMm: 150, ToMm: 300}},
		{Laid: atlas.Laid{FromMm: 300, ToMm: 440}, Lines: []straight.Line{line}}}
	for _, c := range []struct {
		products []straight.Product
		slices   []straight.Slice
		stop     string
		want     string
	}{
		{[]straight.Product{{N: 3, Hard: 1}}, slices, "vein_end",
			"1 of 3 slices holds a hard line, where striploin eye and " +
				"vein end meet. Where to stop: 303 mm from the rib end, after 2 slices; there the vein end comes in."},
		{[]straight.Product{{N: 2}}, slices[:2], "", "No slice holds a hard line, and none more than two muscles."},
		{[]straight.Product{{N: 2, Many: 2, Low: 1}}, slices[:2], "",
			"2 of 2 slices hold three muscles or more; in 1 one of them is below 3."},
		{[]straight.Product{{N: 2, Low: 2, Falls: 1}}, slices[:2], "",
			"In 2 of 2 slices a muscle is below 3. 1 falls apart along a seam unless tied."},
	} {
		r := straight.Reading{Products: c.products, Slices: c.slices, Stop: c.stop}
		if c.stop != "" {
			r.StopMm = 302.5
		}
		if got := strings.Join(Straight(p, r), " "); got != c.want {
			t.Errorf("%s\nwant %s", got, c.want)
		}
	}
}
