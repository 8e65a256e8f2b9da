package browser

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
)

// faults is how often the program is killed, and how often its database: few in the usual run, as many as FALDA_FAULTS
// says in a run that is about them (make faults).
func faults(t *testing.T) (program, database int) {
	t.Helper()
	if text := os.Getenv("FALDA_FAULTS"); text != "" {
		n, err := strconv.Atoi(text)
		if err != nil {
			t.Fatal(err)
		}
		return n, n * 2 / 5
	}
	return 4, 2
}

// writer books weighings on one breakdown, one after the other, each until it is acknowledged.
type writer struct {
	url, breakdown, bench string
	client                *http.Client
	second                bool // another one has opened the breakdown
	acked                 []string
	tries                 int
}

func (w *writer) run(stop <-chan struct{}) {
	for n := 0; ; n++ {
		id := uuid.Must(uuid.NewV7()).String()
		e := map[string]any{"id": id, "kind": "trimmed", "part": "trim", "net_g": 1, "at": time.Now().UTC(),
			"bench_id": w.bench, "source": "scale"}
		if n == 0 && !w.second {
			e = map[string]any{"id": id, "kind": "opened", "net_g": 6600, "at": time.Now().UTC(), "bench_id": w.bench}
		}
		raw, err := json.Marshal(e)
		if err != nil {
			panic(err)
		}
		for {
			w.tries++
			resp, err := w.client.Post(w.url+"/api/v1/breakdowns/"+w.breakdown+"/events", "application/json",
				bytes.NewReader(raw))
			if err == nil {
				_, _ = io.Copy(io.Discard, resp.Body)
				resp.Body.Close()
				if resp.StatusCode == http.StatusOK {
					w.acked = append(w.acked, id)
					break
				}
			}
			select {
			case <-stop:
				return
			case <-time.After(20 * time.Millisecond):
			}
		}
		select {
		case <-stop:
			return
		default:
		}
	}
}

// Rule: what was acknowledged is there, once, whatever dies and when. Four benches book without a pause while the
// program and its database are killed at random moments.
func TestNothingAcknowledgedIsLostOrDoubled(t *testing.T) {
	program, database := faults(t)
	data := t.TempDir()
	a := start(t, data, "127.0.0.1:0")
	addr := strings.TrimPrefix(a.url, "http://")
	writers := make([]*writer, 4)
	for i := range writers {
		name := []string{"North", "Middle", "South"}[i%3]
		writers[i] = &writer{url: a.url, breakdown: a.planned(fmt.Sprintf("F-%d", i), name), bench: a.bench(name),
			client: &http.Client{Jar: a.jar, Timeout: 10 * time.Second}}
	}
	stop := make(chan struct{})
	var running sync.WaitGroup
	for _, w := range writers {
		running.Go(func() { w.run(stop) })
	}
	rng := rand.New(rand.NewPCG(58, 71))
	pause := func() { time.Sleep(time.Duration(100+rng.IntN(900)) * time.Millisecond) }
	killed := 0 // databases
	for i := range program + database {
		pause()
		if i%((program+database)/max(1, database)) == 0 && killed < database {
			pid := a.databasePID()
			if err := syscall.Kill(pid, syscall.SIGKILL); err != nil {
				t.Fatal(pid, err)
			}
			killed++
			continue
		}
		a.kill()
		a.waitForDatabase()
		a = start(t, data, addr)
	}
	time.Sleep(time.Second)
	close(stop)
	running.Wait()
	acked, tries := 0, 0
	for _, w := range writers {
		var log []struct{ Event struct{ ID string } }
		a.api("GET", "/breakdowns/"+w.breakdown+"/events", nil, &log)
		times := map[string]int{}
		for _, l := range log {
			times[l.Event.ID]++
		}
		for _, id := range w.acked {
			if times[id] != 1 {
				t.Errorf("an acknowledged event is there %d times", times[id])
			}
		}
		if len(log) > len(w.acked)+1 { // at most the one that was under way at the end
			t.Errorf("%d events, %d acknowledged", len(log), len(w.acked))
		}
		acked, tries = acked+len(w.acked), tries+w.tries
	}
	t.Logf("%d kills of the program, %d of the database; %d events acknowledged in %d tries", program+database-killed,
		killed, acked, tries)
	if acked < 50 {
		t.Errorf("only %d events were booked", acked)
	}
	a.kill()
	a.waitForDatabase()
	out, err := exec.Command(binary, "verify", "--data", filepath.Clean(data)).CombinedOutput()
	if err != nil || !strings.Contains(string(out), ": 0 flaws") {
		t.Errorf("verify: %v %s", err, out)
	}
}
