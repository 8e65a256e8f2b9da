package stock

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"falda/internal/core/atlas"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// MovedPlan is a plan of a shop's own that was turned into steps.
type MovedPlan struct {
	Shop, Piece, Plan string // names
	Version           int    // the new one
	Steps             int
	Left              string // why it was left as it was; empty where it was turned
}

// MovePlans turns every plan of the shops' own that is still one of percentages into steps, by the one rule of the
// atlas, as a new version made by the program; the versions before stay. A plan that fits its piece no more is left as
// it is, and the list says why. Doing it again changes nothing.
func (s *Service) MovePlans(ctx context.Context) ([]MovedPlan, error) {
	rows, err := s.store.Shops(ctx)
	if err != nil {
		return nil, err
	}
	var out []MovedPlan
	for _, row := range rows {
		sh, err := s.shops.For(ctx, row)
		if err != nil {
			return out, err
		}
		as := audit.As(ctx,
			audit.Caller{ShopID: row.ID, Shop: row.PublicID, Name: "Falda", Role: "program", Via: audit.ViaProgram})
		for _, own := range sh.Own {
			if len(own.Body.Steps) > 0 {
				continue
			}
			moved, err := s.movePlan(as, sh, own)
			if errors.Is(err, store.ErrConflict) { // somebody, or another program, changed it meanwhile
				continue
			}
			if err != nil {
				return out, fmt.Errorf("plan %s: %w", own.PublicID, err)
			}
			out = append(out, moved)
		}
	}
	return out, nil
}

func (s *Service) movePlan(ctx context.Context, sh shop.WithPlans, own shop.OwnPlan) (MovedPlan, error) {
	out := MovedPlan{Shop: sh.Name, Piece: own.AtlasID, Plan: own.Body.Name, Version: own.Version}
	p, ok := s.atlas.Find(own.AtlasID)
	if !ok {
		out.Left = "the atlas has no piece " + own.AtlasID
		return out, nil
	}
	if faults := atlas.ValidatePlan(p, own.Body); len(faults) > 0 {
		out.Left = faults[0].Error()
		return out, nil
	}
	pl := p.InSteps(own.Body)
	pl.Version = own.Version + 1
	if faults := atlas.ValidatePlan(p, pl); len(faults) > 0 { // cannot be: the rule gives the percentages back
		return out, faults[0]
	}
	body, err := json.Marshal(pl)
	if err != nil {
		return out, err
	}
	out.Version, out.Steps = pl.Version, len(pl.Steps)
	v := store.PlanVersion{ShopID: sh.ID, Body: body, MadeBy: "Falda", MadeAt: s.now()}
	return out, s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		c := audit.Change{Action: "plan.changed", Subject: own.PublicID, SubjectName: pl.Name,
			Was:    map[string]any{"version": own.Version, "plan": planFacts(own.Body)},
			Became: map[string]any{"piece": own.AtlasID, "version": pl.Version, "plan": planFacts(pl), "steps": len(pl.Steps)}}
		return c, tx.ChangePlan(ctx, own.Plan, &v)
	})
}
