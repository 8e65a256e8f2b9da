package value

import (
	"fmt"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Season is a part of the year, by days as "01-31", both included; it may go over the year's end.
type Season struct {
	Name string `json:"name"`
	From string `json:"from"`
	To   string `json:"to"`
}

const monthDay = "01-02"

// Contains says whether a day is in the season.
func (s Season) Contains(day time.Time) bool {
	d := day.Format(monthDay)
	if s.From <= s.To {
		return s.From <= d && d <= s.To
	}
	return d >= s.From || d <= s.To
}

// SeasonOn gives the name of the season that a day is in; empty where it is in none.
func SeasonOn(list []Season, day time.Time) string {
	for _, s := range list {
		if s.Contains(day) {
			return s.Name
		}
	}
	return ""
}

// CheckSeasons says what is wrong with a shop's seasons: days that are none, names that are empty or stand twice, days
// in two seasons. Faults name "seasons[i].…".
func CheckSeasons(list []Season) error {
	var faults fault.List
	taken := map[string]int{}
	names := map[string]bool{}
	for i, s := range list {
		at := fmt.Sprintf("seasons[%d].", i)
		if s.Name == "" || len(s.Name) > 40 || names[s.Name] {
			faults.Add(at+"name",
				fault.New("", "twice", "is empty, too long, or stands twice", "Give each season its own name."))
		}
		names[s.Name] = true
		good := true
		for _, x := range []struct {
			name  string
			value string
		}{{"from", s.From}, {"to", s.To}} {
			field, text := x.name, x.value
			if _, err := time.Parse("2006-"+monthDay, "2024-"+text); err != nil {
				faults.Add(at+field,
					fault.New("", "not_a_day", "“"+text+"” is not a day of the year", "Write month and day, such as 05-15."))
				good = false
			}
		}
		for day := time.Date(2024, 1, 1, 0, 0, 0, 0, time.UTC); good && day.Year() == 2024; day = day.AddDate(0, 0, 1) {
			if !s.Contains(day) {
				continue
			}
			if other, is := taken[day.Format(monthDay)]; is && other != i {
				faults.Add(at+"from",
					fault.New("", "overlap", "runs into “"+list[other].Name+"” on "+day.Format("2 January"),
						"Let one end before the other begins."))
				break
			}
			taken[day.Format(monthDay)] = i
		}
	}
	return faults.Err()
}

// Quote is a price that holds from a day on, in a season or the whole year.
type Quote struct {
	Key    string
	Season string // empty for the whole year
	From   time.Time
	Price  measure.Price
}

// InForce gives the quote of each product that holds on a day in a season: one of the season before one of the whole
// year, and of those the latest that has begun. The index is that of the list.
func InForce(list []Quote, season string, day time.Time) map[string]int {
	out := map[string]int{}
	for i, q := range list {
		if q.From.After(day) || (q.Season != "" && q.Season != season) {
			continue
		}
		was, ok := out[q.Key]
		if ok {
			w := list[was]
			if (w.Season != "") != (q.Season != "") {
				if w.Season != "" {
					continue
				}
			} else if !q.From.After(w.From) {
				continue
			}
		}
		out[q.Key] = i
	}
	return out
}

// PerPiece is a price by the piece as a price per kilogram, by what a piece weighs, to four decimals.
func PerPiece(amount measure.Money, each measure.Mass) measure.Price {
	return measure.Price{Amount: amount.Over(each.In(measure.UnitKilogram)).Round(measure.PriceDecimals),
		Per: measure.UnitKilogram}
}
