package bench

import (
	"context"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/pace"
	"falda/internal/store"
)

// pacePieces is from how many finished pieces a pace is taken at most: the latest.
const pacePieces = 40

// SeamPace is a seam of a piece with how long it takes.
type SeamPace struct {
	pace.Seam
	House pace.Pace
	Who   pace.Pace // of the cutter asked for
}

// PaceCutter is someone whose pace is known.
type PaceCutter struct {
	ID, Name string
	N        int // pieces
}

// PaceView is how long the seams of a piece take.
type PaceView struct {
	Weight  measure.Mass // of the piece that it is told for: a usual one
	Pieces  int          // finished pieces behind the house's pace
	Cutters []PaceCutter
	Cutter  string // whose is told beside the house's; empty for nobody's
	Seams   []SeamPace
}

// Pace gives how long the seams of a piece take by the atlas and in the house, drawn towards the atlas as long as few
// were timed; beside it the pace of one cutter, by public id, drawn towards the house's.
func (s *Service) Pace(ctx context.Context, atlasID, cutter string) (PaceView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return PaceView{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return PaceView{}, store.ErrNotFound
	}
	v := PaceView{Weight: p.Typical()}
	rows, err := s.store.ListResults(ctx, store.ResultQuery{ShopID: shop.ID, AtlasID: atlasID}, nil, pacePieces)
	if err != nil {
		return v, err
	}
	rows = slices.DeleteFunc(rows, func(r store.ResultRow) bool { return r.Cut != atlas.CutSeams })
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.PublicID
	}
	named, err := s.store.BreakdownsNamed(ctx, shop.ID, ids)
	if err != nil {
		return v, err
	}
	var list []store.Breakdown
	for _, id := range ids {
		list = append(list, named[id])
	}
	boards, err := s.Boards(ctx, shop, list)
	if err != nil {
		return v, err
	}
	house, who := map[string][]float64{}, map[string][]float64{}
	for i, b := range boards {
		timed := ratios(b)
		if len(timed) == 0 {
			continue
		}
		v.Pieces++
		v.cut(rows[i])
		for id, r := range timed {
			house[id] = append(house[id], r)
			if cutter != "" && rows[i].CutterID == cutter {
				who[id] = append(who[id], r)
			}
		}
	}
	if slices.ContainsFunc(v.Cutters, func(c PaceCutter) bool { return c.ID == cutter }) {
		v.Cutter = cutter
	}
	for _, seam := range pace.Seams(p.In(shop.Market), v.Weight) {
		x := SeamPace{Seam: seam, House: pace.Of(house[seam.Muscle.ID], 1)}
		x.Who = pace.Of(who[seam.Muscle.ID], x.House.Ratio)
		v.Seams = append(v.Seams, x)
	}
	return v, nil
}

// ratios says of each muscle that was taken off a finished piece by itself how long that took against what the atlas
// says of a piece of its weight. A time that was typed says nothing of a seam.
func ratios(b BoardView) map[string]float64 {
	out := map[string]float64{}
	if b.Board.Given != nil {
		return out
	}
	took := b.Board.Took()
	for _, s := range pace.Seams(b.Card.Piece, b.Board.Input()) {
		if minutes := took[s.Muscle.ID].Minutes(); minutes > 0 && s.Minutes > 0 {
			out[s.Muscle.ID] = minutes / s.Minutes
		}
	}
	return out
}

// cut counts a piece for its cutter.
func (v *PaceView) cut(r store.ResultRow) {
	if r.CutterID == "" {
		return
	}
	at := slices.IndexFunc(v.Cutters, func(c PaceCutter) bool { return c.ID == r.CutterID })
	if at < 0 {
		v.Cutters = append(v.Cutters, PaceCutter{ID: r.CutterID, Name: r.Cutter})
		at = len(v.Cutters) - 1
	}
	v.Cutters[at].N++
}
