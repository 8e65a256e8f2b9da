package atlas

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
)

// whole is 100 % in thousandths of a percent.
const whole = 100_000

var partKinds = []string{KindFat, KindBone, KindTrim, KindWaste, KindLoss}

// Validate lists everything that is wrong with a piece, each fault headed by its key; nothing when it may be used.
func Validate(p Piece) []error {
	v := &validator{p: p, known: map[string]string{}}
	v.header()
	v.parts()
	v.neighbours()
	v.order()
	for _, pl := range p.Plans {
		v.plan("plans."+pl.ID, pl)
		v.dressing("plans."+pl.ID, pl)
	}
	v.options()
	v.forms()
	if _, ok := p.Traditional(); !ok {
		v.add("plans", "has no plan of the traditional school to compare with")
	}
	return v.faults
}

type validator struct {
	p      Piece
	known  map[string]string // part id → kind
	faults []error
}

func (v *validator) add(key, format string, args ...any) {
	v.faults = append(v.faults, fmt.Errorf("%s: %s", key, fmt.Sprintf(format, args...)))
}

func (v *validator) header() {
	p := v.p
	for _, x := range []struct {
		name  string
		value string
	}{{"id", p.ID}, {"species", p.Species}, {"name", p.Name}, {"region", p.Region}, {"basis", p.Basis}} {
		key, value := x.name, x.value
		if value == "" {
			v.add(key, "is missing")
		}
	}
	w := p.WeightKg
	if w.Low <= 0 || w.Low > w.Typical || w.Typical > w.High {
		v.add("weight_kg", "must rise from low over typical to high, all above 0")
	}
	if p.LengthMm < 0 || p.LengthMm > 2000 {
		v.add("length_mm", "must be from 0 to 2,000")
	}
	if p.Section.W <= 0 || p.Section.H <= 0 {
		v.add("section", "needs a width and a height above 0")
	}
	if !convex(p.Section.Outline) {
		v.add("section.outline", "must be a convex polygon of at least three corners, all turning the same way")
	}
	if len(p.Muscles) == 0 {
		v.add("muscles", "is empty")
	}
	seen := map[string]bool{}
	for _, in := range p.Inspect {
		if in.ID == "" || in.Look == "" || in.Do == "" {
			v.add("inspect."+in.ID, "needs id, look and do")
		}
		if seen[in.ID] {
			v.add("inspect."+in.ID, "stands twice")
		}
		seen[in.ID] = true
		for _, part := range in.Absent {
			if _, ok := v.p.Part(part); !ok {
				v.add("inspect."+in.ID+".absent", "“%s” is not a muscle or part of this piece", part)
			}
		}
		v.takes("inspect."+in.ID+".takes", in.Takes)
	}
}

func (v *validator) parts() {
	sum, losses := int64(0), 0
	take := func(key, id, kind string, share float64) {
		if id == "" {
			v.add(key, "has no id")
		}
		if v.known[id] != "" {
			v.add(key+"."+id, "stands twice")
		}
		if share <= 0 {
			v.add(key+"."+id+".share_pct", "must be above 0")
		}
		v.known[id] = kind
		sum += Thousandths(share)
	}
	codes := map[string]bool{}
	for _, m := range v.p.Muscles {
		take("muscles", m.ID, KindMuscle, m.SharePct)
		v.muscle(m)
		if m.Code == "" || len(m.Code) > 3 || codes[m.Code] {
			v.add("muscles."+m.ID+".code", "must be one to three letters, its own in this piece")
		}
		codes[m.Code] = true
	}
	for _, o := range v.p.Other {
		take("other", o.ID, o.Kind, o.SharePct)
		if !slices.Contains(partKinds, o.Kind) {
			v.add("other."+o.ID+".kind", "“%s” is not one of %v", o.Kind, partKinds)
		}
		if o.Kind == KindLoss {
			losses++
		}
	}
	if sum != whole {
		v.add("share_pct", "the shares add to %.3f, not to 100", float64(sum)/1000)
	}
	for _, o := range v.p.Other {
		if o.At != [2]float64{} &&
			(o.Kind != KindBone || o.At[0] < 0 || o.At[0] > v.p.Section.W || o.At[1] < 0 || o.At[1] > v.p.Section.H) {
			v.add("other."+o.ID+".at", "is for bones, inside the section")
		}
	}
	if losses != 1 {
		v.add("other", "needs exactly one part of kind loss, has %d", losses)
	}
}

func (v *validator) muscle(m Muscle) {
	key := "muscles." + m.ID + "."
	if m.Name == "" || m.Anatomical == "" {
		v.add(key+"name", "needs a name and an anatomical name")
	}
	if m.TrimPct < 0 || m.TrimPct >= 100 {
		v.add(key+"trim_pct", "must be from 0 to under 100")
	}
	if s := v.p.Section; m.At[0] < 0 || m.At[0] > s.W || m.At[1] < 0 || m.At[1] > s.H {
		v.add(key+"at", "lies outside the section")
	}
	if m.MinAgeDays < 0 || m.MinAgeDays > 120 {
		v.add(key+"min_age_days", "must be from 0 to 120")
	}
	if len(m.Eating) == 0 {
		v.add(key+"eating", "has no estimate for any method")
	}
	for method, score := range m.Eating {
		if !KnownMethod(method) {
			v.add(key+"eating."+method, "is not a cooking method")
		}
		if score < 0 || score > 100 {
			v.add(key+"eating."+method, "must be from 0 to 100")
		}
	}
	for _, word := range []struct {
		key, value string
		known      []string
	}{{"grain.direction", m.Grain.Direction, []string{"one way", "two ways", "fan", "spiral"}},
		{"grain.texture", m.Grain.Texture, []string{"fine", "medium", "coarse"}},
		{"connective", m.Connective, []string{"low", "medium", "high"}}} {
		if !slices.Contains(word.known, word.value) {
			v.add(key+word.key, "“%s” is not one of %v", word.value, word.known)
		}
	}
	ends, names := int64(0), map[string]bool{}
	for _, e := range m.Ends {
		if e.ID == "" || strings.Contains(e.ID, "/") || e.Name == "" || e.Why == "" || names[e.ID] || e.SharePct <= 0 {
			v.add(key+"ends."+e.ID, "needs an id of its own, a name, a share above 0 and a why")
		}
		names[e.ID] = true
		ends += Thousandths(e.SharePct)
	}
	if len(m.Ends) == 1 || (len(m.Ends) > 1 && ends != whole) {
		v.add(key+"ends", "must be two or more, and their shares must add to 100")
	}
	v.endScores(m, key)
	if f := m.MarblingFollows(); !(f >= 0 && f <= 1) {
		v.add(key+"marbling_follows", "must be from 0 to 1")
	}
	if m.Tenderness < 1 || m.Tenderness > 5 {
		v.add(key+"tenderness", "must be from 1 to 5")
	}
	if m.Seam.Tell == "" || m.Seam.Danger == "" {
		v.add(key+"seam", "needs a tell and a danger")
	}
}

// endScores checks what the ends of a muscle eat like: of each method either all say it or none does, and the muscle's
// own score is their mean by share to within a point.
func (v *validator) endScores(m Muscle, key string) {
	for method, whole := range m.Eating {
		mean, said := 0.0, 0
		for _, e := range m.Ends {
			if score, ok := e.Eating[method]; ok {
				mean += score * e.SharePct / 100
				said++
			}
		}
		if said > 0 && (said < len(m.Ends) || math.Abs(mean-whole) > 1) {
			v.add(key+"ends", "their scores for %s do not come to the muscle's %g", method, whole)
		}
	}
	for _, e := range m.Ends {
		for method := range e.Eating {
			if _, ok := m.Eating[method]; !ok {
				v.add(key+"ends."+e.ID+".eating."+method, "is of a method that the muscle has no score of")
			}
		}
	}
}

func (v *validator) neighbours() {
	for _, m := range v.p.Muscles {
		for _, n := range m.Touches {
			other, ok := v.p.Muscle(n)
			switch {
			case n == m.ID:
				v.add("muscles."+m.ID+".touches", "a muscle does not touch itself")
			case !ok:
				v.add("muscles."+m.ID+".touches", "“%s” is not a muscle of this piece", n)
			case !slices.Contains(other.Touches, m.ID):
				v.add("muscles."+m.ID+".touches", "%s does not touch it back", n)
			}
		}
	}
}

// order checks that the seams can be cut in some order at all.
func (v *validator) order() {
	off := map[string]bool{}
	for _, m := range v.p.Muscles {
		for _, a := range m.Seam.After {
			if v.known[a] != KindMuscle {
				v.add("muscles."+m.ID+".seam.after", "“%s” is not a muscle of this piece", a)
				return
			}
		}
	}
	for _, o := range v.p.Other {
		if o.Before != "" && v.known[o.Before] != KindMuscle {
			v.add("other."+o.ID+".before", "“%s” is not a muscle of this piece", o.Before)
		}
	}
	for range v.p.Muscles {
		for _, m := range v.p.Muscles {
			if !off[m.ID] && !slices.ContainsFunc(m.Seam.After, func(a string) bool { return !off[a] }) {
				off[m.ID] = true
			}
		}
	}
	var stuck []string
	for _, m := range v.p.Muscles {
		if !off[m.ID] {
			stuck = append(stuck, m.ID)
		}
	}
	if len(stuck) > 0 {
		v.add("seam.after", "goes round in a circle at %v", stuck)
	}
}

// forms checks that each form is named and lacks only what the piece has.
func (v *validator) forms() {
	seen, usual := map[string]bool{}, 0
	for _, f := range v.p.Forms {
		key := "forms." + f.ID
		if f.ID == "" || f.Name == "" || seen[f.ID] {
			v.add(key, "needs an id of its own and a name")
		}
		seen[f.ID] = true
		if f.Default {
			usual++
		}
		for part, pct := range f.Absent {
			if kind := v.known[part]; kind == "" || kind == KindLoss {
				v.add(key+".absent", "“%s” is not a muscle or part of this piece", part)
			}
			if !(pct > 0 && pct <= 100) {
				v.add(key+".absent."+part, "must be above 0 and at most 100 %%")
			}
		}
		if p, _ := v.p.Without(f.Absent); len(p.Muscles) == 0 {
			v.add(key+".absent", "leaves no muscle")
		}
	}
	if len(v.p.Forms) > 0 && usual != 1 {
		v.add("forms", "needs exactly one default, has %d", usual)
	}
}

// ValidatePlan lists everything that is wrong with a plan of the piece, each fault headed by its key: name, minutes,
// products.ID.from.PART, from.PART …; nothing when everything goes somewhere.
func ValidatePlan(p Piece, pl Plan) []error {
	v := &validator{p: p, known: map[string]string{}}
	for _, part := range p.Parts() {
		v.known[part.ID] = part.Kind
	}
	v.plan("", pl)
	return v.faults
}

func (v *validator) plan(at string, pl Plan) {
	key := at
	if key == "" {
		key = "plan"
	}
	if pl.ID == "" || pl.School == "" || pl.Name == "" || pl.Why == "" {
		v.add(key, "needs id, school, name and why")
	}
	if len([]rune(pl.Short)) > ShortLength {
		v.add(key+".short", "is longer than %d letters", ShortLength)
	}
	if pl.Cut != CutSeams && pl.Cut != CutStraight {
		v.add(key+".cut", "must be %s or %s", CutSeams, CutStraight)
	}
	if pl.Tool != "knife" && pl.Tool != "saw" {
		v.add(key+".tool", "must be knife or saw")
	}
	if pl.Minutes <= 0 {
		v.add(key+".minutes", "must be above 0; the minutes of a plan in steps are the sum of theirs")
	}
	if pl.OwnSteps() {
		v.validateSteps(key, pl)
	}
	used, ids := map[string]int64{}, map[string]bool{}
	for _, pr := range pl.Products {
		pkey := key + ".products." + pr.ID
		if ids[pr.ID] {
			v.add(pkey, "stands twice")
		}
		ids[pr.ID] = true
		v.product(pkey, pr)
		for part, pct := range pr.From {
			used[part] += Thousandths(pct)
		}
	}
	for part, pct := range pl.Waste {
		if kind := v.known[part]; kind == "" || kind == KindWaste || kind == KindLoss || pct <= 0 || pct > 100 {
			v.add(key+".waste."+part, "must be a muscle or part, above 0 and at most 100")
		}
		used[part] += Thousandths(pct)
	}
	for _, id := range slices.Sorted(maps.Keys(v.known)) {
		switch kind := v.known[id]; {
		case kind == KindLoss:
		case kind == KindWaste && used[id] > whole: // what is left of it is thrown away
			v.add(key+".from."+id, "%.3f %% of it is sold, more than there is", float64(used[id])/1000)
		case kind != KindWaste && used[id] != whole:
			v.add(key+".from."+id, "%.3f %% of it goes somewhere, not 100", float64(used[id])/1000)
		}
	}
}

// most is the muscle that a product is made of most.
func (v *validator) most(pr Product) string {
	best, most := "", 0.0
	for _, m := range v.p.Muscles {
		if share := pr.From[m.ID] * m.SharePct; share > most {
			best, most = m.ID, share
		}
	}
	return best
}

// product checks one product of a plan.
func (v *validator) product(key string, pr Product) {
	if pr.ID == "" || pr.Name == "" || pr.Form == "" {
		v.add(key, "needs id, name and form")
	}
	for part, pct := range pr.From {
		if kind := v.known[part]; kind == "" || kind == KindLoss {
			v.add(key+".from."+part, "is not a muscle or part that can be sold")
		}
		if pct <= 0 || pct > 100 {
			v.add(key+".from."+part, "must be above 0 and at most 100")
		}
		if m, ok := v.p.Muscle(part); ok && pr.Cook != "" {
			if _, has := m.Eating[pr.Cook]; !has && pct >= 50 && v.most(pr) == m.ID {
				v.add(key+".cook", "%s has no estimate for %s", part, pr.Cook)
			}
		}
	}
	if pr.Treated != "" && !slices.Contains(Treatments, pr.Treated) {
		v.add(key+".treated", "“%s” is not a treatment", pr.Treated)
	}
	if pr.Cook != "" && !KnownMethod(pr.Cook) {
		v.add(key+".cook", "“%s” is not a cooking method", pr.Cook)
	}
	if pr.PortionG < 0 || pr.ThicknessMm < 0 || pr.Count.Low < 0 || pr.Count.High < pr.Count.Low ||
		pr.Feeds < 0 || pr.Feeds > 100 {
		v.add(key, "has a thickness, portion or count below 0, a count that falls from low to high, or feeds more than 100")
	}
	if pr.Into < 0 || pr.Into > 8 {
		v.add(key+".into", "must be from 0 to 8 pieces")
	}
	if z := pr.Along; z != nil {
		if z.FromMm < 0 || z.ToMm < 0 || (z.ToMm > 0 && z.ToMm <= z.FromMm) {
			v.add(key+".along", "must rise from one millimetre of the axis to another")
		}
		for _, part := range []string{z.While, z.Until} {
			if kind := v.known[part]; part != "" && (kind == "" || kind == KindLoss) && v.p.Missing[part] == 0 {
				v.add(key+".along", "“%s” is not a muscle or part of this piece", part)
			}
		}
	}
}

// convex says whether the corners turn one way only; no outline at all is allowed.
func convex(o [][2]float64) bool {
	if len(o) == 0 {
		return true
	}
	if len(o) < 3 {
		return false
	}
	sign := 0.0
	for i := range o {
		a, b, c := o[i], o[(i+1)%len(o)], o[(i+2)%len(o)]
		cross := (b[0]-a[0])*(c[1]-b[1]) - (b[1]-a[1])*(c[0]-b[0])
		if cross == 0 {
			continue
		}
		if sign != 0 && (cross > 0) != (sign > 0) {
			return false
		}
		sign = cross
	}
	return sign != 0
}

// simple says whether a closed line of at least three corners nowhere crosses itself.
func simple(o [][2]float64) bool {
	side := func(a, b, c [2]float64) float64 { return (b[0]-a[0])*(c[1]-a[1]) - (b[1]-a[1])*(c[0]-a[0]) }
	for i, a := range o {
		b := o[(i+1)%len(o)]
		for j := i + 2; j < len(o) && j-i < len(o)-1; j++ {
			c, d := o[j], o[(j+1)%len(o)]
			if side(a, b, c)*side(a, b, d) <= 0 && side(c, d, a)*side(c, d, b) <= 0 {
				return false
			}
		}
	}
	return len(o) >= 3
}

// soft are the forms for which half of the full dressing is enough: membranes go, small fat may stay.
var soft = []string{"dice", "mince", "strip", "kebab", "thin_slice", "braising_steak", "riblet"}

// IsSoft says whether a product is cut so small, or cooked so long, that half of the full dressing is enough.
func (pr Product) IsSoft() bool { return slices.Contains(soft, pr.Form) }

// dressing holds a plan by the seams to what its products ask for: what full dressing takes of a muscle is in no
// product of it, unless the product says what stays on. A percent is rounding.
func (v *validator) dressing(key string, pl Plan) {
	if pl.Cut != CutSeams || pl.OwnSteps() {
		return
	}
	for _, m := range v.p.Muscles {
		needs, away := 0.0, pl.Waste[m.ID]
		for _, pr := range pl.Products {
			switch part := pr.From[m.ID] * m.TrimPct / (100 - m.TrimPct); {
			case pr.IsTrim() || pr.ByProduct():
				away += pr.From[m.ID]
			case pr.Keeps != "":
			case pr.IsSoft():
				needs += part / 2
			default:
				needs += part
			}
		}
		if needs > 0 && away < needs-1 {
			v.add(key+".from."+m.ID,
				"dressing takes %.1f %% of it and %.1f %% leaves; say what stays on (keeps), or send it away", needs, away)
		}
	}
}
