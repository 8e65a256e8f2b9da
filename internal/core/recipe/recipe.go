package recipe

import (
	"cmp"
	"math/big"
	"slices"
	"strconv"

	"falda/internal/core/fault"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/trim"
)

// Kind is a kind of recipe.
type Kind struct {
	ID, Name string
	Meat     bool // it holds meat
}

// Kinds lists them.
var Kinds = []Kind{{"mince", "Mince", true}, {"burger", "Burgers", true}, {"sausage", "Sausages", true},
	{"cooked", "Cooked and sliced", true}, {"stuffing", "Stuffing", false}, {"dry_mix", "Dry mix", false},
	{"marinade", "Marinade", false}, {"cure", "Cure", false}}

// FindKind gives one by its id.
func FindKind(id string) (Kind, bool) {
	i := slices.IndexFunc(Kinds, func(k Kind) bool { return k.ID == id })
	if i < 0 {
		return Kind{}, false
	}
	return Kinds[i], true
}

// Line is an ingredient of a recipe: so much of its unit per kilogram of meat, or in a recipe without meat of what is
// made.
type Line struct {
	Ingredient string  `json:"ingredient"` // key of a shop's
	PerKg      float64 `json:"per_kg"`
}

// Share bounds how much of the meat is of a source: a species, or a product by its key.
type Share struct {
	Of       string  `json:"of"`
	LeastPct float64 `json:"least_pct"`
	MostPct  float64 `json:"most_pct"` // 0: no most
}

// Recipe is one of a shop's.
type Recipe struct {
	Kind     string  `json:"kind"`
	Species  string  `json:"species"` // whose meat alone it holds; empty for any
	Category string  `json:"category"`
	LeanMin  float64 `json:"lean_min_pct"` // of the meat; 0: no limit
	LeanMax  float64 `json:"lean_max_pct"`
	Collagen float64 `json:"collagen_max_pct"` // of the protein
	Shares   []Share `json:"shares"`
	Lines    []Line  `json:"lines"`
	PieceG   float64 `json:"piece_g"` // of one burger or sausage; 0 loose
	// What is lost on the way from what goes in to what is sold, in percent of what is there at each step.
	MakingLoss  float64 `json:"making_loss_pct"`
	CookingLoss float64 `json:"cooking_loss_pct"`
	SlicingLoss float64 `json:"slicing_loss_pct"`
	BatchKg     float64 `json:"batch_kg"` // of meat, that the mincer or bowl takes; 0 any
	ShelfDays   int     `json:"shelf_days"`
	WeekKg      float64 `json:"week_kg"` // of what is made sells in a week at its price; 0: all of it
}

// Check says what is wrong with a recipe; faults name its fields.
func (r Recipe) Check() error {
	var faults fault.List
	kind, ok := FindKind(r.Kind)
	if !ok {
		faults.Add("kind", fault.New("", "unknown", fault.Quote(r.Kind)+" is no kind of recipe", "Choose one of the list."))
	}
	between := func(field string, v, low, high float64) {
		if !(v >= low && v <= high) {
			faults.Add(field, fault.New("", "out_of_range",
				"must be from "+number(low)+" to "+number(high), "Check the figure."))
		}
	}
	between("lean_min_pct", r.LeanMin, 0, 100)
	between("lean_max_pct", r.LeanMax, 0, 100)
	between("collagen_max_pct", r.Collagen, 0, 100)
	between("piece_g", r.PieceG, 0, 20_000)
	between("making_loss_pct", r.MakingLoss, 0, 50)
	between("cooking_loss_pct", r.CookingLoss, 0, 80)
	between("slicing_loss_pct", r.SlicingLoss, 0, 50)
	between("batch_kg", r.BatchKg, 0, 1000)
	between("week_kg", r.WeekKg, 0, 100_000)
	between("shelf_days", float64(r.ShelfDays), 0, 400)
	if r.LeanMax > 0 && r.LeanMax < r.LeanMin {
		faults.Add("lean_max_pct", fault.New("", "out_of_order", "is below the least", "Swap them, or leave one out."))
	}
	if _, known := trim.FindCategory(r.Category); r.Category != "" && !known {
		faults.Add("category", fault.New("", "unknown", "is no name of the law's", "Choose one of the list."))
	}
	if len(r.Lines) > maxLines || len(r.Shares) > maxLines {
		faults.Add("lines", fault.New("", "too_many", "are more than 40", "Put some of them into a mix of their own."))
		return faults.Err()
	}
	if ok && !kind.Meat && len(r.Lines) == 0 {
		faults.Add("lines", fault.Required("Say what goes in."))
	}
	seen := map[string]bool{}
	for i, l := range r.Lines {
		at := "lines[" + strconv.Itoa(i) + "]."
		if l.Ingredient == "" || seen[l.Ingredient] {
			faults.Add(at+"ingredient", fault.New("", "duplicate", "must be an ingredient of its own", "Name each once."))
		}
		seen[l.Ingredient] = true
		if !(l.PerKg > 0 && l.PerKg <= 10) {
			faults.Add(at+"per_kg", fault.New("", "out_of_range", "must be above 0 and at most 10", "Say how much goes in."))
		}
	}
	for i, sh := range r.Shares {
		at := "shares[" + strconv.Itoa(i) + "]."
		if sh.Of == "" || !(sh.LeastPct >= 0 && sh.LeastPct <= 100) || !(sh.MostPct >= 0 && sh.MostPct <= 100) ||
			(sh.MostPct > 0 && sh.MostPct < sh.LeastPct) {
			faults.Add(at+"of", fault.New("", "out_of_range", "needs a source, and parts from 0 to 100 % in their order", ""))
		}
	}
	return faults.Err()
}

// maxLines bounds the lists of a recipe.
const maxLines = 40

func number(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// exact is a typed figure as a fraction.
func exact(v float64) *big.Rat {
	r, _ := new(big.Rat).SetString(number(v))
	return r
}

// Amount is how much of an ingredient goes in.
type Amount struct {
	ingredient.Ingredient
	Key    string
	Amount *big.Rat       // of its unit
	Cost   *measure.Money // exact; nil where it has no price
}

// Scaled is a recipe for an amount of meat; of a recipe without meat, for so much of what is made.
type Scaled struct {
	Recipe  Recipe
	Meat    *big.Rat // kg
	Amounts []Amount // in the order of the recipe
	In      *big.Rat // kg of all that goes in and is eaten
	Out     *big.Rat // kg that are sold, after every loss
	Pieces  int      // of one weight; 0 loose
	Cost    measure.Money
	Without []string // ingredients without a price
}

// For scales a recipe to so many kilograms of meat, by a shop's ingredients.
func (r Recipe) For(meatKg *big.Rat, book ingredient.Book) Scaled {
	kind, _ := FindKind(r.Kind)
	out := Scaled{Recipe: r, Meat: new(big.Rat), In: new(big.Rat)}
	if kind.Meat {
		out.Meat.Set(meatKg)
		out.In.Set(meatKg)
	}
	for _, l := range r.Lines {
		in := book[l.Ingredient]
		a := Amount{Ingredient: in, Key: l.Ingredient, Amount: new(big.Rat).Mul(exact(l.PerKg), meatKg)}
		if in.Weighs() {
			out.In.Add(out.In, a.Amount)
		}
		if in.Price != nil {
			cost := in.Price.Times(a.Amount)
			a.Cost = &cost
			out.Cost = out.Cost.Add(cost)
		} else {
			out.Without = append(out.Without, in.Called(l.Ingredient))
		}
		out.Amounts = append(out.Amounts, a)
	}
	out.Out = new(big.Rat).Mul(out.In, r.Kept())
	if r.PieceG > 0 {
		n := new(big.Rat).Quo(new(big.Rat).Mul(out.Out, big.NewRat(1000, 1)), exact(r.PieceG))
		out.Pieces = int(new(big.Int).Quo(n.Num(), n.Denom()).Int64())
	}
	return out
}

// Kept is which part of what goes in is sold, after every loss that is usual.
func (r Recipe) Kept() *big.Rat {
	k := big.NewRat(1, 1)
	for _, loss := range []float64{r.MakingLoss, r.CookingLoss, r.SlicingLoss} {
		k.Mul(k, new(big.Rat).Sub(big.NewRat(1, 1), new(big.Rat).Quo(exact(loss), big.NewRat(100, 1))))
	}
	return k
}

// NetPerKg is what a kilogram of meat brings in the recipe at a price per kilogram sold, less what else goes in.
func (r Recipe) NetPerKg(pricePerKg *big.Rat, book ingredient.Book) *big.Rat {
	one := r.For(big.NewRat(1, 1), book)
	net := new(big.Rat).Mul(one.Out, pricePerKg)
	return net.Sub(net, one.Cost.Rat())
}

// Part is a line of a label.
type Part struct {
	Name     string
	Pct      float64 // of all that goes in
	Meat     bool
	Allergen bool
}

// Label gives what a label must say is in it: what is eaten, in falling order by weight as it goes in, meat with its
// share. Meat is called as given.
func (s Scaled) Label(meat string) []Part {
	var out []Part
	if s.In.Sign() == 0 {
		return out
	}
	pct := func(kg *big.Rat) float64 {
		v, _ := new(big.Rat).Quo(new(big.Rat).Mul(kg, big.NewRat(100, 1)), s.In).Float64()
		return v
	}
	if s.Meat.Sign() > 0 {
		out = append(out, Part{Name: meat, Pct: pct(s.Meat), Meat: true})
	}
	for _, a := range s.Amounts {
		if a.Weighs() {
			out = append(out, Part{Name: a.Called(a.Key), Pct: pct(a.Amount), Allergen: len(a.Allergens) > 0})
		}
	}
	slices.SortStableFunc(out, func(a, b Part) int { return cmp.Compare(b.Pct, a.Pct) })
	return out
}

// Allergens lists what it brings, in the order of the law's list, each once.
func (s Scaled) Allergens() []ingredient.Allergen {
	var out []ingredient.Allergen
	for _, al := range ingredient.Allergens {
		if slices.ContainsFunc(s.Amounts, func(a Amount) bool { return slices.Contains(a.Allergens, al.ID) }) {
			out = append(out, al)
		}
	}
	return out
}

// SaltG is how many grams of an ingredient that is salt go into a kilogram of all that goes in; 0 where none is named.
func (s Scaled) SaltG() float64 {
	for _, a := range s.Amounts {
		if a.Key == "salt" && s.In.Sign() > 0 {
			v, _ := new(big.Rat).Quo(new(big.Rat).Mul(a.Amount, big.NewRat(1000, 1)), s.In).Float64()
			return v
		}
	}
	return 0
}

// Bounds are what a recipe asks of its meat, by itself and by the law's name: lean from and to, and the most collagen
// of the protein, in percent; 0 where it asks nothing.
func (r Recipe) Bounds() (leanMin, leanMax, collagen float64) {
	leanMin, leanMax, collagen = r.LeanMin, r.LeanMax, r.Collagen
	if c, ok := trim.FindCategory(r.Category); ok {
		leanMin = max(leanMin, 100-c.FatMaxPct)
		if c.CollagenMaxPct > 0 && (collagen == 0 || c.CollagenMaxPct < collagen) {
			collagen = c.CollagenMaxPct
		}
	}
	return leanMin, leanMax, collagen
}

// Limits says what a recipe asks of its meat, in sentences.
func (r Recipe) Limits() (out []string) {
	if c, ok := trim.FindCategory(r.Category); ok {
		text := c.Name + ": at most " + number(c.FatMaxPct) + " % fat"
		if c.CollagenMaxPct > 0 {
			text += ", collagen at most " + number(c.CollagenMaxPct) + " % of the protein"
		}
		out = append(out, text+".")
	}
	switch {
	case r.LeanMin > 0 && r.LeanMax > 0:
		out = append(out, number(r.LeanMin)+" to "+number(r.LeanMax)+" % lean.")
	case r.LeanMin > 0:
		out = append(out, "At least "+number(r.LeanMin)+" % lean.")
	case r.LeanMax > 0:
		out = append(out, "At most "+number(r.LeanMax)+" % lean.")
	}
	if r.Collagen > 0 {
		out = append(out, "Collagen at most "+number(r.Collagen)+" % of the protein.")
	}
	for _, s := range r.Shares {
		if s.LeastPct > 0 {
			out = append(out, "At least "+number(s.LeastPct)+" % "+s.Of+".")
		}
		if s.MostPct > 0 {
			out = append(out, "At most "+number(s.MostPct)+" % "+s.Of+".")
		}
	}
	return out
}
