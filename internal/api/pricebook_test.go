package api

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"falda/internal/api/contract"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
)

// Prices by market, season and day; by the piece; as a list out and in again; what a closed piece keeps.
func TestPriceBook(t *testing.T) {
	r := newRig(t) // the day is 20 March 2026
	r.priced()
	if p := r.fails("PUT", base+"/quotes",
		map[string]any{"market": "", "product_key": "beef.cap_steak", "price": "1", "per": "kg", "valid_from": "2026-01-01",
			"version": 0}); !has(p, "market", "required") {
		t.Errorf("without a market: %+v", p)
	}
	var shop contract.Shop
	settings := map[string]any{"name": "x", "market": "house", "currency": "EUR", "weight_unit": "kg", "labour_rate": "24",
		"packaging_per_kg": "0.12", "loss_limit_knife_pct": 1.5, "loss_limit_saw_pct": 2.5, "division_g": 5,
		"lot_prefix": "x", "idle_minutes": 15, "version": r.shop.Version, "discard_per_kg": "0.20",
		"labour_by_role": map[string]string{"owner": "30"},
		"seasons": []map[string]string{{"name": "Winter", "from": "11-01", "to": "03-31"},
			{"name": "Summer", "from": "05-15", "to": "09-15"}}}
	r.ok("PUT", base+"/shop", settings, &shop)
	if len(shop.Seasons) != 2 || shop.LabourByRole["owner"] != "30.00" || shop.DiscardPerKg != "0.20" {
		t.Errorf("settings: %+v", shop)
	}
	for field, change := range map[string]any{"discard_per_kg": "-1", "labour_by_role": map[string]string{"king": "1"},
		"seasons": []map[string]string{{"name": "a", "from": "01-01", "to": "02-01"},
			{"name": "b", "from": "02-01", "to": "03-01"}}} {
		bad := map[string]any{}
		for k, v := range settings {
			bad[k] = v
		}
		bad[field] = change
		if p := r.fails("PUT", base+"/shop", bad); len(from(p.Errors)) != 1 ||
			!strings.HasPrefix(from(p.Errors)[0].Field, field) {
			t.Errorf("%s: %+v", field, p)
		}
	}
	var markets []contract.Market
	r.ok("POST", base+"/markets", map[string]any{"name": "Counter", "tax_pct": 10}, nil)
	r.ok("POST", base+"/markets", map[string]any{"name": "Galley", "tax_pct": 0}, &markets)
	if len(markets) != 2 || !markets[0].Main || markets[1].Main {
		t.Fatalf("%+v", markets)
	}
	if p := r.fails("POST", base+"/markets", map[string]any{"name": "counter", "tax_pct": 0}); !has(p, "name",
		"duplicate_name") {
		t.Errorf("%+v", p)
	}
	set := func(market, key, season, day, price, per string, g float64) {
		t.Helper()
		r.ok("PUT", base+"/quotes",
			map[string]any{"market": market, "product_key": key, "season": season, "valid_from": day, "price": price, "per": per,
				"piece_g": g, "version": 0}, nil)
	}
	set(markets[0].Id, "beef.cap_steak", "", "2026-03-01", "25", "kg", 0)
	set(markets[0].Id, "beef.cap_steak", "Winter", "2026-01-01", "23", "kg", 0)
	set(markets[0].Id, "beef.cap_steak", "", "2026-06-01", "27", "kg", 0)
	set(markets[0].Id, "beef.side_medallion", "", "2026-03-01", "5.85", "piece", 225) // 26.00 a kilo
	for _, c := range []struct{ query, price, source string }{{"", "23.00", "market"},
		{"?day=2026-04-02", "25.00", "market"}, {"?day=2026-06-01", "27.00", "market"},
		{"?day=2025-12-01", "24.00", "standing"}, {"?market=" + markets[1].Id, "24.00", "standing"}} {
		var b contract.PriceBook
		r.ok("GET", base+"/price-book"+c.query, nil, &b)
		for _, row := range b.Rows {
			if row.Product.Key == "beef.cap_steak" && (from(row.Price) != c.price || string(row.Source) != c.source) {
				t.Errorf("%q: %s by %s, want %s by %s", c.query, from(row.Price), row.Source, c.price, c.source)
			}
			if c.query == "" && row.Product.Key == "beef.cap_steak" && from(row.WithTax) != "25.30" {
				t.Errorf("with tax %s", from(row.WithTax))
			}
			if c.query == "" && row.Product.Key == "beef.side_medallion" && from(row.Price) != "26.00" {
				t.Errorf("by the piece: %s", from(row.Price))
			}
		}
	}
	for field, change := range map[string]any{"season": "Spring", "valid_from": "soon", "price": "-1",
		"product_key": "beef.unicorn", "piece_g": 0.0} {
		body := map[string]any{"market": markets[0].Id, "product_key": "beef.rump_steak", "season": "",
			"valid_from": "2026-03-01", "price": "5", "per": "kg", "piece_g": 200.0, "version": 0}
		body[field] = change
		if field == "piece_g" {
			body["per"], body["product_key"] = "piece", "beef.fat"
		}
		if p := r.fails("PUT", base+"/quotes", body); !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	var used contract.Shop // a season that prices hang on stays
	r.ok("GET", base+"/shop", nil, &used)
	gone := map[string]any{}
	for k, v := range settings {
		gone[k] = v
	}
	gone["version"], gone["seasons"] = used.Version,
		[]map[string]string{{"name": "Summer", "from": "05-15", "to": "09-15"}}
	if p := r.fails("PUT", base+"/shop", gone); !has(p, "seasons", "in_use") {
		t.Errorf("a season in use: %+v", p)
	}
	if p := r.fails("PUT", base+"/quotes",
		map[string]any{"market": markets[0].Id, "product_key": "beef.cap_steak", "valid_from": "2026-03-01", "price": "90000",
			"per": "piece", "piece_g": 1, "version": 0}); !has(p, "price", "too_large") {
		t.Errorf("90 million a kilogram: %+v", p)
	}
	if p := r.fails("PUT", base+"/quotes",
		map[string]any{"market": markets[0].Id, "product_key": "beef.cap_steak", "valid_from": "2026-03-01", "price": "9",
			"per": "piece", "piece_g": 0.001, "version": 0}); !has(p, "piece_g", "too_small") {
		t.Errorf("a piece of a milligram: %+v", p)
	}
	// the second writer is told
	if p := r.fails("PUT", base+"/quotes",
		map[string]any{"market": markets[0].Id, "product_key": "beef.cap_steak", "season": "", "valid_from": "2026-03-01",
			"price": "9", "per": "kg", "version": 0}); p.Status != 409 {
		t.Errorf("a second writer: %+v", p)
	}
	// out and in again changes nothing
	_, _, raw := r.do("GET", base+"/prices/export?format=xlsx", nil)
	status, seen, answer := upload[contract.PriceImport](r, base+"/prices/import", raw)
	if status != 200 || seen.Set != 0 || seen.Same != len(handPrices)+4 {
		t.Errorf("%d, %d set, %d same: %.300s", status, seen.Set, seen.Same, answer)
	}
	list := "product,price,per,piece_g,market,season,valid_from\nRump cap steak,26,kg,,counter,winter,2026-01-01\nRump " +
		"cap steak,6,piece,230,Galley,,\nRump cap steak,6,kg,,Moon,,\nRump cap steak,6,kg,,Counter,Spring,\n"
	if status, seen, answer = upload[contract.PriceImport](r, base+"/prices/import?save=true",
		[]byte(list)); status != 200 || seen.Set != 2 || seen.Bad != 2 ||
		from(seen.Lines[0].Where) != "Counter, Winter, from 2026-01-01" ||
		from(seen.Lines[0].Was) != "23.00 per kg" {
		t.Errorf("%d %s", status, answer)
	}
	// a closed piece keeps the prices of its day, and the rates of who cut it: 17 minutes at 30 are 8.50, 0.15 kg of
	// gristle and 0.0774 kg of skins thrown away 0.05
	b := r.cutHand(r.onBench("PB-1", "seamed"))
	r.ok("PUT", base+"/breakdowns/"+b.Id+"/judgement/cap", map[string]any{"method": "grill", "note": "x", "version": 0},
		nil)
	var c contract.Comparison
	r.ok("GET", base+"/breakdowns/"+b.Id+"/comparison", nil, &c)
	if c.Recorded.Totals.Labour != "8.50" || c.Recorded.Totals.Discard != "0.05" {
		t.Errorf("labour %s, discard %s", c.Recorded.Totals.Labour, c.Recorded.Totals.Discard)
	}
	var book contract.PriceBook
	r.ok("GET", base+"/price-book", nil, &book)
	for _, q := range book.Quotes {
		if q.Season == "Winter" {
			r.ok("DELETE", fmt.Sprintf("%s/quotes/%s?version=%d", base, q.Id, q.Version), nil, nil)
		}
	}
	var after contract.Comparison
	r.ok("GET", base+"/breakdowns/"+b.Id+"/comparison", nil, &after)
	if after.Difference != c.Difference {
		t.Errorf("a closed piece changed with the prices: %s, was %s", after.Difference, c.Difference)
	}
	if after.OtherDifferencePerKg == nil || from(after.Today) {
		t.Fatalf("what it comes to today is not shown: %+v", after.OtherDifferencePerKg)
	}
	var anew contract.Comparison
	r.ok("GET", base+"/breakdowns/"+b.Id+"/comparison?today=true", nil, &anew)
	if anew.Difference != *after.OtherDifference || *anew.OtherDifference != after.Difference ||
		anew.Recorded.Totals.Labour != "8.50" || !strings.Contains(anew.Basis, "rates of today at “Counter”, Winter.") {
		t.Errorf("priced to today: %s, of its day %s; %s", anew.Difference, *anew.OtherDifference, anew.Basis)
	}
	desk := map[string]any{"alternatives": []map[string]any{{"kind": "plan", "atlas_id": "beef.top_sirloin",
		"plan_id": "traditional"}, {"kind": "piece", "breakdown_id": b.Id}}}
	var d contract.Desk
	r.ok("POST", base+"/comparisons", desk, &d)
	if d.Pairs[0].RepricedPerKg == nil || *d.Pairs[0].RepricedPerKg == d.Pairs[0].PerKg {
		t.Errorf("today's prices are not shown beside those of the day: %+v", d.Pairs[0].RepricedPerKg)
	}
	desk["today"] = true
	var now contract.Desk
	r.ok("POST", base+"/comparisons", desk, &now)
	if now.Pairs[0].PerKg != *d.Pairs[0].RepricedPerKg || *now.Pairs[0].RepricedPerKg != d.Pairs[0].PerKg {
		t.Errorf("priced anew: %s and %s, then %s and %s", now.Pairs[0].PerKg, *now.Pairs[0].RepricedPerKg, d.Pairs[0].PerKg,
			*d.Pairs[0].RepricedPerKg)
	}
}

// A market's feed is read as a list is: shown first, kept when asked, marked as the feed's; silent, it changes nothing.
func TestMarketFeed(t *testing.T) {
	st, w := testdb.Service(t, func() time.Time { return today })
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	sim := &device.SimFeed{Rows: func(time.Time) [][]string {
		return [][]string{{"product", "price", "per", "market"}, {"Rump cap steak", "22.50", "kg", "Counter"}}
	}}
	ctx, quiet := context.WithCancel(t.Context())
	gone := make(chan struct{})
	go func() { _ = sim.Serve(ctx, l); close(gone) }()
	feed, err := device.NewFeed("http://" + l.Addr().String() + "/prices.csv")
	if err != nil {
		t.Fatal(err)
	}
	r := serve(t, st, w, Options{Feed: feed, Scales: func(store.Bench) *device.Scale { return nil }})
	r.ok("POST", base+"/markets", map[string]any{"name": "Counter", "tax_pct": 0}, nil)
	var seen contract.PriceImport
	if r.ok("POST", base+"/prices/feed", nil, &seen); seen.Set != 1 || seen.Saved {
		t.Errorf("%+v", seen)
	}
	r.ok("POST", base+"/prices/feed?save=true", nil, &seen)
	var book contract.PriceBook
	r.ok("GET", base+"/price-book", nil, &book)
	if len(book.Quotes) != 1 || book.Quotes[0].Source != "feed" || book.Quotes[0].Price != "22.50" || !book.HasFeed {
		t.Errorf("%+v", book.Quotes)
	}
	quiet()
	<-gone
	if p := r.fails("POST", base+"/prices/feed?save=true", nil); !has(p, "", "feed_silent") {
		t.Errorf("%+v", p)
	}
	// one that breaks off in the middle of a price, and one that does not end, change nothing either
	for code, answer := range map[string]http.HandlerFunc{
		"feed_silent": func(w http.ResponseWriter, _ *http.Request) {
			w.Header().Set("Content-Length", "1000")
			_, _ = io.WriteString(w, "product,price,per,market\nRump cap steak,1")
		},
		"feed_too_long": func(w http.ResponseWriter, _ *http.Request) {
			_, _ = io.WriteString(w, "product,price,per,market\n"+strings.Repeat(" ", 2<<20)+"Rump cap steak,12.34,kg,Counter")
		},
	} {
		market := httptest.NewServer(answer)
		feed, err := device.NewFeed(market.URL)
		if err != nil {
			t.Fatal(err)
		}
		r := serve(t, st, w, Options{Feed: feed, Scales: func(store.Bench) *device.Scale { return nil }})
		if p := r.fails("POST", base+"/prices/feed?save=true", nil); !has(p, "", code) {
			t.Errorf("%s: %+v", code, p)
		}
		if r.ok("GET", base+"/price-book", nil, &book); book.Quotes[0].Price != "22.50" {
			t.Errorf("%s: %+v", code, book.Quotes)
		}
		market.Close()
	}
	if p := newRig(t).fails("POST", base+"/prices/feed", nil); !has(p, "", "no_feed") {
		t.Errorf("%+v", p)
	}
}

// Several prices are changed at once, all or none; what they would be is said before. The markets stand side by side.
func TestPricesChangedTogether(t *testing.T) {
	r := newRig(t)
	r.priced()
	raise := func(pct, step string, keys ...string) []contract.RaisedPrice {
		t.Helper()
		var out []contract.RaisedPrice
		r.ok("POST", base+"/prices/raised", map[string]any{"keys": keys, "pct": pct, "step": step}, &out)
		return out
	}
	// 24 and 26 raised by 7 % are 25.68 and 27.82; 0.50 would be 0.535, which is 0.50 in steps of a tenth: it stays
	seen := raise("7", "0.10", "beef.cap_steak", "beef.side_medallion", "beef.fat", "beef.shin_slice")
	if len(seen) != 2 {
		t.Fatalf("%+v", seen)
	}
	var changes, back []map[string]any
	for _, x := range seen {
		if want := map[string]string{"beef.cap_steak": "25.70", "beef.side_medallion": "27.80"}[x.Product.Key]; x.Becomes !=
			want {
			t.Errorf("%s becomes %s, want %s", x.Product.Key, x.Becomes, want)
		}
		changes = append(changes, map[string]any{"key": x.Product.Key, "price": x.Becomes, "per": "kg", "version": 1})
		back = append(back, map[string]any{"key": x.Product.Key, "price": x.Product.Price, "per": "kg", "version": 2})
	}
	var set []contract.Price
	r.ok("PUT", base+"/prices", map[string]any{"prices": changes}, &set)
	if len(set) != 2 || set[0].Version != 2 {
		t.Errorf("%+v", set)
	}
	price := func(key string) (out contract.BookRow) {
		t.Helper()
		var book contract.PriceBook
		r.ok("GET", base+"/price-book", nil, &book)
		for _, row := range book.Rows {
			if row.Product.Key == key {
				out = row
			}
		}
		return out
	}
	if p := price("beef.cap_steak"); p.Product.Price != "25.70" {
		t.Errorf("cap steak costs %s", p.Product.Price)
	}
	// one of them was changed meanwhile: none is set
	stale := []map[string]any{{"key": "beef.dice", "price": "15", "per": "kg", "version": 1}, changes[0]}
	if p := r.fails("PUT", base+"/prices", map[string]any{"prices": stale}); p.Status != 409 {
		t.Errorf("a second writer: %+v", p)
	}
	if p := price("beef.dice"); p.Product.Price != "14.00" {
		t.Errorf("dice cost %s after a change that was refused", p.Product.Price)
	}
	r.ok("PUT", base+"/prices", map[string]any{"prices": back}, nil)
	if p := price("beef.side_medallion"); p.Product.Price != "26.00" || p.Product.Version != 3 {
		t.Errorf("taken back: %+v", p.Product)
	}
	for field, body := range map[string]map[string]any{
		"pct":  {"keys": []string{"beef.fat"}, "pct": "-95", "step": "0.10"},
		"step": {"keys": []string{"beef.fat"}, "pct": "5", "step": "0"},
		"keys": {"keys": []string{}, "pct": "5", "step": "0.10"},
	} {
		if p := r.fails("POST", base+"/prices/raised", body); !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	for field, change := range map[string]map[string]any{
		"prices[0].key":     {"key": "beef.unicorn", "price": "1", "per": "kg", "version": 0},
		"prices[0].price":   {"key": "beef.dice", "price": "-1", "per": "kg", "version": 1},
		"prices[0].version": {"key": "beef.dice", "price": "1", "per": "kg", "version": -1},
	} {
		if p := r.fails("PUT", base+"/prices", map[string]any{"prices": []any{change}}); !has(p, field, "") {
			t.Errorf("%s: %+v", field, p)
		}
	}
	// side by side: the counter has its own price, the galley has the standing one; tax is each market's own
	var markets []contract.Market
	r.ok("POST", base+"/markets", map[string]any{"name": "Counter", "tax_pct": 10}, nil)
	r.ok("POST", base+"/markets", map[string]any{"name": "Galley", "tax_pct": 0}, &markets)
	r.ok("PUT", base+"/quotes", map[string]any{"market": markets[0].Id, "product_key": "beef.cap_steak", "season": "",
		"valid_from": "2026-03-01", "price": "30", "per": "kg", "version": 0}, nil)
	row := price("beef.cap_steak")
	if len(row.At) != 2 || from(row.At[0].Price) != "30.00" || from(row.At[0].WithTax) != "33.00" ||
		row.At[0].Source != "market" || from(row.At[1].Price) != "24.00" || row.At[1].Source != "standing" {
		t.Errorf("side by side: %+v", row.At)
	}
	if !slices.Contains(row.Pieces, "beef.top_sirloin") {
		t.Errorf("rump cap steak is cut from %v", row.Pieces)
	}
}
