package api

import (
	"context"
	"errors"
	"math"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/straight"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/judge"
	"falda/internal/work/stock"
)

// usualSlices is how many slices of a piece are shown unless another number is asked for.
const usualSlices = 12

// GetBody gives the inside of a piece, cut into slices.
func (h *handlers) GetBody(ctx context.Context, r contract.GetBodyRequestObject) (contract.GetBodyResponseObject,
	error) {
	p, ok := h.work.Atlas().Find(r.AtlasId)
	if !ok {
		return nil, store.ErrNotFound
	}
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	b, err := insideOf(p)
	if err != nil {
		return nil, err
	}
	at, err := cutsOf(b, r.Params)
	if err != nil {
		return nil, err
	}
	out := contract.Body{AtlasId: p.ID, Name: p.NameIn(market), From: p.Body.Axis.From, To: p.Body.Axis.To,
		LengthMm: b.LengthMm, Lies: p.Body.Axis.Lies, Half: p.Body.Half, WeightG: b.Weight.Grams(), Basis: "from memory",
		Parts: bodyParts(p, b, market), Slices: []contract.BodySlice{}, Seams: []contract.BodySeam{},
		Facts: each(p.Body.Facts, func(f body.Fact) contract.BodyFact {
			return contract.BodyFact{Text: f.Text, Basis: f.Basis}
		})}
	edges := append(append([]float64{0}, at...), b.LengthMm)
	for i, shares := range b.Cut(at) {
		slice, err := bodySlice(b, edges[i], edges[i+1], shares)
		if err != nil {
			return nil, err
		}
		out.Slices = append(out.Slices, slice)
	}
	seams, err := b.Seams()
	if err != nil {
		return nil, err
	}
	for _, s := range seams {
		out.Seams = append(out.Seams,
			contract.BodySeam{A: s.A, B: s.B, Cm2: tenths(s.AreaCm2), FromMm: tenths(s.FromMm), ToMm: tenths(s.ToMm)})
	}
	return contract.GetBody200JSONResponse(out), nil
}

// cutsOf is where the slices that are asked for are cut.
func cutsOf(b *body.Body, p contract.GetBodyParams) ([]float64, error) {
	n := usualSlices
	if p.Slices != nil {
		n = *p.Slices
	}
	thick := b.LengthMm / float64(n)
	if p.ThickMm != nil {
		thick = *p.ThickMm
	}
	if !(thick >= 5) || n < 1 || n > body.Slices {
		return nil,
			fault.New("thick_mm", "out_of_range", "makes slices thinner than 5 mm", "Ask for fewer or thicker slices.")
	}
	var at []float64
	for x := thick; x < b.LengthMm-0.5; x += thick {
		at = append(at, x)
	}
	return at, nil
}

func bodyParts(p atlas.Piece, b *body.Body, market string) []contract.BodyPart {
	out := []contract.BodyPart{}
	for _, part := range b.Parts {
		any, _ := p.Part(part.ID)
		x := contract.BodyPart{Id: part.ID, Name: any.Name, Kind: any.Kind, G: part.Mass.Grams()}
		if m, ok := p.Muscle(part.ID); ok {
			x.Name, x.Code, x.Tenderness = m.NameIn(market), m.Code, m.Tenderness
		}
		if run, ok := b.RunOf(part.ID); ok {
			from, to := tenths(run.FromMm), tenths(run.ToMm)
			x.FromMm, x.ToMm = &from, &to
		}
		out = append(out, x)
	}
	return out
}

func bodySlice(b *body.Body, from, to float64, shares []body.Share) (contract.BodySlice, error) {
	s, err := b.SectionAt((from + to) / 2)
	if err != nil {
		return contract.BodySlice{}, err
	}
	total := measure.Mass(0)
	for _, x := range shares {
		total += x.Mass
	}
	return sliceOf(from, to, b.Muscles(shares, straight.Worth), total, shares, s), nil
}

func sliceOf(from, to float64, muscles int, total measure.Mass, shares []body.Share,
	s body.Section) contract.BodySlice {
	out := contract.BodySlice{FromMm: tenths(from), ToMm: tenths(to), G: total.Grams(), Muscles: muscles,
		Outline: ringOf(s.Outline), Parts: []contract.BodyShare{},
		Cells: each(s.Cells, func(c body.PartCell) contract.BodyCell {
			return contract.BodyCell{Part: c.Part, Ring: ringOf(c.Ring)}
		})}
	for _, x := range shares {
		out.Parts = append(out.Parts, contract.BodyShare{Part: x.Part, G: x.Mass.Grams(),
			Pct: tenths(float64(x.Mass) / float64(total) * 100)})
	}
	return out
}

// GetStraight gives what a way of cutting straight through gives, slice by slice.
func (h *handlers) GetStraight(ctx context.Context, r contract.GetStraightRequestObject) (
	contract.GetStraightResponseObject, error) {
	ask := judge.StraightAsk{AtlasID: r.AtlasId, Plan: stock.PlanPick{PlanID: r.Params.PlanId}}
	if r.Params.BreakdownId != nil {
		ask.Breakdown = *r.Params.BreakdownId
	}
	v, err := h.work.Judge.Straight(ctx, ask)
	if err != nil {
		return nil, err
	}
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	axis := v.Piece.Body.Axis
	out := contract.Straight{From: axis.From, To: axis.To, LengthMm: v.Body.LengthMm, Half: v.Piece.Body.Half,
		Measured: v.Measured, Says: words.Straight(v.Piece, v.Reading), Parts: bodyParts(v.Piece, v.Body, market),
		Products: each(v.Reading.Products, straightProduct), Slices: each(v.Reading.Slices, straightSlice)}
	if mm := tenths(v.Reading.StopMm); mm > 0 {
		out.StopMm = &mm
	}
	return contract.GetStraight200JSONResponse(out), nil
}

// tubeSections and tubePoints are how fine a block is given: fine enough for a tablet.
const tubeSections, tubePoints = 48, 40

// GetBlock gives a piece in space.
func (h *handlers) GetBlock(ctx context.Context, r contract.GetBlockRequestObject) (contract.GetBlockResponseObject,
	error) {
	p, pl, err := h.work.Stock.WayOf(ctx, r.AtlasId, from(r.Params.PlanId))
	if err != nil {
		return nil, err
	}
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	b, err := insideOf(p)
	if err != nil {
		return nil, err
	}
	tubes, err := b.Tubes(tubeSections, tubePoints)
	if err != nil {
		return nil, err
	}
	out := contract.Block3D{Name: p.NameIn(market), From: p.Body.Axis.From, To: p.Body.Axis.To, LengthMm: b.LengthMm,
		Half: p.Body.Half, WeightG: b.Weight.Grams(), Points: tubePoints, Parts: bodyParts(p, b, market),
		Tubes: each(tubes, tubeOf), Order: []contract.BlockStep{}}
	order, by := p.Apart(pl)
	for _, off := range order {
		name := "What is left"
		if off.Step.ID != "" {
			name = words.Step(p, by, off.Step)
		}
		out.Order = append(out.Order, contract.BlockStep{Name: name, Parts: off.Parts})
	}
	return contract.GetBlock200JSONResponse(out), nil
}

func tubeOf(t body.Tube) contract.BlockTube {
	out := contract.BlockTube{Part: t.Part, Mm: each(t.Mm, tenths), Rings: [][]int{}}
	for _, ring := range t.Rings {
		var flat []int
		for _, q := range ring {
			flat = append(flat, int(math.Round(q.X*10)), int(math.Round(q.Y*10)))
		}
		out.Rings = append(out.Rings, flat)
	}
	return out
}

// insideOf is the inside of a piece, or says that nothing is known of it.
func insideOf(p atlas.Piece) (*body.Body, error) {
	b, err := p.Inside()
	if errors.Is(err, body.ErrNone) {
		return nil, fault.NewConflict("", "no_inside", "The atlas does not know the inside of this piece.",
			"Look at the pieces that it is made of.")
	}
	return b, err
}

func straightProduct(pr straight.Product) contract.StraightProduct {
	out := contract.StraightProduct{Id: pr.ID, Name: pr.Name, Slices: pr.N, Pieces: pr.Pieces, Hard: pr.Hard,
		Many: pr.Many, Low: pr.Low, LightestG: pr.Lightest.Grams(), HeaviestG: pr.Heavy.Grams()}
	out.Grade, out.Score = graded(pr.Eats)
	return out
}

func straightSlice(s straight.Slice) contract.StraightSlice {
	out := contract.StraightSlice{Slice: sliceOf(s.FromMm, s.ToMm, s.Muscles, s.Mass, s.Parts, s.Section),
		Product: s.Product, Hard: s.Hard(), Falls: s.Falls, Below: append([]string{}, s.Below...)}
	if s.Worst != "" {
		out.Worst = &s.Worst
	}
	out.Grade, out.Score = graded(s.Eats)
	return out
}

// graded is a score to a tenth with its grade; nothing where nothing is known.
func graded(s *eating.Score) (*contract.Grade, *float64) {
	if s == nil {
		return nil, nil
	}
	grade, score := contract.Grade(s.Grade()), tenths(s.Mean)
	return &grade, &score
}

func ringOf(ring []body.Point) [][]float64 {
	out := [][]float64{}
	for _, q := range ring {
		out = append(out, []float64{tenths(q.X), tenths(q.Y)})
	}
	return out
}

func tenths(v float64) float64 { return math.Round(v*10) / 10 }
