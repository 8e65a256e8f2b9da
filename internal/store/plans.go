package store

import (
	"context"
	"encoding/json"
	"time"
)

// OwnPlan is a plan of a shop with its latest version.
type OwnPlan struct {
	Plan
	Latest PlanVersion
}

// versionColumns are those of a version, with the name of who made it as it is now.
const versionColumns = "v.id, v.shop_id, v.plan_id, v.version, v.body, v.member_id, v.made_at, " +
	"IF(v.made_by LIKE 'Token %', v.made_by, COALESCE(m.name, v.made_by)) AS made_by FROM plan_versions v LEFT JOIN " +
	"members m ON m.id = v.member_id "

// Plans lists a shop's own plans, oldest first, those that are retired too.
func (s *Store) Plans(ctx context.Context, shopID int64) ([]OwnPlan, error) {
	var plans []Plan
	if err := s.on(ctx).Where("shop_id = ?", shopID).Order("id").Find(&plans).Error; err != nil || len(plans) == 0 {
		return nil, Translate(err)
	}
	var latest []PlanVersion
	err := s.on(ctx).
		Raw("SELECT "+versionColumns+"JOIN plans p ON p.id = v.plan_id AND p.version = v.version WHERE p.shop_id = ?",
			shopID).Scan(&latest).Error
	if err != nil {
		return nil, Translate(err)
	}
	byPlan := map[int64]PlanVersion{}
	for _, v := range latest {
		byPlan[v.PlanID] = v
	}
	out := make([]OwnPlan, len(plans))
	for i, p := range plans {
		out[i] = OwnPlan{p, byPlan[p.ID]}
	}
	return out, nil
}

// PlanVersions lists the versions of a plan, newest first.
func (s *Store) PlanVersions(ctx context.Context, shopID int64, publicID string) ([]PlanVersion, error) {
	var p Plan
	if err := s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&p).Error; err != nil {
		return nil, Translate(err)
	}
	var out []PlanVersion
	err := s.on(ctx).Raw("SELECT "+versionColumns+"WHERE v.shop_id = ? AND v.plan_id = ? ORDER BY v.version DESC",
		shopID, p.ID).Scan(&out).Error
	return out, Translate(err)
}

// CreatePlan adds a plan with its first version.
func (s *Store) CreatePlan(ctx context.Context, p *Plan, v *PlanVersion) error {
	p.ID, v.ID = 0, 0
	if err := s.on(ctx).Create(p).Error; err != nil {
		return Translate(err)
	}
	v.PlanID, v.Version = p.ID, p.Version
	return Translate(s.on(ctx).Create(v).Error)
}

// ChangePlan adds a version to a plan whose latest is the given one.
func (s *Store) ChangePlan(ctx context.Context, p Plan, v *PlanVersion) error {
	v.ID = 0
	err := changed(s.on(ctx).Model(&Plan{}).Where("shop_id = ? AND id = ? AND version = ?", p.ShopID, p.ID, p.Version).
		Update("version", p.Version+1))
	if err != nil {
		return err
	}
	v.PlanID, v.Version = p.ID, p.Version+1
	return Translate(s.on(ctx).Create(v).Error)
}

// RetirePlan takes a plan out of use, or back into it, where its latest version is the given one.
func (s *Store) RetirePlan(ctx context.Context, p Plan, retired bool) error {
	return changed(s.on(ctx).Model(&Plan{}).Where("shop_id = ? AND id = ? AND version = ? AND retired <> ?", p.ShopID,
		p.ID, p.Version, retired).Update("retired", retired))
}

// Plan is a shop's own way of cutting a piece; Version is the latest of its versions.
type Plan struct {
	ID        int64
	PublicID  string
	ShopID    int64
	AtlasID   string
	Version   int
	Retired   bool
	CreatedAt time.Time
}

// PlanVersion is a plan as somebody once made it.
type PlanVersion struct {
	ID       int64
	ShopID   int64
	PlanID   int64
	Version  int
	Body     json.RawMessage `gorm:"type:json"`
	MemberID *int64
	MadeBy   string
	MadeAt   time.Time
}
