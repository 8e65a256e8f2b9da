package backup_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"falda/internal/backup"
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/people"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

// source is a database with pieces on the bench.
type source struct {
	t      *testing.T
	dsn    string
	store  *store.Store
	work   *work.Rooms
	ctx    context.Context
	boards []string
	bench  string
}

func newSource(t *testing.T) *source {
	t.Helper()
	st, w := testdb.Service(t, time.Now)
	c := &source{t: t, dsn: testdb.Server.DSN, store: st, work: w, ctx: testdb.As(t, w, "owner")}
	shop, err := w.Shop.Shop(c.ctx)
	if err != nil {
		t.Fatal(err)
	}
	c.bench = shop.Benches[0].PublicID
	day := func(ago int) string { return time.Now().AddDate(0, 0, -ago).Format(time.DateOnly) }
	lot, err := w.Stock.Receive(c.ctx,
		stock.Arrival{AtlasID: "beef.top_sirloin", Pieces: 4, Weight: "26.4", WeightUnit: "kg", Price: "11.40",
			PricePer: "kg", SlaughteredOn: day(24), PackedOn: day(22), Supplier: "A “croft” with 'quotes', \\ and Ünïcode 🥩",
			LotNumber: "T-1", Note: "two\nlines"})
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range lot.Pieces {
		if err := w.Stock.ChoosePlan(c.ctx, p.PublicID, stock.PlanPick{PlanID: "seamed"}, 1); err != nil {
			t.Fatal(err)
		}
		b, err := w.Bench.StartBreakdown(c.ctx, p.PublicID, c.bench)
		if err != nil {
			t.Fatal(err)
		}
		c.boards = append(c.boards, b.Breakdown.PublicID)
		c.book(b.Breakdown.PublicID, seam.Event{Kind: seam.Opened, Net: 6600 * measure.Gram})
	}
	return c
}

func (c *source) book(board string, e seam.Event) {
	e.ID, e.At, e.Bench, e.Source = store.NewID(), time.Now(), c.bench, "typed"
	if _, err := c.work.Bench.Book(c.ctx, board, e); err != nil {
		c.t.Errorf("booking: %v", err)
	}
}

func (c *source) count(table string) (n int) {
	c.t.Helper()
	if err := c.store.DB().Raw("SELECT COUNT(*) FROM " + table).Scan(&n).Error; err != nil {
		c.t.Fatal(err)
	}
	return n
}

// verified looks through a database that was restored.
func verified(t *testing.T, dsn string) bench.Verification {
	t.Helper()
	st, err := store.Open(dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	v, err := work.New(st, a, time.Now).Bench.Verify(t.Context(), false)
	if err != nil {
		t.Fatal(err)
	}
	return v
}

// lines are a backup's lines between its first and its last.
func lines(t *testing.T, path string) []string {
	t.Helper()
	f, err := os.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	z, err := gzip.NewReader(f)
	if err != nil {
		t.Fatal(err)
	}
	raw, err := io.ReadAll(z)
	if err != nil {
		t.Fatal(err)
	}
	all := strings.Split(strings.TrimSpace(string(raw)), "\n")
	return all[1 : len(all)-1]
}

// Backups taken while four benches book are each one moment of the database: restored elsewhere everything balances,
// and every row is the one that was read. At rest, the database itself compares every row of every table.
func TestBackupUnderLoad(t *testing.T) {
	c := newSource(t)
	for range 30 {
		for _, board := range c.boards {
			c.book(board, seam.Event{Kind: seam.Trimmed, Part: "trim", Net: 5 * measure.Gram})
		}
	}
	dir := t.TempDir()
	stop := make(chan struct{})
	var hands sync.WaitGroup
	for _, board := range c.boards {
		hands.Go(func() {
			for {
				select {
				case <-stop:
					return
				default:
					c.book(board, seam.Event{Kind: seam.Trimmed, Part: "trim", Net: 5 * measure.Gram})
				}
			}
		})
	}
	var taken []string
	busy, compared := 0, 0
	for i := 0; busy < 6 && i < 60; i++ {
		path := filepath.Join(dir, fmt.Sprintf("load-%d.jsonl.gz", i))
		before := c.count("events")
		if _, err := backup.File(t.Context(), c.dsn, path, time.Now()); err != nil {
			t.Fatal(err)
		}
		if c.count("events") > before {
			busy++
			taken = append(taken, path)
		}
	}
	close(stop)
	hands.Wait()
	if busy < 6 {
		t.Fatalf("only %d backups were taken while somebody booked", busy)
	}
	for i, path := range taken {
		dsn := testdb.Named(t, "falda_restored")
		done, err := backup.Restore(t.Context(), dsn, path, false, time.Now())
		if err != nil {
			t.Fatal(err)
		}
		if v := verified(t, dsn); len(v.Flaws) > 0 || v.Breakdowns != len(c.boards) {
			t.Errorf("backup %d, restored: %d breakdowns, flaws %v", i, v.Breakdowns, v.Flaws)
		}
		again := filepath.Join(dir, "again.jsonl.gz")
		if _, err := backup.File(t.Context(), dsn, again, time.Now()); err != nil {
			t.Fatal(err)
		}
		read, kept := lines(t, path), lines(t, again)
		if !slices.Equal(read, kept) {
			t.Errorf("backup %d: %d lines went in, %d are there, and they differ", i, len(read), len(kept))
		}
		compared += done.Tail.Total()
		// what is only ever added to is in the source as it is in the copy
		for _, table := range []string{"events", "audit", "lots", "pieces"} {
			var same, restored int
			q := fmt.Sprintf("SELECT COUNT(*) FROM (SELECT * FROM falda_restored.%s INTERSECT SELECT * FROM falda.%s) x", table,
				table)
			if err := c.store.DB().Raw(q).Scan(&same).Error; err != nil {
				t.Fatal(err)
			}
			if err := c.store.DB().Raw("SELECT COUNT(*) FROM falda_restored." + table).Scan(&restored).Error; err != nil {
				t.Fatal(err)
			}
			if same != restored || restored == 0 {
				t.Errorf("%s: %d rows restored, %d of them as in the source", table, restored, same)
			}
		}
	}
	compared += c.atRest(dir)
	if compared < 1000 {
		t.Errorf("only %d rows were compared", compared)
	}
	t.Logf("%d rows compared, %d backups while booking, %d events", compared, busy, c.count("events"))
}

// atRest restores what stands still and lets the database compare each table with its copy; it answers how many rows.
func (c *source) atRest(dir string) int {
	t, path, compared := c.t, filepath.Join(dir, "rest.jsonl.gz"), 0
	tail, err := backup.File(t.Context(), c.dsn, path, time.Now())
	if err != nil {
		t.Fatal(err)
	}
	if _, err := backup.Restore(t.Context(), testdb.Named(t, "falda_restored"), path, false, time.Now()); err != nil {
		t.Fatal(err)
	}
	for table, rows := range tail.Rows {
		var differ int
		q := fmt.Sprintf(`SELECT COUNT(*) FROM ((SELECT * FROM falda.%[1]s EXCEPT SELECT * FROM falda_restored.%[1]s)
			UNION ALL (SELECT * FROM falda_restored.%[1]s EXCEPT SELECT * FROM falda.%[1]s)) x`, table)
		if err := c.store.DB().Raw(q).Scan(&differ).Error; err != nil {
			t.Fatal(err)
		}
		if differ != 0 || rows != c.count(table) {
			t.Errorf("%s: %d rows differ, %d in the backup, %d in the source", table, differ, rows, c.count(table))
		}
		compared += rows
	}
	for _, table := range []string{"events", "audit", "people", "members", "prices", "installation"} {
		if _, in := tail.Rows[table]; !in {
			t.Errorf("%s is not in the backup", table)
		}
	}
	for _, table := range []string{"sessions", "one_time_tokens", "attempts"} {
		if _, in := tail.Rows[table]; in {
			t.Errorf("%s is in the backup", table)
		}
	}
	return compared
}

// A file that is not whole is refused before anything is touched; so is a database that holds something, or is in use.
func TestRestoreRefuses(t *testing.T) {
	c := newSource(t)
	dir := t.TempDir()
	good := filepath.Join(dir, "good.jsonl.gz")
	if _, err := backup.File(t.Context(), c.dsn, good, time.Now()); err != nil {
		t.Fatal(err)
	}
	if info, err := os.Stat(good); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("others may read the backup: %v", info.Mode())
	}
	raw, err := os.ReadFile(good)
	if err != nil {
		t.Fatal(err)
	}
	z, err := gzip.NewReader(bytes.NewReader(raw))
	if err != nil {
		t.Fatal(err)
	}
	plain, err := io.ReadAll(z)
	if err != nil {
		t.Fatal(err)
	}
	pack := func(text string) []byte {
		var b bytes.Buffer
		w := gzip.NewWriter(&b)
		if _, err := w.Write([]byte(text)); err != nil {
			t.Fatal(err)
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
		return b.Bytes()
	}
	text := string(plain)
	dsn := testdb.Named(t, "falda_restored")
	for name, content := range map[string][]byte{
		"cut short": raw[:len(raw)/2], "no backup": []byte("hello"),
		"a weight changed": pack(strings.Replace(text, "6600000", "6600001", 1)),
		"a row taken out":  pack(strings.Replace(text, lines(t, good)[3]+"\n", "", 1)),
		"no end":           pack(text[:strings.LastIndex(text, `{"end"`)]), "something behind": pack(text + "[]\n"),
		"of another format":     pack(strings.Replace(text, `"falda_backup":1`, `"falda_backup":2`, 1)),
		"a name with SQL in it": pack(strings.Replace(text, `{"table":"audit"`, "{\"table\":\"audit`; DROP TABLE x\"", 1)),
		"empty":                 pack(""),
	} {
		path := filepath.Join(dir, "bad.gz")
		if err := os.WriteFile(path, content, 0o600); err != nil {
			t.Fatal(err)
		}
		if _, err := backup.Restore(t.Context(), dsn, path, true, time.Now()); err == nil {
			t.Errorf("%s: it was restored", name)
		} else if name != "of another format" && !errors.Is(err, backup.ErrDamaged) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, err := backup.Restore(t.Context(), dsn, good, false, time.Now()); err != nil {
		t.Fatal(err)
	}
	// it holds something now
	if _, err := backup.Restore(t.Context(), dsn, good, false, time.Now()); err == nil ||
		!strings.Contains(err.Error(), "--replace") {
		t.Errorf("restored over what is there: %v", err)
	}
	done, err := backup.Restore(t.Context(), dsn, good, true, time.Now())
	if err != nil {
		t.Fatal(err)
	}
	if head, tail, err := backup.Check(done.Copy); err != nil || tail.Rows["lots"] != 1 || head.Schema < 2 {
		t.Errorf("what was replaced is not kept: %s, %v", done.Copy, err)
	}
	if _, err := backup.Restore(t.Context(), c.dsn, good, true, time.Now()); err == nil ||
		!strings.Contains(err.Error(), "connected") {
		t.Errorf("restored under a running program: %v", err)
	}
}

// Scheduled backups are made when one is due, and the old ones go: all but the latest, and the first of each month.
func TestKeeper(t *testing.T) {
	c := newSource(t)
	dir, at := t.TempDir(), time.Date(2026, 1, 1, 3, 0, 0, 0, time.UTC)
	other := filepath.Join(dir, "falda-notes.txt")
	if err := os.WriteFile(other, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	k := backup.Keeper{DSN: c.dsn, Dir: dir, Every: 24 * time.Hour, Keep: 3, Months: 2,
		Log: slog.New(slog.NewTextHandler(io.Discard, nil))}
	for day := range 70 { // until 11 March
		now := at.AddDate(0, 0, day)
		if day > 3 && day < 57 && now.Day() != 1 {
			continue // the program was not running
		}
		if wait, err := k.Once(t.Context(), now); err != nil || wait != k.Every {
			t.Fatalf("%s: %s, %v", now, wait, err)
		}
		if wait, err := k.Once(t.Context(), now.Add(time.Hour)); err != nil || wait != 23*time.Hour {
			t.Fatalf("an hour later: %s, %v", wait, err)
		}
	}
	files, err := filepath.Glob(filepath.Join(dir, "falda-2*"))
	if err != nil {
		t.Fatal(err)
	}
	var days []string
	for _, f := range files {
		days = append(days, filepath.Base(f)[6:14])
		if _, _, err := backup.Check(f); err != nil {
			t.Errorf("%s: %v", f, err)
		}
	}
	if want := []string{"20260201", "20260301", "20260309", "20260310", "20260311"}; !slices.Equal(days, want) {
		t.Errorf("kept %v, want %v", days, want)
	}
	if _, err := os.Stat(other); err != nil {
		t.Error("a file that is no backup was removed")
	}
	k.Dir = filepath.Join(dir, "gone")
	if _, err := k.Once(t.Context(), at); err == nil {
		t.Error("a folder that is not there is no failure")
	}
}

// A backup of an older schema is restored in that schema and then migrated; a shop from before there was a sign-in gets
// its first owner through the set-up link.
func TestBackupOfAnOlderSchema(t *testing.T) {
	dsn := testdb.DSN(t)
	st, err := store.Open(dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	if err := st.MigrateTo(t.Context(), 1); err != nil {
		t.Fatal(err)
	}
	// as a program of that day wrote it, which knew none of the later columns
	if err := st.DB().
		Exec(`INSERT INTO shops (public_id, name, demo, market, currency, weight_unit, labour_rate, packaging_per_kg,
			loss_limit_knife_pct, loss_limit_saw_pct, division_mg, lot_prefix, seeded, version, created_at)
		VALUES (?, 'Old shop', FALSE, 'house', 'EUR', 'kg', '24', '0', 1.5, 2.5, 5000, 'O-', FALSE, 1, NOW(6))`,
			store.NewID()).Error; err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "old.jsonl.gz")
	if _, err := backup.File(t.Context(), dsn, path, time.Now()); err != nil {
		t.Fatal(err)
	}
	newer := testdb.Named(t, "falda_restored")
	if done, err := backup.Restore(t.Context(), newer, path, false, time.Now()); err != nil || done.Head.Schema != 1 {
		t.Fatalf("schema %d, %v", done.Head.Schema, err)
	}
	copied, err := store.Open(newer)
	if err != nil {
		t.Fatal(err)
	}
	defer copied.Close()
	if behind, err := copied.Behind(t.Context()); err != nil || behind {
		t.Errorf("the restored schema is behind: %v", err)
	}
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	w := work.New(copied, a, time.Now)
	link, err := w.People.SetUpLink(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	token, err := w.People.SetUpByLink(t.Context(), link, shop.NewShop{Name: "Not made", Currency: "EUR", Unit: "kg"},
		people.Account{Email: "a@old.example", Name: "A", Password: "river stone lantern"}, audit.Where{})
	if err != nil {
		t.Fatal(err)
	}
	who, err := w.People.BySession(t.Context(), token.Token)
	if err != nil {
		t.Fatal(err)
	}
	shop, err := w.Shop.Shop(audit.As(t.Context(), who))
	if err != nil || shop.Shop.Name != "Old shop" || who.Role != "owner" {
		t.Errorf("the first owner came into %q as %s, %v", shop.Shop.Name, who.Role, err)
	}
}

// Rule: what is no whole database of this program's schema is not backed up as if it were: one of a newer program, and
// one whose restore was cut short.
func TestBackupKnowsWhatItWrites(t *testing.T) {
	dsn := testdb.Named(t, "falda_odd")
	st, err := store.Open(dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	latest, err := st.Migrate(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	write := func() error {
		_, err := backup.Write(t.Context(), dsn, io.Discard, time.Now())
		return err
	}
	if err := write(); err != nil {
		t.Errorf("a new database: %v", err)
	}
	if err := st.MarkRestore(t.Context(), "falda.gz", ""); err != nil {
		t.Fatal(err)
	}
	if err := write(); err == nil || !strings.Contains(err.Error(), "cut short") {
		t.Errorf("half a restore: %v", err)
	}
	if err := st.UnmarkRestore(t.Context()); err != nil {
		t.Fatal(err)
	}
	if err := st.DB().Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (?, 1)", latest+1).
		Error; err != nil {
		t.Fatal(err)
	}
	if err := write(); err == nil || !strings.Contains(err.Error(), "newer program") {
		t.Errorf("a newer schema: %v", err)
	}
}
