package bench

import (
	"context"
	"errors"
	"fmt"

	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/stock"
)

// Followed is a finished piece whose answer is not what it was, since the atlas says otherwise of the way of cutting
// that it is compared with. What the piece itself brought stays: its plan is kept with it.
type Followed struct {
	Shop, Piece string
	Was, Is     string // what it gained a kilogram; empty where that cannot be said
}

// FollowAtlas works the answers of finished pieces out anew in every shop whose pieces were last worked out by another
// atlas, and lists those that changed; what was never weighed by itself is shared among the parts anew. A piece that
// cannot be read is left out, and the error names it.
func (s *Service) FollowAtlas(ctx context.Context) ([]Followed, error) {
	rows, err := s.store.Shops(ctx)
	if err != nil {
		return nil, err
	}
	var out []Followed
	var failed []error
	for _, row := range rows {
		if row.AtlasPrint == s.atlas.Print {
			continue
		}
		as := audit.As(ctx,
			audit.Caller{ShopID: row.ID, Shop: row.PublicID, Name: "Falda", Role: "program", Via: audit.ViaProgram})
		changed, err := s.followIn(as, row)
		out = append(out, changed...)
		if err != nil {
			failed = append(failed, fmt.Errorf("shop %s: %w", row.PublicID, err))
		}
	}
	return out, errors.Join(failed...)
}

// followIn is FollowAtlas in one shop.
func (s *Service) followIn(ctx context.Context, row store.Shop) ([]Followed, error) {
	shop, err := s.shops.For(ctx, row)
	if err != nil {
		return nil, err
	}
	var out []Followed
	var failed []error
	for after := int64(0); ; {
		list, err := s.store.ClosedAfter(ctx, row.ID, after, resultsAtOne)
		if err != nil {
			return out, err
		}
		for _, b := range list {
			after = b.ID
			v, err := s.BoardOf(ctx, shop, b, nil)
			if err != nil {
				failed = append(failed, fmt.Errorf("breakdown %s: %w", b.PublicID, err))
				continue
			}
			if v.Card.Carcass || v.Breakdown.Prices == nil {
				continue
			}
			recorded, baseline, err := s.Sheets(ctx, v, "")
			if err != nil {
				failed = append(failed, fmt.Errorf("breakdown %s: %w", b.PublicID, err))
				continue
			}
			flaws, want, err := s.resultFlaws(ctx, v)
			if err != nil {
				return out, err
			}
			gain := gainOf(recorded, baseline)
			if len(flaws) > 0 { // the parts that were not weighed by themselves have other shares now
				err = s.store.WriteResult(ctx, *want, gain, int64(v.Board.Lost()))
			} else if text(gain) != text(b.GainPerKg) {
				err = s.store.SetGain(ctx, row.ID, b.ID, gain)
			}
			if err != nil {
				return out, err
			}
			if text(gain) != text(b.GainPerKg) {
				out = append(out, Followed{Shop: row.Name, Piece: stock.PieceName(v.Card.Row), Was: text(b.GainPerKg),
					Is: text(gain)})
			}
		}
		if len(list) < resultsAtOne {
			break
		}
	}
	if err := errors.Join(failed...); err != nil {
		return out, err
	}
	return out, s.store.FollowedAtlas(ctx, row.ID, s.atlas.Print)
}

func text(gain *string) string {
	if gain == nil {
		return ""
	}
	return *gain
}
