package api

import (
	"context"
	"errors"
	"math"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
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
	b, err := p.Inside()
	if errors.Is(err, body.ErrNone) {
		return nil, fault.NewConflict("", "no_inside", "The atlas does not know the inside of this piece.",
			"Look at the pieces that it is made of.")
	}
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

// worthCounting is from which share on a muscle counts as one of a slice.
const worthCounting = 0.05

func bodySlice(b *body.Body, from, to float64, shares []body.Share) (contract.BodySlice, error) {
	s, err := b.SectionAt((from + to) / 2)
	if err != nil {
		return contract.BodySlice{}, err
	}
	total := measure.Mass(0)
	for _, x := range shares {
		total += x.Mass
	}
	out := contract.BodySlice{FromMm: tenths(from), ToMm: tenths(to), G: total.Grams(),
		Muscles: b.Muscles(shares, worthCounting), Outline: ringOf(s.Outline), Parts: []contract.BodyShare{},
		Cells: each(s.Cells, func(c body.PartCell) contract.BodyCell {
			return contract.BodyCell{Part: c.Part, Ring: ringOf(c.Ring)}
		})}
	for _, x := range shares {
		out.Parts = append(out.Parts, contract.BodyShare{Part: x.Part, G: x.Mass.Grams(),
			Pct: tenths(float64(x.Mass) / float64(total) * 100)})
	}
	return out, nil
}

func ringOf(ring []body.Point) [][]float64 {
	out := [][]float64{}
	for _, q := range ring {
		out = append(out, []float64{tenths(q.X), tenths(q.Y)})
	}
	return out
}

func tenths(v float64) float64 { return math.Round(v*10) / 10 }
