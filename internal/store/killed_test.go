package store_test

import (
	"database/sql"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"

	"falda/internal/store"
	"falda/internal/testdb"
)

// schema is all that a database's tables are made of, one line each.
func schema(t *testing.T, dsn string) []string {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var out []string
	for _, q := range []string{
		"SELECT CONCAT_WS(' ', table_name, ordinal_position, column_name, column_type, is_nullable, column_default, " +
			"collation_name, generation_expression, extra) FROM information_schema.columns WHERE table_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', table_name, index_name, seq_in_index, column_name, non_unique, sub_part) FROM " +
			"information_schema.statistics WHERE table_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', table_name, constraint_name, constraint_type) FROM information_schema.table_constraints " +
			"WHERE table_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', table_name, constraint_name, column_name, referenced_table_name, referenced_column_name) " +
			"FROM information_schema.key_column_usage WHERE table_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', table_name, constraint_name, check_clause) FROM information_schema.check_constraints WHERE " +
			"constraint_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', trigger_name, event_object_table, action_timing, event_manipulation, action_statement) FROM " +
			"information_schema.triggers WHERE trigger_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', table_name, engine, table_collation) FROM information_schema.tables WHERE table_schema = " +
			"DATABASE()",
	} {
		rows, err := db.Query(q)
		if err != nil {
			t.Fatal(err)
		}
		for rows.Next() {
			var line string
			if err := rows.Scan(&line); err != nil {
				t.Fatal(err)
			}
			out = append(out, line)
		}
		if err := rows.Err(); err != nil {
			t.Fatal(err)
		}
		rows.Close()
	}
	slices.Sort(out)
	return out
}

// Rule: a migration can be killed at any statement and run again: it goes on, and the schema comes out as one that was
// never disturbed. Each is killed at its first statement, run again and killed at its second, and so on, on one
// database, until it gets through.
func TestMigrationsSurviveAnyKill(t *testing.T) {
	whole := testdb.Named(t, "falda_whole")
	st, err := store.Open(whole)
	if err != nil {
		t.Fatal(err)
	}
	latest, err := st.Migrate(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	st.Close()
	want := schema(t, whole)

	dsn := testdb.Named(t, "falda_killed")
	gate, through := testdb.NewGate(t, dsn)
	var mu sync.Mutex
	count, at := 0, 1
	gate.Before(func(string) error {
		mu.Lock()
		defer mu.Unlock()
		if count++; count >= at {
			return testdb.ErrKilled
		}
		return nil
	})
	kills, version := 0, int64(-1)
	for version < latest {
		mu.Lock()
		count = 0
		mu.Unlock()
		st, err := store.Open(through)
		if err == nil {
			if _, err = st.Migrate(t.Context()); err == nil {
				st.Close()
				break
			}
			st.Close()
		}
		if kills++; kills > 3000 {
			t.Fatalf("version %d, killed at statement %d: it does not get on: %v", version, at, err)
		}
		now := reached(t, dsn)
		mu.Lock()
		at++
		if now > version { // the next migration is killed from its first statement on
			version, at = now, 1
		}
		mu.Unlock()
	}
	t.Logf("killed %d times", kills)
	if kills < 100 {
		t.Errorf("killed only %d times", kills)
	}
	got := schema(t, dsn)
	for _, line := range got {
		if !slices.Contains(want, line) {
			t.Errorf("too much: %s", line)
		}
	}
	for _, line := range want {
		if !slices.Contains(got, line) {
			t.Errorf("missing: %s", line)
		}
	}
}

// reached is the version that a database has come to; -1 where it has none.
func reached(t *testing.T, dsn string) int64 {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var v int64
	if err := db.QueryRow("SELECT MAX(version_id) FROM goose_db_version").Scan(&v); err != nil {
		return -1
	}
	return v
}

// Rule: programs that migrate one database at once wait for each other, and all find it whole.
func TestProgramsMigrateOneAfterAnother(t *testing.T) {
	dsn := testdb.Named(t, "falda_together")
	var wg sync.WaitGroup
	faults := make([]error, 6)
	for i := range faults {
		wg.Go(func() {
			st, err := store.Open(dsn)
			if err == nil {
				_, err = st.Migrate(t.Context())
				st.Close()
			}
			faults[i] = err
		})
	}
	wg.Wait()
	for i, err := range faults {
		if err != nil {
			t.Errorf("program %d: %v", i, err)
		}
	}
	if n := len(schema(t, dsn)); n < 200 {
		t.Errorf("the schema has %d lines", n)
	}
}

// Rule: a database of a newer program, or one whose restore was cut short, is refused with words that say what it is.
func TestWhatADatabaseIsIsSaid(t *testing.T) {
	st, _ := breakdown(t)
	if err := st.MarkRestore(t.Context(), "falda-1.zip", "falda-before.zip"); err != nil {
		t.Fatal(err)
	}
	if err := st.RestoreCut(t.Context()); err == nil || !strings.Contains(err.Error(), "falda-1.zip") ||
		!strings.Contains(err.Error(), "falda-before.zip") {
		t.Errorf("a restore that was cut short: %v", err)
	}
	if err := st.UnmarkRestore(t.Context()); err != nil {
		t.Fatal(err)
	}
	if err := st.CheckSchema(t.Context()); err != nil {
		t.Errorf("a whole database: %v", err)
	}
	latest, err := store.KnownSchema()
	if has, err2 := st.Version(t.Context()); err != nil || err2 != nil || has != latest {
		t.Errorf("the program knows schema %d, a migrated database has %d: %v %v", latest, has, err, err2)
	}
	db, err := sql.Open("mysql", testdb.Server.DSN)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := db.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (?, 1)", latest+7); err != nil {
		t.Fatal(err)
	}
	if err := st.CheckSchema(t.Context()); err == nil || !strings.Contains(err.Error(), fmt.Sprint(latest+7)) {
		t.Errorf("a newer schema: %v", err)
	}
}
