package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/people"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

func (h *handlers) shop(v shop.ShopView) contract.Shop {
	s := v.Shop
	return contract.Shop{Id: s.PublicID, Name: s.Name, Demo: s.Demo, Address: s.Address, TrimByUse: s.TrimByUse,
		Market: s.Market, Currency: s.Currency, Decimals: s.Money.Places(), TimeZone: s.TimeZone, Today: day(v.Today),
		WeightUnit: contract.ShopWeightUnit(s.WeightUnit), LabourRate: s.Rates.LabourPerHour.Full(),
		PackagingPerKg: s.Rates.PackagingPerKg.Full(), DiscardPerKg: s.Rates.DiscardPerKg.Full(), LabourByRole: roleRates(s),
		Seasons: each(s.Seasons, season), LossLimitKnifePct: s.LossLimitKnifePct, LossLimitSawPct: s.LossLimitSawPct,
		DivisionG: measure.Mass(s.DivisionMg).Grams(), IdleMinutes: s.IdleMinutes, NextLotNumber: v.NextLotNumber,
		Suppliers: texts(v.Suppliers), ScaleCheckDays: s.ScaleCheckDays,
		Benches: each(v.Benches, func(b store.Bench) contract.Bench {
			out := h.bench(b)
			state := scaleState(v.Scales[b.PublicID])
			out.ScaleCheck = &state
			return out
		}), LotPrefix: s.LotPrefix, Version: s.Version,
		CurrencyFixed: v.CurrencyFixed, Markets: h.work.Shop.Markets(),
		Roles:  each(shop.Roles, func(r shop.Role) contract.Named { return contract.Named{Id: r.ID, Name: r.Name} }),
		Words:  wordsOf(),
		Scopes: each(people.Scopes, func(s people.Scope) contract.Named { return contract.Named{Id: s.ID, Name: s.Name} })}
}

// roleRates shows rates by role.
func roleRates(shop shop.Shop) map[string]string {
	out := map[string]string{}
	for role, amount := range shop.LabourByRole {
		out[role] = shop.Shown(amount)
	}
	return out
}

func (h *handlers) bench(b store.Bench) contract.Bench {
	return contract.Bench{Id: b.PublicID, Name: b.Name, HasScale: h.scales(b) != nil, HasProbe: some(h.probeOf(b) != nil)}
}

func textMap(m map[string]string) map[string]string {
	if m == nil {
		return map[string]string{}
	}
	return m
}

func wordsOf() map[string][]contract.Named {
	out := map[string][]contract.Named{}
	for field, list := range stock.Words {
		out[field] = each(list, func(w stock.Word) contract.Named { return contract.Named{Id: w.ID, Name: w.Name} })
	}
	return out
}

func (h *handlers) GetShop(ctx context.Context, _ contract.GetShopRequestObject) (contract.GetShopResponseObject,
	error) {
	v, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return nil, err
	}
	return contract.GetShop200JSONResponse(h.shop(v)), nil
}
