package store

import (
	"context"
	"time"
)

// Trial is pairs of pieces of one kind, one of each pair cut one way and one the other.
type Trial struct {
	ID        int64
	PublicID  string
	ShopID    int64
	Name      string
	AtlasID   string
	PlanA     string
	PlanB     string
	State     string // open, void
	Reason    string
	Version   int
	CreatedAt time.Time
}

// TrialPair is a pair, by the keys of its pieces.
type TrialPair struct {
	ID      int64
	ShopID  int64
	TrialID int64
	Number  int
	PieceA  int64
	PieceB  int64
}

// Trials lists a shop's trials, latest first.
func (s *Store) Trials(ctx context.Context, shopID, before int64, limit int) ([]Trial, error) {
	var out []Trial
	db := s.on(ctx).Where("shop_id = ?", shopID)
	if before > 0 {
		db = db.Where("id < ?", before)
	}
	return out, Translate(db.Order("id DESC").Limit(limit).Find(&out).Error)
}

// TrialsOf lists the latest trials of two plans of a piece, whichever was first, that are not void.
func (s *Store) TrialsOf(ctx context.Context, shopID int64, atlasID, planA, planB string, limit int) ([]Trial, error) {
	var out []Trial
	plans := []string{planA, planB}
	err := s.on(ctx).
		Where("shop_id = ? AND atlas_id = ? AND state <> 'void' AND plan_a IN ? AND plan_b IN ? AND plan_a <> plan_b",
			shopID, atlasID, plans, plans).Order("id DESC").Limit(limit).Find(&out).Error
	return out, Translate(err)
}

// Trial gives a trial of a shop with its pairs, by their numbers.
func (s *Store) Trial(ctx context.Context, shopID int64, publicID string) (t Trial, pairs []TrialPair, err error) {
	if err = s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&t).Error; err == nil {
		err = s.on(ctx).Where("shop_id = ? AND trial_id = ?", shopID, t.ID).Order("number").Find(&pairs).Error
	}
	return t, pairs, Translate(err)
}

// CreateTrial adds a trial with its pairs.
func (s *Store) CreateTrial(ctx context.Context, t *Trial, pairs []TrialPair) error {
	t.ID = 0
	if err := s.on(ctx).Create(t).Error; err != nil {
		return Translate(err)
	}
	for i := range pairs {
		pairs[i].ShopID, pairs[i].TrialID, pairs[i].Number = t.ShopID, t.ID, i+1
	}
	return Translate(s.on(ctx).Create(&pairs).Error)
}

// VoidTrial takes a trial out, or back in, where its version is the given one.
func (s *Store) VoidTrial(ctx context.Context, t Trial) error {
	return changed(s.on(ctx).Model(&Trial{}).Where("shop_id = ? AND id = ? AND version = ?", t.ShopID, t.ID, t.Version).
		Updates(map[string]any{"state": t.State, "reason": t.Reason, "version": t.Version + 1}))
}

// InTrial says which of some pieces are in a trial that is not void.
func (s *Store) InTrial(ctx context.Context, shopID int64, pieces []int64) ([]int64, error) {
	var out []int64
	err := s.on(ctx).Raw(`SELECT r.piece_a FROM trial_pairs r JOIN trials t ON t.id = r.trial_id
		WHERE r.shop_id = ? AND t.state = 'open' AND r.piece_a IN ?
		UNION SELECT r.piece_b FROM trial_pairs r JOIN trials t ON t.id = r.trial_id
		WHERE r.shop_id = ? AND t.state = 'open' AND r.piece_b IN ?`, shopID, pieces, shopID, pieces).Scan(&out).Error
	return out, Translate(err)
}

// PastGain is by how much a kilogram a closed piece gained on the other way of cutting, and by which plan it was cut.
type PastGain struct {
	PlanID string
	Gain   float64
}

// PastGains lists the gains of the latest closed pieces of a kind, as they were priced.
func (s *Store) PastGains(ctx context.Context, shopID int64, atlasID string) ([]PastGain, error) {
	var out []PastGain
	err := s.on(ctx).Raw(`SELECT b.plan_id, b.gain_per_kg AS gain FROM (SELECT breakdown_id FROM results
			WHERE shop_id = ? AND atlas_id = ? ORDER BY closed_at DESC LIMIT 500) r
		JOIN breakdowns b ON b.id = r.breakdown_id WHERE b.gain_per_kg IS NOT NULL`, shopID, atlasID).Scan(&out).Error
	return out, Translate(err)
}
