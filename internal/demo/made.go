package demo

import (
	"fmt"

	"github.com/google/uuid"

	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/store"
	"falda/internal/work/goods"
	"falda/internal/work/made"
	"falda/internal/work/stock"
)

// fresh are young pieces that were cut this week, and whose trim is young enough for the mincer.
var fresh = []past{
	{ago: 3, piece: "beef.clod", plan: "seamed", bench: "North", role: "cutter", pace: 1.6, lossPct: 0.8},
	{ago: 2, piece: "beef.chuck_roll", plan: "seamed", bench: "South", role: "head_cutter", pace: 2.2, lossPct: 0.7},
	{ago: 1, piece: "beef.clod", plan: "cross_cut_blade", bench: "North", role: "cutter", pace: 2.0, lossPct: 0.9},
	{ago: 1, piece: "lamb.shoulder_whole", plan: "seamed", bench: "Middle", role: "apprentice", pace: 1.4, lossPct: 1.0},
	{ago: 1, piece: "lamb.leg_chump", plan: "seamed", bench: "South", role: "head_cutter", pace: 1.0, lossPct: 0.6},
}

// recipes are what the hall makes. Made up, like the rest of the scenario.
var recipes = []made.NewRecipe{
	{Name: "Harbour mince", Price: "11.90", Body: recipe.Recipe{Kind: "mince", Species: "beef", Category: "eu_beef",
		MakingLoss: 1, BatchKg: 1, ShelfDays: 2, WeekKg: 14}},
	{Name: "Skerrow burger", Price: "14.40", Body: recipe.Recipe{Kind: "burger", Species: "beef", LeanMin: 78, LeanMax: 84,
		MakingLoss: 1.5, PieceG: 150, ShelfDays: 2, WeekKg: 2.2, Lines: []recipe.Line{{Ingredient: "salt", PerKg: 0.014},
			{Ingredient: "pepper", PerKg: 0.003}}}},
	{Name: "Lamb and mint sausage", Price: "13.80", Body: recipe.Recipe{Kind: "sausage", Species: "lamb", LeanMin: 70,
		MakingLoss: 2, PieceG: 80, ShelfDays: 4, WeekKg: 5, Lines: []recipe.Line{{Ingredient: "rusk", PerKg: 0.10},
			{Ingredient: "water", PerKg: 0.12}, {Ingredient: "salt", PerKg: 0.02}, {Ingredient: "mint", PerKg: 0.008},
			{Ingredient: "casing", PerKg: 1.6}}}},
}

// making keeps the stock of this week: young pieces are cut, most of the trays sold, a tub tested for fat, a batch of
// mince made and half sold, and burgers planned for today.
func (s *scene) making() error {
	for _, in := range []stock.NewIngredient{
		{Key: "salt", Name: "Salt", Unit: "kg", Price: "0.70", Allergens: []string{}},
		{Key: "pepper", Name: "Black pepper", Unit: "kg", Price: "16.00", Allergens: []string{}, Supplier: "Long Geo spices"},
		{Key: "rusk", Name: "Rusk", Unit: "kg", Price: "2.40", Allergens: []string{"gluten"}, Supplier: "Skerrow bakehouse"},
		{Key: "water", Name: "Iced water", Unit: "litre", Price: "0.01", Allergens: []string{}},
		{Key: "mint", Name: "Dried mint", Unit: "kg", Price: "21.00", Allergens: []string{}, Supplier: "Long Geo spices"},
		{Key: "casing", Name: "Sheep casing", Unit: "m", Price: "0.38", Allergens: []string{}},
	} {
		if err := s.w.Stock.SaveIngredient(s.ctx, "", in); err != nil {
			return fmt.Errorf("ingredient %s: %w", in.Name, err)
		}
	}
	for i, p := range fresh {
		lot, err := s.receive(s.day(p.ago+1, 7), p.piece, 3, 1, costs[p.piece].perKg)
		if err != nil {
			return err
		}
		c, err := s.start(lot.Pieces[0].PublicID, p.plan, p.bench, p.role, s.day(p.ago, 12+i%3), p.pace, p.lossPct)
		if err != nil {
			return err
		}
		if err := c.finish(p); err != nil {
			return err
		}
	}
	if err := s.w.Goods.Begin(s.ctx, s.day(6, 6).Format("2006-01-02")); err != nil {
		return err
	}
	for i := range recipes {
		r, err := s.w.Made.SaveRecipe(s.ctx, "", recipes[i])
		if err != nil {
			return fmt.Errorf("recipe %s: %w", recipes[i].Name, err)
		}
		if s.recipes == nil {
			s.recipes = map[string]string{}
		}
		s.recipes[r.Name] = r.PublicID
	}
	if err := s.sellTrays(); err != nil {
		return err
	}
	return s.batches()
}

// sellTrays sells most of what was cut before today.
func (s *scene) sellTrays() error {
	there, err := s.w.Goods.Stock(s.ctx)
	if err != nil {
		return err
	}
	morning := s.w.At(s.clock(0, 7)).Goods
	for _, t := range there.Tubs {
		if t.Left <= 0 {
			continue
		}
		if t.Kind == store.GoodsStream {
			if err := s.clearTub(morning, t); err != nil {
				return err
			}
			continue
		}
		sold := part(t.Left, 0.2+0.35*s.rng.Float64())
		if !t.MadeOn.After(s.day(3, 6)) {
			sold = part(t.Left, 1)
		}
		if t.MadeOn.Equal(s.day(3, 0)) && t.Form != "dice" { // some of it lies there still, and presses
			sold = part(t.Left, 0.15)
		}
		err := morning.Book(s.as["cutter"], goods.Booking{ID: s.id(), Tub: t.String(), Kind: "sold",
			Weight: grams(sold), Unit: "g"})
		if err != nil {
			return fmt.Errorf("selling %s: %w", t.Name, err)
		}
	}
	return nil
}

// grams and kilos are masses as they are typed.
func grams(m measure.Mass) string { return fmt.Sprintf("%.0f", m.Grams()) }
func kilos(m measure.Mass) string { return fmt.Sprintf("%.3f", m.Grams()/1000) }

// clearTub sends an old tub on its way: fat and bone to the renderer, trim that nobody used in time thrown away.
func (s *scene) clearTub(morning *goods.Service, t goods.Tub) error {
	if t.UseBy.After(s.day(2, 6)) {
		return nil
	}
	kind, note := "sold", "to the renderer"
	if t.Form == "trim" || t.Form == "sausage_trim" {
		kind, note = "wasted", "past its date"
	}
	err := morning.Book(s.as["cutter"], goods.Booking{ID: s.id(), Tub: t.String(), Kind: kind,
		Weight: grams(t.Left), Unit: "g", Note: note})
	if err != nil {
		return fmt.Errorf("clearing %s: %w", t.Name, err)
	}
	return nil
}

// part is a part of a mass, to the gram below.
func part(m measure.Mass, of float64) measure.Mass {
	return measure.Mass(of*m.Grams()) * measure.Gram
}

// id is the next of the scenario's own ids, the same every time.
func (s *scene) id() string {
	var b [16]byte
	for i := range b {
		b[i] = byte(s.rng.IntN(256))
	}
	b[6], b[8] = b[6]&0x0f|0x40, b[8]&0x3f|0x80
	return uuid.UUID(b).String()
}

// batches tests a tub, makes mince of it this morning, and plans burgers.
func (s *scene) batches() error {
	morning := s.w.At(s.clock(0, 7))
	there, err := s.w.Goods.Stock(s.ctx)
	if err != nil {
		return err
	}
	var tubs []goods.Tub
	for _, t := range there.Tubs {
		if t.Key == "beef.mince_trim" && t.Left > 0 && (t.MinceUntil == nil || !there.Today.After(*t.MinceUntil)) {
			tubs = append(tubs, t)
		}
	}
	if len(tubs) < 2 {
		return fmt.Errorf("the scenario has %d young tubs of beef trim", len(tubs))
	}
	err = morning.Goods.TestFat(s.as["head_cutter"], goods.NewFatTest{ID: s.id(), Tub: tubs[0].String(),
		Lean: fmt.Sprintf("%.1f", tubs[0].Atlas.Lean+3.5), Note: "oven test"})
	if err != nil {
		return err
	}
	m, err := morning.Made.Begin(s.as["cutter"], made.NewMaking{ID: s.id(), Recipe: s.recipes["Harbour mince"],
		Plan: map[string]string{tubs[0].String(): kilos(tubs[0].Left)}})
	if err != nil {
		return err
	}
	for _, w := range []made.Weighing{
		{Kind: "used", Tub: tubs[0].String(), Weight: grams(part(tubs[0].Left, 1)), Unit: "g", Source: "scale"},
		{Kind: "came", Weight: grams(part(tubs[0].Left, 0.988)), Unit: "g", Source: "scale"}} {
		w.ID = s.id()
		if _, err := morning.Made.Weigh(s.as["cutter"], m.PublicID, w); err != nil {
			return err
		}
	}
	if m, err = morning.Made.Close(s.as["cutter"], m.PublicID, ""); err != nil {
		return err
	}
	mince := goods.TubID{Key: goods.MadeKey(s.recipes["Harbour mince"]), MadeOn: m.MadeOn, Place: "cold"}
	err = s.w.Goods.Book(s.as["cutter"], goods.Booking{ID: s.id(), Tub: mince.String(), Kind: "sold",
		Weight: grams(part(m.Came, 0.5)), Unit: "g"})
	if err != nil {
		return err
	}
	_, err = s.w.Made.Begin(s.as["cutter"], made.NewMaking{ID: s.id(), Recipe: s.recipes["Skerrow burger"],
		Plan: map[string]string{tubs[1].String(): kilos(tubs[1].Left)}})
	return err
}
