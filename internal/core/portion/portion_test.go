package portion

import (
	"errors"
	"fmt"
	"math"
	"math/big"
	"math/rand/v2"
	"testing"

	"falda/internal/core/fault"
)

func rat(text string) *big.Rat {
	r, ok := new(big.Rat).SetString(text)
	if !ok {
		panic(text)
	}
	return r
}

func points(list ...[2]int64) (out []Point) {
	for _, p := range list {
		out = append(out, Point{big.NewRat(p[0], 1), big.NewRat(p[1], 1)})
	}
	return out
}

// A cylinder cut into equal weights has equal thicknesses; a cone with its tip in front has its cuts at
// L·(k/n)^(1/3). By hand: the volume up to x grows with the third power of x.
func TestCylinderAndConeByHand(t *testing.T) {
	p := Problem{LengthMm: 300, WeightG: rat("1200"), Profile: points([2]int64{0, 50}, [2]int64{300, 50}),
		RestPricePerKg: rat("0"), Products: []Product{{ID: "x", PricePerKg: rat("10")}}}
	l, err := Equal(p, 6)
	if err != nil {
		t.Fatal(err)
	}
	for i, x := range l.Pieces {
		if x.FromMm != i*50 || x.ToMm != (i+1)*50 || x.G.Cmp(rat("200")) != 0 {
			t.Errorf("portion %d of a cylinder is %d to %d, %s g", i, x.FromMm, x.ToMm, x.G.FloatString(3))
		}
	}
	p.Profile = nil
	for x := int64(0); x <= 300; x++ {
		p.Profile = append(p.Profile, Point{big.NewRat(x, 1), big.NewRat(x*x, 1)})
	}
	for n := 2; n <= 7; n++ {
		if l, err = Equal(p, n); err != nil {
			t.Fatal(err)
		}
		for k := 1; k < n; k++ {
			want := 300 * math.Cbrt(float64(k)/float64(n))
			if got := l.Pieces[k-1].ToMm; math.Abs(float64(got)-want) > 0.51 {
				t.Errorf("cut %d of %d through a cone lies at %d, want %.2f", k, n, got, want)
			}
		}
	}
}

// What a saw takes is lost between two portions, and they still weigh the same.
func TestEqualPortionsBySaw(t *testing.T) {
	p := Problem{LengthMm: 101, WeightG: rat("1010"), Profile: points([2]int64{0, 7}, [2]int64{101, 7}), KerfMm: 2,
		RestPricePerKg: rat("0"), Products: []Product{{ID: "x", PricePerKg: rat("10")}}}
	l, err := Equal(p, 4) // 101 − 3·2 = 95 mm of meat, 23.75 each
	if err != nil {
		t.Fatal(err)
	}
	if l.CutG.Cmp(rat("60")) != 0 {
		t.Errorf("the saw takes %s g", l.CutG.FloatString(2))
	}
	for _, x := range l.Pieces {
		if n := x.ToMm - x.FromMm; n < 23 || n > 24 {
			t.Errorf("a portion of %d mm", n)
		}
	}
}

// brute tries every layout there is and gives the value of the best, and how many pieces it has.
func brute(p Problem, s scale) (best *big.Rat, pieces int, found bool) {
	var walk func(a int, rest bool, value *big.Rat, n int, counts []int)
	walk = func(a int, rest bool, value *big.Rat, n int, counts []int) {
		for i := -1; i < len(p.Products); i++ {
			if i < 0 && rest {
				continue
			}
			for b := a + 1; b <= p.LengthMm; b++ {
				g := s.grams(p, a, b)
				price, paid := p.RestPricePerKg, g
				if i >= 0 {
					q := p.Products[i]
					if price = q.PricePerKg; q.Label != nil {
						paid = q.Label
					}
					if b-a < q.MinMm || (q.MaxMm > 0 && b-a > q.MaxMm) || a < q.FromMm || b > q.end(p.LengthMm) ||
						(q.MinG != nil && g.Cmp(q.MinG) < 0) || (q.MaxG != nil && g.Cmp(q.MaxG) > 0) ||
						(q.AtMost > 0 && counts[i] == q.AtMost) {
						continue
					}
				}
				v := new(big.Rat).Mul(paid, price)
				v.Add(v.Quo(v, rat("1000")), value)
				if i >= 0 {
					counts[i]++
				}
				if b == p.LengthMm {
					ok := true
					for j, q := range p.Products {
						ok = ok && counts[j] >= q.AtLeast
					}
					if c := 0; ok {
						if found {
							c = v.Cmp(best)
						}
						if !found || c > 0 || (c == 0 && n+1 < pieces) {
							best, pieces, found = v, n+1, true
						}
					}
				} else if b+p.KerfMm < p.LengthMm {
					walk(b+p.KerfMm, i < 0, v, n+1, counts)
				}
				if i >= 0 {
					counts[i]--
				}
			}
		}
	}
	walk(0, false, new(big.Rat), 0, make([]int, len(p.Products)))
	return best, pieces, found
}

// Rule: the layout is the best there is. Compared with every layout of small pieces, by brute force.
func TestBestIsTheBestThereIs(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	feasible := 0
	for n := range 400 {
		length := 4 + rng.IntN(8)
		p := Problem{LengthMm: length, WeightG: big.NewRat(int64(50+rng.IntN(200)), int64(1+rng.IntN(3))),
			KerfMm: rng.IntN(2), RestPricePerKg: big.NewRat(int64(rng.IntN(80)), 10),
			Profile: points([2]int64{0, int64(1 + rng.IntN(9))}, [2]int64{int64(1 + rng.IntN(length-1)),
				int64(rng.IntN(9))}, [2]int64{int64(length), int64(rng.IntN(9))})}
		for i := range 1 + rng.IntN(2) {
			q := Product{ID: fmt.Sprint(i), PricePerKg: big.NewRat(int64(rng.IntN(300)), 10), MinMm: rng.IntN(3),
				FromMm: rng.IntN(3), AtLeast: rng.IntN(3)}
			if rng.IntN(2) == 0 {
				q.MinG = big.NewRat(int64(5+rng.IntN(20)), 1)
				if rng.IntN(2) == 0 {
					q.Label = new(big.Rat).Set(q.MinG)
				}
				q.MaxG = new(big.Rat).Add(q.MinG, big.NewRat(int64(rng.IntN(40)), 1))
			}
			if rng.IntN(3) == 0 {
				q.MaxMm = q.MinMm + 1 + rng.IntN(4)
			}
			if rng.IntN(3) == 0 {
				q.AtMost = q.AtLeast + 1
			}
			if rng.IntN(3) == 0 {
				q.ToMm = max(q.FromMm+1, length-rng.IntN(3))
			}
			p.Products = append(p.Products, q)
		}
		want, pieces, found := brute(p, newScale(p))
		got, err := Best(p)
		if found != (err == nil) {
			t.Fatalf("case %d: brute force found one: %t; %v", n, found, err)
		}
		if !found {
			var f fault.Fault
			if !errors.As(err, &f) || f.Code != "cannot_be_met" {
				t.Fatalf("case %d: %v", n, err)
			}
			continue
		}
		feasible++
		if got.Value.Cmp(want) != 0 || len(got.Pieces) != pieces {
			t.Fatalf("case %d: %s in %d pieces, by brute force %s in %d", n, got.Value, len(got.Pieces), want, pieces)
		}
		// the same by whole numbers of any size
		s := newScale(p)
		slow, ok := newTable(p, s, pricesOf(p, s), func(x *big.Int) long { return long{x} }).run()
		if !ok || fmt.Sprint(slow) == "" || len(slow) != len(got.Pieces) {
			t.Fatalf("case %d: with long numbers %v", n, slow)
		}
		for i, x := range slow {
			if x.FromMm != got.Pieces[i].FromMm || x.ToMm != got.Pieces[i].ToMm || x.Product != got.Pieces[i].Product {
				t.Fatalf("case %d: with long numbers %v", n, slow)
			}
		}
	}
	if feasible < 200 {
		t.Errorf("only %d cases had a layout", feasible)
	}
}

// Rule: of equals the layout has the fewest pieces, then the smallest first cut, then the product that stands first.
func TestTies(t *testing.T) {
	p := Problem{LengthMm: 10, WeightG: rat("100"), Profile: points([2]int64{0, 1}, [2]int64{10, 1}),
		RestPricePerKg: rat("5"), Products: []Product{{ID: "a", PricePerKg: rat("5"), MaxMm: 6},
			{ID: "b", PricePerKg: rat("5"), MaxMm: 6}}}
	l, err := Best(p)
	if err != nil {
		t.Fatal(err)
	}
	if len(l.Pieces) != 1 || l.Pieces[0].Product != -1 { // a rest of all is one piece
		t.Errorf("%+v", l.Pieces)
	}
	p.RestPricePerKg = rat("4")
	if l, err = Best(p); err != nil {
		t.Fatal(err)
	}
	if len(l.Pieces) != 2 || l.Pieces[0].Product != 0 || l.Pieces[0].ToMm != 4 || l.Pieces[1].Product != 0 {
		t.Errorf("%+v", l.Pieces)
	}
}

// The example of docs/body.md by hand: a block of 400 mm, its face from 8,200 to 9,100 mm², 3,900 g, steaks of 220 to
// 260 g paid for 220 g in the first 300 mm, the rest at 9.90 a kilogram.
func TestABlockOfSteaks(t *testing.T) {
	p := Problem{LengthMm: 400, WeightG: rat("3900"), Profile: points([2]int64{0, 8200}, [2]int64{400, 9100}),
		RestPricePerKg: rat("9.90"), Products: []Product{{ID: "steak", PricePerKg: rat("31"), Label: rat("220"),
			MinG: rat("220"), MaxG: rat("260"), MinMm: 15, MaxMm: 45, ToMm: 300}}}
	l, err := Best(p)
	if err != nil {
		t.Fatal(err)
	}
	// the first 300 mm weigh 3900·(8200·300 + 900·300²/800)/(8650·400) = 2,887 g: twelve steaks, for each ends at a whole
	// millimetre
	steaks, total := 0, new(big.Rat)
	at := 0
	for _, x := range l.Pieces {
		if x.FromMm != at || x.ToMm <= x.FromMm {
			t.Fatalf("it does not tile: %+v", l.Pieces)
		}
		at = x.ToMm
		total.Add(total, x.G)
		if x.Product == 0 {
			steaks++
			if g, _ := x.G.Float64(); g < 220 || g > 260 || x.ToMm > 300 {
				t.Errorf("a steak of %g g to %d mm", g, x.ToMm)
			}
		}
	}
	if steaks != 12 || at != 400 || total.Cmp(p.WeightG) != 0 {
		t.Errorf("%d steaks to %d mm, %s g", steaks, at, total.FloatString(3))
	}
	sum := new(big.Rat).Add(l.GiveAwayG, l.RestG)
	if sum.Add(sum, big.NewRat(int64(220*steaks), 1)); sum.Cmp(p.WeightG) != 0 {
		t.Errorf("%s g of %s", sum.FloatString(3), p.WeightG.FloatString(3))
	}
}

func TestWhatIsWrongIsNamed(t *testing.T) {
	good := func() Problem {
		return Problem{LengthMm: 100, WeightG: rat("1000"), Profile: points([2]int64{0, 1}, [2]int64{100, 1}),
			RestPricePerKg: rat("0"), Products: []Product{{ID: "a", PricePerKg: rat("5")}}}
	}
	for field, spoil := range map[string]func(*Problem){
		"length_mm":                func(p *Problem) { p.LengthMm = 0 },
		"weight_g":                 func(p *Problem) { p.WeightG = rat("0") },
		"kerf_mm":                  func(p *Problem) { p.KerfMm = -1 },
		"rest_price_per_kg":        func(p *Problem) { p.RestPricePerKg = rat("-1") },
		"products":                 func(p *Problem) { p.Products = nil },
		"profile":                  func(p *Problem) { p.Profile = points([2]int64{0, 1}, [2]int64{99, 1}) },
		"products[0].price_per_kg": func(p *Problem) { p.Products[0].PricePerKg = nil },
		"products[0].max_g":        func(p *Problem) { p.Products[0].MinG, p.Products[0].MaxG = rat("5"), rat("4") },
		"products[0].label_g":      func(p *Problem) { p.Products[0].MinG, p.Products[0].Label = rat("5"), rat("6") },
		"products[0].max_mm":       func(p *Problem) { p.Products[0].MinMm, p.Products[0].MaxMm = 5, 4 },
		"products[0].to_mm":        func(p *Problem) { p.Products[0].FromMm, p.Products[0].ToMm = 50, 50 },
		"products[0].at_most":      func(p *Problem) { p.Products[0].AtLeast, p.Products[0].AtMost = 3, 2 },
		"products[0].at_least":     func(p *Problem) { p.Products[0].AtLeast, p.Products[0].MinMm = 3, 40 },
	} {
		p := good()
		spoil(&p)
		_, err := Best(p)
		found := false
		for _, f := range fault.Of(err) {
			found = found || f.Field == field
		}
		if !found {
			t.Errorf("%s: %v", field, err)
		}
	}
	if _, err := Best(good()); err != nil {
		t.Error(err)
	}
}

func BenchmarkBest(b *testing.B) {
	p := Problem{LengthMm: 400, WeightG: rat("3900"), Profile: points([2]int64{0, 8200}, [2]int64{400, 9100}),
		RestPricePerKg: rat("9.90")}
	for i := range int64(5) {
		p.Products = append(p.Products, Product{ID: fmt.Sprint(i), PricePerKg: big.NewRat(250+10*i, 10),
			MinG: big.NewRat(150+30*i, 1), MaxG: big.NewRat(260+30*i, 1), MinMm: 15, MaxMm: 60})
	}
	for b.Loop() {
		if _, err := Best(p); err != nil {
			b.Fatal(err)
		}
	}
}
