package work

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/words"
	"falda/internal/store"
)

// Bounds of a shop's own plan.
const (
	maxProducts    = 40
	maxPlanMinutes = 600
	maxPlanName    = 120
	maxPlanWhy     = 600
	maxThickness   = 400 // mm
	maxPortion     = 2e4 // g
)

// ownPlan is a shop's own plan as it now is.
type ownPlan struct {
	store.Plan
	Body   atlas.Plan
	MadeBy string
	MadeAt time.Time
}

// ownPlans reads a shop's own plans.
func (s *Service) ownPlans(ctx context.Context, st *store.Store, shopID int64) ([]ownPlan, error) {
	rows, err := st.Plans(ctx, shopID)
	if err != nil {
		return nil, err
	}
	out := make([]ownPlan, 0, len(rows))
	for _, r := range rows {
		o := ownPlan{Plan: r.Plan, MadeBy: r.Latest.MadeBy, MadeAt: r.Latest.MadeAt}
		if o.Body, err = o.version(r.Latest); err != nil {
			return nil, err
		}
		out = append(out, o)
	}
	return out, nil
}

// version reads a version of the plan.
func (o ownPlan) version(v store.PlanVersion) (atlas.Plan, error) {
	var pl atlas.Plan
	if err := json.Unmarshal(v.Body, &pl); err != nil {
		return pl, fmt.Errorf("plan %s, version %d: %w", o.PublicID, v.Version, err)
	}
	pl.ID, pl.School, pl.Version = o.PublicID, atlas.OwnSchool, v.Version
	return pl, nil
}

// ownPlan finds one of the shop's own plans of a piece.
func (sh ShopWithPlans) ownPlan(atlasID, id string) (ownPlan, bool) {
	for _, o := range sh.own {
		if o.PublicID == id && o.AtlasID == atlasID {
			return o, true
		}
	}
	return ownPlan{}, false
}

// withOwn adds the shop's own plans to a piece of the atlas: those in use and that still fit it, and the one that was chosen.
func (sh ShopWithPlans) withOwn(p atlas.Piece, chosen string) atlas.Piece {
	for _, o := range sh.own {
		if o.AtlasID != p.ID || (o.Retired && o.PublicID != chosen) || len(atlas.ValidatePlan(p, o.Body)) > 0 {
			continue
		}
		p.Plans = append(slices.Clip(p.Plans), o.Body)
	}
	return p
}

// PlanView is a plan on a piece, with what can be chosen within it.
type PlanView struct {
	Plan    atlas.Plan
	Options []atlas.Option
	Natural float64 // thickness of the fat cover on the piece, in mm; 0 where none can be left
	Left    float64 // how thick the plan leaves it, in mm
	Retired bool
	Faults  []string // why an own plan does not fit the piece any more
	MadeBy  string
	MadeAt  *time.Time
}

// PlansView is every way of cutting a piece.
type PlansView struct {
	Shop     ShopWithPlans
	Piece    atlas.Piece
	Plans    []PlanView
	Products []PriceRow // that there are of the species, to choose from
}

func planView(p atlas.Piece, pl atlas.Plan) PlanView {
	v := PlanView{Plan: pl, Options: p.OptionsOf(pl.ID)}
	if natural, left, ok := p.CoverOf(pl); ok {
		v.Natural, v.Left = natural, left
	}
	return v
}

// Plans lists the ways of cutting a piece of the atlas: the atlas' own, then the shop's.
func (s *Service) Plans(ctx context.Context, atlasID string) (PlansView, error) {
	shop, err := s.withPlans(ctx)
	if err != nil {
		return PlansView{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return PlansView{}, store.ErrNotFound
	}
	p = p.In(shop.Market)
	v := PlansView{Shop: shop, Piece: p}
	for _, pl := range p.Plans {
		v.Plans = append(v.Plans, planView(p, pl))
	}
	for _, o := range shop.own {
		if o.AtlasID != atlasID {
			continue
		}
		made := o.MadeAt
		pv := planView(p, o.Body)
		pv.Retired, pv.MadeBy, pv.MadeAt = o.Retired, o.MadeBy, &made
		for _, f := range atlas.ValidatePlan(p, o.Body) {
			pv.Faults = append(pv.Faults, f.Error())
		}
		v.Plans = append(v.Plans, pv)
	}
	all, err := s.Prices(ctx)
	for _, row := range all {
		if row.Species == p.Species {
			v.Products = append(v.Products, row)
		}
	}
	return v, err
}

var productID = regexp.MustCompile(`^[a-z][a-z0-9_]{0,39}$`)

func (s *Service) planPiece(ctx context.Context, atlasID string) (ShopWithPlans, atlas.Piece, error) {
	shop, err := s.withPlans(ctx)
	if err != nil {
		return shop, atlas.Piece{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return shop, p, store.ErrNotFound
	}
	return shop, p.In(shop.Market), nil
}

// SavePlan keeps a plan of the shop's own: a new one where id is empty, else a new version of it; version is that of the plan as it
// was seen. What was cut by an older version keeps that one.
func (s *Service) SavePlan(ctx context.Context, atlasID, id string, pl atlas.Plan, version int) (PlanView, error) {
	shop, p, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return PlanView{}, err
	}
	if id == "" {
		id = store.NewID()
		version = 0
	} else if _, ok := shop.ownPlan(atlasID, id); !ok {
		return PlanView{}, store.ErrNotFound
	}
	if pl, err = s.readPlan(shop, p, pl, id); err != nil {
		return PlanView{}, err
	}
	who, err := caller(ctx)
	if err != nil {
		return PlanView{}, err
	}
	pl.Version, pl.Chosen = version+1, nil
	body, err := json.Marshal(pl)
	if err != nil {
		return PlanView{}, err
	}
	v := store.PlanVersion{ShopID: shop.ID, Body: body, MadeBy: words.Truncate(who.Name, 80), MadeAt: s.now()}
	if who.MemberID != 0 {
		v.MemberID = &who.MemberID
	}
	err = s.recorded(ctx, func(tx *store.Store) (change, error) {
		c := change{Action: "plan.made", Subject: id, SubjectName: pl.Name, Became: map[string]any{"piece": atlasID, "version": pl.Version, "plan": pl}}
		if version == 0 {
			return c, tx.CreatePlan(ctx, &store.Plan{PublicID: id, ShopID: shop.ID, AtlasID: atlasID, Version: 1, CreatedAt: s.now()}, &v)
		}
		own, err := s.ownPlans(ctx, tx, shop.ID)
		if err != nil {
			return c, err
		}
		for _, o := range own {
			if o.PublicID == id {
				c.Action, c.Was = "plan.changed", map[string]any{"version": o.Version, "plan": o.Body}
				o.Plan.Version = version
				return c, tx.ChangePlan(ctx, o.Plan, &v)
			}
		}
		return c, store.ErrNotFound
	})
	if err != nil {
		return PlanView{}, err
	}
	view := planView(p, pl)
	view.MadeBy, view.MadeAt = v.MadeBy, &v.MadeAt
	return view, nil
}

// RetirePlan takes a plan of the shop's own out of use, or back into it. Pieces that were to be cut by it still are.
func (s *Service) RetirePlan(ctx context.Context, atlasID, id string, retired bool, version int) error {
	shop, _, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return err
	}
	return s.recorded(ctx, func(tx *store.Store) (change, error) {
		for _, o := range shop.own {
			if o.PublicID == id && o.AtlasID == atlasID {
				row := o.Plan
				row.Version = version
				c := change{Action: "plan.retired", Subject: id, SubjectName: o.Body.Name, Was: map[string]any{"retired": !retired}, Became: map[string]any{"retired": retired}}
				return c, tx.RetirePlan(ctx, row, retired)
			}
		}
		return change{}, store.ErrNotFound
	})
}

// PlanVersion is a plan as it once was.
type PlanVersion struct {
	Plan   atlas.Plan
	MadeBy string
	MadeAt time.Time
}

// PlanVersions lists what a plan of the shop's own was, newest first.
func (s *Service) PlanVersions(ctx context.Context, atlasID, id string) ([]PlanVersion, error) {
	shop, _, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return nil, err
	}
	own, ok := shop.ownPlan(atlasID, id)
	if !ok {
		return nil, store.ErrNotFound
	}
	rows, err := s.store.PlanVersions(ctx, shop.ID, id)
	if err != nil {
		return nil, err
	}
	var out []PlanVersion
	for _, r := range rows {
		pl, err := own.version(r)
		if err != nil {
			return nil, err
		}
		out = append(out, PlanVersion{pl, r.MadeBy, r.MadeAt})
	}
	return out, nil
}

// Forms lists the forms in which products of the atlas are sold.
func (s *Service) Forms() []string {
	var out []string
	for _, p := range s.atlas.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				if !slices.Contains(out, pr.Form) {
					out = append(out, pr.Form)
				}
			}
		}
	}
	slices.Sort(out)
	return out
}

// planAsCut reads the plan that was kept when a piece went on the bench.
func planAsCut(b store.Breakdown) (atlas.Plan, error) {
	var pl atlas.Plan
	if b.Plan == nil {
		return pl, errors.New("no plan was kept")
	}
	return pl, json.Unmarshal(*b.Plan, &pl)
}
