package api

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"falda/internal/api/contract"
)

// From two prices all others of the species are guessed, each with a range; a price that is set is known, and makes the
// guesses surer; answers say what they rest on; a guess goes out in no price list, and all are taken back at once.
func TestPricesAreGuessed(t *testing.T) {
	r := newRig(t)
	if p := r.fails("POST", base+"/prices/guesses", nil); p.Status != 422 || !has(p, "prices", "none_known") {
		t.Errorf("guessed from nothing: %+v", p)
	}
	r.ok("PUT", base+"/prices/beef.mince_trim", `{"price":"10","per":"kg","version":0}`, nil)
	r.ok("PUT", base+"/prices/beef.rump_steak", `{"price":"21","per":"kg","version":0}`, nil)
	var g contract.PriceGuesses
	r.ok("POST", base+"/prices/guesses", nil, &g)
	if g.Known != 2 || g.Guessed < 100 || len(g.Without) < 40 { // lamb and deer have none that is known
		t.Errorf("%+v", g)
	}
	of := func(key string) contract.Price {
		var list []contract.Price
		r.ok("GET", base+"/prices", nil, &list)
		for _, p := range list {
			if p.Key == key {
				return p
			}
		}
		t.Fatalf("no %s", key)
		return contract.Price{}
	}
	// mince 10 at index 100 and rump 21 at 210: both say 0.10 a point, so a fillet steak of index 520 is 52
	fillet := of("beef.fillet_steak")
	if fillet.Price != "52.00" || fillet.Guess == nil || num(t, fillet.Guess.Low) >= 52 ||
		num(t, fillet.Guess.High) <= 52 {
		t.Errorf("the fillet is guessed at %s, %+v", fillet.Price, fillet.Guess)
	}
	if lamb := of("lamb.leg_roast"); lamb.Price != "" || lamb.Guess != nil {
		t.Errorf("lamb from beef: %+v", lamb)
	}
	wide := num(t, fillet.Guess.High) / num(t, fillet.Guess.Low)

	// an answer on guesses: how many, within what
	var c contract.PlanComparison
	ask := map[string]any{"a": map[string]any{"plan_id": "traditional"}, "b": map[string]any{"plan_id": "seamed"}}
	r.ok("POST", base+"/plans/beef.top_sirloin/compare", ask, &c)
	if !strings.Contains(c.Sentence, "that bear on it are guesses") ||
		!strings.Contains(c.Sentence, " a kilo, four times in five") {
		t.Errorf("it says %q", c.Sentence)
	}
	guessed := 0
	for _, row := range c.B.Products {
		if row.Guess != nil {
			guessed++
		}
	}
	if guessed < 3 {
		t.Errorf("%d rows are marked", guessed)
	}
	var v contract.CarcassValue
	r.ok("PUT", base+"/prices/lamb.leg_roast", `{"price":"17.9","per":"kg","version":0}`, nil)
	r.ok("POST", base+"/prices/guesses", nil, &g)
	r.ok("POST", base+"/carcasses/lamb.whole/value", `{}`, &v)
	if !strings.Contains(v.Sentence, "prices are guesses.") && !strings.Contains(v.Sentence, "are guesses") {
		t.Errorf("the lamb: %q", v.Sentence)
	}
	var came contract.Forecast
	r.ok("POST", base+"/forecast",
		map[string]any{"atlas_id": "lamb.whole", "pieces": 1, "weight": "20", "weight_unit": "kg",
			"price": "7", "price_per": "kg"}, &came)
	if !strings.Contains(came.Sentence, "guesses.") {
		t.Errorf("a lamb that came: %q", came.Sentence)
	}

	// known, it is known; the others are surer
	before := of("beef.striploin_steak")
	r.ok("PUT", base+"/prices/beef.fillet_steak",
		map[string]any{"price": "52", "per": "kg", "version": of("beef.fillet_steak").Version}, nil)
	after := of("beef.striploin_steak")
	if of("beef.fillet_steak").Guess != nil || after.Guess == nil ||
		num(t, after.Guess.High)/num(t, after.Guess.Low) >= num(t, before.Guess.High)/num(t, before.Guess.Low) || wide <= 1 {
		t.Errorf("the striploin was %+v, is %+v", before.Guess, after.Guess)
	}
	_, _, list := r.do("GET", base+"/prices/export?format=csv", nil)
	if lines := strings.Split(string(list), "\n"); !strings.Contains(string(list), ",52") {
		t.Errorf("the list has no fillet: %.300s", list)
	} else {
		for _, l := range lines {
			if strings.HasPrefix(l, "beef.striploin_steak,") && !strings.Contains(l, ",,") {
				t.Errorf("a guess goes out as a price: %s", l)
			}
		}
	}
	r.ok("DELETE", base+"/prices/guesses", nil, nil)
	if s := of("beef.striploin_steak"); s.Price != "" || s.Version != 0 || of("beef.fillet_steak").Price == "" {
		t.Errorf("taken back: %+v", s)
	}
}

// A comparison on guesses, with a pencil: two guesses that differ between the ways, each moving the lead by its yield
// times its price times its spread; together √(a² + b²), and 1.2816 of that on either side.
func TestADoubtByHand(t *testing.T) {
	r := newRig(t)
	r.priced()
	var list []contract.Price
	r.ok("GET", base+"/prices", nil, &list)
	ask := map[string]any{"a": map[string]any{"plan_id": "traditional"}, "b": map[string]any{"plan_id": "seamed"}}
	var known contract.PlanComparison
	r.ok("POST", base+"/plans/beef.top_sirloin/compare", ask, &known)
	if strings.Contains(known.Sentence, "guess") {
		t.Errorf("nothing is guessed, and it says %q", known.Sentence)
	}
	made := map[string]float64{} // kg of b less kg of a, of the usual 6.6 kg
	at := map[string]float64{}
	for i, side := range []contract.PlanForecast{known.A, known.B} {
		for _, row := range side.Products {
			if row.Price != nil {
				made[row.Key] += float64(2*i-1) * row.WeightG / 1000 / 6.6
				at[row.Key] = num(t, *row.Price)
			}
		}
	}
	spread := map[string]float64{"beef.cap_steak": 0.2, "beef.heart_steak": 0.1}
	sum := 0.0
	for key, s := range spread {
		if err := r.store.DB().Exec("UPDATE prices SET spread = ? WHERE product_key = ?", s, key).Error; err != nil {
			t.Fatal(err)
		}
		sum += math.Pow(made[key]*at[key]*s, 2)
	}
	var c contract.PlanComparison
	r.ok("POST", base+"/plans/beef.top_sirloin/compare", ask, &c)
	off := 1.2816 * math.Sqrt(sum)
	lead := num(t, c.DifferencePerKg)
	for _, want := range []float64{lead - off, lead + off} {
		text := "€" + fmt.Sprintf("%.2f", math.Abs(want))
		if !strings.Contains(c.Sentence, text) {
			t.Errorf("the sentence has no %s: %q", text, c.Sentence)
		}
	}
	if !strings.Contains(c.Sentence, "2 prices of ") {
		t.Errorf("it says %q", c.Sentence)
	}
}

// Rule: prices that are known are copied from another shop of one's own, in which one sees to prices too; guesses and
// an example's prices are not, and money is never converted.
func TestPricesAreCopiedFromAnotherShop(t *testing.T) {
	r := newRig(t)
	r.ok("PUT", base+"/prices/beef.cap_steak", `{"price":"24","per":"kg","version":0}`, nil)
	r.ok("PUT", base+"/prices/beef.mince_trim", `{"price":"10","per":"kg","version":0}`, nil)
	r.ok("POST", base+"/prices/guesses", nil, nil)
	second := func(name, currency string) string {
		var made struct {
			ShopID string `json:"shop_id"`
		}
		r.ok("POST", base+"/shops", map[string]any{"name": name, "currency": currency, "weight_unit": "kg", "market": "uk",
			"labour_rate": "19", "packaging_per_kg": "0.25", "discard_per_kg": "0.20", "tax_pct": 5.0,
			"benches": []string{"One"}}, &made)
		return made.ShopID
	}
	euro, pound := second("Second", "EUR"), second("Third", "GBP")
	if p := r.fails("POST", base+"/shops", `{"name":"X","currency":"EUR","weight_unit":"kg","labour_rate":" ",
		"benches":["One"]}`); !has(p, "labour_rate", "required") {
		t.Errorf("work that costs nothing: %+v", p)
	}
	r.ok("PUT", base+"/session/shop", map[string]any{"shop_id": euro}, nil)
	var shop contract.Shop
	if r.ok("GET", base+"/shop", nil, &shop); shop.LabourRate != "19.00" || shop.Market != "uk" {
		t.Errorf("the second shop: %+v", shop)
	}
	copied := base + "/prices/copy?shop_id=" + r.shop.Id
	var seen contract.PriceImport
	if r.ok("POST", copied, nil, &seen); seen.Set != 2 || seen.Bad != 0 || seen.Saved {
		t.Errorf("before: %+v", seen)
	}
	r.ok("POST", copied+"&save=true", nil, &seen)
	var prices []contract.Price
	r.ok("GET", base+"/prices", nil, &prices)
	for _, p := range prices {
		if want := map[string]string{"beef.cap_steak": "24.00",
			"beef.mince_trim": "10.00"}[p.Key]; p.Price != want {
			t.Errorf("%s costs %q, want %q", p.Key, p.Price, want)
		}
	}
	if r.ok("POST", copied, nil, &seen); seen.Set != 0 || seen.Same != 2 {
		t.Errorf("again: %+v", seen)
	}
	if p := r.fails("POST", base+"/prices/copy?shop_id="+pound, nil); !has(p, "shop_id", "currency") {
		t.Errorf("from pounds: %+v", p)
	}
	if p := r.fails("POST", base+"/prices/copy?shop_id="+euro, nil); p.Status != 404 {
		t.Errorf("from itself: %+v", p)
	}
	if p := r.fails("POST", base+"/prices/copy?shop_id=nobody", nil); p.Status != 404 {
		t.Errorf("from a shop of others: %+v", p)
	}
}

// Rule: a shop of every country that has usual costs can be set up with them.
func TestEveryUsualShopCanBeMade(t *testing.T) {
	r := newRig(t)
	var usual []contract.UsualCosts
	r.ok("GET", base+"/set-up", nil, &usual)
	if len(usual) < 10 {
		t.Fatalf("%d countries", len(usual))
	}
	for _, u := range usual {
		r.ok("POST", base+"/shops", map[string]any{"name": "In " + u.Market, "currency": u.Currency,
			"weight_unit": u.WeightUnit, "market": u.Market, "labour_rate": u.LabourRate,
			"packaging_per_kg": u.PackagingPerKg, "discard_per_kg": u.DiscardPerKg, "tax_pct": u.TaxPct,
			"benches": []string{"One"}}, nil)
	}
	if p := r.fails("POST", base+"/shops", `{"name":"X","currency":"EUR","weight_unit":"kg","market":"atlantis",
		"benches":["One"]}`); !has(p, "market", "unknown") {
		t.Errorf("of no country: %+v", p)
	}
}
