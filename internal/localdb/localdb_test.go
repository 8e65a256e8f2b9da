package localdb

import (
	"context"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	_ "github.com/go-sql-driver/mysql"
)

// Rules: it listens on loopback only; what was committed survives a kill of the database and a stop; it comes back on
// the same port by itself.
func TestPrivateDatabaseSurvivesAKill(t *testing.T) {
	dir := t.TempDir()
	s, err := Start(context.Background(), dir)
	if err != nil {
		t.Fatal(err)
	}
	stopped := false
	defer func() {
		if !stopped {
			s.Stop()
		}
	}()
	db, err := sql.Open("mysql", s.DSN)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, q := range []string{"CREATE TABLE kept (n INT PRIMARY KEY) ENGINE=InnoDB", "INSERT INTO kept VALUES (7)"} {
		if _, err := db.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	var address string
	if err := db.QueryRow("SELECT @@bind_address").Scan(&address); err != nil || address != "127.0.0.1" {
		t.Errorf("listens on %q, %v", address, err)
	}
	if info, err := os.Stat(filepath.Join(dir, "db.secret")); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the password's file: %v, %v", info.Mode(), err)
	}
	old := s.PID()
	if err := syscall.Kill(old, syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	n := 0
	for end := time.Now().Add(90 * time.Second); time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		if s.PID() != old && db.QueryRow("SELECT n FROM kept").Scan(&n) == nil {
			break
		}
	}
	if n != 7 {
		t.Fatal("the committed row is not there after a kill of the database")
	}
	s.Stop()
	stopped = true
	again, err := Start(context.Background(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Stop()
	db2, err := sql.Open("mysql", again.DSN)
	if err != nil {
		t.Fatal(err)
	}
	defer db2.Close()
	if err := db2.QueryRow("SELECT n FROM kept").Scan(&n); err != nil || n != 7 {
		t.Fatalf("after a stop and a start: %d, %v", n, err)
	}
}

func TestLock(t *testing.T) {
	dir := t.TempDir()
	l, err := Take(dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := l.Say("http://127.0.0.1:1234"); err != nil {
		t.Fatal(err)
	}
	if _, err := Take(dir); !errors.Is(err, ErrInUse) || !strings.Contains(err.Error(), "http://127.0.0.1:1234") {
		t.Errorf("a second lock: %v", err)
	}
	l.Release()
	l2, err := Take(dir)
	if err != nil {
		t.Fatalf("after the release: %v", err)
	}
	l2.Release()
}
