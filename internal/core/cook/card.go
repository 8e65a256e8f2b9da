package cook

import (
	"fmt"
	"math"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
)

// Doneness is how done an eater wants a quick or roasted cut: its centre after the rest. Common practice, no source;
// medium is the safe floor of whole cuts, 63 °C (145 °F).
type Doneness struct {
	ID, Name string
	CoreC    float64
}

// DonenessLevels lists them, least done first.
var DonenessLevels = []Doneness{{"rare", "Rare", 50}, {"medium_rare", "Medium rare", 55},
	{"medium", "Medium", MinCoreWhole}, {"medium_well", "Medium well", 67}, {"well", "Well done", MinCoreMinced}}

// SafeDoneness is the least done that is not below a floor.
func SafeDoneness(floorC float64) Doneness {
	for _, d := range DonenessLevels {
		if d.CoreC >= floorC {
			return d
		}
	}
	return DonenessLevels[len(DonenessLevels)-1]
}

// FindDoneness gives one by its id.
func FindDoneness(id string) (Doneness, bool) {
	i := slices.IndexFunc(DonenessLevels, func(d Doneness) bool { return d.ID == id })
	if i < 0 {
		return Doneness{}, false
	}
	return DonenessLevels[i], true
}

// Grams of raw meat an eater has, bone-free. Common practice, no source.
const (
	RoastEach = 340.0
	SteakEach = 225.0
)

// CardRequest is what an eater asks of a cut.
type CardRequest struct {
	Doneness string  // empty for the least done that is not below the floor
	Diners   int     // 0 where nobody said
	WeightG  float64 // of what is cooked; 0 for one portion, or a usual piece
	// ThicknessMm is how thick it is where it is thickest: of a roast its diameter. 0 where nobody measured.
	ThicknessMm float64
	Way         string // how it is cooked, by id of one of its ways; empty for the one that it is sold for
	Treated     bool   // pierced, tenderised, rolled or stuffed, beyond what the product is by itself
	Allergens   []string
}

// Step is one thing to do, in order, and how long it takes.
type Step struct {
	Do      string
	Minutes float64 // 0 where it takes as long as it takes
	OvenC   float64 // 0 without an oven
	Hands   bool    // somebody stands at it
}

// Card is how a cut is cooked.
type Card struct {
	Product        atlas.Product
	Muscles        []atlas.Muscle
	Method         atlas.Method
	Doneness       *Doneness // of quick and roasted cuts
	WeightG        float64
	Feeds          int
	EachG          float64
	Steps          []Step
	CoreC          float64 // wanted, after the rest
	TakeOutC       float64 // out of the heat
	RestMin        float64
	MinSafeCoreC   float64
	MinSafeCoreWhy string
	BelowSafe      bool // the wanted centre is below the floor
	Treated        bool // its outside has come inside: the floor is that of minced meat
	Slice          string
	Grain          string // direction: one way, two ways, fan, spiral
	Contains       []string
	HoldMin        float64 // how long it may wait warm beyond its rest
	Way            Way     // in which it is cooked here
	Ways           []Way   // in which it can be
	ThicknessMm    float64 // that the times go by; 0 where they do not
	CutMm          float64 // how long a piece to cut off for the eaters, along the piece; 0 where that is not known
	Lines          []string
	request        CardRequest
}

// usualG is what is cooked at once where nobody said: as it is sold, with bone and fat.
func usualG(pr atlas.Product, p atlas.Piece) float64 {
	if pr.PortionG > 0 {
		return pr.PortionG
	}
	grams, _ := asSold(pr, p)
	if n := max(pr.Sliced, pr.Count.High); n > 1 {
		grams /= float64(n)
	}
	return math.Max(50, math.Round(grams/10)*10)
}

// asSold is what all of a product of a usual piece weighs, in grams, and which part of that is bone.
func asSold(pr atlas.Product, p atlas.Piece) (grams, bone float64) {
	for _, part := range p.Parts() {
		g := p.Typical().Grams() * float64(part.Share) / 100_000 * pr.From[part.ID] / 100
		if grams += g; part.Kind == atlas.KindBone {
			bone += g
		}
	}
	if grams > 0 {
		bone /= grams
	}
	return grams, bone
}

// check says what is wrong with what is asked of a product that can be cooked in ways; way is the one asked for.
func (a CardRequest) check(pr atlas.Product, ways []Way) (d Doneness, way int, err error) {
	var faults fault.List
	d, ok := FindDoneness(a.Doneness)
	if !ok && a.Doneness != "" {
		faults.Add("doneness", fault.New("", "unknown", "is not a doneness", "Choose one of the list."))
	}
	if a.Diners < 0 || a.Diners > 500 {
		faults.Add("diners", fault.New("", "out_of_range", "must be from 1 to 500", ""))
	}
	if a.WeightG != 0 && !(a.WeightG >= 10 && a.WeightG <= 50_000) {
		faults.Add("weight_g", fault.New("", "out_of_range", "must be from 10 g to 50 kg", "Check the unit."))
	}
	for _, x := range a.Allergens {
		if !KnownAllergen(x) {
			faults.Add("allergens",
				fault.New("", "unknown", "“"+x+"” is not one of the allergens that must be named", "Choose from the list."))
		}
	}
	if a.ThicknessMm != 0 && !(a.ThicknessMm >= 2 && a.ThicknessMm <= 400) {
		faults.Add("thickness_mm", fault.New("", "out_of_range", "must be from 2 to 400 mm", "Measure the thickest place."))
	}
	way = slices.IndexFunc(ways, func(w Way) bool { return w.ID == a.Way || (a.Way == "" && w.ID == pr.Cook) })
	if len(ways) == 0 {
		faults.Add("product", fault.New("", "not_cooked", "is not sold to be cooked", "Choose a cut."))
	} else if way < 0 {
		faults.Add("way", fault.New("", "unknown", "is no way to cook it", "Choose one of the list."))
	}
	return d, way, faults.Err()
}

// Of makes the card of a product of a piece. Weights 10 g to 50 kg, thicknesses 2 to 400 mm, eaters up to 500; faults
// name the field.
func Of(p atlas.Piece, pr atlas.Product, a CardRequest) (Card, error) {
	ways := waysOf(p, pr)
	d, way, err := a.check(pr, ways)
	if err != nil {
		return Card{}, err
	}
	method, _ := atlas.FindMethod(ways[way].method)
	c := Card{Product: pr, Way: ways[way], Ways: ways, Lines: pr.Lines, request: a, Method: method, Contains: a.Allergens,
		Muscles: mostlyOf(p, pr)}
	c.weigh(p)
	minced := method.ID == "mince" || pr.Form == "trim" || pr.Form == "sausage_trim"
	c.Treated = a.Treated || pr.Treated != ""
	c.MinSafeCoreC, c.MinSafeCoreWhy = MinSafeCore(minced, c.Treated, IsGame(p.Species))
	if pr.Treated != "" && !minced {
		c.MinSafeCoreWhy = pr.Treated + ": it counts as minced meat, 71 °C"
	}
	if a.Doneness == "" {
		d = SafeDoneness(c.MinSafeCoreC)
	}
	if (c.Treated || IsGame(p.Species)) && d.CoreC < c.MinSafeCoreC { // whoever wants it pinker has a whole cut for that
		d = SafeDoneness(c.MinSafeCoreC)
	}
	c.cook(p, d, minced)
	c.after()
	c.BelowSafe = c.CoreC < c.MinSafeCoreC
	c.slice(minced)
	return c, nil
}

// weigh fills in what is cooked, as it is sold, and how many it feeds: bone feeds nobody.
func (c *Card) weigh(p atlas.Piece) {
	c.EachG = RoastEach
	if c.Method.Quick {
		c.EachG = SteakEach
	}
	_, bone := asSold(c.Product, p)
	eaten := math.Max(0.1, 1-bone)
	if n := c.Product.Feeds; n > 0 { // as the plan divides it
		c.EachG = math.Round(usualG(c.Product, p) * eaten / float64(n))
	}
	switch c.WeightG = c.request.WeightG; {
	case c.WeightG > 0:
	case c.request.Diners > 0:
		c.WeightG = math.Ceil(float64(c.request.Diners)*c.EachG/eaten/10) * 10
	default:
		c.WeightG = usualG(c.Product, p)
	}
	c.Feeds = max(1, int(c.WeightG*eaten/c.EachG+0.25))
	c.CutMm = cutMm(p, c.Product, c.WeightG)
}

// tough says by how much connective tissue a slow dish takes longer.
func (c Card) tough() float64 {
	worst := 1.0
	for _, m := range c.Muscles {
		worst = math.Max(worst, map[string]float64{"low": 0.8, "medium": 1, "high": 1.25}[m.Connective])
	}
	return worst
}

// follows gives what a time is for a centre, between the points of a table by centre: what is done further takes
// longer.
func follows(centre float64, table [][2]float64) float64 {
	for i, p := range table {
		if centre > p[0] && i+1 < len(table) {
			continue
		}
		if i == 0 {
			return p[1]
		}
		was := table[i-1]
		return was[1] + (p[1]-was[1])*(centre-was[0])/(p[0]-was[0])
	}
	return 0
}

// Minutes by the centre that is wanted: of one side of a steak 25 mm thick, and of a kilogram of roast at 180 °C.
// Common practice, no source.
var (
	sideMinutes  = [][2]float64{{50, 2.2}, {55, 2.8}, {60, 3.6}, {65, 4.5}, {71, 5.5}}
	roastMinutes = [][2]float64{{50, 26}, {55, 32}, {60, 40}, {65, 48}, {71, 58}}
)

// tenderSlow says whether a slow roast is done when it is tender, not when it is pink: shoulder, breast, riblets and
// whatever is full of connective tissue. Common practice, no source.
func (c Card) tenderSlow(p atlas.Piece) bool {
	return p.Species == "lamb" || c.Product.Form == "riblet" || c.tough() > 1
}

// onePiece is what one piece of what is cooked weighs, in kilograms: a pot of many small ones takes no longer than one
// of them.
func (c Card) onePiece(p atlas.Piece) float64 {
	if c.Product.PortionG > 0 || c.Product.Count.High > 1 {
		return math.Min(c.WeightG, usualG(c.Product, p)) / 1000
	}
	return c.WeightG / 1000
}

// mostlyOf gives the muscles of a product, the one that it is mostly of first.
func mostlyOf(p atlas.Piece, pr atlas.Product) (out []atlas.Muscle) {
	for _, m := range p.Muscles {
		if pr.From[m.ID] > 0 {
			out = append(out, m)
		}
	}
	slices.SortStableFunc(out, func(x, y atlas.Muscle) int {
		return int(math.Round((pr.From[y.ID]*y.SharePct - pr.From[x.ID]*x.SharePct) * 1000))
	})
	return out
}

// cook fills in the steps. Times are common practice, no source; the probe decides.
//
// Long: one case for each way of cooking, a table that is read down.
func (c *Card) cook(p atlas.Piece, d Doneness, minced bool) {
	kg := c.WeightG / 1000
	thick := c.thick(p)
	slow := func(oven, minutes, centre float64, text string) {
		c.CoreC, c.TakeOutC, c.RestMin, c.HoldMin = centre, centre, 10, 60
		c.Steps = append(c.Steps, Step{Do: "Brown it on all sides in a hot pan.", Minutes: 10, Hands: true},
			Step{Do: text, Minutes: math.Round(minutes/5) * 5, OvenC: oven}, Step{Do: "Let it rest in its liquid.", Minutes: 10})
	}
	switch m := c.Method.ID; {
	case minced:
		c.CoreC, c.TakeOutC = MinCoreMinced, MinCoreMinced
		c.Steps = []Step{{Do: "Hot pan or grill; turn it once. Cook it through: 71 °C in the thickest place.", Minutes: 10,
			Hands: true}}
	case m == "grill" || m == "pan_fry":
		c.Doneness, c.CoreC = &d, d.CoreC
		c.TakeOutC, c.RestMin, c.HoldMin = d.CoreC-CarryOver(kg/math.Max(1, float64(c.Feeds))), math.Max(MinRest, thick/6), 5
		side := follows(d.CoreC, sideMinutes) * math.Pow(thick/25, 1.4)
		c.Steps = []Step{{Do: "Out of the cold, pat it dry, salt it.", Minutes: 30}, {Do: heat(m), Minutes: 5, Hands: true}}
		if thick >= 38 {
			c.Steps = append(c.Steps, Step{Do: "Brown it, about two minutes on each side.", Minutes: 4, Hands: true},
				Step{Do: "Finish it in the oven.", Minutes: math.Round(2*side - 4), OvenC: 160})
		} else {
			c.Steps = append(c.Steps, Step{Do: "First side.", Minutes: half(side), Hands: true},
				Step{Do: "Second side.", Minutes: half(side), Hands: true})
		}
		c.Steps = append(c.Steps, Step{Do: "Rest it on a warm plate.", Minutes: math.Round(c.RestMin)})
	case m == "stir_fry":
		c.CoreC, c.TakeOutC = MinCoreMinced, MinCoreMinced // strips are thin: they are done through
		c.Steps = []Step{{Do: "Smoking hot pan, a little oil.", Minutes: 3, Hands: true},
			{Do: "In small lots, tossing; each is done in two minutes.", Minutes: math.Max(2, math.Ceil(c.WeightG/300)*2),
				Hands: true}}
	case m == "thin_slice":
		c.CoreC, c.TakeOutC = MinCoreMinced, MinCoreMinced
		c.Steps = []Step{{Do: "Very hot pan or plate.", Minutes: 3, Hands: true},
			{Do: "A minute on each side; it is thin and done through.", Minutes: math.Max(2, math.Ceil(c.WeightG/400)*2),
				Hands: true}}
	case m == "roast":
		c.Doneness, c.CoreC = &d, d.CoreC
		c.TakeOutC, c.RestMin, c.HoldMin = d.CoreC-CarryOver(kg), math.Min(30, 10+10*kg), 20
		hot, perKg := 20.0, follows(d.CoreC, roastMinutes)
		if p.Species == "lamb" {
			perKg += 4
		}
		if c.MinSafeCoreC == MinCoreMinced { // rolled or stuffed: 20 minutes very hot and 77 a kilogram at 180 °C
			perKg, c.CoreC, c.TakeOutC = 77, math.Max(c.CoreC, MinCoreMinced), MinCoreMinced
		}
		if kg < 0.8 { // small joints need no hot start
			hot = 10
		}
		down := perKg * kg
		if mm := c.roastThick(p, kg); mm > 0 && perKg != 77 { // a longer roast takes no longer
			c.ThicknessMm = mm
			down = math.Min(down, perKg*roastKg*math.Pow(mm/roastMm, roastPower))
		}
		c.Steps = []Step{{Do: "Out of the cold, pat it dry, salt it; no longer than an hour.", Minutes: 60},
			{Do: "Very hot oven.", Minutes: hot, OvenC: 230},
			{Do: "Turn the oven down.", Minutes: math.Round(down), OvenC: 180},
			{Do: "Rest it under a loose cover.", Minutes: math.Round(c.RestMin)}}
	case m == "slow_roast" && c.tenderSlow(p):
		c.CoreC, c.TakeOutC, c.RestMin, c.HoldMin = 90, 90, 20, 60
		c.Steps = []Step{{Do: "Brown it on all sides.", Minutes: 10, Hands: true},
			{Do: "Low oven, covered at first, until a fork turns in it: 85 to 95 °C inside.",
				Minutes: math.Round((150+80*c.onePiece(p))*c.tough()/5) * 5, OvenC: 120},
			{Do: "Rest it under a loose cover.", Minutes: 20}}
	case m == "slow_roast":
		c.Doneness, c.CoreC = &d, d.CoreC
		c.TakeOutC, c.RestMin, c.HoldMin = d.CoreC-2, 10, 45
		c.Steps = []Step{{Do: "Brown it on all sides.", Minutes: 10, Hands: true},
			{Do: "Low oven.", Minutes: math.Round((45 + 55*kg) * (0.7 + (d.CoreC-50)/50)), OvenC: 110},
			{Do: "A short rest.", Minutes: 10}}
	case m == "smoke":
		c.CoreC, c.TakeOutC, c.RestMin, c.HoldMin = 93, 93, 45, 90
		c.Steps = []Step{{Do: "Season it; bring the smoker to heat.", Minutes: 40},
			{Do: "In the smoke until a probe goes in like butter.", Minutes: math.Round((120 + 90*kg) * c.tough()), OvenC: 115},
			{Do: "Rest it wrapped.", Minutes: 45}}
	case m == "braise":
		// by the size of one piece: 0.5 kg two hours, 2 kg three, 4 kg four
		slow(150, (90+60*math.Pow(c.onePiece(p), 2.0/3))*c.tough(), 90,
			"Half covered with liquid, lid on, until a fork turns in it.")
	case m == "stew":
		slow(150, 110*c.tough(), 90, "Covered with liquid, lid on, until tender.")
	case m == "cure_cook":
		c.CoreC, c.TakeOutC, c.RestMin, c.HoldMin = 85, 85, 15, 60
		c.Steps = []Step{{Do: "Rinse the cured piece, cover it with cold water.", Minutes: 10, Hands: true},
			{Do: "Simmer, never boil, until tender.", Minutes: math.Round(40 + 70*kg)},
			{Do: "Let it stand in its broth.", Minutes: 15}}
	}
	if c.MinSafeCoreC == MinCoreMinced && c.TakeOutC < MinCoreMinced { // it has to get there in the heat
		c.CoreC, c.TakeOutC = math.Max(c.CoreC, MinCoreMinced), MinCoreMinced
	}
}

// A compact roast of so many kilograms is about so thick; by its thickness its time grows with this power. By
// conduction it would be the square; fitted to the published times that the tests hold it to.
const (
	roastKg    = 1.5
	roastMm    = 100.0
	roastPower = 2.3
)

// thick is how thick a steak or slice is, in millimetres.
func (c *Card) thick(p atlas.Piece) float64 {
	thick := 25.0
	switch {
	case c.request.ThicknessMm > 0:
		thick = c.request.ThicknessMm
	case c.Product.ThicknessMm > 0:
		thick = c.Product.ThicknessMm
	case c.Product.Form == "whole" || c.Product.Form == "medallion": // a small muscle by itself, as thick as it is
		if mm := c.roastThick(p, c.WeightG/1000); mm > 0 {
			thick = mm
		}
	}
	if c.Method.ID == "grill" || c.Method.ID == "pan_fry" {
		c.ThicknessMm = thick
	}
	return thick
}

// roastThick is how thick a roast is that weighs so much: as it was measured, else round and as long as what it is cut
// from; 0 where that is not known. It is never thicker than it is long.
func (c *Card) roastThick(p atlas.Piece, kg float64) float64 {
	if c.request.ThicknessMm > 0 {
		return c.request.ThicknessMm
	}
	if c.Product.Form == "mini_roast" || c.Product.PortionG > 0 || c.Product.Count.High > 1 { // cut to no one shape
		return 0
	}
	length := alongMm(p, c.Product)
	if length == 0 && len(c.Muscles) > 0 {
		length = c.Muscles[0].Shape.LengthMm
	}
	whole, _ := asSold(c.Product, p)
	if length <= 0 || whole <= 0 {
		return 0
	}
	length *= math.Min(1, kg*1000/whole) // less than all of it is a shorter piece
	mm3 := kg * 1e6 / 1.06
	return math.Min(math.Sqrt(4*mm3/math.Pi/length), math.Cbrt(4*mm3/math.Pi))
}

// cutMm is how long a piece of a product to cut off, along the piece, for it to weigh so much; 0 where it is not cut by
// length.
func cutMm(p atlas.Piece, pr atlas.Product, grams float64) float64 {
	whole, _ := asSold(pr, p)
	if pr.Along == nil || pr.ThicknessMm > 0 || whole <= 0 || grams >= whole {
		return 0
	}
	return math.Round(alongMm(p, pr) * grams / whole)
}

// alongMm is how long the stretch of the piece is that a product is cut from; 0 where it is not cut along it.
func alongMm(p atlas.Piece, pr atlas.Product) (mm float64) {
	for _, l := range p.Slices(planOf(p, pr)) {
		if l.Product == pr.ID {
			mm += l.ToMm - l.FromMm
		}
	}
	return mm
}

// planOf is the plan that a product stands in.
func planOf(p atlas.Piece, pr atlas.Product) atlas.Plan {
	for _, pl := range p.Plans {
		if own, ok := pl.Product(pr.ID); ok && own.Along != nil {
			return pl
		}
	}
	return atlas.Plan{}
}

func heat(method string) string {
	if method == "grill" {
		return "Grill as hot as it gets, clean and oiled."
	}
	return "Heavy pan until it smokes lightly, a little fat."
}

func half(minutes float64) float64 { return math.Round(minutes*2) / 2 }

func (c *Card) slice(minced bool) {
	if len(c.Muscles) == 0 || minced {
		return
	}
	m := c.Muscles[0]
	if c.Method.ID == "stew" || c.Method.ID == "stir_fry" {
		return // it was diced or cut into strips before
	}
	c.Grain = m.Grain.Direction
	c.Slice = "Slice across the grain. " + m.Grain.Note
}

// Choices lists how done the cut can be asked for: none where it cooks until it is tender, or is done through; of
// treated meat only what is not below the floor.
func (c Card) Choices() []Doneness {
	if c.Doneness == nil {
		return nil
	}
	return slices.DeleteFunc(slices.Clone(DonenessLevels),
		func(d Doneness) bool { return c.Treated && d.CoreC < c.MinSafeCoreC })
}

// Minutes is how long a card takes from the cold to the plate.
func (c Card) Minutes() float64 {
	sum := 0.0
	for _, s := range c.Steps {
		sum += s.Minutes
	}
	return sum
}

// Summary is the wanted centre and the floor in a sentence.
func (c Card) Summary() string {
	switch {
	case c.BelowSafe:
		return fmt.Sprintf("%s is %.0f °C at the centre, below the safe floor of %.0f °C (%s): the eater's own choice, and "+
			"not for the pregnant, the very young or old, or the ill.", c.Doneness.Name, c.CoreC, c.MinSafeCoreC,
			c.MinSafeCoreWhy)
	default:
		return fmt.Sprintf("%.0f °C at the centre; the safe floor is %.0f °C (%s).", c.CoreC, c.MinSafeCoreC,
			c.MinSafeCoreWhy)
	}
}
