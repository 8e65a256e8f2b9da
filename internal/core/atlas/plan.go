package atlas

import (
	"regexp"
	"slices"
	"strings"

	"falda/internal/core/steps"
)

// OwnSchool is the school of plans that a shop made itself.
const OwnSchool = "own"

// Plan is one way to cut a piece: where every muscle and part goes.
type Plan struct {
	ID       string             `yaml:"id" json:"id"`
	School   string             `yaml:"school" json:"school"`
	Name     string             `yaml:"name" json:"name"`
	Short    string             `yaml:"short" json:"short,omitempty"` // up to ShortLength letters; may be empty
	Why      string             `yaml:"why" json:"why"`
	Cut      string             `yaml:"cut" json:"cut"`   // CutSeams or CutStraight
	Tool     string             `yaml:"tool" json:"tool"` // "knife" or "saw"
	Minutes  float64            `yaml:"minutes" json:"minutes"`
	Products []Product          `yaml:"products" json:"products"`
	Waste    map[string]float64 `yaml:"waste" json:"waste,omitempty"` // what is thrown away: muscle or part → percentage
	Version  int                `yaml:"-" json:"version,omitempty"`   // of a shop's own plan; 0 for the atlas'
	BasedOn  string             `yaml:"-" json:"based_on,omitempty"`  // the plan it was copied from
	Chosen   map[string]string  `yaml:"-" json:"chosen,omitempty"`    // options: id → choice
	// Steps are how it is done. What the products are made of, the waste, the minutes and the tool then follow from them.
	Steps []steps.Step `yaml:"steps" json:"steps,omitempty"`
	// ByShares says that the steps were made from percentages by the rule of [Piece.InSteps]: the percentages are what the
	// plan says, and the steps follow from them.
	ByShares bool           `yaml:"-" json:"by_shares,omitempty"`
	Options  []steps.Option `yaml:"options" json:"options,omitempty"` // what can be chosen between the steps
	// Declared are the products of a plan in steps as they were written, under every choice; Products are those of the
	// choices made, with what they are made of.
	Declared []Product `yaml:"-" json:"declared,omitempty"`
	Gone     []Gone    `yaml:"-" json:"gone,omitempty"` // what findings take before the steps begin
}

// ShortLength bounds the short name of a plan, in letters.
const ShortLength = 28

// ShortName is what the plan is called where there is little room: its short name, or the first words of its name.
func (p Plan) ShortName() string {
	if p.Short != "" {
		return p.Short
	}
	if head, _, _ := strings.Cut(p.Name, ","); len([]rune(head)) <= ShortLength {
		return head
	}
	short := ""
	for _, w := range strings.Fields(p.Name) {
		if len([]rune(short+" "+w)) > ShortLength-1 {
			return short + "…"
		}
		short = strings.TrimSpace(short + " " + w)
	}
	return short
}

// The two ways to work: muscle by muscle, so that muscles are weighed; or straight through, so that products are.
const (
	CutSeams    = "seams"
	CutStraight = "straight"
)

// Product is what is sold. From gives, for each muscle or part, the percentage of it that goes here.
type Product struct {
	ID          string             `yaml:"id" json:"id"`
	Name        string             `yaml:"name" json:"name"`
	Form        string             `yaml:"form" json:"form"`
	Cook        string             `yaml:"cook" json:"cook,omitempty"`
	ThicknessMm float64            `yaml:"thickness_mm" json:"thickness_mm,omitempty"`
	LeanPct     float64            `yaml:"lean_pct" json:"lean_pct,omitempty"`
	PortionG    float64            `yaml:"portion_g" json:"portion_g,omitempty"` // target weight of one
	Count       Count              `yaml:"count" json:"count,omitzero"`          // how many one piece gives
	From        map[string]float64 `yaml:"from" json:"from"`
	// Treated says that the outside has come inside: "rolled", "stuffed", "cubed", "needled" or "minced". Such a product
	// is cooked through like minced meat.
	Treated string `yaml:"treated" json:"treated,omitempty"`
	// Feeds is how many one of it feeds as it is cut, where the plan says so; 0 where that follows from its weight.
	Feeds int `yaml:"feeds" json:"feeds,omitempty"`
	// Keeps names what stays on that full dressing would take: "the tendon line", "skin and scored fat". The price is for
	// that.
	Keeps string `yaml:"keeps" json:"keeps,omitempty"`
	// Again is what it hangs on the rail as where it is cut once more: a standing roast that nobody bought.
	Again *Again `yaml:"again" json:"again,omitempty"`
	// Along says that it is cut straight, in slices along the piece's axis, and where; nil where it is not.
	Along *steps.Zone `yaml:"along" json:"along,omitempty"`
	// into how many pieces each slice is cut; 0 where it stays one
	Into   int                 `yaml:"into" json:"into,omitempty"`
	Sliced int                 `yaml:"-" json:"sliced,omitempty"` // how many of it a piece gives
	Names  map[string][]string `yaml:"-" json:"-"`                // what counters call it, by market
	Lines  []string            `yaml:"-" json:"-"`                // what a cook should know of it
	// Say is how it is cut, in a plan of percentages that goes straight through; a plan in steps says it with the step.
	Say steps.Say `yaml:"say" json:"say,omitzero"`
}

// Again names a piece of the atlas, and one of its forms.
type Again struct {
	Piece string `yaml:"piece" json:"piece"`
	Form  string `yaml:"form" json:"form"`
}

// Treatments are the words for [Product.Treated].
var Treatments = []string{"rolled", "stuffed", "cubed", "needled", "minced"}

// saws is a caution about a saw.
var saws = regexp.MustCompile(`(?i)\b(saw|saws|sawn|sawing|blade's path|push block)\b`)

// CautionsFor lists the cautions of the piece that a plan's tools call for: one about the saw is not said of a plan
// that is done with the knife alone.
func (p Piece) CautionsFor(pl Plan) []string {
	return slices.DeleteFunc(slices.Clone(p.Cautions),
		func(c string) bool { return pl.Tool != "saw" && saws.MatchString(c) })
}

// OwnSteps says whether the plan was written in steps, so that its percentages follow from them.
func (pl Plan) OwnSteps() bool { return len(pl.Steps) > 0 && !pl.ByShares }

// All are the products of the plan under every choice of its steps.
func (pl Plan) All() []Product {
	out := slices.Clone(pl.Products)
	for _, pr := range pl.Declared {
		if _, ok := pl.Product(pr.ID); !ok {
			out = append(out, pr)
		}
	}
	return out
}

// Key names a product across pieces of one species, so that mince has one price: "beef.mince_trim".
func (p Piece) Key(pr Product) string { return p.Species + "." + pr.ID }

// ByProduct says whether the product is sold as something other than meat.
func (pr Product) ByProduct() bool { return pr.Form == "fat" || pr.Form == "bone" }

// NameIn is what a market calls the product: its first name there, or the house's.
func (pr Product) NameIn(market string) string { return nameIn(pr.Names, pr.Name, market) }
