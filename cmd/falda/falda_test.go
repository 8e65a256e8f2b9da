package main

import (
	"context"
	"encoding/json"
	"io"
	"net"
	"net/http"
	"os"
	"strings"
	"testing"
	"time"

	"falda/internal/core/measure"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

func freeAddr(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().String()
}

// Serve refuses a database that was not migrated and says what to do; on a migrated one it sets the shop up once and
// serves until it is told to stop.
func TestServeOnADatabaseOfOnesOwn(t *testing.T) {
	dsn := testdb.DSN(t)
	shop := work.NewShop{Name: "Own shop", Currency: "USD", Unit: "lb", LabourRate: "30", PackagingPerKg: "0", LotPrefix: "L-", Benches: []string{"One"}}
	if err := runServe(t.Context(), "127.0.0.1:0", dsn, nil, shop); err == nil || !strings.Contains(err.Error(), "falda migrate") {
		t.Fatalf("serving a new database: %v", err)
	}
	st, err := store.Open(dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	for range 2 { // a second time changes nothing
		if version, err := st.Migrate(t.Context()); err != nil || version < 1 {
			t.Fatalf("schema version %d, %v", version, err)
		}
	}
	addr := freeAddr(t)
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan error, 1)
	go func() { done <- runServe(ctx, addr, dsn, []string{"One=127.0.0.1:1"}, shop) }()
	var got struct {
		Name       string
		Currency   string
		WeightUnit string `json:"weight_unit"`
		Benches    []struct {
			Name     string
			HasScale bool `json:"has_scale"`
		}
	}
	for end := time.Now().Add(30 * time.Second); got.Name == "" && time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		resp, err := http.Get("http://" + addr + "/api/v1/shop")
		if err != nil {
			continue
		}
		raw, err := io.ReadAll(resp.Body)
		resp.Body.Close()
		if err != nil || json.Unmarshal(raw, &got) != nil {
			t.Fatalf("%s, %v", raw, err)
		}
	}
	if got.Name != "Own shop" || got.Currency != "USD" || got.WeightUnit != "lb" || len(got.Benches) != 1 || !got.Benches[0].HasScale {
		t.Errorf("the shop is %+v", got)
	}
	stop()
	if err := <-done; err != nil {
		t.Errorf("stopping: %v", err)
	}
}

// The simulated scale carries out what is typed and what listeners send.
func TestSimulateScale(t *testing.T) {
	addr := freeAddr(t)
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	typed, keyboard := io.Pipe()
	done := make(chan error, 1)
	go func() {
		done <- simulateScale(ctx, addr, &device.SimScale{Division: 10 * measure.Gram, Settle: 20 * time.Millisecond, Every: 5 * time.Millisecond}, typed)
	}()
	scale := device.Connect(ctx, addr)
	want := func(g float64) {
		t.Helper()
		timeout := time.After(20 * time.Second)
		for {
			r, changed := scale.Reading()
			if r.Status == device.OK && r.Stable && r.Net.Grams() == g {
				return
			}
			select {
			case <-changed:
			case <-timeout:
				t.Fatalf("never %v g: %+v", g, r)
			}
		}
	}
	want(0)
	if _, err := io.WriteString(keyboard, "put 1234\n"); err != nil {
		t.Fatal(err)
	}
	want(1230)
	if err := scale.Command(ctx, "take"); err != nil {
		t.Fatal(err)
	}
	want(0)
	stop()
	if err := <-done; err != nil {
		t.Errorf("stopping: %v", err)
	}
}

// Verify finds what does not agree with the log, and rebuilds it from the log.
func TestVerifyFindsAndRebuilds(t *testing.T) {
	dsn := testdb.DSN(t)
	st, w, err := openDemo(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	verify := func(rebuild bool) (string, error) {
		var out strings.Builder
		err := runVerify(t.Context(), dsn, rebuild, &out)
		return out.String(), err
	}
	if out, err := verify(false); err != nil || !strings.Contains(out, "12 breakdowns") || !strings.Contains(out, ": 0 flaws") {
		t.Fatalf("the scenario: %s %v", out, err)
	}
	for _, damage := range []string{
		"UPDATE breakdowns SET output_mg = output_mg + 1, loss_mg = loss_mg - 1 WHERE state = 'closed' ORDER BY id LIMIT 1",
		"UPDATE outputs SET mass_mg = mass_mg + 1 ORDER BY id DESC LIMIT 1",
		"DELETE FROM outputs ORDER BY id LIMIT 1",
	} {
		if err := st.DB().Exec(damage).Error; err != nil {
			t.Fatal(err)
		}
	}
	out, err := verify(false)
	for _, flaw := range []string{"output is", "loss is", "stands wrongly", "is missing", ": 4 flaws"} {
		if err == nil || !strings.Contains(out, flaw) {
			t.Errorf("%q was not found: %s %v", flaw, out, err)
		}
	}
	if out, err := verify(true); err != nil || !strings.Contains(out, "2 rebuilt") {
		t.Errorf("rebuilding: %s %v", out, err)
	}
	if out, err := verify(false); err != nil || !strings.Contains(out, ": 0 flaws") {
		t.Errorf("after rebuilding: %s %v", out, err)
	}
	// a scenario that was cut short is begun anew
	if err := st.DB().Exec("UPDATE shops SET seeded = FALSE").Error; err != nil {
		t.Fatal(err)
	}
	again, _, err := openDemo(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	if seeded, err := w.Seeded(t.Context()); err != nil || !seeded {
		t.Errorf("begun anew: %v, %v", seeded, err)
	}
}
