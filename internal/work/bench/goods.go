package bench

import (
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/core/trim"
	"falda/internal/core/value"
	"falda/internal/store"
)

// goodsOf is what a closed breakdown gave that lies somewhere from then on: everything that is sold, but for what goes
// on as a piece of its own. None where the shop keeps no stock, or did not yet on that day.
func goodsOf(v BoardView, cells []value.AlternativeCell, closedOn time.Time) []store.Goods {
	from := v.Shop.StockFrom
	if from == nil || closedOn.IsZero() || closedOn.Before(*from) {
		return nil
	}
	p, lot := v.Card.Piece, v.Card.Row.Lot
	slaughtered := lot.SlaughteredOn
	mince, _ := age.MinceUntil(p, slaughtered)
	var out []store.Goods
	for _, pr := range v.Plan.Products {
		if pr.Form == atlas.FormPiece {
			continue
		}
		var parts []trim.Piece
		var made measure.Mass
		for _, c := range cells {
			if c.Fate == value.Sold && c.Key == p.Key(pr) {
				parts = append(parts, trim.Piece{Part: c.Part, Mass: c.Mass})
				made += c.Mass
			}
		}
		if made <= 0 {
			continue
		}
		g := store.Goods{PublicID: store.NewID(), ShopID: v.Shop.ID, Kind: store.GoodsProduct, ProductKey: p.Key(pr),
			MadeOn: closedOn, SlaughteredOn: &slaughtered, MinceUntil: &mince,
			UseBy: closedOn.AddDate(0, 0, goods.ShelfOf(pr.Form).Chilled), MadeMg: int64(made)}
		if pr.IsTrim() || pr.ByProduct() {
			g.Kind = store.GoodsStream
		}
		if f, ok := trim.Of(p, pr, parts); ok {
			g.LeanPct, g.ConnectivePct = &f.Lean, &f.Connective
		}
		out = append(out, g)
	}
	return out
}
