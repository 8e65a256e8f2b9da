// Package testdb gives tests a database of their own on one private MariaDB for each test program.
package testdb

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"testing"
	"time"

	"falda/internal/work/audit"
	"falda/internal/work/people"
	"falda/internal/work/shop"

	mysqldriver "github.com/go-sql-driver/mysql"

	"falda/internal/core/atlas"
	"falda/internal/localdb"
	"falda/internal/store"
	"falda/internal/work"
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
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	return st, work.New(st, a, now)
}

// Service gives a migrated, set-up database and the work on it, with a clock.
func Service(t testing.TB, now func() time.Time) (*store.Store, *work.Rooms) {
	t.Helper()
	st, w := Bare(t, DSN(t), now)
	if _, err := w.People.SetUp(context.Background(), Shop, Accounts...); err != nil {
		t.Fatal(err)
	}
	return st, w
}
