package portion

import (
	"math/big"
	"testing"
)

// By hand: a wedge whose face falls evenly from 100 to 0 over 100 mm, 1,000 g. Up to x it weighs 1000·(1 − (1 −
// x/100)²).
func wedge() Problem {
	return Problem{LengthMm: 100, WeightG: rat("1000"), Profile: points([2]int64{0, 100}, [2]int64{100, 0}),
		RestPricePerKg: rat("0"), Products: []Product{{ID: "x", PricePerKg: rat("10")}}}
}

func TestEvenByHand(t *testing.T) {
	l, err := Even(wedge(), 30, 15)
	if err != nil {
		t.Fatal(err)
	}
	want := []struct {
		to, product int
		g           string
	}{{30, 0, "510"}, {60, 0, "330"}, {90, 0, "150"}, {100, -1, "10"}} // 1−0.7², 0.7²−0.4², 0.4²−0.1², 0.1²
	if len(l.Pieces) != len(want) {
		t.Fatalf("%+v", l.Pieces)
	}
	for i, w := range want {
		x := l.Pieces[i]
		if x.ToMm != w.to || x.Product != w.product || x.G.Cmp(rat(w.g)) != 0 {
			t.Errorf("piece %d: to %d, %d, %s g", i, x.ToMm, x.Product, x.G.FloatString(3))
		}
	}
	if l.RestG.Cmp(rat("10")) != 0 {
		t.Errorf("rest %s", l.RestG)
	}
}

// By hand: from the wedge portions of at least 300 g: 300 lie before 100·(1 − √0.7) = 16.3, so 17 mm with 311.1 g; 300
// more before 83·(1 − √(1 − 300/688.9)) = 20.6, so 21 mm with 304.5 g; and 300 more before 62·(1 − √(1 − 300/384.4)) =
// 33.0.
func TestFromEndByHand(t *testing.T) {
	p := wedge()
	p.Products[0].MinG, p.Products[0].Label = rat("300"), rat("300")
	l, err := FromEnd(p, 0)
	if err != nil {
		t.Fatal(err)
	}
	best, err := Best(p)
	if err != nil {
		t.Fatal(err)
	}
	count := func(l Layout) (n int) {
		for _, x := range l.Pieces {
			if x.Product == 0 {
				n++
			}
		}
		return n
	}
	if len(l.Pieces) != 4 || l.Pieces[0].ToMm != 17 || l.Pieces[1].ToMm != 38 || l.Pieces[3].Product != -1 ||
		l.Pieces[0].G.Cmp(rat("311.1")) != 0 || l.Pieces[1].G.Cmp(rat("304.5")) != 0 {
		t.Errorf("%+v", l.Pieces)
	}
	if count(l) != 3 || count(best) != 3 {
		t.Errorf("%d portions from the end, at best %d", count(l), count(best))
	}
}

// Once the first 30 mm of the wedge are off and weigh 500 g instead of 510, the other 70 mm weigh 500 g, and their
// marks move: half of it lies before 70·(1 − √½) = 20.5 mm.
func TestAfterAPortionByHand(t *testing.T) {
	rest := wedge().After(30, rat("500"))
	if rest.LengthMm != 70 || rest.WeightG.Cmp(rat("500")) != 0 || rest.Profile[0].Area.Cmp(rat("70")) != 0 ||
		len(rest.Profile) != 2 {
		t.Fatalf("%+v", rest)
	}
	l, err := Equal(rest, 2)
	if err != nil {
		t.Fatal(err)
	}
	if at := l.Pieces[0].ToMm; at != 21 && at != 20 {
		t.Errorf("half of what is left lies before %d mm", at)
	}
	total := new(big.Rat)
	for _, x := range l.Pieces {
		total.Add(total, x.G)
	}
	if total.Cmp(rat("500")) != 0 {
		t.Errorf("%s g", total)
	}
	saw := wedge()
	saw.KerfMm = 2
	if rest := saw.After(30, rat("500")); rest.LengthMm != 68 || rest.WeightG.Cmp(rat("472.4")) != 0 {
		t.Errorf("%d mm, %s g", rest.LengthMm, rest.WeightG.FloatString(3)) // 500 − 1000·(0.70² − 0.68²)
	}
}
