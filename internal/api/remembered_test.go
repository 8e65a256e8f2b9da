package api

import (
	"net/http"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
)

// memoryIsOld is when who asks is not taken from memory any more, but for booking.
const memoryIsOld = 2100 * time.Millisecond

// Rules: a weighing is one round trip for a cutter who weighed some time ago; and who was signed out meanwhile, through
// any program, books nothing and is told nothing.
func TestAWeighingAsksForTheCallerInOneRoundTrip(t *testing.T) {
	now := func() time.Time { return today }
	testdb.Service(t, now)
	gate, through := testdb.NewGate(t, testdb.Server.DSN)
	st, w := testdb.Bare(t, through, now)
	r := serve(t, st, w, Options{Web: fstest.MapFS{}, Scales: func(store.Bench) *device.Scale { return nil }})
	board := r.onBench("B-1", "seamed")
	path := "/api/v1/breakdowns/" + board.Id + "/events"
	r.book(board.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
	weigh := func() map[string]any {
		return r.event("trimmed", 1, map[string]any{"part": "trim", "net_g": 10, "source": "scale", "division_g": 5})
	}
	time.Sleep(memoryIsOld)
	before := gate.Statements()
	last := weigh()
	r.ok("POST", path, last, nil)
	if n := gate.Statements() - before; n != 1 {
		t.Errorf("a weighing takes %d statements", n)
	}
	before = gate.Statements()
	r.ok("GET", "/api/v1/breakdowns/"+board.Id, nil, nil)
	if gate.Statements() == before {
		t.Error("what is read asks nobody who reads it")
	}
	asked, signedOut := st.DB(), []struct{ name, do, undo string }{
		{"ended", "UPDATE sessions SET ended_at = NOW()", "UPDATE sessions SET ended_at = NULL"},
		{"over", "UPDATE sessions SET ends_at = '2020-01-01'", "UPDATE sessions SET ends_at = created_at + INTERVAL 9 DAY"},
		{"idle", "UPDATE sessions SET seen_at = '2020-01-01'", "UPDATE sessions SET seen_at = created_at"},
		{"left", "UPDATE members SET active = 0", "UPDATE members SET active = 1"},
	}
	events := func() (n int) {
		if err := asked.Raw("SELECT COUNT(*) FROM events").Scan(&n).Error; err != nil {
			t.Fatal(err)
		}
		return n
	}
	for _, x := range signedOut {
		r.ok("POST", path, weigh(), nil) // known again
		stood := events()
		time.Sleep(memoryIsOld)
		if err := asked.Exec(x.do).Error; err != nil { // as another program does
			t.Fatal(err)
		}
		wrong := weigh()
		wrong["part"] = "no such part"
		for name, event := range map[string]map[string]any{"a weighing": weigh(), "one that was booked": last,
			"one that is wrong": wrong, "one of another breakdown": weigh()} {
			to := path
			if name == "one of another breakdown" {
				to = "/api/v1/breakdowns/" + store.NewID() + "/events"
			}
			// each as if nobody had asked since
			if status, _, body := r.do("POST", to, event); status != http.StatusUnauthorized {
				t.Errorf("%s: %s: %d %.200s", x.name, name, status, body)
			}
		}
		if n := events(); n != stood {
			t.Errorf("%s: %d events were booked", x.name, n-stood)
		}
		if err := asked.Exec(x.undo).Error; err != nil {
			t.Fatal(err)
		}
	}
	r.ok("POST", path, weigh(), nil)
}
