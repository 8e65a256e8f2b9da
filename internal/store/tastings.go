package store

import (
	"context"
	"encoding/json"
	"strings"
	"time"

	"gorm.io/gorm/clause"
)

// Tasting is a sitting of eaters over samples.
type Tasting struct {
	ID        int64
	PublicID  string
	ShopID    int64
	Name      string
	HeldOn    time.Time `gorm:"type:date"`
	Assessors int
	Seed      int64
	State     string // open, closed, void
	Reason    string
	Version   int
	CreatedAt time.Time
	ClosedAt  *time.Time
}

// TastingSample is a muscle by a cooking method, under a blind code.
type TastingSample struct {
	ID          int64
	ShopID      int64
	TastingID   int64
	Number      int
	Code        string
	AtlasID     string
	Part        string
	Method      string
	BreakdownID *int64
	AgeDays     *int
	Note        string
	Cores       []float64 `gorm:"serializer:json"` // shear force, kgf
}

// TastingAssessor is one eater's place: the link to the score page, and the order of the samples.
type TastingAssessor struct {
	ID        int64
	ShopID    int64
	TastingID int64
	Number    int
	Link      string
	Orders    []int `gorm:"serializer:json"`
}

// TastingSheet is what one eater gave one sample.
type TastingSheet struct {
	ID         int64
	ShopID     int64
	TastingID  int64
	SampleID   int64
	Assessor   int
	Tenderness *float64
	Juiciness  *float64
	Flavour    *float64
	Overall    *float64
	Source     string
	At         time.Time
}

// ExternalScore is a score that a supplier or programme gave a muscle by a method.
type ExternalScore struct {
	ID      int64
	ShopID  int64
	AtlasID string
	Part    string
	Method  string
	Score   float64
	Source  string
	At      time.Time
}

// Tastings lists a shop's tastings, latest first.
func (s *Store) Tastings(ctx context.Context, shopID int64, after *TastingMark, limit int) ([]Tasting, error) {
	var out []Tasting
	db := s.on(ctx).Where("shop_id = ?", shopID)
	if after != nil {
		day := after.HeldOn.Format(time.DateOnly)
		db = db.Where("held_on <= ? AND (held_on < ? OR id < ?)", day, day, after.ID)
	}
	return out, Translate(db.Order("held_on DESC, id DESC").Limit(limit).Find(&out).Error)
}

// TastingMark is a place in the list of tastings, the latest first.
type TastingMark struct {
	HeldOn time.Time
	ID     int64
}

// Tasting gives a tasting of a shop.
func (s *Store) Tasting(ctx context.Context, shopID int64, publicID string) (Tasting, error) {
	var t Tasting
	return t, Translate(s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&t).Error)
}

// NewTasteLinks gives every eater a new link, of two codes; those on printed sheets hold no longer.
func (s *Store) NewTasteLinks(ctx context.Context, code func() string) error {
	var ids []int64
	if err := s.on(ctx).Model(&TastingAssessor{}).Order("id").Pluck("id", &ids).Error; err != nil {
		return Translate(err)
	}
	for _, id := range ids {
		link := strings.ReplaceAll(code()+code(), "-", "")[:12]
		if err := s.on(ctx).Exec("UPDATE tasting_assessors SET link = ? WHERE id = ?", link, id).Error; err != nil {
			return Translate(err)
		}
	}
	return nil
}

// TastingByLink gives the tasting and the eater that a link is of.
func (s *Store) TastingByLink(ctx context.Context, link string) (t Tasting, e TastingAssessor, err error) {
	if err = s.on(ctx).Where("link = ?", link).Take(&e).Error; err == nil {
		err = s.on(ctx).Where("id = ?", e.TastingID).Take(&t).Error
	}
	return t, e, Translate(err)
}

// LockTasting holds a tasting until the transaction ends, and gives it as it is then. It has to be the first statement
// of the transaction.
func (s *Store) LockTasting(ctx context.Context, shopID, id int64) (Tasting, error) {
	var t Tasting
	err := s.on(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).Where("shop_id = ? AND id = ?", shopID, id).Take(&t).Error
	return t, Translate(err)
}

// CreateTasting adds a tasting with its samples and eaters.
func (s *Store) CreateTasting(ctx context.Context, t *Tasting, samples []TastingSample,
	assessors []TastingAssessor) error {
	t.ID = 0
	if err := s.on(ctx).Create(t).Error; err != nil {
		return Translate(err)
	}
	for i := range samples {
		samples[i].ShopID, samples[i].TastingID = t.ShopID, t.ID
	}
	for i := range assessors {
		assessors[i].ShopID, assessors[i].TastingID = t.ShopID, t.ID
	}
	if err := s.on(ctx).Create(&samples).Error; err != nil {
		return Translate(err)
	}
	return Translate(s.on(ctx).Create(&assessors).Error)
}

// ChangeTasting writes what can change of a tasting whose version is the given one.
func (s *Store) ChangeTasting(ctx context.Context, t Tasting) error {
	return changed(s.on(ctx).Model(&Tasting{}).Where("shop_id = ? AND id = ? AND version = ?", t.ShopID, t.ID, t.Version).
		Updates(map[string]any{"name": t.Name, "held_on": t.HeldOn, "state": t.State, "reason": t.Reason,
			"closed_at": t.ClosedAt, "version": t.Version + 1}))
}

// TastingParts gives the samples and eaters of a tasting, by their numbers, and its sheets.
func (s *Store) TastingParts(ctx context.Context, shopID, tastingID int64) (samples []TastingSample,
	assessors []TastingAssessor, sheets []TastingSheet, err error) {
	for _, into := range []any{&samples, &assessors} {
		if err = s.on(ctx).Where("shop_id = ? AND tasting_id = ?", shopID, tastingID).Order("number").Find(into).
			Error; err != nil {
			return nil, nil, nil, Translate(err)
		}
	}
	err = s.on(ctx).Where("shop_id = ? AND tasting_id = ?", shopID, tastingID).Order("sample_id, assessor").Find(&sheets).
		Error
	return samples, assessors, sheets, Translate(err)
}

// PieceOfBreakdown gives the key of the piece that a breakdown is of.
func (s *Store) PieceOfBreakdown(ctx context.Context, shopID, breakdown int64) (id int64, err error) {
	err = s.on(ctx).Raw("SELECT piece_id FROM breakdowns WHERE shop_id = ? AND id = ?", shopID, breakdown).Scan(&id).Error
	return id, Translate(err)
}

// SetSheets writes what eaters gave; a sheet that is there already is corrected.
func (s *Store) SetSheets(ctx context.Context, sheets []TastingSheet) error {
	return Translate(s.on(ctx).Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "sample_id"}, {Name: "assessor"}},
		DoUpdates: clause.AssignmentColumns([]string{"tenderness", "juiciness", "flavour", "overall", "source", "at"})}).
		Create(&sheets).Error)
}

// SetCores writes the shear force of a sample.
func (s *Store) SetCores(ctx context.Context, shopID, sampleID int64, cores []float64) error {
	raw, err := json.Marshal(cores)
	if err != nil {
		return err
	}
	return Translate(s.on(ctx).Exec("UPDATE tasting_samples SET cores = ? WHERE shop_id = ? AND id = ?", string(raw),
		shopID, sampleID).Error)
}

// PanelResult is what the panel of a closed tasting found of a sample, by one way of weighing the ratings.
type PanelResult struct {
	SampleID  int64
	Weights   string
	ShopID    int64
	TastingID int64
	Number    int
	AtlasID   string
	Part      string
	Method    string
	Score     *float64 // nil where no sheet was complete
	Assessors int      // with a complete sheet
}

// SetPanelResults writes what the panel of a tasting found in the place of what stood there; none for a tasting that
// does not count.
func (s *Store) SetPanelResults(ctx context.Context, shopID, tastingID int64, rows []PanelResult) error {
	gone := s.on(ctx).Where("shop_id = ? AND tasting_id = ?", shopID, tastingID).Delete(&PanelResult{})
	if gone.Error != nil {
		return Translate(gone.Error)
	}
	if len(rows) > 0 {
		if err := s.on(ctx).Create(&rows).Error; err != nil {
			return Translate(err)
		}
	}
	return s.gradesChanged(ctx, shopID)
}

// gradesChanged notes that what a house's grades rest on has changed.
func (s *Store) gradesChanged(ctx context.Context, shopID int64) error {
	return Translate(s.on(ctx).Exec("UPDATE shops SET grades_version = grades_version + 1 WHERE id = ?", shopID).Error)
}

// FoundByPanel is a panel's result with the tasting it comes from.
type FoundByPanel struct {
	PanelResult
	TastingPublic string
	Tasting       string
	HeldOn        time.Time
}

// PanelResults lists what panels found, by a way of weighing the ratings, oldest tasting first.
func (s *Store) PanelResults(ctx context.Context, shopID int64, weights string) ([]FoundByPanel, error) {
	var out []FoundByPanel
	err := s.on(ctx).Raw(`SELECT r.*, t.public_id AS tasting_public, t.name AS tasting, t.held_on
		FROM panel_results r JOIN tastings t ON t.id = r.tasting_id
		WHERE r.shop_id = ? AND r.weights = ? AND r.score IS NOT NULL ORDER BY t.held_on, t.id, r.number`, shopID, weights).
		Scan(&out).Error
	return out, Translate(err)
}

// TastingsWithoutResults lists the closed tastings whose results were not written: those that an older program closed.
func (s *Store) TastingsWithoutResults(ctx context.Context, shopID int64) ([]Tasting, error) {
	var out []Tasting
	err := s.on(ctx).Raw(`SELECT t.* FROM tastings t WHERE t.shop_id = ? AND t.state = 'closed'
		AND NOT EXISTS (SELECT 1 FROM panel_results r WHERE r.tasting_id = t.id) ORDER BY t.id`, shopID).Scan(&out).Error
	return out, Translate(err)
}

// Given lists the scores that others gave.
func (s *Store) Given(ctx context.Context, shopID int64) ([]ExternalScore, error) {
	var out []ExternalScore
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("id").Find(&out).Error)
}

// SetGiven writes scores that others gave; a later one of the same muscle and method takes the place of the earlier.
func (s *Store) SetGiven(ctx context.Context, list []ExternalScore) error {
	if len(list) == 0 {
		return nil
	}
	latest := clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"score", "source", "at"})}
	if err := s.on(ctx).Clauses(latest).Create(&list).Error; err != nil {
		return Translate(err)
	}
	return s.gradesChanged(ctx, list[0].ShopID)
}

// SetEating writes a shop's settings for grades where its version is the given one.
func (s *Store) SetEating(ctx context.Context, shopID int64, version int, eating json.RawMessage) error {
	err := changed(s.on(ctx).Model(&Shop{}).Where("id = ? AND version = ?", shopID, version).
		Updates(map[string]any{"eating": string(eating), "version": version + 1}))
	if err != nil {
		return err
	}
	return s.gradesChanged(ctx, shopID)
}
