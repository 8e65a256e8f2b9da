package goods

import (
	"context"

	core "falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// Taking is what of a product was sold, from wherever it lay.
type Taking struct {
	ID   string // of the booking
	Key  string
	Mass measure.Mass
	Note string
}

// TakeSold books what was sold of a product out of stock in a transaction: from the counter first, what must go first
// first. It gives by how much more was sold than there was; that is booked nowhere.
func (s *Service) TakeSold(ctx context.Context, tx *store.Store, shopID int64, in Taking) (measure.Mass, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return 0, err
	}
	list, err := tx.HoldProduct(ctx, shopID, in.Key)
	if err != nil {
		return 0, err
	}
	rest := in.Mass
	var events []store.GoodsEvent
	for _, g := range list {
		take := min(rest, measure.Mass(g.LeftMg))
		if take <= 0 {
			continue
		}
		rest -= take
		events = append(events, store.GoodsEvent{PublicID: idOf(in.ID, g.ID), ShopID: shopID, Together: in.ID,
			GoodsID: &g.ID, Kind: core.Sold, ChangeMg: -int64(take), Source: "till", Note: in.Note, MemberID: who.MemberKey(),
			At: s.now(), ReceivedAt: s.now()})
	}
	return rest, tx.AddGoodsEvents(ctx, events)
}
