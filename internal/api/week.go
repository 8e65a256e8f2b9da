package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/work/compare"
)

// BestWeek finds what a week's kill should become.
func (h *handlers) BestWeek(ctx context.Context, r contract.BestWeekRequestObject) (contract.BestWeekResponseObject,
	error) {
	b := r.Body
	v, err := h.work.Compare.Week(ctx, compare.WeekAsk{Minutes: from(b.Minutes), Saw: from(b.SawMinutes),
		Days: from(b.Days), Market: from(b.Market), Open: from(b.OpenOrders),
		AgeingLoss: from(b.AgeingLossPct),
		Heads: each(b.Heads, func(x contract.WeekHead) compare.WeekHead {
			return compare.WeekHead{Carcass: x.Carcass, Count: x.Count, Weight: from(x.Weight), Unit: from(x.WeightUnit),
				Slaughtered: from(x.SlaughteredOn)}
		})})
	if err != nil {
		return nil, err
	}
	out := contract.WeekView{Sentence: v.Sentence, Notes: texts(v.Notes), Uses: each(v.Uses, weekUse), Proven: v.Proven,
		AtMost: v.AtMost.String(), Safest: v.Safest, Pieces: v.Pieces, Seamed: v.Seamed, Season: v.Book.Season,
		Market: v.Book.Market.Name, Sales: each(v.Sales, weekSale)}
	cash := func(f float64) string {
		m, _ := measure.MoneyFromFloat(f)
		return v.Shop.Money.Round(m).String()
	}
	out.Ways = each(v.Ways, func(x compare.WeekWay) contract.WeekWay {
		return contract.WeekWay{Id: contract.WeekWayId(x.ID), Brings: x.Brings.String(), Minutes: round(x.Minutes, 1),
			SawMinutes: round(x.Saw, 1), Over: x.Over, Mean: cash(x.Tried.Mean), Worst: cash(x.Tried.Worst),
			Regret: cash(x.Tried.Regret)}
	})
	out.Worth = each(v.Worth, func(x compare.WeekWorth) contract.WeekWorth {
		return contract.WeekWorth{Carcass: x.Carcass, Name: x.Name, More: x.More.String(), PerKg: x.PerKg.String(),
			Mean: x.Mean.String(), Low: x.Low.String(), High: x.High.String()}
	})
	out.Bound, out.Made, out.MadeGain = v.Bound, each(v.Made, weekMade), v.MadeGain.String()
	out.Names, out.SpreadPct, out.SpreadN = v.FlowNames, round(v.Spread*100, 1), v.SpreadN
	out.Flows = each(v.Flows, func(f compare.WeekFlow) contract.CarcassFlow {
		return contract.CarcassFlow{From: f.From, To: f.To, WeightG: f.Mass.Grams(), Value: round(f.Value, 2)}
	})
	type division = struct {
		Carcass  string `json:"carcass"`
		Division string `json:"division"`
		Name     string `json:"name"`
	}
	out.Divisions = []division{}
	for _, x := range b.Heads {
		d := v.Divisions[x.Carcass]
		out.Divisions = append(out.Divisions, division{x.Carcass, d.ID, d.Name})
	}
	if v.Hour != nil {
		text := v.Shop.Money.Round(*v.Hour).String()
		out.HourWorth = &text
	}
	return contract.BestWeek200JSONResponse(out), nil
}

func weekUse(u compare.WeekUse) contract.WeekUse {
	out := contract.WeekUse{Carcass: u.Carcass, Piece: u.Piece, PieceName: u.PieceName, PlanId: u.Plan,
		PlanName: u.PlanName, Pieces: u.Pieces, EachG: u.Each.Grams(), Minutes: round(u.Minutes, 1), Seams: u.Seams}
	if !u.ReadyOn.IsZero() {
		out.ReadyOn = some(day(u.ReadyOn))
	}
	if len(u.Options) > 0 {
		out.Options = &u.Options
	}
	return out
}

func weekMade(m compare.WeekMade) contract.WeekMade {
	type from = struct {
		Name    string  `json:"name"`
		WeightG float64 `json:"weight_g"`
	}
	return contract.WeekMade{Recipe: m.Recipe, MeatG: m.Meat.Grams(), SoldG: m.Sold.Grams(), Pieces: m.Pieces,
		Value: m.Value.String(), From: each(m.From, func(f compare.WeekFrom) from { return from{f.Name, f.Mass.Grams()} })}
}

func weekSale(s compare.WeekSale) contract.WeekSale {
	out := contract.WeekSale{Key: s.Product, Name: s.Name, MadeG: s.Made.Grams(), FullG: s.Full.Grams(),
		FallbackG: s.Fallback.Grams(), Value: s.Value.String()}
	if s.Price.Per != "" {
		out.Price, out.PricePer = some(priceText(s.Price)), some(string(s.Price.Per))
	}
	if s.Cap != nil {
		g := s.Cap.Grams()
		out.CapG = &g
		in := s.Stock.Grams()
		out.StockG = &in
	}
	if s.Kilo != nil {
		text := s.Kilo.String()
		out.KiloWorth = &text
	}
	return out
}
