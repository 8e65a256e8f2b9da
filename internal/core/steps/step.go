package steps

// Whole is all of a part: 100 % in thousandths of a percent.
const Whole int64 = 100_000

// Piece is the block that the work begins with.
const Piece = "piece"

// Verb is what a step does.
type Verb string

// The verbs.
const (
	TakeOff   Verb = "take_off"  // along a seam
	Free      Verb = "free"      // cut loose; nothing leaves yet
	BoneOut   Verb = "bone_out"  // a bone leaves
	Saw       Verb = "saw"       // through bone
	Part      Verb = "part"      // divide a block: halves, at a line, lengthwise
	Dress     Verb = "dress"     // skin, fat and gristle off
	Slice     Verb = "slice"     // across, by thickness, weight or bone
	Dice      Verb = "dice"      // cubes or strips
	Flatten   Verb = "flatten"   // beaten out
	Open      Verb = "open"      // butterflied
	French    Verb = "french"    // bones bared for looks
	Fold      Verb = "fold"      // over itself, or round what joins it
	Roll      Verb = "roll"      // outside in
	Fill      Verb = "fill"      // something is added inside
	Tie       Verb = "tie"       // with string
	Net       Verb = "net"       // drawn into a net
	Season    Verb = "season"    // something is added outside
	Tenderise Verb = "tenderise" // cubing machine, needles, mallet
	Mince     Verb = "mince"     // through the grinder
	Cook      Verb = "cook"      // then chilled; a balance of its own
	Stack     Verb = "stack"     // how it is shown
	Keep      Verb = "keep"      // leaves as it is
)

// Tub is where trim, fat, bone and waste gather along the way.
type Tub string

// The tubs.
const (
	MinceTrim   Tub = "mince_trim"
	SausageTrim Tub = "sausage_trim"
	FatTub      Tub = "fat"
	Stock       Tub = "stock"
	Discard     Tub = "discard"
)

// Tubs lists them.
var Tubs = []Tub{MinceTrim, SausageTrim, FatTub, Stock, Discard}

// Tools lists the tools of a step.
var Tools = []string{"straight_knife", "curved_knife", "long_knife", "hand_saw", "band_saw", "hands", "needle",
	"net_pipe", "mincer", "tenderiser", "slicer", "scraper"}

// How what a step gives is weighed.
const (
	WeighEach     = "each"     // every block and product by itself
	WeighTogether = "together" // all that the step gives in one weighing
	WeighTub      = "tub"      // with its tub, at any time
	WeighNone     = "none"     // not at all: it is reckoned by share
)

// ByBone slices one piece to a bone.
const ByBone = "bone"

// Step is one thing done to a block. Fields that a verb has no use for stay empty; see [Check].
type Step struct {
	ID string `yaml:"id" json:"id"`
	Do Verb   `yaml:"do" json:"do"`
	// Of names the block worked on; empty for what is left of the one worked on last, at first the piece.
	Of Names `yaml:"of" json:"of,omitempty"`
	// Parts leave together and stay joined: percent of each part's whole in the piece.
	Parts      Shares   `yaml:"parts" json:"parts,omitempty"`
	As         Blocks   `yaml:"as" json:"as,omitempty"`
	Rest       *Block   `yaml:"rest" json:"rest,omitempty"` // what is left of the block, as a block of its own
	Takes      []Take   `yaml:"takes" json:"takes,omitempty"`
	Gives      []Give   `yaml:"gives" json:"gives,omitempty"`
	Joins      string   `yaml:"joins" json:"joins,omitempty"` // a block that is laid into this one
	IntoBlocks int      `yaml:"into_blocks" json:"into_blocks,omitempty"`
	EachInto   Range    `yaml:"each_into" json:"each_into,omitzero"` // pieces of a slice: halves, thirds
	Mm         Range    `yaml:"mm" json:"mm,omitzero"`               // thickness, or edge of a cube
	PortionG   Range    `yaml:"portion_g" json:"portion_g,omitzero"` // wanted weight of one, in grams
	By         string   `yaml:"by" json:"by,omitempty"`              // ByBone, or empty
	Zone       *Zone    `yaml:"zone" json:"zone,omitempty"`          // where along the block
	Adds       []Add    `yaml:"adds" json:"adds,omitempty"`
	After      []string `yaml:"after" json:"after,omitempty"` // steps that must be done first
	When       When     `yaml:"when" json:"when,omitempty"`   // options under which the step is done at all
	Where      Names    `yaml:"where" json:"where,omitempty"` // parts; where none of them is in the piece it is not done
	Name       string   `yaml:"name" json:"name,omitempty"`   // what is done, where verb and block do not say it
	Weigh      string   `yaml:"weigh" json:"weigh,omitempty"`
	Say        Say      `yaml:"say" json:"say,omitzero"`
	Caution    string   `yaml:"caution" json:"caution,omitempty"` // what can hurt here
	Display    string   `yaml:"display" json:"display,omitempty"` // how it is shown
	Tool       string   `yaml:"tool" json:"tool,omitempty"`
	Needs      string   `yaml:"needs" json:"needs,omitempty"`
	Skill      int      `yaml:"skill" json:"skill,omitempty"` // 1 easy … 5 hard; 0 where it is not said
	Minutes    Minutes  `yaml:"minutes" json:"minutes,omitzero"`
}

// Names is one name, or a list of them.
type Names []string

// Shares gives percentages of parts, above 0 and at most 100. In a file a list of parts stands for 100 each.
type Shares map[string]float64

// Blocks is one block, or a list of them.
type Blocks []Block

// Block is a set of parts that are still joined.
type Block struct {
	Block string  `yaml:"block" json:"block"` // id, unique in the plan
	Name  string  `yaml:"name" json:"name,omitempty"`
	Pct   float64 `yaml:"pct" json:"pct,omitempty"` // of the block as it stands; 0 where it is one: all that leaves
}

// Range is from low to high; both alike where a file gives one number.
type Range struct {
	Low  float64 `yaml:"low" json:"low"`
	High float64 `yaml:"high" json:"high"`
}

// Mid is the middle of the range.
func (r Range) Mid() float64 { return (r.Low + r.High) / 2 }

// Take is what dressing takes: percent of the part's whole, into a tub or onto a block.
type Take struct {
	Part string  `yaml:"part" json:"part"`
	Pct  float64 `yaml:"pct" json:"pct"`
	To   string  `yaml:"to" json:"to"`
	Why  string  `yaml:"why" json:"why,omitempty"`
}

// Give is what a block becomes: a product, a tub, or a piece with a plan of its own. Pct is of the block as it stands;
// 0 means all of it, or all that the others leave.
type Give struct {
	Product string  `yaml:"product" json:"product,omitempty"`
	Tub     Tub     `yaml:"tub" json:"tub,omitempty"`
	Piece   string  `yaml:"piece" json:"piece,omitempty"`
	Form    string  `yaml:"form" json:"form,omitempty"` // of the piece
	Pct     float64 `yaml:"pct" json:"pct,omitempty"`
	Count   Range   `yaml:"count" json:"count,omitzero"`
}

// Add is what comes from the shop's ingredients: kilograms per kilogram of the block, or a quantity each.
type Add struct {
	Ingredient string  `yaml:"ingredient" json:"ingredient"`
	PerKg      float64 `yaml:"per_kg" json:"per_kg,omitempty"`
	MaxPct     float64 `yaml:"max_pct" json:"max_pct,omitempty"` // of the block with it; 0 for no bound
	Each       float64 `yaml:"each" json:"each,omitempty"`       // length or number, in the ingredient's unit
	Count      int     `yaml:"count" json:"count,omitempty"`     // how many of Each; 0 means one
}

// Zone is a stretch along the block: in millimetres from the end that the cut begins at, or while a part is in the
// face, or until one is.
type Zone struct {
	FromMm float64 `yaml:"from_mm" json:"from_mm,omitempty"`
	ToMm   float64 `yaml:"to_mm" json:"to_mm,omitempty"`
	While  string  `yaml:"while" json:"while,omitempty"`
	Until  string  `yaml:"until" json:"until,omitempty"`
}

// When gives, for options, the choices under which a step is done.
type When map[string]Names

// Say is the words of a step; each defaults to those of the muscle.
type Say struct {
	Find  string `yaml:"find" json:"find,omitempty"`
	Wrong string `yaml:"wrong" json:"wrong,omitempty"`
	Hold  string `yaml:"hold" json:"hold,omitempty"`
	Mark  string `yaml:"mark" json:"mark,omitempty"`
	Stop  string `yaml:"stop" json:"stop,omitempty"`
}

// Minutes is the bench time of a step, in minutes: a base, and more by the kilogram of the block, by the slice, and by
// the square centimetre of seam. In a file one number is the base.
type Minutes struct {
	Base     float64 `yaml:"base" json:"base,omitempty"`
	PerKg    float64 `yaml:"per_kg" json:"per_kg,omitempty"`
	PerSlice float64 `yaml:"per_slice" json:"per_slice,omitempty"`
	PerCm2   float64 `yaml:"per_cm2" json:"per_cm2,omitempty"`
}

// Option is a matter on which cutters differ, as choices between steps.
type Option struct {
	ID      string   `yaml:"id" json:"id"`
	Name    string   `yaml:"name" json:"name"`
	Default string   `yaml:"default" json:"default"` // id of the choice that holds where none is made
	Choices []Choice `yaml:"choices" json:"choices"`
}

// Choice is one answer to an option.
type Choice struct {
	ID   string `yaml:"id" json:"id"`
	Name string `yaml:"name" json:"name"`
	Why  string `yaml:"why" json:"why,omitempty"`
}

// Choice gives a choice of the option by id.
func (o Option) Choice(id string) (Choice, bool) {
	for _, c := range o.Choices {
		if c.ID == id {
			return c, true
		}
	}
	return Choice{}, false
}

// Holds says whether the step is done under the choices; an option that nothing is said of is at its default.
func (s Step) Holds(options []Option, chosen map[string]string) bool {
	for id, under := range s.When {
		is := chosen[id]
		if is == "" {
			for _, o := range options {
				if o.ID == id {
					is = o.Default
				}
			}
		}
		if !under.has(is) {
			return false
		}
	}
	return true
}

func (n Names) has(id string) bool {
	for _, x := range n {
		if x == id {
			return true
		}
	}
	return false
}
