package api

import (
	"context"
	"strconv"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	core "falda/internal/core/counter"
	"falda/internal/core/measure"
	tray "falda/internal/work/counter"
	"falda/internal/work/judge"
	"falda/internal/work/labels"
)

func itoa(n int) string { return strconv.Itoa(n) }

// counterThing is a product in a counter, or one that found no tray.
func counterThing(v tray.View, i core.Item) contract.CounterThing {
	out := contract.CounterThing{Key: i.Key, Name: i.Name, MenuName: some(v.Menu[i.Key]), Species: i.Species, Form: i.Form,
		Bony: some(i.Bony), Kg: round(i.Kg, 3), DayKg: round(i.DayKg, 3), AtCounterG: some(v.At[i.Key].Grams())}
	if p, ok := v.Prices[i.Key]; ok {
		out.Price, out.PricePer = some(priceText(p)), some(string(p.Per))
	}
	return out
}

func (h *handlers) counterNow(ctx context.Context) (contract.CounterView, error) {
	v, err := h.work.Counter.Counter(ctx)
	if err != nil {
		return contract.CounterView{}, err
	}
	r := v.Room
	out := contract.CounterView{Screen: v.Screen, Slots: v.Layout.Slots, Room: contract.CounterRoom{LengthCm: r.Length,
		DepthCm: r.Depth, TrayWideCm: r.TrayWide, TrayDeepCm: r.TrayDeep, TrayKg: r.TrayKg, LeastKg: r.LeastKg,
		MostTrays: r.MostTrays, KeepApart: r.KeepApart, Freely: r.Freely, Version: v.Version}}
	out.Trays = each(v.Layout.Trays, func(t core.Tray) contract.CounterTray {
		return contract.CounterTray{XCm: t.X, YCm: t.Y, First: t.First, Things: each(t.Lain,
			func(l core.Lain) contract.CounterThing {
				x := counterThing(v, l.Item)
				x.Turned = some(l.Turned)
				return x
			})}
	})
	out.Left = each(v.Layout.Left, func(l core.LeftOut) contract.CounterThing {
		x := counterThing(v, l.Item)
		x.Why = some(contract.CounterThingWhy(l.Why))
		return x
	})
	return out, nil
}

// GetCounter gives the counter as it should stand today.
func (h *handlers) GetCounter(ctx context.Context,
	_ contract.GetCounterRequestObject) (contract.GetCounterResponseObject, error) {
	out, err := h.counterNow(ctx)
	return contract.GetCounter200JSONResponse(out), err
}

// SetCounter says how large the counter is.
func (h *handlers) SetCounter(ctx context.Context,
	r contract.SetCounterRequestObject) (contract.SetCounterResponseObject, error) {
	b := r.Body
	err := h.work.Counter.Save(ctx, core.Room{Length: b.LengthCm, Depth: b.DepthCm, TrayWide: b.TrayWideCm,
		TrayDeep: b.TrayDeepCm, TrayKg: b.TrayKg, LeastKg: b.LeastKg, MostTrays: b.MostTrays, KeepApart: b.KeepApart,
		Freely: b.Freely}, b.Version)
	if err != nil {
		return nil, err
	}
	out, err := h.counterNow(ctx)
	return contract.SetCounter200JSONResponse(out), err
}

// HangScreen makes the link of the page above the counter, or takes it down.
func (h *handlers) HangScreen(ctx context.Context,
	r contract.HangScreenRequestObject) (contract.HangScreenResponseObject, error) {
	link, err := h.work.Counter.Hang(ctx, r.Body.On, r.Body.Version)
	if err != nil {
		return nil, err
	}
	out, err := h.counterNow(ctx)
	if link != "" {
		out.Link = some(requestInfoOf(ctx).origin + "/above/" + link)
	}
	return contract.HangScreen200JSONResponse(out), err
}

// GetScreen gives what hangs above a counter to whoever has its link.
func (h *handlers) GetScreen(ctx context.Context, r contract.GetScreenRequestObject) (contract.GetScreenResponseObject,
	error) {
	above, ctx, err := h.work.Counter.Above(ctx, r.ScreenLink)
	if err != nil {
		return nil, err
	}
	out := contract.CounterScreen{Shop: above.Shop.Name, Currency: above.Shop.Currency}
	out.Things = each(above.Tickets, func(t labels.Ticket) contract.ScreenThing {
		off := t.Off
		t.Off = 0 // it stands beside the price
		p := h.ticket(ctx, above.Shop, t)
		return contract.ScreenThing{Name: p.Name, Lawful: some(p.Lawful), Species: above.Species[t.Key],
			Price: some(p.Price), Per: some(p.Per), OffPct: some(off), Lines: texts(p.Lines)}
	})
	return contract.GetScreen200JSONResponse(out), nil
}

// GetInstead gives what can be offered in the place of a product.
func (h *handlers) GetInstead(ctx context.Context,
	r contract.GetInsteadRequestObject) (contract.GetInsteadResponseObject, error) {
	v, err := h.work.Judge.Instead(ctx, r.Params.ProductKey, from(r.Params.Method))
	if err != nil {
		return nil, err
	}
	stock, err := h.work.Goods.Stock(ctx)
	if err != nil {
		return nil, err
	}
	lies := map[string]measure.Mass{}
	for _, t := range stock.Tubs {
		if t.Left > 0 && !t.UseBy.Before(stock.Today) {
			lies[t.Key] += t.Left
		}
	}
	thing := func(o judge.Offered) contract.InsteadThing {
		x := o.Meat.Products[0]
		return contract.InsteadThing{Key: o.Key, Name: o.Name, MenuName: some(o.Menu), Species: o.Meat.Species,
			Muscle: o.Meat.Muscle.Name, AtlasId: x.Piece.ID, ProductId: x.Product.ID, Piece: x.Piece.Name,
			Price: priceText(o.Price), PricePer: string(o.Price.Per), EdiblePerKg: o.Edible.String(),
			Plate: o.Plate.String(), EachG: o.EachG, Mean: tenths(o.Score.Mean), Low: tenths(o.Score.Low()),
			Grade: contract.Grade(o.Score.Grade()), Basis: o.Score.Basis, Assessors: o.Score.Assessors,
			StockG: lies[o.Key].Grams()}
	}
	return contract.GetInstead200JSONResponse{Of: thing(v.Of), Method: v.Method.ID,
		Methods: each(v.Methods, func(m atlas.Method) contract.Named { return contract.Named{Id: m.ID, Name: m.Name} }),
		List:    each(v.List, thing)}, nil
}
