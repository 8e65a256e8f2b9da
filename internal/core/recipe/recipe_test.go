package recipe

import (
	"math"
	"math/big"
	"testing"

	"falda/internal/core/fault"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
)

func money(s string) *measure.Money {
	m := measure.MustMoney(s)
	return &m
}

var book = ingredient.Book{
	"salt":   {Key: "salt", Name: "Salt", Unit: "kg", Price: money("0.60")},
	"rusk":   {Key: "rusk", Name: "Rusk", Unit: "kg", Price: money("2.00"), Allergens: []string{"gluten"}},
	"water":  {Key: "water", Name: "Water", Unit: "litre", Price: money("0")},
	"casing": {Key: "casing", Name: "Casing", Unit: "m", Price: money("0.40")},
	"spice":  {Key: "spice", Name: "Spice", Unit: "kg", Allergens: []string{"mustard", "celery"}},
}

var sausage = Recipe{Kind: "sausage", PieceG: 100, MakingLoss: 2, ShelfDays: 4, Lines: []Line{{"salt", 0.02},
	{"rusk", 0.1}, {"water", 0.12}, {"casing", 1.5}, {"spice", 0.01}}}

// By hand: 10 kg of meat take 200 g of salt, 1 kg of rusk, 1.2 l of water, 15 m of casing, 100 g of spice: 12.5 kg in
// all, 12.25 after 2 % in the mincer, 122 sausages. Salt 0.12, rusk 2, casing 6: 8.12, and the spice has no price. Meat
// is 80 %, salt 16 g a kilogram.
func TestScaledByHand(t *testing.T) {
	s := sausage.For(big.NewRat(10, 1), book)
	if s.In.Cmp(big.NewRat(25, 2)) != 0 || s.Out.Cmp(big.NewRat(49, 4)) != 0 || s.Pieces != 122 ||
		s.Cost.String() != "8.12" || len(s.Without) != 1 || s.Without[0] != "Spice" {
		t.Errorf("%v in, %v out, %d pieces, %v, without %v", s.In, s.Out, s.Pieces, s.Cost, s.Without)
	}
	label := s.Label("Beef")
	sum := 0.0
	var names []string
	for _, p := range label {
		sum += p.Pct
		names = append(names, p.Name)
	}
	if math.Abs(sum-100) > 1e-9 || len(names) != 5 || names[0] != "Beef" || label[0].Pct != 80 || names[1] != "Water" ||
		names[2] != "Rusk" || !label[2].Allergen || label[1].Allergen {
		t.Errorf("%+v", label)
	}
	if a := s.Allergens(); len(a) != 3 || a[0].ID != "gluten" || a[1].ID != "celery" {
		t.Errorf("%+v", a)
	}
	if math.Abs(s.SaltG()-16) > 1e-9 {
		t.Errorf("%g g of salt", s.SaltG())
	}
	// a kilogram of meat makes 1.225 kg at 9.00, less 0.812 of what else goes in
	if net := sausage.NetPerKg(big.NewRat(9, 1), book); net.Cmp(big.NewRat(10213, 1000)) != 0 {
		t.Errorf("%v", net.FloatString(4))
	}
}

// By hand: roast beef that loses a quarter in the oven and a tenth on the slicer: 0.75 · 0.9 = 0.675 of it is sold.
func TestCookedByHand(t *testing.T) {
	s := Recipe{Kind: "cooked", CookingLoss: 25, SlicingLoss: 10}.For(big.NewRat(4, 1), book)
	if s.Out.Cmp(big.NewRat(27, 10)) != 0 || s.Pieces != 0 {
		t.Errorf("%v", s.Out)
	}
}

// A mix without meat is made by the kilogram.
func TestMixWithoutMeat(t *testing.T) {
	mix := Recipe{Kind: "dry_mix", Lines: []Line{{"salt", 0.75}, {"rusk", 0.25}}}
	if err := mix.Check(); err != nil {
		t.Fatal(err)
	}
	s := mix.For(big.NewRat(4, 1), book)
	if s.Meat.Sign() != 0 || s.In.Cmp(big.NewRat(4, 1)) != 0 || s.Cost.String() != "3.80" ||
		s.Label("")[0].Name != "Salt" {
		t.Errorf("%+v", s)
	}
}

func TestRecipeRefuses(t *testing.T) {
	ok := func(change func(*Recipe)) Recipe {
		r := sausage
		change(&r)
		return r
	}
	for field, r := range map[string]Recipe{
		"kind":                ok(func(r *Recipe) { r.Kind = "soup" }),
		"lean_min_pct":        ok(func(r *Recipe) { r.LeanMin = 101 }),
		"lean_max_pct":        ok(func(r *Recipe) { r.LeanMin, r.LeanMax = 80, 70 }),
		"making_loss_pct":     ok(func(r *Recipe) { r.MakingLoss = math.NaN() }),
		"category":            ok(func(r *Recipe) { r.Category = "xx" }),
		"lines[0].ingredient": ok(func(r *Recipe) { r.Lines = []Line{{"", 1}} }),
		"lines[1].ingredient": ok(func(r *Recipe) { r.Lines = []Line{{"salt", 1}, {"salt", 1}} }),
		"lines[0].per_kg":     ok(func(r *Recipe) { r.Lines = []Line{{"salt", 0}} }),
		"lines":               {Kind: "cure"},
		"shares[0].of":        ok(func(r *Recipe) { r.Shares = []Share{{Of: "beef", LeastPct: 60, MostPct: 50}} }),
	} {
		list := fault.Of(r.Check())
		if len(list) != 1 || list[0].Field != field {
			t.Errorf("%s: %v", field, r.Check())
		}
	}
	if err := sausage.Check(); err != nil {
		t.Error(err)
	}
}
