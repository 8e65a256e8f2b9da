package api

import (
	"database/sql"
	"fmt"
	"os"
	"runtime"
	"slices"
	"strings"
	"testing"
	"time"

	"gorm.io/gorm"

	"falda/internal/testdb"
)

// A thousand shops of a thousand pieces each, beside one shop of a hundred: every GET of the contract is asked many
// times in both, and its times and the rows that the database examines are printed side by side. It takes long and much
// disk, so that it runs by itself: make scale; FALDA_SCALE says how many shops of how many pieces, such as "1000x1000",
// and FALDA_PATHS, if given, what the questions' paths hold.
//
// Rule: what a shop is asked does not grow with its neighbours or its past: no question examines more than 5,000 rows,
// whatever lies there; what adds up results reads those. Times are printed and not judged: they depend on the machine.
func TestScale(t *testing.T) {
	text := os.Getenv("FALDA_SCALE")
	if text == "" {
		t.Skip("make scale")
	}
	var shops, pieces int
	if n, err := fmt.Sscanf(text, "%dx%d", &shops, &pieces); n != 2 || err != nil || shops < 1 || pieces < 100 {
		t.Fatalf("FALDA_SCALE=%s: give shops and pieces of each, at least 100, such as 1000x1000", text)
	}
	roomy(t)
	small := newRig(t)
	a := small.grown(100)
	few := small.times(a)
	before := memory()
	large := newRig(t)
	b := large.grown(pieces)
	large.neighbours(b.shop, shops-1)
	many := large.times(b)
	t.Logf("the program holds %.0f MB after the questions of the one, %.0f MB after those of the other", before, memory())
	t.Logf("one shop of 100 pieces, and one of %d among %d", pieces, shops)
	t.Logf("%8s %8s %6s   %8s %8s %6s   %5s", "p50 ms", "p95 ms", "rows", "p50 ms", "p95 ms", "rows", "ratio")
	slow := 0
	for i, x := range few {
		y := many[i]
		ratio := float64(y.p95) / float64(max(x.p95, 2*time.Millisecond)) // below two milliseconds it is noise
		if ratio > 1.5 {
			slow++
		}
		ms := func(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }
		t.Logf("%8.1f %8.1f %6d   %8.1f %8.1f %6d   %5.2f  %s", ms(x.p50), ms(x.p95), x.rows, ms(y.p50), ms(y.p95), y.rows,
			ratio, y.path)
		if y.rows > 5000 && !strings.HasPrefix(y.path, "/history") { // which adds up results, one row of each piece
			t.Errorf("%s examines %d rows", y.path, y.rows)
		}
	}
	t.Logf("%d of %d questions take more than 1.5 times as long", slow, len(few))
}

// memory is what the program holds once what it no longer needs is gone, in megabytes.
func memory() float64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return float64(m.HeapAlloc) / 1e6
}

// roomy gives the database what one for so many shops would have, 14 GB of memory, and lets it fill without waiting for
// the disk.
func roomy(t *testing.T) {
	t.Helper()
	db, err := sql.Open("mysql", testdb.Server.OwnerDSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, s := range []string{"innodb_buffer_pool_size = 14 << 30", "innodb_log_file_size = 10 << 30",
		"innodb_flush_log_at_trx_commit = 0", "innodb_max_dirty_pages_pct_lwm = 0", "innodb_max_dirty_pages_pct = 95"} {
		if _, err := db.Exec("SET GLOBAL " + s); err != nil {
			t.Fatal(err)
		}
	}
}

// grown is a rig whose first shop has one of everything and so many pieces more, a tenth of them waiting.
func (r *rig) grown(pieces int) furnished {
	r.t.Helper()
	a := r.furnish(asRole(r.t, r.work, "owner"), "zzA")
	r.onBench("SCALE-1", "seamed")
	a.ids["closed"] = r.cutHand(r.onBench("SCALE-2", "seamed")).Id
	r.fillPieces(pieces*9/10, pieces/10)
	r.bulk("INSERT INTO outputs (shop_id, breakdown_id, node, parent, kind, part, product, mass_mg, at) SELECT " +
		"o.shop_id, " +
		"o.breakdown_id, UUID(), o.node, 'trimmed', 'trim', '', 10000 + s.seq, o.at FROM outputs o CROSS JOIN " + seq(28) +
		" WHERE o.kind = 'seamed_off' AND o.part = 'cap'")
	r.fillTastings()
	if err := r.work.Prepare(r.t.Context()); err != nil {
		r.t.Fatal(err)
	}
	return a
}

// answered is how long a question took, and what it made the database read.
type answered struct {
	path     string
	p50, p95 time.Duration
	rows     int
}

// times asks every GET of the contract many times.
func (r *rig) times(a furnished) []answered {
	r.t.Helper()
	repeats := howMany(r.t, "FALDA_REPEATS", 40)
	var out []answered
	own := r.rowsRead()
	own = r.rowsRead() - own
	for _, path := range readable() {
		if !strings.Contains(path, os.Getenv("FALDA_PATHS")) {
			continue
		}
		filled := a.filled(path)
		for _, query := range queriesOf(a, path) {
			var took []time.Duration
			x := answered{path: path + query}
			for i := range repeats {
				rows := r.rowsRead()
				begun := time.Now()
				status, answer := r.call(r.mine(), "GET", base+filled+query, "")
				took = append(took, time.Since(begun))
				if i == repeats-1 {
					x.rows = r.rowsRead() - rows - own
				}
				if status != 200 {
					r.t.Fatalf("%s%s: %d %.200s", path, query, status, answer)
				}
			}
			slices.Sort(took)
			x.p50, x.p95 = took[repeats/2], took[(repeats*95+99)/100-1]
			out = append(out, x)
		}
	}
	return out
}

// neighbours copies a shop so many times, with all that it has: each copy has ids of its own, and what points within
// the shop points within the copy.
func (r *rig) neighbours(shop int64, n int) {
	r.t.Helper()
	tables := r.tablesOfShops()
	var bytes int64
	if err := r.store.DB().
		Raw("SELECT SUM(DATA_LENGTH + INDEX_LENGTH) FROM information_schema.TABLES WHERE TABLE_SCHEMA = " +
			"DATABASE()").Scan(&bytes).Error; err != nil {
		r.t.Fatal(err)
	}
	fmt.Fprintf(os.Stderr, "%d shops of %.1f MB each: about %.1f GB of disk\n", n+1, float64(bytes)/1e6,
		float64(bytes)*float64(n+1)/1e9)
	begun := time.Now()
	for k := 1; k <= n; k++ {
		err := r.store.DB().Connection(func(tx *gorm.DB) error {
			if err := tx.Exec("SET foreign_key_checks = 0, unique_checks = 0").Error; err != nil {
				return err
			}
			for _, t := range tables {
				if err := tx.Exec(t.copied(shop, k)).Error; err != nil {
					return fmt.Errorf("%s: %w", t.name, err)
				}
			}
			return tx.Exec("SET foreign_key_checks = 1, unique_checks = 1").Error
		})
		if err != nil {
			r.t.Fatal(err)
		}
		if k%50 == 0 {
			fmt.Fprintf(os.Stderr, "%d shops after %s\n", k, time.Since(begun).Round(time.Second))
		}
	}
	for _, t := range tables {
		r.bulk("ANALYZE TABLE " + t.name)
	}
}

// shopTable is a table with what of it is another in a copy.
type shopTable struct {
	name    string
	columns []string
	within  map[string]bool // columns that point within the shop
	ids     map[string]bool // columns that hold public ids
}

// far is how far the ids of one copy are from those of the next; more than a shop has rows of a kind.
const far = 1_000_000

// copied is the statement that copies the rows of a shop into its k-th copy.
func (t shopTable) copied(shop int64, k int) string {
	var values []string
	for _, c := range t.columns {
		switch {
		case t.within[c]:
			values = append(values, fmt.Sprintf("%s + %d", c, k*far))
		case t.ids[c]:
			values = append(values, fmt.Sprintf("IF(%[1]s = '', '', CONCAT(LEFT(%[1]s, "+
				"CHAR_LENGTH(%[1]s) - 6), HEX(%[2]d)))", c, 0xA00000+k))
		default:
			values = append(values, c)
		}
	}
	of := "shop_id ="
	switch t.name {
	case "shops":
		of = "id ="
	case "people": // each shop has its own
		of = "id IN (SELECT person_id FROM members WHERE shop_id ="
	}
	list := strings.Join(t.columns, ", ")
	return fmt.Sprintf("INSERT INTO %s (%s) SELECT %s FROM %s WHERE %s %d%s", t.name, list, strings.Join(values, ", "),
		t.name, of, shop, map[bool]string{true: ")"}[t.name == "people"])
}

// tablesOfShops are the tables that hold what a shop has, read from the database's own description of itself.
func (r *rig) tablesOfShops() []shopTable {
	r.t.Helper()
	var columns []struct{ T, C, K string }
	if err := r.store.DB().Raw("SELECT TABLE_NAME t, CONCAT('`', COLUMN_NAME, '`') c, COLUMN_KEY k FROM " +
		"information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND GENERATION_EXPRESSION IS NULL AND (TABLE_NAME = " +
		"'shops' OR TABLE_NAME = 'people' OR TABLE_NAME IN (SELECT TABLE_NAME FROM information_schema.COLUMNS WHERE " +
		"TABLE_SCHEMA = DATABASE() AND " +
		"COLUMN_NAME = 'shop_id')) ORDER BY TABLE_NAME, ORDINAL_POSITION").Scan(&columns).Error; err != nil {
		r.t.Fatal(err)
	}
	var foreign []struct{ T, C, R string }
	if err := r.store.DB().Raw("SELECT TABLE_NAME t, CONCAT('`', COLUMN_NAME, '`') c, REFERENCED_TABLE_NAME r FROM " +
		"information_schema.KEY_COLUMN_USAGE WHERE TABLE_SCHEMA = DATABASE() AND REFERENCED_TABLE_NAME IS NOT NULL").
		Scan(&foreign).Error; err != nil {
		r.t.Fatal(err)
	}
	var single []struct{ T, C string } // columns that are unique by themselves
	if err := r.store.DB().Raw("SELECT TABLE_NAME t, CONCAT('`', MAX(COLUMN_NAME), '`') c FROM " +
		"information_schema.STATISTICS WHERE TABLE_SCHEMA = DATABASE() AND NON_UNIQUE = 0 AND INDEX_NAME <> 'PRIMARY' " +
		"GROUP " +
		"BY TABLE_NAME, INDEX_NAME HAVING COUNT(*) = 1").Scan(&single).Error; err != nil {
		r.t.Fatal(err)
	}
	var out []shopTable
	for _, c := range columns {
		if len(out) == 0 || out[len(out)-1].name != c.T {
			out = append(out, shopTable{name: c.T, within: map[string]bool{}, ids: map[string]bool{}})
		}
		t := &out[len(out)-1]
		t.columns = append(t.columns, c.C)
		name := strings.Trim(c.C, "`")
		t.within[c.C] = name == "id" || name == "shop_id"
		t.ids[c.C] = name == "public_id" || name == "node" || name == "parent" || name == "target" || name == "together"
	}
	for _, u := range single {
		if i := slices.IndexFunc(out, func(t shopTable) bool { return t.name == u.T }); i >= 0 && !out[i].within[u.C] {
			out[i].ids[u.C] = true
		}
	}
	for _, f := range foreign {
		i := slices.IndexFunc(out, func(t shopTable) bool { return t.name == f.T })
		if i >= 0 && slices.ContainsFunc(out, func(t shopTable) bool { return t.name == f.R }) {
			out[i].within[f.C], out[i].ids[f.C] = true, false
		}
	}
	return out
}
