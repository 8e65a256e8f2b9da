package api

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"slices"
	"strconv"
	"sync"
	"testing"
	"time"

	"falda/internal/core/measure"
	"falda/internal/store"
)

// quantile is of sorted times.
func quantile(times []time.Duration, q float64) time.Duration {
	return times[min(len(times)-1, int(q*float64(len(times))))].Round(10 * time.Microsecond)
}

// paced calls each of so many doers twice a second for a while, and gives how long each call took.
func paced(doers int, long time.Duration, do func(doer, n int) error) ([]time.Duration, error) {
	var mu sync.Mutex
	var times []time.Duration
	var failed error
	var all sync.WaitGroup
	for d := range doers {
		all.Go(func() {
			tick := time.NewTicker(500 * time.Millisecond)
			defer tick.Stop()
			time.Sleep(time.Duration(d) * 500 * time.Millisecond / time.Duration(doers)) // not all at once
			for end, n := time.Now().Add(long), 0; time.Now().Before(end); n++ {
				<-tick.C
				began := time.Now()
				err := do(d, n)
				took := time.Since(began)
				mu.Lock()
				times = append(times, took)
				if err != nil && failed == nil {
					failed = err
				}
				mu.Unlock()
			}
		})
	}
	all.Wait()
	slices.Sort(times)
	return times, failed
}

// Fifty benches book two weights a second each against one program and one database: no error. How long that takes is
// printed beside an empty durable insert at the same rate in the same run; nothing is judged by the clock. FALDA_LOAD
// says for how many seconds (make bench).
func TestFiftyBenches(t *testing.T) {
	seconds := 3
	if text := os.Getenv("FALDA_LOAD"); text != "" {
		var err error
		if seconds, err = strconv.Atoi(text); err != nil {
			t.Fatal(err)
		}
	}
	const benches = 50
	long := time.Duration(seconds) * time.Second
	r := newRig(t)
	boards := make([]string, benches)
	for i := range boards {
		b := r.onBench(fmt.Sprintf("L-%02d", i), "seamed")
		boards[i] = b.Id
		r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	}
	client := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: benches}}
	times, err := paced(benches, long, func(i, n int) error {
		raw, err := json.Marshal(r.event("trimmed", 1,
			map[string]any{"part": "trim", "net_g": 1, "source": "scale", "division_g": 5}))
		if err != nil {
			return err
		}
		req, err := http.NewRequest("POST", r.url+"/api/v1/breakdowns/"+boards[i]+"/events", bytes.NewReader(raw))
		if err != nil {
			return err
		}
		req.Header.Set("Content-Type", "application/json")
		req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
		resp, err := client.Do(req)
		if err != nil {
			return err
		}
		defer resp.Body.Close()
		answer, err := io.ReadAll(resp.Body)
		if err == nil && resp.StatusCode != http.StatusOK {
			err = fmt.Errorf("%d %s", resp.StatusCode, answer)
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	shop, err := r.store.FirstShop(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	bare := r.onBench("L-bare", "seamed")
	row, err := r.store.Breakdown(t.Context(), shop.ID, bare.Id)
	if err != nil {
		t.Fatal(err)
	}
	inserts, err := paced(benches, long, func(i, n int) error {
		e := store.Event{PublicID: store.NewID(), ShopID: shop.ID, BreakdownID: row.ID, Seq: 1 + i*1_000_000 + n,
			BenchID: row.BenchID, Kind: "trimmed", At: today, ReceivedAt: today, Role: "cutter", Part: "trim",
			NetMg: int64(measure.Gram), Source: "scale"}
		return r.store.DB().WithContext(t.Context()).Create(&e).Error
	})
	if err != nil {
		t.Fatal(err)
	}
	if len(times) < benches*seconds {
		t.Errorf("only %d weights were booked", len(times))
	}
	t.Logf("%d weights by %d benches in %d s: p50 %v, p95 %v, p99 %v; empty durable inserts at the same rate: p50 %v, "+
		"p95 %v, p99 %v", len(times), benches, seconds,
		quantile(times, 0.5), quantile(times, 0.95), quantile(times, 0.99), quantile(inserts, 0.5), quantile(inserts, 0.95),
		quantile(inserts, 0.99))
}
