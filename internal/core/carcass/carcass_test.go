package carcass

import (
	"math"
	"slices"
	"strings"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
	"falda/internal/core/value"
)

// Source: USDA, United States Standards for Grades of Carcass Beef and of Lamb (the equations from memory). Worked with
// a pencil: fat 0.50 in, KPH 3.5 %, 700 lb, 12.3 sq in: 2.50 + 1.25 + 0.70 + 2.66 − 3.936 = 3.174. Each tenth of an
// inch of fat is a quarter of a grade.
func TestYieldGrades(t *testing.T) {
	exact, grade, err := Beef{0.50, 3.5, 700, 12.3}.YieldGrade()
	if err != nil || math.Abs(exact-3.174) > 1e-9 || grade != 3 {
		t.Errorf("%g, %d, %v", exact, grade, err)
	}
	more, _, _ := Beef{0.60, 3.5, 700, 12.3}.YieldGrade()
	if math.Abs(more-exact-0.25) > 1e-9 {
		t.Errorf("a tenth of an inch of fat is %g of a grade", more-exact)
	}
	if _, grade, _ := (Beef{0, 0, 500, 20}).YieldGrade(); grade != 1 {
		t.Errorf("below 1: %d", grade)
	}
	// the standards' own steps for lamb: 0.00–0.15 in is 1, 0.16–0.25 is 2, 0.26–0.35 is 3, 0.36–0.45 is 4, 0.46 and more
	// is 5 (from memory)
	for fat, want := range map[float64]int{0.05: 1, 0.15: 1, 0.16: 2, 0.25: 2, 0.26: 3, 0.35: 3, 0.36: 4, 0.45: 4, 0.46: 5,
		0.9: 5} {
		if _, got, err := LambYieldGrade(fat); got != want || err != nil {
			t.Errorf("%g in of fat: %d, want %d (%v)", fat, got, want, err)
		}
	}
	for field, b := range map[string]Beef{"fat_in": {-1, 3, 700, 12}, "kph_pct": {0.5, 60, 700, 12},
		"hot_lb": {0.5, 3, 70, 12}, "ribeye_sq_in": {0.5, 3, 700, math.NaN()}} {
		if _, _, err := b.YieldGrade(); len(fault.Of(err)) != 1 || fault.Of(err)[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

func kg(v float64) measure.Mass { return measure.Mass(math.Round(v * float64(measure.Kilogram))) }

// Rules: the lines, what is thrown away and what is lost add up to the carcass; bands in are bands out; the value is
// what it is made of; what a week cannot sell goes at the fallback.
func TestARollAddsUp(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range a.Carcasses {
		for _, d := range c.Divisions() {
			t.Run(c.ID+" "+d.ID, func(t *testing.T) { addsUp(t, a, c, d) })
		}
	}
}

// addsUp rolls up a carcass, broken so: every third piece is cut each side its own way, and one is sold as it is.
func addsUp(t *testing.T, a *atlas.Atlas, c atlas.Carcass, d atlas.Division) {
	whole := a.Whole(c, d.ID)
	masses := whole.Split(kg(c.WeightKg.Typical))
	k := Batch{Heads: 7, Minutes: 31.5, Purchase: measure.MustMoney("123.45"), Prices: map[string]measure.Price{},
		Caps: map[string]Cap{},
		Rates: value.Rates{LabourPerHour: measure.MustMoney("24"), PackagingPerKg: measure.MustMoney("0.12"),
			DiscardPerKg: measure.MustMoney("0.2")}}
	at := map[string]measure.Mass{}
	for i, part := range whole.Parts() {
		at[part.ID] = masses[i]
	}
	for n, part := range d.Parts {
		p, _ := a.Find(part.Piece)
		whole := Cut{Piece: p, Plan: p.Plans[n%len(p.Plans)], Mass: at[part.Piece], Count: part.Count}
		cuts := []Cut{whole}
		switch {
		case n == 1:
			cuts[0].Whole = &measure.Price{Amount: measure.MustMoney("8.15"), Per: measure.UnitKilogram}
		case n%3 == 0:
			other := whole
			other.Side, other.Plan, other.Mass = "other", p.Plans[(n+1)%len(p.Plans)], whole.Mass-whole.Mass/2
			cuts[0].Mass = whole.Mass / 2
			cuts = append(cuts, other)
		}
		k.Cuts = append(k.Cuts, cuts...)
		for _, cut := range cuts {
			for i, pr := range cut.Plan.Products {
				k.Prices[p.Key(pr)] = measure.Price{Amount: measure.MoneyOf(int64(500+137*i), 100), Per: measure.UnitKilogram}
				if i%3 == 0 {
					k.Caps[p.Key(pr)] = Cap{kg(1.5), measure.MustMoney("2")}
				}
			}
		}
	}
	for _, o := range d.Other {
		b := OtherYield{ID: o.ID, Name: o.Name, Mass: at[o.ID]}
		if o.As != "" {
			b.Key, b.Form = c.Species+"."+o.As, o.Kind // fat and bone are no meat
		}
		k.OtherYields = append(k.OtherYields, b)
	}
	r := Roll(k)
	if r.Mass != 7*kg(c.WeightKg.Typical) {
		t.Errorf("%s: the week weighs %d", c.ID, r.Mass)
	}
	in, out, leaves := map[string]measure.Mass{}, map[string]measure.Mass{}, measure.Mass(0)
	for _, f := range r.Flows {
		out[f.From] += f.Mass
		in[f.To] += f.Mass
	}
	added := measure.Mass(0) // what is put into a piece comes in at its part
	for id, m := range in {
		if strings.Contains(id, "/"+steps.AddedPrefix) {
			added += out[id]
			if m != 0 {
				t.Errorf("%s: %s weighs %d in the carcass", c.ID, id, m)
			}
			continue
		}
		if out[id] != 0 && out[id] != m {
			t.Errorf("%s: %s takes %d and gives %d", c.ID, id, m, out[id])
		}
		if out[id] == 0 {
			if !strings.HasPrefix(id, "product/") {
				t.Log("ZZ", id, m)
			}
			leaves += m
		}
	}
	if leaves != out["carcass"]+added || out["carcass"] != kg(c.WeightKg.Typical) {
		t.Errorf("%s: the bands end at %d of %d with %d added", c.ID, leaves, kg(c.WeightKg.Typical), added)
	}
	uncut := k.Cuts[slices.IndexFunc(k.Cuts, func(c Cut) bool { return c.Whole != nil })]
	i := slices.IndexFunc(r.Lines, func(l Line) bool { return l.Key == uncut.Piece.ID+".whole" })
	if i < 0 || r.Lines[i].Mass != 7*uncut.Mass ||
		r.Lines[i].Sales.Sub(uncut.Whole.Of(7*uncut.Mass)).Abs().Cmp(measure.MustMoney("0.01")) > 0 {
		t.Errorf("%s is not sold as it is", uncut.Piece.Name)
	}
	var sales measure.Money
	beyond := 0
	for _, l := range r.Lines {
		sales = sales.Add(l.Sales)
		limit, capped := k.Caps[l.Key]
		if capped && l.Beyond > 0 {
			beyond++
			if l.Beyond != l.Mass-limit.Week ||
				l.Sales.Cmp(l.Price.Of(limit.Week).Add(measure.MustMoney("2").Times(l.Beyond.In(measure.UnitKilogram))).
					Round(2)) != 0 {
				t.Errorf("%s: %s beyond its cap: %d, %s", c.ID, l.Name, l.Beyond, l.Sales)
			}
		}
	}
	tot := r.Totals
	if sales.Cmp(tot.Sales) != 0 ||
		tot.Sales.Sub(tot.Packaging).Sub(tot.Discard).Sub(tot.Labour).Sub(tot.Purchase).Cmp(tot.Value) != 0 {
		t.Errorf("%s: the value is not what it is made of", c.ID)
	}
	// all meat that is sold is packed, also what the breaking itself gives: the rate by its weight
	var meat measure.Mass
	for _, l := range r.Lines {
		if !(atlas.Product{Form: l.Form}).ByProduct() {
			meat += l.Mass
		}
	}
	beside := measure.Mass(0)
	for _, b := range k.OtherYields {
		if b.Key != "" {
			beside += b.Mass
		}
	}
	if off := tot.Packaging.Sub(measure.MustMoney("0.12").Times(meat.In(measure.UnitKilogram))).
		Float(); math.Abs(off) > 0.005*7*float64(len(k.Cuts)+1) || beside == 0 {
		t.Errorf("%s: packaging %s for %d g of meat", c.ID, tot.Packaging, meat/1000)
	}
	// the picture and the table agree: the bands out of the carcass are the head's sales, and each piece brings what its
	// band says
	bands := measure.Money{}
	for _, f := range r.Flows {
		if f.From != "carcass" {
			continue
		}
		bands = bands.Add(f.Value)
		for _, p := range r.Pieces {
			if f.To == "piece/"+p.ID() && p.Sales.Cmp(f.Value) != 0 {
				t.Errorf("%s: %s brings %s in its line and %s in its band", c.ID, p.Piece.ID, p.Sales, f.Value)
			}
		}
	}
	if bands.Cmp(r.Head().Sales) != 0 {
		t.Errorf("%s: the bands bring %s, the head %s", c.ID, bands, r.Head().Sales)
	}
	if tot.Labour.Text(2) != "88.20" { // 7 × 31.5 min at 24 an hour
		t.Errorf("labour %s", tot.Labour)
	}
	if beyond == 0 || r.Lost.Sign() <= 0 && beyond > 0 && len(k.Caps) == 0 {
		t.Errorf("%s: no cap was tried", c.ID)
	}
	if r.PerHead(tot.Purchase).Text(2) != "123.45" {
		t.Errorf("a head costs %s", r.PerHead(tot.Purchase))
	}
}
