package bench

import (
	"context"
	"errors"
	"fmt"
	"math/big"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// createBrokenPieces makes pieces of what carcasses were broken into. It is asked after a carcass was closed, and by
// the upkeep for what a program that ended in between left undone. Each part becomes a lot of its own, each of its
// weighings a piece. One carcass that cannot be done does not keep the others from it.
func (s *Service) createBrokenPieces(ctx context.Context, shop shop.WithPlans) error {
	closed, err := s.store.UnbrokenCarcasses(ctx, shop.ID, s.atlas.CarcassIDs())
	if err != nil {
		return err
	}
	var failed []error
	for _, b := range closed {
		err := s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
			v, err := s.BoardOf(ctx, shop, b, nil)
			if err != nil {
				return audit.Change{}, err
			}
			change, err := s.createPiecesOf(ctx, tx, shop, b)
			if err != nil {
				return change, err
			}
			return change, tx.PutGoods(ctx, b.ID, besidePieces(v))
		})
		if err != nil && !errors.Is(err, store.ErrConflict) { // another program was faster
			failed = append(failed, fmt.Errorf("carcass %s: %w", b.PublicID, err))
		}
	}
	return errors.Join(failed...)
}

func (s *Service) createPiecesOf(ctx context.Context, tx *store.Store, shop shop.WithPlans,
	b store.Breakdown) (audit.Change, error) {
	if err := tx.LockPiecesByID(ctx, shop.ID, b.PieceID); err != nil {
		return audit.Change{}, err
	}
	h, err := tx.PieceRowByID(ctx, shop.ID, b.PieceID)
	if err != nil {
		return audit.Change{}, err
	}
	if err := tx.MarkBroken(ctx, shop.ID, b.ID, s.now()); err != nil {
		return audit.Change{}, err
	}
	c, ok := s.atlas.FindCarcass(h.Lot.AtlasID)
	if !ok {
		return audit.Change{},
			fmt.Errorf("lot %s is of the carcass %s, which the atlas does not know", h.Lot.LotNumber, h.Lot.AtlasID)
	}
	outputs, err := tx.Outputs(ctx, shop.ID, b.ID)
	if err != nil {
		return audit.Change{}, err
	}
	book, _, err := s.prices.TodaysBook(ctx, shop.Shop)
	if err != nil {
		return audit.Change{}, err
	}
	division := c.Division(b.PlanID)
	paid, err := stock.PieceCost(shop.Shop, h)
	if err != nil {
		return audit.Change{}, err
	}
	costs := s.shareCost(shop, c, division, outputs, paid, book)
	made := map[string]any{}
	for i, part := range division.Parts {
		lot := store.Lot{PublicID: store.NewID(), ShopID: shop.ID, LotNumber: fmt.Sprintf("%s/%d", brokenNumber(h), i+1),
			Supplier: h.Lot.Supplier, AtlasID: part.Piece, PricePer: "kg", SlaughteredOn: h.Lot.SlaughteredOn,
			PackedOn: later(h.Lot.PackedOn, shop.Day(s.now())), Findings: append([]string{}, part.Findings...),
			About: h.Lot.About, ReceivedAt: s.now(), Version: 1, FromPieceID: &h.Piece.ID}
		lot.About.TemperatureC = nil
		var pieces []store.Piece
		for _, o := range outputs {
			if o.Part == part.Piece && o.Kind != "opened" {
				pieces = append(pieces,
					store.Piece{PublicID: store.NewID(), ShopID: shop.ID, Number: len(pieces) + 1, LabelMg: o.MassMg, Version: 1})
				lot.TotalMg += o.MassMg
			}
		}
		if len(pieces) == 0 {
			continue
		}
		lot.Pieces = len(pieces)
		lot.Price = costs[part.Piece].Over(measure.Mass(lot.TotalMg).In(measure.UnitKilogram)).Text(measure.PriceDecimals)
		if err := tx.CreateLot(ctx, &lot, pieces); err != nil {
			return audit.Change{}, err
		}
		made[lot.LotNumber] = map[string]any{"piece": lot.AtlasID, "pieces": lot.Pieces,
			"total_g": measure.Mass(lot.TotalMg).Grams(), "price": lot.Price}
	}
	return audit.Change{Action: "carcass.broken", Subject: h.Lot.PublicID, SubjectName: stock.PieceName(h), Became: made},
		nil
}

// brokenNumber is what the lots of a carcass' pieces are numbered after: its lot, and which of its pieces it is where
// there are several.
func brokenNumber(h store.PieceRow) string {
	if h.Lot.Pieces > 1 {
		return fmt.Sprintf("%s/%d", h.Lot.LotNumber, h.Piece.Number)
	}
	return h.Lot.LotNumber
}

// shareCost shares what a carcass cost among its pieces: what bone, fat and trim bring is credited first; the rest goes
// by what each piece brings cut the traditional way, less its labour and packaging (net realisable value), or by weight
// where prices are missing.
func (s *Service) shareCost(shop shop.WithPlans, c atlas.Carcass, d atlas.Division, outputs []store.Output,
	cost measure.Money, book map[string]measure.Price) map[string]measure.Money {
	mass := map[string]measure.Mass{}
	for _, o := range outputs {
		if o.Kind != "opened" {
			mass[o.Part] += measure.Mass(o.MassMg)
		}
	}
	for _, o := range d.Other {
		key := c.Species + "." + o.As
		if o.As == "" {
			key = c.Species + "." + o.ID
		}
		cost = cost.Sub(book[key].Of(mass[o.ID]))
	}
	var products []value.JointProduct
	priced := true
	for _, part := range d.Parts {
		m := mass[part.Piece]
		if m == 0 {
			continue
		}
		p, _ := s.atlas.Find(part.Piece)
		p = p.Found(part.Findings, nil)
		pl, _ := p.Traditional()
		sheet := pricing.ForecastSheet(shop.Shop, p, pl, m, book)
		sheet.Minutes *= float64(part.Count)
		priced = priced && len(sheet.Unpriced()) == 0
		t := sheet.Totals()
		kg := m.In(measure.UnitKilogram)
		products = append(products,
			value.JointProduct{ID: part.Piece, Quantity: kg, FinalQuantity: big.NewRat(1, 1), FinalPrice: t.Sales,
				FurtherCost: t.Labour.Add(t.Packaging)})
	}
	method := value.NRV
	if !priced {
		method = value.Physical
	}
	shared, err := value.AllocateJoint(cost, method, products)
	if err != nil { // nothing is worth anything: by weight
		shared, err = value.AllocateJoint(cost, value.Physical, products)
	}
	out := map[string]measure.Money{}
	if err == nil {
		for _, a := range shared.Allocations {
			out[a.ID] = a.Cost
		}
	}
	return out
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// BoardForSale gives the board of what is cut for sale. A carcass is not: what is asked of it only its pieces can
// answer.
func (s *Service) BoardForSale(ctx context.Context, id string) (BoardView, error) {
	v, err := s.Board(ctx, id)
	if err == nil && v.Card.Carcass {
		err = fault.NewConflict("", "carcass", "A carcass is broken into pieces, not cut for sale.",
			"Look at its pieces; they hang on the rail and stand on the page of its lot.")
	}
	return v, err
}

// createOnward makes lots of the blocks that large bone-in pieces left to be cut further, once the piece they came from
// is closed: each kind of block a lot of its own, each of its weighings a piece, at its share of what the piece cost by
// what each product brings (net realisable value).
func (s *Service) createOnward(ctx context.Context, shop shop.WithPlans) error {
	blocks, from := s.atlas.Onward()
	closed, err := s.store.UnhungBlocks(ctx, shop.ID, from, blocks)
	if err != nil {
		return err
	}
	var failed []error
	for _, b := range closed {
		err := s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) { return s.hangBlocks(ctx, tx, shop, b) })
		if err != nil && !errors.Is(err, store.ErrConflict) {
			failed = append(failed, fmt.Errorf("breakdown %s: %w", b.PublicID, err))
		}
	}
	return errors.Join(failed...)
}

// hangBlocks is createOnward for one breakdown.
func (s *Service) hangBlocks(ctx context.Context, tx *store.Store, shop shop.WithPlans,
	b store.Breakdown) (audit.Change, error) {
	if err := tx.LockPiecesByID(ctx, shop.ID, b.PieceID); err != nil {
		return audit.Change{}, err
	}
	h, err := tx.PieceRowByID(ctx, shop.ID, b.PieceID)
	if err != nil {
		return audit.Change{}, err
	}
	if hung, err := tx.HungFrom(ctx, shop.ID, b.PieceID); err != nil || hung {
		return audit.Change{}, errors.Join(err, map[bool]error{true: store.ErrConflict}[hung])
	}
	v, err := s.BoardOf(ctx, shop, b, nil)
	if err != nil {
		return audit.Change{}, err
	}
	costs, err := s.costsAsCut(ctx, v)
	if err != nil {
		return audit.Change{}, err
	}
	blocks, _ := s.atlas.Onward()
	made, n := map[string]any{}, 0
	for _, id := range blocks {
		lot := s.lotFrom(shop, h, fmt.Sprintf("%s/%d", brokenNumber(h), n+1))
		lot.AtlasID = id
		var pieces []store.Piece
		for _, node := range v.Board.Nodes {
			if node.Event == seam.Portioned && node.Product == id {
				pieces = append(pieces, store.Piece{PublicID: store.NewID(), ShopID: shop.ID, Number: len(pieces) + 1,
					LabelMg: int64(node.Mass), Version: 1})
				lot.TotalMg += int64(node.Mass)
			}
		}
		if len(pieces) == 0 {
			continue
		}
		n++
		lot.Pieces = len(pieces)
		lot.Price = costs[v.Card.Piece.Species+"."+id].Text(measure.PriceDecimals)
		if err := tx.CreateLot(ctx, &lot, pieces); err != nil {
			return audit.Change{}, err
		}
		made[lot.LotNumber] = map[string]any{"piece": id, "pieces": lot.Pieces,
			"total_g": measure.Mass(lot.TotalMg).Grams(), "price": lot.Price}
	}
	return audit.Change{Action: "piece.parted", Subject: h.Lot.PublicID, SubjectName: stock.PieceName(h), Became: made},
		nil
}

// costsAsCut is what each product of a finished piece cost a kilogram, by key: its part of the block, labour and
// discard by what it brings (net realisable value), or by weight where prices are missing.
func (s *Service) costsAsCut(ctx context.Context, v BoardView) (map[string]measure.Money, error) {
	sheet, err := s.SheetAsCut(ctx, v)
	if err != nil {
		return nil, err
	}
	costs, err := value.CostsOf(sheet.Alternative("", false), value.NRV, false, new(big.Rat))
	if err != nil {
		costs, err = value.CostsOf(sheet.Alternative("", false), value.Physical, false, new(big.Rat))
	}
	if err != nil {
		return nil, err
	}
	out := map[string]measure.Money{}
	for _, row := range costs.Products {
		if row.Mass > 0 && row.Joint.Sign() > 0 {
			out[row.ID] = row.Joint.Over(row.Mass.In(measure.UnitKilogram))
		}
	}
	return out, nil
}

// lotFrom is a lot of what a piece was cut into: of its animal, supplier and age, with a number of its own.
func (s *Service) lotFrom(shop shop.WithPlans, h store.PieceRow, number string) store.Lot {
	lot := store.Lot{PublicID: store.NewID(), ShopID: shop.ID, LotNumber: number, Supplier: h.Lot.Supplier, PricePer: "kg",
		SlaughteredOn: h.Lot.SlaughteredOn, PackedOn: later(h.Lot.PackedOn, shop.Day(s.now())), Findings: []string{},
		About: h.Lot.About, ReceivedAt: s.now(), Version: 1, FromPieceID: &h.Piece.ID}
	lot.About.TemperatureC = nil
	return lot
}

// leavesPieces says whether a plan leaves blocks that are cut further as pieces of their own.
func leavesPieces(pl atlas.Plan) bool {
	return slices.ContainsFunc(pl.All(), func(pr atlas.Product) bool { return pr.Form == atlas.FormPiece })
}
