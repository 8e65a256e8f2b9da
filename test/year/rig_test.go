package year

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	neturl "net/url"
	"testing"
	"time"

	"github.com/google/uuid"

	"falda/internal/api"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/web"
)

// year is a shop whose clock is turned on by what is done in it.
type year struct {
	t       *testing.T
	url     string
	now     time.Time
	store   *store.Store
	work    *work.Rooms
	rng     *rand.Rand
	who     map[string]*http.Client // by role
	benches []string
	usual   map[string]float64 // minutes by plan and piece
	chosen  map[string]string  // the plan that paid, by piece

	// what was made up
	apprentice map[string]int // pieces of a kind that the apprentice has cut
	cuts       int
	grams      float64
	takings    int            // cents over the counter
	packs      map[string]int // by product and season
	first      time.Time      // Monday of the first week that was sold
	eaten      int            // sheets of tastings
	delivered  int            // orders that were packed
	answers    int            // of the apprentice to what was asked
}

// open opens the interface on an empty shop.
func open(t *testing.T, begins time.Time) *year {
	t.Helper()
	y := &year{t: t, now: begins, rng: rand.New(rand.NewPCG(1971, 26)), who: map[string]*http.Client{},
		usual: map[string]float64{}, chosen: map[string]string{}, apprentice: map[string]int{}, packs: map[string]int{}}
	y.store, y.work = testdb.Service(t, func() time.Time { return y.now })
	if err := y.work.Prepare(t.Context()); err != nil {
		t.Fatal(err)
	}
	for _, k := range kinds {
		p, ok := y.work.Atlas().Find(k.id)
		if !ok {
			t.Fatalf("the atlas has no %s", k.id)
		}
		for _, id := range k.plans {
			pl, ok := p.Plan(id)
			if !ok {
				t.Fatalf("%s has no plan %s", k.id, id)
			}
			y.usual[id+k.id] = pl.Minutes
		}
	}
	srv := httptest.NewServer(api.Handler(api.Options{Work: y.work, Demo: true, Access: true, Web: web.App(),
		Log: slog.New(slog.DiscardHandler), Scales: noScale}))
	t.Cleanup(srv.Close)
	y.url = srv.URL
	y.signIn()
	return y
}

// signIn signs one of each role in, as every morning.
func (y *year) signIn() {
	y.t.Helper()
	jar, err := cookiejar.New(nil)
	if err != nil {
		y.t.Fatal(err)
	}
	y.who[""] = &http.Client{Jar: jar}
	var me struct{ Offered []struct{ ID, Role string } }
	y.do("", "GET", "/me", nil, &me)
	for _, o := range me.Offered {
		if jar, err = cookiejar.New(nil); err != nil {
			y.t.Fatal(err)
		}
		y.who[o.Role] = &http.Client{Jar: jar}
		y.do(o.Role, "POST", "/session/demo", map[string]any{"member_id": o.ID}, nil)
	}
}

// do asks the interface for something, as somebody of a role; a string goes as it is.
func (y *year) do(role, method, path string, body, out any) {
	y.t.Helper()
	var raw []byte
	if text, ok := body.(string); ok {
		raw = []byte(text)
	} else if body != nil {
		var err error
		if raw, err = json.Marshal(body); err != nil {
			y.t.Fatal(err)
		}
	}
	req, err := http.NewRequest(method, y.url+"/api/v1"+path, bytes.NewReader(raw))
	if err != nil {
		y.t.Fatal(err)
	}
	if raw != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	resp, err := y.who[role].Do(req)
	if err != nil {
		y.t.Fatal(err)
	}
	defer resp.Body.Close()
	answer, err := io.ReadAll(resp.Body)
	if err != nil || resp.StatusCode >= 300 {
		y.t.Fatalf("%s: %s %s %.500s: %d %.800s %v", y.now.Format(time.DateTime), method, path, raw, resp.StatusCode, answer,
			err)
	}
	if out != nil {
		if err := json.Unmarshal(answer, out); err != nil {
			y.t.Fatalf("%s %s: %v in %.300s", method, path, err, answer)
		}
	}
}

// book books an event of a piece on a bench.
func (y *year) book(role, bench string, b *board, e map[string]any) {
	y.t.Helper()
	e["id"], e["at"], e["bench_id"], e["source"] = uuid.Must(uuid.NewV7()).String(), y.now.Format(time.RFC3339Nano), bench,
		"scale"
	var next board
	y.do(role, "POST", "/breakdowns/"+b.ID+"/events", e, &next)
	next.Piece = b.Piece
	*b = next
}

func noScale(store.Bench) *device.Scale { return nil }

func address(text string) *neturl.URL {
	u, err := neturl.Parse(text)
	if err != nil {
		panic(err)
	}
	return u
}

func money(cents int) string { return fmt.Sprintf("%d.%02d", cents/100, cents%100) }
