package browser

import (
	"bytes"
	"database/sql"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// One primary that keeps a binary log, with a replica: what is booked is on the replica, where reports are read and a
// backup is made. Then everything is gone but a dump and the binary log: both together give the moment before a
// mistake, to the last event.
func TestAReplicaAndAPointInTime(t *testing.T) {
	primary := newNode(t, 1, "--server-id=1", "--log-bin=binlog", "--binlog-format=ROW", "--sync-binlog=1")
	primary.start()
	primary.account()
	primary.exec("CREATE USER copies@127.0.0.1 IDENTIFIED BY 'copies'",
		"GRANT REPLICATION SLAVE ON *.* TO copies@127.0.0.1")
	replica := newNode(t, 2, "--server-id=2", "--read-only=1")
	replica.start()
	replica.exec(fmt.Sprintf("CHANGE MASTER TO MASTER_HOST='127.0.0.1', MASTER_PORT=%d, MASTER_USER='copies', "+
		"MASTER_PASSWORD='copies', MASTER_USE_GTID=slave_pos", primary.port), "START SLAVE")
	migrated(t, dsn(primary.port))
	p := serving(t, dsn(primary.port), unusedPort(t))
	a := ownShop(t, p, p.url)

	dump := filepath.Join(t.TempDir(), "dump.sql")
	before, settle := a.writers(2)
	time.Sleep(time.Second)
	primary.dump(dump)
	time.Sleep(time.Second)
	settle()
	replica.follows(primary)
	replica.counts(before)
	for _, args := range [][]string{{"verify"}, {"backup", filepath.Join(t.TempDir(), "of-the-replica")}} {
		out, err := exec.Command(binary, append(args, "--dsn", dsn(replica.port))...).CombinedOutput()
		if err != nil || args[0] == "verify" && !strings.Contains(string(out), ": 0 flaws") {
			t.Errorf("%s of the replica: %v %s", args[0], err, out)
		}
	}
	reads := serving(t, dsn(replica.port), unusedPort(t))
	readsReports(t, a, &app{t: t, url: reads.url, jar: a.jar}, before[0].breakdown)

	// the moment before: times in the log are whole seconds
	time.Sleep(1100 * time.Millisecond)
	moment := time.Now()
	time.Sleep(1100 * time.Millisecond)
	after, settle := a.writers(2)
	time.Sleep(time.Second)
	settle()
	primary.exec("DELETE FROM falda.outputs")
	fresh := newNode(t, 3, "--server-id=3")
	fresh.start()
	fresh.account()
	fresh.restoredTo(moment, dump, primary)
	fresh.counts(before)
	if n := fresh.count("SELECT COUNT(*) FROM breakdowns WHERE public_id = ?", after[0].breakdown); n != 0 {
		t.Error("what came after the moment is there too")
	}
	out, err := exec.Command(binary, "verify", "--dsn", dsn(fresh.port)).CombinedOutput()
	if err != nil || !strings.Contains(string(out), ": 0 flaws") {
		t.Errorf("verify: %v %s", err, out)
	}
}

// readsReports asks the same of a program on the primary and of one on the replica.
func readsReports(t *testing.T, primary, replica *app, breakdown string) {
	t.Helper()
	for _, path := range []string{"/breakdowns/" + breakdown, "/history?by=week&measure=yield", "/lots", "/goods"} {
		var one, other any
		primary.api("GET", path, nil, &one)
		replica.api("GET", path, nil, &other)
		if fmt.Sprint(one) != fmt.Sprint(other) {
			t.Errorf("%s: the primary answers %.300v\nand the replica %.300v", path, one, other)
		}
	}
}

// dump writes a server's database into a file as it stands, with the place in the binary log where that was.
func (d *node) dump(file string) {
	d.t.Helper()
	var bad bytes.Buffer
	cmd := exec.Command("mariadb-dump", "--no-defaults", "--socket="+d.socket(), "--single-transaction", "--master-data=2",
		"--triggers", "--result-file="+file, "falda")
	cmd.Stderr = &bad
	if err := cmd.Run(); err != nil {
		d.t.Fatalf("%v\n%s", err, &bad)
	}
}

// follows waits until a replica has what its primary had.
func (d *node) follows(primary *node) {
	d.t.Helper()
	at := ""
	db := primary.open("")
	defer db.Close()
	if err := db.QueryRow("SELECT @@GLOBAL.gtid_binlog_pos").Scan(&at); err != nil {
		d.t.Fatal(err)
	}
	d.until("at "+at, func(db *sql.DB) bool {
		var waited int
		return db.QueryRow("SELECT MASTER_GTID_WAIT(?, 1)", at).Scan(&waited) == nil && waited == 0
	})
}

// restoredTo fills a server from a dump, and from what its primary's binary log has after that and before a moment.
func (d *node) restoredTo(moment time.Time, dump string, primary *node) {
	d.t.Helper()
	raw, err := os.ReadFile(dump)
	if err != nil {
		d.t.Fatal(err)
	}
	_, rest, found := strings.Cut(string(raw[:min(len(raw), 8000)]), "CHANGE MASTER TO MASTER_LOG_FILE='")
	var from int
	file, rest, _ := strings.Cut(rest, "', MASTER_LOG_POS=")
	if _, err := fmt.Sscan(rest, &from); !found || err != nil {
		d.t.Fatalf("the dump does not say where it stands in the binary log: %v\n%.2000s", err, raw)
	}
	logs, err := filepath.Glob(filepath.Join(primary.data(), "binlog.[0-9]*"))
	if err != nil {
		d.t.Fatal(err)
	}
	args := []string{"--no-defaults", fmt.Sprintf("--start-position=%d", from), "--stop-datetime=" +
		moment.Local().Format(time.DateTime)}
	for _, l := range logs {
		if filepath.Base(l) >= file {
			args = append(args, l)
		}
	}
	log, err := exec.Command("mariadb-binlog", args...).Output()
	if err != nil {
		d.t.Fatal(err)
	}
	for _, sql := range [][]byte{raw, log} {
		cmd := exec.Command("mariadb", "--no-defaults", "--binary-mode", "--socket="+d.socket(), "falda")
		cmd.Stdin = bytes.NewReader(sql)
		if out, err := cmd.CombinedOutput(); err != nil {
			d.t.Fatalf("%v\n%s", err, out)
		}
	}
}
