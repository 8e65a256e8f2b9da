package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
)

func (h *handlers) ListCarcasses(ctx context.Context, _ contract.ListCarcassesRequestObject) (contract.ListCarcassesResponseObject, error) {
	market, err := h.work.Shop.Market(ctx)
	if err != nil {
		return nil, err
	}
	a := h.work.Atlas()
	return contract.ListCarcasses200JSONResponse(each(a.Carcasses, func(c atlas.Carcass) contract.Carcass { return carcass(a, c, market) })), nil
}

func carcass(a *atlas.Atlas, c atlas.Carcass, market string) contract.Carcass {
	named := func(id string) contract.Named {
		p, _ := a.Find(id)
		return contract.Named{Id: id, Name: p.NameIn(market)}
	}
	grams := func(kg float64) float64 { return round(kg*1000, 0) }
	return contract.Carcass{Id: c.ID, Name: c.NameIn(market), HouseName: c.Name, Species: c.Species, Arrives: c.Arrives, Basis: c.Basis, LowG: grams(c.WeightKg.Low), TypicalG: grams(c.WeightKg.Typical),
		HighG: grams(c.WeightKg.High), Inspect: each(c.Inspect, inspect), Cautions: texts(c.Cautions), Divide: texts(c.Divide),
		Parts: each(c.Parts, func(p atlas.CarcassPart) contract.CarcassPart {
			return contract.CarcassPart{Piece: p.Piece, Name: named(p.Piece).Name, Count: p.Count, SharePct: p.SharePct}
		}),
		Instead: each(c.Instead, func(i atlas.Instead) contract.CarcassInstead {
			return contract.CarcassInstead{Pieces: each(i.Pieces, func(p atlas.CarcassPart) contract.Named { return named(p.Piece) }), Of: each(i.Of, named), Note: i.Note}
		}),
		Other: each(c.Other, func(o atlas.Part) contract.CarcassOther {
			return contract.CarcassOther{Id: o.ID, Name: o.Name, Kind: contract.CarcassOtherKind(o.Kind), SharePct: o.SharePct}
		}),
		Plans: each(c.Plans, func(p atlas.CarcassPlan) contract.CarcassPlan {
			return contract.CarcassPlan{Id: p.ID, Name: p.Name, Why: p.Why, Minutes: p.Minutes}
		}),
		Seasons: each(c.Season, func(s atlas.Season) contract.CarcassSeason {
			return contract.CarcassSeason{When: s.When, Sells: texts(s.Sells), Slow: texts(s.Slow), Advice: s.Do}
		})}
}
