package store

import (
	"context"
	"time"
)

// Batch is pieces of one kind that are cut together.
type Batch struct {
	ID        int64
	PublicID  string
	ShopID    int64
	BenchID   int64
	CreatedAt time.Time
}

// CreateBatch adds a batch.
func (s *Store) CreateBatch(ctx context.Context, b *Batch) error {
	return Translate(s.on(ctx).Create(b).Error)
}

// Batch gives a batch by its public id.
func (s *Store) Batch(ctx context.Context, shopID int64, publicID string) (Batch, error) {
	var b Batch
	err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&b).Error
	return b, Translate(err)
}

// BatchByID gives a batch by its key.
func (s *Store) BatchByID(ctx context.Context, shopID, id int64) (Batch, error) {
	var b Batch
	err := s.on(ctx).Where("shop_id = ? AND id = ?", shopID, id).Take(&b).Error
	return b, Translate(err)
}

// batchNames gives the public ids of the batches that breakdowns are of, by their keys.
func (s *Store) batchNames(ctx context.Context, breakdowns []Breakdown) (map[int64]string, error) {
	var ids []int64
	for _, b := range breakdowns {
		if b.BatchID != nil {
			ids = append(ids, *b.BatchID)
		}
	}
	if len(ids) == 0 {
		return nil, nil
	}
	var rows []Batch
	err := s.on(ctx).Where("shop_id = ? AND id IN ?", breakdowns[0].ShopID, ids).Find(&rows).Error
	out := map[int64]string{}
	for _, r := range rows {
		out[r.ID] = r.PublicID
	}
	return out, Translate(err)
}

// BatchBreakdowns gives the breakdowns of a batch, in the order of their lots and pieces.
func (s *Store) BatchBreakdowns(ctx context.Context, shopID, batchID int64) ([]Breakdown, error) {
	var out []Breakdown
	err := s.on(ctx).Select("breakdowns.*").Joins("JOIN pieces p ON p.id = breakdowns.piece_id").
		Where("breakdowns.shop_id = ? AND breakdowns.batch_id = ?", shopID, batchID).
		Order("p.lot_id, p.number").Find(&out).Error
	return out, Translate(err)
}

// BatchEventCount gives how many events the logs of a batch have together.
func (s *Store) BatchEventCount(ctx context.Context, shopID, batchID int64) (int, error) {
	var n int
	err := s.on(ctx).Raw("SELECT COALESCE(SUM(events), 0) FROM breakdowns WHERE shop_id = ? AND batch_id = ?", shopID,
		batchID).Scan(&n).Error
	return n, Translate(err)
}
