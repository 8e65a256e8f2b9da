package bench

import (
	"context"
	"fmt"
	"sync"

	"falda/internal/core/seam"
	"falda/internal/store"
)

// How many breakdowns are kept in memory, and how often a booking is tried again when other programs append to the same
// log.
const (
	maxCached   = 256
	maxBookings = 20
	maxLost     = 5 // after lost connections
)

// cachedBoard is a breakdown as it was after the last booking through this program. It holds as long as the database
// says so: an event is added only where the log has not grown, and lot and shop have not changed, since. Its lock is
// held while one books.
type cachedBoard struct {
	mu   sync.Mutex
	view *BoardView // nil until it is read
	log  []seam.Event
	used int64 // when it was last asked for, counted
}

// boardCache holds the breakdowns that are being cut, the last used.
type boardCache struct {
	mu     sync.Mutex
	boards map[string]*cachedBoard
	asked  int64
}

func cacheKey(shopID int64, id string) string { return fmt.Sprint(shopID, "/", id) }

// of gives the place of a shop's breakdown, making room by dropping the one that was not used for longest.
func (k *boardCache) of(shopID int64, id string) *cachedBoard {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.asked++
	b, ok := k.boards[cacheKey(shopID, id)]
	if !ok {
		if k.boards == nil {
			k.boards = map[string]*cachedBoard{}
		}
		if len(k.boards) >= maxCached {
			oldest := ""
			for key, other := range k.boards {
				if oldest == "" || other.used < k.boards[oldest].used {
					oldest = key
				}
			}
			delete(k.boards, oldest)
		}
		b = &cachedBoard{}
		k.boards[cacheKey(shopID, id)] = b
	}
	b.used = k.asked
	return b
}

// drop takes breakdowns out that turned out not to be there.
func (k *boardCache) drop(shopID int64, ids []string) {
	k.mu.Lock()
	defer k.mu.Unlock()
	for _, id := range ids {
		delete(k.boards, cacheKey(shopID, id))
	}
}

// fill reads the breakdowns that are not cached, all at once. It answers whether all of them were read just now.
func (s *Service) fill(ctx context.Context, list []booking) (fresh bool, err error) {
	var lacking []string
	for _, b := range list {
		if b.cached.view == nil {
			lacking = append(lacking, b.breakdown)
		}
	}
	if len(lacking) == 0 {
		return false, nil
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return false, err
	}
	found, err := s.store.BreakdownsNamed(ctx, shop.ID, lacking)
	if err != nil {
		return false, err
	}
	var rows []store.Breakdown
	for _, id := range lacking {
		b, ok := found[id]
		if !ok {
			s.cached.drop(shop.ID, lacking)
			return false, store.ErrNotFound
		}
		rows = append(rows, b)
	}
	ids := make([]int64, len(rows))
	for i, b := range rows {
		ids[i] = b.ID
	}
	logs, err := s.logsOf(ctx, shop.ID, ids)
	if err != nil {
		return false, err
	}
	boards, err := s.boards(ctx, shop, rows, logs)
	if err != nil {
		return false, err
	}
	read := make(map[string]*BoardView, len(boards))
	for i := range boards {
		read[boards[i].Breakdown.PublicID] = &boards[i]
	}
	for _, b := range list {
		if v, ok := read[b.breakdown]; ok {
			b.cached.view, b.cached.log = v, logs[v.Breakdown.ID]
		}
	}
	return len(lacking) == len(list), nil
}
