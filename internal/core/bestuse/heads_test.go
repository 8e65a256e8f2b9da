package bestuse

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"testing"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// week makes a small week: one or two heads with one or two divisions, a few ways for each piece, caps that let what is
// beyond them fall to another product, minutes of bench and saw, an order.
func week(r *rand.Rand, tiny bool) Heads {
	var h Heads
	products := 4 + r.IntN(4)
	for j := range products {
		h.Products = append(h.Products, Product{ID: fmt.Sprint("p", j), Price: euros(30 - float64(3*j) - 2*r.Float64())})
	}
	for j := range products {
		if r.IntN(3) == 0 {
			continue
		}
		c := grams(1000 + float64(r.IntN(20_000)))
		h.Products[j].Cap = &c
		if j+1 < products && r.IntN(3) > 0 {
			h.Products[j].FallsTo = fmt.Sprint("p", j+1+r.IntN(products-j-1))
		}
	}
	total, sawn := 0.0, 0.0
	for i := range 1 + r.IntN(2) {
		head := Head{fmt.Sprint("h", i), 1 + r.IntN(4)}
		if tiny {
			head.Count = 1 + r.IntN(2)
		}
		h.Heads = append(h.Heads, head)
		divisions := []string{""}
		if r.IntN(2) == 0 {
			divisions = []string{"a", "b"}
		}
		for _, d := range divisions {
			for piece := range 1 + r.IntN(2) {
				per := 1 + r.IntN(2)
				longest := 0.0
				for n := range 2 + r.IntN(2) {
					w := Way{Head: head.ID, Division: d, Piece: fmt.Sprint("x", piece), ID: fmt.Sprint("w", n), PerHead: per}
					minutes := 4 + 20*r.Float64()
					longest = math.Max(longest, minutes)
					w.Plan.Minutes, w.Plan.Saw = Minutes(math.Round(100*minutes)), Minutes(r.IntN(300))
					for range 1 + r.IntN(3) {
						w.Plan.Yields = append(w.Plan.Yields, Yield{fmt.Sprint("p", r.IntN(products)),
							grams(float64(200 + r.IntN(4000)))})
					}
					h.Ways = append(h.Ways, w)
				}
				total += longest * float64(head.Count*per)
				sawn += 3 * float64(head.Count*per)
			}
		}
	}
	if r.IntN(3) > 0 {
		m, s := Minutes(100*total*(0.4+0.6*r.Float64())), Minutes(100*sawn*(0.3+0.7*r.Float64()))
		h.Minutes, h.Saw = &m, &s
	}
	if r.IntN(3) == 0 {
		h.Products[r.IntN(products)].Order = grams(float64(r.IntN(4000)))
	}
	return h
}

// wholeModel writes a week as one model, its divisions as whole variables of their own: none of our taking apart is in
// it.
func wholeModel(h Heads) []byte {
	var b bytes.Buffer
	num := func(f float64) string { return strconv.FormatFloat(f, 'g', -1, 64) }
	count := map[string]int{}
	for _, x := range h.Heads {
		count[x.ID] = x.Count
	}
	b.WriteString("Maximize\n obj: 0 zero\n")
	for j, p := range h.Products {
		fmt.Fprintf(&b, " + %s s_%d\n", num(p.Price.Float()), j)
	}
	b.WriteString("Subject To\n")
	at := map[string]int{}
	for j, p := range h.Products {
		at[p.ID] = j
	}
	for j, p := range h.Products { // made + what falls to it = sold + beyond
		made := " 0 zero\n"
		for v, w := range h.Ways {
			kg := 0.0
			for _, y := range w.Plan.Yields {
				if y.Product == p.ID {
					kg += y.Mass.Grams() / 1000
				}
			}
			if kg > 0 {
				made += fmt.Sprintf(" + %s n_%d\n", num(kg), v)
			}
		}
		row := made
		for k, q := range h.Products {
			if q.FallsTo == p.ID {
				row += fmt.Sprintf(" + e_%d\n", k)
			}
		}
		fmt.Fprintf(&b, "%s - s_%d - e_%d = 0\n", row, j, j)
		if p.Order > 0 {
			fmt.Fprintf(&b, "%s >= %s\n", made, num(p.Order.Grams()/1000))
		}
	}
	divided := map[string]bool{}
	for v, w := range h.Ways {
		key := w.Head + w.Division + w.Piece
		if divided[key] {
			continue
		}
		divided[key] = true
		for k, o := range h.Ways[v:] {
			if o.Head+o.Division+o.Piece == key {
				fmt.Fprintf(&b, " + n_%d", v+k)
			}
		}
		if all := count[w.Head] * w.PerHead; w.Division == "" {
			fmt.Fprintf(&b, " = %d\n", all)
		} else {
			fmt.Fprintf(&b, " - %d d_%s_%s = 0\n", all, w.Head, w.Division)
		}
	}
	binaries := ""
	for _, x := range h.Heads {
		if list := h.divisions(x.ID); list[0] != "" {
			for _, d := range list {
				fmt.Fprintf(&b, " + d_%s_%s", x.ID, d)
				binaries += fmt.Sprintf(" d_%s_%s", x.ID, d)
			}
			b.WriteString(" = 1\n")
		}
	}
	for _, x := range []struct {
		limit *Minutes
		of    func(Plan) Minutes
	}{{h.Minutes, func(p Plan) Minutes { return p.Minutes }}, {h.Saw, func(p Plan) Minutes { return p.Saw }}} {
		if x.limit == nil {
			continue
		}
		b.WriteString(" 0 zero\n")
		for v, w := range h.Ways {
			fmt.Fprintf(&b, " + %s n_%d\n", num(float64(x.of(w.Plan))/100), v)
		}
		fmt.Fprintf(&b, " <= %s\n", num(float64(*x.limit)/100))
	}
	b.WriteString("Bounds\n zero = 0\n")
	for j, p := range h.Products {
		if p.Cap == nil {
			fmt.Fprintf(&b, " e_%d = 0\n", j)
		} else {
			fmt.Fprintf(&b, " s_%d <= %s\n", j, num(p.Cap.Grams()/1000))
		}
	}
	b.WriteString("Generals\n")
	for v := range h.Ways {
		fmt.Fprintf(&b, " n_%d", v)
	}
	if binaries != "" {
		b.WriteString("\nBinaries\n" + binaries)
	}
	b.WriteString("\nEnd\n")
	return b.Bytes()
}

// Outside check: glpsol, given the whole week as one model, finds the same value to the cent on 200 random weeks, and
// finds none exactly where we find none.
func TestWeeksAgainstAReferenceSolver(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 2026))
	infeasible, divided, fell, sawn := 0, 0, 0, 0
	for n := range 200 {
		h := week(r, false)
		want, ok := runGlpsol(t, wholeModel(h))
		got, err := BestHeads(h, BranchAndBound{}, nil)
		if !ok {
			infeasible++
			if !errors.Is(err, ErrInfeasible) {
				t.Fatalf("week %d: glpsol finds nothing, we find %v, %v", n, got.Value, err)
			}
			continue
		}
		if err != nil || !got.Proven {
			t.Fatalf("week %d: %v (glpsol: %.4f)", n, err, want)
		}
		if d := math.Abs(got.Value.Float() - want); d >= 0.005 {
			t.Errorf("week %d: %.4f, and glpsol finds %.4f", n, got.Value.Float(), want)
		}
		for _, d := range got.Divisions {
			if d != "" {
				divided++
			}
		}
		for j, s := range got.Sales {
			if s.Fallback > 0 && h.Products[j].FallsTo != "" {
				fell++
			}
		}
		if h.Saw != nil && *h.Saw-got.Saw < 300 {
			sawn++
		}
	}
	if infeasible < 5 || divided < 50 || fell < 50 || sawn < 10 {
		t.Errorf("only %d infeasible, %d divided, %d fell, %d at the saw's end", infeasible, divided, fell, sawn)
	}
}

// bruteWeek tries every division and every count of every way.
func bruteWeek(h Heads) (best float64, ok bool) {
	best = math.Inf(-1)
	for _, chosen := range h.combinations() {
		p, _ := h.problem(chosen)
		counts := make([][]int, len(p.Pieces))
		var place func(i, k, left int)
		place = func(i, k, left int) {
			switch {
			case i == len(p.Pieces):
				if s := p.sell(counts); p.meets(s) {
					best, ok = math.Max(best, s.Value.Float()), true
				}
			case k == len(p.Pieces[i].Plans)-1:
				counts[i][k] = left
				if i+1 < len(p.Pieces) {
					counts[i+1] = make([]int, len(p.Pieces[i+1].Plans))
					place(i+1, 0, p.Pieces[i+1].Count)
				} else {
					place(i+1, 0, 0)
				}
			default:
				for n := range left + 1 {
					counts[i][k] = n
					place(i, k+1, left-n)
				}
			}
		}
		counts[0] = make([]int, len(p.Pieces[0].Plans))
		place(0, 0, p.Pieces[0].Count)
	}
	return best, ok
}

func TestTinyWeeksAgainstTryingEverything(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	for n := range 20 {
		h := week(r, true)
		want, ok := bruteWeek(h)
		got, err := BestHeads(h, BranchAndBound{}, nil)
		if ok != (err == nil) || ok && math.Abs(got.Value.Float()-want) > 0.005 {
			t.Errorf("week %d: %v %v, by trying %v %v", n, got.Value, err, want, ok)
		}
	}
}

// By hand: two lambs have four legs of 2.4 kg. As roasts, 15.90 a kilo, 5 kg sell; the rest is diced at 11.90, of which
// 3 kg sell, the rest for nothing. Seamed a leg gives 1.5 kg at 19.90, 29.85, and takes 12 minutes in the place of 4.
// Two roasts bring 4.8 × 15.90 = 76.32; a third would bring 0.2 × 15.90 + 2.2 × 11.90 = 29.36, less than seamed. So two
// are seamed: 76.32 + 59.70 = 136.02, in 32 minutes of the 40.
func heads() Heads {
	kg := func(v float64) measure.Mass { return grams(1000 * v) }
	minutes, five, three := Minutes(4000), kg(5), kg(3)
	return Heads{Heads: []Head{{"lamb", 2}}, Minutes: &minutes, Ways: []Way{
		{Head: "lamb", Piece: "leg", ID: "roast", PerHead: 2, Plan: Plan{Minutes: 400, Yields: []Yield{{"roast", kg(2.4)}}}},
		{Head: "lamb", Piece: "leg", ID: "seamed", PerHead: 2, Plan: Plan{Minutes: 1200,
			Yields: []Yield{{"portion", kg(1.5)}}}}}, Products: []Product{
		{ID: "roast", Price: measure.MustMoney("15.90"), Cap: &five, FallsTo: "dice"},
		{ID: "dice", Price: measure.MustMoney("11.90"), Cap: &three}, {ID: "portion", Price: measure.MustMoney("19.90")}}}
}

func TestLegsByHand(t *testing.T) {
	got, err := BestHeads(heads(), BranchAndBound{}, nil)
	if err != nil || got.Value.Text(2) != "136.02" || len(got.Use) != 2 ||
		got.Use[1] != (Use{"lamb", "leg", "seamed", 2}) {
		t.Fatalf("%+v %v", got, err)
	}
	// there is time enough
	if worth, _, err := AnHour(heads(), got, BranchAndBound{}, nil); err != nil || worth.Text(2) != "0.00" {
		t.Errorf("%v %v", worth, err)
	}
	h := heads()
	less := Minutes(1600)
	h.Minutes = &less // no time to seam any: 5 kg roasts, 3 kg of the rest diced, 1.6 kg for nothing
	if got, err = BestHeads(h, BranchAndBound{}, nil); err != nil || got.Value.Text(2) != "115.20" ||
		got.Sales[1].Full != 3*measure.Kilogram || got.Sales[0].Fallback != 4600*measure.Gram {
		t.Errorf("%+v %v", got, err)
	}
}

// The table of docs/best-carcass.md: what each number of seamed legs brings, the last in too many minutes.
func TestLegsLineByLine(t *testing.T) {
	for seamed, want := range []string{"115.20", "135.53", "136.02", "127.71", "119.40"} {
		h := heads()
		p, _ := h.problem(map[string]string{})
		p.Minutes = nil
		leg := p.Pieces[0]
		p.Pieces = nil
		for k, n := range []int{4 - seamed, seamed} {
			if n > 0 {
				p.Pieces = append(p.Pieces, Piece{ID: fmt.Sprint(k), Count: n, Plans: leg.Plans[k : k+1]})
			}
		}
		got, err := (BranchAndBound{}).Solve(p, nil, nil)
		if err != nil || got.Value.Text(2) != want {
			t.Errorf("%d seamed: %v, want %s (%v)", seamed, got.Value.Text(2), want, err)
		}
		if minutes := Minutes(400*(4-seamed) + 1200*seamed); got.Minutes != minutes {
			t.Errorf("%d seamed take %d", seamed, got.Minutes)
		}
	}
}

// BenchmarkBestCarcass: 30 and 4 heads with several divisions, and what glpsol takes for the same weeks, each as one
// model, in the same run. ratio is ours to its.
func BenchmarkBestCarcass(b *testing.B) {
	var list []Heads
	r := rand.New(rand.NewPCG(30, 4))
	for len(list) < 5 {
		h := week(r, false)
		h.Heads[0].Count = 30
		if len(h.Heads) > 1 {
			h.Heads[1].Count = 4
		}
		for j := range h.Products {
			h.Products[j].Order = 0
		}
		if _, err := BestHeads(h, BranchAndBound{}, nil); err == nil {
			list = append(list, h)
		}
	}
	ours, theirs := 0.0, 0.0
	for b.Loop() {
		for _, h := range list {
			start := now()
			got, err := BestHeads(h, BranchAndBound{}, nil)
			ours += now() - start
			if err != nil || !got.Proven {
				b.Fatal(err)
			}
			start = now()
			want, ok := runGlpsol(b, wholeModel(h))
			theirs += now() - start
			if !ok || math.Abs(got.Value.Float()-want) > 0.005 {
				b.Errorf("%.4f, glpsol %.4f", got.Value.Float(), want)
			}
		}
	}
	b.ReportMetric(ours/theirs, "ratio-to-glpsol")
}

func TestHeadsAreChecked(t *testing.T) {
	h := heads()
	h.Heads[0].Count = 0
	h.Ways[0].Head, h.Ways[1].PerHead = "calf", 0
	h.Products[1].FallsTo = "roast"
	_, err := BestHeads(h, BranchAndBound{}, nil)
	var faults fault.List
	if !errors.As(err, &faults) {
		t.Fatal(err)
	}
	for _, field := range []string{"heads[0].count", "ways[0].head", "ways[1].per_head"} {
		found := false
		for _, f := range faults {
			found = found || f.Field == field
		}
		if !found {
			t.Errorf("%s passes: %v", field, err)
		}
	}
	h = heads()
	h.Products[1].FallsTo = "roast"
	if _, err = BestHeads(h, BranchAndBound{}, nil); !errors.As(err, &faults) ||
		faults[0].Field != "products[0].fallback" &&
			faults[0].Field != "products[1].fallback" {
		t.Errorf("a circle passes: %v", err)
	}
}

// A way that makes no more of anything in no less time and at no less cost need not be looked at; one that is better in
// anything must.
func TestNoBetterThan(t *testing.T) {
	euros := func(f float64) measure.Money { m, _ := measure.MoneyFromFloat(f); return m }
	way := func(change func(*Way)) Way {
		x := Way{Head: "lamb", Piece: "leg", ID: "a", PerHead: 2, Plan: Plan{Minutes: 400, Saw: 100,
			Cost: euros(2), Yields: []Yield{{"roast", 2_000_000}, {"dice", 300_000}}}}
		change(&x)
		return x
	}
	usual := way(func(*Way) {})
	for _, c := range []struct {
		name   string
		change func(*Way)
		want   bool
	}{
		{"the same", func(*Way) {}, true},
		{"slower", func(x *Way) { x.Plan.Minutes = 500 }, true},
		{"less of one", func(x *Way) { x.Plan.Yields = x.Plan.Yields[:1] }, true},
		{"faster", func(x *Way) { x.Plan.Minutes = 399 }, false},
		{"less at the saw", func(x *Way) { x.Plan.Saw = 99 }, false},
		{"cheaper", func(x *Way) { x.Plan.Cost = euros(1) }, false},
		{"more of one", func(x *Way) { x.Plan.Yields = []Yield{{"roast", 2_000_001}} }, false},
		{"something else", func(x *Way) { x.Plan.Yields = []Yield{{"mince", 1}} }, false},
		{"of another piece", func(x *Way) { x.Piece = "loin" }, false},
		{"of another animal", func(x *Way) { x.Head = "hogget" }, false},
	} {
		if got := way(c.change).NoBetterThan(usual); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}
