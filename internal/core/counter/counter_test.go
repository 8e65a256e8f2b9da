package counter

import (
	"fmt"
	"math/rand/v2"
	"testing"
)

func room(length, depth float64) Room {
	r := Usual()
	r.Length, r.Depth = length, depth
	return r
}

func keys(l Layout) (out []string) {
	for _, t := range l.Trays {
		name := ""
		for _, i := range t.Lain {
			name += i.Key
			if i.Turned {
				name += "'"
			}
		}
		out = append(out, name)
	}
	return out
}

// Five places: the steak that brings most gets a second tray, half of it turned; chops on the bone stand between meaty
// lamb; the small things are alike and share a tray.
func TestLayoutByHand(t *testing.T) {
	items := []Item{
		{Key: "steak", Species: "beef", Form: "steak", Kg: 6, DayKg: 4, PerKg: 30},
		{Key: "chop", Species: "lamb", Form: "chop", Bony: true, Kg: 2, DayKg: 1, PerKg: 20},
		{Key: "loin", Species: "lamb", Form: "chop", Kg: 2, DayKg: 1, PerKg: 22},
		{Key: "cheek", Species: "beef", Form: "dice", Kg: 0.3, DayKg: 1, PerKg: 12},
		{Key: "tongue", Species: "beef", Form: "dice", Kg: 0.2, DayKg: 1, PerKg: 9},
		{Key: "crumb", Species: "lamb", Form: "steak", Kg: 0.1, DayKg: 1, PerKg: 9},
	}
	l, err := Lay(room(150, 40), items)
	if err != nil {
		t.Fatal(err)
	}
	if got := fmt.Sprint(keys(l)); got != "[cheektongue' steak steak' loin chop]" {
		t.Error(got)
	}
	if len(l.Left) != 1 || l.Left[0].Key != "crumb" || l.Left[0].Why != Few || l.Slots != 5 {
		t.Errorf("%+v", l.Left)
	}
	// two places only: what brings least stays out
	if l, _ = Lay(room(60, 40), items); len(l.Trays) != 2 || len(l.Left) != 4 || l.Left[len(l.Left)-1].Why != Full {
		t.Errorf("%+v", l)
	}
}

// Whatever there is: no tray stands outside or on another, nobody stands twice, all is laid out or left out, and a
// species stands by itself.
func TestLayoutsKeepTheRules(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 1))
	for range 300 {
		rm := room(60+r.Float64()*400, 40+r.Float64()*90)
		var items []Item
		for i := range r.IntN(30) {
			items = append(items, Item{Key: fmt.Sprint(i), Species: []string{"beef", "lamb"}[r.IntN(2)],
				Form: []string{"steak", "dice", "chop"}[r.IntN(3)], Bony: r.IntN(3) == 0, Kg: r.Float64() * 8,
				DayKg: r.Float64() * 3, PerKg: 5 + r.Float64()*30})
		}
		l, err := Lay(rm, items)
		if err != nil {
			t.Fatal(err)
		}
		seen, there, species := map[string]bool{}, map[string]bool{}, []string{}
		for _, tray := range l.Trays {
			if tray.X < 0 || tray.X+rm.TrayWide > rm.Length+1e-6 || tray.Y < 0 || tray.Y+rm.TrayDeep > rm.Depth+1e-6 {
				t.Fatalf("a tray stands outside: %+v of %+v", tray, rm)
			}
			if at := fmt.Sprint(tray.X, tray.Y); there[at] {
				t.Fatalf("two trays at %s", at)
			} else {
				there[at] = true
			}
			for _, i := range tray.Lain {
				if seen[i.Key] && tray.First {
					t.Fatalf("%s begins twice", i.Key)
				}
				seen[i.Key] = true
			}
			if s := tray.Lain[0].Species; len(species) == 0 || species[len(species)-1] != s {
				species = append(species, s)
			}
		}
		if len(species) > 2 {
			t.Fatalf("species are mixed: %v", species)
		}
		for _, i := range l.Left {
			if seen[i.Key] {
				t.Fatalf("%s is laid out and left out", i.Key)
			}
			seen[i.Key] = true
		}
		if len(seen) != len(items) {
			t.Fatalf("%d of %d", len(seen), len(items))
		}
	}
}

func TestRoomsAreChecked(t *testing.T) {
	for _, bad := range []Room{{}, room(20, 80), room(100, 30), {Length: 60, Depth: 60, TrayWide: 80, TrayDeep: 40,
		TrayKg: 1, MostTrays: 1}} {
		if _, err := Lay(bad, nil); err == nil {
			t.Errorf("%+v passes", bad)
		}
	}
}
