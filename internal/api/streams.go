package api

import (
	"context"
	"sync"
	"time"

	"falda/internal/work/audit"
	"falda/internal/work/people"
)

// How many streams may be open at once: in all, for one shop, and for one caller (a person has a few tabs, a bench one screen).
const (
	maxStreams       = 200
	maxShopStreams   = 80
	maxCallerStreams = 8
)

// beatEvery is how often a stream shows that it is alive, and is asked whether its caller still may have it.
var beatEvery = 10 * time.Second

// streams counts the open streams.
type streams struct {
	mu     sync.Mutex
	all    int
	shop   map[int64]int
	caller map[string]int
}

// begin counts a stream; it answers false where there are too many.
func (s *streams) begin(who audit.Caller) (end func(), ok bool) {
	key := callerKey(who, who.Where.Address)
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.shop == nil {
		s.shop, s.caller = map[int64]int{}, map[string]int{}
	}
	if s.all >= maxStreams || s.shop[who.ShopID] >= maxShopStreams || s.caller[key] >= maxCallerStreams {
		return nil, false
	}
	s.add(who.ShopID, key, 1)
	var once sync.Once
	return func() {
		once.Do(func() {
			s.mu.Lock()
			defer s.mu.Unlock()
			s.add(who.ShopID, key, -1)
		})
	}, true
}

func (s *streams) add(shop int64, caller string, by int) {
	s.all += by
	if s.shop[shop] += by; s.shop[shop] == 0 {
		delete(s.shop, shop)
	}
	if s.caller[caller] += by; s.caller[caller] == 0 {
		delete(s.caller, caller)
	}
}

// oneStream counts a stream that begins; what it gives is called at its end.
func (h *handlers) oneStream(ctx context.Context) (func(), error) {
	who, _ := audit.CallerOf(ctx)
	end, ok := h.streams.begin(who)
	if !ok {
		return nil, people.TooMany{Wait: 5 * time.Second, Why: "streams"}
	}
	h.metrics.streams.Inc()
	return func() { end(); h.metrics.streams.Dec() }, nil
}

// still says whether the caller of a stream may still have it: their session holds, they are who they were, and have the right.
func still(ctx context.Context) bool {
	v := visitOf(ctx)
	return v.again == nil || v.again()
}
