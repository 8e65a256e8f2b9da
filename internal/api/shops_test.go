package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/compare"
	"falda/internal/work/dayplan"
	"falda/internal/work/judge"
	"falda/internal/work/made"
	"falda/internal/work/orders"
	"falda/internal/work/people"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// furnished is a shop that has one of everything, each named with the shop's mark.
type furnished struct {
	mark  string
	shop  int64
	ctx   context.Context   // as its owner
	ids   map[string]string // by name of the path parameter
	more  []string          // other ids that must not show elsewhere
	link  string            // to the page of an eater
	share string            // the secret of a shared report
}

// furnish fills the shop that a context is in.
func (r *rig) furnish(ctx context.Context, mark string) furnished {
	r.t.Helper()
	who, _ := audit.CallerOf(ctx)
	f := furnished{mark: mark, shop: who.ShopID, ctx: ctx, ids: map[string]string{}}
	must := func(err error) {
		r.t.Helper()
		if err != nil {
			r.t.Fatal(err)
		}
	}
	w := r.work
	bench, err := w.People.AddBench(ctx, mark+" bench")
	must(err)
	code, _, err := w.People.EnrolCode(ctx, bench.PublicID)
	must(err)
	_, err = w.People.Enrol(ctx, code, audit.Where{About: mark + " screen"})
	must(err)
	benches, err := w.People.Benches(ctx)
	must(err)
	i := slices.IndexFunc(benches, func(b people.BenchScreens) bool { return b.Bench.PublicID == bench.PublicID })
	person, _, err := w.People.AddPerson(ctx,
		people.Account{Name: mark + " cutter", Email: mark + "@x.example", Role: "cutter", Pin: "4802"})
	must(err)
	token, _, err := w.People.AddToken(ctx, mark+" token", []string{"read"}, "")
	must(err)
	_, err = w.Pricing.SetPrice(ctx, "beef.cap_steak", map[string]string{"zzA": "11.11", "zzB": "22.22"}[mark], "kg", 0)
	must(err)
	lot, err := w.Stock.Receive(ctx,
		stock.Arrival{AtlasID: "beef.top_sirloin", Pieces: 5, Weight: "33", WeightUnit: "kg", Price: "11.40", PricePer: "kg",
			Invoiced: "33.4", SlaughteredOn: "2026-02-24", PackedOn: "2026-02-26", Supplier: mark + " croft",
			LotNumber: mark + "-1", Note: mark + " note"})
	must(err)
	for _, p := range lot.Pieces {
		err = w.Stock.ChoosePlan(ctx, p.PublicID, stock.PlanPick{PlanID: "seamed"}, 1)
		must(err)
		f.more = append(f.more, p.PublicID)
	}
	b, err := w.Bench.StartBreakdown(ctx, lot.Pieces[0].PublicID, bench.PublicID)
	must(err)
	id := b.Breakdown.PublicID
	book := func(e seam.Event) {
		e.ID, e.At, e.Bench, e.Note = store.NewID(), today, bench.PublicID, mark+" note"
		_, err := w.Bench.Book(ctx, id, e) // it is kept in memory from now on
		must(err)
		f.more = append(f.more, e.ID)
	}
	book(seam.Event{Kind: seam.Opened, Net: 6600 * measure.Gram})
	book(seam.Event{Kind: seam.SeamedOff, Part: "cap", Net: 960 * measure.Gram})
	_, err = w.Judge.ChooseMethod(ctx, id, "cap", "stew", mark+" says so", 0)
	must(err)
	plan, err := w.Stock.SavePlan(ctx, "beef.top_sirloin", "", ownWay(w, mark+" way"), 0)
	must(err)
	batch, err := w.Bench.StartBatch(ctx, []string{lot.Pieces[3].PublicID, lot.Pieces[4].PublicID}, bench.PublicID)
	must(err)
	tasting, err := w.Judge.PlanTasting(ctx,
		judge.NewTasting{Name: mark + " tasting", HeldOn: "2026-03-20", Assessors: 2,
			Samples: []judge.NewSample{{AtlasID: "beef.top_sirloin", Part: "cap", Method: "grill", Note: mark + " note"}}})
	must(err)
	f.link = tasting.Assessors[0].Link
	twins, err := w.Stock.Receive(ctx,
		stock.Arrival{AtlasID: "beef.top_sirloin", Pieces: 2, Weight: "13.2", WeightUnit: "kg", Price: "11.40",
			PricePer: "kg", SlaughteredOn: "2026-02-24", PackedOn: "2026-02-26", Supplier: mark + " croft",
			LotNumber: mark + "-2"})
	must(err)
	trial, err := w.Compare.DesignTrial(ctx,
		compare.NewTrial{Name: mark + " trial", AtlasID: "beef.top_sirloin", PlanA: "traditional", PlanB: "seamed",
			Pairs: [][2]string{{twins.Pieces[0].PublicID, twins.Pieces[1].PublicID}}})
	must(err)
	must(w.Pricing.SaveMarket(ctx, "", pricing.NewMarket{Name: mark + " counter"}))
	markets, err := w.Pricing.Sells(ctx)
	must(err)
	must(w.Pricing.SetQuote(ctx,
		pricing.NewQuote{Market: markets[0].PublicID, Key: "beef.tri_tip_whole", From: "2026-01-01",
			Amount: map[string]string{"zzA": "33.3371", "zzB": "44.4437"}[mark], Per: "kg"}))
	must(w.Pricing.SetDemand(ctx,
		pricing.NewDemand{Key: "beef.cap_steak", Week: "5", Unit: "kg",
			Fallback: map[string]string{"zzA": "5.55", "zzB": "6.6613"}[mark]}))
	prices, err := w.Pricing.PriceBook(ctx, "", "")
	must(err)
	shared, link, err := w.Compare.ShareReport(ctx, compare.ReportAsk{Kind: compare.ReportTrial, TrialID: trial.PublicID},
		5)
	must(err)
	f.share = link
	lying := r.makes(ctx, who.ShopID, mark)
	f.ids = map[string]string{"market_id": markets[0].PublicID, "quote_id": prices.Quotes[0].PublicID,
		"share_id": shared.PublicID, "carcass_id": "lamb.whole", "trial_id": trial.PublicID, "tasting_id": tasting.PublicID,
		"code": tasting.Samples[0].Code, "batch_id": batch.Batch.PublicID, "plan_id": plan.Plan.ID,
		"lot_id": lot.Lot.PublicID, "piece_id": lot.Pieces[0].PublicID, "breakdown_id": id, "bench_id": bench.PublicID,
		"screen_id": benches[i].Screens[0].PublicID, "member_id": person.PublicID, "token_id": token.PublicID,
		"part_id": "cap", "atlas_id": "beef.top_sirloin", "product_key": "beef.cap_steak"}
	maps.Copy(f.ids, lying)
	maps.Copy(f.ids, r.sells(ctx, mark))
	maps.Copy(f.ids, r.learns(ctx, id, mark))
	f.more = append(f.more, batch.Boards[0].Breakdown.PublicID, batch.Boards[1].Breakdown.PublicID, lot.Lot.PublicID,
		who.Shop)
	return f
}

// makes gives a shop a stock with something made: a recipe, a batch with a weighing, goods of it and a fat test.
func (r *rig) makes(ctx context.Context, shopID int64, mark string) map[string]string {
	r.t.Helper()
	must := func(err error) {
		r.t.Helper()
		if err != nil {
			r.t.Fatal(err)
		}
	}
	w := r.work
	must(w.Goods.Begin(ctx, today.Format(time.DateOnly)))
	rec, err := w.Made.SaveRecipe(ctx, "",
		made.NewRecipe{Name: mark + " mince", Price: "9", Body: recipe.Recipe{Kind: "mince"}})
	must(err)
	m, err := w.Made.Begin(ctx, made.NewMaking{ID: store.NewID(), Recipe: rec.PublicID})
	must(err)
	weighing := made.Weighing{ID: store.NewID(), Kind: "came", Weight: "2", Unit: "kg", Note: mark + " note"}
	_, err = w.Made.Weigh(ctx, m.PublicID, weighing)
	must(err)
	must(r.store.DB().Create(&store.Goods{PublicID: store.NewID(), ShopID: shopID, Kind: store.GoodsMade,
		ProductKey: "made." + rec.PublicID, MakingID: &m.ID, MadeOn: today, UseBy: today, FirstUseBy: today, Place: "cold",
		MadeMg: 2_000_000}).Error)
	test := store.FatTest{PublicID: store.NewID(), ShopID: shopID, ProductKey: "beef.mince_trim", MadeOn: today,
		LeanPct: 81, AtlasPct: 80, Note: mark + " test", At: today}
	must(r.store.CreateFatTest(ctx, &test))
	o, err := w.Orders.Save(ctx, "", orders.NewOrder{ID: store.NewID(), Customer: mark + " customer", Note: mark + " wish",
		Day: today.Format(time.DateOnly), Time: "10:00",
		Lines: []orders.NewLine{{Key: "beef.mince_trim", Weight: "1", Unit: "kg", Note: mark + " line"}}})
	must(err)
	benches, err := r.store.Benches(ctx, shopID)
	must(err)
	_, err = w.Dayplan.Make(ctx, dayplan.Ask{Posts: []dayplan.Post{{Bench: benches[0].PublicID, From: "08:00",
		To: "16:00"}}}, nil)
	must(err)
	return map[string]string{"recipe_id": rec.PublicID, "making_id": m.PublicID, "event_id": weighing.ID,
		"fat_test_id": test.PublicID, "order_id": o.PublicID}
}

// ownWay is the seamed rump under another name, with all of the mouse diced.
func ownWay(w *work.Rooms, name string) atlas.Plan {
	p, _ := w.Atlas().Find("beef.top_sirloin")
	pl, _ := p.Plan("seamed")
	mouse := map[string]string{"mouse": "dressed"}
	pl, err := p.With(pl, mouse)
	if err != nil {
		panic(err)
	}
	pl.Name, pl.BasedOn = name, "seamed"
	return pl
}

// twoShops gives two furnished shops that have nobody in common.
func (r *rig) twoShops() (a, b furnished) {
	r.t.Helper()
	owner := asRole(r.t, r.work, "owner")
	if _, err := r.work.Shop.AddShop(owner, shop.NewShop{Name: "Another", Currency: "EUR", Unit: "kg"}); err != nil {
		r.t.Fatal(err)
	}
	shops, err := r.store.Shops(r.t.Context())
	if err != nil {
		r.t.Fatal(err)
	}
	as := func(role string) context.Context {
		who, err := r.work.People.MemberCaller(r.t.Context(), shops[1].ID, role)
		if err != nil {
			r.t.Fatal(err)
		}
		return audit.As(r.t.Context(), who)
	}
	first := as("owner")
	if _, _, err := r.work.People.AddPerson(first,
		people.Account{Name: "zzB owner", Email: "zzb-owner@x.example", Role: "owner"}); err != nil {
		r.t.Fatal(err)
	}
	who, _ := audit.CallerOf(first)
	if _, err := r.work.People.ChangePerson(first, who.Member,
		people.PersonChange{Name: "zzB gone", Role: "owner", Active: false, Version: 1}); err != nil {
		r.t.Fatal(err)
	}
	second := as("owner")
	settings := shop.Usual
	settings.Name, settings.Currency, settings.Unit, settings.Version = "zzB shop", "EUR", "lb", 1
	if err := r.work.Shop.SaveSettings(second, settings); err != nil {
		r.t.Fatal(err)
	}
	return r.furnish(owner, "zzA"), r.furnish(second, "zzB")
}

// everything is all that the database holds of a shop, so that a change of anything shows.
func (r *rig) everything(shop int64) string {
	r.t.Helper()
	var b bytes.Buffer
	for _, table := range []string{"benches", "lots", "pieces", "breakdowns", "batches", "events", "outputs", "prices",
		"method_choices", "members", "devices", "tokens", "audit", "plans", "plan_versions", "tastings", "tasting_samples",
		"tasting_assessors", "tasting_sheets", "external_scores", "trials", "trial_pairs", "markets", "quotes", "demands",
		"shares", "menu_names", "orders", "order_pieces", "day_plans", "label_settings", "product_codes", "goods",
		"goods_events", "makings", "recipes", "fat_tests", "trim_worths", "sale_files", "sales", "sale_names",
		"sale_settings", "naming_trials", "counters", "drill_cards", "practices", "sign_offs", "house_notes", "pictures"} {
		var rows []map[string]any
		if err := r.store.DB().Raw("SELECT * FROM "+table+" WHERE shop_id = ? ORDER BY id", shop).Scan(&rows).
			Error; err != nil {
			r.t.Fatal(err)
		}
		fmt.Fprintln(&b, table, len(rows), rows)
	}
	var rows []map[string]any
	if err := r.store.DB().Raw("SELECT * FROM shops WHERE id = ?", shop).Scan(&rows).Error; err != nil {
		r.t.Fatal(err)
	}
	fmt.Fprintln(&b, rows)
	return b.String()
}

// bodies are good bodies for the routes that take one.
var bodies = map[string]string{
	"PUT /breakdowns/{breakdown_id}/practice":            `{"level":2}`,
	"POST /breakdowns/{breakdown_id}/practice/sign-offs": `{"step":"cap","signed":true}`,
	"PUT /people/{member_id}":                            `{"name":"x","role":"cutter","active":false,"version":1}`,
	"PUT /people/{member_id}/pin":                        `{"pin":"7391"}`,
	"PUT /benches/{bench_id}":                            `{"name":"taken over","active":false,"version":1}`,
	"PUT /pieces/{piece_id}/plan":                        `{"plan_id":"traditional","version":2}`,
	"PUT /lots/{lot_id}": `{"lot":{"atlas_id":"beef.top_sirloin","pieces":3,"weight":"19.8","weight_unit":"kg",
	"price":"1","price_per":"kg","slaughtered_on":"2026-02-24","packed_on":"2026-02-26","supplier":"x",
	"lot_number":"taken","findings":[]},"version":1,"reason":"x"}`,
	"POST /benches/{bench_id}/checks": `{"weight_g":1000,"shown_g":1000,"source":"typed"}`,
	"PUT /lots/{lot_id}/void":         `{"voided":true,"version":1,"reason":"x"}`,
	"PUT /pieces/{piece_id}/void":     `{"voided":true,"version":2,"reason":"x"}`,
	"PUT /plans/{atlas_id}/{plan_id}": `{"name":"x","why":"","cut":"seams","tool":"knife","minutes":9,"products":[],
	"waste":{},"version":1}`, "PUT /plans/{atlas_id}/{plan_id}/retired": `{"retired":true,"version":1}`,
	"PUT /breakdowns/{breakdown_id}/judgement/{part_id}": `{"method":"","note":"","version":1}`,
	"POST /benches/{bench_id}/scale/command":             `{"command":"zero"}`,
	"POST /benches/{bench_id}/probe/command":             `{"c":4}`,
	"PUT /markets/{market_id}": `{"id":"","name":"taken","tax_pct":5,"main":false,
		"active":true,"version":1}`, "PUT /trials/{trial_id}/void": `{"voided":true,"reason":"x","version":1}`,
	"PUT /tastings/{tasting_id}": `{"name":"taken","held_on":"2026-03-20","state":"void","reason":"x","version":1}`,
	"PUT /tastings/{tasting_id}/sheets": `{"sheets":[{"assessor":1,"code":"123",
	"ratings":{"tenderness":1}}]}`,
	"POST /tastings/{tasting_id}/sheets":              "eater,code,tenderness\n1,123,50\n",
	"PUT /tastings/{tasting_id}/samples/{code}/cores": `{"cores":[4,4,4,4,4,4]}`,
	"PUT /recipes/{recipe_id}": `{"name":"taken","version":1,"body":{"kind":"mince","species":"","category":"",
	"lean_min_pct":0,"lean_max_pct":0,"collagen_max_pct":0,"shares":[],"lines":[],"piece_g":0,"making_loss_pct":0,
	"cooking_loss_pct":0,"slicing_loss_pct":0,"batch_kg":0,"shelf_days":1,"week_kg":0}}`,
	"PUT /goods/events/{event_id}/undo": `{"id":"0198c0de-0000-7000-8000-00000000feed"}`,
	"PUT /makings/{making_id}/close":    `{"reason":"x"}`,
	"POST /makings/{making_id}/events": `{"id":"0198c0de-0000-7000-8000-00000000fee1","kind":"came","weight":"1",
	"unit":"kg"}`,
	"PUT /benches/{bench_id}/scale/lines":  `{"pattern":"(?P<net>[0-9]+)","unit":"g","version":1}`,
	"POST /benches/{bench_id}/scale/lines": `{"pattern":"(?P<net>[0-9]+)","unit":"g"}`,
	"PUT /orders/{order_id}": `{"id":"0198c0de-0000-7000-8000-00000000fee3","customer":"taken","day":"2026-03-20",
	"time":"12:00","lines":[{"product_key":"beef.mince_trim","weight":"1","unit":"kg"}],"version":1}`,
	"PUT /orders/{order_id}/state":  `{"state":"cancelled","version":1}`,
	"PUT /orders/{order_id}/pieces": `{"pieces":[]}`,
	"POST /orders/{order_id}/packs": `{"id":"0198c0de-0000-7000-8000-00000000fee4","line":0,
		"weight":"1","unit":"kg"}`,
	"PUT /orders/{order_id}/packs/{event_id}/undo":    `{"id":"0198c0de-0000-7000-8000-00000000fee5"}`,
	"PUT /counter/screen":                             `{"on":true,"version":1}`,
	"PUT /makings/{making_id}/events/{event_id}/undo": `{"id":"0198c0de-0000-7000-8000-00000000fee2"}`,
}

// Rule: another shop's ids are nothing. Each is tried on every route that takes one, by an owner and by a token that
// may all: 404, and nothing of the other shop changes.
func TestIdsOfAnotherShop(t *testing.T) {
	r := newRig(t)
	a, b := r.twoShops()
	before := r.everything(b.shop)
	_, secret, err := r.work.People.AddToken(a.ctx, "all", []string{"calc", "read", "record", "prices", "audit"}, "")
	if err != nil {
		t.Fatal(err)
	}
	visitors := []visitor{{name: "an owner", role: "owner", via: "password", token: func() string { return r.token }},
		{name: "a token", via: "token", scopes: []string{"calc", "read", "record", "prices", "audit"},
			token: func() string { return secret }}}
	tried := 0
	for _, route := range routesOf(t) {
		method, path, _ := strings.Cut(route, " ")
		for _, v := range visitors {
			if !rights[route].allows(v.role, v.via, v.scopes) {
				continue
			}
			// one foreign id at a time, the others one's own; and all foreign
			// open to whoever has the link; and nothing of a shop's
			if strings.HasPrefix(path, "/taste/") || strings.HasPrefix(path, "/cook/") || strings.HasPrefix(path, "/shared/") ||
				strings.HasPrefix(path, "/carcasses/") || strings.HasPrefix(path, "/counter/screen/") {
				continue
			}
			params := inBraces.FindAllString(path, -1)
			for foreign := range append(params, "all") {
				at, isForeign := path, false
				for i, p := range params {
					name := strings.Trim(p, "{}")
					id := a.ids[name]
					if i == foreign || foreign == len(params) {
						id = b.ids[name]
					}
					isForeign = isForeign || id != a.ids[name]
					at = strings.Replace(at, p, id, 1)
				}
				if !isForeign || foreign == slices.Index(params, "{code}") { // a sample's code is its tasting's
					continue
				}
				if strings.HasSuffix(at, "/export") || strings.HasSuffix(at, "/slip") {
					at += "?format=csv"
				}
				if strings.HasSuffix(at, "/scaled") {
					at += "?weight=3"
				}
				if strings.HasPrefix(at, "/quotes/") {
					at += "?version=1"
				}
				body := bodies[route]
				switch route {
				case "POST /breakdowns/{breakdown_id}/events":
					body = fmt.Sprintf(`{"id":%q,"kind":"trimmed","part":"trim","net_g":10,"at":"2026-03-20T09:00:00Z","bench_id":%q}`,
						store.NewID(), a.ids["bench_id"])
				case "POST /batches/{batch_id}/events":
					body = fmt.Sprintf(`{"event":{"id":"","kind":"trimmed","part":"trim","net_g":10,"at":"2026-03-20T09:00:00Z",
						"bench_id":%q},"entries":[{"breakdown_id":%q,"id":%q}]}`, a.ids["bench_id"], a.ids["breakdown_id"], store.NewID())
				case "POST /pieces/{piece_id}/breakdown":
					body = fmt.Sprintf(`{"bench_id":%q}`, a.ids["bench_id"])
				}
				// with their bench, while their board is remembered, and with one's own
				for _, body := range []string{strings.ReplaceAll(body, a.ids["bench_id"], b.ids["bench_id"]), body} {
					tried++
					if status, answer := r.call(v, method, base+at, body); status != 404 || strings.Contains(answer, "zzB") {
						t.Errorf("%s as %s with an id of another shop: %d %s", route, v.name, status, answer)
					}
				}
			}
		}
	}
	tried += r.idsInBodies(a, b)
	if after := r.everything(b.shop); after != before {
		t.Error("something of the other shop has changed")
	}
	t.Logf("%d attempts across shops", tried)
	if tried < 120 {
		t.Errorf("only %d attempts", tried)
	}
}

// idsInBodies sends the other shop's ids where a body or a query takes one: the answer is that for an id nobody has.
func (r *rig) idsInBodies(a, b furnished) (tried int) {
	r.t.Helper()
	nobody := "0198c0de-0000-7000-8000-00000000beef"
	own := visitor{via: "password", role: "owner", token: func() string { return r.token }, screen: r.screenAt(0)}
	event := func(field string) func(id string) string {
		return func(id string) string {
			e := map[string]any{"id": store.NewID(), "kind": "trimmed", "part": "trim", "net_g": 10, "at": today,
				"bench_id": a.ids["bench_id"], field: id}
			if field == "target" {
				e["kind"] = "undone"
			}
			raw, err := json.Marshal(e)
			if err != nil {
				r.t.Fatal(err)
			}
			return string(raw)
		}
	}
	one := func(field string) func(id string) string {
		return func(id string) string { return fmt.Sprintf(`{%q:%q,"pin":"4802"}`, field, id) }
	}
	plain := func(field string) func(id string) string {
		return func(id string) string { return fmt.Sprintf(`{%q:%q}`, field, id) }
	}
	events := base + "/breakdowns/" + a.ids["breakdown_id"] + "/events"
	for name, c := range map[string]struct {
		method, path string
		body         func(id string) string
		id           string
	}{
		"bench of a start":   {"POST", base + "/pieces/" + a.more[1] + "/breakdown", plain("bench_id"), b.ids["bench_id"]},
		"bench of an event":  {"POST", events, event("bench_id"), b.ids["bench_id"]},
		"doer of an event":   {"POST", events, event("by"), b.ids["member_id"]},
		"node of an event":   {"POST", events, event("node"), b.more[len(b.more)-6]},
		"target of an event": {"POST", events, event("target"), b.more[len(b.more)-6]},
		"pieces of a batch": {"POST", base + "/batches", func(id string) string {
			return fmt.Sprintf(`{"piece_ids":[%q,%q],"bench_id":%q}`, a.more[1], id, a.ids["bench_id"])
		}, b.more[1]},
		"bench of a batch": {"POST", base + "/batches", func(id string) string {
			return fmt.Sprintf(`{"piece_ids":[%q,%q],"bench_id":%q}`, a.more[1], a.more[2], id)
		}, b.ids["bench_id"]},
		"piece in a booking": {"POST", base + "/batches/" + a.ids["batch_id"] + "/events", func(id string) string {
			return fmt.Sprintf(`{"event":{"id":"","kind":"noted","note":"x","at":"2026-03-20T09:00:00Z","bench_id":%q},
				"entries":[{"breakdown_id":%q,"id":%q}]}`, a.ids["bench_id"], id, store.NewID())
		}, b.more[len(b.more)-4]},
		"shop": {"PUT", base + "/session/shop", plain("shop_id"), b.more[len(b.more)-1]},
		"plan of a piece": {"PUT", base + "/pieces/" + a.more[1] + "/plan",
			func(id string) string { return fmt.Sprintf(`{"plan_id":%q,"version":2}`, id) }, b.ids["plan_id"]},
		"plan of a pair": {"POST", base + "/plans/beef.top_sirloin/compare",
			func(id string) string { return fmt.Sprintf(`{"a":{"plan_id":"seamed"},"b":{"plan_id":%q}}`, id) },
			b.ids["plan_id"]},
		"cutter by PIN":    {"POST", base + "/session/pin", one("member_id"), b.ids["member_id"]},
		"offered account":  {"POST", base + "/session/demo", plain("member_id"), b.ids["member_id"]},
		"market of a book": {"GET", base + "/price-book?market=%s", nil, b.ids["market_id"]},
		"market of a price": {"PUT", base + "/quotes", func(id string) string {
			return fmt.Sprintf(`{"market":%q,"product_key":"beef.cap_steak","price":"1","per":"kg","valid_from":"2026-01-01",
				"version":0}`, id)
		}, b.ids["market_id"]},
		"piece of a comparison": {"POST", base + "/comparisons", func(id string) string {
			return fmt.Sprintf(`{"alternatives":[{"kind":"plan","atlas_id":"beef.top_sirloin","plan_id":"seamed"},
				{"kind":"piece","breakdown_id":%q}]}`, id)
		}, b.ids["breakdown_id"]},
		"plan of a side": {"POST", base + "/comparisons", func(id string) string {
			return fmt.Sprintf(`{"alternatives":[{"kind":"plan","atlas_id":"beef.top_sirloin","plan_id":"seamed"},
				{"kind":"plan","atlas_id":"beef.top_sirloin","plan_id":%q}]}`, id)
		}, b.ids["plan_id"]},
		"cutter of a history": {"GET", base + "/history?cutter=%s", nil, b.ids["member_id"]},
		"trial of a report": {"POST", base + "/reports?format=json",
			func(id string) string { return fmt.Sprintf(`{"kind":"trial","trial_id":%q}`, id) }, b.ids["trial_id"]},
		"piece of a best use": {"POST", base + "/best-use",
			func(id string) string { return fmt.Sprintf(`{"pieces":[%q]}`, id) }, b.more[2]},
		"member of an audit": {"GET", base + "/audit?member=%s", nil, b.ids["member_id"]},
		"audit of a subject": {"GET", base + "/audit?text=%s", nil, b.ids["breakdown_id"]},
	} {
		tried++
		ask := func(id string) (int, string) {
			body, path := "", c.path
			if c.body != nil {
				body = c.body(id)
			} else {
				path = fmt.Sprintf(c.path, id)
			}
			status, answer := r.call(own, c.method, path, body)
			return status, strings.ReplaceAll(answer, id, "ID")
		}
		status, answer := ask(c.id)
		wantStatus, want := ask(nobody)
		if status != wantStatus || answer != want {
			r.t.Errorf("%s: %d %s, for an id that nobody has %d %s", name, status, answer, wantStatus, want)
		}
	}
	return tried
}

// Rule: nothing of another shop shows in any list, search, export or page.
func TestNothingOfAnotherShopShows(t *testing.T) {
	r := newRig(t)
	a, b := r.twoShops()
	// that the shop was added is the adding owner's own doing
	hidden := append([]string{"zzB", "22.22", "44.4437", "6.6613", b.link, b.share, b.ids["screen_link"]},
		b.more[:len(b.more)-1]...)
	for name, id := range b.ids {
		// three digits are no secret
		if name != "atlas_id" && name != "carcass_id" && name != "product_key" && name != "part_id" && name != "code" {
			hidden = append(hidden, id)
		}
	}
	queries := map[string][]string{"GET /atlas/search": {"?q=zz", "?q=cap"},
		"GET /search":                           {"?q=zz", "?q=top+sirloin"},
		"GET /atlas/pieces/{atlas_id}/straight": {"?plan_id=traditional"},
		"GET /audit":                            {"?text=zz", "?limit=500", "?action=bench", "?bench=zzB+bench", ""},
		"GET /audit/export":                     {"?format=csv", "?format=json", "?format=xlsx"},
		"GET /prices/export":                    {"?format=csv", "?format=xlsx"},
		"GET /breakdowns":                       {"", "?text=zz", "?state=open"},
		"GET /breakdowns/export":                {"?format=csv", "?format=json", "?format=xlsx"},
		"GET /goods/export":                     {"?format=csv", "?format=xlsx"},
		"GET /orders":                           {"", "?ended=true"},
		"GET /orders/export":                    {"?format=csv", "?format=xlsx", "?format=json"},
		"GET /orders/{order_id}/slip":           {"?format=csv", "?format=json", "?format=pdf"},
		"GET /day/export":                       {"?format=csv"},
		"GET /sales/export":                     {"?format=csv", "?format=json", "?format=xlsx"},
		"GET /instead":                          {"?product_key=beef.cap_steak"},
		"GET /learning/export":                  {"?format=csv", "?format=json", "?format=xlsx"},
		"GET /learning/sitting":                 {"", "?piece=beef.top_sirloin"},
		"GET /notes":                            {"?piece=beef.top_sirloin"},
		"GET /lots/{lot_id}/recall/export":      {"?format=csv", "?format=xlsx"},
		"GET /recipes/{recipe_id}/scaled":       {"?weight=3"},
		"GET /tastings/{tasting_id}/export":     {"?format=csv", "?format=xlsx"}}
	looked, own := 0, 0
	for _, route := range routesOf(t) {
		method, path, _ := strings.Cut(route, " ")
		// no piece of theirs is finished
		if method != http.MethodGet || path == "/trials/needed" || strings.HasSuffix(path, "/stream") ||
			strings.HasSuffix(path, "/comparison") || strings.HasSuffix(path, "/yields") {
			continue
		}
		a.ids["link"], a.ids["product_id"], a.ids["share_link"] = a.link, "cap_steak", a.share
		at := base + inBraces.ReplaceAllStringFunc(path, func(p string) string { return a.ids[strings.Trim(p, "{}")] })
		for _, q := range append(queries[route], map[bool][]string{true: {""}}[queries[route] == nil]...) {
			looked++
			status, _, raw := r.do(method, at+q, nil)
			if status != 200 {
				t.Errorf("%s%s: %d %s", route, q, status, raw)
			}
			text := string(raw)
			if strings.HasSuffix(q, "xlsx") {
				rows, err := tabular.Read(t.Context(), bytes.NewReader(raw), tabular.Usual)
				if err != nil {
					t.Fatal(err)
				}
				text = fmt.Sprint(rows)
			}
			if strings.Contains(text, "zzA") {
				own++
			}
			for _, h := range hidden {
				if strings.Contains(text, h) {
					t.Errorf("%s%s shows %s of another shop", route, q, h)
				}
			}
		}
	}
	if looked < 20 || own < 10 {
		t.Errorf("%d answers looked at, %d of them with something of one's own", looked, own)
	}
}

// A person of two shops is in one at a time, with the role they have there.
func TestOnePersonInTwoShops(t *testing.T) {
	r := newRig(t)
	owner := asRole(t, r.work, "owner")
	id, err := r.work.Shop.AddShop(owner, shop.NewShop{Name: "Second", Currency: "USD", Unit: "lb"})
	if err != nil {
		t.Fatal(err)
	}
	shops, err := r.store.Shops(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	second, err := r.work.People.MemberCaller(t.Context(), shops[1].ID, "owner")
	if err != nil {
		t.Fatal(err)
	}
	r.withPassword("cutter")
	_, link, err := r.work.People.AddPerson(audit.As(t.Context(), second),
		people.Account{Name: "Called otherwise", Email: "cutter@test.example", Role: "yield_desk"})
	if err != nil {
		t.Fatal(err)
	}
	r.signIn("cutter")
	if p := r.fails("PUT", base+"/session/shop", map[string]any{"shop_id": id}); p.Status != 404 {
		t.Errorf("into a shop that one has not joined: %d", p.Status)
	}
	if _, err := r.work.People.ChoosePassword(t.Context(), link, password, audit.Where{}); err != nil {
		t.Fatal(err)
	}
	r.signIn("cutter")
	r.ok("POST", base+"/lots", arrival("T-1"), nil)
	if p := r.fails("GET", base+"/audit", nil); p.Status != 403 {
		t.Errorf("a cutter reads the audit: %d", p.Status)
	}
	r.ok("PUT", base+"/session/shop", map[string]any{"shop_id": id}, nil)
	var me struct {
		Name, Role string
		Shops      []struct{ Name, Role string }
	}
	r.ok("GET", base+"/me", nil, &me)
	if me.Name != "Called otherwise" || me.Role != "yield_desk" || len(me.Shops) != 2 {
		t.Errorf("in the second shop: %+v", me)
	}
	pieces := r.queue()
	if len(pieces) != 0 {
		t.Error("the first shop's pieces hang on the second shop's rail")
	}
	// an owner of one shop cannot take over somebody who is in others too
	cutterID := func() string {
		people, err := r.work.People.People(owner)
		if err != nil {
			t.Fatal(err)
		}
		return people[slices.IndexFunc(people,
			func(m store.MemberRow) bool { return m.Email == "cutter@test.example" })].PublicID
	}()
	person, err := r.store.PersonByEmail(t.Context(), "cutter@test.example")
	if err != nil {
		t.Fatal(err)
	}
	if err := r.store.SetPassword(t.Context(), person.ID, "$argon2id$something"); err != nil {
		t.Fatal(err)
	}
	r.signIn("owner")
	if p := r.fails("POST", base+"/people/"+cutterID+"/link", nil); p.Status != 409 || !has(p, "", "other_shops") {
		t.Errorf("a link for somebody of two shops: %+v", p)
	}
	// who leaves one of two shops, and takes their name along, keeps the account for the other
	r.ok("PUT", base+"/people/"+cutterID, `{"name":"Cutter","role":"cutter","active":false,"version":1}`, nil)
	r.ok("PUT", base+"/people/"+cutterID+"/pseudonym", nil, nil)
	if again, err := r.store.PersonByEmail(t.Context(), "cutter@test.example"); err != nil || again.ID != person.ID {
		t.Errorf("the account for the second shop: %+v, %v", again, err)
	}
	if shops, err := r.store.ShopsOf(t.Context(), person.ID); err != nil || len(shops) != 1 ||
		shops[0].ShopName != "Second" {
		t.Errorf("is in %+v, %v", shops, err)
	}
}
