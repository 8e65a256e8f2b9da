package browser

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"
)

// blended is what the tubs of the demo should become.
type blended struct {
	Use []struct {
		Tub, Recipe string
		G           float64
	}
	Made []struct {
		Recipe, Name string
		MeatG        float64 `json:"meat_g"`
	}
}

// most gives the recipe whose name holds a word, and the tub that gives it most.
func (b blended) most(word string) (recipe, name, tub string, grams float64) {
	for _, m := range b.Made {
		if m.MeatG > 0 && strings.Contains(m.Name, word) {
			recipe, name = m.Recipe, m.Name
		}
	}
	for _, u := range b.Use {
		if u.Recipe == recipe && u.G > grams {
			tub, grams = u.Tub, u.G
		}
	}
	return recipe, name, tub, grams
}

// From trim to mince: what the tubs should become is asked, a batch begun from the answer, weighed and ended with a
// reason for what was lost; what came of it lies in stock, half a kilogram of it is sold and taken back, and it leads
// back to the pieces and forward from a lot. A tub's fat test counts.
func TestMakingMince(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/making", 1280, 900)
	s.says("more than as they are.")
	s.until("a picture of it is drawn", "document.querySelectorAll('.chart svg path').length > 3")
	var answer blended
	a.api("POST", "/blend", map[string]any{"tubs": []string{}, "recipes": []any{}}, &answer)
	recipe, name, tub, grams := answer.most("burger")
	if tub == "" {
		t.Fatalf("the demo's tubs make no burgers: %+v", answer)
	}
	least := func(kg string) { // more than can be made is said at its field
		s.eval(fmt.Sprintf(`(() => { const i = document.querySelector('[aria-label="Least of %s, kg"]'); i.value = '%s'; `+
			`for (const e of ['input', 'change']) i.dispatchEvent(new Event(e, { bubbles: true })) })()`, name, kg))
	}
	least("99")
	s.says("annot be made from these tubs")
	least("")
	s.choose(fmt.Sprintf("[data-made='%s'] button", recipe))
	s.says("nothing has gone in yet.")
	m := s.makes(grams)
	a.api("GET", "/makings/"+m.ID, nil, &m)
	if m.State != "closed" || math.Abs(m.CameG-math.Floor(grams*0.9)) > 0.001 {
		t.Errorf("%+v", m)
	}
	s.MustClose()
	a.sellsAndTakesBack(a.show(b, "/stock?kind=made", 1024, 768), m.LotNumber)

	s = a.show(b, "/stock", 1280, 900)
	s.until("trim lies there", "document.querySelectorAll('[data-tub]').length > 3")
	s.eval("document.querySelector('[data-tub^=\"beef.mince_trim\"]').click()")
	s.until("a fat test can be entered", "document.querySelector('[id$=-lean]')")
	s.put("[id$=-lean]", "91")
	s.choose(".actions form:nth-of-type(2) button")
	s.says("2 tests")
	s.MustClose()
	var origin []struct {
		Lot       string
		LotNumber string `json:"lot_number"`
	}
	a.api("GET", "/makings/"+m.ID+"/origin", nil, &origin)
	s = a.show(b, "/recall/"+origin[0].Lot, 1280, 900)
	s.says(origin[0].LotNumber + " may be in")
	s.says(m.LotNumber)
}

// batch is something that was made.
type batch struct {
	ID, State string
	LotNumber string  `json:"lot_number"`
	CameG     float64 `json:"came_g"`
}

// makes weighs so many grams of the planned tub into a batch, and nine tenths out of it, and ends it with a reason.
func (s *screen) makes(grams float64) (m batch) {
	s.t.Helper()
	s.until("the planned tubs are at hand", "document.querySelector('.todo .key')")
	s.eval(fmt.Sprintf("[...document.querySelectorAll('.todo .key')].find((k) => k.innerText.includes('%.3f')).click()",
		grams/1000))
	s.weighs(0, math.Floor(grams))
	s.weighs(2, math.Floor(grams*0.9))
	s.choose("[data-test=close-making]")
	s.says("was lost, and")
	s.put("#making-reason", "left in the worm")
	s.choose("[data-test=close-making]")
	s.says("lost: left in the worm")
	s.says("Where it comes from")
	m.ID = s.eval("location.pathname.split('/').pop()")
	return m
}

// weighs books so many grams under the nth of what is weighed for a batch.
func (s *screen) weighs(n int, grams float64) {
	s.t.Helper()
	s.eval(fmt.Sprintf("document.querySelectorAll('.weigh .units input')[%d].click()", n))
	before := s.eval("document.querySelectorAll('[data-test=making-log] .link').length")
	s.put("#weigh-weight", fmt.Sprintf("%.3f", grams/1000))
	s.choose("[data-test=weigh]")
	s.until("it is booked", "document.querySelectorAll('[data-test=making-log] .link').length > "+before)
}

// sellsAndTakesBack sells half a kilogram of something that was made, and takes it back.
func (a *app) sellsAndTakesBack(s *screen, lot string) {
	a.t.Helper()
	s.says(lot)
	row := fmt.Sprintf("[...document.querySelectorAll('tr')].find((r) => r.innerText.includes(%q))", lot)
	left := s.eval(row + ".innerText")
	s.eval(row + ".querySelector('button').click()")
	s.until("what becomes of it is asked", "document.querySelector('[id$=-weight]')")
	s.put("[id$=-weight]", "500 g")
	s.choose(".actions form button[type=submit]")
	s.until("half a kilo is sold", row+".innerText !== "+quoted(left))
	s.touch("Undo")
	s.until("it is taken back", row+".innerText === "+quoted(left))
	s.MustClose()
}

// quoted writes a text as JavaScript.
func quoted(text string) string {
	raw, err := json.Marshal(text)
	if err != nil {
		panic(err)
	}
	return string(raw)
}

// A room is counted: what was typed stays over a reload, what is missing is shown with its worth and a reason, and all
// of it is booked: what was sold as sold, what agrees as counted.
func TestCountingARoom(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	type there struct {
		Tubs []struct {
			ID, Key, Place string
			LeftG          float64 `json:"left_g"`
		}
	}
	var was, now there
	a.api("GET", "/goods", nil, &was)
	var ids []string
	left := map[string]float64{}
	for _, x := range was.Tubs {
		if left[x.ID] = x.LeftG; x.Place == "cold" && x.LeftG > 300 && len(ids) < 2 {
			ids = append(ids, x.ID)
		}
	}
	s := a.show(b, "/stock/count", 1280, 900)
	s.says("0 of ")
	for i, off := range []float64{-100, 0} {
		s.put(fmt.Sprintf("[data-count='%s']", ids[i]), fmt.Sprintf("%.3f", (left[ids[i]]+off)/1000))
	}
	s.MustReload()
	s.until("it is still there after a reload", "document.querySelector('[data-test=count-sentence]')?.innerText."+
		"includes(': 2 of')")
	s.choose("[data-test='compare-count']")
	s.says("0.10 kg")
	s.says("missing")
	s.picks("[data-test='differences'] [role=combobox]", "sold")
	s.choose("[data-test='book-count']")
	s.says("2 tubs booked as counted.")
	a.api("GET", "/goods", nil, &now)
	for _, x := range now.Tubs {
		if x.ID == ids[0] && math.Abs(x.LeftG-(left[ids[0]]-100)) > 1 {
			t.Errorf("of %s %.1f g are left, %.1f were found", x.Key, x.LeftG, left[ids[0]]-100)
		}
	}
	s.MustClose()
	s = a.show(b, "/stock/log", 1280, 900)
	s.says("thrown away,")
	s.MustClose()
}
