package bench

import (
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/trim"
	"falda/internal/core/value"
	"falda/internal/store"
)

// goodsOf is what a closed breakdown gave that lies somewhere: everything that is sold, but for what goes on as a piece
// of its own; of gives the parts that went into a product. None where the shop keeps no stock, or did not yet on that
// day.
func goodsOf(v BoardView, closedOn time.Time, of func(atlas.Product) []trim.Piece) []store.Goods {
	from := v.Shop.StockFrom
	if from == nil || closedOn.IsZero() || closedOn.Before(*from) {
		return nil
	}
	var out []store.Goods
	for _, pr := range v.Plan.Products {
		if pr.Form != atlas.FormPiece {
			out = lying(out, v, pr, of(pr), closedOn)
		}
	}
	return out
}

// soldIn gives the parts that went into a product of a piece, by the cells of its sheet.
func soldIn(p atlas.Piece, cells []value.AlternativeCell) func(atlas.Product) []trim.Piece {
	return func(pr atlas.Product) (parts []trim.Piece) {
		for _, c := range cells {
			if c.Fate == value.Sold && c.Key == p.Key(pr) {
				parts = append(parts, trim.Piece{Part: c.Part, Mass: c.Mass})
			}
		}
		return parts
	}
}

// besidePieces is what a broken carcass gave beside its pieces that lies somewhere from then on: kidneys, fat, bone and
// trim, by what each is sold as.
func besidePieces(v BoardView) []store.Goods {
	if v.Breakdown.ClosedAt == nil {
		return nil
	}
	return goodsOf(v, v.Shop.Day(*v.Breakdown.ClosedAt), func(pr atlas.Product) (parts []trim.Piece) {
		for _, n := range v.Board.Nodes {
			if n.Event != seam.Opened && n.Event != seam.Discarded && (pr.From[n.Part] > 0 || n.Product == pr.ID) {
				parts = append(parts, trim.Piece{Part: n.Part, Mass: n.Mass})
			}
		}
		return parts
	})
}

// lying adds what was cut of one product to goods; nothing where nothing was.
func lying(to []store.Goods, v BoardView, pr atlas.Product, parts []trim.Piece, on time.Time) []store.Goods {
	var made measure.Mass
	for _, x := range parts {
		made += x.Mass
	}
	if made <= 0 {
		return to
	}
	p, slaughtered := v.Card.Piece, v.Card.Row.Lot.SlaughteredOn
	mince, _ := age.MinceUntil(p, slaughtered)
	g := store.Goods{PublicID: store.NewID(), ShopID: v.Shop.ID, Kind: store.GoodsProduct, ProductKey: p.Key(pr),
		MadeOn: on, SlaughteredOn: &slaughtered, MinceUntil: &mince,
		UseBy: on.AddDate(0, 0, goods.ShelfOf(pr.Form).Chilled), MadeMg: int64(made)}
	if pr.IsTrim() || pr.ByProduct() {
		g.Kind = store.GoodsStream
	}
	if f, ok := trim.Of(p, pr, parts); ok {
		g.LeanPct, g.ConnectivePct = &f.Lean, &f.Connective
	}
	return append(to, g)
}
