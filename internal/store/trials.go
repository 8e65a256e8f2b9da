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
func (s *Store) Trials(ctx context.Context, shopID int64) ([]Trial, error) {
	var out []Trial
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("id DESC").Find(&out).Error)
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
	err := s.on(ctx).
		Raw(`SELECT p.id FROM pieces p JOIN trial_pairs r ON p.id IN (r.piece_a, r.piece_b) JOIN trials t ON t.id = r.trial_id
		WHERE p.shop_id = ? AND t.state = 'open' AND p.id IN ?`, shopID, pieces).Scan(&out).Error
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
	err := s.on(ctx).
		Raw(`SELECT b.plan_id, b.gain_per_kg AS gain FROM breakdowns b JOIN pieces p ON p.id = b.piece_id JOIN lots l ON
			l.id = p.lot_id
		WHERE b.shop_id = ? AND l.atlas_id = ? AND b.state = 'closed' AND b.gain_per_kg IS NOT NULL ORDER BY b.id DESC
		LIMIT 500`, shopID, atlasID).Scan(&out).Error
	return out, Translate(err)
}
