package cook

import (
	"fmt"
	"sort"
	"time"

	"falda/internal/core/fault"
)

// Dish is a card that is to be on the table at a time.
type Dish struct {
	Name string
	Card Card
}

// Moment is something to do at a time.
type Moment struct {
	At   time.Time
	Dish string
	Do   string
}

// Table is a timetable of several dishes with one oven.
type Table struct {
	Moments []Moment
	Waits   []string // dishes that wait warm, and how long
	Clashes []string // dishes for which the oven is not free in time
}

const (
	sliceFor   = 5 * time.Minute
	preheatFor = 20 * time.Minute
	sharedC    = 10.0 // so many degrees apart, two dishes share an oven
	mostDishes = 20
)

// use is a time in which the oven is at a heat.
type use struct {
	from, to time.Time
	c        float64
}

func (u use) with(o use) bool {
	apart := u.c - o.c
	return !u.from.Before(o.to) || !o.from.Before(u.to) || (apart <= sharedC && apart >= -sharedC)
}

// Timetable works back from the time of serving. A dish that needs the oven while another heat is in it goes in earlier
// and waits warm, as long as its card allows; where that is not enough it clashes and is said so. One oven, 1 to 20
// dishes.
func Timetable(dishes []Dish, serve time.Time) (Table, error) {
	if len(dishes) == 0 || len(dishes) > mostDishes {
		return Table{}, fault.New("dishes", "out_of_range", fmt.Sprintf("must be from 1 to %d", mostDishes), "")
	}
	order := make([]int, len(dishes))
	for i := range order {
		order[i] = i
	}
	// who can wait least is placed first
	sort.SliceStable(order, func(i, j int) bool { return dishes[order[i]].Card.HoldMin < dishes[order[j]].Card.HoldMin })
	var t Table
	var oven []use
	for _, i := range order {
		d := dishes[i]
		wait := time.Duration(0)
		hold := time.Duration(d.Card.HoldMin * float64(time.Minute))
		uses := d.uses(serve, wait)
		for ; !free(oven, uses) && wait < hold; uses = d.uses(serve, wait) {
			wait = min(hold, wait+5*time.Minute)
		}
		if !free(oven, uses) {
			wait = 0
			uses = d.uses(serve, 0)
			t.Clashes = append(t.Clashes,
				fmt.Sprintf("%s needs the oven at %.0f °C while another heat is in it; use a second oven, or serve it at another "+
					"time.", d.Name, uses[0].c))
		}
		oven = append(oven, uses...)
		if wait > 0 {
			t.Waits = append(t.Waits, fmt.Sprintf("%s waits warm for %.0f minutes.", d.Name, wait.Minutes()))
		}
		t.Moments = append(t.Moments, d.moments(serve, wait)...)
	}
	t.Moments = append(t.Moments, Moment{At: serve, Do: "Serve."})
	sort.SliceStable(t.Moments, func(i, j int) bool { return t.Moments[i].At.Before(t.Moments[j].At) })
	return t, nil
}

func free(oven, uses []use) bool {
	for _, u := range uses {
		for _, o := range oven {
			if !u.with(o) {
				return false
			}
		}
	}
	return true
}

// begins gives when each step of a dish begins, and when the last one ends.
func (d Dish) begins(serve time.Time, wait time.Duration) ([]time.Time, time.Time) {
	end := serve.Add(-sliceFor - wait)
	at := end
	out := make([]time.Time, len(d.Card.Steps))
	for i := len(d.Card.Steps) - 1; i >= 0; i-- {
		at = at.Add(-time.Duration(d.Card.Steps[i].Minutes * float64(time.Minute)))
		out[i] = at
	}
	return out, end
}

func (d Dish) uses(serve time.Time, wait time.Duration) []use {
	at, end := d.begins(serve, wait)
	var out []use
	for i, s := range d.Card.Steps {
		if s.OvenC == 0 {
			continue
		}
		to := end
		if i+1 < len(at) {
			to = at[i+1]
		}
		out = append(out, use{at[i], to, s.OvenC})
	}
	return out
}

func (d Dish) moments(serve time.Time, wait time.Duration) []Moment {
	at, _ := d.begins(serve, wait)
	var out []Moment
	heated := false
	for i, s := range d.Card.Steps {
		do := s.Do
		if s.OvenC > 0 {
			if !heated {
				out = append(out, Moment{at[i].Add(-preheatFor), d.Name, fmt.Sprintf("Heat the oven to %.0f °C.", s.OvenC)})
				heated = true
				do = fmt.Sprintf("%s In at %.0f °C.", do, s.OvenC)
			} else {
				do = fmt.Sprintf("%s Down to %.0f °C.", do, s.OvenC)
			}
		}
		if s.Minutes > 0 {
			do = fmt.Sprintf("%s (%g min)", do, s.Minutes)
		}
		out = append(out, Moment{at[i], d.Name, do})
	}
	slice := d.Card.Slice
	if slice == "" {
		slice = "Onto the plates."
	}
	return append(out, Moment{serve.Add(-sliceFor), d.Name, slice})
}
