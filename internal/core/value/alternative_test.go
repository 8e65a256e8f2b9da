package value

import (
	"math"
	"math/big"
	"math/rand/v2"
	"testing"

	"falda/internal/core/measure"
)

// randomAlternatives are two ways of cutting pieces of different weight, at prices of their own or at common ones.
func randomAlternatives(t *testing.T, rng *rand.Rand, common bool) (Alternative, Alternative, Sheet, Sheet) {
	t.Helper()
	p := rump(t)
	pa, pb := p.Plans[rng.IntN(len(p.Plans))], p.Plans[rng.IntN(len(p.Plans))]
	a := randomSheet(rng, p, pa, Forecast(p, pa, 5*measure.Kilogram+measure.Mass(rng.Int64N(3_000_000))))
	cells, with := Recorded(p, pb, randomBoard(rng, p, pb))
	b := randomSheet(rng, p, with, cells)
	if common {
		b.Prices, b.Rates = a.Prices, a.Rates
		b.Purchase = a.Purchase.Over(a.Mass().In(measure.UnitKilogram)).Times(b.Mass().In(measure.UnitKilogram))
	}
	return a.Alternative("a", true), b.Alternative("b", false), a, b
}

func added(steps []Step) measure.Money {
	var sum measure.Money
	for _, s := range steps {
		sum = sum.Add(s.Change)
	}
	return sum
}

// Rules: an alternative is worth what its sheet is; both bridges add up exactly to the lead; what is priced anew at its
// own prices does not change.
func TestAlternativesAndTheirBridgesAddUpExactly(t *testing.T) {
	rng := rand.New(rand.NewPCG(31, 32))
	for n := range 300 {
		a, b, sa, sb := randomAlternatives(t, rng, n%2 == 0)
		if a.Value().Cmp(sa.Totals().Value) != 0 || b.Value().Cmp(sb.Totals().Value) != 0 {
			t.Fatal("a side is worth something else than its sheet")
		}
		lead := Lead(a, b)
		if got := added(BridgeByPart(a, b)); got.Cmp(lead) != 0 {
			t.Fatalf("by muscle it adds to %s of %s", got.Rat(), lead.Rat())
		}
		causes := BridgeByCause(a, b)
		if got := added(causes); got.Cmp(lead) != 0 {
			t.Fatalf("by cause it adds to %s of %s", got.Rat(), lead.Rat())
		}
		if last := causes[len(causes)-1].To; last.Cmp(b.ValuePerKg()) != 0 {
			t.Fatalf("the causes end at %s, b is worth %s", last, b.ValuePerKg())
		}
		if n%2 == 0 && causes[0].Change.Sign() != 0 {
			t.Fatal("the same prices on both sides make a difference by price")
		}
		if again := b.Reprice(sb.Prices, sb.Rates); again.Value().Cmp(b.Value()) != 0 {
			t.Fatalf("priced anew at its own prices: %s, was %s", again.Value(), b.Value())
		}
	}
}

// Rule: at each value where the answer is said to turn, both alternatives are worth the same.
func TestTurnsTurnTheAnswer(t *testing.T) {
	rng := rand.New(rand.NewPCG(33, 34))
	tried := map[string]int{}
	for range 120 {
		p := rump(t)
		sa := randomSheet(rng, p, plan(t, p, "traditional"), Forecast(p, plan(t, p, "traditional"), 6*measure.Kilogram))
		sb := sa
		sb.Plan, sb.Minutes = plan(t, p, "seamed"), sa.Minutes+float64(rng.IntN(3000))/100
		sb.Cells = Forecast(p, sb.Plan, 6*measure.Kilogram)
		a, b := sa.Alternative("a", true), sb.Alternative("b", true)
		for _, turn := range Turns(a, b, sa.Rates.LabourPerHour) {
			if !turn.Possible {
				continue
			}
			a2, b2 := a, b
			switch turn.Kind {
			case "price":
				book := map[string]measure.Price{}
				for k, v := range sa.Prices {
					book[k] = v
				}
				_, at, _ := BreakEvenPrice(a, b, turn.Key)
				book[turn.Key] = measure.Price{Amount: at, Per: measure.UnitKilogram}
				a2, b2 = a.Reprice(book, sa.Rates), b.Reprice(book, sb.Rates)
			case "minutes":
				sb2 := sb
				sb2.Minutes = turn.At
				b2 = sb2.Alternative("b", false)
			case "labour_rate":
				rates := sa.Rates
				rates.LabourPerHour = measure.MoneyFromRat(new(big.Rat).SetFloat64(turn.At))
				a2, b2 = a.Reprice(sa.Prices, rates), b.Reprice(sb.Prices, rates)
			case "yield":
				trim, _ := trimOf(b)
				_, price, _ := b.yield(turn.Key)
				moved := price.Sub(trim).Float() * (turn.At - turn.Now) / 100
				if d := exactLead(a, b).Float() + moved; math.Abs(d) > 1e-6 {
					t.Fatalf("yield of %s at %g %%: still %g", turn.Name, turn.At, d)
				}
				tried["yield"]++
				continue
			}
			tried[turn.Kind]++
			if d := Lead(a2, b2).Float(); math.Abs(d) > 0.02 { // minutes count by the hundredth
				t.Fatalf("%s %s at %g: still %g", turn.Kind, turn.Name, turn.At, d)
			}
		}
	}
	for range 40 { // sold on different days: at one price, and at one wage, for both
		p := rump(t)
		sa := randomSheet(rng, p, plan(t, p, "traditional"), Forecast(p, plan(t, p, "traditional"), 6*measure.Kilogram))
		sb := randomSheet(rng, p, plan(t, p, "seamed"), Forecast(p, plan(t, p, "seamed"), 5*measure.Kilogram))
		a, b := sa.Alternative("a", true), sb.Alternative("b", false)
		for _, key := range []string{"beef.mince_trim", "beef.cap_steak"} {
			_, at, ok := BreakEvenPrice(a, b, key)
			if !ok {
				continue
			}
			with := func(s Alternative) Alternative { // only that product anew
				for i, c := range s.Cells {
					if c.Key == key {
						s.Cells[i].Sales = at.Times(c.Mass.In(measure.UnitKilogram))
					}
				}
				return s
			}
			if d := Lead(with(sa.Alternative("a", true)), with(sb.Alternative("b", false))); math.Abs(d.Float()) > 0.011 {
				t.Fatalf("%s at %s on both: still %s", key, at, d)
			}
		}
		for _, turn := range Turns(a, b, sb.Rates.LabourPerHour) {
			if turn.Kind == "labour_rate" && turn.Possible {
				wage := measure.MoneyFromRat(new(big.Rat).SetFloat64(turn.At))
				a2, b2 := a, b
				a2.Labour, b2.Labour = wage.Times(a.Hours), wage.Times(b.Hours)
				if d := Lead(a2, b2).Float(); math.Abs(d) > 0.011 {
					t.Fatalf("one wage of %g for both: still %g", turn.At, d)
				}
			}
		}
	}
	for _, kind := range []string{"price", "yield", "minutes", "labour_rate"} {
		if tried[kind] < 10 {
			t.Errorf("%s was tried %d times", kind, tried[kind])
		}
	}
}

// By hand, per kilogram of block: b makes 0.4 kg steak at 20 and 0.5 kg trim at 8, 12.00 in all; a makes 0.9 kg of
// mince at 11, 9.90. b leads by 2.10. What does not sell goes to kebab at 14, of which half sells, the rest to mince at
// 11: 0.5·14 + 0.5·11 = 12.50; each unsold kilo costs 7.50. 2.10/(0.4·7.50) = 0.70 may go unsold: 30 % must sell.
func TestSellThroughByHand(t *testing.T) {
	kg := measure.Kilogram
	a := Alternative{Name: "mincing it", Mass: kg, Pieces: 1,
		Cells:    []AlternativeCell{{Key: "mince", Fate: Sold, Mass: 900 * measure.Gram, Sales: measure.MustMoney("9.90")}},
		Products: map[string]SoldProduct{"mince": {"Mince", "trim"}}}
	b := Alternative{Name: "seaming it", Mass: kg, Pieces: 1,
		Products: map[string]SoldProduct{"steak": {"Steak", "steak"}, "trim": {"Trim", "trim"}}, Cells: []AlternativeCell{
			{Key: "steak", Fate: Sold, Mass: 400 * measure.Gram, Sales: measure.MustMoney("8")},
			{Key: "trim", Fate: Sold, Mass: 500 * measure.Gram, Sales: measure.MustMoney("4")}}}
	chain := []Markdown{{Name: "Kebab", PerKg: measure.MustMoney("14"), Sells: 0.5},
		{Name: "Mince", PerKg: measure.MustMoney("11"), Sells: 0.1}}
	if rest := Remainder(chain); rest.Text(2) != "12.50" {
		t.Errorf("what is left over brings %s", rest)
	}
	if Lead(a, b).Text(2) != "2.10" {
		t.Fatalf("lead %s", Lead(a, b))
	}
	f, ok, _ := SellThrough(a, b, "steak", chain)
	if !ok || math.Abs(f-0.3) > 1e-12 {
		t.Errorf("%g must sell, by hand 0.3", f)
	}
	if _, ok, always := SellThrough(a, b, "steak", chain[1:]); ok != true || always {
		t.Error("with mince alone: 2.10/(0.4·9) = 0.58 may go unsold")
	}
	if _, ok, always := SellThrough(b, a, "mince", nil); ok || always {
		t.Error("a is behind whatever sells")
	}
	// the block at most: 12.00 a kilo brings nothing; with a margin of a quarter of sales 9.00
	if b.MaxBlockPrice(new(big.Rat)).Text(2) != "12.00" || b.MaxBlockPrice(big.NewRat(1, 4)).Text(2) != "9.00" {
		t.Errorf("the block at most: %s", b.MaxBlockPrice(new(big.Rat)))
	}
}

// Rules: the costs of all products, and with by-products credited too, add up exactly to all that the alternative cost;
// at its minimum price a product leaves the margin that is asked for; muscles cost together no more than products.
func TestCostsAddUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(35, 36))
	quarter := big.NewRat(1, 4)
	for range 100 {
		a, _, _, _ := randomAlternatives(t, rng, true)
		for _, m := range Methods {
			for _, credit := range []bool{false, true} {
				c, err := CostsOf(a, m.ID, credit, quarter)
				if err != nil {
					continue // nothing is worth anything
				}
				var sum, joint measure.Money
				for _, r := range c.Products {
					sum, joint = sum.Add(r.Cost()), joint.Add(r.Joint)
					if r.MinPerKg.Sign() > 0 {
						at := r.MinPerKg.Times(r.Mass.In(measure.UnitKilogram))
						if at.Sub(r.Cost()).Cmp(at.Times(quarter)) != 0 {
							t.Fatalf("%s at its minimum price leaves %s of %s", r.Name, at.Sub(r.Cost()), at)
						}
					}
				}
				if joint.Cmp(c.Joint.Add(c.Credits)) != 0 {
					t.Fatalf("%s: joint costs add to %s of %s", m.ID, joint, c.Joint.Add(c.Credits))
				}
				if all := a.Purchase.Add(a.Costs()); !credit && sum.Cmp(all) != 0 {
					t.Fatalf("%s: costs add to %s of %s", m.ID, sum, all)
				}
				if m.ID == ConstantMargin && !credit {
					all := c.Joint.Sub(a.Sales()).Add(a.Packaging)
					for _, r := range c.Products { // but for the cent to which each cost is rounded
						even := r.Sales.Times(new(big.Rat).Quo(all.Rat(), a.Sales().Rat()))
						if off := r.Cost().Sub(r.Sales).Sub(even).Abs(); off.Cmp(measure.MustMoney("0.02")) > 0 {
							t.Fatalf("%s is %s off the margin of all", r.Name, off)
						}
					}
				}
			}
		}
	}
}

// The worked example of docs/value.md, with a pencil: a block of 10 kg at 9.00. A: 9 kg of roast at 14, 5 minutes. B: 3
// kg of steak at 22, 4 kg of roast at 14, 1.5 kg of trim at 9, 20 minutes. Labour 24 an hour, packaging 0.10 a kilogram
// sold.
func TestTheExampleOfTheManual(t *testing.T) {
	book := map[string]measure.Price{"steak": perKg("22"), "roast": perKg("14"), "trim": perKg("9")}
	rates := Rates{LabourPerHour: measure.MustMoney("24"), PackagingPerKg: measure.MustMoney("0.10")}
	products := map[string]SoldProduct{"steak": {"Steak", "steak"}, "roast": {"Roast", "roast"}, "trim": {"Trim", "trim"}}
	alternative := func(name string, minutes float64, kg map[string]float64) Alternative {
		s := Alternative{Name: name, Pieces: 1, Mass: 10 * measure.Kilogram, Hours: HoursOf(minutes), Products: products,
			Parts: nil}
		left := s.Mass
		for _, key := range []string{"steak", "roast", "trim"} {
			if m := measure.Mass(kg[key] * float64(measure.Kilogram)); m > 0 {
				s.Cells = append(s.Cells, AlternativeCell{Part: key, Key: key, Fate: Sold, Mass: m})
				left -= m
			}
		}
		s.Cells = append(s.Cells, AlternativeCell{Fate: Loss, Mass: left})
		return s.Reprice(book, rates).AtBlockPrice(measure.MustMoney("9"))
	}
	a, b := alternative("cut straight", 5, map[string]float64{"roast": 9}),
		alternative("seamed", 20, map[string]float64{"steak": 3, "roast": 4, "trim": 1.5})
	if a.Value().Text(2) != "33.10" || b.Value().Text(2) != "36.65" || Lead(a, b).Text(3) != "0.360" {
		t.Errorf("values %s and %s, lead %s", a.Value(), b.Value(), Lead(a, b))
	}
	want := map[string]string{"price": "0.000", "yield": "-0.700", "use": "1.650", "labour": "-0.600",
		"packaging": "0.010"}
	for _, s := range BridgeByCause(a, b) {
		if s.Change.Text(3) != want[s.ID] {
			t.Errorf("%s %s, by hand %s", s.ID, s.Change.Text(3), want[s.ID])
		}
	}
	if _, at, ok := BreakEvenPrice(a, b, "steak"); !ok || at.Text(2) != "20.82" {
		t.Errorf("even at %s", at)
	}
	if f, ok, _ := SellThrough(a, b, "steak", []Markdown{{Name: "Trim", PerKg: measure.MustMoney("9")}}); !ok ||
		math.Abs(f-0.90897) > 1e-5 {
		t.Errorf("%.5f must sell", f)
	}
	for _, turn := range Turns(a, b, rates.LabourPerHour) {
		if turn.Kind == "minutes" && math.Abs(turn.At-28.875) > 1e-9 {
			t.Errorf("turns at %g minutes", turn.At)
		}
	}
	if b.MaxBlockPrice(new(big.Rat)).Text(3) != "12.665" {
		t.Errorf("the block at most %s", b.MaxBlockPrice(new(big.Rat)))
	}
	c, err := CostsOf(b, Physical, false, new(big.Rat))
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range c.Products {
		kg := r.Mass.In(measure.UnitKilogram)
		if r.Joint.Over(kg).Text(2) != "11.53" || r.Further.Over(kg).Text(2) != "0.10" {
			t.Errorf("%s costs %s and %s a kilogram", r.Name, r.Joint.Over(kg), r.Further.Over(kg))
		}
	}
}
