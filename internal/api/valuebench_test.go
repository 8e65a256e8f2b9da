package api

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"gorm.io/gorm"

	"falda/internal/api/contract"
)

// manyResults enters so many closed breakdowns over a year, straight into the tables, with fifteen cells each where
// they are asked for: two plans, five suppliers.
func (r *rig) manyResults(n int, withCells bool) {
	r.t.Helper()
	db := r.store.DB()
	exec := func(sql string, args ...any) {
		r.t.Helper()
		if err := db.Exec(sql, args...).Error; err != nil {
			r.t.Fatal(err)
		}
	}
	shop, err := r.store.FirstShop(r.t.Context())
	if err != nil {
		r.t.Fatal(err)
	}
	var bench int64
	if err := db.Raw("SELECT MIN(id) FROM benches").Scan(&bench).Error; err != nil {
		r.t.Fatal(err)
	}
	exec("INSERT INTO lots (public_id, shop_id, lot_number, supplier, atlas_id, pieces, total_mg, price, price_per, "+
		"slaughtered_on, packed_on, findings, received_at) VALUES (UUID(), ?, 'MANY', 'A croft', 'beef.top_sirloin', ?, ?, "+
		"11.4, 'kg', '2026-01-01', '2026-01-02', '[]', NOW())", shop.ID, n, int64(n)*6_600_000)
	seq := fmt.Sprintf("(SELECT seq FROM seq_1_to_%d) s", n) // MariaDB's sequence engine
	exec("INSERT INTO pieces (public_id, shop_id, lot_id, number, label_mg, plan_id) SELECT UUID(), ?, (SELECT MAX(id) "+
		"FROM lots), s.seq, 6600000, IF(s.seq % 2, 'seamed', 'traditional') FROM "+seq, shop.ID)
	exec("INSERT INTO breakdowns (public_id, shop_id, piece_id, bench_id, plan_id, created_at, state, events, input_mg, "+
		"output_mg, loss_mg, minutes, closed_at, judged_at, priced_at, prices) SELECT UUID(), ?, p.id, ?, p.plan_id, "+
		"NOW(), 'closed', 12, 6600000, 6550000, 50000, 17, DATE_ADD('2025-03-21', INTERVAL p.number % 365 DAY), NOW(), "+
		"NOW(), '{\"products\":{},\"labour_rate\":\"24\",\"packaging_per_kg\":\"0.12\"}' FROM pieces p", shop.ID, bench)
	exec(`INSERT INTO results (breakdown_id, shop_id, atlas_id, plan_id, plan_name, cut, supplier, closed_at,
		closed_on, input_mg, meat_mg, by_products_mg, waste_mg, loss_mg, minutes, priced, sales, packaging, labour,
		discard, purchase, value_per_kg, before_purchase_per_kg)
		SELECT d.id, d.shop_id, 'beef.top_sirloin', d.plan_id, d.plan_id, IF(d.plan_id = 'seamed', 'seams', 'straight'),
		CONCAT('Croft ', d.id % 5), d.closed_at, DATE(d.closed_at), 6600000, 5800000 + (d.id * 7919 % 90000), 600000,
		150000, 50000, 17, 1, 113.8, 0.7, 6.8, 0, 75.24, 4.5 + (d.id * 104729 % 100) / 100, 15.9 + (d.id * 104729 % 100) /
		100 FROM breakdowns d`)
	if !withCells {
		return
	}
	rng := rand.New(rand.NewPCG(3, 4))
	var cells []string
	for i := range 15 {
		exec("INSERT INTO result_kinds (shop_id, part, product_key, fate) VALUES (?, ?, ?, 'sold')", shop.ID,
			fmt.Sprint("part", i%9), fmt.Sprint("beef.product", i))
		cells = append(cells,
			fmt.Sprintf("SELECT 'beef.product%d' AS product_key, %d AS mass, %.4f AS price", i, 200_000+rng.IntN(500_000),
				8+20*rng.Float64()))
	}
	exec("INSERT INTO result_cells (breakdown_id, kind_id, mass_mg, sales) SELECT d.id, k.id, c.mass + d.id % 977, " +
		"(c.mass + d.id % 977) * c.price / 1000000 FROM breakdowns d CROSS JOIN (" + strings.Join(cells, " UNION ALL ") +
		") c JOIN result_kinds k ON k.product_key = c.product_key")
	exec("ANALYZE TABLE results, result_cells, result_kinds, breakdowns")
}

// BenchmarkCompareGroups lays two groups of 5,000 recorded pieces each, 150,000 outputs, beside each other;
// ratio-to-sum is to the plainest sum over the same rows in the same run. The aim is 2 or less.
func BenchmarkCompareGroups(b *testing.B) {
	r := newRig(b)
	r.manyResults(10_000, true)
	db := r.store.DB()
	shop, err := r.store.FirstShop(b.Context())
	if err != nil {
		b.Fatal(err)
	}
	alternative := func(plan string) map[string]any {
		return map[string]any{"kind": "group", "atlas_id": "beef.top_sirloin", "plan_id": plan}
	}
	body := map[string]any{"alternatives": []map[string]any{alternative("traditional"), alternative("seamed")}}
	ours, plain := 0.0, 0.0
	for b.Loop() {
		start := time.Now()
		var d contract.Desk
		r.ok("POST", base+"/comparisons", body, &d)
		ours += time.Since(start).Seconds()
		if d.Alternatives[0].Pieces != 5000 || d.Alternatives[1].Pieces != 5000 {
			b.Fatal(d.Alternatives[0].Pieces, d.Alternatives[1].Pieces)
		}
		start = time.Now()
		for _, plan := range []string{"traditional", "seamed"} {
			var sum struct{ Mass, Sales float64 }
			if err := db.Raw("SELECT SUM(c.mass_mg) AS mass, SUM(c.sales) AS sales FROM results r JOIN result_cells c ON "+
				"c.breakdown_id = r.breakdown_id WHERE r.shop_id = ? AND r.atlas_id = 'beef.top_sirloin' AND r.plan_id = ?",
				shop.ID, plan).Scan(&sum).Error; err != nil || sum.Mass == 0 {
				b.Fatal(sum, err)
			}
		}
		plain += time.Since(start).Seconds()
	}
	b.ReportMetric(ours/plain, "ratio-to-sum")
}

// Rule: history over a year of 20,000 breakdowns is one query for a picture, and its page data stays below 200 kB.
func TestHistoryOfAYearIsSmall(t *testing.T) {
	if testing.Short() {
		t.Skip("much data: it runs by itself")
	}
	r := newRig(t)
	r.manyResults(20_000, false)
	var asked atomic.Int64
	count := func(db *gorm.DB) {
		if strings.Contains(db.Statement.SQL.String(), "FROM results r") {
			asked.Add(1)
		}
	}
	for name, register := range map[string]func(string,
		func(*gorm.DB)) error{"query": r.store.DB().Callback().Query().After("gorm:query").Register,
		"row": r.store.DB().Callback().Row().After("gorm:row").Register} {
		if err := register("falda:count:"+name, count); err != nil {
			t.Fatal(err)
		}
	}
	for _, by := range []string{"week", "month", "supplier", "plan", "cutter", "piece"} {
		asked.Store(0)
		status, _, raw := r.do("GET", base+"/history?measure=before_purchase&by="+by, nil)
		if status != 200 || len(raw) > 200_000 || len(raw) < 100 {
			t.Errorf("by %s: %d, %d bytes", by, status, len(raw))
		}
		if n := asked.Load(); n != 1 {
			t.Errorf("by %s: %d queries", by, n)
		}
	}
	if status, _, raw := r.do("GET", base+"/history/pieces", nil); status != 200 || len(raw) > 200_000 {
		t.Errorf("the pieces: %d, %d bytes", status, len(raw))
	}
}
