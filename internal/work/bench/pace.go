package bench

import (
	"context"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/pace"
	"falda/internal/store"
	"falda/internal/work/shop"
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
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return PaceView{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return PaceView{}, store.ErrNotFound
	}
	v := PaceView{Weight: p.Typical()}
	rows, err := s.store.ListResults(ctx, store.ResultQuery{ShopID: sh.ID, AtlasID: atlasID}, nil, pacePieces)
	if err != nil {
		return v, err
	}
	rows = slices.DeleteFunc(rows, func(r store.ResultRow) bool { return r.Cut != atlas.CutSeams })
	boards, err := s.boardsOf(ctx, sh, rows)
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
	for _, seam := range pace.Seams(p.In(sh.Market), v.Weight) {
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

// HouseTime is how long something took the house on pieces of a kind, for a piece of a weight.
type HouseTime struct {
	Minutes float64
	N       int // pieces it was timed on
}

// HouseSteps gives what the house took for what comes off finished pieces like that of a board, by the same plan, by
// part or product, each in the proportion in which the plan says that a piece of its weight takes longer. Except names
// a member who is left out, by public id.
func (s *Service) HouseSteps(ctx context.Context, v BoardView, except string) (map[string]HouseTime, error) {
	out := map[string]HouseTime{}
	rows, err := s.store.ListResults(ctx, store.ResultQuery{ShopID: v.Shop.ID, AtlasID: v.Card.Row.Lot.AtlasID,
		PlanID: v.Breakdown.PlanID}, nil, pacePieces)
	if err != nil {
		return nil, err
	}
	rows = slices.DeleteFunc(rows, func(r store.ResultRow) bool {
		return r.CutterID == except || r.BreakdownID == v.Breakdown.ID
	})
	boards, err := s.boardsOf(ctx, v.Shop, rows)
	if err != nil {
		return nil, err
	}
	here := stepTimes(v)
	for _, b := range boards {
		if b.Board.Given != nil { // minutes that were typed say nothing of a step
			continue
		}
		there := stepTimes(b)
		for id, took := range b.Board.Took() {
			if minutes := took.Minutes(); minutes > 0 {
				if there[id] > 0 && here[id] > 0 {
					minutes *= here[id] / there[id]
				}
				t := out[id]
				t.Minutes, t.N = (t.Minutes*float64(t.N)+minutes)/float64(t.N+1), t.N+1
				out[id] = t
			}
		}
	}
	return out, nil
}

// boardsOf reads the boards of results, in their order.
func (s *Service) boardsOf(ctx context.Context, sh shop.WithPlans, rows []store.ResultRow) ([]BoardView, error) {
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.PublicID
	}
	named, err := s.store.BreakdownsNamed(ctx, sh.ID, ids)
	if err != nil {
		return nil, err
	}
	list := make([]store.Breakdown, len(ids))
	for i, id := range ids {
		list[i] = named[id]
	}
	return s.Boards(ctx, sh, list)
}

// stepTimes is how long the plan says that each thing takes that comes off the piece of a board.
func stepTimes(v BoardView) map[string]float64 {
	out := map[string]float64{}
	sizes := v.Card.Piece.Sizes(v.Board.Input())
	for _, e := range v.Expected {
		if d, ok := v.Flow.Step(e.Step); ok {
			out[e.ID] = d.Time(sizes)
		}
	}
	return out
}
