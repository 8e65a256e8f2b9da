package value

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"sync"
	"testing"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

var loaded = sync.OnceValues(atlas.Load)

func rump(t testing.TB) atlas.Piece {
	t.Helper()
	a, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	p, _ := a.Find("beef.top_sirloin")
	return p
}

func plan(t testing.TB, p atlas.Piece, id string) atlas.Plan {
	t.Helper()
	pl, ok := p.Plan(id)
	if !ok {
		t.Fatalf("no plan %s", id)
	}
	return pl
}

func perKg(s string) measure.Price {
	return measure.Price{Amount: measure.MustMoney(s), Per: measure.UnitKilogram}
}

func num(s string) *big.Rat { r, _ := new(big.Rat).SetString(s); return r }

// Source: Horngren et al., Cost Accounting, chapter on joint costs, the dairy example (from memory): joint cost
// 400,000.
func TestJointCostAgainstHorngren(t *testing.T) {
	dairy := []JointProduct{
		{"cream", num("25000"), measure.MustMoney("8"), num("20000"), measure.MustMoney("25"), measure.MustMoney("280000")},
		{"skim", num("75000"), measure.MustMoney("4"), num("50000"), measure.MustMoney("22"), measure.MustMoney("520000")},
	}
	for method, want := range map[Method]string{
		Physical: "100000.00 300000.00", SalesValue: "160000.00 240000.00", NRV: "110000.00 290000.00",
		ConstantMargin: "95000.00 305000.00",
	} {
		got, err := AllocateJoint(measure.MustMoney("400000"), method, dairy)
		if err != nil {
			t.Fatal(err)
		}
		if text := got.Allocations[0].Cost.String() + " " + got.Allocations[1].Cost.String(); text != want {
			t.Errorf("%s: %s, want %s", method, text, want)
		}
		if method == ConstantMargin && got.GrossMargin.Cmp(big.NewRat(1, 4)) != 0 {
			t.Errorf("gross margin %s, want 25 %%", got.GrossMargin)
		}
	}
}

// Rule: allocations add up to the joint cost exactly, by every method.
func TestJointCostAddsUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(21, 22))
	for range 500 {
		joint := measure.MoneyOf(rng.Int64N(1_000_000), 1+rng.Int64N(99))
		var products []JointProduct
		for i := range 1 + rng.IntN(8) {
			products = append(products,
				JointProduct{fmt.Sprint(i), big.NewRat(1+rng.Int64N(9999), 7), measure.MoneyOf(1+rng.Int64N(999), 3),
					big.NewRat(1+rng.Int64N(9999), 11), measure.MoneyOf(1+rng.Int64N(9999), 3), measure.MoneyOf(rng.Int64N(9999), 13)})
		}
		for _, method := range []Method{Physical, SalesValue, NRV, ConstantMargin} {
			got, err := AllocateJoint(joint, method, products)
			if err != nil {
				if fault.Of(err) == nil {
					t.Fatal(err)
				}
				continue
			}
			var sum measure.Money
			for _, a := range got.Allocations {
				sum = sum.Add(a.Cost)
			}
			if sum.Cmp(joint) != 0 {
				t.Fatalf("%s: allocations add to %s of %s", method, sum.Rat(), joint.Rat())
			}
		}
	}
	zero := []JointProduct{{ID: "a", Quantity: new(big.Rat), FinalQuantity: new(big.Rat)}}
	for _, method := range []Method{Physical, SalesValue, NRV, ConstantMargin, "guess"} {
		if _, err := AllocateJoint(measure.MustMoney("1"), method, zero); fault.Of(err) == nil {
			t.Errorf("%s shared by nothing", method)
		}
	}
	if _, err := AllocateJoint(measure.MustMoney("-1"), NRV, zero); fault.Of(err)[0].Field != "joint_cost" {
		t.Errorf("a negative joint cost: %v", err)
	}
}

// randomSheet lays a random piece out by random prices; recorded ones come from a random board.
func randomSheet(rng *rand.Rand, p atlas.Piece, pl atlas.Plan, cells []Cell) Sheet {
	s := Sheet{Atlas: p, Plan: pl, Cells: cells, Prices: map[string]measure.Price{}, Minutes: rng.Float64() * 60,
		Rates: Rates{LabourPerHour: measure.MoneyOf(rng.Int64N(5000), 100),
			PackagingPerKg: measure.MoneyOf(rng.Int64N(100), 100), DiscardPerKg: measure.MoneyOf(rng.Int64N(50), 100)},
		Purchase: measure.MoneyOf(rng.Int64N(20_000), 100)}
	for _, any := range p.Plans {
		for _, pr := range any.Products {
			unit := measure.UnitKilogram
			if rng.IntN(2) == 0 {
				unit = measure.UnitPound
			}
			s.Prices[p.Key(pr)] = measure.Price{Amount: measure.MoneyOf(rng.Int64N(4000), 100), Per: unit}
		}
	}
	return s
}

func randomBoard(rng *rand.Rand, p atlas.Piece, pl atlas.Plan) seam.Board {
	at := time.Date(2026, 3, 2, 7, 0, 0, 0, time.UTC)
	events := []seam.Event{{ID: "root", Kind: seam.Opened, At: at,
		Net: 5*measure.Kilogram + measure.Mass(rng.Int64N(3_000_000))}}
	for i := range 3 + rng.IntN(12) {
		e := seam.Event{ID: fmt.Sprint("n", i), At: at, Net: measure.Mass(1000 + rng.Int64N(400_000)), Reason: "as found"}
		switch rng.IntN(4) {
		case 0:
			e.Kind, e.Part = seam.SeamedOff, p.Muscles[rng.IntN(len(p.Muscles))].ID
		case 1:
			e.Kind, e.Product = seam.Portioned, pl.Products[rng.IntN(len(pl.Products))].ID
		case 2:
			e.Kind, e.Part = seam.Trimmed, []string{"trim", "cover_fat", "wedge_fat"}[rng.IntN(3)]
		default:
			e.Kind = seam.Discarded
		}
		if i > 0 && rng.IntN(3) == 0 {
			e.Node = fmt.Sprint("n", rng.IntN(i))
		}
		events = append(events, e)
		if rng.IntN(5) == 0 {
			events = append(events,
				seam.Event{ID: fmt.Sprint("c", i), Kind: seam.Closed, Node: fmt.Sprint("n", rng.IntN(i+1)), At: at})
		}
	}
	return seam.Fold(p, events)
}

// Rules: the cells of a sheet add up to the piece; the steps of a bridge add up exactly to the difference of the
// values; a recut keeps every milligram.
func TestSheetsAndBridgesAddUpExactly(t *testing.T) {
	p := rump(t)
	rng := rand.New(rand.NewPCG(23, 24))
	for range 400 {
		pa, pb := p.Plans[rng.IntN(len(p.Plans))], p.Plans[rng.IntN(len(p.Plans))]
		board := randomBoard(rng, p, pb)
		recorded, with := Recorded(p, pb, board)
		b := randomSheet(rng, p, with, recorded)
		if b.Mass() != board.Input() {
			t.Fatalf("recorded cells add to %d of %d", b.Mass(), board.Input())
		}
		a := randomSheet(rng, p, pa, Recut(p, pa, recorded))
		if a.Mass() != b.Mass() {
			t.Fatalf("the recut has %d of %d", a.Mass(), b.Mass())
		}
		if rng.IntN(2) == 0 {
			a.Cells = Forecast(p, pa, board.Input())
		}
		var sum measure.Money
		for _, step := range Bridge(a.Alternative("a", true), b.Alternative("b", false)) {
			sum = sum.Add(step.Change)
		}
		if diff := b.Totals().Value.Sub(a.Totals().Value); sum.Cmp(diff) != 0 {
			t.Fatalf("the bridge adds to %s, the difference is %s", sum.Rat(), diff.Rat())
		}
		tot := b.Totals()
		if tot.Sales.Sub(tot.Packaging).Sub(tot.Labour).Sub(tot.Discard).Sub(tot.Purchase).Cmp(tot.Value) != 0 {
			t.Fatal("the value is not what it is made of")
		}
	}
}

// By hand, with a pencil: a piece of 10 kg whose only sales are heart steaks under the seamed plan. Heart 36 % of 10 kg
// = 3.6 kg, 82 % of it steaks = 2.952 kg at 20 = 59.04. Meat sold: everything but fat (74 % of 9 % and 90 % of 2.8 % =
// 9.18 %), waste 2.4 %, loss 0.8 % and the skins that are thrown away (3 % of 15.5 %, 4 % of 14.5 %, 1 % of 13.5 % =
// 1.18 %): 86.44 % = 8.644 kg, packed at 0.10 = 0.8644, shown and counted as 0.86. 17 min at 24 an hour = 6.80. Bought
// at
// 50. Value 59.04 − 0.86 − 6.80 − 50 = 1.38, a kilogram 0.14, an hour (1.38 + 6.80)·60/17 = 28.87.
func TestPlanValueByHand(t *testing.T) {
	p := rump(t)
	s := Sheet{Atlas: p, Plan: plan(t, p, "seamed"), Minutes: 17, Purchase: measure.MustMoney("50"),
		Prices: map[string]measure.Price{"beef.heart_steak": perKg("20"), "beef.fat": perKg("0")},
		Rates:  Rates{LabourPerHour: measure.MustMoney("24"), PackagingPerKg: measure.MustMoney("0.10")}}
	s.Cells = Forecast(p, s.Plan, 10*measure.Kilogram)
	tot := s.Totals()
	for name, c := range map[string][2]string{
		"sales": {tot.Sales.Text(4), "59.0400"}, "packaging": {tot.Packaging.Text(4), "0.8600"},
		"labour": {tot.Labour.Text(4), "6.8000"}, "value": {tot.Value.Text(4), "1.3800"},
		"per kg": {tot.PerKg.Text(5), "0.14000"}, "per hour": {tot.PerHour.Text(4), "28.8706"},
	} {
		if c[0] != c[1] {
			t.Errorf("%s %s, by hand %s", name, c[0], c[1])
		}
	}
}

// Yield test by hand, in the form of culinary cost-control handbooks (from memory): bought 10 kg at 5.00; fat of 0.918
// kg credited at 0.50 = 0.46; usable 8.644 kg; usable cost (50 − 0.46)/8.644 = 5.7311 per kg; factor 1.1462.
func TestYieldTestByHand(t *testing.T) {
	p := rump(t)
	s := Sheet{Atlas: p, Plan: plan(t, p, "seamed"), Purchase: measure.MustMoney("50"),
		Prices: map[string]measure.Price{"beef.fat": perKg("0.50")}}
	s.Cells = Forecast(p, s.Plan, 10*measure.Kilogram)
	y := s.YieldTest()
	if y.Usable != 8_644_000 || y.ByProduct != 918_000 || y.Credits.Text(3) != "0.460" {
		t.Errorf("usable %d, by-product %d, credits %s", y.Usable, y.ByProduct, y.Credits)
	}
	if y.UsablePerKg.Text(4) != "5.7311" || y.CostFactor.FloatString(4) != "1.1462" {
		t.Errorf("usable cost %s, factor %s", y.UsablePerKg.Text(4), y.CostFactor.FloatString(4))
	}
}

// Rule: at the break-even price both ways of cutting are worth the same, but for the rounding of their lines.
func TestBreakEvenIsExact(t *testing.T) {
	p := rump(t)
	rng := rand.New(rand.NewPCG(25, 26))
	found := 0
	for range 200 {
		a := randomSheet(rng, p, plan(t, p, "traditional"), Forecast(p, plan(t, p, "traditional"), 6600*measure.Gram))
		b := a
		b.Plan, b.Minutes = plan(t, p, "seamed"), a.Minutes+10
		b.Cells = Forecast(p, b.Plan, 6600*measure.Gram)
		for _, pr := range b.Plan.Products {
			_, price, ok := BreakEvenPrice(a.Alternative("a", true), b.Alternative("b", true), p.Key(pr))
			if !ok {
				continue
			}
			found++
			prices := map[string]measure.Price{}
			for k, v := range a.Prices {
				prices[k] = v
			}
			prices[p.Key(pr)] = measure.Price{Amount: price, Per: measure.UnitKilogram}
			a2, b2 := a, b
			a2.Prices, b2.Prices = prices, prices
			// each line of either way is off by half a cent at most
			off := a2.Totals().Value.Sub(b2.Totals().Value).Abs()
			lines := int64(len(a.Plan.Products) + len(b.Plan.Products) + 8)
			if off.Cmp(measure.MoneyOf(lines, 200)) > 0 {
				t.Fatalf("%s at %s: %s and %s", pr.ID, price, a2.Totals().Value, b2.Totals().Value)
			}
		}
	}
	if found < 100 {
		t.Fatalf("only %d break-even prices", found)
	}
	if _, _, ok := BreakEvenPrice(Alternative{}, Alternative{}, "none"); ok {
		t.Error("a break-even price of a product that is not there")
	}
}
