package api

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"sync"
	"time"

	"falda/internal/api/contract"
	"falda/internal/work/audit"
	"falda/internal/work/people"
)

func (h *handlers) StreamBoard(ctx context.Context,
	r contract.StreamBoardRequestObject) (contract.StreamBoardResponseObject, error) {
	return h.changes(ctx, func(ctx context.Context, known int) (int, error) {
		return h.work.Bench.Changes(ctx, r.BreakdownId, known)
	})
}

// changes streams how many events logs have, each time that they have grown.
func (h *handlers) changes(ctx context.Context, next func(ctx context.Context, known int) (int, error)) (boardStream,
	error) {
	n, err := next(ctx, -1)
	if err != nil {
		return boardStream{}, err
	}
	done, err := h.oneStream(ctx)
	if err != nil {
		return boardStream{}, err
	}
	return boardStream{ctx: ctx, done: done, first: n, next: next}, nil
}

// boardStream tells as server-sent events how many events a log has, each time that it has grown.
type boardStream struct {
	ctx   context.Context
	done  func()
	first int
	next  func(ctx context.Context, known int) (int, error)
}

// VisitStreamBoardResponse writes the stream.
func (s boardStream) VisitStreamBoardResponse(w http.ResponseWriter) error { return s.write(w) }

// VisitStreamBatchResponse writes the stream.
func (s boardStream) VisitStreamBatchResponse(w http.ResponseWriter) error { return s.write(w) }

// wait waits for more events, or for a beat.
func (s boardStream) wait(known int) (int, error) {
	beat, cancel := context.WithTimeout(s.ctx, beatEvery)
	defer cancel()
	n, err := s.next(beat, known)
	if err != nil && s.ctx.Err() == nil && beat.Err() != nil {
		return known, nil
	}
	return n, err
}

func (s boardStream) write(w http.ResponseWriter) error {
	defer s.done()
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no")
	w.WriteHeader(http.StatusOK)
	out := http.NewResponseController(w)
	if _, err := io.WriteString(w, "retry: 1000\n\n"); err != nil {
		return nil // the caller went away
	}
	for known := s.first; ; {
		if err := out.SetWriteDeadline(time.Now().Add(maxAnswerTime)); err != nil && !errors.Is(err, http.ErrNotSupported) {
			return nil
		}
		if _, err := fmt.Fprintf(w, "data: %d\n\n", known); err != nil {
			return nil
		}
		if err := out.Flush(); err != nil {
			return nil
		}
		n, err := s.wait(known)
		if err != nil || !still(s.ctx) {
			return nil // the caller went away or may no longer, or the database did: the browser asks again
		}
		known = n
	}
}

// How many streams may be open at once: in all, for one shop, and for one caller (a person has a few tabs, a bench one
// screen).
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

// still says whether the caller of a stream may still have it: their session holds, they are who they were, and have
// the right.
func still(ctx context.Context) bool {
	v := requestInfoOf(ctx)
	return v.again == nil || v.again()
}
