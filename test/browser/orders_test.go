package browser

import (
	"strings"
	"testing"
)

// taken is an order as the program gives it.
type taken struct {
	ID, Number, State string
	Total             string
	PackedG           float64 `json:"packed_g"`
	Ready             bool
	Whole             *struct {
		Price    string
		OneByOne string `json:"one_by_one"`
		Cuts     []struct {
			Piece, Note string
			Count       int
			PlanID      string `json:"plan_id"`
		}
	}
	Lines []struct {
		Name    string
		PackedG float64 `json:"packed_g"`
	}
}

// order gives the open order of a customer.
func (a *app) order(customer string) taken {
	a.t.Helper()
	var list struct {
		Orders []struct {
			taken
			Customer string
		}
	}
	a.api("GET", "/orders", nil, &list)
	for _, o := range list.Orders {
		if o.Customer == customer {
			return o.taken
		}
	}
	a.t.Fatalf("no order of %s", customer)
	return taken{}
}

// An order is taken by hand: what is wrong is said at its field; it is packed from stock and by typed weight, a packing
// is taken back, and it is handed over. A whole lamb is cut to a wish, one leg otherwise than the other.
func TestOrders(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/orders", 1280, 900)
	s.says("4 orders open, the next due")
	s.touch("Take an order")
	s.until("the form is there", "document.querySelector('#order-customer')")
	s.choose("[data-test='keep-order']")
	s.says("Is not a day")
	s.put("#order-customer", "The kiln house")
	s.put("#order-day", "2027-01-05")
	s.choosing("Product of line 1", "beef.stew")
	s.put("[data-line='0'] label:nth-of-type(2) input", "0.2")
	s.choose("[data-test='keep-order']")
	s.says("The kiln house, due")
	o := a.order("The kiln house")
	s.choose("[data-test='pack-0']")
	s.until("a tub of it is chosen", "document.querySelector('#pack-0-tub')?.innerText.includes('Counter')")
	s.put("#pack-0-weight", "0.12")
	s.choose("[data-test='pack']")
	s.says("0.120 kg")
	s.touch("Take back")
	s.until("nothing is packed", "!document.querySelector('.packs li')")
	if o = a.order("The kiln house"); o.PackedG != 0 {
		t.Errorf("taken back, and %.0f g are packed", o.PackedG)
	}
	s.put("#pack-0-weight", "0.13")
	s.choose("[data-test='pack']")
	s.says("0.130 kg")
	s.picks("#pack-0-tub", "(none)")
	s.put("#pack-0-weight", "70g")
	s.choose("[data-test='pack']")
	s.until("both are booked", "document.querySelectorAll('.packs li').length === 2")
	s.says(", not from stock")
	if o = a.order("The kiln house"); o.PackedG != 200 || !o.Ready {
		t.Errorf("packed: %+v", o)
	}
	s.choose("[data-test='hand-over']")
	s.says("The kiln house: handed over.")
	a.api("GET", "/orders/"+o.ID, nil, &o)
	if o.State != "gone" {
		t.Errorf("handed over it is %s", o.State)
	}
	s.MustClose()
	a.ordersALamb(a.show(b, "/orders/new", 1280, 900))
}

// ordersALamb takes an order of a whole lamb, with one leg cut its own way.
func (a *app) ordersALamb(s *screen) {
	t := a.t
	s.until("the form is there", "document.querySelector('#order-customer')")
	s.put("#order-customer", "A household at the voe")
	s.put("#order-day", "2027-01-06")
	s.eval("document.querySelector('input[type=radio][value=whole]').click()")
	s.put("#whole-weight", "18.4")
	s.put("#whole-price", "9.50")
	s.says("174.80")
	s.eval("document.querySelector('[aria-label^=\"Cut one Leg with chump\"]').click()")
	s.until("a leg can be cut by itself",
		"document.querySelectorAll('[aria-label^=\"Wish for Leg with chump\"]').length === 2")
	s.eval("(() => { const i = document.querySelectorAll('[aria-label^=\"Wish for Leg with chump\"]')[1]; " +
		"i.value = 'no bone'; for (const e of ['input', 'change']) i.dispatchEvent(new Event(e, { bubbles: true })) })()")
	s.until("the wish is kept", "[...document.querySelectorAll('td')].some(d => d.innerText.includes('no bone'))")
	s.choose("[data-test='keep-order']")
	s.says("A household at the voe, due")
	o := a.order("A household at the voe")
	if o.Whole == nil || o.Whole.Price != "174.80" || o.Total != "174.80" {
		t.Fatalf("ordered: %+v", o)
	}
	legs := 0
	for _, c := range o.Whole.Cuts {
		if strings.Contains(c.Piece, "leg_chump") {
			legs += c.Count
			if c.Count != 1 {
				t.Errorf("both legs are cut as one: %+v", c)
			}
		}
	}
	if legs != 2 {
		t.Errorf("a lamb has %d legs", legs)
	}
	s.MustClose()
}

// The day is laid out, a piece is pinned to a bench and another left out, and it is laid out anew; the rail shows the
// hours, and a phone shows the same as a list.
func TestTheDay(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/day", 1280, 900)
	s.until("the day is drawn", "document.querySelectorAll('[data-test=gantt] .slot').length > 4")
	before := s.eval("document.querySelectorAll('[data-test=gantt] .slot').length")
	first := s.eval("document.querySelector('[data-slot]:has(input[type=checkbox])').dataset.slot")
	s.eval("document.querySelector(`[data-slot='" + first + "'] input[type=checkbox]`).click()")
	second := s.eval("[...document.querySelectorAll('[data-slot]:has(input[type=checkbox])')].at(-1).dataset.slot")
	var day struct {
		Posts []struct {
			Bench   string
			BenchID string `json:"bench_id"`
			Slots   []struct {
				Piece struct{ ID string }
			}
		}
	}
	a.api("GET", "/day", nil, &day)
	north := day.Posts[0].BenchID
	s.picks("[data-slot='"+second+"'] .pick-one", north)
	s.choose("[data-test='plan-day']")
	s.until("it is laid out without it", "document.querySelectorAll('[data-test=gantt] .slot').length === "+before+" - 1")
	a.api("GET", "/day", nil, &day)
	for _, p := range day.Posts {
		for _, x := range p.Slots {
			if x.Piece.ID == first {
				t.Error("what was left out is laid out")
			}
			if x.Piece.ID == second && p.BenchID != north {
				t.Errorf("what is pinned to North is on %s", p.Bench)
			}
		}
	}
	s.says("Could be cut too")
	s.MustClose()
	s = a.show(b, "/", 1280, 900)
	s.says(" on North")
	s.MustClose()
	s = a.show(b, "/day", 390, 844)
	s.until("the phone lists it", "document.querySelectorAll('[data-slot]').length > 3 && "+
		"getComputedStyle(document.querySelector('[data-test=gantt]')).display === 'none'")
	s.MustClose()
}

// A pack is labelled: its label is drawn as it is weighed, printed on the stand-in, and fetched as PDF; what the shop's
// labels say is set, and a product gets its number.
func TestLabels(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	var there struct {
		Tubs []struct {
			ID, Key, Kind string
			LeftG         float64 `json:"left_g"`
		}
	}
	a.api("GET", "/goods", nil, &there)
	tub := ""
	for _, x := range there.Tubs {
		if x.Kind == "product" && x.LeftG > 200 && tub == "" {
			tub = x.ID
		}
	}
	s := a.show(b, "/labels?tub="+tub, 1280, 900)
	s.says("its label is drawn here")
	s.put("#label-weight", "nothing")
	s.until("what is wrong is said", "document.querySelector('#label-weight-fault')")
	s.put("#label-weight", "0.2")
	s.until("the label is drawn", "document.querySelector('[data-test=label-picture]')?.naturalWidth === 840")
	s.put("#label-copies", "2")
	s.choose("[data-test='print-label']")
	s.says("2 labels printed on North.")
	var now struct {
		Settings struct{ Plant string }
		Codes    []struct{ Item string }
	}
	a.api("GET", "/labels", nil, &now)
	if now.Settings.Plant != "SK 12" {
		t.Errorf("the plant is %q", now.Settings.Plant)
	}
	s.eval("document.querySelectorAll('details').forEach(d => d.open = true)")
	s.put("#labels-plant", "SK 99")
	s.put("#labels-prefix", "99")
	s.choose("[data-test='labels-save']")
	s.says("Must be from 20 to 29")
	s.put("#labels-prefix", "27")
	s.choose("[data-test='labels-save']")
	s.says("labels say so from now on")
	a.api("GET", "/labels", nil, &now)
	if now.Settings.Plant != "SK 99" {
		t.Errorf("the plant is %q", now.Settings.Plant)
	}
	s.MustClose()
}
