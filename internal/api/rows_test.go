package api

import (
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"
)

// How much the large shop has: breakdowns with twelve events each, over four years, in lots of five.
const (
	manyPieces  = 20_000
	manyWaiting = 2_000
	manyEvents  = 12
)

// fillShop fills the first shop in bulk, beside what it has: pieces that were cut, with their logs, outputs and
// results; pieces that wait; tastings, trials, prices, links and the audit of all of it.
func (r *rig) fillShop() {
	r.t.Helper()
	r.fillPieces(manyPieces, manyWaiting)
	r.fillTastings()
}

// bulk runs a statement that fills tables; seq is a table of so many rows, by MariaDB's sequence engine.
func (r *rig) bulk(sql string, args ...any) {
	r.t.Helper()
	if err := r.store.DB().Exec(sql, args...).Error; err != nil {
		r.t.Fatalf("%v\n%s", err, sql)
	}
}

func seq(n int) string { return fmt.Sprintf("(SELECT seq FROM seq_1_to_%d) s", n) }

func (r *rig) fillPieces(cut, waiting int) {
	r.t.Helper()
	exec := r.bulk
	shop, err := r.store.FirstShop(r.t.Context())
	if err != nil {
		r.t.Fatal(err)
	}
	lots := (cut + waiting) / 5
	exec("INSERT INTO lots (public_id, shop_id, lot_number, supplier, atlas_id, pieces, total_mg, price, price_per, "+
		"slaughtered_on, packed_on, findings, received_at) SELECT UUID(), ?, CONCAT('BULK-', s.seq), "+
		"CONCAT('Supplier ', s.seq % 7), ELT(1 + s.seq % 3, 'beef.top_sirloin', 'beef.knuckle', 'lamb.leg_chump'), 5, "+
		"33000000, 11.4, 'kg', '2026-01-01', '2026-01-02', '[]', "+
		"DATE_SUB('2026-03-19', INTERVAL ? - s.seq HOUR) FROM "+seq(lots), shop.ID, lots)
	exec("INSERT INTO pieces (public_id, shop_id, lot_id, number, label_mg, plan_id, started) SELECT UUID(), ?, l.id, "+
		"s.seq, 6600000, 'seamed', CAST(SUBSTRING(l.lot_number, 6) AS INT) <= ? FROM lots l CROSS JOIN "+seq(5)+
		" WHERE l.lot_number LIKE 'BULK-%'", shop.ID, cut/5)
	exec("INSERT INTO breakdowns (public_id, shop_id, piece_id, bench_id, plan_id, plan, created_at, state, events, "+
		"input_mg, output_mg, loss_mg, minutes, closed_at, judged_at, gain_per_kg) SELECT UUID(), ?, p.id, "+
		"(SELECT MIN(id) FROM benches), 'seamed', '{\"id\":\"seamed\",\"name\":\"Seamed\"}', l.received_at, 'closed', ?, "+
		"6600000, 6550000, 50000, 17, l.received_at, l.received_at, 1.2 FROM pieces p JOIN lots l ON l.id = p.lot_id "+
		"WHERE p.started AND l.lot_number LIKE 'BULK-%'", shop.ID, manyEvents)
	exec("INSERT INTO events (public_id, shop_id, breakdown_id, seq, bench_id, member_id, kind, at, received_at, role, " +
		"node, part, product, net_mg, gross_mg, tare_mg, division_mg, source, count, target, reason, note) " +
		"SELECT UUID(), d.shop_id, d.id, s.seq, d.bench_id, (SELECT MIN(id) FROM members) + d.id % 3, " +
		"IF(s.seq = 1, 'opened', 'noted'), d.created_at, d.created_at, 'cutter', '', '', '', 0, 0, 0, 0, 'typed', 0, '', " +
		"'', 'bulk' FROM breakdowns d CROSS JOIN " + seq(manyEvents) + " WHERE d.gain_per_kg = 1.2 AND d.prices IS NULL")
	exec("INSERT INTO outputs (shop_id, breakdown_id, node, parent, kind, part, product, mass_mg, at) SELECT d.shop_id, " +
		"d.id, e.public_id, '', 'opened', '', '', 6600000, e.at FROM breakdowns d JOIN events e ON e.breakdown_id = d.id " +
		"AND e.kind = 'opened' WHERE d.gain_per_kg = 1.2 AND d.prices IS NULL")
	exec("INSERT INTO outputs (shop_id, breakdown_id, node, parent, kind, part, product, mass_mg, at) SELECT o.shop_id, " +
		"o.breakdown_id, UUID(), o.node, 'seamed_off', 'cap', '', 950000 + o.id % 1000, o.at FROM outputs o JOIN " +
		"breakdowns d ON d.id = o.breakdown_id WHERE d.gain_per_kg = 1.2 AND d.prices IS NULL AND o.kind = 'opened'")
	exec(`INSERT INTO results (breakdown_id, shop_id, atlas_id, plan_id, plan_name, cut, supplier, member_id, closed_at,
		closed_on, input_mg, meat_mg, by_products_mg, waste_mg, loss_mg, minutes, priced, sales, packaging, labour,
		discard, purchase, value_per_kg, before_purchase_per_kg)
		SELECT d.id, d.shop_id, l.atlas_id, d.plan_id, 'Seamed', 'seams', l.supplier, (SELECT MIN(id) FROM members) +
		d.id % 3, d.closed_at, DATE(d.closed_at), 6600000, 5800000, 600000, 150000, 50000, 17, 1, 113.8, 0.7, 6.8, 0, 75.24,
		4.5 + d.id % 9 / 10, 15.9 FROM breakdowns d JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id
		WHERE d.gain_per_kg = 1.2 AND d.prices IS NULL`)
	exec("INSERT INTO result_kinds (shop_id, part, product_key, fate) VALUES (?, 'bulk', 'beef.bulk', 'sold')", shop.ID)
	exec("INSERT INTO result_cells (breakdown_id, kind_id, mass_mg, sales) SELECT breakdown_id, (SELECT id FROM " +
		"result_kinds WHERE part = 'bulk'), 950000, 18.5 FROM results WHERE plan_name = 'Seamed'")
	exec("INSERT INTO audit (shop_id, at, member_id, name, role, via, bench, action, subject, subject_name, request, "+
		"address) SELECT ?, l.received_at, NULL, 'Bulk', 'owner', 'program', '', 'lot.received', l.public_id, l.lot_number, "+
		"'', '' FROM lots l WHERE l.lot_number LIKE 'BULK-%'", shop.ID)
	exec("INSERT INTO trials (public_id, shop_id, name, atlas_id, plan_a, plan_b, state, created_at) SELECT UUID(), ?, "+
		"CONCAT('Bulk ', s.seq), 'beef.top_sirloin', 'traditional', 'seamed', 'void', NOW() FROM "+seq(600), shop.ID)
	exec("INSERT INTO trial_pairs (shop_id, trial_id, number, piece_a, piece_b) SELECT t.shop_id, t.id, 1, " +
		"(SELECT MIN(id) FROM pieces), (SELECT MAX(id) FROM pieces) FROM trials t WHERE t.name LIKE 'Bulk %'")
	// what was cut of each is long sold
	exec("INSERT INTO goods (public_id, shop_id, kind, product_key, breakdown_id, made_on, use_by, first_use_by, " +
		"made_mg, " +
		"change_mg) SELECT UUID(), shop_id, 'stream', 'beef.mince_trim', id, '2026-01-05', '2026-01-07', '2026-01-07', " +
		"500000, -500000 FROM breakdowns WHERE state = 'closed' AND id NOT IN (SELECT breakdown_id FROM goods WHERE " +
		"breakdown_id IS NOT NULL)")
	exec("INSERT INTO goods_events (public_id, shop_id, together, goods_id, kind, change_mg, at, received_at) SELECT " +
		"UUID(), " +
		"shop_id, UUID(), id, 'sold', -500000, NOW(), NOW() FROM goods WHERE change_mg <> 0")
	exec("ANALYZE TABLE lots, pieces, breakdowns, events, outputs, results, result_cells, audit, trials, goods, " +
		"goods_events")
}

func (r *rig) fillTastings() {
	r.t.Helper()
	exec := r.bulk
	shop, err := r.store.FirstShop(r.t.Context())
	if err != nil {
		r.t.Fatal(err)
	}
	exec("INSERT INTO tastings (public_id, shop_id, name, held_on, assessors, seed, state, created_at, closed_at) SELECT "+
		"UUID(), ?, CONCAT('Bulk ', s.seq), DATE_SUB('2026-03-19', INTERVAL s.seq DAY), 12, 1, 'closed', NOW(), NOW() FROM "+
		seq(200), shop.ID)
	exec("INSERT INTO tasting_samples (shop_id, tasting_id, number, code, atlas_id, part, method) SELECT t.shop_id, " +
		"t.id, " +
		"s.seq, 100 + s.seq, 'beef.top_sirloin', ELT(1 + s.seq % 4, 'cap', 'heart_main', 'mouse', 'tri_tip'), " +
		"ELT(1 + s.seq % 2, 'grill', 'roast') FROM tastings t CROSS JOIN " + seq(8) + " WHERE t.name LIKE 'Bulk %'")
	exec("INSERT INTO tasting_sheets (shop_id, tasting_id, sample_id, assessor, tenderness, juiciness, flavour, " +
		"overall, " +
		"source, at) SELECT p.shop_id, p.tasting_id, p.id, s.seq, 60, 60, 60, 60, 'paper', NOW() FROM tasting_samples p " +
		"JOIN tastings t ON t.id = p.tasting_id CROSS JOIN " + seq(12) + " WHERE t.name LIKE 'Bulk %'")
	exec("ANALYZE TABLE tastings, tasting_samples, tasting_sheets")
}

// rowsRead is how many rows the database has read since it began.
func (r *rig) rowsRead() int {
	r.t.Helper()
	var n int
	if err := r.store.DB().
		Raw("SELECT CAST(SUM(VARIABLE_VALUE) AS INT) FROM information_schema.GLOBAL_STATUS WHERE VARIABLE_NAME " +
			"LIKE 'HANDLER_READ%'").Scan(&n).Error; err != nil {
		r.t.Fatal(err)
	}
	return n
}

// maxRows is how many rows a question may make the database read, whatever the shop holds. Adding results up takes what
// there is of them: maxPerResult for each.
const (
	maxRows      = 6000
	maxPerResult = 4
)

// readable are the paths that are read, but for streams and for files of all that is kept of a person, which hold all
// that they did and are written while they are read.
func readable() []string {
	var paths []string
	for route := range rights {
		path, get := strings.CutPrefix(route, "GET ")
		whole := strings.HasSuffix(path, "/stream") || path == "/me/data" || path == "/people/{member_id}/data"
		if get && !whole {
			paths = append(paths, path)
		}
	}
	slices.Sort(paths)
	return paths
}

// filled puts the shop's ids into a path; what compares takes the piece that is closed.
func (f furnished) filled(path string) string {
	ids := maps.Clone(f.ids)
	if strings.HasSuffix(path, "/comparison") || strings.HasSuffix(path, "/yields") {
		ids["breakdown_id"] = f.ids["closed"]
	}
	for name, id := range ids {
		path = strings.ReplaceAll(path, "{"+name+"}", id)
	}
	return strings.NewReplacer("{link}", f.link, "{share_link}", f.share, "{product_id}", "cap_steak").Replace(path)
}

// queriesOf are the questions that a path is asked; none where it takes none.
func queriesOf(a furnished, path string) []string {
	queries := map[string][]string{
		"/sales/export": {"?format=csv"}, "/instead": {"?product_key=beef.cap_steak"},
		"/learning/export": {"?format=csv"}, "/learning/sitting": {"", "?piece=beef.top_sirloin"},
		"/notes":                            {"?piece=beef.top_sirloin"},
		"/atlas/pieces/{atlas_id}/straight": {"?plan_id=traditional"},
		"/audit": {"", "?text=BULK-7", "?member=" + a.ids["member_id"], "?bench=North", "?action=lot.received",
			"?from=2025-11-01&to=2025-11-02"},
		"/breakdowns": {"", "?text=BULK-7", "?text=Supplier+3", "?text=cutter", "?state=open", "?state=closed",
			"?text=unicorn", "?from=2025-11-01&to=2025-11-02"},
		"/atlas/search":   {"?q=rump"},
		"/search":         {"?q=rump", "?q=BULK", "?q=Supplier+3"},
		"/trials/needed":  {"?difference=1&atlas_id=beef.top_sirloin&plan_a=traditional&plan_b=seamed"},
		"/history":        {"?by=week&measure=value&atlas_id=beef.top_sirloin", "?by=cutter&measure=yield"},
		"/history/pieces": {"?by=week&measure=value", "?by=supplier&bucket=Supplier+3"},
		"/audit/export":   {"?format=csv&from=2026-03-19"}, "/breakdowns/export": {"?format=csv&from=2026-03-19"},
		"/orders": {"", "?ended=true"}, "/orders/export": {"?format=csv"}, "/orders/{order_id}/slip": {"?format=csv"},
		"/day/export": {"?format=csv"}, "/goods/export": {"?format=csv"}, "/lots/{lot_id}/recall/export": {"?format=csv"},
		"/recipes/{recipe_id}/scaled": {"?weight=3"},
		"/prices/export":              {"?format=csv"}, "/tastings/{tasting_id}/export": {"?format=csv"},
	}
	if list := queries[path]; list != nil {
		return list
	}
	return []string{""}
}

// Rule: no question reads a whole shop. With 20,000 pieces and 240,000 events each GET of the contract examines a
// bounded number of rows; what adds up results is bounded by the results it adds up.
func TestNoQuestionReadsAWholeShop(t *testing.T) {
	if testing.Short() {
		t.Skip("much data: it runs by itself")
	}
	r := newRig(t)
	a := r.furnish(asRole(t, r.work, "owner"), "zzA")
	r.onBench("ROWS-1", "seamed")
	a.ids["closed"] = r.cutHand(r.onBench("ROWS-2", "seamed")).Id
	r.fillShop()
	if err := r.work.Prepare(t.Context()); err != nil {
		t.Fatal(err)
	}
	before := r.rowsRead()
	own := r.rowsRead() - before // of the question itself
	asked := 0
	for _, path := range readable() {
		filled := a.filled(path)
		for _, query := range queriesOf(a, path) {
			was := r.rowsRead()
			status, answer := r.call(visitor{token: func() string { return r.token }}, "GET", base+filled+query, "")
			n, limit := r.rowsRead()-was-own, maxRows
			if path == "/history" {
				limit = maxPerResult * manyPieces
			}
			if os.Getenv("FALDA_ROWS") != "" {
				t.Logf("%7d  %s%s (%d bytes)", n, path, query, len(answer))
			}
			if asked++; status != 200 {
				t.Errorf("%s%s: %d %.200s", path, query, status, answer)
			}
			if n > limit {
				t.Errorf("%s%s reads %d rows, more than %d", path, query, n, limit)
			}
			if len(answer) > 600<<10 {
				t.Errorf("%s%s sends %d bytes", path, query, len(answer))
			}
		}
	}
	if asked < 60 {
		t.Errorf("only %d questions were asked", asked)
	}
}

// Rule: a list that goes on gives every row once, in its order, whatever is on a page; a search finds what lies far
// back.
func TestLongListsGoOn(t *testing.T) {
	if testing.Short() {
		t.Skip("much data: it runs by itself")
	}
	r := newRig(t)
	r.furnish(asRole(t, r.work, "owner"), "zzA")
	r.fillShop()
	pages := func(path, rows string, most int) (ids []string, asked int) {
		t.Helper()
		for after := ""; asked < most; {
			var page map[string]json.RawMessage
			sign := map[bool]string{true: "&", false: "?"}[strings.Contains(path, "?")]
			r.ok("GET", base+path+sign+"after="+after, nil, &page)
			var list []map[string]any
			if err := json.Unmarshal(page[rows], &list); err != nil {
				t.Fatal(err)
			}
			for _, x := range list {
				if card, ok := x["card"].(map[string]any); ok {
					x = card
				}
				ids = append(ids, fmt.Sprint(x["id"], x["breakdown_id"]))
			}
			asked++
			if page["next"] == nil {
				return ids, asked
			}
			if err := json.Unmarshal(page["next"], &after); err != nil {
				t.Fatal(err)
			}
		}
		t.Errorf("%s does not end after %d pages", path, most)
		return ids, asked
	}
	for path, c := range map[string]struct {
		rows      string
		atLeast   int
		mostPages int
	}{
		"/lots": {"lots", (manyPieces + manyWaiting) / 5, 60}, "/pieces": {"pieces", manyWaiting, 20},
		"/readiness": {"pieces", manyWaiting, 20}, "/trials": {"trials", 600, 20}, "/tastings": {"tastings", 200, 10},
		"/history/pieces?by=supplier&bucket=Supplier+3&atlas_id=beef.knuckle": {"pieces", 900, 40},
	} {
		ids, _ := pages(path, c.rows, c.mostPages)
		if slices.Sort(ids); len(slices.Compact(slices.Clone(ids))) != len(ids) || len(ids) < c.atLeast {
			t.Errorf("%s: %d rows, %d of them once, want at least %d", path, len(ids), len(slices.Compact(ids)), c.atLeast)
		}
	}
	found, asked := pages("/breakdowns?text=BULK-17", "breakdowns", 100) // of lots 17, 170 to 179 and 1700 to 1799
	if len(found) != 5*111 || asked < 10 {
		t.Errorf("%d breakdowns of the lots on %d pages, want %d", len(found), asked, 5*111)
	}
}
