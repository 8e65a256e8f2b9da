package dayplan

import (
	"context"

	"falda/internal/core/measure"
	"falda/internal/core/pace"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// paces is how fast the house and its cutters are against what plans say.
type paces struct {
	house  map[string]pace.Pace // by piece of the atlas
	cutter map[string]pace.Pace // by public id, against the house
}

const (
	paceDays   = 180
	pacePieces = 500 // the latest
)

// paces measures finished pieces: the house's minutes against the plan's, a cutter's against the house's; each drawn
// towards what it is held against while few were timed.
func (s *Service) paces(ctx context.Context, sh shop.WithPlans) (paces, error) {
	out := paces{house: map[string]pace.Pace{}, cutter: map[string]pace.Pace{}}
	rows, err := s.store.ListResults(ctx, store.ResultQuery{ShopID: sh.ID,
		From: sh.Day(s.now()).AddDate(0, 0, -paceDays)}, nil, pacePieces)
	if err != nil {
		return out, err
	}
	expected := sh.Usual()
	ratio := make([]float64, len(rows))
	byPiece, byCutter := map[string][]float64{}, map[string][]float64{}
	for i, r := range rows {
		p, ok := s.atlas.Find(r.AtlasID)
		if !ok {
			continue
		}
		if usual := expected(p, r.PlanID, measure.Mass(r.InputMg)); usual > 0 && r.Minutes > 0 {
			ratio[i] = r.Minutes / usual
			byPiece[r.AtlasID] = append(byPiece[r.AtlasID], ratio[i])
		}
	}
	for id, list := range byPiece {
		out.house[id] = pace.Of(list, 1)
	}
	for i, r := range rows {
		if r.CutterID != "" && ratio[i] > 0 {
			byCutter[r.CutterID] = append(byCutter[r.CutterID], ratio[i]/out.house[r.AtlasID].Ratio)
		}
	}
	for id, list := range byCutter {
		out.cutter[id] = pace.Of(list, 1)
	}
	return out, nil
}

// of is by how much longer something takes a cutter than its plan says; nobody's pace is the house's.
func (p paces) of(atlasID, cutter string) float64 {
	f := 1.0
	if x, ok := p.house[atlasID]; ok {
		f = x.Ratio
	}
	if x, ok := p.cutter[cutter]; ok {
		f *= x.Ratio
	}
	return f
}
