package shop

import (
	"sync"
	"time"
	_ "time/tzdata" // the zones of the world, wherever the program runs

	"falda/internal/core/age"
	"falda/internal/core/fault"
)

// A shop goes by its own clock. Instants are kept in UTC; what day, week or season an instant lies in is asked of the
// shop's time zone, and of nothing else.

// defaultZone is the time zone of a shop that names none.
const defaultZone = "UTC"

var zones sync.Map // name → *time.Location

// zoneOf gives an IANA time zone by its name, such as "Europe/Dublin".
func zoneOf(name string) (*time.Location, error) {
	if z, ok := zones.Load(name); ok {
		return z.(*time.Location), nil
	}
	if name == "" || name == "Local" { // neither is a name: they mean whatever the machine is set to
		return nil, fault.New("", "unknown", "is not a time zone", "Use a name of the IANA list, such as Europe/Dublin.")
	}
	z, err := time.LoadLocation(name)
	if err != nil {
		return nil,
			fault.New("", "unknown", fault.Quote(name)+" is not a time zone",
				"Use a name of the IANA list, such as Europe/Dublin.")
	}
	zones.Store(name, z)
	return z, nil
}

// Local is an instant by the shop's clock.
func (sh Shop) Local(t time.Time) time.Time {
	if sh.zone == nil {
		return t.UTC()
	}
	return t.In(sh.zone)
}

// Day is the calendar day of an instant by the shop's clock, at midnight UTC as days are kept.
func (sh Shop) Day(t time.Time) time.Time { return age.Day(sh.Local(t)) }

// Begins is the instant at which a calendar day begins by the shop's clock. Where the clocks skip midnight it is the
// first instant of that day.
func (sh Shop) Begins(day time.Time) time.Time {
	y, m, d := day.Date()
	zone := sh.zone
	if zone == nil {
		zone = time.UTC
	}
	t := time.Date(y, m, d, 0, 0, 0, 0, zone)
	if t.Day() != d { // midnight was skipped, and Go took the hour before it
		t = t.Add(time.Hour)
	}
	return t.UTC()
}

// At is the instant of a time of day on a calendar day by the shop's clock; of the time only hour and minute count.
// What the clocks skip is taken as the hour after it.
func (sh Shop) At(day, clock time.Time) time.Time {
	y, m, d := day.Date()
	zone := sh.zone
	if zone == nil {
		zone = time.UTC
	}
	return time.Date(y, m, d, clock.Hour(), clock.Minute(), 0, 0, zone).UTC()
}

// Span turns a first and a last calendar day, either of which may be missing, into the instants at which the first
// begins and the day after the last does.
func (sh Shop) Span(first, last time.Time) (from, to time.Time) {
	if !first.IsZero() {
		from = sh.Begins(first)
	}
	if !last.IsZero() {
		to = sh.Begins(last.AddDate(0, 0, 1))
	}
	return from, to
}
