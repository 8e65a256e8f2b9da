package demand

import "time"

// Turns is a trial in which two names, or two prices, take turns week by week.
type Turns struct {
	Begins time.Time // a Monday
	Weeks  int
}

// End is the day after the last.
func (t Turns) End() time.Time { return t.Begins.AddDate(0, 0, 7*t.Weeks) }

// On says whether it runs on a day.
func (t Turns) On(day time.Time) bool { return !day.Before(t.Begins) && day.Before(t.End()) }

// Second says whether a day on which it runs is in a week of the second.
func (t Turns) Second(day time.Time) bool { return int(day.Sub(t.Begins)/(24*time.Hour))/7%2 == 1 }
