package judge

import (
	"cmp"
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/cook"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/tabular"
)

// productOf finds a product of a piece, in any of its plans or of what can be chosen within them.
func productOf(p atlas.Piece, id string) (atlas.Product, bool) {
	for _, pl := range p.Plans {
		if pr, ok := pl.Product(id); ok {
			return pr, true
		}
	}
	for _, pl := range p.Plans {
		for _, o := range p.OptionsOf(pl.ID) {
			for _, c := range o.Choices {
				if with, err := p.With(pl, map[string]string{o.ID: c.ID}); err == nil {
					if pr, ok := with.Product(id); ok {
						return pr, true
					}
				}
			}
		}
	}
	return atlas.Product{}, false
}

// CookingCard is how a cut is cooked, for whoever eats it: it asks for no account, and shows nothing of a shop but what
// it calls what it sells.
type CookingCard struct {
	cook.Card
	Piece    atlas.Piece
	MenuName string // what the shop calls it; empty where it says the same, or nobody asks a shop
}

// CardOf names the product of a cooking card: of a piece of the atlas or, where a shop is named, of that shop's own
// plan.
type CardOf struct {
	AtlasID, Product string
	Shop             string // by public id; empty for the atlas alone
	Plan             string // of the shop's own; empty for whichever makes the product
}

// CookingCard makes the card of a product.
func (s *Service) CookingCard(ctx context.Context, of CardOf, a cook.CardRequest) (CookingCard, error) {
	p, ok := s.atlas.Find(of.AtlasID)
	if !ok {
		return CookingCard{}, store.ErrNotFound
	}
	called := map[string]string{}
	if of.Shop != "" {
		row, err := s.store.ShopByPublicID(ctx, of.Shop)
		if err != nil {
			return CookingCard{}, err
		}
		shop, err := s.shops.For(ctx, row)
		if err != nil {
			return CookingCard{}, err
		}
		if called, err = s.store.MenuNames(ctx, shop.ID); err != nil {
			return CookingCard{}, err
		}
		p = shop.AddOwn(p, of.Plan)
	}
	pr, ok := productOf(p, of.Product)
	if own, found := p.Plan(of.Plan); found {
		p.Plans = []atlas.Plan{own}
		pr, ok = own.Product(of.Product)
	}
	if !ok {
		return CookingCard{}, store.ErrNotFound
	}
	c, err := cook.Of(p, pr, a)
	return CookingCard{c, p, called[p.Key(pr)]}, err
}

// DishAsked is a dish of a timetable.
type DishAsked struct {
	CardOf
	cook.CardRequest
}

// Timetable lays dishes out before a time of serving, with one oven.
func (s *Service) Timetable(ctx context.Context, dishes []DishAsked, serve time.Time) (cook.Table, []CookingCard,
	error) {
	var faults fault.List
	var list []cook.Dish
	var cards []CookingCard
	if serve.IsZero() {
		faults.Add("serve_at", fault.Required("Say when it is to be on the table."))
	}
	for i, d := range dishes {
		c, err := s.CookingCard(ctx, d.CardOf, d.CardRequest)
		switch at := fmt.Sprintf("dishes[%d]", i); {
		case err == store.ErrNotFound:
			faults.Add(at+".product", fault.New("", "unknown", "is not a cut of the atlas", "Choose one of the list."))
		case fault.Of(err) != nil:
			for _, f := range fault.Of(err) {
				f.Field = at + "." + f.Field
				faults = append(faults, f)
			}
		case err != nil:
			return cook.Table{}, nil, err
		}
		cards = append(cards, c)
		list = append(list, cook.Dish{Name: cmp.Or(c.MenuName, c.Product.Name), Card: c.Card})
	}
	if err := faults.Err(); err != nil {
		return cook.Table{}, nil, err
	}
	t, err := cook.Timetable(list, serve)
	return t, cards, err
}

// ProbeLog is what a probe's log is read for.
type ProbeLog struct {
	WantedC float64
	WeightG float64
	Treated bool // or minced
}

// ReadProbe works soundings out.
func (s *Service) ReadProbe(log []cook.Sample, l ProbeLog) (cook.Run, error) {
	var faults fault.List
	if !(l.WantedC >= 40 && l.WantedC <= 100) {
		faults.Add("target_core_c",
			fault.New("", "out_of_range", "must be from 40 to 100 °C", "Say the centre that is wanted."))
	}
	if !(l.WeightG >= 0 && l.WeightG <= 50_000) {
		faults.Add("weight_g", fault.New("", "out_of_range", "must be from 0 g to 50 kg", ""))
	}
	if err := faults.Err(); err != nil {
		return cook.Run{}, err
	}
	floor, _ := cook.MinSafeCore(l.Treated, l.Treated, false)
	return cook.Read(log, floor, l.WantedC, l.WeightG/1000)
}

// timeColumns and heatColumns are names under which the columns of a log are often found, with what one of them is.
var (
	timeColumns = map[string]time.Duration{"time": 0, "timestamp": 0, "seconds": time.Second, "s": time.Second,
		"minutes": time.Minute, "min": time.Minute}
	heatColumns = map[string]bool{"c": false, "°c": false, "temp": false, "temperature": false, "temp_c": false,
		"core": false, "f": true, "°f": true, "temp_f": true}
)

// ReadProbeFile reads the log of a probe from a table, its heading first: a time (a clock, a moment, or seconds or
// minutes) and a temperature.
func (s *Service) ReadProbeFile(_ context.Context, rows [][]string) ([]cook.Sample, error) {
	if len(rows) < 3 {
		return nil,
			fault.New("file", "empty", "has fewer than two soundings below its heading",
				"The first line names the columns, such as time and temperature.")
	}
	at := tabular.HeadingOf(rows[0])
	var when, heat string
	for _, column := range rows[0] { // of two that would do the first
		name := strings.ToLower(strings.TrimSpace(column))
		if _, ok := timeColumns[name]; ok && when == "" {
			when = name
		}
		if _, ok := heatColumns[name]; ok && heat == "" {
			heat = name
		}
	}
	if when == "" || heat == "" {
		return nil,
			fault.New("file", "no_heading", "does not name a time and a temperature",
				"Call the columns time, seconds or minutes, and temperature (°C) or f (°F).")
	}
	var out []cook.Sample
	var faults fault.List
	var first time.Time
	for i, row := range rows[1:] {
		cell := at.Of(row)
		line := fmt.Sprintf("line %d", i+2)
		c, err := strconv.ParseFloat(strings.Replace(cell(heat), ",", ".", 1), 64)
		if err != nil {
			faults.Add(line, fault.New("", "not_a_number", fault.Quote(cell(heat))+" is no temperature", "Leave the line out."))
			continue
		}
		if heatColumns[heat] {
			c = measure.Celsius(c)
		}
		d, moment, ok := readMoment(cell(when), timeColumns[when])
		if !ok {
			faults.Add(line, fault.New("", "not_a_time", fault.Quote(cell(when))+" is no time", "Leave the line out."))
			continue
		}
		if !moment.IsZero() {
			if first.IsZero() {
				first = moment
			}
			d = moment.Sub(first)
		}
		out = append(out, cook.Sample{At: d, C: c})
		if len(faults) > 10 {
			break
		}
	}
	return out, faults.Err()
}

// readMoment reads a time of a log: a number of the column's unit (seconds where it has none), a clock, or a moment.
func readMoment(text string, unit time.Duration) (time.Duration, time.Time, bool) {
	if n, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64); err == nil {
		if unit == 0 {
			unit = time.Second
		}
		if !(n >= 0 && n < 1e7) {
			return 0, time.Time{}, false
		}
		return time.Duration(n * float64(unit)), time.Time{}, true
	}
	for _, layout := range []string{time.RFC3339, "2006-01-02 15:04:05", "2006-01-02 15:04", "15:04:05", "15:04"} {
		if t, err := time.Parse(layout, text); err == nil {
			return 0, t.AddDate(1, 0, 0), true // no zero time, not even of a bare clock
		}
	}
	return 0, time.Time{}, false
}
