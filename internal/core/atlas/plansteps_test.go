package atlas

import (
	"maps"
	"math"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	"falda/internal/core/steps"
)

// Every plan of percentages, under every choice, becomes steps that pass the same checks and come back to the same
// percentages, waste and minutes: nothing changes for who cuts by it.
func TestPlansOfPercentagesBecomeSteps(t *testing.T) {
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	pieces := a.Pieces
	for _, c := range a.Carcasses {
		for _, d := range c.Divisions() {
			p := a.Whole(c, d.ID)
			pl, _ := p.Plan(d.ID)
			p.Plans = []Plan{pl}
			pieces = append(pieces, p)
		}
	}
	n := 0
	for _, p := range pieces {
		for _, pl := range p.Plans {
			if pl.OwnSteps() {
				continue
			}
			ways := []map[string]string{{}}
			for _, o := range p.OptionsOf(pl.ID) {
				for _, c := range o.Choices {
					ways = append(ways, map[string]string{o.ID: c.ID})
				}
			}
			if _, _, ok := p.CoverOf(pl); ok {
				ways = append(ways, map[string]string{FatCover: "2"})
			}
			for _, chosen := range ways {
				way, err := p.With(pl, chosen)
				if err != nil {
					t.Fatal(err)
				}
				way.Chosen = nil
				n++
				sameInSteps(t, p, way)
			}
		}
	}
	if n < 150 {
		t.Errorf("only %d ways were tried", n)
	}
}

func sameInSteps(t *testing.T, p Piece, pl Plan) {
	t.Helper()
	in := p.InSteps(pl)
	if in.OwnSteps() || !in.ByShares {
		t.Errorf("%s: the percentages are not what the plan says any more", pl.Name)
	}
	in.ByShares = false // as if the steps had been written by hand: what follows from them?
	in = p.Compile(in)
	name := p.ID + " " + pl.Name
	if faults := steps.Check(in.Steps, nil); len(faults) > 0 {
		t.Errorf("%s: %v", name, faults)
	}
	if f := p.Flow(in); len(f.Faults) > 0 || len(f.Left) > 0 {
		t.Errorf("%s: faults %v, left %v", name, f.Faults, f.Left)
	}
	if len(in.Products) != len(pl.Products) {
		t.Errorf("%s: %d products in steps, %d in percentages", name, len(in.Products), len(pl.Products))
	}
	for _, pr := range pl.Products {
		if got, _ := in.Product(pr.ID); !maps.Equal(got.From, pr.From) || got.Name != pr.Name || got.Treated != pr.Treated {
			t.Errorf("%s: %s is %+v in steps, %+v in percentages", name, pr.ID, got, pr)
		}
	}
	if !maps.Equal(in.Waste, pl.Waste) && len(in.Waste)+len(pl.Waste) > 0 {
		t.Errorf("%s: waste %v in steps, %v in percentages", name, in.Waste, pl.Waste)
	}
	if math.Abs(in.Minutes-pl.Minutes) > 0.0005 {
		t.Errorf("%s: %g minutes in steps, %g in percentages", name, in.Minutes, pl.Minutes)
	}
}

// inSteps is a small rump with a plan in steps and two forms.
const inSteps = `
- id: beef.made_up
  species: beef
  name: Made up rump
  region: hind
  basis: made up
  weight_kg: {low: 4, typical: 5, high: 7}
  section: {w: 100, h: 50}
  forms:
    - {id: without_tip, name: without tip, absent: [tip], default: true}
    - {id: half_tip, name: with half the tip, absent: {tip: 50}, code: {imps: "184"}}
  muscles:
    - {id: heart, code: H, name: Heart, anatomical: M. gluteus medius, share_pct: 60, at: [40, 30],
        grain: {texture: fine, direction: one way}, connective: low, tenderness: 4, lean_pct: 80, eating: {grill: 60},
        shape: {length_mm: 240}, seam: {tell: t, danger: d}}
    - {id: tip, code: T, name: Tip, anatomical: M. tensor fasciae latae, share_pct: 20, at: [80, 30],
        grain: {texture: medium, direction: two ways}, connective: low, tenderness: 3, lean_pct: 80,
        eating: {grill: 60}, shape: {length_mm: 120}, seam: {tell: t, danger: d}}
  other:
    - {id: cover, name: Cover fat, kind: fat, share_pct: 10}
    - {id: trim, name: Trim, kind: trim, share_pct: 5}
    - {id: skin, name: Skin, kind: waste, share_pct: 4}
    - {id: loss, name: Loss, kind: loss, share_pct: 1}
  plans:
    - id: straight
      school: traditional
      name: Straight
      why: w
      cut: straight
      tool: knife
      minutes: 5
      products:
        - {id: rump_steak, name: Rump steak, form: steak, from: {heart: 100, tip: 100, cover: 50}}
        - {id: fat, name: Fat for rendering, form: fat, from: {cover: 50}}
        - {id: mince_trim, name: Mince trim, form: trim, from: {trim: 100}}
    - id: seamed
      school: seamed
      name: Seamed
      why: w
      cut: seams
      options:
        - {id: tip, name: Tip, default: roast, choices: [{id: roast, name: As a roast}, {id: dice, name: Diced,
            why: "sells"}]}
      products:
        - {id: heart_steak, name: Heart steak, form: steak}
        - {id: tip_roast, name: Tip roast, form: roast}
        - {id: tip_dice, name: Tip dice, form: dice}
      steps:
        - {id: tip, do: take_off, parts: {tip: 100, cover: 10}, as: {block: tip, name: Tip with its fat}, minutes: 1}
        - {id: roast, do: keep, of: tip, when: {tip: roast}, gives: [{product: tip_roast, count: 1}], minutes: 0.5}
        - {id: dice, do: dice, of: tip, mm: 25, when: {tip: dice}, gives: [{product: tip_dice, pct: 90},
            {tub: mince_trim}], minutes: 2}
        - {id: dress, do: dress, of: piece, takes: [{part: cover, pct: 90, to: fat}, {part: skin, pct: 100,
            to: discard}, {part: heart, pct: 4, to: mince_trim}], after: [tip], minutes: 1}
        - {id: heart, do: take_off, of: piece, parts: {heart: 96}, as: {block: heart}, after: [dress], minutes: 0.5}
        - {id: steaks, do: slice, of: heart, mm: 30, gives: [{product: heart_steak, count: {low: 7, high: 8}}],
            tool: long_knife, minutes: {per_slice: 0.2}}
`

func madeUp(t *testing.T) Piece {
	t.Helper()
	pieces, err := Decode("made up", []byte(inSteps))
	if err != nil {
		t.Fatal(err)
	}
	return pieces[0]
}

// What a plan in steps makes, wastes, takes and needs follows from its steps.
func TestPlanFollowsFromItsSteps(t *testing.T) {
	p := madeUp(t)
	pl, _ := p.Plan("seamed")
	for id, want := range map[string]map[string]float64{
		"heart_steak": {"heart": 96}, "tip_roast": {"tip": 100, "cover": 10}, "fat": {"cover": 90},
		"mince_trim": {"heart": 4, "trim": 100}, // the loose trim too
	} {
		if pr, _ := pl.Product(id); !maps.Equal(pr.From, want) {
			t.Errorf("%s is made of %v, want %v", id, pr.From, want)
		}
	}
	if _, made := pl.Product("tip_dice"); made {
		t.Error("tip dice without the choice")
	}
	steak, _ := pl.Product("heart_steak")
	if steak.ThicknessMm != 30 || steak.Count != (Count{7, 8}) || pl.Minutes != 1+0.5+1+0.5+0.2*7.5 || pl.Tool != "knife" {
		t.Errorf("steak %+v, %g minutes with the %s", steak, pl.Minutes, pl.Tool)
	}
	diced, err := p.With(pl, map[string]string{"tip": "dice"})
	if err != nil {
		t.Fatal(err)
	}
	dice, _ := diced.Product("tip_dice")
	if !maps.Equal(dice.From, map[string]float64{"tip": 90, "cover": 9}) || !strings.HasSuffix(diced.Name, "; diced") {
		t.Errorf("%s: dice of %v", diced.Name, dice.From)
	}
	o := p.OptionsOf("seamed")
	if len(o) != 1 || o[0].AsIs != "As a roast" || len(o[0].Choices) != 1 || o[0].Choices[0].Minutes != 1.5 {
		t.Errorf("options %+v", o)
	}
	if _, err := p.With(pl, map[string]string{"tip": "mince"}); err == nil {
		t.Error("a choice that there is not was made")
	}
}

// A form lacks what it says, whole or in part: shares, weights and plans go by what is there.
func TestFormsLackWhatTheySay(t *testing.T) {
	p := madeUp(t)
	without := p.As("without_tip")
	if _, has := without.Muscle("tip"); has || without.Name != "Made up rump" {
		t.Errorf("%s has a tip", without.Name)
	}
	if m, _ := without.Muscle("heart"); math.Abs(m.SharePct-75) > 1e-9 || math.Abs(without.WeightKg.Typical-4) > 1e-9 {
		t.Errorf("heart %g %% of %g kg", m.SharePct, without.WeightKg.Typical)
	}
	pl, _ := without.Plan("seamed")
	if faults := ValidatePlan(without, pl); len(faults) > 0 {
		t.Errorf("the plan does not fit: %v", faults)
	}
	half := p.As("half_tip")
	m, _ := half.Muscle("tip")
	if math.Abs(m.SharePct-10/0.9) > 1e-9 || half.Codes["imps"] != "184" ||
		half.Name != "Made up rump, with half the tip" || half.Missing["tip"] != 50_000 {
		t.Errorf("half a tip is %g %%, code %v, missing %v", m.SharePct, half.Codes, half.Missing)
	}
	pl, _ = half.Plan("seamed")
	if roast, _ := pl.Product("tip_roast"); roast.From["tip"] != 100 {
		t.Errorf("of the tip that is there, %g %% goes to the roast", roast.From["tip"])
	}
	if faults := ValidatePlan(half, pl); len(faults) > 0 {
		t.Errorf("the plan does not fit: %v", faults)
	}
}

// What a finding takes is gone before the steps begin: less is left for what the part would have become.
func TestFindingsTakeBeforeTheSteps(t *testing.T) {
	p := madeUp(t)
	p.Inspect = []Inspect{{ID: "clot", Look: "l", Do: "d", Takes: Takes{Pct: 10, Of: []string{"heart"}, To: Discard}}}
	found := p.Found([]string{"clot"}, nil)
	pl, _ := found.Plan("seamed")
	steak, _ := pl.Product("heart_steak")
	if steak.From["heart"] != 86 || pl.Waste["heart"] != 10 {
		t.Errorf("steak %v, waste %v", steak.From, pl.Waste)
	}
	if faults := ValidatePlan(found, pl); len(faults) > 0 {
		t.Errorf("the plan does not fit: %v", faults)
	}
}

func TestValidationNamesTheStep(t *testing.T) {
	for was, becomes := range map[string][2]string{
		"parts: {heart: 96}":        {"parts: {heart: 90}", "6 % of heart is left in piece"},
		"{product: heart_steak":     {"{product: round_steak", "“round_steak” is not among the plan's products"},
		"{part: skin, pct: 100":     {"{part: hide, pct: 100", "“hide” is not a muscle or part"},
		"absent: [tip], default":    {"absent: [tail], default", "“tail” is not a muscle or part"},
		"do: slice, of: heart":      {"do: carve, of: heart", "“carve” is not one of"},
		"when: {tip: dice}":         {"when: {tip: cubes}", "“cubes” is not one of its choices"},
		"{product: tip_roast, coun": {"{tub: fat, coun", "products.tip_roast: no step gives it"},
	} {
		_, err := Decode("made up", []byte(strings.Replace(inSteps, was, becomes[0], 1)))
		if err == nil || !strings.Contains(err.Error(), becomes[1]) {
			t.Errorf("%s: %v, want “%s”", becomes[0], err, becomes[1])
		}
	}
}

// Every piece has a length along the straight cut, every muscle one along its own, and what a millimetre weighs is of
// the trade's order. A 32 mm slice of the undivided heart of a big rump is said to weigh about 680 g, 21 g a millimetre
// (common practice, no source); the whole rump, cap and tri-tip with it, must weigh more a millimetre than that, and
// less than twice as much.
func TestLengthsAlongTheCut(t *testing.T) {
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range a.Pieces {
		if p.LengthMm <= 0 {
			t.Errorf("%s has no length", p.ID)
		}
		for _, m := range p.Muscles {
			if m.Shape.LengthMm <= 0 {
				t.Errorf("%s %s has no length", p.ID, m.ID)
			}
		}
	}
	rump, _ := a.Find("beef.top_sirloin")
	if perMm := rump.GramsPerMm(rump.High()); perMm < 21 || perMm > 42 {
		t.Errorf("a big rump weighs %.1f g a millimetre", perMm)
	}
}

// The example of docs/steps.md is a plan of the rump as the atlas has it.
func TestTheExampleOfTheDocs(t *testing.T) {
	doc, err := os.ReadFile("../../../docs/steps.md")
	if err != nil {
		t.Fatal(err)
	}
	_, rest, found := strings.Cut(string(doc), "```yaml\n")
	example, _, closed := strings.Cut(rest, "```")
	if !found || !closed {
		t.Fatal("docs/steps.md has no example")
	}
	var plans []Plan
	if err := unmarshal([]byte(example), &plans); err != nil {
		t.Fatal(err)
	}
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	p, _ := a.Find("beef.top_sirloin")
	pl := p.Compile(plans[0])
	if faults := ValidatePlan(p, pl); len(faults) > 0 {
		t.Error(faults)
	}
	if heart, _ := pl.Product("heart_steak"); heart.From["heart_side"] != 0 || heart.From["heart_main"] != 95 {
		t.Errorf("heart steaks of %v", heart.From)
	}
	p.Plans = []Plan{pl}
	straight, err := p.With(pl, map[string]string{"heart": "straight"})
	if err != nil {
		t.Fatal(err)
	}
	if heart, _ := straight.Product("heart_steak"); heart.From["heart_side"] != 95 {
		t.Errorf("straight heart steaks of %v", heart.From)
	}
}

// In every form of every piece the shares add to 100 % and every plan still fits: everything that is there goes
// somewhere.
// A plan that was made when the knuckle's triangle was a part of its flap says the same of both; a plan that knows both
// stays as it is.
func TestPlansFollowAMuscleThatWasParted(t *testing.T) {
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	for id, parted := range map[string][2]string{"beef.knuckle": {"flap", "triangle"},
		"beef.topside": {"tender_top", "tender_side"}} {
		p, _ := a.Find(id)
		old, now := parted[0], parted[1]
		for _, pl := range p.Plans {
			if again := p.Inherit(pl); !reflect.DeepEqual(again, pl) {
				t.Errorf("%s: %s changed, which knows both", id, pl.ID)
			}
			if pl.OwnSteps() {
				continue
			}
			before := pl
			before.Products = slices.Clone(pl.Products)
			for i := range before.Products {
				before.Products[i].From = maps.Clone(before.Products[i].From)
				delete(before.Products[i].From, now)
			}
			before.Waste = maps.Clone(pl.Waste)
			delete(before.Waste, now)
			follows := p.Inherit(before)
			for _, f := range ValidatePlan(p, follows) {
				t.Errorf("%s: %s does not follow: %v", id, pl.ID, f)
			}
			for _, pr := range follows.Products {
				if pr.From[old] != pr.From[now] {
					t.Errorf("%s: %s gives %s %g %% of the one and %g of the other", id, pl.ID, pr.ID, pr.From[old], pr.From[now])
				}
			}
		}
	}
}

func TestEveryPlanFitsEveryForm(t *testing.T) {
	a, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	forms := 0
	for _, p := range a.Pieces {
		for _, f := range p.Forms {
			forms++
			as := p.As(f.ID)
			sum := 0.0
			for _, m := range as.Muscles {
				sum += m.SharePct
			}
			for _, o := range as.Other {
				sum += o.SharePct
			}
			if math.Abs(sum-100) > 1e-9 {
				t.Errorf("%s %s: the shares add to %g", p.ID, f.ID, sum)
			}
			for _, pl := range as.Plans {
				if faults := ValidatePlan(as, pl); len(faults) > 0 {
					t.Errorf("%s %s: %s does not fit: %v", p.ID, f.ID, pl.Name, faults)
				}
			}
		}
	}
	if forms < 15 {
		t.Errorf("only %d forms", forms)
	}
}
