package cook

import (
	"math"
	"strings"
	"testing"
	"time"

	"gonum.org/v1/gonum/integrate/quad"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
)

func constant(c float64, minutes float64) []Sample {
	return []Sample{{0, c}, {time.Duration(minutes * float64(time.Minute)), c}}
}

// Source: UK FSA guidance on time and temperature (from memory): 60 °C 45 min, 65 °C 10 min, 70 °C 2 min, 75 °C 30 s,
// 80 °C 6 s are alike. The integral agrees with that table to within 20 %.
func TestLethalityAgainstTheTable(t *testing.T) {
	for c, minutes := range map[float64]float64{60: 45, 65: 10, 70: 2, 75: 0.5, 80: 0.1} {
		r, err := Read(constant(c, minutes), MinCoreWhole, 60, 1)
		if err != nil || r.PasteurisationMinutes < 0.8*SafeMinutes || r.PasteurisationMinutes > 1.2*SafeMinutes {
			t.Errorf("%g °C for %g min is worth %.3f min at 70 °C, %v", c, minutes, r.PasteurisationMinutes, err)
		}
	}
	if r, _ := Read(constant(70, 2), MinCoreWhole, 60, 1); math.Abs(r.PasteurisationMinutes-2) > 1e-9 || r.SafeAt == nil ||
		*r.SafeAt != 2*time.Minute {
		t.Errorf("two minutes at 70 °C: %+v", r)
	}
}

// Outside check: gonum's quadrature of the same integral along a curve of heating and cooling, sounded every ten
// seconds.
func TestLethalityAgainstAReferenceLibrary(t *testing.T) {
	curve := func(m float64) float64 { return 5 + 62*math.Sin(math.Pi*m/120) }
	var log []Sample
	for s := 0; s <= 120*60; s += 10 {
		log = append(log, Sample{time.Duration(s) * time.Second, curve(float64(s) / 60)})
	}
	r, err := Read(log, MinCoreWhole, 60, 2)
	want := quad.Fixed(func(m float64) float64 { return math.Pow(10, (curve(m)-70)/7.5) }, 0, 120, 400, nil, 0)
	if err != nil || math.Abs(r.PasteurisationMinutes-want) > 1e-3*want {
		t.Errorf("%.6f, by quadrature %.6f, %v", r.PasteurisationMinutes, want, err)
	}
	if math.Abs(r.Peak-67) > 1e-9 || r.PeakAt != time.Hour {
		t.Errorf("peak %g at %s", r.Peak, r.PeakAt)
	}
	at63 := 120 / math.Pi * math.Asin(58.0/62)
	at54 := 120 / math.Pi * math.Asin(49.0/62) // 60 °C wanted, 6 of them by the carry-over of two kilograms
	if r.MinCoreAt == nil || math.Abs(r.MinCoreAt.Minutes()-at63) > 0.01 || r.TakeOutAt == nil ||
		math.Abs(r.TakeOutAt.Minutes()-at54) > 0.01 {
		t.Errorf("the floor at %v, out at %v; want %.3f and %.3f min", r.MinCoreAt, r.TakeOutAt, at63, at54)
	}
}

func TestWhatIsNoLog(t *testing.T) {
	for name, log := range map[string][]Sample{"one sounding": {{0, 60}}, "backwards": {{time.Minute, 60}, {0, 61}},
		"twice the same time": {{0, 60}, {0, 61}}, "a fire": {{0, 60}, {time.Minute, 900}},
		"no number": {{0, 60}, {time.Minute, math.NaN()}}} {
		if _, err := Read(log, 63, 60, 1); fault.Of(err) == nil {
			t.Errorf("%s is read", name)
		}
	}
	if r, err := Read(constant(50, 90), MinCoreWhole, 60, 1); err != nil || r.MinCoreAt != nil || r.SafeAt != nil {
		t.Errorf("a raw roast is done: %+v", r)
	}
}

// Source: USDA FSIS safe minimum internal temperatures (from memory).
func TestFloors(t *testing.T) {
	for _, c := range []struct {
		minced, treated, game bool
		want                  float64
	}{{false, false, false, 63}, {true, false, false, 71}, {false, true, false, 71}, {true, true, false, 71},
		{false, false, true, 71}} {
		if got, why := MinSafeCore(c.minced, c.treated, c.game); got != c.want || why == "" {
			t.Errorf("%+v: %g", c, got)
		}
	}
}

func atlasOf(t *testing.T) *atlas.Atlas {
	t.Helper()
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// Every product of the atlas that is cooked has a card that holds together, for every doneness.
func TestEveryCutHasACard(t *testing.T) {
	cards := 0
	for _, p := range atlasOf(t).Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				if pr.Cook == "" {
					continue
				}
				last := 0.0
				for _, d := range DonenessLevels {
					c, err := Of(p, pr, CardRequest{Doneness: d.ID})
					if err != nil {
						t.Errorf("%s %s: %v", p.ID, pr.ID, err)
						continue
					}
					cards++
					if len(c.Steps) == 0 || c.CoreC < 45 || c.TakeOutC > c.CoreC || c.WeightG <= 0 || c.Feeds < 1 ||
						c.Minutes() <= 0 || c.MinSafeCoreC < 63 || math.IsNaN(c.Minutes()) || c.Summary() == "" {
						t.Errorf("%s %s %s: %+v", p.ID, pr.ID, d.ID, c)
					}
					if c.BelowSafe != (c.CoreC < c.MinSafeCoreC) ||
						(c.BelowSafe && !strings.Contains(c.Summary(), "below the safe floor")) {
						t.Errorf("%s %s %s says %q", p.ID, pr.ID, d.ID, c.Summary())
					}
					if c.Doneness != nil && c.Minutes() < last {
						t.Errorf("%s %s: %s takes less than the one before", p.ID, pr.ID, d.ID)
					}
					last = c.Minutes()
				}
				if c, err := Of(p, pr, CardRequest{Treated: true, Doneness: "rare"}); err != nil || c.CoreC < MinCoreMinced {
					t.Errorf("%s %s, stuffed and rare: %g °C, %v", p.ID, pr.ID, c.CoreC, err)
				}
			}
		}
	}
	if cards < 500 {
		t.Errorf("only %d cards", cards)
	}
}

// The brief's rule for a stuffed shoulder: 20 minutes very hot, then 77 minutes a kilogram at 180 °C; 340 g a head of a
// roast, 225 g of a steak.
func TestStuffedShoulderAndPortions(t *testing.T) {
	p, _ := atlasOf(t).Find("lamb.shoulder_whole")
	pr := atlas.Product{ID: "x", Name: "Stuffed shoulder", Form: "roast", Cook: "roast",
		From: map[string]float64{p.Muscles[0].ID: 100}}
	c, err := Of(p, pr, CardRequest{WeightG: 2000, Treated: true, Allergens: []string{"milk"}})
	if err != nil || c.Steps[1].Minutes != 20 || c.Steps[2].Minutes != 154 || c.Steps[2].OvenC != 180 ||
		c.TakeOutC != MinCoreMinced || len(c.Contains) != 1 {
		t.Errorf("%+v, %v", c, err)
	}
	if c, _ := Of(p, pr, CardRequest{Diners: 6}); c.WeightG != 2040 || c.Feeds != 6 {
		t.Errorf("a roast for six: %g g feeds %d", c.WeightG, c.Feeds)
	}
	pr.Cook, pr.ThicknessMm = "grill", 25
	if c, _ := Of(p, pr, CardRequest{Diners: 4}); c.WeightG != 900 || c.Feeds != 4 {
		t.Errorf("steaks for four: %g g feeds %d", c.WeightG, c.Feeds)
	}
	for field, a := range map[string]CardRequest{"doneness": {Doneness: "blue"}, "diners": {Diners: -1},
		"weight_g": {WeightG: 1}, "allergens": {Allergens: []string{"love"}}} {
		if _, err := Of(p, pr, a); len(fault.Of(err)) != 1 || fault.Of(err)[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// By hand: a roast with 10 minutes at 230 °C, 60 at 180 °C and 15 of rest, on the table at 19:00: sliced from 18:55,
// out at 18:40, turned down at 17:40, in at 17:30, the oven lit at 17:10.
func TestTimetableByHand(t *testing.T) {
	serve := time.Date(2026, 3, 20, 19, 0, 0, 0, time.UTC)
	roast := Dish{"Roast",
		Card{Steps: []Step{{Do: "Out of the cold.", Minutes: 60}, {Do: "Hot.", Minutes: 10, OvenC: 230},
			{Do: "Turn it down.", Minutes: 60, OvenC: 180}, {Do: "Rest.", Minutes: 15}}, HoldMin: 20}}
	table, err := Timetable([]Dish{roast}, serve)
	if err != nil {
		t.Fatal(err)
	}
	want := []string{"16:30 Out of the cold. (60 min)", "17:10 Heat the oven to 230 °C.",
		"17:30 Hot. In at 230 °C. (10 min)", "17:40 Turn it down. Down to 180 °C. (60 min)", "18:40 Rest. (15 min)",
		"18:55 Onto the plates.", "19:00 Serve."}
	if len(table.Moments) != len(want) {
		t.Fatalf("%+v", table.Moments)
	}
	for i, m := range table.Moments {
		if got := m.At.Format("15:04 ") + m.Do; got != want[i] {
			t.Errorf("%q, by hand %q", got, want[i])
		}
	}
	// a braise at 150 °C wants the oven at the same time: it can wait warm for an hour, so it goes in before
	braise := Dish{"Braise", Card{Steps: []Step{{Do: "Lid on.", Minutes: 120, OvenC: 150}}, HoldMin: 90}}
	if table, err = Timetable([]Dish{braise, roast}, serve); err != nil || len(table.Waits) != 1 ||
		!strings.HasPrefix(table.Waits[0], "Braise waits warm for 85 minutes") || len(table.Clashes) != 0 {
		t.Errorf("%+v, %v", table, err)
	}
	// where it cannot wait so long, the oven is not enough
	braise.Card.HoldMin = 30
	if table, err = Timetable([]Dish{braise, roast}, serve); err != nil || len(table.Clashes) != 1 ||
		!strings.HasPrefix(table.Clashes[0], "Braise needs the oven") {
		t.Errorf("%+v, %v", table, err)
	}
	// two of one heat share it
	braise.Card.Steps[0].OvenC, braise.Card.Steps[0].Minutes = 175, 30
	if table, err = Timetable([]Dish{braise, roast}, serve); err != nil || len(table.Clashes) != 0 {
		t.Errorf("%+v, %v", table, err)
	}
	if _, err := Timetable(nil, serve); fault.Of(err) == nil {
		t.Error("a table of nothing")
	}
}

// Rules over every card of the atlas: none opens below its own floor; a product that is rolled, stuffed, cubed, needled
// or minced by itself starts at 71 °C (USDA FSIS, from memory) and cannot be asked for pinker; what is done further
// takes longer; slow roasts of shoulder, breast and riblets are tender, 85 to 95 °C (common practice, no source).
func TestEveryCardIsSafeAndSensible(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	cards, treated, tender := 0, 0, 0
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				if pr.Cook == "" {
					continue
				}
				at := p.ID + "/" + pl.ID + "/" + pr.ID
				c, err := Of(p, pr, CardRequest{})
				if err != nil {
					t.Fatal(at, err)
				}
				cards++
				if c.BelowSafe || c.CoreC < c.MinSafeCoreC {
					t.Errorf("%s opens at %.0f °C, its floor is %.0f", at, c.CoreC, c.MinSafeCoreC)
				}
				name := strings.ToLower(pr.Name)
				for _, word := range []string{"roll", "stuff", "filling", "cubed", "needled", "roulade", "minced"} {
					if strings.Contains(name, word) && pr.Treated == "" && !strings.Contains(name, "tenderloin") {
						t.Errorf("%s, %q, does not say that it is treated", at, pr.Name)
					}
				}
				if pr.Treated != "" {
					treated++
					pink, err := Of(p, pr, CardRequest{Doneness: "rare"})
					if err != nil || pink.CoreC < MinCoreMinced || c.MinSafeCoreC != MinCoreMinced {
						t.Errorf("%s can be had at %.0f °C, floor %.0f: %v", at, pink.CoreC, c.MinSafeCoreC, err)
					}
				}
				longest := 0.0
				for _, d := range DonenessLevels {
					x, err := Of(p, pr, CardRequest{Doneness: d.ID})
					if err != nil {
						t.Fatal(at, err)
					}
					if x.Minutes() < longest-1e-9 {
						t.Errorf("%s: %s takes %.1f minutes, less done takes %.1f", at, d.ID, x.Minutes(), longest)
					}
					longest = x.Minutes()
				}
				through, err := Of(p, pr, CardRequest{Treated: true})
				if err != nil || through.Minutes() < c.Minutes()-1e-9 || through.CoreC < MinCoreMinced {
					t.Errorf("%s: treated it takes %.0f minutes to %.0f °C, whole %.0f: %v", at, through.Minutes(), through.CoreC,
						c.Minutes(), err)
				}
				if pr.Cook == "slow_roast" && p.Species == "lamb" {
					tender++
					if c.CoreC < 85 || c.CoreC > 95 || c.Minutes() < 120 {
						t.Errorf("%s: slow roast to %.0f °C in %.0f minutes", at, c.CoreC, c.Minutes())
					}
				}
			}
		}
	}
	if cards < 150 || treated < 10 || tender < 5 {
		t.Errorf("looked at %d cards, %d treated, %d tender", cards, treated, tender)
	}
}

// Rules: braising goes by the size of one piece, and time follows the target for a treated steak as for one that is
// wanted so.
func TestBraisingGoesBySize(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	find := func(piece, product string) (atlas.Piece, atlas.Product) {
		t.Helper()
		p, _ := a.Find(piece)
		for _, pl := range p.Plans {
			if pr, ok := pl.Product(product); ok {
				return p, pr
			}
		}
		t.Fatalf("no %s/%s", piece, product)
		return p, atlas.Product{}
	}
	p, brisket := find("beef.brisket", "rolled_brisket")
	was := 0.0
	for _, g := range []float64{500, 2000, 4000} {
		c, err := Of(p, brisket, CardRequest{WeightG: g})
		if err != nil || c.Minutes() < was+20 {
			t.Errorf("%.0f g braise in %.0f minutes, the smaller in %.0f: %v", g, c.Minutes(), was, err)
		}
		was = c.Minutes()
	}
	q, steak := find("beef.striploin", "striploin_steak")
	treated, err1 := Of(q, steak, CardRequest{Treated: true})
	well, err2 := Of(q, steak, CardRequest{Doneness: "well"})
	if err1 != nil || err2 != nil || treated.Minutes() != well.Minutes() {
		t.Errorf("71 °C takes %.1f minutes treated and %.1f well done: %v %v", treated.Minutes(), well.Minutes(), err1, err2)
	}
}

// A card feeds as many as the plan divides the product for (drafts of the trade, no source): the stuffed cushion eight,
// a segment each; the rib steak on its bone two. For another number it is as much larger or smaller.
func TestFeedsAsThePlanSays(t *testing.T) {
	for _, x := range []struct {
		piece, product string
		feeds          int
	}{{"lamb.shoulder_whole", "cushion", 8}, {"beef.rib", "bone_in_steak", 2}} {
		p, _ := atlasOf(t).Find(x.piece)
		var pr atlas.Product
		for _, pl := range p.Plans {
			if found, ok := pl.Product(x.product); ok && found.Feeds > 0 {
				pr = found
			}
		}
		c, err := Of(p, pr, CardRequest{})
		if err != nil || c.Feeds != x.feeds {
			t.Errorf("%s: feeds %d, %v", x.product, c.Feeds, err)
		}
		half, err := Of(p, pr, CardRequest{Diners: x.feeds / 2})
		if err != nil || half.Feeds != x.feeds/2 || math.Abs(half.WeightG-c.WeightG/2) > 15 {
			t.Errorf("%s for half of them: %g of %g g feeds %d, %v", x.product, half.WeightG, c.WeightG, half.Feeds, err)
		}
	}
}
