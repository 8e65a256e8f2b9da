package api

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/labstack/echo/v5"
	"golang.org/x/time/rate"

	"falda/internal/work/audit"
	"falda/internal/work/people"
)

// class is a kind of route that requests are counted by.
type class string

// The classes.
const (
	reading  class = "read"
	changing class = "change"
	heavy    class = "heavy" // what keeps a core busy, or reads much: searches for the best use, reports, files
)

// Rate is how many requests of a class a caller may send: so many a second in the long run, and so many at once.
type Rate struct {
	PerSecond float64
	Burst     int
}

// Limits are the rates of one caller: a sign-in, a token, a bench's screen; who is nobody is counted by their network.
type Limits map[class]Rate

// UsualLimits leave room for a bench that sends what it queued for a day, and for a screen that loads a page; a loop
// without a pause runs into them.
func UsualLimits() Limits {
	return Limits{reading: {50, 300}, changing: {30, 300}, heavy: {2, 20}}
}

// heavyRoutes are those of class heavy, beside all imports and exports.
var heavyRoutes = []string{"POST /best-use", "POST /calc/best-use", "POST /reports", "POST /shares",
	"POST /prices/feed", "POST /tastings/{tasting_id}/sheets"}

func classOf(route string) class {
	for _, r := range heavyRoutes {
		if r == route {
			return heavy
		}
	}
	switch {
	case strings.HasSuffix(route, "/import"), strings.HasSuffix(route, "/export"), strings.HasSuffix(route, ".pdf"):
		return heavy
	case strings.HasPrefix(route, http.MethodGet):
		return reading
	}
	return changing
}

// maxCounted bounds how many callers are remembered; beyond it those that were idle longest are forgotten.
const maxCounted = 4000

// counters count requests by caller and class.
type counters struct {
	limits Limits
	mu     sync.Mutex
	known  map[string]*counter
}

type counter struct {
	limiter *rate.Limiter
	seen    time.Time
}

// take counts a request; it answers how long to wait where there were too many.
func (c *counters) take(who string, k class, now time.Time) (wait time.Duration, ok bool) {
	limit, limited := c.limits[k]
	if !limited {
		return 0, true
	}
	key := string(k) + " " + who
	c.mu.Lock()
	x := c.known[key]
	if x == nil {
		c.makeRoom()
		x = &counter{limiter: rate.NewLimiter(rate.Limit(limit.PerSecond), limit.Burst)}
		c.known[key] = x
	}
	x.seen = now
	c.mu.Unlock()
	r := x.limiter.ReserveN(now, 1)
	if wait = r.DelayFrom(now); wait > 0 {
		r.CancelAt(now)
		return wait, false
	}
	return 0, true
}

// makeRoom forgets the half that was idle longest, where there are too many.
func (c *counters) makeRoom() {
	if c.known == nil {
		c.known = map[string]*counter{}
	}
	if len(c.known) < maxCounted {
		return
	}
	var sum time.Duration
	now := time.Now()
	for _, x := range c.known {
		sum += now.Sub(x.seen)
	}
	mean := sum / time.Duration(len(c.known))
	for key, x := range c.known {
		if now.Sub(x.seen) >= mean {
			delete(c.known, key)
		}
	}
}

// limited refuses a caller who sends too many requests of a class, until they have waited. It stands behind the guard.
func (o Options) limited(next echo.HandlerFunc) echo.HandlerFunc {
	if o.Limits == nil {
		return next
	}
	counted := &counters{limits: o.Limits}
	return func(c *echo.Context) error {
		route := routeOf(c)
		if route == "" {
			return next(c)
		}
		who, _ := c.Get("who").(audit.Caller)
		if wait, ok := counted.take(callerKey(who, o.address(c.Request())), classOf(route), time.Now()); !ok {
			return people.TooMany{Wait: wait, Why: "requests"}
		}
		return next(c)
	}
}

// callerKey names a caller for counting.
func callerKey(who audit.Caller, address string) string {
	switch {
	case who.SessionID != 0:
		return fmt.Sprintf("session %d", who.SessionID)
	case who.ShopID != 0:
		return fmt.Sprintf("member %d %s", who.MemberID, who.Name)
	}
	return "network " + people.Network(address)
}
