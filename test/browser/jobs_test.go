package browser

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"
	"time"
)

// jobs are the pieces that the scenario cuts in blocks, each here by hand on a screen.
var jobs = []struct {
	name, piece, form, plan string
	options                 map[string]string
	weight                  string // of the piece, kg
	least                   int    // keys and ticks that it takes at the least
}{
	{"a saddle boned in one", "lamb.saddle", "", "boned_in_one", map[string]string{"finish": "roast"}, "2.5", 5},
	{"a sawn forequarter", "lamb.forequarter", "", "counter_saw", nil, "7", 8},
	{"a chuck roll cut straight", "beef.chuck_roll", "", "whole_roll_five_products", nil, "9", 6},
	{"a clod bought as its heart", "beef.clod", "heart_alone", "top_blade_first", nil, "4.2", 4},
	{"a rump heart in one", "beef.top_sirloin", "tri_tip_off", "heart_in_one", nil, "5.5", 6},
	{"a leg left whole", "lamb.leg_chump", "", "whole_roast", nil, "3.1", 3},
	{"a leg boned, spiced and netted", "lamb.leg_chump", "", "spiced_netted", nil, "3.1", 5},
}

// Each of these is cut on a screen by what the plate asks for and nothing else: a step that leaves nothing is ticked,
// what leaves is weighed, the tubs at the end; it balances, closes and is compared. Half of it is done on a desk's
// screen and half on a tablet's, and on both nothing overlaps or is cut off.
func TestEveryJobOfTheScenario(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	for i, j := range jobs {
		t.Run(strings.ReplaceAll(j.name, " ", "_"), func(t *testing.T) {
			var lot struct {
				Pieces []string `json:"piece_ids"`
			}
			a.api("POST", "/lots", map[string]any{"atlas_id": j.piece, "form": j.form, "pieces": 1, "weight": j.weight,
				"weight_unit": "kg", "price": "9.40", "price_per": "kg", "slaughtered_on": a.day(25), "supplier": "A croft",
				"lot_number": fmt.Sprintf("JOB-%d", i), "findings": []string{}}, &lot)
			a.api("PUT", "/pieces/"+lot.Pieces[0]+"/plan",
				map[string]any{"plan_id": j.plan, "options": j.options, "version": 1}, nil)
			var board struct{ ID string }
			a.api("POST", "/pieces/"+lot.Pieces[0]+"/breakdown", map[string]any{"bench_id": a.bench("North")}, &board)
			s := a.show(b, "/bench/"+board.ID, 1280, 800)
			s.t = t
			s.lookedOver()
			grams, err := strconv.ParseFloat(j.weight, 64)
			if err != nil {
				t.Fatal(err)
			}
			s.weigh(fmt.Sprint(1000*grams), fmt.Sprintf("%.3f", grams))
			if done := s.followThePlate(); done < j.least {
				t.Errorf("it was done in %d keys", done)
			}
			s.enter()
			s.says("It balances")
			s.tabTo("[data-test=close]")
			s.enter()
			s.says("within the limit")
			s.MustClose()
			s = a.show(b, "/compare/"+board.ID, 1024, 768)
			s.t = t
			s.until("it is compared", "document.querySelector('[data-test=sentence]')?.innerText.length > 20")
			s.fits("the comparison of " + j.name)
			s.MustClose()
		})
	}
}

// asked is what the plate asks for.
type asked struct {
	what  string // all that the board says of it; it changes with every booking
	tick  bool
	done  bool
	about float64 // kilograms expected
	left  float64 // kilograms not weighed yet
	last  bool    // nothing else is asked for after it
}

func (s *screen) asked() asked {
	s.t.Helper()
	get := func(js string) string { return s.eval("(" + js + ") ?? ''") }
	number := func(text string) float64 {
		v, _ := strconv.ParseFloat(text, 64) // not there: 0
		return v
	}
	return asked{
		what: get("document.querySelector('[data-test=plate]').innerText + document.querySelector('.list').innerText + " +
			"document.querySelector('[data-test=residual]').innerText"),
		tick:  get("document.querySelector('[data-test=plate]').innerText.includes('Nothing to weigh')") == "true",
		done:  get("document.body.innerText.includes('Everything is weighed')") == "true",
		about: number(get("document.querySelector('.item.picked')?.innerText.match(/about ([0-9.]+)/)?.[1]")),
		left:  number(get("document.querySelector('[data-test=residual]').innerText.match(/^[0-9.]+/)?.[0]")),
		last:  get("document.querySelectorAll('.item:not(.done)').length") == "1",
	}
}

// followThePlate does what the plate says until everything is weighed, half way on another screen; it gives how often
// something was booked or ticked.
func (s *screen) followThePlate() int {
	s.t.Helper()
	const most = 80
	for n := range most {
		is := s.asked()
		if is.done {
			return n
		}
		if n == 3 {
			s.fits("the bench")
			s.MustSetViewport(1024, 768, 1, false)
			s.fits("the bench on a tablet")
		}
		if !is.tick {
			kg := is.about
			if is.last { // the last tub takes what there is, but for what drips
				kg = is.left - 0.01
			}
			if kg = math.Max(0.005, math.Min(kg, is.left-0.005)); is.about == 0 && !is.last {
				kg = 0.02
			}
			s.typed(fmt.Sprintf("%.0f", 1000*kg))
		}
		s.enter()
		s.until("it is booked", "document.querySelector('.bench').dataset.waiting === '0'")
		for end := time.Now().Add(patience); s.asked().what == is.what; time.Sleep(40 * time.Millisecond) {
			if time.Now().After(end) {
				s.t.Fatalf("the plate goes on asking for\n%s", is.what)
			}
		}
	}
	s.t.Fatalf("after %d steps the plate still asks for\n%s", most, s.asked().what)
	return 0
}

// fits checks that nothing overlaps, is cut off or lies beyond the window.
func (s *screen) fits(what string) {
	s.t.Helper()
	faults, err := s.Eval(fitJS)
	if err != nil {
		s.t.Fatal(err)
	}
	if v := faults.Value.Str(); v != "" {
		s.t.Errorf("%s:\n%s", what, v)
	}
}
