package demo

import (
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	counters "falda/internal/core/counter"
	"falda/internal/core/demand"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/goods"
	"falda/internal/work/sales"
)

// tillList is what the harbour's till sells: its own words, the product, packs a week, grams of a pack, price. Made up,
// like the rest of the scenario.
var tillList = []struct {
	said, key    string
	week, grams  float64
	price        float64
	reducedShare float64
}{
	{"Rump heart stk", "beef.heart_steak", 26, 450, 19.90, 0.04}, {"Rump cap stk", "beef.cap_steak", 11, 420, 23.90, 0.05},
	{"Side medallion", "beef.side_medallion", 9, 380, 26.50, 0.05}, {"Tri-tip", "beef.tri_tip_whole", 3, 1050, 16.90, 0.1},
	{"Flat iron", "beef.flat_iron", 12, 400, 23.90, 0.03}, {"Shldr tender", "beef.shoulder_tender", 5, 300, 27.90, 0},
	{"Ribeye", "beef.ribeye_steak", 14, 330, 33.90, 0.02}, {"Striploin", "beef.striploin_steak", 15, 300, 31.90, 0.02},
	{"Diced beef", "beef.dice", 30, 560, 13.90, 0}, {"Harbour mince", "", 28, 500, 11.90, 0.02},
	{"Skerrow burger", "", 14, 300, 14.40, 0.03}, {"Lamb and mint sausage", "", 12, 400, 13.80, 0.03},
	{"Lamb leg rst", "lamb.leg_roast", 8, 1700, 17.90, 0.06},
	{"Lamb shldr rst", "lamb.shoulder_roast", 7, 1500, 12.90, 0.08},
	{"Loin chops", "lamb.loin_chop", 24, 440, 25.90, 0.02}, {"Lamb topside", "lamb.topside_portion", 16, 360, 25.90, 0.05},
	{"Lamb rump", "lamb.rump_portion", 13, 330, 26.90, 0.04}, {"Neck of lamb", "lamb.whole_neck", 9, 700, 9.90, 0.02},
}

// tillHeading heads what the till gives.
var tillHeading = []string{"Date", "Article", "Pieces", "Weight kg", "Total", "Kind", "Reason"}

// weekdays is how a week's custom falls on its days, Monday first; the counter is shut on Sundays.
var weekdays = [7]float64{0.10, 0.13, 0.14, 0.16, 0.24, 0.23, 0}

// tillDay is what the till sold on a day; the same for the same day.
func tillDay(day time.Time) [][]string {
	rng := rand.New(rand.NewPCG(uint64(day.Unix()/86400), 33))
	share := weekdays[demand.Weekday(day)]
	var rows [][]string
	for _, p := range tillList {
		mean := p.week * share
		if p.key == naming.key && day.Unix()/86400/7%2 == 1 { // the second name draws more
			mean *= 1.7
		}
		for range poisson(rng, mean) {
			g := p.grams * (0.85 + 0.3*rng.Float64())
			kind, price := "sale", p.price
			switch x := rng.Float64(); {
			case x < p.reducedShare:
				kind, price = "reduced", p.price*0.7
			case x > 0.997:
				rows = append(rows, tillRow(day, p.said, -g, price, "", ""))
			}
			rows = append(rows, tillRow(day, p.said, g, price, kind, ""))
		}
		if share > 0 && rng.Float64() < 0.02 {
			rows = append(rows, tillRow(day, p.said, p.grams, 0, "waste", "past its date"))
		}
	}
	if share > 0 {
		rows = append(rows, []string{day.Format("02.01.2006"), "Crusty rolls", "12", "", "9.60", "", ""})
	}
	return rows
}

func tillRow(day time.Time, said string, grams, price float64, kind, reason string) []string {
	grams = math.Round(grams/5) * 5 // the scale's division
	pieces := "1"
	if grams < 0 {
		pieces = "-1"
	}
	return []string{day.Format("02.01.2006"), said, pieces, fmt.Sprintf("%.3f", grams/1000),
		fmt.Sprintf("%.2f", grams/1000*price), kind, reason}
}

// poisson draws a count by the product of uniforms, as Knuth has it (from memory).
func poisson(rng *rand.Rand, mean float64) int {
	n, p := 0, rng.Float64()
	for limit := math.Exp(-mean); p > limit; n++ {
		p *= rng.Float64()
	}
	return n
}

// TillRows is what the stand-in till gives on a day: the sales of the three days before it.
func TillRows(day time.Time) [][]string {
	rows := [][]string{tillHeading}
	for ago := 3; ago >= 1; ago-- {
		rows = append(rows, tillDay(day.Truncate(24*time.Hour).AddDate(0, 0, -ago))...)
	}
	return rows
}

// naming is the cut that the hall tries two names on.
var naming = struct{ key, a, b string }{"beef.heart_steak", "Heart of rump", "Crofter’s steak"}

// sell reads in what the till sold in the last two weeks and since Monday, and tries two names on a cut.
func (s *scene) sell() error {
	for _, p := range tillList {
		if p.key == "" { // the till calls it by its name
			continue
		}
		if err := s.w.Sales.Means(s.ctx, p.said, p.key); err != nil {
			return fmt.Errorf("what the till calls %s: %w", p.said, err)
		}
	}
	if err := s.w.Sales.Means(s.ctx, "Crusty rolls", ""); err != nil {
		return err
	}
	first := demand.Monday(s.today.Truncate(24*time.Hour)).AddDate(0, 0, -14)
	for week := range 3 { // the till's file of each week
		rows := [][]string{tillHeading}
		for d := range 7 {
			day := first.AddDate(0, 0, 7*week+d)
			if day.Before(s.today.Truncate(24*time.Hour).AddDate(0, 0, -1)) { // yesterday is still to be read
				rows = append(rows, tillDay(day)...)
			}
		}
		if len(rows) == 1 {
			continue
		}
		f, err := s.w.Sales.Import(s.as["yield_desk"], rows, sales.Ask{Till: "Till", Save: true,
			Name: fmt.Sprintf("week-%s.csv", first.AddDate(0, 0, 7*week).Format("0102"))})
		if err != nil || f.Bad > 0 {
			return fmt.Errorf("sales of a week, %d bad: %w", f.Bad, err)
		}
	}
	if err := s.layCounter(); err != nil {
		return err
	}
	return s.w.Sales.Begin(s.ctx, sales.NewTrial{Key: naming.key, NameA: naming.a, NameB: naming.b,
		Begins: first.Format(time.DateOnly), Weeks: 4})
}

// reduced is what the hall sells for less this morning.
const reduced = "beef.heart_roast"

// layCounter says how large the harbour's counter is, and lays what was cut out in it.
func (s *scene) layCounter() error {
	there, err := s.w.Goods.Stock(s.ctx)
	if err != nil {
		return err
	}
	morning := s.w.At(s.clock(0, 7)).Goods
	for _, t := range there.Tubs {
		if t.Kind == store.GoodsStream || t.Left < 120*measure.Gram || t.Place != "cold" || t.Form == "bone" {
			continue
		}
		err := morning.Book(s.as["cutter"], goods.Booking{ID: s.id(), Tub: t.String(), Kind: "moved", Place: "counter"})
		if err != nil {
			return fmt.Errorf("laying %s out: %w", t.Name, err)
		}
	}
	for _, t := range there.Tubs { // one was reduced this morning
		if t.Key != reduced {
			continue
		}
		t.Place = "counter"
		err := morning.Book(s.as["head_cutter"], goods.Booking{ID: s.id(), Tub: t.String(), Kind: "reduced", Off: "20",
			Note: "use by in two days"})
		if err != nil {
			return fmt.Errorf("reducing %s: %w", t.Name, err)
		}
		break
	}
	room := counters.Usual()
	room.Length, room.TrayWide, room.LeastKg, room.TrayKg = 210, 26, 0.12, 1.2
	return s.w.Counter.Save(s.ctx, room, 0)
}
