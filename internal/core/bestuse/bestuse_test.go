package bestuse

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

func grams(g float64) measure.Mass { return measure.Mass(math.Round(g * 1000)) }

func euros(e float64) measure.Money {
	return measure.MustMoney(strconv.FormatFloat(math.Round(e*100)/100, 'f', 2, 64))
}

// invent makes an instance: kinds of pieces with a few plans each, that share products; caps, orders and minutes that
// bind more or less.
func invent(r *rand.Rand, pieces, plans, products int, alike bool) Problem {
	p := Problem{}
	for j := range products {
		pr := Product{ID: fmt.Sprint("p", j), Price: euros(4 + 26*r.Float64())}
		pr.Fallback = pr.Price
		if r.IntN(3) > 0 {
			c := grams(500 + float64(r.IntN(pieces*700)))
			pr.Cap, pr.Fallback = &c, euros(pr.Price.Float()*(0.3+0.6*r.Float64()))
		}
		p.Products = append(p.Products, pr)
	}
	type way struct {
		minutes float64
		shares  map[int]float64
	}
	kinds := make([][]way, max(1, products/8))
	for k := range kinds {
		for n := range plans {
			w := way{minutes: 3 + 4*float64(n) + 6*r.Float64(), shares: map[int]float64{}}
			left := 0.97
			for range 3 + r.IntN(4) {
				share := left * (0.2 + 0.5*r.Float64())
				w.shares[r.IntN(products)] += share
				left -= share
			}
			kinds[k] = append(kinds[k], w)
		}
	}
	total := 0.0
	for i := range pieces {
		x := Piece{ID: fmt.Sprint("x", i), Count: 1, Waits: r.IntN(4) == 0}
		if alike {
			x.Count = 1 + r.IntN(6)
		}
		weight := 2000 + 9000*r.Float64()
		k := r.IntN(len(kinds))
		longest := 0.0
		for n, w := range kinds[k] {
			pl := Plan{ID: fmt.Sprint("w", n), Minutes: Minutes(math.Round(w.minutes * 100)), Cost: euros(0.4 * w.minutes)}
			for j := range products {
				if s := w.shares[j]; s > 0 {
					pl.Yields = append(pl.Yields, Yield{p.Products[j].ID, grams(5 * math.Round(weight*s*(0.96+0.08*r.Float64())/5))})
				}
			}
			longest = math.Max(longest, w.minutes)
			x.Plans = append(x.Plans, pl)
		}
		total += longest * float64(x.Count)
		p.Pieces = append(p.Pieces, x)
	}
	if r.IntN(5) > 0 {
		m := Minutes(math.Round(100 * total * (0.35 + 0.6*r.Float64())))
		p.Minutes = &m
	}
	for j := range p.Products {
		if r.IntN(6) == 0 {
			p.Products[j].Order = grams(float64(200 + r.IntN(1500)))
		}
	}
	return p
}

// glpsol solves an instance by the general-purpose solver of glpk-utils (GLPK), written in the CPLEX LP format, in the
// plainest form of the model: no bound, cut or trick of ours is in it.
func glpsol(t testing.TB, p Problem) (value float64, ok bool) {
	t.Helper()
	var b bytes.Buffer
	name := func(i, k int) string { return fmt.Sprintf("n_%d_%d", i, k) }
	num := func(f float64) string { return strconv.FormatFloat(f, 'g', -1, 64) }
	b.WriteString("Maximize\n obj: 0 zero\n")
	for j, pr := range p.Products {
		fmt.Fprintf(&b, " + %s s_%d + %s e_%d\n", num(pr.Price.Float()), j, num(pr.Fallback.Float()), j)
	}
	for i, x := range p.Pieces {
		for k, pl := range x.Plans {
			fmt.Fprintf(&b, " - %s %s\n", num(pl.Cost.Float()), name(i, k))
		}
	}
	b.WriteString("Subject To\n")
	for i, x := range p.Pieces {
		for k := range x.Plans {
			fmt.Fprintf(&b, " + %s", name(i, k))
		}
		fmt.Fprintf(&b, " %s %d\n", map[bool]string{true: "<=", false: "="}[x.Waits], x.Count)
	}
	for j, pr := range p.Products {
		terms := ""
		for i, x := range p.Pieces {
			for k, pl := range x.Plans {
				for _, y := range pl.Yields {
					if y.Product == pr.ID {
						terms += fmt.Sprintf(" + %s %s\n", num(y.Mass.Grams()/1000), name(i, k))
					}
				}
			}
		}
		if terms == "" {
			terms = " 0 zero"
		}
		fmt.Fprintf(&b, "%s - s_%d - e_%d = 0\n", terms, j, j)
		if pr.Order > 0 {
			fmt.Fprintf(&b, "%s >= %s\n", terms, num(pr.Order.Grams()/1000))
		}
	}
	if p.Minutes != nil {
		for i, x := range p.Pieces {
			for k, pl := range x.Plans {
				fmt.Fprintf(&b, " + %s %s\n", num(float64(pl.Minutes)/100), name(i, k))
			}
		}
		fmt.Fprintf(&b, " <= %s\n", num(float64(*p.Minutes)/100))
	}
	b.WriteString("Bounds\n zero = 0\n")
	for j, pr := range p.Products {
		if pr.Cap != nil {
			fmt.Fprintf(&b, " s_%d <= %s\n", j, num(pr.Cap.Grams()/1000))
		}
	}
	b.WriteString("Generals\n")
	for i, x := range p.Pieces {
		for k := range x.Plans {
			b.WriteString(" " + name(i, k))
		}
	}
	b.WriteString("\nEnd\n")
	return runGlpsol(t, b.Bytes())
}

// runGlpsol solves a model in the CPLEX LP format; ok is false where there is no solution.
func runGlpsol(t testing.TB, model []byte) (value float64, ok bool) {
	t.Helper()
	dir := t.TempDir()
	in, out := filepath.Join(dir, "in.lp"), filepath.Join(dir, "out.txt")
	if err := os.WriteFile(in, model, 0o600); err != nil {
		t.Fatal(err)
	}
	said, err := exec.Command("glpsol", "--lp", in, "-w", out).CombinedOutput()
	if err != nil {
		t.Fatalf("glpsol (Debian's glpk-utils) is part of this check: %v\n%s", err, said)
	}
	raw, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	for line := range strings.Lines(string(raw)) {
		f := strings.Fields(line)
		if len(f) >= 6 && f[0] == "s" { // s mip rows cols status objective
			v, err := strconv.ParseFloat(f[len(f)-1], 64)
			if err != nil {
				t.Fatal(line)
			}
			return v, f[4] == "o"
		}
	}
	t.Fatalf("glpsol said nothing that is understood:\n%s", raw)
	return 0, false
}

// Outside check: GLPK's glpsol, of Debian's package glpk-utils, finds the same value to the cent on 240 random
// instances, and finds no use exactly where we find none.
func TestAgainstAReferenceSolver(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 2026))
	infeasible, waits, capped, whole := 0, 0, 0, 0
	for n := range 240 {
		p := invent(r, 2+r.IntN(9), 1+r.IntN(4), 3+r.IntN(12), n%2 == 1)
		want, ok := glpsol(t, p)
		got, err := BranchAndBound{}.Solve(p, nil, nil)
		if !ok {
			infeasible++
			if !errors.Is(err, ErrInfeasible) {
				t.Fatalf("instance %d: glpsol finds no use, we find %v, %v", n, got.Value, err)
			}
			continue
		}
		if err != nil || !got.Proven {
			t.Fatalf("instance %d: %v (glpsol: %.4f)", n, err, want)
		}
		if d := math.Abs(got.Value.Float() - want); d >= 0.005 {
			t.Errorf("instance %d: %.4f, and glpsol finds %.4f", n, got.Value.Float(), want)
		}
		if !p.meets(got) {
			t.Errorf("instance %d: the use breaks a limit or an order", n)
		}
		for _, c := range got.Choices {
			if c.Plan == "" {
				waits++
			}
			if c.Count > 1 {
				whole++
			}
		}
		for _, s := range got.Sales {
			if s.Fallback > 0 {
				capped++
			}
		}
	}
	if infeasible < 10 || waits < 10 || capped < 50 || whole < 50 {
		t.Errorf("the instances try too little: %d infeasible, %d waiting, %d beyond a cap, %d counts above one", infeasible,
			waits, capped, whole)
	}
}

// A problem that one can solve with a pencil: two pieces of 10 kg, steak at 20 up to 5 kg and then 8, braise at 9.
// Seamed gives 5 kg steak and 5 kg braise, straight 10 kg braise: the first seamed brings 145, the second only 85, so
// it is cut straight for 90.
func TestWithAPencil(t *testing.T) {
	five := grams(5000)
	seamed := Plan{ID: "seamed", Minutes: 3000, Yields: []Yield{{"steak", grams(5000)}, {"braise", grams(5000)}}}
	straight := Plan{ID: "straight", Minutes: 1000, Yields: []Yield{{"braise", grams(10000)}}}
	p := Problem{Pieces: []Piece{{ID: "block", Count: 2, Plans: []Plan{seamed, straight}}},
		Products: []Product{{ID: "steak", Price: euros(20), Cap: &five, Fallback: euros(8)},
			{ID: "braise", Price: euros(9), Fallback: euros(9)}}}
	got, err := BranchAndBound{}.Solve(p, nil, nil)
	if err != nil || got.Value.Text(2) != "235.00" || len(got.Choices) != 2 || got.Choices[0].Count != 1 ||
		got.Minutes != 4000 {
		t.Fatalf("%+v %v", got, err)
	}
	// one more kilo of steak at the full price is worth nothing until a whole second piece pays: 145−9·… the second piece
	// seamed brings 85 + 12 = 97 > 90
	w, err := Margins(p, got, BranchAndBound{}, nil)
	if err != nil || len(w.Demand) != 1 || w.Demand[0].Product != "steak" || w.Demand[0].PerKg.Text(2) != "7.00" {
		t.Errorf("a kilo of demand: %+v %v", w, err)
	}
	if w.Hour != nil {
		t.Error("minutes are no limit here")
	}
	// with 35 minutes only one can be seamed and none beside it: both straight; an hour more is worth 55
	limit := Minutes(3500)
	p.Minutes = &limit
	got, err = BranchAndBound{}.Solve(p, nil, nil)
	if err != nil || got.Value.Text(2) != "180.00" {
		t.Fatalf("%+v %v", got, err)
	}
	if w, err = Margins(p, got, BranchAndBound{}, nil); err != nil || w.Hour == nil || w.Hour.Text(2) != "55.00" {
		t.Errorf("an hour: %+v %v", w, err)
	}
	if whys := p.Why(got); len(whys) != 1 || whys[0].Chosen.Plan != "straight" || whys[0].Reason != ShortOfMinutes ||
		whys[0].Other != "seamed" || whys[0].By.Text(2) != "55.00" {
		t.Errorf("why: %+v", whys)
	}
}

// Orders that cannot be met are named, and no others.
func TestConflictNamesTheOrders(t *testing.T) {
	limit := Minutes(2500)
	p := Problem{Minutes: &limit,
		Pieces: []Piece{{ID: "block", Count: 1,
			Plans: []Plan{{ID: "a", Minutes: 1000, Yields: []Yield{{"steak", grams(3000)}}},
				{ID: "b", Minutes: 1000, Yields: []Yield{{"stew", grams(4000)}}}}},
			{ID: "end", Count: 1, Plans: []Plan{{ID: "c", Minutes: 1000, Yields: []Yield{{"bone", grams(1000)}}}}}},
		Products: []Product{{ID: "steak", Order: grams(2000)}, {ID: "stew", Order: grams(1000)},
			{ID: "bone", Order: grams(500)}}}
	if _, err := (BranchAndBound{}).Solve(p, nil, nil); !errors.Is(err, ErrInfeasible) {
		t.Fatal(err)
	}
	c, err := Conflict(p, BranchAndBound{}, nil)
	if err != nil || len(c.Orders) != 2 || c.Orders[0].Product != "steak" || c.Orders[1].Product != "stew" || c.Minutes {
		t.Fatalf("%+v %v", c, err)
	}
	if c.Orders[0].AtMost != grams(3000) || c.Orders[1].AtMost != grams(4000) {
		t.Errorf("at most: %+v", c.Orders)
	}
	p.Products[1].Order, limit = 0, 1500 // now it is the minutes
	if c, err = Conflict(p, BranchAndBound{}, nil); err != nil || len(c.Orders) != 0 || !c.Minutes {
		t.Fatalf("%+v %v", c, err)
	}
	p.Pieces[1].Waits = true
	// the block must be cut, the end may wait: what is ordered of it is out of reach
	if c, err = Conflict(p, BranchAndBound{}, nil); err != nil || len(c.Orders) != 1 ||
		c.Orders[0] != (UnmetOrder{"bone", grams(500), 0}) || !c.Minutes {
		t.Fatalf("%+v %v", c, err)
	}
}

// Faults name the field.
func TestCheckNamesTheField(t *testing.T) {
	negative, below := Minutes(-1), measure.Mass(-1)
	for want, p := range map[string]Problem{
		"pieces": {},
		"products[1].id": {Pieces: []Piece{{ID: "x", Count: 1, Plans: []Plan{{ID: "a"}}}},
			Products: []Product{{ID: "p"}, {ID: "p"}}},
		"products[0].fallback": {Pieces: []Piece{{ID: "x", Count: 1, Plans: []Plan{{ID: "a"}}}},
			Products: []Product{{ID: "p", Fallback: euros(1)}}},
		"products[0].cap_g": {Pieces: []Piece{{ID: "x", Count: 1, Plans: []Plan{{ID: "a"}}}},
			Products: []Product{{ID: "p", Cap: &below}}},
		"minutes": {Pieces: []Piece{{ID: "x", Count: 1, Plans: []Plan{{ID: "a"}}}},
			Products: []Product{{ID: "p"}}, Minutes: &negative},
		"pieces[0].count": {Pieces: []Piece{{ID: "x", Plans: []Plan{{ID: "a"}}}},
			Products: []Product{{ID: "p"}}},
		"pieces[0].plans": {Pieces: []Piece{{ID: "x", Count: 1}}, Products: []Product{{ID: "p"}}},
		"pieces[0].plans[0].yields[0].product": {Pieces: []Piece{{ID: "x", Count: 1,
			Plans: []Plan{{ID: "a", Yields: []Yield{{"q", 1}}}}}}, Products: []Product{{ID: "p"}}},
	} {
		_, err := BranchAndBound{}.Solve(p, nil, nil)
		found := false
		for _, f := range fault.Of(err) {
			found = found || f.Field == want
		}
		if !found {
			t.Errorf("%s is not named: %v", want, err)
		}
	}
}

// A search that is stopped says that its answer is not proven, and what could be had at most.
func TestStopped(t *testing.T) {
	p := invent(rand.New(rand.NewPCG(5, 5)), 40, 4, 30, false)
	for j := range p.Products {
		p.Products[j].Order = 0
	}
	whole, err := BranchAndBound{}.Solve(p, nil, nil)
	if err != nil || !whole.Proven {
		t.Fatal(err)
	}
	looks := 0
	part, err := BranchAndBound{}.Solve(p, nil, func() bool { looks++; return looks > 1 })
	if err != nil {
		t.Fatal(err)
	}
	if part.Value.Cmp(whole.Value) > 0 || part.AtMost < whole.Value.Float()-1e-6 ||
		(part.Proven && part.Value.Cmp(whole.Value) != 0) {
		t.Errorf("stopped: %v of at most %.2f, proven %v; whole: %v", part.Value, part.AtMost, part.Proven, whole.Value)
	}
}

// Rule: whatever the size, the search looks at its stop between any two pivots, so that between two looks there is
// never more work than one pivot on the largest tableau that a problem may have. Pivots are counted, not seconds.
func TestTheLargestProblemStopsAtOnce(t *testing.T) {
	p := invent(rand.New(rand.NewPCG(9, 9)), MaxPieces, MaxPlans, MaxProducts, false)
	for j := range p.Products {
		p.Products[j].Order = 0
	}
	for _, after := range []int{0, 1, 50, 200} {
		looks, late := 0, 0
		s := newSearch(p, func() bool {
			if looks++; looks > after+1 {
				late++
			}
			return looks > after
		})
		before := s.lp.pivots
		got, err := s.run()
		if err != nil && !errors.Is(err, ErrStopped) {
			t.Fatal(err)
		}
		if late > 4 { // the climb and the loop each see it once on their way out
			t.Errorf("after %d looks it was asked %d times more", after, late)
		}
		if pivots := s.lp.pivots - before; pivots > after {
			t.Errorf("%d pivots in %d looks", pivots, after)
		}
		if err == nil && (got.Proven || math.IsInf(got.AtMost, 0) || got.AtMost < got.Value.Float()) {
			t.Errorf("stopped: proven %v, at most %g of %s", got.Proven, got.AtMost, got.Value)
		}
	}
}

// BenchmarkBestUse: 60 pieces × 4 plans × 40 products, and what glpsol takes for the same instances in the same run.
// ratio is ours to its.
func BenchmarkBestUse(b *testing.B) {
	var list []Problem
	r := rand.New(rand.NewPCG(60, 4))
	for len(list) < 5 {
		p := invent(r, 60, 4, 40, false)
		if _, err := (BranchAndBound{}).Solve(p, nil, nil); err == nil {
			list = append(list, p)
		}
	}
	ours, theirs := 0.0, 0.0
	for b.Loop() {
		for _, p := range list {
			start := now()
			got, err := BranchAndBound{}.Solve(p, nil, nil)
			ours += now() - start
			if err != nil || !got.Proven {
				b.Fatal(err)
			}
			start = now()
			want, ok := glpsol(b, p)
			theirs += now() - start
			if !ok || math.Abs(got.Value.Float()-want) > 0.005 {
				b.Errorf("%.4f, glpsol %.4f", got.Value.Float(), want)
			}
		}
	}
	b.ReportMetric(ours/theirs, "ratio-to-glpsol")
}

// Wishes are met as far as they can be, the first first: with what is met as orders the problem can be solved, and with
// a gram more of the first that falls short it cannot. A pencil's case: two pieces, each a kilogram of one product or
// the other; three of the first and one of the second are wished for.
func TestMeet(t *testing.T) {
	with := BranchAndBound{}
	p := Problem{Products: []Product{{ID: "a", Price: euros(1)}, {ID: "b", Price: euros(9)}}}
	for i := range 2 {
		x := Piece{ID: fmt.Sprint(i), Count: 1}
		for j, pr := range p.Products {
			x.Plans = append(x.Plans, Plan{ID: pr.ID, Yields: []Yield{{Product: p.Products[j].ID, Mass: grams(1000)}}})
		}
		p.Pieces = append(p.Pieces, x)
	}
	q, short, err := Meet(p, []Wish{{0, grams(3000)}, {1, grams(1000)}}, with, nil)
	if err != nil || short[0] != grams(1000) || short[1] != grams(1000) || q.Products[0].Order != grams(2000) {
		t.Errorf("short %v, orders %v; %v", short, q.Products, err)
	}
	tried := 0
	r := rand.New(rand.NewPCG(3, 8))
	for n := range 60 {
		p := invent(r, 3+r.IntN(4), 2, 4, false)
		for j := range p.Products {
			p.Products[j].Order = 0
		}
		if _, err := with.Solve(p, nil, nil); err != nil { // its minutes are too few for its pieces
			continue
		}
		tried++
		var wishes []Wish
		for j := range p.Products {
			wishes = append(wishes, Wish{j, grams(float64(200 + r.IntN(4000)))})
		}
		q, short, err := Meet(p, wishes, with, nil)
		if err != nil {
			t.Fatalf("problem %d: %v", n, err)
		}
		if _, err := with.Solve(q, nil, nil); err != nil {
			t.Errorf("problem %d: what is met cannot be met: %v", n, err)
		}
		for i, m := range short {
			if m == 0 {
				continue
			}
			more := p // those before it as they were met, and a little more of it
			more.Products = append([]Product(nil), p.Products...)
			for k := range i {
				more.Products[wishes[k].Product].Order = q.Products[wishes[k].Product].Order
			}
			more.Products[wishes[i].Product].Order = q.Products[wishes[i].Product].Order + measure.Gram
			if _, err := with.Solve(more, nil, nil); !errors.Is(err, ErrInfeasible) {
				t.Errorf("problem %d: more of %s could be met: %v", n, p.Products[wishes[i].Product].ID, err)
			}
			break
		}
	}
	if tried < 20 {
		t.Errorf("only %d problems can be solved at all", tried)
	}
}
