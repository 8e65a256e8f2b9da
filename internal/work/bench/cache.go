package bench

import (
	"context"
	"fmt"
	"sync"
	"time"

	"falda/internal/core/seam"
)

// How many breakdowns are kept in memory, how long before the shop's settings are read anew, and how often a booking is
// tried again when other programs append to the same log.
const (
	maxCached   = 64
	cachedFor   = 5 * time.Second
	maxBookings = 20
	maxLost     = 5 // after lost connections
)

// cachedBoard is a breakdown as it was after the last booking through this program. Its lock is held while one books.
type cachedBoard struct {
	mu   sync.Mutex
	view *BoardView // nil until it is read
	log  []seam.Event
	read time.Time
}

// boardCache holds the breakdowns that are being cut.
type boardCache struct {
	mu     sync.Mutex
	boards map[string]*cachedBoard
}

// of gives the place of a shop's breakdown, making room by dropping any other.
func (k *boardCache) of(shopID int64, id string) *cachedBoard {
	id = fmt.Sprint(shopID, "/", id)
	k.mu.Lock()
	defer k.mu.Unlock()
	if b, ok := k.boards[id]; ok {
		return b
	}
	if k.boards == nil {
		k.boards = map[string]*cachedBoard{}
	}
	for other := range k.boards {
		if len(k.boards) < maxCached {
			break
		}
		delete(k.boards, other)
	}
	b := &cachedBoard{}
	k.boards[id] = b
	return b
}

// fill reads a breakdown where it is not kept, or was read too long ago. It answers whether it did.
func (s *Service) fill(ctx context.Context, k *cachedBoard, id string) (fresh bool, err error) {
	if k.view != nil && time.Since(k.read) < cachedFor {
		return false, nil
	}
	k.view = nil
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return false, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return false, err
	}
	if k.log, err = s.LogOf(ctx, shop, b.ID); err != nil {
		return false, err
	}
	v, err := s.BoardOf(ctx, shop, b, k.log)
	if err != nil {
		return false, err
	}
	k.view, k.read = &v, time.Now()
	return true, nil
}
