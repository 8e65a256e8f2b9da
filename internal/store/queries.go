package store

import (
	"context"
	"encoding/json"
	"errors"
	"strconv"
	"strings"
	"time"

	"gorm.io/gorm"
)

func (s *Store) on(ctx context.Context) *gorm.DB { return s.db.WithContext(ctx) }

// CreateShop adds a shop.
func (s *Store) CreateShop(ctx context.Context, shop *Shop) error {
	return Translate(s.on(ctx).Create(shop).Error)
}

// FirstShop gives the shop that was set up first.
func (s *Store) FirstShop(ctx context.Context) (Shop, error) {
	var shop Shop
	err := s.on(ctx).Order("id").Take(&shop).Error
	return shop, Translate(err)
}

// MarkSeeded notes that the demo scenario was entered whole.
func (s *Store) MarkSeeded(ctx context.Context, shopID int64) error {
	return Translate(s.on(ctx).Model(&Shop{}).Where("id = ?", shopID).Update("seeded", true).Error)
}

// CreateBench adds a bench.
func (s *Store) CreateBench(ctx context.Context, b *Bench) error {
	return Translate(s.on(ctx).Create(b).Error)
}

// Benches lists a shop's benches, those no longer in use too.
func (s *Store) Benches(ctx context.Context, shopID int64) ([]Bench, error) {
	var out []Bench
	err := s.on(ctx).Where("shop_id = ?", shopID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// Bench gives a bench by its public id.
func (s *Store) Bench(ctx context.Context, shopID int64, publicID string) (Bench, error) {
	var b Bench
	err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&b).Error
	return b, Translate(err)
}

// CreateLot adds a lot with its pieces.
func (s *Store) CreateLot(ctx context.Context, lot *Lot, pieces []Piece) error {
	if err := s.on(ctx).Create(lot).Error; err != nil {
		return Translate(err)
	}
	for i := range pieces {
		pieces[i].LotID = lot.ID
	}
	return Translate(s.on(ctx).Create(&pieces).Error)
}

// Lots lists a shop's lots, newest first.
func (s *Store) Lots(ctx context.Context, shopID int64, most int) ([]Lot, error) {
	var out []Lot
	err := s.on(ctx).Where("shop_id = ?", shopID).Order("received_at DESC, id DESC").Limit(most).Find(&out).Error
	return out, Translate(err)
}

// LastRunning gives the highest running number of the lots whose numbers are a prefix and digits; 0 when there is none.
func (s *Store) LastRunning(ctx context.Context, shopID int64, prefix string) (int, error) {
	var numbers []string
	err := s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND lot_number LIKE ? AND from_piece_id IS NULL", shopID, prefix+"%").Pluck("lot_number", &numbers).Error
	last := 0
	for _, n := range numbers {
		if running, err := strconv.Atoi(strings.TrimPrefix(n, prefix)); err == nil {
			last = max(last, running)
		}
	}
	return last, Translate(err)
}

// Suppliers lists the suppliers a shop has received from, the latest first.
func (s *Store) Suppliers(ctx context.Context, shopID int64) ([]string, error) {
	var out []string
	err := s.on(ctx).Model(&Lot{}).Where("shop_id = ?", shopID).Group("supplier").Order("MAX(received_at) DESC").Limit(50).Pluck("supplier", &out).Error
	return out, Translate(err)
}

// LotPieces lists the pieces of a lot.
func (s *Store) LotPieces(ctx context.Context, shopID, lotID int64) ([]Piece, error) {
	var out []Piece
	err := s.on(ctx).Where("shop_id = ? AND lot_id = ?", shopID, lotID).Order("number").Find(&out).Error
	return out, Translate(err)
}

// Rail lists pieces with their lots and breakdowns: all that are not closed and the latest that are.
func (s *Store) Rail(ctx context.Context, shopID int64, closed int) ([]Hung, error) {
	var ids []int64
	err := s.on(ctx).Raw(`(SELECT p.id FROM pieces p LEFT JOIN breakdowns b ON b.piece_id = p.id
		WHERE p.shop_id = ? AND p.voided_at IS NULL AND (b.id IS NULL OR b.state <> 'closed' OR b.judged_at IS NULL))
		UNION (SELECT b.piece_id FROM breakdowns b WHERE b.shop_id = ? AND b.state = 'closed' AND b.judged_at IS NOT NULL ORDER BY b.closed_at DESC LIMIT ?)`,
		shopID, shopID, closed).Scan(&ids).Error
	if err != nil || len(ids) == 0 {
		return nil, Translate(err)
	}
	return s.hang(ctx, s.on(ctx).Where("shop_id = ? AND id IN ?", shopID, ids))
}

// Hung gives one piece with its lot and breakdown.
func (s *Store) Hung(ctx context.Context, shopID int64, publicID string) (Hung, error) {
	return one(s.hang(ctx, s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID)))
}

// HungByID gives one piece, by its key, with its lot and breakdown.
func (s *Store) HungByID(ctx context.Context, shopID, id int64) (Hung, error) {
	return one(s.hang(ctx, s.on(ctx).Where("shop_id = ? AND id = ?", shopID, id)))
}

func one(hung []Hung, err error) (Hung, error) {
	if err != nil {
		return Hung{}, err
	}
	if len(hung) == 0 {
		return Hung{}, ErrNotFound
	}
	return hung[0], nil
}

func (s *Store) hang(ctx context.Context, query *gorm.DB) ([]Hung, error) {
	var pieces []Piece
	if err := query.Order("id").Find(&pieces).Error; err != nil {
		return nil, Translate(err)
	}
	var lotIDs, pieceIDs []int64
	for _, p := range pieces {
		lotIDs, pieceIDs = append(lotIDs, p.LotID), append(pieceIDs, p.ID)
	}
	var lots []Lot
	var breakdowns []Breakdown
	if len(pieces) > 0 {
		if err := s.on(ctx).Where("shop_id = ? AND id IN ?", pieces[0].ShopID, lotIDs).Find(&lots).Error; err != nil {
			return nil, Translate(err)
		}
		if err := s.on(ctx).Where("shop_id = ? AND piece_id IN ?", pieces[0].ShopID, pieceIDs).Find(&breakdowns).Error; err != nil {
			return nil, Translate(err)
		}
	}
	before, err := s.weighBefore(ctx, pieceIDs)
	if err != nil {
		return nil, err
	}
	batches, err := s.batchNames(ctx, breakdowns)
	if err != nil {
		return nil, err
	}
	benches := map[int64]string{}
	if len(breakdowns) > 0 {
		list, err := s.Benches(ctx, pieces[0].ShopID)
		if err != nil {
			return nil, err
		}
		for _, b := range list {
			benches[b.ID] = b.Name
		}
	}
	lotByID, breakdownByPiece := map[int64]Lot{}, map[int64]*Breakdown{}
	for _, l := range lots {
		lotByID[l.ID] = l
	}
	for i := range breakdowns {
		breakdownByPiece[breakdowns[i].PieceID] = &breakdowns[i]
	}
	out := make([]Hung, len(pieces))
	for i, p := range pieces {
		out[i] = Hung{Piece: p, Lot: lotByID[p.LotID], Breakdown: breakdownByPiece[p.ID], BeforeMg: before[p.ID]}
		if b := out[i].Breakdown; b != nil {
			out[i].Bench = benches[b.BenchID]
			if b.BatchID != nil {
				out[i].Batch = batches[*b.BatchID]
			}
		}
	}
	return out, nil
}

// weighBefore adds up, for each piece, the label weights of the pieces of its lot with lower numbers.
func (s *Store) weighBefore(ctx context.Context, pieceIDs []int64) (map[int64]int64, error) {
	out := map[int64]int64{}
	if len(pieceIDs) == 0 {
		return out, nil
	}
	var rows []struct{ ID, BeforeMg int64 }
	err := s.on(ctx).Raw(`SELECT id, before_mg FROM (SELECT id, SUM(label_mg) OVER (PARTITION BY lot_id ORDER BY number) - label_mg AS before_mg
		FROM pieces WHERE lot_id IN (SELECT lot_id FROM pieces WHERE id IN ?)) x WHERE id IN ?`, pieceIDs, pieceIDs).Scan(&rows).Error
	for _, r := range rows {
		out[r.ID] = r.BeforeMg
	}
	return out, Translate(err)
}

// ChoosePlan sets a piece's plan and what was chosen within it, where its version is still the given one.
func (s *Store) ChoosePlan(ctx context.Context, shopID int64, publicID, planID string, options map[string]string, version int) error {
	raw, err := json.Marshal(options)
	if err != nil {
		return err
	}
	return changed(s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND public_id = ? AND version = ?", shopID, publicID, version).
		Updates(map[string]any{"plan_id": planID, "options": string(raw), "version": version + 1}))
}

// added turns an insert that came second into a conflict: somebody else was the first to set it.
func added(res *gorm.DB) error {
	err := Translate(res.Error)
	if errors.Is(err, ErrDuplicate) {
		return ErrConflict
	}
	return err
}

// changed turns an update that met no row into a conflict.
func changed(res *gorm.DB) error {
	if res.Error != nil {
		return Translate(res.Error)
	}
	if res.RowsAffected == 0 {
		return ErrConflict
	}
	return nil
}

// Prices lists a shop's prices by product key.
func (s *Store) Prices(ctx context.Context, shopID int64) (map[string]Price, error) {
	var list []Price
	if err := s.on(ctx).Where("shop_id = ?", shopID).Find(&list).Error; err != nil {
		return nil, Translate(err)
	}
	out := make(map[string]Price, len(list))
	for _, p := range list {
		out[p.ProductKey] = p
	}
	return out, nil
}

// Price gives the price of one product; ErrNotFound where there is none.
func (s *Store) Price(ctx context.Context, shopID int64, key string) (Price, error) {
	var p Price
	err := s.on(ctx).Where("shop_id = ? AND product_key = ?", shopID, key).Take(&p).Error
	return p, Translate(err)
}

// SetPrice sets a price where its version is still the given one; version 0 adds it.
func (s *Store) SetPrice(ctx context.Context, p Price) error {
	p.UpdatedAt = time.Now().UTC()
	if p.Version == 0 {
		p.Version = 1
		return added(s.on(ctx).Create(&p))
	}
	return changed(s.on(ctx).Model(&Price{}).Where("shop_id = ? AND product_key = ? AND version = ?", p.ShopID, p.ProductKey, p.Version).
		Updates(map[string]any{"amount": p.Amount, "per": p.Per, "version": p.Version + 1, "updated_at": p.UpdatedAt}))
}

// MethodChoices lists the choices made for a breakdown.
func (s *Store) MethodChoices(ctx context.Context, shopID, breakdownID int64) ([]MethodChoice, error) {
	var out []MethodChoice
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Find(&out).Error
	return out, Translate(err)
}

// SetMethodChoice sets a choice where its version is still the given one; version 0 adds it.
func (s *Store) SetMethodChoice(ctx context.Context, c MethodChoice) error {
	c.UpdatedAt = time.Now().UTC()
	if c.Version == 0 {
		c.Version = 1
		return added(s.on(ctx).Create(&c))
	}
	return changed(s.on(ctx).Model(&MethodChoice{}).Where("shop_id = ? AND breakdown_id = ? AND part = ? AND version = ?", c.ShopID, c.BreakdownID, c.Part, c.Version).
		Updates(map[string]any{"method": c.Method, "note": c.Note, "version": c.Version + 1, "updated_at": c.UpdatedAt}))
}
