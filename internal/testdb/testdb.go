// Package testdb gives tests a database of their own on one private MariaDB for each test program.
package testdb

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"

	"falda/internal/core/atlas"
	"falda/internal/localdb"
	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/people"
	"falda/internal/work/shop"
)

// Server is the private MariaDB of this test program, once Run has started it.
var Server *localdb.Server

// Run starts the server, runs the tests and stops it. It is the body of a TestMain.
func Run(m *testing.M) int {
	dir, err := os.MkdirTemp("", "falda-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	if Server, err = localdb.Start(context.Background(), dir); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer Server.Stop()
	return m.Run()
}

// DSN empties the server's database for this test and gives its address. Tests of one program use it one after another.
func DSN(t testing.TB) string { return Named(t, "falda") }

// Named is DSN for another database on the same server.
func Named(t testing.TB, name string) string {
	t.Helper()
	c, err := mysqldriver.ParseDSN(Server.DSN)
	if err != nil {
		t.Fatal(err)
	}
	c.DBName = name
	db, err := sql.Open("mysql", Server.DSN)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, q := range []string{"DROP DATABASE IF EXISTS " + name,
		"CREATE DATABASE " + name + " CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci"} {
		if _, err := db.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	return c.FormatDSN()
}

// Shop is the shop that tests work in: labour 24 an hour, packaging 0.12 a kg, benches North and South.
var Shop = shop.NewShop{Name: "Test shop", Currency: "EUR", Unit: "kg", LabourRate: "24", PackagingPerKg: "0.12",
	LotPrefix: "T-", Benches: []string{"North", "South"}}

// Accounts are one of each role. They have neither password nor PIN, for hashing takes its time; tests that need one
// set it.
var Accounts = []people.Account{
	{Email: "owner@test.example", Name: "Owner", Role: "owner"},
	{Email: "head@test.example", Name: "Head cutter", Role: "head_cutter"},
	{Email: "cutter@test.example", Name: "Cutter", Role: "cutter"},
	{Email: "apprentice@test.example", Name: "Apprentice", Role: "apprentice"},
	{Email: "desk@test.example", Name: "Yield desk", Role: "yield_desk"},
}

// As gives a context in which work is done for somebody of a role in the first shop.
func As(t testing.TB, w *work.Rooms, role string) context.Context {
	t.Helper()
	who, err := w.People.First(t.Context(), role)
	if err != nil {
		t.Fatal(err)
	}
	return audit.As(t.Context(), who)
}

// Bare migrates the database of an address, and gives it and the work on it, with a clock; no shop is set up.
func Bare(t testing.TB, dsn string, now func() time.Time) (*store.Store, *work.Rooms) {
	t.Helper()
	st, err := store.Open(dsn)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { st.Close() })
	if _, err := st.Migrate(context.Background()); err != nil {
		t.Fatal(err)
	}
	a, err := loadAtlas()
	if err != nil {
		t.Fatal(err)
	}
	return st, work.New(st, a, now)
}

// loadAtlas reads the atlas once for each test program: all share it, as all requests of a server do.
var loadAtlas = sync.OnceValues(atlas.Load)

// Service gives a migrated, set-up database and the work on it, with a clock. Making a schema takes half a second, so
// that one which an earlier test of this program left as it was made is emptied instead.
func Service(t testing.TB, now func() time.Time) (*store.Store, *work.Rooms) {
	t.Helper()
	dsn := Server.DSN
	if made == "" || !emptied(t, dsn) {
		dsn = DSN(t)
	}
	st, w := Bare(t, dsn, now)
	if made == "" {
		made = shape(t, st)
	}
	if _, err := w.People.SetUp(context.Background(), Shop, Accounts...); err != nil {
		t.Fatal(err)
	}
	return st, w
}

// made is the shape of the schema as the migrations make it.
var made string

// shape is what a schema is made of, in a word: columns, keys, checks and triggers.
func shape(t testing.TB, st *store.Store) string {
	t.Helper()
	var parts []string
	for _, q := range []string{
		"SELECT CONCAT_WS(' ', COUNT(*), SUM(CRC32(CONCAT_WS('|', table_name, column_name, column_type, is_nullable, " +
			"COALESCE(column_default, '-'))))) FROM information_schema.columns WHERE table_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', COUNT(*), SUM(CRC32(CONCAT_WS('|', table_name, index_name, column_name)))) " +
			"FROM information_schema.statistics WHERE table_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', COUNT(*), SUM(CRC32(CONCAT_WS('|', table_name, constraint_name)))) " +
			"FROM information_schema.table_constraints WHERE table_schema = DATABASE()",
		"SELECT CONCAT_WS(' ', COUNT(*), SUM(CRC32(trigger_name))) FROM information_schema.triggers " +
			"WHERE trigger_schema = DATABASE()",
	} {
		var part string
		if err := st.DB().Raw(q).Scan(&part).Error; err != nil {
			t.Fatal(err)
		}
		parts = append(parts, part)
	}
	return strings.Join(parts, "/")
}

// emptied empties the database of an address where its schema is as it was made; it answers whether it did.
func emptied(t testing.TB, dsn string) bool {
	t.Helper()
	st, err := store.Open(dsn)
	if err != nil {
		return false
	}
	defer st.Close()
	if st.Ping(t.Context()) != nil || shape(t, st) != made {
		return false
	}
	var tables []string
	if err := st.DB().Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND " +
		"table_type = 'BASE TABLE' AND table_name <> 'goose_db_version'").Scan(&tables).Error; err != nil {
		return false
	}
	var filled []string
	for i, name := range tables {
		tables[i] = fmt.Sprintf("SELECT '%s' AS name FROM DUAL WHERE EXISTS (SELECT 1 FROM `%s`)", name, name)
	}
	if err := st.DB().Raw(strings.Join(tables, " UNION ALL ")).Scan(&filled).Error; err != nil {
		return false
	}
	db, err := st.DB().DB()
	if err != nil {
		return false
	}
	conn, err := db.Conn(t.Context())
	if err != nil {
		return false
	}
	defer conn.Close()
	for _, q := range append([]string{"SET FOREIGN_KEY_CHECKS = 0"}, filled...) {
		if !strings.HasPrefix(q, "SET ") {
			q = "TRUNCATE `" + q + "`"
		}
		if _, err := conn.ExecContext(t.Context(), q); err != nil {
			return false
		}
	}
	for _, q := range []string{"SET FOREIGN_KEY_CHECKS = 1", "INSERT IGNORE INTO installation (id) VALUES (1)"} {
		if _, err := conn.ExecContext(t.Context(), q); err != nil { // the row is the migrations' own
			return false
		}
	}
	return true
}
