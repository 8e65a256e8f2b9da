package atlas

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"falda/internal/core/fault"
)

// Option is a matter on which practitioners disagree, as choices within plans of a piece. A choice changes weights,
// products and minutes; without one the plan stays as it is.
type Option struct {
	ID      string   `yaml:"id"`
	Name    string   `yaml:"name"`
	In      []string `yaml:"in"`    // plans that offer it
	AsIs    string   `yaml:"as_is"` // what those plans do without a choice
	Choices []Choice `yaml:"choices"`
	Usual   string   `yaml:"-"` // of an option between steps: the id of what is done without a choice
}

// Choice is one answer to an option.
type Choice struct {
	ID       string    `yaml:"id"`
	Name     string    `yaml:"name"`
	Why      string    `yaml:"why"`
	Minutes  float64   `yaml:"minutes"` // more than the plan; fewer when negative
	Moves    []Move    `yaml:"moves"`
	Products []Product `yaml:"products"` // that the plan does not have; their from stays empty
}

// Move takes a percentage of what products have of a part, and puts it into another product or throws it away.
type Move struct {
	Part string   `yaml:"part"` // empty: every part of the product
	Of   []string `yaml:"of"`   // products, or Thrown; those that the plan does not make are passed over
	To   string   `yaml:"to"`   // a product, or Thrown; a move to a product that the plan does not make is passed over
	Pct  float64  `yaml:"pct"`  // above 0, at most 100
}

// Thrown stands for the bin where a move names products.
const Thrown = "waste"

// Cover says how thick a fat lies and over which muscles, so that a thickness to leave can be turned into a weight.
type Cover struct {
	Mm          float64            `yaml:"mm"`           // natural mean thickness
	Over        map[string]float64 `yaml:"over"`         // muscle → percentage of the fat that lies over it
	BareMinutes float64            `yaml:"bare_minutes"` // more, when it is peeled off to the lean
}

// FatCover is the id of the option that every plan of a piece with a measured fat cover offers: a thickness in
// millimetres.
const FatCover = "fat_cover"

// bearing are the forms that can be sold with fat left on.
var bearing = []string{"steak", "roast", "mini_roast", "whole", "chop", "rack", "cushion"}

// Options lists the options that a plan of the piece offers; the fat cover is not among them.
func (p Piece) OptionsOf(planID string) []Option {
	var out []Option
	for _, o := range p.Options {
		if slices.Contains(o.In, planID) {
			out = append(out, o)
		}
	}
	if pl, ok := p.Plan(planID); ok {
		out = append(out, p.between(pl)...)
	}
	return out
}

// between gives the options of a plan's steps in the form of options between plans: what is done without a choice, and
// the other choices with the minutes that they add.
func (p Piece) between(pl Plan) []Option {
	var out []Option
	for _, o := range pl.Options {
		usual, _ := o.Choice(o.Default)
		opt := Option{ID: o.ID, Name: o.Name, In: []string{pl.ID}, AsIs: usual.Name, Usual: o.Default}
		for _, c := range o.Choices {
			if c.ID == o.Default {
				continue
			}
			with := pl
			with.Chosen = map[string]string{o.ID: c.ID}
			minutes := p.Flow(with).Time(p.Sizes(p.Typical())) - pl.Minutes
			opt.Choices = append(opt.Choices, Choice{ID: c.ID, Name: c.Name, Why: c.Why, Minutes: math.Round(minutes*100) / 100})
		}
		out = append(out, opt)
	}
	return out
}

// covered gives the part that is the piece's fat cover.
func (p Piece) covered() (Part, bool) {
	for _, o := range p.Other {
		if o.Cover.Mm > 0 {
			return o, true
		}
	}
	return Part{}, false
}

// CoverOf says how thick the fat cover is on the piece and how thick a plan leaves it on what can bear it, in
// millimetres; ok is false where the piece has no measured cover, or the plan makes nothing that can bear it.
func (p Piece) CoverOf(pl Plan) (natural, left float64, ok bool) {
	part, ok := p.covered()
	if !ok || pl.OwnSteps() { // how much is left is a matter of the steps
		return 0, 0, false
	}
	full, kept := 0.0, 0.0
	for _, share := range bears(part, pl) {
		full += share
	}
	for _, pr := range pl.Products {
		if slices.Contains(bearing, pr.Form) {
			kept += pr.From[part.ID]
		}
	}
	if full == 0 {
		return 0, 0, false
	}
	return part.Cover.Mm, min(part.Cover.Mm, part.Cover.Mm*kept/full), true
}

// bears gives the percentage of the cover that each product of a plan would carry if all of it were left on. Where the
// plan leaves fat on some products already it is a matter of those; else of all that can bear it.
func bears(part Part, pl Plan) map[string]float64 {
	out := map[string]float64{}
	some := slices.ContainsFunc(pl.Products,
		func(pr Product) bool { return slices.Contains(bearing, pr.Form) && pr.From[part.ID] > 0 })
	for _, pr := range pl.Products {
		if some && pr.From[part.ID] == 0 {
			continue
		}
		for muscle, over := range part.Cover.Over {
			if share := pr.From[muscle]; share > 0 && slices.Contains(bearing, pr.Form) {
				out[pr.ID] += over * share / 100
			}
		}
	}
	return out
}

// With gives a plan of the piece with choices made: option id → choice id, and FatCover → millimetres. Faults name the
// option. The plan's name says what was chosen; everything still goes somewhere.
func (p Piece) With(pl Plan, chosen map[string]string) (Plan, error) {
	var faults fault.List
	out := pl.copied()
	p.spell(&out)
	out.Chosen = map[string]string{}
	var said []string
	known := map[string]bool{FatCover: true}
	for _, o := range p.OptionsOf(pl.ID) {
		known[o.ID] = true
		id := chosen[o.ID]
		if id == "" || id == o.Usual {
			continue
		}
		at := slices.IndexFunc(o.Choices, func(c Choice) bool { return c.ID == id })
		if at < 0 {
			faults.Add("options."+o.ID,
				fault.New("", "unknown", "“"+id+"” is not a choice of "+o.Name,
					"Leave it as the plan has it, or take one of its choices."))
			continue
		}
		c := o.Choices[at]
		if !pl.OwnSteps() {
			out.choose(c)
		}
		out.Chosen[o.ID] = id
		said = append(said, lowerFirst(c.Name))
	}
	for id := range chosen {
		if !known[id] && chosen[id] != "" {
			faults.Add("options."+id, fault.New("", "unknown", "this plan has no such option", "Leave it out."))
		}
	}
	if text := chosen[FatCover]; text != "" {
		if err := p.leave(&out, text); err != nil {
			faults.Add("options."+FatCover, err)
		} else {
			out.Chosen[FatCover] = text
			said = append(said, coverWords(text))
		}
	}
	if err := faults.Err(); err != nil {
		return pl, err
	}
	if len(said) == 0 {
		return pl, nil
	}
	p.unspell(&out)
	out.tidy()
	out = p.Compile(out)
	out.Name += "; " + strings.Join(said, ", ")
	return out, nil
}

func coverWords(mm string) string {
	if v, err := strconv.ParseFloat(mm, 64); err == nil && v == 0 {
		return "peeled bare"
	}
	return mm + " mm of fat left"
}

func lowerFirst(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// leave cuts the fat cover to a thickness: of the cover over a muscle, that part stays on the products which bear it
// that the thickness is of the natural one; the rest is fat. Area times thickness, the area taken as even.
func (p Piece) leave(pl *Plan, text string) error {
	natural, _, ok := p.CoverOf(*pl)
	if !ok {
		return fault.New("", "unknown", "this plan leaves no fat cover on anything", "Leave it out.")
	}
	mm, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsNaN(mm) || mm < 0 {
		return fault.New("", "not_a_number", "“"+text+"” is not a thickness", "Give millimetres, 0 to peel it bare.")
	}
	if mm > natural {
		return fault.New("", "out_of_range", fmt.Sprintf("there is only about %g mm of it", natural),
			"Leave less, or leave it as it is.")
	}
	part, _ := p.covered()
	carried := bears(part, *pl)
	left := int64(whole)
	for i := range pl.Products {
		delete(pl.Products[i].From, part.ID)
		if share := Thousandths(carried[pl.Products[i].ID] * mm / natural); share > 0 {
			pl.Products[i].From[part.ID] = float64(share) / 1000
			left -= share
		}
	}
	delete(pl.Waste, part.ID)
	if left > 0 {
		pl.put(part.ID, "fat", left)
	}
	if mm == 0 {
		pl.Minutes += part.Cover.BareMinutes
	}
	return nil
}

// choose works a choice into the plan.
func (pl *Plan) choose(c Choice) {
	for _, pr := range c.Products {
		if _, ok := pl.Product(pr.ID); !ok {
			pr.From = map[string]float64{}
			pl.Products = append(pl.Products, pr)
		}
	}
	for _, m := range c.Moves {
		if pl.goesTo(m.To) == nil && m.To != "fat" {
			continue
		}
		for _, from := range m.Of {
			if from == m.To {
				continue
			}
			for _, part := range slices.Sorted(maps.Keys(pl.goesTo(from))) {
				if m.Part != "" && m.Part != part {
					continue
				}
				moved := int64(math.Round(float64(Thousandths(pl.goesTo(from)[part])) * m.Pct / 100))
				pl.put(part, from, -moved)
				pl.put(part, m.To, moved)
			}
		}
	}
	pl.Minutes = max(1, pl.Minutes+c.Minutes)
}

// goesTo is what a product, or the bin, takes of each part; nil where the plan has no such product.
func (pl *Plan) goesTo(id string) map[string]float64 {
	if id == Thrown {
		return pl.Waste
	}
	for _, pr := range pl.Products {
		if pr.ID == id {
			return pr.From
		}
	}
	return nil
}

// put adds thousandths of a percent of a part to a product or the bin. Fat for rendering is sold by every shop: a plan
// that has none yet gets it.
func (pl *Plan) put(part, to string, thousandths int64) {
	goes := pl.goesTo(to)
	if goes == nil && to == "fat" {
		pl.Products = append(pl.Products,
			Product{ID: "fat", Name: "Fat for rendering", Form: "fat", From: map[string]float64{}})
		goes = pl.goesTo(to)
	}
	if goes == nil {
		return
	}
	goes[part] = float64(Thousandths(goes[part])+thousandths) / 1000
	if goes[part] == 0 {
		delete(goes, part)
	}
}

// spell writes down what of the piece's waste a plan throws away, which else goes without saying; unspell leaves it out
// again.
func (p Piece) spell(pl *Plan) {
	for _, o := range p.Other {
		if o.Kind != KindWaste {
			continue
		}
		left := int64(whole)
		for _, pr := range pl.Products {
			left -= Thousandths(pr.From[o.ID])
		}
		if left > 0 {
			pl.Waste[o.ID] = float64(left) / 1000
		}
	}
}

func (p Piece) unspell(pl *Plan) {
	for _, o := range p.Other {
		if o.Kind == KindWaste {
			delete(pl.Waste, o.ID)
		}
	}
}

// tidy drops products that are made of nothing any more.
func (pl *Plan) tidy() {
	pl.Products = slices.DeleteFunc(pl.Products, func(pr Product) bool { return len(pr.From) == 0 })
}

// copied is the plan with maps of its own.
func (pl Plan) copied() Plan {
	pl.Products = slices.Clone(pl.Products)
	for i := range pl.Products {
		pl.Products[i].From = maps.Clone(pl.Products[i].From)
		if pl.Products[i].From == nil {
			pl.Products[i].From = map[string]float64{}
		}
	}
	if pl.Waste = maps.Clone(pl.Waste); pl.Waste == nil {
		pl.Waste = map[string]float64{}
	}
	return pl
}

// Dressing is the percentage of a muscle that a plan takes off it: what goes to trim, fat or the bin. Plans that leave
// tendon, bone, strap or fat on take less than full dressing does.
func (pl Plan) Dressing(muscle string) float64 {
	off := pl.Waste[muscle]
	for _, pr := range pl.Products {
		if pr.IsTrim() || pr.ByProduct() {
			off += pr.From[muscle]
		}
	}
	return off
}

// IsTrim says whether the product is trim for mince or sausage.
func (pr Product) IsTrim() bool { return pr.Form == "trim" || pr.Form == "sausage_trim" }
