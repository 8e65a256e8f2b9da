package browser

import (
	"database/sql"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	_ "github.com/go-sql-driver/mysql"
)

// node is one MariaDB server that a test starts, kills and starts again: one of a cluster, or by itself.
type node struct {
	t        *testing.T
	n        int // 1 and on
	dir      string
	port     int
	group    [3]int // ports of the cluster's own talk: between nodes, what was missed, the whole state
	settings []string
	cmd      *exec.Cmd
	ended    chan struct{}
}

// newNode fills a data folder for a server with settings of its own.
func newNode(t *testing.T, n int, settings ...string) *node {
	t.Helper()
	d := &node{t: t, n: n, dir: t.TempDir(), port: unusedPort(t), settings: settings}
	for i := range d.group {
		d.group[i] = unusedPort(t)
	}
	d.given()
	out, err := exec.Command("mariadb-install-db", "--no-defaults", "--datadir="+d.data(), "--user="+serverUser(t),
		"--skip-test-db", "--skip-name-resolve", "--auth-root-authentication-method=socket",
		"--auth-root-socket-user="+systemUser(t)).CombinedOutput()
	if err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	t.Cleanup(func() {
		d.kill()
		if t.Failed() {
			t.Logf("node %d: %s", d.n, d.lastWords())
		}
	})
	return d
}

func systemUser(t *testing.T) string {
	t.Helper()
	me, err := user.Current()
	if err != nil {
		t.Fatal(err)
	}
	return me.Username
}

// serverUser is who runs the server: root leaves it to the package's account, for the copying of a whole state, rsync,
// writes nothing as root.
func serverUser(t *testing.T) string {
	t.Helper()
	if name := systemUser(t); name != "root" {
		return name
	}
	return "mysql"
}

// given makes the folder that of who runs the server.
func (d *node) given() {
	d.t.Helper()
	owner, err := user.Lookup(serverUser(d.t))
	if err != nil {
		d.t.Fatal(err)
	}
	uid, _ := strconv.Atoi(owner.Uid)
	gid, _ := strconv.Atoi(owner.Gid)
	for _, err := range []error{os.Chown(d.dir, uid, gid), os.Chmod(filepath.Dir(d.dir), 0o755)} {
		if err != nil {
			d.t.Fatal(err)
		}
	}
}

// server is where a server's program is; not everybody has Debian's folder for them in the path.
func server(name string) string {
	if path, err := exec.LookPath(name); err == nil {
		return path
	}
	return "/usr/sbin/" + name
}

// unusedPort is a port of loopback that nobody had listened at when it was asked for.
func unusedPort(t *testing.T) int {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port
}

func (d *node) data() string   { return filepath.Join(d.dir, "data") }
func (d *node) socket() string { return filepath.Join(d.dir, "s") }
func (d *node) log() string    { return filepath.Join(d.dir, "log") }

// args are what every server of these tests is started with.
func (d *node) args(more ...string) []string {
	return append(append([]string{"--no-defaults", "--datadir=" + d.data(), "--user=" + serverUser(d.t),
		"--bind-address=127.0.0.1", fmt.Sprintf("--port=%d", d.port), "--socket=" + d.socket(),
		"--pid-file=" + d.dir + "/pid", "--skip-name-resolve", "--character-set-server=utf8mb4",
		"--collation-server=utf8mb4_unicode_ci", "--innodb-flush-log-at-trx-commit=1", "--innodb-buffer-pool-size=64M",
		"--innodb-log-file-size=32M", "--performance-schema=OFF", "--log-bin-trust-function-creators=1"}, d.settings...),
		more...)
}

// start starts the server and waits until it answers.
func (d *node) start(more ...string) {
	d.t.Helper()
	log, err := os.OpenFile(d.log(), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		d.t.Fatal(err)
	}
	defer log.Close()
	d.cmd = exec.Command(server("mariadbd"), d.args(more...)...)
	d.cmd.Stdout, d.cmd.Stderr = log, log
	if err := d.cmd.Start(); err != nil {
		d.t.Fatal(err)
	}
	d.ended = make(chan struct{})
	go func(cmd *exec.Cmd, ended chan struct{}) { _ = cmd.Wait(); close(ended) }(d.cmd, d.ended)
	d.until("answers", func(db *sql.DB) bool { return db.Ping() == nil })
}

// until waits until something holds of the server.
func (d *node) until(what string, holds func(*sql.DB) bool) {
	d.t.Helper()
	db := d.open("")
	defer db.Close()
	for end := time.Now().Add(2 * patience); ; time.Sleep(100 * time.Millisecond) {
		if holds(db) {
			return
		}
		select {
		case <-d.ended:
			d.t.Fatalf("node %d ended\n%s", d.n, d.lastWords())
		default:
		}
		if time.Now().After(end) {
			d.t.Fatalf("node %d: never %s\n%s", d.n, what, d.lastWords())
		}
	}
}

func (d *node) lastWords() string {
	raw, _ := os.ReadFile(d.log())
	var lines []string
	for line := range strings.Lines(string(raw)) {
		if strings.Contains(line, "ERROR") || strings.Contains(line, "Warning") || strings.Contains(line, "SST") {
			lines = append(lines, line[:min(len(line), 500)])
		}
	}
	return strings.Join(lines[max(0, len(lines)-20):], "")
}

// open gives the server over its socket, as the system's user who owns it.
func (d *node) open(database string) *sql.DB {
	d.t.Helper()
	db, err := sql.Open("mysql", fmt.Sprintf("%s@unix(%s)/%s", systemUser(d.t), d.socket(), database))
	if err != nil {
		d.t.Fatal(err)
	}
	return db
}

// exec does something to the server.
func (d *node) exec(statements ...string) {
	d.t.Helper()
	db := d.open("")
	defer db.Close()
	for _, s := range statements {
		if _, err := db.Exec(s); err != nil {
			d.t.Fatalf("node %d: %s: %v", d.n, s, err)
		}
	}
}

// count asks the server for a number.
func (d *node) count(query string, args ...any) (n int) {
	d.t.Helper()
	db := d.open("falda")
	defer db.Close()
	if err := db.QueryRow(query, args...).Scan(&n); err != nil {
		d.t.Fatalf("node %d: %s: %v", d.n, query, err)
	}
	return n
}

// status is a counter of the server.
func (d *node) status(name string) (n int) {
	d.t.Helper()
	db := d.open("")
	defer db.Close()
	if err := db.QueryRow("SHOW STATUS LIKE '"+name+"'").Scan(&name, &n); err != nil {
		d.t.Fatalf("node %d: %s: %v", d.n, name, err)
	}
	return n
}

// kill ends the server as a power cut does.
func (d *node) kill() {
	if d.cmd == nil {
		return
	}
	_ = d.cmd.Process.Kill()
	<-d.ended
}

// dsn is for the account of the programs. Where several nodes are written, a question waits until its node has what
// the others had; elsewhere that says nothing.
func dsn(port int) string {
	return fmt.Sprintf("falda:falda@tcp(127.0.0.1:%d)/falda?wsrep_sync_wait=7", port)
}

// account makes the database and what speaks to it: the programs' account, and one that only looks whether it answers.
func (d *node) account() {
	d.t.Helper()
	d.exec("CREATE DATABASE falda CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
		"CREATE USER falda@127.0.0.1 IDENTIFIED BY 'falda'", "GRANT ALL ON `falda%`.* TO falda@127.0.0.1",
		"CREATE USER looks@127.0.0.1")
}

// cluster is three nodes of Galera on loopback.
type cluster struct{ nodes []*node }

const provider = "/usr/lib/galera/libgalera_smm.so"

// startCluster starts three nodes; the first is there before the others.
func startCluster(t *testing.T) *cluster {
	t.Helper()
	c := &cluster{}
	for i := range 3 {
		c.nodes = append(c.nodes, newNode(t, i+1))
	}
	var group []string
	for _, d := range c.nodes {
		group = append(group, fmt.Sprintf("127.0.0.1:%d", d.group[0]))
	}
	for i, d := range c.nodes {
		d.settings = []string{"--wsrep-on=ON", "--wsrep-provider=" + provider, "--wsrep-cluster-name=falda",
			"--wsrep-cluster-address=gcomm://" + strings.Join(group, ","), fmt.Sprintf("--wsrep-node-name=n%d", d.n),
			"--wsrep-node-address=" + group[i], "--wsrep-sst-method=rsync", "--wsrep-sst-donor=n3,n2,n1",
			fmt.Sprintf("--wsrep-sst-receive-address=127.0.0.1:%d", d.group[2]), "--binlog-format=ROW",
			"--innodb-autoinc-lock-mode=2", fmt.Sprintf("--wsrep-provider-options=gmcast.listen_addr=tcp://127.0.0.1:%d;"+
				"ist.recv_addr=127.0.0.1:%d", d.group[0], d.group[1])}
	}
	c.nodes[0].start("--wsrep-new-cluster")
	for _, d := range c.nodes[1:] {
		d.start()
		c.inStep(d)
	}
	return c
}

// inStep waits until a node has what the others have.
func (c *cluster) inStep(d *node) {
	d.t.Helper()
	d.until("in step", func(db *sql.DB) bool {
		var name, state string
		return db.QueryRow("SHOW STATUS LIKE 'wsrep_local_state_comment'").Scan(&name, &state) == nil && state == "Synced"
	})
}

var position = regexp.MustCompile(`Recovered position:?\s*([0-9a-f-]+:-?[0-9]+)`)

// back starts a node that was killed: from where its own log ended, as the unit of Debian's package does it.
func (c *cluster) back(d *node) {
	d.t.Helper()
	out, err := exec.Command(server("mariadbd"), d.args("--wsrep-recover")...).CombinedOutput()
	if raw, fileErr := os.ReadFile(d.log()); fileErr == nil {
		out = append(out, raw...)
	}
	var exit *exec.ExitError
	if err != nil && !errors.As(err, &exit) {
		d.t.Fatal(err)
	}
	var more []string
	if found := position.FindAllSubmatch(out, -1); found != nil {
		more = append(more, "--wsrep-start-position="+string(found[len(found)-1][1]))
	}
	d.start(more...)
	c.inStep(d)
}

// cut parts a node from the others, or joins it again.
func (c *cluster) cut(d *node, apart bool) {
	d.t.Helper()
	d.exec(fmt.Sprintf("SET GLOBAL wsrep_provider_options = 'gmcast.isolate=%d'", map[bool]int{true: 1}[apart]))
	if !apart {
		c.inStep(d)
	}
}

// balancer is HAProxy before the nodes and the programs.
type balancer struct {
	one, two int // ports that lead to a node: the first has the first node before the others, the second the second
	web      int // port that leads to the programs
}

// balance starts HAProxy before nodes, and before programs at ports that are not yet taken.
func (c *cluster) balance(t *testing.T, programs []int) balancer {
	t.Helper()
	b := balancer{unusedPort(t), unusedPort(t), unusedPort(t)}
	dir := t.TempDir()
	check := filepath.Join(dir, "in-step")
	write(t, check, 0o700, "#!/bin/sh\nmariadb --no-defaults -h 127.0.0.1 -P \"$4\" -u looks --connect-timeout=2 -N -B "+
		"-e \"SHOW STATUS LIKE 'wsrep_local_state'\" | grep -q '4$'\n")
	line := func(d *node, more string) string {
		return fmt.Sprintf("  server n%d 127.0.0.1:%d %s on-marked-down shutdown-sessions\n", d.n, d.port, more)
	}
	n := c.nodes
	const looked = "check inter 1s fall 2 rise 2"
	write(t, filepath.Join(dir, "haproxy.cfg"), 0o600, fmt.Sprintf(`global
  external-check
  insecure-fork-wanted
  maxconn 400
defaults
  timeout connect 3s
  timeout client 10m
  timeout server 10m
  retries 2
  option redispatch
listen one
  mode tcp
  bind 127.0.0.1:%d
  option external-check
  external-check path /usr/bin:/bin
  external-check command %s
%slisten two
  mode tcp
  bind 127.0.0.1:%d
%slisten web
  mode http
  bind 127.0.0.1:%d
  balance roundrobin
  option forwardfor
  option httpchk GET /readyz
  http-reuse safe
  retry-on conn-failure
  server p1 127.0.0.1:%d check inter 500ms fall 2 rise 1
  server p2 127.0.0.1:%d check inter 500ms fall 2 rise 1
`, b.one, check, line(n[0], looked)+line(n[1], looked+" backup")+line(n[2], looked+" backup"), b.two,
		line(n[1], "track one/n2")+line(n[2], "track one/n3 backup")+line(n[0], "track one/n1 backup"), b.web,
		programs[0], programs[1]))
	log, err := os.Create(filepath.Join(dir, "log"))
	if err != nil {
		t.Fatal(err)
	}
	defer log.Close()
	cmd := exec.Command(server("haproxy"), "-db", "-f", filepath.Join(dir, "haproxy.cfg"))
	cmd.Stdout, cmd.Stderr = log, log
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		if raw, _ := os.ReadFile(log.Name()); t.Failed() {
			t.Logf("%s", raw[max(0, len(raw)-4000):])
		}
	})
	return b
}

func write(t *testing.T, path string, mode os.FileMode, text string) {
	t.Helper()
	if err := os.WriteFile(path, []byte(text), mode); err != nil {
		t.Fatal(err)
	}
}
