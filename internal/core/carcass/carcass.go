// Package carcass rolls plans up to a side of beef or a whole lamb, and grades carcasses by their yield.
//
// A roll is what a week's kill gives when every piece of each carcass is cut by a plan of its own. Invariants: its
// lines add up to the carcass to the milligram; its value is sales less packaging, labour, discard and purchase,
// exactly; what of a product exceeds what a week can sell is sold at the fallback, and no more than that. Sources:
// yield grades, USDA standards for grades of carcass beef and of lamb (from memory).
package carcass

import (
	"math/big"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
	"falda/internal/core/value"
)

// Cut is a piece of the carcass and the plan that it is cut by.
type Cut struct {
	Piece atlas.Piece
	Side  string // which of a pair, where the two are cut each its own way
	Plan  atlas.Plan
	Mass  measure.Mass   // of all of them in one carcass
	Count int            // in one carcass
	Whole *measure.Price // what it is sold at as it is, neither cut nor by a plan
}

// ID tells the cuts of one carcass apart: the piece, and which of a pair it is.
func (c Cut) ID() string {
	if c.Side == "" {
		return c.Piece.ID
	}
	return c.Piece.ID + ":" + c.Side
}

// WholePart stands in the flows for the parts of a piece that is sold as it is.
const WholePart = "whole"

// wholeKey is the key of the line of a piece that is sold as it is.
func (c Cut) wholeKey() string { return c.Piece.ID + "." + WholePart }

// OtherYield is what a carcass gives beside its pieces: kidneys, bone, fat, loss. Key is that of the product that it is
// sold as; empty where it is not sold.
type OtherYield struct {
	ID, Name string
	Key      string
	Form     string
	Mass     measure.Mass
}

// Cap is what of a product sells in a week at its full price, and what a kilogram beyond brings.
type Cap struct {
	Week     measure.Mass
	Fallback measure.Money
}

// Batch is a week's kill and what it is reckoned by.
type Batch struct {
	Heads       int
	Cuts        []Cut
	OtherYields []OtherYield
	Minutes     float64 // of one carcass
	Purchase    measure.Money
	Prices      map[string]measure.Price
	Rates       value.Rates
	Caps        map[string]Cap
	Currency    measure.Currency // each line of the week is rounded once to its smallest coin
}

// Line is one product of the week.
type Line struct {
	Key, Name, Form string
	Mass            measure.Mass // of the week
	Beyond          measure.Mass // of it, what a week cannot sell at the full price
	Price           measure.Price
	Priced          bool
	Sales           measure.Money
}

// PieceLine is one piece of the carcass, by the week.
type PieceLine struct {
	Cut
	// of one carcass, as much of it as a week sells; with what comes beside, the pieces add up to the head's sales
	Sales     measure.Money
	Packaging measure.Money
	Discard   measure.Money
	Meat      measure.Mass
}

// Flow is a band from one thing to another, of one carcass.
type Flow struct {
	From, To string // ids: "carcass", "piece/…", "part/piece/…", "product/…"
	Mass     measure.Mass
	Value    measure.Money // of what is sold, demand counted
}

// RollUp is a week's kill, rolled up.
type RollUp struct {
	Heads       int
	Lines       []Line
	Pieces      []PieceLine
	OtherYields []OtherYield
	Flows       []Flow
	Totals      value.Totals // of the week; PerKg is of carcass
	Mass        measure.Mass // of the week
	Lost        measure.Money

	currency measure.Currency
}

// Roll rolls a week's kill up.
func Roll(k Batch) RollUp {
	r := roller{batch: k, heads: measure.Mass(k.Heads), at: map[string]int{}, flows: map[[2]string]int{}}
	r.RollUp = RollUp{Heads: k.Heads, OtherYields: k.OtherYields, currency: k.Currency}
	for _, c := range k.Cuts {
		r.cut(c)
	}
	for _, b := range k.OtherYields {
		r.yield(b)
	}
	for i := range r.Lines {
		r.sell(&r.Lines[i])
	}
	for _, w := range r.ways {
		r.flow(w)
	}
	r.total()
	r.share()
	return r.RollUp
}

// roller rolls a batch up.
type roller struct {
	RollUp
	batch       Batch
	heads       measure.Mass
	meat, waste measure.Mass      // of the week
	at          map[string]int    // product → its line
	flows       map[[2]string]int // from and to → its flow
	ways        []way
}

// way is where a part of a piece goes.
type way struct {
	piece, part, to string
	mass            measure.Mass
}

// cut adds what a piece of one head becomes.
func (r *roller) cut(c Cut) {
	if c.Whole != nil {
		r.uncut(c)
		return
	}
	k, heads := r.batch, big.NewRat(int64(r.heads), 1)
	sheet := value.Sheet{Atlas: c.Piece, Plan: c.Plan, Cells: value.Forecast(c.Piece, c.Plan, c.Mass), Prices: k.Prices,
		Rates: k.Rates, Currency: k.Currency}
	t := sheet.Totals()
	p := PieceLine{Cut: c, Packaging: t.Packaging.Times(heads), Discard: t.Discard.Times(heads)}
	r.Mass += c.Mass * r.heads
	r.waste += sheet.FateMass(value.Waste) * r.heads
	r.Totals.Ingredients = r.Totals.Ingredients.Add(t.Ingredients.Times(heads))
	for _, cell := range sheet.Cells {
		to := string(cell.Fate)
		if pr, ok := c.Plan.Product(cell.Product); ok && cell.Fate == value.Sold {
			to = c.Piece.Key(pr)
			r.line(to, pr.Name, pr.Form, cell.Mass)
			if !pr.ByProduct() {
				p.Meat += cell.Mass * r.heads
			}
		}
		r.ways = append(r.ways, way{c.ID(), cell.Part, to, cell.Mass})
	}
	r.meat += p.Meat
	r.Pieces = append(r.Pieces, p)
}

// uncut adds a piece of one head that is sold as it is: packed, at one price, with nothing left over.
func (r *roller) uncut(c Cut) {
	mass, key := c.Mass*r.heads, c.wholeKey()
	r.Mass, r.meat = r.Mass+mass, r.meat+mass
	r.line(key, c.Piece.Name+", whole", atlas.FormPiece, c.Mass)
	l := &r.Lines[r.at[key]]
	l.Price, l.Priced = *c.Whole, c.Whole.Amount.Sign() > 0
	r.ways = append(r.ways, way{c.ID(), WholePart, key, c.Mass})
	r.Pieces = append(r.Pieces, PieceLine{Cut: c, Meat: mass,
		Packaging: r.batch.Currency.Round(r.batch.Rates.PackagingPerKg.Times(mass.In(measure.UnitKilogram)))})
}

// yield adds what the breaking of one head gives beside the pieces.
func (r *roller) yield(b OtherYield) {
	r.Mass += b.Mass * r.heads
	to := string(value.Loss)
	if b.Key != "" {
		to = b.Key
		r.line(b.Key, b.Name, b.Form, b.Mass)
		if !(atlas.Product{Form: b.Form}).ByProduct() { // what the breaking gives as meat is packed like the rest
			r.meat += b.Mass * r.heads
		}
	}
	r.ways = append(r.ways, way{b.ID, b.ID, to, b.Mass})
}

// line adds a mass per head to a product's line.
func (r *roller) line(key, name, form string, m measure.Mass) {
	i, ok := r.at[key]
	if !ok {
		i, r.at[key] = len(r.Lines), len(r.Lines)
		price, priced := r.batch.Prices[key]
		r.Lines = append(r.Lines, Line{Key: key, Name: name, Form: form, Price: price, Priced: priced})
	}
	r.Lines[i].Mass += m * r.heads
}

// sell sells a line: up to its cap at its full price, and what is beyond for what a kilogram more brings.
func (r *roller) sell(l *Line) {
	k := r.batch
	full := k.Currency.Round(l.Price.Of(l.Mass))
	l.Sales = full
	if limit, ok := k.Caps[l.Key]; ok && l.Mass > limit.Week {
		l.Beyond = l.Mass - limit.Week
		falls := limit.Fallback
		if perKg := l.Price.PerKilogram(); falls.Cmp(perKg) > 0 { // what does not sell brings no more than what does
			falls = perKg
		}
		l.Sales = k.Currency.Round(l.Price.Of(limit.Week).Add(falls.Times(l.Beyond.In(measure.UnitKilogram))))
		r.Lost = r.Lost.Add(full.Sub(l.Sales))
	}
	r.Totals.Sales = r.Totals.Sales.Add(l.Sales)
}

// flow adds a way to the flows. A kilogram of a product brings what it brings on the mean, as much of it as is sold.
// What a plan adds to a piece (a stuffing) weighs in the product, not in the carcass; what it brings, the piece brings.
func (r *roller) flow(w way) {
	var brings measure.Money
	if i, ok := r.at[w.to]; ok && r.Lines[i].Mass > 0 {
		brings = r.Lines[i].Sales.Times(big.NewRat(int64(w.mass), int64(r.Lines[i].Mass)))
	}
	piece, part := "piece/"+w.piece, "part/"+w.piece+"/"+w.part
	for _, x := range [][2]string{{"carcass", piece}, {piece, part}, {part, "product/" + w.to}} {
		i, ok := r.flows[x]
		if !ok {
			i, r.flows[x] = len(r.Flows), len(r.Flows)
			r.Flows = append(r.Flows, Flow{From: x[0], To: x[1]})
		}
		if r.Flows[i].Value = r.Flows[i].Value.Add(brings); x[0] == part || steps.AddedIngredient(w.part) == "" {
			r.Flows[i].Mass += w.mass
		}
	}
}

// total reckons what the week costs and what it leaves.
func (r *roller) total() {
	k, t := r.batch, &r.Totals
	heads := big.NewRat(int64(k.Heads), 1)
	t.Packaging = k.Currency.Round(k.Rates.PackagingPerKg.Times(r.meat.In(measure.UnitKilogram)))
	t.Discard = k.Currency.Round(k.Rates.DiscardPerKg.Times(r.waste.In(measure.UnitKilogram)))
	hours := new(big.Rat).Mul(value.HoursOf(k.Minutes), heads)
	t.Labour = k.Currency.Round(k.Rates.LabourPerHour.Times(hours))
	t.Purchase = k.Currency.Round(k.Purchase).Times(heads)
	before := t.Sales.Sub(t.Packaging).Sub(t.Discard).Sub(t.Ingredients).Sub(t.Purchase)
	t.Value = before.Sub(t.Labour)
	if r.Mass > 0 {
		t.PerKg = k.Currency.Round(t.Value.Over(r.Mass.In(measure.UnitKilogram)))
	}
	if hours.Sign() > 0 {
		perHour := before.Over(hours)
		t.PerHour = &perHour
	}
}

// share rounds what each piece of a carcass brings, so that together they are the head's sales, in the lines of the
// pieces and in the bands alike.
func (r *RollUp) share() {
	var bands []int
	var exact []measure.Money
	for i, f := range r.Flows {
		if f.From == "carcass" {
			bands, exact = append(bands, i), append(exact, f.Value)
		}
	}
	shown := measure.RoundToTotal(exact, r.Head().Sales, r.currency.Places())
	for k, i := range bands {
		r.Flows[i].Value = shown[k]
		for n, p := range r.Pieces {
			if r.Flows[i].To == "piece/"+p.ID() {
				r.Pieces[n].Sales = r.currency.Of(shown[k])
			}
		}
	}
}

// PerHead gives an amount of the week for one carcass, rounded once.
func (r RollUp) PerHead(m measure.Money) measure.Money {
	return r.currency.Round(m.Over(big.NewRat(int64(r.Heads), 1)))
}

// Head is what one carcass brings: each line its part of the week's, rounded so that they add up to its value.
func (r RollUp) Head() value.Totals {
	t := r.Totals.Shared(big.NewRat(1, int64(r.Heads)), r.PerHead(r.Totals.Value), r.currency)
	t.PerKg, t.PerHour = r.Totals.PerKg, r.Totals.PerHour
	return t
}
