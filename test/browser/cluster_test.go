package browser

import (
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"
)

// Rule: what was acknowledged is there once, on every node, whatever dies. Two programs behind HAProxy book on a Galera
// cluster of three nodes while a node, a program and the link of the node that is written to go by turns and come back.
// The two programs write to different nodes, which is the worst that a cluster can be asked: what loses the
// certification is tried again. In the usual run only the node dies, once; each as often as FALDA_CLUSTER says in one
// that is about it (make cluster), which also tells what a cluster costs.
func TestACluster(t *testing.T) {
	if _, err := os.Stat(provider); err != nil {
		t.Skip("Galera is not installed (galera-4)")
	}
	if _, err := os.Stat(server("haproxy")); err != nil {
		t.Skip("HAProxy is not installed")
	}
	if memoryLeft(t) < 3<<20 {
		t.Skip("three nodes take too much memory here")
	}
	rounds, long := 1, os.Getenv("FALDA_CLUSTER")
	if long != "" {
		n, err := strconv.Atoi(long)
		if err != nil || n < 1 {
			t.Fatalf("FALDA_CLUSTER=%s: say how often each dies", long)
		}
		rounds = n
	}
	c := startCluster(t)
	c.nodes[0].account()
	ports := []int{unusedPort(t), unusedPort(t)}
	b := c.balance(t, ports)
	migrated(t, dsn(b.one))
	backups := t.TempDir()
	one := serving(t, dsn(b.one), ports[0], "--backup-dir", backups)
	a := ownShop(t, one, fmt.Sprintf("http://127.0.0.1:%d", b.web))
	two := serving(t, dsn(b.two), ports[1])
	writers, settle := a.writers(4)
	for end := time.Now().Add(patience); c.conflicts() == 0; time.Sleep(500 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("two nodes are written, and no transaction loses its certification")
		}
	}
	t.Logf("%d transactions lost their certification before anything died", c.conflicts())
	dies := []func(){
		func() { c.nodes[0].kill(); rest(); c.back(c.nodes[0]) },
		func() { one.kill(); rest(); one.start() },
		func() { c.cut(c.nodes[0], true); rest(); c.cut(c.nodes[0], false) },
		func() { c.nodes[1].kill(); rest(); c.back(c.nodes[1]) },
		func() { two.kill(); rest(); two.start() },
	}
	if long == "" {
		dies = dies[:1]
	}
	for range rounds {
		for _, die := range dies {
			die()
			rest()
		}
	}
	settle()
	for _, d := range c.nodes {
		c.inStep(d)
	}
	acked, tries := 0, 0
	for _, w := range writers {
		acked, tries = acked+len(w.acked), tries+w.tries
	}
	for _, d := range c.nodes {
		d.counts(writers)
		out, err := exec.Command(binary, "verify", "--dsn", dsn(d.port)).CombinedOutput()
		if err != nil || !strings.Contains(string(out), ": 0 flaws") {
			t.Errorf("node %d: verify: %v %s", d.n, err, out)
		}
	}
	made, err := os.ReadDir(backups)
	if err != nil || len(made) != 1 {
		t.Errorf("%d backups in a day of one program, %v", len(made), err)
	}
	t.Logf("%d events acknowledged in %d tries while each of %d went, %d times", acked, tries, len(dies), rounds)
	if acked < 50 {
		t.Errorf("only %d events were booked", acked)
	}
	if long != "" {
		t.Logf("a booking on the cluster takes %.2f times what it takes on one node", c.cost(a))
	}
}

// conflicts is how many transactions the nodes have undone because another node's came first.
func (c *cluster) conflicts() (n int) {
	for _, d := range c.nodes {
		n += d.status("wsrep_local_cert_failures") + d.status("wsrep_local_bf_aborts")
	}
	return n
}

// rest lets the others go on for a while.
func rest() { time.Sleep(4 * time.Second) }

func migrated(t *testing.T, dsn string) {
	t.Helper()
	for end := time.Now().Add(patience); ; time.Sleep(500 * time.Millisecond) { // until the balancer knows the node
		out, err := exec.Command(binary, "migrate", "--dsn", dsn).CombinedOutput()
		if err == nil {
			return
		}
		if time.Now().After(end) {
			t.Fatalf("migrate: %v\n%s", err, out)
		}
	}
}

// serving starts a program at a port.
func serving(t *testing.T, dsn string, port int, more ...string) *program {
	t.Helper()
	return run(t, append([]string{"serve", "--dsn", dsn, "--addr", fmt.Sprintf("127.0.0.1:%d", port), "--behind-proxy",
		"--drain", "0s"}, more...)...)
}

// ownShop sets a shop up through a program's link, and gives its owner at an address.
func ownShop(t *testing.T, p *program, url string) *app {
	t.Helper()
	_, link, _ := strings.Cut(p.line("set up once"), "#")
	a := &app{t: t, url: url}
	a.jar, _ = cookiejar.New(nil)
	for end := time.Now().Add(patience); ; time.Sleep(200 * time.Millisecond) { // until the balancer knows a program
		if resp, err := http.Get(url + "/readyz"); err == nil {
			resp.Body.Close()
			if resp.StatusCode == http.StatusOK {
				break
			}
		}
		if time.Now().After(end) {
			t.Fatal("no program is ready behind the balancer")
		}
	}
	a.api("POST", "/set-up", map[string]any{"link": link, "name": "Own shop", "currency": "EUR", "weight_unit": "kg",
		"labour_rate": "24", "packaging_per_kg": "0.12", "discard_per_kg": "0", "benches": []string{"North", "East"},
		"owner_name": "Ada", "owner_email": "ada@own.example", "owner_password": ownersPassword}, nil)
	return a
}

// writers book without a pause, two on each breakdown, until they are settled.
func (a *app) writers(n int) (list []*writer, settle func()) {
	a.t.Helper()
	stop := make(chan struct{})
	var running sync.WaitGroup
	for i := range n {
		name := []string{"North", "East"}[i/2%2]
		w := &writer{url: a.url, bench: a.bench(name), second: i%2 == 1,
			client: &http.Client{Jar: a.jar, Timeout: 10 * time.Second}}
		if w.second {
			w.breakdown = list[i-1].breakdown
		} else {
			w.breakdown = a.planned(fmt.Sprintf("F-%d-%d", time.Now().UnixNano(), i), name)
		}
		list = append(list, w)
	}
	for _, w := range list {
		running.Go(func() { w.run(stop) })
	}
	return list, func() { close(stop); running.Wait() }
}

// counts compares what is on a node with what was acknowledged.
func (d *node) counts(writers []*writer) {
	d.t.Helper()
	for i := 0; i < len(writers); i += 2 {
		w := writers[i]
		acked := slices.Concat(w.acked, writers[i+1].acked)
		db := d.open("falda")
		rows, err := db.Query("SELECT e.public_id FROM events e JOIN breakdowns b ON b.id = e.breakdown_id WHERE "+
			"b.public_id = ?", w.breakdown)
		if err != nil {
			d.t.Fatal(err)
		}
		times, all := map[string]int{}, 0
		for rows.Next() {
			var id string
			if err := rows.Scan(&id); err != nil {
				d.t.Fatal(err)
			}
			times[id]++
			all++
		}
		rows.Close()
		db.Close()
		for _, id := range acked {
			if times[id] != 1 {
				d.t.Errorf("node %d: an acknowledged event is there %d times", d.n, times[id])
			}
		}
		if all > len(acked)+2 { // at most those that were under way at the end
			d.t.Errorf("node %d: %d events, %d acknowledged", d.n, all, len(acked))
		}
	}
}

// memoryLeft is what this machine has to give, in kilobytes.
func memoryLeft(t *testing.T) (n int) {
	t.Helper()
	raw, err := os.ReadFile("/proc/meminfo")
	if err != nil {
		t.Fatal(err)
	}
	_, rest, _ := strings.Cut(string(raw), "MemAvailable:")
	if _, err := fmt.Sscan(rest, &n); err != nil {
		t.Fatal(err)
	}
	return n
}

// cost books for a while on the cluster, and on one node by itself, with two programs each; it gives the ratio of
// times.
func (c *cluster) cost(a *app) float64 {
	const long = 20 * time.Second
	booked := func(a *app) float64 {
		list, settle := a.writers(4)
		time.Sleep(long)
		settle()
		n := 0
		for _, w := range list {
			n += len(w.acked)
		}
		return float64(n)
	}
	on := booked(a)
	alone := newNode(a.t, 4)
	alone.start()
	alone.account()
	migrated(a.t, dsn(alone.port))
	p := serving(a.t, dsn(alone.port), unusedPort(a.t))
	other := ownShop(a.t, p, p.url)
	other.url = behindProxy(a.t, p, serving(a.t, dsn(alone.port), unusedPort(a.t)))
	by := booked(other)
	a.t.Logf("%.0f on the cluster, %.0f on one node", on, by)
	return by / on
}
