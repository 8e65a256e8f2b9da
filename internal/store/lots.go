package store

import (
	"context"
	"time"
)

// Lot gives a lot by its public id.
func (s *Store) Lot(ctx context.Context, shopID int64, publicID string) (Lot, error) {
	var l Lot
	err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&l).Error
	return l, Translate(err)
}

// Pieces that two use cases decide on are locked by whichever comes first; the other waits, and then sees what it did. The lock
// has to be the first statement of a transaction: what is read before it is read as it was before the other's commit.

// LockPieces holds pieces, by their public ids, until the transaction ends.
func (s *Store) LockPieces(ctx context.Context, shopID int64, publicIDs ...string) error {
	var ids []int64
	return Translate(s.on(ctx).Raw("SELECT id FROM pieces WHERE shop_id = ? AND public_id IN ? ORDER BY id FOR UPDATE", shopID, publicIDs).Scan(&ids).Error)
}

// LockPiece holds a piece, by its key, until the transaction ends.
func (s *Store) LockPiece(ctx context.Context, shopID, id int64) error {
	return Translate(s.on(ctx).Raw("SELECT id FROM pieces WHERE shop_id = ? AND id = ? FOR UPDATE", shopID, id).Scan(&id).Error)
}

// LockLot holds a lot and its pieces until the transaction ends.
func (s *Store) LockLot(ctx context.Context, shopID int64, publicID string) error {
	var ids []int64
	err := s.on(ctx).Raw("SELECT id FROM lots WHERE shop_id = ? AND public_id = ? FOR UPDATE", shopID, publicID).Scan(&ids).Error
	if err == nil && len(ids) > 0 {
		err = s.on(ctx).Raw("SELECT id FROM pieces WHERE shop_id = ? AND lot_id = ? ORDER BY id FOR UPDATE", shopID, ids[0]).Scan(&ids).Error
	}
	return Translate(err)
}

// LotNumbers says which of these lot numbers a shop has.
func (s *Store) LotNumbers(ctx context.Context, shopID int64, numbers []string) ([]string, error) {
	var out []string
	if len(numbers) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND lot_number IN ?", shopID, numbers).Pluck("lot_number", &out).Error
	return out, Translate(err)
}

// LotHung gives the pieces of a lot with their breakdowns, in their order.
func (s *Store) LotHung(ctx context.Context, shopID, lotID int64) ([]Hung, error) {
	return s.hang(ctx, s.on(ctx).Where("shop_id = ? AND lot_id = ?", shopID, lotID))
}

// LotsFrom gives what the pieces of a lot, which are carcasses, were broken into.
func (s *Store) LotsFrom(ctx context.Context, shopID, lotID int64) ([]Lot, error) {
	var out []Lot
	err := s.on(ctx).Where("shop_id = ? AND from_piece_id IN (SELECT id FROM pieces WHERE shop_id = ? AND lot_id = ?)", shopID, shopID, lotID).Order("id").Find(&out).Error
	return out, Translate(err)
}

// ChangeLot writes a lot anew, whose version must be one less than the given one, and its pieces: those that were before keep their
// rows, those that are more are added, and those that are fewer go.
func (s *Store) ChangeLot(ctx context.Context, lot Lot, before, after []Piece) error {
	fields := []string{"LotNumber", "Supplier", "AtlasID", "Pieces", "TotalMg", "Price", "PricePer", "SlaughteredOn", "PackedOn", "Findings", "Note", "Decided", "Version",
		"Bone", "Feed", "Sex", "AgeClass", "FatClass", "Marbling", "Hang", "SupplierGrade", "Ph", "TemperatureC"}
	err := changed(s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND id = ? AND version = ?", lot.ShopID, lot.ID, lot.Version-1).Select(fields).Updates(&lot))
	if err != nil {
		return err
	}
	for i, p := range after {
		if i >= len(before) {
			p.ID = 0
			if err := s.on(ctx).Create(&p).Error; err != nil {
				return Translate(err)
			}
			continue
		}
		was := before[i]
		if was.LabelMg == p.LabelMg && was.PlanID == p.PlanID {
			continue
		}
		p.Version = was.Version + 1
		if err := changed(s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND id = ? AND version = ?", lot.ShopID, p.ID, was.Version).Select("LabelMg", "PlanID", "Options", "Version").Updates(&p)); err != nil {
			return err
		}
	}
	for _, p := range before[min(len(before), len(after)):] {
		if err := s.on(ctx).Where("shop_id = ? AND id = ?", lot.ShopID, p.ID).Delete(&Piece{}).Error; err != nil {
			return Translate(err)
		}
	}
	return nil
}

// VoidLot marks a lot and its pieces as void since at, or takes that back where at is nil; a piece that was voided by itself stays so.
func (s *Store) VoidLot(ctx context.Context, lot Lot, version int, at *time.Time, reason string) error {
	err := changed(s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND id = ? AND version = ?", lot.ShopID, lot.ID, version).
		Updates(map[string]any{"voided_at": at, "void_reason": reason, "version": version + 1}))
	if err != nil {
		return err
	}
	pieces := s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND lot_id = ?", lot.ShopID, lot.ID)
	if at == nil {
		pieces = pieces.Where("voided_at = ?", lot.VoidedAt)
	} else {
		pieces = pieces.Where("voided_at IS NULL")
	}
	return Translate(pieces.Updates(map[string]any{"voided_at": at, "void_reason": reason}).Error)
}

// VoidPiece marks a piece as void since at, or takes that back where at is nil.
func (s *Store) VoidPiece(ctx context.Context, p Piece, version int, at *time.Time, reason string) error {
	return changed(s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND id = ? AND version = ?", p.ShopID, p.ID, version).
		Updates(map[string]any{"voided_at": at, "void_reason": reason, "version": version + 1}))
}

// historyMost bounds how much of a history is given.
const historyMost = 200

// History lists the changes of some subjects, newest first.
func (s *Store) History(ctx context.Context, shopID int64, subjects []string) ([]Audit, error) {
	var out []Audit
	err := s.on(ctx).Where("shop_id = ? AND subject IN ?", shopID, subjects).Order("id DESC").Limit(historyMost).Find(&out).Error
	return out, Translate(err)
}

// Unhung lists the breakdowns of a shop's carcasses that are closed and whose pieces were not made yet.
func (s *Store) Unhung(ctx context.Context, shopID int64, carcasses []string) ([]Breakdown, error) {
	var out []Breakdown
	if len(carcasses) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Raw(`SELECT b.* FROM breakdowns b JOIN pieces p ON p.id = b.piece_id JOIN lots l ON l.id = p.lot_id
		WHERE b.shop_id = ? AND b.state = 'closed' AND b.judged_at IS NULL AND l.atlas_id IN ? ORDER BY b.id`, shopID, carcasses).Scan(&out).Error
	return out, Translate(err)
}

// MarkHung notes that the pieces of a carcass were made; ErrConflict where they were already.
func (s *Store) MarkHung(ctx context.Context, shopID, breakdownID int64, at time.Time) error {
	return changed(s.on(ctx).Model(&Breakdown{}).Where("shop_id = ? AND id = ? AND judged_at IS NULL", shopID, breakdownID).Update("judged_at", at))
}

// LastLot gives the lot of a kind of piece that was received last, voided ones left out; ErrNotFound where there is none.
func (s *Store) LastLot(ctx context.Context, shopID int64, atlasID string) (Lot, error) {
	var l Lot
	return l, Translate(s.on(ctx).Where("shop_id = ? AND atlas_id = ? AND voided_at IS NULL", shopID, atlasID).Order("received_at DESC, id DESC").Take(&l).Error)
}
