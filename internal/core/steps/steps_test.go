package steps_test

import (
	"encoding/json"
	"maps"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"

	. "falda/internal/core/steps"
	"falda/internal/stepstest"
)

// read gives the steps of a file.
func read(t testing.TB, text string) []Step {
	t.Helper()
	var list []Step
	if err := yaml.UnmarshalWithOptions([]byte(text), &list, yaml.Strict()); err != nil {
		t.Fatal(err)
	}
	return list
}

// A small rump: cap with its fat, a heart that is parted or not, a wedge of fat.
const rump = `
- {id: wedge, do: take_off, parts: {wedge_fat: 70}, gives: [{tub: fat}], minutes: 0.5}
- {id: cap, do: take_off, parts: {cap: 100, cover: 80, wedge_fat: 10}, as: {block: cap, name: Cap},
    rest: {block: heart, name: Heart}, after: [wedge], minutes: 1.2}
- {id: bare, do: dress, of: cap, takes: [{part: cover, pct: 80, to: fat}, {part: wedge_fat, pct: 10, to: fat},
    {part: cap, pct: 8, to: mince_trim}], after: [cap], minutes: {base: 1, per_kg: 0.5}}
- {id: cap_steaks, do: slice, of: cap, mm: 30, gives: [{product: cap_steak}], minutes: {per_slice: 0.25}}
- {id: heart_skin, do: dress, of: heart, takes: [{part: cover, pct: 20, to: fat}, {part: wedge_fat, pct: 20, to: fat},
    {part: heart, pct: 5, to: discard}], after: [cap]}
- {id: parted, do: take_off, of: heart, parts: {side: 100}, as: {block: round}, when: {heart: parted},
    after: [heart_skin]}
- {id: medallions, do: slice, of: round, mm: {low: 30, high: 40}, gives: [{product: medallion, pct: 92},
    {tub: mince_trim, pct: 8}], when: {heart: parted}, after: [parted]}
- {id: steaks, do: slice, of: heart, mm: 28, gives: [{product: steak, pct: 90, count: 9}, {tub: mince_trim}],
    after: [heart_skin, parted]}
`

var heartOption = []Option{{ID: "heart", Name: "Heart", Default: "parted",
	Choices: []Choice{{ID: "parted", Name: "Parted"}, {ID: "straight", Name: "Straight"}}}}

func add(to, c Content) {
	for thing, share := range c {
		to[thing] += share
	}
}

func whole(parts ...string) Content {
	out := Content{}
	for _, p := range parts {
		out[p] = Whole
	}
	return out
}

// Percent in parts and takes is of the part's whole, percent in gives of the block as it stands.
func TestWalkSaysWhereEverythingGoes(t *testing.T) {
	list := read(t, rump)
	if faults := Check(list, heartOption); len(faults) > 0 {
		t.Fatal(faults)
	}
	f := Walk(whole("cap", "cover", "wedge_fat", "heart", "side"), list, heartOption, nil)
	if len(f.Faults) > 0 || len(f.Left) > 0 {
		t.Fatalf("faults %v, left %v", f.Faults, f.Left)
	}
	for _, c := range []struct {
		name      string
		got, want Content
	}{
		{"cap steak", f.Products["cap_steak"], Content{"cap": 92_000}},
		{"medallion", f.Products["medallion"], Content{"side": 92_000}},
		{"steak", f.Products["steak"], Content{"heart": 85_500}}, // 90 % of the 95 % that dressing left
		{"fat", f.Tubs[FatTub], Content{"cover": Whole, "wedge_fat": Whole}},
		{"mince", f.Tubs[MinceTrim], Content{"cap": 8_000, "side": 8_000, "heart": 9_500}},
		{"discard", f.Tubs[Discard], Content{"heart": 5_000}},
	} {
		if !maps.Equal(c.got, c.want) {
			t.Errorf("%s holds %v, want %v", c.name, c.got, c.want)
		}
	}
	straight := Walk(whole("cap", "cover", "wedge_fat", "heart", "side"), list, heartOption,
		map[string]string{"heart": "straight"})
	if got := straight.Products["steak"]; !maps.Equal(got, Content{"heart": 85_500, "side": 90_000}) {
		t.Errorf("a straight steak holds %v", got)
	}
	if _, made := straight.Products["medallion"]; made {
		t.Error("medallions are made of a heart that is not parted")
	}
}

// What dressing takes off is in no product of the block.
func TestDressingIsHonest(t *testing.T) {
	f := Walk(whole("cap", "cover", "wedge_fat", "heart", "side"), read(t, rump), heartOption, nil)
	for _, id := range []string{"cap_steak", "steak"} {
		if f.Products[id]["cover"] != 0 || f.Products[id]["wedge_fat"] != 0 {
			t.Errorf("%s holds fat that was dressed off: %v", id, f.Products[id])
		}
	}
}

// The minutes are the sum of the steps': a heavier piece takes longer where a step says so, and a slice more where it
// is counted or follows from thickness and length.
func TestMinutesAreTheSteps(t *testing.T) {
	f := Walk(whole("cap", "cover", "wedge_fat", "heart", "side"), read(t, rump), heartOption, nil)
	z := Sizes{Grams: map[string]float64{"cap": 900, "cover": 500, "wedge_fat": 200, "heart": 2500, "side": 900},
		Mm: map[string]float64{"cap": 270}}
	// 0.5 + 1.2 + 1 + 0.5 a kilo of cap block (900 + 400 + 20 g) + 0.25 for each of 270 / 30 = 9 slices
	if got, want := f.Time(z), 0.5+1.2+1+0.5*1.32+0.25*9; got != want {
		t.Errorf("%g minutes, want %g", got, want)
	}
	z.Grams["cap"] *= 2
	if more := f.Time(z); more != 5.61+0.45 {
		t.Errorf("a cap twice as heavy takes %g minutes", more)
	}
	steaks, _ := f.Step("steaks")
	if n := steaks.Slices(z); n != 9 {
		t.Errorf("%g steaks, counted as 9", n)
	}
}

// Ways to write a step that come to the same.
func TestShortFormsReadAsLong(t *testing.T) {
	short := read(t, `[{id: a, do: saw, of: piece, parts: [x, y], as: {block: b}, mm: 20, minutes: 2, when: {o: c}}]`)
	long := read(t, `[{id: a, do: saw, of: [piece], parts: {x: 100, y: 100}, as: [{block: b}], mm: {low: 20, high: 20},
  minutes: {base: 2}, when: {o: [c]}}]`)
	if !reflect.DeepEqual(short, long) {
		t.Errorf("%+v\n%+v", short, long)
	}
	raw, err := json.Marshal(long)
	if err != nil {
		t.Fatal(err)
	}
	var again []Step
	if err := json.Unmarshal(raw, &again); err != nil || !reflect.DeepEqual(again, long) {
		t.Errorf("%v: %s", err, raw)
	}
}

func TestCheckNamesTheStepAndTheField(t *testing.T) {
	for text, want := range map[string]string{
		`[{id: a, do: carve}]`:                                                "steps.a.do",
		`[{id: a, do: take_off, gives: [{tub: fat}]}]`:                        "steps.a.parts",
		`[{id: a, do: take_off, parts: [x]}]`:                                 "steps.a.as",
		`[{id: a, do: slice, takes: [{part: x, pct: 5, to: fat}]}]`:           "steps.a.takes",
		`[{id: a, do: dress, takes: [{part: x, pct: 0, to: fat}]}]`:           "steps.a.takes.x",
		`[{id: a, do: keep, gives: [{tub: bin}]}]`:                            "steps.a.gives",
		`[{id: a, do: keep, gives: [{product: p, tub: fat}]}]`:                "steps.a.gives",
		`[{id: a, do: keep, gives: [{product: p}, {product: q}]}]`:            "steps.a.gives",
		`[{id: a, do: keep, after: [b]}]`:                                     "steps.a.after",
		`[{id: a, do: keep}, {id: a, do: keep}]`:                              "steps.a.id",
		`[{id: a, do: keep, when: {x: y}}]`:                                   "steps.a.when",
		`[{id: a, do: keep, when: {heart: round}}]`:                           "steps.a.when.heart",
		`[{id: a, do: keep, tool: axe}]`:                                      "steps.a.tool",
		`[{id: a, do: keep, weigh: twice}]`:                                   "steps.a.weigh",
		`[{id: a, do: slice, mm: {low: 30, high: 20}}]`:                       "steps.a.mm",
		`[{id: a, do: slice, by: eye}]`:                                       "steps.a.by",
		`[{id: a, do: part, as: [{block: x, pct: 60}, {block: y, pct: 60}]}]`: "steps.a.as",
		`[{id: a, do: part, as: {block: piece}}]`:                             "steps.a.as",
		`[{id: a, do: fill, adds: [{ingredient: "", per_kg: 0.2}]}]`:          "steps.a.adds.",
		`[{id: a, do: keep, minutes: -1}]`:                                    "steps.a.minutes",
	} {
		faults := Check(read(t, text), heartOption)
		if !slices.ContainsFunc(faults, func(err error) bool { return strings.HasPrefix(err.Error(), want+":") }) {
			t.Errorf("%s: %v, want a fault at %s", text, faults, want)
		}
	}
}

func TestWalkNamesWhatCannotBeDone(t *testing.T) {
	for text, want := range map[string]string{
		`[{id: a, do: keep, of: heart, gives: [{product: p}]}]`:                                     "steps.a.of",
		`[{id: a, do: dress, takes: [{part: x, pct: 60, to: fat}, {part: x, pct: 60, to: stock}]}]`: "steps.a.takes",
		`[{id: a, do: fold, joins: heart}]`:                                                         "steps.a.joins",
		`[{id: a, do: take_off, parts: [x], gives: [{product: p, pct: 50}]}]`:                       "steps.a.gives",
	} {
		f := Walk(whole("x"), read(t, text), nil, nil)
		if len(f.Faults) != 1 || !strings.HasPrefix(f.Faults[0].Error(), want+":") {
			t.Errorf("%s: %v, want one fault at %s", text, f.Faults, want)
		}
	}
	left := Walk(whole("x", "y"), read(t, `[{id: a, do: take_off, parts: {x: 30}, gives: [{product: p}]}]`), nil, nil)
	if !maps.Equal(left.Left[Piece], Content{"x": 70_000, "y": Whole}) {
		t.Errorf("left over: %v", left.Left)
	}
}

// A step whose part or block is absent closes by itself; what is there in part is taken as far as it goes.
func TestAbsentPartsCloseTheirSteps(t *testing.T) {
	list := read(t, rump)
	f := Walk(Content{"cover": 50_000, "wedge_fat": Whole, "heart": Whole, "side": Whole}, list, heartOption, nil)
	if len(f.Faults) > 0 {
		t.Fatal(f.Faults)
	}
	if made := f.Products["cap_steak"]; made.Sum() != 0 { // the block is only fat here, and all of it is dressed off
		t.Errorf("cap steaks without a cap: %v", made)
	}
	if got := f.Tubs[FatTub]["cover"]; got != 50_000 {
		t.Errorf("%d of the cover went to the fat, half of it was there", got)
	}
	none := Walk(Content{"heart": Whole, "side": Whole}, list, heartOption, nil)
	for _, id := range []string{"wedge", "cap", "bare", "cap_steaks"} {
		if d, _ := none.Step(id); !d.Idle {
			t.Errorf("%s is to be done though its parts are absent", id)
		}
	}
}

// What is added goes where its block goes, and a product whose outside came inside is treated.
func TestStuffedCushion(t *testing.T) {
	f := Walk(whole("shoulder", "blade", "shank", "shank_bone"), read(t, `
- {id: shank, do: take_off, parts: [shank, shank_bone], as: {block: shank}}
- {id: bone, do: bone_out, of: shank, parts: [shank_bone], gives: [{tub: stock}]}
- {id: blade, do: bone_out, of: piece, parts: [blade], gives: [{tub: stock}], rest: {block: cushion}}
- {id: lay, do: fold, of: cushion, joins: shank, after: [bone]}
- {id: fill, do: fill, of: cushion, adds: [{ingredient: stuffing, per_kg: 0.22, max_pct: 25}]}
- {id: tie, do: tie, of: cushion, adds: [{ingredient: string, each: 0.6, count: 4}], gives: [{product: cushion,
    count: 1}]}
`), nil, nil)
	if len(f.Faults) > 0 || len(f.Left) > 0 {
		t.Fatalf("faults %v, left %v", f.Faults, f.Left)
	}
	want := Content{"shoulder": Whole, "shank": Whole, "+stuffing/fill": Whole}
	if !maps.Equal(f.Products["cushion"], want) || f.Treated["cushion"] != "stuffed" {
		t.Errorf("the cushion holds %v, treated %q", f.Products["cushion"], f.Treated["cushion"])
	}
	if len(f.Added) != 2 || !maps.Equal(f.Added[0].To, Content{"shoulder": Whole, "shank": Whole}) {
		t.Errorf("added: %+v", f.Added)
	}
	lay, _ := f.Step("lay")
	for _, before := range []string{"shank", "bone", "blade"} {
		if !slices.Contains(lay.Waits, before) {
			t.Errorf("the shank is laid in before %s: waits for %v", before, lay.Waits)
		}
	}
}

// Whatever the tree: the shares of every part that leave add to its whole, nothing is left, and walking is the same
// every time.
func TestSharesOfEveryPartAddUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for range 400 {
		start, list := stepstest.Tree(rng)
		f := Walk(start, list, nil, nil)
		if len(f.Faults) > 0 || len(f.Left) > 0 {
			t.Fatalf("faults %v, left %v in %+v", f.Faults, f.Left, list)
		}
		sum := Content{}
		for _, goes := range []map[string]Content{f.Products, f.Pieces} {
			for _, c := range goes {
				add(sum, c)
			}
		}
		for _, c := range f.Tubs {
			add(sum, c)
		}
		if !maps.Equal(sum, start) {
			t.Fatalf("%v leave, of %v", sum, start)
		}
		if again := Walk(start, list, nil, nil); !reflect.DeepEqual(f, again) {
			t.Fatal("walking twice gives two flows")
		}
	}
}

// Any order that the waits allow finds every block where it is needed: nothing is worked on before it is made, or after
// it has left.
func TestAnyAllowedOrderWorks(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 300 {
		start, list := stepstest.Tree(rng)
		f := Walk(start, list, nil, nil)
		done, there := map[string]bool{}, maps.Clone(start)
		blocks := map[string]Content{Piece: there}
		for len(done) < len(f.Steps) {
			var ready []Done
			for _, d := range f.Steps {
				if !done[d.ID] && !slices.ContainsFunc(d.Waits, func(id string) bool { return !done[id] }) {
					ready = append(ready, d)
				}
			}
			if len(ready) == 0 {
				t.Fatalf("no step can be done after %v", done)
			}
			d := ready[rng.IntN(len(ready))]
			done[d.ID] = true
			for _, o := range d.Outputs {
				for thing, share := range o.Holds {
					if blocks[d.Block][thing] < share {
						t.Fatalf("%s takes %d of %s, of which %s has %d", d.ID, share, thing, d.Block, blocks[d.Block][thing])
					}
					blocks[d.Block][thing] -= share
					if o.Kind == ToBlock {
						if blocks[o.ID] == nil {
							blocks[o.ID] = Content{}
						}
						blocks[o.ID][thing] += share
					}
				}
			}
		}
	}
}

// FuzzRead reads whatever it is given without falling over.
func FuzzRead(f *testing.F) {
	f.Add(rump)
	f.Fuzz(func(t *testing.T, text string) {
		var list []Step
		if yaml.Unmarshal([]byte(text), &list) == nil {
			Check(list, heartOption)
			Walk(whole("cap", "heart"), list, heartOption, nil)
		}
	})
}

func BenchmarkWalk(b *testing.B) {
	list := read(b, rump)
	start := whole("cap", "cover", "wedge_fat", "heart", "side")
	for b.Loop() {
		Walk(start, list, heartOption, nil)
	}
}

// half is a piece of one muscle, evenly along it, and fat in its first half alone.
type half struct{}

func (half) Slices(product string) map[string]float64 {
	return map[string]map[string]float64{"front": {"meat": 0.5, "fat": 1}, "back": {"meat": 0.4}}[product]
}

func (half) Zone(z Zone) map[string]float64 {
	return map[string]float64{"meat": (z.ToMm - z.FromMm) / 100, "fat": 0.25}
}

// By hand: of what is left of the meat, 90 %, ten are trimmed; the rest is divided five to four as it lies, whatever
// the steps say, and all the fat is in front. A zone of 30 of 100 mm holds three tenths of what there is.
func TestWhatLiesWhere(t *testing.T) {
	f := WalkSliced(whole("meat", "fat"), read(t, `
- {id: off, do: dress, of: piece, takes: [{part: meat, pct: 10, to: mince_trim}]}
- {id: cut, do: slice, of: piece, mm: 30, gives: [{product: front, pct: 20}, {product: back, pct: 70},
   {tub: mince_trim, pct: 10}]}
`), nil, nil, half{})
	if len(f.Faults) > 0 {
		t.Fatal(f.Faults)
	}
	front, back := f.Products["front"], f.Products["back"]
	if front["meat"] != 45_000 || back["meat"] != 36_000 || front["fat"] != 90_000 || back["fat"] != 0 ||
		f.Tubs[MinceTrim]["meat"] != 19_000 || f.Tubs[MinceTrim]["fat"] != 10_000 {
		t.Errorf("front %v, back %v, trim %v", front, back, f.Tubs[MinceTrim])
	}
	list := read(t, `
- {id: off, do: dress, of: piece, takes: [{part: meat, pct: 10, to: mince_trim}]}
- {id: end, do: part, of: piece, parts: {meat: 50, fat: 50}, zone: {from_mm: 10, to_mm: 40}, gives: [{product: p}]}
- {id: rest, do: keep, of: piece, gives: [{product: q}]}
`)
	if p := WalkSliced(whole("meat", "fat"), list, nil, nil, half{}).Products["p"]; p["meat"] != 27_000 ||
		p["fat"] != 25_000 {
		t.Errorf("the zone holds %v", p)
	}
	if p := Walk(whole("meat", "fat"), list, nil, nil).Products["p"]; p["meat"] != 50_000 {
		t.Errorf("where nothing is known of it, it holds what the step says: %v", p)
	}
}
