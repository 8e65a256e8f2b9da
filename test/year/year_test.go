// Package year enters the work of a shop through its interface, week after week, with a clock of its own, and looks at
// what is left in the end. What it enters is made up; what the shop is told must be what was made up.
package year

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"strings"
	"testing"
	"time"

	"falda/internal/testdb"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

// ends is the last evening of the year.
var ends = time.Date(2026, 11, 20, 18, 0, 0, 0, time.UTC)

// kind is a kind of piece that the shop buys every week.
type kind struct {
	id     string
	pieces int // a week
	kg     float64
	price  string
	aged   int
	plans  [2]string
}

// kinds are cut both ways for half of the time; then by what paid.
var kinds = []kind{
	{"beef.top_sirloin", 3, 6.6, "11.40", 22, [2]string{"traditional", "seamed"}},
	{"beef.knuckle", 2, 5.4, "8.90", 16, [2]string{"traditional", "seamed"}},
	{"beef.clod", 2, 9.0, "7.60", 15, [2]string{"traditional", "seamed"}},
	{"lamb.leg_chump", 4, 3.1, "9.80", 8, [2]string{"traditional", "seamed"}},
	{"lamb.shoulder_whole", 3, 2.3, "7.20", 7, [2]string{"traditional", "seamed"}},
}

// crofts sell the pieces. Those of the second are fatter.
var crofts = []string{"Upper Brae croft", "Long Geo croft"}

const fatter = 1.35

// hand is somebody who cuts: the minutes in times of the plan's, and what goes into the trim beyond the usual.
type hand struct {
	role          string
	times, untidy float64
}

var hands = []hand{{"head_cutter", 0.9, 1}, {"cutter", 1.05, 1}, {"apprentice", 1, 1.15}}

// learns is how fast the apprentice is: twice the plan's minutes at the first piece, 20 % less each time the pieces
// double (Wright 1936, Factors affecting the cost of airplanes; from memory).
func learns(n int) float64 { return 2 * math.Pow(float64(n), -learning) }

const learning = 0.3219 // −log2(0.8)

// sold is what a week sells over the counter: packs of so much at a price, and in what part of the year more.
type sold struct {
	said, key  string
	packs, kg  float64
	price      float64
	summerly   float64 // times in summer
	wintertime float64 // times in winter
}

var tills = []sold{
	{"Rump heart", "beef.heart_steak", 14, 0.45, 19.90, 1.6, 0.8},
	{"Rump cap", "beef.cap_steak", 6, 0.42, 23.90, 1.6, 0.8}, {"Tri-tip", "beef.tri_tip_whole", 3, 1.0, 16.90, 1.5, 0.8},
	{"Diced beef", "beef.dice", 12, 0.55, 13.90, 0.7, 1.4}, {"Lamb leg", "lamb.leg_roast", 4, 2.2, 17.90, 0.8, 1.2},
	{"Shoulder", "lamb.shoulder_roast", 3, 1.7, 12.90, 0.8, 1.3},
}

// The whole of it: a year of deliveries, cutting, judging, sales, orders, tastings and learning is entered; then the
// log balances and the read tables are what it says, nothing is twice, what the shop is told of its suppliers, its
// cutters and its year is what was made up, and every page opens. In the usual run it is a few weeks and no more than
// balances; FALDA_WEEKS says how many (make year).
func TestAYear(t *testing.T) {
	weeks := 3
	if text := os.Getenv("FALDA_WEEKS"); text != "" {
		n, err := strconv.Atoi(text)
		if err != nil || n < 3 || n > 104 {
			t.Fatalf("FALDA_WEEKS=%s: from 3 to 104", text)
		}
		weeks = n
	}
	y := open(t, ends.AddDate(0, 0, -7*weeks))
	y.begin()
	for n := range weeks {
		y.week(n, weeks)
	}
	y.now = ends
	y.signIn()
	y.invariants()
	if weeks >= 26 {
		y.learned()
		y.everyPageOpens()
	}
}

// begin says what the shop must know before the first delivery.
func (y *year) begin() {
	for _, s := range tills {
		y.do("owner", "PUT", "/prices/"+s.key, map[string]any{"price": fmt.Sprintf("%.2f", s.price), "per": "kg",
			"version": 0}, nil)
	}
	for key, price := range map[string]string{"beef.mince_trim": "10.50", "lamb.mince_trim": "9.50", "beef.fat": "0.50",
		"lamb.fat": "0.40", "beef.rump_steak": "16.50", "beef.flat_iron": "23.90", "lamb.topside_portion": "25.90"} {
		y.do("owner", "PUT", "/prices/"+key, map[string]any{"price": price, "per": "kg", "version": 0}, nil)
	}
	y.do("owner", "POST", "/prices/guesses", nil, nil)
	y.do("owner", "PUT", "/goods/begin", map[string]string{"day": y.now.Format(time.DateOnly)}, nil)
	for _, s := range tills {
		y.do("owner", "PUT", "/sales/names", map[string]string{"said": s.said, "product_key": s.key}, nil)
	}
	var shop struct {
		Benches []struct{ ID, Name string }
	}
	y.do("owner", "GET", "/shop", nil, &shop)
	for _, b := range shop.Benches {
		y.benches = append(y.benches, b.ID)
	}
}

// week is one week: what came is cut, what was sold last week is read in on Monday, what was ordered goes on Friday.
func (y *year) week(n, of int) {
	monday := ends.AddDate(0, 0, -7*(of-n)+3).Truncate(24 * time.Hour).Add(7 * time.Hour) // the year ends on a Friday
	y.now = monday
	y.signIn()
	for _, b := range y.benches {
		y.do("head_cutter", "POST", "/benches/"+b+"/checks", map[string]any{"weight_g": 2000, "shown_g": 2000,
			"source": "typed"}, nil)
	}
	if n > 0 {
		y.sell(monday.AddDate(0, 0, -7))
	}
	order := y.order(n, monday)
	var waiting []waits
	for k, kd := range kinds {
		croft := (n + k) % len(crofts)
		for i, id := range y.receive(kd, k, croft, monday) {
			waiting = append(waiting, waits{kd, id, croft, i})
		}
	}
	for i, w := range waiting {
		day := monday.AddDate(0, 0, i*5/len(waiting))
		y.now = day.Add(time.Duration(60+i%4*110) * time.Minute)
		y.signIn()
		y.cut(w, hands[(n+i)%len(hands)], y.planFor(w, n, of))
	}
	y.now = monday.AddDate(0, 0, 4).Add(8 * time.Hour)
	y.signIn()
	y.deliver(order)
	if n%13 == 6 {
		y.taste(n)
	}
	y.drill()
	y.upkeep()
}

// upkeep does what the program does by itself every few seconds.
func (y *year) upkeep() {
	for _, chore := range []func(context.Context) error{y.work.Bench.Upkeep, y.work.Judge.Upkeep} {
		if err := chore(y.t.Context()); err != nil {
			y.t.Fatal(err)
		}
	}
}

// waits is a piece that waits to be cut.
type waits struct {
	kind
	piece string
	croft int
	n     int // of its lot
}

// planFor cuts both ways for half of the time; then by what the shop's own history says brings more a kilogram.
func (y *year) planFor(w waits, n, of int) string {
	if n < of/2 {
		return w.plans[(n+w.n)%2]
	}
	if y.chosen[w.id] == "" {
		var h struct {
			Buckets []struct {
				Key  string
				Mean float64
			}
		}
		y.do("owner", "GET", "/history?by=plan&measure=value&atlas_id="+w.id, nil, &h)
		best := math.Inf(-1)
		for _, b := range h.Buckets {
			for _, plan := range w.plans {
				if (b.Key == plan || strings.HasSuffix(b.Key, "/"+plan)) && b.Mean > best {
					y.chosen[w.id], best = plan, b.Mean
				}
			}
		}
		if y.chosen[w.id] == "" {
			y.t.Fatalf("%s: history knows neither plan: %+v", w.id, h)
		}
	}
	return y.chosen[w.id]
}

// receive enters a lot.
func (y *year) receive(k kind, at, croft int, monday time.Time) []string {
	kg := 0.0
	for range k.pieces {
		kg += k.kg * (1 + 0.07*y.rng.NormFloat64())
	}
	_, week := monday.ISOWeek()
	var lot struct {
		PieceIDs []string `json:"piece_ids"`
	}
	y.do("head_cutter", "POST", "/lots", map[string]any{"atlas_id": k.id, "pieces": k.pieces,
		"weight": fmt.Sprintf("%.2f", kg), "weight_unit": "kg", "price": k.price, "price_per": "kg",
		"slaughtered_on": monday.AddDate(0, 0, -k.aged).Format(time.DateOnly),
		"packed_on":      monday.AddDate(0, 0, -k.aged+2).Format(time.DateOnly), "supplier": crofts[croft],
		"lot_number": fmt.Sprintf("T-%s%02d-%d", monday.Format("06"), week, at), "findings": []string{}}, &lot)
	return lot.PieceIDs
}

// board is what the bench shows of a piece.
type board struct {
	ID      string
	Next    string
	InputG  float64 `json:"input_g"`
	Minutes float64
	State   string
	Booked  int
	Piece   struct {
		WeightG float64 `json:"weight_g"`
	}
	Expected []expected
}

type expected struct {
	Key, ID, Kind, Step, Block string
	ExpectedG                  float64 `json:"expected_g"`
}

// cut takes a piece apart as the bench asks, with what is in it drawn about the usual.
func (y *year) cut(w waits, h hand, plan string) {
	role := h.role
	y.do("head_cutter", "PUT", "/pieces/"+w.piece+"/plan", map[string]any{"plan_id": plan, "version": 1}, nil)
	var b board
	bench := y.benches[w.n%len(y.benches)]
	y.do(role, "POST", "/pieces/"+w.piece+"/breakdown", map[string]any{"bench_id": bench}, &b)
	if role == "apprentice" {
		y.apprentice[w.id]++
		h.times = learns(y.apprentice[w.id])
	}
	y.book(role, bench, &b,
		map[string]any{"kind": "opened", "net_g": scaled(b.Piece.WeightG * (1 - 0.003*y.rng.Float64()))})
	truth, sum := map[string]float64{}, 0.0
	for _, e := range b.Expected {
		g := e.ExpectedG * max(0.7, 1+0.05*y.rng.NormFloat64())
		if e.Kind == "fat" && w.croft == 1 {
			g *= fatter
		}
		if e.Kind == "trim" || e.Kind == "tub" {
			g *= h.untidy
		}
		truth[e.Key] = g
		sum += g
	}
	each := y.usual[plan+w.id] * h.times * (1 + 0.08*y.rng.NormFloat64()) / float64(len(b.Expected)+1)
	lost := 0.006 + 0.004*y.rng.Float64()
	for tries := 0; b.Next != ""; tries++ {
		if tries > 200 {
			y.t.Fatalf("%s by %s: the bench asks for %s again and again", w.id, plan, b.Next)
		}
		for _, e := range b.Expected {
			if e.Key == b.Next {
				y.now = y.now.Add(time.Duration(each * float64(time.Minute)))
				y.book(role, bench, &b, booked(e, scaled(truth[e.Key]/sum*b.InputG*(1-lost))))
				break
			}
		}
	}
	y.now = y.now.Add(time.Duration(each * float64(time.Minute)))
	y.book(role, bench, &b, map[string]any{"kind": "closed", "reason": "drip"})
	if b.State != "closed" {
		y.t.Fatalf("%s by %s is %s", w.id, plan, b.State)
	}
	y.do("yield_desk", "POST", "/breakdowns/"+b.ID+"/judgement/confirm", nil, nil)
	y.cuts++
	y.grams += b.InputG
}

// scaled is a weight as the scale shows it.
func scaled(g float64) float64 { return math.Max(5, math.Round(g/5)*5) }

// booked is how the bench books what came off.
func booked(e expected, g float64) map[string]any {
	out := map[string]any{"net_g": g}
	if e.Step != "" {
		out["step"] = e.Step
	}
	switch {
	case e.Block != "":
		out["kind"], out["block"] = "parted", e.Block
	case e.Kind == "ingredient":
		out["kind"], out["part"] = "ingredient_added", e.ID
	case e.Kind == "tub":
		out["kind"], out["part"] = "tubbed", e.ID
	case e.Kind == "product":
		out["kind"], out["product"] = "portioned", e.ID
	case e.Kind == "muscle":
		out["kind"], out["part"] = "seamed_off", e.ID
	case e.Kind == "waste":
		out["kind"], out["part"], out["reason"] = "discarded", e.ID, "as usual"
	default:
		out["kind"], out["part"] = "trimmed", e.ID
	}
	return out
}

// season says what part of the year it is.
func season(day time.Time) string {
	switch m := day.Month(); {
	case m >= time.May && m <= time.September:
		return "summer"
	case m == time.December || m <= time.February:
		return "winter"
	}
	return ""
}

// sell reads in what the till sold in the week from a Monday.
func (y *year) sell(monday time.Time) {
	if y.first.IsZero() {
		y.first = monday
	}
	var file strings.Builder
	file.WriteString("Date;Article;Weight kg;Total;Kind\n")
	for day := range 6 {
		on := monday.AddDate(0, 0, day)
		for _, s := range tills {
			mean := s.packs / 6
			switch season(on) {
			case "summer":
				mean *= s.summerly
			case "winter":
				mean *= s.wintertime
			}
			for range poisson(y.rng, mean) {
				kg := s.kg * (0.85 + 0.3*y.rng.Float64())
				cents := math.Round(kg * s.price * 100)
				fmt.Fprintf(&file, "%s;%s;%.3f;%d,%02d;\n", on.Format("02.01.2006"), s.said, kg, int(cents)/100, int(cents)%100)
				y.takings += int(cents)
				y.packs[s.key+season(on)]++
			}
		}
	}
	var sheet struct {
		Good, Bad int
		Kept      string
	}
	y.do("yield_desk", "POST", "/sales/import?save=true&stock=true&file=week-"+monday.Format(time.DateOnly)+".csv",
		file.String(), &sheet)
	if sheet.Bad > 0 || sheet.Kept == "" {
		y.t.Fatalf("the till's week of %s: %+v", monday.Format(time.DateOnly), sheet)
	}
}

// poisson draws a count by the product of uniforms, as Knuth has it (from memory).
func poisson(rng *rand.Rand, mean float64) int {
	n, p := 0, rng.Float64()
	for limit := math.Exp(-mean); p > limit; n++ {
		p *= rng.Float64()
	}
	return n
}
