package counter

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"falda/internal/core/fault"
)

// Room is how large a counter is; all lengths in centimetres.
type Room struct {
	Length    float64 `json:"length_cm"`
	Depth     float64 `json:"depth_cm"`
	TrayWide  float64 `json:"tray_wide_cm"`
	TrayDeep  float64 `json:"tray_deep_cm"`
	TrayKg    float64 `json:"tray_kg"`    // that a tray holds, one layer
	LeastKg   float64 `json:"least_kg"`   // of a thing that gets a tray of its own
	MostTrays int     `json:"most_trays"` // of one product
	KeepApart bool    `json:"keep_apart"` // beef and lamb, and what holds an allergen, each by itself
	Freely    bool    `json:"freely"`     // bony things need not stand beside meaty ones
}

// Usual is a counter until a shop says how large its own is. Common practice, no source.
func Usual() Room {
	return Room{Length: 250, Depth: 80, TrayWide: 30, TrayDeep: 40, TrayKg: 2.5, LeastKg: 0.4, MostTrays: 3,
		KeepApart: true}
}

// Check says what cannot be right of a room.
func (r Room) Check() error {
	var faults fault.List
	span := func(field string, v, low, high float64) {
		if !(v >= low && v <= high) {
			faults.Add(field, fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", low, high), "Measure it."))
		}
	}
	span("length_cm", r.Length, 50, 2000)
	span("depth_cm", r.Depth, 20, 200)
	span("tray_wide_cm", r.TrayWide, 10, 100)
	span("tray_deep_cm", r.TrayDeep, 10, 100)
	span("tray_kg", r.TrayKg, 0.2, 30)
	span("least_kg", r.LeastKg, 0, 30)
	span("most_trays", float64(r.MostTrays), 1, 10)
	if faults == nil {
		if r.TrayWide > r.Length {
			faults.Add("tray_wide_cm", fault.New("", "too_large", "is wider than the counter", "Measure a tray."))
		}
		if r.TrayDeep > r.Depth {
			faults.Add("tray_deep_cm", fault.New("", "too_large", "is deeper than the counter", "Measure a tray."))
		}
	}
	return faults.Err()
}

// Item is a product that could stand in it.
type Item struct {
	Key, Name, Species, Form string
	Bony, Allergen           bool
	Kg                       float64 // that there is
	DayKg                    float64 // that a day sells
	PerKg                    float64 // price
}

// worth is what a day of it brings, by which things get their room.
func (i Item) worth() float64 { return math.Min(i.Kg, math.Max(i.DayKg, 0.01)) * i.PerKg }

// Lain is a product in a tray.
type Lain struct {
	Item
	Turned bool // half of the stack is turned
}

// Tray is a tray where it stands: from the left, and from the front.
type Tray struct {
	X, Y  float64 // cm
	Lain  []Lain  // one product, or two alike in a mixed tray
	First bool    // the first of its product's trays
}

// LeftOut is a product that gets no tray, and why.
type LeftOut struct {
	Item
	Why string // few or full
}

// Why a product gets no tray.
const (
	Few  = "few"  // there is less than a tray's worth
	Full = "full" // the counter is full of what brings more
)

// Layout is a counter laid out.
type Layout struct {
	Trays []Tray
	Left  []LeftOut
	Slots int
}

// part is one or two products that stand together, with their trays.
type part struct {
	items []Item
	trays int
}

func (p part) first() Item { return p.items[0] }

// Lay lays a counter out. Faults are those of Check.
func Lay(r Room, items []Item) (Layout, error) {
	if err := r.Check(); err != nil {
		return Layout{}, err
	}
	across, rows := int(r.Length/r.TrayWide+1e-9), int(r.Depth/r.TrayDeep+1e-9)
	out := Layout{Slots: across * rows}
	list := slices.Clone(items)
	slices.SortStableFunc(list, func(a, b Item) int {
		return cmp.Or(cmp.Compare(b.worth(), a.worth()), cmp.Compare(a.Name, b.Name))
	})
	parts, few := apart(r, list)
	parts, few = mixed(r, parts, few)
	for _, i := range few {
		out.Left = append(out.Left, LeftOut{i, Few})
	}
	slices.SortStableFunc(parts, func(a, b part) int { return cmp.Compare(b.sum(), a.sum()) })
	if len(parts) > out.Slots {
		for _, p := range parts[out.Slots:] {
			for _, i := range p.items {
				out.Left = append(out.Left, LeftOut{i, Full})
			}
		}
		parts = parts[:out.Slots]
	}
	grow(r, parts, out.Slots)
	n := 0
	for _, p := range ordered(r, parts) {
		for k := range p.trays {
			t := Tray{X: float64(n/rows) * r.TrayWide, Y: float64(n%rows) * r.TrayDeep, First: k == 0}
			for _, i := range p.items {
				t.Lain = append(t.Lain, Lain{i, k%2 == 1 || len(p.items) == 2 && i.Key == p.items[1].Key})
			}
			out.Trays = append(out.Trays, t)
			n++
		}
	}
	return out, nil
}

func (p part) sum() float64 {
	v := 0.0
	for _, i := range p.items {
		v += i.worth()
	}
	return v
}

// apart gives what has a tray's worth, and what has not.
func apart(r Room, list []Item) (parts []part, few []Item) {
	for _, i := range list {
		if i.Kg >= r.LeastKg && i.Kg > 0 {
			parts = append(parts, part{[]Item{i}, 1})
		} else if i.Kg > 0 {
			few = append(few, i)
		}
	}
	return parts, few
}

// mixed puts two small things that are alike, and make a tray's worth together, into one tray.
func mixed(r Room, parts []part, few []Item) ([]part, []Item) {
	used := map[string]bool{}
	for n, a := range few {
		for _, b := range few[n+1:] {
			if used[a.Key] || used[b.Key] || a.Species != b.Species || a.Form != b.Form || a.Allergen != b.Allergen ||
				a.Kg+b.Kg < r.LeastKg {
				continue
			}
			used[a.Key], used[b.Key] = true, true
			parts = append(parts, part{[]Item{a, b}, 1})
		}
	}
	return parts, slices.DeleteFunc(slices.Clone(few), func(i Item) bool { return used[i.Key] })
}

// grow gives the trays that are over to what would fill them, each time to what brings the most for each tray it has.
func grow(r Room, parts []part, slots int) {
	for free := slots - len(parts); free > 0; free-- {
		best := -1
		for i, p := range parts {
			if len(p.items) > 1 || p.trays >= r.MostTrays || p.first().Kg <= float64(p.trays)*r.TrayKg {
				continue
			}
			if best < 0 || p.sum()/float64(p.trays) > parts[best].sum()/float64(parts[best].trays) {
				best = i
			}
		}
		if best < 0 {
			return
		}
		parts[best].trays++
	}
}

// ordered puts parts beside each other: by species where they are kept apart, what holds an allergen last, like faces
// together, and within a face something bony beside something meaty.
func ordered(r Room, parts []part) []part {
	group := func(p part) string {
		i := p.first()
		allergen := "0"
		if i.Allergen {
			allergen = "1"
		}
		if !r.KeepApart {
			return i.Form
		}
		return allergen + i.Species + "\x00" + i.Form
	}
	out := slices.Clone(parts)
	slices.SortStableFunc(out, func(a, b part) int { return cmp.Compare(group(a), group(b)) })
	if r.Freely {
		return out
	}
	for from := 0; from < len(out); {
		to := from
		for to < len(out) && group(out[to]) == group(out[from]) {
			to++
		}
		alternate(out[from:to])
		from = to
	}
	return out
}

// alternate lets bony and meaty parts take turns, each in their order, the more of them first.
func alternate(list []part) {
	var bony, meaty []part
	for _, p := range list {
		if p.first().Bony {
			bony = append(bony, p)
		} else {
			meaty = append(meaty, p)
		}
	}
	more, fewer := meaty, bony
	if len(bony) > len(meaty) {
		more, fewer = bony, meaty
	}
	at := 0
	for i := range more {
		list[at] = more[i]
		at++
		if i < len(fewer) {
			list[at] = fewer[i]
			at++
		}
	}
}
