package shop

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"sync"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/store"
)

// OwnPlan is a shop's own plan as it now is.
type OwnPlan struct {
	store.Plan
	Body   atlas.Plan
	MadeBy string
	MadeAt time.Time
	fits   *fitting
}

// fitting says whether a plan still fits its piece; worked out once for each time the plans are read.
type fitting struct {
	once sync.Once
	ok   bool
}

// Fits says whether the plan still fits the piece.
func (o OwnPlan) Fits(p atlas.Piece) bool {
	if o.fits == nil {
		return len(atlas.ValidatePlan(p, o.Body)) == 0
	}
	o.fits.once.Do(func() { o.fits.ok = len(atlas.ValidatePlan(p, o.Body)) == 0 })
	return o.fits.ok
}

// OwnPlans reads a shop's own plans.
func (s *Service) OwnPlans(ctx context.Context, st *store.Store, shopID int64) ([]OwnPlan, error) {
	rows, err := st.Plans(ctx, shopID)
	if err != nil {
		return nil, err
	}
	out := make([]OwnPlan, 0, len(rows))
	for _, r := range rows {
		o := OwnPlan{Plan: r.Plan, MadeBy: r.Latest.MadeBy, MadeAt: r.Latest.MadeAt, fits: &fitting{}}
		if o.Body, err = o.BodyOf(r.Latest); err != nil {
			return nil, err
		}
		if p, ok := s.atlas.Find(o.AtlasID); ok {
			o.Body = p.Inherit(o.Body)
		}
		out = append(out, o)
	}
	return out, nil
}

// BodyOf reads a version of the plan.
func (o OwnPlan) BodyOf(v store.PlanVersion) (atlas.Plan, error) {
	var pl atlas.Plan
	if err := json.Unmarshal(v.Body, &pl); err != nil {
		return pl, fmt.Errorf("plan %s, version %d: %w", o.PublicID, v.Version, err)
	}
	pl.ID, pl.School, pl.Version = o.PublicID, atlas.OwnSchool, v.Version
	return pl, nil
}

// OwnPlan finds one of the shop's own plans of a piece.
func (sh WithPlans) OwnPlan(atlasID, id string) (OwnPlan, bool) {
	for _, o := range sh.Own {
		if o.PublicID == id && o.AtlasID == atlasID {
			return o, true
		}
	}
	return OwnPlan{}, false
}

// AddOwn adds the shop's own plans to a piece of the atlas: those in use and that still fit it, and the one that was
// chosen.
func (sh WithPlans) AddOwn(p atlas.Piece, chosen string) atlas.Piece {
	for _, o := range sh.Own {
		if o.AtlasID != p.ID || (o.Retired && o.PublicID != chosen) || !o.Fits(p) {
			continue
		}
		p.Plans = append(slices.Clip(p.Plans), o.Body)
	}
	return p
}

// Usual tells how long a piece of a weight takes by a plan of the atlas or the shop; 0 where the plan is gone. It plays
// each plan once, for as many weights as are asked.
func (sh WithPlans) Usual() func(p atlas.Piece, plan string, m measure.Mass) float64 {
	paces := map[[2]string]func(measure.Mass) float64{}
	return func(p atlas.Piece, plan string, m measure.Mass) float64 {
		key := [2]string{p.ID, plan}
		if paces[key] == nil {
			paces[key] = func(measure.Mass) float64 { return 0 }
			if pl, ok := sh.AddOwn(p, plan).Plan(plan); ok {
				paces[key] = p.Pace(pl)
			}
		}
		return paces[key](m)
	}
}
