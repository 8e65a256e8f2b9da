package atlas

import (
	"math"
	"slices"
	"strings"

	"falda/internal/core/body"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Atlas is a set of pieces that passed validation.
type Atlas struct {
	Pieces    []Piece
	Carcasses []Carcass
	// Print stands for all that the files of the atlas say: 64 letters, another where anything in them changes.
	Print string
	byID  map[string]int
	names []entry
}

// Piece is a subprimal as it arrives: a block of several muscles.
type Piece struct {
	ID           string              `yaml:"id"`
	Species      string              `yaml:"species"` // "beef" or "lamb"
	Name         string              `yaml:"name"`    // the house name
	Region       string              `yaml:"region"`
	Codes        map[string]string   `yaml:"codes"` // item numbers by standard
	Names        map[string][]string `yaml:"names"` // trade names by market
	Arrives      string              `yaml:"arrives"`
	Basis        string              `yaml:"basis"` // where the figures of this piece come from
	WeightKg     Range               `yaml:"weight_kg"`
	SideSharePct float64             `yaml:"side_share_pct"` // of a cold side, 0–100
	LengthMm     float64             `yaml:"length_mm"`      // along the straight cut, of a typical one; 0 where not known
	Skill        int                 `yaml:"skill"`          // 1 easy … 3 hard
	Inspect      []Inspect           `yaml:"inspect"`
	Cautions     []string            `yaml:"cautions"`
	Section      Section             `yaml:"section"`
	Muscles      []Muscle            `yaml:"muscles"`
	Other        []Part              `yaml:"other"`
	Plans        []Plan              `yaml:"plans"`
	Options      []Option            `yaml:"options"`
	Body         *body.Sketch        `yaml:"-"`     // its inside, from a file of its own; nil where nothing says
	Forms        []Form              `yaml:"forms"` // what the trade buys under one name; none where it comes one way only
	// Missing is what a piece as found or in one of its forms lacks, in thousandths of a percent of each part's whole.
	Missing map[string]int64 `yaml:"-"`

	inside func() (*body.Body, error) // worked out once; nil where the atlas has none
}

// Form is one way in which the trade buys a piece.
type Form struct {
	ID      string              `yaml:"id"`
	Name    string              `yaml:"name"`
	Code    map[string]string   `yaml:"code"`   // item numbers by standard, where they differ from the piece's
	Names   map[string][]string `yaml:"names"`  // trade names by market
	Absent  steps.Shares        `yaml:"absent"` // what it lacks, in percent of each part's whole
	Default bool                `yaml:"default"`
	Note    string              `yaml:"note"`
}

// Range is low, typical and high, in the unit of the field that holds it.
type Range struct {
	Low     float64 `yaml:"low"`
	Typical float64 `yaml:"typical"`
	High    float64 `yaml:"high"`
}

// Inspect is one thing to look for when the piece is opened, and what to do when it is found. Absent names muscles and
// parts that the piece then does not have.
type Inspect struct {
	ID     string   `yaml:"id"`
	Look   string   `yaml:"look"`
	Do     string   `yaml:"do"`
	Absent []string `yaml:"absent"`
	Takes  Takes    `yaml:"takes"`
}

// Takes is what a finding costs: Pct of each muscle or part that Of names (all muscles where it names none) leaves the
// products it would have gone to. To says where it goes: Discard, ToMince, or PareOff; May are the others that a house
// may choose.
type Takes struct {
	Pct float64  `yaml:"pct"`
	Of  []string `yaml:"of"`
	To  string   `yaml:"to"`
	May []string `yaml:"may"`
}

// What becomes of what a finding takes.
const (
	Discard = "discard" // into the bin
	ToMince = "mince"   // into the plan's trim
	PareOff = "pare"    // off with the fat
)

// Consequences lists them.
var Consequences = []string{Discard, ToMince, PareOff}

// Section is the drawn section of a piece, or the outline of a carcass seen from its side. Outline is a polygon, convex
// for a piece; without one it is a rounded block.
type Section struct {
	W       float64      `yaml:"w"`
	H       float64      `yaml:"h"`
	Outline [][2]float64 `yaml:"outline"`
}

// Muscle is one muscle of a piece.
type Muscle struct {
	ID         string              `yaml:"id"`
	Code       string              `yaml:"code"` // two or three letters for the map
	Name       string              `yaml:"name"`
	Anatomical string              `yaml:"anatomical"`
	Names      map[string][]string `yaml:"names"`
	Was        []string            `yaml:"was"`       // muscles that it was a part of in an atlas before
	SharePct   float64             `yaml:"share_pct"` // of the piece, 0–100
	TrimPct    float64             `yaml:"trim_pct"`  // of the muscle, lost when it is dressed fully
	At         [2]float64          `yaml:"at"`        // in the section
	Touches    []string            `yaml:"touches"`   // neighbours
	Grain      Grain               `yaml:"grain"`
	Connective string              `yaml:"connective"`
	Follows    *float64            `yaml:"marbling_follows"` // see [Muscle.MarblingFollows]
	Tenderness int                 `yaml:"tenderness"`       // 1 tough … 5 tender
	LeanPct    float64             `yaml:"lean_pct"`         // of its trim
	MinAgeDays int                 `yaml:"min_age_days"`     // from slaughter, for quick cooking
	Eating     map[string]float64  `yaml:"eating"`           // estimated score 0–100 by method
	Forms      []string            `yaml:"forms"`
	Shape      Shape               `yaml:"shape"`
	Seam       Seam                `yaml:"seam"`
	Judge      string              `yaml:"judge"`
	Ends       []End               `yaml:"ends"` // where its two ends are different meat
}

// MarblingFollows is how far the marbling that a carcass is graded for, at its rib eye, is the muscle's own: 1 as much,
// 0 not at all. Common practice, no source: the fillet hardly follows, the muscles of the leg by half.
func (m Muscle) MarblingFollows() float64 {
	if m.Follows == nil {
		return 1
	}
	return *m.Follows
}

// End is a part of a muscle that is better kept apart from the rest of it.
type End struct {
	ID       string  `yaml:"id"`
	Name     string  `yaml:"name"`
	SharePct float64 `yaml:"share_pct"` // of the muscle, 0–100
	Why      string  `yaml:"why"`       // what it is good for
	// Eating is the end's own estimated score by method, 0–100; of a method that it lacks the muscle's holds for both. Of
	// the ends together, by their shares, the muscle's is the mean.
	Eating map[string]float64 `yaml:"eating"`
	// Of names the products that are cut from this end alone, each as plan/product.
	Of []string `yaml:"of"`
}

// EndOf gives the end of the muscle that a product of a plan is cut from; ok is false where it takes of the whole.
func (m Muscle) EndOf(plan, product string) (e End, ok bool) {
	for _, e := range m.Ends {
		if slices.Contains(e.Of, plan+"/"+product) {
			return e, true
		}
	}
	return End{}, false
}

// Apart is by how many points an end eats better than the muscle by a method; 0 where it has no score of its own.
func (m Muscle) Apart(e End, method string) float64 {
	own, ok := e.Eating[method]
	if !ok {
		return 0
	}
	return own - m.Eating[method]
}

// EndID names an end of a muscle in an event: "cap/thin".
func (m Muscle) EndID(e End) string { return m.ID + "/" + e.ID }

// Grain says how the fibres run.
type Grain struct {
	Texture   string `yaml:"texture"`
	Direction string `yaml:"direction"`
	Note      string `yaml:"note"`
}

// Shape is the rough body of a muscle.
type Shape struct {
	LengthMm float64 `yaml:"length_mm"`
	Profile  string  `yaml:"profile"`
}

// Seam says what must be off first, how the seam is found and what goes wrong there.
type Seam struct {
	After  []string `yaml:"after"`
	Tell   string   `yaml:"tell"`
	Danger string   `yaml:"danger"`
}

// Part is what is not muscle: fat, bone, trim, waste and the cutting loss.
type Part struct {
	ID       string     `yaml:"id"`
	Name     string     `yaml:"name"`
	Kind     string     `yaml:"kind"`
	SharePct float64    `yaml:"share_pct"`
	LeanPct  float64    `yaml:"lean_pct"`
	At       [2]float64 `yaml:"at"`     // of a bone, in the section; a bone without one is not drawn
	Cover    Cover      `yaml:"cover"`  // of a fat that lies on the outside
	As       string     `yaml:"as"`     // of a carcass: the product that it is sold as
	Say      steps.Say  `yaml:"say"`    // how it comes off, in words
	Before   string     `yaml:"before"` // muscle that it comes off before, by the seams; empty: after all of them
}

// The kinds of part, and KindMuscle for the muscles beside them.
const (
	KindMuscle = "muscle"
	KindFat    = "fat"
	KindBone   = "bone"
	KindTrim   = "trim"
	KindWaste  = "waste"
	KindLoss   = "loss"
)

// Find gives a piece by id; a carcass is found as a piece whose parts are those of its usual division.
func (a *Atlas) Find(id string) (Piece, bool) {
	if i, ok := a.byID[id]; ok {
		return a.Pieces[i], true
	}
	if c, ok := a.FindCarcass(id); ok {
		return a.Whole(c, UsualDivision), true
	}
	return Piece{}, false
}

// Muscle gives a muscle of the piece by id.
func (p Piece) Muscle(id string) (Muscle, bool) {
	for _, m := range p.Muscles {
		if m.ID == id {
			return m, true
		}
	}
	return Muscle{}, false
}

// End gives an end of a muscle by its id, such as "cap/thin".
func (p Piece) End(id string) (Muscle, End, bool) {
	of, end, _ := strings.Cut(id, "/")
	m, ok := p.Muscle(of)
	if !ok || end == "" {
		return Muscle{}, End{}, false
	}
	for _, e := range m.Ends {
		if e.ID == end {
			return m, e, true
		}
	}
	return Muscle{}, End{}, false
}

// MuscleOf gives the muscle that an id names, by itself or by one of its ends; ids of other parts stay as they are.
func MuscleOf(id string) string {
	muscle, _, _ := strings.Cut(id, "/")
	return muscle
}

// Bones lists the bones that have a place in the section.
func (p Piece) Bones() []Part {
	var out []Part
	for _, o := range p.Other {
		if o.Kind == KindBone && o.At != [2]float64{} {
			out = append(out, o)
		}
	}
	return out
}

// Plan gives a plan of the piece by id.
func (p Piece) Plan(id string) (Plan, bool) {
	for _, pl := range p.Plans {
		if pl.ID == id {
			return pl, true
		}
	}
	return Plan{}, false
}

// Traditional is the plan that others are compared with: the first of the traditional school.
func (p Piece) Traditional() (Plan, bool) {
	for _, pl := range p.Plans {
		if pl.School == "traditional" {
			return pl, true
		}
	}
	return Plan{}, false
}

// Product gives a product of the plan by id.
func (pl Plan) Product(id string) (Product, bool) {
	for _, pr := range pl.Products {
		if pr.ID == id {
			return pr, true
		}
	}
	return Product{}, false
}

// AnyPart is a muscle or other part, as one list.
type AnyPart struct {
	ID, Name, Kind string
	Share          int64 // thousandths of a percent of the piece
}

// Parts lists the muscles, then the other parts, the loss last, each with its share in thousandths of a percent. The
// shares add up to 100,000.
func (p Piece) Parts() []AnyPart {
	out := make([]AnyPart, 0, len(p.Muscles)+len(p.Other))
	for _, m := range p.Muscles {
		out = append(out, AnyPart{m.ID, m.Name, KindMuscle, Thousandths(m.SharePct)})
	}
	for _, loss := range []bool{false, true} {
		for _, o := range p.Other {
			if (o.Kind == KindLoss) == loss {
				out = append(out, AnyPart{o.ID, o.Name, o.Kind, Thousandths(o.SharePct)})
			}
		}
	}
	return out
}

// Part gives a muscle or other part by id.
func (p Piece) Part(id string) (AnyPart, bool) {
	for _, part := range p.Parts() {
		if part.ID == id {
			return part, true
		}
	}
	return AnyPart{}, false
}

// Split shares a mass over Parts by the atlas' shares; the masses add up to it exactly.
func (p Piece) Split(m measure.Mass) []measure.Mass {
	parts := p.Parts()
	weights := make([]int64, len(parts))
	for i, part := range parts {
		weights[i] = part.Share
	}
	out, err := measure.ApportionMass(m, weights)
	if err != nil { // cannot be: validation holds the shares to 100 %
		panic("atlas: " + p.ID + " has no shares")
	}
	return out
}

// GramsPerMm is what a millimetre of the piece weighs along the straight cut, in grams, on the mean; 0 where its length
// is not known. A heavier piece is taken to be thicker, not longer.
func (p Piece) GramsPerMm(m measure.Mass) float64 {
	if p.LengthMm <= 0 {
		return 0
	}
	return m.Grams() / p.LengthMm
}

// Low, Typical and High are the usual weights of the piece.
func (p Piece) Low() measure.Mass { return kilograms(p.WeightKg.Low) }

// Typical is the mid weight.
func (p Piece) Typical() measure.Mass { return kilograms(p.WeightKg.Typical) }

// High is the weight of a big one.
func (p Piece) High() measure.Mass { return kilograms(p.WeightKg.High) }

func kilograms(kg float64) measure.Mass {
	return measure.Mass(math.Round(kg * float64(measure.Kilogram)))
}

// Thousandths turns a percentage into whole thousandths of a percent.
func Thousandths(pct float64) int64 { return int64(math.Round(pct * 1000)) }
