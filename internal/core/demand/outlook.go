package demand

import (
	"math"
	"time"

	"falda/internal/core/measure"
)

// OnDay is what was sold of a product on a day, what came back taken off.
type OnDay struct {
	Day   time.Time
	Packs int
	Mass  measure.Mass
}

// Span is the whole weeks of which a shop knows what it sold: from a Monday on, and before another.
type Span struct{ From, To time.Time }

// week is how long one is.
const week = 7 * 24 * time.Hour

// Weekday is how many days a day is after its Monday.
func Weekday(day time.Time) int { return (int(day.Weekday()) + 6) % 7 }

// Monday is the one on or before a day.
func Monday(day time.Time) time.Time { return day.AddDate(0, 0, -Weekday(day)) }

// SpanOf gives the whole weeks between the first and the last day of sales, before the week of today. Where sales began
// in the middle of a week, that week is not whole; empty where there is none.
func SpanOf(first, last, today time.Time) Span {
	from, to := Monday(first), Monday(today)
	if first.After(from) {
		from = from.AddDate(0, 0, 7)
	}
	if end := Monday(last).AddDate(0, 0, 7); end.Before(to) {
		to = end
	}
	if !from.Before(to) {
		return Span{}
	}
	return Span{from, to}
}

// Mondays lists those of its weeks, in order.
func (s Span) Mondays() []time.Time {
	var out []time.Time
	for m := s.From; m.Before(s.To); m = m.AddDate(0, 0, 7) {
		out = append(out, m)
	}
	return out
}

// Came is a week with what was forecast for it from the weeks before, and what was sold.
type Came struct {
	Monday   time.Time
	Packs    int
	Mass     measure.Mass
	Forecast *Forecast // nil where no week was known before it
}

// Within says whether what came lies in the interval.
func (c Came) Within() bool {
	return c.Forecast != nil && c.Forecast.Low <= c.Packs && c.Packs <= c.Forecast.High
}

// Outlook is what can be sold of a product in the week to come.
type Outlook struct {
	Forecast
	Weekday [7]Forecast  // Monday first: of that day in the week to come
	Pack    measure.Mass // mean of a pack; 0 where none was weighed
	Weeks   []Came       // that were, in order
}

// Mass is what so many packs weigh.
func (o Outlook) Mass(packs float64) measure.Mass {
	return measure.Mass(math.Round(packs * float64(o.Pack)))
}

// Belief is what a shop reckons with: what it expects of a product that it has not sold yet, and how fast weeks lose
// their weight.
type Belief struct {
	Prior
	HalfLife float64 // in weeks
}

// Look gives the outlook for the week that begins on a Monday. Of the weeks of the span those count that alike says yes
// to, such as those of the same season; all where it is nil or says yes to none. The age of a week is that of the one
// before the week to come, 1, and so on. What was forecast for a week that was is reckoned from the weeks before it
// alone.
func Look(b Belief, days []OnDay, span Span, monday time.Time, alike func(monday time.Time) bool) Outlook {
	var out Outlook
	at := map[time.Time]int{}
	for _, m := range span.Mondays() {
		at[m] = len(out.Weeks)
		out.Weeks = append(out.Weeks, Came{Monday: m})
	}
	byDay := make([][7]int, len(out.Weeks))
	packs, mass := 0, measure.Mass(0)
	for _, d := range days {
		i, ok := at[Monday(d.Day)]
		if !ok {
			continue
		}
		out.Weeks[i].Packs += d.Packs
		out.Weeks[i].Mass += d.Mass
		byDay[i][Weekday(d.Day)] += d.Packs
		if d.Packs > 0 && d.Mass > 0 {
			packs, mass = packs+d.Packs, mass+d.Mass
		}
	}
	if packs > 0 {
		out.Pack = mass / measure.Mass(packs)
	}
	for i := range out.Weeks {
		if i > 0 {
			f := Expect(b.Prior, weeksFor(out.Weeks[:i], out.Weeks[i].Monday, alike, total), b.HalfLife)
			out.Weeks[i].Forecast = &f
		}
	}
	out.Forecast = Expect(b.Prior, weeksFor(out.Weeks, monday, alike, total), b.HalfLife)
	each := Prior{b.Packs / 7, b.Weeks}
	for d := range out.Weekday {
		out.Weekday[d] = Expect(each, weeksFor(out.Weeks, monday, alike,
			func(i int, _ Came) int { return byDay[i][d] }), b.HalfLife)
	}
	return out
}

// total is what was sold in a whole week.
func total(_ int, c Came) int { return c.Packs }

// weeksFor gives the weeks that count for one to come, with their age. More packs came back than went: none was sold.
func weeksFor(were []Came, monday time.Time, alike func(time.Time) bool, packs func(int, Came) int) []Week {
	var all, out []Week
	for i, c := range were {
		w := Week{Packs: max(0, packs(i, c)), Ago: float64(monday.Sub(c.Monday)) / float64(week)}
		all = append(all, w)
		if alike != nil && alike(c.Monday) {
			out = append(out, w)
		}
	}
	if len(out) == 0 {
		return all
	}
	return out
}
