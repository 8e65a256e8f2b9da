package bench

import (
	"context"
	"sync"
	"time"

	"falda/internal/store"
)

// pollInterval is how often a log that somebody watches is asked what other programs have booked on it. What this
// program books is told at once.
const pollInterval = 3 * time.Second

// topic is what can be watched: a breakdown, or a batch.
type topic struct {
	batch bool
	id    int64
}

// watchers wakes those who wait for something to be booked.
type watchers struct {
	mu      sync.Mutex
	waiting map[topic]map[chan struct{}]bool
}

// join gives a channel that is sent to when something is booked; leave ends that.
func (w *watchers) join(t topic) (woken <-chan struct{}, leave func()) {
	c := make(chan struct{}, 1)
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.waiting == nil {
		w.waiting = map[topic]map[chan struct{}]bool{}
	}
	if w.waiting[t] == nil {
		w.waiting[t] = map[chan struct{}]bool{}
	}
	w.waiting[t][c] = true
	return c, func() {
		w.mu.Lock()
		defer w.mu.Unlock()
		if delete(w.waiting[t], c); len(w.waiting[t]) == 0 {
			delete(w.waiting, t)
		}
	}
}

// tell wakes those who watch a breakdown, or its batch.
func (w *watchers) tell(b store.Breakdown) {
	w.mu.Lock()
	defer w.mu.Unlock()
	topics := []topic{{id: b.ID}}
	if b.BatchID != nil {
		topics = append(topics, topic{batch: true, id: *b.BatchID})
	}
	for _, t := range topics {
		for c := range w.waiting[t] {
			select {
			case c <- struct{}{}:
			default: // it is woken already
			}
		}
	}
}

// Changes waits until the log of a breakdown has another number of events than the given one, and gives it.
func (s *Service) Changes(ctx context.Context, id string, known int) (int, error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return 0, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return 0, err
	}
	return s.waitForMore(ctx, topic{id: b.ID}, known,
		func() (int, error) { return s.store.EventCount(ctx, shop.ID, b.ID) })
}

// BatchChanges waits until the boards of a batch together have another number of events than the given one, and gives
// it.
func (s *Service) BatchChanges(ctx context.Context, id string, known int) (int, error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return 0, err
	}
	batch, err := s.store.Batch(ctx, shop.ID, id)
	if err != nil {
		return 0, err
	}
	return s.waitForMore(ctx, topic{batch: true, id: batch.ID}, known,
		func() (int, error) { return s.store.BatchEventCount(ctx, shop.ID, batch.ID) })
}

// waitForMore waits until the count is another than the known one. It is counted when this program has booked, and
// every so often for what others have.
func (s *Service) waitForMore(ctx context.Context, t topic, known int, count func() (int, error)) (int, error) {
	woken, leave := s.watchers.join(t) // before the first count: nothing is missed in between
	defer leave()
	poll := time.NewTicker(pollInterval)
	defer poll.Stop()
	for {
		n, err := count()
		if err != nil || n != known {
			return n, err
		}
		select {
		case <-ctx.Done():
			return known, ctx.Err()
		case <-woken:
		case <-poll.C:
		}
	}
}
