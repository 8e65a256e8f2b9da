package stock

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"regexp"
	"slices"
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
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
	Shop     shop.WithPlans
	Piece    atlas.Piece
	Plans    []PlanView
	Products []pricing.PriceRow // that there are of the species, to choose from
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
	shop, err := s.shops.WithPlans(ctx)
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
	for _, o := range shop.Own {
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
	all, err := s.prices.Prices(ctx)
	for _, row := range all {
		if row.Species == p.Species {
			v.Products = append(v.Products, row)
		}
	}
	return v, err
}

var productID = regexp.MustCompile(`^[a-z][a-z0-9_]{0,39}$`)

func (s *Service) PieceToPlan(ctx context.Context, atlasID string) (shop.WithPlans, atlas.Piece, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return shop, atlas.Piece{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return shop, p, store.ErrNotFound
	}
	return shop, p.In(shop.Market), nil
}

// SavePlan keeps a plan of the shop's own: a new one where id is empty, else a new version of it; version is that of
// the plan as it was seen. What was cut by an older version keeps that one.
func (s *Service) SavePlan(ctx context.Context, atlasID, id string, pl atlas.Plan, version int) (PlanView, error) {
	shop, p, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return PlanView{}, err
	}
	if id == "" {
		id = store.NewID()
		version = 0
	} else if _, ok := shop.OwnPlan(atlasID, id); !ok {
		return PlanView{}, store.ErrNotFound
	}
	if pl, err = s.readPlan(shop, p, pl, id); err != nil {
		return PlanView{}, err
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return PlanView{}, err
	}
	pl.Version, pl.Chosen = version+1, nil
	body, err := json.Marshal(pl)
	if err != nil {
		return PlanView{}, err
	}
	v := store.PlanVersion{ShopID: shop.ID, Body: body, MadeBy: who.NameKept(), MadeAt: s.now()}
	v.MemberID = who.MemberKey()
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		c := audit.Change{Action: "plan.made", Subject: id, SubjectName: pl.Name,
			Became: map[string]any{"piece": atlasID, "version": pl.Version, "plan": planFacts(pl)}}
		if version == 0 {
			return c,
				tx.CreatePlan(ctx, &store.Plan{PublicID: id, ShopID: shop.ID, AtlasID: atlasID, Version: 1, CreatedAt: s.now()}, &v)
		}
		own, err := s.shops.OwnPlans(ctx, tx, shop.ID)
		if err != nil {
			return c, err
		}
		for _, o := range own {
			if o.PublicID == id {
				c.Action, c.Was = "plan.changed", map[string]any{"version": o.Version, "plan": planFacts(o.Body)}
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
	view.MadeBy, view.MadeAt = who.Name, &v.MadeAt
	return view, nil
}

// planFacts is a plan as the audit keeps it: without steps that only follow from its percentages.
func planFacts(pl atlas.Plan) atlas.Plan {
	if pl.ByShares {
		pl.Steps = nil
	}
	return pl
}

// RetirePlan takes a plan of the shop's own out of use, or back into it. Pieces that were to be cut by it still are.
func (s *Service) RetirePlan(ctx context.Context, atlasID, id string, retired bool, version int) error {
	shop, _, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		for _, o := range shop.Own {
			if o.PublicID == id && o.AtlasID == atlasID {
				row := o.Plan
				row.Version = version
				c := audit.Change{Action: "plan.retired", Subject: id, SubjectName: o.Body.Name,
					Was: map[string]any{"retired": !retired}, Became: map[string]any{"retired": retired}}
				return c, tx.RetirePlan(ctx, row, retired)
			}
		}
		return audit.Change{}, store.ErrNotFound
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
	shop, _, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return nil, err
	}
	own, ok := shop.OwnPlan(atlasID, id)
	if !ok {
		return nil, store.ErrNotFound
	}
	rows, err := s.store.PlanVersions(ctx, shop.ID, id)
	if err != nil {
		return nil, err
	}
	var out []PlanVersion
	for _, r := range rows {
		pl, err := own.BodyOf(r)
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

// PlanAsCut reads the plan that was kept when a piece went on the bench.
func PlanAsCut(b store.Breakdown) (atlas.Plan, error) {
	var pl atlas.Plan
	if b.Plan == nil {
		return pl, errors.New("no plan was kept")
	}
	return pl, json.Unmarshal(*b.Plan, &pl)
}

// PlanPick names a plan and what is chosen within it.
type PlanPick struct {
	PlanID  string
	Options map[string]string
}

// PickPlan gives a plan of the piece with what is chosen within it.
func PickPlan(p atlas.Piece, k PlanPick) (atlas.Plan, error) {
	pl, ok := p.Plan(k.PlanID)
	if !ok {
		return pl,
			fault.New("plan_id", "unknown", fault.Quote(k.PlanID)+" is not a plan of this piece", "Choose one of its plans.")
	}
	return p.With(pl, k.Options)
}

// WayOf gives a piece of the atlas in the shop's market and one of its ways; no way where none is named.
func (s *Service) WayOf(ctx context.Context, atlasID, planID string) (atlas.Piece, atlas.Plan, error) {
	sh, p, err := s.PieceToPlan(ctx, atlasID)
	if err != nil || planID == "" {
		return p, atlas.Plan{}, err
	}
	p = sh.AddOwn(p, planID)
	pl, err := PickPlan(p, PlanPick{PlanID: planID})
	return p, pl, err
}

// maxPlanFile bounds a plan that comes in as a file, in bytes.
const maxPlanFile = 256 << 10

// PlanFile is a plan of a piece, the atlas' or the shop's own, as a file for another shop, and what it is called.
func (s *Service) PlanFile(ctx context.Context, atlasID, id string) (file []byte, name string, err error) {
	sh, p, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return nil, "", err
	}
	p = sh.AddOwn(p, id)
	pl, ok := p.Plan(id)
	if !ok {
		return nil, "", store.ErrNotFound
	}
	house, _ := s.atlas.Find(atlasID) // names of the house, and not of a market
	file, err = atlas.PlanFile(house, pl)
	return file, strings.NewReplacer(".", "-", "_", "-").Replace(atlasID) + ".plan.yaml", err
}

// ReadPlan reads a plan of a piece from a file.
func (s *Service) ReadPlan(atlasID string, file io.Reader) (atlas.Plan, error) {
	raw, err := io.ReadAll(io.LimitReader(file, maxPlanFile+1))
	if err != nil {
		return atlas.Plan{}, err
	}
	if len(raw) > maxPlanFile {
		return atlas.Plan{}, fault.New("file", "too_large", "is more than 256 KiB", "A plan is a page or two of text.")
	}
	piece, pl, err := atlas.ReadPlanFile(raw)
	switch {
	case err != nil:
		return pl,
			fault.New("file", "not_a_plan", words.Truncate(err.Error(), 300), "Choose a file that a plan was written to.")
	case piece != atlasID:
		return pl, fault.New("file", "other_piece", "is a plan of "+fault.Quote(piece)+", another piece",
			"Open that piece's plans and bring it in there.")
	}
	pl.BasedOn = ""
	return pl, nil
}
