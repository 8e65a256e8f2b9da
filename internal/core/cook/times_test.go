package cook

import (
	"testing"

	"falda/internal/core/atlas"
)

// inTheHeat is how long a card's product is over the fire or in the oven, in minutes: all steps but laying out before
// and resting, cooling and slicing after.
func (c Card) inTheHeat() (sum float64) {
	for _, s := range c.Steps {
		if s.OvenC > 0 || s.Do == "First side." || s.Do == "Second side." ||
			s.Do == "Brown it, about two minutes on each side." ||
			(c.Way.ID == slowCooker && s.Minutes >= 60) {
			sum += s.Minutes
		}
	}
	return sum
}

// Times against published ones, all from memory: the rules of British household cookery (20 minutes for 450 g and 20
// more at 180 °C for medium beef, 15 and 15 rare, 25 and 25 well done; lamb 25 and 25, 30 and 30 well done); tables of
// meat boards in the United States for roasts at 163 °C and 218 °C, pot roasts, short ribs, shanks, stews and steaks;
// makers' hand books of slow cookers; and what is said in the trade of cushions, topsides and smoked briskets. A card
// may lie a quarter beyond either end, for ovens and shapes do.
func TestTimesAgainstPublishedOnes(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		piece, product string
		ask            CardRequest
		low, high      float64 // minutes
		source         string
	}{
		{"beef.topside", "small_roast", CardRequest{WeightG: 1000, Doneness: "medium"}, 60, 70, "household rule, medium"},
		{"beef.topside", "small_roast", CardRequest{WeightG: 1500, Doneness: "medium"}, 80, 90, "household rule, medium"},
		{"beef.topside", "small_roast", CardRequest{WeightG: 1000, Doneness: "rare"}, 45, 52, "household rule, rare"},
		{"beef.topside", "small_roast", CardRequest{WeightG: 1500, Doneness: "well"}, 100, 115, "household rule, well done"},
		{"beef.topside", "topside_joint", CardRequest{WeightG: 3600, Doneness: "medium"}, 105, 135,
			"trade: 15 min very hot, about 2 h"},
		{"beef.topside", "topside_joint", CardRequest{WeightG: 4500, Doneness: "medium"}, 120, 150,
			"trade: 15 min very hot, about 2 h"},
		{"beef.striploin", "strip_roast", CardRequest{WeightG: 1800, Doneness: "medium_rare"}, 60, 90,
			"meat board, 4 lb strip roast at 163 °C"},
		{"beef.striploin", "strip_roast", CardRequest{WeightG: 3100, Doneness: "medium_rare"}, 75, 120,
			"meat board, 6 to 8 lb at 163 °C"},
		{"beef.tenderloin", "whole_fillet", CardRequest{WeightG: 1700, Doneness: "medium_rare"}, 45, 60,
			"meat board, whole, at 218 °C"},
		{"beef.rib", "loin_end_roast", CardRequest{WeightG: 2300, Doneness: "medium_rare"}, 95, 125,
			"meat board, rib roast 4 to 6 lb at 163 °C"},
		{"beef.bottom_sirloin", "tri_tip_roast", CardRequest{WeightG: 900, Doneness: "medium_rare"}, 30, 45,
			"meat board, tri-tip 1.5 to 2 lb at 218 °C"},
		{"lamb.leg_chump", "leg_roast", CardRequest{WeightG: 2000, Doneness: "medium"}, 110, 136,
			"household rule, lamb medium"},
		{"lamb.leg_chump", "leg_roast", CardRequest{WeightG: 2500, Doneness: "well"}, 140, 195,
			"household rule, lamb well done"},
		{"lamb.shoulder_whole", "cushion", CardRequest{WeightG: 1500}, 135, 136,
			"trade: 20 min, then 77 min a kilogram stuffed"},
		{"lamb.shoulder_whole", "cushion", CardRequest{WeightG: 2000}, 173, 175,
			"trade: 20 min, then 77 min a kilogram stuffed"},
		{"lamb.shoulder_whole", "shoulder_roast", CardRequest{WeightG: 2000}, 240, 330,
			"cookery books, slow shoulder at 120 to 150 °C"},
		{"lamb.rack", "frenched_rack", CardRequest{WeightG: 600, Doneness: "medium"}, 25, 35, "meat board, rack at 190 °C"},
		{"beef.chuck_roll", "chuck_roast", CardRequest{WeightG: 1600, Way: "braise"}, 120, 180,
			"meat board, pot roast 3 to 4 lb, 2 to 3 h"},
		{"beef.chuck_short_rib", "single_bone", CardRequest{WeightG: 1800}, 90, 150, "meat board, short ribs, 1½ to 2½ h"},
		{"beef.chuck_roll", "stew", CardRequest{WeightG: 1000}, 105, 150, "meat board, stew 25 to 40 mm, 1¾ to 2½ h"},
		{"beef.shin_arm", "diced_shin", CardRequest{WeightG: 1000}, 120, 180, "meat board, shank stew, 2 to 3 h"},
		{"lamb.leg_chump", "hind_shank", CardRequest{}, 105, 150, "meat board, shanks, 1½ to 2½ h"},
		{"beef.brisket", "whole_brisket", CardRequest{WeightG: 5500}, 600, 840, "trade: 10 to 14 h in the smoke"},
		{"beef.chuck_roll", "chuck_roast", CardRequest{WeightG: 1600, Way: slowCooker}, 420, 600,
			"slow cooker, low, 8 to 10 h"},
		{"beef.chuck_roll", "stew", CardRequest{WeightG: 1000, Way: slowCooker}, 360, 540, "slow cooker, low, 7 to 9 h"},
		{"beef.striploin", "striploin_steak", CardRequest{ThicknessMm: 25, Doneness: "rare"}, 4, 6, "household, 25 mm rare"},
		{"beef.striploin", "striploin_steak", CardRequest{ThicknessMm: 25, Doneness: "medium"}, 7, 10,
			"household, 25 mm medium"},
		{"beef.striploin", "striploin_steak", CardRequest{ThicknessMm: 25, Doneness: "well"}, 10, 13,
			"household, 25 mm well done"},
		{"beef.striploin", "striploin_steak", CardRequest{ThicknessMm: 19, Doneness: "medium"}, 5, 7, "meat board, 19 mm"},
		{"beef.ribeye_roll", "ribeye_steak", CardRequest{ThicknessMm: 38, Doneness: "medium"}, 14, 18, "meat board, 38 mm"},
		{"lamb.rack", "rib_chop", CardRequest{ThicknessMm: 25, Doneness: "medium"}, 7, 11,
			"meat board, lamb chops 25 mm grilled"},
		{"lamb.saddle", "loin_chop", CardRequest{ThicknessMm: 28, Doneness: "medium"}, 8, 12,
			"meat board, loin chops 28 mm grilled"},
	} {
		p, _ := a.Find(c.piece)
		var pr atlas.Product
		for _, x := range p.Plans {
			if y, ok := x.Product(c.product); ok && pr.ID == "" {
				pr = y
			}
		}
		card, err := Of(p, pr, c.ask)
		if err != nil {
			t.Errorf("%s of %s: %v", c.product, c.piece, err)
			continue
		}
		if m := card.inTheHeat(); m < 0.75*c.low || m > 1.25*c.high {
			t.Errorf("%s of %s, %+v: %.0f min, %s says %.0f to %.0f (%.0f mm)", c.product, c.piece, c.ask, m, c.source, c.low,
				c.high, card.ThicknessMm)
		}
	}
}

// A roast twice as long takes no longer; one twice as thick does. What is cut off for the eaters is as long as its
// share.
func TestTimesGoByThickness(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	p, _ := a.Find("beef.striploin")
	pl, _ := p.Plan("joint")
	pr, _ := pl.Product("strip_roast")
	of := func(r CardRequest) Card {
		t.Helper()
		r.Doneness = "medium"
		c, err := Of(p, pr, r)
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	short, long := of(CardRequest{WeightG: 2400}), of(CardRequest{WeightG: 3100})
	if long.inTheHeat() > short.inTheHeat()*1.05 {
		t.Errorf("2.4 kg takes %.0f min, 3.1 kg of the same %.0f", short.inTheHeat(), long.inTheHeat())
	}
	if thick := of(CardRequest{WeightG: 3100, ThicknessMm: 130}); thick.inTheHeat() < 1.3*long.inTheHeat() {
		t.Errorf("130 mm thick it takes %.0f min, %.0f mm thick %.0f", thick.inTheHeat(), long.ThicknessMm, long.inTheHeat())
	}
	// the roast is the piece up to the vein end: half of it is half as long
	whole, _ := asSold(pr, p)
	if half := of(CardRequest{WeightG: whole / 2}); half.CutMm < 148 || half.CutMm > 154 {
		t.Errorf("half of 302 mm is %.0f mm", half.CutMm)
	}
	if mark := GasMark(180); mark != "4" || GasMark(0) != "" || GasMark(120) != "½" || GasMark(230) != "8" {
		t.Errorf("180 °C is gas mark %s", mark)
	}
}
