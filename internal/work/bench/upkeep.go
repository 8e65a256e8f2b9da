package bench

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// What the program does by itself, beside the questions of people: it makes the results that are missing and hangs up
// the pieces of carcasses whose close was the last thing that was done before a program ended. Questions only read.
const (
	upkeepEvery  = 20 * time.Second
	resultsAtOne = 200 // results made between two looks at what is missing
)

// Run does the upkeep until the context ends: at once, soon after something may have become missing, and every now and
// then.
func (s *Service) Run(ctx context.Context, log *slog.Logger, others ...func(context.Context) error) {
	tick := time.NewTicker(upkeepEvery)
	defer tick.Stop()
	for {
		for _, chore := range append([]func(context.Context) error{s.Upkeep}, others...) {
			if err := chore(ctx); err != nil && ctx.Err() == nil {
				log.Warn("some of the upkeep was not done; it is tried again", "error", err)
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		case <-s.shops.Woken():
		}
	}
}

// Upkeep does all of it once. What fails is left out and does not keep the rest from being done; the error names it.
func (s *Service) Upkeep(ctx context.Context) error {
	rows, err := s.store.Shops(ctx)
	if err != nil {
		return err
	}
	var failed []error
	if _, err := s.FollowAtlas(ctx); err != nil {
		failed = append(failed, err)
	}
	for _, row := range rows {
		shop, err := s.shops.For(ctx, row)
		if err == nil {
			as := audit.As(ctx,
				audit.Caller{ShopID: row.ID, Shop: row.PublicID, Name: "Falda", Role: "program", Via: audit.ViaProgram})
			err = errors.Join(s.createBrokenPieces(as, shop), s.createOnward(as, shop), s.makeResults(as, shop))
		}
		if err != nil {
			failed = append(failed, fmt.Errorf("shop %s: %w", row.PublicID, err))
		}
		if ctx.Err() != nil {
			break
		}
	}
	return errors.Join(failed...)
}

// makeResults makes the results that are missing, or that lacked a price which there is by now: each once, the missing
// ones first.
func (s *Service) makeResults(ctx context.Context, shop shop.WithPlans) error {
	if shop.ResultsStale == 0 {
		return nil
	}
	var failed []error
	var after store.ResultMark
	for {
		list, err := s.store.Unresulted(ctx, shop.ID, s.atlas.CarcassIDs(), after, resultsAtOne)
		if err != nil {
			return err
		}
		for _, b := range list {
			after = store.ResultMark{Priced: b.HasResult, ID: b.ID}
			if err := s.WriteResult(ctx, shop, b.Breakdown); err != nil {
				failed = append(failed, fmt.Errorf("breakdown %s: %w", b.PublicID, err))
			}
			if ctx.Err() != nil {
				return errors.Join(append(failed, ctx.Err())...)
			}
		}
		if len(list) < resultsAtOne {
			break
		}
	}
	if len(failed) > 0 {
		return errors.Join(failed...)
	}
	return s.store.FreshResults(ctx, shop.ID, shop.ResultsStale)
}

// WriteResult writes anew what one closed breakdown brought, lost and gained, and what it gave that lies somewhere. A
// carcass brings what its pieces do; only what it gave beside them is written.
func (s *Service) WriteResult(ctx context.Context, shop shop.WithPlans, b store.Breakdown) error {
	v, err := s.BoardOf(ctx, shop, b, nil)
	if err != nil {
		return err
	}
	if v.Card.Carcass {
		return s.store.PutGoods(ctx, b.ID, besidePieces(v))
	}
	if v.Breakdown.Prices == nil { // closed by a program that kept none
		return nil
	}
	recorded, baseline, err := s.Sheets(ctx, v, "")
	if err != nil {
		return err
	}
	return s.store.WriteResult(ctx, *resultOf(v, recorded), gainOf(recorded, baseline), int64(v.Board.Lost()))
}

// gainOf is what a piece brought a kilogram more than the other way of cutting, as it is kept; nil where a price is
// missing.
func gainOf(recorded, baseline value.Sheet) *string {
	if len(recorded.Unpriced())+len(baseline.Unpriced()) > 0 {
		return nil
	}
	gain := value.Lead(baseline.Alternative("", true), recorded.Alternative("", false)).Text(measure.PriceDecimals)
	return &gain
}
