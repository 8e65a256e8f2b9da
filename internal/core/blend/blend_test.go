package blend

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"math/big"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

func rat(s string) *big.Rat {
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		panic(s)
	}
	return r
}

func stream(id, kg, lean, connective, worth string) Stream {
	return Stream{ID: id, Kg: rat(kg), LeanPct: rat(lean), ConnectivePct: rat(connective), WorthPerKg: rat(worth)}
}

// Source: the Pearson square of animal feeding and meat handbooks (from memory). To 80 % lean from 90 and 50: 80 − 50 =
// 30 parts of the leaner to 90 − 80 = 10 of the fatter. Of 12 kg of the leaner that is 4 kg of the fatter, 16 kg
// together; by hand 16 · 9.90 + 6 · 2 = 170.40. One kilogram more of the leaner makes 4/3 kg, with a third of a
// kilogram of the fatter that would have been worth 2: 4/3 · 9.90 − 2/3 = 12.5333…
func TestPearsonSquare(t *testing.T) {
	mix, err := Best([]Stream{stream("lean", "12", "90", "3", "7"), stream("fat", "10", "50", "9", "2")},
		[]Product{{ID: "mince", LeanMinPct: rat("80"), LeanMaxPct: rat("80"), PricePerKg: rat("9.90")}}, nil)
	if err != nil {
		t.Fatal(err)
	}
	if mix.Value.Cmp(rat("170.4")) != 0 || len(mix.Use) != 2 || mix.Use[0].Kg.Cmp(rat("12")) != 0 ||
		mix.Use[1].Kg.Cmp(rat("4")) != 0 || mix.Left[1].Kg.Cmp(rat("6")) != 0 || !mix.Proven {
		t.Errorf("%v, %+v", mix.Value, mix.Use)
	}
	made := mix.Products[0]
	if made.LeanPct.Cmp(rat("80")) != 0 || made.ConnectivePct.Cmp(rat("4.5")) != 0 {
		t.Errorf("%v %% lean, %v connective", made.LeanPct, made.ConnectivePct)
	}
	if mix.Margins[0].PerKg.Cmp(rat("188/15")) != 0 || mix.Margins[1].PerKg.Cmp(rat("2")) != 0 {
		t.Errorf("one more is worth %v and %v", mix.Margins[0].PerKg, mix.Margins[1].PerKg)
	}
}

// What is asked first is met first, and the first that cannot be met beside it is named.
func TestUnmet(t *testing.T) {
	streams := []Stream{stream("a", "10", "70", "5", "1")}
	products := []Product{{ID: "x", PricePerKg: rat("5"), MinKg: rat("6")},
		{ID: "y", PricePerKg: rat("5"), MinKg: rat("5")}, {ID: "z", PricePerKg: rat("5"), MinKg: rat("99")}}
	var u Unmet
	if _, err := Best(streams, products, nil); !errors.As(err, &u) || u.Product != 1 {
		t.Errorf("%v", err)
	}
	products = []Product{{ID: "x", PricePerKg: rat("5"), MinKg: rat("1")},
		{ID: "y", PricePerKg: rat("5"), MinKg: rat("1"), LeanMinPct: rat("75")}}
	if _, err := Best(streams, products, nil); !errors.As(err, &u) || u.Product != 1 || !errors.Is(err, ErrUnmet) {
		t.Errorf("%v", err)
	}
}

// A search that is stopped says so, and not that there is no mix.
func TestStopped(t *testing.T) {
	_, err := Best([]Stream{stream("a", "10", "70", "5", "1")}, []Product{{ID: "x", PricePerKg: rat("5")}},
		func() bool { return true })
	if !errors.Is(err, ErrStopped) {
		t.Errorf("%v", err)
	}
}

// By hand: 14 kg in batches of 5 make two, 10 kg; the rest stays at its worth. Demand of 6 at 8 and the rest at 3,
// where the stream is worth 4: 6 are made and no more, unless whole batches force it.
func TestBatchesAndDemandByHand(t *testing.T) {
	streams := []Stream{stream("a", "14", "75", "5", "4")}
	batches := []Product{{ID: "x", PricePerKg: rat("8"), BatchKg: rat("5")}}
	mix, err := Best(streams, batches, nil)
	if err != nil || mix.Products[0].Batches != 2 || mix.Value.Cmp(rat("96")) != 0 {
		t.Errorf("%+v, %v", mix, err)
	}
	demand := []Product{{ID: "x", PricePerKg: rat("8"), DemandKg: rat("6"), FallbackPerKg: rat("3")}}
	if mix, err = Best(streams, demand, nil); err != nil || mix.Value.Cmp(rat("80")) != 0 {
		t.Errorf("%v, %v", mix.Value, err) // 6·8 + 8·4
	}
	demand[0].BatchKg = rat("5") // one batch: 5·8 + 9·4 = 76; two: 6·8 + 4·3 + 4·4 = 76; more brings no more
	if mix, err = Best(streams, demand, nil); err != nil || mix.Value.Cmp(rat("76")) != 0 {
		t.Errorf("%v, %v", mix.Value, err)
	}
	// at most a third of the mix from the first, none of the last
	three := append(streams, stream("b", "10", "75", "5", "1"), stream("c", "10", "75", "5", "0"))
	shares := []Product{{ID: "x", PricePerKg: rat("8"), Shares: []Share{{Of: []string{"a"}, Most: rat("1/3")}},
		Not: []string{"c"}}}
	mix, err = Best(three, shares, nil)
	if err != nil || mix.Products[0].Kg.Cmp(rat("15")) != 0 || mix.Value.Cmp(rat("156")) != 0 { // 15·8 + 9·4
		t.Errorf("%v, %v, %v", mix.Products[0].Kg, mix.Value, err)
	}
}

// By hand: collagen to protein of 60 % lean with 4 % connective is 4 / 12 = a third; of 90 % with 1.8 it is a tenth.
func TestCollagenRatio(t *testing.T) {
	streams := []Stream{stream("a", "10", "60", "4", "0"), stream("b", "10", "90", "1.8", "0")}
	mix, err := Best(streams, []Product{{ID: "x", PricePerKg: rat("1"), CollagenMaxPct: rat("15")}}, nil)
	if err != nil {
		t.Fatal(err)
	}
	// a: 4 − 0.15·12 = 2.2 over; b: 1.8 − 0.15·18 = −0.9, so 10 kg of b carry 90/22 of a
	if mix.Products[0].CollagenPct.Cmp(rat("15")) != 0 || mix.Products[0].Kg.Cmp(new(big.Rat).Add(rat("10"),
		rat("90/22"))) != 0 {
		t.Errorf("%+v", mix.Products[0])
	}
	tested := streams
	tested[0].ProteinPct = rat("40") // then a is within by itself
	if mix, _ := Best(tested, []Product{{ID: "x", PricePerKg: rat("1"), CollagenMaxPct: rat("15")}}, nil); mix.Products[0].
		Kg.Cmp(rat("20")) != 0 {
		t.Errorf("tested: %+v", mix.Products[0])
	}
}

// invent makes up a question; with batches in half of them.
func invent(r *rand.Rand, batches bool) ([]Stream, []Product) {
	n := func(low, high, den int) *big.Rat { return big.NewRat(int64(low+r.IntN(high-low+1)), int64(den)) }
	var streams []Stream
	for i := range 2 + r.IntN(6) {
		streams = append(streams, Stream{ID: fmt.Sprintf("s%d", i), Kg: n(0, 400, 10), LeanPct: n(30, 98, 1),
			ConnectivePct: n(10, 200, 10), WorthPerKg: n(0, 900, 100)})
	}
	var products []Product
	for i := range 1 + r.IntN(5) {
		p := Product{ID: fmt.Sprintf("p%d", i), PricePerKg: n(100, 1500, 100)}
		if r.IntN(4) > 0 {
			p.LeanMinPct = n(40, 92, 1)
			if r.IntN(3) == 0 {
				p.LeanMaxPct = new(big.Rat).Add(p.LeanMinPct, n(0, 8, 1))
			}
		}
		if r.IntN(2) == 0 {
			p.ConnectiveMaxPct = n(20, 160, 10)
		}
		if r.IntN(3) == 0 {
			p.CollagenMaxPct = n(8, 40, 1)
		}
		if r.IntN(3) == 0 {
			p.MaxKg = n(0, 300, 10)
		}
		if r.IntN(4) == 0 {
			p.MinKg = n(0, 60, 10)
		}
		if r.IntN(3) == 0 {
			p.DemandKg, p.FallbackPerKg = n(0, 200, 10), n(0, 100, 100)
		}
		if r.IntN(3) == 0 {
			p.Shares = []Share{{Of: []string{"s0"}, Most: n(10, 90, 100)}}
		}
		if batches && r.IntN(2) == 0 {
			p.BatchKg = n(20, 80, 10)
		}
		products = append(products, p)
	}
	return streams, products
}

// glpsol solves a question by the general-purpose solver of glpk-utils (GLPK), written in the CPLEX LP format in the
// plainest form of the model.
func glpsol(t *testing.T, streams []Stream, products []Product) (value float64, ok bool) {
	t.Helper()
	var b bytes.Buffer
	f := func(r *big.Rat) float64 { v, _ := r.Float64(); return v }
	worth := 0.0
	b.WriteString("Maximize\n obj: 0 zero\n")
	for s, x := range streams {
		worth += f(x.Kg) * f(x.WorthPerKg)
		for k, p := range products {
			fmt.Fprintf(&b, " %+.17g x_%d_%d\n", f(p.PricePerKg)-f(x.WorthPerKg), s, k)
		}
	}
	for k, p := range products {
		if p.DemandKg != nil {
			fmt.Fprintf(&b, " %+.17g e_%d\n", f(p.FallbackPerKg)-f(p.PricePerKg), k)
		}
	}
	b.WriteString("Subject To\n")
	sum := func(k int, of func(s int) float64) {
		b.WriteString(" 0 zero")
		for s := range streams {
			fmt.Fprintf(&b, " %+.17g x_%d_%d\n", of(s), s, k)
		}
	}
	for s, x := range streams {
		b.WriteString(" 0 zero")
		for k := range products {
			fmt.Fprintf(&b, " + x_%d_%d", s, k)
		}
		fmt.Fprintf(&b, " <= %.17g\n", f(x.Kg))
	}
	for k, p := range products {
		one := func(int) float64 { return 1 }
		limit := func(at *big.Rat, of func(Stream) float64, sign string) {
			if at != nil {
				sum(k, func(s int) float64 { return of(streams[s]) })
				fmt.Fprintf(&b, " %s 0\n", sign)
			}
		}
		limit(p.LeanMinPct, func(x Stream) float64 { return f(x.LeanPct) - f(p.LeanMinPct) }, ">=")
		limit(p.LeanMaxPct, func(x Stream) float64 { return f(x.LeanPct) - f(p.LeanMaxPct) }, "<=")
		limit(p.ConnectiveMaxPct, func(x Stream) float64 { return f(x.ConnectivePct) - f(p.ConnectiveMaxPct) }, "<=")
		limit(p.CollagenMaxPct,
			func(x Stream) float64 { return f(x.ConnectivePct) - f(p.CollagenMaxPct)/100*f(x.LeanPct)/5 }, "<=")
		for _, sh := range p.Shares {
			limit(sh.Most, func(x Stream) float64 {
				if x.ID == sh.Of[0] {
					return 1 - f(sh.Most)
				}
				return -f(sh.Most)
			}, "<=")
		}
		if p.MaxKg != nil {
			sum(k, one)
			fmt.Fprintf(&b, " <= %.17g\n", f(p.MaxKg))
		}
		if p.MinKg != nil {
			sum(k, one)
			fmt.Fprintf(&b, " >= %.17g\n", f(p.MinKg))
		}
		if p.DemandKg != nil {
			sum(k, one)
			fmt.Fprintf(&b, " - e_%d <= %.17g\n", k, f(p.DemandKg))
		}
		if p.BatchKg != nil {
			sum(k, one)
			fmt.Fprintf(&b, " - %.17g n_%d = 0\n", f(p.BatchKg), k)
		}
	}
	b.WriteString("Bounds\n zero = 0\n")
	b.WriteString("Generals\n")
	for k, p := range products {
		if p.BatchKg != nil {
			fmt.Fprintf(&b, " n_%d", k)
		}
	}
	b.WriteString(" zero\nEnd\n")
	in, out := filepath.Join(t.TempDir(), "in.lp"), filepath.Join(t.TempDir(), "out.txt")
	if err := os.WriteFile(in, b.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	if said, err := exec.Command("glpsol", "--lp", in, "-w", out).CombinedOutput(); err != nil {
		t.Fatalf("glpsol (Debian's glpk-utils) is part of this check: %v\n%s", err, said)
	}
	raw, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	for line := range strings.Lines(string(raw)) {
		if w := strings.Fields(line); len(w) >= 6 && w[0] == "s" {
			v, err := strconv.ParseFloat(w[len(w)-1], 64)
			if err != nil {
				t.Fatal(line)
			}
			return v + worth, w[4] == "o"
		}
	}
	t.Fatalf("glpsol said nothing that is understood:\n%s", raw)
	return 0, false
}

// Outside check: GLPK's glpsol, of Debian's package glpk-utils, finds the same value to the cent on 240 random
// questions, and none exactly where there is none. Beside it, in exact arithmetic: every limit holds, and a kilogram
// more is worth what a millionth of one adds.
func TestAgainstAReferenceSolver(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 2026))
	infeasible, mixed, whole, beyond := 0, 0, 0, 0
	for n := range 240 {
		streams, products := invent(r, n%2 == 1)
		want, ok := glpsol(t, streams, products)
		got, err := Best(streams, products, nil)
		if !ok {
			infeasible++
			if !errors.Is(err, ErrUnmet) {
				t.Fatalf("question %d: glpsol finds no mix, we find %v, %v", n, got.Value, err)
			}
			continue
		}
		if err != nil || !got.Proven {
			t.Fatalf("question %d: %v (glpsol: %.4f)", n, err, want)
		}
		if v, _ := got.Value.Float64(); math.Abs(v-want) >= 0.005 {
			t.Errorf("question %d: %.4f, and glpsol finds %.4f", n, v, want)
		}
		keeps(t, streams, products, got)
		for _, p := range got.Products {
			whole += min(p.Batches, 1)
		}
		for k, p := range products {
			if p.DemandKg != nil && got.Products[k].Kg.Cmp(p.DemandKg) > 0 {
				beyond++
			}
		}
		mixed += len(got.Use) / 3
		if n%2 == 0 {
			margins(t, streams, products, got)
		}
	}
	if infeasible < 10 || mixed < 100 || whole < 50 || beyond < 3 {
		t.Errorf("the questions try too little: %d without a mix, %d mixed, %d in batches, %d beyond demand", infeasible,
			mixed, whole, beyond)
	}
}

// keeps checks a mix against every limit, exactly.
func keeps(t *testing.T, streams []Stream, products []Product, m Mix) {
	t.Helper()
	value := new(big.Rat)
	for s, x := range streams {
		used := new(big.Rat).Set(m.Left[s].Kg)
		for _, u := range m.Use {
			if u.Stream == x.ID {
				used.Add(used, u.Kg)
			}
		}
		if used.Cmp(x.Kg) != 0 || m.Left[s].Kg.Sign() < 0 {
			t.Errorf("%s: %v of %v kg, %v left", x.ID, used, x.Kg, m.Left[s].Kg)
		}
		value.Add(value, new(big.Rat).Mul(m.Left[s].Kg, x.WorthPerKg))
	}
	for k, p := range products {
		got := m.Products[k]
		sells := new(big.Rat).Set(got.Kg)
		if p.DemandKg != nil && sells.Cmp(p.DemandKg) > 0 {
			over := new(big.Rat).Sub(sells, p.DemandKg)
			sells.Set(p.DemandKg)
			value.Add(value, over.Mul(over, p.FallbackPerKg))
		}
		value.Add(value, sells.Mul(sells, p.PricePerKg))
		above := func(v, most *big.Rat) bool { return v != nil && most != nil && v.Cmp(most) > 0 }
		if above(got.Kg, p.MaxKg) || above(p.MinKg, got.Kg) || above(p.LeanMinPct, got.LeanPct) && got.LeanPct != nil ||
			above(got.LeanPct, p.LeanMaxPct) || above(got.ConnectivePct, p.ConnectiveMaxPct) ||
			above(got.CollagenPct, p.CollagenMaxPct) {
			t.Errorf("%s breaks a limit: %+v", p.ID, got)
		}
		if p.BatchKg != nil && new(big.Rat).Mul(p.BatchKg, big.NewRat(int64(got.Batches), 1)).Cmp(got.Kg) != 0 {
			t.Errorf("%s: %d batches of %v are not %v", p.ID, got.Batches, p.BatchKg, got.Kg)
		}
	}
	if value.Cmp(m.Value) != 0 {
		t.Errorf("the mix brings %v, and says %v", value, m.Value)
	}
}

// margins checks what one more kilogram is worth against what a millionth of one adds, exactly.
func margins(t *testing.T, streams []Stream, products []Product, m Mix) {
	t.Helper()
	bit := big.NewRat(1, 1_000_000)
	for s := range streams {
		more := append([]Stream{}, streams...)
		more[s].Kg = new(big.Rat).Add(more[s].Kg, bit)
		with, err := Best(more, products, nil)
		if err != nil {
			t.Fatal(err)
		}
		adds := new(big.Rat).Sub(with.Value, m.Value)
		if adds.Quo(adds, bit).Cmp(m.Margins[s].PerKg) != 0 {
			t.Errorf("%s: a kilogram more is worth %v, and adds %v", streams[s].ID, m.Margins[s].PerKg, adds)
		}
	}
}

// A large question: 20 tubs and 12 products, four of them in batches. What is measured is that it is answered.
func BenchmarkBest(b *testing.B) {
	r := rand.New(rand.NewPCG(3, 3))
	var streams []Stream
	var products []Product
	for len(streams) < 20 {
		s, _ := invent(r, false)
		streams = append(streams, s...)
	}
	for len(products) < 12 {
		_, p := invent(r, false)
		products = append(products, p...)
	}
	for i := range streams {
		streams[i].ID = fmt.Sprint("s", i)
	}
	for i := range products {
		products[i].ID, products[i].MinKg = fmt.Sprint("p", i), nil
	}
	for b.Loop() {
		if _, err := Best(streams, products, nil); err != nil {
			b.Fatal(err)
		}
	}
}
