package store

import (
	"context"
	"slices"
	"strconv"
	"strings"
	"time"
)

// LotMark is a place in the list of lots, the latest first.
type LotMark struct {
	At time.Time
	ID int64
}

// Lot is what was received at once.
type Lot struct {
	ID            int64
	PublicID      string
	ShopID        int64
	LotNumber     string
	Supplier      string
	AtlasID       string
	Pieces        int
	TotalMg       int64
	InvoicedMg    *int64 // what the invoice says that it weighs; nil where nobody looked
	Price         string
	PricePer      string
	SlaughteredOn time.Time
	PackedOn      time.Time // the day of slaughter where it hangs unpacked
	Form          string    // of the piece, as the trade sells it; empty where it was not said
	Findings      []string  `gorm:"serializer:json"`
	Note          string
	ReceivedAt    time.Time
	About         About             `gorm:"embedded"`
	Decided       map[string]string `gorm:"serializer:json"` // finding → what becomes of it
	FromPieceID   *int64            // the carcass it was broken from
	Version       int
	VoidedAt      *time.Time
	VoidReason    string
}

// About is what is known of the animal and of how it came; empty where nobody said.
type About struct {
	Bone          string
	Feed          string
	Sex           string
	AgeClass      string
	FatClass      string
	Marbling      string
	Hang          string
	SupplierGrade string
	Ph            *float64
	TemperatureC  *float64
	FatPct        *float64 // intramuscular fat, 0–40
	LeanYieldPct  *float64 // lean-meat yield, 30–80
	Breed         string   // as the supplier names it; kept, and without effect on a grade
	BornIn        string   // countries, as a label names them
	RearedIn      string
	SlaughteredIn string
	Plant         string // approval number of the slaughterhouse
}

// Lot gives a lot by its public id.
func (s *Store) Lot(ctx context.Context, shopID int64, publicID string) (Lot, error) {
	var l Lot
	err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&l).Error
	return l, Translate(err)
}

// LockLot holds a lot and its pieces until the transaction ends.
func (s *Store) LockLot(ctx context.Context, shopID int64, publicID string) error {
	var ids []int64
	err := s.on(ctx).Raw("SELECT id FROM lots WHERE shop_id = ? AND public_id = ? FOR UPDATE", shopID, publicID).
		Scan(&ids).Error
	if err == nil && len(ids) > 0 {
		err = s.on(ctx).Raw("SELECT id FROM pieces WHERE shop_id = ? AND lot_id = ? ORDER BY id FOR UPDATE", shopID, ids[0]).
			Scan(&ids).Error
	}
	return Translate(err)
}

// LotNumbers says which of these lot numbers a shop has.
func (s *Store) LotNumbers(ctx context.Context, shopID int64, numbers []string) ([]string, error) {
	var out []string
	if len(numbers) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND lot_number IN ?", shopID, numbers).Pluck("lot_number", &out).
		Error
	return out, Translate(err)
}

// Unpacked says whether a lot hangs as it is: no piece is packed on the day of its slaughter.
func (l Lot) Unpacked() bool { return l.PackedOn.Equal(l.SlaughteredOn) }

// LotsFrom gives what the pieces of a lot, which are carcasses, were broken into.
func (s *Store) LotsFrom(ctx context.Context, shopID, lotID int64) ([]Lot, error) {
	var out []Lot
	err := s.on(ctx).
		Raw("SELECT l.* FROM pieces p JOIN lots l ON l.from_piece_id = p.id WHERE p.lot_id = ? AND p.shop_id = ? "+
			"ORDER BY l.id", lotID, shopID).Scan(&out).Error
	return out, Translate(err)
}

// ChangeLot writes a lot anew, whose version must be one less than the given one, and its pieces: those that were
// before keep their rows, those that are more are added, and those that are fewer go.
func (s *Store) ChangeLot(ctx context.Context, lot Lot, before, after []Piece) error {
	fields := []string{"LotNumber", "Supplier", "AtlasID", "Pieces", "TotalMg", "InvoicedMg", "Price", "PricePer",
		"SlaughteredOn", "PackedOn", "Form", "Findings", "Note", "Decided", "Version", "Bone", "Feed", "Sex", "AgeClass",
		"FatClass", "Marbling", "Hang", "SupplierGrade", "Ph", "TemperatureC", "FatPct",
		"LeanYieldPct", "Breed", "BornIn", "RearedIn", "SlaughteredIn", "Plant"}
	err := changed(s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND id = ? AND version = ?", lot.ShopID, lot.ID,
		lot.Version-1).Select(fields).Updates(&lot))
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
		if err := changed(s.on(ctx).Model(&Piece{}).Where("shop_id = ? AND id = ? AND version = ?", lot.ShopID, p.ID,
			was.Version).Select("LabelMg", "PlanID", "Options", "Version").Updates(&p)); err != nil {
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

// VoidLot marks a lot and its pieces as void since at, or takes that back where at is nil; a piece that was voided by
// itself stays so.
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

// maxHistory bounds how much of a history is given.
const maxHistory = 200

// History lists the changes of some subjects, newest first.
func (s *Store) History(ctx context.Context, shopID int64, subjects []string) ([]Audit, error) {
	var out []Audit
	err := s.on(ctx).Where("shop_id = ? AND subject IN ?", shopID, subjects).Order("id DESC").Limit(maxHistory).
		Find(&out).Error
	return out, Translate(err)
}

// UnbrokenCarcasses lists the breakdowns of a shop's carcasses that are closed and whose pieces were not made yet.
func (s *Store) UnbrokenCarcasses(ctx context.Context, shopID int64, carcasses []string) ([]Breakdown, error) {
	var out []Breakdown
	if len(carcasses) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Raw(`SELECT b.* FROM breakdowns b JOIN pieces p ON p.id = b.piece_id JOIN lots l ON l.id = p.lot_id
		WHERE b.shop_id = ? AND b.state = 'closed' AND b.judged_at IS NULL AND l.atlas_id IN ? ORDER BY b.id`, shopID,
		carcasses).Scan(&out).Error
	return out, Translate(err)
}

// MarkBroken notes that the pieces of a carcass were made; ErrConflict where they were already.
func (s *Store) MarkBroken(ctx context.Context, shopID, breakdownID int64, at time.Time) error {
	return changed(s.on(ctx).Model(&Breakdown{}).Where("shop_id = ? AND id = ? AND judged_at IS NULL", shopID,
		breakdownID).Update("judged_at", at))
}

// LastLot gives the lot of a kind of piece that was received last, voided ones left out; ErrNotFound where there is
// none.
func (s *Store) LastLot(ctx context.Context, shopID int64, atlasID string) (Lot, error) {
	var l Lot
	return l,
		Translate(s.on(ctx).Where("shop_id = ? AND atlas_id = ? AND voided_at IS NULL", shopID, atlasID).
			Order("received_at DESC, id DESC").Take(&l).Error)
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
func (s *Store) Lots(ctx context.Context, shopID int64, after *LotMark, limit int) ([]Lot, error) {
	var out []Lot
	db := s.on(ctx).Where("shop_id = ?", shopID)
	if after != nil {
		db = db.Where("received_at <= ? AND (received_at < ? OR id < ?)", after.At, after.At, after.ID)
	}
	err := db.Order("received_at DESC, id DESC").Limit(limit).Find(&out).Error
	return out, Translate(err)
}

// findWindow is how many of the latest a search for a part of a text looks through.
const findWindow = 500

// FindLots gives the latest lots whose number begins with a text; and, of the shop's latest, those whose number or
// supplier holds it.
func (s *Store) FindLots(ctx context.Context, shopID int64, text string, limit int) ([]Lot, error) {
	var out []Lot
	prefix := strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(text) + "%"
	err := s.on(ctx).Raw(`SELECT lots.* FROM (
			SELECT id FROM (SELECT id FROM lots WHERE shop_id = ? AND lot_number LIKE ? ORDER BY lot_number DESC LIMIT ?) a
			UNION SELECT id FROM (SELECT id, lot_number, supplier FROM lots WHERE shop_id = ?
				ORDER BY received_at DESC, id DESC LIMIT ?) b WHERE LOCATE(?, lot_number) > 0 OR LOCATE(?, supplier) > 0) f
		JOIN lots ON lots.id = f.id ORDER BY received_at DESC, lots.id DESC LIMIT ?`, shopID, prefix, limit, shopID,
		findWindow, text, text, limit).
		Scan(&out).Error
	return out, Translate(err)
}

// LastRunning gives the highest running number of the lots whose numbers are a prefix and digits; 0 when there is none.
func (s *Store) LastRunning(ctx context.Context, shopID int64, prefix string) (int, error) {
	var numbers []string
	err := s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND lot_number LIKE ? AND from_piece_id IS NULL", shopID,
		prefix+"%").Pluck("lot_number", &numbers).Error
	last := 0
	for _, n := range numbers {
		if running, err := strconv.Atoi(strings.TrimPrefix(n, prefix)); err == nil {
			last = max(last, running)
		}
	}
	return last, Translate(err)
}

// Suppliers lists the suppliers a shop has received from of late, the latest first.
func (s *Store) Suppliers(ctx context.Context, shopID int64) ([]string, error) {
	var latest, out []string
	err := s.on(ctx).
		Raw("SELECT supplier FROM lots FORCE INDEX (lots_received) WHERE shop_id = ? ORDER BY received_at DESC, "+
			"id DESC LIMIT ?", shopID, supplierLots).Scan(&latest).Error
	for _, name := range latest {
		if len(out) < maxSuppliers && !slices.Contains(out, name) {
			out = append(out, name)
		}
	}
	return out, Translate(err)
}

// How many suppliers are offered at most, and from how many of the latest lots.
const (
	maxSuppliers = 50
	supplierLots = 200
)

// PiecesOf lists the pieces of some lots, by lot and number.
func (s *Store) PiecesOf(ctx context.Context, shopID int64, lotIDs []int64) (map[int64][]Piece, error) {
	var rows []Piece
	if len(lotIDs) > 0 {
		if err := s.on(ctx).Where("shop_id = ? AND lot_id IN ?", shopID, lotIDs).Order("lot_id, number").Find(&rows).
			Error; err != nil {
			return nil, Translate(err)
		}
	}
	out := map[int64][]Piece{}
	for _, p := range rows {
		out[p.LotID] = append(out[p.LotID], p)
	}
	return out, nil
}

// LotPieces lists the pieces of a lot.
func (s *Store) LotPieces(ctx context.Context, shopID, lotID int64) ([]Piece, error) {
	var out []Piece
	err := s.on(ctx).Where("shop_id = ? AND lot_id = ?", shopID, lotID).Order("number").Find(&out).Error
	return out, Translate(err)
}

// UnhungBlocks lists closed breakdowns of some pieces that left blocks to be cut further, of which no lot was made yet.
func (s *Store) UnhungBlocks(ctx context.Context, shopID int64, from, blocks []string) ([]Breakdown, error) {
	var out []Breakdown
	if len(from) == 0 || len(blocks) == 0 {
		return nil, nil
	}
	err := s.on(ctx).Raw(`SELECT b.* FROM breakdowns b JOIN pieces p ON p.id = b.piece_id JOIN lots l ON l.id = p.lot_id
		WHERE b.shop_id = ? AND b.state = 'closed' AND l.atlas_id IN ?
		AND EXISTS (SELECT 1 FROM outputs o WHERE o.breakdown_id = b.id AND o.product IN ?)
		AND NOT EXISTS (SELECT 1 FROM lots h WHERE h.from_piece_id = p.id) ORDER BY b.id`, shopID, from, blocks).
		Scan(&out).Error
	return out, Translate(err)
}

// HungFrom says whether lots were made of what a piece was cut into.
func (s *Store) HungFrom(ctx context.Context, shopID, pieceID int64) (bool, error) {
	n := int64(0)
	err := s.on(ctx).Model(&Lot{}).Where("shop_id = ? AND from_piece_id = ?", shopID, pieceID).Count(&n).Error
	return n > 0, Translate(err)
}
