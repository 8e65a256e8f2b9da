package judge

import (
	"context"
	"errors"
	"fmt"
	"sync"

	"falda/internal/core/eating"
	"falda/internal/store"
)

// maxCachedGrades is how many shops' grades are kept in memory.
const maxCachedGrades = 256

// gradesCache keeps the grades of shops, each as long as its version stands.
type gradesCache struct {
	mu    sync.Mutex
	known map[int64]cachedGrades
}

type cachedGrades struct {
	version int
	grades  HouseGrades
}

func (c *gradesCache) of(shopID int64, version int) (HouseGrades, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	k, ok := c.known[shopID]
	return k.grades, ok && k.version == version
}

func (c *gradesCache) keep(shopID int64, version int, g HouseGrades) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.known == nil || len(c.known) >= maxCachedGrades {
		c.known = map[int64]cachedGrades{}
	}
	c.known[shopID] = cachedGrades{version, g}
}

// panelResults works out what the panel of a tasting found of each sample, by every way of weighing the ratings. A
// sample without a complete sheet has a result without a score.
func panelResults(samples []store.TastingSample, sheets []store.TastingSheet) []store.PanelResult {
	var out []store.PanelResult
	for _, p := range samples {
		var ratings []eating.Ratings
		for _, h := range sheets {
			if h.SampleID == p.ID {
				ratings = append(ratings, RatingsOf(h))
			}
		}
		for _, w := range eating.AllWeights {
			r := store.PanelResult{SampleID: p.ID, Weights: w.ID, ShopID: p.ShopID, TastingID: p.TastingID, Number: p.Number,
				AtlasID: p.AtlasID, Part: p.Part, Method: p.Method}
			if found, err := eating.Panel(ratings, w); err == nil {
				r.Score, r.Assessors = &found.Score, found.Complete
			}
			out = append(out, r)
		}
	}
	return out
}

// writePanelResults writes what the panel of a tasting found where it counts, and takes it away where it does not. It
// runs in the transaction that changes the tasting, whose row is held by then: no sheet comes in between.
func writePanelResults(ctx context.Context, tx *store.Store, t store.Tasting) error {
	if t.State != TastingClosed {
		return tx.SetPanelResults(ctx, t.ShopID, t.ID, nil)
	}
	samples, _, sheets, err := tx.TastingParts(ctx, t.ShopID, t.ID)
	if err != nil {
		return err
	}
	return tx.SetPanelResults(ctx, t.ShopID, t.ID, panelResults(samples, sheets))
}

// Upkeep writes the results of closed tastings that lack them: those that an older program closed. It is done before
// anybody is let in, and every now and then.
func (s *Service) Upkeep(ctx context.Context) error {
	shops, err := s.store.Shops(ctx)
	if err != nil {
		return err
	}
	var failed []error
	for _, row := range shops {
		lacking, err := s.store.TastingsWithoutResults(ctx, row.ID)
		if err != nil {
			return err
		}
		for _, t := range lacking {
			if err := s.store.Tx(ctx, func(tx *store.Store) error {
				now, err := tx.LockTasting(ctx, t.ShopID, t.ID) // it may have been opened again meanwhile
				if err != nil {
					return err
				}
				return writePanelResults(ctx, tx, now)
			}); err != nil {
				failed = append(failed, fmt.Errorf("tasting %s: %w", t.PublicID, err))
			}
		}
	}
	return errors.Join(failed...)
}
