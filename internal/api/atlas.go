package api

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/seammap"
	"falda/internal/core/words"
	"falda/internal/paper"
	"falda/internal/store"
	"falda/internal/work/stock"
)

func (h *handlers) SearchAtlas(ctx context.Context,
	r contract.SearchAtlasRequestObject) (contract.SearchAtlasResponseObject, error) {
	question := from(r.Params.Q)
	if len(question) > 200 {
		return nil, fault.New("q", "too_long", "is longer than 200 bytes", "Shorten it.")
	}
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	out := contract.SearchAtlas200JSONResponse{}
	for _, hit := range h.work.Atlas().SearchIn(market, question) {
		out = append(out, pieceHit(h.work.Atlas(), hit, market))
	}
	return out, nil
}

// Search finds pieces, lots and names of the atlas.
func (h *handlers) Search(ctx context.Context, r contract.SearchRequestObject) (contract.SearchResponseObject, error) {
	if len(r.Params.Q) > 200 {
		return nil, fault.New("q", "too_long", "is longer than 200 bytes", "Shorten it.")
	}
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	found, err := h.work.Stock.Find(ctx, r.Params.Q)
	if err != nil {
		return nil, err
	}
	out := contract.Search200JSONResponse{Pieces: each(found.Pieces, card), Lots: each(found.Lots, h.lot),
		Atlas: []contract.PieceHit{}}
	for _, hit := range found.Atlas {
		out.Atlas = append(out.Atlas, pieceHit(h.work.Atlas(), hit, market))
	}
	return out, nil
}

func pieceHit(a *atlas.Atlas, hit atlas.Hit, market string) contract.PieceHit {
	p := hit.Piece
	out := contract.PieceHit{Id: p.ID, Name: p.NameIn(market), Species: p.Species, Kind: contract.PieceHitKind(hit.Kind),
		Part: some(hit.ID), Form: some(hit.Form), PartName: p.NameIn(market), Matched: hit.Matched, Why: hit.Why,
		Near: hit.Near, OtherMeanings: []string{}, LowG: p.Low().Grams(), TypicalG: p.Typical().Grams(),
		HighG: p.High().Grams()}
	switch hit.Kind {
	case atlas.HitMuscle:
		m, _ := p.Muscle(hit.ID)
		out.PartName, out.Why = m.NameIn(market), "muscle in it, "+hit.Why
	case atlas.HitPart:
		part, _ := p.Part(hit.ID)
		out.PartName, out.Why = part.Name, "part of it, "+hit.Why
	case atlas.HitProduct:
		out.PartName = p.ProductName(hit.ID, market)
		if out.Why = "made of it"; hit.Why != "product" {
			out.Why += ", " + hit.Why
		}
	}
	for _, m := range a.Meanings(hit.Matched) {
		what := m.Hit.Piece.Name
		if m.Hit.Kind == atlas.HitMuscle {
			muscle, _ := m.Hit.Piece.Muscle(m.Hit.ID)
			what = muscle.Name + " of the " + words.Uncapitalised(m.Hit.Piece.Name)
		}
		if m.Hit.Kind == atlas.HitProduct {
			what = m.Hit.Piece.ProductName(m.Hit.ID, "") + ", made of the " + words.Uncapitalised(m.Hit.Piece.Name)
		}
		if line := m.Market + ": " + what; !slices.Contains(out.OtherMeanings, line) {
			out.OtherMeanings = append(out.OtherMeanings, line)
		}
	}
	return out
}

func (h *handlers) ListAtlas(ctx context.Context, _ contract.ListAtlasRequestObject) (contract.ListAtlasResponseObject,
	error) {
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListAtlas200JSONResponse(each(h.work.Atlas().Pieces, func(p atlas.Piece) contract.AtlasEntry {
		codes := p.Codes
		if codes == nil {
			codes = map[string]string{}
		}
		return contract.AtlasEntry{Id: p.ID, Name: p.NameIn(market), HouseName: p.Name, Species: p.Species, Region: p.Region,
			Muscles: len(p.Muscles), BoneIn: len(p.Bones()) > 0, Plans: len(p.Plans), TypicalG: p.Typical().Grams(),
			Codes: codes}
	})), nil
}

// ListMaps gives the map of every piece at once; the rail draws a small one for each card.
func (h *handlers) ListMaps(context.Context, contract.ListMapsRequestObject) (contract.ListMapsResponseObject, error) {
	out := contract.ListMaps200JSONResponse{}
	for _, p := range h.work.Atlas().Pieces {
		m, err := h.work.Stock.ShareMap(p)
		if err != nil {
			return nil, err
		}
		out = append(out, contract.PieceMap{Id: p.ID, Map: seamMap(p, m)})
	}
	return out, nil
}

// piece finds a piece of the atlas with its map, and the market whose names the caller's shop uses.
func (h *handlers) piece(ctx context.Context, id string) (p atlas.Piece, m seammap.Map, market string, err error) {
	p, ok := h.work.Atlas().Find(id)
	if !ok {
		return p, m, "", store.ErrNotFound
	}
	if market, err = h.work.Shop.Market(ctx); err != nil {
		return p, m, "", err
	}
	m, err = h.work.Stock.ShareMap(p)
	return p, m, market, err
}

func (h *handlers) GetAtlasPiece(ctx context.Context,
	r contract.GetAtlasPieceRequestObject) (contract.GetAtlasPieceResponseObject, error) {
	p, m, market, err := h.piece(ctx, r.AtlasId)
	if err != nil {
		return nil, err
	}
	return contract.GetAtlasPiece200JSONResponse(atlasPiece(p, m, market)), nil
}

// chosenIn reads “option:choice,option:choice”.
func chosenIn(text string) map[string]string {
	out := map[string]string{}
	for _, pair := range strings.Split(text, ",") {
		if option, choice, ok := strings.Cut(pair, ":"); ok {
			out[option] = choice
		}
	}
	return out
}

func (h *handlers) GetSeamCard(ctx context.Context,
	r contract.GetSeamCardRequestObject) (contract.GetSeamCardResponseObject, error) {
	p, m, market, err := h.piece(ctx, r.AtlasId)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if plan := from(r.Params.Plan); plan != "" {
		v, err := h.work.Stock.PlanSteps(ctx, r.AtlasId,
			stock.PlanPick{PlanID: plan, Options: chosenIn(from(r.Params.Chosen))})
		if err != nil {
			return nil, err
		}
		err = paper.PlanCard(&out, p, v.Plan, m, market)
		return contract.GetSeamCard200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, err
	}
	if err := paper.SeamCard(&out, p, m, market); err != nil {
		return nil, err
	}
	return contract.GetSeamCard200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// pieceForm is a form with what it lacks in words.
func pieceForm(p atlas.Piece, f atlas.Form) contract.PieceForm {
	out := contract.PieceForm{Id: f.ID, Name: f.Name, Usual: f.Default, Note: some(f.Note), Absent: []string{}}
	for _, part := range p.Parts() {
		switch pct := f.Absent[part.ID]; {
		case pct == 100:
			out.Absent = append(out.Absent, words.Uncapitalised(part.Name))
		case pct > 0:
			out.Absent = append(out.Absent, fmt.Sprintf("%g %% of the %s", pct, words.Uncapitalised(part.Name)))
		}
	}
	return out
}

func atlasPiece(p atlas.Piece, m seammap.Map, market string) contract.AtlasPiece {
	codes := p.Codes
	if codes == nil {
		codes = map[string]string{}
	}
	return contract.AtlasPiece{Id: p.ID, Species: p.Species, Name: p.Name, MarketName: p.NameIn(market), Region: p.Region,
		Arrives: p.Arrives, Codes: codes, Names: p.Names, Basis: p.Basis, LowG: p.Low().Grams(),
		TypicalG: p.Typical().Grams(), HighG: p.High().Grams(), Skill: p.Skill, Inspect: each(p.Inspect, inspect),
		Cautions: texts(p.Cautions),
		Muscles:  each(p.Muscles, func(m atlas.Muscle) contract.Muscle { return muscle(p, m, market) }),
		Parts: each(p.Other, func(o atlas.Part) contract.Part {
			return contract.Part{Id: o.ID, Name: o.Name, Kind: contract.PartKind(o.Kind), SharePct: o.SharePct}
		}),
		Plans:    each(p.Plans, func(pl atlas.Plan) contract.Plan { return plan(p, pl) }),
		LengthMm: some(p.LengthMm), Forms: each(p.Forms, func(f atlas.Form) contract.PieceForm { return pieceForm(p, f) }),
		SeamMap: seamMap(p, m)}
}

// estimates shows scores, the best first.
func estimates(scores []eating.Score) []contract.Estimate {
	slices.SortStableFunc(scores, func(a, b eating.Score) int { return int(1000 * (b.Mean - a.Mean)) })
	return each(scores, func(s eating.Score) contract.Estimate {
		method, _ := atlas.FindMethod(s.Method)
		return contract.Estimate{Method: s.Method, Name: method.Name, Quick: method.Quick, Score: round(s.Mean, 1),
			Grade: contract.Grade(s.Grade())}
	})
}

func muscle(p atlas.Piece, m atlas.Muscle, market string) contract.Muscle {
	names := m.Names
	if names == nil {
		names = map[string][]string{}
	}
	out := contract.Muscle{Id: m.ID, Code: m.Code, Name: m.Name, MarketName: m.NameIn(market), Anatomical: m.Anatomical,
		Names: names, SharePct: m.SharePct, DressingPct: m.TrimPct, MinAgeDays: m.MinAgeDays, Grain: m.Grain.Note,
		GrainDirection: contract.MuscleGrainDirection(m.Grain.Direction), Texture: contract.MuscleTexture(m.Grain.Texture),
		Connective: contract.MuscleConnective(m.Connective), Tenderness: m.Tenderness, LeanPct: m.LeanPct,
		Forms: texts(m.Forms), Touches: texts(m.Touches), Uses: []contract.MuscleUse{},
		After: texts(m.Seam.After), Tell: m.Seam.Tell, Danger: m.Seam.Danger, Judge: m.Judge}
	out.Eating = estimates(eating.Estimates(m))
	out.Ends = each(m.Ends, func(e atlas.End) contract.MuscleEnd {
		own := estimates(eating.Estimates(atlas.Muscle{Eating: e.Eating}))
		return contract.MuscleEnd{Id: m.EndID(e), Name: e.Name, SharePct: e.SharePct, Why: e.Why, Eating: &own}
	})
	for _, pl := range p.Plans {
		for _, pr := range pl.Products {
			if pct := pr.From[m.ID]; pct > 0 {
				out.Uses = append(out.Uses, contract.MuscleUse{Plan: pl.ID, PlanName: pl.Name, Product: pr.Name, Pct: pct})
			}
		}
	}
	return out
}

func plan(p atlas.Piece, pl atlas.Plan) contract.Plan {
	return contract.Plan{Id: pl.ID, Stepped: pl.OwnSteps(), Sliced: p.Slices(pl) != nil, Own: pl.Version > 0,
		Version: pl.Version, Waste: shares(pl.Waste), Chosen: textMap(pl.Chosen), Name: pl.Name, Short: pl.ShortName(),
		Why: pl.Why, Cut: contract.PlanCut(pl.Cut), Tool: contract.PlanTool(pl.Tool), Minutes: pl.Minutes,
		Products: each(pl.Products, func(pr atlas.Product) contract.PlanProduct {
			return contract.PlanProduct{Id: pr.ID, Key: p.Key(pr), Name: pr.Name, Form: pr.Form, Cook: some(pr.Cook),
				Keeps: some(pr.Keeps), ThicknessMm: some(pr.ThicknessMm), PortionG: some(pr.PortionG), CountLow: some(pr.Count.Low),
				CountHigh: some(pr.Count.High), LeanPct: some(pr.LeanPct), From: shares(pr.From)}
		})}
}

// shares and words encode a map; an absent one as {}, never as null.
func shares(m map[string]float64) map[string]float64 {
	if m == nil {
		return map[string]float64{}
	}
	return m
}

func point(p seammap.Point) contract.Point { return contract.Point{X: round(p.X, 3), Y: round(p.Y, 3)} }

func seamMap(p atlas.Piece, m seammap.Map) contract.SeamMap {
	return contract.SeamMap{Width: p.Section.W, Height: p.Section.H, Outline: each(m.Outline, point),
		Areas: each(m.Areas, func(a seammap.Area) contract.MapArea {
			part, _ := p.Part(a.ID)
			return contract.MapArea{Part: a.ID, Name: part.Name, Kind: contract.MapAreaKind(part.Kind),
				Polygon: each(a.Polygon, point), Centre: point(a.Centre), SharePct: round(a.Share*100, 3), Room: round(a.Room, 3)}
		}),
		Seams: each(m.Seams, func(s seammap.Seam) contract.MapSeam {
			return contract.MapSeam{A: s.A, B: s.B, From: point(s.From), To: point(s.To)}
		})}
}
