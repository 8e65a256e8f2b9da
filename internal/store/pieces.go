package store

import (
	"context"
	"encoding/json"
	"maps"
	"slices"
	"time"

	"gorm.io/gorm"
)

// Piece is one piece of a lot.
type Piece struct {
	ID       int64
	PublicID string
	ShopID   int64
	LotID    int64
	Number   int
	LabelMg  int64
	PlanID   string
	Version  int
	Options  map[string]string `gorm:"serializer:json"` // chosen within the plan
	VoidedAt *time.Time

	VoidReason string
	Started    bool // it has a breakdown
}

// PieceRow is a piece with all that says where it hangs on the rail.
type PieceRow struct {
	Piece     Piece
	Lot       Lot
	Breakdown *Breakdown
	Bench     string
	Batch     string   // public id
	Off       []string // muscles that were seamed off, while it is being cut
	BeforeMg  int64    // what the pieces of its lot with lower numbers weigh together, by their labels
}

// Pieces that two use cases decide on are locked by whichever comes first; the other waits, and then sees what it did.
// The lock has to be the first statement of a transaction: what is read before it is read as it was before the other's
// commit.

// LockPieces holds pieces, by their public ids, until the transaction ends.
func (s *Store) LockPieces(ctx context.Context, shopID int64, publicIDs ...string) error {
	var ids []int64
	return Translate(s.on(ctx).Raw("SELECT id FROM pieces WHERE shop_id = ? AND public_id IN ? ORDER BY id FOR UPDATE",
		shopID, publicIDs).Scan(&ids).Error)
}

// LockPiecesByID holds pieces, by their keys, until the transaction ends.
func (s *Store) LockPiecesByID(ctx context.Context, shopID int64, ids ...int64) error {
	var held []int64
	return Translate(s.on(ctx).Raw("SELECT id FROM pieces WHERE shop_id = ? AND id IN ? ORDER BY id FOR UPDATE", shopID,
		ids).Scan(&held).Error)
}

// LotPieceRows gives the pieces of a lot with their breakdowns, in their order.
func (s *Store) LotPieceRows(ctx context.Context, shopID, lotID int64) ([]PieceRow, error) {
	return s.pieceRows(ctx, s.on(ctx).Where("shop_id = ? AND lot_id = ?", shopID, lotID))
}

// VoidPiece marks a piece as void since at, or takes that back where at is nil.
func (s *Store) VoidPiece(ctx context.Context, p Piece, version int, at *time.Time, reason string) error {
	return changed(s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND id = ? AND version = ?", p.ShopID, p.ID, version).
		Updates(map[string]any{"voided_at": at, "void_reason": reason, "version": version + 1}))
}

// Queue lists pieces with their lots and breakdowns. The first page, after 0, begins with those that are under way and
// the latest that are done; each page holds so many of those that wait, in the order in which they came in. Next is the
// last of them where there are more, else 0. What each piece cost is not asked.
func (s *Store) Queue(ctx context.Context, shopID, after int64, waiting, done int) (rows []PieceRow, next int64,
	err error) {
	var ids []int64
	err = s.on(ctx).Raw(`SELECT id FROM pieces WHERE shop_id = ? AND NOT started AND voided_at IS NULL AND id > ?
		ORDER BY id LIMIT ?`, shopID, after, waiting+1).Scan(&ids).Error
	if err != nil {
		return nil, 0, Translate(err)
	}
	if len(ids) > waiting {
		ids = ids[:waiting]
		next = ids[waiting-1]
	}
	if after == 0 {
		var first []int64
		err = s.on(ctx).Raw(`(SELECT piece_id FROM breakdowns WHERE shop_id = ? AND judged_at IS NULL LIMIT ?)
			UNION (SELECT piece_id FROM breakdowns WHERE shop_id = ? AND state IN ('waiting', 'open') LIMIT ?)
			UNION (SELECT b.piece_id FROM breakdowns b WHERE b.shop_id = ? AND b.state = 'closed' AND b.judged_at IS NOT NULL
				ORDER BY b.closed_at DESC LIMIT ?)`, shopID, maxUnderWay, shopID, maxUnderWay, shopID, done).Scan(&first).Error
		ids = append(first, ids...)
	}
	if err != nil || len(ids) == 0 {
		return nil, next, Translate(err)
	}
	rows, err = s.readPieces(ctx, s.on(ctx).Where("shop_id = ? AND id IN ?", shopID, ids), nil)
	if err != nil {
		return nil, next, err
	}
	return rows, next, s.seamedOff(ctx, rows)
}

// FindPieces gives pieces of some lots, and of some kinds those among the shop's latest, that are not void; what each
// cost is not asked. Where there are more than the limit, those that are not done come first, then the latest.
func (s *Store) FindPieces(ctx context.Context, shopID int64, lotIDs []int64, atlasIDs []string, limit int) ([]PieceRow,
	error) {
	var ids []int64
	err := s.on(ctx).Raw(`SELECT p.id FROM (
			SELECT id, lot_id FROM pieces WHERE shop_id = ? AND lot_id IN ? AND voided_at IS NULL
			UNION SELECT x.id, x.lot_id FROM (SELECT id, lot_id, voided_at FROM pieces WHERE shop_id = ?
				ORDER BY id DESC LIMIT ?) x JOIN lots l ON l.id = x.lot_id WHERE l.atlas_id IN ? AND x.voided_at IS NULL) p
		LEFT JOIN breakdowns b ON b.piece_id = p.id
		ORDER BY COALESCE(b.state, '') = 'closed', p.id DESC LIMIT ?`, shopID, append(lotIDs, 0), shopID, findWindow,
		append(atlasIDs, ""), limit).Scan(&ids).Error
	if err != nil || len(ids) == 0 {
		return nil, Translate(err)
	}
	return s.readPieces(ctx, s.on(ctx).Where("shop_id = ? AND id IN ?", shopID, ids), nil)
}

// maxUnderWay is how many pieces under way the queue shows at most.
const maxUnderWay = 500

// PieceRow gives one piece with its lot and breakdown.
func (s *Store) PieceRow(ctx context.Context, shopID int64, publicID string) (PieceRow, error) {
	return one(s.pieceRows(ctx, s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID)))
}

// PieceRowsOf gives some pieces, by their public ids, with their lots and breakdowns. One that there is not is an
// [ErrNotFound].
func (s *Store) PieceRowsOf(ctx context.Context, shopID int64, publicIDs []string) (map[string]PieceRow, error) {
	out := make(map[string]PieceRow, len(publicIDs))
	if len(publicIDs) == 0 {
		return out, nil
	}
	rows, err := s.pieceRows(ctx, s.on(ctx).Where("shop_id = ? AND public_id IN ?", shopID, publicIDs))
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		out[r.Piece.PublicID] = r
	}
	for _, id := range publicIDs {
		if _, ok := out[id]; !ok {
			return nil, ErrNotFound
		}
	}
	return out, nil
}

// PieceRowByID gives one piece, by its key, with its lot and breakdown.
func (s *Store) PieceRowByID(ctx context.Context, shopID, id int64) (PieceRow, error) {
	return one(s.pieceRows(ctx, s.on(ctx).Where("shop_id = ? AND id = ?", shopID, id)))
}

// PieceRowsByID gives some pieces, by their keys, with their lots and breakdowns, and the benches of the shop.
func (s *Store) PieceRowsByID(ctx context.Context, shopID int64, ids []int64) (map[int64]PieceRow, []Bench, error) {
	out := make(map[int64]PieceRow, len(ids))
	benches, err := s.Benches(ctx, shopID)
	if err != nil || len(ids) == 0 {
		return out, benches, err
	}
	rows, err := s.withMassBefore(ctx)(s.readPieces(ctx, s.on(ctx).Where("shop_id = ? AND id IN ?", shopID, ids), benches))
	for _, r := range rows {
		out[r.Piece.ID] = r
	}
	return out, benches, err
}

func one(rows []PieceRow, err error) (PieceRow, error) {
	if err != nil {
		return PieceRow{}, err
	}
	if len(rows) == 0 {
		return PieceRow{}, ErrNotFound
	}
	return rows[0], nil
}

// pieceRows reads pieces with what stands with them, also what those of their lot before them weigh.
func (s *Store) pieceRows(ctx context.Context, query *gorm.DB) ([]PieceRow, error) {
	return s.withMassBefore(ctx)(s.readPieces(ctx, query, nil))
}

// withMassBefore adds to pieces what those of their lot before them weigh.
func (s *Store) withMassBefore(ctx context.Context) func([]PieceRow, error) ([]PieceRow, error) {
	return func(rows []PieceRow, err error) ([]PieceRow, error) {
		if err != nil {
			return nil, err
		}
		ids := make([]int64, len(rows))
		for i, r := range rows {
			ids[i] = r.Piece.ID
		}
		before, err := s.massBefore(ctx, ids)
		for i, r := range rows {
			rows[i].BeforeMg = before[r.Piece.ID]
		}
		return rows, err
	}
}

// readPieces reads pieces with their lots and breakdowns; the shop's benches are read where they are not given.
func (s *Store) readPieces(ctx context.Context, query *gorm.DB, known []Bench) ([]PieceRow, error) {
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
		if err := s.on(ctx).Where("shop_id = ? AND piece_id IN ?", pieces[0].ShopID, pieceIDs).Find(&breakdowns).
			Error; err != nil {
			return nil, Translate(err)
		}
	}
	batches, err := s.batchNames(ctx, breakdowns)
	if err != nil {
		return nil, err
	}
	benches := map[int64]string{}
	if len(breakdowns) > 0 && known == nil {
		if known, err = s.Benches(ctx, pieces[0].ShopID); err != nil {
			return nil, err
		}
	}
	for _, b := range known {
		benches[b.ID] = b.Name
	}
	lotByID, breakdownByPiece := map[int64]Lot{}, map[int64]*Breakdown{}
	for _, l := range lots {
		lotByID[l.ID] = l
	}
	for i := range breakdowns {
		breakdownByPiece[breakdowns[i].PieceID] = &breakdowns[i]
	}
	out := make([]PieceRow, len(pieces))
	for i, p := range pieces {
		out[i] = PieceRow{Piece: p, Lot: lotByID[p.LotID], Breakdown: breakdownByPiece[p.ID]}
		if b := out[i].Breakdown; b != nil {
			out[i].Bench = benches[b.BenchID]
			if b.BatchID != nil {
				out[i].Batch = batches[*b.BatchID]
			}
		}
	}
	return out, nil
}

// massBefore adds up, for each piece, the label weights of the pieces of its lot with lower numbers.
func (s *Store) massBefore(ctx context.Context, pieceIDs []int64) (map[int64]int64, error) {
	out := map[int64]int64{}
	if len(pieceIDs) == 0 {
		return out, nil
	}
	var rows []struct{ ID, BeforeMg int64 }
	err := s.on(ctx).
		Raw(`SELECT id, before_mg FROM (SELECT id, SUM(label_mg) OVER (PARTITION BY lot_id ORDER BY number) - label_mg AS
			before_mg
		FROM pieces WHERE lot_id IN (SELECT lot_id FROM pieces WHERE id IN ?)) x WHERE id IN ?`, pieceIDs, pieceIDs).
		Scan(&rows).Error
	for _, r := range rows {
		out[r.ID] = r.BeforeMg
	}
	return out, Translate(err)
}

// ChoosePlan sets a piece's plan and what was chosen within it, where its version is still the given one.
func (s *Store) ChoosePlan(ctx context.Context, shopID int64, publicID, planID string, options map[string]string,
	version int) error {
	raw, err := json.Marshal(options)
	if err != nil {
		return err
	}
	return changed(s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND public_id = ? AND version = ?", shopID, publicID,
		version).
		Updates(map[string]any{"plan_id": planID, "options": string(raw), "version": version + 1}))
}

// ChoosePlanOf sets the plan of several pieces at once, where each has the version that it is given with.
func (s *Store) ChoosePlanOf(ctx context.Context, shopID int64, pieces []Piece, planID string,
	options map[string]string) error {
	raw, err := json.Marshal(options)
	if err != nil || len(pieces) == 0 {
		return err
	}
	var seen [][]any
	for _, p := range pieces {
		seen = append(seen, []any{p.ID, p.Version})
	}
	res := s.on(ctx).Exec("UPDATE pieces SET plan_id = ?, options = ?, version = version + 1 WHERE shop_id = ? AND "+
		"(id, version) IN ?", planID, string(raw), shopID, seen)
	if res.Error == nil && res.RowsAffected != int64(len(pieces)) {
		return ErrConflict
	}
	return Translate(res.Error)
}

// seamedOff adds to pieces that are being cut what is off them: the parts, in the order in which they came off.
func (s *Store) seamedOff(ctx context.Context, pieces []PieceRow) error {
	open := map[int64]*PieceRow{}
	for i := range pieces {
		if b := pieces[i].Breakdown; b != nil && b.State == "open" {
			open[b.ID] = &pieces[i]
		}
	}
	if len(open) == 0 {
		return nil
	}
	ids := slices.Collect(maps.Keys(open))
	var rows []struct {
		BreakdownID int64
		Part        string
	}
	err := s.on(ctx).Model(&Output{}).Where("shop_id = ? AND breakdown_id IN ? AND part <> ''", pieces[0].Piece.ShopID,
		ids).
		Order("id").Find(&rows).Error
	for _, r := range rows {
		open[r.BreakdownID].Off = append(open[r.BreakdownID].Off, r.Part)
	}
	return Translate(err)
}
