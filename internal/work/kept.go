package work

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
	maxKept     = 64
	keptFor     = 5 * time.Second
	maxBookings = 20
	maxLost     = 5 // after lost connections
)

// keptBoard is a breakdown as it was after the last booking through this program. Its lock is held while one books.
type keptBoard struct {
	mu   sync.Mutex
	view *BoardView // nil until it is read
	log  []seam.Event
	read time.Time
}

// keptBoards holds the breakdowns that are being cut.
type keptBoards struct {
	mu     sync.Mutex
	boards map[string]*keptBoard
}

// of gives the place of a shop's breakdown, making room by dropping any other.
func (k *keptBoards) of(shopID int64, id string) *keptBoard {
	id = fmt.Sprint(shopID, "/", id)
	k.mu.Lock()
	defer k.mu.Unlock()
	if b, ok := k.boards[id]; ok {
		return b
	}
	if k.boards == nil {
		k.boards = map[string]*keptBoard{}
	}
	for other := range k.boards {
		if len(k.boards) < maxKept {
			break
		}
		delete(k.boards, other)
	}
	b := &keptBoard{}
	k.boards[id] = b
	return b
}

// fill reads a breakdown where it is not kept, or was read too long ago. It answers whether it did.
func (s *Service) fill(ctx context.Context, k *keptBoard, id string) (fresh bool, err error) {
	if k.view != nil && time.Since(k.read) < keptFor {
		return false, nil
	}
	k.view = nil
	shop, err := s.withPlans(ctx)
	if err != nil {
		return false, err
	}
	b, err := s.store.Breakdown(ctx, shop.ID, id)
	if err != nil {
		return false, err
	}
	if k.log, err = s.log(ctx, shop, b.ID); err != nil {
		return false, err
	}
	v, err := s.board(ctx, shop, b, k.log)
	if err != nil {
		return false, err
	}
	k.view, k.read = &v, time.Now()
	return true, nil
}
